//! The ways in which an error may run over the readings.

use super::deck::Deck;
use super::reading_set::{CREEP_S, ReadingSet};

/// Seconds in which two thirds of a warm-up are over.
pub(super) const WARM_S: [f64; 7] = [90.0, 180.0, 360.0, 600.0, 1000.0, 1800.0, 3600.0];

/// Where a stop may begin: so many parts of Max.
pub(super) const STOPS: u8 = 24;
/// The same by what one corner carries: tenths of what a corner of four carries at Max.
pub(super) const CORNER_STOPS: u8 = 10;
/// When what rubbed may have gone, in seconds.
pub(super) const GONE_S: [f64; 3] = [120.0, 300.0, 600.0];

/// How an error runs over the readings, in divisions for a size of one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Shape {
    /// The same everywhere.
    Level,
    /// Low by the same everywhere.
    Low,
    /// In proportion to the load; one at Max.
    Slope,
    /// Largest at half of Max, where it is one.
    Bow,
    /// Up below half of Max, down above.
    Cubic,
    /// Zero was captured with something on and the span set without it: low at zero, right at the span weight.
    ZeroBeforeSpan,
    /// Nothing up to this part of `STOPS`; then down by the rest.
    Knee(u8),
    /// Nothing up to this part; then down by the rest, up to the next part and no further.
    Ramp(u8),
    /// As `Knee`, by what one cell carries, in parts of `CORNER_STOPS`.
    CornerKnee(usize, Deck, u8),
    /// As `Ramp`, by what one cell carries.
    CornerRamp(usize, Deck, u8),
    /// Down going up, up coming down.
    Drag,
    /// The same in proportion to the load; one at Max.
    DragLoad,
    /// Down going up alone.
    DragUp,
    /// Up coming down alone.
    DragDown,
    /// Down going up until then, by `GONE_S`: what rubbed has gone.
    DragUntil(usize),
    /// Down by the load on one cell.
    Cell(usize, Deck),
    /// What remains where so many times of what a cell gives is missing.
    Remaining(usize, Deck, u8),
    /// The load, by diagonals.
    Diagonal,
    /// Towards its end in time: fast at first.
    Warm(usize),
    /// In proportion to what lay on it before; one at Max.
    Creep(usize),
}

impl Shape {
    /// At a row.
    pub fn at(self, set: &ReadingSet, at: usize) -> f64 {
        let row = &set.rows[at];
        let (load, x) = (row.load, row.load / set.facts.n);
        let drag = if row.down { 1.0 } else { -f64::from(u8::from(load > 0.0)) };
        let carried = |cell, deck| load * set.share(cell, deck, at);
        let gap = set.facts.n / f64::from(STOPS);
        let corner_gap = 0.25 * set.facts.n / f64::from(CORNER_STOPS);
        let past = |load: f64, gap: f64, step: u8| load - f64::from(step) * gap;
        match self {
            Self::Level => 1.0,
            Self::Low => -1.0,
            Self::Slope => x,
            Self::Bow => 4.0 * x * (1.0 - x),
            Self::Cubic => 10.0 * x * (1.0 - x) * (1.0 - 2.0 * x),
            Self::ZeroBeforeSpan => load / set.facts.span.unwrap_or(set.facts.n) - 1.0,
            Self::Knee(step) => -past(load, gap, step).max(0.0),
            Self::Ramp(step) => -past(load, gap, step).clamp(0.0, gap),
            Self::CornerKnee(cell, deck, step) => -past(carried(cell, deck), corner_gap, step).max(0.0),
            Self::CornerRamp(cell, deck, step) => {
                -past(carried(cell, deck), corner_gap, step).clamp(0.0, corner_gap)
            }
            Self::Drag => drag,
            Self::DragLoad => drag * x,
            Self::DragUp => drag.min(0.0),
            Self::DragDown => drag.max(0.0),
            Self::DragUntil(then) if row.at_s < GONE_S[then] => drag.min(0.0),
            Self::DragUntil(_) => 0.0,
            Self::Cell(cell, deck) => -carried(cell, deck),
            Self::Remaining(cell, deck, lost) => load - f64::from(lost) * carried(cell, deck),
            Self::Diagonal => row.place.map_or(0.0, |(x, y)| load * (x - 0.5) * (y - 0.5) * 16.0),
            Self::Warm(tau) => 1.0 - libm::exp(-row.at_s / WARM_S[tau]),
            Self::Creep(tau) => row.soaked[tau] / set.facts.n,
        }
    }

    /// A number of its own, from nothing on and without many gaps.
    pub fn slot(self) -> usize {
        let (warm, creep) = (WARM_S.len(), CREEP_S.len());
        let stops = usize::from(STOPS);
        let before_stops = 11 + GONE_S.len() + warm + creep;
        let of_cell = |cell: usize, deck: Deck, kind: usize| {
            const KINDS: usize = 3 + 2 * CORNER_STOPS as usize;
            before_stops + 2 * stops + (cell * 3 + deck as usize) * KINDS + kind
        };
        match self {
            Self::Level => 0,
            Self::Low => 1,
            Self::Slope => 2,
            Self::Bow => 3,
            Self::Cubic => 4,
            Self::ZeroBeforeSpan => 5,
            Self::Drag => 6,
            Self::DragLoad => 7,
            Self::DragUp => 8,
            Self::DragDown => 9,
            Self::Diagonal => 10,
            Self::DragUntil(then) => 11 + then,
            Self::Warm(tau) => 11 + GONE_S.len() + tau,
            Self::Creep(tau) => 11 + GONE_S.len() + warm + tau,
            Self::Knee(step) => before_stops + usize::from(step),
            Self::Ramp(step) => before_stops + stops + usize::from(step),
            Self::Cell(cell, deck) => of_cell(cell, deck, 0),
            Self::Remaining(cell, deck, lost) => of_cell(cell, deck, usize::from(lost.clamp(1, 2))),
            Self::CornerKnee(cell, deck, step) => of_cell(cell, deck, 3 + usize::from(step)),
            Self::CornerRamp(cell, deck, step) => {
                of_cell(cell, deck, 3 + usize::from(CORNER_STOPS) + usize::from(step))
            }
        }
    }

    /// Over all rows.
    pub fn over(self, set: &ReadingSet) -> Vec<f64> {
        (0..set.rows.len()).map(|row| self.at(set, row)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::diagnosis::causes::table;
    use crate::diagnosis::seen::{Facts, Seen};
    use crate::diagnosis::ways::ways;
    use std::collections::BTreeMap;

    #[test]
    fn every_shape_has_a_number_of_its_own() {
        let cells = vec![(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)];
        let facts = Facts { cells, span: Some(1500.0), ..Facts::of(3000.0, 1.5) };
        let seen = [Seen::of(0.0, 0.0, 0.0), Seen::of(1500.0, 900.0, 40.0)];
        let set = ReadingSet::new(&seen, &[], &facts);
        let mut of: BTreeMap<usize, Shape> = BTreeMap::new();
        for info in table() {
            for term in ways(info.cause, &set).iter().flat_map(|way| &way.terms) {
                assert_eq!(*of.entry(term.shape.slot()).or_insert(term.shape), term.shape);
            }
        }
        assert!(of.len() > 200 && of.keys().max().is_some_and(|last| *last < 2 * of.len()), "{}", of.len());
    }
}
