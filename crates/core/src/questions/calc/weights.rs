//! R12, R13, R21.

use serde::Deserialize;
use serde_json::{Value, json};
use time::Date;

use super::{float, floats, op_of, read, unknown_op};
use crate::adjust::{AdequacyInputs, Prediction, SpanWeightRule, table4};
use crate::quantity::{Mass, Unit};
use crate::refusal::Refusal;
use crate::weights::{
    PlanInputs, ReferenceObject, ShareOfPiece, Target, WeightClass, due_grade, enough, loading_plan,
    reference_object, weight_tolerance,
};

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

#[derive(Deserialize)]
struct PredictOf {
    max: Mass,
    d: Mass,
    u_weight: Mass,
    mpe_max: Mass,
    #[serde(default)]
    loads: Vec<Mass>,
    weight: Mass,
    #[serde(default)]
    #[serde(alias = "school")]
    span_weight_rule: Option<SpanWeightRule>,
    #[serde(default)]
    working_load: Option<Mass>,
    #[serde(default)]
    internal_d: Option<Mass>,
    #[serde(default)]
    noise: Option<Mass>,
}

pub(crate) fn span(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "predict").as_str() {
        "predict" => predict(&read(input)?),
        "table4" => {
            let capacity: Mass = read(input.get("capacity").cloned().unwrap_or_default())?;
            match table4(&capacity) {
                Some(found) => Ok(json!({"weights": found.weights, "test_load": found.test_load})),
                None => Err(Refusal::from(Refused::AskTheBook)),
            }
        }
        other => Err(unknown_op(other)),
    }
}

fn predict(asked: &PredictOf) -> Result<Value, Refusal> {
    let inputs = AdequacyInputs {
        max: &asked.max,
        d: &asked.d,
        weight: &asked.weight,
        u_weight: &asked.u_weight,
        mpe_max: &asked.mpe_max,
        internal_d: asked.internal_d.as_ref(),
        noise: asked.noise.as_ref(),
    };
    let predicted = Prediction::new(&inputs)?;
    let curve: Vec<f64> = floats(&asked.loads.iter().map(|l| l.to(asked.d.unit)).collect::<Vec<_>>())
        .into_iter()
        .map(|x| predicted.u_at(x))
        .collect();
    let mut out = json!({
        "U_at_max": predicted.u_at_max(), "ratio": predicted.ratio(), "grade": predicted.grade(), "curve": curve, "unit": asked.d.unit,
    });
    if let Some(floor) = asked
        .span_weight_rule
        .and_then(|span_weight_rule| span_weight_rule.floor(&asked.max, asked.working_load.as_ref()))
    {
        out["below_floor"] = json!(asked.weight < floor);
        out["floor"] = json!(floor);
    }
    Ok(out)
}

#[derive(Deserialize)]
struct ToleranceOf {
    nominal: Mass,
    class: WeightClass,
}

#[derive(Deserialize)]
struct EnoughOf {
    pieces: Vec<ShareOfPiece>,
    mpe: Mass,
    #[serde(default, alias = "use_certificate", alias = "use_corrections")]
    corrected: bool,
}

#[derive(Deserialize)]
struct DueOf {
    #[serde(with = "iso_date")]
    day: Date,
    #[serde(with = "iso_date")]
    due: Date,
    #[serde(rename = "use")]
    used: String,
    #[serde(default)]
    overruled_because: Option<String>,
}

#[derive(Deserialize)]
struct ObjectOf {
    shown: Mass,
    scale_mpe: Mass,
}

pub(crate) fn pieces(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "tolerance").as_str() {
        "tolerance" => {
            let asked: ToleranceOf = read(input)?;
            Ok(json!({"mpe": weight_tolerance(&asked.nominal, asked.class)?.0}))
        }
        "enough" => {
            let asked: EnoughOf = read(input)?;
            let found = enough(&asked.pieces, asked.corrected, &asked.mpe)?;
            Ok(
                json!({"sum": float(&found.sum.value), "unit": found.sum.unit, "ratio": float(&found.ratio), "enough": found.enough}),
            )
        }
        "due" => {
            let asked: DueOf = read(input)?;
            let overruled = asked.overruled_because.is_some_and(|reason| !reason.trim().is_empty());
            let found = due_grade(asked.day, asked.due, asked.used == "proof", overruled);
            let mut out = json!({"grade": found.grade});
            if found.on_record {
                out["on_record"] = json!(true);
            }
            Ok(out)
        }
        "reference_object" => {
            let asked: ObjectOf = read(input)?;
            let object = reference_object(&asked.shown, &asked.scale_mpe);
            Ok(
                json!({"mass": object.mass, "u": object.u, "mark": ReferenceObject::MARK.to_string(), "certificate": false}),
            )
        }
        other => Err(unknown_op(other)),
    }
}

#[derive(Deserialize)]
struct TargetOf {
    load: Mass,
    #[serde(default)]
    exact: bool,
    #[serde(default)]
    not_above: bool,
}

#[derive(Deserialize)]
struct PieceOf {
    nominal: Mass,
    #[serde(default = "yes")]
    usable: bool,
}

const fn yes() -> bool {
    true
}

#[derive(Deserialize)]
struct PlanOf {
    unit: Unit,
    max: Mass,
    targets: Vec<TargetOf>,
    pieces: Vec<PieceOf>,
}

pub(crate) fn plan(input: Value) -> Result<Value, Refusal> {
    let asked: PlanOf = read(input)?;
    let inputs = PlanInputs {
        unit: asked.unit,
        max: asked.max,
        targets: asked
            .targets
            .into_iter()
            .map(|t| Target { load: t.load, exact: t.exact, not_above: t.not_above, fixed: None })
            .collect(),
        pieces: asked.pieces.into_iter().filter(|p| p.usable).map(|p| p.nominal).collect(),
    };
    inputs.check()?;
    Ok(match loading_plan(&inputs) {
        Ok(plan) => json!({
            "feasible": true, "exact_met": plan.exact_met, "work": plan.work, "moves": plan.moves, "pieces": plan.pieces, "proven": plan.proven,
            "loads": plan.loads.iter().map(|l| &l.load).collect::<Vec<_>>(),
        }),
        Err(error) => json!({"feasible": false, "unreachable": error.unreachable}),
    })
}

crate::refusals! {
    enum Refused {
        AskTheBook = "ask_the_book" at "capacity": text!("calc-ask-the-book");
    }
}
