//! Zero and span in other ways than two points, typed by hand.

use ombret_e2e::{Browser, Stack, Step};

/// A job by hand on a scale without a profile, looked over and set up.
async fn begun(stack: &Stack) -> Step<(Browser, String)> {
    let page = Browser::signed_in(stack).await?;
    page.begin_job("qw-6").await?;
    page.look_over_all().await?;
    let job =
        page.client.current_url().await?.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    page.type_reading("0", "0").await?;
    page.type_reading("20000", "20060").await?;
    page.type_reading("40000", "40120").await?;
    page.press("Adjust it").await?;
    page.press("Entered on the indicator").await?;
    page.says(".says", "capture zero").await?;
    Ok((page, job))
}

async fn captured(page: &Browser, counts: &str, action: &str) -> Step {
    page.fill("#counts", counts).await?;
    page.click("[name=steady]").await?;
    page.press(action).await
}

#[tokio::test]
async fn a_bow_is_seen_at_a_further_point_and_the_curve_is_saved() -> Step {
    let stack = Stack::start().await?;
    let (page, job) = begun(&stack).await?;
    captured(&page, "41250", "Capture zero").await?;
    page.fill("#span-weight", "20000").await?;
    page.press("Keyed in").await?;
    captured(&page, "241250", "Capture span").await?;
    page.click(".point summary").await?;
    page.fill("#point-weight", "10000").await?;
    captured(&page, "141650", "Capture this point").await?;
    // 400 counts of 10 a kilogram: 40 kg too high in the middle with one span.
    page.says("tbody", "Point 10000 kg").await?;
    page.says("tbody", "with one span").await?;
    page.snap("points").await?;
    page.fill("#point-weight", "14000").await?;
    captured(&page, "141000", "Capture this point").await?;
    page.says(".wrong", "rise").await?;
    page.press("Saved in the indicator").await?;
    page.says("body", "saved with 2 span points").await?;
    page.go(&format!("/jobs/{job}/close")).await?;
    page.close().await
}

#[tokio::test]
async fn a_factor_shows_what_it_will_be_before_it_is_entered() -> Step {
    let stack = Stack::start().await?;
    let (page, _) = begun(&stack).await?;
    page.click(".ways summary").await?;
    page.press("Correction factor").await?;
    page.fill("#way-old", "1.0250").await?;
    page.fill("#way-load", "20000").await?;
    page.fill("#way-shown", "20080").await?;
    page.says("[data-testid=way-would]", "factor 1.025 → 1.0209").await?;
    page.snap("factor").await?;
    page.press("Entered in the indicator").await?;
    page.says(".course", "factor 1.025 → 1.0209").await?;
    page.says(".journal", "Correction factor 1.025 → 1.0209").await?;
    page.close().await
}
