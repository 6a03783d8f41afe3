//! How a deck shares a load among its cells. Real ones lie between stiff and flexible.

/// How a deck behaves.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Deck {
    /// It bends to what lies below it: bilinear between four cells at its edge.
    Flexible,
    /// It bends, and its cells stand in from the edge.
    Inset,
    /// It does not bend: the cells share by the lever alone.
    Rigid,
}

/// How far cells stand in from the edge, in parts of the deck.
const INSET: f64 = 0.1;

/// The decks that are weighed for so many cells.
pub(super) fn decks(cells: usize) -> &'static [Deck] {
    const FOUR: [Deck; 3] = [Deck::Flexible, Deck::Inset, Deck::Rigid];
    if cells == 4 { &FOUR } else { &FOUR[2..] }
}

/// A place, from the left and from the rear edge, 0 to 1.
pub(super) type Place = (f64, f64);

/// The middle between the cells.
pub(super) fn middle(cells: &[Place]) -> Place {
    if cells.is_empty() {
        return (0.5, 0.5);
    }
    #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
    let n = cells.len() as f64;
    (cells.iter().map(|c| c.0).sum::<f64>() / n, cells.iter().map(|c| c.1).sum::<f64>() / n)
}

impl Deck {
    /// The share of a load at a place that each cell carries; they sum to one.
    pub fn shares(self, cells: &[Place], at: Place) -> Vec<f64> {
        match self {
            Self::Flexible if cells.len() == 4 => flexible(cells, at, 0.0),
            Self::Inset if cells.len() == 4 => flexible(cells, at, INSET),
            _ => rigid(cells, at),
        }
    }

    /// How much each share changes with the place, by the whole deck.
    pub fn slopes(self, cells: &[Place], (x, y): Place) -> Vec<f64> {
        const STEP: f64 = 0.01;
        let here = self.shares(cells, (x, y));
        let (right, front) = (self.shares(cells, (x + STEP, y)), self.shares(cells, (x, y + STEP)));
        here.iter()
            .zip(right.iter().zip(&front))
            .map(|(h, (r, f))| libm::hypot(r - h, f - h) / STEP)
            .collect()
    }
}

/// Linear in where the load stands: of all shares that balance, those of the least sum of squares.
fn rigid(cells: &[Place], (x, y): Place) -> Vec<f64> {
    #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
    let n = cells.len().max(1) as f64;
    let (mx, my) = middle(cells);
    let sxx: f64 = cells.iter().map(|c| (c.0 - mx).powi(2)).sum();
    let syy: f64 = cells.iter().map(|c| (c.1 - my).powi(2)).sum();
    let lever = |off: f64, own: f64, sum: f64| if sum > 1e-9 { off * own / sum } else { 0.0 };
    cells.iter().map(|c| 1.0 / n + lever(x - mx, c.0 - mx, sxx) + lever(y - my, c.1 - my, syy)).collect()
}

/// Bilinear between four cells.
fn flexible(cells: &[Place], (x, y): Place, inset: f64) -> Vec<f64> {
    let range = |of: fn(&Place) -> f64| {
        let low = cells.iter().map(of).fold(f64::MAX, f64::min);
        let high = cells.iter().map(of).fold(f64::MIN, f64::max);
        (low, (high - low).max(1e-9))
    };
    let ((left, wide), (rear, deep)) = (range(|c| c.0), range(|c| c.1));
    let spread = |at: f64| 0.5 + (at - 0.5) / (1.0 - 2.0 * inset);
    let (u, v) = (spread((x - left) / wide), spread((y - rear) / deep));
    let part = |own: f64, at: f64| if own > 0.5 { at } else { 1.0 - at };
    cells.iter().map(|c| part((c.0 - left) / wide, u) * part((c.1 - rear) / deep, v)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const CORNERS: [Place; 4] = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)];

    proptest! {
        #[test]
        fn the_cells_carry_the_whole_load_and_balance_it(x in 0.1f64..0.9, y in 0.1f64..0.9) {
            for deck in decks(4) {
                let shares = deck.shares(&CORNERS, (x, y));
                prop_assert!((shares.iter().sum::<f64>() - 1.0).abs() < 1e-9);
                // Moments about the edges; with cells set in, their own places carry them.
                let inset = if *deck == Deck::Inset { INSET } else { 0.0 };
                let own = |c: f64| inset + c * (1.0 - 2.0 * inset);
                let (mx, my) = CORNERS.iter().zip(&shares).fold((0.0, 0.0), |(mx, my), (c, s)| (mx + own(c.0) * s, my + own(c.1) * s));
                prop_assert!((mx - x).abs() < 1e-9 && (my - y).abs() < 1e-9, "{deck:?} {mx} {my}");
            }
        }

        #[test]
        fn in_the_middle_all_carry_the_same(count in 2usize..7) {
            let around = |i: usize| { let turn = std::f64::consts::TAU * i as f64 / count as f64; (0.5 + 0.5 * libm::cos(turn), 0.5 + 0.5 * libm::sin(turn)) };
            let cells: Vec<Place> = (0..count).map(around).collect();
            for deck in decks(count) {
                for share in deck.shares(&cells, middle(&cells)) {
                    prop_assert!(count == 4 || (share - 1.0 / count as f64).abs() < 1e-9);
                }
            }
        }
    }
}
