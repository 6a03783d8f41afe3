//! What was seen, in divisions, and what is known of the scale.

use uuid::Uuid;

/// What the display did that showed no figure.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Blank {
    /// Sign for too much: above Max + 9 d.
    Above,
    /// Sign for too little: below −20 d.
    Below,
    /// An error text.
    Error,
    /// Nothing at all.
    Off,
}

/// What was shown.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Shown {
    /// A figure, in divisions; before rounding where that is known.
    Figure(f64),
    /// No figure.
    Blank(Blank),
}

/// A reading, in divisions.
#[derive(Clone, Debug, PartialEq)]
pub struct Seen {
    /// The entry it stands in.
    pub entry: Uuid,
    /// Load.
    pub load: f64,
    /// What the display did.
    pub shown: Shown,
    /// Reached coming down.
    pub down: bool,
    /// Where it stood, from the left and from the rear edge, 0 to 1; none: in the middle.
    pub place: Option<(f64, f64)>,
    /// Known before rounding.
    pub fine: bool,
    /// Seconds since the first reading.
    pub at_s: f64,
    /// Width of the flicker, in divisions, where one was written down.
    pub flicker: Option<f64>,
    /// Internal counts, where they were read.
    pub counts: Option<f64>,
}

impl Seen {
    /// A typed reading in the middle, of which nothing else is known.
    pub const fn of(load: f64, shown: f64, at_s: f64) -> Self {
        Self {
            entry: Uuid::nil(),
            load,
            shown: Shown::Figure(shown),
            down: false,
            place: None,
            fine: false,
            at_s,
            flicker: None,
            counts: None,
        }
    }

    /// The figure, where one was shown.
    pub const fn figure(&self) -> Option<f64> {
        match self.shown {
            Shown::Figure(figure) => Some(figure),
            Shown::Blank(_) => None,
        }
    }

    /// Indication less load, in divisions; none where no figure was shown.
    pub fn error(&self) -> Option<f64> {
        Some(self.figure()? - self.load)
    }
}

/// What the internal counts should be by the cells' data.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct CountsExpected {
    /// Counts a division.
    pub per_division: f64,
    /// Dead load, in divisions, about.
    pub dead: f64,
}

/// What is known of the scale.
#[derive(Clone, Debug, PartialEq)]
pub struct Facts {
    /// Max in divisions.
    pub n: f64,
    /// Tolerance at Max, in divisions.
    pub mpe_max: f64,
    /// Where the cells are, from the left and from the rear edge.
    pub cells: Vec<(f64, f64)>,
    /// The span weight of the last adjustment on record, in divisions.
    pub span: Option<f64>,
    /// Masses of the kit's pieces, in divisions.
    pub pieces: Vec<f64>,
    /// Predicted standard uncertainty at Max of that adjustment, in divisions.
    pub u_span: Option<f64>,
    /// Signal per division is below what the cells can tell, or there are more than ten thousand.
    pub too_fine: bool,
    /// Seconds from power-on to the first reading.
    pub on_s: Option<f64>,
    /// Internal counts by the cells' data.
    pub counts: Option<CountsExpected>,
    /// One of the last digit of the display, in divisions.
    pub digit: f64,
}

/// Lowest indication before the display goes blank, in divisions, and how far beyond Max it still shows one.
/// Source: OIML R 76-1:2006, 4.2.3 (Max + 9 e).
const SHOWN: (f64, f64) = (-20.0, 9.0);

impl Facts {
    /// Lowest and highest indication that is shown, in divisions.
    pub(super) fn shown_between(&self) -> (f64, f64) {
        (SHOWN.0, self.n + SHOWN.1)
    }

    /// The middle of the deck, between the cells.
    fn middle(&self) -> (f64, f64) {
        if self.cells.is_empty() {
            return (0.5, 0.5);
        }
        #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
        let n = self.cells.len() as f64;
        (self.cells.iter().map(|c| c.0).sum::<f64>() / n, self.cells.iter().map(|c| c.1).sum::<f64>() / n)
    }

    /// The share of a load at a place that a cell carries.
    pub(super) fn share(&self, cell: usize, place: Option<(f64, f64)>, deck: Deck) -> f64 {
        let (x, y) = place.unwrap_or_else(|| self.middle());
        match deck {
            Deck::Limp { inset } if self.cells.len() == 4 => self.by_quarters(cell, (x, y), inset),
            _ => self.rigid(cell, (x, y)),
        }
    }

    /// How much the share changes with the place, by the whole deck.
    pub(super) fn share_slope(&self, cell: usize, place: Option<(f64, f64)>, deck: Deck) -> f64 {
        let (x, y) = place.unwrap_or_else(|| self.middle());
        let here = self.share(cell, Some((x, y)), deck);
        let (dx, dy) = (
            self.share(cell, Some((x + 0.01, y)), deck) - here,
            self.share(cell, Some((x, y + 0.01)), deck) - here,
        );
        100.0 * dx.hypot(dy)
    }

    /// Linear in where the load stands: of all shares that balance, those of the least sum of squares.
    fn rigid(&self, cell: usize, (x, y): (f64, f64)) -> f64 {
        #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
        let n = self.cells.len().max(1) as f64;
        let (mx, my) = self.middle();
        let sxx: f64 = self.cells.iter().map(|c| (c.0 - mx).powi(2)).sum();
        let syy: f64 = self.cells.iter().map(|c| (c.1 - my).powi(2)).sum();
        let lever = |off: f64, own: f64, sum: f64| if sum > 1e-9 { off * own / sum } else { 0.0 };
        let Some((cx, cy)) = self.cells.get(cell) else { return 0.0 };
        1.0 / n + lever(x - mx, cx - mx, sxx) + lever(y - my, cy - my, syy)
    }

    /// Bilinear between four cells, which stand in from the edge by a part of the deck.
    fn by_quarters(&self, cell: usize, (x, y): (f64, f64), inset: f64) -> f64 {
        let range = |of: fn(&(f64, f64)) -> f64| {
            let low = self.cells.iter().map(of).fold(f64::MAX, f64::min);
            let high = self.cells.iter().map(of).fold(f64::MIN, f64::max);
            (low, (high - low).max(1e-9))
        };
        let ((left, wide), (rear, deep)) = (range(|c| c.0), range(|c| c.1));
        let spread = |at: f64| 0.5 + (at - 0.5) / (1.0 - 2.0 * inset);
        let (u, v) = (spread((x - left) / wide), spread((y - rear) / deep));
        let Some((cx, cy)) = self.cells.get(cell) else { return 0.0 };
        let part = |own: f64, at: f64| if own > 0.5 { at } else { 1.0 - at };
        part((cx - left) / wide, u) * part((cy - rear) / deep, v)
    }
}

/// How a deck shares a load among its cells; real ones lie between.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Deck {
    /// It does not bend: four cells share by the lever alone.
    Rigid,
    /// It bends to what lies below it: bilinear, with the cells so far in from its edge.
    Limp { inset: f64 },
}
