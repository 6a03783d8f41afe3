//! What speaks for a cause beside the figures: displays without one, internal counts, flicker.

use statrs::function::erf::erfc;

use super::causes::Cause;
use super::frame::{Evidence, fixed_part};
use super::seen::{Blank, Facts, Shown};
use super::shape::{Shape, Sight};
use super::ways::{Sign, Way};

/// ln Φ(x), never below ln 10⁻¹³.
pub(super) fn log_normal_below(x: f64) -> f64 {
    (0.5 * erfc(-x / std::f64::consts::SQRT_2)).max(1e-13).ln()
}

/// The density of a normal law with a wide one beneath it, so that no figure is impossible.
fn heavy(off: f64, sd: f64, wide: f64) -> f64 {
    let normal = |sd: f64| (-0.5 * (off / sd).powi(2)).exp() / sd;
    (0.9 * normal(sd) + 0.1 * normal(wide)).max(1e-12).ln()
}

/// What is the same for every way, taken from the readings once.
pub(super) struct Beside {
    /// Relative slope of the counts less one, with the rows of zero and of the load it was taken at.
    slope: Option<(f64, usize, usize)>,
    /// Counts at zero over those of the dead load, and its row.
    zero: Option<(f64, usize)>,
    /// Median width of the flickers that were written down, where there are three at least.
    flicker: Option<f64>,
}

impl Beside {
    pub fn of(sight: &Sight) -> Self {
        let counted: Vec<(usize, f64)> =
            sight.seen.iter().enumerate().filter_map(|(i, s)| Some((i, s.counts?))).collect();
        let zero = counted.iter().find(|(i, _)| sight.seen[*i].load == 0.0);
        let most = counted
            .iter()
            .filter(|(i, _)| sight.seen[*i].load > 0.0 && sight.seen[*i].place.is_none())
            .max_by(|a, b| sight.seen[a.0].load.total_cmp(&sight.seen[b.0].load));
        let expected = sight.facts.counts.as_ref();
        let slope = zero.zip(most).zip(expected).map(|(((at_zero, c0), (at, c)), expected)| {
            ((c - c0) / (sight.seen[*at].load * expected.per_division) - 1.0, *at_zero, *at)
        });
        let zero = zero
            .zip(expected.filter(|e| e.dead > 0.0))
            .map(|((at, c0), e)| (c0 / (e.per_division * e.dead), *at));
        let mut widths: Vec<f64> = sight.seen.iter().filter_map(|s| s.flicker).collect();
        widths.sort_by(f64::total_cmp);
        let flicker = (widths.len() >= 3).then(|| widths[widths.len() / 2]);
        Self { slope, zero, flicker }
    }

    /// What all of it adds to the logarithm of the likelihood of a way.
    pub fn adds(&self, sight: &Sight, cause: Cause, way: &Way, evidence: &Evidence) -> f64 {
        sign(way, evidence)
            + of_its_size(sight, cause, way, evidence)
            + blanks(sight, cause, way, evidence)
            + self.by_counts(sight, cause, way, evidence)
            + self.by_flicker(cause, way)
    }

    fn by_counts(&self, sight: &Sight, cause: Cause, way: &Way, evidence: &Evidence) -> f64 {
        let error = |row: usize| sight.seen[row].error();
        let expects = |row: usize| expected(sight, way, evidence, row);
        let slope = self.slope.map_or(0.0, |(slope, zero, load)| {
            let over = sight.seen[load].load;
            // What the display says of the slope of the signal, where the fault is in the signal.
            let seen = match (error(load), error(zero)) {
                (Some(at), Some(empty)) => (at - empty) / over,
                (Some(at), None) => (at - expects(zero)) / over,
                _ => (expects(load) - expects(zero)) / over,
            };
            let share = in_signal(cause);
            let signal = heavy(slope - seen, 0.003, 0.05);
            let told = heavy(slope, 0.003, 0.05);
            let top = signal.max(told);
            top + (share * (signal - top).exp() + (1.0 - share) * (told - top).exp()).ln()
        });
        let zero = self.zero.zip(sight.facts.counts.as_ref()).map_or(0.0, |((ratio, row), counts)| {
            let level = || error(row).unwrap_or_else(|| expects(row)) / counts.dead;
            let should = match (cause, way.fixed) {
                (Cause::Reversed, _) => -1.0,
                (Cause::NoSignal, _) => 0.0,
                (Cause::Overloaded, _) => 1.0 + level(),
                _ => 1.0,
            };
            heavy(ratio - should, 0.25, 1.0)
        });
        slope + zero
    }

    fn by_flicker(&self, cause: Cause, way: &Way) -> f64 {
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
            let off = (way.noise.each / (WIDTH_OF_SD * width)).ln() / 0.45;
            (-0.5 * off * off).max(-8.0) + 1.0
        } else {
            0.0
        };
        share.ln() + alike
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

/// What a way expects of a row, with its sizes as they came out.
fn expected(sight: &Sight, way: &Way, evidence: &Evidence, row: usize) -> f64 {
    let shapes: f64 = way
        .shapes
        .iter()
        .zip(&evidence.sizes)
        .map(|((shape, size), by)| by * size * shape.at(&sight.rows[row], sight.facts))
        .sum();
    fixed_part(sight, way.fixed)[row] + shapes
}

fn sign(way: &Way, evidence: &Evidence) -> f64 {
    let Some(first) = evidence.sizes.first() else { return 0.0 };
    let above = log_normal_below(first / evidence.first_sd.max(1e-9));
    match way.sign {
        Sign::Either => 0.0,
        Sign::Up => std::f64::consts::LN_2 + above,
        Sign::MostlyUp => (2.0 * (0.9 * above.exp() + 0.05)).ln(),
    }
}

/// A fault of some size has that size: a cell that was overloaded is far off at zero; one that gives much less,
/// and so makes every reading hang on where the load stands, does not give a little less.
fn of_its_size(sight: &Sight, cause: Cause, way: &Way, evidence: &Evidence) -> f64 {
    let least = |size: f64, least: f64| -14.0 * (-(size / least).powi(2)).exp();
    let first = |of: fn(&Shape) -> bool| {
        way.shapes.iter().position(|(shape, _)| of(shape)).map(|at| (way.shapes[at].1, evidence.sizes[at]))
    };
    match (cause, way.noise.standing) {
        (Cause::Overloaded, _) => {
            let level = first(|shape| matches!(shape, Shape::Level)).map_or(0.0, |(size, by)| size * by);
            least(level, 0.03 * sight.facts.n)
        }
        (Cause::WarmUp, _) => {
            way.shapes.first().map_or(0.0, |(_, size)| least(size * evidence.sizes[0], 2.0))
        }
        // What takes over a part of the load takes it, and gives none back further up.
        (Cause::SecondSupport, _) if way.shapes.len() == 2 => {
            let taken: f64 = way.shapes.iter().zip(&evidence.sizes).map(|((_, size), by)| size * by).sum();
            if taken < 0.0 { -12.0 } else { 0.0 }
        }
        (_, Some(_)) => first(|shape| matches!(shape, Shape::Cell(..))).map_or(0.0, |(_, by)| least(by, 0.3)),
        _ => 0.0,
    }
}

/// The displays without a figure. Those of one kind hang together: the least likely of them counts.
fn blanks(sight: &Sight, cause: Cause, way: &Way, evidence: &Evidence) -> f64 {
    let (low, high) = sight.facts.shown_between();
    let mut least = [0.0f64; 4];
    for row in &sight.blank {
        let Shown::Blank(blank) = sight.seen[*row].shown else { continue };
        let load = sight.rows[*row].load;
        // Another unit or decimal changes what is written, not what is weighed.
        let written = matches!(cause, Cause::UnitSwitched | Cause::DecimalMisplaced);
        let error = if written { 0.0 } else { expected(sight, way, evidence, *row) };
        let spread = way
            .shapes
            .first()
            .map_or(0.0, |(shape, size)| evidence.first_sd * size * shape.at(&sight.rows[*row], sight.facts));
        let sd = (spread.powi(2) + way.noise.each.powi(2) + 9.0 + way.noise.alike.powi(2)).sqrt();
        let (slot, log) = match blank {
            Blank::Above => (0, log_normal_below((load + error - high) / sd)),
            Blank::Below => (1, log_normal_below((low - load - error) / sd)),
            Blank::Error => (2, says_error(cause).ln()),
            Blank::Off => (3, says_nothing(cause).ln()),
        };
        least[slot] = least[slot].min(log);
    }
    least.iter().sum()
}

const fn says_error(cause: Cause) -> f64 {
    match cause {
        Cause::NoSignal | Cause::Overloaded | Cause::Cable | Cause::Reversed => 0.3,
        Cause::CornerCell | Cause::Unknown => 0.1,
        _ => 0.01,
    }
}

const fn says_nothing(cause: Cause) -> f64 {
    match cause {
        Cause::NoSignal => 0.5,
        Cause::Cable | Cause::Unknown => 0.1,
        _ => 0.005,
    }
}

impl Facts {
    /// What a slip of the pen makes of a figure: the density of what was written less what should have been, in
    /// divisions, where that is known with a standard deviation.
    pub(super) fn slip(&self, off: f64, sd: f64) -> f64 {
        let near = |at: f64| (-0.5 * ((off.abs() - at) / sd).powi(2)).exp() / (sd * 2.506_628_3);
        // One digit read as another, and two that changed places: nine times as much.
        let places = (self.n / self.digit).log10().floor().max(0.0) + 1.0;
        let (mut digits, mut swapped, mut count, mut place) = (0.0, 0.0, 0.0, self.digit);
        while count < 9.0 * places {
            for by in 1..=9 {
                digits += near(f64::from(by) * place);
                swapped += near(9.0 * f64::from(by) * place);
                count += 1.0;
            }
            place *= 10.0;
        }
        let mut kinds = self.pieces.clone();
        kinds.sort_by(f64::total_cmp);
        kinds.dedup();
        #[expect(clippy::cast_precision_loss, reason = "a kit")]
        let pieces = if kinds.is_empty() {
            0.0
        } else {
            kinds.iter().map(|m| near(*m)).sum::<f64>() / kinds.len() as f64
        };
        // Either sign is as likely.
        0.5 * (0.4 * digits / count + 0.25 * swapped / count + 0.2 * pieces) + 0.15 / (2.0 * self.n)
    }
}
