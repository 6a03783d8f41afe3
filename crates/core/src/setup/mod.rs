//! Set-up: what the plate allows, what a wanted capacity and division amount to, and every
//! finding about them with its grade, figures and source.

mod alternatives;
mod findings;
mod judge;
mod signal;

pub use alternatives::{Alternative, alternatives};
pub use findings::{Cells, Check, Finding, Grade, Indicator, Plate, SetupInputs, overall};
pub use judge::{decimals_text, judge};
pub use signal::{SignalBar, SignalMark, signal_bar};
