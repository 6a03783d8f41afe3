//! The rules as a calculator: one JSON object in, one out, so that anyone can check figures in
//! bulk. Input and result have the shape of the worked cases in `vectors/`.

mod adjust;
mod checks;
mod diagnosis;
mod gravity;
mod measurement;
mod quantity;
mod schedule;
mod setup;
mod stability;
mod tolerance;
mod weights;

use serde::Deserialize;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};

use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::wording::Text;

/// A rule by its number, what it is about, and how it is worked out.
struct Rule {
    number: &'static str,
    about: &'static str,
    answer: fn(Value) -> Result<Value, Refusal>,
}

const RULES: &[Rule] = &[
    Rule { number: "R1", about: "mass and units: convert, parse", answer: quantity::mass },
    Rule {
        number: "R2",
        about: "division and display: division, n, indication, multi_interval, digits",
        answer: quantity::display,
    },
    Rule { number: "R3", about: "judging a set-up: findings, alternatives", answer: setup::findings },
    Rule { number: "R3a", about: "class limits of e and n", answer: setup::class },
    Rule { number: "R4", about: "tolerance at a load", answer: tolerance::tolerance },
    Rule {
        number: "R5",
        about: "error of indication: error, load, substitution",
        answer: measurement::error,
    },
    Rule { number: "R6", about: "repeatability", answer: checks::repeats },
    Rule { number: "R7", about: "corners: load, judge", answer: checks::corner },
    Rule { number: "R8", about: "discrimination", answer: checks::discrimination },
    Rule { number: "R9", about: "zero after a load", answer: checks::zero },
    Rule { number: "R10", about: "loads up and down", answer: checks::up_and_down },
    Rule {
        number: "R11",
        about: "adjustment: two_point, multi_point, factor, internal",
        answer: adjust::adjustment,
    },
    Rule { number: "R12", about: "span weight: predict, table4", answer: weights::span },
    Rule {
        number: "R13",
        about: "weights: tolerance, enough, due, reference_object",
        answer: weights::pieces,
    },
    Rule { number: "R14", about: "uncertainty: budget, substitution", answer: checks::uncertainty },
    Rule { number: "R15", about: "verdict with uncertainty", answer: checks::verdict },
    Rule { number: "R16", about: "gravity: g, shift", answer: gravity::site },
    Rule { number: "R17", about: "steadiness of a series of samples", answer: stability::steadiness },
    Rule { number: "R18", about: "what is wrong: causes ranked by the readings", answer: diagnosis::causes },
    Rule { number: "R19", about: "corner trim", answer: adjust::corner_trim },
    Rule { number: "R20", about: "minimum weight of a laboratory balance", answer: checks::minimum },
    Rule { number: "R21", about: "loading plan with the least work", answer: weights::plan },
    Rule { number: "R22", about: "next due: interval, trend", answer: schedule::due },
];

/// One line of input.
#[derive(Deserialize)]
struct Question {
    rule: String,
    #[serde(default)]
    input: Value,
}

/// The rules that can be asked, with what each is about.
pub fn rules() -> impl Iterator<Item = (&'static str, &'static str)> {
    RULES.iter().map(|rule| (rule.number, rule.about))
}

/// Answers one line: `{"rule": …, "input": {…}}` gives `{"rule": …, "result": {…}}`, a refusal as
/// `{"refused": code, "message": …}` inside the result. A bad line is answered too.
pub fn answer(line: &str) -> String {
    let (rule, result) = match serde_json::from_str::<Question>(line) {
        Ok(question) => {
            let result = work(&question.rule, question.input);
            (Value::String(question.rule), result)
        }
        Err(error) => (Value::Null, Err(Refusal::from(Refused::BadLine { error: error.to_string() }))),
    };
    json!({"rule": rule, "result": result.unwrap_or_else(|refusal| refused(&refusal))}).to_string()
}

/// Works out one rule.
///
/// # Errors
/// The rule's refusal, `unknown_rule`, or `bad_input` where the input has the wrong shape.
pub fn work(rule: &str, input: Value) -> Result<Value, Refusal> {
    match RULES.iter().find(|known| known.number == rule) {
        Some(known) => (known.answer)(input),
        None => {
            let known: Vec<&str> = RULES.iter().map(|r| r.number).collect();
            Err(Refusal::from(Refused::UnknownRule {
                rule: rule.chars().take(20).collect::<String>(),
                known: known.join(", "),
            }))
        }
    }
}

fn refused(refusal: &Refusal) -> Value {
    let mut out = json!({"refused": refusal.code, "message": refusal.message.to_string()});
    if let Some(object) = out.as_object_mut() {
        let figures = refusal.figures.iter();
        object.extend(figures.map(|(name, figure)| (name.clone(), json!(figure))));
    }
    out
}

fn read<T: DeserializeOwned>(input: Value) -> Result<T, Refusal> {
    serde_json::from_value(input).map_err(|error| {
        // An unknown unit is a reason of its own, wherever it stands.
        let text = error.to_string();
        match text.strip_prefix("unknown variant `").and_then(|rest| rest.split_once('`')) {
            Some((symbol, _)) if text.contains("`lb`") => {
                Refusal::from(Refused::UnknownUnit { symbol: symbol.to_owned() }).with("unit", symbol)
            }
            _ => Refusal::from(Refused::BadInput { says: Text::verbatim(text) }),
        }
    })
}

/// A decimal as a floating-point JSON number.
fn float(value: &Decimal) -> f64 {
    value.to_f64()
}

fn floats<'a>(masses: impl IntoIterator<Item = &'a Mass>) -> Vec<f64> {
    masses.into_iter().map(|m| float(&m.value)).collect()
}

fn unknown_op(op: &str) -> Refusal {
    Refusal::from(Refused::NoPart { op: op.chars().take(24).collect::<String>() })
}

/// The part of a rule that is asked for; `default` where none is named.
fn op_of(input: &Value, default: &str) -> String {
    input.get("op").and_then(Value::as_str).unwrap_or(default).to_owned()
}

crate::refusals! {
    enum Refused {
        BadLine { error: String } = "bad_line": text!("calc-no-question", error);
        UnknownRule { rule: String, known: String } = "unknown_rule": text!("calc-unknown-rule", rule, known);
        UnknownUnit { symbol: String } = "unknown_unit": text!("calc-unknown-unit", symbol);
        BadInput { says: Text } = "bad_input": says;
        NoPart { op: String } = "bad_input": text!("calc-no-part", op);
    }
}
