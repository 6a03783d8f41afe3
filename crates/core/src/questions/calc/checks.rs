//! R6 to R10, R14, R15, R20: everything that is judged of readings.

use serde::Deserialize;
use serde_json::{Map, Value, json};

use super::{op_of, read, unknown_op};
use crate::measurement::{
    BothWays, BudgetInputs, CornerLoadRule, DecisionRule, ZeroRule, both_ways, budget, corner_load, corners,
    decide, discriminates, largest_from_centre, minimum_weight, repeatability, weighings, zero_return,
};
use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::tolerance::{Class, House, Scheme, TableRow, Tolerance};
use crate::weights::growth;

#[derive(Deserialize)]
struct Repeats {
    class: String,
    shown: Vec<Mass>,
    mpe: Mass,
}

pub(crate) fn repeats(input: Value) -> Result<Value, Refusal> {
    let asked: Repeats = read(input)?;
    let result = repeatability(weighings(asked.class.parse::<Class>()?), &asked.shown, &asked.mpe)?;
    Ok(json!({"range": result.range, "s": result.s, "within": result.within}))
}

#[derive(Deserialize)]
struct CornerLoadOf {
    max: Mass,
    supports: u32,
    #[serde(default)]
    way: CornerLoadRule,
}

#[derive(Deserialize)]
struct CornersOf {
    load: Mass,
    mpe: Mass,
    shown: std::collections::BTreeMap<String, Mass>,
}

pub(crate) fn corner(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "judge").as_str() {
        "load" => {
            let asked: CornerLoadOf = read(input)?;
            let result = corner_load(&asked.max, asked.supports, asked.way)?;
            let mut out = json!({"load": result.load});
            if let Some((from, to)) = result.window {
                out["from"] = json!(from);
                out["to"] = json!(to);
            }
            Ok(out)
        }
        "judge" => {
            let asked: CornersOf = read(input)?;
            // The centre first, then the places as one walks round; what else there is by its name.
            const ROUND: [&str; 5] = ["centre", "front_left", "front_right", "rear_right", "rear_left"];
            let mut shown: Vec<(&str, &Mass)> =
                asked.shown.iter().map(|(place, shown)| (place.as_str(), shown)).collect();
            shown.sort_by_key(|(place, _)| {
                (ROUND.iter().position(|r| r == place).unwrap_or(ROUND.len()), number_in(place))
            });
            let judged = corners(&asked.load, &asked.mpe, shown);
            let positions: Map<String, Value> = judged
                .iter()
                .map(|j| (j.position.clone(), json!({"error": j.error, "within": j.within})))
                .collect();
            let mut out = json!({"positions": positions, "within": judged.iter().all(|j| j.within)});
            if asked.shown.contains_key("centre") {
                out["largest_from_centre"] = match largest_from_centre(&judged) {
                    Some((position, difference)) => json!({"position": position, "difference": difference}),
                    None => json!({"position": null, "difference": Mass::zero(asked.mpe.unit)}),
                };
            }
            Ok(out)
        }
        other => Err(unknown_op(other)),
    }
}

/// The number at the end of a place's name, so that the tenth comes after the ninth.
fn number_in(place: &str) -> u64 {
    place.rsplit('_').next().and_then(|end| end.parse().ok()).unwrap_or(0)
}

#[derive(Deserialize)]
struct Discrimination {
    d: Mass,
    added: Mass,
    before: Mass,
    after: Mass,
}

pub(crate) fn discrimination(input: Value) -> Result<Value, Refusal> {
    let Discrimination { d, added, before, after } = read(input)?;
    Ok(json!({"within": discriminates(&d, &added, &before, &after)?}))
}

#[derive(Deserialize)]
struct Zero {
    scheme: ZeroRule,
    e: Mass,
    limit: Option<Mass>,
    before: Mass,
    after: Mass,
}

pub(crate) fn zero(input: Value) -> Result<Value, Refusal> {
    let asked: Zero = read(input)?;
    let result = zero_return(asked.scheme, &asked.e, asked.limit.as_ref(), &asked.before, &asked.after)?;
    Ok(json!({"deviation": result.deviation, "limit": result.limit, "within": result.within}))
}

#[derive(Deserialize)]
struct UpAndDown {
    scheme: Scheme,
    class: Option<String>,
    e: Option<Mass>,
    d: Option<Mass>,
    max: Option<Mass>,
    points: Vec<BothWays>,
    house: Option<House>,
    table: Option<Vec<TableRow>>,
}

pub(crate) fn up_and_down(input: Value) -> Result<Value, Refusal> {
    let asked: UpAndDown = read(input)?;
    let class = asked.class.as_deref().map(str::parse::<Class>).transpose()?;
    let tolerance = Tolerance { scheme: asked.scheme, class, house: asked.house, table: asked.table };
    let e = asked.e.or(asked.d).ok_or_else(|| Refusal::from(Refused::BadInput))?;
    let judged = both_ways(&asked.points, &tolerance, &e, asked.max.as_ref())?;
    let mut largest: Option<&Mass> = None;
    for hysteresis in judged.iter().filter_map(|j| j.hysteresis.as_ref()) {
        if largest.is_none_or(|l| hysteresis.abs() > l.abs()) {
            largest = Some(hysteresis);
        }
    }
    let points: Vec<Value> = judged
        .iter()
        .map(|j| {
            let mut point = json!({});
            for (way, result) in [("up", &j.up), ("down", &j.down)] {
                if let Some((error, within)) = result {
                    point[format!("error_{way}")] = json!(error);
                    point[format!("within_{way}")] = json!(within);
                }
            }
            if let Some(hysteresis) = &j.hysteresis {
                point["hysteresis"] = json!(hysteresis);
            }
            point
        })
        .collect();
    let within = judged.iter().flat_map(|j| [&j.up, &j.down]).flatten().all(|(_, within)| *within);
    let mut out = json!({"points": points, "within": within});
    if let Some(largest) = largest {
        out["largest_hysteresis"] = json!(largest);
    }
    Ok(out)
}

#[derive(Deserialize)]
struct SubstitutionOf {
    unit: Unit,
    k: u32,
    u_weights: Mass,
    u_shown: Vec<Mass>,
}

pub(crate) fn uncertainty(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "budget").as_str() {
        "budget" => {
            let result = budget(&read::<BudgetInputs>(input)?);
            Ok(json!({
                "terms": result.terms, "u": result.u, "degrees_of_freedom": result.degrees_of_freedom, "k": result.k, "U": result.expanded,
                "U_text": result.expanded_text, "E_text": result.error_text,
            }))
        }
        "substitution" => {
            let asked: SubstitutionOf = read(input)?;
            let of = |mass: &Mass| mass.value_in(asked.unit).to_f64();
            Ok(
                json!({"u_load": growth(asked.k, of(&asked.u_weights), &asked.u_shown.iter().map(of).collect::<Vec<_>>())}),
            )
        }
        other => Err(unknown_op(other)),
    }
}

#[derive(Deserialize)]
struct VerdictOf {
    rule: String,
    error: Mass,
    #[serde(rename = "U")]
    expanded: Mass,
    k: Decimal,
    mpe: Mass,
}

pub(crate) fn verdict(input: Value) -> Result<Value, Refusal> {
    let asked: VerdictOf = read(input)?;
    let rule = DecisionRule::of(&asked.rule)?;
    let result = decide(rule, &asked.error, &asked.expanded, &asked.k, &asked.mpe)?;
    let mut out = json!({"probability_outside": result.probability_outside, "verdict": result.verdict});
    if rule == DecisionRule::Simple {
        out["caution_U_too_large"] = json!(result.too_uncertain);
    }
    Ok(out)
}

#[derive(Deserialize)]
struct Minimum {
    d: Mass,
    shown: Vec<Mass>,
    safety: Option<Decimal>,
}

pub(crate) fn minimum(input: Value) -> Result<Value, Refusal> {
    let asked: Minimum = read(input)?;
    let result = minimum_weight(&asked.shown, &asked.d)?;
    let mut out = json!({"s": result.s, "floor_used": result.floor_used, "minimum": result.minimum, "unit": asked.d.unit});
    if let Some(safety) = asked.safety {
        out["with_safety"] = json!(result.minimum * safety.to_f64());
    }
    Ok(out)
}

crate::refusals! {
    enum Refused {
        BadInput = "bad_input" at "e": text!("calc-no-division");
    }
}
