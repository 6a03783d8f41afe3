//! The setup of an indicator: what the plate allows, what a wanted capacity and division amount to, and every
//! finding about them with its grade, figures and source.

mod alternatives;
mod findings;
mod judge;

pub use alternatives::{Alternative, alternatives};
pub use findings::{Cells, Check, Finding, Indicator, Plate, SetupInputs, overall};
pub(crate) use judge::signal;
pub use judge::{decimals_text, judge};
