//! The stages of a job.

use crate::wording::Text;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The stages of a job, in the order of the work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// Before anything is adjusted. Attachments hold its first name.
    #[serde(rename = "look_over")]
    Inspection,
    /// How it reads before it is touched.
    AsFound,
    /// What the indicator is told.
    SetUp,
    /// Zero and a known weight.
    ZeroAndSpan,
    /// Across the range. Attachments hold its first name.
    #[serde(rename = "prove")]
    Test,
    /// Seal, sign.
    Close,
}

impl Stage {
    /// In order.
    pub const ALL: [Self; 6] =
        [Self::Inspection, Self::AsFound, Self::SetUp, Self::ZeroAndSpan, Self::Test, Self::Close];

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Inspection => text!("stage-look-over"),
            Self::AsFound => text!("stage-as-found"),
            Self::SetUp => text!("stage-set-up"),
            Self::ZeroAndSpan => text!("stage-zero-span"),
            Self::Test => text!("stage-prove"),
            Self::Close => text!("stage-close"),
        }
    }
}
