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
    pub label: String,
    /// How it stands.
    pub state: StageState,
    /// The state in a few words.
    pub says: String,
}

/// What the next action is about.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[serde(tag = "act", rename_all = "snake_case")]
pub enum Act {
    /// Look at an item of the checklist.
    LookOver {
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
    pub says: String,
}

/// How each stage stands.
pub(crate) fn stages(lists: &Lists<'_>, outcome: Outcome) -> Vec<StageView> {
    Stage::ALL
        .into_iter()
        .map(|stage| {
            let (stands, says) = stands(lists, stage, outcome);
            StageView { stage, label: stage.label().into(), state: stands, says }
        })
        .collect()
}

fn stands(lists: &Lists<'_>, stage: Stage, outcome: Outcome) -> (StageState, String) {
    let state = lists.state();
    match stage {
        Stage::LookOver => look_over(state),
        Stage::AsFound
            if !state.found.is_empty() || state.no_figures.iter().any(|r| r.stage == ReadStage::AsFound) =>
        {
            let without = state.no_figures.iter().filter(|r| r.stage == ReadStage::AsFound).count();
            (StageState::Done, count(state.found.len() + without, "reading"))
        }
        Stage::AsFound if state.any_adjusted() => (StageState::NotNeeded, "not taken".into()),
        Stage::AsFound => (StageState::Open, "no reading yet".into()),
        Stage::SetUp => match state.setup_in_force() {
            (setup, SetupOrigin::ThisJob) => (StageState::Done, format!("{} × {}", setup.max, setup.d)),
            (_, SetupOrigin::LastRecord) => (StageState::NotNeeded, "as on record".into()),
            (_, SetupOrigin::Found) => (StageState::NotNeeded, "as found".into()),
            (_, SetupOrigin::Plate) if state.left_alone.is_some() => {
                (StageState::NotNeeded, "left alone".into())
            }
            (_, SetupOrigin::Plate) => (StageState::Open, "not on record".into()),
        },
        Stage::ZeroAndSpan => zero_and_span(state),
        Stage::Prove if !provable(state) => (StageState::Open, "nothing to prove yet".into()),
        Stage::Prove => prove(lists, outcome),
        Stage::Close if state.closed.is_some() => (StageState::Done, "signed".into()),
        Stage::Close => {
            let lacks = missing(lists).iter().filter(|m| m.blocks).count();
            if lacks == 0 {
                (StageState::Doing, "ready to sign".into())
            } else {
                (StageState::Open, format!("{lacks} missing"))
            }
        }
    }
}

fn count(n: usize, what: &str) -> String {
    format!("{n} {what}{}", if n == 1 { "" } else { "s" })
}

fn look_over(state: &JobState) -> (StageState, String) {
    let (faults, open) = (open_faults(state).count(), unseen(state).count());
    let seen = state.checks.len();
    match (faults, open) {
        (1.., _) => (StageState::Stopped, count(faults, "open fault")),
        (0, 0) => (StageState::Done, count(seen, "item")),
        (0, open) if seen > 0 => (StageState::Doing, format!("{open} to go")),
        (0, open) => (StageState::Open, count(open, "item")),
    }
}

fn zero_and_span(state: &JobState) -> (StageState, String) {
    if state.settled() && state.any_adjusted() && !state.adjusting() {
        let how = state.pad(1).adjusted.as_ref().map_or_else(String::new, |a| a.says());
        let says = if state.several() {
            let saved = state.pads.iter().filter(|p| p.adjusted.is_some()).count();
            format!("{saved} of {} pads saved", state.pads.len())
        } else {
            how
        };
        return (StageState::Done, says);
    } else if state.left_alone.is_some() {
        return (StageState::NotNeeded, "left alone".into());
    }
    if open_faults(state).next().is_some() {
        return (StageState::Stopped, "a fault comes first".into());
    }
    let done = state.pads.iter().filter(|p| p.adjusted.is_some()).count();
    if done > 0 && !state.adjusting() {
        return (StageState::Doing, format!("{done} of {} pads saved", state.pads.len()));
    }
    match (&state.here().zero, &state.here().span) {
        (_, Some(_)) => (StageState::Doing, "not saved".into()),
        (Some(_), None) => (StageState::Doing, "zero taken".into()),
        (None, None) if state.adjusting() => (StageState::Doing, "begun".into()),
        (None, None) => (StageState::Open, "not begun".into()),
    }
}

fn prove(lists: &Lists<'_>, outcome: Outcome) -> (StageState, String) {
    let (state, lacks) = (lists.state(), lists.lacks());
    match (lacks.is_empty(), outcome) {
        (true, Outcome::InTolerance) => (StageState::Done, "in tolerance".into()),
        (true, _) => (StageState::Done, "out of tolerance".into()),
        (false, _) if proof_readings(state).is_empty() => (StageState::Open, "no reading yet".into()),
        (false, _) => (StageState::Doing, format!("{} lacking", lacks.len())),
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
                Some(_) => "Signed, approved and frozen.".into(),
                None => "Signed and frozen.".into(),
            },
        };
    }
    if state.stopped.is_some() {
        return closing_next(lists);
    }
    if let Some(item) = open_faults(state).next() {
        return Next {
            stage: Stage::LookOver,
            act: Act::SettleFault { item: item.id.clone() },
            says: format!("Settle the fault: {}.", item.label),
        };
    }
    if let Some(item) = unseen(state).next()
        && !provable(state)
        && !state.adjusting()
    {
        return Next {
            stage: Stage::LookOver,
            act: Act::LookOver { item: item.id.clone() },
            says: format!("Look at: {}.", item.label),
        };
    }
    if !provable(state) && !state.adjusting() && !state.any_adjusted() && state.here().setup.is_none() {
        if let Some(item) = next_load(lists.found()) {
            return read(state, Stage::AsFound, item);
        }
        return Next {
            stage: Stage::AsFound,
            act: Act::Choose,
            says: "Adjust it, or leave it alone.".into(),
        };
    }
    adjusting_next(lists)
}

fn read(state: &JobState, stage: Stage, item: &ListedLoad) -> Next {
    Next { stage, act: Act::Read { item: Box::new(item.clone()) }, says: to_do(state, item) }
}

/// What to do for a listed load, in a sentence.
pub fn to_do(state: &JobState, item: &ListedLoad) -> String {
    let again = if state.repaired.is_some() { "Read again after the repair. " } else { "" };
    format!("{again}{}", put_on(state, item))
}

fn put_on(state: &JobState, item: &ListedLoad) -> String {
    let on = match item.pad {
        TOGETHER => " on all pads together".to_owned(),
        pad if state.several() => format!(" on pad {pad}"),
        _ => String::new(),
    };
    match item.purpose {
        ListedPurpose::Load if item.load.value.is_zero() => {
            format!("Empty {} and read it.", platform(state, item.pad))
        }
        ListedPurpose::Load if item.reason == crate::weights::LoadReason::SpanStillOn => {
            let on = if on.is_empty() { " on" } else { &on };
            format!("Leave {}{on} and read it: it proves the span.", item.load)
        }
        ListedPurpose::Load => {
            let verb = if item.way == crate::journal::Way::Up { "Put on" } else { "Go down to" };
            format!("{verb} {}{on} and read it.", item.load)
        }
        ListedPurpose::Eccentricity => {
            let place = item.place.as_deref().unwrap_or("in the middle");
            let at = if place.starts_with("in ") || place.starts_with("on ") { "" } else { "at " };
            format!("Eccentricity: put {} {at}{place}{on} and read it.", item.load)
        }
        ListedPurpose::Repeatability => format!("Repeatability: put {} on{on} again and read it.", item.load),
        ListedPurpose::Discrimination => {
            format!("Discrimination{on}: read it, add the small weight gently, read it again.")
        }
    }
}

fn platform(state: &JobState, pad: u8) -> String {
    match pad {
        TOGETHER => "all pads".into(),
        pad if state.several() => format!("pad {pad}"),
        _ => "the platform".into(),
    }
}

fn adjusting_next(lists: &Lists<'_>) -> Next {
    let state = lists.state();
    let here = |act, says: String| Next { stage: Stage::ZeroAndSpan, act, says };
    if state.adjusting() || !provable(state) {
        if state.setup_in_force().1 == SetupOrigin::Plate {
            return Next {
                stage: Stage::SetUp,
                act: Act::SetUp,
                says: "Key in Max, division and unit.".into(),
            };
        }
        let pad = state.here();
        let which = platform(state, state.pad_in_hand());
        let on = if state.several() { format!(" on {which}") } else { String::new() };
        return match (&pad.zero, &pad.span_weight, &pad.span) {
            (None, _, _) => here(
                Act::CaptureZero,
                format!("Empty {which}{}, wait until it is steady, capture zero.", stays_on(state)),
            ),
            (Some(_), None, _) => here(Act::ChooseSpan, "Choose the span weight and key it in.".into()),
            (Some(_), Some(weight), None) => here(
                Act::CaptureSpan { weight: weight.clone() },
                if on.is_empty() {
                    format!("Put {weight} on gently, in the middle; hands off, capture span.")
                } else {
                    format!("Put {weight}{on}, gently, in the middle; hands off, capture span.")
                },
            ),
            (Some(_), Some(_), Some(_)) => {
                here(Act::Save, "Save the adjustment in the indicator, or abandon it.".into())
            }
        };
    }
    if state.pads.iter().any(crate::journal::PadState::awaits_itself) && !state.left.iter().any(|r| r.counts)
    {
        return here(
            Act::LetItAdjust,
            "Take everything off, set it to adjust by its internal weight alone, let it adjust itself."
                .into(),
        );
    }
    if let Some(item) = next_load(lists.left())
        && (!lists.lacks().is_empty() || goes_on(state, lists.left()))
    {
        return read(state, Stage::Prove, item);
    }
    closing_next(lists)
}

/// What is not taken off for zero: it always stays there.
fn stays_on(state: &JobState) -> String {
    state.sheet.build.stays_on.as_ref().map_or_else(String::new, |s| format!(" ({} stays on)", s.what))
}

fn closing_next(lists: &Lists<'_>) -> Next {
    let blocking = missing(lists).into_iter().find(|m| m.blocks);
    match blocking {
        Some(m) if m.stage == Stage::Close => {
            Next { stage: Stage::Close, act: Act::SealUp, says: format!("Missing: {}.", m.says) }
        }
        Some(m) => Next { stage: m.stage, act: Act::Choose, says: format!("Missing: {}.", m.says) },
        None => Next { stage: Stage::Close, act: Act::Sign, says: "Read the summary and sign.".into() },
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
