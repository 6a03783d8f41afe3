//! Every way of every cause, and of two causes at once, weighed against the readings.

use super::beside::Beside;
use super::causes::{Cause, CauseInfo, Priors, table};
use super::frame::{Evidence, Frame, Ground};
use super::pointers::{POINTED, Pointers};
use super::seen::Facts;
use super::shape::Sight;
use super::ways::{Fixed, Noise, Sign, Way, step_of, ways};
use super::weights::sums;
use super::whole::Whole;

/// Inside its tolerance everywhere, a scale is sound for its use unless a pattern says much more.
const WITHIN: f64 = 4.0;
/// How often one reading of a check is written down wrong.
const SLIP: f64 = 0.03;
/// A reading is asked whether it is a slip from so many standard deviations off on.
const ODD: f64 = 3.0;
/// Ways this much less likely than the likeliest are not looked at again, in nats.
const BEHIND: f64 = 14.0;
/// Most ways that are looked at again for slips.
const LOOKED_AT: usize = 30;
/// Where readings of the likeliest cause would agree no better so often, no second is looked for.
const ENOUGH: f64 = 0.95;
/// Two faults at once are so often as their single frequencies let expect.
const PAIRED: f64 = 0.15;
/// How the models' own assurance is taken: they are simpler than scales are.
const TEMPER: f64 = 0.8;

/// A way, with the logarithm of its weight after the readings.
#[derive(Clone, Debug)]
pub(super) struct Weighed {
    pub cause: Cause,
    /// A second cause beside it.
    pub and: Option<Cause>,
    pub way: Way,
    /// Logarithm of its prior and its share of it.
    pub share: f64,
    /// Logarithm of its weight after the readings.
    pub log: f64,
    /// The row that was written down wrong, where that is part of it.
    pub slip: Option<usize>,
}

/// ln Σ e^x.
pub(super) fn log_sum(logs: impl Iterator<Item = f64> + Clone) -> f64 {
    let top = logs.clone().fold(f64::NEG_INFINITY, f64::max);
    if top == f64::NEG_INFINITY { top } else { top + logs.map(|l| (l - top).exp()).sum::<f64>().ln() }
}

/// The prior of a cause for this scale: as the table or the workshop has it, with what is known beside.
fn prior(info: &CauseInfo, facts: &Facts, priors: &Priors, pointers: &Pointers, within: bool) -> f64 {
    let mut prior = priors.of(info);
    if pointers.at(info) {
        prior *= POINTED;
    }
    match info.cause {
        Cause::Sound if within => prior *= WITHIN,
        // A twentieth of Max makes it likely, a fifth hardly.
        Cause::ThinSpan => prior *= facts.span.map_or(0.0, |span| (0.1 * facts.n / span).min(3.0)),
        Cause::DivisionTooFine if !facts.too_fine => prior = 0.0,
        Cause::DivisionTooFine => prior *= 4.0,
        Cause::Restless if facts.too_fine => prior *= 0.2,
        _ => {}
    }
    prior
}

/// In another unit or with another decimal the display has a step of its own: that all figures are multiples of
/// it speaks for them. ln of the chance that they were by accident.
fn written_in(sight: &Sight, cause: Cause, way: &Way) -> f64 {
    #[expect(clippy::cast_precision_loss, reason = "readings of a job")]
    match (cause, way.fixed) {
        (Cause::UnitSwitched | Cause::DecimalMisplaced, Fixed::Ratio(times)) => {
            step_of(times, sight.common).ln() * sight.read.len() as f64
        }
        _ => 0.0,
    }
}

/// The ways of one cause, each weighed; the weights of the ways sum to the prior.
struct Counter<'s, 'a, 'g> {
    ground: &'g Ground,
    sight: &'s Sight<'a>,
    beside: Beside,
    frames: Vec<Frame<'s, 'a>>,
}

impl<'s, 'a> Counter<'s, 'a, '_> {
    fn frame(&mut self, noise: Noise) -> Option<&mut Frame<'s, 'a>> {
        if let Some(at) = self.frames.iter().position(|f| f.noise == noise) {
            return self.frames.get_mut(at);
        }
        self.frames.push(Frame::of(self.ground, self.sight, noise)?);
        self.frames.last_mut()
    }

    fn weigh(&mut self, cause: Cause, way: Way, share: f64) -> Option<Weighed> {
        let evidence = self.frame(way.noise)?.evidence(&way);
        let beside = self.beside.adds(self.sight, cause, &way, &evidence);
        let log = TEMPER * (evidence.log + beside + written_in(self.sight, cause, &way)) + share.ln();
        Some(Weighed { cause, and: None, share: share.ln(), log, way, slip: None })
    }

    fn cause(&mut self, cause: Cause, prior: f64) -> Vec<Weighed> {
        if prior <= 0.0 {
            return Vec::new();
        }
        if cause == Cause::WrongWeight {
            return self.weights(prior);
        }
        let ways = ways(cause, self.sight);
        let all: f64 = ways.iter().map(|way| way.weight).sum();
        let sight = self.sight;
        ways.into_iter()
            .filter(|way| way.may_be(sight))
            .filter_map(|way| {
                let share = prior * way.weight / all;
                self.weigh(cause, way, share)
            })
            .collect()
    }

    /// Another weight than was keyed in: each sum of the kit, and a carrier that was not counted.
    fn weights(&mut self, prior: f64) -> Vec<Weighed> {
        let facts = self.sight.facts;
        let mut told = Vec::new();
        let far = |ratio: f64| ((ratio - 1.0) * facts.n).abs() > facts.mpe_max;
        for times in [1.0, 4.0] {
            let noise = Noise { each: 0.3 * (times - 1.0), times, ..Noise::QUIET };
            let Some(frame) = self.frame(noise) else { continue };
            let ratios = frame.ratios();
            let mut add = |ratio: f64, log: f64, share: f64| {
                let way = Way {
                    fixed: Fixed::Ratio(ratio),
                    shapes: Vec::new(),
                    noise,
                    sign: Sign::Either,
                    weight: 1.0,
                };
                told.push((way, log, share));
            };
            for (other, share) in sums(facts) {
                let ratio = other.keyed / other.on;
                if far(ratio) && (ratio > 1.7) == (times > 1.0) {
                    add(ratio, ratios.at(ratio), 0.5 * share);
                }
            }
            // Over the one steep peak of the likelihood the integral is its height times its width.
            let Some((ratio, sd)) = ratios.best().filter(|(ratio, _)| far(*ratio) && *ratio > 0.02) else {
                continue;
            };
            if (ratio > 1.7) != (times > 1.0) {
                continue;
            }
            let normal = |off: f64| (-0.5 * off * off).exp() / 2.506_628_3;
            // Any other weight: as likely in every part of a hundredfold.
            let mut density = 0.04 / (ratio * 100f64.ln());
            // A hook, a chain, a pallet: some per cent of the weight, so that all reads low.
            if (0.5..1.0).contains(&ratio) {
                let carrier = 1.0 / ratio - 1.0;
                density += 0.46 * normal((carrier / 0.016).ln() / 0.7) / (0.7 * carrier) / (ratio * ratio);
            }
            let share = (density * sd * 2.506_628_3).min(0.5);
            if share > 1e-12 {
                add(ratio, ratios.at(ratio), share);
            }
        }
        let sight = self.sight;
        let evidence = |log| Evidence { log, sizes: Vec::new(), first_sd: 1.0 };
        told.into_iter()
            .map(|(way, log, share)| {
                let beside = self.beside.adds(sight, Cause::WrongWeight, &way, &evidence(log));
                let share = (prior * share).ln();
                let log = TEMPER * (log + beside) + share;
                Weighed { cause: Cause::WrongWeight, and: None, way, share, log, slip: None }
            })
            .collect()
    }
}

/// Weighs every cause, then slips of the pen, then two causes at once.
pub(super) fn weigh(
    ground: &Ground,
    sight: &Sight,
    priors: &Priors,
    pointers: &Pointers,
    within: bool,
) -> Vec<Weighed> {
    let mut counter = Counter { ground, sight, beside: Beside::of(sight), frames: Vec::new() };
    let mut all: Vec<Weighed> = Vec::new();
    let prior = |info: &CauseInfo| prior(info, sight.facts, priors, pointers, within);
    for info in table() {
        all.extend(counter.cause(info.cause, prior(info)));
    }
    all.retain(|w| w.log.is_finite());
    all.sort_by(|a, b| b.log.total_cmp(&a.log));
    let single = all.first().map_or(0.0, |first| first.log);
    let shaped = |w: &&Weighed| {
        !matches!(w.cause, Cause::Unknown | Cause::Restless | Cause::DivisionTooFine | Cause::Cable)
    };
    let explained = all
        .first()
        .filter(shaped)
        .and_then(|first| Whole::of(ground, sight, &first.way))
        .is_some_and(|whole| whole.fits(&[]) > ENOUGH);
    if !explained {
        let pairs = pairs(&mut counter, &all, &prior);
        all.extend(pairs);
    }
    all.sort_by(|a, b| b.log.total_cmp(&a.log));
    let slips = slips(&mut counter, &all, single);
    all.extend(slips);
    all.retain(|w| w.log.is_finite());
    all.sort_by(|a, b| b.log.total_cmp(&a.log));
    all
}

/// The likeliest ways once more, each with one reading written down wrong.
fn slips(counter: &mut Counter, all: &[Weighed], single: f64) -> Vec<Weighed> {
    let (ground, sight) = (counter.ground, counter.sight);
    let mut found = Vec::new();
    #[expect(clippy::cast_precision_loss, reason = "readings of a job")]
    let one = SLIP / sight.read.len().max(1) as f64;
    // A slip can make a way likelier by far: ways well behind are looked at too, the best of each cause first.
    let mut looked: Vec<&Weighed> = Vec::new();
    let known = || all.iter().filter(|w| w.cause != Cause::Unknown);
    for w in known().filter(|w| w.and.is_none()) {
        if !looked.iter().any(|l| l.cause == w.cause) {
            looked.push(w);
        }
    }
    for w in known().filter(|w| w.log > single - BEHIND) {
        let of_cause = looked.iter().filter(|l| l.cause == w.cause && l.and == w.and).count();
        if looked.len() < LOOKED_AT && of_cause < 4 && !looked.iter().any(|l| std::ptr::eq(*l, w)) {
            looked.push(w);
        }
    }
    for w in looked {
        // A slip stands out.
        let Some(frame) = counter.frame(w.way.noise) else { continue };
        let evidence = frame.evidence(&w.way);
        if frame.leaves(&w.way, &evidence) < ODD - 0.5 {
            continue;
        }
        let Some(whole) = Whole::of(ground, sight, &w.way) else { continue };
        for (i, against) in whole.against().into_iter().enumerate() {
            if against.off.abs() < ODD * against.sd {
                continue;
            }
            let row = sight.read[i];
            let said = -0.5 * (against.off / against.sd).powi(2) - (against.sd * 2.506_628_3).ln();
            let slipped = sight.facts.slip(against.off, against.sd).max(1e-300).ln();
            let log = w.log + TEMPER * (slipped - said) + one.ln();
            found.push(Weighed { slip: Some(row), log, ..w.clone() });
        }
    }
    found
}

/// Causes whose second fault may come on top of another: those with a shape or a noise of their own.
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

/// Two causes at once: the likeliest ways of the likeliest causes, each with every way of another on top.
fn pairs(counter: &mut Counter, all: &[Weighed], prior: &dyn Fn(&CauseInfo) -> f64) -> Vec<Weighed> {
    let mut first: Vec<&Weighed> = Vec::new();
    for w in all.iter().filter(|w| !matches!(w.cause, Cause::Sound | Cause::Unknown)) {
        let of_cause = first.iter().filter(|f| f.cause == w.cause).count();
        if first.len() < 10 && of_cause < 2 {
            first.push(w);
        }
    }
    let mut found: Vec<Weighed> = Vec::new();
    for info in table().iter().filter(|info| SECOND.contains(&info.cause)) {
        let extra = ways(info.cause, counter.sight);
        let weights: f64 = extra.iter().map(|w| w.weight).sum();
        for a in &first {
            if a.cause == info.cause {
                continue;
            }
            for second in extra.iter().filter(|way| way.may_be(counter.sight)) {
                let (one, other) = (&a.way, second);
                if other.fixed != Fixed::Nothing {
                    continue;
                }
                let Some(noise) = one.noise.with(other.noise) else { continue };
                let shapes: Vec<_> = other.shapes.iter().chain(&one.shapes).copied().collect();
                let way = Way { fixed: one.fixed, shapes, noise, sign: other.sign, weight: 1.0 };
                let share = a.share + (PAIRED * prior(info) * other.weight / weights).ln();
                let Some(frame) = counter.frame(noise) else { continue };
                let evidence = frame.evidence(&way);
                let beside = counter.beside.adds(counter.sight, a.cause, &way, &evidence);
                let log = share + TEMPER * (evidence.log + beside);
                found.push(Weighed { cause: a.cause, and: Some(info.cause), way, share, log, slip: None });
            }
        }
    }
    // Each pair once, by its likeliest way from either side.
    found.retain(|w| w.log.is_finite());
    found.sort_by(|a, b| b.log.total_cmp(&a.log));
    let mut kept: Vec<Weighed> = Vec::new();
    for w in found {
        let twice = kept.iter().any(|k| k.and == Some(w.cause) && w.and == Some(k.cause));
        let many = kept.iter().filter(|k| k.cause == w.cause && k.and == w.and).count() >= 6;
        if !twice && !many {
            kept.push(w);
        }
    }
    kept
}
