//! Laws of judging a set-up and of steadiness.

use ombret_core::grade::Grade;
use ombret_core::quantity::{Book, Decimal, Mass, Unit};
use ombret_core::scale::{
    Cells, Check, Finding, Indicator, Plate, SetupInputs, alternatives, judge, overall, signal_bar,
};
use ombret_core::signal::{Criterion, Tracker, first_steady};
use ombret_core::tolerance::Class;
use proptest::prelude::*;

fn kg(text: &str) -> Mass {
    Mass::new(text.parse().unwrap(), Unit::Kg)
}

fn dec(text: &str) -> Decimal {
    text.parse().unwrap()
}

/// A floor scale with everything known of it.
fn known() -> SetupInputs {
    SetupInputs {
        max: kg("870"),
        d: kg("0.2"),
        class: Some(Class::III),
        scheme: Some(Book::R76),
        trade: true,
        plate: Some(Plate { max: kg("870"), d_min: kg("0.2") }),
        cells: Some(Cells {
            count: 4,
            e_max: kg("400"),
            sensitivity_mv_v: Some(dec("2")),
            v_min: None,
            y: Some(dec("10000")),
            n_lc: Some(5_000),
            dr: None,
            z: None,
        }),
        excitation_v: Some(dec("5")),
        dead_load: Some(kg("40")),
        indicator: Some(Indicator {
            smallest_uv: Some(dec("0.3")),
            input_mv: Some((dec("0"), dec("15"))),
            span_counts: Some(300_000),
            max_divisions: Some(10_000),
        }),
        lever_ratio: None,
        reserve: None,
        ranges: None,
        calibration_unit: Some(Unit::Kg),
        one_unit_only: false,
    }
}

fn grade(findings: &[Finding], check: Check) -> Option<Grade> {
    findings.iter().find(|f| f.check == check).and_then(|f| f.grade)
}

#[test]
fn a_scale_that_fits_its_plate_is_sound_in_every_point() {
    let findings = judge(&known());
    for finding in &findings {
        assert_ne!(finding.grade, Some(Grade::Refuse), "{finding:?}");
        assert!(!finding.says.is_empty() && !finding.working.source.is_empty(), "{finding:?}");
    }
    assert_eq!(grade(&findings, Check::PlateMax), Some(Grade::Sound));
}

#[test]
fn each_thing_that_is_wrong_is_refused_by_its_own_check() {
    let cases: [(&str, Check, fn(&mut SetupInputs)); 6] = [
        ("Max above the plate", Check::PlateMax, |s| s.max = kg("1000")),
        ("d far below the plate's", Check::PlateD, |s| s.d = kg("0.05")),
        ("d out of the series", Check::Series, |s| s.d = kg("0.3")),
        ("Max no multiple of d", Check::WholeN, |s| s.max = kg("869.9")),
        ("more divisions than the class has", Check::Class, |s| {
            s.d = kg("0.05");
            s.plate = None;
        }),
        ("cells that are overloaded", Check::OverloadReserve, |s| {
            s.cells.as_mut().unwrap().e_max = kg("200");
        }),
    ];
    for (what, check, spoil) in cases {
        let mut inputs = known();
        spoil(&mut inputs);
        let findings = judge(&inputs);
        assert_eq!(grade(&findings, check), Some(Grade::Refuse), "{what}: {findings:?}");
        assert_eq!(overall(&findings), Grade::Refuse, "{what}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(150))]

    #[test]
    fn the_overall_grade_is_the_worst_of_all(max in 1i64..2_000, s in prop_oneof![Just(1i64), Just(2), Just(3), Just(5)], places in 0i64..3, trade in any::<bool>()) {
        let mut inputs = known();
        inputs.max = Mass::new(Decimal::new(max, 0), Unit::Kg);
        inputs.d = Mass::new(Decimal::new(s, places), Unit::Kg);
        inputs.trade = trade;
        let findings = judge(&inputs);
        prop_assert_eq!(Some(overall(&findings)), findings.iter().filter_map(|f| f.grade).max());
    }

    #[test]
    fn what_is_allowed_for_trade_is_allowed_without(max in 1i64..2_000, s in prop_oneof![Just(1i64), Just(2), Just(5)], places in 0i64..3) {
        let judged = |trade| {
            let mut inputs = known();
            inputs.max = Mass::new(Decimal::new(max, 0), Unit::Kg);
            inputs.d = Mass::new(Decimal::new(s, places), Unit::Kg);
            inputs.trade = trade;
            overall(&judge(&inputs))
        };
        prop_assert!(judged(false) <= judged(true));
    }

    #[test]
    fn more_dead_load_never_leaves_more_reserve(a in 0i64..900, b in 0i64..900) {
        let reserve = |dead: i64| {
            let mut inputs = known();
            inputs.dead_load = Some(Mass::new(Decimal::new(dead, 0), Unit::Kg));
            grade(&judge(&inputs), Check::OverloadReserve)
        };
        prop_assert!(reserve(a.max(b)) >= reserve(a.min(b)));
    }

    #[test]
    fn every_alternative_is_in_the_series_whole_and_judged_as_it_would_be(max in 10i64..3_000) {
        let mut inputs = known();
        inputs.max = Mass::new(Decimal::new(max, 0), Unit::Kg);
        inputs.plate = None;
        for offered in alternatives(&inputs) {
            let tried = SetupInputs { d: offered.d.clone(), ..inputs.clone() };
            let findings = judge(&tried);
            prop_assert_eq!(offered.grade, overall(&findings), "{:?}", offered);
            prop_assert_eq!(grade(&findings, Check::Series), Some(Grade::Sound));
            prop_assert_eq!(grade(&findings, Check::WholeN), Some(Grade::Sound));
        }
    }

    #[test]
    fn the_signal_rises_from_the_dead_load_over_the_span_weight_to_max(dead in 0i64..200, span in 50i64..800) {
        let mut inputs = known();
        inputs.dead_load = Some(Mass::new(Decimal::new(dead, 0), Unit::Kg));
        let platform = inputs.dead_load.clone();
        let bar = signal_bar(&inputs, platform.as_ref(), Some(&Mass::new(Decimal::new(span, 0), Unit::Kg))).unwrap();
        prop_assert!(bar.marks.len() >= 3);
        let mut marks = bar.marks.clone();
        marks.sort_by(|a, b| a.mv.total_cmp(&b.mv));
        prop_assert!(marks.last().unwrap().mv >= 5.0 * 2.0 * 870.0 / (4.0 * 400.0) - 1e-9, "Max at least: {marks:?}");
    }

    #[test]
    fn steadiness_does_not_depend_on_where_the_scale_stands(level in -500i64..500, noise in proptest::collection::vec(-6i64..6, 40), band in 2i64..12) {
        let criterion = Criterion::new(Decimal::new(band, 3).to_f64(), 3.0).unwrap();
        let samples = |level: i64| (0u32..).zip(&noise).map(|(at, n)| (f64::from(at) / 5.0, Decimal::new(level * 1_000 + n, 3).to_f64())).collect::<Vec<_>>();
        let (here, there) = (first_steady(&samples(0), criterion), first_steady(&samples(level), criterion));
        // Far from zero a figure is coarser: what is decided by less than that is not compared.
        let at_the_band = noise.iter().any(|a| noise.iter().any(|b| (a - b).abs() == band));
        prop_assert!(at_the_band || here.restarts == there.restarts, "{here:?} {there:?}");
    }

    #[test]
    fn a_wider_band_is_never_steady_later(noise in proptest::collection::vec(-6i64..6, 40), narrow in 1i64..12, more in 0i64..12) {
        let samples: Vec<(f64, f64)> = (0u32..).zip(&noise).map(|(at, n)| (f64::from(at) / 5.0, Decimal::new(*n, 3).to_f64())).collect();
        let at = |band: i64| first_steady(&samples, Criterion::new(Decimal::new(band, 3).to_f64(), 3.0).unwrap());
        let (tight, wide) = (at(narrow), at(narrow + more));
        prop_assert!(wide.restarts <= tight.restarts);
    }

    #[test]
    fn a_tracker_says_what_a_look_back_over_all_samples_says(noise in proptest::collection::vec(-4i64..4, 1..60)) {
        let criterion = Criterion::new(0.006, 3.0).unwrap();
        let samples: Vec<(f64, f64)> = (0u32..).zip(&noise).map(|(at, n)| (f64::from(at) / 4.0, Decimal::new(*n, 3).to_f64())).collect();
        let mut tracker = Tracker::new(criterion);
        let first = samples.iter().find_map(|(at, value)| tracker.push(*at, *value, None).steady.then_some(*at));
        prop_assert_eq!(first, first_steady(&samples, criterion).captured.map(|c| c.0));
    }
}
