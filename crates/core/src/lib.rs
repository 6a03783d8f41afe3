//! Every rule of setting up, adjusting and testing a weighing instrument. No I/O, no clock, no
//! randomness: times, identities and measured signals are arguments.

#![cfg_attr(
    test,
    allow(
        clippy::cast_possible_truncation,
        clippy::cast_precision_loss,
        clippy::float_cmp,
        reason = "figures of a test are small and meant"
    )
)]

#[macro_use]
pub mod wording;

pub mod adjust;
pub mod answers;
pub mod assessment;
pub mod customer;
pub mod diagnosis;
pub mod grade;
pub mod import;
pub mod job;
pub mod journal;
pub mod keying;
pub mod live;
mod longest;
pub mod measurement;
pub mod offline;
pub mod practice;
pub mod quantity;
pub mod questions;
pub mod record;
mod refusal;
pub mod scale;
pub mod schedule;
pub mod signal;
pub mod statistics;
mod ten_digits;
pub mod tolerance;
pub mod weights;
mod working;

pub use refusal::{Detail, Refusal};
pub use working::{Figure, Working};
