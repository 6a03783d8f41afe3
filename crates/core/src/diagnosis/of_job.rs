//! The readings of a job in the terms of the diagnosis.

use super::causes::{Cause, Priors};
use super::evidence::{Diagnosis, Ranked, diagnose, info};
use super::pointers::Pointers;
use super::seen::{Blank, Facts, Seen, Shown, too_fine};
use super::weights::which_weight;
use crate::adjust::{AdequacyInputs, Prediction};
use crate::assessment::{Assessment, M1_SHARE, PhaseView, ReadingView};
use crate::journal::{
    CheckFinding, CheckState, Direction, FIRST_PAD, JobState, NoFigure, NoFigureReading, Phase, Purpose,
    ReadStage, Reading, Settlement, Setup, cells,
};
use crate::keying::MessageMeaning;
use crate::quantity::{Decimal, Mass, most_shown};
use crate::scale::Check;
use crate::weights::Piece;
use crate::wording::Text;

/// Most pieces that are tried as forgotten or too much.
const MOST_PIECES: usize = 60;

/// The pad whose readings stand farthest from their tolerance; the first where none was read.
pub fn worst_pad(phase: &PhaseView) -> u8 {
    let off = |r: &ReadingView| {
        r.error.ratio(&phase.setup.d).map_or(0.0, |e| e.to_f64().abs()) / r.mpe_d.max(f64::MIN_POSITIVE)
    };
    let single = phase.readings.iter().filter(|r| r.counts && r.pad >= FIRST_PAD);
    single.max_by(|a, b| off(a).total_cmp(&off(b))).map_or(FIRST_PAD, |r| r.pad)
}

/// What is wrong with a pad by the readings of a phase; none where no load was read. `kit`: the pieces of the
/// workshop, for weights that may have been on by mistake.
pub fn diagnose_job(
    state: &JobState,
    assessment: &Assessment,
    phase: Phase,
    pad: u8,
    kit: &[Piece],
    priors: &Priors,
) -> Option<Diagnosis> {
    let (readings, view) = match phase {
        Phase::AsFound | Phase::FoundNow => (&state.found, &assessment.as_found),
        Phase::AsLeft => (&state.left, &assessment.proof),
    };
    let setup = &view.setup;
    // What was read before a repair or a change is never explained together with what came after it:
    // the newest readings count, whichever epoch they are of.
    let of_pad = || readings.iter().filter(|r| r.counts && r.pad == pad);
    let stage = if phase == Phase::AsLeft { ReadStage::Test } else { ReadStage::AsFound };
    let blank = || state.no_figures.iter().filter(|r| r.counts && r.pad == pad && r.stage == stage);
    let epoch = of_pad().map(|r| r.epoch).chain(blank().map(|r| r.epoch)).max();
    let counted: Vec<&Reading> =
        of_pad().filter(|r| Some(r.epoch) == epoch && !r.load.value.is_negative()).collect();
    let without: Vec<&NoFigureReading> =
        blank().filter(|r| Some(r.epoch) == epoch && is_understood(&r.display)).collect();
    let places: Vec<(u8, f64, f64)> = view
        .tests
        .iter()
        .filter(|t| t.pad == pad)
        .flat_map(|t| &t.positions)
        .map(|s| (s.position, s.x, s.y))
        .collect();
    let seen = seen(&counted, &without, setup, &places);
    let facts = facts(state, assessment, setup, pad, kit);
    // A fault that was repaired before these readings explains none of them.
    let repaired_since = epoch.is_some_and(|epoch| epoch > state.first_epoch_of(pad));
    let is_repaired = |c: &CheckState| matches!(c.settled, Some((Settlement::Repaired, _)));
    let items: Vec<String> = state
        .checks
        .iter()
        .filter(|(_, c)| c.finding == CheckFinding::Fault && !(repaired_since && is_repaired(c)))
        .map(|(item, _)| item.clone())
        .collect();
    // A display that is blank, or shows too much or too little, is a reading itself; a text points to a cause.
    let texts = without.iter().filter(|r| matches!(r.display, NoFigure::Text { .. }));
    let last_time = state.before.as_ref().map_or_else(Vec::new, |before| before.faults.clone());
    let pointers =
        Pointers { items, messages: texts.filter_map(|r| r.display.meaning()).collect(), last_time };
    let within =
        view.readings.iter().filter(|r| counted.iter().any(|c| c.entry == r.entry)).all(|r| !r.outside())
            && view.tests.iter().filter(|t| t.pad == pad).all(|t| t.within != Some(false));
    let mut diagnosis = diagnose(&seen, &facts, priors, &pointers, within)?;
    if let Some(before) = &state.before {
        let was_found = |r: &&mut Ranked| info(r.cause).is_some_and(|info| pointers.was_found(info));
        for ranked in diagnosis.ranked.iter_mut().filter(was_found) {
            ranked.again = Some(text!("of-job-found-at-the-last-record", number = before.number));
        }
    }
    let ratio = |r: &&mut Ranked| matches!(r.cause, Cause::SpanDrift | Cause::WrongWeight);
    if let Some(first) = diagnosis.ranked.iter_mut().take(2).find(ratio)
        && let Some(other) = which_weight(&seen, &facts)
    {
        let mass = |divisions: f64| {
            let steps = Decimal::from_measured(divisions, 6).unwrap_or_else(Decimal::zero);
            Mass::new(&steps * &setup.d.value, setup.d.unit)
        };
        let (keyed, on) = (mass(other.keyed), mass(other.on));
        let piece = on.minus(&keyed);
        let which = if piece.value.is_negative() { text!("word-less") } else { text!("word-more") };
        let by =
            if facts.span.is_some() { Text::default() } else { text!("of-job-no-record-tells-what-was") };
        first.which = Some(text!("of-job-abs-which-on-it-than", abs = piece.abs(), which, on, keyed, by));
    }
    Some(diagnosis)
}

/// A text that nobody knows may mean anything.
const fn is_understood(display: &NoFigure) -> bool {
    !matches!(display, NoFigure::Text { meaning: None, .. })
}

/// What was read at one moment: a figure, or a display without one.
enum Moment<'a> {
    Figure(&'a Reading),
    None(&'a NoFigureReading),
}

impl Moment<'_> {
    const fn at(&self) -> time::OffsetDateTime {
        match self {
            Self::Figure(r) => r.at,
            Self::None(r) => r.at,
        }
    }
}

fn seen(
    readings: &[&Reading],
    without: &[&NoFigureReading],
    setup: &Setup,
    places: &[(u8, f64, f64)],
) -> Vec<Seen> {
    let in_d = |mass: &Mass, d: &Mass| mass.ratio(d).unwrap_or_else(Decimal::zero).to_f64();
    let mut moments: Vec<Moment> = readings.iter().map(|r| Moment::Figure(r)).collect();
    moments.extend(without.iter().map(|r| Moment::None(r)));
    moments.sort_by_key(Moment::at);
    let Some(first) = moments.first().map(Moment::at) else { return Vec::new() };
    let mut highest = 0.0f64;
    moments
        .iter()
        .map(|moment| {
            let (load, direction) = match moment {
                Moment::Figure(r) => (&r.load, r.direction),
                Moment::None(r) => (&r.load, r.direction),
            };
            let d = setup.d_at(load, direction);
            let load = in_d(load, d);
            let down = direction == Direction::Down || (load == 0.0 && highest > 0.0);
            highest = highest.max(load);
            let at_s = (moment.at() - first).as_seconds_f64();
            match moment {
                Moment::Figure(r) => {
                    // P = I + d/2 − ΔL, in divisions.
                    let fine = r.added.as_ref().map(|added| 0.5 - in_d(added, d));
                    let place = r
                        .position
                        .filter(|s| *s > 0 && r.purpose == Purpose::Eccentricity)
                        .and_then(|s| places.iter().find(|p| p.0 == s).map(|(_, x, y)| (*x, *y)));
                    Seen {
                        entry: r.entry,
                        down,
                        place,
                        fine: fine.is_some(),
                        ..Seen::of(load, in_d(&r.shown, d) + fine.unwrap_or(0.0), at_s)
                    }
                }
                Moment::None(r) => {
                    let blank = |blank| (Shown::Blank(blank), None);
                    let (shown, flicker) = match &r.display {
                        NoFigure::Blank => blank(Blank::Off),
                        NoFigure::Over => blank(Blank::Above),
                        NoFigure::Under => blank(Blank::Below),
                        NoFigure::Text { meaning: Some(MessageMeaning::Overload), .. } => blank(Blank::Above),
                        NoFigure::Text { .. } => blank(Blank::Error),
                        // It goes to and fro between two figures: their middle was shown.
                        NoFigure::Flickers { from, to } => {
                            let (low, high) = (in_d(from, d), in_d(to, d));
                            (Shown::Figure(0.5 * (low + high)), Some(high - low))
                        }
                    };
                    Seen { entry: r.entry, down, shown, flicker, ..Seen::of(load, load, at_s) }
                }
            }
        })
        .collect()
}

/// Seconds from power-on to the first reading, where inspection found that it had hardly been on. That it was
/// said to be warm says little: a stop watch was seldom at hand.
fn on_for(state: &JobState) -> Option<f64> {
    let cold = |c: &&CheckState| c.finding == CheckFinding::Fault && c.settled.is_none();
    state.checks.get("warm").filter(cold).map(|_| 120.0)
}

/// Standard uncertainty at Max, in divisions, that an adjustment with this weight leaves; `noise`: of its readings.
/// None where the weight is none or above Max. Source: R12.
pub fn predicted_at_max(
    max: &Mass,
    d: &Mass,
    weight: &Mass,
    mpe_max: &Mass,
    noise: Option<&Mass>,
) -> Option<f64> {
    let u_weight = &weight.times(&Decimal::from_measured(M1_SHARE, 9)?);
    let inputs = AdequacyInputs { max, d, weight, u_weight, mpe_max, internal_d: None, noise };
    Some(Prediction::new(&inputs).ok()?.u_at_max() / 2.0 / d.value.to_f64())
}

fn facts(state: &JobState, assessment: &Assessment, setup: &Setup, pad: u8, kit: &[Piece]) -> Facts {
    let in_d = |mass: &Mass| mass.ratio(&setup.d).unwrap_or_else(Decimal::zero).to_f64();
    let mpe = state.tolerance.0.at(&setup.max, Some(&setup.d), Some(&setup.max)).ok();
    let before = state.before.as_ref();
    let span = before
        .and_then(|b| {
            if pad == FIRST_PAD {
                b.span.as_ref()
            } else {
                b.pads.iter().find(|p| p.pad == pad)?.span.as_ref()
            }
        })
        .map(|s| s.weight.clone());
    let here = state.pad(pad).adjusted.as_ref().and_then(|a| a.proved_by().cloned());
    let span = here.or(span);
    let predicted =
        span.as_ref().and_then(|w| predicted_at_max(&setup.max, &setup.d, w, mpe.as_ref()?, None));
    let mut pieces: Vec<f64> =
        kit.iter().map(|p| in_d(&p.nominal)).filter(|m| *m >= 1.0 && *m <= in_d(&setup.max)).collect();
    pieces.sort_by(|a, b| b.total_cmp(a));
    pieces.truncate(MOST_PIECES);
    let n = in_d(&setup.max);
    let weak_signal = assessment.setup.judgement.findings.iter().any(|f| {
        f.check == Check::SignalPerDivision && f.grade.is_some_and(|g| g != crate::grade::Grade::Sound)
    });
    Facts {
        n,
        mpe_max: mpe.map_or(1.0, |m| in_d(&m)),
        cells: cells(state),
        span: span.as_ref().map(in_d),
        pieces,
        u_span: predicted,
        too_fine: too_fine(n, state.tolerance.0.class, weak_signal),
        on_s: on_for(state),
        counts: None,
        shown_to: in_d(&most_shown(state.tolerance.0.scheme.book(), &setup.max, &setup.d)),
        digit: Decimal::ten_to(-i64::from(setup.decimals))
            .quotient(&setup.d.value)
            .map_or(1.0, |p| p.to_f64()),
    }
}
