//! Ways weighed against the readings, one cause at a time.

use super::causes::Cause;
use super::law::normal;
use super::reading_set::ReadingSet;
use super::side_evidence::SideEvidence;
use super::ways::{Explanation, Fixed, Noise, step_of, ways};
use super::weights::sums;
use super::whitened::{Evidence, Ratios, SoundCovariance, Whitened};

/// How the models' own assurance is taken: they are simpler than scales are.
pub(super) const TEMPER: f64 = 0.8;

/// A way, with the logarithm of its weight after the readings.
#[derive(Clone, Debug)]
pub(super) struct Weighed {
    pub cause: Cause,
    /// A second cause beside it.
    pub and: Option<Cause>,
    pub way: Explanation,
    /// Logarithm of its prior and its share of it.
    pub share: f64,
    /// Logarithm of its weight after the readings.
    pub log: f64,
    /// The row that was written down wrong, where that is part of it.
    pub slip: Option<usize>,
}

/// Weighs ways; what was whitened for one kind of noise serves every way of that kind.
pub(super) struct Counter<'s, 'a, 'g> {
    pub sound: &'g SoundCovariance,
    pub set: &'s ReadingSet<'a>,
    side: SideEvidence,
    whitened: Vec<Whitened<'s, 'a>>,
    /// Which of them was asked for last: ways of one kind of noise follow each other.
    last: usize,
}

impl<'s, 'a, 'g> Counter<'s, 'a, 'g> {
    pub fn new(sound: &'g SoundCovariance, set: &'s ReadingSet<'a>) -> Self {
        Self { sound, set, side: SideEvidence::of(set), whitened: Vec::new(), last: 0 }
    }

    /// The readings under a kind of noise; none where they cannot be told apart under it.
    pub fn under(&mut self, noise: Noise) -> Option<&mut Whitened<'s, 'a>> {
        if self.whitened.get(self.last).is_none_or(|w| w.noise != noise) {
            self.last = match self.whitened.iter().position(|w| w.noise == noise) {
                Some(at) => at,
                None => {
                    self.whitened.push(Whitened::of(self.sound, self.set, noise)?);
                    self.whitened.len() - 1
                }
            };
        }
        self.whitened.get_mut(self.last)
    }

    /// A way of one cause, or of two; `share`: the logarithm of its prior.
    pub fn weigh(
        &mut self,
        cause: Cause,
        and: Option<Cause>,
        way: Explanation,
        share: f64,
    ) -> Option<Weighed> {
        let evidence = self.under(way.noise)?.evidence(&way);
        Some(self.told(cause, and, way, share, &evidence))
    }

    fn told(
        &self,
        cause: Cause,
        and: Option<Cause>,
        way: Explanation,
        share: f64,
        evidence: &Evidence,
    ) -> Weighed {
        let beside = self.side.adds(self.set, cause, &way, evidence) + written_in(self.set, cause, &way);
        Weighed { cause, and, log: TEMPER * (evidence.log + beside) + share, way, share, slip: None }
    }

    /// Every way of a cause; their shares sum to its prior.
    pub fn cause(&mut self, cause: Cause, prior: f64) -> Vec<Weighed> {
        if prior <= 0.0 {
            return Vec::new();
        }
        if cause == Cause::WrongWeight {
            return self.other_weights(prior);
        }
        let set = self.set;
        let ways = ways(cause, set);
        let all: f64 = ways.iter().map(|way| way.weight).sum();
        let share = |way: &Explanation| libm::log(prior * way.weight / all);
        let may_be = ways.into_iter().filter(|way| way.may_be(set));
        may_be
            .filter_map(|way| {
                let share = share(&way);
                self.weigh(cause, None, way, share)
            })
            .collect()
    }

    /// Another weight than was keyed in: each sum of the kit, a carrier that was not counted, any other.
    fn other_weights(&mut self, prior: f64) -> Vec<Weighed> {
        let facts = self.set.facts;
        let far = |ratio: f64| ((ratio - 1.0) * facts.n).abs() > facts.mpe_max;
        let sums = sums(facts);
        let mut found: Vec<Weighed> = Vec::new();
        // Where all is shown as much larger, so are the small errors that every scale has.
        for large in [false, true] {
            let times = if large { 4.0 } else { 1.0 };
            let noise = Noise { each: 0.3 * (times - 1.0), times, ..Noise::QUIET };
            let here = |ratio: f64| far(ratio) && (ratio > 1.7) == large;
            let Some(ratios) = self.under(noise).map(|whitened| whitened.ratios()) else { continue };
            let kit = sums.iter().map(|(other, share)| (other.keyed / other.on, OF_THE_KIT * share));
            let any = any_other(&ratios);
            for (ratio, share) in kit.chain(any).filter(|(ratio, _)| here(*ratio)) {
                let way = Explanation::of_ratio(ratio, noise);
                let evidence = Evidence { log: ratios.at(ratio), sizes: Vec::new() };
                found.push(self.told(Cause::WrongWeight, None, way, libm::log(prior * share), &evidence));
            }
        }
        found
    }
}

/// How often another weight than was keyed in is a sum of the kit, one with a carrier that was not counted, and
/// any other.
const OF_THE_KIT: f64 = 0.5;
const WITH_A_CARRIER: f64 = 0.4;
const ANY: f64 = 0.1;
/// A hook, a chain, a pallet: about so much of the weight, within a factor of two.
const CARRIER: (f64, f64) = (0.016, 0.7);

/// The ratio that fits best, where it is no sum of the kit, and its share: over the one steep peak of the
/// likelihood the integral of a density is its height times the peak's width.
fn any_other(ratios: &Ratios) -> Option<(f64, f64)> {
    let (ratio, sd) = ratios.best().filter(|(ratio, _)| *ratio > 0.02)?;
    // As likely in every part of a hundredfold.
    let mut density = ANY / (ratio * libm::log(100f64));
    // With a carrier more was on than was keyed in: all reads low.
    if (0.5..1.0).contains(&ratio) {
        let carrier = 1.0 / ratio - 1.0;
        let (usual, factor) = CARRIER;
        density += WITH_A_CARRIER * normal(libm::log(carrier / usual), factor) / carrier / ratio.powi(2);
    }
    let share = (density * sd * std::f64::consts::TAU.sqrt()).min(0.5);
    (share > 1e-12).then_some((ratio, share))
}

/// In another unit or with another decimal the display has a step of its own: that all figures are multiples of
/// it speaks for them. ln of the chance that they were by accident.
fn written_in(set: &ReadingSet, cause: Cause, way: &Explanation) -> f64 {
    #[expect(clippy::cast_precision_loss, reason = "readings of a job")]
    match (cause, way.fixed) {
        (Cause::UnitSwitched | Cause::DecimalMisplaced, Fixed::Ratio(times)) => {
            libm::log(step_of(times, set.common)) * set.read.len() as f64
        }
        _ => 0.0,
    }
}
