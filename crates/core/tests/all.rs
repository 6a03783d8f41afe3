//! All tests of the core, in one program.

#![allow(
    clippy::unwrap_used,
    clippy::expect_used,
    clippy::cast_possible_truncation,
    clippy::cast_precision_loss,
    clippy::float_cmp,
    clippy::type_complexity,
    reason = "what cannot be had fails a test and says where; figures of a test are small and meant"
)]

mod by_profile;
mod calculators;
mod captures;
mod cells;
mod checks;
mod coming_home;
mod diagnosis;
mod due;
mod earlier_names;
mod editing;
mod job;
mod journal;
mod judgement;
mod keyed;
mod keying;
mod laws;
mod learning;
mod left;
mod load_list;
mod papers;
mod positions;
mod proof;
mod setup;
mod tolerance;
mod vectors;
mod weights;
