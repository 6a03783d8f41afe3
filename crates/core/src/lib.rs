//! Every rule of setting up, adjusting and proving a weighing instrument. No I/O, no clock, no
//! randomness: times, identities and measured signals are arguments.

pub mod adjust;
pub mod calc;
pub mod customer;
pub mod dcc;
pub mod desk;
pub mod diagnosis;
pub mod figures;
pub mod instrument;
pub mod intake;
pub mod job;
pub mod keying;
pub mod line;
pub mod papers;
pub mod practice;
pub mod proof;
pub mod quantity;
pub mod reaction;
mod refusal;
pub mod schedule;
pub mod setup;
pub mod steady;
mod text;
pub mod tolerance;
pub mod weights;
mod working;

pub use refusal::Refusal;
pub use working::{Figure, Working};
