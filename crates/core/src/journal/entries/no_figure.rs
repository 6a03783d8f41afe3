//! A load at which the display shows no figure.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use super::telling::{at_pad, coming_down, stage};
use crate::journal::state::{JobState, NoFigureReading};
use crate::journal::values::{Direction, NoFigure, ReadStage, first_pad, is_first_pad};
use crate::quantity::Mass;
use crate::wording::Text;

/// A load was put on and the display showed no figure that could be read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct NoFigureRead {
    /// Before or after adjusting.
    pub stage: ReadStage,
    /// What was put on.
    pub load: Mass,
    /// What the display did.
    pub display: NoFigure,
    /// Increasing or decreasing.
    #[serde(rename = "way")]
    pub direction: Direction,
    /// Which pad it stood on.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for NoFigureRead {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.repaired = None;
        state.no_figures.push(NoFigureReading {
            entry: at.id,
            stage: self.stage,
            load: self.load.clone(),
            display: self.display.clone(),
            direction: self.direction,
            pad: self.pad,
            counts: true,
            at: at.at,
            epoch: state.epoch_of(self.pad),
        });
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-stage-load-on-way-at",
            stage = stage(self.stage),
            load = self.load,
            direction = coming_down(self.direction),
            at_pad = at_pad(self.pad),
            display = self.display.says()
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }
}
