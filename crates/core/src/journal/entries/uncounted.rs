//! Adjustments without captured points: a factor, an internal weight.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use super::telling::{at_pad, made_of};
use crate::journal::state::{How, JobState};
use crate::journal::used_piece::UsedPiece;
use crate::journal::values::{Capture, Taken, first_pad, is_first_pad};
use crate::quantity::{Decimal, Mass};
use crate::wording::Text;

/// A correction factor entered in the indicator.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct FactorSet {
    /// As it was.
    pub old: Decimal,
    /// As it is, in the indicator's digits.
    pub new: Decimal,
    /// What was on.
    pub load: Mass,
    /// What was shown with it.
    pub shown: Mass,
    /// What was shown at zero.
    pub shown_zero: Mass,
    /// The pieces of the load, where they were named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<UsedPiece>,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for FactorSet {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.adjusted_by(
            at.at,
            self.pad,
            How::Factor(self.old.clone(), self.new.clone()),
            (self.load.clone(), &self.with),
            Capture::only(Taken::Typed),
            Some((self.shown.clone(), self.shown_zero.clone())),
        );
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-correction-factor-old-new-at",
            old = self.old,
            new = self.new,
            at_pad = at_pad(self.pad),
            load = self.load,
            made_of = made_of(&self.with),
            shown = self.shown
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }
}

/// A motor-driven internal weight matched against external ones.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct InternalMatched {
    /// Its mass as it was kept.
    pub old: Mass,
    /// As it is kept now.
    pub new: Mass,
    /// What was on.
    pub load: Mass,
    /// What was shown with it.
    pub shown: Mass,
    /// What was shown at zero.
    pub shown_zero: Mass,
    /// The pieces of the load, where they were named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<UsedPiece>,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for InternalMatched {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.adjusted_by(
            at.at,
            self.pad,
            How::Internal(self.old.clone(), self.new.clone()),
            (self.load.clone(), &self.with),
            Capture::only(Taken::Typed),
            Some((self.shown.clone(), self.shown_zero.clone())),
        );
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-internal-weight-old-new-at",
            old = self.old,
            new = self.new,
            at_pad = at_pad(self.pad),
            load = self.load,
            made_of = made_of(&self.with),
            shown = self.shown
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }
}

/// It adjusted itself by its internal weight, after that was matched.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SelfAdjusted {
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for SelfAdjusted {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.pad_mut(self.pad).adjusted_itself = true;
        state.standing = Some(Vec::new());
        state.changed(self.pad);
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-adjusted-itself-by-its-internal", at_pad = at_pad(self.pad))
    }

    fn pad(&self) -> u8 {
        self.pad
    }
}
