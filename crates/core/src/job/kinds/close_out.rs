//! Closing a job: signed complete; and striking out what was entered wrong.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::assessment::{Around, Lists, Missing, missing, missing_beside_proof};
use crate::journal::{Body, Entry, JobState, check_signature, entries, rests_on};
use crate::refusal::Refusal;
use crate::wording::Text;

use super::kind::{Admitted, Understood};
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
    if matches!(entry.body, Body::Started(_) | Body::StruckOut(_)) {
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

/// Seals, switch, lock.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SealedUpDraft {
    /// Seal numbers.
    #[serde(default)]
    pub seals: String,
    /// Switch back, cover on.
    pub switch_back: bool,
    /// Set-up locked.
    pub locked: bool,
}

impl Understood for SealedUpDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { seals, switch_back, locked } = self;
        Ok(entries::SealedUp { seals, switch_back, locked }.into())
    }
}

impl Admitted for entries::SealedUp {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        readable("seals", &self.seals)
    }
}

/// The customer signs.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct CustomerSignedDraft {
    /// Who signs.
    #[serde(default)]
    pub name: String,
    /// What was drawn.
    #[serde(default)]
    pub path: String,
}

impl Understood for CustomerSignedDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let (name, path) = (self.name.trim().to_owned(), self.path.trim().to_owned());
        Ok(entries::CustomerSigned { name, path }.into())
    }
}

impl Admitted for entries::CustomerSigned {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_customer(state, &self.name, &self.path)
    }
}

/// Stopped short.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct StoppedShortDraft {
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for StoppedShortDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { reason } = self;
        Ok(entries::StoppedShort { reason }.into())
    }
}

impl Admitted for entries::StoppedShort {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        reasoned("reason", &self.reason)
    }
}

/// An entry struck out.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct StruckOutDraft {
    /// Which.
    pub entry: Uuid,
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for StruckOutDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { entry, reason } = self;
        Ok(entries::StruckOut { entry, reason }.into())
    }
}

impl Admitted for entries::StruckOut {
    fn admit(&self, entries: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_struck(entries, state, self.entry, &self.reason)
    }
}

/// Signed.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct ClosedDraft {
    /// The name of the account that signs; what a client sends is not taken.
    #[serde(default)]
    pub name: String,
}

impl Understood for ClosedDraft {
    fn understood(self, _: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        Ok(entries::Closed { name: self.name.trim().to_owned(), approval: around.approval }.into())
    }
}

impl Admitted for entries::Closed {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_closed(state, &self.name)
    }

    fn believe(&self, state: &JobState) -> Result<(), Refusal> {
        complete(&missing(&Lists::of(state)))
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
