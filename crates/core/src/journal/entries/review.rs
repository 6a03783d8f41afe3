//! What a reviewer says of a signed record. Source: ISO/IEC 17025:2017, 6.2.6 and 7.8.2.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use crate::journal::conditions::Needs;
use crate::journal::state::JobState;
use crate::wording::Text;

/// The reviewer sends the signed record back; it is open again.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SentBack {
    /// What is to be put right.
    pub remarks: String,
}

impl Kind for SentBack {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.review.sent_back = Some(at.remark(&self.remarks));
        state.closed = None;
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-sent-back-remarks", remarks = self.remarks)
    }

    fn is_work(&self) -> bool {
        false
    }

    fn needs(&self) -> Needs {
        Needs::Reviewer
    }
}

/// The reviewer approves the signed record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Approved {
    /// Remarks.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub remarks: Option<String>,
}

impl Kind for Approved {
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState) {
        state.review.approved = Some(at.remark(self.remarks.as_deref().unwrap_or_default()));
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-approved-r",
            r = self.remarks.as_ref().map_or_else(Text::default, |r| text!("sentences-colon", what = r))
        )
    }

    fn is_work(&self) -> bool {
        false
    }

    fn needs(&self) -> Needs {
        Needs::Reviewer
    }
}

/// The signed record is to have a new version; the job is open again.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Amended {
    /// Number of the record that it takes the place of.
    pub of: String,
    /// Why.
    pub reason: String,
}

impl Kind for Amended {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.review.amended.push((self.of.clone(), self.reason.clone()));
        (state.review.approved, state.review.sent_back, state.closed) = (None, None, None);
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-new-version-in-the-place", of = self.of, reason = self.reason)
    }

    fn is_work(&self) -> bool {
        false
    }
}
