//! The loading plan: which pieces for which load, with the least work. Work is the mass moved on
//! and off from the empty platform to the last load; then the fewest moves, then the fewest
//! pieces. Source: practice; OIML R 76-1:2006 A.4.4.1 and NIST Handbook 44 §2.20 say which loads.
//!
//! Pieces of one mass are interchangeable, so a state is how many of each mass are on. For every
//! load all states within its window are listed; the best way to each is built up load by load.
//! Where the lists would grow too long they are cut, and the plan then says how far from the lower
//! bound it may be instead of claiming to be the best.

use std::collections::HashMap;

use num_bigint::BigInt;
use num_traits::ToPrimitive;

use crate::quantity::{Decimal, Mass, Unit};

/// Most states that are kept for one load: of a kit of up to [`SMALL_KIT`] pieces, and of a larger one.
const MOST_STATES: (usize, usize) = (4_000, 900);
/// Up to so many pieces every state is looked at as a rule.
const SMALL_KIT: usize = 24;
/// Most steps of the search for them.
const MOST_STEPS: usize = 300_000;
/// Most ways of equal work and moves that are kept for a state, for the fewest pieces.
const MOST_WAYS: usize = 48;

/// A load that is wanted.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Target {
    /// The load.
    pub load: Mass,
    /// Exactly so much, if any choice of pieces gives it.
    pub exact: bool,
    /// Never more: the end of a tolerance step.
    pub not_above: bool,
}

/// What the plan may use.
#[derive(Clone, Debug)]
pub struct PlanInputs {
    /// Unit of the answer.
    pub unit: Unit,
    /// Never above this.
    pub max: Mass,
    /// The loads, in ascending order.
    pub targets: Vec<Target>,
    /// Masses of the pieces that may be used.
    pub pieces: Vec<Mass>,
}

/// One load of a plan.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PlannedLoad {
    /// Its exact mass.
    pub load: Mass,
    /// The pieces that lie on the platform, by their place in the list.
    pub on: Vec<usize>,
    /// Pieces to put on, the largest first.
    pub put: Vec<usize>,
    /// Pieces to take off, the smallest first.
    pub take: Vec<usize>,
}

/// A plan.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LoadingPlan {
    /// The loads.
    pub loads: Vec<PlannedLoad>,
    /// Which exact loads are met exactly; `None` where it was not asked.
    pub exact_met: Vec<Option<bool>>,
    /// Mass moved on and off.
    pub work: Mass,
    /// Pieces put on or taken off.
    pub moves: usize,
    /// Distinct pieces.
    pub pieces: usize,
    /// No plan is better: every choice of pieces was looked at.
    pub proven: bool,
    /// By so much the work may at most be above the least; zero: no plan moves less.
    pub gap: Mass,
}

impl LoadingPlan {
    /// No loads at all.
    pub fn nothing(unit: Unit) -> Self {
        let nothing = Mass::zero(unit);
        Self { loads: Vec::new(), exact_met: Vec::new(), work: nothing.clone(), moves: 0, pieces: 0, proven: false, gap: nothing }
    }
}

/// Loads that no choice of pieces reaches, by their place in the list.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("no choice of pieces reaches load {}", .unreachable.iter().map(|i| (i + 1).to_string()).collect::<Vec<_>>().join(", "))]
pub struct Unreachable {
    /// Which.
    pub unreachable: Vec<usize>,
}

/// How many of each mass are on.
type Counts = Vec<u16>;

/// Work, moves: compared in this order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
struct Cost {
    work: i128,
    moves: u32,
}

struct Kit {
    /// Masses in whole units of `grain`, the largest first.
    masses: Vec<i128>,
    /// How many of each.
    most: Counts,
    /// Which pieces they are.
    which: Vec<Vec<usize>>,
    /// 10^places of them make one of the unit.
    places: i64,
}

/// Plans.
///
/// # Errors
/// [`Unreachable`] with the loads that cannot be reached.
pub fn loading_plan(inputs: &PlanInputs) -> Result<LoadingPlan, Unreachable> {
    let kit = Kit::new(inputs);
    let max = kit.grains(&inputs.max.value_in(inputs.unit));
    let mut layers = Vec::with_capacity(inputs.targets.len());
    let mut exact_met = Vec::with_capacity(inputs.targets.len());
    let mut unreachable = Vec::new();
    let mut whole = true;
    for (index, target) in inputs.targets.iter().enumerate() {
        let load = kit.grains_exact(&target.load.value_in(inputs.unit));
        let mut found = match (target.exact, load) {
            (true, Some(load)) if load <= max => kit.states(load, load),
            _ => Found::default(),
        };
        let met = !found.states.is_empty();
        if !met {
            let (low, high) = kit.window(&target.load.value_in(inputs.unit), target.not_above);
            found = kit.states(low, high.min(max));
        }
        exact_met.push(target.exact.then_some(met));
        if found.states.is_empty() {
            unreachable.push(index);
        }
        whole &= !found.cut;
        layers.push(found.states);
    }
    if !unreachable.is_empty() {
        return Err(Unreachable { unreachable });
    }
    Ok(kit.best(inputs, &layers, exact_met, whole))
}

#[derive(Default)]
struct Found {
    states: Vec<(Counts, i128)>,
    cut: bool,
}

struct Search<'a> {
    kit: &'a Kit,
    /// What is left of each mass and the lighter ones.
    rest: Vec<i128>,
    low: i128,
    high: i128,
    steps: usize,
    found: Found,
}

impl Search<'_> {
    fn go(&mut self, at: usize, sum: i128, counts: &mut Counts) {
        self.steps += 1;
        if self.steps > MOST_STEPS || self.found.states.len() >= self.kit.most_states() {
            self.found.cut = true;
            return;
        }
        if sum + self.rest[at] < self.low {
            return;
        }
        if at == self.kit.masses.len() {
            self.found.states.push((counts.clone(), sum));
            return;
        }
        let room = (self.high - sum) / self.kit.masses[at];
        let most = u16::try_from(room).unwrap_or(u16::MAX).min(self.kit.most[at]);
        // Many of the heavy first: plans with few pieces are met before a list is cut.
        for count in (0..=most).rev() {
            counts[at] = count;
            self.go(at + 1, sum + i128::from(count) * self.kit.masses[at], counts);
        }
        counts[at] = 0;
    }
}

/// A way to a state.
#[derive(Clone)]
struct Way {
    /// State of the load before, and which of its ways.
    from: (usize, usize),
    /// The most of each mass that was ever on.
    used: Counts,
}

struct Reached {
    cost: Cost,
    ways: Vec<Way>,
}

impl Kit {
    fn new(inputs: &PlanInputs) -> Self {
        let values: Vec<Decimal> = inputs.pieces.iter().map(|p| p.value_in(inputs.unit)).collect();
        let limits = [inputs.max.value_in(inputs.unit)];
        let places = values.iter().chain(&limits).map(|v| -v.digits_and_exponent().1).max().unwrap_or(0).max(0);
        let mut kit = Self { masses: Vec::new(), most: Vec::new(), which: Vec::new(), places };
        let mut by_mass: HashMap<i128, Vec<usize>> = HashMap::new();
        for (index, value) in values.iter().enumerate() {
            by_mass.entry(kit.grains(value)).or_default().push(index);
        }
        let mut sorted: Vec<(i128, Vec<usize>)> = by_mass.into_iter().filter(|(mass, _)| *mass > 0).collect();
        sorted.sort_by_key(|(mass, _)| std::cmp::Reverse(*mass));
        for (mass, which) in sorted {
            kit.masses.push(mass);
            kit.most.push(u16::try_from(which.len()).unwrap_or(u16::MAX));
            kit.which.push(which);
        }
        kit
    }

    fn most_states(&self) -> usize {
        let pieces: usize = self.which.iter().map(Vec::len).sum();
        if pieces <= SMALL_KIT { MOST_STATES.0 } else { MOST_STATES.1 }
    }

    fn grains(&self, value: &Decimal) -> i128 {
        let shifted = value * &Decimal::ten_to(self.places);
        whole(&shifted.floor())
    }

    fn grains_exact(&self, value: &Decimal) -> Option<i128> {
        let shifted = value * &Decimal::ten_to(self.places);
        shifted.is_whole().then(|| whole(&shifted))
    }

    /// ± 5 % of the load; `not_above`: nothing over it.
    fn window(&self, load: &Decimal, not_above: bool) -> (i128, i128) {
        let scaled = load * &Decimal::ten_to(self.places);
        let low = whole(&(&scaled * &Decimal::new(95, 2)).ceil());
        let high = if not_above { scaled.floor() } else { (&scaled * &Decimal::new(105, 2)).floor() };
        (low, whole(&high))
    }

    fn states(&self, low: i128, high: i128) -> Found {
        let mut rest = vec![0; self.masses.len() + 1];
        for at in (0..self.masses.len()).rev() {
            rest[at] = rest[at + 1] + self.masses[at] * i128::from(self.most[at]);
        }
        let mut search = Search { kit: self, rest, low, high, steps: 0, found: Found::default() };
        if low <= high {
            search.go(0, 0, &mut vec![0; self.masses.len()]);
        }
        search.found
    }

    fn between(&self, from: &Counts, to: &Counts) -> Cost {
        let mut cost = Cost { work: 0, moves: 0 };
        for (at, mass) in self.masses.iter().enumerate() {
            let differ = from[at].abs_diff(to[at]);
            cost.work += mass * i128::from(differ);
            cost.moves += u32::from(differ);
        }
        cost
    }

    fn best(&self, inputs: &PlanInputs, layers: &[Vec<(Counts, i128)>], exact_met: Vec<Option<bool>>, whole: bool) -> LoadingPlan {
        let empty = vec![0u16; self.masses.len()];
        let mut reached: Vec<Vec<Reached>> = Vec::with_capacity(layers.len());
        let mut full = whole;
        for (index, layer) in layers.iter().enumerate() {
            let before: Vec<(&Counts, i128, Cost)> = match index.checked_sub(1) {
                None => vec![(&empty, 0, Cost { work: 0, moves: 0 })],
                Some(last) => layers[last].iter().zip(&reached[last]).map(|((c, sum), r)| (c, *sum, r.cost)).collect(),
            };
            let mut order: Vec<usize> = (0..before.len()).collect();
            order.sort_by_key(|i| before[*i].2);
            let ways = index.checked_sub(1).map(|last| &reached[last]);
            let made = layer.iter().map(|state| self.reach(state, &before, &order, ways.map(Vec::as_slice), &empty, &mut full)).collect();
            reached.push(made);
        }
        self.finish(inputs, layers, &reached, exact_met, full)
    }

    /// The least cost of a state, with every way of that cost that may use the fewest pieces.
    fn reach(&self, state: &(Counts, i128), before: &[(&Counts, i128, Cost)], order: &[usize], ways: Option<&[Reached]>, empty: &Counts, full: &mut bool) -> Reached {
        let mut best: Option<Cost> = None;
        let mut from = Vec::new();
        for &index in order {
            let (counts, sum, cost) = &before[index];
            // No state can be reached by moving less than the difference of the loads.
            if best.is_some_and(|b| cost.work > b.work) {
                break;
            }
            if best.is_some_and(|b| cost.work + (state.1 - sum).abs() > b.work) {
                continue;
            }
            let step = self.between(counts, &state.0);
            let total = Cost { work: cost.work + step.work, moves: cost.moves + step.moves };
            match best {
                Some(b) if total > b => {}
                Some(b) if total == b => from.push(index),
                _ => {
                    best = Some(total);
                    from = vec![index];
                }
            }
        }
        let mut kept: Vec<Way> = Vec::new();
        for index in from {
            let earlier: Vec<(usize, &Counts)> = match ways {
                Some(reached) => reached[index].ways.iter().enumerate().map(|(i, w)| (i, &w.used)).collect(),
                None => vec![(0, empty)],
            };
            for (way, used) in earlier {
                let used: Counts = used.iter().zip(&state.0).map(|(a, b)| *a.max(b)).collect();
                let within = |a: &Counts, b: &Counts| a.iter().zip(b).all(|(x, y)| x <= y);
                if kept.iter().any(|k| within(&k.used, &used)) {
                    continue;
                }
                kept.retain(|k| !within(&used, &k.used));
                if kept.len() < MOST_WAYS { kept.push(Way { from: (index, way), used }) } else { *full = false }
            }
        }
        // OK because every layer has a state and the first is reached from the empty platform.
        Reached { cost: best.unwrap_or(Cost { work: i128::MAX, moves: u32::MAX }), ways: kept }
    }

    fn finish(&self, inputs: &PlanInputs, layers: &[Vec<(Counts, i128)>], reached: &[Vec<Reached>], exact_met: Vec<Option<bool>>, full: bool) -> LoadingPlan {
        let total = |used: &Counts| used.iter().map(|n| u32::from(*n)).sum::<u32>();
        let fewest = |r: &Reached| r.ways.iter().enumerate().map(|(i, w)| (total(&w.used), i)).min().unwrap_or((u32::MAX, 0));
        let last = reached.last().and_then(|layer| layer.iter().enumerate().map(|(i, r)| (r.cost, fewest(r), i)).min());
        let (cost, (pieces, way), state) = last.unwrap_or((Cost { work: 0, moves: 0 }, (0, 0), 0));
        let mut chain = vec![(state, way)];
        for index in (1..layers.len()).rev() {
            let (state, way) = chain[chain.len() - 1];
            chain.push(reached[index][state].ways[way].from);
        }
        chain.reverse();
        let states: Vec<&Counts> = chain.iter().zip(layers).map(|((state, _), layer)| &layer[*state].0).collect();
        // Whatever is done, the lightest last load must at least be put on: the load itself where it is
        // met exactly, else the lower end of its window.
        let bound = match (inputs.targets.last(), exact_met.last()) {
            (Some(target), Some(Some(true))) => self.grains(&target.load.value_in(inputs.unit)),
            (Some(target), _) => self.window(&target.load.value_in(inputs.unit), target.not_above).0,
            (None, _) => 0,
        };
        let mass = |grains: i128| Mass::new(&decimal(grains) * &Decimal::ten_to(-self.places), inputs.unit);
        let gap = if full { 0 } else { (cost.work - bound).max(0) };
        LoadingPlan {
            loads: self.name(inputs, &states),
            exact_met,
            work: mass(cost.work),
            moves: usize::try_from(cost.moves).unwrap_or(usize::MAX),
            pieces: usize::try_from(pieces).unwrap_or(usize::MAX),
            proven: full,
            gap: mass(gap),
        }
    }

    /// Gives each state real pieces; of one mass always the first that are there.
    fn name(&self, inputs: &PlanInputs, states: &[&Counts]) -> Vec<PlannedLoad> {
        let mut before: Vec<usize> = Vec::new();
        states
            .iter()
            .map(|counts| {
                let on: Vec<usize> = counts.iter().enumerate().flat_map(|(at, n)| self.which[at][..usize::from(*n)].iter().copied()).collect();
                let put = on.iter().copied().filter(|p| !before.contains(p)).collect();
                let mut take: Vec<usize> = before.iter().copied().filter(|p| !on.contains(p)).collect();
                take.reverse();
                let load = on.iter().fold(Mass::zero(inputs.unit), |sum, p| sum.plus(&inputs.pieces[*p]));
                before.clone_from(&on);
                PlannedLoad { load, on, put, take }
            })
            .collect()
    }
}

fn whole(value: &Decimal) -> i128 {
    let (digits, exponent) = value.digits_and_exponent();
    let scaled = digits * BigInt::from(10u8).pow(u32::try_from(exponent).unwrap_or(0));
    scaled.to_i128().unwrap_or(i128::MAX / 4)
}

fn decimal(grains: i128) -> Decimal {
    // OK because the text of a whole number is a plain decimal.
    grains.to_string().parse().unwrap_or_else(|_| Decimal::zero())
}

/// Which pieces to borrow, in the fewest, so that a load can be reached: masses from `nominals`.
pub fn to_borrow(inputs: &PlanInputs, index: usize, nominals: &[Mass]) -> Option<Vec<Mass>> {
    let target = inputs.targets.get(index)?;
    let reaches = |more: &[Mass]| {
        let pieces = inputs.pieces.iter().chain(more).cloned().collect();
        loading_plan(&PlanInputs { pieces, targets: vec![target.clone()], ..inputs.clone() }).is_ok()
    };
    let fitting: Vec<&Mass> = nominals.iter().filter(|n| **n <= target.load).collect();
    if let Some(one) = fitting.iter().find(|n| reaches(&[(**n).clone()])) {
        return Some(vec![(*one).clone()]);
    }
    // Then as many of the largest as are missing, topped up with one other.
    let largest = fitting.first()?;
    for count in 1..=40usize {
        let many = vec![(*largest).clone(); count];
        if reaches(&many) {
            return Some(many);
        }
        for other in &fitting {
            let topped: Vec<Mass> = many.iter().cloned().chain([(**other).clone()]).collect();
            if reaches(&topped) {
                return Some(topped);
            }
        }
    }
    None
}
