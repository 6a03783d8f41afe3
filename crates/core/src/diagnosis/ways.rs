//! The ways in which each cause may show: what it fixes, the shapes whose size it leaves open, and how restless
//! it is. What a cause does not settle (where a stop begins, how limp the deck is, how strong a fault) is spread
//! over ways with weights, so that the evidence of a cause is the mean over what it may be.

use super::causes::Cause;
use super::deck::{Deck, decks};
use super::reading_set::{CREEP_S, ReadingSet};
use super::seen::Facts;
use super::shape::{CORNER_STOPS, GONE_S, STOPS, Shape, WARM_S};

/// The part of a reading that is fixed by the cause.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Fixed {
    /// Nothing.
    Nothing,
    /// The reading is the load times this.
    Ratio(f64),
    /// A cell gives nothing (1) or the reverse (2).
    CellLost(usize, Deck, u8),
}

impl Fixed {
    /// Its part of the error at a row, in divisions.
    pub fn at(self, set: &ReadingSet, row: usize) -> f64 {
        let load = set.rows[row].load;
        match self {
            Self::Nothing => 0.0,
            Self::Ratio(times) => load * (times - 1.0),
            Self::CellLost(cell, deck, lost) => -f64::from(lost) * load * set.share(cell, deck, row),
        }
    }
}

/// A cell that gives less by a part: where the load stood exactly matters then.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Standing {
    pub cell: usize,
    pub deck: Deck,
    /// The part that it gives less.
    pub lost: f64,
    /// How exactly a load stands where it is meant to, in parts of the deck.
    pub off: f64,
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
    /// Where the load stood exactly matters.
    pub standing: Option<Standing>,
    /// Each load reads as it likes, and the same again, in divisions.
    pub alike: f64,
}

impl Noise {
    pub const QUIET: Self = Self { each: 0.0, walk: 0.0, times: 1.0, standing: None, alike: 0.0 };

    /// Variance of a reading by itself, in square divisions.
    pub fn own_variance(self, set: &ReadingSet, row: usize) -> f64 {
        let standing = self
            .standing
            .map_or(0.0, |s| s.lost * set.rows[row].load * set.share_slope(s.cell, s.deck, row) * s.off);
        set.rows[row].sd.powi(2) + self.each.powi(2) + standing.powi(2)
    }

    /// True where the readings scatter or wander by themselves.
    fn is_restless(self) -> bool {
        self.each > 0.0 || self.walk > 0.0
    }

    /// Both at once; none where they are of the same kind.
    pub fn with(self, other: Self) -> Option<Self> {
        if other.alike > 0.0 || self.alike > 0.0 || other.times > 1.0 {
            return None;
        }
        if self.is_restless() && other.is_restless() || self.standing.is_some() && other.standing.is_some() {
            return None;
        }
        let restless = if other.is_restless() { other } else { self };
        Some(Self {
            each: restless.each,
            walk: restless.walk,
            times: self.times,
            standing: self.standing.or(other.standing),
            alike: 0.0,
        })
    }
}

/// Which sign the size of a term has.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Sign {
    /// Either.
    Either,
    /// Above zero.
    Up,
    /// Above zero in all but one of twenty.
    MostlyUp,
}

/// A shape of a size that is not known.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Term {
    pub shape: Shape,
    /// Standard deviation of its size, about nothing.
    pub sd: f64,
    pub sign: Sign,
    /// A fault of this kind is not smaller than this; nothing: it may be.
    pub least: f64,
}

impl Term {
    const fn of(shape: Shape, sd: f64) -> Self {
        Self { shape, sd, sign: Sign::Either, least: 0.0 }
    }

    const fn up(self) -> Self {
        Self { sign: Sign::Up, ..self }
    }

    const fn mostly_up(self) -> Self {
        Self { sign: Sign::MostlyUp, ..self }
    }

    const fn at_least(self, least: f64) -> Self {
        Self { least, ..self }
    }
}

/// One way in which a cause may show.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Explanation {
    pub fixed: Fixed,
    pub terms: Vec<Term>,
    pub noise: Noise,
    /// Its share among the ways of its cause.
    pub weight: f64,
}

impl Explanation {
    fn of(terms: Vec<Term>, weight: f64) -> Self {
        Self { fixed: Fixed::Nothing, terms, noise: Noise::QUIET, weight }
    }

    fn restless(noise: Noise, weight: f64) -> Self {
        Self { noise, ..Self::of(Vec::new(), weight) }
    }

    /// Everything is shown as so many times the load.
    pub fn of_ratio(ratio: f64, noise: Noise) -> Self {
        Self { fixed: Fixed::Ratio(ratio), ..Self::restless(noise, 1.0) }
    }

    /// False where a cell would give less by far more than the largest error is of its load.
    pub fn may_be(&self, set: &ReadingSet) -> bool {
        self.noise.standing.is_none_or(|s| set.worst_part > 0.08 * s.lost)
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
        let cell = |cell| (Shape::Cell(cell, Deck::Flexible), part);
        shapes.extend((0..facts.cells.len()).map(cell));
    }
    shapes
}

/// The largest step of a display, 1, 2 or 5, that goes into what all figures are a multiple of, up to what so
/// many times the load would be shown in.
pub(super) fn step_of(times: f64, common: f64) -> f64 {
    let goes =
        |step: &f64| *step <= 2.5 * times.abs() && (common / step - (common / step).round()).abs() < 1e-6;
    (0..4).flat_map(|ten| [1.0, 2.0, 5.0].map(|one| one * 10f64.powi(ten))).filter(goes).fold(1.0, f64::max)
}

/// Everything is shown as so many times the load, in steps of its own.
fn ratio(times: f64, common: f64, weight: f64) -> Explanation {
    let step = step_of(times, common);
    let each = (0.29 * step).max(0.15 * times.abs());
    let noise = Noise { each, times: times.abs().max(1.0), ..Noise::QUIET };
    Explanation { weight, ..Explanation::of_ratio(times, noise) }
}

/// The ways in which a cause may show.
pub(super) fn ways(cause: Cause, set: &ReadingSet) -> Vec<Explanation> {
    let (facts, common) = (set.facts, set.common);
    let (n, mpe) = (facts.n, facts.mpe_max);
    match cause {
        Cause::Sound => vec![Explanation::of(Vec::new(), 1.0)],
        Cause::SpanDrift => [(1.5, 1.0), (4.0, 1.0), (12.0, 0.6), (40.0, 0.1)]
            .map(|(times, weight)| Explanation::of(vec![Term::of(Shape::Slope, times * mpe)], weight))
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
            .map(|(level, weight)| Explanation {
                terms: vec![Term::of(Shape::Level, level)],
                ..ratio(0.0, 1.0, weight)
            })
            .collect(),
        // Its ratios are told apart one by one, not here: see `weights`.
        Cause::WrongWeight => Vec::new(),
        Cause::ThinSpan => thin(facts),
        Cause::Bow => bow(mpe),
        Cause::SecondSupport => stops(facts),
        Cause::Rubbing => rubbing(facts),
        Cause::CornerCell => cells(facts),
        Cause::Twisted if facts.cells.len() == 4 => [0.0015, 0.005, 0.015, 0.05]
            .map(|size| Explanation::of(vec![Term::of(Shape::Diagonal, size)], 1.0))
            .to_vec(),
        Cause::Twisted => Vec::new(),
        // Air and vibration make some divisions; what jumps by tens is a contact.
        Cause::Restless | Cause::DivisionTooFine => {
            [(0.8, 1.0), (1.4, 1.0), (2.2, 1.0), (3.5, 1.0), (5.5, 1.0), (9.0, 0.7), (15.0, 0.15)]
                .map(|(each, weight)| Explanation::restless(Noise { each, ..Noise::QUIET }, weight))
                .to_vec()
        }
        Cause::Cable => cable(),
        Cause::WarmUp => warm_up(facts),
        Cause::Creep => creep(),
        Cause::Unknown => [1.5, 6.0, 25.0, 100.0, 0.1 * n]
            .map(|alike| Explanation::restless(Noise { alike, ..Noise::QUIET }, 1.0))
            .to_vec(),
    }
}

fn zero_off(facts: &Facts) -> Vec<Explanation> {
    let sizes = [(2.0, 1.0), (8.0, 1.5), (30.0, 1.5), (120.0, 1.0), (0.035 * facts.n, 1.0)];
    // What lay on it is missing since: low; a cover that was off when zero was captured reads high.
    let low = |(size, weight)| Explanation::of(vec![Term::of(Shape::Low, size).mostly_up()], weight);
    let mut ways: Vec<Explanation> = sizes.map(low).to_vec();
    if let Some(span) = facts.span.filter(|span| *span > 0.02 * facts.n) {
        let before = |(size, weight): (f64, f64)| {
            // The ratio is span/(span − zero): in proportion only while the zero is small beside the span.
            let second = size.powi(2) / span.powi(2) * facts.n;
            let off = Term::of(Shape::ZeroBeforeSpan, size).up();
            Explanation::of(vec![off, Term::of(Shape::Slope, second)], 0.3 * weight)
        };
        ways.extend(sizes.map(before));
    }
    ways
}

/// A cell that was overloaded is far off at zero, or it was not; it has become a little less straight, and a
/// little weaker or stronger than the others.
fn overloaded(facts: &Facts) -> Vec<Explanation> {
    let n = facts.n;
    let mut ways = Vec::new();
    for (level, weight) in [(0.06 * n, 0.7), (0.15 * n, 1.0), (0.4 * n, 1.0), (n, 0.3)] {
        let bent = [
            Term::of(Shape::Level, level).at_least(0.03 * n),
            Term::of(Shape::Slope, 0.003 * n),
            Term::of(Shape::Bow, 0.0007 * n),
        ];
        if facts.cells.len() < 2 {
            ways.push(Explanation::of(bent.to_vec(), weight));
        }
        for cell in (0..facts.cells.len()).filter(|_| facts.cells.len() > 1) {
            let mut terms = bent.to_vec();
            terms.push(Term::of(Shape::Cell(cell, Deck::Flexible), 0.006));
            ways.push(Explanation::of(terms, weight));
        }
    }
    ways
}

/// Too small a weight: what a fraction of a division at the span weight becomes at Max. Source: R12,
/// E(Max) = (Max/W)·e(W).
fn thin(facts: &Facts) -> Vec<Explanation> {
    let Some(span) = facts.span.filter(|span| *span > 0.0 && *span < 0.2 * facts.n) else {
        return Vec::new();
    };
    let at_max = |at_span: f64| at_span * facts.n / span;
    let mut sizes = vec![at_max(0.08), at_max(0.2), at_max(0.5)];
    sizes.extend(facts.u_span);
    sizes
        .into_iter()
        .filter(|size| *size > 0.3 * facts.mpe_max)
        .map(|size| Explanation::of(vec![Term::of(Shape::Slope, size)], 1.0))
        .collect()
}

fn bow(mpe: f64) -> Vec<Explanation> {
    let both = |size: f64| {
        let (large, small) = (size * mpe, 0.3 * size * mpe);
        let slope = Term::of(Shape::Slope, 0.5 * large);
        let (bow, cubic) = (Term::of(Shape::Bow, large), Term::of(Shape::Cubic, large));
        [
            Explanation::of(vec![bow, slope], 1.0),
            Explanation::of(vec![cubic, slope, Term::of(Shape::Bow, small)], 0.5),
        ]
    };
    [1.2, 3.0, 8.0, 24.0].into_iter().flat_map(both).collect()
}

/// Stops under the middle, and under one corner. Where one begins lies between two places: past the second, what
/// it takes is a slope less a part of the ramp between them.
fn stops(facts: &Facts) -> Vec<Explanation> {
    let way = |knee: Shape, ramp: Shape, share: f64, weight: f64| {
        Explanation::of(vec![Term::of(knee, share).up(), Term::of(ramp, 0.6 * share)], weight)
    };
    let mut ways = Vec::new();
    for step in 0..STOPS {
        for (share, weight) in [(0.01, 0.5), (0.06, 1.0), (0.3, 1.5), (0.9, 1.5)] {
            ways.push(way(Shape::Knee(step), Shape::Ramp(step), share, weight));
        }
    }
    if facts.cells.len() == 4 {
        for (cell, deck) in (0..4).flat_map(|cell| decks(4).iter().map(move |deck| (cell, *deck))) {
            for step in 1..CORNER_STOPS {
                let (knee, ramp) = (Shape::CornerKnee(cell, deck, step), Shape::CornerRamp(cell, deck, step));
                ways.extend([0.05, 0.4].map(|share| way(knee, ramp, share, 0.05)));
            }
        }
    }
    ways
}

fn rubbing(facts: &Facts) -> Vec<Explanation> {
    let mut ways = Vec::new();
    for size in [1.5, 5.0, 15.0, 50.0] {
        let first = |shape: Shape| Term::of(shape, size).up();
        let (in_proportion, down) =
            (Term::of(Shape::DragLoad, 0.6 * size), Term::of(Shape::DragDown, 0.3 * size));
        ways.push(Explanation::of(vec![first(Shape::Drag), in_proportion], 1.0));
        ways.push(Explanation::of(vec![first(Shape::DragLoad)], 0.5));
        ways.push(Explanation::of(vec![first(Shape::DragUp), down], 0.3));
        ways.push(Explanation::of(vec![first(Shape::DragDown), Term::of(Shape::DragLoad, 0.3 * size)], 0.15));
        for until in 0..GONE_S.len() {
            let slope = Term::of(Shape::Slope, 0.3 * facts.mpe_max);
            ways.push(Explanation::of(vec![first(Shape::DragUntil(until)), slope], 0.1));
        }
    }
    ways
}

/// How exactly a load stands where it is meant to, in parts of the deck.
pub(super) const STANDING: [f64; 2] = [0.008, 0.03];

fn cells(facts: &Facts) -> Vec<Explanation> {
    let count = facts.cells.len();
    if count < 2 {
        return Vec::new();
    }
    let mut ways = Vec::new();
    for cell in 0..count {
        for deck in decks(count) {
            for off in STANDING {
                cell_gives_less(facts, cell, *deck, off, &mut ways);
            }
        }
    }
    ways
}

fn cell_gives_less(facts: &Facts, cell: usize, deck: Deck, off: f64, ways: &mut Vec<Explanation>) {
    #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
    let part = facts.n / facts.cells.len() as f64;
    let noise = |lost: f64| Noise { standing: Some(Standing { cell, deck, lost, off }), ..Noise::QUIET };
    for (lost, weight) in [(0.004, 0.6), (0.02, 1.0), (0.1, 1.0), (0.4, 1.0)] {
        // One that gives much less, so that readings hang on where the load stands, does not give a little less.
        let less = Term::of(Shape::Cell(cell, deck), lost).at_least(0.3 * lost);
        ways.push(Explanation { noise: noise(lost), ..Explanation::of(vec![less.up()], weight) });
        // Spanned in the middle since, it is right there, low over the cell and high across from it.
        let spanned = vec![less.mostly_up(), Term::of(Shape::Slope, 1.2 * lost * part)];
        ways.push(Explanation { noise: noise(lost), ..Explanation::of(spanned, 0.6 * weight) });
    }
    for lost in [1, 2u8] {
        let (fixed, noise) = (Fixed::CellLost(cell, deck, lost), noise(f64::from(lost)));
        ways.push(Explanation { fixed, noise, ..Explanation::of(Vec::new(), 1.5) });
        let spanned = vec![Term::of(Shape::Remaining(cell, deck, lost), 0.4)];
        ways.push(Explanation { fixed, noise, ..Explanation::of(spanned, 0.5) });
    }
}

fn cable() -> Vec<Explanation> {
    let mut ways = Vec::new();
    // A walk that stays inside the scatter of the readings is none.
    for (walk, weight) in [(0.12, 0.5), (0.25, 1.0), (0.5, 1.0), (1.0, 1.0), (2.5, 1.0)] {
        for each in [0.4, 1.2, 3.0, 7.0] {
            let hidden = if each > 12.0 * walk { 0.2 } else { 1.0 };
            ways.push(Explanation::restless(Noise { walk, each, ..Noise::QUIET }, hidden * weight));
        }
    }
    // A contact that opens now and then: jumps by tens of divisions.
    ways.extend(
        [14.0, 25.0, 45.0].map(|each| Explanation::restless(Noise { walk: 0.12, each, ..Noise::QUIET }, 1.0)),
    );
    ways
}

/// What a slow change is never quite: an exponential. Steps in divisions for a root of a second.
const UNEVEN: f64 = 0.02;
/// A warm-up of less is none, in divisions.
const LEAST_WARM: f64 = 2.0;

fn warm_up(facts: &Facts) -> Vec<Explanation> {
    let mut ways = Vec::new();
    for (at, tau) in WARM_S.into_iter().enumerate() {
        for size in [4.0, 12.0, 36.0] {
            // Most of it is over after as many minutes as it has been on.
            let left = size * facts.on_s.map_or(0.6, |on| libm::exp(-on / tau));
            if left > 1.0 {
                let mut terms = vec![
                    Term::of(Shape::Warm(at), left).at_least(LEAST_WARM),
                    Term::of(Shape::Level, 0.6 * left),
                    Term::of(Shape::Slope, 0.1 * left),
                ];
                if at + 1 < WARM_S.len() {
                    terms.push(Term::of(Shape::Warm(at + 1), 0.3 * left));
                }
                let noise = Noise { walk: UNEVEN, ..Noise::QUIET };
                ways.push(Explanation { noise, ..Explanation::of(terms, left / size) });
            }
        }
    }
    ways
}

fn creep() -> Vec<Explanation> {
    let mut ways = Vec::new();
    for at in 0..CREEP_S.len() - 1 {
        for size in [3.0, 8.0, 20.0] {
            let terms = vec![Term::of(Shape::Creep(at), size), Term::of(Shape::Creep(at + 1), 0.5 * size)];
            ways.push(Explanation::of(terms, 1.0));
        }
    }
    ways
}
