//! What is missing before a job can be signed.

use super::load_list::Lists;
use super::missing::Missing;
use crate::journal::{JobState, open_faults, provable, unseen};
use crate::scale::Stage;
use crate::wording::Text;

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
    let mut lacks = |stage, says: Text, blocks| missing.push(Missing { stage, says, blocks });
    let unproved = state.stopped.is_some();
    for item in open_faults(state) {
        lacks(Stage::Inspection, text!("close-out-the-fault-at-label-is", label = item.label()), !unproved);
    }
    let open = unseen(state).count();
    if open > 0 {
        lacks(Stage::Inspection, text!("close-out-open-of-the-checklist-not", open), !unproved);
    }
    if state.found.is_empty() {
        lacks(Stage::AsFound, text!("close-out-no-reading-as-found-the"), false);
    }
    if state.adjusting() {
        lacks(Stage::ZeroAndSpan, text!("close-out-an-adjustment-is-captured-and"), true);
    } else if !provable(state) {
        lacks(Stage::ZeroAndSpan, text!("close-out-neither-adjusted-nor-left-alone"), !unproved);
    } else if proof {
        for what in lists.lacks() {
            lacks(Stage::Test, what.clone(), !unproved);
        }
    }
    match &state.sealed_up {
        None => lacks(Stage::Close, text!("close-out-seal-switch-and-cover"), true),
        Some((_, false, _)) if state.sheet.has_switch() => {
            lacks(Stage::Close, text!("close-out-the-calibration-switch-is-not"), true)
        }
        Some(_) => {}
    }
    missing
}
