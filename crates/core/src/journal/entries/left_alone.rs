//! The adjustment is left as it was.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use crate::journal::state::JobState;
use crate::journal::values::{TOGETHER, is_together};
use crate::wording::Text;

/// The adjustment was left as it was.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LeftAlone {
    /// Why.
    pub reason: String,
    /// Which pad; 0: the whole scale.
    #[serde(default, skip_serializing_if = "is_together")]
    pub pad: u8,
}

impl Kind for LeftAlone {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        let reason = Some(self.reason.clone());
        if self.pad == TOGETHER {
            state.left_alone = reason;
            state.drop_captures();
            return;
        }
        let pad = state.pad_mut(self.pad);
        pad.left_alone.clone_from(&reason);
        pad.drop_captures();
        if state.pads.iter().all(|p| p.left_alone.is_some() && p.adjusted.is_none()) {
            state.left_alone = reason;
        }
    }

    fn says(&self, _: &JobState) -> Text {
        match self.pad {
            TOGETHER => text!("sentences-left-as-it-was-reason", reason = self.reason),
            pad => text!("sentences-pad-pad-left-as-it", pad, reason = self.reason),
        }
    }
}
