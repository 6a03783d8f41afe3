//! Who may review a record. Source: ISO/IEC 17025:2017, 6.2.6 and 7.8.2.

use uuid::Uuid;

use super::conditions::Needs;
use super::entry::Body;
use super::state::JobState;
use crate::refusal::Refusal;

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
