//! What is due, a day made from it, the history of a scale and two of its records side by side.

use ombret_e2e::{Browser, Stack, Step};

#[tokio::test]
async fn a_day_is_made_from_what_is_due_and_the_records_of_a_scale_tell_its_drift() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.press("Due").await?;
    page.says("h1", "Due").await?;
    page.holds("(() => { const s = document.querySelector('[aria-label=\"How far ahead\"]'); s.value = '366'; s.dispatchEvent(new Event('change')); return document.querySelectorAll('.week tr').length > 3 })()").await?;
    page.says(".week", "by the owner's rule").await?;
    page.snap("due").await?;
    page.press("Make an address for a calendar").await?;
    page.says("[data-testid=calendar]", "/api/calendar/").await?;
    page.click(".week tr:first-child input").await?;
    page.press("Make a day of 1").await?;
    page.says("button", "Pack for 1 scale").await?;
    page.go("/").await?;
    page.fill("#search", "wt-07").await?;
    page.holds("document.querySelectorAll('tbody tr').length === 1").await?;
    page.press("Wool table").await?;
    page.press("Its records").await?;
    page.says("h1", "Wool table: its records").await?;
    page.shown("[data-testid=drift]").await?;
    page.holds("document.querySelectorAll('tbody input').length >= 2").await?;
    for row in ["1", "2"] {
        page.click(&format!("tbody tr:nth-child({row}) input")).await?;
    }
    page.holds("document.querySelectorAll('.beside figure svg').length === 2").await?;
    page.snap("history").await?;
    page.close().await
}
