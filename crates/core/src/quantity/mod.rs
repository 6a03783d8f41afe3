//! Quantities of the job: exact decimals, masses with their unit, divisions and what a display
//! shows. Floating point has no place here; see `steady` for the statistics of a live signal.

mod arg;
mod decimal;
mod division;
mod indication;
mod mass;
mod parse;

pub use decimal::{Decimal, DecimalError, SIGNIFICANT_DIGITS};
pub use division::{Division, DivisionError, divisions};
pub use indication::{
    Book, DigitsError, Indication, Range, SHOWN_BELOW_ZERO_D, digits_without_point, indicate,
    indicate_in_intervals, most_shown,
};
pub use mass::{Mass, Unit, UnknownUnit};
pub use parse::{MASS_LIMIT, ParseMassError, parse_mass};
