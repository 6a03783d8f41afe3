//! What speaks for a cause beside the figures: displays without one, internal counts, flicker.

use super::causes::Cause;
use super::law::{log_below, log_heavy};
use super::reading_set::ReadingSet;
use super::seen::{Blank, Shown};
use super::ways::{Explanation, Sign, Term};
use super::whitened::Evidence;
use crate::quantity::SHOWN_BELOW_ZERO_D;

/// What is the same for every way, taken from the readings once.
pub(super) struct SideEvidence {
    /// Relative slope of the counts less one, with the rows of zero and of the load it was taken at.
    slope: Option<(f64, usize, usize)>,
    /// Counts at zero over those of the dead load, and its row.
    zero: Option<(f64, usize)>,
    /// Median width of the flickers that were written down, where there are three at least.
    flicker: Option<f64>,
}

impl SideEvidence {
    pub fn of(set: &ReadingSet) -> Self {
        let counted: Vec<(usize, f64)> =
            set.seen.iter().enumerate().filter_map(|(i, s)| Some((i, s.counts?))).collect();
        let zero = counted.iter().find(|(i, _)| set.seen[*i].load == 0.0);
        let most = counted
            .iter()
            .filter(|(i, _)| set.seen[*i].load > 0.0 && set.seen[*i].place.is_none())
            .max_by(|a, b| set.seen[a.0].load.total_cmp(&set.seen[b.0].load));
        let expected = set.facts.counts.as_ref();
        let slope = zero.zip(most).zip(expected).map(|(((at_zero, c0), (at, c)), expected)| {
            ((c - c0) / (set.seen[*at].load * expected.per_division) - 1.0, *at_zero, *at)
        });
        let zero = zero
            .zip(expected.filter(|e| e.dead > 0.0))
            .map(|((at, c0), e)| (c0 / (e.per_division * e.dead), *at));
        let mut widths: Vec<f64> = set.seen.iter().filter_map(|s| s.flicker).collect();
        widths.sort_by(f64::total_cmp);
        let flicker = (widths.len() >= 3).then(|| widths[widths.len() / 2]);
        Self { slope, zero, flicker }
    }

    /// What all of it adds to the logarithm of the likelihood of a way.
    pub fn adds(&self, set: &ReadingSet, cause: Cause, way: &Explanation, evidence: &Evidence) -> f64 {
        sizes(way, evidence)
            + blanks(set, cause, way, evidence)
            + self.by_counts(set, cause, way, evidence)
            + self.by_flicker(cause, way)
    }

    fn by_counts(&self, set: &ReadingSet, cause: Cause, way: &Explanation, evidence: &Evidence) -> f64 {
        let error = |row: usize| set.seen[row].error();
        let expects = |row: usize| expected(set, way, evidence, row).0;
        let slope = self.slope.map_or(0.0, |(slope, zero, load)| {
            let over = set.seen[load].load;
            // What the display says of the slope of the signal, where the fault is in the signal.
            let seen = match (error(load), error(zero)) {
                (Some(at), Some(empty)) => (at - empty) / over,
                (Some(at), None) => (at - expects(zero)) / over,
                _ => (expects(load) - expects(zero)) / over,
            };
            let share = in_signal(cause);
            let signal = log_heavy(slope - seen, 0.003, 0.05);
            let told = log_heavy(slope, 0.003, 0.05);
            let top = signal.max(told);
            top + libm::log(share * libm::exp(signal - top) + (1.0 - share) * libm::exp(told - top))
        });
        let zero = self.zero.zip(set.facts.counts.as_ref()).map_or(0.0, |((ratio, row), counts)| {
            let level = || error(row).unwrap_or_else(|| expects(row)) / counts.dead;
            let should = match (cause, way.fixed) {
                (Cause::Reversed, _) => -1.0,
                (Cause::NoSignal, _) => 0.0,
                (Cause::Overloaded, _) => 1.0 + level(),
                _ => 1.0,
            };
            log_heavy(ratio - should, 0.25, 1.0)
        });
        slope + zero
    }

    fn by_flicker(&self, cause: Cause, way: &Explanation) -> f64 {
        let Some(width) = self.flicker else { return 0.0 };
        let restless = matches!(cause, Cause::Restless | Cause::DivisionTooFine | Cause::Cable);
        let share: f64 = match (restless, width) {
            (true, w) if w >= 2.5 => 0.8,
            (true, w) if w >= 1.5 => 0.3,
            (true, _) => 0.03,
            (false, w) if w >= 4.5 => 0.01,
            (false, w) if w >= 2.5 => 0.04,
            (false, w) if w >= 1.5 => 0.2,
            (false, _) => 0.8,
        };
        // What flickers by so much within seconds scatters by about a quarter of it from reading to reading.
        let alike = if restless && width >= 1.5 {
            let off = libm::log(way.noise.each / (WIDTH_OF_SD * width)) / 0.45;
            (-0.5 * off * off).max(-8.0) + 1.0
        } else {
            0.0
        };
        libm::log(share) + alike
    }
}

/// The standard deviation of a reading over the width of its flicker.
const WIDTH_OF_SD: f64 = 0.28;

/// How often a cause sits in the signal, where the internal counts show it too.
const fn in_signal(cause: Cause) -> f64 {
    match cause {
        Cause::UnitSwitched | Cause::DecimalMisplaced | Cause::WrongWeight | Cause::ThinSpan => 0.02,
        Cause::SpanDrift => 0.35,
        Cause::Sound | Cause::ZeroOff | Cause::Bow | Cause::Unknown => 0.5,
        _ => 0.95,
    }
}

/// What a way expects of a row, with its sizes as they came out, and how far that may be off, in divisions.
fn expected(set: &ReadingSet, way: &Explanation, evidence: &Evidence, row: usize) -> (f64, f64) {
    let (mut mean, mut variance) = (way.fixed.at(set, row), 0.0);
    for (term, (size, sd)) in way.terms.iter().zip(&evidence.sizes) {
        let shape = term.shape.at(set, row);
        mean += size * shape;
        variance += (sd * shape).powi(2);
    }
    (mean, variance.sqrt())
}

/// A size of the wrong sign, or of a fault that is not so small, speaks against the way.
fn sizes(way: &Explanation, evidence: &Evidence) -> f64 {
    let one = |(term, (size, sd)): (&Term, &(f64, f64))| {
        let above = log_below(size / sd.max(1e-12));
        let sign = match term.sign {
            Sign::Either => 0.0,
            Sign::Up => std::f64::consts::LN_2 + above,
            Sign::MostlyUp => libm::log(2.0 * (0.9 * libm::exp(above) + 0.05)),
        };
        let small = if term.least > 0.0 { -14.0 * libm::exp(-(size / term.least).powi(2)) } else { 0.0 };
        sign + small
    };
    way.terms.iter().zip(&evidence.sizes).map(one).sum()
}

/// The displays without a figure. Those of one kind hang together: the least likely of them counts.
fn blanks(set: &ReadingSet, cause: Cause, way: &Explanation, evidence: &Evidence) -> f64 {
    let (low, high) = (-f64::from(SHOWN_BELOW_ZERO_D), set.facts.shown_to);
    let mut least = [0.0f64; 4];
    for row in &set.blank {
        let Shown::Blank(blank) = set.seen[*row].shown else { continue };
        let load = set.rows[*row].load;
        // Another unit or decimal changes what is written, not what is weighed.
        let written = matches!(cause, Cause::UnitSwitched | Cause::DecimalMisplaced);
        let (error, spread) = if written { (0.0, 0.0) } else { expected(set, way, evidence, *row) };
        let sd = (spread.powi(2) + way.noise.each.powi(2) + 9.0 + way.noise.alike.powi(2)).sqrt();
        let (slot, log) = match blank {
            Blank::Above => (0, log_below((load + error - high) / sd)),
            Blank::Below => (1, log_below((low - load - error) / sd)),
            Blank::Error => (2, libm::log(says_error(cause))),
            Blank::Off => (3, libm::log(says_nothing(cause))),
        };
        least[slot] = least[slot].min(log);
    }
    least.iter().sum()
}

const fn says_error(cause: Cause) -> f64 {
    match cause {
        Cause::NoSignal | Cause::Overloaded | Cause::Cable | Cause::Reversed => 0.3,
        Cause::CornerCell | Cause::Unknown => 0.1,
        _ => 0.002,
    }
}

const fn says_nothing(cause: Cause) -> f64 {
    match cause {
        Cause::NoSignal => 0.5,
        Cause::Cable | Cause::Unknown => 0.1,
        _ => 0.005,
    }
}
