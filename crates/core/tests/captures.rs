//! What cannot be true is not taken in silence.

use ombret_core::job::drafts;
use ombret_core::job::{Claim, Draft, NoFigureDraft, SetupDraft, Source};
use ombret_core::journal::entries;
use ombret_core::journal::{
    Before, Body, Direction, Heard, Observation, Outcome, ReadStage, Setup, Silence, SpanOnRecord,
};
use ombret_core::quantity::{Decimal, Mass, Unit};
use proptest::prelude::*;
use serde_json::json;
use time::OffsetDateTime;

use crate::journal::{Journal, read, sheet, typed};

fn kg(text: &str) -> Mass {
    Mass::new(text.parse().unwrap(), Unit::Kg)
}

/// A scale whose last record knows zero at 41 250 counts and 600 kg at 241 250.
fn with_record() -> Journal {
    let mut job = Journal { entries: Vec::new() };
    let before = Before {
        number: "2030-0007".into(),
        closed_at: OffsetDateTime::UNIX_EPOCH,
        setup: Some(Setup::of(kg("870"), kg("0.2"))),
        span: Some(SpanOnRecord {
            weight: kg("600"),
            at_zero: Decimal::from(41_250u32),
            with_weight: Decimal::from(241_250u32),
        }),
        pads: Vec::new(),
        counters: None,
        faults: Vec::new(),
    };
    let sheet = sheet(json!({"stays_on": "12 kg", "stays_on_what": "roller track"}));
    job.push(Body::Started(entries::Started { sheet: Box::new(sheet), before: Some(Box::new(before)) }));
    job.inspection();
    job
}

fn zero(counts: &str, because: &str) -> Draft {
    let claim = Claim { shown: String::new(), because: because.into() };
    Draft::ZeroCaptured(drafts::ZeroCapturedDraft { counts: typed(counts), pad: None, claim })
}

fn span(counts: &str, because: &str) -> Draft {
    let claim = Claim { shown: String::new(), because: because.into() };
    Draft::SpanCaptured(drafts::SpanCapturedDraft { counts: typed(counts), pad: None, claim })
}

fn observed(shown: &str, counts: Option<u32>, mark: Option<bool>) -> Heard {
    Ok(Observation {
        steady: true,
        mark,
        shown: kg(shown),
        mean: None,
        counts: counts.map(Decimal::from),
        hold_s: Decimal::from(3u32),
        restarts: 0,
        samples: 30,
    })
}

fn live_zero() -> Draft {
    Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: Source::Live,
        pad: None,
        claim: Claim::default(),
    })
}

#[test]
fn a_zero_with_a_load_on_it_is_refused_by_the_display_and_by_the_counts() {
    let mut job = with_record();
    let refused = job.try_live(live_zero(), &observed("870", None, None)).unwrap_err();
    assert_eq!((refused.code.as_str(), refused.field.as_deref()), ("not_empty", Some("because")));
    assert!(refused.what_to_do.as_ref().unwrap().to_string().contains("roller track"), "{refused:?}");
    // 290 kg by the last record's counts.
    let refused = job.add(zero("137917", "")).unwrap_err();
    assert!(refused.message.to_string().contains("290.0 kg"), "{}", refused.message);
    // With a reason it is taken, and the record says so.
    job.ok(zero("137917", "the cells are new"));
    assert!(job.assessed().next.says.to_string().contains("span weight"));
}

#[test]
fn an_empty_platform_off_zero_by_a_little_is_taken() {
    let mut job = with_record();
    job.try_live(live_zero(), &observed("2.4", Some(41_600), Some(true))).unwrap();
}

#[test]
fn negative_counts_are_a_question_about_the_wiring() {
    let mut job = with_record();
    let refused = job.add(zero("-5000", "")).unwrap_err();
    assert_eq!(refused.code, "negative_counts");
    assert!(refused.what_to_do.unwrap().to_string().contains("wiring"));
}

#[test]
fn a_span_that_was_not_put_on_is_refused_with_what_to_do() {
    let mut job = with_record();
    assert_eq!(job.assessed().adjust.zero_counts, None, "nothing is captured yet");
    job.ok(zero("41250", ""));
    job.ok(Draft::SpanChosen(drafts::SpanChosenDraft { weight: "600".into(), pad: None, with: Vec::new() }));
    assert_eq!(job.add(span("41251", "")).unwrap_err().code, "few_counts");
    assert_eq!(job.add(span("41250", "")).unwrap_err().code, "reversed_or_dead");
    // Ten counts for 600 kg are less than one a division, whatever is said.
    assert_eq!(job.add(span("41260", "it counts so")).unwrap_err().code, "few_counts");
    let refused = job.add(span("101250", "")).unwrap_err();
    assert_eq!(refused.code, "below_expected");
    assert!(refused.message.to_string().contains("200000"), "{}", refused.message);
    job.ok(span("241250", ""));
}

#[test]
fn a_span_on_an_empty_platform_is_seen_on_the_display_too() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.try_live(live_zero(), &observed("0", None, None)).unwrap();
    job.ok(Draft::SpanChosen(drafts::SpanChosenDraft {
        weight: "213.4".into(),
        pad: None,
        with: Vec::new(),
    }));
    let live = Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: Source::Live,
        pad: None,
        claim: Claim::default(),
    });
    let refused = job.try_live(live.clone(), &observed("0.2", None, None)).unwrap_err();
    assert_eq!(refused.code, "nothing_put_on");
    job.try_live(live, &observed("214", None, None)).unwrap();
}

#[test]
fn the_indicators_own_mark_counts_beside_ours() {
    let mut job = Journal::begin();
    let live = |stage| {
        Draft::Read(drafts::ReadDraft {
            stage,
            load: "400".into(),
            shown: Source::Live,
            direction: Direction::Up,
            pad: None,
            with: Vec::new(),
            overruled: String::new(),
            once: false,
            detail: ombret_core::job::ReadDetail::default(),
        })
    };
    let refused = job.try_live(live(ReadStage::AsFound), &observed("400", None, Some(false))).unwrap_err();
    assert_eq!(refused.code, "own_mark_moving");
    job.try_live(live(ReadStage::AsFound), &observed("400", None, Some(true))).unwrap();
}

#[test]
fn a_figure_that_the_display_cannot_show_is_refused_with_its_neighbours() {
    let mut job = Journal::begin();
    let refused = job.add(read(ReadStage::AsFound, "400", "400.3", Direction::Up)).unwrap_err();
    assert_eq!((refused.code.as_str(), refused.field.as_deref()), ("not_a_multiple", Some("shown")));
    assert!(refused.message.to_string().contains("400.2 kg or 400.4 kg"), "{}", refused.message);
    let refused = job.add(read(ReadStage::AsFound, "400", "881.8 lb", Direction::Up)).unwrap_err();
    assert_eq!(refused.code, "other_unit");
}

#[test]
fn a_scale_that_was_found_otherwise_is_read_with_the_setup_it_was_found_with() {
    let mut job = Journal::begin();
    let found = SetupDraft::new("1900", "0.5", Unit::Lb);
    job.ok(Draft::SetupFound(drafts::SetupFoundDraft { setup: found, factor: String::new() }));
    job.ok(read(ReadStage::AsFound, "400", "882 lb", Direction::Up));
    let told = job.assessed();
    assert!(
        told.reservations
            .iter()
            .any(|r| r.to_string().contains("1900 lb × 0.5 lb") && r.to_string().contains("870 kg × 0.2 kg")),
        "{:?}",
        told.reservations
    );
    // Once it has been read, what it was read with cannot be changed behind it.
    let again = Draft::SetupFound(drafts::SetupFoundDraft {
        setup: SetupDraft::new("870", "0.2", Unit::Kg),
        factor: String::new(),
    });
    assert_eq!(job.refused(again), "read_already");
}

#[test]
fn a_display_without_a_figure_is_a_reading_too() {
    let mut job = Journal::begin();
    job.inspection();
    job.ok(read(ReadStage::AsFound, "0", "0", Direction::Up));
    let dark = |load: &str, display| {
        Draft::NoFigureRead(drafts::NoFigureReadDraft {
            stage: ReadStage::AsFound,
            load: load.into(),
            display,
            direction: Direction::Up,
            pad: None,
        })
    };
    job.ok(dark("870", NoFigureDraft::Over));
    let told = job.assessed();
    assert_eq!(told.as_found.outcome, Outcome::OutOfTolerance);
    assert_eq!(told.as_found.no_figures[0].says, "dashes, over");
    assert!(told.as_found.says.to_string().contains("no figure"), "{}", told.as_found.says);
    assert_eq!(job.refused(dark("0", NoFigureDraft::Text { text: " ".into() })), "missing");
    let flicker = NoFigureDraft::Flickers { from: "10".into(), to: "10".into() };
    assert_eq!(job.refused(dark("0", flicker)), "out_of_range");
    job.ok(dark("0", NoFigureDraft::Text { text: "FAULT 7".into() }));
    assert!(job.assessed().entries.last().unwrap().says.to_string().contains("“FAULT 7”"));
}

#[test]
fn a_factor_is_checked_figure_by_figure() {
    let mut job = with_record();
    let factor = |factor: &str, decimals: &str| {
        Draft::FactorSet(drafts::FactorSetDraft {
            factor: factor.into(),
            load: "300".into(),
            shown: "301".into(),
            shown_zero: String::new(),
            decimals: decimals.into(),
            with: Vec::new(),
        })
    };
    for (draft, field) in [
        (factor("abc", "4"), "factor"),
        (factor("0", "4"), "factor"),
        (factor("-3", "4"), "factor"),
        (factor("1", "50"), "decimals"),
        (factor("1", "-1"), "decimals"),
        (factor("1", "four"), "decimals"),
    ] {
        assert_eq!(job.add(draft).unwrap_err().field.as_deref(), Some(field));
    }
}

proptest! {
    #[test]
    fn whatever_a_zero_is_captured_with_a_load_far_above_it_never_is(load in 36u32..870, silent: bool) {
        let mut job = with_record();
        let counts = 41_250 + load * 1000 / 3;
        let shown = format!("{load}");
        let heard = observed(&shown, (!silent).then_some(counts), Some(true));
        prop_assert_eq!(job.try_live(live_zero(), &heard).unwrap_err().code, "not_empty");
        prop_assert_eq!(job.try_live(live_zero(), &Err(Silence::not_connected())).unwrap_err().code, "no_signal");
    }
}

#[test]
fn a_display_without_a_figure_is_explained_and_points_to_causes() {
    use ombret_core::diagnosis::{Cause, Priors, diagnose_job};
    use ombret_core::journal::Phase;
    use ombret_core::scale::ProfileRef;
    let text =
        std::fs::read_to_string(format!("{}/../../demo/profiles/korrin-p4.toml", env!("CARGO_MANIFEST_DIR")));
    let profile = ombret_core::keying::read_profile(&text.unwrap()).unwrap();
    let mut sheet = sheet(json!({}));
    let facts = Some(Box::new(profile.facts()));
    sheet.profile = Some(ProfileRef { id: uuid::Uuid::from_u128(7), name: profile.name.clone(), facts });
    let mut job = Journal::on(sheet);
    job.inspection();
    let dark = |display| {
        Draft::NoFigureRead(drafts::NoFigureReadDraft {
            stage: ReadStage::AsFound,
            load: String::new(),
            display,
            direction: Direction::Up,
            pad: None,
        })
    };
    job.ok(dark(NoFigureDraft::Text { text: "sig lo".into() }));
    let told = job.assessed();
    assert!(
        told.as_found.no_figures[0].means.as_ref().unwrap().to_string().contains("below the input's range")
    );
    let state = job.state();
    let found = diagnose_job(&state, &told, Phase::AsFound, 1, &[], &Priors::default()).unwrap();
    let causes: Vec<Cause> = found.ranked.iter().map(|r| r.cause).collect();
    assert!(
        !found.told && causes.contains(&Cause::Reversed) && causes.contains(&Cause::NoSignal),
        "{causes:?}"
    );
    assert!(!causes.contains(&Cause::SpanDrift), "a span explains no such message");
    // A text that nobody knows is kept as it stands, and nothing is made up about it.
    let mut job = Journal::begin();
    job.inspection();
    job.ok(dark(NoFigureDraft::Text { text: "QX 3".into() }));
    let told = job.assessed();
    assert_eq!(told.as_found.no_figures[0].means, None);
    assert!(diagnose_job(&job.state(), &told, Phase::AsFound, 1, &[], &Priors::default()).is_none());
}

#[test]
fn a_reading_may_stand_up_to_what_the_book_lets_a_display_show_and_no_further() {
    // OIML R 76: Max + 9 e. Handbook 44: 105 % of Max, which is more here.
    let r76 = "871.8";
    let hb44 = "913.4";
    let mut job = Journal::begin();
    job.inspection();
    job.ok(read(ReadStage::AsFound, "870", r76, Direction::Up));
    assert_eq!(job.refused(read(ReadStage::AsFound, "870", "872", Direction::Up)), "beyond_display");
    let class = json!({"tolerance": {"scheme": "hb44_maintenance", "class": "III"}});
    let mut job = Journal::on(sheet(class));
    job.inspection();
    job.ok(read(ReadStage::AsFound, "870", hb44, Direction::Up));
    assert_eq!(job.refused(read(ReadStage::AsFound, "870", "913.6", Direction::Up)), "beyond_display");
}
