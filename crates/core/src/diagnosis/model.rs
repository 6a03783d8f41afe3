//! What was seen, in divisions, and the models of the causes: shapes over the readings with a scale
//! for each, a fixed part, and more or less noise.

use uuid::Uuid;

use super::causes::Cause;

/// A reading, in divisions.
#[derive(Clone, Debug, PartialEq)]
pub struct Seen {
    /// The entry it stands in.
    pub entry: Uuid,
    /// Load.
    pub load: f64,
    /// Indication, before rounding where that is known.
    pub shown: f64,
    /// Reached coming down.
    pub down: bool,
    /// Where it stood, from the left and from the rear edge, 0 to 1; none: in the middle.
    pub spot: Option<(f64, f64)>,
    /// Known before rounding.
    pub fine: bool,
    /// Place in time, in readings.
    pub order: f64,
    /// The load that a creeping cell has got used to by then, in divisions: see [`soak`].
    pub soaked: f64,
}

/// Seconds in which a cell creeps two thirds of its way, as most do. Source: OIML R 60-1:2017, 5.5.1
/// judges creep over half an hour.
const CREEP_S: f64 = 300.0;

/// What a creeping cell has got used to after so many seconds under a load.
pub fn soak(soaked: f64, load: f64, seconds: f64) -> f64 {
    soaked + (load - soaked) * (1.0 - (-seconds.max(0.0) / CREEP_S).exp())
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
    /// Masses of the kit's pieces, in divisions, each once.
    pub pieces: Vec<f64>,
    /// Predicted standard uncertainty at Max of that adjustment, in divisions.
    pub u_span: Option<f64>,
    /// Signal per division is below what the cells can tell, or there are more than ten thousand.
    pub too_fine: bool,
}

impl Facts {
    /// The part of a load at a place that each cell carries: linear in where it stands.
    fn share(&self, cell: usize, spot: Option<(f64, f64)>) -> f64 {
        let count = self.cells.len().max(1);
        #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
        let n = count as f64;
        let Some((x, y)) = spot else { return 1.0 / n };
        let mean = |of: fn(&(f64, f64)) -> f64| self.cells.iter().map(of).sum::<f64>() / n;
        let (mx, my) = (mean(|c| c.0), mean(|c| c.1));
        let square =
            |of: fn(&(f64, f64)) -> f64, m: f64| self.cells.iter().map(|c| (of(c) - m).powi(2)).sum::<f64>();
        let (sxx, syy) = (square(|c| c.0, mx), square(|c| c.1, my));
        let lever = |off: f64, own: f64, sum: f64| if sum > 1e-9 { off * own / sum } else { 0.0 };
        let Some((cx, cy)) = self.cells.get(cell) else { return 0.0 };
        1.0 / n + lever(x - mx, cx - mx, sxx) + lever(y - my, cy - my, syy)
    }
}

/// How an error runs over the readings. Loads and errors in divisions.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Shape {
    /// The same everywhere.
    Level,
    /// In proportion to the load; one division at Max.
    Slope,
    /// Largest at half of Max, where it is one division.
    Bow,
    /// Nothing up to this load; then down by the rest.
    Knee(f64),
    /// The same for every load above this, nothing below.
    Above(f64),
    /// Down going up, up coming down.
    Drag,
    /// The load on one cell.
    Cell(usize),
    /// The load, by diagonals.
    Diagonal,
    /// In proportion to time.
    Time,
    /// In proportion to what lay on it before.
    Soak,
    /// Late in warming up: fast at first.
    Warm,
}

impl Shape {
    pub(super) fn at(self, seen: &Seen, facts: &Facts) -> f64 {
        let x = seen.load / facts.n;
        match self {
            Self::Level => 1.0,
            Self::Slope => x,
            Self::Bow => 4.0 * x * (1.0 - x),
            Self::Knee(at) => -(seen.load - at).max(0.0),
            Self::Above(at) => f64::from(u8::from(seen.load > at)),
            Self::Drag if seen.down => 1.0,
            Self::Drag => {
                if seen.load > 0.0 {
                    -1.0
                } else {
                    0.0
                }
            }
            Self::Cell(cell) => seen.load * facts.share(cell, seen.spot),
            Self::Diagonal => seen.spot.map_or(0.0, |(x, y)| seen.load * (x - 0.5) * (y - 0.5) * 16.0),
            Self::Time => seen.order,
            Self::Soak => seen.soaked,
            Self::Warm => 1.0 - (-seen.order / 6.0).exp(),
        }
    }
}

/// The part of an error that is fixed by the cause.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Fixed {
    None,
    /// The reading is the load times this.
    Ratio(f64),
    /// A cell gives nothing (1) or the reverse (2).
    CellLost(usize, f64),
    /// Above this load the reading stands still.
    StandsStill(f64),
}

impl Fixed {
    pub(super) fn at(self, seen: &Seen, facts: &Facts) -> f64 {
        match self {
            Self::None => 0.0,
            Self::Ratio(ratio) => seen.load * (ratio - 1.0),
            Self::CellLost(cell, times) => -times * seen.load * facts.share(cell, seen.spot),
            Self::StandsStill(at) => -(seen.load - at).max(0.0),
        }
    }
}

/// One way in which a cause may show.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Model {
    pub fixed: Fixed,
    /// Shapes with the scale of each.
    pub shapes: Vec<(Shape, f64)>,
    /// Noise of each reading beside its rounding, in divisions.
    pub noise: f64,
    /// Steps from reading to reading, in divisions.
    pub walk: f64,
    /// Its share among the ways of its cause.
    pub weight: f64,
}

/// Standard deviation of a reading: its rounding and what a steady scale may move.
pub(super) fn sigma(seen: &Seen, noise: f64) -> f64 {
    let rounding: f64 = if seen.fine { 0.06 } else { 1.0 / 12f64.sqrt() };
    (rounding.powi(2) + 0.12f64.powi(2) + noise.powi(2)).sqrt()
}

/// What a sound scale may have: a little of everything, well inside its tolerance.
fn sound(facts: &Facts) -> Vec<(Shape, f64)> {
    let mut shapes = vec![
        (Shape::Level, 0.25),
        (Shape::Slope, 0.33 * facts.mpe_max),
        (Shape::Bow, 0.1 * facts.mpe_max),
        (Shape::Drag, 0.08),
    ];
    if facts.cells.len() > 2 {
        // A third of the load at a corner, with a few tenths of a division of difference.
        shapes.extend(
            (0..facts.cells.len()).map(|cell| (Shape::Cell(cell), 0.5 / facts.n * facts.mpe_max.min(2.0))),
        );
    }
    shapes
}

/// The ways in which a cause may show.
pub(super) fn ways(cause: Cause, facts: &Facts) -> Vec<Model> {
    let base = sound(facts);
    let with = |fixed: Fixed, extra: Vec<(Shape, f64)>, noise: f64, walk: f64, weight: f64| Model {
        fixed,
        shapes: base.iter().copied().chain(extra).collect(),
        noise,
        walk,
        weight,
    };
    let over = |scales: &[f64], shape: Shape| {
        scales.iter().map(|scale| with(Fixed::None, vec![(shape, *scale)], 0.0, 0.0, 1.0)).collect::<Vec<_>>()
    };
    let at_max = |times: &[f64]| times.iter().map(|t| t * facts.mpe_max).collect::<Vec<f64>>();
    let fixed = |list: &[Fixed]| list.iter().map(|f| with(*f, Vec::new(), 0.0, 0.0, 1.0)).collect::<Vec<_>>();
    let ratios = |list: &[f64]| fixed(&list.iter().map(|r| Fixed::Ratio(*r)).collect::<Vec<_>>());
    match cause {
        Cause::Sound => vec![with(Fixed::None, Vec::new(), 0.0, 0.0, 1.0)],
        Cause::SpanDrift => over(&at_max(&[2.0, 5.0, 15.0, 50.0, 200.0]), Shape::Slope),
        Cause::ZeroOff => over(&[2.0, 8.0, 40.0, 0.03 * facts.n], Shape::Level),
        Cause::Overloaded => over(&[0.25 * facts.n, 0.8 * facts.n], Shape::Level),
        Cause::UnitSwitched => {
            ratios(&[2.204_622_621_849, 0.453_592_37, 35.273_961_949_58, 0.028_349_523_125, 16.0, 0.0625])
        }
        Cause::DecimalMisplaced => ratios(&[10.0, 100.0, 0.1, 0.01]),
        Cause::Reversed => ratios(&[-1.0]),
        Cause::NoSignal => ratios(&[0.0]),
        Cause::WrongWeight => {
            let Some(span) = facts.span else { return Vec::new() };
            let on = |piece: &f64| [span + piece, span - piece].into_iter().filter(|on| *on > 0.05 * span);
            let told = facts
                .pieces
                .iter()
                .flat_map(on)
                .map(|on| span / on)
                .filter(|r| ((r - 1.0) * facts.n).abs() > 1.5 * facts.mpe_max);
            ratios(&told.collect::<Vec<_>>())
        }
        Cause::ThinSpan => match (facts.span, facts.u_span) {
            (Some(span), Some(u)) if span < 0.2 * facts.n && u > 0.5 * facts.mpe_max => {
                over(&[u], Shape::Slope)
            }
            _ => Vec::new(),
        },
        Cause::Bow => [1.2, 4.0, 12.0]
            .iter()
            .map(|t| {
                with(
                    Fixed::None,
                    vec![(Shape::Bow, t * facts.mpe_max), (Shape::Slope, t * facts.mpe_max)],
                    0.0,
                    0.0,
                    1.0,
                )
            })
            .collect(),
        Cause::SecondSupport => {
            let places = [0.15, 0.25, 0.35, 0.45, 0.55, 0.65, 0.75, 0.85, 0.92];
            // Where it begins is known to the next place only: what that leaves is the same for all above it.
            let apart = 0.05 * facts.n;
            let soft = places.iter().flat_map(|p| {
                [0.02, 0.12, 0.5].map(|s| {
                    with(
                        Fixed::None,
                        vec![(Shape::Knee(p * facts.n), s), (Shape::Above(p * facts.n), s * apart)],
                        0.0,
                        0.0,
                        1.0,
                    )
                })
            });
            let hard = places.iter().map(|p| {
                with(Fixed::StandsStill(p * facts.n), vec![(Shape::Above(p * facts.n), apart)], 0.1, 0.0, 2.0)
            });
            soft.chain(hard).collect()
        }
        Cause::Rubbing => over(&[1.5, 5.0, 20.0], Shape::Drag),
        Cause::CornerCell => {
            let cells = if facts.cells.len() > 1 { facts.cells.len() } else { 0 };
            let weak = (0..cells).flat_map(|c| {
                [0.004, 0.02, 0.1, 0.5].map(|s| with(Fixed::None, vec![(Shape::Cell(c), s)], 0.0, 0.0, 1.0))
            });
            // Spanned in the middle since, it is right there, low over the cell and high across from it.
            #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
            let part = facts.n / cells.max(1) as f64;
            let spanned = (0..cells).flat_map(|c| {
                [0.004, 0.02, 0.1, 0.5].map(|s| {
                    with(Fixed::None, vec![(Shape::Cell(c), s), (Shape::Slope, s * part)], 0.0, 0.0, 1.0)
                })
            });
            let weak = weak.chain(spanned);
            let lost = (0..cells).flat_map(|c| {
                [1.0, 2.0].map(|times| with(Fixed::CellLost(c, times), Vec::new(), 0.0, 0.0, 1.5))
            });
            weak.chain(lost).collect()
        }
        Cause::Twisted if facts.cells.len() == 4 => over(&[0.003, 0.015, 0.06], Shape::Diagonal),
        Cause::Twisted => Vec::new(),
        Cause::Restless if facts.too_fine => Vec::new(),
        Cause::DivisionTooFine if !facts.too_fine => Vec::new(),
        Cause::Restless | Cause::DivisionTooFine => {
            [1.2, 3.0, 9.0].iter().map(|noise| with(Fixed::None, Vec::new(), *noise, 0.0, 1.0)).collect()
        }
        Cause::Cable => {
            [2.5, 8.0, 30.0].iter().map(|walk| with(Fixed::None, Vec::new(), 0.3, *walk, 1.0)).collect()
        }
        Cause::WarmUp => [6.0, 20.0, 80.0]
            .iter()
            .map(|s| {
                with(
                    Fixed::None,
                    vec![(Shape::Warm, *s), (Shape::Time, s / 12.0), (Shape::Level, s * 0.5)],
                    0.0,
                    0.0,
                    1.0,
                )
            })
            .collect(),
        Cause::Creep => {
            [0.003, 0.01].iter().map(|s| with(Fixed::None, vec![(Shape::Soak, *s)], 0.0, 0.0, 1.0)).collect()
        }
    }
}
