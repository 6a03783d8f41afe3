//! After the work: what was around the scale, slips in its particulars, and what happens to a record
//! once it is signed. A reviewer approves it or sends it back; a record is never changed, only followed
//! by a new version that names the old one and why. Source: ISO/IEC 17025:2017, 7.8.2, 7.8.4, 7.8.8.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::journal::{Body, JobState, Remark, Review};
use crate::refusal::Refusal;

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
pub(crate) fn review(state: &JobState) -> ReviewView {
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

/// Whether an entry may follow a signature, or must.
pub(crate) fn after_signing(state: &JobState, body: &Body) -> Result<(), Refusal> {
    let Some((signer, _, _)) = &state.closed else {
        return match body {
            Body::Approved(_) | Body::SentBack(_) | Body::Amended(_) => {
                Err(Refusal::from(Refused::NotSigned))
            }
            _ => Ok(()),
        };
    };
    let practice = || Refusal::from(Refused::Practice);
    match (body, &state.review.approved) {
        (Body::Approved(_) | Body::SentBack(_) | Body::Amended(_), _) if state.sheet.practice => {
            Err(practice())
        }
        (Body::Approved(_), None) | (Body::SentBack(_), None) | (Body::Amended(_), _) => Ok(()),
        (Body::Approved(_), Some(by)) => Err(Refusal::from(Refused::ApprovedAlready { by: by.by.clone() })),
        (Body::SentBack(_), Some(by)) => Err(Refusal::from(Refused::ApprovedForGood { by: by.by.clone() })),
        _ => Err(Refusal::from(Refused::Closed { signer: signer.clone() })),
    }
}

crate::refusals! {
    enum Refused {
        NotSigned = "not_signed":
            text!("review-there-is-no-signed-record"),
            then text!("review-the-technician-signs-first");
        Practice = "practice": text!("review-a-lesson-makes-no-record");
        ApprovedAlready { by: String } = "approved": text!("review-by-approved-it-already", by);
        ApprovedForGood { by: String } = "approved":
            text!("review-by-approved-it-it-can", by),
            then text!("review-ask-the-technician-for-a");
        Closed { signer: String } = "closed":
            text!("review-the-record-was-signed-by", signer),
            then text!("review-amend-it-or-start-a");
    }
}
