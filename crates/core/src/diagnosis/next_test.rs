//! The next reading: the one that is expected to tell most for what it costs in minutes and in kilograms moved.

use serde::Serialize;
use utoipa::ToSchema;

use super::fit::Fit;
use super::law::normal;
use super::seen::{Facts, Seen};
use crate::wording::Text;

/// A reading that is worth taking.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct NextTest {
    /// What to do.
    pub says: Text,
    /// What it is expected to tell, in bits.
    pub bits: f64,
}

/// Below this a reading tells next to nothing.
const WORTH: f64 = 0.08;

/// A reading that might be taken.
pub(super) struct Proposal {
    pub says: Text,
    /// Minutes, and moved loads counted as minutes.
    pub costs: f64,
    pub seen: Seen,
}

/// What might be read next.
pub(super) fn proposals(seen: &[Seen], facts: &Facts) -> Vec<Proposal> {
    let last = seen.last();
    let (now, on) = last.map_or((0.0, 0.0), |last| (last.at_s, last.load));
    let n = facts.n;
    // A load that cannot be made is not asked for: the highest that was on stands for what is at hand.
    let reach = seen.iter().map(|s| s.load).fold(0.0f64, f64::max).max(0.5 * n).min(n);
    // What is moved: on the way up from below, on the way down from above.
    let moved = |load: f64, down: bool| match (down, load < on) {
        (false, false) | (true, true) => (load - on).abs(),
        (false, true) => on + load,
        (true, false) => (reach - on) + (reach - load),
    };
    let mut found = Vec::new();
    let mut add = |says: Text, load: f64, down: bool, place: Option<(f64, f64)>, minutes: f64| {
        let costs = minutes + 3.0 * moved(load, down) / n;
        let seen = Seen { down, place, ..Seen::of(load.round(), load.round(), now + 60.0 * minutes) };
        found.push(Proposal { says, costs, seen });
    };
    add(text!("next-test-empty-it-and-read-zero"), 0.0, on > 0.0, None, 0.5);
    if on > 0.0 {
        add(text!("next-test-read-the-last-load-once"), on, false, None, 1.0);
    }
    for (says, share) in [
        (text!("next-test-read-a-quarter-of-max"), 0.25),
        (text!("next-test-read-half-of-max"), 0.5),
        (text!("next-test-read-three-quarters-of-max"), 0.75),
        (text!("next-test-read-max-or-as-far"), 1.0),
    ] {
        let load = (share * n).min(reach);
        // What is on is the last load, which is asked for above.
        if (load - on).abs() >= 0.02 * n {
            add(says, load, false, None, 1.0);
        }
    }
    add(text!("next-test-read-half-of-max-coming"), (0.5 * n).min(reach), true, None, 1.5);
    add(text!("next-test-leave-the-load-on-for"), on.max(0.5 * n), false, None, 10.0);
    add(text!("next-test-wait-ten-minutes-with-nothing"), 0.0, true, None, 10.0);
    if facts.cells.len() > 2 {
        for (x, y) in &facts.cells {
            let place = (0.25 + 0.5 * x, 0.25 + 0.5 * y);
            add(text!("next-test-read-a-third-of-max"), n / 3.0, false, Some(place), 1.5);
        }
    }
    found
}

/// Two and more expectations of the same reading, with their probabilities: how much it is expected to tell, in
/// bits. Source: mutual information of a mixture of normal laws, summed over each.
fn bits(laws: &[(f64, f64, f64)]) -> f64 {
    let all: f64 = laws.iter().map(|l| l.0).sum();
    if all <= 0.0 {
        return 0.0;
    }
    let mut told = 0.0;
    for (weight, mean, sd) in laws {
        let steps = 24;
        let width = 8.0 * sd / f64::from(steps);
        for step in 0..=steps {
            let at = mean - 4.0 * sd + f64::from(step) * width;
            let own = normal(at - mean, *sd);
            let mixed: f64 = laws.iter().map(|(w, m, s)| w / all * normal(at - m, *s)).sum();
            if own > 1e-12 && mixed > 0.0 {
                told += weight / all * own * libm::log2(own / mixed) * width;
            }
        }
    }
    told.max(0.0)
}

/// The proposal that tells most for what it costs. `likely`: the likeliest ways with their probabilities;
/// `first`: the row of the first proposal.
pub(super) fn best(proposals: &[Proposal], first: usize, likely: &[(&Fit, f64)]) -> Option<NextTest> {
    let told = |i: usize| {
        let laws: Vec<(f64, f64, f64)> = likely
            .iter()
            .map(|(fit, probability)| {
                let (mean, sd) = fit.predicts(first + i);
                (*probability, mean, sd)
            })
            .collect();
        bits(&laws)
    };
    proposals
        .iter()
        .enumerate()
        .map(|(i, p)| (told(i), p))
        .filter(|(bits, _)| *bits >= WORTH)
        .max_by(|a, b| (a.0 / a.1.costs).total_cmp(&(b.0 / b.1.costs)))
        .map(|(bits, p)| NextTest { says: p.says.clone(), bits })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn no_load_that_is_on_is_asked_for_as_another_one(loads in proptest::collection::vec(0u32..=3000, 1..6)) {
            let seen: Vec<Seen> =
                loads.iter().map(|load| Seen::of(f64::from(*load), f64::from(*load), 0.0)).collect();
            let proposals = proposals(&seen, &Facts::of(3000.0, 3.0));
            let on = f64::from(*loads.last().unwrap());
            let fresh = |p: &&Proposal| !p.seen.down && p.costs < 10.0 && p.costs > 1.0;
            prop_assert!(proposals.iter().filter(fresh).all(|p| (p.seen.load - on).abs() > 1.0));
            // What costs next to nothing moves nothing.
            prop_assert!(proposals.iter().all(|p| p.costs >= 3.0 * (p.seen.load - on).abs() / 3000.0));
        }

        #[test]
        fn a_reading_tells_nothing_where_all_expect_the_same_and_never_more_than_what_is_open(
            share in 0.05f64..0.95, apart in 0.0f64..50.0, sd in 0.2f64..3.0,
        ) {
            let told = |apart: f64| bits(&[(share, 0.0, sd), (1.0 - share, apart, sd)]);
            let open = -(share * libm::log2(share) + (1.0 - share) * libm::log2(1.0 - share));
            prop_assert!(told(0.0) < 1e-3 && told(apart) <= open + 1e-3, "{} {open}", told(apart));
            prop_assert!(told(apart) <= told(2.0 * apart) + 1e-3, "farther apart tells no less");
        }
    }
}
