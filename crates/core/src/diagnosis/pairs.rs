//! Two causes at once: the likeliest ways of the likeliest causes, each with every way of another on top.

use super::causes::{Cause, CauseInfo, table};
use super::counter::{Counter, TEMPER, Weighed};
use super::ways::{Explanation, Fixed, Noise, STANDING, ways};

/// Two faults at once are so often as their single frequencies let expect.
const PAIRED: f64 = 0.3;
/// Most ways that are taken as the first of two, and most of one cause.
const FIRST: (usize, usize) = (10, 2);
/// Most ways of a pair that are kept.
const KEPT: usize = 6;
/// A pair that can be no nearer to the likeliest way than this, in nats, is not worked out.
const BEHIND: f64 = 14.0;
/// Terms of both hang together: what the second may add by itself is taken so many times.
const TOGETHER: f64 = 4.0;
/// A shape that is likelier by itself by this, in nats, is not looked for under what only scatters: it was
/// the first of that pair.
const AHEAD: f64 = 50.0;

/// Causes whose fault may come on top of another: those with a shape or a noise of their own.
const SECOND: [Cause; 11] = [
    Cause::SpanDrift,
    Cause::ZeroOff,
    Cause::Bow,
    Cause::SecondSupport,
    Cause::Rubbing,
    Cause::CornerCell,
    Cause::Twisted,
    Cause::Restless,
    Cause::Cable,
    Cause::WarmUp,
    Cause::Creep,
];

/// The second way of a pair.
struct Second {
    cause: Cause,
    way: Explanation,
    /// Logarithm of its prior beside another.
    share: f64,
}

/// Weighs pairs. `all`: the ways of single causes, the likeliest first.
pub(super) fn pairs(
    counter: &mut Counter,
    all: &[Weighed],
    prior: &dyn Fn(&CauseInfo) -> f64,
) -> Vec<Weighed> {
    let mut first: Vec<&Weighed> = Vec::new();
    for w in all.iter().filter(|w| !matches!(w.cause, Cause::Sound | Cause::Unknown)) {
        let of_cause = first.iter().filter(|f| f.cause == w.cause).count();
        if first.len() < FIRST.0 && of_cause < FIRST.1 {
            first.push(w);
        }
    }
    let second = second(counter, prior);
    let mut best = all.first().map_or(f64::NEG_INFINITY, |w| w.log);
    let mut found: Vec<Weighed> = Vec::new();
    for one in &first {
        let Some(whitened) = counter.under(one.way.noise) else { continue };
        let evidence = whitened.evidence(&one.way);
        let left = whitened.leaves(&one.way, &evidence);
        let mut near = |other: &&Second| {
            let may_add = if other.way.terms.is_empty() {
                whitened.restless_may_add(&one.way, &left, other.way.noise)
            } else {
                (TOGETHER * whitened.may_add(&other.way.terms, &left)).min(0.5 * left.misfit)
            };
            one.log + other.share + TEMPER * may_add >= best - BEHIND
        };
        let scatters = one.way.terms.is_empty() && one.way.fixed == Fixed::Nothing;
        let ahead = |f: &&&Weighed| f.log > one.log + AHEAD;
        let was_first = |cause: Cause| scatters && first.iter().filter(ahead).any(|f| f.cause == cause);
        let beside = |other: &&Second| other.cause != one.cause && !was_first(other.cause);
        let near: Vec<&Second> = second.iter().filter(beside).filter(&mut near).collect();
        for other in near {
            let Some(way) = both(&one.way, &other.way) else { continue };
            let share = one.share + other.share;
            if let Some(weighed) = counter.weigh(one.cause, Some(other.cause), way, share)
                && weighed.log.is_finite()
            {
                best = best.max(weighed.log);
                found.push(weighed);
            }
        }
    }
    each_once(found)
}

fn second(counter: &Counter, prior: &dyn Fn(&CauseInfo) -> f64) -> Vec<Second> {
    let mut second = Vec::new();
    for info in table().iter().filter(|info| SECOND.contains(&info.cause)) {
        let ways = ways(info.cause, counter.set);
        let all: f64 = ways.iter().map(|way| way.weight).sum();
        let share = |way: &Explanation| libm::log(PAIRED * prior(info) * way.weight / all);
        let may_be = ways.into_iter().filter(|way| way.fixed == Fixed::Nothing && way.may_be(counter.set));
        second.extend(may_be.map(|way| Second { cause: info.cause, share: share(&way), way }));
    }
    second
}

/// The two ways together; none where they exclude each other.
fn both(one: &Explanation, other: &Explanation) -> Option<Explanation> {
    // A weak cell in readings that scatter anyway: one way of standing stands for both.
    if one.noise != Noise::QUIET && other.noise.standing.is_some_and(|s| s.off < STANDING[1]) {
        return None;
    }
    let terms = other.terms.iter().chain(&one.terms).copied().collect();
    Some(Explanation { fixed: one.fixed, terms, noise: one.noise.with(other.noise)?, weight: 1.0 })
}

/// Each pair once, by its likeliest ways from either side.
fn each_once(mut found: Vec<Weighed>) -> Vec<Weighed> {
    found.sort_by(|a, b| b.log.total_cmp(&a.log));
    let mut kept: Vec<Weighed> = Vec::new();
    for w in found {
        let turned = kept.iter().any(|k| k.and == Some(w.cause) && w.and == Some(k.cause));
        let same = kept.iter().filter(|k| k.cause == w.cause && k.and == w.and).count();
        if !turned && same < KEPT {
            kept.push(w);
        }
    }
    kept
}
