//! Works out everything that a screen or a record shows of a job.

use std::collections::BTreeMap;

use uuid::Uuid;

use super::adjustment::{adjust_lines, point_lines};
use super::error_chart::error_chart;
use super::load_list::{Lists, LoadStatus};
use super::loaded::mark;
use super::readings::{BudgetView, ReadingView, judged};
use super::review::review;
use super::setup::judge_setup;
use super::stages::{Act, Next, next, stages};
use super::tests::{TestView, tests};
use super::views::{
    AdjustView, Assessment, CheckView, CloseView, DecisionView, EntryView, NoFigureView, PadLine, PhaseView,
    SetupView, ToleranceView,
};
use crate::adjust::TwoPoint;
use crate::assessment::close_out as closing;
use crate::journal::entries;
use crate::journal::{
    Adjusted, Body, CheckFinding, Conditions, Entry, JobState, NoFigure, Outcome, Phase, ReadStage, Setup,
    UsedPiece, open_faults, proof_readings, provable, rests_on,
};
use crate::measurement::DecisionRule;
use crate::quantity::{Decimal, Mass, divisions};
use crate::scale::{Stage, cautions_for, checklist, inspection};
use crate::tolerance::Scheme;
use crate::wording::{Between, Text};
use crate::working::Working;

/// The whole assessment. `entries` are those that `state` was folded from.
pub fn assess(entries: &[Entry], state: &JobState) -> Assessment {
    let lists = Lists::of(state);
    let found_tests = tests(state, Phase::AsFound);
    let judged = Judged {
        found: judged(state, Phase::AsFound),
        left: judged(state, Phase::AsLeft),
        now_tests: if state.one_epoch() { found_tests.clone() } else { tests(state, Phase::FoundNow) },
        found_tests,
        left_tests: lists.tests().to_vec(),
    };
    let decision = decision_view(state, &judged);
    let outcome = outcome(&lists, &judged);
    let outcome_says = outcome_says(&lists, outcome, &judged);
    let next = out_of_tolerance(&lists, &judged).unwrap_or_else(|| next(&lists));
    let largest_u = largest_u(state, &judged);
    let reservations = reservations(state, &judged, &decision);
    let error_chart = error_chart(state, &judged.found, &judged.left);
    let Judged { found, left, found_tests, left_tests, .. } = judged;
    Assessment {
        sheet: state.sheet.clone(),
        before: state.before.clone(),
        started_at: state.started.0,
        started_by: state.started.1.name.clone(),
        stages: stages(&lists, outcome),
        next,
        tolerance: tolerance(state),
        largest_u,
        inspection: checks_seen(state),
        as_found: as_found(&lists, found, found_tests),
        setup: setup(state),
        adjust: adjust(state),
        proof: proof(&lists, outcome, outcome_says.clone(), left, left_tests),
        close: close(&lists),
        outcome,
        outcome_says,
        wiring: crate::scale::wiring_says(&state.sheet.wiring),
        reservations,
        decision,
        error_chart,
        cautions: cautions_for(state.sheet.kind).collect(),
        entries: journal_lines(entries, state),
        weights_used: weights_used(state),
        review: review(state),
        conditions: state.conditions.iter().map(Conditions::says).collect(),
        files: state.files.clone(),
    }
}

/// Every piece of the readings and of the span weights.
fn weights_used(state: &JobState) -> Vec<UsedPiece> {
    let spans = state.pads.iter().filter_map(|p| p.adjusted.as_ref()).flat_map(|a| &a.with);
    let mut used: Vec<UsedPiece> =
        state.found.iter().chain(&state.left).flat_map(|r| &r.with).chain(spans).cloned().collect();
    used.sort_by(|a, b| b.nominal.cmp(&a.nominal).then_with(|| a.serial.cmp(&b.serial)));
    used.dedup_by(|later, first| later.id == first.id);
    used
}

/// The readings of both phases, judged once for everything that is shown of them.
struct Judged {
    found: Vec<ReadingView>,
    left: Vec<ReadingView>,
    found_tests: Vec<TestView>,
    /// As found, after the last repair: these stand where it was left alone.
    now_tests: Vec<TestView>,
    left_tests: Vec<TestView>,
}

impl Judged {
    /// The tests on which the verdict rests: as left or, where it was left alone and a test was done
    /// before that, as found.
    fn standing(&self, state: &JobState) -> Vec<&TestView> {
        let pick = |left: &'_ TestView| {
            if left.done == 0 && state.found_stands_at(left.pad) {
                self.now_tests.iter().find(|f| (f.test, f.pad) == (left.test, left.pad))
            } else {
                None
            }
        };
        self.left_tests.iter().map(|left| pick(left).unwrap_or(left)).collect()
    }

    /// The readings on which the verdict rests.
    fn counted(&self, state: &JobState) -> Vec<&ReadingView> {
        let standing: Vec<uuid::Uuid> = proof_readings(state).iter().map(|r| r.entry).collect();
        self.found.iter().chain(&self.left).filter(|r| standing.contains(&r.entry)).collect()
    }
}

fn tolerance(state: &JobState) -> ToleranceView {
    let (tolerance, reason) = &state.tolerance;
    ToleranceView {
        tolerance: tolerance.clone(),
        label: tolerance.label(),
        reason: reason.clone(),
        source: tolerance.source(),
    }
}

fn checks_seen(state: &JobState) -> Vec<CheckView> {
    let asked: Vec<&str> = inspection(&state.sheet).map(|item| item.id.as_str()).collect();
    checklist(state.sheet.kind)
        .filter(|item| asked.contains(&item.id.as_str()) || state.checks.contains_key(&item.id))
        .map(|item| {
            let check = state.checks.get(&item.id);
            let settled = check.and_then(|c| c.settled.clone());
            CheckView {
                item: item.id.clone(),
                label: item.label(),
                look: item.look_at(&state.sheet),
                words: item.words(),
                why: item.why(),
                cures: item.cures,
                finding: check.map(|c| c.finding),
                note: check.and_then(|c| c.note.clone()),
                stops: !item.cures
                    && settled.is_none()
                    && check.is_some_and(|c| c.finding == CheckFinding::Fault),
                settled: settled.as_ref().map(|(how, _)| *how),
                settled_says: settled.map(|(_, says)| says),
                cells: check.and_then(|c| crate::journal::says(&c.cells)),
            }
        })
        .collect()
}

fn as_found(lists: &Lists<'_>, readings: Vec<ReadingView>, tests: Vec<TestView>) -> PhaseView {
    let state = lists.state();
    let (setup, origin) = state.setup_as_found();
    // How it was found is what was read before anything was repaired.
    let before: Vec<&ReadingView> = readings.iter().filter(|r| !r.after_repair).collect();
    let failed = tests.iter().any(|t| t.within == Some(false));
    let no_figures = no_figures(state, ReadStage::AsFound);
    let dark = no_figures.iter().any(|r| !r.flickers);
    let outcome = match before.as_slice() {
        _ if dark => Outcome::OutOfTolerance,
        [] => Outcome::NotProven,
        all if failed || all.iter().any(|r| r.outside()) => Outcome::OutOfTolerance,
        all if all.iter().any(|r| r.not_judged.is_some()) => Outcome::NotProven,
        _ => Outcome::InTolerance,
    };
    let says = match (before.is_empty(), no_figures.len()) {
        (true, 0) => text!("assess-nothing-read-yet"),
        (true, n) => no_figure_says(n),
        (false, 0) => phase_says(&before),
        (false, n) => Text::list([phase_says(&before), no_figure_says(n)], Between::Space),
    };
    let loads = lists.found().to_vec();
    PhaseView {
        small_step: setup.small_step(setup.finest()),
        setup,
        origin,
        lacks: loads
            .iter()
            .filter(|l| l.status == LoadStatus::Next || l.status == LoadStatus::Left)
            .map(|l| text!("adjustment-mass", mass = l.load))
            .collect(),
        loads,
        readings,
        no_figures,
        outcome,
        says,
        tests,
    }
}

fn no_figure_says(n: usize) -> Text {
    text!("assess-at-n-load-s-the", n)
}

/// Loads of a stage at which the display showed no figure.
fn no_figures(state: &JobState, stage: ReadStage) -> Vec<NoFigureView> {
    let of_stage = state.no_figures.iter().filter(|r| r.stage == stage);
    of_stage
        .map(|r| NoFigureView {
            entry: r.entry,
            load_text: r.load.to_string(),
            direction: r.direction,
            pad: r.pad,
            says: r.display.says(),
            text: if let NoFigure::Text { text, .. } = &r.display { Some(text.clone()) } else { None },
            means: r.display.meaning().map(|m| m.words().0).filter(|says| !says.is_empty()),
            then: r.display.meaning().map_or_else(|| text!("assess-look-the-message-up-in"), |m| m.words().1),
            flickers: matches!(r.display, NoFigure::Flickers { .. }),
            counts: r.counts,
        })
        .collect()
}

/// Loads without a figure on which the verdict rests.
fn standing_without(state: &JobState) -> impl Iterator<Item = &crate::journal::NoFigureReading> {
    let stands = |r: &&crate::journal::NoFigureReading| {
        r.counts && (r.stage == ReadStage::Test || state.found_stands_at(r.pad))
    };
    state.no_figures.iter().filter(stands)
}

fn proof(
    lists: &Lists<'_>,
    outcome: Outcome,
    says: Text,
    readings: Vec<ReadingView>,
    tests: Vec<TestView>,
) -> PhaseView {
    let state = lists.state();
    let (setup, origin) = state.setup_in_force();
    PhaseView {
        small_step: setup.small_step(setup.finest()),
        setup,
        origin,
        lacks: lists.lacks().to_vec(),
        loads: lists.left().to_vec(),
        readings,
        no_figures: no_figures(state, ReadStage::Test),
        outcome,
        says,
        tests,
    }
}

fn outcome(lists: &Lists<'_>, judged: &Judged) -> Outcome {
    let state = lists.state();
    let readings = judged.counted(state);
    let failed = judged.standing(state).iter().any(|t| t.within == Some(false));
    let dark = standing_without(state).any(|r| !matches!(r.display, NoFigure::Flickers { .. }));
    if failed || dark || readings.iter().any(|r| r.outside()) {
        return Outcome::OutOfTolerance;
    }
    if standing_without(state).next().is_some() {
        return Outcome::NotProven;
    }
    if mark(state).is_some() || readings.iter().any(|r| r.not_judged.is_some()) {
        return Outcome::NotProven;
    }
    let whole = provable(state) && !state.adjusting() && lists.lacks().is_empty();
    if whole && !readings.is_empty() { Outcome::InTolerance } else { Outcome::NotProven }
}

fn outcome_says(lists: &Lists<'_>, outcome: Outcome, judged: &Judged) -> Text {
    let state = lists.state();
    let how = match () {
        () if state.all_adjusted() => text!("assess-adjusted"),
        () if state.left_alone.is_some() => text!("assess-not-adjusted"),
        () if state.settled() => {
            let named =
                |(pad, at): (u8, &crate::journal::PadState)| at.adjusted.as_ref().map(|_| pad.to_string());
            let pads: Vec<String> = (1u8..).zip(&state.pads).filter_map(named).collect();
            text!("assess-adjusted-pad-pads-the-others", pads = pads)
        }
        () => Text::default(),
    };
    let readings = judged.counted(state);
    let without = standing_without(state).count();
    if without > 0 {
        let rest = if readings.is_empty() { Text::default() } else { phase_says(&readings) };
        return Text::list(
            [how, no_figure_says(without), rest].iter().filter(|t| !t.is_empty()),
            Between::Space,
        );
    }
    match outcome {
        Outcome::InTolerance | Outcome::OutOfTolerance => said_after(how, phase_says(&readings)),
        Outcome::NotProven if readings.iter().any(|r| r.not_judged.is_some()) => {
            said_after(how, text!("assess-how-not-proven-phase-says", phase_says = phase_says(&readings)))
        }
        Outcome::NotProven if mark(state).is_some() && lists.lacks().is_empty() => {
            said_after(how, mark(state).unwrap_or_default())
        }
        Outcome::NotProven if proof_readings(state).is_empty() => {
            said_after(how, text!("assess-how-not-proved-no-reading"))
        }
        Outcome::NotProven => said_after(
            how,
            text!(
                "assess-how-so-far-within-tolerance",
                lacks = Text::list(lists.lacks(), Between::Semicolon)
            ),
        ),
    }
}

/// Out of tolerance after it was adjusted: that is said before the next load or the seal is asked for, until
/// it is decided to close it so.
fn out_of_tolerance(lists: &Lists<'_>, judged: &Judged) -> Option<Next> {
    let state = lists.state();
    let asked = next(lists);
    let goes_on = matches!(
        (asked.stage, &asked.act),
        (Stage::Test, Act::Read { .. }) | (Stage::Close, Act::SealUp | Act::Sign)
    );
    let decided = state.closed.is_some() || state.stopped.is_some() || state.sealed_up.is_some();
    if decided || !goes_on || !state.any_adjusted() {
        return None;
    }
    let failed = judged.left_tests.iter().find(|t| t.within == Some(false)).map(|t| t.says.clone());
    let outside = worst(judged.left.iter().filter(|r| r.counts && r.outside()));
    let what = outside
        .map(|r| {
            text!(
                "assess-error-text-at-load-text",
                error_text = crate::wording::figure(r.error_text.as_str()),
                load_text = crate::wording::figure(r.load_text.as_str()),
                mpe_text = crate::wording::figure(r.mpe_text.as_str())
            )
        })
        .or(failed)?;
    let says = text!("assess-out-of-tolerance-what-look", what);
    Some(Next { stage: Stage::Test, act: Act::OutOfTolerance, says })
}

/// The reading whose error takes most of its own tolerance; of equals the one with the larger load.
pub(crate) fn worst<'a>(readings: impl Iterator<Item = &'a ReadingView>) -> Option<&'a ReadingView> {
    let judged = readings.filter(|r| r.not_judged.is_none());
    judged.max_by(|a, b| a.share.total_cmp(&b.share).then_with(|| a.load.abs().cmp(&b.load.abs())))
}

/// One sentence after another.
fn said_after(first: Text, then: Text) -> Text {
    Text::list([first, then].iter().filter(|t| !t.is_empty()), Between::Space)
}

fn phase_says(readings: &[&ReadingView]) -> Text {
    let outside = readings.iter().filter(|r| r.outside()).count();
    let unjudged = readings.iter().filter(|r| r.not_judged.is_some()).count();
    let largest = worst(readings.iter().copied()).map_or_else(Text::default, |w| {
        text!(
            "assess-worst-against-its-tolerance-error",
            error_text = crate::wording::figure(w.error_text.as_str()),
            load_text = crate::wording::figure(w.load_text.as_str()),
            share = crate::wording::fixed(w.share * 100.0, 0),
            mpe_text = crate::wording::figure(w.mpe_text.as_str())
        )
    });
    let open = match unjudged {
        0 => Text::default(),
        1 => text!("assess-1-reading-could-not-be"),
        n => text!("assess-n-readings-could-not-be", n),
    };
    let all = readings.len();
    match outside {
        0 if unjudged == 0 => text!("assess-in-tolerance-all-of-all", all, largest),
        0 => text!("assess-unjudged-of-all-readings-within", unjudged = all - unjudged, all, largest, open),
        _ => text!("assess-out-of-tolerance-outside-of", outside, all, largest, open),
    }
}

/// The decision rule, and how far it can be relied on with these uncertainties.
fn decision_view(state: &JobState, judged: &Judged) -> DecisionView {
    let (rule, reason) = &state.decision;
    let readings: Vec<&ReadingView> =
        judged.counted(state).into_iter().filter(|r| !r.load.value.is_zero()).collect();
    let limit =
        |r: &&&ReadingView| r.mpe_d > 0.0 && r.budget.as_ref().is_some_and(|b| b.expanded_d * 3.0 > r.mpe_d);
    let uncertain = readings.iter().filter(limit).count();
    let caution = (*rule == DecisionRule::Simple && uncertain > 0)
        .then(|| text!("assess-at-uncertain-of-readings-loads", uncertain, readings = readings.len()));
    DecisionView { rule: *rule, label: rule.label(), reason: reason.clone(), caution }
}

/// The largest uncertainty of the readings on which the verdict rests.
fn largest_u(state: &JobState, judged: &Judged) -> Option<BudgetView> {
    judged
        .counted(state)
        .into_iter()
        .filter_map(|r| r.budget.as_ref())
        .max_by(|a, b| a.expanded_d.total_cmp(&b.expanded_d))
        .cloned()
}

/// Tests that the scheme asks for and that were not done, in words.
fn skipped(state: &JobState, judged: &Judged) -> Option<Text> {
    let named = |t: &&TestView| {
        if state.several() {
            text!("assess-to-lowercase-at-pad-pad", to_lowercase = t.label.inside(), pad = t.pad)
        } else {
            text!("assess-test", test = t.label.inside())
        }
    };
    let open: Vec<Text> = judged.standing(state).iter().filter(|t| t.open()).map(named).collect();
    let proved = state.left.iter().any(|r| r.counts) || state.left_alone.is_some();
    (proved && !open.is_empty())
        .then(|| text!("assess-asked-for-by-tolerance-and", tolerance = state.tolerance.0.label(), open))
}

/// A set-up that was entered although it was judged not to be fit.
fn setup_overruled(state: &JobState, pad: u8, at: &crate::journal::PadState) -> Option<Text> {
    let why = at.setup_because.as_ref()?;
    let judged = super::setup::judge_setup(state, at.setup.as_ref()?, pad);
    let refused: Vec<&Text> = judged
        .findings
        .iter()
        .filter(|f| f.grade == Some(crate::grade::Grade::Refuse))
        .map(|f| &f.says)
        .collect();
    let which = if state.several() { text!("assess-pad-pad", pad) } else { Text::default() };
    Some(text!(
        "assess-which-set-up-although-refused",
        which,
        refused = Text::list(refused, Between::Semicolon),
        why
    ))
}

fn reservations(state: &JobState, judged: &Judged, decision: &DecisionView) -> Vec<Text> {
    let mut out = Vec::new();
    let plain =
        state.left.iter().any(|r| r.counts && r.is_load() && r.added.is_none()) || state.left.is_empty();
    if state.tolerance.0.scheme == Scheme::R76Initial && plain {
        out.push("Plain readings cannot settle an R 76 verification: rounding must be eliminated with small weights (R 76-1, 3.5.3.2).".into());
    }
    if state.found.is_empty() && state.no_figures.iter().all(|r| r.stage != ReadStage::AsFound) {
        out.push(text!("assess-no-reading-was-taken-as"));
    }
    for (pad, at) in (1u8..).zip(&state.pads).filter(|(_, at)| at.found.is_some()) {
        out.extend(setup_found_says(state, pad, at));
    }
    for (pad, at) in (1u8..).zip(&state.pads) {
        out.extend(setup_overruled(state, pad, at));
    }
    out.extend(captured_for_a_reason(state));
    out.extend(state.checks.iter().filter_map(|(item, check)| match &check.settled {
        Some((crate::journal::Settlement::Overruled, reason)) => {
            let label = checklist(state.sheet.kind)
                .find(|i| i.id == *item)
                .map_or_else(|| Text::verbatim(item.clone()), |i| i.label());
            Some(text!("assess-fault-overruled-at-label-reason", label, reason))
        }
        _ => None,
    }));
    // By the day on which the job was begun: a record is judged the same whenever it is read.
    let day = state.started.0.date();
    let read_with = state.conditions.iter().flat_map(|c| &c.instruments);
    out.extend(
        read_with.filter_map(|i| i.doubt(day)).map(|doubt| text!("assess-around-the-scale-doubt", doubt)),
    );
    if let Some(reason) = &state.tolerance.1 {
        out.push(text!("assess-tolerance-chosen-for-this-job", reason));
    }
    out.extend(mark(state));
    if let Some((span_weight_rule, reason)) = &state.span_weight_rule {
        out.push(text!("assess-span-weight-asked-for-on", rule = span_weight_rule.label(), reason));
    }
    out.extend(below_floor(state));
    out.extend(skipped(state, judged));
    if let Some(reason) = &decision.reason {
        out.push(text!("assess-decision-rule-for-this-job", label = decision.label, reason));
    }
    out.extend(decision.caution.clone());
    if let Some(reason) = &state.stopped {
        out.push(text!("assess-stopped-short-reason", reason));
    }
    out
}

/// How the setup as found differs from what was expected, in a sentence.
fn setup_found_says(state: &JobState, pad: u8, at: &crate::journal::PadState) -> Option<Text> {
    let found = at.found.as_ref()?;
    let (expected, _) = state.setup_expected_of(pad);
    let which = if state.several() { text!("assess-pad-pad-2", pad) } else { Text::default() };
    let ranges = |s: &Setup| {
        s.fine.as_ref().map_or_else(Text::default, |f| text!("assess-max-d-below", max = f.max, d = f.d))
    };
    let factor = at.found_factor.as_ref().map_or_else(Text::default, |f| text!("assess-factor-f", f));
    Some(text!(
        "assess-setup-as-found-which-max",
        which,
        max = found.max,
        d = found.d,
        ranges = ranges(found),
        factor,
        max2 = expected.max,
        d2 = expected.d,
        ranges2 = ranges(&expected)
    ))
}

/// Captures that did not look like what they were meant to be, and why they were taken.
fn captured_for_a_reason(state: &JobState) -> Vec<Text> {
    let adjusted = state.pads.iter().filter_map(|p| p.adjusted.as_ref());
    adjusted
        .flat_map(|a| [(text!("head-zero"), &a.zero), (text!("head-span"), &a.span)])
        .filter_map(|(what, capture)| {
            Some(text!("assess-what-captured-all-the-same", what, as_ref = capture.because.as_ref()?))
        })
        .collect()
}

/// Span weights below what was asked for when they were chosen.
fn below_floor(state: &JobState) -> Vec<Text> {
    let below = |(pad, at): (u8, &crate::journal::PadState)| {
        let adjusted = at.adjusted.as_ref()?;
        let (setup, span_weight_rule) = (state.setup_of(pad).0, adjusted.span_weight_rule?);
        let floor = span_weight_rule.floor(&setup.max, state.sheet.working_load.as_ref())?;
        (adjusted.weight < floor).then(|| {
            text!(
                "assess-the-span-weight-weight-is",
                weight = adjusted.weight,
                rule = span_weight_rule.label(),
                floor
            )
        })
    };
    (1u8..).zip(&state.pads).filter_map(below).collect()
}

fn setup(state: &JobState) -> SetupView {
    let (setup, origin) = state.setup_in_force();
    SetupView {
        n: divisions(&setup.max, &setup.d).unwrap_or(0),
        judgement: judge_setup(state, &setup, state.pad_in_hand()),
        setup,
        origin,
    }
}

fn adjust(state: &JobState) -> AdjustView {
    let (setup, _) = state.setup_in_force();
    let pad = state.here();
    let saved = if pad.adjusting() { None } else { pad.adjusted.as_ref() };
    let zero = saved.map(|a| &a.zero).or(pad.zero.as_ref());
    let span = saved.map(|a| &a.span).or(pad.span.as_ref());
    let weight = saved.map_or_else(|| pad.span_weight.clone(), |a| a.proved_by().cloned());
    let counts = |capture: Option<&crate::journal::Capture>| capture.and_then(|c| c.counts.clone());
    let two = match (&weight, counts(zero), counts(span)) {
        (Some(weight), Some(at_zero), Some(with_weight)) => {
            TwoPoint::new(weight.clone(), at_zero, with_weight).ok()
        }
        _ => None,
    };
    let facts = state.sheet.profile_facts();
    AdjustView {
        lines: adjust_lines(state),
        earlier: pad.earlier.iter().map(Adjusted::says).collect(),
        awaits_itself: state.pads.iter().any(crate::journal::PadState::awaits_itself),
        most_points: crate::journal::most_points(state),
        factor_field: facts.and_then(|f| f.factor.clone()),
        no_factor: facts.is_some_and(|f| f.factor.is_none()),
        pad: state.pad_in_hand(),
        pads: pad_lines(state),
        zero_counts: counts(zero).map(|c| c.to_string()),
        zero: zero.is_some(),
        span_counts: counts(span).map(|c| c.to_string()),
        span: span.is_some(),
        saved: state.any_adjusted() && state.settled() && !state.adjusting(),
        left_alone: state.left_alone.clone(),
        voided: state.voided.clone(),
        stopped_by: open_faults(state)
            .next()
            .map(|item| text!("assess-a-fault-at-label-that", label = item.label())),
        cautions: adjust_cautions(state, &setup, weight.as_ref(), two.as_ref()),
        against_last: two.as_ref().and_then(|two| against_last(state, two)),
        working: two.iter().map(|two| two_point_working(&setup, two, zero, span, weight.as_ref())).collect(),
        how: saved.map(Adjusted::says),
        points: point_lines(&setup, pad, saved),
        change_at_max: two.as_ref().and_then(|two| change_at_max(state, &setup, two)),
        weight_pieces: saved.map_or_else(|| pad.span_with.clone(), |a| a.with.clone()),
        weight,
    }
}

/// What the new span changes at Max against the last record, in divisions.
fn change_at_max(state: &JobState, setup: &Setup, two: &TwoPoint) -> Option<Text> {
    let pad = state.pad_in_hand();
    let before = state.before.as_ref()?;
    let last = if pad <= 1 {
        before.span.as_ref()
    } else {
        before.pads.iter().find(|p| p.pad == pad)?.span.as_ref()
    }?;
    let old = TwoPoint::new(last.weight.clone(), last.at_zero.clone(), last.with_weight.clone()).ok()?;
    let change = &two.mass_per_count().ratio(&old.mass_per_count())? - &Decimal::from(1u32);
    let in_d = (&change * &setup.max.ratio(&setup.d)?).round_to(1);
    let by = in_d.abs();
    if in_d.is_zero() {
        return Some(text!("assess-a-load-of-max-will"));
    }
    let direction = if in_d.is_positive() { text!("word-higher") } else { text!("word-lower") };
    Some(text!("assess-a-load-of-max-will-2", by, direction))
}

fn pad_lines(state: &JobState) -> Vec<PadLine> {
    if !state.several() {
        return Vec::new();
    }
    let line = |(pad, at): (u8, &crate::journal::PadState)| {
        let says = match (&at.adjusted, at.adjusting()) {
            (_, true) => text!("assess-being-adjusted"),
            (Some(adjusted), false) => adjusted.says(),
            (None, false) if at.left_alone.is_some() => text!("assess-left-as-it-was"),
            (None, false) => text!("assess-to-come"),
        };
        PadLine { pad, says, done: (at.adjusted.is_some() || at.left_alone.is_some()) && !at.adjusting() }
    };
    (1u8..).zip(&state.pads).map(line).collect()
}

fn adjust_cautions(
    state: &JobState,
    setup: &Setup,
    weight: Option<&Mass>,
    two: Option<&TwoPoint>,
) -> Vec<Text> {
    let mut out = Vec::new();
    let pad = state.here();
    let saved = pad.adjusted.as_ref().filter(|_| !pad.adjusting());
    let span_weight_rule = saved.map_or(pad.span_weight_rule, |a| a.span_weight_rule);
    let span_weight_rule = span_weight_rule
        .or_else(|| state.span_weight_rule.as_ref().map(|(span_weight_rule, _)| *span_weight_rule))
        .unwrap_or_default();
    let floor = span_weight_rule.floor(&setup.max, state.sheet.working_load.as_ref());
    if let (Some(weight), Some(floor)) = (weight, floor)
        && *weight < floor
    {
        let times = setup.max.ratio(weight).unwrap_or_else(Decimal::zero);
        out.push(text!(
            "assess-the-span-weight-is-below",
            rule = span_weight_rule.label(),
            fixed = times.fixed(1),
            setup = crate::wording::figure(setup.text(&floor))
        ));
    }
    let with = saved.map_or(&pad.span_with, |a| &a.with);
    let share = weight.and_then(|w| w.ratio(&setup.max));
    if let (Some(share), Ok(mpe)) =
        (share, state.tolerance.0.at(&setup.max, Some(&setup.d), Some(&setup.max)))
    {
        // An error of the span weight grows with the load: what it may be there is its share of Max.
        let shares: Vec<_> = with.iter().map(crate::journal::UsedPiece::share).collect();
        let there = mpe.times(&share).value_in(setup.d.unit).round_to(i64::from(setup.decimals) + 3);
        out.extend(crate::weights::too_coarse(&shares, &Mass::new(there, setup.d.unit)));
    }
    if let Some(two) = two.filter(|two| two.few_counts(&setup.d)) {
        out.push(text!(
            "assess-only-fixed-internal-counts-a",
            fixed = two.counts_per_division(&setup.d).fixed(1)
        ));
    }
    out
}

fn against_last(state: &JobState, two: &TwoPoint) -> Option<Text> {
    let before = state.before.as_ref()?;
    let pad = state.pad_in_hand();
    let last = if pad <= 1 {
        before.span.as_ref()
    } else {
        before.pads.iter().find(|p| p.pad == pad)?.span.as_ref()
    }?;
    let old = TwoPoint::new(last.weight.clone(), last.at_zero.clone(), last.with_weight.clone()).ok()?;
    let ratio = two.mass_per_count().ratio(&old.mass_per_count())?;
    let ppm = &(&ratio - &Decimal::from(1u32)) * &Decimal::ten_to(6);
    let sign = if ppm.is_positive() { "+" } else { "" };
    Some(text!("assess-sign-fixed-ppm-mass-per", sign, fixed = ppm.fixed(0)))
}

fn two_point_working(
    setup: &Setup,
    two: &TwoPoint,
    zero: Option<&crate::journal::Capture>,
    span: Option<&crate::journal::Capture>,
    weight: Option<&Mass>,
) -> Working {
    let text = |c: Option<&crate::journal::Capture>| {
        c.and_then(|c| c.counts.as_ref())
            .map_or_else(|| text!("assess-not-shown").to_string(), ToString::to_string)
    };
    let per_count = two.mass_per_count();
    let result = format!(
        "q = {} {} a count; {} counts a division",
        per_count.value.round_to(10),
        per_count.unit,
        two.counts_per_division(&setup.d).fixed(1)
    );
    Working::new(
        text!("assess-two-point-adjustment"),
        "q = W / (c_W − c_0); x = q · (c − c_0)",
        result,
        text!("assess-arithmetic-of-a-straight-line"),
    )
    .with("W", text!("assess-span-weight"), weight.map_or_else(String::new, ToString::to_string))
    .with("c_0", text!("assess-internal-counts-at-zero"), text(zero))
    .with("c_W", text!("assess-internal-counts-with-the-span"), text(span))
}

fn close(lists: &Lists<'_>) -> CloseView {
    let (state, missing) = (lists.state(), closing::missing(lists));
    let (seals, switch_back, locked) =
        state.sealed_up.clone().map_or((None, false, false), |(s, b, l)| (Some(s), b, l));
    CloseView {
        ready: missing.iter().all(|m| !m.blocks),
        missing,
        seals,
        has_switch: state.sheet.has_switch(),
        switch_back,
        locked,
        remarks: state.remarks.clone(),
        stopped: state.stopped.clone(),
        customer: state.customer.clone(),
        signed: state.closed.as_ref().map(|(name, _, _)| name.clone()),
        signed_at: state.closed.as_ref().map(|(_, _, at)| *at),
    }
}

fn journal_lines(entries: &[Entry], state: &JobState) -> Vec<EntryView> {
    let strike = |e: &Entry| match &e.body {
        Body::StruckOut(entries::StruckOut { entry: id, reason }) => {
            Some((*id, format!("{reason} ({})", e.by.name)))
        }
        _ => None,
    };
    // Where one is struck out twice the first reason stands.
    let mut struck: BTreeMap<Uuid, String> = entries.iter().rev().filter_map(strike).collect();
    entries.iter().map(|entry| listed(entries, state, entry, struck.remove(&entry.id))).collect()
}

fn listed(entries: &[Entry], state: &JobState, entry: &Entry, struck: Option<String>) -> EntryView {
    let plain = !matches!(
        entry.body,
        Body::Started(_)
            | Body::StruckOut(_)
            | Body::Closed(_)
            | Body::SentBack(_)
            | Body::Approved(_)
            | Body::Amended(_)
    );
    EntryView {
        id: entry.id,
        seq: entry.seq,
        at: entry.at,
        by: entry.by.name.clone(),
        says: entry.body.says(state),
        can_strike: plain
            && struck.is_none()
            && state.closed.is_none()
            && rests_on(entries, state, entry).is_none(),
        struck,
    }
}
