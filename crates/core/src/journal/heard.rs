//! What the connected indicator says now, or why nothing is heard of it.

use crate::quantity::{Decimal, Mass};
use crate::wording::Text;

/// What the connected indicator says at this moment.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Observation {
    /// Held still for the hold time.
    pub steady: bool,
    /// The indicator's own steady mark, where its line carries one.
    pub mark: Option<bool>,
    /// What it shows.
    pub shown: Mass,
    /// Mean of its raw signal.
    pub mean: Option<Mass>,
    /// Mean of its internal counts.
    pub counts: Option<Decimal>,
    /// Hold time in seconds.
    pub hold_s: Decimal,
    /// Restarts.
    pub restarts: u32,
    /// Samples.
    pub samples: u32,
}

/// Why nothing can be taken from an indicator at this moment, such as `the display shows no figure`.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Silence(pub Text);

impl Silence {
    /// No indicator is connected.
    pub fn not_connected() -> Self {
        Self(text!("heard-none-is-connected"))
    }
}

/// What a connected indicator gives at this moment.
pub type Heard = Result<Observation, Silence>;
