//! R17.

use serde::Deserialize;
use serde_json::{Value, json};

use super::{float, read};
use crate::quantity::Decimal;
use crate::refusal::Refusal;
use crate::signal::{Criterion, first_steady};

#[derive(Deserialize)]
struct SteadinessOf {
    samples: Vec<(f64, f64)>,
    band: Decimal,
    hold_s: Option<Decimal>,
}

pub(crate) fn steadiness(input: Value) -> Result<Value, Refusal> {
    let asked: SteadinessOf = read(input)?;
    let hold_s = asked.hold_s.as_ref().map_or(Criterion::HOLD_S, float);
    let outcome = first_steady(&asked.samples, Criterion::new(float(&asked.band), hold_s)?);
    Ok(match outcome.captured {
        Some((at_s, captured)) => {
            json!({"steady": true, "at_s": at_s, "restarts": outcome.restarts, "captured": captured})
        }
        None => json!({"steady": false, "restarts": outcome.restarts}),
    })
}
