//! What the records of a workshop tell together: how many scales were found out of tolerance, of which
//! kind and age, and why; and by which marks a record is found again.

mod gist;
mod rates;

pub use gist::{Found, Gist, MarkKind, RecordMark, gist, plain_mark};
pub use rates::{AgeClass, Rate, Tally, by_age, percent, rate};
