//! The journal: a whole job by hand, what is refused on the way, and the laws of the chain.

use ombret_core::Refusal;
use ombret_core::adjust::SpanWeightRule;
use ombret_core::assessment::{Around, StageState, TestKind, assess};
use ombret_core::diagnosis::{Cause, Deed, Diagnosis, Priors, choices, diagnose_job};
use ombret_core::grade::Grade;
use ombret_core::job::drafts;
use ombret_core::job::{
    Author, Claim, Draft, JobFile, Journal as Kept, ReadDetail, SetupDraft, Source, decide, interpret,
    open_file,
};
use ombret_core::journal::entries;
use ombret_core::journal::{
    Body, CheckFinding, Direction, Entry, JobState, Observation, Outcome, Phase, Purpose, ReadStage,
    Settlement, Signer, Silence, fold,
};
use ombret_core::keying::RangeMode;
use ombret_core::measurement::DecisionRule;
use ombret_core::quantity::Unit;
use ombret_core::scale::{ScaleKind, ScaleSheet, Stage, checklist};
use ombret_core::weights::Piece;
use proptest::prelude::*;
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::journal::{Journal, read, set_up, sheet, typed};

const PROOF: [(&str, &str, Direction); 6] = [
    ("0", "0.0", Direction::Up),
    ("100", "100.0", Direction::Up),
    ("400", "400.2", Direction::Up),
    ("600", "600.0", Direction::Up),
    ("400", "400.2", Direction::Down),
    ("0", "0.0", Direction::Down),
];

fn whole_job() -> Journal {
    let mut job = Journal::begin();
    job.inspection();
    job.ok(read(ReadStage::AsFound, "0", "0", Direction::Up));
    job.ok(read(ReadStage::AsFound, "600 kg", "601,4", Direction::Up));
    job.set_up();
    job.adjust();
    job.prove(&PROOF);
    job.ok(Draft::SealedUp(drafts::SealedUpDraft {
        seals: "L 2207".into(),
        switch_back: true,
        locked: true,
    }));
    job
}

#[test]
fn a_whole_job_by_hand_comes_to_a_signed_record_in_tolerance() {
    let mut job = whole_job();
    let before = job.assessed();
    assert_eq!(before.as_found.outcome, Outcome::OutOfTolerance);
    assert_eq!(before.as_found.readings[1].error_text, "+1.4 kg");
    assert_eq!(before.as_found.readings[1].error_d, "+7 d");
    assert!(before.close.ready, "{:?}", before.close.missing);
    job.ok(Draft::Closed(drafts::ClosedDraft { name: "Ebba Lund".into() }));
    let after = job.assessed();
    assert_eq!(after.outcome, Outcome::InTolerance);
    assert!(after.stages.iter().all(|s| s.state == StageState::Done), "{:?}", after.stages);
    assert_eq!(job.refused(Draft::Remarked(drafts::RemarkedDraft { text: "late".into() })), "closed");
}

#[test]
fn the_next_action_leads_through_the_whole_job() {
    let mut job = Journal::begin();
    let stage = |job: &Journal| job.assessed().next.stage.label();
    assert_eq!(stage(&job), "Inspection");
    job.inspection();
    assert_eq!(stage(&job), "As found");
    for (load, shown) in [("0", "0"), ("435", "435.2"), ("870", "870.4")] {
        job.ok(read(ReadStage::AsFound, load, shown, Direction::Up));
    }
    assert_eq!(job.assessed().next.says, "Adjust it, or leave it alone.");
    job.set_up();
    assert_eq!(stage(&job), "Zero & span");
    job.adjust();
    assert_eq!(job.assessed().next.says, "Leave 600 kg on and read it: it tests the span.");
    job.prove(&PROOF);
    // R 76 in service asks for the corners beside the loads; nobody is sent back to Min or Max.
    assert!(
        job.assessed().next.says.to_string().starts_with("Eccentricity, in the middle: put 300 kg"),
        "{}",
        job.assessed().next.says
    );
    for position in 0..5 {
        assert_eq!(stage(&job), "Test");
        job.ok(other(Purpose::Eccentricity, Some(position), "300", "300", ""));
    }
    assert_eq!(stage(&job), "Close out");
    assert!(job.assessed().next.says.to_string().contains("seal"), "{}", job.assessed().next.says);
}

#[test]
fn a_fault_that_adjusting_cannot_cure_stops_the_way_until_it_is_settled() {
    let mut job = Journal::begin();
    job.inspection();
    job.ok(Draft::LookedOver(drafts::LookedOverDraft {
        item: "gap".into(),
        finding: CheckFinding::Fault,
        note: "a stone".into(),
        cells: String::new(),
    }));
    job.set_up();
    assert_eq!(
        job.refused(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: typed("41250"),
            pad: None,
            claim: Claim::default()
        })),
        "fault_open"
    );
    assert_eq!(
        job.refused(Draft::FaultSettled(drafts::FaultSettledDraft {
            item: "gap".into(),
            how: Settlement::Overruled,
            reason: " ".into()
        })),
        "reason_needed"
    );
    assert_eq!(
        job.refused(Draft::FaultSettled(drafts::FaultSettledDraft {
            item: "feet".into(),
            how: Settlement::Repaired,
            reason: "wound in".into()
        })),
        "no_fault"
    );
    job.ok(Draft::FaultSettled(drafts::FaultSettledDraft {
        item: "gap".into(),
        how: Settlement::Repaired,
        reason: "stone taken out".into(),
    }));
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
}

#[test]
fn a_fault_that_adjusting_cures_does_not_stop_the_way() {
    let mut job = Journal::begin();
    job.inspection();
    job.ok(Draft::LookedOver(drafts::LookedOverDraft {
        item: "span_off".into(),
        finding: CheckFinding::Fault,
        note: "seen".into(),
        cells: String::new(),
    }));
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed(""),
        pad: None,
        claim: Claim::default(),
    }));
}

#[test]
fn nonsense_is_refused_at_its_field_and_leaves_the_journal_alone() {
    let mut job = Journal::begin();
    job.inspection();
    assert_eq!(
        job.refused(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: typed("1"),
            pad: None,
            claim: Claim::default()
        })),
        "not_set_up"
    );
    for (max, d, code) in [
        ("870", "3", "not_in_series"),
        ("870.1", "0.2", "setup_refused"),
        ("-870", "0.2", "not_positive"),
        ("900", "0.2", "setup_refused"),
        ("870", "0.05", "setup_refused"),
        ("8a0", "0.2", "not_a_mass"),
    ] {
        assert_eq!(job.refused(set_up(max, d)), code, "{max} × {d}");
    }
    job.set_up();
    assert_eq!(
        job.refused(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: typed("5"),
            pad: None,
            claim: Claim::default()
        })),
        "no_zero"
    );
    assert_eq!(
        job.refused(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: Source::Typed { text: "41250".into(), steady: false },
            pad: None,
            claim: Claim::default()
        })),
        "motion"
    );
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    for (weight, code) in [
        ("0", "not_positive"),
        ("-5", "not_positive"),
        ("871", "above_max"),
        ("600.05", "not_whole_digits"),
        ("six", "not_a_mass"),
    ] {
        assert_eq!(
            job.refused(Draft::SpanChosen(drafts::SpanChosenDraft {
                weight: weight.into(),
                pad: None,
                with: Vec::new()
            })),
            code,
            "{weight}"
        );
    }
    job.ok(Draft::SpanChosen(drafts::SpanChosenDraft { weight: "600".into(), pad: None, with: Vec::new() }));
    assert_eq!(
        job.refused(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: typed("41250"),
            pad: None,
            claim: Claim::default()
        })),
        "reversed_or_dead"
    );
    assert_eq!(
        job.refused(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: typed("-300"),
            pad: None,
            claim: Claim::default()
        })),
        "reversed_or_dead"
    );
    assert_eq!(job.refused(read(ReadStage::AsFound, "0", "0", Direction::Up)), "already_adjusted");
    assert_eq!(job.refused(read(ReadStage::Test, "0", "0", Direction::Up)), "adjusting");
    assert_eq!(job.refused(Draft::Closed(drafts::ClosedDraft { name: "Ebba Lund".into() })), "incomplete");
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("241250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::AdjustmentSaved);
    for (load, shown, code) in [
        ("-1", "1", "not_taken_off"),
        ("-871", "-871", "above_max"),
        ("870.2", "870.2", "above_max"),
        ("600", "6000", "beyond_display"),
        ("600", "", "not_a_mass"),
    ] {
        assert_eq!(job.refused(read(ReadStage::Test, load, shown, Direction::Up)), code, "{load} {shown}");
    }
}

#[test]
fn a_proof_by_taking_off_reads_below_zero_and_is_judged_like_the_load() {
    let mut job = Journal::begin();
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    // Half of Max, as some indicators ask for it.
    job.ok(Draft::SpanChosen(drafts::SpanChosenDraft { weight: "50 %".into(), pad: None, with: Vec::new() }));
    assert_eq!(job.assessed().adjust.weight.unwrap().to_string(), "435 kg");
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("241250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::AdjustmentSaved);
    job.ok(read(ReadStage::Test, "-200", "-200.2", Direction::Down));
    let reading = job.assessed().proof.readings.remove(0);
    assert_eq!((reading.error_text.as_str(), reading.within), ("-0.2 kg", true));
    assert!(job.assessed().entries.last().unwrap().says.to_string().contains("200 kg taken off"));
    assert_eq!(job.refused(read(ReadStage::Test, "-200", "200", Direction::Down)), "not_taken_off");
}

#[test]
fn a_moving_reading_is_never_taken() {
    let mut job = Journal::begin();
    job.set_up();
    let observed = |steady| Observation {
        mark: None,
        steady,
        shown: "0 kg"
            .split_once(' ')
            .map(|(v, _)| ombret_core::quantity::Mass::new(v.parse().unwrap(), Unit::Kg))
            .unwrap(),
        mean: None,
        counts: Some("41250.44".parse().unwrap()),
        hold_s: "3".parse().unwrap(),
        restarts: 2,
        samples: 31,
    };
    let zero = || {
        Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: Source::Live,
            pad: None,
            claim: Claim::default(),
        })
    };
    assert_eq!(job.try_live(zero(), &Ok(observed(false))).unwrap_err().code, "motion");
    assert_eq!(
        job.try_live(zero(), &Err(Silence("the display shows no figure".into()))).unwrap_err().code,
        "no_signal"
    );
    job.try_live(zero(), &Ok(observed(true))).unwrap();
    assert_eq!(job.assessed().adjust.zero_counts.as_deref(), Some("41250.4"));
}

#[test]
fn changing_the_set_up_between_zero_and_span_voids_the_capture_and_says_so() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::SetUp(SetupDraft { agreed: true, ..SetupDraft::new("870", "0.5", Unit::Kg) }));
    let after = job.assessed();
    assert!(!after.adjust.zero && after.adjust.voided.len() == 1);
    job.adjust();
    job.prove(&PROOF[..1]);
    job.ok(set_up("870", "0.2"));
    let after = job.assessed();
    assert!(!after.adjust.saved && !after.proof.readings[0].counts);
    assert_eq!(after.outcome, Outcome::NotProven);
}

#[test]
fn striking_out_takes_the_reading_back_and_keeps_it_in_sight() {
    let mut job = whole_job();
    let wrong = job.ok(read(ReadStage::Test, "600", "606", Direction::Up));
    assert_eq!(job.assessed().outcome, Outcome::OutOfTolerance);
    assert_eq!(
        job.refused(Draft::StruckOut(drafts::StruckOutDraft { entry: wrong, reason: String::new() })),
        "reason_needed"
    );
    job.ok(Draft::StruckOut(drafts::StruckOutDraft { entry: wrong, reason: "misread".into() }));
    let after = job.assessed();
    assert_eq!(after.outcome, Outcome::InTolerance);
    let line = after.entries.iter().find(|e| e.id == wrong).unwrap();
    assert!(line.struck.as_deref().is_some_and(|s| s.contains("misread")));
    assert_eq!(
        job.refused(Draft::StruckOut(drafts::StruckOutDraft { entry: wrong, reason: "again".into() })),
        "already_struck"
    );
    assert_eq!(
        job.refused(Draft::StruckOut(drafts::StruckOutDraft {
            entry: Uuid::from_u128(5),
            reason: "none".into()
        })),
        "unknown_entry"
    );
}

#[test]
fn a_step_of_the_adjustment_cannot_be_struck_while_a_later_one_rests_on_it() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.adjust();
    let id = |job: &Journal, body: fn(&Body) -> bool| job.entries.iter().find(|e| body(&e.body)).unwrap().id;
    let zero = id(&job, |b| matches!(b, Body::ZeroCaptured(_)));
    let saved = id(&job, |b| matches!(b, Body::AdjustmentSaved(_)));
    assert_eq!(
        job.refused(Draft::StruckOut(drafts::StruckOutDraft { entry: zero, reason: "why not".into() })),
        "rests_on_it"
    );
    job.ok(Draft::StruckOut(drafts::StruckOutDraft {
        entry: saved,
        reason: "was not saved after all".into(),
    }));
    assert!(!job.assessed().adjust.saved && job.assessed().adjust.span);
}

#[test]
fn abandoning_leaves_the_old_calibration_and_the_way_open() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    assert_eq!(
        job.refused(Draft::AdjustmentAbandoned(drafts::AdjustmentAbandonedDraft {
            reason: "changed my mind".into()
        })),
        "nothing_to_abandon"
    );
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    assert_eq!(job.refused(Draft::AdjustmentSaved), "nothing_to_save");
    job.ok(Draft::AdjustmentAbandoned(drafts::AdjustmentAbandonedDraft { reason: "wind came up".into() }));
    assert!(!job.state().adjusting());
    job.adjust();
}

#[test]
fn left_alone_is_proved_by_the_readings_as_found() {
    let mut job = Journal::begin();
    job.inspection();
    assert_eq!(
        job.refused(Draft::LeftAlone(drafts::LeftAloneDraft { reason: "inside".into(), pad: None })),
        "nothing_read"
    );
    for (load, shown) in [("0", "0"), ("200", "200"), ("435", "435.2"), ("600", "600.2")] {
        job.ok(read(ReadStage::AsFound, load, shown, Direction::Up));
    }
    job.ok(Draft::LeftAlone(drafts::LeftAloneDraft { reason: "inside tolerance".into(), pad: None }));
    let after = job.assessed();
    assert_eq!(after.outcome, Outcome::InTolerance);
    assert!(after.outcome_says.to_string().starts_with("Not adjusted."), "{}", after.outcome_says);
    job.ok(Draft::SealedUp(drafts::SealedUpDraft { seals: String::new(), switch_back: true, locked: true }));
    job.ok(Draft::Closed(drafts::ClosedDraft { name: "Ebba Lund".into() }));
}

#[test]
fn a_job_that_stops_short_can_be_signed_but_proves_nothing() {
    let mut job = Journal::begin();
    job.ok(Draft::LookedOver(drafts::LookedOverDraft {
        item: "cable".into(),
        finding: CheckFinding::Fault,
        note: "crushed".into(),
        cells: String::new(),
    }));
    job.ok(Draft::StoppedShort(drafts::StoppedShortDraft { reason: "new cable ordered".into() }));
    job.ok(Draft::SealedUp(drafts::SealedUpDraft { seals: String::new(), switch_back: true, locked: true }));
    job.ok(Draft::Closed(drafts::ClosedDraft { name: "Ebba Lund".into() }));
    assert_eq!(job.assessed().outcome, Outcome::NotProven);
}

#[test]
fn every_reading_and_every_finding_shows_its_working_with_a_source() {
    let after = whole_job().assessed();
    let workings = after
        .as_found
        .readings
        .iter()
        .chain(&after.proof.readings)
        .flat_map(|r| &r.working)
        .chain(&after.adjust.working);
    let findings = after.setup.judgement.findings.iter().map(|f| &f.working);
    for working in workings.chain(findings) {
        assert!(
            !working.formula.is_empty() && !working.source.is_empty() && !working.figures.is_empty(),
            "{working:?}"
        );
    }
}

#[test]
fn a_job_file_goes_round_and_any_change_in_it_shows() {
    let job = Uuid::from_u128(77);
    let file = whole_job().file(job);
    let text = serde_json::to_string_pretty(&file).unwrap();
    let (read_back, state) = open_file(text.as_bytes()).unwrap();
    assert_eq!(read_back, file);
    assert_eq!(state, whole_job().state());
    for (from, to) in [
        ("\"600.0\"", "\"600.2\""),
        ("Ebba Lund", "Someone Else"),
        ("\"seq\": 7", "\"seq\": 8"),
        (&job.to_string(), &Uuid::from_u128(78).to_string()),
    ] {
        let changed = text.replacen(from, to, 1);
        if changed != text {
            assert!(open_file(changed.as_bytes()).is_err(), "{from} → {to}");
        }
    }
    for wrong in ["", "{}", "[]", "{\"format\": \"ombret.job\", \"version\": 2}", &text[..text.len() / 2]] {
        assert!(open_file(wrong.as_bytes()).is_err());
    }
}

#[test]
fn a_file_whose_chain_is_whole_but_whose_journal_could_not_have_been_written_is_refused() {
    let mut job = whole_job();
    job.push(Body::SpanCaptured(entries::SpanCaptured {
        capture: ombret_core::journal::Capture::only(ombret_core::journal::Taken::Typed),
        pad: 1,
    }));
    let text = serde_json::to_string(&job.file(Uuid::from_u128(3))).unwrap();
    let error = open_file(text.as_bytes()).unwrap_err().to_string();
    assert!(error.contains("does not follow"), "{error}");
}

fn number_like() -> impl Strategy<Value = String> {
    prop_oneof!["[0-9]{1,4}(\\.[0-9])?( kg| lb)?", "[ -~]{0,8}"]
}

fn any_draft() -> impl Strategy<Value = Draft> {
    let number = prop_oneof!["-?[0-9]{0,4}(\\.[0-9]{0,2})?( kg| lb)?", "[ -~]{0,8}"];
    let direction = prop_oneof![Just(Direction::Up), Just(Direction::Down)];
    let stage = prop_oneof![Just(ReadStage::AsFound), Just(ReadStage::Test)];
    prop_oneof![
        (number.clone(), number.clone(), direction, stage)
            .prop_map(|(l, s, direction, stage)| read(stage, &l, &s, direction)),
        (number.clone(), number.clone()).prop_map(|(m, d)| set_up(&m, &d)),
        Just(set_up("870", "0.2")),
        Just(set_up("870", "0.5")),
        "-?[0-9]{1,7}".prop_map(|c| Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: typed(&c),
            pad: None,
            claim: Claim::default()
        })),
        "-?[0-9]{1,7}".prop_map(|c| Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: typed(&c),
            pad: None,
            claim: Claim::default()
        })),
        number.prop_map(|weight| Draft::SpanChosen(drafts::SpanChosenDraft {
            weight,
            pad: None,
            with: Vec::new()
        })),
        Just(Draft::SpanChosen(drafts::SpanChosenDraft {
            weight: "600".into(),
            pad: None,
            with: Vec::new()
        })),
        ("[1-8]00", "-?[0-9]{5,6}").prop_map(|(weight, c)| point(&weight, &c)),
        Just(Draft::ZeroSaved),
        (number_like(), number_like(), 0u32..6).prop_map(|(load, shown, decimals)| Draft::FactorSet(
            drafts::FactorSetDraft {
                factor: "1.02".into(),
                load,
                shown,
                shown_zero: String::new(),
                decimals: decimals.to_string(),
                with: Vec::new()
            }
        )),
        (number_like(), number_like()).prop_map(|(load, shown)| Draft::InternalMatched(
            drafts::InternalMatchedDraft {
                internal: "200".into(),
                load,
                shown,
                shown_zero: String::new(),
                with: Vec::new()
            }
        )),
        Just(Draft::SpanWeightRuleChosen(drafts::SpanWeightRuleChosenDraft {
            span_weight_rule: SpanWeightRule::Full,
            reason: "so".into()
        })),
        Just(Draft::AdjustmentSaved),
        Just(Draft::AdjustmentAbandoned(drafts::AdjustmentAbandonedDraft { reason: "so".into() })),
        Just(Draft::LeftAlone(drafts::LeftAloneDraft { reason: "so".into(), pad: None })),
        (100u128..140).prop_map(|id| Draft::StruckOut(drafts::StruckOutDraft {
            entry: Uuid::from_u128(id),
            reason: "so".into()
        })),
        Just(Draft::SealedUp(drafts::SealedUpDraft {
            seals: String::new(),
            switch_back: true,
            locked: true
        })),
        Just(Draft::StoppedShort(drafts::StoppedShortDraft { reason: "so".into() })),
        Just(Draft::Closed(drafts::ClosedDraft { name: "E".into() })),
    ]
}

/// A job that is looked over and set up, so that what is tried gets further.
fn ready() -> Journal {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]
    #[test]
    fn what_is_struck_out_is_as_if_it_had_never_been(drafts in proptest::collection::vec(any_draft(), 1..25), which in any::<proptest::sample::Index>()) {
        let mut job = ready();
        for draft in drafts {
            let _ = job.add(draft);
        }
        let at = which.index(job.entries.len());
        let struck = job.entries[at].clone();
        prop_assume!(job.add(Draft::StruckOut(drafts::StruckOutDraft { entry: struck.id, reason: "so".into() })).is_ok());
        let without: Vec<Entry> = job.entries.iter().filter(|e| e.id != struck.id && !matches!(&e.body, Body::StruckOut(entries::StruckOut { entry, .. }) if *entry == struck.id)).cloned().collect();
        let mut other = fold(&without).unwrap();
        let mut now = job.state();
        // The entry itself, and how far the journal has come, are all that tell them apart.
        now.struck.remove(&struck.id);
        (now.head, other.head) = (0, 0);
        prop_assert_eq!(now, other);
    }

    #[test]
    fn a_job_that_has_got_further_can_be_replayed_too(drafts in proptest::collection::vec(any_draft(), 1..40)) {
        let mut job = ready();
        for draft in drafts {
            let _ = job.add(draft);
        }
        let view = job.assessed();
        prop_assert!(view.entries.iter().all(|e| !e.says.is_empty()));
        prop_assert_eq!(view.adjust.how.is_some(), job.state().pads[0].adjusted.is_some() && !job.state().adjusting());
        let text = serde_json::to_vec(&job.file(Uuid::from_u128(4))).unwrap();
        prop_assert_eq!(open_file(&text).unwrap().1, job.state());
    }

    #[test]
    fn whatever_is_tried_the_journal_stays_one_that_can_be_replayed(drafts in proptest::collection::vec(any_draft(), 1..40)) {
        let mut job = Journal::begin();
        for draft in drafts {
            let _ = job.add(draft);
            let now = job.assessed();
            prop_assert!(now.outcome != Outcome::InTolerance || now.proof.lacks.is_empty());
            prop_assert!(now.close.signed.is_none() || now.close.ready);
            prop_assert_eq!(now.entries.len(), job.entries.len());
        }
        let text = serde_json::to_vec(&job.file(Uuid::from_u128(4))).unwrap();
        prop_assert_eq!(open_file(&text).unwrap().1, job.state());
    }
}

#[test]
fn four_pads_are_done_in_turn_and_each_is_proved() {
    let mut job =
        Journal::on(sheet(json!({"kind": "pads", "plate_max": "12000", "plate_d": "5", "pads": 4})));
    for item in checklist(ScaleKind::Pads) {
        job.ok(Draft::LookedOver(drafts::LookedOverDraft {
            item: item.id.clone(),
            finding: CheckFinding::Ok,
            note: String::new(),
            cells: String::new(),
        }));
    }
    job.ok(Draft::SetUp(SetupDraft { pad: Some(0), ..SetupDraft::new("12000", "5", Unit::Kg) }));
    for pad in 1..=4u8 {
        assert_eq!(job.assessed().adjust.pad, pad);
        job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: typed("1000"),
            pad: None,
            claim: Claim::default(),
        }));
        let other = Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: typed("1000"),
            pad: Some(pad % 4 + 1),
            claim: Claim::default(),
        });
        assert_eq!(job.refused(other), "other_pad");
        job.ok(Draft::SpanChosen(drafts::SpanChosenDraft {
            weight: "4000".into(),
            pad: None,
            with: Vec::new(),
        }));
        job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: typed("81000"),
            pad: None,
            claim: Claim::default(),
        }));
        job.ok(Draft::AdjustmentSaved);
    }
    let adjusted = job.assessed();
    assert!(adjusted.adjust.saved && adjusted.adjust.pads.iter().all(|p| p.done));
    assert_eq!(adjusted.next.says, "Leave 4000 kg on pad 1 and read it: it tests the span.");
    assert!(adjusted.proof.lacks.iter().any(|lack| lack.to_string().starts_with("pad 4: ")));
    assert_eq!(
        job.refused(Draft::Read(drafts::ReadDraft {
            stage: ReadStage::Test,
            load: "0".into(),
            shown: typed("0"),
            direction: Direction::Up,
            pad: Some(5),
            with: Vec::new(),
            overruled: String::new(),
            once: false,
            detail: ReadDetail::default()
        })),
        "unknown_pad"
    );
    for pad in 1..=4 {
        for (load, direction) in [
            ("0", Direction::Up),
            ("2000", Direction::Up),
            ("4000", Direction::Up),
            ("6000", Direction::Up),
            ("2000", Direction::Down),
        ] {
            job.ok(Draft::Read(drafts::ReadDraft {
                stage: ReadStage::Test,
                load: load.into(),
                shown: typed(load),
                direction,
                pad: Some(pad),
                with: Vec::new(),
                overruled: String::new(),
                once: false,
                detail: ReadDetail::default(),
            }));
        }
    }
    // Each pad by itself proves nothing of the sum, which is what is sold.
    let pads = job.assessed();
    assert_eq!(
        (
            pads.outcome,
            pads.proof.lacks.iter().map(ToString::to_string).collect::<Vec<_>>().join("; ").as_str()
        ),
        (Outcome::NotProven, "all pads together, 12000 kg")
    );
    job.ok(on_pad(0, "12000", "12000", Direction::Up));
    assert_eq!(job.assessed().outcome, Outcome::InTolerance);
    // Another set-up at one pad voids that pad alone.
    job.ok(Draft::SetUp(SetupDraft { pad: Some(2), ..SetupDraft::new("12000", "10", Unit::Kg) }));
    let voided = job.assessed();
    assert_eq!(voided.adjust.pad, 2);
    assert_eq!(voided.proof.readings.iter().filter(|r| !r.counts).count(), 6);
}

fn on_pad(pad: u8, load: &str, shown: &str, direction: Direction) -> Draft {
    match read(ReadStage::Test, load, shown, direction) {
        Draft::Read(drafts::ReadDraft {
            stage,
            load,
            shown,
            direction,
            with,
            overruled,
            once,
            detail,
            ..
        }) => Draft::Read(drafts::ReadDraft {
            stage,
            load,
            shown,
            direction,
            pad: Some(pad),
            with,
            overruled,
            once,
            detail,
        }),
        other => other,
    }
}

#[test]
fn a_two_range_scale_is_judged_and_read_with_the_division_of_its_range() {
    let mut job = Journal::begin();
    let two = |fine_max: &str, fine_d: &str| {
        let coarse = SetupDraft::new("870", "0.5", Unit::Kg);
        Draft::SetUp(SetupDraft {
            mode: RangeMode::MultiInterval,
            fine_max: fine_max.into(),
            fine_d: fine_d.into(),
            ..coarse
        })
    };
    job.inspection();
    assert_eq!(job.refused(two("900", "0.2")), "setup_refused");
    assert_eq!(job.refused(two("400.1", "0.2")), "setup_refused");
    assert_eq!(job.refused(two("x", "0.2")), "not_a_mass");
    job.ok(two("400", "0.2"));
    let judged = job.assessed().setup.judgement;
    assert_eq!(judged.setup.decimals, 1);
    job.adjust();
    job.ok(read(ReadStage::Test, "400", "400.4", Direction::Up));
    job.ok(read(ReadStage::Test, "500", "500.5", Direction::Up));
    let readings = job.assessed().proof.readings;
    assert_eq!((readings[0].mpe_text.as_str(), readings[0].error_d.as_str()), ("±0.4 kg", "+2 d"));
    assert_eq!((readings[1].mpe_text.as_str(), readings[1].error_d.as_str()), ("±1 kg", "+1 d"));
}

#[test]
fn cells_without_a_plate_propose_a_max_and_gravity_and_counters_are_judged() {
    let far = json!({"name": "Sellin quay", "latitude": "59", "altitude_m": "4"});
    let mut job = Journal::on(sheet(json!({
        "plate_max": "", "plate_d": "", "cell_count": "4", "cell_e_max": "500", "cell_sensitivity": "2", "excitation": "5", "dead_load": "120",
        "stays_on": "35", "stays_on_what": "roller", "input_low": "0", "input_high": "12", "site": far
    })));
    assert_eq!(job.assessed().setup.setup.max.to_string(), "1000 kg");
    let workshop = ombret_core::adjust::Site {
        name: "workshop".into(),
        latitude: "47".parse().unwrap(),
        altitude_m: "400".parse().unwrap(),
    };
    let at_workshop = |gravity: &str| SetupDraft {
        adjusted_at: Some(workshop.clone()),
        gravity: gravity.into(),
        ..SetupDraft::new("1000", "0.5", Unit::Kg)
    };
    let gravity = |job: &Journal, typed: &SetupDraft| {
        let judged = ombret_core::assessment::judge_setup(&job.state(), &typed.read().unwrap(), 1);
        let finding =
            judged.findings.into_iter().find(|f| f.check == ombret_core::scale::Check::Gravity).unwrap();
        (finding.grade.unwrap(), finding.says, judged.signal)
    };
    let (grade, says, signal) = gravity(&job, &at_workshop(""));
    assert!(grade == Grade::Caution && says.to_string().contains("enter g = 9.81836"), "{says}");
    let marks: Vec<String> = signal.unwrap().marks.into_iter().map(|m| m.what.to_string()).collect();
    assert_eq!(marks, ["dead load", "zero", "Max", "overload"]);
    assert_eq!(gravity(&job, &at_workshop("9,81836")).0, Grade::Sound);
    assert_eq!(job.refused(Draft::SetUp(at_workshop("98.1"))), "gravity");
    assert_eq!(
        job.refused(Draft::CountersRead(drafts::CountersReadDraft {
            stage: ReadStage::AsFound,
            setup: "x".into(),
            calibration: String::new()
        })),
        "not_a_number"
    );
    job.ok(Draft::CountersRead(drafts::CountersReadDraft {
        stage: ReadStage::AsFound,
        setup: "14".into(),
        calibration: "31".into(),
    }));
    assert!(job.state().counters.0.is_some());
}

#[test]
fn another_set_up_between_zero_and_span_is_asked_for_first() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    let other = SetupDraft::new("870", "0.5", Unit::Kg);
    assert_eq!(job.refused(Draft::SetUp(other.clone())), "would_void");
    job.ok(Draft::SetUp(SetupDraft { agreed: true, ..other }));
    assert!(job.assessed().adjust.voided[0].to_string().contains("must be captured again"));
}

#[test]
fn an_indicator_that_takes_kilograms_only_is_not_set_up_to_be_calibrated_in_pounds() {
    let job = Journal::begin();
    let text =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/profiles/tamsin-g.toml"))
            .unwrap();
    let profile = ombret_core::keying::read_profile(&text).unwrap();
    let judge = |calibrated_in| {
        let typed = SetupDraft { calibrated_in, ..SetupDraft::new("1900", "0.5", Unit::Lb) };
        let judged = ombret_core::assessment::judge_setup(&job.state(), &typed.read().unwrap(), 1);
        let found = ombret_core::assessment::judge_by_profile(judged, &profile).findings;
        found
            .into_iter()
            .find(|f| f.check == ombret_core::scale::Check::CalibrationUnit)
            .map(|f| (f.grade.unwrap(), f.says))
    };
    let (grade, says) = judge(None).unwrap();
    assert!(grade == Grade::Refuse && says.to_string().contains("in kg only"), "{says}");
    assert_eq!(judge(Some(Unit::Kg)).unwrap().0, Grade::Caution);
}

/// A kit for the floor scale: five pieces, one past due, one an object that was weighed.
fn kit() -> Vec<Piece> {
    let certificate =
        |due: &str| json!([{"number": "SL-9", "laboratory": "Skerry Lab", "date": "2026-01-10", "due": due}]);
    let piece = |n: u32, kg: &str, due: &str| json!({"id": Uuid::from_u128(n.into()), "serial": format!("P-{n}"), "nominal": {"value": kg, "unit": "kg"}, "class": "M1", "form": "block", "certificates": certificate(due)});
    let mut kit: Vec<Piece> = serde_json::from_value(json!([
        piece(1, "100", "2027-01-10"),
        piece(2, "500", "2027-01-10"),
        piece(3, "300", "2026-02-01")
    ]))
    .unwrap();
    let weighed = json!({"id": Uuid::from_u128(4), "serial": "STONE", "nominal": {"value": "412.6", "unit": "kg"}, "form": "block", "reference": {"record": "SK-2026-0003", "scale": "Yard scale", "on": "2026-11-20", "u": {"value": "0.12", "unit": "kg"}}});
    kit.push(serde_json::from_value(weighed).unwrap());
    kit
}

impl Journal {
    fn with_kit(&mut self, draft: Draft) -> Result<Uuid, Refusal> {
        let live = Err(Silence::not_connected());
        let kit = kit();
        let around = Around {
            live: &live,
            kit: &kit,
            span_weight_rule: SpanWeightRule::Quarter,
            day: time::macros::date!(2026 - 11 - 24),
            number: None,
            approval: None,
            instruments: &[],
        };
        let body = interpret(&self.state(), draft, &around)?;
        decide(&self.entries, &self.state(), &body)?;
        self.push(body);
        Ok(self.entries.last().unwrap().id)
    }
}

fn made_of(load: &str, shown: &str, pieces: &[u128], overruled: &str) -> Draft {
    let with = pieces.iter().map(|n| Uuid::from_u128(*n)).collect();
    Draft::Read(drafts::ReadDraft {
        stage: ReadStage::Test,
        load: load.into(),
        shown: typed(shown),
        direction: Direction::Up,
        pad: None,
        with,
        overruled: overruled.into(),
        once: false,
        detail: ReadDetail::default(),
    })
}

#[test]
fn a_load_is_what_its_pieces_come_to_and_each_stays_on_the_record() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.adjust();
    assert_eq!(job.with_kit(made_of("500", "500", &[1], "")).unwrap_err().code, "other_sum");
    assert_eq!(job.with_kit(made_of("600", "600", &[1, 1], "")).unwrap_err().code, "twice");
    assert_eq!(job.with_kit(made_of("600", "600", &[1, 99], "")).unwrap_err().code, "unknown_piece");
    job.with_kit(made_of("600", "600", &[1, 2], "")).unwrap();
    let view = job.assessed().proof.readings.pop().unwrap();
    assert_eq!(view.pieces, ["P-1", "P-2"]);
    assert!(view.cautions.is_empty(), "{:?}", view.cautions);
}

#[test]
fn a_piece_past_due_proves_nothing_unless_it_is_overruled_with_a_reason_that_stays() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.adjust();
    let refused = job.with_kit(made_of("300", "300", &[3], "")).unwrap_err();
    assert_eq!(
        (refused.code.to_string(), refused.field.as_deref()),
        ("unfit_weight".into(), Some("overruled"))
    );
    job.with_kit(made_of("300", "300", &[3], "the laboratory has it on Monday")).unwrap();
    let view = job.assessed();
    assert!(
        view.proof.readings[0]
            .cautions
            .iter()
            .any(|c| c.to_string().contains("the laboratory has it on Monday")),
        "{:?}",
        view.proof.readings[0].cautions
    );
    assert!(view.entries.last().unwrap().says.to_string().contains("overruled"));
}

#[test]
fn an_object_that_was_weighed_adjusts_and_does_not_prove() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    let stone = vec![Uuid::from_u128(4)];
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.with_kit(Draft::SpanChosen(drafts::SpanChosenDraft {
        weight: "412.6".into(),
        pad: None,
        with: stone,
    }))
    .unwrap();
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("178783"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::AdjustmentSaved);
    job.prove(&[
        ("0", "0", Direction::Up),
        ("100", "100", Direction::Up),
        ("412.6", "412.6", Direction::Up),
        ("700", "700", Direction::Up),
        ("100", "100", Direction::Down),
    ]);
    let view = job.assessed();
    assert_eq!(view.outcome, Outcome::NotProven);
    assert!(
        view.outcome_says.to_string().contains("adjusted, not proven; not for trade"),
        "{}",
        view.outcome_says
    );
    assert!(
        view.reservations.iter().any(|r| r.to_string().contains("SK-2026-0003")),
        "{:?}",
        view.reservations
    );
    // Certified weights put on afterwards do prove it.
    job.with_kit(made_of("600", "600", &[1, 2], "")).unwrap();
    assert_eq!(job.assessed().outcome, Outcome::InTolerance);
}

#[test]
fn a_span_weight_below_the_school_stays_a_caution_on_the_record() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.with_kit(Draft::SpanChosen(drafts::SpanChosenDraft {
        weight: "100".into(),
        pad: None,
        with: vec![Uuid::from_u128(1)],
    }))
    .unwrap();
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("74583"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::AdjustmentSaved);
    assert!(
        job.assessed()
            .reservations
            .iter()
            .any(|r| r.to_string().contains("is below a quarter of Max (217.5 kg)")),
        "{:?}",
        job.assessed().reservations
    );
    assert_eq!(
        job.refused(Draft::SpanWeightRuleChosen(drafts::SpanWeightRuleChosenDraft {
            span_weight_rule: SpanWeightRule::Tenth,
            reason: " ".into()
        })),
        "reason_needed"
    );
    job.ok(Draft::SpanWeightRuleChosen(drafts::SpanWeightRuleChosenDraft {
        span_weight_rule: SpanWeightRule::Tenth,
        reason: "the van is too small for more".into(),
    }));
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.with_kit(Draft::SpanChosen(drafts::SpanChosenDraft {
        weight: "100".into(),
        pad: None,
        with: Vec::new(),
    }))
    .unwrap();
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("74583"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::AdjustmentSaved);
    let told = job.assessed().reservations;
    assert!(
        told.iter().all(|r| !r.to_string().contains("is below"))
            && told.iter().any(|r| r.to_string().contains("the van is too small")),
        "{told:?}"
    );
}

fn point(weight: &str, counts: &str) -> Draft {
    Draft::PointCaptured(drafts::PointCapturedDraft {
        weight: weight.into(),
        counts: typed(counts),
        with: Vec::new(),
        pad: None,
    })
}

/// Looked over, set up, zero and span captured, nothing saved.
fn spanned() -> Journal {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::SpanChosen(drafts::SpanChosenDraft { weight: "600".into(), pad: None, with: Vec::new() }));
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("241250"),
        pad: None,
        claim: Claim::default(),
    }));
    job
}

#[test]
fn further_points_show_the_bow_that_one_span_leaves() {
    let mut job = spanned();
    // Half of it gives 210 counts more than a straight line: 0.63 kg, a little over three divisions.
    job.ok(point("300", "141460"));
    let view = job.assessed().adjust;
    assert_eq!(
        view.points.iter().map(|p| p.straight.clone().unwrap()).collect::<Vec<_>>(),
        ["0 d", "+3.15 d", "0 d"]
    );
    assert_eq!(job.refused(point("300", "141000")), "twice");
    assert_eq!(job.refused(point("450", "141000")), "not_rising");
    assert_eq!(job.refused(point("900", "341000")), "above_max");
    for (weight, counts) in [
        ("100", "74700"),
        ("200", "108100"),
        ("400", "174700"),
        ("500", "208000"),
        ("700", "274500"),
        ("800", "307700"),
    ] {
        job.ok(point(weight, counts));
    }
    // Zero does not count: eight points beside it.
    assert_eq!(job.refused(point("750", "291100")), "too_many");
    job.ok(Draft::AdjustmentSaved);
    let view = job.assessed();
    assert_eq!(
        (view.adjust.how.as_ref().map(ToString::to_string).as_deref(), view.adjust.points.len()),
        (Some("saved with 8 span points"), 9)
    );
    assert_eq!(
        view.stages.iter().find(|s| s.stage == Stage::ZeroAndSpan).unwrap().says,
        "saved with 8 span points"
    );
}

#[test]
fn points_need_a_span_and_rest_on_it() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    assert_eq!(job.refused(point("300", "141460")), "no_span");
    let mut job = spanned();
    let span = job.entries.last().unwrap().id;
    job.ok(point("300", "141460"));
    assert_eq!(
        job.refused(Draft::StruckOut(drafts::StruckOutDraft { entry: span, reason: "wrong weight".into() })),
        "rests_on_it"
    );
    job.ok(Draft::AdjustmentAbandoned(drafts::AdjustmentAbandonedDraft { reason: "the wind".into() }));
    assert!(job.assessed().adjust.points.is_empty(), "abandoning leaves nothing behind");
}

#[test]
fn zero_alone_is_saved_and_proved_without_a_span_weight() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    assert_eq!(job.refused(Draft::ZeroSaved), "no_zero");
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::ZeroSaved);
    let view = job.assessed();
    assert_eq!(view.adjust.how.as_ref().map(ToString::to_string).as_deref(), Some("zero only"));
    assert!(view.proof.lacks.iter().all(|lack| !lack.to_string().contains("span")), "{:?}", view.proof.lacks);
    job.prove(&[
        ("0", "0", Direction::Up),
        ("100", "100", Direction::Up),
        ("435", "435", Direction::Up),
        ("870", "870", Direction::Up),
    ]);
    assert_eq!(job.assessed().outcome, Outcome::InTolerance);
}

#[test]
fn a_correction_factor_is_rounded_to_the_indicators_digits_and_proved_at_a_second_load() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    let factor = |load: &str, shown: &str, decimals: u32| {
        Draft::FactorSet(drafts::FactorSetDraft {
            factor: "1,0250".into(),
            load: load.into(),
            shown: shown.into(),
            shown_zero: String::new(),
            decimals: decimals.to_string(),
            with: Vec::new(),
        })
    };
    assert_eq!(job.refused(factor("300", "0", 4)), "reversed_or_dead");
    assert_eq!(job.refused(factor("900", "900", 4)), "above_max");
    job.ok(factor("300", "301.2", 4));
    let view = job.assessed();
    assert_eq!(view.adjust.how.as_ref().map(ToString::to_string).as_deref(), Some("factor 1.025 → 1.0209"));
    assert!(
        view.entries.last().unwrap().says.to_string().contains("1.025 → 1.0209"),
        "{}",
        view.entries.last().unwrap().says
    );
    job.prove(&[("0", "0", Direction::Up), ("300", "300", Direction::Up)]);
    assert!(
        job.assessed().proof.lacks.iter().any(|lack| lack.to_string().contains("more load")),
        "a second load proves it"
    );
}

#[test]
fn an_internal_weight_is_matched_and_its_change_stays_on_the_record() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    let matched = Draft::InternalMatched(drafts::InternalMatchedDraft {
        internal: "149.9987".into(),
        load: "200".into(),
        shown: "200.2".into(),
        shown_zero: "0.0".into(),
        with: Vec::new(),
    });
    job.ok(matched);
    let how = job.assessed().adjust.how.unwrap();
    assert!(how.to_string().starts_with("internal weight 149.9987 kg → 149.848"), "{how}");
}

#[test]
fn nothing_else_is_adjusted_while_zero_is_captured_and_not_saved() {
    let mut job = spanned();
    assert_eq!(job.refused(Draft::ZeroSaved), "span_begun");
    assert_eq!(
        job.refused(Draft::FactorSet(drafts::FactorSetDraft {
            factor: "1".into(),
            load: "300".into(),
            shown: "300".into(),
            shown_zero: String::new(),
            decimals: "4".into(),
            with: Vec::new()
        })),
        "adjusting"
    );
}

/// A job that is adjusted and proved by its loads.
fn proved() -> Journal {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.adjust();
    job.prove(&[
        ("0", "0", Direction::Up),
        ("100", "100", Direction::Up),
        ("435", "435", Direction::Up),
        ("600", "600", Direction::Up),
        ("870", "870.2", Direction::Up),
        ("435", "435", Direction::Down),
        ("0", "0", Direction::Down),
    ]);
    job
}

/// A reading for the corners or once more.
fn other(purpose: Purpose, position: Option<u8>, load: &str, shown: &str, added: &str) -> Draft {
    Draft::Read(drafts::ReadDraft {
        stage: ReadStage::Test,
        load: load.into(),
        shown: typed(shown),
        direction: Direction::Up,
        pad: None,
        with: Vec::new(),
        overruled: String::new(),
        once: false,
        detail: ReadDetail { purpose, position, added: added.into(), ..ReadDetail::default() },
    })
}

#[test]
fn corners_repeats_discrimination_and_zero_are_judged_beside_the_loads_and_refused_at_their_fields() {
    let mut job = proved();
    let test = |job: &Journal, kind: TestKind| {
        job.assessed().proof.tests.into_iter().find(|t| t.test == kind).unwrap()
    };
    let corners = test(&job, TestKind::Eccentricity);
    assert!(corners.asked && corners.within.is_none());
    assert_eq!((corners.load.clone().unwrap().to_string().as_str(), corners.wanted), ("300 kg", 5));
    assert!(
        job.assessed()
            .reservations
            .iter()
            .any(|r| r.to_string().contains("not done: eccentricity (corners)")),
        "{:?}",
        job.assessed().reservations
    );
    for (draft, code) in [
        (other(Purpose::Eccentricity, None, "290", "290", ""), "no_position"),
        (other(Purpose::Eccentricity, Some(9), "290", "290", ""), "unknown_position"),
        (other(Purpose::Load, Some(1), "290", "290", ""), "position_elsewhere"),
        (other(Purpose::Repeatability, None, "0", "0", ""), "not_positive"),
        (other(Purpose::Load, None, "290", "290", "0.3"), "not_changeover"),
        (other(Purpose::Load, None, "290", "290", "-0.1"), "not_changeover"),
        (other(Purpose::Load, None, "290", "290", "a tenth"), "not_a_mass"),
        (
            Draft::Discriminated(drafts::DiscriminatedDraft {
                stage: ReadStage::Test,
                load: "435".into(),
                before: "435".into(),
                after: "4350".into(),
                pad: None,
            }),
            "beyond_display",
        ),
        (
            Draft::DecisionChosen(drafts::DecisionChosenDraft {
                rule: DecisionRule::Guarded,
                reason: " ".into(),
            }),
            "reason_needed",
        ),
    ] {
        assert_eq!(job.refused(draft), code);
    }
    for (position, shown) in [(0, "290"), (1, "290"), (2, "290.2"), (3, "290"), (4, "290")] {
        job.ok(other(Purpose::Eccentricity, Some(position), "290", shown, ""));
    }
    // The same place again takes the place of what was read there first.
    job.ok(other(Purpose::Eccentricity, Some(2), "290", "290.2", ""));
    let corners = test(&job, TestKind::Eccentricity);
    assert_eq!((corners.within, corners.done), (Some(true), 5));
    assert_eq!(corners.positions[2].from_centre.as_deref(), Some("+0.2 kg"));
    job.ok(other(Purpose::Repeatability, None, "696", "696", ""));
    assert!(test(&job, TestKind::Repeatability).says.to_string().contains("One weighing says nothing"));
    job.ok(other(Purpose::Repeatability, None, "696", "696.2", ""));
    job.ok(other(Purpose::Repeatability, None, "696", "696", ""));
    assert_eq!(test(&job, TestKind::Repeatability).within, Some(true));
    job.ok(Draft::Discriminated(drafts::DiscriminatedDraft {
        stage: ReadStage::Test,
        load: "435".into(),
        before: "435".into(),
        after: "435.2".into(),
        pad: None,
    }));
    assert_eq!(test(&job, TestKind::Discrimination).within, Some(true));
    assert_eq!(test(&job, TestKind::ZeroReturn).within, Some(true));
    assert_eq!(job.assessed().outcome, Outcome::InTolerance);
    assert!(!job.assessed().reservations.iter().any(|r| r.to_string().contains("not done")));
    // One that does not move at 1.4 d fails the check, whatever the loads say.
    job.ok(Draft::Discriminated(drafts::DiscriminatedDraft {
        stage: ReadStage::Test,
        load: "870".into(),
        before: "870".into(),
        after: "870".into(),
        pad: None,
    }));
    assert_eq!(job.assessed().outcome, Outcome::OutOfTolerance);
}

#[test]
fn a_point_of_change_is_judged_before_rounding_and_corrected_for_zero() {
    let mut job = proved();
    job.ok(other(Purpose::Load, None, "0", "0", "0.06"));
    job.ok(other(Purpose::Load, None, "600", "600", "0.16"));
    let reading = job.assessed().proof.readings.pop().unwrap();
    // E = 0.1 − 0.16 = −0.06; E_0 = 0.1 − 0.06 = +0.04; E_c = −0.10.
    assert_eq!(
        (reading.error_text.as_str(), reading.corrected_text.as_deref()),
        ("-0.060 kg", Some("-0.100 kg"))
    );
    // Its rounding rests on the small weights' step, not on the division; how far it repeats does not.
    let plain = job
        .assessed()
        .proof
        .readings
        .iter()
        .find(|r| r.load.to_string() == "600 kg")
        .unwrap()
        .budget
        .clone()
        .unwrap();
    let fine = reading.budget.unwrap();
    let term = |budget: &ombret_core::assessment::BudgetView, name: &str| {
        budget.lines.iter().find(|l| l.name == name).unwrap().u_d
    };
    assert!(fine.expanded_d < plain.expanded_d);
    assert!(term(&fine, "rounding at the load") < term(&plain, "rounding at the load") / 5.0);
    assert_eq!(term(&fine, "repeatability").to_bits(), term(&plain, "repeatability").to_bits());
}

#[test]
fn a_stricter_decision_rule_never_passes_what_a_milder_one_fails() {
    let mut job = proved();
    let within = |job: &Journal| job.assessed().proof.readings.iter().map(|r| r.within).collect::<Vec<_>>();
    let simple = within(&job);
    job.ok(Draft::DecisionChosen(drafts::DecisionChosenDraft {
        rule: DecisionRule::FourWay,
        reason: "to see the guard".into(),
    }));
    let four = within(&job);
    job.ok(Draft::DecisionChosen(drafts::DecisionChosenDraft {
        rule: DecisionRule::Guarded,
        reason: "asked for".into(),
    }));
    let guarded = within(&job);
    for ((s, f), g) in simple.iter().zip(&four).zip(&guarded) {
        assert!(s == f && (!g || *s), "{simple:?} {four:?} {guarded:?}");
    }
    assert!(guarded.iter().any(|g| !g), "U leaves no room at the small tolerances");
    assert!(job.assessed().reservations.iter().any(|r| r.to_string().contains("asked for")));
}

#[test]
fn the_diagnosis_of_a_job_says_sound_or_names_the_cause_and_what_each_choice_would_do() {
    let mut job = Journal::begin();
    job.inspection();
    for (load, shown) in [("0", "0"), ("200", "200.4"), ("435", "435.8"), ("870", "871.6")] {
        job.ok(read(ReadStage::AsFound, load, shown, Direction::Up));
    }
    let diagnosed = |job: &Journal| {
        diagnose_job(&job.state(), &job.assessed(), Phase::AsFound, 1, &[], &Priors::default()).unwrap()
    };
    let told = diagnosed(&job);
    assert_eq!((told.ranked[0].cause, told.told, told.ranked[0].act), (Cause::SpanDrift, true, Deed::Span));
    assert!(!told.ranked[0].why.is_empty());
    // Going up only, what rubs or creeps reads alike: no span is taken over it before the way down is read.
    let adjustment_option =
        |job: &Journal, told: &Diagnosis| choices(&job.assessed().as_found, 1, true, 8, Some(told)).unwrap();
    let first = adjustment_option(&job, &told);
    assert_eq!((told.act, first.advice, first.adjusts), (Deed::ReadAgain, Deed::ReadAgain, false));
    assert!(told.next.is_some());
    for (load, shown) in [("435", "435.8"), ("0", "0")] {
        job.ok(read(ReadStage::AsFound, load, shown, Direction::Down));
    }
    let told = diagnosed(&job);
    let adjustment_option = adjustment_option(&job, &told);
    assert_eq!(
        (told.ranked[0].cause, told.act, adjustment_option.advice),
        (Cause::SpanDrift, Deed::Span, Deed::Span)
    );
    assert!(
        adjustment_option.ways.iter().find(|w| w.act == Deed::Span).unwrap().within
            && !adjustment_option.ways[0].within
    );
    // What is never likely by the workshop's own priors is never said.
    let never = Priors([(Cause::SpanDrift, 0.0)].into());
    let other = diagnose_job(&job.state(), &job.assessed(), Phase::AsFound, 1, &[], &never).unwrap();
    assert!(other.ranked.iter().all(|r| r.cause != Cause::SpanDrift));
}

#[test]
fn a_reading_in_another_unit_is_asked_about_and_the_same_load_twice_is_said() {
    let mut job = Journal::begin();
    job.inspection();
    let cautions = |job: &Journal| job.assessed().as_found.readings.last().unwrap().cautions.clone();
    job.ok(read(ReadStage::AsFound, "300", "136.2", Direction::Up));
    assert!(
        cautions(&job).iter().any(|c| c.to_string().contains("is the load in lb?")),
        "{:?}",
        cautions(&job)
    );
    job.ok(read(ReadStage::AsFound, "100", "220.4", Direction::Up));
    assert!(
        cautions(&job).iter().any(|c| c.to_string().contains("does the display show lb?")),
        "{:?}",
        cautions(&job)
    );
    job.ok(read(ReadStage::AsFound, "200", "200.4", Direction::Up));
    assert!(cautions(&job).is_empty(), "{:?}", cautions(&job));
    job.ok(read(ReadStage::AsFound, "200", "200.2", Direction::Up));
    assert!(cautions(&job).iter().any(|c| c.to_string().contains("was read before")), "{:?}", cautions(&job));
    assert_eq!(job.assessed().as_found.readings.len(), 4, "nothing is dropped");
}

#[test]
fn a_rule_of_the_house_asks_for_its_own_tests() {
    let house = |tests: Value| {
        sheet(
            json!({"tolerance": {"scheme": "house", "house": {"divisions": "2", "pick": "largest"}}, "house_tests": tests}),
        )
    };
    let asked = |sheet: ScaleSheet| {
        let state = JobState::expected(sheet.clone(), None);
        let by = Signer { id: Uuid::nil(), name: "Ebba Lund".into() };
        let first = Entry {
            id: Uuid::from_u128(9),
            seq: 1,
            at: OffsetDateTime::UNIX_EPOCH,
            by,
            body: Body::Started(entries::Started { sheet: Box::new(sheet), before: None }),
        };
        assess(&[first], &state)
            .proof
            .tests
            .into_iter()
            .filter(|t| t.asked)
            .map(|t| (t.test, t.wanted))
            .collect::<Vec<_>>()
    };
    assert_eq!(asked(house(Value::Null)), [(TestKind::Eccentricity, 5)]);
    assert_eq!(
        asked(house(json!({"repeats": 8, "zero_return": true}))),
        [(TestKind::Repeatability, 8), (TestKind::ZeroReturn, 1)]
    );
    let mut form = house(Value::Null);
    form.house_tests = Some(serde_json::from_value(json!({"repeats": 1})).unwrap());
    assert_eq!(form.check().unwrap_err().field.as_deref(), Some("repeats"));
}

/// Readings, remarks and strikes in any order.
fn any_act() -> impl Strategy<Value = (u8, u32)> {
    (0u8..4, 0u32..40)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn a_journal_that_is_kept_is_the_one_that_is_read_again(acts in proptest::collection::vec(any_act(), 1..24)) {
        let job = Uuid::from_u128(77);
        let author = |n: u32| Author {
            entry: Uuid::from_u128(500 + u128::from(n)),
            at: OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(i64::from(n)),
            by: Signer { id: Uuid::from_u128(9), name: "Ebba Lund".into() },
        };
        let begun = Body::Started(entries::Started { sheet: Box::new(sheet(json!({}))), before: None });
        let mut kept = Kept::begin(job, begun, author(0)).unwrap();
        let silent = Err(Silence::not_connected());
        for (n, (act, k)) in (1u32..).zip(acts) {
            let load = (k * 20).to_string();
            let draft = match act {
                0 | 1 => read(ReadStage::AsFound, &load, &load, if k % 3 == 0 { Direction::Down } else { Direction::Up }),
                2 => Draft::Remarked(drafts::RemarkedDraft { text: format!("windy {k}") }),
                _ => {
                    let known = kept.entries();
                    Draft::StruckOut(drafts::StruckOutDraft {
                        entry: known[k as usize % known.len()].id,
                        reason: "read wrongly".into(),
                    })
                }
            };
            let before = kept.entries().len();
            // What is refused leaves everything as it was; what is taken lies behind the others.
            let taken = kept.append(draft, &Around::only(&silent), author(n)).is_ok();
            prop_assert_eq!(kept.entries().len(), before + usize::from(taken));
        }
        prop_assert_eq!(kept.state(), &fold(kept.entries()).unwrap());
        let again = Kept::of(job, kept.sealed_after(0)).unwrap();
        prop_assert_eq!(again.head(), kept.head());
        prop_assert_eq!(again.state(), kept.state());
        prop_assert_eq!(kept.sealed_after(kept.state().head + 7), vec![]);
        prop_assert_eq!(&kept.sealed_after(1)[..], &kept.sealed_after(0)[1..]);
        // Every seal holds, and the file of it is one that is taken.
        let file = JobFile::new(job, "ombret test", kept.sealed_after(0));
        prop_assert_eq!(&open_file(&serde_json::to_vec(&file).unwrap()).unwrap().1, kept.state());
    }
}
