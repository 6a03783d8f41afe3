//! A load is put on and read.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use super::telling::{at_pad, coming_down, made_of, on_display, stage};
use crate::journal::positions::position;
use crate::journal::state::{JobState, Reading};
use crate::journal::used_piece::UsedPiece;
use crate::journal::values::{Direction, Purpose, ReadStage, Taken, first_pad, is_first_pad};
use crate::quantity::Mass;
use crate::wording::{Between, Text};

/// A load was put on and read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Read {
    /// Before or after adjusting.
    pub stage: ReadStage,
    /// What was put on.
    pub load: Mass,
    /// What was shown.
    pub shown: Mass,
    /// Going up or coming down.
    #[serde(rename = "way")]
    pub direction: Direction,
    /// How it was taken.
    pub taken: Taken,
    /// Which pad it stood on.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
    /// The pieces it was made of, where they were named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<UsedPiece>,
    /// Why pieces that are not fit for a proof were taken.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub overruled: Option<String>,
    /// What it is for.
    #[serde(default, skip_serializing_if = "Purpose::is_load")]
    pub purpose: Purpose,
    /// The place where it stood, where it is for the corners; 0: the middle.
    #[serde(rename = "spot", default, skip_serializing_if = "Option::is_none")]
    pub position: Option<u8>,
    /// Small weights that were added until the display changed to the next division.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub added: Option<Mass>,
    /// Substitutions before the load was reached.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub substituted: Option<u8>,
}

impl Kind for Read {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        let counts = state.counts_now(self.stage, self.pad);
        state.repaired = None;
        let named = !self.with.is_empty() && self.substituted.is_none();
        state.standing = (named || self.load.value.is_zero()).then(|| self.with.clone());
        let reading = Reading {
            epoch: state.epoch_of(self.pad),
            entry: at.id,
            at: at.at,
            load: self.load.clone(),
            shown: self.shown.clone(),
            direction: self.direction,
            taken: self.taken.clone(),
            counts,
            pad: self.pad,
            with: self.with.clone(),
            overruled: self.overruled.clone(),
            purpose: self.purpose,
            position: self.position,
            added: self.added.clone(),
            substituted: self.substituted,
        };
        match self.stage {
            ReadStage::AsFound => state.found.push(reading),
            ReadStage::Test => state.left.push(reading),
        }
    }

    fn says(&self, state: &JobState) -> Text {
        let stage = stage(self.stage);
        let direction = coming_down(self.direction);
        let how = if self.taken.is_live() { text!("sentences-live") } else { Text::default() };
        let at = at_pad(self.pad);
        let why = self
            .overruled
            .as_ref()
            .map_or_else(Text::default, |why| text!("sentences-weights-overruled-why", why));
        let moved = if self.load.value.is_negative() {
            text!("sentences-abs-taken-off", abs = self.load.abs())
        } else {
            text!("sentences-load-on", load = self.load)
        };
        let what = match (self.purpose, self.position) {
            (Purpose::Load, _) => Text::default(),
            (Purpose::Eccentricity, Some(0)) => text!("sentences-in-the-middle"),
            (Purpose::Eccentricity, at) => {
                let named = at.and_then(|number| position(state, number));
                named.map_or_else(Text::default, |p| text!("sentences-at-place", place = p.place))
            }
            (Purpose::Repeatability, _) => text!("sentences-once-more"),
        };
        let changed = self
            .added
            .as_ref()
            .map_or_else(Text::default, |a| text!("sentences-next-division-after-a-more", a));
        let rounds =
            self.substituted.map_or_else(Text::default, |n| text!("sentences-by-n-substitution-s", n));
        let why = Text::list([changed, rounds, why], Between::Nothing);
        let shown = on_display(state, self.stage, self.pad, &self.shown);
        text!(
            "sentences-stage-moved-what-at-made",
            stage,
            moved,
            what,
            at,
            made_of = made_of(&self.with),
            shown,
            direction,
            how,
            why
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }
}
