//! How grave a finding is.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a finding is graded, from best to worst.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Grade {
    /// Nothing against it.
    Sound,
    /// Possible, with a reservation.
    Caution,
    /// Not to be done.
    Refuse,
}
