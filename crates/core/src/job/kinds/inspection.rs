//! The inspection: items looked over, faults settled.

use crate::journal::{Body, CheckFinding, JobState};
use crate::refusal::Refusal;
use crate::scale::{ScaleSheet, checklist};

use super::words::{readable, reasoned, said};

/// An item that was looked over, as typed.
pub(in crate::job) fn looked_over(
    state: &JobState,
    item: String,
    finding: CheckFinding,
    note: String,
    cells: &str,
) -> Result<Body, Refusal> {
    let cells = crate::journal::typed(cells, state)?;
    Ok(Body::LookedOver { item, finding, note: said(note), cells })
}

/// Whether it may follow.
pub(in crate::job) fn admit(state: &JobState, item: &str, note: Option<&str>) -> Result<(), Refusal> {
    known_item(&state.sheet, item)?;
    note.map_or(Ok(()), |note| readable("note", note))
}

/// A fault needs a word about what was seen.
pub(in crate::job) fn believe_fault(note: Option<&str>) -> Result<(), Refusal> {
    if note.is_none_or(|note| note.trim().is_empty()) {
        return Err(Refusal::from(Refused::NoteNeeded));
    }
    Ok(())
}

fn known_item(sheet: &ScaleSheet, item: &str) -> Result<(), Refusal> {
    if checklist(sheet.kind).any(|known| known.id == item) {
        return Ok(());
    }
    Err(Refusal::from(Refused::UnknownItem))
}

/// A fault that is settled is there.
pub(in crate::job) fn admit_settled(state: &JobState, item: &str, reason: &str) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    match state.checks.get(item) {
        Some(check) if check.finding == CheckFinding::Fault => Ok(()),
        _ => Err(Refusal::from(Refused::NoFault)),
    }
}

crate::refusals! {
    enum Refused {
        NoteNeeded = "note_needed" at "note": text!("admit-say-in-a-few-words");
        UnknownItem = "unknown_item" at "item": text!("admit-this-scales-checklist-has-no");
        NoFault = "no_fault" at "item": text!("admit-there-is-no-fault-at");
    }
}
