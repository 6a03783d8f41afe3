//! Laws of the diagnosis, of the choices, of the check beside the loads, of uncertainty by
//! substitution, and of drift.

use ombret_core::assessment::{Around, Assessment, LoadStatus, TestKind, TestView, assess};
use ombret_core::diagnosis::{
    Cause, Deed, Facts, Pointers, Priors, Seen, Shown, choices, diagnose, table, which_weight,
};
use ombret_core::job::drafts;
use ombret_core::job::{Claim, Draft, ReadDetail, SetupDraft, Source, decide, interpret};
use ombret_core::journal::entries;
use ombret_core::journal::{
    Body, CheckFinding, Direction, Entry, Outcome, Purpose, ReadStage, Signer, Silence, fold,
};
use ombret_core::measurement::DecisionRule;
use ombret_core::quantity::{Mass, Unit, parse_mass};
use ombret_core::scale::{ScaleKind, SheetForm, checklist};
use ombret_core::schedule::{Drawn, drift, monday};
use ombret_core::tolerance::{Class, Scheme, Tolerance};
use ombret_core::weights::{WeightClass, growth, judge_substitution, tolerance_of_sum};
use proptest::prelude::*;
use serde_json::{Value, json};
use time::{Date, Duration, OffsetDateTime, Weekday};
use uuid::Uuid;

fn kg(text: &str) -> Mass {
    parse_mass(text, Unit::Kg, "mass").unwrap()
}

// The diagnosis.

const N: f64 = 3000.0;
const CORNERS: [(f64, f64); 4] = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)];

fn facts() -> Facts {
    Facts { cells: CORNERS.to_vec(), span: Some(1500.0), ..Facts::of(N, 3.0) }
}

/// A check up and down with these errors, in divisions, in the order of its loads.
fn check(errors: impl Fn(f64, bool) -> f64) -> Vec<Seen> {
    let up = [0.0, 0.1, 0.25, 0.5, 0.75, 1.0].map(|s| (s * N, false));
    let down = [0.75, 0.5, 0.25, 0.0].map(|s| (s * N, true));
    (1u32..)
        .zip(up.into_iter().chain(down))
        .map(|(order, (load, down))| Seen {
            entry: Uuid::from_u128(u128::from(order)),
            down,
            ..Seen::of(load, (load + errors(load, down)).round(), 40.0 * f64::from(order))
        })
        .collect()
}

fn first(seen: &[Seen], within: bool) -> Cause {
    diagnose(seen, &facts(), &Priors::default(), &Pointers::default(), within).unwrap().ranked[0].cause
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn whatever_is_read_the_probabilities_are_probabilities(errors in proptest::collection::vec(-4000.0f64..4000.0, 10), within in any::<bool>()) {
        let mut next = errors.into_iter().cycle();
        let mut seen = check(|_, _| 0.0);
        seen.iter_mut().for_each(|s| s.shown = Shown::Figure((s.load + next.next().unwrap()).round()));
        let told = diagnose(&seen, &facts(), &Priors::default(), &Pointers::default(), within).unwrap();
        let sum: f64 = told.ranked.iter().map(|r| r.probability).sum();
        prop_assert!(told.ranked.iter().all(|r| (0.0..=1.0 + 1e-9).contains(&r.probability)) && sum <= 1.0 + 1e-9);
        prop_assert!(told.ranked.windows(2).all(|pair| pair[0].probability >= pair[1].probability));
        prop_assert!(!told.told || told.ranked[0].probability >= 0.75 && !told.none_fits && told.odd.is_empty());
        prop_assert!((0.0..=1.0).contains(&told.fits));
        if let Some(next) = told.next {
            prop_assert!(next.bits > 0.0);
        }
    }

    #[test]
    fn a_span_error_is_named_whatever_its_size_and_sign(size in 6.0f64..200.0, up in any::<bool>()) {
        let slope = if up { size } else { -size };
        let named = first(&check(|load, _| slope * load / N), false);
        // Low by some per cent, a hook or a pallet that was not counted looks the same.
        prop_assert!(named == Cause::SpanDrift || !up && named == Cause::WrongWeight, "{named:?}");
    }

    #[test]
    fn the_ratio_of_a_piece_too_much_or_too_little_is_told_from_a_drift(piece in 30.0f64..400.0, more in any::<bool>()) {
        let piece = piece.round();
        let on = if more { 1500.0 + piece } else { 1500.0 - piece };
        let seen = check(|load, _| load * (1500.0 / on - 1.0));
        let with = |pieces: Vec<f64>| diagnose(&seen, &Facts { pieces, ..facts() }, &Priors::default(), &Pointers::default(), false).unwrap().ranked[0].cause;
        prop_assert_eq!(with(vec![piece, 7.0]), Cause::WrongWeight);
        // Without that piece in the kit it is a drift like any other, or a weight that is not of the kit.
        let without = with(vec![7.0]);
        prop_assert!(matches!(without, Cause::SpanDrift | Cause::WrongWeight), "{without:?}");
    }

    #[test]
    fn the_weight_that_was_on_is_told_with_and_without_a_record(piece in 60.0f64..400.0, more in any::<bool>(), record in any::<bool>()) {
        let piece = piece.round();
        let on = if more { 1500.0 + piece } else { 1500.0 - piece };
        let seen = check(|load, _| load * (1500.0 / on - 1.0));
        let facts = Facts { pieces: vec![piece], span: record.then_some(1500.0), ..facts() };
        let told = which_weight(&seen, &facts).unwrap();
        // Without a record another share of Max may give the very same ratio; with one it is the one.
        prop_assert!((told.keyed / told.on - 1500.0 / on).abs() < 2.0 / N, "{told:?}");
        prop_assert!(!record || (told.keyed, told.on) == (1500.0, on), "{told:?}");
        // Inside the tolerance nothing is suspected, and no sum explains a bow.
        prop_assert_eq!(which_weight(&check(|_, _| 0.0), &facts), None);
        prop_assert_eq!(which_weight(&check(|load, _| { let x = load / N; 160.0 * x * (1.0 - x) }), &facts), None);
    }

    #[test]
    fn a_zero_error_is_named_whatever_its_size_and_sign(size in 4.0f64..80.0, up in any::<bool>()) {
        let level = if up { size } else { -size };
        prop_assert_eq!(first(&check(|_, _| level), false), Cause::ZeroOff);
    }

    #[test]
    fn rubbing_is_named_whatever_its_size(size in 3.0f64..30.0) {
        let drags = |load: f64, down: bool| if down { size } else if load > 0.0 { -size } else { 0.0 };
        prop_assert_eq!(first(&check(drags), false), Cause::Rubbing);
    }

    #[test]
    fn a_small_error_of_any_shape_is_never_an_alarm(slope in -1.0f64..1.0, bow in -0.4f64..0.4, level in -0.3f64..0.3) {
        let small = |load: f64, _: bool| { let x = load / N; slope * x + bow * 4.0 * x * (1.0 - x) + level };
        prop_assert_eq!(first(&check(small), true), Cause::Sound);
    }

    #[test]
    fn a_mirrored_check_has_the_mirrored_cause(size in 6.0f64..60.0) {
        // Whatever is high by so much and whatever is low by so much have one cause.
        let bow = |sign: f64| move |load: f64, _: bool| { let x = load / N; sign * size * 4.0 * x * (1.0 - x) };
        prop_assert_eq!(first(&check(bow(1.0)), false), Cause::Bow);
        prop_assert_eq!(first(&check(bow(-1.0)), false), Cause::Bow);
    }

    #[test]
    fn a_fault_that_was_seen_makes_what_it_points_to_likelier(size in 1.0f64..8.0) {
        let seen = check(|load, down| if down { size } else if load > 0.0 { -size } else { 0.0 });
        let of = |pointed: &[String]| {
            let told = diagnose(&seen, &facts(), &Priors::default(), &Pointers { items: pointed.to_vec(), ..Pointers::default() }, false).unwrap();
            told.ranked.iter().find(|r| r.cause == Cause::Rubbing).map_or(0.0, |r| r.probability)
        };
        prop_assert!(of(&["free".to_owned()]) >= of(&[]) - 1e-12);
    }

    #[test]
    fn a_fault_of_the_last_record_makes_it_likelier_and_less_so_than_one_that_is_seen(size in 1.0f64..8.0) {
        let seen = check(|load, down| if down { size } else if load > 0.0 { -size } else { 0.0 });
        let of = |pointers: &Pointers| {
            let told = diagnose(&seen, &facts(), &Priors::default(), pointers, false).unwrap();
            told.ranked.iter().find(|r| r.cause == Cause::Rubbing).map_or(0.0, |r| r.probability)
        };
        let free = || vec!["free".to_owned()];
        let again = of(&Pointers { last_time: free(), ..Pointers::default() });
        let seen_now = of(&Pointers { items: free(), ..Pointers::default() });
        prop_assert!(of(&Pointers::default()) <= again + 1e-12 && again <= seen_now + 1e-12);
    }

    #[test]
    fn a_prior_of_nothing_is_never_said_and_a_larger_one_never_makes_a_cause_less_likely(size in 1.0f64..20.0, prior in 0.01f64..0.9) {
        let seen = check(|load, _| size * load / N);
        let of = |prior: f64| {
            let priors = Priors([(Cause::SpanDrift, prior)].into());
            let told = diagnose(&seen, &facts(), &priors, &Pointers::default(), false).unwrap();
            told.ranked.iter().find(|r| r.cause == Cause::SpanDrift).map_or(0.0, |r| r.probability)
        };
        prop_assert_eq!(of(0.0), 0.0);
        prop_assert!(of(prior) <= of((prior * 1.5).min(1.0)) + 1e-12);
    }
}

#[test]
fn without_a_load_nothing_is_told_and_with_one_it_is_not_called_sound() {
    let empty: Vec<Seen> = check(|_, _| 0.0).into_iter().filter(|s| s.load == 0.0).collect();
    assert!(diagnose(&empty, &facts(), &Priors::default(), &Pointers::default(), true).is_none());
    let one: Vec<Seen> = check(|_, _| 0.0).into_iter().take(2).collect();
    assert!(!diagnose(&one, &facts(), &Priors::default(), &Pointers::default(), true).unwrap().told);
}

#[test]
fn every_cause_says_what_adjusting_can_and_cannot_do() {
    for info in table() {
        assert!(!info.can.is_empty() && !info.cannot.is_empty() && info.prior > 0.0, "{:?}", info.cause);
        assert_eq!(info.act == Deed::Leave, info.cause == Cause::Sound, "{:?}", info.cause);
    }
}

// A job, and its check.

struct Work {
    entries: Vec<Entry>,
}

impl Work {
    /// A floor platform of 870 kg in steps of 0.2 kg, looked over.
    fn begin(other: Value) -> Self {
        let mut form = json!({
            "id": Uuid::from_u128(1), "name": "Wool table", "owner": "Tussock Wool Store", "place": "Grading floor", "kind": "floor", "serial": "WT-07",
            "indicator": "Panel 4", "unit": "kg", "plate_max": "870", "plate_d": "0.2", "trade": false,
            "tolerance": {"scheme": "r76_in_service", "class": "III"}, "interval_months": 12, "field_width": 6
        });
        form.as_object_mut().unwrap().extend(other.as_object().unwrap().clone());
        let sheet = serde_json::from_value::<SheetForm>(form).unwrap().read().unwrap();
        let mut work = Self { entries: Vec::new() };
        work.push(Body::Started(entries::Started { sheet: Box::new(sheet), before: None }));
        for item in checklist(ScaleKind::Floor) {
            work.ok(Draft::LookedOver(drafts::LookedOverDraft {
                item: item.id.clone(),
                finding: CheckFinding::Ok,
                note: String::new(),
                cells: String::new(),
            }));
        }
        work
    }

    /// Adjusted at every pad, and ready for the check.
    fn adjusted(other: Value) -> Self {
        let mut work = Self::begin(other);
        let mut setup = SetupDraft::new("870", "0.2", Unit::Kg);
        setup.pad = Some(0);
        work.ok(Draft::SetUp(setup));
        let pads = fold(&work.entries).unwrap().sheet.pads;
        for pad in 1..=pads {
            let pad = Some(pad);
            work.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
                counts: typed("41250"),
                pad,
                claim: Claim::default(),
            }));
            work.ok(Draft::SpanChosen(drafts::SpanChosenDraft {
                weight: "600".into(),
                pad,
                with: Vec::new(),
            }));
            work.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
                counts: typed("241250"),
                pad,
                claim: Claim::default(),
            }));
            work.ok(Draft::AdjustmentSaved);
        }
        work
    }

    fn push(&mut self, body: Body) {
        let seq = u32::try_from(self.entries.len()).unwrap() + 1;
        let by = Signer { id: Uuid::nil(), name: "Ebba Lund".into() };
        self.entries.push(Entry {
            id: Uuid::from_u128(100 + u128::from(seq)),
            seq,
            at: OffsetDateTime::UNIX_EPOCH + Duration::seconds(40 * i64::from(seq)),
            by,
            body,
        });
    }

    fn draft(&mut self, draft: Draft) -> Result<(), ombret_core::Refusal> {
        let state = fold(&self.entries).unwrap();
        let body = interpret(&state, draft, &Around::only(&Err(Silence::not_connected())))?;
        decide(&self.entries, &state, &body)?;
        self.push(body);
        Ok(())
    }

    fn ok(&mut self, draft: Draft) {
        self.draft(draft.clone()).unwrap_or_else(|refused| panic!("{draft:?}: {refused:?}"));
    }

    fn told(&self) -> Assessment {
        assess(&self.entries, &fold(&self.entries).unwrap())
    }

    fn test(&self, kind: TestKind, pad: u8) -> TestView {
        self.told().proof.tests.into_iter().find(|t| (t.test, t.pad) == (kind, pad)).unwrap()
    }
}

fn typed(text: &str) -> Source {
    Source::Typed { text: text.into(), steady: true }
}

fn read(stage: ReadStage, load: &str, shown: &str, pad: u8, detail: ReadDetail) -> Draft {
    Draft::Read(drafts::ReadDraft {
        stage,
        load: load.into(),
        shown: typed(shown),
        direction: Direction::Up,
        pad: Some(pad),
        with: Vec::new(),
        overruled: String::new(),
        once: false,
        detail,
    })
}

fn corner(position: u8, d: i32, pad: u8) -> Draft {
    let shown = format!("{:.1}", 290.0 + 0.2 * f64::from(d));
    read(
        ReadStage::Test,
        "290",
        &shown,
        pad,
        ReadDetail { purpose: Purpose::Eccentricity, position: Some(position), ..ReadDetail::default() },
    )
}

fn repeat(d: i32, pad: u8) -> Draft {
    let shown = format!("{:.1}", 696.0 + 0.2 * f64::from(d));
    read(
        ReadStage::Test,
        "696",
        &shown,
        pad,
        ReadDetail { purpose: Purpose::Repeatability, ..ReadDetail::default() },
    )
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn corners_come_to_the_same_in_whatever_order_they_are_read(offs in proptest::collection::vec(-4i32..5, 5), order in Just((0u8..5).collect::<Vec<_>>()).prop_shuffle()) {
        let run = |order: &[u8]| {
            let mut work = Work::adjusted(json!({}));
            order.iter().for_each(|spot| work.ok(corner(*spot, offs[usize::from(*spot)], 1)));
            let test = work.test(TestKind::Eccentricity, 1);
            (test.within, test.done, test.positions.iter().map(|s| s.error_text.clone()).collect::<Vec<_>>())
        };
        let straight: Vec<u8> = (0..5).collect();
        prop_assert_eq!(run(&straight), run(&order));
        // 2 d are the tolerance there.
        prop_assert_eq!(run(&straight).0, Some(offs.iter().all(|d| d.abs() <= 2)));
    }

    #[test]
    fn a_series_comes_to_the_same_in_whatever_order_and_is_within_by_its_range(offs in proptest::collection::vec(-3i32..4, 3..7), turn in any::<prop::sample::Index>()) {
        let run = |offs: &[i32]| {
            let mut work = Work::adjusted(json!({}));
            offs.iter().for_each(|d| work.ok(repeat(*d, 1)));
            work.test(TestKind::Repeatability, 1)
        };
        let mut turned = offs.clone();
        turned.rotate_left(turn.index(offs.len()));
        let (told, other) = (run(&offs), run(&turned));
        prop_assert_eq!((told.within, &told.says), (other.within, &other.says));
        let range = offs.iter().max().unwrap() - offs.iter().min().unwrap();
        prop_assert_eq!(told.within, Some(range <= 3), "0.6 kg are three divisions");
    }

    #[test]
    fn a_stricter_rule_passes_nothing_that_a_milder_one_fails(d in -4i32..5, load in 1u32..8) {
        let load = f64::from(load) * 100.0;
        let run = |rule: DecisionRule| {
            let mut work = Work::adjusted(json!({"decision": rule}));
            work.ok(read(ReadStage::Test, &format!("{load}"), &format!("{:.1}", load + 0.2 * f64::from(d)), 1, ReadDetail::default()));
            work.told().proof.readings[0].within
        };
        prop_assert!(!run(DecisionRule::Guarded) || run(DecisionRule::FourWay));
        prop_assert_eq!(run(DecisionRule::FourWay), run(DecisionRule::Simple), "the guard names, it does not fail");
    }

    #[test]
    fn each_further_substitution_makes_a_load_less_certain(rounds in 1u32..6) {
        let run = |rounds: u32| {
            let mut work = Work::adjusted(json!({}));
            work.ok(read(ReadStage::Test, "800", "800", 1, ReadDetail { substituted: rounds.to_string(), ..ReadDetail::default() }));
            work.told().proof.readings[0].budget.clone().unwrap()
        };
        prop_assert!(run(rounds).expanded_d > run(rounds - 1).expanded_d);
        prop_assert!(run(rounds).notes.iter().any(|n| n.to_string().contains("substitution")));
    }

    #[test]
    fn what_is_chosen_does_what_it_says(errors in proptest::collection::vec(-6i32..7, 4)) {
        let mut work = Work::begin(json!({}));
        for (load, d) in ["0", "200", "435", "800"].iter().zip(&errors) {
            let shown = load.parse::<f64>().unwrap() + 0.2 * f64::from(*d);
            work.ok(read(ReadStage::AsFound, load, &format!("{shown:.1}"), 1, ReadDetail::default()));
        }
        let phase = work.told().as_found;
        let told = choices(&phase, 1, true, 8, None).unwrap();
        let of = |act: Deed| told.ways.iter().find(|w| w.act == act).unwrap();
        for (point, d) in of(Deed::Leave).points.iter().zip(&errors) {
            prop_assert!((point.error_d - f64::from(*d)).abs() < 1e-9);
        }
        prop_assert!(of(Deed::Rezero).points[0].error_d.abs() < 1e-9, "a new zero reads zero");
        let span = of(Deed::Span);
        prop_assert!(span.points[0].error_d.abs() < 1e-9 && span.points[3].error_d.abs() < 1e-9, "right at both ends");
        prop_assert!(told.ways.last().unwrap().points.iter().all(|p| p.error_d.abs() < 1e-9), "a point at each load leaves nothing");
        let best: Vec<_> = told.ways.iter().filter(|w| w.best).collect();
        prop_assert_eq!(best.len(), 1);
        prop_assert!(best[0].within && told.advice == best[0].act);
        // At more than 80 % of its tolerance it is not left, where anything does better.
        let leaves = of(Deed::Leave).within
            && (of(Deed::Leave).worst_share <= 0.8 || told.ways.iter().skip(1).all(|w| !w.within));
        prop_assert_eq!(told.advice == Deed::Leave, leaves);
        // Nothing that does less would have done.
        prop_assert!(told.ways.iter().take_while(|w| !w.best).filter(|w| w.act != Deed::Leave).all(|w| !w.within));
    }
}

#[test]
fn each_pad_has_its_own_tests_and_its_own_uncertainty_and_together_is_another_reading() {
    let mut work = Work::adjusted(json!({"pads": 2, "kind": "floor"}));
    for (d, pad) in [(0, 1), (0, 1), (0, 1), (0, 2), (3, 2), (0, 2)] {
        work.ok(repeat(d, pad));
    }
    assert_eq!(
        (work.test(TestKind::Repeatability, 1).done, work.test(TestKind::Repeatability, 2).done),
        (3, 3)
    );
    assert!(
        work.test(TestKind::Repeatability, 1).says.to_string().contains("s = 0.00 d")
            && !work.test(TestKind::Repeatability, 2).says.to_string().contains("s = 0.00 d")
    );
    for pad in [1, 2] {
        work.ok(read(ReadStage::Test, "435", "435", pad, ReadDetail::default()));
    }
    let of = |work: &Work, pad: u8| {
        work.told().proof.readings.iter().rfind(|r| r.pad == pad).unwrap().budget.clone().unwrap().expanded_d
    };
    assert!(of(&work, 1) < of(&work, 2), "what one pad scatters is not the other's");
    // On both together more than one can carry; on one it is refused.
    assert_eq!(
        work.draft(read(ReadStage::Test, "1200", "1200", 1, ReadDetail::default())).unwrap_err().code,
        "above_max"
    );
    work.ok(read(ReadStage::Test, "1200", "1200.2", 0, ReadDetail::default()));
    assert!(work.told().proof.loads.iter().find(|w| w.pad == 0).unwrap().status == LoadStatus::Done);
    // Adjusting one of them again takes what rested on both away.
    work.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: Some(2),
        claim: Claim::default(),
    }));
    work.ok(Draft::SpanChosen(drafts::SpanChosenDraft {
        weight: "600".into(),
        pad: Some(2),
        with: Vec::new(),
    }));
    work.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("241250"),
        pad: Some(2),
        claim: Claim::default(),
    }));
    work.ok(Draft::AdjustmentSaved);
    let counts = |pad: u8| work.told().proof.readings.iter().filter(|r| r.pad == pad).any(|r| r.counts);
    assert!(counts(1) && !counts(2) && !counts(0));
}

#[test]
fn a_test_that_failed_as_found_counts_where_the_scale_is_left_alone() {
    let mut work = Work::begin(json!({}));
    for (load, shown) in [("0", "0"), ("200", "200"), ("435", "435"), ("870", "870")] {
        work.ok(read(ReadStage::AsFound, load, shown, 1, ReadDetail::default()));
    }
    work.ok(Draft::Discriminated(drafts::DiscriminatedDraft {
        stage: ReadStage::AsFound,
        load: "435".into(),
        before: "435".into(),
        after: "435".into(),
        pad: None,
    }));
    assert_eq!(work.told().as_found.outcome, Outcome::OutOfTolerance);
    work.ok(Draft::LeftAlone(drafts::LeftAloneDraft { reason: "the loads are right".into(), pad: None }));
    assert_eq!(work.told().outcome, Outcome::OutOfTolerance);
    work.ok(Draft::Discriminated(drafts::DiscriminatedDraft {
        stage: ReadStage::Test,
        load: "435".into(),
        before: "435".into(),
        after: "435.2".into(),
        pad: None,
    }));
    assert_eq!(work.told().outcome, Outcome::InTolerance, "done again as left, that is what counts");
}

#[test]
fn a_load_by_substitution_is_refused_where_it_makes_no_sense_and_says_what_the_book_asks() {
    let mut work = Work::adjusted(json!({"tolerance": {"scheme": "hb44_maintenance", "class": "III"}}));
    let by = |load: &str, rounds: &str| {
        read(
            ReadStage::Test,
            load,
            load,
            1,
            ReadDetail { substituted: rounds.into(), ..ReadDetail::default() },
        )
    };
    assert_eq!(work.draft(by("800", "many")).unwrap_err().field.as_deref(), Some("substituted"));
    assert_eq!(work.draft(by("800", "40")).unwrap_err().code, "too_many_rounds");
    assert_eq!(work.draft(by("0", "2")).unwrap_err().code, "other_sum");
    work.ok(by("600", "3"));
    let cautions = |work: &Work| {
        work.told()
            .proof
            .readings
            .last()
            .unwrap()
            .cautions
            .iter()
            .map(ToString::to_string)
            .collect::<Vec<_>>()
            .join(" ")
    };
    assert!(!cautions(&work).contains("substitution"), "{}", cautions(&work));
    work.ok(by("800", "4"));
    assert!(cautions(&work).contains("Handbook 44 takes 3"), "{}", cautions(&work));
    assert!(work.told().entries.last().unwrap().says.to_string().contains("by 4 substitutions"));
}

// Weights and uncertainty.

proptest! {
    #[test]
    fn the_tolerance_of_a_sum_grows_with_the_class_and_is_that_of_a_single_nominal(digits in 1u32..200_000) {
        let mass = Mass::new(digits.into(), Unit::G);
        let of = |class| tolerance_of_sum(&mass, class);
        prop_assert!(of(WeightClass::F1) < of(WeightClass::F2) && of(WeightClass::F2) < of(WeightClass::M1));
        prop_assert!(of(WeightClass::M1).value.is_positive());
    }

    #[test]
    fn substitution_never_makes_a_load_more_certain(k in 1u32..10, u in 1e-6f64..1.0, shown in 0.0f64..1.0) {
        let of = |k: u32| growth(k, u, &vec![shown; (k - 1) as usize]);
        prop_assert!((of(1) - u).abs() < 1e-12);
        prop_assert!(of(k + 1) > of(k));
    }

    #[test]
    fn more_weights_are_never_judged_worse(percent in 5u32..100) {
        let tolerance = Tolerance::by_class(Scheme::R76InService, Class::III);
        let grade = |percent: u32| judge_substitution(&Mass::new(percent.into(), Unit::Kg), 1, &kg("100"), &tolerance, None).unwrap().0;
        prop_assert!(grade(percent + 1) <= grade(percent));
    }
}

// Over the years.

fn drawn(found: f64, left: f64) -> Drawn {
    serde_json::from_value(json!({
        "unit": "kg", "max": 600.0, "steps": [{"to": 100.0, "mpe_to": 0.1}, {"to": 600.0, "mpe_to": 0.5}],
        "found": [{"load": 600.0, "error": found}], "left": [{"load": 600.0, "error": left}]
    }))
    .unwrap()
}

proptest! {
    #[test]
    fn adjusting_in_between_does_not_change_the_drift(rate in -0.3f64..0.3) {
        let day = |year: i64| Date::from_calendar_date(2020, time::Month::March, 1).unwrap() + Duration::days(365 * year);
        // Never adjusted, and adjusted to nothing each time: the cell drifts alike.
        let left_alone: Vec<(Date, Drawn)> = (0..4i64).map(|y| { let e = rate * y as f64; (day(y), drawn(e, e)) }).collect();
        let adjusted: Vec<(Date, Drawn)> = (0..4i64).map(|y| (day(y), drawn(if y == 0 { 0.0 } else { rate }, 0.0))).collect();
        let slope = |records: &[(Date, Drawn)]| drift(records).unwrap().says.to_string().split(" a year").next().unwrap().to_owned();
        prop_assert_eq!(slope(&left_alone), slope(&adjusted));
        // Adjusted, it has the whole way to go again: never sooner.
        let meets = |records: &[(Date, Drawn)]| drift(records).unwrap().meets;
        if let (Some(alone), Some(again)) = (meets(&left_alone), meets(&adjusted)) {
            prop_assert!(alone <= again, "{alone} {again}");
        }
    }

    #[test]
    fn the_monday_of_a_week_is_a_monday_at_most_six_days_back(days in 0i64..40_000) {
        let day = Date::from_calendar_date(1990, time::Month::January, 1).unwrap() + Duration::days(days);
        let monday = monday(day);
        prop_assert_eq!(monday.weekday(), Weekday::Monday);
        prop_assert!((0..7).contains(&(day - monday).whole_days()));
    }
}
