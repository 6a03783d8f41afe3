//! What goes wrong around the work: an ended session, a database that is away, somebody who is
//! quicker, an altered file; and what must hold on every page.

use base64::Engine;
use fantoccini::Locator;
use ombret_e2e::{Browser, Look, Size, Stack, Step};

async fn start(stack: &Stack, who: (&str, &str)) -> Step<Browser> {
    let page = Browser::open(&stack.base, Size(1280, 800)).await?;
    page.go("/").await?;
    page.sign_in(who.0, who.1).await?;
    page.says("h1", "Scales").await?;
    Ok(page)
}

const EBBA: (&str, &str) = ("ebba", "level-bubble");
const TOMAS: (&str, &str) = ("tomas", "slotted-weight");

/// The demo's open job, at its readings as found.
async fn open_job(page: &Browser) -> Step<String> {
    page.press("Continue: Bale scale").await?;
    page.shown(".course").await?;
    let url = page.client.current_url().await?;
    let job = url.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    page.go(&format!("/jobs/{job}/as_found")).await?;
    page.shown("#reading-shown").await?;
    Ok(job)
}

async fn type_reading(page: &Browser, load: &str, shown: &str) -> Step {
    page.fill("#reading-load", load).await?;
    page.fill("#reading-shown", shown).await
}

#[tokio::test]
async fn an_entry_waits_for_the_database_and_for_a_new_sign_in() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack, EBBA).await?;
    open_job(&page).await?;

    type_reading(&page, "1000", "1001").await?;
    page.says("[data-testid=preview]", "+1.0 lb").await?;
    stack.database_away().await?;
    page.enter().await?;
    page.says("[data-testid=waiting]", "The database is away").await?;
    // Even a reload in this state loses nothing.
    stack.database_back().await?;
    page.client.refresh().await?;
    page.says("td", "1001.0 lb").await?;
    page.gone("[data-testid=waiting]").await?;

    type_reading(&page, "1300", "1302").await?;
    page.says("[data-testid=preview]", "+2.0 lb").await?;
    sqlx_end_sessions(&stack).await?;
    page.enter().await?;
    page.says(".dialog", "Sign in again").await?;
    page.sign_in(EBBA.0, EBBA.1).await?;
    page.says("td", "1302.0 lb").await?;
    page.gone(".dialog").await?;
    assert_eq!(stack.count("select count(*) from entry where sealed like '%\"1302\"%'").await?, 1);
    page.close().await
}

async fn sqlx_end_sessions(stack: &Stack) -> Step {
    stack.count("with gone as (delete from session returning 1) select count(*) from gone").await.map(drop)
}

#[tokio::test]
async fn whoever_is_slower_is_told_and_loses_nothing() -> Step {
    let stack = Stack::start().await?;
    let (first, second) = (start(&stack, EBBA).await?, start(&stack, TOMAS).await?);
    open_job(&first).await?;
    open_job(&second).await?;
    // Somebody else's entry is seen at once, and what is typed meanwhile stays as it is.
    type_reading(&second, "700", "700.5").await?;
    type_reading(&first, "600", "600.5").await?;
    first.enter().await?;
    second.says("td", "600.5 lb").await?;
    assert_eq!(
        (second.value("#reading-load").await?, second.value("#reading-shown").await?),
        ("700".into(), "700.5".into())
    );
    second.enter().await?;
    second.says("td", "700.5 lb").await?;
    first.says("td", "700.5 lb").await?;
    // A page that hears nothing for a while sends behind what it does not know.
    let deaf = "Object.defineProperty(document, 'visibilityState', {value: 'hidden', configurable: true}); document.dispatchEvent(new Event('visibilitychange'))";
    second.client.execute(deaf, Vec::new()).await?;
    type_reading(&second, "900", "901.5").await?;
    type_reading(&first, "800", "801").await?;
    first.enter().await?;
    first.says("td", "801.0 lb").await?;
    second.enter().await?;
    // A typed reading still holds behind somebody else's entry: it is sent again once, and that is said.
    second.says(".note", "your reading was sent again after it").await?;
    second.says("td", "801.0 lb").await?;
    second.says("td", "901.5 lb").await?;
    first.close().await?;
    second.close().await
}

#[tokio::test]
async fn a_new_scale_is_refused_at_its_fields_then_added_and_a_reviewer_only_reads() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack, EBBA).await?;
    page.press("New scale").await?;
    page.fill("#name", "Oyster bench").await?;
    page.fill("#owner", "Sound Shellfish").await?;
    page.fill("#plate_max", "twelve").await?;
    page.fill("#plate_d", "0.005").await?;
    page.press("Add the scale").await?;
    page.says("#plate_max-wrong", "is not a mass").await?;
    page.fill("#plate_max", "-12.5").await?;
    page.press("Add the scale").await?;
    page.says("#plate_max-wrong", "not above zero").await?;
    page.fill("#plate_max", "12,5").await?;
    page.press("Add the scale").await?;
    page.says("h1", "Oyster bench").await?;
    page.press("Back to the scales").await?;
    page.says("tbody", "12.5 × 0.005 kg").await?;
    page.press("Sign out").await?;
    page.sign_in("maren", "second-look").await?;
    page.says("tbody", "Oyster bench").await?;
    page.gone("[aria-label^='Start job']").await?;
    page.close().await
}

#[tokio::test]
async fn a_job_file_is_taken_in_on_the_page_and_an_altered_one_is_refused() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack, EBBA).await?;
    let input = page.client.find(Locator::Css("input[type=file]")).await?;
    let good = std::fs::canonicalize(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../server/tests/foreign.ombret-job.json"
    ))?;
    let altered = std::env::temp_dir().join(format!("{}.json", uuid::Uuid::new_v4()));
    std::fs::write(&altered, std::fs::read_to_string(&good)?.replacen("2.996", "3.000", 1))?;
    input.send_keys(altered.to_str().ok_or("an odd path")?).await?;
    page.says(".import", "the file was changed").await?;
    std::fs::remove_file(&altered)?;
    page.client
        .find(Locator::Css("input[type=file]"))
        .await?
        .send_keys(good.to_str().ok_or("an odd path")?)
        .await?;
    // This very job is the demo's own: it is here already, and nothing is stored twice.
    page.says(".import", "here already").await?;
    page.close().await
}

#[tokio::test]
async fn every_main_page_passes_axe_fits_a_tablet_and_the_record_prints_on_one_page() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack, EBBA).await?;
    let axe = std::fs::read_to_string(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../web/node_modules/axe-core/axe.min.js"
    ))?;
    let job = open_job(&page).await?;
    let closed: &str = "0192f000-1011-7000-8000-000000000000";
    let paths = [
        "/".to_owned(),
        "/scales/new".into(),
        format!("/jobs/{job}/look_over"),
        format!("/jobs/{job}/as_found"),
        format!("/jobs/{job}/set_up"),
        format!("/jobs/{job}/zero_and_span"),
        format!("/jobs/{job}/prove"),
        format!("/jobs/{job}/close"),
        format!("/jobs/{closed}/record"),
        "/profiles".into(),
        "/profiles/0192f000-0503-7000-8000-000000000000".into(),
        "/calculators/signal".into(),
        format!("/jobs/{job}/keying"),
        "/weights".into(),
        "/route".into(),
        format!("/jobs/{job}/loads"),
    ];
    let mut violations = Vec::new();
    for look in [Look::Light, Look::Dark] {
        page.look(look, false).await?;
        for path in &paths {
            page.go(path).await?;
            page.shown("main h1, main h2, main label, .says, .tools").await?;
            page.holds("!/Loading …|Reading the journal/.test(document.body.innerText)").await?;
            page.client.execute(&axe, Vec::new()).await?;
            let run = "const done = arguments[arguments.length - 1]; axe.run(document, {resultTypes: ['violations']}).then(r => done(r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.target.join(' ') + ' ' + (n.any[0]?.message ?? '')).join('; '))))";
            let found = page.client.execute_async(run, Vec::new()).await?;
            violations
                .extend(found.as_array().into_iter().flatten().map(|v| format!("{look:?} {path}: {v}")));
        }
    }
    assert!(violations.is_empty(), "{}", violations.join("\n"));
    page.resize(Size(820, 1180)).await?;
    for path in &paths {
        page.go(path).await?;
        page.shown("main").await?;
        page.holds("document.documentElement.scrollWidth <= window.innerWidth").await?;
    }
    page.go(&format!("/jobs/{closed}/record")).await?;
    page.says("h1", "Work record").await?;
    page.holds("document.fonts.status === 'loaded'").await?;
    let pdf = base64::engine::general_purpose::STANDARD.decode(page.printed().await?)?;
    let text = String::from_utf8_lossy(&pdf);
    assert!(text.contains("/Count 1"), "more than one page");
    page.close().await
}
