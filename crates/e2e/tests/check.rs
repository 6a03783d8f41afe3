//! The whole check: loads, corners, repeats and discrimination from the number pad; points of
//! change; a corner fault found; a guarded verdict.

use ombret_e2e::{Browser, Stack, Step};

/// A job on the wool table that was left alone as found, at the check.
async fn at_the_check(stack: &Stack) -> Step<Browser> {
    let page = Browser::signed_in(stack).await?;
    page.begin_job("wt-07").await?;
    page.look_over_all().await?;
    for (load, shown) in [("0", "0"), ("435", "435"), ("870", "870.2")] {
        page.type_reading(load, shown).await?;
    }
    page.says("[data-testid=diagnosis]", "Sound").await?;
    page.says("[data-testid=advice]", "leave it").await?;
    page.fill("[aria-label='Why it is left alone']", "inside everywhere").await?;
    page.press("Leave it alone").await?;
    page.says(".journal", "inside everywhere").await?;
    page.says(".tabs", "Eccentricity (corners) asked for").await?;
    Ok(page)
}

/// Types into what has the focus and enters it; nothing but the number pad is touched.
async fn pad(page: &Browser, into: &str, figure: &str) -> Step {
    page.holds(&format!("document.activeElement.id === '{into}' && document.activeElement.value === ''"))
        .await?;
    page.keys(figure).await?;
    let before = page.entries().await?;
    page.enter().await?;
    page.grows_past(before).await
}

#[tokio::test]
async fn a_full_check_is_typed_from_the_number_pad_alone() -> Step {
    let stack = Stack::start().await?;
    let page = at_the_check(&stack).await?;
    while page
        .client
        .execute("return document.querySelectorAll('[data-testid=load-list] li:not(.done)[data-purpose=load]').length > 0", Vec::new())
        .await?
        == true
    {
        // The load stands there as soon as its pieces are worked out.
        page.holds("document.querySelector('#reading-load')?.value !== ''").await?;
        let load = page.value("#reading-load").await?;
        pad(&page, "reading-shown", &load).await?;
    }
    page.says("body", "Within: zero came back").await?;
    page.keys("/").await?;
    for (place, shown) in [
        ("in the middle", "300"),
        ("front left", "300"),
        ("rear right", "300.2"),
        ("front right", "300"),
        ("rear left", "300"),
    ] {
        page.says("[data-testid=spot]", place).await?;
        pad(&page, "test-shown", shown).await?;
    }
    page.says("[data-testid=test-says]", "Every place within").await?;
    page.snap("corners").await?;
    page.keys("/").await?;
    for shown in ["700", "700.2", "700"] {
        pad(&page, "test-shown", shown).await?;
    }
    page.says("[data-testid=test-says]", "Within: largest minus smallest 0.2 kg").await?;
    page.snap("repeats").await?;
    page.keys("/").await?;
    page.says("label", "Display shows before").await?;
    // Enter goes from field to field; the last one enters it.
    let before = page.entries().await?;
    for (field, figure) in [("test-load", "435"), ("test-before", "435"), ("test-after", "435.2")] {
        page.holds(&format!(
            "document.activeElement.id === '{field}' && document.activeElement.value === ''"
        ))
        .await?;
        page.keys(figure).await?;
        page.enter().await?;
    }
    page.grows_past(before).await?;
    page.says("[data-testid=test-says]", "moved it from 435.0 kg to 435.2 kg").await?;
    page.says("[data-testid=diagnosis]", "Sound").await?;
    page.snap("check").await?;
    page.says(".verdict", "In tolerance").await?;
    page.close().await
}

#[tokio::test]
async fn points_of_change_tell_errors_within_a_division_and_wrong_ones_are_refused() -> Step {
    let stack = Stack::start().await?;
    let page = at_the_check(&stack).await?;
    page.click("[data-testid=changeover]").await?;
    let read = |load: &'static str, shown: &'static str, added: &'static str| {
        let page = &page;
        async move {
            page.fill("#reading-load", load).await?;
            page.fill("#reading-shown", shown).await?;
            page.fill("#reading-added", added).await
        }
    };
    // More than a division was never added before it changed: said at its place, nothing is lost.
    read("0", "0", "0.3").await?;
    page.says(".wrong", "between 0 and one division").await?;
    page.holds("document.querySelector('#reading-added').value === '0.3'").await?;
    // P = 0 + 0.1 − 0.08: zero stands 0.02 kg high.
    page.fill("#reading-added", "0.08").await?;
    page.says("[data-testid=preview]", "±").await?;
    page.enter().await?;
    page.says(".journal", "next division after 0.08 kg more").await?;
    // E = 435 + 0.1 − 0.16 − 435 = −0.06; corrected for zero −0.08 kg.
    read("435", "435", "0.16").await?;
    page.says("[data-testid=preview]", "-0.").await?;
    page.enter().await?;
    page.says("td", "-0.080 kg").await?;
    page.snap("changeover").await?;
    page.close().await
}

#[tokio::test]
async fn a_weak_corner_is_found_with_what_trimming_would_leave() -> Step {
    let stack = Stack::start().await?;
    let page = at_the_check(&stack).await?;
    page.press("Eccentricity (corners)").await?;
    // Without a place nothing can be told of it; a place is tapped.
    page.fill("#test-load", "290").await?;
    for (place, shown) in [
        ("in the middle", "289"),
        ("front left", "289"),
        ("rear right", "289"),
        ("front right", "288"),
        ("rear left", "290"),
    ] {
        page.says("[data-testid=spot]", place).await?;
        page.fill("#test-shown", shown).await?;
        let before = page.entries().await?;
        page.enter().await?;
        page.grows_past(before).await?;
    }
    page.says("[data-testid=test-says]", "Outside at").await?;
    page.says("[data-testid=test-says]", "Trimmed down to the lowest cell").await?;
    page.says("[data-testid=diagnosis]", "One cell is weak, dead or inverted").await?;
    page.press("Why, and what else it may be").await?;
    page.snap("corner-fault").await?;
    page.says("body", "Out of tolerance: 4 of 8 readings outside").await?;
    page.close().await
}

#[tokio::test]
async fn a_guarded_verdict_needs_a_reason_and_counts_the_uncertainty() -> Step {
    let stack = Stack::start().await?;
    let page = at_the_check(&stack).await?;
    for (load, shown) in [("0", "0"), ("100", "100.2"), ("435", "435"), ("870", "870.2")] {
        page.type_reading(load, shown).await?;
    }
    page.holds("[...document.querySelectorAll('tbody .verdict')].every(v => v.innerText.includes('within'))")
        .await?;
    page.click(".decision summary").await?;
    page.click("[name=decision][value=guarded]").await?;
    page.press("Use this rule").await?;
    page.says(".decision .wrong", "a few words are needed").await?;
    page.fill("#decision-reason", "the owner asks for it").await?;
    page.press("Use this rule").await?;
    page.says(".decision summary", "guarded").await?;
    // Two tenths of error with a tolerance of two tenths leaves no room for U.
    page.says("tbody", "OUTSIDE").await?;
    page.holds(
        "[...document.querySelectorAll('button')].filter(b => b.innerText === 'working')[0].click() || true",
    )
    .await?;
    page.says(".budget", "rounding at the load").await?;
    page.holds("(() => { const s = document.querySelector('[aria-label=\"Another tolerance for this job\"]'); s.value = 'hb44_acceptance'; s.dispatchEvent(new Event('change')); return true })()").await?;
    page.fill("[aria-label='Why another tolerance']", "asked for by the inspector").await?;
    page.press("Use this tolerance").await?;
    page.says(".decision summary", "Handbook 44").await?;
    page.says(".tabs", "Discrimination asked for").await?;
    page.snap("guarded").await?;
    page.close().await
}
