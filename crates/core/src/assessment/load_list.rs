//! The one list of loads of a phase, in the order in which they are put on. Headline, field, ladder,
//! automatic run, what is missing and the record read this list and nothing else.

use std::cell::OnceCell;

use serde::Serialize;
use utoipa::ToSchema;

use super::span_weight::Wants;
use super::tests::{TestKind, TestView};
use crate::journal::{
    Direction, JobState, Phase, Purpose, ReadStage, Reading, TOGETHER, UsedPiece, readings_of, setup_for,
};
use crate::quantity::{Decimal, Mass};
use crate::weights::{
    CheckLoad, CheckPlan, LoadReason, Piece, PlanPiece, Usable, fewest_pieces, near_enough, round_figure,
    too_coarse,
};
use crate::wording::{Between, Text};

/// What is done with a load.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ListedPurpose {
    /// A load across the range.
    Load,
    /// The same load at one position.
    Eccentricity,
    /// The same load again.
    Repeatability,
    /// A small weight added.
    Discrimination,
}

/// How a listed load stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LoadStatus {
    /// It was read.
    Done,
    /// It is the next one.
    Next,
    /// It is still to come.
    Left,
    /// The kit cannot build it.
    OutOfReach,
}

/// A load of the list.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct ListedLoad {
    /// What is put on: round, and what the kit makes, where it is known.
    pub load: Mass,
    /// What it stands for; a reading within five per cent of it counts.
    pub target: Mass,
    /// Increasing or decreasing.
    pub direction: Direction,
    /// On which pad; 0: all together.
    pub pad: u8,
    /// At which position, for the eccentricity test; 0: the middle.
    #[schema(required)]
    pub position: Option<u8>,
    /// The position in words.
    #[schema(required)]
    pub place: Option<Text>,
    /// What is done with it.
    pub purpose: ListedPurpose,
    /// Why it is wanted.
    pub reason: LoadReason,
    /// The same in words.
    pub why: Text,
    /// The pieces that make it, where the kit is known and has them.
    pub pieces: Vec<PlanPiece>,
    /// Which of these are put on, for the next load.
    pub put: Vec<PlanPiece>,
    /// Which are taken off for it.
    pub take: Vec<PlanPiece>,
    /// How it stands.
    pub status: LoadStatus,
    /// Without it nothing is proved.
    pub needed: bool,
    /// Why its weights are not good enough for the tolerance there, and which would do.
    #[schema(required)]
    pub caution: Option<Text>,
}

impl ListedLoad {
    fn new(load: Mass, target: Mass, direction: Direction, pad: u8, reason: LoadReason) -> Self {
        Self {
            load,
            target,
            direction,
            pad,
            position: None,
            place: None,
            purpose: ListedPurpose::Load,
            reason,
            why: reason.label(),
            pieces: Vec::new(),
            put: Vec::new(),
            take: Vec::new(),
            status: LoadStatus::Left,
            needed: false,
            caution: None,
        }
    }
}

/// The lists of a state, each worked out once however many ask for it, and only where somebody does.
pub(crate) struct Lists<'a> {
    state: &'a JobState,
    found: OnceCell<Vec<ListedLoad>>,
    left: OnceCell<Vec<ListedLoad>>,
    lacks: OnceCell<Vec<Text>>,
    tests: OnceCell<Vec<TestView>>,
}

impl<'a> Lists<'a> {
    pub(crate) fn of(state: &'a JobState) -> Self {
        Self {
            state,
            found: OnceCell::new(),
            left: OnceCell::new(),
            lacks: OnceCell::new(),
            tests: OnceCell::new(),
        }
    }

    pub(crate) const fn state(&self) -> &'a JobState {
        self.state
    }

    /// The loads as found.
    pub(crate) fn found(&self) -> &[ListedLoad] {
        self.found.get_or_init(|| load_list(self.state, Phase::AsFound, &[]))
    }

    /// The loads as left, with the tests that are asked for.
    pub(crate) fn left(&self) -> &[ListedLoad] {
        self.left.get_or_init(|| load_list(self.state, Phase::AsLeft, self.tests()))
    }

    /// The tests as left.
    pub(crate) fn tests(&self) -> &[TestView] {
        self.tests.get_or_init(|| super::tests::tests(self.state, Phase::AsLeft))
    }

    /// What the proof still lacks.
    pub(crate) fn lacks(&self) -> &[Text] {
        self.lacks.get_or_init(|| lacks(self.state, self.left()))
    }
}

/// The list of a phase without a kit. `tests`: those of the phase, as they stand.
pub(crate) fn load_list(state: &JobState, phase: Phase, tests: &[TestView]) -> Vec<ListedLoad> {
    let mut list: Vec<ListedLoad> =
        (1..=state.sheet.pads).flat_map(|pad| of_pad(state, phase, pad)).collect();
    if state.several() && phase == Phase::AsLeft {
        list.push(together(state));
    }
    if phase == Phase::AsLeft {
        list.extend(tests.iter().flat_map(of_test));
    }
    mark_next(state, phase, &mut list);
    list
}

/// The list of a phase as it stands, with the tests that are asked for.
pub fn loads_of(state: &JobState, phase: Phase) -> Vec<ListedLoad> {
    load_list(state, phase, &super::tests::tests(state, phase))
}

/// What was read that counts for the loads of a phase: as left also what was read as found, where that
/// stands.
fn counted(state: &JobState, phase: Phase, pad: u8) -> Vec<&Reading> {
    let found = if phase == Phase::AsLeft && state.found_stands_at(pad) {
        readings_of(state, Phase::FoundNow)
    } else {
        Vec::new()
    };
    found
        .into_iter()
        .chain(readings_of(state, if phase == Phase::AsLeft { phase } else { Phase::FoundNow }))
        .filter(|r| r.counts && r.pad == pad && r.is_load())
        .collect()
}

fn of_pad(state: &JobState, phase: Phase, pad: u8) -> Vec<ListedLoad> {
    let wants = Wants::at(state, phase, pad, None);
    let setup = &wants.setup;
    let unit = setup.d.unit;
    let readings = counted(state, phase, pad);
    let zero = Mass::zero(unit);
    let adjusted = state.pad(pad).adjusted.as_ref();
    let span = adjusted.and_then(|a| a.proved_by());
    let still_on = adjusted.and_then(|a| a.left_on());
    let mut out = Vec::new();
    if phase == Phase::AsLeft
        && let Some(weight) = still_on
    {
        out.push(ListedLoad::new(
            weight.to(unit),
            weight.clone(),
            Direction::Up,
            pad,
            LoadReason::SpanStillOn,
        ));
    }
    out.push(ListedLoad::new(zero.clone(), zero.clone(), Direction::Up, pad, LoadReason::Zero));
    let loads = wants.loads(state);
    for load in &loads {
        // The span weight stands there already; it is not put on twice.
        if load.reason == LoadReason::SpanWeight && still_on.is_some_and(|on| *on == load.load) {
            continue;
        }
        let d = setup.d_at(&load.load, Direction::Up);
        let round = round_figure(load, d, &setup.max);
        out.push(ListedLoad::new(round, load.load.clone(), Direction::Up, pad, load.reason));
    }
    if phase == Phase::AsLeft {
        // Decreasing over a load that was on the way up, so that its pieces are known.
        let half = setup.max.times(&Decimal::new(5, 1));
        let off = |l: &&ListedLoad| l.target.minus(&half).abs();
        let middle = out
            .iter()
            .filter(|l| {
                l.target.value.is_positive() && l.target < setup.max && l.reason != LoadReason::SpanStillOn
            })
            .min_by(|a, b| off(a).cmp(&off(b)))
            .cloned();
        out.extend(
            middle
                .map(|m| ListedLoad::new(m.load, m.target, Direction::Down, pad, LoadReason::SameDecreasing)),
        );
        out.push(ListedLoad::new(zero.clone(), zero, Direction::Down, pad, LoadReason::ZeroReturn));
    }
    for item in &mut out {
        let read = |r: &&Reading| match item.reason {
            LoadReason::SpanStillOn | LoadReason::SpanWeight => {
                r.direction == Direction::Up && r.load == item.target
            }
            _ => r.direction == item.direction && near_enough(&r.load, &item.target),
        };
        let stage = if phase == Phase::AsLeft { ReadStage::Test } else { ReadStage::AsFound };
        // A load at which the display shows no figure was put on, and told what it tells.
        let blank = state.no_figures.iter().any(|r| {
            r.counts
                && r.stage == stage
                && r.pad == pad
                && r.direction == item.direction
                && near_enough(&r.load, &item.target)
        });
        if blank || readings.iter().any(read) {
            item.status = LoadStatus::Done;
        }
        item.needed =
            matches!(item.reason, LoadReason::Zero | LoadReason::SpanStillOn | LoadReason::SpanWeight)
                && (item.reason != LoadReason::SpanStillOn || span == Some(&item.target));
    }
    out
}

/// Each pad by itself, then all of them: the sum is what is sold.
fn together(state: &JobState) -> ListedLoad {
    let setup = setup_for(state, Phase::AsLeft, TOGETHER);
    let target = setup.max.times(&Decimal::new(25, 2));
    let wanted = CheckLoad {
        load: target.clone(),
        exact: false,
        not_above: false,
        reason: LoadReason::Together,
        round: None,
    };
    let load = round_figure(&wanted, &setup.d, &setup.max);
    let mut item = ListedLoad::new(load, target, Direction::Up, TOGETHER, LoadReason::Together);
    item.needed = true;
    // Any load on all of them tells the sum.
    if counted(state, Phase::AsLeft, TOGETHER).iter().any(|r| r.load.value.is_positive()) {
        item.status = LoadStatus::Done;
    }
    item
}

/// The readings that a test asks for and that are not there yet, and those that are.
fn of_test(test: &TestView) -> Vec<ListedLoad> {
    if !test.asked {
        return Vec::new();
    }
    let item = |purpose: ListedPurpose, reason: LoadReason, load: &Mass, done: bool| {
        let mut item = ListedLoad::new(load.clone(), load.clone(), Direction::Up, test.pad, reason);
        item.purpose = purpose;
        item.status = if done { LoadStatus::Done } else { LoadStatus::Left };
        item
    };
    match (test.test, &test.load) {
        (TestKind::Eccentricity, Some(load)) => test
            .positions
            .iter()
            .map(|at| ListedLoad {
                position: Some(at.position),
                place: Some(at.place.clone()),
                ..item(ListedPurpose::Eccentricity, LoadReason::Eccentricity, load, at.entry.is_some())
            })
            .collect(),
        (TestKind::Repeatability, Some(load)) => (0..test.wanted)
            .map(|n| item(ListedPurpose::Repeatability, LoadReason::Repeatability, load, n < test.done))
            .collect(),
        (TestKind::Discrimination, _) => {
            let zero = Mass::zero(test.load.as_ref().map_or(crate::quantity::Unit::Kg, |l| l.unit));
            vec![item(ListedPurpose::Discrimination, LoadReason::Discrimination, &zero, test.done > 0)]
        }
        _ => Vec::new(),
    }
}

/// Marks the one that is next: the first that is left behind the last one done, so that nobody who is
/// taking weights off is asked to put them on again; else the first that is left. Loads that the proof
/// lacks come before the tests beside them.
fn mark_next(state: &JobState, phase: Phase, list: &mut [ListedLoad]) {
    for item in list.iter_mut().filter(|i| i.status == LoadStatus::Next) {
        item.status = LoadStatus::Left;
    }
    let open = |i: &ListedLoad| i.status == LoadStatus::Left;
    let last = last_read(state, phase, list);
    let behind = last.and_then(|last| list.iter().skip(last + 1).position(open).map(|at| last + 1 + at));
    let is_load = |i: &ListedLoad| i.purpose == ListedPurpose::Load;
    let wanted = || {
        let lacking = phase == Phase::AsLeft && !lacks(state, list).is_empty();
        let needed = list.iter().position(|i| open(i) && i.needed);
        needed.or_else(|| list.iter().position(|i| lacking && open(i) && is_load(i)))
    };
    let next = match behind {
        Some(at) if is_load(&list[at]) => Some(at),
        other => wanted().or(other),
    };
    if let Some(at) = next.or_else(|| list.iter().position(open)) {
        list[at].status = LoadStatus::Next;
    }
}

/// The item of the newest reading that is one of the list: where the work stands now. What was read as
/// found and stands for what is left is not where it stands.
pub(crate) fn last_read(state: &JobState, phase: Phase, list: &[ListedLoad]) -> Option<usize> {
    let readings = readings_of(state, if phase == Phase::AsLeft { phase } else { Phase::FoundNow });
    let item_of = |r: &Reading| {
        list.iter().rposition(|i| {
            i.status == LoadStatus::Done
                && i.pad == r.pad
                && Purpose::of(i.purpose) == Some(r.purpose)
                && match r.purpose {
                    Purpose::Load => i.direction == r.direction && near_enough(&r.load, &i.target),
                    Purpose::Eccentricity => i.position == r.position,
                    Purpose::Repeatability => true,
                }
        })
    };
    readings.into_iter().rev().filter(|r| r.counts).find_map(item_of)
}

/// The load of the list that is next.
pub fn next_load(list: &[ListedLoad]) -> Option<&ListedLoad> {
    list.iter().find(|i| i.status == LoadStatus::Next)
}

/// The same list with the loads and pieces of a plan: what stands in the plan for a target is what is put
/// on for it, and each decreasing load is made of the pieces that made it on the way up.
pub fn with_plan(
    state: &JobState,
    phase: Phase,
    mut list: Vec<ListedLoad>,
    plan: &CheckPlan,
    kit: &[Piece],
    day: time::Date,
) -> Vec<ListedLoad> {
    for item in list.iter_mut().filter(|i| i.purpose == ListedPurpose::Load && i.target.value.is_positive()) {
        // What still stands there is what was put on, whatever a plan would take for it.
        if item.reason == LoadReason::SpanStillOn {
            let adjusted = state.pad(item.pad).adjusted.as_ref();
            item.pieces = adjusted.map_or_else(Vec::new, |a| as_planned(&a.with, item.load.unit));
            continue;
        }
        if let Some(step) = plan.steps.iter().find(|s| s.wanted == item.target) {
            item.load = step.load.clone();
            item.pieces.clone_from(&step.on);
        } else if item.status != LoadStatus::Done && plan.lacks.iter().any(|l| l.load == item.target) {
            item.status = LoadStatus::OutOfReach;
        }
    }
    let usable: Vec<&Piece> = kit.iter().filter(|p| matches!(p.usable(day), Usable::Yes { .. })).collect();
    let masses: Vec<Mass> = usable.iter().map(|p| p.nominal.clone()).collect();
    let mut made: Vec<(Mass, u8, Mass, Vec<PlanPiece>)> = Vec::new();
    // A test goes on with the load that it was begun with.
    let begun: Vec<(ListedPurpose, u8)> =
        list.iter().filter(|i| i.status == LoadStatus::Done).map(|i| (i.purpose, i.pad)).collect();
    for item in &mut list {
        let tests = matches!(item.purpose, ListedPurpose::Eccentricity | ListedPurpose::Repeatability);
        if !tests && item.reason != LoadReason::Together {
            continue;
        }
        let setup = setup_for(state, Phase::AsLeft, item.pad);
        let known = made.iter().find(|(target, pad, ..)| *target == item.target && *pad == item.pad);
        let (load, pieces) = if let Some((.., load, pieces)) = known {
            (load.clone(), pieces.clone())
        } else {
            let wanted = CheckLoad {
                load: item.target.clone(),
                exact: tests && begun.contains(&(item.purpose, item.pad)),
                not_above: false,
                reason: item.reason,
                round: None,
            };
            let d = setup.d_at(&item.target, Direction::Up);
            let Some((load, chosen)) = fewest_pieces(&masses, &wanted, d, &setup.max) else { continue };
            let pieces: Vec<PlanPiece> =
                chosen.into_iter().map(|at| PlanPiece::of(usable[at], setup.d.unit)).collect();
            made.push((item.target.clone(), item.pad, load.clone(), pieces.clone()));
            (load, pieces)
        };
        item.load = load;
        item.pieces = pieces;
    }
    for item in list.iter_mut().filter(|i| i.status != LoadStatus::Done && !i.pieces.is_empty()) {
        item.caution = not_good_enough(state, phase, item, kit, day);
    }
    mark_next(state, phase, &mut list);
    moves(state, &mut list);
    list
}

/// The weights of a load against the tolerance there, before anybody lifts them.
fn not_good_enough(
    state: &JobState,
    phase: Phase,
    item: &ListedLoad,
    kit: &[Piece],
    day: time::Date,
) -> Option<Text> {
    let setup = setup_for(state, phase, item.pad);
    let mpe = state
        .tolerance
        .0
        .at(&item.load.abs(), Some(setup.d_at(&item.load, item.direction)), Some(&setup.max))
        .ok()?;
    let shares =
        item.pieces.iter().map(|p| kit.iter().find(|k| k.id == p.id).map(|k| UsedPiece::of(k, day).share()));
    too_coarse(&shares.collect::<Option<Vec<_>>>()?, &mpe)
}

fn as_planned(used: &[UsedPiece], unit: crate::quantity::Unit) -> Vec<PlanPiece> {
    let piece = |p: &UsedPiece| PlanPiece {
        id: p.id,
        serial: p.serial.clone(),
        nominal: p.nominal.clone(),
        place: String::new(),
        form: String::new(),
        drawn: p.nominal.value_in(unit).to_f64(),
    };
    used.iter().map(piece).collect()
}

/// What to put on and take off for the next load, from what stands on the platform now.
fn moves(state: &JobState, list: &mut [ListedLoad]) {
    let unit = state.setup_in_force().0.d.unit;
    let Some(on) = state.standing_now().map(|on| as_planned(on, unit)) else { return };
    let Some(next) = list.iter_mut().find(|i| i.status == LoadStatus::Next) else { return };
    if next.pieces.is_empty() && next.load.value.is_positive() {
        return;
    }
    let has = |pieces: &[PlanPiece], id| pieces.iter().any(|p| p.id == id);
    next.put = next.pieces.iter().filter(|p| !has(&on, p.id)).cloned().collect();
    next.take = on.into_iter().filter(|p| !has(&next.pieces, p.id)).collect();
}

/// What a proof still lacks, in words, read off the list; empty where it will do.
pub(crate) fn lacks(state: &JobState, list: &[ListedLoad]) -> Vec<Text> {
    let mut out: Vec<Text> = (1..=state.sheet.pads).flat_map(|pad| lacks_at(state, list, pad)).collect();
    let together = |i: &&ListedLoad| i.reason == LoadReason::Together && i.status != LoadStatus::Done;
    if let Some(item) = list.iter().find(together) {
        out.push(text!("load-list-all-pads-together-load", load = item.load));
    }
    out
}

fn lacks_at(state: &JobState, list: &[ListedLoad], pad: u8) -> Vec<Text> {
    let which = if state.several() { text!("load-list-pad-pad-2", pad) } else { Text::default() };
    let of_pad: Vec<&ListedLoad> =
        list.iter().filter(|i| i.pad == pad && i.purpose == ListedPurpose::Load).collect();
    let readings = counted(state, Phase::AsLeft, pad);
    let span = state.pad(pad).adjusted.as_ref().and_then(|a| a.proved_by());
    let mut out = Vec::new();
    // Zero counts in whichever direction it was read.
    if !readings.iter().any(|r| r.load.value.is_zero()) {
        out.push(text!("load-list-which-a-reading-at-zero", which));
    }
    if let Some(span) = span
        && !readings.iter().any(|r| r.load == *span)
    {
        out.push(text!("load-list-which-the-span-weight-span", which, span));
    }
    let mut others: Vec<Mass> =
        readings.iter().map(|r| r.load.abs()).filter(|l| !l.value.is_zero() && Some(l) != span).collect();
    others.sort();
    others.dedup();
    let needed = if span.is_some() { 2usize } else { 3 }.saturating_sub(others.len());
    if needed > 0 {
        let open = of_pad.iter().filter(|i| {
            i.direction == Direction::Up
                && i.load.value.is_positive()
                && i.status != LoadStatus::Done
                && Some(&i.target) != span
        });
        let named: Vec<String> = open.take(needed).map(|i| i.load.to_string()).collect();
        let such = if named.is_empty() {
            Text::default()
        } else {
            text!("load-list-such-as-named", named = Text::list(named, Between::And))
        };
        out.push(text!("load-list-which-needed-more-load-s", which, needed, such));
    }
    if span.is_some() && !readings.iter().any(|r| r.direction == Direction::Down) {
        let named = of_pad.iter().find(|i| i.reason == LoadReason::SameDecreasing);
        let such = named.map_or_else(Text::default, |i| text!("load-list-such-as-load", load = i.load));
        out.push(text!("load-list-which-a-load-coming-down", which, such));
    }
    out
}

/// The targets of the loads of a phase at one pad that are above zero, for a plan of the kit.
pub fn planned_for(state: &JobState, phase: Phase, span: Option<Mass>) -> (Wants, Vec<CheckLoad>) {
    let pad = if phase == Phase::AsLeft { state.pad_in_hand() } else { crate::journal::FIRST_PAD };
    let wants = Wants::at(state, phase, pad, span);
    let loads = wants.loads(state);
    (wants, loads)
}

impl Purpose {
    /// The purpose of a listed load as a reading has it; none where it is no reading.
    pub const fn of(listed: ListedPurpose) -> Option<Self> {
        match listed {
            ListedPurpose::Load => Some(Self::Load),
            ListedPurpose::Eccentricity => Some(Self::Eccentricity),
            ListedPurpose::Repeatability => Some(Self::Repeatability),
            ListedPurpose::Discrimination => None,
        }
    }
}
