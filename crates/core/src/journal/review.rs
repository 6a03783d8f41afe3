//! What a review leaves in a job, and who may make one. Source: ISO/IEC 17025:2017, 6.2.6 and 7.8.2.

use uuid::Uuid;

use super::conditions::{Needs, Remark};
use super::entry::{Body, Entry};
use super::state::JobState;
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

impl JobState {
    pub(crate) fn reviewed(&mut self, entry: &Entry) {
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
        return Err(Refusal::from(Refused::OwnRecord));
    }
    Ok(())
}

crate::refusals! {
    enum Refused {
        OwnRecord = "own_record":
            text!("review-who-signed-a-record-does"),
            then text!("review-ask-another-reviewer-of-this");
    }
}
