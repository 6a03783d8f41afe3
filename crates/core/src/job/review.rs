//! After the work: what was around the scale, slips in its particulars, and what happens to a record
//! once it is signed. A reviewer approves it or sends it back; a record is never changed, only followed
//! by a new version that names the old one and why. Source: ISO/IEC 17025:2017, 7.8.2, 7.8.4, 7.8.8.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::conditions::{Needs, Remark, Review};
use super::{Body, Entry, JobState};
use crate::refusal::Refusal;

impl Body {
    /// Who may make this entry.
    pub const fn needs(&self) -> Needs {
        match self {
            Self::Approved { .. } | Self::SentBack { .. } => Needs::Reviewer,
            _ => Needs::Technician,
        }
    }
}

/// How a record stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Standing {
    /// Not signed yet.
    Open,
    /// Signed, nobody has approved it.
    Signed,
    /// Signed and approved.
    Approved,
    /// Sent back, not signed again yet.
    SentBack,
    /// Opened again for a new version.
    Amending,
}

/// How a record stands, and how it came to that.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct ReviewView {
    /// How it stands.
    pub standing: Standing,
    /// Version of the record, from 1.
    pub version: u32,
    /// The record that this version takes the place of.
    #[schema(required)]
    pub replaces: Option<String>,
    /// Why.
    #[schema(required)]
    pub because: Option<String>,
    /// The approval.
    #[schema(required)]
    pub approved: Option<Remark>,
    /// What it was last sent back with.
    #[schema(required)]
    pub sent_back: Option<Remark>,
}

/// The view of it.
pub(super) fn review(state: &JobState) -> ReviewView {
    let Review { amended, approved, sent_back, .. } = &state.review;
    let standing = match (&state.closed, approved, sent_back) {
        (Some(_), Some(_), _) => Standing::Approved,
        (Some(_), None, _) => Standing::Signed,
        (None, _, Some(_)) => Standing::SentBack,
        (None, _, None) if amended.is_empty() => Standing::Open,
        (None, _, None) => Standing::Amending,
    };
    let last = amended.last();
    ReviewView {
        standing,
        version: state.review.version(),
        replaces: last.map(|(of, _)| of.clone()),
        because: last.map(|(_, why)| why.clone()),
        approved: approved.clone(),
        sent_back: sent_back.clone(),
    }
}

impl JobState {
    pub(super) fn reviewed(&mut self, entry: &Entry) {
        let said = |text: &str| Remark { by: entry.by.name.clone(), at: entry.at, text: text.to_owned() };
        match &entry.body {
            Body::Approved { remarks } => {
                self.review.approved = Some(said(remarks.as_deref().unwrap_or_default()))
            }
            Body::SentBack { remarks } => {
                self.review.sent_back = Some(said(remarks));
                self.closed = None;
            }
            Body::Amended { of, reason } => {
                self.review.amended.push((of.clone(), reason.clone()));
                (self.review.approved, self.review.sent_back, self.closed) = (None, None, None);
            }
            _ => {}
        }
    }
}

/// Four eyes: who signed a record neither approves it nor sends it back, whatever other roles the name has.
/// Source: ISO/IEC 17025:2017, 6.2.6 and 7.8.2.
///
/// # Errors
/// A [`Refusal`] where `by` is who signed.
pub fn four_eyes(state: &JobState, body: &Body, by: Uuid) -> Result<(), Refusal> {
    let own = state.closed.as_ref().is_some_and(|(_, signer, _)| signer.id == by);
    if body.needs() == Needs::Reviewer && own {
        return Err(Refusal::new("own_record", "who signed a record does not approve it")
            .then("Ask another reviewer of this workshop."));
    }
    Ok(())
}

/// Whether an entry may follow a signature, or must.
pub(super) fn after_signing(state: &JobState, body: &Body) -> Result<(), Refusal> {
    let Some((signer, _, _)) = &state.closed else {
        return match body {
            Body::Approved { .. } | Body::SentBack { .. } | Body::Amended { .. } => {
                Err(Refusal::new("not_signed", "there is no signed record yet")
                    .then("The technician signs first."))
            }
            _ => Ok(()),
        };
    };
    let practice =
        || Refusal::new("practice", "a lesson makes no record: there is nothing to approve or to amend");
    match (body, &state.review.approved) {
        (Body::Approved { .. } | Body::SentBack { .. } | Body::Amended { .. }, _) if state.sheet.practice => {
            Err(practice())
        }
        (Body::Approved { .. }, None) | (Body::SentBack { .. }, None) | (Body::Amended { .. }, _) => Ok(()),
        (Body::Approved { .. }, Some(by)) => {
            Err(Refusal::new("approved", format!("{} approved it already", by.by)))
        }
        (Body::SentBack { .. }, Some(by)) => {
            Err(Refusal::new("approved", format!("{} approved it: it can be amended, not sent back", by.by))
                .then("Ask the technician for a new version."))
        }
        _ => Err(Refusal::new("closed", format!("the record was signed by {signer} and is frozen"))
            .then("Amend it, or start a new job for this scale.")),
    }
}
