//! The cheapest test that separates the first two causes: the reading at which they expect the most
//! different figures for what it costs to take.

use serde::Serialize;
use utoipa::ToSchema;

use super::fit::Fit;
use super::model::{Facts, Seen, soak};
use crate::wording::Text;

/// A test that is worth making.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct NextTest {
    /// What to do.
    pub says: Text,
    /// By how many standard deviations the two causes differ there.
    pub separates: f64,
}

/// Below this the two causes expect about the same, and the test tells nothing.
const WORTH: f64 = 1.5;

pub(super) fn next_test(seen: &[Seen], facts: &Facts, first: &Fit, second: &Fit) -> Option<NextTest> {
    let last = seen.last()?;
    let at = |load: f64, down: bool, spot: Option<(f64, f64)>, wait: f64| Seen {
        entry: uuid::Uuid::nil(),
        load,
        shown: load,
        down,
        spot,
        fine: false,
        order: last.order + 1.0 + wait,
        soaked: soak(last.soaked, load, if wait > 0.0 { 600.0 } else { 40.0 }),
    };
    let n = facts.n;
    let mut tests: Vec<(Text, f64, Seen)> = vec![
        (text!("next-test-empty-it-and-read-zero"), 1.0, at(0.0, true, None, 0.0)),
        (text!("next-test-read-the-last-load-once"), 1.2, at(last.load, false, None, 0.0)),
        (text!("next-test-read-a-quarter-of-max"), 2.0, at((0.25 * n).round(), false, None, 0.0)),
        (text!("next-test-read-half-of-max"), 2.5, at((0.5 * n).round(), false, None, 0.0)),
        (text!("next-test-read-half-of-max-coming"), 3.0, at((0.5 * n).round(), true, None, 0.0)),
        (text!("next-test-read-three-quarters-of-max"), 3.5, at((0.75 * n).round(), false, None, 0.0)),
        (text!("next-test-read-max-or-as-far"), 4.0, at(n, false, None, 0.0)),
        (text!("next-test-leave-the-load-on-for"), 3.0, at(last.load.max(0.5 * n), false, None, 10.0)),
        (text!("next-test-wait-ten-minutes-with-nothing"), 2.5, at(0.0, false, None, 10.0)),
    ];
    if facts.cells.len() > 2 {
        let third = (n / 3.0).round();
        let place = |(x, y): &(f64, f64)| (0.25 + 0.5 * x, 0.25 + 0.5 * y);
        tests.extend(facts.cells.iter().map(|cell| {
            (text!("next-test-read-a-third-of-max"), 5.0, at(third, false, Some(place(cell)), 0.0))
        }));
    }
    let separates = |next: &Seen| {
        let ((m1, s1), (m2, s2)) = (first.predicts(seen, next, facts), second.predicts(seen, next, facts));
        let mean = (m1 - m2).abs() / s1.hypot(s2);
        // Models of equal mean and different spread are told apart by the spread, less surely.
        mean.max((s1 / s2).ln().abs())
    };
    let best = tests
        .iter()
        .map(|(says, cost, next)| (says, separates(next), cost))
        .max_by(|a, b| (a.1 / f64::sqrt(*a.2)).total_cmp(&(b.1 / f64::sqrt(*b.2))))?;
    (best.1 >= WORTH).then(|| NextTest { says: best.0.clone(), separates: best.1 })
}
