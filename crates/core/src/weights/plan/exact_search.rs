//! The least work, exactly: every choice of pieces for every load, as one box of counts for each
//! load. Work is a sum over the masses of how many are moved, so the best way from every choice for
//! one load to every choice for the next is a distance transform: one pass up and one down along
//! each mass, instead of a look at every pair.

use std::ops::Add;

use super::cost::{Cost, Counts};

/// Most choices of equal work and moves that are followed at one load, for the fewest pieces.
const MOST_TIES: usize = 400;
/// Most ways to one of them.
const MOST_WAYS: usize = 400;

/// A cost in one figure, the moves in its lowest bits. Half the width is twice the speed, and is
/// wide enough for most kits.
trait Figure: Copy + Ord + Add<Output = Self> + TryFrom<u64> {
    /// Above every cost; twice as much still has room.
    const NEVER: Self;
    fn wide(self) -> u64;
}

impl Figure for i32 {
    const NEVER: Self = 1 << 29;

    fn wide(self) -> u64 {
        u64::from(self.unsigned_abs())
    }
}

impl Figure for u64 {
    const NEVER: Self = 1 << 62;

    fn wide(self) -> u64 {
        self
    }
}

/// The best chain of choices.
pub struct Chain {
    /// One choice for each load.
    pub states: Vec<Counts>,
    /// Its cost.
    pub cost: Cost,
    /// Distinct pieces.
    pub pieces: u32,
    /// No other chain of this cost has fewer pieces.
    pub fewest: bool,
}

/// The counts that a load may need of each mass, and the sum in each cell.
struct Layer {
    low: Vec<usize>,
    len: Vec<usize>,
    sums: Vec<u64>,
}

impl Layer {
    /// `window` in grains; `None` where the box alone is too large.
    fn new(masses: &[u64], most: &[u16], window: (u64, u64), left: usize) -> Option<Self> {
        let whole: u64 = masses.iter().zip(most).map(|(m, n)| m * u64::from(*n)).sum();
        let (mut low, mut len) = (Vec::new(), Vec::new());
        let mut cells = 1usize;
        for (mass, most) in masses.iter().zip(most) {
            let others = whole - mass * u64::from(*most);
            let least = window.0.saturating_sub(others).div_ceil(*mass);
            let highest = u64::from(*most).min(window.1 / mass);
            let range = usize::try_from(highest.saturating_sub(least)).ok()? + 1;
            cells = cells.checked_mul(range).filter(|c| *c <= left)?;
            low.push(usize::try_from(least).ok()?);
            len.push(range);
        }
        let mut sums = vec![0u64];
        for (at, mass) in masses.iter().enumerate() {
            let step =
                |sum: &u64| (low[at]..low[at] + len[at]).map(|n| sum + mass * n as u64).collect::<Vec<_>>();
            sums = sums.iter().flat_map(step).collect();
        }
        Some(Self { low, len, sums })
    }

    /// One choice only.
    fn just(masses: &[u64], counts: &Counts) -> Self {
        let sum = masses.iter().zip(counts).map(|(mass, count)| mass * u64::from(*count)).sum();
        Self {
            low: counts.iter().map(|n| usize::from(*n)).collect(),
            len: vec![1; masses.len()],
            sums: vec![sum],
        }
    }

    fn counts(&self, mut cell: usize) -> Counts {
        let mut counts = vec![0; self.len.len()];
        for at in (0..self.len.len()).rev() {
            // OK because a count is at most the u16 it came from.
            counts[at] = u16::try_from(self.low[at] + cell % self.len[at]).unwrap_or(u16::MAX);
            cell /= self.len[at];
        }
        counts
    }
}

/// One mass of the transform: from counts `from.0..from.0 + from.1` to those of `to`.
struct Along<F> {
    weight: F,
    from: (usize, usize),
    to: (usize, usize),
}

impl<F: Figure> Along<F> {
    /// `costs` has `outer` blocks of `from.1` rows of `inner` cells.
    fn pass(&self, costs: &[F], outer: usize, inner: usize) -> Vec<F> {
        let mut out = vec![F::NEVER; outer * self.to.1 * inner];
        let mut best = vec![F::NEVER; inner];
        let ends = (self.from.0.min(self.to.0), (self.from.0 + self.from.1).max(self.to.0 + self.to.1));
        for (source, target) in
            costs.chunks_exact(self.from.1 * inner).zip(out.chunks_exact_mut(self.to.1 * inner))
        {
            if inner == 1 {
                self.line(ends.0..ends.1, source, target);
                self.line((ends.0..ends.1).rev(), source, target);
                continue;
            }
            best.fill(F::NEVER);
            (ends.0..ends.1).for_each(|count| self.rows(count, &mut best, source, target));
            best.fill(F::NEVER);
            (ends.0..ends.1).rev().for_each(|count| self.rows(count, &mut best, source, target));
        }
        out
    }

    /// One row of single cells, there or back.
    #[inline]
    fn line(&self, counts: impl Iterator<Item = usize>, source: &[F], target: &mut [F]) {
        let mut best = F::NEVER;
        for count in counts {
            // Below the first count the place wraps to one that no row has.
            let here = source.get(count.wrapping_sub(self.from.0)).copied().unwrap_or(F::NEVER);
            best = (best + self.weight).min(here);
            if let Some(out) = target.get_mut(count.wrapping_sub(self.to.0)) {
                *out = best.min(*out);
            }
        }
    }

    /// One more or one less of the mass: `best` is the cheapest so far, cell by cell.
    #[inline]
    fn rows(&self, count: usize, best: &mut [F], source: &[F], target: &mut [F]) {
        let (weight, inner) = (self.weight, best.len());
        let row = |(low, rows): (usize, usize)| {
            count.checked_sub(low).filter(|row| *row < rows).map(|row| row * inner..(row + 1) * inner)
        };
        match (row(self.from), row(self.to)) {
            (Some(from), Some(to)) => {
                for ((best, here), out) in best.iter_mut().zip(&source[from]).zip(&mut target[to]) {
                    *best = (*best + weight).min(*here);
                    *out = (*out).min(*best);
                }
            }
            (Some(from), None) => best
                .iter_mut()
                .zip(&source[from])
                .for_each(|(best, here)| *best = (*best + weight).min(*here)),
            (None, Some(to)) => {
                for (best, out) in best.iter_mut().zip(&mut target[to]) {
                    *best = *best + weight;
                    *out = (*out).min(*best);
                }
            }
            (None, None) => best.iter_mut().for_each(|best| *best = *best + weight),
        }
    }
}

/// What moving one piece of each mass costs.
fn weights(masses: &[u64], move_bits: u32) -> Vec<u64> {
    masses.iter().map(|m| (m << move_bits) + 1).collect()
}

/// Costs of the next layer's cells, before its window is laid on.
fn next<F: Figure>(weights: &[F], from: &Layer, costs: &[F], to: &Layer) -> Vec<F> {
    let mut shape = from.len.clone();
    let mut costs = costs.to_vec();
    // What shrinks goes first: the passes after it have fewer cells.
    let mut order: Vec<usize> = (0..weights.len()).collect();
    order.sort_by(|x, y| (to.len[*x] * from.len[*y]).cmp(&(to.len[*y] * from.len[*x])));
    for at in order {
        let along =
            Along { weight: weights[at], from: (from.low[at], from.len[at]), to: (to.low[at], to.len[at]) };
        if along.from == along.to && along.from.1 == 1 {
            continue;
        }
        costs = along.pass(&costs, shape[..at].iter().product(), shape[at + 1..].iter().product());
        shape[at] = to.len[at];
    }
    costs
}

fn between(weights: &[u64], a: &Counts, b: &Counts) -> u64 {
    weights.iter().zip(a.iter().zip(b)).map(|(w, (a, b))| w * u64::from(a.abs_diff(*b))).sum()
}

/// What is asked: masses in grains, how many of each, a window for every load, and loads that are
/// fixed already.
pub struct Asked<'a> {
    /// Masses.
    pub masses: &'a [i128],
    /// How many of each.
    pub most: &'a [u16],
    /// From and to, for each load.
    pub windows: &'a [(i128, i128)],
    /// Just these counts, for a load that is fixed.
    pub fixed: &'a [Option<Counts>],
}

/// The boxes together have more cells than are looked at.
pub struct TooMany;

/// The cheapest chain of choices, one inside each window, from the empty platform; `None` where
/// there is none.
pub fn cheapest(asked: &Asked, cells: usize) -> Result<Option<Chain>, TooMany> {
    let Asked { masses, most, windows, fixed } = asked;
    if windows.is_empty() {
        return Ok(Some(Chain {
            states: Vec::new(),
            cost: Cost { work: 0, moves: 0 },
            pieces: 0,
            fewest: true,
        }));
    }
    // The most numerous lie next to each other: the passes along the others then have long rows.
    let mut order: Vec<usize> = (0..masses.len()).collect();
    order.sort_by_key(|at| (most[*at], *at));
    let grains = |at: &usize| u64::try_from(masses[*at]).ok();
    let masses: Vec<u64> = order.iter().map(grains).collect::<Option<_>>().ok_or(TooMany)?;
    let most: Vec<u16> = order.iter().map(|at| most[*at]).collect();
    let fixed: Vec<Option<Counts>> = fixed
        .iter()
        .map(|counts| counts.as_ref().map(|counts| order.iter().map(|at| counts[*at]).collect()))
        .collect();
    let boxes = Boxes::new(&masses, &most, windows, &fixed, cells).ok_or(TooMany)?;
    let mut chain = boxes.chain();
    for state in chain.iter_mut().flat_map(|chain| &mut chain.states) {
        let mut back = vec![0; state.len()];
        order.iter().zip(state.iter()).for_each(|(at, count)| back[*at] = *count);
        *state = back;
    }
    Ok(chain)
}

/// The boxes of all loads; the first is the empty platform.
struct Boxes {
    layers: Vec<Layer>,
    windows: Vec<(u64, u64)>,
    weights: Vec<u64>,
    move_bits: u32,
    /// No chain costs more.
    dearest: u64,
}

impl Boxes {
    fn new(
        masses: &[u64],
        most: &[u16],
        windows: &[(i128, i128)],
        fixed: &[Option<Counts>],
        cells: usize,
    ) -> Option<Self> {
        let windows: Vec<(u64, u64)> = windows
            .iter()
            .map(|(low, high)| Some((u64::try_from(*low.max(&0)).ok()?, u64::try_from(*high).ok()?)))
            .collect::<Option<_>>()?;
        // At worst every load is built anew from nothing, each piece put on and taken off.
        let rounds = 2 * windows.len() as u64;
        let moves = rounds * most.iter().map(|n| u64::from(*n)).sum::<u64>();
        let move_bits = u64::BITS - moves.leading_zeros();
        let work = windows.iter().try_fold(1u64, |sum, (_, high)| sum.checked_add(high.checked_mul(2)?))?;
        let dearest = work.checked_mul(1 << move_bits).filter(|d| *d < u64::NEVER)?;
        masses
            .iter()
            .zip(most)
            .try_fold(0u64, |sum, (m, n)| sum.checked_add(m.checked_mul(u64::from(*n))?))?;
        let mut layers =
            vec![Layer { low: vec![0; masses.len()], len: vec![1; masses.len()], sums: vec![0] }];
        let mut left = cells;
        for (window, fixed) in windows.iter().zip(fixed) {
            let layer = match fixed {
                Some(counts) => Layer::just(masses, counts),
                None => Layer::new(masses, most, *window, left)?,
            };
            left -= layer.sums.len();
            layers.push(layer);
        }
        Some(Self { layers, windows, weights: weights(masses, move_bits), move_bits, dearest })
    }

    fn chain(&self) -> Option<Chain> {
        if self.dearest < i32::NEVER.wide() { self.chain_in::<i32>() } else { self.chain_in::<u64>() }
    }

    fn chain_in<F: Figure>(&self) -> Option<Chain> {
        let weights: Vec<F> = self.weights.iter().map(|w| F::try_from(*w).ok()).collect::<Option<_>>()?;
        let mut costs = vec![vec![F::try_from(0).ok()?]];
        for (at, (low, high)) in self.windows.iter().enumerate() {
            let mut reached = next(&weights, &self.layers[at], &costs[at], &self.layers[at + 1]);
            reached
                .iter_mut()
                .zip(&self.layers[at + 1].sums)
                .filter(|(_, sum)| !(*low..=*high).contains(*sum))
                .for_each(|(cost, _)| *cost = F::NEVER);
            costs.push(reached);
        }
        let best = *costs.last()?.iter().min()?;
        (best < F::NEVER).then(|| self.follow(&costs, best))
    }

    fn tie<F: Figure>(&self, at: usize, cell: usize, cost: F) -> Tie {
        Tie {
            counts: self.layers[at].counts(cell),
            cost: cost.wide(),
            sum: self.layers[at].sums[cell],
            ways: Vec::new(),
        }
    }

    /// Follows the cheapest chains back from the last load and keeps the one with the fewest pieces.
    fn follow<F: Figure>(&self, costs: &[Vec<F>], best: F) -> Chain {
        let last = self.layers.len() - 1;
        let ends = costs[last].iter().enumerate().filter(|(_, c)| **c == best);
        let mut ties: Vec<Vec<Tie>> =
            vec![ends.take(MOST_TIES + 1).map(|(cell, cost)| self.tie(last, cell, *cost)).collect()];
        for end in &mut ties[0] {
            end.ways.push((end.counts.clone(), None));
        }
        let mut fewest = shorten(&mut ties[0]);
        for at in (1..last).rev() {
            let (here, all) = self.before(at, &costs[at], best, &ties[ties.len() - 1]);
            fewest &= all;
            ties.push(here);
        }
        ties.reverse();
        let lightest = costs[last]
            .iter()
            .zip(&self.layers[last].sums)
            .filter(|(cost, _)| **cost < F::NEVER)
            .map(|(_, sum)| *sum)
            .min();
        let (states, pieces) = name(&ties);
        let (best, ones) = (best.wide(), (1u64 << self.move_bits) - 1);
        let (work, moves) = (best >> self.move_bits, u32::try_from(best & ones).unwrap_or(u32::MAX));
        // Where no more is moved than the lightest last load there is, no chain of this cost takes
        // anything off, so each uses as many pieces as it has moves.
        Chain {
            states,
            cost: Cost { work: i128::from(work), moves },
            pieces,
            fewest: fewest || Some(work) == lightest,
        }
    }

    /// The choices of one load on the cheapest chains through `after`; whether all could be kept.
    fn before<F: Figure>(&self, at: usize, costs: &[F], best: F, after: &[Tie]) -> (Vec<Tie>, bool) {
        let (mut here, mut all) = (Vec::new(), true);
        for (cell, cost) in costs.iter().enumerate().filter(|(_, c)| **c <= best) {
            let (sum, wide) = (self.layers[at].sums[cell], cost.wide());
            // Moving from one sum to another is at least their difference in work.
            let may = |t: &Tie| wide <= t.cost && (t.cost - wide) >> self.move_bits >= t.sum.abs_diff(sum);
            if !after.iter().any(may) {
                continue;
            }
            let mut found = self.tie(at, cell, *cost);
            for (index, later) in after.iter().enumerate().filter(|(_, t)| may(t)) {
                if wide + between(&self.weights, &found.counts, &later.counts) == later.cost {
                    all &= found.extend(index, later);
                }
            }
            if !found.ways.is_empty() {
                here.push(found);
            }
            if here.len() > MOST_TIES {
                break;
            }
        }
        all &= shorten(&mut here);
        (here, all)
    }
}

/// A choice on a cheapest chain, with the ways to the end from it.
struct Tie {
    counts: Counts,
    cost: u64,
    sum: u64,
    /// The most of each mass from here to the end, and the next choice.
    ways: Vec<(Counts, Option<(usize, usize)>)>,
}

/// Whether all could be kept.
fn shorten(ties: &mut Vec<Tie>) -> bool {
    let all = ties.len() <= MOST_TIES;
    ties.truncate(MOST_TIES);
    all
}

impl Tie {
    /// Takes over the ways of a later choice; false where one had to be left out.
    fn extend(&mut self, index: usize, later: &Self) -> bool {
        let mut all = true;
        for (way, (used, _)) in later.ways.iter().enumerate() {
            let used: Counts = used.iter().zip(&self.counts).map(|(a, b)| *a.max(b)).collect();
            let within = |a: &Counts, b: &Counts| a.iter().zip(b).all(|(x, y)| x <= y);
            if self.ways.iter().any(|(kept, _)| within(kept, &used)) {
                continue;
            }
            self.ways.retain(|(kept, _)| !within(&used, kept));
            if self.ways.len() < MOST_WAYS { self.ways.push((used, Some((index, way)))) } else { all = false }
        }
        all
    }
}

/// The choices of the chain with the fewest pieces, and how many those are.
fn name(ties: &[Vec<Tie>]) -> (Vec<Counts>, u32) {
    let total = |used: &Counts| used.iter().map(|n| u32::from(*n)).sum::<u32>();
    let starts = ties
        .first()
        .into_iter()
        .flatten()
        .enumerate()
        .flat_map(|(i, t)| t.ways.iter().enumerate().map(move |(w, (used, _))| (total(used), i, w)));
    let (pieces, mut at, mut way) = starts.min().unwrap_or_default();
    let mut states = Vec::with_capacity(ties.len());
    for layer in ties {
        let Some(tie) = layer.get(at) else { break };
        states.push(tie.counts.clone());
        if let Some((next, on)) = tie.ways.get(way).and_then(|(_, to)| *to) {
            (at, way) = (next, on);
        }
    }
    (states, pieces)
}
