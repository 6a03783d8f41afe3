//! Seals, the signatures, and a job that ends early.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::kind::{Kind, Stamp};
use crate::journal::attachment::CustomerSignature;
use crate::journal::state::JobState;
use crate::wording::Text;

/// Seal, switch and cover were dealt with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SealedUp {
    /// Seal numbers or marks, as they are now.
    pub seals: String,
    /// The calibration switch is back and the cover on.
    pub switch_back: bool,
    /// Set-up is locked and unwanted units are off.
    pub locked: bool,
}

impl Kind for SealedUp {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.sealed_up = Some((self.seals.clone(), self.switch_back, self.locked));
    }

    fn says(&self, _: &JobState) -> Text {
        let seals = if self.seals.trim().is_empty() {
            Text::default()
        } else {
            text!("sentences-colon", what = self.seals)
        };
        text!("sentences-sealed-up", seals)
    }
}

/// The customer signs the work as it stands.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CustomerSigned {
    /// Who signed.
    pub name: String,
    /// What was drawn.
    pub path: String,
}

impl Kind for CustomerSigned {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.customer =
            Some(CustomerSignature { name: self.name.clone(), path: self.path.clone(), at: at.at });
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-signed-for-the-customer-by", name = self.name)
    }
}

/// The job ends before the scale is proved.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StoppedShort {
    /// Why.
    pub reason: String,
}

impl Kind for StoppedShort {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.stopped = Some(self.reason.clone());
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-stopped-short-reason", reason = self.reason)
    }
}

/// An earlier entry is struck out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StruckOut {
    /// Which one.
    pub entry: Uuid,
    /// Why.
    pub reason: String,
}

impl Kind for StruckOut {
    fn take_effect(&self, _: &Stamp<'_>, _: &mut JobState) {}
    fn says(&self, _: &JobState) -> Text {
        text!("sentences-an-entry-struck-out-reason", reason = self.reason)
    }

    fn is_work(&self) -> bool {
        false
    }
}

/// Signed and closed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Closed {
    /// The name as signed.
    pub name: String,
    /// The record waits for a reviewer's approval: the workshop's rule when it was signed. None in
    /// journals from before the rule was part of the signature.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub approval: Option<bool>,
}

impl Kind for Closed {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.closed = Some((self.name.clone(), at.by.clone(), at.at));
        state.review.approval = self.approval;
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-signed-by-name", name = self.name)
    }

    fn is_work(&self) -> bool {
        false
    }
}
