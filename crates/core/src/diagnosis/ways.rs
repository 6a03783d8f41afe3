//! The ways in which each cause may show: what it fixes, the shapes whose size it leaves open, and how restless
//! it is. What a cause does not settle (where a stop begins, how limp the deck is, how strong a fault) is spread
//! over ways with weights, so that the evidence of a cause is the mean over what it may be.

use super::causes::Cause;
use super::seen::{Deck, Facts};
use super::shape::{CREEP_S, Shape, Sight, WARM_S};

/// The part of a reading that is fixed by the cause.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Fixed {
    /// Nothing.
    Nothing,
    /// The reading is the load times this.
    Ratio(f64),
    /// A cell gives nothing (1) or the reverse (2).
    CellLost(usize, Deck, f64),
}

/// How readings scatter and wander beside what has a shape.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Noise {
    /// Of each reading beside its rounding, in divisions.
    pub each: f64,
    /// Steps, in divisions for a root of a second.
    pub walk: f64,
    /// Everything is shown as many times as large.
    pub times: f64,
    /// A cell that gives less by a part: where the load stood exactly, in parts of the deck, matters then.
    pub standing: Option<(usize, Deck, f64, f64)>,
    /// Each load reads as it likes, and the same again, in divisions.
    pub alike: f64,
}

impl Noise {
    pub const QUIET: Self = Self { each: 0.0, walk: 0.0, times: 1.0, standing: None, alike: 0.0 };

    /// Both at once; none where they are of the same kind.
    pub fn with(self, other: Self) -> Option<Self> {
        let restless = |noise: Self| noise.each > 0.0 || noise.walk > 0.0;
        if other.alike > 0.0 || self.alike > 0.0 || other.times > 1.0 {
            return None;
        }
        if restless(self) && restless(other) || self.standing.is_some() && other.standing.is_some() {
            return None;
        }
        let restless = if restless(other) { other } else { self };
        Some(Self {
            each: restless.each,
            walk: restless.walk,
            times: self.times,
            standing: self.standing.or(other.standing),
            alike: 0.0,
        })
    }
}

/// Which sign the size of the first shape has.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Sign {
    /// Either.
    Either,
    /// Above zero.
    Up,
    /// Above zero nine times in ten.
    MostlyUp,
}

/// One way in which a cause may show.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Way {
    pub fixed: Fixed,
    /// Shapes with the standard deviation of the size of each.
    pub shapes: Vec<(Shape, f64)>,
    pub noise: Noise,
    pub sign: Sign,
    /// Its share among the ways of its cause.
    pub weight: f64,
}

impl Way {
    fn of(shapes: Vec<(Shape, f64)>, weight: f64) -> Self {
        Self { fixed: Fixed::Nothing, shapes, noise: Noise::QUIET, sign: Sign::Either, weight }
    }

    /// False where a cell would give less by far more than the largest error is of its load.
    pub fn may_be(&self, sight: &Sight) -> bool {
        self.noise.standing.is_none_or(|(_, _, lost, _)| sight.worst_part > 0.08 * lost)
    }

    fn up(self) -> Self {
        Self { sign: Sign::Up, ..self }
    }
}

/// What a sound scale may have: a little of everything, well inside its tolerance.
pub(super) fn sound(facts: &Facts) -> Vec<(Shape, f64)> {
    let mpe = facts.mpe_max;
    let mut shapes = vec![
        (Shape::Level, 0.3),
        (Shape::Slope, 0.35 * mpe),
        (Shape::Bow, 0.12 * mpe),
        (Shape::Drag, 0.1),
        (Shape::Warm(4), 0.25),
        (Shape::Creep(2), 0.3),
    ];
    if facts.cells.len() > 2 {
        let part = 0.5 / facts.n * mpe.min(2.0);
        let cell = |cell| (Shape::Cell(cell, Deck::Limp { inset: 0.0 }), part);
        shapes.extend((0..facts.cells.len()).map(cell));
    }
    shapes
}

/// How limp a deck may be.
fn decks(facts: &Facts) -> Vec<Deck> {
    if facts.cells.len() == 4 {
        vec![Deck::Limp { inset: 0.0 }, Deck::Limp { inset: 0.1 }, Deck::Rigid]
    } else {
        vec![Deck::Rigid]
    }
}

/// The largest step of a display, 1, 2 or 5, that goes into what all figures are a multiple of, up to what so
/// many times the load would be shown in.
pub(super) fn step_of(times: f64, common: f64) -> f64 {
    let goes =
        |step: &f64| *step <= 2.5 * times.abs() && (common / step - (common / step).round()).abs() < 1e-6;
    (0..4).flat_map(|ten| [1.0, 2.0, 5.0].map(|one| one * 10f64.powi(ten))).filter(goes).fold(1.0, f64::max)
}

/// Everything is shown as so many times the load, in steps of its own.
fn ratio(times: f64, common: f64, weight: f64) -> Way {
    let step = step_of(times, common);
    let each = (0.29 * step).max(0.15 * times.abs());
    let noise = Noise { each, times: times.abs().max(1.0), ..Noise::QUIET };
    Way { fixed: Fixed::Ratio(times), shapes: Vec::new(), noise, sign: Sign::Either, weight }
}

/// The ways in which a cause may show.
pub(super) fn ways(cause: Cause, sight: &Sight) -> Vec<Way> {
    let (facts, common) = (sight.facts, sight.common);
    let (n, mpe) = (facts.n, facts.mpe_max);
    match cause {
        Cause::Sound => vec![Way::of(Vec::new(), 1.0)],
        Cause::SpanDrift => [(1.5, 1.0), (4.0, 1.0), (12.0, 0.6), (40.0, 0.1)]
            .map(|(times, weight)| Way::of(vec![(Shape::Slope, times * mpe)], weight))
            .to_vec(),
        Cause::ZeroOff => zero_off(facts),
        Cause::Overloaded => overloaded(facts),
        Cause::UnitSwitched => [
            2.204_622_621_849,
            0.453_592_37,
            35.273_961_949_58,
            0.028_349_523_125,
            16.0,
            0.0625,
            1000.0,
            0.001,
        ]
        .into_iter()
        .zip([10.0, 10.0, 1.0, 1.0, 1.0, 1.0, 0.5, 0.5])
        .map(|(times, weight)| ratio(times, common, weight))
        .collect(),
        Cause::DecimalMisplaced => [10.0, 0.1, 100.0, 0.01]
            .into_iter()
            .zip([3.0, 3.0, 1.0, 1.0])
            .map(|(t, w)| ratio(t, common, w))
            .collect(),
        Cause::Reversed => vec![ratio(-1.0, 1.0, 1.0)],
        Cause::NoSignal => [3.0, 0.05 * n, 0.5 * n]
            .into_iter()
            .zip([4.0, 1.0, 1.0])
            .map(|(level, weight)| Way { shapes: vec![(Shape::Level, level)], ..ratio(0.0, 1.0, weight) })
            .collect(),
        // Its ratios are told apart one by one, not here: see `weights`.
        Cause::WrongWeight => Vec::new(),
        Cause::ThinSpan => thin(facts),
        Cause::Bow => bow(mpe),
        Cause::SecondSupport => stops(facts),
        Cause::Rubbing => rubbing(facts),
        Cause::CornerCell => cells(facts),
        Cause::Twisted if facts.cells.len() == 4 => {
            [0.0015, 0.005, 0.015, 0.05].map(|size| Way::of(vec![(Shape::Diagonal, size)], 1.0)).to_vec()
        }
        Cause::Twisted => Vec::new(),
        // Air and vibration make some divisions; what jumps by tens is a contact.
        Cause::Restless | Cause::DivisionTooFine => {
            [(0.8, 1.0), (1.4, 1.0), (2.2, 1.0), (3.5, 1.0), (5.5, 1.0), (9.0, 0.7), (15.0, 0.15)]
                .map(|(each, weight)| Way {
                    noise: Noise { each, ..Noise::QUIET },
                    ..Way::of(Vec::new(), weight)
                })
                .to_vec()
        }
        Cause::Cable => cable(),
        Cause::WarmUp => warm_up(facts),
        Cause::Creep => creep(),
        Cause::Unknown => [1.5, 6.0, 25.0, 100.0, 0.1 * n]
            .map(|alike| Way { noise: Noise { alike, ..Noise::QUIET }, ..Way::of(Vec::new(), 1.0) })
            .to_vec(),
    }
}

fn zero_off(facts: &Facts) -> Vec<Way> {
    let sizes = [(2.0, 1.0), (8.0, 1.5), (30.0, 1.5), (120.0, 1.0), (0.035 * facts.n, 1.0)];
    let low = |(size, weight)| {
        let way = Way::of(vec![(Shape::Level, size)], weight);
        // What lay on it is missing since: low; a cover that was off when zero was captured reads high.
        Way { shapes: vec![(Shape::Above(-1.0), size)], sign: Sign::MostlyUp, ..way }
    };
    let mut ways: Vec<Way> = sizes.map(low).to_vec();
    if let Some(span) = facts.span.filter(|span| *span > 0.02 * facts.n) {
        let before = |(size, weight): (f64, f64)| {
            // The ratio is span/(span − zero): in proportion only while the zero is small beside the span.
            let second = size.powi(2) / span.powi(2) * facts.n;
            Way::of(vec![(Shape::ZeroBeforeSpan(span), size), (Shape::Slope, second)], 0.3 * weight).up()
        };
        ways.extend(sizes.map(before));
    }
    ways
}

fn overloaded(facts: &Facts) -> Vec<Way> {
    let n = facts.n;
    let bent = |level: f64, weight: f64| {
        let mut shapes = vec![(Shape::Level, level), (Shape::Slope, 0.003 * n), (Shape::Bow, 0.0007 * n)];
        let part = |cell| (Shape::Cell(cell, Deck::Limp { inset: 0.0 }), 0.006);
        shapes.extend((0..facts.cells.len()).map(part));
        Way::of(shapes, weight)
    };
    vec![bent(0.06 * n, 0.7), bent(0.15 * n, 1.0), bent(0.4 * n, 1.0), bent(1.0 * n, 0.3)]
}

/// Too small a weight: what a fraction of a division at the span weight becomes at Max. Source: R12,
/// E(Max) = (Max/W)·e(W).
fn thin(facts: &Facts) -> Vec<Way> {
    let Some(span) = facts.span.filter(|span| *span > 0.0 && *span < 0.2 * facts.n) else {
        return Vec::new();
    };
    let at_max = |at_span: f64| at_span * facts.n / span;
    let mut sizes = vec![at_max(0.08), at_max(0.2), at_max(0.5)];
    sizes.extend(facts.u_span);
    sizes
        .into_iter()
        .filter(|size| *size > 0.3 * facts.mpe_max)
        .map(|size| Way::of(vec![(Shape::Slope, size)], 1.0))
        .collect()
}

fn bow(mpe: f64) -> Vec<Way> {
    let sizes = [1.2, 3.0, 8.0, 24.0];
    let both = |size: f64| {
        let (large, small) = (size * mpe, 0.3 * size * mpe);
        [
            Way::of(vec![(Shape::Bow, large), (Shape::Slope, 0.5 * large)], 1.0),
            Way::of(vec![(Shape::Cubic, large), (Shape::Slope, 0.5 * large), (Shape::Bow, small)], 0.5),
        ]
    };
    sizes.into_iter().flat_map(both).collect()
}

/// Stops under the middle, and under one corner. Where one begins lies between two knees, whose sizes tell it.
fn stops(facts: &Facts) -> Vec<Way> {
    const STEPS: u8 = 24;
    let gap = facts.n / f64::from(STEPS);
    let mut ways = Vec::new();
    for step in 0..STEPS {
        let at = f64::from(step) * gap;
        for (share, weight) in [(0.01, 0.5), (0.06, 1.0), (0.3, 1.5), (0.9, 1.5)] {
            let shapes = vec![(Shape::Knee(at), share), (Shape::Knee(at + gap), share)];
            ways.push(Way::of(shapes, weight).up());
        }
    }
    if facts.cells.len() == 4 {
        let gap = 0.025 * facts.n;
        for (cell, deck) in (0..4).flat_map(|cell| decks(facts).into_iter().map(move |deck| (cell, deck))) {
            for step in 1..10u8 {
                let knee = |step: u8| Shape::CornerKnee(cell, deck, f64::from(step) * gap);
                for share in [0.05, 0.4] {
                    let shapes = vec![(knee(step), share), (knee(step + 1), share)];
                    ways.push(Way::of(shapes, 0.05).up());
                }
            }
        }
    }
    ways
}

fn rubbing(facts: &Facts) -> Vec<Way> {
    let mut ways = Vec::new();
    for size in [1.5, 5.0, 15.0, 50.0] {
        ways.push(Way::of(vec![(Shape::Drag, size), (Shape::DragLoad, 0.6 * size)], 1.0).up());
        ways.push(Way::of(vec![(Shape::DragLoad, size)], 0.5).up());
        ways.push(Way::of(vec![(Shape::DragUp, size), (Shape::DragDown, 0.3 * size)], 0.3).up());
        ways.push(Way::of(vec![(Shape::DragDown, size), (Shape::DragLoad, 0.3 * size)], 0.15).up());
        let mut until = |at: f64| {
            ways.push(
                Way::of(vec![(Shape::DragUntil(at), size), (Shape::Slope, 0.3 * facts.mpe_max)], 0.1).up(),
            );
        };
        [120.0, 300.0, 600.0].into_iter().for_each(&mut until);
    }
    ways
}

/// How exactly a load stands where it is meant to, in parts of the deck.
const STANDING: [f64; 2] = [0.008, 0.03];

fn cells(facts: &Facts) -> Vec<Way> {
    let count = facts.cells.len();
    if count < 2 {
        return Vec::new();
    }
    #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
    let part = facts.n / count as f64;
    let mut ways = Vec::new();
    for cell in 0..count {
        for deck in decks(facts) {
            for standing in STANDING {
                let noise =
                    |lost: f64| Noise { standing: Some((cell, deck, lost, standing)), ..Noise::QUIET };
                for (lost, weight) in [(0.004, 0.6), (0.02, 1.0), (0.1, 1.0), (0.4, 1.0)] {
                    let gives_less = vec![(Shape::Cell(cell, deck), lost)];
                    let mut spanned = gives_less.clone();
                    spanned.push((Shape::Slope, 1.2 * lost * part));
                    ways.push(Way { noise: noise(lost), ..Way::of(gives_less, weight).up() });
                    // Spanned in the middle since, it is right there, low over the cell and high across from it.
                    let sign = Sign::MostlyUp;
                    ways.push(Way { noise: noise(lost), sign, ..Way::of(spanned, 0.6 * weight) });
                }
                for lost in [1.0, 2.0] {
                    let as_is = Way { noise: noise(lost), ..Way::of(Vec::new(), 1.5) };
                    ways.push(Way { fixed: Fixed::CellLost(cell, deck, lost), ..as_is.clone() });
                    let spanned = vec![(Shape::Remaining(cell, deck, lost), 0.4)];
                    ways.push(Way {
                        fixed: Fixed::CellLost(cell, deck, lost),
                        shapes: spanned,
                        weight: 0.5,
                        ..as_is
                    });
                }
            }
        }
    }
    ways
}

fn cable() -> Vec<Way> {
    let mut ways = Vec::new();
    // A walk that stays inside the scatter of the readings is none.
    for (walk, weight) in [(0.12, 0.5), (0.25, 1.0), (0.5, 1.0), (1.0, 1.0), (2.5, 1.0)] {
        for each in [0.4, 1.2, 3.0, 7.0] {
            let way = Way::of(Vec::new(), if each > 12.0 * walk { 0.2 * weight } else { weight });
            ways.push(Way { noise: Noise { walk, each, ..Noise::QUIET }, ..way });
        }
    }
    // A contact that opens now and then: jumps by tens of divisions.
    for each in [14.0, 25.0, 45.0] {
        ways.push(Way { noise: Noise { walk: 0.12, each, ..Noise::QUIET }, ..Way::of(Vec::new(), 1.0) });
    }
    ways
}

/// What a slow change is never quite: an exponential. Steps in divisions for a root of a second.
const UNEVEN: f64 = 0.02;

fn warm_up(facts: &Facts) -> Vec<Way> {
    let mut ways = Vec::new();
    for (at, tau) in WARM_S.into_iter().enumerate() {
        for size in [4.0, 12.0, 36.0] {
            // Most of it is over after as many minutes as it has been on.
            let left = size * facts.on_s.map_or(0.6, |on| (-on / tau).exp());
            if left > 1.0 {
                let mut shapes =
                    vec![(Shape::Warm(at), left), (Shape::Level, 0.6 * left), (Shape::Slope, 0.1 * left)];
                if at + 1 < WARM_S.len() {
                    shapes.push((Shape::Warm(at + 1), 0.3 * left));
                }
                let noise = Noise { walk: UNEVEN, ..Noise::QUIET };
                ways.push(Way { noise, ..Way::of(shapes, left / size) });
            }
        }
    }
    ways
}

fn creep() -> Vec<Way> {
    let mut ways = Vec::new();
    for at in 0..CREEP_S.len() - 1 {
        for size in [3.0, 8.0, 20.0] {
            ways.push(Way::of(vec![(Shape::Creep(at), size), (Shape::Creep(at + 1), 0.5 * size)], 1.0));
        }
    }
    ways
}
