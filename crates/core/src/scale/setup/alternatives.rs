//! Which divisions make sense for a wanted Max.

use serde::Serialize;
use utoipa::ToSchema;

use super::findings::{Cells, SetupInputs, overall};
use super::judge::{judge, signal_per_division};
use crate::grade::Grade;
use crate::quantity::{Decimal, Division, Mass, divisions};

/// The most and the fewest divisions that are offered.
const MOST: u64 = 10_000;
const FEWEST: u64 = 500;

/// A division that could be taken for the wanted Max.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Alternative {
    /// The division.
    pub d: Mass,
    /// n = Max / d.
    pub n: u64,
    /// Signal for one division in µV, where the cells are known.
    #[schema(required)]
    #[serde(rename = "uV")]
    pub uv: Option<f64>,
    /// The verdict on a set-up with it, everything else unchanged.
    pub grade: Grade,
}

/// Every division of the series with 500 to 10 000 whole divisions in Max, finest first, each
/// judged with everything else of `inputs` as it is.
pub fn alternatives(inputs: &SetupInputs) -> Vec<Alternative> {
    let Some(finest) = inputs.max.value.quotient(&Decimal::from(MOST)).filter(Decimal::is_positive) else {
        return Vec::new();
    };
    Division::series_from(&finest)
        .map(|division| Mass::new(division.value().clone(), inputs.max.unit))
        .take_while(|d| d.times(&Decimal::from(FEWEST)) <= inputs.max)
        .filter_map(|d| divisions(&inputs.max, &d).ok().map(|n| (d, n)))
        .map(|(d, n)| {
            let wanted = SetupInputs { d: d.clone(), ..inputs.clone() };
            let uv = uv_of(&wanted, n);
            Alternative { d, n, uv, grade: overall(&judge(&wanted)) }
        })
        .collect()
}

fn uv_of(inputs: &SetupInputs, n: u64) -> Option<f64> {
    let cells: &Cells = inputs.cells.as_ref()?;
    signal_per_division(inputs, cells, &Decimal::from(n)).map(|uv| uv.to_f64())
}
