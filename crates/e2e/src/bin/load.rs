//! How fast the server answers: appends with fsync on, the size of the first and later pages, the
//! time to the first answer, and its memory with ten open pages. Prints a table; docs/performance.md
//! keeps the figures.

use std::time::{Duration, Instant};

use ombret_e2e::{Browser, Client, Size, Stack, Step, spread};
use serde_json::json;

const APPENDS: usize = 300;
const TABS: usize = 10;

#[tokio::main]
async fn main() -> Step {
    let mut stack = Stack::start().await?;
    let mut starts = Vec::new();
    for _ in 0..7 {
        stack.kill_server().await?;
        let began = Instant::now();
        stack.start_server().await?;
        starts.push(began.elapsed().as_secs_f64() * 1000.0);
    }
    spread("start of the server to its first answer", starts);
    stack.start_bench(1.0).await?;
    let page = Browser::open(&stack.base, Size(1280, 800)).await?;
    page.go("/sign-in").await?;
    page.sign_in("ebba", "level-bubble").await?;
    page.shown("tbody .error-chart").await?;
    pages(&page).await?;
    appends(&page, &stack.base).await?;
    tabs(&page, &stack).await?;
    page.close().await?;
    stack.drop_database().await
}

/// What the first and the later pages move over the line, compressed, headers and all.
async fn pages(page: &Browser) -> Step {
    let moved = "return performance.getEntriesByType('resource').concat(performance.getEntriesByType('navigation')).reduce((sum, r) => sum + r.transferSize, 0) / 1000";
    // Signing in loaded the home page without a reload: a cold visit is what a newcomer has.
    page.forget_cache().await?;
    page.go("/").await?;
    page.shown("tbody .error-chart").await?;
    let first = page.client.execute(moved, Vec::new()).await?;
    println!("{:<44} {:>8.1} kB", "home page, first visit", first.as_f64().unwrap_or(f64::NAN));
    for (name, path, sign) in [
        ("home page, again", "/", "tbody .error-chart"),
        ("new scale, after the home page", "/scales/new", "#plate_max"),
    ] {
        page.go(path).await?;
        page.shown(sign).await?;
        println!(
            "{name:<44} {:>8.1} kB",
            page.client.execute(moved, Vec::new()).await?.as_f64().unwrap_or(f64::NAN)
        );
    }
    page.go("/").await?;
    page.begin_job("wt-07").await?;
    page.client.refresh().await?;
    page.shown("[data-testid=check-label]").await?;
    println!(
        "{:<44} {:>8.1} kB",
        "a job, after the home page",
        page.client.execute(moved, Vec::new()).await?.as_f64().unwrap_or(f64::NAN)
    );
    Ok(())
}

/// Appends one entry after another over one kept connection, and times each whole answer.
async fn appends(page: &Browser, base: &str) -> Step {
    let job =
        page.client.current_url().await?.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    let cookie = page.client.get_named_cookie("ombret_session").await?;
    let client = Client::new(base, &format!("{}={}", cookie.name(), cookie.value()));
    let path = format!("/api/jobs/{job}");
    let mut after = client.get(&path).await?["job"]["head_seq"].clone();
    let mut times = Vec::new();
    for n in 0..APPENDS {
        let load = (n * 7 % 870).to_string();
        let draft = json!({"kind": "read", "stage": "as_found", "load": load, "shown": {"from": "typed", "text": load}, "way": "up"});
        let body = json!({"id": uuid::Uuid::new_v4(), "after": after, "draft": draft});
        let began = Instant::now();
        let told = client.post(&format!("{path}/entries"), &body).await?;
        times.push(began.elapsed().as_secs_f64() * 1000.0);
        after = told["job"]["head_seq"].clone();
        if !after.is_number() {
            return Err(format!("an append failed: {told}").into());
        }
    }
    spread("append, the first 60 entries of a job", times.iter().take(60).copied().collect());
    spread("append, a journal of up to 300 entries", times);
    Ok(())
}

/// Ten pages open on a job with a live reading, and what the server then holds in memory.
async fn tabs(page: &Browser, stack: &Stack) -> Step {
    let here = page.client.current_url().await?;
    for _ in 1..TABS {
        let window = page.client.new_window(true).await?;
        page.client.switch_to_window(window.handle).await?;
        page.client.goto(here.as_str()).await?;
        page.holds("document.querySelector('main.job') !== null").await?;
    }
    let began = Instant::now();
    let mut most = 0.0f64;
    while began.elapsed() < Duration::from_secs(5) {
        most = most.max(stack.server_memory_mb()?);
        tokio::time::sleep(Duration::from_millis(200)).await;
    }
    println!("{:<44} {most:>8.1} MB resident", format!("the server with {TABS} pages open"));
    Ok(())
}
