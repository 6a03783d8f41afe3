//! The readings in their order of time, with what each cause needs to know of them, and the ways in which an
//! error may run over them.

use num_integer::Integer;

use super::seen::{Deck, Facts, Seen};

/// Seconds in which a cell creeps two thirds of its way. Source: OIML R 60-1:2017, 5.5.1 judges creep over
/// half an hour.
pub(super) const CREEP_S: [f64; 6] = [45.0, 100.0, 220.0, 480.0, 1000.0, 2400.0];
/// Seconds in which two thirds of a warm-up are over.
pub(super) const WARM_S: [f64; 7] = [90.0, 180.0, 360.0, 600.0, 1000.0, 1800.0, 3600.0];
/// The part of the time between two readings for which the new load is on already.
const ON_FOR: f64 = 0.6;

/// A reading, or one that might be taken next.
#[derive(Clone, Debug)]
pub(super) struct Row {
    pub load: f64,
    pub down: bool,
    pub place: Option<(f64, f64)>,
    pub at_s: f64,
    /// Standard deviation of rounding and of what a steady scale may move, in divisions.
    pub sd: f64,
    /// What a cell has got used to by then, for each time constant, in divisions.
    soaked: [f64; CREEP_S.len()],
}

/// How an error runs over the readings, in divisions.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Shape {
    /// The same everywhere.
    Level,
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
    /// Down by the same for every load above this, nothing below; with −1, everywhere.
    Above(f64),
    /// As `Knee`, by what one cell carries.
    CornerKnee(usize, Deck, f64),
    /// Down going up, up coming down.
    Drag,
    /// The same in proportion to the load; one at Max.
    DragLoad,
    /// Down going up alone.
    DragUp,
    /// Up coming down alone.
    DragDown,
    /// Down going up until then: what rubbed has gone.
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

/// The readings and the tests that might follow.
pub(super) struct Sight<'a> {
    pub facts: &'a Facts,
    pub seen: &'a [Seen],
    /// The readings, then the tests.
    pub rows: Vec<Row>,
    /// Rows with a figure.
    pub read: Vec<usize>,
    /// Rows with none.
    pub blank: Vec<usize>,
    /// What all figures are a multiple of, in divisions.
    pub common: f64,
    /// The largest error, as a part of its load.
    pub worst_part: f64,
}

impl<'a> Sight<'a> {
    pub fn new(seen: &'a [Seen], tests: &[Seen], facts: &'a Facts) -> Self {
        let mut rows: Vec<Row> = Vec::with_capacity(seen.len() + tests.len());
        for next in seen {
            let row = Row::after(rows.last(), next);
            rows.push(row);
        }
        let last = rows.last().cloned();
        rows.extend(tests.iter().map(|next| Row::after(last.as_ref(), next)));
        let part = |s: &Seen| s.error().filter(|_| s.load > 0.0).map(|error| error.abs() / s.load);
        let worst_part = seen.iter().filter_map(part).fold(0.0, f64::max);
        let (read, blank) = (0..seen.len()).partition(|i| seen[*i].figure().is_some());
        Self { facts, seen, rows, read, blank, common: common(seen, facts), worst_part }
    }

    pub fn of(&self, shape: Shape) -> Vec<f64> {
        self.rows.iter().map(|row| shape.at(row, self.facts)).collect()
    }
}

/// What all figures are a multiple of, in divisions; as a display of one division where nothing tells it.
fn common(seen: &[Seen], facts: &Facts) -> f64 {
    #[expect(clippy::cast_possible_truncation, reason = "what a display shows")]
    let digits = seen.iter().filter_map(|s| s.figure()).map(|f| (f / facts.digit).round().abs() as i64);
    #[expect(clippy::cast_precision_loss, reason = "what a display shows")]
    match digits.fold(0i64, |a, b| a.gcd(&b)) {
        0 => 1.0,
        common => common as f64 * facts.digit,
    }
}

impl Row {
    fn after(before: Option<&Self>, seen: &Seen) -> Self {
        let mut soaked = [0.0; CREEP_S.len()];
        if let Some(before) = before {
            let dt = (seen.at_s - before.at_s).max(0.0);
            for ((out, was), tau) in soaked.iter_mut().zip(before.soaked).zip(CREEP_S) {
                let rested = before.load + (was - before.load) * (-dt * (1.0 - ON_FOR) / tau).exp();
                *out = seen.load + (rested - seen.load) * (-dt * ON_FOR / tau).exp();
            }
        }
        let rounding: f64 = if seen.fine { 0.06 } else { 1.0 / 12f64.sqrt() };
        Self {
            load: seen.load,
            down: seen.down,
            place: seen.place,
            at_s: seen.at_s,
            sd: rounding.hypot(0.15),
            soaked,
        }
    }
}

impl Shape {
    pub fn at(self, row: &Row, facts: &Facts) -> f64 {
        let x = row.load / facts.n;
        let drag = if row.down { 1.0 } else { -f64::from(u8::from(row.load > 0.0)) };
        match self {
            Self::Level => 1.0,
            Self::Slope => x,
            Self::Bow => 4.0 * x * (1.0 - x),
            Self::Cubic => 10.0 * x * (1.0 - x) * (1.0 - 2.0 * x),
            Self::ZeroBeforeSpan(span) => row.load / span - 1.0,
            Self::Knee(at) => -(row.load - at).max(0.0),
            Self::Above(at) => -f64::from(u8::from(row.load > at)),
            Self::CornerKnee(cell, deck, at) => {
                -(row.load * facts.share(cell, row.place, deck) - at).max(0.0)
            }
            Self::Drag => drag,
            Self::DragLoad => drag * x,
            Self::DragUp => drag.min(0.0),
            Self::DragDown => drag.max(0.0),
            Self::DragUntil(then) => {
                if row.at_s < then {
                    drag.min(0.0)
                } else {
                    0.0
                }
            }
            Self::Cell(cell, deck) => -row.load * facts.share(cell, row.place, deck),
            Self::Remaining(cell, deck, lost) => row.load * (1.0 - lost * facts.share(cell, row.place, deck)),
            Self::Diagonal => row.place.map_or(0.0, |(x, y)| row.load * (x - 0.5) * (y - 0.5) * 16.0),
            Self::Warm(at) => 1.0 - (-row.at_s / WARM_S[at]).exp(),
            Self::Creep(at) => row.soaked[at] / facts.n,
        }
    }
}
