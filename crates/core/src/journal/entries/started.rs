//! The job begins.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use crate::journal::state::JobState;
use crate::journal::values::Before;
use crate::scale::ScaleSheet;
use crate::wording::Text;

/// The job began.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Started {
    /// The scale as it was known then.
    pub sheet: Box<ScaleSheet>,
    /// Its last record.
    #[serde(default)]
    pub before: Option<Box<Before>>,
}

impl Kind for Started {
    fn take_effect(&self, _: &Stamp<'_>, _: &mut JobState) {}
    fn says(&self, _: &JobState) -> Text {
        text!("sentences-job-begun-on-name", name = self.sheet.name)
    }
}
