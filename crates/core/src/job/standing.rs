//! The stages, and the few questions on which the course of a job turns.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::phase::{Phase, readings_of};
use super::{CheckFinding, CheckItem, JobState, Reading, checklist, inspection};

/// The stages of a job, in the order of the work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// Before anything is adjusted.
    LookOver,
    /// How it reads before it is touched.
    AsFound,
    /// What the indicator is told.
    SetUp,
    /// Zero and a known weight.
    ZeroAndSpan,
    /// Across the range.
    Prove,
    /// Seal, sign.
    Close,
}

impl Stage {
    /// In order.
    pub const ALL: [Self; 6] =
        [Self::LookOver, Self::AsFound, Self::SetUp, Self::ZeroAndSpan, Self::Prove, Self::Close];

    /// In words.
    pub const fn label(self) -> &'static str {
        match self {
            Self::LookOver => "Look over",
            Self::AsFound => "As found",
            Self::SetUp => "Set up",
            Self::ZeroAndSpan => "Zero & span",
            Self::Prove => "Prove",
            Self::Close => "Close",
        }
    }
}

/// Something that is missing.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Missing {
    /// Where it belongs.
    pub stage: Stage,
    /// What.
    pub says: String,
    /// Without it the job cannot be closed.
    pub blocks: bool,
}

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
