//! The pictures of the main views, from the demo's data, into docs/screenshots.

use std::path::PathBuf;

use ombret_e2e::{Browser, Look, Size, Stack, Step};

const DESK: Size = Size(1280, 800);
const TABLET: Size = Size(820, 1180);

struct Album {
    page: Browser,
    folder: PathBuf,
}

impl Album {
    async fn keep(&self, name: &str) -> Step {
        // The pointer's and the focus's marks are not part of a view.
        std::fs::write(self.folder.join(format!("{name}.png")), self.page.picture().await?)?;
        println!("docs/screenshots/{name}.png");
        Ok(())
    }
}

#[tokio::main]
async fn main() -> Step {
    let folder = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots");
    let mut stack = Stack::start().await?;
    stack.start_bench(3.0).await?;
    let page = Browser::open(&stack.base, DESK).await?;
    let album = Album { page, folder };
    let page = &album.page;
    page.go("/sign-in").await?;
    page.shown("#sign-in-name").await?;
    page.sign_in("ebba", "level-bubble").await?;
    page.says("h1", "Scales").await?;
    page.shown("tbody .error-chart").await?;
    album.keep("home").await?;
    a_job(&album).await?;
    a_lesson(&album).await?;
    around(&album).await?;
    album.page.close().await
}

async fn a_job(album: &Album) -> Step {
    let page = &album.page;
    page.begin_job("wt-07").await?;
    for _ in 0..3 {
        page.answer("1").await?;
    }
    page.answer("2").await?;
    page.says(".note", "Adjusting cannot cure it").await?;
    album.keep("inspection").await?;
    page.fill("#settle-reason", "stop wound back, 3 mm of air again").await?;
    page.press("Repaired").await?;
    page.gone("#settle-reason").await?;
    page.look_over_all().await?;

    page.shown("[data-testid=live-reading]").await?;
    page.is_stable().await?;
    page.press("Capture reading").await?;
    page.says(".journal", "0 kg on").await?;
    page.take_load("435", "Increasing").await?;
    page.take_load("870", "Increasing").await?;
    page.put_on("600").await?;
    page.is_stable().await?;
    page.click("tbody tr:last-child .link").await?;
    album.keep("as-found").await?;

    page.press("Adjust it").await?;
    page.fill("#setup-d", "0.05").await?;
    page.says(".overall", "REFUSED").await?;
    page.says(".note-caution", "voids the calibration").await?;
    album.keep("setup").await?;
    page.fill("#setup-d", "0.2").await?;
    page.press("Key it in").await?;
    for _ in 0..4 {
        page.click("[data-testid=key-strip] button[type=submit]").await?;
    }
    page.says("[data-testid=key-strip]", "Max 870 kg").await?;
    page.press("Not now").await?;
    page.press("Entered on the indicator").await?;
    page.says(".says", "capture zero").await?;
    page.put_on("0").await?;
    page.rests_at("0.0 kg").await?;
    page.hands_key("Zero").await?;
    page.press("Capture zero").await?;
    page.fill("#span-weight", "600").await?;
    page.press("Keyed in").await?;
    page.says(".digits", "006000").await?;
    let job =
        page.client.current_url().await?.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    page.go(&format!("/jobs/{job}/keying")).await?;
    page.says(".steps", "Span weight 600 kg").await?;
    album.keep("keying-sheet").await?;
    page.go(&format!("/jobs/{job}/zero_and_span")).await?;
    page.is_stable().await?;
    page.put_on("600").await?;
    page.take_when_steady("600", "Capture span").await?;
    page.hands_key("Span").await?;
    page.hands_key("Save").await?;
    album.keep("zero-and-span").await?;
    page.press("Saved in the indicator").await?;

    page.says("[data-testid=live-reading]", "600.0 kg").await?;
    for (kg, direction) in [
        ("0", "Increasing"),
        ("100", "Increasing"),
        ("400", "Increasing"),
        ("600", "Increasing"),
        ("870", "Increasing"),
        ("435", "Decreasing"),
    ] {
        page.take_load(kg, direction).await?;
    }
    // A picture of the next action, not of the moment in which it is worked out.
    page.holds("!document.body.innerText.includes('Working out which')").await?;
    album.keep("test").await?;
    page.look(Look::Dark, false).await?;
    album.keep("test-dark").await?;
    page.look(Look::Light, false).await?;
    let here = page.client.current_url().await?;
    page.go(&format!("/jobs/{job}/loads")).await?;
    page.says("[data-testid=span-says]", "sound").await?;
    album.keep("loads").await?;
    page.client.goto(here.as_str()).await?;
    page.says("[data-testid=live-reading]", "435.0 kg").await?;
    // The second language, on the second device.
    page.client.execute("localStorage.setItem('ombret.language', 'de'); location.reload()", vec![]).await?;
    page.says(".course", "Sichtprüfung").await?;
    page.says(".tabs", "verlangt").await?;
    page.resize(TABLET).await?;
    album.keep("test-tablet").await?;
    page.client.execute("localStorage.setItem('ombret.language', 'en'); location.reload()", vec![]).await?;
    page.says(".course", "Inspection").await?;
    page.says(".tabs", "asked for").await?;
    page.resize(DESK).await?;
    page.take_load("0", "Decreasing").await?;
    page.press("Eccentricity (corners)").await?;
    for shown in ["300.0", "300.0", "299.8", "300.2", "300.0"] {
        let before = page.entries().await?;
        page.fill("#test-shown", shown).await?;
        page.enter().await?;
        page.grows_past(before).await?;
    }
    page.says("[data-testid=test-says]", "Every place within").await?;
    page.says("[data-testid=diagnosis]", "Sound").await?;
    album.keep("corners").await?;

    page.to_close().await?;
    page.fill("#seals", "TW 1412, TW 1413").await?;
    page.click("[name=switch-back]").await?;
    page.click("[name=locked]").await?;
    page.press("Save seals").await?;
    page.shown("#sign-password").await?;
    page.sign("level-bubble").await?;
    page.says("h1", "Work record").await?;
    page.says(".review", "Signed, not approved yet").await?;
    album.keep("record").await?;
    certificate(album).await
}

/// The certificate of a record that may be one, its first page.
async fn certificate(album: &Album) -> Step {
    let page = &album.page;
    page.newest_record("cb-31", "Curd bench", 3).await?;
    page.says(".tools", "Certificate (PDF)").await?;
    let bytes = page.told("(async () => { const b = new Uint8Array(await (await fetch(location.pathname.replace('/jobs', '/api/jobs').replace('/record', '/certificate'))).arrayBuffer()); return btoa(Array.from(b, c => String.fromCharCode(c)).join('')) })()").await?;
    let kept = tempfile::NamedTempFile::new()?;
    std::fs::write(kept.path(), base64::Engine::decode(&base64::prelude::BASE64_STANDARD, bytes)?)?;
    let done = std::process::Command::new("pdftoppm")
        .args(["-png", "-r", "96", "-singlefile"])
        .arg(kept.path())
        .arg(album.folder.join("certificate"))
        .status()?;
    if !done.success() {
        return Err("pdftoppm failed".into());
    }
    println!("docs/screenshots/certificate.png");
    Ok(())
}

async fn a_lesson(album: &Album) -> Step {
    let page = &album.page;
    page.go("/practice").await?;
    page.says("h2", "A plain job").await?;
    album.keep("practice").await?;
    page.begin_lesson("Somebody parked on it").await?;
    while page.text("[data-testid=check-label]").await? != "Shows zero and holds it" {
        page.answer("1").await?;
    }
    page.press("Hint").await?;
    page.press("Look closely").await?;
    page.says("[data-testid=closely]", "over four hundred").await?;
    page.answer("2").await?;
    let job =
        page.client.current_url().await?.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    page.go(&format!("/jobs/{job}/close")).await?;
    page.click("[name=switch-back]").await?;
    page.press("Save seals").await?;
    page.click("details summary").await?;
    page.fill("#stop", "two bent cells; out of use until they are replaced").await?;
    page.press("Close without a complete test").await?;
    page.press("Sign and lock").await?;
    page.says("th", "The fault").await.map(drop)
}

/// An indicator is taught up to its third item.
async fn teaching(page: &Browser) -> Step {
    page.go("/profiles/teach").await?;
    page.fill("#teach-name", "Strandvik M7").await?;
    page.fill("#teach-keys", "sun moon star rain").await?;
    page.press("Start").await?;
    let choose = async |css: &str, value: &str| {
        page.holds(&format!("(() => {{ const s = document.querySelector('{css}'); if (!s) return false; s.value = '{value}'; s.dispatchEvent(new Event('change', {{ bubbles: true }})); return s.value === '{value}' }})()")).await
    };
    let shows = async |step: usize, display: &str, sort: &str| {
        if !display.is_empty() {
            page.fill("#seen-display", display).await?;
        }
        choose("#seen-sort", sort).await?;
        page.client
            .execute("document.querySelector('#seen-display').form.requestSubmit()", Vec::new())
            .await?;
        page.holds(&format!("document.querySelectorAll('.steps li').length === {step} && document.querySelector('.ask').getAttribute('aria-busy') === 'false'")).await
    };
    page.click("[data-act=power_off]").await?;
    shows(1, "", "off").await?;
    choose("[name=teach-held]", "moon").await?;
    shows(2, "mass", "same").await?;
    choose("#teach-meaning", "unit").await?;
    page.click(".ask .btn-next").await?;
    page.says("[data-testid=press]", "sun").await?;
    shows(4, "mass", "same").await?;
    shows(5, "stp", "same").await?;
    choose("#teach-meaning", "division").await?;
    page.click(".ask .btn-next").await?;
    page.shown("[data-testid=press]").await.map(drop)
}

async fn around(album: &Album) -> Step {
    let page = &album.page;
    page.go("/").await?;
    page.shown("tbody .error-chart").await?;
    page.press("Weights").await?;
    page.says("tbody", "TB-01").await?;
    album.keep("weights").await?;
    page.press("Route").await?;
    for scale in ["Curd bench", "Kitchen platform"] {
        page.fill("[aria-label='Search among the scales']", scale).await?;
        page.holds(&format!("[...document.querySelectorAll('.scales li')].map(l => l.innerText).join().startsWith('{scale}') && document.querySelectorAll('.scales li').length === 1")).await?;
        page.click(".scales input").await?;
    }
    page.fill("[aria-label='Search among the scales']", "").await?;
    page.holds("document.querySelectorAll('.scales li').length > 5").await?;
    page.press("Pack for 2 scales").await?;
    page.says("[data-testid=pack-sum]", "kg in").await?;
    album.keep("route").await?;
    teaching(page).await?;
    album.keep("teach").await?;
    page.go("/statistics").await?;
    page.says("[data-testid=figures-all]", "out of tolerance").await?;
    album.keep("statistics").await?;
    page.go("/").await?;
    page.wait_and_click_text("tbody a", "Wool table").await?;
    page.holds("document.querySelector('#name')?.value === 'Wool table'").await?;
    album.keep("scale").await
}
