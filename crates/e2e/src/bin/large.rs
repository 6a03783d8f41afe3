//! How fast the server answers in a large workshop: 100 000 scales, 300 000 records, 3 million entries.
//! Prints a table, and with `--plans FILE` keeps the plan of every statement that stood behind it.
//! docs/performance.md keeps the figures.

use std::time::Instant;

use ombret_e2e::{Client, Stack, Step, spread};
use serde_json::Value;

/// Questions of each sort.
const ROUNDS: usize = 200;

#[tokio::main]
async fn main() -> Step {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let mut stack = Stack::start_grown().await?;
    for (what, sql) in [
        ("scales", "select count(*) from scale"),
        ("records", "select count(*) from record"),
        ("entries", "select count(*) from entry"),
        ("pieces of weight", "select count(*) from piece"),
    ] {
        println!("{what:<20} {}", stack.count(sql).await?);
    }
    let client = Client::signed_in(&stack.base, "grown", Stack::GROWN).await?;
    let sorts = sorts(&client).await?;
    // Once for nothing: the first of each sort reads from disk what the others find.
    for (_, paths) in &sorts {
        client.get(&paths[0]).await?;
    }
    for (name, paths) in &sorts {
        let mut times = Vec::with_capacity(ROUNDS);
        for path in paths.iter().cycle().take(ROUNDS) {
            let began = Instant::now();
            let told = client.get(path).await?;
            times.push(began.elapsed().as_secs_f64() * 1000.0);
            if told.get("status").is_some() {
                return Err(format!("{path}: {told}").into());
            }
        }
        spread(&format!("{name}, {} different", paths.len()), times);
    }
    if let [flag, file] = args.as_slice()
        && flag == "--plans"
    {
        stack.with_plans(std::fs::File::create(file)?).await?;
        for (_, paths) in &sorts {
            client.get(&paths[0]).await?;
        }
        println!("plans: {file}");
    }
    Ok(())
}

/// The sorts of questions, each with different ones of its sort.
async fn sorts(client: &Client) -> Step<Vec<(&'static str, Vec<String>)>> {
    let first = client.get("/api/scales").await?;
    let next = first["next"].as_str().ok_or("one page only")?.to_owned();
    let scales: Vec<String> =
        first["scales"].as_array().ok_or("no scales")?.iter().map(|s| text(&s["sheet"]["id"])).collect();
    let kit = client.get("/api/kit?search=").await?;
    let pieces: Vec<String> =
        kit.as_array().ok_or("no pieces")?.iter().map(|p| text(&p["piece"]["id"])).collect();
    let words = [
        "skarholm dairy",
        "mill",
        "dock scale 7",
        "be000",
        "fl0999",
        "hall 3, bay 12",
        "nettle bay",
        "brewery 4",
        "silo",
        "ve0123",
        "no such word",
        "bay scale",
        "hanging",
        "ca",
        "x",
        "foundry 11",
        "tamsin wool store 9",
    ];
    let owners = ["mill", "quarry 2", "ulvsund", "hall 4", "bakery"];
    let marks = [
        "gw 100002",
        "gw123456",
        "2026-000123",
        "be000017",
        "nml-000-200",
        "a01",
        "2025-1",
        "zz",
        "231999",
        "25-0001",
    ];
    let some =
        |all: &[&str], path: &str| all.iter().map(|w| format!("{path}{}", w.replace(' ', "%20"))).collect();
    Ok(vec![
        ("home: scales", vec!["/api/scales".into()]),
        ("home: the next page", vec![format!("/api/scales?after={next}")]),
        ("home: open jobs", vec!["/api/jobs".into()]),
        ("home: waiting for approval", vec!["/api/review".into()]),
        ("search", some(&words, "/api/scales?search=")),
        ("due board, three months", vec!["/api/due".into()]),
        ("due board, a year", vec!["/api/due?days=366".into()]),
        ("due board by owner", vec!["/api/due?by=owner".into()]),
        ("due board by place", vec!["/api/due?by=place".into()]),
        ("due board, searched", some(&owners, "/api/due?search=")),
        ("scale history", scales.iter().map(|s| format!("/api/scales/{s}/history")).collect()),
        ("recall list", pieces.iter().map(|p| format!("/api/kit/{p}/records")).collect()),
        ("lookup", some(&marks, "/api/lookup?q=")),
        ("figures of two years", vec!["/api/statistics".into()]),
    ])
}

fn text(value: &Value) -> String {
    value.as_str().unwrap_or_default().to_owned()
}
