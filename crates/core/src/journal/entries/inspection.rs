//! What was looked at, and how a fault was settled.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use super::telling::label;
use crate::journal::cells;
use crate::journal::state::{CheckState, JobState};
use crate::journal::values::{CheckFinding, Settlement};
use crate::quantity::Decimal;
use crate::wording::Text;

/// An item of the checklist was looked at.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LookedOver {
    /// Which item.
    pub item: String,
    /// What was found.
    pub finding: CheckFinding,
    /// A note.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
    /// Counts of each cell with the platform empty, where the indicator gives them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub cells: Vec<Decimal>,
}

impl Kind for LookedOver {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        let check = CheckState {
            finding: self.finding,
            note: self.note.clone(),
            cells: self.cells.clone(),
            settled: None,
        };
        state.checks.insert(self.item.clone(), check);
    }

    fn says(&self, state: &JobState) -> Text {
        let found = match self.finding {
            CheckFinding::Ok => text!("sentences-in-order"),
            CheckFinding::Fault => text!("sentences-fault"),
            CheckFinding::NotApplicable => text!("sentences-not-applicable"),
        };
        let note = self.note.as_ref().map_or_else(Text::default, |n| text!("sentences-note", n));
        let cells = cells::says(&self.cells).map_or_else(Text::default, |says| text!("sentences-says", says));
        text!("sentences-item", item = label(state, &self.item), found, note, cells)
    }
}

/// A fault was settled.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct FaultSettled {
    /// Which item.
    pub item: String,
    /// How.
    pub how: Settlement,
    /// What was done, or why it is overruled.
    pub reason: String,
}

impl Kind for FaultSettled {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        if let Some(check) = state.checks.get_mut(&self.item) {
            check.settled = Some((self.how, self.reason.clone()));
        }
        if self.how == Settlement::Repaired {
            let read = !state.found.is_empty() || state.left.iter().any(|r| r.counts);
            (1..=state.sheet.pads).for_each(|pad| state.changed(pad));
            if read {
                state.repaired = Some(self.reason.clone());
            }
        }
    }

    fn says(&self, state: &JobState) -> Text {
        let (label, reason) = (label(state, &self.item), &self.reason);
        match self.how {
            Settlement::Repaired => text!("sentences-label-repaired-reason", label, reason),
            Settlement::Overruled => text!("sentences-label-overruled-reason", label, reason),
        }
    }
}
