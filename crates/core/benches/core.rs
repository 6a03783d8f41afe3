//! What the core costs: the assessment of a job, a tolerance, a typed mass, a line of the
//! calculator. Figures and how they were taken: docs/performance.md.

use std::hint::black_box;

use criterion::{Criterion, criterion_group, criterion_main};
use ombret_core::assessment::{Around, assess};
use ombret_core::diagnosis::{Facts, Pointers, Priors, Seen, Shown, diagnose};
use ombret_core::job::drafts;
use ombret_core::job::{Author, Claim, Draft, Journal, MOST_ENTRIES, SetupDraft, Source};
use ombret_core::journal::entries;
use ombret_core::journal::{Body, CheckFinding, Direction, Entry, ReadStage, Signer, Silence, fold};
use ombret_core::quantity::{Mass, Unit, parse_mass};
use ombret_core::questions::calc;
use ombret_core::scale::{ScaleKind, ScaleSheet, checklist};
use ombret_core::tolerance::{Class, Scheme, Tolerance};
use serde_json::json;
use time::OffsetDateTime;
use uuid::Uuid;

/// As in the server: what is measured is what it costs there.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn kg(text: &str) -> Mass {
    parse_mass(text, Unit::Kg, "bench").unwrap()
}

fn sheet() -> ScaleSheet {
    serde_json::from_value(json!({
        "id": Uuid::from_u128(7), "name": "Wool table", "owner": "Tussock Wool Store", "place": "Grading floor", "kind": "floor", "serial": "WT-07",
        "indicator": "P4", "plate": {"max": {"value": "870", "unit": "kg"}, "d_min": {"value": "0.2", "unit": "kg"}}, "trade": true,
        "tolerance": {"scheme": "r76_in_service", "class": "III"}, "interval_months": 12, "field_width": 6
    }))
    .unwrap()
}

/// A job of sixty entries: checklist, readings as found, set-up, zero and span, readings as left.
fn sixty_entries() -> Vec<Entry> {
    let by = Signer { id: Uuid::from_u128(1), name: "Ebba Lund".into() };
    let author = |seq: u32| Author {
        entry: Uuid::from_u128(100 + u128::from(seq)),
        at: OffsetDateTime::UNIX_EPOCH,
        by: by.clone(),
    };
    let begun = Body::Started(entries::Started { sheet: Box::new(sheet()), before: None });
    let mut journal = Journal::begin(Uuid::from_u128(77), begun, author(1)).unwrap();
    let mut drafts: Vec<Draft> = checklist(ScaleKind::Floor)
        .map(|item| {
            Draft::LookedOver(drafts::LookedOverDraft {
                item: item.id.clone(),
                finding: CheckFinding::Ok,
                note: String::new(),
                cells: String::new(),
            })
        })
        .collect();
    let read = |stage, load: u32, direction| {
        Draft::reading(stage, &load.to_string(), &format!("{load}.2"), direction)
    };
    drafts.extend((0..10).map(|i| read(ReadStage::AsFound, i * 87, Direction::Up)));
    drafts.push(Draft::SetUp(SetupDraft::new("870", "0.2", Unit::Kg)));
    drafts.push(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: Source::typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    drafts.push(Draft::SpanChosen(drafts::SpanChosenDraft {
        weight: "600".into(),
        pad: None,
        with: Vec::new(),
    }));
    drafts.push(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: Source::typed("241250"),
        pad: None,
        claim: Claim::default(),
    }));
    drafts.push(Draft::AdjustmentSaved);
    let rest = u32::try_from(59 - drafts.len()).unwrap();
    drafts
        .extend((0..rest).map(|i| {
            read(ReadStage::Test, i * 25, if i % 2 == 0 { Direction::Up } else { Direction::Down })
        }));
    let silent = Err(Silence::not_connected());
    for draft in drafts {
        let author = author(journal.state().head + 1);
        journal.append(draft, &Around::only(&silent), author).unwrap();
    }
    journal.entries().to_vec()
}

fn job(c: &mut Criterion) {
    let entries = sixty_entries();
    assert_eq!(entries.len(), 60);
    let state = fold(&entries).unwrap();
    c.bench_function("fold a job of 60 entries", |b| b.iter(|| fold(black_box(&entries))));
    c.bench_function("assess a job of 60 entries", |b| {
        b.iter(|| assess(black_box(&entries), black_box(&state)))
    });
}

/// The longest journal there is: the same job, and readings until it is full.
fn longest(entries: &[Entry]) -> Vec<Entry> {
    let mut all = entries.to_vec();
    let read: Vec<Entry> = entries.iter().filter(|e| matches!(e.body, Body::Read(_))).cloned().collect();
    while all.len() < MOST_ENTRIES {
        let seq = u32::try_from(all.len()).unwrap() + 1;
        let again = read[all.len() % read.len()].clone();
        all.push(Entry { id: Uuid::from_u128(100 + u128::from(seq)), seq, ..again });
    }
    all
}

fn full_journal(c: &mut Criterion) {
    let entries = longest(&sixty_entries());
    let state = fold(&entries).unwrap();
    let mut group = c.benchmark_group("the longest journal, 2000 entries");
    group.sample_size(10);
    group.bench_function("fold", |b| b.iter(|| fold(black_box(&entries))));
    group.bench_function("assess", |b| b.iter(|| assess(black_box(&entries), black_box(&state))));
    let (seen, facts) = full_check();
    let seen: Vec<Seen> = (0..MOST_ENTRIES)
        .map(|n| Seen { at_s: 35.0 * f64::from(u32::try_from(n).unwrap()), ..seen[n % seen.len()].clone() })
        .collect();
    group.bench_function("diagnose 2000 readings", |b| {
        b.iter(|| {
            diagnose(black_box(&seen), black_box(&facts), &Priors::default(), &Pointers::default(), false)
        })
    });
    group.finish();
}

/// A full check: seven loads up, four down, one load three times, corners.
fn full_check() -> (Vec<Seen>, Facts) {
    let n = 4350.0;
    let quarter = [(0.25, 0.25), (0.75, 0.25), (0.75, 0.75), (0.25, 0.75)];
    let loads =
        [0.0, 0.02, 0.1, 0.25, 0.5, 0.75, 1.0, 0.75, 0.5, 0.25, 0.0, 0.8, 0.8, 0.8].map(|s| (s, None));
    let corners = std::iter::once(None).chain(quarter.map(Some)).map(|spot| (0.33, spot));
    let seen = (1u32..).zip(loads.into_iter().chain(corners)).map(|(i, (share, spot))| {
        let load = f64::round(share * n);
        Seen {
            down: (8..=11).contains(&i),
            place: spot,
            ..Seen::of(load, (load * 1.0006).round(), 35.0 * f64::from(i))
        }
    });
    let facts = Facts {
        cells: vec![(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)],
        span: Some(n / 2.0),
        pieces: vec![100.0, 50.0, 25.0],
        ..Facts::of(n, 3.0)
    };
    (seen.collect(), facts)
}

fn diagnosis(c: &mut Criterion) {
    let (seen, facts) = full_check();
    c.bench_function("diagnose a full check of 19 readings", |b| {
        b.iter(|| {
            diagnose(black_box(&seen), black_box(&facts), &Priors::default(), &Pointers::default(), false)
        })
    });
    // A dead cell: most ways are weighed, and two faults at once.
    let dead = |s: &Seen| {
        let (x, y) = s.place.unwrap_or((0.5, 0.5));
        let stood = if s.down { 0.99 } else { 1.02 };
        Seen { shown: Shown::Figure((s.load * (1.0 - stood * x * y)).round()), ..s.clone() }
    };
    let seen: Vec<Seen> = seen.iter().map(dead).collect();
    c.bench_function("diagnose a full check with a dead cell", |b| {
        b.iter(|| {
            diagnose(black_box(&seen), black_box(&facts), &Priors::default(), &Pointers::default(), false)
        })
    });
}

fn rules(c: &mut Criterion) {
    let tolerance = Tolerance::by_class(Scheme::R76Initial, Class::III);
    let (load, e, max) = (kg("437.6"), kg("0.2"), kg("870"));
    c.bench_function("tolerance at a load", |b| {
        b.iter(|| tolerance.at(black_box(&load), Some(&e), Some(&max)))
    });
    c.bench_function("parse a typed mass", |b| {
        b.iter(|| parse_mass(black_box("1 250,5 kg"), Unit::Kg, "load"))
    });
    let line = r#"{"rule": "R4", "input": {"scheme": "r76_initial", "class": "III", "e": {"value": "0.2", "unit": "kg"}, "load": {"value": "437.6", "unit": "kg"}}}"#;
    c.bench_function("a line of the calculator", |b| b.iter(|| calc::answer(black_box(line))));
}

criterion_group!(benches, job, full_journal, diagnosis, rules);
criterion_main!(benches);
