//! How many entries a second the server takes, and how many times a second it lists the scales, from one and
//! from several clients, beside what the database itself does in the same minute: `pgbench` with one INSERT
//! of the same size per transaction. docs/performance.md keeps the figures.

use std::path::PathBuf;
use std::process::Command;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::{Duration, Instant};

use ombret_e2e::{Client, Stack, Step, spread};
use serde_json::{Value, json};

/// How long each figure is measured.
const FOR: Duration = Duration::from_secs(8);
/// Entries of a job before the next is begun.
const ENTRIES: u32 = 60;

#[tokio::main]
async fn main() -> Step {
    let stack = Stack::start().await?;
    let client = Client::signed_in(&stack.base, "ebba", "level-bubble").await?;
    let scales = client.get("/api/scales").await?;
    let scale = scales["scales"]
        .as_array()
        .and_then(|all| all.iter().find(|s| s["sheet"]["serial"] == "WT-07"))
        .map(|s| s["sheet"]["id"].clone())
        .ok_or("the demo has no wool table")?;
    for clients in [1, 8] {
        lists(&client, clients).await?;
    }
    for clients in [1, 8, 32] {
        pgbench(&stack, clients)?;
        for minimal in [false, true] {
            let what = if minimal { "appends, taken only" } else { "appends, assessed" };
            let client = client.again().minimal(minimal);
            appends(&client, &scale, clients, what).await?;
        }
    }
    papers(&client, &stack).await?;
    stack.drop_database().await
}

/// A certificate as PDF, set anew each time.
async fn papers(client: &Client, stack: &Stack) -> Step {
    let job = stack
        .text("select job_id::text from record where not superseded order by length(file) desc limit 1")
        .await?;
    let mut times = Vec::new();
    for _ in 0..30 {
        let sent = Instant::now();
        let path = format!("/api/jobs/{job}/certificate");
        let (status, bytes) = client.raw("GET", &path, "application/json", Vec::new()).await?;
        times.push(sent.elapsed().as_secs_f64() * 1000.0);
        if status != 200 || !bytes.starts_with(b"%PDF") {
            return Err(format!("no certificate came: {status}").into());
        }
    }
    spread("a certificate as PDF", times);
    Ok(())
}

/// Times of everything that `one` does over and over until the time is up, from so many clients at a time.
async fn measured<F>(name: &str, clients: usize, one: impl Fn(usize) -> F) -> Step
where
    F: Future<Output = Step<Vec<f64>>> + Send + 'static,
{
    let began = Instant::now();
    let all = futures::future::join_all((0..clients).map(|n| tokio::spawn(one(n)))).await;
    let took = began.elapsed().as_secs_f64();
    let mut times = Vec::new();
    for one in all {
        times.extend(one??);
    }
    #[expect(clippy::cast_precision_loss, reason = "a count")]
    let rate = times.len() as f64 / took;
    spread(&format!("{name}, {clients} clients: {rate:.0} a second"), times);
    Ok(())
}

async fn appends(client: &Client, scale: &Value, clients: usize, what: &str) -> Step {
    measured(what, clients, |_| {
        let (client, scale) = (client.again(), scale.clone());
        async move {
            let began = Instant::now();
            let (mut times, mut job, mut after) = (Vec::new(), uuid::Uuid::nil(), ENTRIES);
            while began.elapsed() < FOR {
                if after >= ENTRIES {
                    job = uuid::Uuid::new_v4();
                    client.post("/api/jobs", &json!({"id": job, "scale_id": scale})).await?;
                    after = 1;
                }
                let load = (after * 7 % 870).to_string();
                let draft = json!({"kind": "read", "stage": "as_found", "load": load, "shown": {"from": "typed", "text": load}, "way": "up"});
                let body = json!({"id": uuid::Uuid::new_v4(), "after": after, "draft": draft});
                let sent = Instant::now();
                let path = format!("/api/jobs/{job}/entries");
                let kind = "application/json";
                let (status, told) = client.raw("POST", &path, kind, body.to_string().into_bytes()).await?;
                times.push(sent.elapsed().as_secs_f64() * 1000.0);
                if status >= 300 {
                    return Err(format!("an append failed: {}", String::from_utf8_lossy(&told)).into());
                }
                after += 1;
            }
            Ok(times)
        }
    })
    .await
}

async fn lists(client: &Client, clients: usize) -> Step {
    let bytes = Arc::new(AtomicUsize::new(0));
    measured("home list", clients, |_| {
        let (client, bytes) = (client.again(), bytes.clone());
        async move {
            let (began, mut times) = (Instant::now(), Vec::new());
            while began.elapsed() < FOR {
                let sent = Instant::now();
                let (status, body) = client.raw("GET", "/api/scales", "application/json", Vec::new()).await?;
                times.push(sent.elapsed().as_secs_f64() * 1000.0);
                if status != 200 {
                    return Err(format!("the list failed: {status}").into());
                }
                bytes.store(body.len(), Ordering::Relaxed);
            }
            Ok(times)
        }
    })
    .await?;
    println!("{:<48} {:>7} bytes", "  one answer", bytes.load(Ordering::Relaxed));
    Ok(())
}

/// What the database does by itself.
fn pgbench(stack: &Stack, clients: usize) -> Step {
    let folder = tempfile::tempdir()?;
    let script = folder.path().join("insert.sql");
    // As long as a typed reading is when it is sealed.
    let text = "x".repeat(620);
    std::fs::write(
        &script,
        format!("insert into probe values (gen_random_uuid(), 1, gen_random_uuid(), '{text}');\n"),
    )?;
    let psql = |sql: &str| Command::new("psql").args([&stack.database_url, "-qc", sql]).status();
    psql(
        "create table if not exists probe (job_id uuid, seq int, id uuid unique, sealed text, stored_at timestamptz default now())",
    )?;
    let newest = std::fs::read_dir("/usr/lib/postgresql")?
        .filter_map(|entry| Some(entry.ok()?.path().join("bin/pgbench")))
        .find(|path| path.is_file())
        .unwrap_or_else(|| PathBuf::from("pgbench"));
    let out = Command::new(newest)
        .args(["-n", "-M", "prepared", "-j", "2", "-T", &FOR.as_secs().to_string()])
        .args(["-c", &clients.to_string(), "-f"])
        .arg(&script)
        .arg(&stack.database_url)
        .output()?;
    let told = String::from_utf8_lossy(&out.stdout);
    let line = told.lines().find(|line| line.starts_with("tps")).unwrap_or("pgbench told nothing");
    println!("pgbench, {clients} clients: {line}");
    Ok(())
}
