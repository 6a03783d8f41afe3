//! Laws of the figures, asked through the calculator as anyone may ask it: they hold for every
//! scale, not for an example.

use ombret_core::Detail;
use ombret_core::quantity::{Decimal, Unit};
use ombret_core::questions::{answer, rules, work};
use proptest::prelude::*;
use serde_json::{Value, json};

const SCHEMES: [&str; 4] = ["r76_initial", "r76_in_service", "hb44_maintenance", "hb44_acceptance"];
const CLASSES: [&str; 4] = ["I", "II", "III", "IIII"];

fn ask(rule: &str, input: Value) -> Value {
    work(rule, input).unwrap_or_else(|refusal| panic!("{rule}: {refusal:?}"))
}

fn code(rule: &str, input: Value) -> String {
    work(rule, input).expect_err("a refusal").code.to_string()
}

fn mass(value: impl ToString, unit: &str) -> Value {
    json!({"value": value.to_string(), "unit": unit})
}

/// A decimal of so many thousandths.
fn thousandths(n: i64) -> Decimal {
    Decimal::new(n, 3)
}

fn value(answer: &Value) -> Decimal {
    answer["value"].as_str().expect("a mass").parse().expect("a decimal")
}

fn unit() -> impl Strategy<Value = &'static str> {
    prop_oneof![Just("mg"), Just("g"), Just("kg"), Just("t"), Just("lb"), Just("oz"), Just("tn")]
}

fn division() -> impl Strategy<Value = Decimal> {
    (prop_oneof![Just(1i64), Just(2), Just(5)], 0i64..5).prop_map(|(s, places)| Decimal::new(s, places))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    #[test]
    fn a_mass_comes_back_from_any_unit(n in -9_000_000i64..9_000_000, from in unit(), to in unit()) {
        let there = ask("R1", json!({"op": "convert", "mass": mass(thousandths(n), from), "to": to}))["mass"].clone();
        let back = value(&ask("R1", json!({"op": "convert", "mass": there, "to": from}))["mass"]);
        // 28 digits are kept, so what did not end comes back within the last of them.
        let off = (&back - &thousandths(n)).abs();
        prop_assert!(off <= &thousandths(n).abs() * &Decimal::new(1, 24), "{n} {from} → {to}: off by {off}");
    }

    #[test]
    fn converting_keeps_the_order_and_the_sign(a in -9_000_000i64..9_000_000, b in -9_000_000i64..9_000_000, from in unit(), to in unit()) {
        let there = |n: i64| value(&ask("R1", json!({"op": "convert", "mass": mass(thousandths(n), from), "to": to}))["mass"]);
        prop_assert_eq!(a.cmp(&b), there(a).cmp(&there(b)));
        prop_assert_eq!(there(-a), -&there(a));
    }

    #[test]
    fn what_is_typed_is_what_is_read_however_it_is_written(whole in 0i64..9_999_999, cents in 0i64..100, unit in unit(), comma in any::<bool>(), spaced in any::<bool>(), gap in 0usize..4) {
        let digits = whole.to_string();
        let grouped = if spaced {
            let head = digits.len() % 3;
            let mut parts: Vec<&str> = if head == 0 { Vec::new() } else { vec![&digits[..head]] };
            parts.extend((0..digits.len() / 3).map(|i| &digits[head + 3 * i..head + 3 * i + 3]));
            parts.join([" ", "\u{a0}", "\u{202f}", "\u{2009}"][gap])
        } else { digits };
        let mark = if comma { ',' } else { '.' };
        let text = format!("{grouped}{mark}{cents:02} {unit}");
        let read = ask("R1", json!({"op": "parse", "text": text, "default_unit": "kg", "column": "load"}))["mass"].clone();
        prop_assert_eq!(value(&read), Decimal::new(whole * 100 + cents, 2));
        prop_assert_eq!(read["unit"].as_str().unwrap(), unit);
    }

    #[test]
    fn text_that_is_no_mass_is_refused_and_never_guessed(text in "[0-9a-z.,+ -]{0,14}") {
        let asked = json!({"op": "parse", "text": text, "default_unit": "kg", "column": "load"});
        if let Ok(read) = work("R1", asked) {
            // Whatever is taken is written with these digits and no others.
            let digits: String = text.chars().filter(char::is_ascii_digit).collect();
            let taken: String = value(&read["mass"]).to_string().chars().filter(char::is_ascii_digit).collect();
            prop_assert_eq!(digits.trim_start_matches('0').trim_end_matches('0'), taken.trim_start_matches('0').trim_end_matches('0'), "{}", text);
            prop_assert!(text.matches([',', '.']).count() <= 1, "{}", text);
        }
    }

    #[test]
    fn every_division_of_the_series_is_taken_and_its_neighbours_are_named(s in prop_oneof![Just(1i64), Just(2), Just(5)], places in 0i64..6, off in 1i64..10) {
        let d = Decimal::new(s, places);
        let taken = ask("R2", json!({"op": "division", "d": d.to_string()}));
        prop_assert_eq!(&taken["s"], &json!(s));
        prop_assert_eq!(&taken["decimals"], &json!(places));
        let wrong = &d + &Decimal::new(off, places + 1);
        if let Err(refusal) = work("R2", json!({"op": "division", "d": wrong.to_string()})) {
            let named = |key: &str| match &refusal.figures[key] {
                Detail::Words(words) => words.parse::<Decimal>().unwrap(),
                other => panic!("{other:?}"),
            };
            prop_assert!(named("lower") < wrong && wrong < named("upper"));
            for key in ["lower", "upper"] {
                let there = work("R2", json!({"op": "division", "d": named(key).to_string()}));
                prop_assert!(there.is_ok(), "{}", named(key));
            }
        }
    }

    #[test]
    fn an_indication_is_the_nearest_division(n in 0i64..600_000, d in division()) {
        let load = thousandths(n);
        let shown = ask("R2", json!({"op": "indication", "load": mass(&load, "kg"), "d": mass(&d, "kg"), "max": mass(700, "kg")}));
        let shown: Decimal = shown["shown"].as_str().expect("shown").parse().unwrap();
        prop_assert!(&(&shown - &load).abs() * &Decimal::from(2u32) <= d);
        prop_assert!(shown.quotient(&d).unwrap().is_whole(), "a whole number of divisions");
    }

    #[test]
    fn what_is_keyed_in_reads_back_as_the_weight(n in 1i64..999_999, decimals in 0i64..4) {
        let weight = Decimal::new(n, decimals);
        let digits = ask("R2", json!({"op": "digits", "weight": mass(&weight, "kg"), "decimals": decimals, "width": 6}))["digits"].as_str().unwrap().to_owned();
        prop_assert_eq!(digits.len(), 6);
        prop_assert_eq!(Decimal::new(digits.parse::<i64>().unwrap(), decimals), weight);
    }

    #[test]
    fn a_tolerance_never_shrinks_with_the_load_and_looks_at_its_size_only(class in 0usize..4, scheme in 0usize..4, a in 0i64..4_000_000, b in 0i64..4_000_000) {
        let at = |n: i64| value(&ask("R4", json!({"scheme": SCHEMES[scheme], "class": CLASSES[class], "e": mass(1, "kg"), "load": mass(thousandths(n), "kg")}))["mpe"]);
        let (low, high) = (a.min(b), a.max(b));
        prop_assert!(at(low) <= at(high));
        prop_assert_eq!(at(-high), at(high));
    }

    #[test]
    fn in_service_is_twice_the_first_and_acceptance_half_of_maintenance(class in 0usize..4, n in 0i64..9_000_000) {
        let at = |scheme: &str| value(&ask("R4", json!({"scheme": scheme, "class": CLASSES[class], "e": mass("0.5", "g"), "load": mass(thousandths(n), "g")}))["mpe"]);
        prop_assert_eq!(at("r76_in_service"), &at("r76_initial") * &Decimal::from(2u32));
        prop_assert_eq!(at("hb44_maintenance"), &at("hb44_acceptance") * &Decimal::from(2u32));
    }

    #[test]
    fn the_limit_itself_is_within_and_the_next_step_is_not(class in 0usize..4, scheme in 0usize..4, n in 0i64..4_000_000, minus in any::<bool>()) {
        let base = json!({"scheme": SCHEMES[scheme], "class": CLASSES[class], "e": mass(1, "kg"), "load": mass(thousandths(n), "kg")});
        let mpe = value(&ask("R4", base.clone())["mpe"]);
        let judged = |error: &Decimal| {
            let mut asked = base.clone();
            asked["error"] = mass(error, "kg");
            ask("R4", asked)["within"].as_bool().unwrap()
        };
        let signed = |error: Decimal| if minus { -&error } else { error };
        prop_assert!(judged(&signed(mpe.clone())));
        prop_assert!(!judged(&signed(&mpe + &Decimal::new(1, 9))));
    }

    #[test]
    fn a_house_tolerance_is_one_of_its_terms(a in 1i64..40, p in 1i64..400, q in 1i64..200, n in 0i64..600_000, largest in any::<bool>()) {
        let house = json!({"pick": if largest { "largest" } else { "smallest" }, "divisions": Decimal::new(a, 1).to_string(),
            "percent_of_load": Decimal::new(p, 3).to_string(), "percent_of_max": Decimal::new(q, 3).to_string()});
        let load = thousandths(n);
        let (d, max) = (Decimal::new(2, 1), Decimal::from(600u32));
        let mpe = value(&ask("R4", json!({"scheme": "house", "d": mass(&d, "kg"), "max": mass(&max, "kg"), "load": mass(&load, "kg"), "house": house}))["mpe"]);
        let terms = [&Decimal::new(a, 1) * &d, &Decimal::new(p, 5) * &load, &Decimal::new(q, 5) * &max];
        let expected = if largest { terms.iter().max() } else { terms.iter().min() };
        prop_assert_eq!(Some(&mpe), expected);
    }

    #[test]
    fn error_by_changeover_points_lies_within_half_a_division_of_the_plain_one(shown in 0i64..3_000, load in 0i64..600_000, added in 0i64..=200) {
        let d = Decimal::new(2, 1);
        let (shown, load) = (Decimal::new(shown * 2, 1), thousandths(load));
        let base = json!({"op": "error", "unit": "kg", "shown": mass(&shown, "kg"), "load": mass(&load, "kg"), "d": mass(&d, "kg")});
        let plain = value(&ask("R5", base.clone())["error"]);
        prop_assert_eq!(&plain, &(&shown - &load));
        let mut fine = base;
        fine["added"] = mass(added, "g");
        let fine = value(&ask("R5", fine)["error"]);
        prop_assert_eq!(&fine, &(&plain + &(&Decimal::new(1, 1) - &thousandths(added))));
    }

    #[test]
    fn substitution_grows_by_the_weights_and_what_the_display_gained(m in 1i64..2_000, gains in proptest::collection::vec(-40i64..40, 1..6)) {
        let weights = Decimal::new(m, 0);
        let mut expected = vec![weights.clone()];
        let steps: Vec<Value> = gains.iter().enumerate().map(|(i, gain)| {
            let gain = Decimal::new(*gain * 2, 1);
            let next = &(expected.last().unwrap() + &weights) + &gain;
            expected.push(next);
            let before = Decimal::new(m * (i64::try_from(i).unwrap() + 1), 0);
            json!({"shown_before": mass(&before, "kg"), "shown_with_material": mass(&before + &gain, "kg")})
        }).collect();
        let loads: Vec<Decimal> = ask("R5", json!({"op": "substitution", "unit": "kg", "weights": mass(&weights, "kg"), "steps": steps}))["loads"].as_array().unwrap().iter().map(value).collect();
        prop_assert_eq!(loads, expected);
    }

    #[test]
    fn two_points_pass_through_both_and_stay_straight(zero in -50_000i64..200_000, rise in 100i64..2_000_000, w in 1i64..5_000, x in -3i64..40) {
        let base = json!({"op": "two_point", "weight": mass(w, "kg"), "counts_zero": zero.to_string(), "counts_weight": (zero + rise).to_string()});
        let at = |counts: Vec<i64>| -> Vec<f64> {
            let mut asked = base.clone();
            asked["counts"] = json!(counts.iter().map(ToString::to_string).collect::<Vec<_>>());
            ask("R11", asked)["masses"].as_array().unwrap().iter().map(|v| v.as_f64().unwrap()).collect()
        };
        #[allow(clippy::cast_precision_loss, reason = "small whole numbers")]
        let (w, x_part) = (w as f64, x as f64);
        let masses = at(vec![zero, zero + rise, zero + x * rise]);
        prop_assert!(masses[0].abs() < 1e-9 * w);
        prop_assert!((masses[1] - w).abs() < 1e-9 * w);
        prop_assert!((masses[2] - x_part * w).abs() < 1e-8 * w * x_part.abs().max(1.0));
    }

    #[test]
    fn several_points_on_a_line_are_the_line(zero in 0i64..100_000, per_kg in 10i64..900, loads in proptest::collection::btree_set(1i64..3_000, 2..7), at in 0i64..4_000) {
        let points: Vec<Value> = std::iter::once(0).chain(loads).map(|kg| json!({"counts": (zero + kg * per_kg).to_string(), "mass": mass(kg, "kg")})).collect();
        let asked = json!({"op": "multi_point", "points": points, "counts": [(zero + at * per_kg).to_string()]});
        let got = ask("R11", asked)["masses"][0].as_f64().unwrap();
        #[allow(clippy::cast_precision_loss, reason = "small whole numbers")]
        let at = at as f64;
        prop_assert!((got - at).abs() < 1e-8 * at.max(1.0));
    }

    #[test]
    fn a_new_factor_makes_the_load_read_right(factor in 5_000i64..20_000, load in 1i64..600, shown in 1i64..7_000, zero in -20i64..20) {
        prop_assume!(shown != zero && shown > zero);
        let (f, shown_mass, zero_mass) = (Decimal::new(factor, 4), Decimal::new(shown, 1), Decimal::new(zero, 1));
        let new = ask("R11", json!({"op": "factor", "factor": f.to_string(), "load": mass(load, "kg"), "shown": mass(&shown_mass, "kg"), "shown_zero": mass(&zero_mass, "kg")}))["factor"].as_f64().unwrap();
        let net = (&shown_mass - &zero_mass).to_f64();
        #[allow(clippy::cast_precision_loss, reason = "small whole numbers")]
        let load = load as f64;
        prop_assert!((net * new / f.to_f64() - load).abs() < 1e-9 * load);
    }

    #[test]
    fn more_span_weight_never_predicts_a_larger_error(a in 1i64..600, b in 1i64..600, u in 1i64..4_000) {
        // The weight's own uncertainty grows with it here, as it does for pieces of one class.
        let ratio = |w: i64| ask("R12", json!({"op": "predict", "max": mass(600, "kg"), "d": mass("0.2", "kg"), "mpe_max": mass("0.3", "kg"), "loads": [],
            "u_weight": mass(Decimal::new(u * w, 5), "g"), "weight": mass(w, "kg")}))["ratio"].as_f64().unwrap();
        let (small, large) = (a.min(b), a.max(b));
        prop_assert!(ratio(large) <= ratio(small) * (1.0 + 1e-9));
    }

    #[test]
    fn gravity_is_least_at_the_equator_alike_on_both_sides_and_falls_with_height(latitude in 0i64..9_000, altitude in -500i64..8_900) {
        let g = |latitude: i64, altitude: i64| ask("R16", json!({"op": "g", "latitude": Decimal::new(latitude, 2).to_string(), "altitude_m": altitude.to_string()}))["g"].as_f64().unwrap();
        prop_assert!((g(latitude, altitude) - g(-latitude, altitude)).abs() < 1e-12);
        prop_assert!(g(latitude, altitude) >= g(0, altitude));
        prop_assert!(g(latitude, altitude + 100) < g(latitude, altitude));
        prop_assert!((9.74..9.85).contains(&g(latitude, altitude)));
    }

    #[test]
    fn a_scale_that_is_not_moved_is_not_shifted_and_the_way_back_undoes_the_way_there(a in -6_000i64..6_000, b in -6_000i64..6_000) {
        let place = |latitude: i64| json!({"latitude": Decimal::new(latitude, 2).to_string(), "altitude_m": "0"});
        let shift = |from: i64, to: i64| ask("R16", json!({"op": "shift", "max": mass(60, "kg"), "d": mass("0.02", "kg"), "scheme": "r76_initial", "class": "III", "adjusted": place(from), "used": place(to)}));
        prop_assert!(shift(a, a)["shift_at_max_d"].as_f64().unwrap().abs() < 1e-12);
        let round = shift(a, b)["factor"].as_f64().unwrap() * shift(b, a)["factor"].as_f64().unwrap();
        prop_assert!((round - 1.0).abs() < 1e-12);
    }

    #[test]
    fn a_still_signal_is_steady_as_soon_as_it_has_been_held(level in -500i64..500, rate in 2u32..20, noise in 0i64..4) {
        // Noise up and down by turns: inside the band, without a slope worth speaking of.
        let samples: Vec<Value> = (0..rate * 6).map(|i| {
            let up = if i % 2 == 0 { noise } else { 0 };
            json!([f64::from(i) / f64::from(rate), Decimal::new(level * 1_000 + up, 3).to_f64()])
        }).collect();
        let answer = ask("R17", json!({"samples": samples, "band": "0.01"}));
        prop_assert_eq!(&answer["steady"], &json!(true));
        prop_assert_eq!(&answer["restarts"], &json!(0));
        prop_assert!((answer["captured"].as_f64().unwrap() - Decimal::new(level, 0).to_f64()).abs() < 0.01);
    }

    #[test]
    fn a_signal_that_keeps_moving_is_never_steady(step in 2i64..50, rate in 2u32..10) {
        let samples: Vec<Value> = (0..rate * 8).map(|i| json!([f64::from(i) / f64::from(rate), f64::from(i) * Decimal::new(step, 2).to_f64()])).collect();
        let answer = ask("R17", json!({"samples": samples, "band": "0.01"}));
        prop_assert_eq!(&answer["steady"], &json!(false));
        prop_assert!(answer["restarts"].as_u64().unwrap() > 0);
    }

    #[test]
    fn weights_of_a_better_class_have_a_smaller_tolerance(nominal in prop_oneof![Just("1"), Just("2"), Just("5"), Just("10"), Just("20"), Just("50")]) {
        let mpe = |class: &str| value(&ask("R13", json!({"op": "tolerance", "nominal": mass(nominal, "kg"), "class": class}))["mpe"]);
        let classes = ["E1", "E2", "F1", "F2", "M1", "M2", "M3"];
        for pair in classes.windows(2) {
            prop_assert!(mpe(pair[0]) < mpe(pair[1]), "{} and {} of {nominal} kg", pair[0], pair[1]);
        }
    }

    #[test]
    fn weights_are_enough_up_to_a_third_and_not_beyond(pieces in 1usize..12, cents in 1i64..3_000) {
        let kit: Vec<Value> = (0..pieces).map(|_| json!({"nominal": mass(20, "kg"), "class": "M1"})).collect();
        let mpe = Decimal::new(cents, 4);
        let answer = ask("R13", json!({"op": "enough", "pieces": kit, "mpe": mass(&mpe, "kg")}));
        let sum = Decimal::new(i64::try_from(pieces).unwrap(), 3);
        prop_assert_eq!(answer["enough"].as_bool().unwrap(), &sum * &Decimal::from(3u32) <= mpe);
    }

    #[test]
    fn any_line_gets_one_answer_of_one_line(text in "(?s).{0,200}") {
        let line = answer(&text);
        let read: Value = serde_json::from_str(&line).expect("JSON");
        prop_assert!(read.get("result").is_some() && !line.contains('\n'));
    }

    #[test]
    fn any_input_to_any_rule_is_answered_or_refused(which in any::<proptest::sample::Index>(), op in "[a-z_]{0,12}", value in "[-0-9.e]{0,9}", n in any::<i64>()) {
        let numbers: Vec<&str> = rules().map(|(number, _)| number).collect();
        let rule = numbers[which.index(numbers.len())];
        let odd = json!({"op": op, "max": mass(&value, "kg"), "d": mass(n, "g"), "load": value, "shown": n, "unit": "kg", "scheme": op, "samples": [[n, value]]});
        if let Err(refusal) = work(rule, odd) {
            prop_assert!(!refusal.message.is_empty() && !refusal.code.is_empty());
        }
    }
}

#[test]
fn each_refusal_of_a_set_up_has_its_own_reason() {
    let cases = [
        ("R2", json!({"op": "division", "d": "-2"}), "not_positive"),
        ("R2", json!({"op": "division", "d": "3"}), "not_in_series"),
        ("R2", json!({"op": "n", "max": mass("75.3", "kg"), "d": mass("0.2", "kg")}), "n_not_whole"),
        ("R2", json!({"op": "digits", "weight": mass(0, "kg"), "decimals": 2, "width": 6}), "not_positive"),
        (
            "R2",
            json!({"op": "digits", "weight": mass("1000000", "kg"), "decimals": 0, "width": 6}),
            "too_wide",
        ),
        (
            "R3a",
            json!({"scheme": "r76", "class": "IIII", "e": mass(1, "g"), "max": mass(500, "g")}),
            "no_row",
        ),
        (
            "R4",
            json!({"scheme": "r76_initial", "class": "III L", "e": mass(1, "kg"), "load": mass(1, "kg")}),
            "no_such_class",
        ),
        (
            "R11",
            json!({"op": "two_point", "weight": mass(1, "kg"), "counts_zero": "5", "counts_weight": "5"}),
            "reversed_or_dead",
        ),
        ("R16", json!({"op": "g", "latitude": "-90.01", "altitude_m": "0"}), "latitude"),
        ("R16", json!({"op": "g", "latitude": "0", "altitude_m": "9000.5"}), "altitude"),
        ("R99", json!({}), "unknown_rule"),
    ];
    for (rule, input, expected) in cases {
        assert_eq!(code(rule, input.clone()), expected, "{rule} {input}");
    }
}

#[test]
fn the_edges_of_gravity_are_answered() {
    for (latitude, altitude) in [("90", "-500"), ("-90", "9000"), ("0", "0")] {
        assert!(
            work("R16", json!({"op": "g", "latitude": latitude, "altitude_m": altitude})).is_ok(),
            "{latitude} {altitude}"
        );
    }
}

#[test]
fn a_pound_is_exactly_what_the_law_says_in_every_unit() {
    for (unit, kg) in [
        ("lb", "0.45359237"),
        ("oz", "0.028349523125"),
        ("tn", "907.18474"),
        ("t", "1000"),
        ("g", "0.001"),
        ("mg", "0.000001"),
    ] {
        assert_eq!(
            value(&ask("R1", json!({"op": "convert", "mass": mass(1, unit), "to": "kg"}))["mass"]),
            kg.parse::<Decimal>().unwrap(),
            "{unit}"
        );
    }
    assert_eq!(Unit::ALL.len(), 7);
}
