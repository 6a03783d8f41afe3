//! R5.

use serde::Deserialize;
use serde_json::{Value, json};

use super::{op_of, read, unknown_op};
use crate::measurement::{
    ErrorInputs, KnownPiece, SubstitutionStep, error_of_indication, load_of, substituted_loads,
};
use crate::quantity::{Mass, Unit};
use crate::refusal::Refusal;

#[derive(Deserialize)]
struct LoadOf {
    unit: Unit,
    pieces: Vec<KnownPiece>,
    use_certificate: bool,
}

#[derive(Deserialize)]
struct SubstitutionOf {
    unit: Unit,
    weights: Mass,
    steps: Vec<SubstitutionStep>,
}

pub(crate) fn error(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "error").as_str() {
        "error" => {
            let result = error_of_indication(&read::<ErrorInputs>(input)?)?;
            let mut out = json!({"error": result.error});
            for (name, mass) in [("before_rounding", result.before_rounding), ("corrected", result.corrected)]
            {
                if let Some(mass) = mass {
                    out[name] = json!(mass);
                }
            }
            if let Some(within) = result.within {
                out["within"] = json!(within);
            }
            Ok(out)
        }
        "load" => {
            let LoadOf { unit, pieces, use_certificate } = read(input)?;
            Ok(json!({"load": load_of(&pieces, use_certificate, unit)?}))
        }
        "substitution" => {
            let SubstitutionOf { unit, weights, steps } = read(input)?;
            Ok(json!({"loads": substituted_loads(&weights, &steps, unit)}))
        }
        other => Err(unknown_op(other)),
    }
}
