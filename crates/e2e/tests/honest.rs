//! A job that cannot go wrong unseen: captures that cannot be true, a repair without an adjustment,
//! a display without a figure.

use ombret_e2e::{Browser, Stack, Step};

#[tokio::test]
async fn a_zero_with_a_load_on_it_and_a_span_without_one_are_refused_and_the_way_out_is_filled() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("kelp").await?;
    page.look_over_all().await?;
    for (load, shown) in [("0", "0"), ("725", "726"), ("1450", "1452.5")] {
        page.type_reading(load, shown).await?;
    }
    page.press("Adjust it").await?;
    page.press("Entered on the indicator").await?;
    page.says(".says", "capture zero").await?;
    page.fill("#counts", "200000").await?;
    page.click("[name=steady]").await?;
    page.press("Capture zero").await?;
    page.says(".wrong", "lies there than at zero").await?;
    page.shown("#because").await?;
    page.fill("#counts", "88040").await?;
    page.press("Capture zero").await?;
    page.fill("#span-weight", "1000").await?;
    // The page is at rest: a press in the middle of a layout may land beside its button.
    page.says("[data-testid=span-choice]", "made of").await?;
    page.press("Keyed in").await?;
    page.says(".digits", "1000").await?;
    page.fill("#counts", "88041").await?;
    page.click("[name=steady]").await?;
    page.press("Capture span").await?;
    page.says(".wrong", "less than one").await?;
    // The filled button is never the one that was just refused.
    page.holds("document.querySelector('.btn-next').innerText === 'Choose another span weight'").await?;
    page.snap("span-refused").await?;
    page.press("Choose another span weight").await?;
    page.shown("#span-weight").await?;
    page.close().await
}

#[tokio::test]
async fn after_a_repair_only_later_readings_tell_how_it_is_left() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("kelp").await?;
    page.look_over_all().await?;
    // A reading that no display of this scale can show is refused with its neighbours.
    page.fill("#reading-load", "725").await?;
    page.fill("#reading-shown", "726.3").await?;
    page.says("#reading-shown-hint", "no multiple of the division").await?;
    for (load, shown) in [("0", "0"), ("725", "731"), ("1450", "1454.5")] {
        page.type_reading(load, shown).await?;
    }
    page.says(".small", "Out of tolerance").await?;
    // The cable is looked at again, found crushed, and changed.
    page.click(".course li:first-child a").await?;
    page.press("Cable and connector").await?;
    page.answer("2").await?;
    page.says(".note", "Adjusting cannot cure it").await?;
    page.fill("#settle-reason", "cable changed").await?;
    page.press("Repaired").await?;
    page.says(".says", "Read again after the repair").await?;
    page.click(".course li:nth-child(2) a").await?;
    for (load, shown) in [("0", "0"), ("300", "300"), ("725", "725"), ("1450", "1450.5")] {
        page.type_reading(load, shown).await?;
    }
    page.says("td", "after the repair").await?;
    page.fill("[aria-label='Why it is left alone']", "within after the repair").await?;
    page.press("Leave it alone").await?;
    page.to_close().await?;
    page.says(".verdict", "In tolerance").await?;
    page.snap("repaired").await?;
    page.click("[name=switch-back]").await?;
    page.press("Save seals").await?;
    page.sign("not-my-password").await?;
    page.says(".wrong", "this is not your password").await?;
    page.sign("level-bubble").await?;
    page.says(".verdict", "In tolerance").await?;
    page.says("h1", "2026-").await?;
    page.close().await
}

#[tokio::test]
async fn a_figure_that_cannot_be_never_blanks_a_page() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("wt-07").await?;
    let job = page.client.current_url().await?.to_string();
    let job =
        job.split("/jobs/").nth(1).and_then(|rest| rest.split('/').next()).unwrap_or_default().to_owned();
    for (path, field) in [("loads", "#thought"), ("keying", "#weights")] {
        for nonsense in ["abc", "30 k", "-5", "1e30", "999999999", "1.2.3", ""] {
            page.go(&format!("/jobs/{job}/{path}")).await?;
            page.fill(field, nonsense).await?;
            if !nonsense.is_empty() {
                // At its field, or in the list of what the indicator cannot take.
                page.holds("(document.querySelector('.wrong')?.innerText ?? '').includes(' ') || document.body.innerText.includes('This cannot be keyed in')").await?;
                page.holds("!document.body.innerText.includes('span:') && !document.body.innerText.includes('weights:')").await?;
            }
            // The field stays, with what was typed, also after a reload.
            page.client.refresh().await?;
            page.holds(&format!("document.querySelector('{field}')?.value === '{nonsense}'")).await?;
        }
    }
    page.close().await
}
