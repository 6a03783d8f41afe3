//! Which weight it was: the span weight that was keyed in and what stood there instead, where a sum of the
//! kit explains the ratio that the readings show. Source: q = W/(c_W − c_0); with another weight on than was
//! keyed in every load reads in the ratio of the two.

use super::model::{Facts, Seen};

/// What was keyed in and what stood there, in divisions.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OtherWeight {
    /// Keyed in.
    pub keyed: f64,
    /// On the platform.
    pub on: f64,
}

/// Shares of Max at which a span is taken, where no record tells it.
const USUAL: [f64; 6] = [1.0, 0.75, 0.5, 0.25, 0.2, 0.1];
/// A sum explains a ratio within so many standard deviations of it.
const WITHIN: f64 = 3.0;

/// The ratio of indication to load over the readings, and its standard deviation; none where no load tells
/// it, or where the loads disagree.
fn ratio(seen: &[Seen]) -> Option<(f64, f64)> {
    let zero = seen.iter().find(|s| s.load == 0.0).map_or(0.0, |s| s.shown);
    let loads: Vec<&Seen> = seen.iter().filter(|s| s.load > 0.0).collect();
    let sum: f64 = loads.iter().map(|s| s.load.powi(2)).sum();
    if sum <= 0.0 {
        return None;
    }
    let slope = loads.iter().map(|s| s.load * (s.shown - zero)).sum::<f64>() / sum;
    // Each reading is rounded, and so is zero.
    let one = (1.0f64 / 12.0).sqrt() * std::f64::consts::SQRT_2;
    let off = |s: &&Seen| (s.shown - zero - slope * s.load).abs() > 3.0 * one + 0.5;
    (!loads.iter().any(off)).then(|| (slope, one / sum.sqrt()))
}

/// The likeliest of the sums that explain the ratio: one piece more or less than was keyed in, the
/// heaviest first. `facts.span` where a record tells it, else the usual shares of Max.
pub fn which_weight(seen: &[Seen], facts: &Facts) -> Option<OtherWeight> {
    let (slope, deviation) = ratio(seen)?;
    if ((slope - 1.0) * facts.n).abs() <= facts.mpe_max {
        return None;
    }
    let keyed: Vec<f64> = facts
        .span
        .map_or_else(|| USUAL.iter().map(|share| (share * facts.n).round()).collect(), |span| vec![span]);
    let explains = |other: &OtherWeight| {
        let expected = other.keyed / other.on;
        (expected - slope).abs() <= WITHIN * deviation * slope.abs().max(1.0)
    };
    let sums = keyed.into_iter().flat_map(|keyed| {
        facts.pieces.iter().flat_map(move |piece| {
            [keyed + piece, keyed - piece]
                .into_iter()
                .filter(move |on| *on > 0.05 * keyed && *on <= 1.02 * facts.n)
                .map(move |on| OtherWeight { keyed, on })
        })
    });
    sums.filter(explains).max_by(|a, b| {
        let near = |o: &OtherWeight| -((o.keyed / o.on - slope).abs());
        near(a).total_cmp(&near(b))
    })
}
