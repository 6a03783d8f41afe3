//! Which weight it was: the span weight that was keyed in and what stood there instead. Source: q = W/(c_W − c_0);
//! with another weight on than was keyed in, every load reads in the ratio of the two.

use std::collections::BTreeMap;

use super::seen::{Facts, Seen};

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
/// Most pieces that were forgotten or too much.
const MOST_PIECES: usize = 3;
/// How likely one, two and three are.
const AS_OFTEN: [f64; MOST_PIECES] = [0.5, 0.3, 0.2];

/// What may have stood there, each with its share: up to three pieces of the kit more or less than was keyed in.
pub(super) fn sums(facts: &Facts) -> Vec<(OtherWeight, f64)> {
    let told = facts.span.is_some();
    let keyed: Vec<f64> = facts
        .span
        .map_or_else(|| USUAL.iter().map(|share| (share * facts.n).round()).collect(), |span| vec![span]);
    let most = if told { MOST_PIECES } else { 1 };
    // Differences by the fewest pieces that make them, in thousandths of a division.
    let mut by_fewest: BTreeMap<i64, usize> = BTreeMap::new();
    let mut last: Vec<i64> = vec![0];
    #[expect(clippy::cast_possible_truncation, reason = "masses of a kit in divisions")]
    let steps: Vec<i64> =
        facts.kinds().into_iter().flat_map(|kind| [kind, -kind]).map(|m| (m * 1e3).round() as i64).collect();
    for pieces in 0..most {
        let next: std::collections::BTreeSet<i64> = last
            .iter()
            .flat_map(|sum| steps.iter().map(move |step| sum + step))
            .filter(|sum| *sum != 0)
            .collect();
        last = next.iter().copied().filter(|sum| !by_fewest.contains_key(sum)).collect();
        by_fewest.extend(last.iter().map(|sum| (*sum, pieces)));
    }
    let mut found = Vec::new();
    for keyed in &keyed {
        for (sum, pieces) in &by_fewest {
            #[expect(clippy::cast_precision_loss, reason = "masses of a kit in divisions")]
            let on = keyed + *sum as f64 / 1e3;
            if on > 0.05 * keyed && on <= 1.02 * facts.n {
                found.push((OtherWeight { keyed: *keyed, on }, *pieces));
            }
        }
    }
    let mut count = [0.0f64; MOST_PIECES];
    found.iter().for_each(|(_, pieces)| count[*pieces] += 1.0);
    found.into_iter().map(|(other, pieces)| (other, AS_OFTEN[pieces] / count[pieces])).collect()
}

/// The ratio of indication to load over the readings, and its standard deviation; none where no load tells
/// it, or where the loads disagree.
fn ratio(seen: &[Seen]) -> Option<(f64, f64)> {
    let read = |s: &Seen| s.figure().map(|figure| (s.load, figure));
    let all: Vec<(f64, f64)> = seen.iter().filter_map(read).collect();
    let zero = all.iter().find(|(load, _)| *load == 0.0).map_or(0.0, |(_, shown)| *shown);
    let loads: Vec<(f64, f64)> = all.into_iter().filter(|(load, _)| *load > 0.0).collect();
    let sum: f64 = loads.iter().map(|(load, _)| load.powi(2)).sum();
    if sum <= 0.0 {
        return None;
    }
    let slope = loads.iter().map(|(load, shown)| load * (shown - zero)).sum::<f64>() / sum;
    // Each reading is rounded, and so is zero.
    let one = (1.0f64 / 12.0).sqrt() * std::f64::consts::SQRT_2;
    let off = |(load, shown): &(f64, f64)| (shown - zero - slope * load).abs() > 3.0 * one + 0.5;
    (!loads.iter().any(off)).then(|| (slope, one / sum.sqrt()))
}

/// The likeliest of the sums that explain the ratio. `facts.span` where a record tells what was keyed in, else
/// the usual shares of Max.
pub fn which_weight(seen: &[Seen], facts: &Facts) -> Option<OtherWeight> {
    let (slope, deviation) = ratio(seen)?;
    if ((slope - 1.0) * facts.n).abs() <= facts.mpe_max {
        return None;
    }
    let deviation = deviation * slope.abs().max(1.0);
    let off = |other: &OtherWeight| ((other.keyed / other.on - slope) / deviation).abs();
    let likely = |(other, share): &(OtherWeight, f64)| libm::log(*share) - 0.5 * off(other).powi(2);
    sums(facts)
        .into_iter()
        .filter(|(other, _)| off(other) <= WITHIN)
        .max_by(|a, b| likely(a).total_cmp(&likely(b)))
        .map(|(other, _)| other)
}
