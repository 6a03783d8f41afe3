//! Whose entry it is, whose decision, and whether a paper is genuine: in the page.

use ombret_e2e::{Browser, Size, Stack, Step};

const EBBA: (&str, &str) = ("ebba", "level-bubble");
const TOMAS: (&str, &str) = ("tomas", "slotted-weight");
const MAREN: (&str, &str) = ("maren", "second-look");

#[tokio::test]
async fn what_waits_is_sent_by_whoever_entered_it_and_by_nobody_else() -> Step {
    const SENT: &str = "select count(*) from entry where sealed like '%\"1302\"%'";
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.press("Continue: Bale scale").await?;
    page.shown(".course").await?;
    let url = page.client.current_url().await?;
    let job = url.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    let path = format!("/jobs/{job}/as_found");
    page.go(&path).await?;
    page.fill("#reading-load", "1300").await?;
    page.fill("#reading-shown", "1302").await?;
    page.says("[data-testid=preview]", "+2.0 lb").await?;
    stack.count("with gone as (delete from session returning 1) select count(*) from gone").await?;
    page.enter().await?;
    page.says(".dialog", "Sign in again").await?;
    // Somebody else signs in at the same browser: the page begins anew for him.
    page.sign_in(TOMAS.0, TOMAS.1).await?;
    page.gone(".dialog").await?;
    page.shown("#reading-shown").await?;
    assert_eq!(page.value("#reading-shown").await?, "", "what another typed is not his");
    page.fill("#reading-load", "1000").await?;
    page.fill("#reading-shown", "1001").await?;
    page.enter().await?;
    page.says("td", "1001.0 lb").await?;
    assert_eq!(stack.count(SENT).await?, 0, "nor is it sent in his name");
    page.press("Sign out").await?;
    page.shown("#sign-in-name").await?;
    page.sign_in(EBBA.0, EBBA.1).await?;
    page.says("h1", "Scales").await?;
    page.go(&path).await?;
    page.says("td", "1302.0 lb").await?;
    assert_eq!(stack.count(SENT).await?, 1);
    let by = "select sealed::jsonb #>> '{by,name}' from entry where sealed like '%\"1302\"%'";
    assert_eq!(stack.text(by).await?, "Ebba Lund");
    page.close().await
}

#[tokio::test]
async fn a_paper_is_checked_by_anybody_and_the_rule_of_approval_is_changed_by_a_manager() -> Step {
    let stack = Stack::start().await?;
    let stranger = Browser::open(&stack.base, Size(1280, 800)).await?;
    let path = stack
        .text("select job_id || '/' || left(sha256, 20) from record where not superseded order by closed_at limit 1")
        .await?;
    stranger.go(&format!("/check/{path}")).await?;
    stranger.says("h1", "Genuine: record").await?;
    stranger.says("dl", "Outcome").await?;
    stranger.snap("check").await?;
    let (job, _) = path.split_once('/').ok_or("no code")?;
    stranger.go(&format!("/check/{job}/00000000000000000000")).await?;
    stranger.says("h1", "Not genuine").await?;
    stranger.go("/check/nonsense/x").await?;
    stranger.says("h1", "Not genuine").await?;
    stranger.close().await?;

    let ebba = Browser::signed_in(&stack).await?;
    ebba.go("/letterhead").await?;
    ebba.shown("input[name=review]:disabled").await?;
    ebba.go("/audit").await?;
    ebba.says("main", "for managers and readers").await?;
    ebba.close().await?;
    let maren = Browser::signed_in_as(&stack, MAREN).await?;
    maren.go("/letterhead").await?;
    maren.click("input[name=review]").await?;
    maren.press("Save").await?;
    maren.says("main", "Saved").await?;
    maren.snap("paper").await?;
    maren.go("/audit").await?;
    maren.says("[data-testid=audit]", "records need no approval").await?;
    maren.says("[data-testid=audit]", "Maren Holt").await?;
    maren.close().await
}
