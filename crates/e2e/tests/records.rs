//! What is due, a day made from it, the history of a scale, two of its records side by side; what records
//! tell together, and how they are found again.

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
    page.fill("[aria-label='Search among what is due']", "no such owner").await?;
    page.says("[role=status]", "Nothing that matches").await?;
    page.fill("[aria-label='Search among what is due']", "harbour board").await?;
    page.holds("(() => { const s = document.querySelector('[aria-label=\"By what\"]'); s.value = 'owner'; s.dispatchEvent(new Event('change')); return [...document.querySelectorAll('.week h2')].map(h => h.innerText).join() === 'Sellin Harbour Board' })()").await?;
    page.press("Select all 4").await?;
    page.says("a.btn-next", "Plan a route of 4").await?;
    page.press("Select none").await?;
    page.fill("[aria-label='Search among what is due']", "").await?;
    page.holds("(() => { const s = document.querySelector('[aria-label=\"By what\"]'); s.value = 'week'; s.dispatchEvent(new Event('change')); return document.querySelector('.week h2')?.innerText === 'Overdue' })()").await?;
    page.press("Make an address for a calendar").await?;
    page.says("[data-testid=calendar]", "/api/calendar/").await?;
    page.click(".week tr:first-child input").await?;
    page.press("Plan a route of 1").await?;
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
    page.press("Every figure of").await?;
    page.says("h1", "compared with").await?;
    // A seal was replaced: it differs. The tolerance is the same, and is told only when it is asked for.
    page.holds("[...document.querySelectorAll('tbody th')].some(t => t.innerText === 'Seals') && ![...document.querySelectorAll('tbody th')].some(t => t.innerText === 'Tolerance')").await?;
    page.click("[name=all]").await?;
    page.holds("[...document.querySelectorAll('tr.same th')].some(t => t.innerText === 'Tolerance')").await?;
    page.snap("compare").await?;
    page.close().await
}

#[tokio::test]
async fn a_seal_or_a_certificate_leads_to_its_record_and_records_tell_figures_together() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    // What is no scale may be a seal: the search of the first page leads on.
    page.fill("#search", "tw 1307").await?;
    page.press("Look for it on records, seals and weights").await?;
    page.says("tbody", "TW 1307").await?;
    page.snap("lookup").await?;
    page.fill("#mark", "no such mark").await?;
    page.says("[role=status]", "Nothing here bears").await?;
    page.fill("#mark", "TW1308").await?;
    page.says("tbody", "TW 1308").await?;
    page.holds("document.querySelectorAll('tbody tr').length === 1").await?;
    page.click("tbody a").await?;
    page.says("h1", "Work record").await?;
    // The certificate of a weight leads to the piece, and the piece to what rests on it.
    page.go("/lookup?q=sml").await?;
    page.says("h2", "Weights").await?;
    let rested = "[...document.querySelectorAll('[aria-labelledby=weights] tbody tr')].find(r => Number(r.lastElementChild.innerText) > 0)";
    page.holds(&format!("{rested} !== undefined")).await?;
    page.client.execute(&format!("{rested}.querySelector('a').click()"), Vec::new()).await?;
    page.press("Affected records").await?;
    page.says(".recall", "affected record").await?;
    page.says("[data-testid=recall]", "Curd bench").await?;
    page.snap("recall").await?;
    page.go("/").await?;
    page.click("a[href='/settings']").await?;
    page.press("Statistics").await?;
    page.says("[data-testid=figures-all]", "were found out of tolerance").await?;
    page.says("main", "What the readings told").await?;
    page.snap("figures").await?;
    page.holds("(() => { const d = document.querySelector('#figures-from'); d.value = '2039-01-01'; d.dispatchEvent(new Event('input')); d.dispatchEvent(new Event('change')); return true })()").await?;
    page.says(".wrong", "comes after the last").await?;
    page.close().await
}
