//! What a workshop learns of its records: rates with their range.

mod rates;

pub use rates::{AgeClass, Rate, Tally, by_age, percent, rate};
