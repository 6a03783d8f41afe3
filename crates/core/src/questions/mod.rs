//! Questions to the core: JSON in, JSON out.

pub mod calc;
mod calculators;

pub use calc::{answer, rules, work};
pub use calculators::{CalculatorAnswer, CalculatorQuestion, calculate};
