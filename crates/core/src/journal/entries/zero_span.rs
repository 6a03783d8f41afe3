//! Zero, span and further points, and what becomes of them.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use super::telling::{at_pad, counts, made_of};
use crate::adjust::SpanWeightRule;
use crate::journal::state::{CapturedPoint, How, JobState};
use crate::journal::used_piece::UsedPiece;
use crate::journal::values::{Capture, first_pad, is_first_pad};
use crate::quantity::Mass;
use crate::wording::Text;

/// Zero was captured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ZeroCaptured {
    /// The point.
    pub capture: Capture,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for ZeroCaptured {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.left_alone = None;
        let pad = state.pad_mut(self.pad);
        pad.left_alone = None;
        pad.zero = Some(self.capture.clone());
        pad.span = None;
        pad.points.clear();
        state.standing = Some(Vec::new());
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-zero-captured-at-pad-as",
            at_pad = at_pad(self.pad),
            as_ref = counts(self.capture.counts.as_ref())
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }

    fn rank(&self) -> Option<u8> {
        Some(1)
    }
}

/// The span weight was chosen and keyed in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SpanChosen {
    /// The weight.
    pub weight: Mass,
    /// The pieces it is made of, where they were named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<UsedPiece>,
    /// How much was asked for.
    #[serde(rename = "school", default, skip_serializing_if = "Option::is_none")]
    pub span_weight_rule: Option<SpanWeightRule>,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for SpanChosen {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        let pad = state.pad_mut(self.pad);
        pad.span_weight = Some(self.weight.clone());
        pad.span_with.clone_from(&self.with);
        pad.span_weight_rule = self.span_weight_rule;
        pad.span = None;
        pad.points.clear();
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-span-weight-weight-keyed-in",
            weight = self.weight,
            at_pad = at_pad(self.pad),
            made_of = made_of(&self.with)
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }

    fn rank(&self) -> Option<u8> {
        Some(1)
    }
}

/// Span was captured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SpanCaptured {
    /// The point.
    pub capture: Capture,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for SpanCaptured {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        let pad = state.pad_mut(self.pad);
        pad.span = Some(self.capture.clone());
        let with = pad.span_with.clone();
        state.standing = Some(with).filter(|with| !with.is_empty());
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-span-captured-at-pad-as",
            at_pad = at_pad(self.pad),
            as_ref = counts(self.capture.counts.as_ref())
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }

    fn rank(&self) -> Option<u8> {
        Some(2)
    }
}

/// A further point of the curve.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PointCaptured {
    /// Its weight.
    pub weight: Mass,
    /// The point.
    pub capture: Capture,
    /// The pieces it is made of, where they were named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<UsedPiece>,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for PointCaptured {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.standing = Some(self.with.clone()).filter(|with| !with.is_empty());
        let (weight, capture) = (self.weight.clone(), self.capture.clone());
        state.pad_mut(self.pad).points.push(CapturedPoint { weight, capture, with: self.with.clone() });
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-point-weight-made-of-captured",
            weight = self.weight,
            made_of = made_of(&self.with),
            at_pad = at_pad(self.pad),
            as_ref = counts(self.capture.counts.as_ref())
        )
    }

    fn pad(&self) -> u8 {
        self.pad
    }

    fn rank(&self) -> Option<u8> {
        Some(3)
    }
}

/// Zero alone was captured and saved; the span stays as it was.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ZeroSaved {
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for ZeroSaved {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        let zero = state.pad_mut(self.pad).zero.take();
        if let Some(zero) = zero {
            let unit = state.setup_of(self.pad).0.d.unit;
            state.adjusted_by(at.at, self.pad, How::ZeroOnly, (Mass::zero(unit), &[]), zero, None);
        }
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-zero-alone-saved-at-pad", at_pad = at_pad(self.pad))
    }

    fn pad(&self) -> u8 {
        self.pad
    }

    fn rank(&self) -> Option<u8> {
        Some(4)
    }
}

/// The adjustment was saved in the indicator.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct AdjustmentSaved {
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for AdjustmentSaved {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.save(at.at, self.pad);
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-adjustment-saved-at-pad", at_pad = at_pad(self.pad))
    }

    fn pad(&self) -> u8 {
        self.pad
    }

    fn rank(&self) -> Option<u8> {
        Some(4)
    }
}

/// The adjustment was abandoned; the one before stands.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct AdjustmentAbandoned {
    /// Why.
    pub reason: String,
}

impl Kind for AdjustmentAbandoned {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.abandoned.push(self.reason.clone());
        state.drop_captures();
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-adjustment-abandoned-reason", reason = self.reason)
    }
}
