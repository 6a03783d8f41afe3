//! What the program says, written down before its house was rebuilt: the answer to every worked case, the
//! assessment and the paper of every record of the demo, and of every lesson played to its end. A change that
//! moves code changes none of it; one that restates something on purpose writes it anew with
//! `OMBRET_GOLDEN=write` and says in its commit what was restated.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;
use std::io::{Read, Write as _};
use std::path::{Path, PathBuf};

use crate::house::House;
use ombret::cli;
use ombret::signing::Keys;
use ombret_bench::{Scale, ScaleSettings};
use ombret_core::assessment::Around;
use ombret_core::job::drafts;
use ombret_core::job::{Author, Claim, Draft, Journal, SetupDraft, Source, open_file};
use ombret_core::journal::entries;
use ombret_core::journal::{Body, CheckFinding, Direction, ReadStage, Signer, Silence};
use ombret_core::practice::read_lesson;
use ombret_core::quantity::Decimal;
use ombret_core::questions::calc;
use ombret_core::record::{Circumstances, Letterhead, RecordTerms, certificate};
use ombret_core::scale::inspection;
use ombret_core::wording::Language;
use serde_json::{Value, json};
use sqlx::PgPool;
use time::OffsetDateTime;
use time::macros::datetime;
use uuid::Uuid;

/// What was said, by name.
type Said = BTreeMap<String, Value>;

const NOW: OffsetDateTime = datetime!(2026-10-01 09:00 UTC);

fn top() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn kept_at(part: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("tests/golden/{part}.zip"))
}

/// Compares with what was written down, or writes it down.
fn hold(part: &str, said: &Said) {
    let said: &Said =
        &said.iter().map(|(key, value)| (key.clone(), Language::En.read_out(value.clone()))).collect();
    let (path, name) = (kept_at(part), format!("{part}.json"));
    if std::env::var("OMBRET_GOLDEN").is_ok_and(|how| how == "write") {
        let mut zip = zip::ZipWriter::new(std::fs::File::create(path).unwrap());
        let options = zip::write::SimpleFileOptions::default()
            .last_modified_time(zip::DateTime::default())
            .compression_level(Some(9));
        zip.start_file(name, options).unwrap();
        zip.write_all(&serde_json::to_vec_pretty(said).unwrap()).unwrap();
        zip.finish().unwrap();
        return;
    }
    let mut zip = zip::ZipArchive::new(std::fs::File::open(path).unwrap()).unwrap();
    let mut bytes = Vec::new();
    zip.by_name(&name).unwrap().read_to_end(&mut bytes).unwrap();
    let before: Said = serde_json::from_slice(&bytes).unwrap();
    // Read as what was kept was, so that a figure is the same figure.
    let said: Said = serde_json::from_slice(&serde_json::to_vec(said).unwrap()).unwrap();
    let mut other = String::new();
    for key in before.keys().chain(said.keys()).collect::<BTreeSet<_>>() {
        let part = |of: &Said| of.get(key).cloned().unwrap_or(Value::Null);
        differences(key, &part(&before), &part(&said), &mut other);
    }
    let told: String = other.chars().take(4_000).collect();
    assert!(other.is_empty(), "{part} says something else than before:\n{told}");
}

fn differences(at: &str, before: &Value, now: &Value, out: &mut String) {
    match (before, now) {
        (Value::Object(a), Value::Object(b)) => {
            for key in a.keys().chain(b.keys()).collect::<BTreeSet<_>>() {
                let part = |of: &serde_json::Map<String, Value>| of.get(key).cloned().unwrap_or(Value::Null);
                differences(&format!("{at}/{key}"), &part(a), &part(b), out);
            }
        }
        (Value::Array(a), Value::Array(b)) if a.len() == b.len() => {
            for (n, (a, b)) in a.iter().zip(b).enumerate() {
                differences(&format!("{at}/{n}"), a, b, out);
            }
        }
        _ if before == now => {}
        _ => {
            let _ = writeln!(out, "{at}\n  before {before}\n  now    {now}");
        }
    }
}

#[test]
fn every_worked_case_is_answered_as_before() {
    let mut said = Said::new();
    let mut files: Vec<PathBuf> =
        std::fs::read_dir(top().join("crates/core/vectors")).unwrap().map(|f| f.unwrap().path()).collect();
    files.sort();
    for file in files {
        for (n, line) in std::fs::read_to_string(&file).unwrap().lines().enumerate() {
            let case: Value = serde_json::from_str(line).unwrap();
            let question = json!({"rule": case["rule"], "input": case["input"]}).to_string();
            let name = format!("{} {n} {}", file.file_stem().unwrap().to_string_lossy(), case["case"]);
            said.insert(name, serde_json::from_str(&calc::answer(&question)).unwrap());
        }
    }
    hold("calc", &said);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn every_record_of_the_demo_says_what_it_said(pool: PgPool) {
    let keys = Keys::passing();
    let house = House::with_keys(pool.clone(), keys.clone());
    cli::load_demo(&pool, &top().join("demo/workshop.json"), "127.0.0.1:1", "127.0.0.1:2", &keys, NOW)
        .await
        .unwrap();
    let mut said = Said::new();
    let files: Vec<(String, i32, Vec<u8>)> =
        sqlx::query_as("select number, version, file from record order by number, version")
            .fetch_all(&pool)
            .await
            .unwrap();
    assert!(files.len() > 10, "{}", files.len());
    for (number, version, bytes) in files {
        let (file, state) = open_file(&bytes).unwrap();
        let journal = Journal::of(file.job, file.entries.clone()).unwrap();
        let told = journal.assess();
        said.insert(format!("{number} {version} assessment"), serde_json::to_value(&told).unwrap());
        for language in Language::ALL {
            let letterhead = Letterhead { language, ..Letterhead::default() };
            let around = Circumstances {
                number: Some(&number),
                replaced_by: None,
                address: "https://scales.example/r",
                terms: RecordTerms::of(&state, true, false),
                attachment: None,
            };
            let paper = certificate(&state, &told, &letterhead, &around);
            said.insert(
                format!("{number} {version} paper {}", language.tag()),
                serde_json::to_value(&paper).unwrap(),
            );
        }
    }
    let looked = cli::verify_database(&house.pool, &keys).await.unwrap();
    said.insert("verify".into(), json!(cli::report(&looked)));
    hold("demo", &said);
}

/// Plays a lesson as a plain technician would: what is refused is written down too.
fn played(text: &str) -> Value {
    let lesson = read_lesson(text, Uuid::nil()).unwrap();
    let settings: ScaleSettings = serde_json::from_value(lesson.bench.clone()).unwrap();
    let mut scale = Scale::new(&settings);
    let per_kg = if settings.panel.unit == "g" { 1000.0 } else { 1.0 };
    let (max, d) = lesson.sheet.rated().unwrap();
    let by = Signer { id: Uuid::from_u128(9), name: "Ebba Lund".into() };
    let author = |seq: u32| Author {
        entry: Uuid::from_u128(100 + u128::from(seq)),
        at: NOW + time::Duration::seconds(40 * i64::from(seq)),
        by: by.clone(),
    };
    let begun = Body::Started(entries::Started { sheet: Box::new(lesson.sheet.clone()), before: None });
    let mut journal = Journal::begin(Uuid::from_u128(77), begun, author(1)).unwrap();
    let silent = Err(Silence::not_connected());
    let around = Around::only(&silent);
    let mut refused = Vec::new();
    let mut enter = |journal: &mut Journal, draft: Draft| {
        if let Err(refusal) = journal.append(draft, &around, author(journal.state().head + 1)) {
            refused.push(json!({"after": journal.state().head, "refusal": refusal}));
        }
    };
    let look = |scale: &mut Scale, load: f64| {
        let _ = scale.act("clear".parse().unwrap());
        if load > 0.0 {
            let _ = scale.act(format!("put {}", load / per_kg).parse().unwrap());
        }
        let mut line = String::new();
        for _ in 0..400 {
            line = scale.tick(0.1);
        }
        line.split(' ').nth(1).unwrap_or_default().to_owned()
    };
    let load_at = |share: f64| {
        let d = d.value.to_f64();
        (share * max.value.to_f64() / d).floor() * d
    };
    let text_of = |load: f64| Decimal::from_measured(load, 6).unwrap().to_string();
    let items: Vec<String> = inspection(&lesson.sheet).map(|item| item.id.clone()).collect();
    for item in items {
        let (note, cells) = (String::new(), String::new());
        enter(
            &mut journal,
            Draft::LookedOver(drafts::LookedOverDraft { item, finding: CheckFinding::Ok, note, cells }),
        );
    }
    let read =
        |stage, load: f64, shown: String, direction| Draft::reading(stage, &text_of(load), &shown, direction);
    for share in [0.0, 0.25, 0.5, 1.0] {
        let load = load_at(share);
        let shown = look(&mut scale, load);
        enter(&mut journal, read(ReadStage::AsFound, load, shown, Direction::Up));
    }
    enter(&mut journal, Draft::SetUp(SetupDraft::new(&max.value.to_string(), &d.value.to_string(), d.unit)));
    look(&mut scale, 0.0);
    let _ = scale.act("zero".parse().unwrap());
    let claim = Claim::default;
    enter(
        &mut journal,
        Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: Source::typed("40000"),
            pad: None,
            claim: claim(),
        }),
    );
    let span = load_at(0.75);
    enter(
        &mut journal,
        Draft::SpanChosen(drafts::SpanChosenDraft { weight: text_of(span), pad: None, with: Vec::new() }),
    );
    look(&mut scale, span);
    let _ = scale.act(format!("span {span}").parse().unwrap());
    let n = (span / d.value.to_f64()).round() * 20.0;
    enter(
        &mut journal,
        Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: Source::typed(text_of(40_000.0 + n)),
            pad: None,
            claim: claim(),
        }),
    );
    enter(&mut journal, Draft::AdjustmentSaved);
    for (share, direction) in [
        (0.75, Direction::Up),
        (0.0, Direction::Up),
        (0.25, Direction::Up),
        (1.0, Direction::Up),
        (0.5, Direction::Down),
        (0.0, Direction::Down),
    ] {
        let load = load_at(share);
        let shown = look(&mut scale, load);
        enter(&mut journal, read(ReadStage::Test, load, shown, direction));
    }
    enter(
        &mut journal,
        Draft::StoppedShort(drafts::StoppedShortDraft { reason: "the lesson ends here".into() }),
    );
    enter(
        &mut journal,
        Draft::SealedUp(drafts::SealedUpDraft { seals: "L 1".into(), switch_back: true, locked: true }),
    );
    enter(&mut journal, Draft::Closed(drafts::ClosedDraft { name: "Ebba Lund".into() }));
    json!({"assessment": journal.assess(), "refused": refused, "head": journal.head()})
}

#[test]
fn every_lesson_played_to_its_end_says_what_it_said() {
    let mut files: Vec<PathBuf> =
        std::fs::read_dir(top().join("demo/lessons")).unwrap().map(|f| f.unwrap().path()).collect();
    files.sort();
    let said: Said = files
        .iter()
        .map(|path| {
            let text = std::fs::read_to_string(path).unwrap();
            (path.file_stem().unwrap().to_string_lossy().into_owned(), played(&text))
        })
        .collect();
    assert!(said.len() >= 14);
    hold("lessons", &said);
}
