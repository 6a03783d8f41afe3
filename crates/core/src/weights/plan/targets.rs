//! Which loads a check wants, and the round loads that a person puts on for them. Sources: OIML R
//! 76-1:2006, A.4.4.1 and 3.5.1; NIST Handbook 44 §2.20, N.1.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::placement::Platform;
use crate::quantity::{Decimal, Mass, Range, Unit};
use crate::tolerance::Tolerance;
use crate::wording::Text;

/// Why a load is wanted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LoadReason {
    /// The empty platform.
    Zero,
    /// The smallest load to be weighed.
    Min,
    /// The end of a step of the tolerance.
    ToleranceStep,
    /// Just below a change of range.
    BelowRangeChange,
    /// Just above a change of range.
    AboveRangeChange,
    /// Half of Max.
    Half,
    /// Between others, so that there are at least five loads.
    Between,
    /// The load at which it is really used.
    WorkingLoad,
    /// The span weight.
    SpanWeight,
    /// The span weight that still stands there after the span.
    SpanStillOn,
    /// Max, or as far as the weights go.
    Max,
    /// The same load, decreasing.
    SameDecreasing,
    /// Zero after the last load.
    ZeroReturn,
    /// Every pad together.
    Together,
    /// One position of the eccentricity test.
    Eccentricity,
    /// One weighing of the repeatability test.
    Repeatability,
    /// The smallest step that moves the display.
    Discrimination,
}

impl LoadReason {
    /// In a few words.
    pub const fn label(self) -> Text {
        match self {
            Self::Zero => text!("targets-zero"),
            Self::Min => text!("targets-min"),
            Self::ToleranceStep => text!("targets-end-of-a-tolerance-step"),
            Self::BelowRangeChange => text!("targets-just-below-the-change-of"),
            Self::AboveRangeChange => text!("targets-just-above-the-change-of"),
            Self::Half => text!("targets-half-of-max-a-bow"),
            Self::Between => text!("targets-between-the-others-at-least"),
            Self::WorkingLoad => text!("targets-the-working-load"),
            Self::SpanWeight => text!("targets-the-span-weight"),
            Self::SpanStillOn => text!("targets-the-span-weight-that-still"),
            Self::Max => text!("targets-max-or-as-far-as"),
            Self::SameDecreasing => text!("targets-the-same-load-decreasing"),
            Self::ZeroReturn => text!("targets-zero-comes-back"),
            Self::Together => text!("targets-all-pads-together-the-load"),
            Self::Eccentricity => text!("targets-eccentricity-corners"),
            Self::Repeatability => text!("targets-repeatability-the-same-load-again"),
            Self::Discrimination => text!("targets-discrimination-a-small-weight-must"),
        }
    }

    /// Which of two loads that lie close together stays: the one that cannot be moved.
    const fn rank(self) -> u8 {
        match self {
            Self::SpanWeight | Self::Max => 3,
            Self::BelowRangeChange | Self::AboveRangeChange => 2,
            Self::WorkingLoad | Self::ToleranceStep => 1,
            _ => 0,
        }
    }
}

/// A load of a check.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct CheckLoad {
    /// The load.
    pub load: Mass,
    /// Exactly so much, if it can be built.
    pub exact: bool,
    /// Never more: the end of a tolerance step.
    pub not_above: bool,
    /// Why it is wanted.
    pub reason: LoadReason,
    /// The round load that is put on for it, where one was chosen.
    #[schema(required)]
    pub round: Option<Mass>,
}

impl CheckLoad {
    /// Just this load, exactly.
    pub fn just(load: &Mass) -> Self {
        Self {
            load: load.clone(),
            exact: true,
            not_above: false,
            reason: LoadReason::SpanWeight,
            round: None,
        }
    }
}

/// How many loads are wanted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Thoroughness {
    /// As found: enough to tell how it is.
    AsFound,
    /// A whole test.
    Test,
}

/// What a plan for a check rests on.
#[derive(Clone, Debug)]
pub struct CheckInputs<'a> {
    /// Max.
    pub max: &'a Mass,
    /// Division.
    pub d: &'a Mass,
    /// The tolerance.
    pub tolerance: &'a Tolerance,
    /// Smallest load to be weighed, where the class gives one.
    pub min_load: Option<&'a Mass>,
    /// Ends of tolerance steps inside the range.
    pub steps: &'a [Mass],
    /// The finer range, where there are two.
    pub fine: Option<&'a Range>,
    /// The span weight.
    pub span: Option<&'a Mass>,
    /// The load at which it is really used.
    pub working_load: Option<&'a Mass>,
    /// Where pieces can stand.
    pub platform: Platform,
    /// How many loads.
    pub thoroughness: Thoroughness,
}

/// Most ends of tolerance steps; the rest lies on the way to Max.
const MOST_STEPS: usize = 4;
/// Fewest loads of a test, zero among them. Source: OIML R 76-1:2006, A.4.4.1 (at least five).
const FEWEST_LOADS: usize = 5;

/// The loads above zero of a check, in ascending order; of two within 2 % of Max the one that cannot be
/// moved stays.
pub fn check_loads(inputs: &CheckInputs) -> Vec<CheckLoad> {
    let share = |hundredths: i64| inputs.max.times(&Decimal::new(hundredths, 2));
    let mut loads: Vec<CheckLoad> = Vec::new();
    let mut add = |load: &Mass, reason: LoadReason| {
        let exact = matches!(reason, LoadReason::SpanWeight | LoadReason::Max);
        let not_above = matches!(reason, LoadReason::ToleranceStep | LoadReason::BelowRangeChange);
        loads.push(CheckLoad { load: load.to(inputs.max.unit), exact, not_above, reason, round: None });
    };
    let whole = inputs.thoroughness == Thoroughness::Test;
    if whole {
        inputs.min_load.into_iter().for_each(|min| add(min, LoadReason::Min));
        inputs.steps.iter().take(MOST_STEPS).for_each(|step| add(step, LoadReason::ToleranceStep));
        inputs.span.into_iter().for_each(|span| add(span, LoadReason::SpanWeight));
    }
    if let Some(fine) = inputs.fine {
        add(&fine.max, LoadReason::BelowRangeChange);
        // So far above the change that five per cent less are still above it.
        add(&above(&fine.max, inputs.d), LoadReason::AboveRangeChange);
    }
    add(&share(50), LoadReason::Half);
    inputs.working_load.into_iter().for_each(|working| add(working, LoadReason::WorkingLoad));
    add(inputs.max, LoadReason::Max);
    let mut loads = apart(loads, inputs.max);
    if whole {
        for hundredths in [25, 75, 10] {
            if loads.len() + 1 < FEWEST_LOADS {
                let load = share(hundredths);
                loads.push(CheckLoad {
                    load,
                    exact: false,
                    not_above: false,
                    reason: LoadReason::Between,
                    round: None,
                });
                loads = apart(loads, inputs.max);
            }
        }
    }
    loads
}

fn above(change: &Mass, d: &Mass) -> Mass {
    let steps = change.times(&Decimal::new(1055, 3)).ratio(d).unwrap_or_else(Decimal::zero).ceil();
    Mass::new(&steps * &d.value, d.unit)
}

fn apart(mut loads: Vec<CheckLoad>, max: &Mass) -> Vec<CheckLoad> {
    loads.retain(|l| l.load.value.is_positive() && l.load <= *max);
    loads.sort_by(|a, b| a.load.cmp(&b.load));
    loads.dedup_by(|later, first| {
        let close = later.load.minus(&first.load).abs() <= max.times(&Decimal::new(2, 2));
        let both_sides =
            later.reason == LoadReason::AboveRangeChange && first.reason == LoadReason::BelowRangeChange;
        if close && !both_sides && later.reason.rank() > first.reason.rank() {
            *first = later.clone();
        }
        close && !both_sides
    });
    loads
}

/// Share of a load that is wanted, in per cent, by which a load that counts for it may differ.
pub const NEAR_PER_CENT: u32 = 5;

/// Divisions by which what is on may differ from the load that is asked for and still be meant as that load, where
/// that is more than [`NEAR_PER_CENT`] of it: small loads come to rest some divisions off.
pub const NEAR_DIVISIONS: u32 = 5;

/// True where a load that was put on counts for one that was wanted: within five per cent of it; zero
/// only by zero. The one answer to "near enough to count as done".
pub fn near_enough(load: &Mass, wanted: &Mass) -> bool {
    if wanted.value.is_zero() {
        return load.value.is_zero();
    }
    load.minus(wanted).abs() <= wanted.abs().times(&Decimal::new(i64::from(NEAR_PER_CENT), 2))
}

/// The round figure nearest to a wanted load that may stand for it: of the multiples of d between 95 %
/// and 105 % of it (not above it, where it may not be overshot; never above Max) one of the largest
/// step 1, 2 or 5 times a power of ten.
pub fn round_figure(wanted: &CheckLoad, d: &Mass, max: &Mass) -> Mass {
    let unit = d.unit;
    let t = wanted.load.value_in(unit);
    if wanted.exact || !t.is_positive() {
        return wanted.load.to(unit);
    }
    let low = &t * &Decimal::new(95, 2);
    let most = max.value_in(unit);
    let high = if wanted.not_above { t.clone() } else { (&t * &Decimal::new(105, 2)).min(most) };
    let digits = i64::try_from(t.floor().to_string().len()).unwrap_or(1);
    for exponent in (-9..=digits).rev() {
        for s in [5i64, 2, 1] {
            let step = &Decimal::from(u32::try_from(s).unwrap_or(1)) * &Decimal::ten_to(exponent);
            let Some(steps) = t.quotient(&step) else { continue };
            let candidates = [steps.floor(), steps.ceil()].map(|n| &n * &step);
            let fits = |c: &&Decimal| {
                **c >= low
                    && **c <= high
                    && c.is_positive()
                    && c.quotient(&d.value).is_some_and(|n| n.is_whole())
            };
            let off = |c: &&Decimal| (*c - &t).abs();
            if let Some(best) = candidates.iter().filter(fits).min_by(|a, b| off(a).cmp(&off(b))) {
                return Mass::new(best.clone(), unit);
            }
        }
    }
    wanted.load.to(unit)
}

/// Most choices of pieces that are looked at for one load.
const MOST_CHOICES: usize = 60_000;

/// The round load that the fewest pieces make between 95 and 105 % of what is wanted (not above it,
/// where it may not be overshot; never above Max), with the pieces by their place in the list: whole
/// divisions before others, then the roundest figure, then the nearest. None where no choice of pieces
/// lies there.
pub fn fewest_pieces(
    pieces: &[Mass],
    wanted: &CheckLoad,
    d: &Mass,
    max: &Mass,
) -> Option<(Mass, Vec<usize>)> {
    let unit = d.unit;
    let t = wanted.load.value_in(unit);
    let most = max.value_in(unit);
    let (low, high) = match (wanted.exact, wanted.not_above) {
        (true, _) => (t.clone(), t.clone()),
        (_, true) => (&t * &Decimal::new(95, 2), t.clone()),
        (_, false) => (&t * &Decimal::new(95, 2), (&t * &Decimal::new(105, 2)).min(most)),
    };
    let mut kinds: Vec<(Decimal, Vec<usize>)> = Vec::new();
    for (index, piece) in pieces.iter().enumerate() {
        let mass = piece.value_in(unit);
        match kinds.iter_mut().find(|(of, _)| *of == mass) {
            Some((_, which)) => which.push(index),
            None if mass.is_positive() && mass <= high => kinds.push((mass, vec![index])),
            None => {}
        }
    }
    kinds.sort_by(|a, b| b.0.cmp(&a.0));
    // Whole divisions where the pieces make any at all; else what they make.
    let whole = |sum: &Decimal| sum.quotient(&d.value).is_some_and(|n| n.is_whole());
    let fewest = |only_whole: bool| {
        for count in 1..=pieces.len() {
            let mut search =
                Choosing { kinds: &kinds, low: &low, high: &high, left: MOST_CHOICES, found: Vec::new() };
            search.go(0, count, &Decimal::zero(), &mut vec![0; kinds.len()]);
            let spent = search.left == 0;
            let fitting = search.found.into_iter().filter(|(sum, _)| !only_whole || whole(sum));
            let best = fitting.min_by(|a, b| roundness(&a.0, &t).cmp(&roundness(&b.0, &t)));
            if best.is_some() || spent {
                return best;
            }
        }
        None
    };
    let (sum, counts) = fewest(true).or_else(|| fewest(false))?;
    let chosen = kinds.iter().zip(&counts).flat_map(|((_, which), n)| which[..*n].iter().copied());
    Some((Mass::new(sum, unit), chosen.collect()))
}

struct Choosing<'a> {
    kinds: &'a [(Decimal, Vec<usize>)],
    low: &'a Decimal,
    high: &'a Decimal,
    left: usize,
    found: Vec<(Decimal, Vec<usize>)>,
}

impl Choosing<'_> {
    /// Choices of exactly `count` more pieces, of this mass and lighter ones.
    fn go(&mut self, at: usize, count: usize, sum: &Decimal, counts: &mut Vec<usize>) {
        if self.left == 0 || sum > self.high {
            return;
        }
        self.left -= 1;
        if count == 0 {
            if sum >= self.low {
                self.found.push((sum.clone(), counts.clone()));
            }
            return;
        }
        let Some((mass, which)) = self.kinds.get(at) else { return };
        // Even the heaviest that are left do not reach it.
        let reach = sum + &(mass * &Decimal::from(u32::try_from(count).unwrap_or(u32::MAX)));
        if reach < *self.low {
            return;
        }
        for n in (0..=count.min(which.len())).rev() {
            counts[at] = n;
            let more = sum + &(mass * &Decimal::from(u32::try_from(n).unwrap_or(u32::MAX)));
            self.go(at + 1, count - n, &more, counts);
        }
        counts[at] = 0;
    }
}

/// Smaller is rounder: the fewest significant figures first, then a last figure of 1, 2 or 5, then how
/// far from what is wanted.
fn roundness(load: &Decimal, wanted: &Decimal) -> (usize, bool, Decimal) {
    let odd = !matches!(load.significand(), Some(1 | 2 | 5));
    (load.figures(), odd, (load - wanted).abs())
}

/// The same loads with the round load of each that is not exact, where the pieces make one.
pub(crate) fn rounded(pieces: &[Mass], loads: &[CheckLoad], inputs: &CheckInputs) -> Vec<CheckLoad> {
    let mut highest = Mass::zero(inputs.max.unit);
    loads
        .iter()
        .map(|load| {
            let d = if inputs.fine.is_some_and(|fine| load.load <= fine.max) {
                inputs.fine.map_or(inputs.d, |fine| &fine.d)
            } else {
                inputs.d
            };
            let round = (!load.exact)
                .then(|| fewest_pieces(pieces, load, d, inputs.max))
                .flatten()
                .map(|(round, _)| round.to(inputs.max.unit))
                // Two targets that come close must not change places.
                .filter(|round| *round > highest);
            highest = round.clone().unwrap_or_else(|| load.load.clone());
            CheckLoad { round, ..load.clone() }
        })
        .collect()
}

/// Pound weights give plain figures in pounds only.
pub(crate) const fn in_pounds(unit: Unit) -> bool {
    matches!(unit, Unit::Lb | Unit::Oz | Unit::Tn)
}
