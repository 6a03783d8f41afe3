//! R3 and R3a.

use serde::Deserialize;
use serde_json::{Map, Value, json};

use super::{op_of, read, unknown_op};
use crate::quantity::{Book, Decimal, Mass, divisions};
use crate::refusal::Refusal;
use crate::scale::{Finding, SetupInputs, alternatives, judge, overall};
use crate::tolerance::{Class, class_bounds};

pub(crate) fn findings(mut input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "judge").as_str() {
        "judge" => {
            let findings = judge(&read::<SetupInputs>(input)?);
            let named: Map<String, Value> = findings.iter().map(named).collect();
            Ok(json!({"findings": named, "overall": overall(&findings)}))
        }
        "alternatives" => {
            // The wanted division is what is being looked for.
            if let (Some(max), Some(object)) = (input.get("max").cloned(), input.as_object_mut()) {
                object.entry("d").or_insert(max);
            }
            let offered: Vec<Value> = alternatives(&read(input)?)
                .into_iter()
                .map(|a| match a.uv {
                    Some(uv) => json!({"d": a.d, "n": a.n, "uV": uv}),
                    None => json!({"d": a.d, "n": a.n}),
                })
                .collect();
            Ok(json!({"alternatives": offered}))
        }
        other => Err(unknown_op(other)),
    }
}

fn named(finding: &Finding) -> (String, Value) {
    let mut out = Map::new();
    if let Some(grade) = finding.grade {
        out.insert("grade".into(), json!(grade));
    }
    out.extend(finding.figures.iter().map(|(name, figure)| (name.clone(), json!(figure))));
    let name = json!(finding.check).as_str().unwrap_or_default().to_owned();
    (name, Value::Object(out))
}

#[derive(Deserialize)]
struct ClassOf {
    scheme: Book,
    class: Class,
    e: Mass,
    max: Mass,
}

pub(crate) fn class(input: Value) -> Result<Value, Refusal> {
    let ClassOf { scheme, class, e, max } = read(input)?;
    let bounds = class_bounds(scheme, class, &e)?;
    let n = max.ratio(&e).unwrap_or_else(Decimal::zero);
    let whole = divisions(&max, &e).ok();
    let within = whole.is_some_and(|n| bounds.holds(n));
    let mut out = json!({
        "n": whole.map_or_else(|| json!(n.to_f64()), |n| json!(n)),
        "n_min": bounds.n_min, "n_max": bounds.n_max, "within": within,
    });
    if let Some(min) = bounds.min_load {
        out["min_load"] = json!(min);
    }
    Ok(out)
}
