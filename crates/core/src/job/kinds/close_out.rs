//! Closing a job: signed complete; and striking out what was entered wrong.

use uuid::Uuid;

use crate::assessment::{Lists, Missing, missing, missing_beside_proof};
use crate::journal::{Body, Entry, JobState, check_signature, rests_on};
use crate::refusal::Refusal;
use crate::wording::Text;

use super::words::{readable, reasoned};

/// Whether an entry may be struck out.
pub(in crate::job) fn admit_struck(
    entries: &[Entry],
    state: &JobState,
    id: Uuid,
    reason: &str,
) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    let Some(entry) = entries.iter().find(|e| e.id == id) else {
        return Err(Refusal::from(Refused::UnknownEntry));
    };
    if state.struck.contains(&id) {
        return Err(Refusal::from(Refused::AlreadyStruck));
    }
    if matches!(entry.body, Body::Started { .. } | Body::StruckOut { .. }) {
        return Err(Refusal::from(Refused::CannotStrike));
    }
    if let Some(later) = rests_on(entries, state, entry) {
        return Err(Refusal::from(Refused::RestsOnIt { seq: later.seq }));
    }
    Ok(())
}

/// Whether it may be signed.
pub(in crate::job) fn admit_closed(state: &JobState, name: &str) -> Result<(), Refusal> {
    if name.trim().is_empty() {
        return Err(Refusal::from(Refused::NameNeeded));
    }
    readable("name", name)?;
    complete(&missing_beside_proof(state))
}

/// Nothing that blocks is missing.
pub(in crate::job) fn believe_closed(state: &JobState) -> Result<(), Refusal> {
    complete(&missing(&Lists::of(state)))
}

/// Whether the customer may sign.
pub(in crate::job) fn admit_customer(state: &JobState, name: &str, path: &str) -> Result<(), Refusal> {
    check_signature(name, path)?;
    complete(&missing_beside_proof(state))
}

fn complete(missing: &[Missing]) -> Result<(), Refusal> {
    match missing.iter().find(|m| m.blocks) {
        Some(first) => Err(Refusal::from(Refused::Incomplete { says: first.says.clone() })),
        None => Ok(()),
    }
}

crate::refusals! {
    enum Refused {
        UnknownEntry = "unknown_entry" at "entry": text!("admit-this-job-has-no-such");
        AlreadyStruck = "already_struck" at "entry": text!("admit-that-entry-is-struck-out");
        CannotStrike = "cannot_strike" at "entry": text!("admit-the-start-of-a-job");
        RestsOnIt { seq: u32 } = "rests_on_it" at "entry":
            text!("admit-entry-seq-rests-on-it", seq),
            then text!("admit-strike-out-the-later-entry");
        NameNeeded = "name_needed" at "name": text!("admit-sign-with-your-name");
        Incomplete { says: Text } = "incomplete": says, then text!("admit-do-what-is-missing-or");
    }
}
