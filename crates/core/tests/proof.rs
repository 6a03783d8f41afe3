//! Laws of proving: repeats, corners, both ways, uncertainty, verdicts, trim, what is due.

use ombret_core::adjust::{TrimMeans, TrimPosition, trim};
use ombret_core::measurement::{
    BothWays, BudgetInputs, BudgetPiece, CornerLoadRule, DecisionRule, Verdict, ZeroRule, both_ways, budget,
    corner_load, corners, coverage_factor, decide, discriminates, largest_from_centre, minimum_weight,
    repeatability, spread, weighings, zero_return,
};
use ombret_core::quantity::{Decimal, Mass, Unit};
use ombret_core::schedule::{IntervalOutcome, next_due, trend};
use ombret_core::tolerance::{Class, Scheme, Tolerance};
use proptest::prelude::*;
use time::macros::date;

/// So many tenths of a kilogram.
fn kg(tenths: i64) -> Mass {
    Mass::new(Decimal::new(tenths, 1), Unit::Kg)
}

fn grams(n: i64) -> Mass {
    Mass::new(Decimal::new(n, 3), Unit::Kg)
}

fn usual(shown: i64, repeats: Vec<i64>) -> BudgetInputs {
    let piece = |_| BudgetPiece { nominal: kg(200), mpe: grams(1), u: None, k: None };
    BudgetInputs {
        unit: Unit::Kg,
        shown: kg(shown),
        load: kg(3000),
        d_zero: kg(2),
        d_load: kg(2),
        step: None,
        pieces: (0..15).map(piece).collect(),
        adjusted_before: true,
        repeats: if repeats.is_empty() { Vec::new() } else { vec![repeats.into_iter().map(kg).collect()] },
        ecc_difference: None,
        ecc_load: None,
        k_drift: None,
        u_convection: None,
        substitutions: 0,
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn spread_does_not_depend_on_where_the_readings_lie_nor_on_their_order(mut readings in proptest::collection::vec(-50i64..50, 2..12), shift in -9_000i64..9_000) {
        let (mean, s) = spread(&readings.iter().map(|r| kg(*r)).collect::<Vec<_>>(), Unit::Kg);
        readings.reverse();
        let (moved, same) = spread(&readings.iter().map(|r| kg(r + shift)).collect::<Vec<_>>(), Unit::Kg);
        prop_assert!((s - same).abs() < 1e-9);
        prop_assert!((moved - mean - Decimal::new(shift, 1).to_f64()).abs() < 1e-9);
    }

    #[test]
    fn repeatability_is_judged_by_its_range_alone(readings in proptest::collection::vec(2_990i64..3_010, 6..10), mpe in 1i64..30) {
        let told = repeatability(weighings(Class::II), &readings.iter().map(|r| kg(*r)).collect::<Vec<_>>(), &kg(mpe)).unwrap();
        let range = readings.iter().max().unwrap() - readings.iter().min().unwrap();
        prop_assert_eq!((told.range, told.within), (kg(range), range <= mpe));
        prop_assert!(told.s <= Decimal::new(range, 1).to_f64());
    }

    #[test]
    fn a_step_of_a_division_discriminates_and_less_does_not(before in 0i64..6_000, moved in -3i64..4) {
        let added = Mass::new(Decimal::new(28, 2), Unit::Kg);
        prop_assert_eq!(discriminates(&kg(2), &added, &kg(before), &kg(before + 2 * moved)).unwrap(), moved >= 1);
    }

    #[test]
    fn zero_is_judged_by_its_change(before in -9i64..9, change in -9i64..9) {
        let told = zero_return(ZeroRule::Hb44, &kg(2), None, &kg(before), &kg(before + change)).unwrap();
        prop_assert_eq!((told.deviation, told.within), (kg(change), change.abs() <= 2));
        let half = zero_return(ZeroRule::R76, &kg(2), None, &kg(before), &kg(before + change)).unwrap();
        prop_assert_eq!(half.within, change.abs() <= 1);
    }

    #[test]
    fn turning_up_and_down_turns_the_sign_of_hysteresis(load in 1i64..6_000, up in -9i64..9, down in -9i64..9) {
        let tolerance = Tolerance::by_class(Scheme::R76InService, Class::III);
        let judge = |up: i64, down: i64| {
            let point = BothWays { load: kg(load), up: Some(kg(load + up)), down: Some(kg(load + down)) };
            both_ways(&[point], &tolerance, &kg(2), None).unwrap().remove(0)
        };
        let (one, other) = (judge(up, down), judge(down, up));
        prop_assert_eq!(one.hysteresis.unwrap(), kg(down - up));
        prop_assert_eq!((one.up, one.down), (other.down, other.up));
    }

    #[test]
    fn corners_that_are_all_off_alike_do_not_differ(load in 10i64..3_000, off in -30i64..30, one in -30i64..30) {
        let (all, odd) = (kg(load + off), kg(load + off + one));
        let places = [("centre", &all), ("front_left", &all), ("front_right", &odd), ("rear_right", &all), ("rear_left", &all)];
        let judged = corners(&kg(load), &kg(5), places);
        match largest_from_centre(&judged) {
            None => prop_assert_eq!(one, 0),
            Some((place, difference)) => {
                prop_assert_eq!(place, "front_right");
                prop_assert_eq!(difference, &kg(one));
            }
        }
        prop_assert!(judged.iter().all(|j| j.within == (j.error.abs() <= kg(5))));
    }

    #[test]
    fn a_corner_load_is_a_share_of_max_below_it(max in 10i64..90_000, supports in 1u32..12) {
        for direction in [CornerLoadRule::Quarters, CornerLoadRule::Supports, CornerLoadRule::Tank, CornerLoadRule::Rolling] {
            let told = corner_load(&kg(max), supports, direction).unwrap();
            prop_assert!(told.load.value.is_positive() && told.load <= kg(max));
            if let Some((from, to)) = told.window {
                prop_assert!(from <= told.load && told.load <= to);
            }
        }
    }

    #[test]
    fn every_term_only_adds_to_the_uncertainty(repeats in proptest::collection::vec(2_990i64..3_010, 3..9), difference in 0i64..9, drift in 0i64..5) {
        let bare = budget(&usual(3_002, repeats.clone()));
        let mut more = usual(3_002, repeats);
        more.ecc_difference = Some(kg(difference));
        more.ecc_load = Some(kg(2_000));
        more.k_drift = Some(Decimal::new(drift, 0));
        more.adjusted_before = false;
        let more = budget(&more);
        prop_assert!(more.u >= bare.u);
        prop_assert!((more.terms.combined() - more.u).abs() < 1e-12);
        prop_assert!(more.k >= 2.0 && more.degrees_of_freedom.unwrap_or(f64::MAX) >= bare.degrees_of_freedom.unwrap_or(0.0) * (1.0 - 1e-9));
    }

    #[test]
    fn u_as_it_is_told_is_never_below_u_and_at_most_a_tenth_above(repeats in proptest::collection::vec(2_900i64..3_100, 3..9)) {
        let told = budget(&usual(3_002, repeats));
        let text: f64 = told.expanded_text.parse().unwrap();
        prop_assert!(text >= told.expanded * (1.0 - 1e-9) && text <= told.expanded * 1.1 + 1e-12, "{} for {}", told.expanded_text, told.expanded);
        let places = |text: &str| text.split_once('.').map_or(0, |(_, p)| p.len());
        prop_assert_eq!(places(&told.error_text), places(&told.expanded_text));
    }

    #[test]
    fn the_coverage_factor_falls_to_two(a in 1u32..200, b in 1u32..200) {
        let (few, many) = (f64::from(a.min(b)), f64::from(a.max(b)));
        prop_assert!(coverage_factor(few) >= coverage_factor(many));
        prop_assert!(coverage_factor(many) > 2.0 - 1e-3);
        prop_assert!((coverage_factor(few + 0.9) - coverage_factor(few)).abs() < 1e-12, "cut to the whole number below");
    }

    #[test]
    fn a_guarded_pass_is_a_pass_and_the_four_ways_agree_with_both(error in -90i64..90, u in 0i64..60, mpe in 1i64..60) {
        let judge = |rule| decide(rule, &kg(error), &kg(u), &Decimal::from(2u32), &kg(mpe)).unwrap();
        let (simple, guarded, four) = (judge(DecisionRule::Simple), judge(DecisionRule::Guarded), judge(DecisionRule::FourWay));
        prop_assert!(guarded.verdict != Verdict::Pass || simple.verdict == Verdict::Pass);
        prop_assert_eq!(guarded.verdict == Verdict::Pass, four.verdict == Verdict::Pass);
        prop_assert_eq!(simple.verdict == Verdict::Pass, matches!(four.verdict, Verdict::Pass | Verdict::PassInsideGuard));
        prop_assert!((0.0..=1.0).contains(&simple.probability_outside));
        // A pass outside the guard is wrong once in forty-four at most, on either side.
        prop_assert!(guarded.verdict != Verdict::Pass || u == 0 || guarded.probability_outside < 0.0456);
        let turned = decide(DecisionRule::FourWay, &kg(-error), &kg(u), &Decimal::from(2u32), &kg(mpe)).unwrap();
        prop_assert_eq!(turned.verdict, four.verdict);
        prop_assert!((turned.probability_outside - four.probability_outside).abs() < 1e-12);
    }

    #[test]
    fn trimming_makes_corners_that_the_model_explains_read_alike(gains in proptest::collection::vec(900u32..1_100, 4), main in 40u32..90) {
        let rest = (100.0 - f64::from(main)) / 300.0;
        let shares = |over: usize| (0..4).map(|cell| if cell == over { f64::from(main) / 100.0 } else { rest }).collect::<Vec<f64>>();
        let net = |over: usize| 200.0 * shares(over).iter().zip(&gains).map(|(s, g)| s * f64::from(*g) / 1000.0).sum::<f64>();
        let positions: Vec<TrimPosition> = (0..4).map(|over| TrimPosition { shares: shares(over), net: net(over) }).collect();
        let told = trim(4, 200.0, &positions, TrimMeans::Digital, None).unwrap();
        for (gain, known) in told.gains.iter().zip(&gains) {
            prop_assert!((gain - f64::from(*known) / 1000.0).abs() < 1e-9);
        }
        prop_assert!(told.predicted.iter().all(|p| (p - 200.0).abs() < 1e-9));
        let box_trim = trim(4, 200.0, &positions, TrimMeans::JunctionBox, None).unwrap();
        prop_assert!(box_trim.factors.iter().all(|f| *f <= 1.0 + 1e-12), "a box only trims down");
    }

    #[test]
    fn an_interval_is_never_below_a_month_nor_stretched_above_its_limit(months in 1u32..120, shares in proptest::collection::vec(0i64..150, 0..6), limit in 1u32..60) {
        let shares: Vec<Decimal> = shares.into_iter().map(|s| Decimal::new(s, 2)).collect();
        let told = next_due(date!(2030 - 05 - 20), months, &shares, Some(limit)).unwrap();
        prop_assert!(told.months >= 1 && told.due > date!(2030 - 05 - 20));
        match told.outcome {
            IntervalOutcome::Halved => prop_assert!(told.months <= months),
            IntervalOutcome::Kept => prop_assert_eq!(told.months, months),
            IntervalOutcome::Stretched => prop_assert!(told.months <= limit),
        }
    }

    #[test]
    fn a_drifting_scale_is_due_between_the_edges_of_its_band(noise in proptest::collection::vec(-10i64..10, 5..9), drift in 1i64..40, down in any::<bool>()) {
        let sign = if down { -1.0 } else { 1.0 };
        let records: Vec<(f64, f64)> = (0u32..).zip(&noise).map(|(at, n)| (f64::from(at) * 180.0, sign * (f64::from(at) * Decimal::new(drift, 3).to_f64() + Decimal::new(*n, 4).to_f64()))).collect();
        let told = trend(&records, 0.3).unwrap();
        if let (Some(meets), Some(earliest)) = (told.meets, told.earliest) {
            let last = records.last().unwrap().0;
            prop_assert!(earliest <= meets.max(last) + 1e-6, "{told:?}");
            prop_assert!(told.latest.is_none_or(|latest| latest >= meets - 1e-6), "{told:?}");
        }
        let turned: Vec<(f64, f64)> = records.iter().map(|(day, error)| (*day, -error)).collect();
        let other = trend(&turned, 0.3).unwrap();
        prop_assert_eq!((told.meets, told.earliest, told.latest), (other.meets, other.earliest, other.latest), "which side it drifts to is all one");
    }

    #[test]
    fn the_least_weight_grows_with_the_spread_and_never_falls_below_its_floor(readings in proptest::collection::vec(0i64..40, 10)) {
        let shown: Vec<Mass> = readings.iter().map(|r| Mass::new(Decimal::new(200_000 + r, 4), Unit::G)).collect();
        let d = Mass::new(Decimal::new(1, 1), Unit::Mg);
        let told = minimum_weight(&shown, &d).unwrap();
        prop_assert!(told.minimum >= 82.0 - 1e-9, "0.41 d is the floor");
        prop_assert_eq!(told.floor_used, told.s < 0.041);
    }
}

#[test]
fn too_few_weighings_are_refused_with_how_many_it_takes() {
    for (class, needs) in [(Class::I, 6), (Class::II, 6), (Class::III, 3), (Class::IIII, 3), (Class::IIIL, 3)]
    {
        let shown = vec![kg(3_000); needs - 1];
        assert!(
            repeatability(weighings(class), &shown, &kg(2))
                .unwrap_err()
                .to_string()
                .contains(&needs.to_string()),
            "{class:?}"
        );
        assert!(repeatability(weighings(class), &vec![kg(3_000); needs], &kg(2)).unwrap().within);
    }
}

#[test]
fn what_decides_nothing_is_refused() {
    let two = Decimal::from(2u32);
    assert!(decide(DecisionRule::Simple, &kg(1), &kg(1), &two, &kg(0)).is_err());
    assert!(decide(DecisionRule::Simple, &kg(1), &kg(-1), &two, &kg(3)).is_err());
    assert!(decide(DecisionRule::Simple, &kg(1), &kg(1), &Decimal::zero(), &kg(3)).is_err());
    assert_eq!(DecisionRule::of("lenient").unwrap_err().code, "no_such_rule");
    let place = |shares: &[f64]| TrimPosition { shares: shares.to_vec(), net: 200.0 };
    assert_eq!(
        trim(2, 200.0, &[place(&[1.0, 0.0])], TrimMeans::Digital, None).unwrap_err().code,
        "too_few_positions"
    );
    assert_eq!(
        trim(2, 200.0, &[place(&[1.0, 0.0]), place(&[1.0, 0.0])], TrimMeans::Digital, None).unwrap_err().code,
        "positions_do_not_separate"
    );
    assert_eq!(
        trim(2, 200.0, &[place(&[1.0, 0.0]), place(&[1.0])], TrimMeans::Digital, None).unwrap_err().code,
        "bad_input"
    );
    let dead = TrimPosition { shares: vec![0.0, 1.0], net: 0.0 };
    assert_eq!(
        trim(2, 200.0, &[place(&[1.0, 0.0]), dead], TrimMeans::Digital, None).unwrap_err().code,
        "reversed_or_dead"
    );
    assert_eq!(trend(&[(0.0, 0.1), (10.0, 0.1)], 0.3).unwrap_err().code, "too_few");
    assert_eq!(trend(&[(5.0, 0.1), (5.0, 0.2), (5.0, 0.3)], 0.3).unwrap_err().code, "one_day");
}
