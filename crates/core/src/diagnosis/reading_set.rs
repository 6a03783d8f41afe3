//! The readings in their order of time, and those that might be taken next, with what each cause needs to know of
//! them.

use num_integer::Integer;

use super::deck::{Deck, Place, decks, middle};
use super::seen::{Facts, Seen};

/// Seconds in which a cell creeps two thirds of its way. Source: OIML R 60-1:2017, 5.5.1 judges creep over
/// half an hour.
pub(super) const CREEP_S: [f64; 6] = [45.0, 100.0, 220.0, 480.0, 1000.0, 2400.0];
/// The part of the time between two readings for which the new load is on already.
const ON_FOR: f64 = 0.6;

/// A reading, or one that might be taken next.
#[derive(Clone, Debug)]
pub(super) struct Row {
    /// In divisions.
    pub load: f64,
    pub down: bool,
    /// From the left and from the rear edge, 0 to 1; none: in the middle.
    pub place: Option<(f64, f64)>,
    pub at_s: f64,
    /// Standard deviation of rounding and of what a steady scale may move, in divisions.
    pub sd: f64,
    /// What a cell has got used to by then, for each time constant, in divisions.
    pub soaked: [f64; CREEP_S.len()],
}

/// What the cells carry at each row under one kind of deck, by cell and row.
struct Carried {
    deck: Deck,
    shares: Vec<Vec<f64>>,
    slopes: Vec<Vec<f64>>,
}

/// The readings, and those that might follow.
pub(super) struct ReadingSet<'a> {
    pub facts: &'a Facts,
    pub seen: &'a [Seen],
    /// The readings, then those that might follow.
    pub rows: Vec<Row>,
    /// Rows with a figure.
    pub read: Vec<usize>,
    /// Rows with none.
    pub blank: Vec<usize>,
    /// What all figures are a multiple of, in divisions.
    pub common: f64,
    /// The largest error, as a part of its load.
    pub worst_part: f64,
    carried: Vec<Carried>,
}

impl<'a> ReadingSet<'a> {
    pub fn new(seen: &'a [Seen], next: &[Seen], facts: &'a Facts) -> Self {
        let mut rows: Vec<Row> = Vec::with_capacity(seen.len() + next.len());
        for reading in seen {
            let row = Row::after(rows.last(), reading);
            rows.push(row);
        }
        let last = rows.last().cloned();
        rows.extend(next.iter().map(|reading| Row::after(last.as_ref(), reading)));
        let part = |s: &Seen| s.error().filter(|_| s.load > 0.0).map(|error| error.abs() / s.load);
        let worst_part = seen.iter().filter_map(part).fold(0.0, f64::max);
        let (read, blank) = (0..seen.len()).partition(|i| seen[*i].figure().is_some());
        let carried = decks(facts.cells.len()).iter().map(|deck| Carried::of(*deck, &rows, facts)).collect();
        Self { facts, seen, rows, read, blank, common: common(seen, facts), worst_part, carried }
    }

    fn carried(&self, deck: Deck) -> Option<&Carried> {
        self.carried.iter().find(|c| c.deck == deck).or(self.carried.last())
    }

    /// The share of its load that a cell carries at a row.
    pub fn share(&self, cell: usize, deck: Deck, row: usize) -> f64 {
        self.carried(deck).and_then(|c| c.shares.get(cell)).map_or(0.0, |rows| rows[row])
    }

    /// How much that share changes with the place, by the whole deck.
    pub fn share_slope(&self, cell: usize, deck: Deck, row: usize) -> f64 {
        self.carried(deck).and_then(|c| c.slopes.get(cell)).map_or(0.0, |rows| rows[row])
    }

    /// The error of a reading that showed a figure, else nothing, in divisions.
    pub fn error(&self, row: usize) -> f64 {
        self.seen[row].error().unwrap_or(0.0)
    }
}

/// What a deck gives each of its cells of a load at a place.
type PartOfEach = fn(Deck, &[Place], Place) -> Vec<f64>;

impl Carried {
    fn of(deck: Deck, rows: &[Row], facts: &Facts) -> Self {
        let places: Vec<(f64, f64)> =
            rows.iter().map(|row| row.place.unwrap_or_else(|| middle(&facts.cells))).collect();
        let by_cell = |of: PartOfEach| {
            let by_row: Vec<Vec<f64>> = places.iter().map(|at| of(deck, &facts.cells, *at)).collect();
            (0..facts.cells.len()).map(|cell| by_row.iter().map(|shares| shares[cell]).collect()).collect()
        };
        Self { deck, shares: by_cell(Deck::shares), slopes: by_cell(Deck::slopes) }
    }
}

/// What all figures are a multiple of, in divisions; one where nothing tells it.
fn common(seen: &[Seen], facts: &Facts) -> f64 {
    #[expect(clippy::cast_possible_truncation, reason = "what a display shows")]
    let digits = seen.iter().filter_map(Seen::figure).map(|f| (f / facts.digit).round().abs() as i64);
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
                let rested = before.load + (was - before.load) * libm::exp(-dt * (1.0 - ON_FOR) / tau);
                *out = seen.load + (rested - seen.load) * libm::exp(-dt * ON_FOR / tau);
            }
        }
        let rounding: f64 = if seen.fine { 0.06 } else { 1.0 / 12f64.sqrt() };
        Self {
            load: seen.load,
            down: seen.down,
            place: seen.place,
            at_s: seen.at_s,
            sd: libm::hypot(rounding, 0.15),
            soaked,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn what_a_cell_has_got_used_to_lies_between_what_was_on_and_never_runs_ahead(
            loads in prop::collection::vec((0u32..3000, 1u32..2000), 1..12),
        ) {
            let (mut before, mut at_s, mut highest): (Option<Row>, f64, f64) = (None, 0.0, 0.0);
            for (load, wait) in loads {
                at_s += f64::from(wait);
                highest = highest.max(f64::from(load));
                let row = Row::after(before.as_ref(), &Seen::of(f64::from(load), 0.0, at_s));
                for soaked in row.soaked {
                    prop_assert!((-1e-9..=highest + 1e-9).contains(&soaked));
                }
                // Longer under the same load brings it nearer, the quicker the shorter its time constant.
                let later = Row::after(Some(&row), &Seen::of(row.load, 0.0, at_s + 100.0));
                for (now, then) in row.soaked.iter().zip(later.soaked) {
                    prop_assert!((then - row.load).abs() <= (now - row.load).abs() + 1e-9);
                }
                before = Some(row);
            }
        }
    }
}
