//! The second language: a switch in the bar, what was typed stays, and no page shows a message's name
//! or a placeholder in place of its words.

use ombret_e2e::{Browser, Stack, Step};

/// What stands on the page that is the name of a message, or a placeholder that nothing was put in for.
const LEFT_OVER: &str = r"
const text = [document.querySelector('main').innerText, document.title,
  ...[...document.querySelectorAll('main [aria-label], main [title], main [placeholder]')].flatMap((e) =>
    ['aria-label', 'title', 'placeholder'].map((a) => e.getAttribute(a) ?? ''))].join('\n')
return text.match(/(?<![\w/.@-])[a-z]+(?:-[a-z0-9]+){2,}(?![\w/.@-])|\{ ?\$\w+|\[object |undefined|NaN/g) ?? []
";

const PAGES: [&str; 27] = [
    "/",
    "/weights",
    "/due",
    "/route",
    "/calculators",
    "/calculators/signal",
    "/calculators/span",
    "/settings",
    "/customers",
    "/customers/new",
    "/records",
    "/import",
    "/audit",
    "/people",
    "/me",
    "/scales/new",
    "/profiles",
    "/profiles/new",
    "/archive",
    "/letterhead",
    "/statistics",
    "/lookup",
    "/compare",
    "/dcc",
    "/fault-likelihoods",
    "/practice",
    "/nowhere",
];

async fn nothing_left_over(page: &Browser, path: &str) -> Step {
    let found = page.client.execute(LEFT_OVER, Vec::new()).await?;
    if found.as_array().is_some_and(Vec::is_empty) { Ok(()) } else { Err(format!("{path}: {found}").into()) }
}

#[tokio::test]
async fn german_from_one_press_and_what_was_typed_stays() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("wt-07").await?;
    page.look_over_all().await?;
    page.type_reading("0", "0").await?;
    page.fill("#reading-load", "435").await?;
    page.fill("#reading-shown", "435.2").await?;
    page.says("nav.course", "As found").await?;
    page.press("Deutsch").await?;
    page.says("nav.course", "Vorgefunden").await?;
    page.holds("document.documentElement.lang === 'de'").await?;
    page.holds("document.querySelector('#reading-load').value === '435' && document.querySelector('#reading-shown').value === '435.2'").await?;
    page.click("#reading-shown").await?;
    page.enter().await?;
    page.says("main", "+0,2 kg bei 435 kg").await?;
    let job = page.path().await?;
    let job = job.split('/').nth(2).ok_or("no job in the address")?;
    for stage in ["look_over", "as_found", "set_up", "zero_and_span", "prove", "close", "loads"] {
        let path = format!("/jobs/{job}/{stage}");
        page.go(&path).await?;
        page.shown("main h1, main h2").await?;
        nothing_left_over(&page, &path).await?;
    }
    page.go(&format!("/jobs/{job}/as_found")).await?;
    page.press("English").await?;
    page.says("nav.course", "As found").await?;
    page.says("tbody", "+0.2 kg").await?;
    page.close().await
}

#[tokio::test]
async fn every_page_says_words_in_every_language() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in_as(&stack, ("maren", "second-look")).await?;
    let mut wrong = Vec::new();
    for language in ["en", "de"] {
        page.client
            .execute("localStorage.setItem('ombret.language', arguments[0])", vec![language.into()])
            .await?;
        for path in PAGES {
            page.go(path).await?;
            page.holds(&format!("document.documentElement.lang === '{language}'")).await?;
            page.shown("main h1, main h2, main").await?;
            // What a page asks for has come when nothing is on its way any more.
            page.holds("!document.querySelector('main [aria-busy=true]')").await?;
            if let Err(left) = nothing_left_over(&page, path).await {
                wrong.push(format!("{language} {left}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    page.close().await
}
