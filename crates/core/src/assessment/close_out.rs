//! What is missing before a job can be signed.

use super::load_list::Lists;
use super::missing::Missing;
use crate::journal::{JobState, open_faults, provable, unseen};
use crate::scale::Stage;

/// What is missing. A job that stops short needs only its seals and its signature.
pub(crate) fn missing(lists: &Lists<'_>) -> Vec<Missing> {
    worked_out(lists, true)
}

/// The same but for what the proof lacks: what is asked of a proof has grown over the years.
pub(crate) fn missing_beside_proof(state: &JobState) -> Vec<Missing> {
    worked_out(&Lists::of(state), false)
}

fn worked_out(lists: &Lists<'_>, proof: bool) -> Vec<Missing> {
    let state = lists.state();
    let mut missing = Vec::new();
    let mut lacks = |stage, says: String, blocks| missing.push(Missing { stage, says, blocks });
    let unproved = state.stopped.is_some();
    for item in open_faults(state) {
        lacks(Stage::LookOver, format!("the fault at “{}” is not settled", item.label), !unproved);
    }
    let open = unseen(state).count();
    if open > 0 {
        lacks(Stage::LookOver, format!("{open} of the checklist not looked at"), !unproved);
    }
    if state.found.is_empty() {
        lacks(Stage::AsFound, "no reading as found; the record will say so".into(), false);
    }
    if state.adjusting() {
        lacks(Stage::ZeroAndSpan, "an adjustment is captured and neither saved nor abandoned".into(), true);
    } else if !provable(state) {
        lacks(Stage::ZeroAndSpan, "neither adjusted nor left alone".into(), !unproved);
    } else if proof {
        for what in lists.lacks() {
            lacks(Stage::Prove, what.clone(), !unproved);
        }
    }
    match &state.sealed_up {
        None => lacks(Stage::Close, "seal, switch and cover".into(), true),
        Some((_, false, _)) if state.sheet.has_switch() => {
            lacks(Stage::Close, "the calibration switch is not back".into(), true)
        }
        Some(_) => {}
    }
    missing
}
