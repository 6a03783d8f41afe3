//! A small weight is added to a load at rest.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use super::telling::{at_pad, on_display, stage};
use crate::journal::state::{Discrimination, JobState};
use crate::journal::values::{ReadStage, first_pad, is_first_pad};
use crate::quantity::Mass;
use crate::wording::Text;

/// A small weight was added to a load at rest: does the display move?
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Discriminated {
    /// As found or as left.
    pub stage: ReadStage,
    /// What was on.
    pub load: Mass,
    /// What was added.
    pub added: Mass,
    /// What was shown before.
    pub before: Mass,
    /// What was shown after.
    pub after: Mass,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for Discriminated {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        let counts = state.counts_now(self.stage, self.pad);
        state.discriminations.push(Discrimination {
            entry: at.id,
            stage: self.stage,
            load: self.load.clone(),
            added: self.added.clone(),
            before: self.before.clone(),
            after: self.after.clone(),
            pad: self.pad,
            counts,
            epoch: state.epoch_of(self.pad),
        });
    }

    fn says(&self, state: &JobState) -> Text {
        let shown = |mass| on_display(state, self.stage, self.pad, mass);
        text!(
            "sentences-stage-added-added-to-load",
            stage = stage(self.stage),
            added = self.added,
            load = self.load,
            at_pad = at_pad(self.pad),
            before = shown(&self.before),
            after = shown(&self.after)
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }
}
