//! Where dead load, zero, span weight, Max and overload lie on the cells' millivolt scale. Source:
//! OIML R 76-1:2006, 4.12 (load cells and indicator as modules); WELMEC Guide 2.

use serde::Serialize;
use utoipa::ToSchema;

use crate::quantity::{Decimal, Mass};
use crate::scale::setup::{SetupInputs, signal};
use crate::wording::Text;

/// A mark on the bar.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct SignalMark {
    /// What it is: `dead load`, `zero`, `span weight`, `Max`, `overload`.
    pub what: Text,
    /// The load, for people.
    pub load: Text,
    /// The signal in mV.
    #[serde(rename = "mV")]
    pub mv: f64,
}

/// The bar. Floating point, in mV: a drawing.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct SignalBar {
    /// Lowest and highest input of the indicator, where they are known.
    #[serde(rename = "input_mV")]
    #[schema(required, value_type = Option<Vec<f64>>)]
    pub input_mv: Option<(f64, f64)>,
    /// The marks, from the lowest signal.
    pub marks: Vec<SignalMark>,
    /// Headroom above Max within the input range, per cent of the range.
    #[schema(required)]
    pub headroom_percent: Option<f64>,
}

/// The bar, where cells, sensitivity and excitation are known. `platform` is the dead load without
/// what always stays on it.
pub fn signal_bar(
    inputs: &SetupInputs,
    platform: Option<&Mass>,
    span_weight: Option<&Mass>,
) -> Option<SignalBar> {
    let cells = inputs.cells.as_ref()?;
    let unit = inputs.max.unit;
    let nothing = Mass::zero(unit);
    let dead = inputs.dead_load.as_ref().unwrap_or(&nothing);
    let capacity = cells.e_max.times(&Decimal::from(cells.count));
    let at = |what: Text, says: Text, load: &Mass| {
        Some(SignalMark { what, load: says, mv: signal(inputs, cells, load)?.to_f64() })
    };
    let mut marks = Vec::new();
    if let Some(platform) = platform.filter(|p| *p != dead) {
        marks.push(at(text!("signal-bar-dead-load"), text!("adjustment-mass", mass = platform), platform)?);
    }
    marks.push(at(text!("signal-bar-zero"), text!("signal-bar-dead-on-the-cells", dead), dead)?);
    if let Some(weight) = span_weight {
        marks.push(at(
            text!("signal-bar-span-weight"),
            text!("adjustment-mass", mass = weight),
            &dead.plus(weight),
        )?);
    }
    marks.push(at(
        text!("signal-bar-max"),
        text!("adjustment-mass", mass = inputs.max),
        &dead.plus(&inputs.max),
    )?);
    let lever = inputs.lever_ratio.clone().unwrap_or_else(|| Decimal::from(1u32));
    let full = Mass::new(capacity.value.quotient(&lever)?, capacity.unit);
    marks.push(at(
        text!("signal-bar-overload"),
        text!("signal-bar-capacity-all-the-cells-carry", capacity),
        &full,
    )?);
    marks.sort_by(|a, b| a.mv.total_cmp(&b.mv));
    let input_mv = inputs
        .indicator
        .as_ref()
        .and_then(|i| i.input_mv.as_ref())
        .map(|(low, high)| (low.to_f64(), high.to_f64()));
    let at_max = signal(inputs, cells, &dead.plus(&inputs.max))?.to_f64();
    let headroom_percent = input_mv.map(|(low, high)| (high - at_max) / (high - low) * 100.0);
    Some(SignalBar { input_mv, marks, headroom_percent })
}
