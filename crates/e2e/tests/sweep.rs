//! Nonsense in every field of every page: the message stands there in words of the trade, nothing is blanked
//! and nothing that was typed is lost.

use ombret_e2e::{Browser, Stack, Step};

const NONSENSE: [&str; 7] = ["abc", "1.2.3", "30 k", "-5", "1e30", "99999999999999999999", ""];

/// Every field of the page that a person can type into.
const FIELDS: &str = "[...document.querySelectorAll('#main input, #main textarea')].filter(f => !['checkbox', 'radio', 'file', 'search', 'password', 'date'].includes(f.type) && !f.disabled && !f.readOnly && f.offsetParent !== null)";

/// What is told as wrong on the page.
const TOLD: &str =
    "[...document.querySelectorAll('.wrong, .note-wrong, [role=alert]')].map(e => e.innerText).join(' | ')";

/// Waits until the page has come to rest: what it says is the same on several looks in a row.
async fn rests(page: &Browser) -> Step {
    page.client.execute("window.lastSaid = undefined; window.sameSaid = 0", Vec::new()).await?;
    page.holds("(() => { const said = document.body.innerText.replace(/\\d+:\\d+/g, ''); window.sameSaid = said === window.lastSaid ? window.sameSaid + 1 : 0; window.lastSaid = said; return window.sameSaid >= 4 })()").await
}

async fn sound(page: &Browser, path: &str, nonsense: &str) -> Step {
    let blank = "(document.querySelector('#main')?.innerText.trim().length ?? 0) < 20";
    if page.client.execute(&format!("return {blank}"), Vec::new()).await? == true {
        return Err(format!("{path} is blank after “{nonsense}”").into());
    }
    let told = page.told(TOLD).await?;
    let program = [
        "Failed to deserialize",
        "expected u",
        "expected struct",
        "undefined",
        "[object",
        "NaN",
        "invalid type",
    ];
    let named = told
        .split(|c: char| !(c.is_ascii_alphanumeric() || c == '_'))
        .find(|w| w.contains('_') && w.chars().all(|c| c.is_ascii_lowercase() || c == '_'));
    if let Some(word) = program.iter().find(|p| told.contains(**p)).copied().or(named) {
        return Err(format!("{path}, “{nonsense}”: “{word}” is no word of the trade in: {told}").into());
    }
    Ok(())
}

/// Fills every field, looks, submits the first form, looks again; what was typed is still there. One nonsense follows
/// the other as they would be typed, and the page is opened anew only where it was left.
async fn sweep(page: &Browser, path: &str) -> Step {
    page.go(path).await?;
    for nonsense in NONSENSE {
        if page.path().await? != path {
            page.go(path).await?;
        }
        page.shown("#main h1, #main h2, #main .says, #main label").await?;
        rests(page).await?;
        let filled = page
            .client
            .execute(
                &format!("const fields = {FIELDS}; for (const f of fields) {{ f.focus(); f.value = arguments[0]; f.dispatchEvent(new Event('input', {{ bubbles: true }})); f.dispatchEvent(new Event('change', {{ bubbles: true }})) }} return fields.length"),
                vec![nonsense.into()],
            )
            .await?;
        rests(page).await?;
        sound(page, path, nonsense).await?;
        if filled.as_u64() == Some(0) {
            return Ok(());
        }
        page.client.execute("document.querySelector('#main form')?.requestSubmit()", Vec::new()).await?;
        rests(page).await?;
        sound(page, path, nonsense).await?;
    }
    // After a reload the page is there too.
    page.client.refresh().await?;
    page.shown("#main h1, #main h2, #main .says, #main label").await.map(drop)
}

#[tokio::test]
async fn nonsense_in_the_fields_of_the_workshops_pages_is_told_and_loses_nothing() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    for path in [
        "/scales/new",
        "/weights",
        "/calculators",
        "/due",
        "/route",
        "/fault-likelihoods",
        "/letterhead",
        "/profiles/new",
        "/account",
    ] {
        sweep(&page, path).await?;
    }
    page.close().await
}

#[tokio::test]
async fn all_that_is_wrong_on_a_sheet_is_told_at_once_each_at_its_field() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.press("New scale").await?;
    page.fill("#name", "Oyster bench").await?;
    page.fill("#owner", "Sound Shellfish").await?;
    let fields = [
        "plate_max",
        "plate_d",
        "excitation",
        "lever_ratio",
        "dead_load",
        "stays_on",
        "input_low",
        "span_counts",
    ];
    for field in fields {
        page.fill(&format!("#{field}"), "abc").await?;
    }
    page.press("Add the scale").await?;
    for field in fields {
        page.says(&format!("#{field}-wrong"), "“abc”").await?;
    }
    // Nothing is lost.
    for field in fields {
        page.holds(&format!("document.querySelector('#{field}').value === 'abc'")).await?;
    }
    page.close().await
}

#[tokio::test]
async fn nonsense_in_the_fields_of_a_job_is_told_and_loses_nothing() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("kelp").await?;
    let job = page.path().await?.split('/').nth(2).ok_or("no job in the address")?.to_owned();
    page.look_over_all().await?;
    for path in ["as_found", "set_up", "zero_and_span", "prove", "loads", "keying", "close"] {
        sweep(&page, &format!("/jobs/{job}/{path}")).await?;
    }
    page.close().await
}
