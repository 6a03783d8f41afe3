//! The kit: pieces with their certificates, classes and their tolerances, whether they are good enough.

mod class;
mod enough;
mod instrument;
mod later_findings;
mod piece;

pub use class::{WeightClass, WeightError, nominals, tolerance_of_sum, weight_tolerance};
pub use enough::{
    DueGrade, Enough, ReferenceObject, ShareOfPiece, class_that_does, due_grade, enough, reference_object,
    too_coarse,
};
pub(crate) use instrument::UsedInstrument;
pub use instrument::{Instrument, InstrumentKind};
pub use piece::{
    Certificate, DUE_WARNING_DAYS, Form, OwnClass, OwnRow, OwnTolerance, Piece, TWO_PEOPLE_KG, Usable,
    WeighedBy,
};
