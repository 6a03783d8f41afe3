//! A whole live job on a floor scale with the keyboard alone, its presses counted.

use fantoccini::key::Key;
use ombret_e2e::{Browser, Stack, Step};

/// Most presses of a plain live job, from *Start job* to the signed record.
const MOST: usize = 40;

/// A person at the keyboard: every key is counted, both of a chord.
struct Keyboard<'a> {
    page: &'a Browser,
    presses: usize,
}

impl Keyboard<'_> {
    async fn press(&mut self, key: impl Into<String>) -> Step {
        self.presses += 1;
        self.page.keys(&key.into()).await
    }

    async fn enter(&mut self) -> Step {
        self.press(char::from(Key::Enter)).await
    }

    async fn alt(&mut self, digit: &str) -> Step {
        self.presses += 2;
        self.page.keys(&format!("{}{digit}{}", char::from(Key::Alt), char::from(Key::Null))).await
    }

    async fn types(&mut self, text: &str) -> Step {
        self.presses += text.chars().count();
        self.page.keys(text).await
    }
}

/// The hands at the scale, without touching the page.
async fn hands(page: &Browser, scale: &str, command: &str) -> Step {
    let done = page
        .client
        .execute_async(
            "const [scale, command, done] = arguments; fetch(`/api/scales/${scale}/operator`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ command }) }).then(r => done(r.status))",
            vec![scale.into(), command.into()],
        )
        .await?;
    if done == 200 { Ok(()) } else { Err(format!("the hands refuse “{command}”: {done}").into()) }
}

async fn puts(page: &Browser, scale: &str, load: &str, place: &str) -> Step {
    hands(page, scale, "clear").await?;
    if load.parse::<f64>()? > 0.0 {
        hands(page, scale, &format!("put {load}kg{place}")).await?;
    }
    Ok(())
}

/// Puts every load of the run on as the list asks for it; armed, the page takes each by itself.
async fn runs(page: &Browser, scale: &str) -> Step {
    let next = "document.querySelector('[data-testid=load-list] li.next[data-purpose=load]')";
    let settled = "!document.querySelector('.says')?.innerText.includes('Working out')";
    loop {
        page.holds(settled).await?;
        if page.client.execute(&format!("return Boolean({next})"), Vec::new()).await? != true {
            return Ok(());
        }
        let before = page.entries().await?;
        let load = page.value("#reading-load").await?;
        puts(page, scale, &load, "").await?;
        page.grows_past(before).await?;
    }
}

#[tokio::test]
async fn a_plain_live_job_needs_few_presses_and_nothing_but_the_keyboard() -> Step {
    let mut stack = Stack::start().await?;
    stack.start_bench(3.0).await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("wt-07").await?;
    let scale = page.told("document.querySelector('.head a').getAttribute('href').split('/').pop()").await?;
    let mut keys = Keyboard { page: &page, presses: 0 };
    let item = "document.querySelector('[data-testid=check-label]')";
    while page.client.execute(&format!("return {item} !== null"), Vec::new()).await? == true {
        let before = page.entries().await?;
        keys.press("1").await?;
        page.grows_past(before).await?;
    }
    // As found, every load by itself.
    page.shown("#reading-shown").await?;
    page.holds("document.activeElement.id === 'reading-shown'").await?;
    keys.press("+").await?;
    runs(&page, &scale).await?;
    page.says(".says", "Adjust it, or leave it alone").await?;
    keys.alt("4").await?;
    page.says("button", "Capture zero").await?;
    puts(&page, &scale, "0", "").await?;
    page.rests_near("0").await?;
    hands(&page, &scale, "zero").await?;
    keys.enter().await?;
    // The span weight of last time stands in the field.
    page.shown("#span-weight").await?;
    page.holds("document.activeElement.id === 'span-weight' && document.activeElement.value === '600'")
        .await?;
    page.says("[data-testid=span-choice]", "made of").await?;
    keys.enter().await?;
    page.says(".says", "capture span").await?;
    puts(&page, &scale, "600", "").await?;
    page.rests_near("600").await?;
    keys.enter().await?;
    page.says(".says", "Save the adjustment").await?;
    hands(&page, &scale, "span 600").await?;
    hands(&page, &scale, "save").await?;
    keys.enter().await?;
    page.says(".says", "Leave 600 kg on").await?;
    runs(&page, &scale).await?;
    // The corners open by themselves, each place in its turn.
    for (place, at) in [
        ("in the middle", ""),
        ("front left", " at 0.25 0.75"),
        ("rear right", " at 0.75 0.25"),
        ("front right", " at 0.75 0.75"),
        ("rear left", " at 0.25 0.25"),
    ] {
        page.says("[data-testid=spot]", place).await?;
        let before = page.entries().await?;
        let load = page.value("#test-load").await?;
        // Lifted off and set down elsewhere: the reading comes to zero in between.
        hands(&page, &scale, "clear").await?;
        page.rests_near("0").await?;
        puts(&page, &scale, &load, at).await?;
        page.grows_past(before).await?;
    }
    page.says(".verdict, .row", "In tolerance").await?;
    keys.alt("6").await?;
    page.holds("document.activeElement.id === 'seals'").await?;
    keys.press(char::from(Key::Tab)).await?;
    keys.press(" ").await?;
    keys.enter().await?;
    page.holds("document.activeElement.id === 'sign-password'").await?;
    keys.types("level-bubble").await?;
    keys.enter().await?;
    page.says("h1", "Work record 20").await?;
    page.says(".verdict", "In tolerance").await?;
    assert!(keys.presses <= MOST, "{} presses, at most {MOST}", keys.presses);
    page.close().await
}
