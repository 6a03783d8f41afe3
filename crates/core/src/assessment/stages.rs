//! The six stages, how each stands, and the one action that is next.

use serde::Serialize;
use utoipa::ToSchema;

use super::close_out::missing;
use super::load_list::{ListedLoad, ListedPurpose, Lists, LoadStatus, last_read, load_list, next_load};
use crate::journal::{
    JobState, Outcome, Phase, ReadStage, SetupOrigin, TOGETHER, open_faults, proof_readings, provable, unseen,
};
use crate::quantity::Mass;
use crate::scale::Stage;
use crate::wording::{Between, Text};

/// How a stage stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StageState {
    /// Nothing yet.
    Open,
    /// Begun.
    Doing,
    /// Complete.
    Done,
    /// Not needed in this job.
    NotNeeded,
    /// Something must be settled before it.
    Stopped,
}

/// A stage as the course shows it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct StageView {
    /// Which.
    pub stage: Stage,
    /// In words.
    pub label: Text,
    /// How it stands.
    pub state: StageState,
    /// The state in a few words.
    pub says: Text,
}

/// What the next action is about.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[serde(tag = "act", rename_all = "snake_case")]
pub enum Act {
    /// Look at an item of the checklist.
    Inspection {
        /// Which.
        item: String,
    },
    /// Settle a fault.
    SettleFault {
        /// Which.
        item: String,
    },
    /// Put a load on and read it.
    Read {
        /// Which one, of the list of loads.
        item: Box<ListedLoad>,
    },
    /// Adjust, or leave it alone.
    Choose,
    /// Key in the set-up.
    SetUp,
    /// Capture zero.
    CaptureZero,
    /// Choose and key in the span weight.
    ChooseSpan,
    /// Put the span weight on and capture it.
    CaptureSpan {
        /// The weight.
        weight: Mass,
    },
    /// Save, or abandon.
    Save,
    /// Let it adjust itself by its internal weight.
    LetItAdjust,
    /// It is out of tolerance as it is left: find out why, adjust again, repair, or read on.
    OutOfTolerance,
    /// Seal up.
    SealUp,
    /// Sign.
    Sign,
    /// Nothing: the record is frozen.
    Nothing,
}

/// The one action that is next.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Next {
    /// Where.
    pub stage: Stage,
    /// What it is about.
    #[serde(flatten)]
    pub act: Act,
    /// What to do, in a sentence.
    pub says: Text,
}

/// How each stage stands.
pub(crate) fn stages(lists: &Lists<'_>, outcome: Outcome) -> Vec<StageView> {
    Stage::ALL
        .into_iter()
        .map(|stage| {
            let (stands, says) = stands(lists, stage, outcome);
            StageView { stage, label: stage.label(), state: stands, says }
        })
        .collect()
}

fn stands(lists: &Lists<'_>, stage: Stage, outcome: Outcome) -> (StageState, Text) {
    let state = lists.state();
    match stage {
        Stage::Inspection => inspection(state),
        Stage::AsFound
            if !state.found.is_empty() || state.no_figures.iter().any(|r| r.stage == ReadStage::AsFound) =>
        {
            let without = state.no_figures.iter().filter(|r| r.stage == ReadStage::AsFound).count();
            (StageState::Done, text!("stages-readings", n = state.found.len() + without))
        }
        Stage::AsFound if state.any_adjusted() => (StageState::NotNeeded, text!("stages-not-taken")),
        Stage::AsFound => (StageState::Open, text!("stages-no-reading-yet")),
        Stage::SetUp => match state.setup_in_force() {
            (setup, SetupOrigin::ThisJob) => {
                (StageState::Done, text!("stages-max-d", max = setup.max, d = setup.d))
            }
            (_, SetupOrigin::LastRecord) => (StageState::NotNeeded, text!("stages-as-on-record")),
            (_, SetupOrigin::Found) => (StageState::NotNeeded, text!("stages-as-found")),
            (_, SetupOrigin::Plate) if state.left_alone.is_some() => {
                (StageState::NotNeeded, text!("stages-left-alone"))
            }
            (_, SetupOrigin::Plate) => (StageState::Open, text!("stages-not-on-record")),
        },
        Stage::ZeroAndSpan => zero_and_span(state),
        Stage::Test if !provable(state) => (StageState::Open, text!("stages-nothing-to-prove-yet")),
        Stage::Test => prove(lists, outcome),
        Stage::Close if state.closed.is_some() => (StageState::Done, text!("stages-signed")),
        Stage::Close => {
            let lacks = missing(lists).iter().filter(|m| m.blocks).count();
            if lacks == 0 {
                (StageState::Doing, text!("stages-ready-to-sign"))
            } else {
                (StageState::Open, text!("stages-lacks-missing", lacks))
            }
        }
    }
}

fn inspection(state: &JobState) -> (StageState, Text) {
    let (faults, open) = (open_faults(state).count(), unseen(state).count());
    let seen = state.checks.len();
    match (faults, open) {
        (1.., _) => (StageState::Stopped, text!("stages-open-fault", n = faults)),
        (0, 0) => (StageState::Done, text!("stages-items", n = seen)),
        (0, open) if seen > 0 => (StageState::Doing, text!("stages-open-to-go", open)),
        (0, open) => (StageState::Open, text!("stages-items", n = open)),
    }
}

fn zero_and_span(state: &JobState) -> (StageState, Text) {
    if state.settled() && state.any_adjusted() && !state.adjusting() {
        let how = state.pad(1).adjusted.as_ref().map_or_else(Text::default, |a| a.says());
        let says = if state.several() {
            let saved = state.pads.iter().filter(|p| p.adjusted.is_some()).count();
            text!("stages-saved-of-pads-pads-saved", saved, pads = state.pads.len())
        } else {
            how
        };
        return (StageState::Done, says);
    } else if state.left_alone.is_some() {
        return (StageState::NotNeeded, text!("stages-left-alone"));
    }
    if open_faults(state).next().is_some() {
        return (StageState::Stopped, text!("stages-a-fault-comes-first"));
    }
    let done = state.pads.iter().filter(|p| p.adjusted.is_some()).count();
    if done > 0 && !state.adjusting() {
        return (StageState::Doing, text!("stages-done-of-pads-pads-saved", done, pads = state.pads.len()));
    }
    match (&state.here().zero, &state.here().span) {
        (_, Some(_)) => (StageState::Doing, text!("stages-not-saved")),
        (Some(_), None) => (StageState::Doing, text!("stages-zero-taken")),
        (None, None) if state.adjusting() => (StageState::Doing, text!("word-begun")),
        (None, None) => (StageState::Open, text!("stages-not-begun")),
    }
}

fn prove(lists: &Lists<'_>, outcome: Outcome) -> (StageState, Text) {
    let (state, lacks) = (lists.state(), lists.lacks());
    match (lacks.is_empty(), outcome) {
        (true, Outcome::InTolerance) => (StageState::Done, text!("stages-in-tolerance")),
        (true, _) => (StageState::Done, text!("stages-out-of-tolerance")),
        (false, _) if proof_readings(state).is_empty() => (StageState::Open, text!("stages-no-reading-yet")),
        (false, _) => (StageState::Doing, text!("stages-lacks-lacking", lacks = lacks.len())),
    }
}

/// The one action that is next.
pub(crate) fn next(lists: &Lists<'_>) -> Next {
    let state = lists.state();
    if state.closed.is_some() {
        return Next {
            stage: Stage::Close,
            act: Act::Nothing,
            says: match state.review.approved {
                Some(_) => text!("stages-signed-approved-and-frozen"),
                None => text!("stages-signed-and-frozen"),
            },
        };
    }
    if state.stopped.is_some() {
        return closing_next(lists);
    }
    if let Some(item) = open_faults(state).next() {
        return Next {
            stage: Stage::Inspection,
            act: Act::SettleFault { item: item.id.clone() },
            says: text!("stages-settle-the-fault-label", label = item.label()),
        };
    }
    if let Some(item) = unseen(state).next()
        && !provable(state)
        && !state.adjusting()
    {
        return Next {
            stage: Stage::Inspection,
            act: Act::Inspection { item: item.id.clone() },
            says: text!("stages-look-at-label", label = item.label()),
        };
    }
    if !provable(state) && !state.adjusting() && !state.any_adjusted() && state.here().setup.is_none() {
        if let Some(item) = next_load(lists.found()) {
            return read(state, Stage::AsFound, item);
        }
        return Next { stage: Stage::AsFound, act: Act::Choose, says: text!("stages-adjust-it-or-leave-it") };
    }
    adjusting_next(lists)
}

fn read(state: &JobState, stage: Stage, item: &ListedLoad) -> Next {
    Next { stage, act: Act::Read { item: Box::new(item.clone()) }, says: to_do(state, item) }
}

/// What to do for a listed load, in a sentence.
pub fn to_do(state: &JobState, item: &ListedLoad) -> Text {
    let again =
        if state.repaired.is_some() { text!("stages-read-again-after-the-repair") } else { Text::default() };
    Text::list([again, put_on(state, item)].iter().filter(|t| !t.is_empty()), Between::Space)
}

fn put_on(state: &JobState, item: &ListedLoad) -> Text {
    let on = match item.pad {
        TOGETHER => text!("stages-on-all-pads-together"),
        pad if state.several() => text!("stages-on-pad-pad", pad),
        _ => Text::default(),
    };
    match item.purpose {
        ListedPurpose::Load if item.load.value.is_zero() => {
            text!("stages-empty-platform-and-read-it", platform = platform(state, item.pad))
        }
        ListedPurpose::Load if item.reason == crate::weights::LoadReason::SpanStillOn => {
            let on = if on.is_empty() { text!("stages-on") } else { on };
            text!("stages-leave-load-on-and-read", load = item.load, on)
        }
        ListedPurpose::Load => {
            let verb = if item.direction == crate::journal::Direction::Up {
                text!("stages-put-on")
            } else {
                text!("stages-go-down-to")
            };
            text!("stages-verb-load-on-and-read", verb, load = item.load, on)
        }
        ListedPurpose::Eccentricity => {
            let place = item.place.clone().unwrap_or_else(|| text!("stages-in-the-middle"));
            text!("stages-eccentricity-put-load-at-place", load = item.load, place, on)
        }
        ListedPurpose::Repeatability => text!("stages-repeatability-put-load-on-on", load = item.load, on),
        ListedPurpose::Discrimination => {
            text!("stages-discrimination-on-read-it-add", on)
        }
    }
}

fn platform(state: &JobState, pad: u8) -> Text {
    match pad {
        TOGETHER => text!("stages-all-pads"),
        pad if state.several() => text!("stages-pad-pad", pad),
        _ => text!("stages-the-platform"),
    }
}

fn adjusting_next(lists: &Lists<'_>) -> Next {
    let state = lists.state();
    let here = |act, says: Text| Next { stage: Stage::ZeroAndSpan, act, says };
    if state.adjusting() || !provable(state) {
        if state.setup_in_force().1 == SetupOrigin::Plate {
            return Next {
                stage: Stage::SetUp,
                act: Act::SetUp,
                says: text!("stages-key-in-max-division-and"),
            };
        }
        let pad = state.here();
        let which = platform(state, state.pad_in_hand());
        let on = if state.several() { text!("stages-on-which", which) } else { Text::default() };
        return match (&pad.zero, &pad.span_weight, &pad.span) {
            (None, _, _) => here(
                Act::CaptureZero,
                text!("stages-empty-which-stays-on-wait", which, stays_on = stays_on(state)),
            ),
            (Some(_), None, _) => here(Act::ChooseSpan, text!("stages-choose-the-span-weight-and")),
            (Some(_), Some(weight), None) => here(
                Act::CaptureSpan { weight: weight.clone() },
                if on.is_empty() {
                    text!("stages-put-weight-on-gently-in", weight)
                } else {
                    text!("stages-put-weight-on-gently-in-2", weight, on)
                },
            ),
            (Some(_), Some(_), Some(_)) => here(Act::Save, text!("stages-save-the-adjustment-in-the")),
        };
    }
    if state.pads.iter().any(crate::journal::PadState::awaits_itself) && !state.left.iter().any(|r| r.counts)
    {
        return here(Act::LetItAdjust, text!("stages-take-everything-off-set-it"));
    }
    if let Some(item) = next_load(lists.left())
        && (!lists.lacks().is_empty() || goes_on(state, lists.left()))
    {
        return read(state, Stage::Test, item);
    }
    closing_next(lists)
}

/// What is not taken off for zero: it always stays there.
fn stays_on(state: &JobState) -> Text {
    state
        .sheet
        .build
        .stays_on
        .as_ref()
        .map_or_else(Text::default, |s| text!("stages-what-stays-on", what = s.what))
}

fn closing_next(lists: &Lists<'_>) -> Next {
    let blocking = missing(lists).into_iter().find(|m| m.blocks);
    match blocking {
        Some(m) if m.stage == Stage::Close => {
            Next { stage: Stage::Close, act: Act::SealUp, says: text!("stages-missing-says", says = m.says) }
        }
        Some(m) => {
            Next { stage: m.stage, act: Act::Choose, says: text!("stages-missing-says", says = m.says) }
        }
        None => Next { stage: Stage::Close, act: Act::Sign, says: text!("stages-read-the-summary-and-sign") },
    }
}

/// The pad that a reading is wanted from next.
pub(crate) fn pad_to_read(state: &JobState, stage: crate::journal::ReadStage) -> u8 {
    let phase = if stage == crate::journal::ReadStage::AsFound { Phase::AsFound } else { Phase::AsLeft };
    next_load(&load_list(state, phase, &[])).map_or(crate::journal::FIRST_PAD, |item| item.pad)
}

/// Enough is proved; the list goes on with what lies behind the last load done, and never turns back to
/// what was passed over.
fn goes_on(state: &JobState, list: &[ListedLoad]) -> bool {
    let next = list.iter().position(|i| i.status == LoadStatus::Next);
    state.any_adjusted() && state.sealed_up.is_none() && next > last_read(state, Phase::AsLeft, list)
}
