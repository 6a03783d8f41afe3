//! The quick desk: text in, figures out, and never a figure for nonsense.

use ombret_core::Refusal;
use ombret_core::quantity::{Decimal, Mass, Unit, parse_mass};
use ombret_core::questions::{CalculatorAnswer, calculate};
use proptest::prelude::*;
use serde_json::{Value, json};

fn ask(question: Value) -> Result<CalculatorAnswer, Refusal> {
    calculate(&serde_json::from_value(question).expect("a question"))
}

fn figure(answer: &CalculatorAnswer, label: &str) -> String {
    answer
        .figures
        .iter()
        .find(|f| f.label == label)
        .unwrap_or_else(|| panic!("no {label} in {:?}", answer.figures))
        .value
        .clone()
}

/// The number a figure starts with.
fn number(text: &str) -> f64 {
    text.trim_start_matches("× ").split(' ').next().unwrap().parse().unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn every_offered_division_goes_into_max_a_whole_number_of_times(max in 1i64..90_000, places in 0i64..3) {
        let max = Mass::new(Decimal::new(max, places), Unit::Kg);
        let answer = ask(json!({"tool": "division", "max": max.to_string(), "unit": "kg"})).unwrap();
        for offered in &answer.alternatives {
            let n = max.ratio(&offered.d).unwrap();
            prop_assert!(n.is_whole() && n.to_u64() == Some(offered.n));
            prop_assert!((500..=10_000).contains(&offered.n));
        }
        prop_assert!(answer.alternatives.windows(2).all(|pair| pair[0].d < pair[1].d), "finest first");
    }

    #[test]
    fn digits_come_in_the_width_of_the_field_and_read_back(n in 1i64..999_999, decimals in 0i64..4, width in 6u32..9) {
        let mass = Mass::new(Decimal::new(n, decimals), Unit::Kg);
        let answer = ask(json!({"tool": "digits", "value": mass.value.to_string(), "unit": "kg", "decimals": decimals.to_string(), "width": width.to_string()})).unwrap();
        let digits = figure(&answer, "digits");
        prop_assert_eq!(u32::try_from(digits.len()).unwrap(), width);
        prop_assert_eq!(Decimal::new(digits.parse().unwrap(), decimals), mass.value);
    }

    #[test]
    fn every_unit_of_a_converted_mass_says_the_same(n in 1i64..900_000, places in 0i64..4) {
        let mass = Mass::new(Decimal::new(n, places), Unit::Kg);
        let answer = ask(json!({"tool": "convert", "mass": mass.value.to_string(), "unit": "kg"})).unwrap();
        prop_assert_eq!(answer.figures.len(), Unit::ALL.len() - 1);
        for figure in &answer.figures {
            let back = parse_mass(&figure.value, Unit::Kg, "mass").unwrap().to(Unit::Kg);
            prop_assert!(back.minus(&mass).abs().value <= &mass.value * &Decimal::new(1, 20), "{figure:?}");
        }
    }

    #[test]
    fn a_factor_that_shows_right_stays_as_it_is(factor in 5_000i64..15_000, load in 1i64..900) {
        let load = format!("{load} kg");
        let factor = Decimal::new(factor, 4);
        let answer = ask(json!({"tool": "factor", "factor": factor.to_string(), "load": load, "shown": load, "decimals": "4", "unit": "kg", "n": "3000"})).unwrap();
        prop_assert_eq!(figure(&answer, "to be entered").parse::<Decimal>().unwrap(), factor);
        prop_assert!(number(&figure(&answer, "the rounding costs at Max")).abs() < 1e-9);
    }

    #[test]
    fn gravity_there_and_back_is_where_it_was(a in -80i64..80, b in -80i64..80) {
        let question = |from: i64, to: i64| json!({"tool": "gravity", "max": "870 kg", "d": "0.2 kg", "unit": "kg", "class": "III",
            "adjusted": {"latitude": from.to_string()}, "used": {"latitude": to.to_string()}});
        let factor = |from, to| number(&figure(&ask(question(from, to)).unwrap(), "readings there"));
        // Six decimals are shown, so the product is one to within their rounding.
        prop_assert!((factor(a, b) * factor(b, a) - 1.0).abs() < 2e-6);
    }

    #[test]
    fn a_coarser_division_has_more_signal_in_the_same_ratio(max in 1i64..9, e_max in 200i64..900) {
        let question = json!({"tool": "signal", "max": format!("{max}00 kg"), "d": "0.2 kg", "unit": "kg", "count": "4", "e_max": format!("{e_max} kg"), "sensitivity": "2", "excitation": "5"});
        let offered = ask(question).unwrap().alternatives;
        prop_assert!(offered.len() > 1);
        for pair in offered.windows(2) {
            let signal = pair[1].uv.unwrap() / pair[0].uv.unwrap();
            let coarser = pair[1].d.ratio(&pair[0].d).unwrap().to_f64();
            prop_assert!((signal - coarser).abs() < 1e-9 * coarser);
        }
    }

    #[test]
    fn nonsense_is_refused_at_the_field_that_holds_it(text in prop_oneof![Just("12a"), Just("--3"), Just("1.2.3"), Just("∞"), Just("NaN"), Just("1e400x"), Just("0x10")], which in 0usize..4) {
        let field = ["max", "d", "count", "excitation"][which];
        let mut question = json!({"tool": "signal", "max": "870 kg", "d": "0.2 kg", "unit": "kg", "count": "4", "e_max": "500 kg", "sensitivity": "2", "excitation": "5"});
        question[field] = json!(text);
        let refusal = ask(question).unwrap_err();
        prop_assert_eq!(refusal.field.as_deref(), Some(field), "{:?}", refusal);
    }
}

#[test]
fn every_answer_shows_its_working_with_a_source() {
    let questions = [
        json!({"tool": "division", "max": "870 kg", "d": "0.2 kg", "unit": "kg"}),
        json!({"tool": "digits", "value": "600", "unit": "kg", "decimals": "1", "width": "6"}),
        json!({"tool": "signal", "max": "870 kg", "d": "0.2 kg", "unit": "kg", "count": "4", "e_max": "500 kg", "sensitivity": "2", "excitation": "5"}),
        json!({"tool": "gravity", "max": "870 kg", "d": "0.2 kg", "unit": "kg", "class": "III", "adjusted": {"g": "9.81"}, "used": {"latitude": "63"}}),
        json!({"tool": "factor", "factor": "1.02", "load": "300 kg", "shown": "301.2 kg", "decimals": "4", "unit": "kg"}),
        json!({"tool": "convert", "mass": "40 lb", "unit": "kg"}),
    ];
    for question in questions {
        let answer = ask(question.clone()).unwrap();
        assert!(!answer.says.is_empty(), "{question}");
        assert!(!answer.working.is_empty(), "{question}");
        for working in &answer.working {
            assert!(!working.source.is_empty() && !working.result.is_empty(), "{question}: {working:?}");
        }
    }
}

#[test]
fn a_division_that_is_not_in_the_series_is_named_with_its_neighbours() {
    let answer = ask(json!({"tool": "division", "max": "870 kg", "d": "0.3 kg", "unit": "kg"})).unwrap();
    assert!(
        answer.says.to_string().contains("0.2") && answer.says.to_string().contains("0.5"),
        "{}",
        answer.says
    );
    assert!(answer.figures.is_empty(), "no decimals for a division that does not exist");
}

#[test]
fn the_edges_of_the_calculators_are_refused_by_field() {
    let place = |latitude: &str, altitude: &str| json!({"latitude": latitude, "altitude": altitude});
    let gravity = |adjusted: Value| json!({"tool": "gravity", "max": "870 kg", "d": "0.2 kg", "unit": "kg", "class": "III", "adjusted": adjusted, "used": place("60", "0")});
    for (question, field) in [
        (gravity(place("91", "0")), "adjusted_latitude"),
        (gravity(place("60", "9001")), "adjusted_altitude"),
        (gravity(json!({"g": "12"})), "adjusted_g"),
        (gravity(place("", "0")), "adjusted_latitude"),
        (json!({"tool": "digits", "value": "0.125", "unit": "kg", "decimals": "2", "width": "6"}), "value"),
        (json!({"tool": "digits", "value": "600", "unit": "kg", "decimals": "12", "width": "6"}), "decimals"),
        (json!({"tool": "division", "max": "-5 kg", "unit": "kg"}), "max"),
        (
            json!({"tool": "factor", "factor": "1", "load": "300 kg", "shown": "0 kg", "decimals": "4", "unit": "kg"}),
            "shown",
        ),
        (
            json!({"tool": "signal", "max": "870 kg", "d": "0.2 kg", "unit": "kg", "count": "0", "e_max": "500 kg", "sensitivity": "2", "excitation": "5"}),
            "count",
        ),
        (json!({"tool": "convert", "mass": "1,000.5", "unit": "kg"}), "mass"),
    ] {
        let refusal = ask(question.clone()).unwrap_err();
        assert_eq!(refusal.field.as_deref(), Some(field), "{question}: {refusal:?}");
    }
}

fn corners(shown: &str, share: &str, digital: bool) -> Value {
    json!({"tool": "trim", "load": "200 kg", "shown": shown, "share": share, "digital": digital, "unit": "kg"})
}

#[test]
fn corners_are_trimmed_until_they_read_alike() {
    let answer = ask(corners("200.4 199.8 200.0 200.2", "70", false)).unwrap();
    assert!(
        answer.says.to_string().starts_with("corners 0.6000 kg apart now, 0.0000 kg after"),
        "{}",
        answer.says
    );
    assert_eq!(figure(&answer, "over cell 1 it will read"), "199.6 kg");
    let digital = ask(corners("200.4 199.8 200.0 200.2", "70", true)).unwrap();
    assert_eq!(figure(&digital, "over cell 3 it will read"), "200 kg");
    for (shown, share, field) in [
        ("200.4", "70", "shown"),
        ("200 200 x 200", "70", "shown"),
        ("200 200 200 200", "25", "share"),
        ("200 200 0 200", "100", "shown"),
        ("200 200", "170", "share"),
    ] {
        assert_eq!(
            ask(corners(shown, share, false)).unwrap_err().field.as_deref(),
            Some(field),
            "{shown} {share}"
        );
    }
}

#[test]
fn a_verdict_says_how_likely_it_is_wrong_and_repeats_say_how_far_they_are_apart() {
    let verdict = |rule: &str, error: &str| {
        ask(
            json!({"tool": "verdict", "rule": rule, "error": error, "U": "0.1", "k": "2", "mpe": "0.3", "unit": "kg"}),
        )
    };
    assert!(verdict("four_way", "0.25").unwrap().says.to_string().starts_with("pass, inside the guard"));
    assert_eq!(figure(&verdict("four_way", "0.25").unwrap(), "true error outside the tolerance"), "15.87 %");
    assert!(verdict("guarded", "0.25").unwrap().says.to_string().starts_with("FAIL"));
    let wide = ask(json!({"tool": "verdict", "rule": "simple", "error": "0.1", "U": "0.2", "k": "2", "mpe": "0.3", "unit": "kg"})).unwrap();
    assert!(wide.says.to_string().contains("says little"), "{}", wide.says);
    assert_eq!(ask(json!({"tool": "verdict", "rule": "simple", "error": "0.1", "U": "0.1", "k": "two", "mpe": "0.3", "unit": "kg"})).unwrap_err().field.as_deref(), Some("k"));

    let repeats = |shown: &str| {
        ask(json!({"tool": "repeats", "class": "III", "shown": shown, "mpe": "0.2", "unit": "kg"}))
    };
    assert!(repeats("600,0 600,2 600,0").unwrap().says.to_string().starts_with("within: 0.2 kg apart"));
    assert!(repeats("600.0; 600.4; 600.0").unwrap().says.to_string().starts_with("OUTSIDE"));
    assert_eq!(repeats("600.0 600.2").unwrap_err().field.as_deref(), Some("shown"));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn the_division_for_so_many_divisions_gives_no_more_and_is_the_finest_that_does(max in 1i64..5_000, n in 100u32..12_000) {
        let max = Mass::new(Decimal::new(max, 0), Unit::Kg);
        let answer = ask(json!({"tool": "division", "max": max.to_string(), "n": n.to_string(), "unit": "kg"})).unwrap();
        // Only where a division of the series goes into Max a whole number of times is one told.
        if answer.figures.iter().any(|f| f.label == "division") {
            let d = parse_mass(&figure(&answer, "division"), Unit::Kg, "d").unwrap();
            let got = max.ratio(&d).unwrap();
            prop_assert!(got.is_whole() && got <= Decimal::from(n), "{got} divisions for {n}");
        }
    }
}

#[test]
fn what_no_cell_has_is_refused_in_a_calculator() {
    let signal = |sensitivity: &str| {
        ask(
            json!({"tool": "signal", "max": "870", "d": "0.2", "unit": "kg", "count": "4", "e_max": "500", "sensitivity": sensitivity, "excitation": "5"}),
        )
    };
    for sensitivity in ["0", "-2", "abc"] {
        assert_eq!(signal(sensitivity).unwrap_err().field.as_deref(), Some("sensitivity"), "{sensitivity}");
    }
    assert!(signal("2").is_ok());
    let asked = ask(json!({"tool": "division", "max": "870", "n": "4350", "unit": "kg"})).unwrap();
    assert_eq!(figure(&asked, "division"), "0.2 kg");
    let none = ask(json!({"tool": "division", "max": "870", "n": "0", "unit": "kg"})).unwrap_err();
    assert_eq!(none.field.as_deref(), Some("n"));
}
