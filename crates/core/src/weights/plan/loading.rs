//! The loading plan: which pieces for which load, with the least work. Work is the mass moved on
//! and off from the empty platform to the last load; then the fewest moves, then the fewest
//! pieces. Source: practice; OIML R 76-1:2006 A.4.4.1 and NIST Handbook 44 §2.20 say which loads.
//!
//! Pieces of one mass are interchangeable, so a state is how many of each mass are on. Where all
//! states of all loads fit into boxes of a bearable size (`grid`), the best plan is found and is
//! proven. Of a larger kit the plainest plan is tried first, which takes nothing off again, then a
//! smaller kit is planned exactly, then lists of states, cut where they grow too long; the plan says
//! how far from the lower bound it may be instead of claiming to be the best.

use std::collections::HashMap;

use super::cost::{Cost, Counts};
use super::exact_search::{Asked, Chain, cheapest};
use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Most choices, over all loads, that are all looked at; and of a kit that was made smaller for it.
pub(crate) const MOST_CELLS: usize = 8_000_000;
const FEWER_CELLS: usize = 700_000;
/// Most states that are listed for one load.
const MOST_STATES: usize = 900;
/// Most steps of the search for them.
const MOST_STEPS: usize = 300_000;

/// A load that is wanted.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Target {
    /// The load.
    pub load: Mass,
    /// Exactly so much, if any choice of pieces gives it.
    pub exact: bool,
    /// Never more: the end of a tolerance step.
    pub not_above: bool,
    /// Just these pieces, by their place in the list.
    pub fixed: Option<Vec<usize>>,
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

/// Largest figure of a plan, and the smallest digit of one, in its unit; most pieces and loads. Whatever
/// weighs lies far inside; beyond, sums no longer fit into whole numbers.
const LARGEST: (i64, i64) = (15, 15);
const MOST: (usize, usize) = (20_000, 400);

impl PlanInputs {
    /// Checks that every figure is of a magnitude that can be planned with.
    ///
    /// # Errors
    /// A [`Refusal`] at the field.
    pub fn check(&self) -> Result<(), Refusal> {
        let wild = |mass: &Mass| {
            let value = mass.value_in(self.unit);
            let exponent = value.exponent();
            let length = i64::try_from(value.figures()).unwrap_or(i64::MAX);
            exponent < -LARGEST.1 || length.saturating_add(exponent) > LARGEST.0 || value.is_negative()
        };
        let refuse =
            |field: &str, what: Text| Err(Refusal::from(Refused::OutOfRange { says: what }).at(field));
        if self.pieces.len() > MOST.0 || self.targets.len() > MOST.1 {
            return refuse("pieces", text!("loading-at-most-most-pieces-and", most = MOST.0, most2 = MOST.1));
        }
        let loads = self.targets.iter().map(|t| ("targets", &t.load));
        let all = loads.chain(self.pieces.iter().map(|p| ("pieces", p))).chain([("max", &self.max)]);
        match all.into_iter().find(|(_, mass)| wild(mass)) {
            Some((field, mass)) => refuse(field, text!("loading-mass-is-no-mass-that", mass)),
            None => Ok(()),
        }
    }
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
        Self {
            loads: Vec::new(),
            exact_met: Vec::new(),
            work: nothing.clone(),
            moves: 0,
            pieces: 0,
            proven: false,
            gap: nothing,
        }
    }
}

/// Loads that no choice of pieces reaches, by their place in the list.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub struct Unreachable {
    /// Which.
    pub unreachable: Vec<usize>,
}

impl From<&Unreachable> for Text {
    fn from(error: &Unreachable) -> Self {
        text!("unreachable-loads", loads = error.unreachable.iter().map(|i| i + 1).collect::<Vec<_>>())
    }
}

impl std::fmt::Display for Unreachable {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
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
    loading_plan_within(inputs, MOST_CELLS)
}

/// Loads that no choice of pieces reaches, by their place in the list; nothing is planned.
pub fn unreachable(inputs: &PlanInputs) -> Vec<usize> {
    windows_of(inputs, &Kit::new(inputs)).map_or_else(|error| error.unreachable, |_| Vec::new())
}

/// What each load may come to, whether it is met exactly, and the loads that are fixed.
type Windows = (Vec<(i128, i128)>, Vec<Option<bool>>, Vec<Option<Counts>>);

fn windows_of(inputs: &PlanInputs, kit: &Kit) -> Result<Windows, Unreachable> {
    let max = kit.grains(&inputs.max.value_in(inputs.unit));
    let mut windows = Vec::with_capacity(inputs.targets.len());
    let mut exact_met = Vec::with_capacity(inputs.targets.len());
    let mut unreachable = Vec::new();
    let fixed: Vec<Option<Counts>> =
        inputs.targets.iter().map(|t| t.fixed.as_deref().map(|pieces| kit.counts(pieces))).collect();
    for (index, target) in inputs.targets.iter().enumerate() {
        let load = kit.grains_exact(&target.load.value_in(inputs.unit));
        let exact = load.filter(|load| target.exact && *load <= max && kit.reaches(*load, *load));
        exact_met.push(target.exact.then_some(exact.is_some()));
        let (low, high) = kit.window(&target.load.value_in(inputs.unit), target.not_above);
        let window = match &fixed[index] {
            Some(counts) => (kit.sum(counts), kit.sum(counts)),
            None => exact.map_or((low, high.min(max)), |load| (load, load)),
        };
        if exact.is_none() && !kit.reaches(window.0, window.1) {
            unreachable.push(index);
        }
        windows.push(window);
    }
    if unreachable.is_empty() { Ok((windows, exact_met, fixed)) } else { Err(Unreachable { unreachable }) }
}

/// The same, looking at no more than so many choices over all loads.
///
/// # Errors
/// [`Unreachable`] with the loads that cannot be reached.
pub fn loading_plan_within(inputs: &PlanInputs, cells: usize) -> Result<LoadingPlan, Unreachable> {
    let kit = Kit::new(inputs);
    let (windows, exact_met, fixed) = windows_of(inputs, &kit)?;
    if let Ok(Some(chain)) =
        cheapest(&Asked { masses: &kit.masses, most: &kit.most, windows: &windows, fixed: &fixed }, cells)
    {
        let proven = chain.fewest;
        return Ok(kit.told(inputs, &chain, exact_met, proven, true, &windows));
    }
    let bound = kit.bound(&windows);
    let level = |chain: &Chain| chain.cost.work == bound.work;
    let built_up = if fixed.iter().all(Option::is_none) { kit.built_up(&windows) } else { None };
    let found = if built_up.as_ref().is_some_and(level) {
        built_up
    } else {
        built_up.into_iter().chain(kit.smaller(&windows, &fixed)).min_by_key(|c| (c.cost, c.pieces))
    };
    let Some(chain) = found.or_else(|| kit.listed(&windows)) else {
        return Err(Unreachable { unreachable: (0..windows.len()).collect() });
    };
    let (level, proven) = (level(&chain), (chain.cost, chain.pieces) == (bound, bound.moves));
    Ok(kit.told(inputs, &chain, exact_met, proven, level, &windows))
}

struct Search<'a> {
    kit: &'a Kit,
    /// What is left of each mass and the lighter ones.
    rest: Vec<i128>,
    low: i128,
    high: i128,
    most: usize,
    steps: usize,
    found: Vec<(Counts, i128)>,
}

impl Search<'_> {
    fn go(&mut self, at: usize, sum: i128, counts: &mut Counts) {
        self.steps += 1;
        if self.steps > MOST_STEPS || self.found.len() >= self.most {
            return;
        }
        if sum + self.rest[at] < self.low {
            return;
        }
        if at == self.kit.masses.len() {
            self.found.push((counts.clone(), sum));
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

impl Kit {
    fn new(inputs: &PlanInputs) -> Self {
        let values: Vec<Decimal> = inputs.pieces.iter().map(|p| p.value_in(inputs.unit)).collect();
        let limits = [inputs.max.value_in(inputs.unit)];
        let places = values.iter().chain(&limits).map(|v| -v.exponent()).max().unwrap_or(0).max(0);
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

    fn grains(&self, value: &Decimal) -> i128 {
        let shifted = value * &Decimal::ten_to(self.places);
        whole(&shifted.floor())
    }

    fn grains_exact(&self, value: &Decimal) -> Option<i128> {
        let shifted = value * &Decimal::ten_to(self.places);
        shifted.is_whole().then(|| whole(&shifted))
    }

    fn counts(&self, pieces: &[usize]) -> Counts {
        self.which
            .iter()
            .map(|of| u16::try_from(of.iter().filter(|p| pieces.contains(p)).count()).unwrap_or(u16::MAX))
            .collect()
    }

    fn sum(&self, counts: &Counts) -> i128 {
        self.masses.iter().zip(counts).map(|(mass, count)| mass * i128::from(*count)).sum()
    }

    /// ± 5 % of the load; `not_above`: nothing over it.
    fn window(&self, load: &Decimal, not_above: bool) -> (i128, i128) {
        let scaled = load * &Decimal::ten_to(self.places);
        let low = whole(&(&scaled * &Decimal::new(95, 2)).ceil());
        let high = if not_above { scaled.floor() } else { (&scaled * &Decimal::new(105, 2)).floor() };
        (low, whole(&high))
    }

    /// Whether any choice of pieces comes to so much.
    fn reaches(&self, low: i128, high: i128) -> bool {
        !self.search(low, high, 1).is_empty()
    }

    fn search(&self, low: i128, high: i128, most: usize) -> Vec<(Counts, i128)> {
        let mut rest = vec![0; self.masses.len() + 1];
        for at in (0..self.masses.len()).rev() {
            rest[at] = rest[at + 1] + self.masses[at] * i128::from(self.most[at]);
        }
        let mut search = Search { kit: self, rest, low, high, most, steps: 0, found: Vec::new() };
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

    /// The best chain through the listed states.
    fn best(&self, layers: &[Vec<(Counts, i128)>]) -> Chain {
        let empty = (vec![0u16; self.masses.len()], 0);
        let mut reached: Vec<Vec<(Cost, usize)>> = Vec::with_capacity(layers.len());
        for (index, layer) in layers.iter().enumerate() {
            let before: Vec<(&(Counts, i128), Cost)> = match index.checked_sub(1) {
                None => vec![(&empty, Cost { work: 0, moves: 0 })],
                Some(last) => layers[last].iter().zip(reached[last].iter().map(|r| r.0)).collect(),
            };
            let mut order: Vec<usize> = (0..before.len()).collect();
            order.sort_by_key(|i| before[*i].1);
            reached.push(layer.iter().map(|state| self.reach(state, &before, &order)).collect());
        }
        let mut at = reached
            .last()
            .and_then(|layer| layer.iter().enumerate().min_by_key(|(_, r)| r.0))
            .map_or(0, |(i, _)| i);
        let cost = reached.last().and_then(|layer| layer.get(at)).map_or(Cost { work: 0, moves: 0 }, |r| r.0);
        let mut states = Vec::with_capacity(layers.len());
        for (layer, reached) in layers.iter().zip(&reached).rev() {
            states.push(layer[at].0.clone());
            at = reached[at].1;
        }
        states.reverse();
        let most = |at: usize| states.iter().map(|s: &Counts| u32::from(s[at])).max().unwrap_or(0);
        Chain { cost, pieces: (0..self.masses.len()).map(most).sum(), fewest: false, states }
    }

    /// The least cost of a state, and from which it is reached.
    fn reach(
        &self,
        state: &(Counts, i128),
        before: &[(&(Counts, i128), Cost)],
        order: &[usize],
    ) -> (Cost, usize) {
        // OK because every list has a state and the first is reached from the empty platform.
        let mut best = (Cost { work: i128::MAX, moves: u32::MAX }, 0);
        for &index in order {
            let ((counts, sum), cost) = &before[index];
            // No state can be reached by moving less than the difference of the loads.
            if cost.work > best.0.work {
                break;
            }
            if cost.work + (state.1 - sum).abs() > best.0.work {
                continue;
            }
            let step = self.between(counts, &state.0);
            best = best.min((Cost { work: cost.work + step.work, moves: cost.moves + step.moves }, index));
        }
        best
    }

    /// The plainest plan of a large kit: nothing is taken off again, the heaviest go on first.
    fn built_up(&self, windows: &[(i128, i128)]) -> Option<Chain> {
        let mut left = Self {
            masses: self.masses.clone(),
            most: self.most.clone(),
            which: Vec::new(),
            places: self.places,
        };
        let (mut on, mut states): (i128, Vec<Counts>) = (0, Vec::new());
        for (low, high) in windows {
            let more = left.search((low - on).max(0), high - on, 1).pop()?;
            on += more.1;
            left.most.iter_mut().zip(&more.0).for_each(|(left, put)| *left -= put);
            states.push(self.most.iter().zip(&left.most).map(|(all, left)| all - left).collect());
        }
        let pieces = states.last().map_or(0, |s| s.iter().map(|n| u32::from(*n)).sum());
        Some(Chain { states, cost: Cost { work: on, moves: pieces }, pieces, fewest: false })
    }

    /// A plan through lists of choices, each cut where it grows too long.
    fn listed(&self, windows: &[(i128, i128)]) -> Option<Chain> {
        let layers: Vec<_> =
            windows.iter().map(|(low, high)| self.search(*low, *high, MOST_STATES)).collect();
        layers.iter().all(|l| !l.is_empty()).then(|| self.best(&layers))
    }

    /// Plans with fewer pieces than there are: all of the heaviest that the last load needs, of the
    /// others as many as reach the next heavier one, then fewer of the most numerous of these, until
    /// every choice can be looked at.
    fn smaller(&self, windows: &[(i128, i128)], fixed: &[Option<Counts>]) -> Option<Chain> {
        let last = windows.last()?.1;
        let mut most: Counts = Vec::with_capacity(self.masses.len());
        let (mut sum, mut needed) = (0, 0);
        for (at, mass) in self.masses.iter().enumerate() {
            if sum < last {
                needed += 1;
                most.push(self.most[at]);
            } else {
                let reach = u16::try_from((self.masses[at - 1] / mass).max(2)).unwrap_or(u16::MAX);
                most.push(reach.min(self.most[at]));
            }
            sum += mass * i128::from(self.most[at]);
        }
        let least = |at: usize| fixed.iter().flatten().map(|counts| counts[at]).max().unwrap_or(0);
        most.iter_mut().enumerate().for_each(|(at, most)| *most = (*most).max(least(at)));
        // At most as many rounds as there are pieces; one that is too large is seen at once.
        loop {
            if let Ok(chain) =
                cheapest(&Asked { masses: &self.masses, most: &most, windows, fixed }, FEWER_CELLS)
            {
                return chain;
            }
            let of = |light: bool| {
                most.iter()
                    .enumerate()
                    .filter(|(at, n)| **n > least(*at) && (*at >= needed) == light)
                    .max_by_key(|(at, n)| (**n, *at))
                    .map(|(at, _)| at)
            };
            let fewer = of(true).or_else(|| of(false))?;
            most[fewer] -= 1;
        }
    }

    /// No plan costs less: the lightest last load must at least be put on, with the heaviest pieces.
    fn bound(&self, windows: &[(i128, i128)]) -> Cost {
        let work = windows.last().map_or(0, |w| w.0);
        let (mut left, mut moves) = (work, 0u32);
        for (mass, most) in self.masses.iter().zip(&self.most) {
            let needed = u32::try_from((left + mass - 1) / mass).unwrap_or(u32::MAX).min(u32::from(*most));
            left -= mass * i128::from(needed);
            moves += needed;
            if left <= 0 {
                break;
            }
        }
        Cost { work, moves }
    }

    /// Every load inside its window, the cost what the moves come to, and no less than the least there is.
    fn holds(&self, chain: &Chain, windows: &[(i128, i128)]) -> bool {
        let mut before = vec![0u16; self.masses.len()];
        let (mut cost, mut inside) = (Cost { work: 0, moves: 0 }, chain.states.len() == windows.len());
        for (state, (low, high)) in chain.states.iter().zip(windows) {
            let step = self.between(&before, state);
            (cost.work, cost.moves) = (cost.work + step.work, cost.moves + step.moves);
            inside &= (*low..=*high).contains(&self.sum(state));
            inside &= state.iter().zip(&self.most).all(|(n, most)| n <= most);
            before.clone_from(state);
        }
        inside && cost == chain.cost && cost.work >= self.bound(windows).work
    }

    /// `level`: no plan moves less mass.
    fn told(
        &self,
        inputs: &PlanInputs,
        chain: &Chain,
        exact_met: Vec<Option<bool>>,
        proven: bool,
        level: bool,
        windows: &[(i128, i128)],
    ) -> LoadingPlan {
        // A claim is looked at once more, whatever search it came from.
        let sound = self.holds(chain, windows);
        debug_assert!(sound || !proven, "a plan that does not hold is claimed to be the best");
        let (proven, level) = (proven && sound, level && sound);
        let mass = |grains: i128| Mass::new(&decimal(grains) * &Decimal::ten_to(-self.places), inputs.unit);
        let gap = if level { 0 } else { (chain.cost.work - self.bound(windows).work).max(0) };
        LoadingPlan {
            loads: self.name(inputs, &chain.states.iter().collect::<Vec<_>>()),
            exact_met,
            work: mass(chain.cost.work),
            moves: usize::try_from(chain.cost.moves).unwrap_or(usize::MAX),
            pieces: usize::try_from(chain.pieces).unwrap_or(usize::MAX),
            proven,
            gap: mass(gap),
        }
    }

    /// Gives each state real pieces; of one mass always the first that are there.
    fn name(&self, inputs: &PlanInputs, states: &[&Counts]) -> Vec<PlannedLoad> {
        let mut before: Vec<usize> = Vec::new();
        states
            .iter()
            .map(|counts| {
                let on: Vec<usize> = counts
                    .iter()
                    .enumerate()
                    .flat_map(|(at, n)| self.which[at][..usize::from(*n)].iter().copied())
                    .collect();
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
    value.to_i128().unwrap_or(i128::MAX / 4)
}

fn decimal(grains: i128) -> Decimal {
    Decimal::from(grains)
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

crate::refusals! {
    enum Refused {
        OutOfRange { says: Text } = "out_of_range": says;
    }
}
