//! The worked cases of `vectors/`, every line of every rule that the calculator knows. They may
//! change only when a rule's public source does.

use std::path::Path;

use ombret_core::questions::calc;
use serde_json::Value;

/// Compares an expected value with what came out: masses and decimals as numbers, floats within
/// the case's tolerance, everything else as it is.
fn same(expected: &Value, got: &Value, key: &str, tolerance: &Value) -> bool {
    const LETTER_BY_LETTER: [&str; 5] = ["shown", "digits", "U_text", "E_text", "rounded"];
    match (expected, got) {
        (Value::Object(e), Value::Object(g)) => {
            e.iter().all(|(k, v)| g.get(k).is_some_and(|w| same(v, w, k, tolerance)))
        }
        (Value::Array(e), Value::Array(g)) => {
            e.len() == g.len() && e.iter().zip(g).all(|(v, w)| same(v, w, key, tolerance))
        }
        (Value::String(e), Value::String(g)) if !LETTER_BY_LETTER.contains(&key) => {
            match (decimal(e), decimal(g)) {
                (Some(a), Some(b)) => a == b,
                _ => e == g,
            }
        }
        (Value::Number(e), Value::Number(g)) if e.is_f64() || g.is_f64() => {
            let (a, b) = (e.as_f64().unwrap(), g.as_f64().unwrap());
            let part = |name: &str| tolerance.get(name).and_then(Value::as_f64).unwrap_or(0.0);
            (a - b).abs() <= (part("rel") * a.abs().max(b.abs())).max(part("abs"))
        }
        (e, g) => e == g,
    }
}

fn decimal(text: &str) -> Option<ombret_core::quantity::Decimal> {
    text.parse().ok()
}

#[test]
fn every_worked_case_comes_out() {
    let known: Vec<&str> = calc::rules().map(|(rule, _)| rule).collect();
    let mut failures = Vec::new();
    let mut run = std::collections::BTreeMap::<String, usize>::new();
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("vectors");
    for file in std::fs::read_dir(folder).unwrap() {
        for line in std::fs::read_to_string(file.unwrap().path()).unwrap().lines() {
            let case: Value = serde_json::from_str(line).unwrap();
            let rule = case["rule"].as_str().unwrap().to_owned();
            if !known.contains(&rule.as_str()) {
                continue;
            }
            let question = serde_json::json!({"rule": rule, "input": case["input"]}).to_string();
            let answer: Value = serde_json::from_str(&calc::answer(&question)).unwrap();
            let got = &answer["result"];
            let wanted_refusal = case["expect"].get("refused").is_some();
            if !same(&case["expect"], got, "", &case["tolerance"])
                || (got.get("refused").is_some() != wanted_refusal)
            {
                failures.push(format!(
                    "{rule} {}\n  expected {}\n  got      {got}",
                    case["case"], case["expect"]
                ));
            }
            *run.entry(rule).or_default() += 1;
        }
    }
    assert_eq!(run.len(), known.len(), "every rule has its cases: {run:?}");
    assert!(failures.is_empty(), "{} of {run:?} fail:\n{}", failures.len(), failures.join("\n"));
}

#[test]
fn a_setup_has_no_finding_that_its_case_does_not_name() {
    let text = std::fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("vectors/R03-setup.jsonl"))
        .unwrap();
    for line in text.lines() {
        let case: Value = serde_json::from_str(line).unwrap();
        let Some(expected) = case["expect"].get("findings").and_then(Value::as_object) else { continue };
        let result = calc::work("R3", case["input"].clone()).unwrap();
        let names = |o: &serde_json::Map<String, Value>| o.keys().cloned().collect::<Vec<_>>();
        assert_eq!(names(result["findings"].as_object().unwrap()), names(expected), "{}", case["case"]);
    }
}

#[test]
fn a_bad_line_is_answered_and_not_fatal() {
    for line in [
        "",
        "{",
        "[]",
        "{\"rule\": 7}",
        "{\"rule\": \"R99\"}",
        "{\"rule\": \"R1\"}",
        "{\"rule\": \"R1\", \"input\": {\"op\": \"convert\", \"mass\": {\"value\": 5, \"unit\": \"kg\"}, \"to\": \"g\"}}",
    ] {
        let answer: Value = serde_json::from_str(&calc::answer(line)).unwrap();
        assert!(answer["result"]["refused"].is_string(), "{line}: {answer}");
        assert!(answer["result"]["message"].is_string(), "{line}: {answer}");
    }
}

/// The cases of docs/worked.md, each worked out by hand beside its figures.
#[test]
fn what_was_worked_by_hand_comes_out_of_the_calculator() {
    let text =
        std::fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/worked.md")).unwrap();
    let mut rules = Vec::new();
    for block in text.split("```json\n").skip(1) {
        let case: Value = serde_json::from_str(block.split("\n```").next().unwrap()).unwrap();
        let rule = case["rule"].as_str().unwrap();
        let got = calc::work(rule, case["input"].clone()).unwrap();
        let tolerance = serde_json::json!({"rel": 1e-9, "abs": 1e-12});
        assert!(
            same(&case["expect"], &got, "", &tolerance),
            "{rule}\n  expected {}\n  got      {got}",
            case["expect"]
        );
        rules.push(rule.to_owned());
    }
    assert_eq!(rules, ["R5", "R6", "R7", "R8", "R9", "R10", "R14", "R15", "R18", "R20"]);
}
