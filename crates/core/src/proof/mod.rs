//! Proving: from what was put on and what was shown to an error and a verdict.

mod error;

pub use error::{
    ErrorInputs, ErrorOfIndication, ErrorOfIndicationError, KnownPiece, SubstitutionStep, error_of_indication, load_of, substituted_loads,
};
