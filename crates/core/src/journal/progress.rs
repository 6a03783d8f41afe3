//! The few questions on which the course of a job turns.

use super::phase::{Phase, readings_of};
use super::state::{JobState, Reading};
use super::values::CheckFinding;
use crate::scale::{CheckItem, checklist, inspection};

/// Faults that adjusting cannot cure and that are not settled.
pub fn open_faults(state: &JobState) -> impl Iterator<Item = &'static CheckItem> + '_ {
    checklist(state.sheet.kind).filter(|item| {
        !item.cures
            && state
                .checks
                .get(&item.id)
                .is_some_and(|c| c.finding == CheckFinding::Fault && c.settled.is_none())
    })
}

/// Items of the checklist that nobody has looked at.
pub fn unseen(state: &JobState) -> impl Iterator<Item = &'static CheckItem> + '_ {
    inspection(&state.sheet).filter(|item| !state.checks.contains_key(&item.id))
}

/// The readings that prove the job: as left, and as found where it was left alone; never one from before
/// the last repair, set-up or adjustment.
pub(crate) fn proof_readings(state: &JobState) -> Vec<&Reading> {
    let found = readings_of(state, Phase::FoundNow).into_iter().filter(|r| state.found_stands_at(r.pad));
    found.chain(&state.left).filter(|r| r.counts).collect()
}

/// True where the job has come to a point that can be proved.
pub fn provable(state: &JobState) -> bool {
    state.settled()
}
