//! The core in the page is the core of the server: what both are asked, they answer to the byte.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};
use std::process::Command;

use ombret::cli;
use ombret::signing::Keys;
use ombret_core::job::open_file;
use ombret_core::offline::Offline;
use rand::rngs::StdRng;
use rand::{RngExt, SeedableRng};
use serde_json::{Value, json};
use sqlx::PgPool;
use time::OffsetDateTime;
use time::macros::datetime;

const NOW: OffsetDateTime = datetime!(2026-10-01 09:00 UTC);
/// Questions that are like no case in particular.
const MUTATED: usize = 20_000;

fn top() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

/// What the page's core answers.
fn in_the_page(questions: &[String]) -> Vec<String> {
    let core = top().join("target/core.wasm");
    assert!(core.is_file(), "the page's core is not built: ./ombret test builds it");
    let asked =
        std::env::temp_dir().join(format!("ombret-questions-{}-{}", std::process::id(), questions.len()));
    std::fs::write(&asked, questions.join("\n")).unwrap();
    let told = Command::new("node")
        .arg(top().join("crates/wasm/answer.mjs"))
        .arg(core)
        .arg(&asked)
        .output()
        .unwrap();
    std::fs::remove_file(&asked).unwrap();
    assert!(told.status.success(), "{}", String::from_utf8_lossy(&told.stderr));
    String::from_utf8(told.stdout).unwrap().lines().map(str::to_owned).collect()
}

/// What this program's core answers; a panic here is a trap there.
fn here(questions: &[String]) -> Vec<String> {
    let mut core = Offline::default();
    let answer = |asked: &String| {
        std::panic::catch_unwind(std::panic::AssertUnwindSafe(|| core.answer(asked)))
            .unwrap_or_else(|_| "trapped".into())
    };
    questions.iter().map(answer).collect()
}

fn hold(questions: &[String]) {
    let (there, here) = (in_the_page(questions), here(questions));
    assert_eq!(there.len(), here.len());
    let mut other = String::new();
    for (asked, (there, here)) in
        questions.iter().zip(there.iter().zip(&here)).filter(|(_, (a, b))| a != b).take(3)
    {
        let cut = |text: &str| text.chars().take(1_500).collect::<String>();
        let from = there.bytes().zip(here.bytes()).take_while(|(a, b)| a == b).count().saturating_sub(60);
        let part = |text: &str| text.chars().skip(from).take(300).collect::<String>();
        let _ = writeln!(other, "{}\n  page   {}\n  server {}", cut(asked), part(there), part(here));
    }
    assert!(other.is_empty(), "page and server differ:\n{other}");
    let trapped = here.iter().filter(|told| *told == "trapped").count();
    assert_eq!(trapped, 0, "of {} questions {trapped} brought the core down", questions.len());
}

fn cases() -> Vec<Value> {
    let mut files: Vec<PathBuf> =
        std::fs::read_dir(top().join("crates/core/vectors")).unwrap().map(|f| f.unwrap().path()).collect();
    files.sort();
    let lines = files.iter().flat_map(|file| {
        std::fs::read_to_string(file).unwrap().lines().map(str::to_owned).collect::<Vec<_>>()
    });
    lines
        .map(|line| {
            let case: Value = serde_json::from_str(&line).unwrap();
            json!({"rule": case["rule"], "input": case["input"]})
        })
        .collect()
}

fn asked(case: &Value) -> String {
    json!({"ask": "work", "line": case.to_string()}).to_string()
}

/// One value somewhere in a question becomes another.
fn mutate(value: &mut Value, dice: &mut StdRng) {
    match value {
        Value::Object(map) if !map.is_empty() => {
            let at = dice.random_range(0..map.len());
            let key = map.keys().nth(at).cloned().unwrap();
            if dice.random_range(0..12) == 0 {
                map.remove(&key);
            } else {
                mutate(&mut map[&key], dice);
            }
        }
        Value::Array(list) if !list.is_empty() => {
            let at = dice.random_range(0..list.len());
            match dice.random_range(0..10) {
                0 => drop(list.remove(at)),
                1 => list.insert(at, list[at].clone()),
                _ => mutate(&mut list[at], dice),
            }
        }
        Value::String(text) => match text.parse::<f64>() {
            Ok(figure) => *text = format!("{}", figure * factor(dice)),
            Err(_) => text.push('x'),
        },
        Value::Number(figure) => {
            let figure = figure.as_f64().unwrap_or(1.0) * factor(dice);
            *value = if dice.random_bool(0.5) { json!(figure.round()) } else { json!(figure) };
        }
        Value::Bool(flag) => *flag = !*flag,
        _ => *value = json!(1),
    }
}

fn factor(dice: &mut StdRng) -> f64 {
    let factors = [0.0, -1.0, 0.1, 0.5, 0.999, 1.001, 1.3, 2.0, 7.0, 10.0, 1000.0];
    factors[dice.random_range(0..factors.len())]
}

#[test]
fn every_worked_case_and_twenty_thousand_like_them_are_answered_alike() {
    let cases = cases();
    let mut questions: Vec<String> = cases.iter().map(asked).collect();
    let mut dice = StdRng::seed_from_u64(6);
    while questions.len() < cases.len() + MUTATED {
        let mut case = cases[dice.random_range(0..cases.len())].clone();
        mutate(&mut case["input"], &mut dice);
        questions.push(asked(&case));
    }
    hold(&questions);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn every_job_of_the_demo_is_assessed_diagnosed_planned_and_gone_on_with_alike(pool: PgPool) {
    let keys = Keys::passing();
    cli::load_demo(&pool, &top().join("demo/workshop.json"), "127.0.0.1:1", "127.0.0.1:2", &keys, NOW)
        .await
        .unwrap();
    let files: Vec<Vec<u8>> = sqlx::query_scalar("select file from record").fetch_all(&pool).await.unwrap();
    let pieces: Vec<Value> = sqlx::query_scalar("select piece from piece").fetch_all(&pool).await.unwrap();
    let profiles: Vec<(uuid::Uuid, String)> =
        sqlx::query_as("select id, text from profile").fetch_all(&pool).await.unwrap();
    assert!(files.len() > 10 && pieces.len() > 10 && !profiles.is_empty());
    let profiles: serde_json::Map<String, Value> =
        profiles.into_iter().map(|(id, text)| (id.to_string(), json!(text))).collect();
    let mut questions = vec![json!({"ask": "workshop", "pieces": pieces, "profiles": profiles}).to_string()];
    for bytes in files {
        let (file, state) = open_file(&bytes).unwrap();
        let job = file.job;
        let author =
            json!({"entry": job, "at": "2026-10-01T09:00:00Z", "by": {"id": job, "name": "Ebba Lund"}});
        let mut ask = |question: Value| questions.push(question.to_string());
        // Half of it is opened and half comes behind, as it does in a page.
        let half = file.entries.len().div_ceil(2);
        ask(json!({"ask": "open", "job": job, "entries": file.entries[..half]}));
        ask(json!({"ask": "follow", "job": job, "entries": file.entries[half..]}));
        ask(json!({"ask": "assess", "job": job}));
        ask(json!({"ask": "entries", "job": job, "after": 0}));
        ask(json!({"ask": "file", "job": job, "program": "test"}));
        for stage in ["as_found", "prove"] {
            ask(json!({"ask": "diagnosis", "job": job, "stage": stage}));
            ask(json!({"ask": "plan", "job": job, "at": "2026-10-01T09:00:00Z", "stage": stage}));
        }
        ask(json!({"ask": "keying", "job": job}));
        ask(json!({"ask": "messages", "job": job}));
        let (max, d) = state.sheet.rated().unwrap();
        let setup = json!({"max": max.value, "d": d.value, "unit": d.unit});
        ask(json!({"ask": "judge", "job": job, "setup": setup}));
        let amended = json!({"kind": "amended", "reason": "a figure was read anew"});
        let entry = |after: u32, draft: Value, try_only: bool| {
            json!({"ask": "enter", "job": job, "after": after, "author": author, "draft": draft, "roles": ["technician"],
                   "try_only": try_only})
        };
        ask(entry(state.head, amended.clone(), true));
        ask(entry(state.head, amended, false));
        let read = json!({"kind": "read", "stage": "prove", "load": "0", "shown": {"from": "typed", "text": "0"}, "way": "up"});
        ask(entry(state.head + 1, read.clone(), true));
        ask(entry(state.head, read, true));
        ask(json!({"ask": "leave", "job": job}));
    }
    hold(&questions);
}
