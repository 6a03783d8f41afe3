//! The ways in which an error may run over the readings.

use super::deck::Deck;
use super::reading_set::ReadingSet;

/// Seconds in which two thirds of a warm-up are over.
pub(super) const WARM_S: [f64; 7] = [90.0, 180.0, 360.0, 600.0, 1000.0, 1800.0, 3600.0];

/// How an error runs over the readings, in divisions for a size of one.
#[derive(Clone, Copy, Debug, PartialEq)]
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
    ZeroBeforeSpan(f64),
    /// Nothing up to this load; then down by the rest.
    Knee(f64),
    /// Nothing up to this load; then down by the rest, up to so much and no further.
    Ramp(f64, f64),
    /// As `Knee`, by what one cell carries.
    CornerKnee(usize, Deck, f64),
    /// As `Ramp`, by what one cell carries.
    CornerRamp(usize, Deck, f64, f64),
    /// Down going up, up coming down.
    Drag,
    /// The same in proportion to the load; one at Max.
    DragLoad,
    /// Down going up alone.
    DragUp,
    /// Up coming down alone.
    DragDown,
    /// Down going up until then, in seconds: what rubbed has gone.
    DragUntil(f64),
    /// Down by the load on one cell.
    Cell(usize, Deck),
    /// What remains where a cell gives less by this part.
    Remaining(usize, Deck, f64),
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
        match self {
            Self::Level => 1.0,
            Self::Low => -1.0,
            Self::Slope => x,
            Self::Bow => 4.0 * x * (1.0 - x),
            Self::Cubic => 10.0 * x * (1.0 - x) * (1.0 - 2.0 * x),
            Self::ZeroBeforeSpan(span) => load / span - 1.0,
            Self::Knee(from) => -(load - from).max(0.0),
            Self::Ramp(from, most) => -(load - from).clamp(0.0, most),
            Self::CornerKnee(cell, deck, from) => -(carried(cell, deck) - from).max(0.0),
            Self::CornerRamp(cell, deck, from, most) => -(carried(cell, deck) - from).clamp(0.0, most),
            Self::Drag => drag,
            Self::DragLoad => drag * x,
            Self::DragUp => drag.min(0.0),
            Self::DragDown => drag.max(0.0),
            Self::DragUntil(then) if row.at_s < then => drag.min(0.0),
            Self::DragUntil(_) => 0.0,
            Self::Cell(cell, deck) => -carried(cell, deck),
            Self::Remaining(cell, deck, lost) => load - lost * carried(cell, deck),
            Self::Diagonal => row.place.map_or(0.0, |(x, y)| load * (x - 0.5) * (y - 0.5) * 16.0),
            Self::Warm(tau) => 1.0 - (-row.at_s / WARM_S[tau]).exp(),
            Self::Creep(tau) => row.soaked[tau] / set.facts.n,
        }
    }

    /// Over all rows.
    pub fn over(self, set: &ReadingSet) -> Vec<f64> {
        (0..set.rows.len()).map(|row| self.at(set, row)).collect()
    }
}
