//! What a job comes to.

use crate::wording::Text;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What the job came to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Outcome {
    /// Proved, every reading within.
    InTolerance,
    /// At least one reading outside.
    OutOfTolerance,
    /// Not (yet) proved.
    NotProven,
}

impl Outcome {
    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::InTolerance => text!("outcome-in-tolerance"),
            Self::OutOfTolerance => text!("outcome-out-of-tolerance"),
            Self::NotProven => text!("outcome-not-proved"),
        }
    }
}
