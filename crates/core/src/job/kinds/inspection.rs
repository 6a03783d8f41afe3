//! The inspection: items looked over, faults settled.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::assessment::Around;
use crate::journal::{Body, CheckFinding, Entry, JobState, Settlement, alike, entries};
use crate::refusal::Refusal;
use crate::scale::{ScaleSheet, checklist};

use super::kind::{Admitted, Understood};
use super::words::{readable, reasoned, said};

fn known_item(sheet: &ScaleSheet, item: &str) -> Result<(), Refusal> {
    if checklist(sheet.kind).any(|known| known.id == item) {
        return Ok(());
    }
    Err(Refusal::from(Refused::UnknownItem))
}

/// An item of the checklist.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct LookedOverDraft {
    /// Which.
    pub item: String,
    /// What was found.
    pub finding: CheckFinding,
    /// A note.
    #[serde(default)]
    pub note: String,
    /// Counts of each cell, as typed, with spaces between; empty: not given.
    #[serde(default)]
    pub cells: String,
}

impl Understood for LookedOverDraft {
    fn understood(self, state: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let cells = crate::journal::typed(&self.cells, state)?;
        let (item, finding, note) = (self.item, self.finding, said(self.note));
        Ok(entries::LookedOver { item, finding, note, cells }.into())
    }
}

impl Admitted for entries::LookedOver {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        known_item(&state.sheet, &self.item)?;
        self.note.as_deref().map_or(Ok(()), |note| readable("note", note))
    }

    fn believe(&self, _: &JobState) -> Result<(), Refusal> {
        match self.finding {
            CheckFinding::Ok => alike(&self.cells, self.note.as_deref()),
            // A fault needs a word about what was seen.
            CheckFinding::Fault if self.note.as_deref().is_none_or(|note| note.trim().is_empty()) => {
                Err(Refusal::from(Refused::NoteNeeded))
            }
            _ => Ok(()),
        }
    }
}

/// A fault settled.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct FaultSettledDraft {
    /// Which item.
    pub item: String,
    /// How.
    pub how: Settlement,
    /// What was done or why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for FaultSettledDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { item, how, reason } = self;
        Ok(entries::FaultSettled { item, how, reason }.into())
    }
}

impl Admitted for entries::FaultSettled {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        reasoned("reason", &self.reason)?;
        match state.checks.get(&self.item) {
            Some(check) if check.finding == CheckFinding::Fault => Ok(()),
            _ => Err(Refusal::from(Refused::NoFault)),
        }
    }
}

crate::refusals! {
    enum Refused {
        NoteNeeded = "note_needed" at "note": text!("admit-say-in-a-few-words");
        UnknownItem = "unknown_item" at "item": text!("admit-this-scales-checklist-has-no");
        NoFault = "no_fault" at "item": text!("admit-there-is-no-fault-at");
    }
}
