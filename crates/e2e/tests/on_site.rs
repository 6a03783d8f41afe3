//! A day without a network: taken along, done, and brought home.

use std::path::Path;

use ombret_e2e::{Browser, Client, Size, Stack, Step};
use tokio::io::AsyncReadExt;
use tokio::net::TcpStream;

const EBBA: (&str, &str) = ("ebba", "level-bubble");
const LAPTOP: Size = Size(1280, 800);

/// A device that is ready to go: set up, with these scales along and the program itself kept.
async fn ready(stack: &Stack, folder: &Path, scales: &[&str]) -> Step<Browser> {
    let page = Browser::open_kept(&stack.base, LAPTOP, folder).await?;
    page.go("/").await?;
    page.shown("#sign-in-name").await?;
    // The first page of a first visit is small; the core comes after.
    let size = "return [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')].filter((e) => !e.name.endsWith('.wasm')).reduce((sum, e) => sum + e.encodedBodySize, 0)";
    let first = page.client.execute(size, vec![]).await?.as_u64().unwrap_or(u64::MAX);
    println!("the first page of a first visit: {first} bytes");
    assert!((20_000..200_000).contains(&first), "the first page of a first visit has {first} bytes");
    page.sign_in(EBBA.0, EBBA.1).await?;
    page.says("h1", "Scales").await?;
    page.go("/along").await?;
    page.fill("#device-name", "Tablet 2").await?;
    page.fill("#device-password", "not-it").await?;
    page.press("Set up this device").await?;
    page.says("form .wrong", "this is not your password").await?;
    page.fill("#device-password", EBBA.1).await?;
    page.press("Set up this device").await?;
    page.says("main", "Nothing taken along yet").await?;
    for scale in scales {
        page.fill(".pick input[type=search]", scale).await?;
        page.holds(&format!(
            "document.querySelectorAll('.pick li').length === 1 && document.querySelector('.pick li').innerText.toLowerCase().includes('{scale}')"
        ))
        .await?;
        page.click(".pick li input").await?;
    }
    page.click(".pick .btn-next").await?;
    page.holds(&format!(
        "document.querySelectorAll('.along > section:first-child .list li').length === {}",
        scales.len()
    ))
    .await?;
    // The program is kept before anybody relies on it.
    page.client
        .execute_async("navigator.serviceWorker.ready.then((r) => arguments[0](Boolean(r.active)))", vec![])
        .await?;
    page.holds("navigator.serviceWorker.controller !== null || (location.reload(), false)").await?;
    Ok(page)
}

/// After a reload what is on the device is locked; the password opens it, with or without the server.
async fn unlock(page: &Browser) -> Step {
    page.go("/along").await?;
    page.holds("document.querySelector('#sign-in-password, #device-password, .along .list') !== null")
        .await?;
    let asks = |css: &'static str| async move {
        page.client.execute(&format!("return document.querySelector('{css}') !== null"), vec![]).await
    };
    if asks("#sign-in-password").await? == true {
        page.sign_in(EBBA.0, EBBA.1).await?;
    } else if asks("#device-password").await? == true {
        page.fill("#device-password", EBBA.1).await?;
        page.press("Unlock").await?;
    }
    page.shown(".along .list").await?;
    home(page).await
}

async fn stop_short_and_sign(page: &Browser, why: &str) -> Step {
    page.to_close().await?;
    page.client.execute("document.querySelectorAll('details summary').forEach((s) => s.innerText.includes('cannot be finished') && s.click())", vec![]).await?;
    page.fill("#stop", why).await?;
    page.press("Close without a complete test").await?;
    page.click("[name=switch-back]").await?;
    page.press("Save seals").await?;
    page.shown("#sign-password, [data-testid=signature]").await.map(drop)
}

async fn home(page: &Browser) -> Step {
    page.click(".brand").await?;
    page.says("h1", "Scales").await
}

/// A port as the browser gives one, which says what the test feeds it.
const FAKE_PORT: &str = "
    let out;
    const port = {
      readable: null,
      async open() { this.readable = new ReadableStream({ start: (c) => { out = c } }) },
      async close() { this.readable = null },
    };
    window.feed = (text) => { try { out?.enqueue(new TextEncoder().encode(text)) } catch {} };
    Object.defineProperty(navigator, 'serial', { configurable: true, value: { requestPort: async () => port, getPorts: async () => [port] } });
    return true";

/// A code with a text as a picture, as somebody photographs it.
fn photograph(folder: &Path, text: &str) -> Step<std::path::PathBuf> {
    let code = qrcode::QrCode::new(text)?.render::<qrcode::render::svg::Color<'_>>().build();
    let path = folder.join("code.svg");
    std::fs::write(&path, code)?;
    Ok(path)
}

/// Hands the practice scale's lines to the fake port until the page is gone.
async fn feed(page: &Browser, lines: u16) -> Step<tokio::task::JoinHandle<()>> {
    page.client.execute(FAKE_PORT, vec![]).await?;
    let (client, mut stream) = (page.client.clone(), TcpStream::connect(("127.0.0.1", lines)).await?);
    Ok(tokio::spawn(async move {
        let mut some = [0; 4096];
        while let Ok(read @ 1..) = stream.read(&mut some).await {
            let text = String::from_utf8_lossy(&some[..read]).into_owned();
            if client.execute("window.feed?.(arguments[0])", vec![text.into()]).await.is_err() {
                return;
            }
        }
    }))
}

#[tokio::test]
async fn a_day_is_done_without_a_network_and_comes_home() -> Step {
    let mut stack = Stack::start().await?;
    stack.start_bench(3.0).await?;
    let folder = tempfile::tempdir()?;
    // The customer signs in this workshop.
    let office = Browser::signed_in(&stack).await?;
    office.go("/letterhead").await?;
    office.click("[name=customer-signs]").await?;
    office.press("Save").await?;
    office.says("main", "Saved").await?;
    office.close().await?;

    let page = ready(&stack, folder.path(), &["kelp", "wool table", "bale", "kitchen platform"]).await?;
    unlock(&page).await?;

    // While the server answers: an indicator that the link program reads.
    let (link, code) = stack.link().await?;
    page.begin_job("wt-07").await?;
    page.look_over_all().await?;
    page.click(".port summary").await?;
    page.fill("#link-code", "AAAAAAAA").await?;
    page.press("Read through the link").await?;
    page.says(".port .wrong", "link").await?;
    page.fill("#link-code", &code).await?;
    page.press("Read through the link").await?;
    page.says("[data-testid=device-port]", "read by this device").await?;
    page.is_stable().await?;
    page.press("Stop reading").await?;
    page.gone("[data-testid=device-port]").await?;
    drop(link);
    home(&page).await?;
    page.offline(true).await?;

    // One that is typed, up to the signature.
    page.begin_job("kelp").await?;
    page.look_over_all().await?;
    page.type_reading("0", "0").await?;
    page.says("[data-testid=offline-mark]", "not sent").await?;
    page.snap("offline-typed").await?;
    stop_short_and_sign(&page, "the hall is closed").await?;
    page.fill("#sign-password", "not-it").await?;
    page.press("Sign and lock").await?;
    page.says(".wrong", "nothing was signed").await?;
    page.sign(EBBA.1).await?;
    page.says("article", "no number yet").await?;
    page.snap("offline-record").await?;

    // An open job goes on here, while somebody at home enters something too.
    home(&page).await?;
    page.press("Continue: Bale scale").await?;
    page.shown(".course").await?;
    let job = page.path().await?.split('/').nth(2).ok_or("no job")?.to_owned();
    page.to_close().await?;
    page.fill("#remark", "the platform was iced over").await?;
    page.press_exactly("Add", "form").await?;
    page.says(".journal", "iced over").await?;
    let tomas = Client::signed_in(&stack.base, "tomas", "slotted-weight").await?;
    let after = tomas.get(&format!("/api/jobs/{job}")).await?["job"]["head_seq"].clone();
    let remark = serde_json::json!({"id": uuid::Uuid::now_v7(), "after": after, "draft": {"kind": "remarked", "text": "the gate is locked"}});
    tomas.post(&format!("/api/jobs/{job}/entries"), &remark).await?;

    // One that is read by this device's own cable.
    home(&page).await?;
    page.press("Continue: Wool table").await?;
    page.shown(".course").await?;
    let lines = feed(&page, stack.lines()).await?;
    page.click(".port summary").await?;
    page.press("Choose the port").await?;
    page.says("[data-testid=device-port]", "read by this device").await?;
    page.is_stable().await?;
    page.snap("offline-live").await?;
    page.press("Capture reading").await?;
    page.says(".journal", "0 kg on").await?;
    lines.abort();
    let unsent = page.text("[data-testid=offline-mark]").await?;

    // The browser dies, and so does the server: nothing is there but the device.
    drop(page);
    stack.kill_server().await?;
    let page = Browser::open_kept(&stack.base, LAPTOP, folder.path()).await?;
    page.go("/").await?;
    page.shown("#sign-in-password").await?;
    page.sign_in(EBBA.0, "not-it").await?;
    page.says(".wrong", "opens nothing on this device").await?;
    page.sign_in(EBBA.0, EBBA.1).await?;
    page.says("h1", "Scales").await?;
    page.says("[data-testid=offline-mark]", unsent.lines().last().unwrap_or_default()).await?;
    page.snap("offline-home").await?;

    // A code on a weight or a scale is read without a network too.
    page.fill("#search", "no such mark").await?;
    page.press("Look for it on records, seals and weights").await?;
    page.choose_file("[name=code-photo]", &photograph(folder.path(), "TB-07")?).await?;
    page.says("[aria-labelledby=weights]", "TB-07").await?;
    page.choose_file("[name=code-photo]", &photograph(folder.path(), "wt-07")?).await?;
    page.says("[aria-labelledby=on-scales]", "Wool table").await?;
    let nothing =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/public/icon-192.png").canonicalize()?;
    page.choose_file("[name=code-photo]", &nothing).await?;
    page.says("main .wrong", "No code was found").await?;
    page.snap("offline-lookup").await?;
    home(&page).await?;

    // One with a photograph and the customer's signature.
    page.begin_job("kitchen platform").await?;
    page.look_over_all().await?;
    page.to_close().await?;
    let picture =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots/test.png").canonicalize()?;
    page.fill("[aria-label='What it shows']", "the plate").await?;
    page.choose_file("[name=file]", &picture).await?;
    page.says(".files", "the plate, on the record").await?;
    page.holds("[...document.querySelectorAll('.pictures img')].some((i) => i.naturalWidth > 0)").await?;
    stop_short_and_sign(&page, "the kitchen is closed").await?;
    page.fill("#customer-name", "Ida Moor").await?;
    page.draw_signature().await?;
    page.press("Save signature").await?;
    page.says(".customer", "Signed by Ida Moor").await?;
    page.sign(EBBA.1).await?;
    page.says("article", "no number yet").await?;
    // Signing out is asked about while something is not sent.
    page.press("Sign out").await?;
    page.says(".dialog", "not sent").await?;
    page.snap("offline-leave").await?;
    page.press("Stay signed in").await?;

    // Home.
    stack.start_server().await?;
    // It goes by itself as soon as the server answers.
    page.gone("[data-testid=offline-mark]").await?;
    page.go("/came-home").await?;
    page.says("[data-testid=home-note]", "had come meanwhile").await?;
    page.snap("came-home").await?;
    let (content, said) = stack.tell(&["verify"]).await?;
    assert!(content, "{said}");
    let files = "select count(*) from file f join job j on j.id = f.job_id join scale s on s.id = j.scale_id where s.name ilike '%kitchen%'";
    assert_eq!(stack.count(files).await?, 1, "the photograph came too");
    assert_eq!(stack.count("select count(*) from came_home where left_over <> '[]'").await?, 0);
    let live = "select count(*) from entry where sealed like '%\"hold_s\"%' and job_id in (select job_id from came_home)";
    assert!(stack.count(live).await? > 0, "the live reading stands as it was taken");
    page.close().await
}

/// So many kills; the soak asks for more.
fn kills() -> usize {
    std::env::var("OMBRET_PAGE_KILLS").ok().and_then(|n| n.parse().ok()).unwrap_or(5)
}

#[tokio::test]
async fn a_page_that_is_killed_at_any_moment_loses_no_entry_that_it_had_shown_as_stored() -> Step {
    let mut stack = Stack::start().await?;
    let folder = tempfile::tempdir()?;
    let page = ready(&stack, folder.path(), &["bale"]).await?;
    unlock(&page).await?;
    stack.kill_server().await?;
    let mut most = 0;
    for kill in 0..kills() {
        page.press("Continue: Bale scale").await?;
        page.shown(".course").await?;
        page.to_close().await?;
        // Remarks as fast as the page takes them; each that is shown is written down outside of it.
        let script = "
            const shown = () => Math.max(0, ...[...document.querySelectorAll('.journal li')].map((l) => Number(/stone (\\d+)/.exec(l.innerText)?.[1] ?? 0)));
            window.go = async () => {
              for (let n = arguments[0] + 1; ; n++) {
                const field = document.querySelector('#remark');
                field.value = `stone ${n}`;
                field.dispatchEvent(new Event('input', { bubbles: true }));
                await new Promise((r) => setTimeout(r, 5));
                field.form.requestSubmit();
                while (shown() < n) await new Promise((r) => setTimeout(r, 5));
                sessionStorage.setItem('shown', String(n));
              }
            };
            void window.go();";
        page.client.execute(script, vec![most.into()]).await?;
        let pause = 60 + (kill as u64 * 137) % 700;
        tokio::time::sleep(std::time::Duration::from_millis(pause)).await;
        page.client.refresh().await?;
        let shown = page.told("sessionStorage.getItem('shown') ?? '0'").await?.parse::<u64>()?.max(most);
        unlock(&page).await?;
        page.press("Continue: Bale scale").await?;
        page.shown(".journal li").await?;
        let kept = page.client.execute("return Math.max(0, ...[...document.querySelectorAll('.journal li')].map((l) => Number(/stone (\\d+)/.exec(l.innerText)?.[1] ?? 0)))", vec![]).await?;
        let kept = kept.as_u64().unwrap_or(0);
        assert!(kept >= shown, "kill {kill}: {shown} was shown as stored, {kept} is there");
        most = kept;
        page.click(".brand").await?;
    }
    assert!(most > 0, "something was entered");
    stack.start_server().await?;
    page.gone("[data-testid=offline-mark]").await?;
    // What waited to be stored when the page was killed is sent again: a number may stand twice, and none is missing.
    let numbers = "select count(distinct substring(sealed from 'stone [0-9]+')) from entry where sealed like '%stone %'";
    assert!(stack.count(numbers).await? >= i64::try_from(most)?);
    let (content, said) = stack.tell(&["verify"]).await?;
    assert!(content, "{said}");
    page.close().await
}
