//! `look BASE OUT PATH [WIDTH HEIGHT light|dark|print] [SCRIPT…]`: one picture of one page, for looking at while building; print: as PDF.

use ombret_e2e::{Browser, Look, Size, Step};

#[tokio::main]
async fn main() -> Step {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let [base, out, path, rest @ ..] = args.as_slice() else {
        return Err("look BASE OUT PATH [WIDTH HEIGHT LOOK] [SCRIPT]".into());
    };
    let number = |i: usize, default: u32| rest.get(i).and_then(|t| t.parse().ok()).unwrap_or(default);
    let browser = Browser::open(base, Size(number(0, 1280), number(1, 800))).await?;
    let is = |what: &str| rest.get(2).is_some_and(|l| l == what);
    browser.look(if is("dark") { Look::Dark } else { Look::Light }, false).await?;
    browser.go("/sign-in").await?;
    if path != "/sign-in" {
        let who = std::env::var("OMBRET_LOOK_AS").unwrap_or_else(|_| "ebba".into());
        browser.sign_in(&who, "level-bubble").await?;
        browser.shown(".bar").await?;
        browser.go(path).await?;
        browser.shown("#main").await?;
        browser.holds("!document.querySelector('[role=status]')?.textContent?.includes('…')").await?;
    }
    for script in rest.iter().skip(3) {
        browser.client.execute(script, Vec::new()).await?;
        tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    }
    let picture = if is("print") {
        base64::Engine::decode(&base64::prelude::BASE64_STANDARD, browser.printed().await?)?
    } else {
        browser.picture().await?
    };
    std::fs::write(out, picture)?;
    browser.close().await
}
