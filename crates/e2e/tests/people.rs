//! A workshop moves in: the first start, an invitation, a password, and somebody leaves; in the page.

use ombret_e2e::{Browser, Size, Stack, Step};

const PASSWORD: &str = "moss lantern ferry";

async fn passwords(page: &Browser, one: &str, other: &str) -> Step {
    page.fill("#password", one).await?;
    page.fill("#password-again", other).await
}

#[tokio::test]
async fn a_workshop_is_set_up_somebody_is_invited_and_leaves_again() -> Step {
    let (stack, link) = Stack::start_bare().await?;
    let signe = Browser::open(&stack.base, Size(1280, 800)).await?;
    signe.go(&link).await?;
    signe.says("h1", "Set up the workshop").await?;
    signe.snap("first-start").await?;
    // Bad input is told at its place, all of it at once, and nothing typed is lost.
    signe.fill("#workshop", "Nordhamn Scales").await?;
    signe.fill("#sign_in", "signe").await?;
    let pounds =
        "const u = document.querySelector('#unit'); u.value = 'lb'; u.dispatchEvent(new Event('change'))";
    signe.client.execute(pounds, Vec::new()).await?;
    passwords(&signe, "password1234", "password1234").await?;
    signe.press("Set up the workshop").await?;
    signe.says("#name-wrong", "2 to 80 characters").await?;
    signe.says("#password-wrong", "one of the first").await?;
    assert_eq!(signe.value("#workshop").await?, "Nordhamn Scales");
    signe.fill("#name", "Signe Falk").await?;
    passwords(&signe, PASSWORD, "something else").await?;
    signe.press("Set up the workshop").await?;
    signe.says("#password-again-wrong", "not the same").await?;
    passwords(&signe, PASSWORD, PASSWORD).await?;
    signe.press("Set up the workshop").await?;
    signe.says("h1", "Scales").await?;

    // What was settled there is where a new scale begins.
    signe.go("/scales/new").await?;
    signe.says("main", "Rated Max, lb").await?;
    signe.go("/people").await?;
    signe.fill("#invite-name", "Odd Vik").await?;
    signe.press("Make an invitation").await?;
    signe.says("[data-testid=link]", "For Odd Vik").await?;
    signe.snap("people").await?;
    let told = signe.text("[data-testid=link]").await?;
    let path = told.find("/welcome/").map(|at| told[at..].trim().to_owned()).ok_or("no link")?;
    let odd = Browser::open(&stack.base, Size(1280, 800)).await?;
    odd.go(&path).await?;
    odd.says("h1", "Nordhamn Scales invites you").await?;
    odd.fill("#sign_in", "odd").await?;
    passwords(&odd, "otter ladle granite", "otter ladle granite").await?;
    odd.press("Join").await?;
    // The heading of the invitation has the word in it too.
    odd.gone("#password-again").await?;
    odd.says("h1", "Scales").await?;
    odd.go(&path).await?;
    odd.says("h1", "does not work any more").await?;

    odd.go("/me").await?;
    odd.fill("#old-password", "wrong").await?;
    odd.fill("#new-password", "tundra kettle prism").await?;
    odd.fill("#new-password-again", "tundra kettle prism").await?;
    odd.press("Change password").await?;
    odd.says("#old-password-wrong", "not your password").await?;
    odd.fill("#old-password", "otter ladle granite").await?;
    odd.press("Change password").await?;
    odd.says("main", "Your other sessions have ended").await?;
    odd.snap("account").await?;
    odd.go("/people").await?;
    odd.says(".note-wrong", "another role").await?;

    signe.go("/people").await?;
    let row = "[...document.querySelectorAll('tr')].find(r => r.innerText.includes('Odd Vik') && r.innerText.includes('Deactivate'))";
    signe.holds(&format!("{row} !== undefined")).await?;
    signe
        .client
        .execute(
            &format!("[...{row}.querySelectorAll('button')].find(b => b.innerText === 'Deactivate').click()"),
            Vec::new(),
        )
        .await?;
    signe.says("main", "signs in no more").await?;
    odd.go("/").await?;
    odd.shown("#sign-in-name").await?;
    odd.sign_in("odd", "tundra kettle prism").await?;
    odd.says(".wrong", "name or password is wrong").await?;
    // The last manager stays one.
    signe.click("input[aria-label='Signe Falk: manager']").await?;
    signe.says("main", "nobody would be left who manages").await?;
    odd.close().await?;
    signe.close().await
}
