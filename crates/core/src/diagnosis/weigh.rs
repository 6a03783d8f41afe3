//! Every way of every cause weighed against the readings; then two causes at once, then slips of the pen.

use super::causes::{Cause, CauseInfo, Priors, table};
use super::counter::{Counter, TEMPER, Weighed};
use super::fit::Fit;
use super::law::normal;
use super::pairs::pairs;
use super::pointers::Pointers;
use super::reading_set::ReadingSet;
use super::seen::Facts;
use super::slip;
use super::whitened::SoundCovariance;

/// Inside its tolerance everywhere, a scale is sound for its use unless a pattern says much more.
const WITHIN: f64 = 4.0;
/// How often one reading of a check is written down wrong.
const SLIP: f64 = 0.03;
/// A reading is asked whether it is a slip from so many standard deviations off on.
const ODD: f64 = 3.0;
/// Ways this much less likely than the likeliest are not looked at again, in nats.
const BEHIND: f64 = 14.0;
/// Most ways that are looked at again for slips, and most of one cause.
const LOOKED_AT: (usize, usize) = (30, 4);
/// Where readings of the likeliest cause would agree no better so often, no second is looked for.
const ENOUGH: f64 = 0.95;

/// The prior of a cause for this scale: as the table or the workshop has it, with what is known beside.
fn prior(info: &CauseInfo, facts: &Facts, priors: &Priors, pointers: &Pointers, within: bool) -> f64 {
    let here = match info.cause {
        Cause::Sound if within => WITHIN,
        // A twentieth of Max makes it likely, a fifth hardly.
        Cause::ThinSpan => facts.span.map_or(0.0, |span| (0.1 * facts.n / span).min(3.0)),
        Cause::DivisionTooFine if !facts.too_fine => 0.0,
        Cause::DivisionTooFine => 4.0,
        Cause::Restless if facts.too_fine => 0.2,
        _ => 1.0,
    };
    priors.of(info) * pointers.makes_likelier(info) * here
}

/// The ways with their weights, the likeliest first. `within`: every reading and test lies inside the tolerance.
pub(super) fn weigh(
    sound: &SoundCovariance,
    set: &ReadingSet,
    priors: &Priors,
    pointers: &Pointers,
    within: bool,
) -> Vec<Weighed> {
    let mut counter = Counter::new(sound, set);
    let prior = |info: &CauseInfo| prior(info, set.facts, priors, pointers, within);
    let mut all: Vec<Weighed> = Vec::new();
    for info in table() {
        all.extend(counter.cause(info.cause, prior(info)));
    }
    sort(&mut all);
    let single = all.first().map_or(0.0, |first| first.log);
    if !explained(&counter, &all) {
        let pairs = pairs(&mut counter, &all, &prior);
        all.extend(pairs);
        sort(&mut all);
    }
    let slips = slips(&mut counter, &all, single);
    all.extend(slips);
    sort(&mut all);
    all
}

fn sort(all: &mut Vec<Weighed>) {
    all.retain(|w| w.log.is_finite());
    all.sort_by(|a, b| b.log.total_cmp(&a.log));
}

/// True where the likeliest cause leaves nothing for a second. What only scatters explains everything.
fn explained(counter: &Counter, all: &[Weighed]) -> bool {
    let shaped = |w: &&Weighed| {
        !matches!(w.cause, Cause::Unknown | Cause::Restless | Cause::DivisionTooFine | Cause::Cable)
    };
    let first = all.first().filter(shaped);
    first
        .and_then(|first| Fit::of(counter.sound, counter.set, &first.way))
        .is_some_and(|fit| fit.agrees(&[]) > ENOUGH)
}

/// The ways that are looked at again: a slip can make one likelier by far, so the best of each cause first.
fn looked_at(all: &[Weighed], single: f64) -> Vec<&Weighed> {
    let known = || all.iter().filter(|w| w.cause != Cause::Unknown);
    let mut looked: Vec<&Weighed> = Vec::new();
    for w in known().filter(|w| w.and.is_none()) {
        if !looked.iter().any(|l| l.cause == w.cause) {
            looked.push(w);
        }
    }
    for w in known().filter(|w| w.log > single - BEHIND) {
        let of_cause = looked.iter().filter(|l| l.cause == w.cause && l.and == w.and).count();
        let new = !looked.iter().any(|l| std::ptr::eq(*l, w));
        if new && looked.len() < LOOKED_AT.0 && of_cause < LOOKED_AT.1 {
            looked.push(w);
        }
    }
    looked
}

/// The likeliest ways once more, each with one reading written down wrong.
fn slips(counter: &mut Counter, all: &[Weighed], single: f64) -> Vec<Weighed> {
    let set = counter.set;
    #[expect(clippy::cast_precision_loss, reason = "readings of a job")]
    let one = libm::log(SLIP / set.read.len().max(1) as f64);
    let mut found = Vec::new();
    for w in looked_at(all, single) {
        // A slip stands out.
        let Some(whitened) = counter.under(w.way.noise) else { continue };
        let evidence = whitened.evidence(&w.way);
        if whitened.leaves(&w.way, &evidence).rows.amax() < ODD - 0.5 {
            continue;
        }
        let Some(fit) = Fit::of(counter.sound, set, &w.way) else { continue };
        for (row, left) in set.read.iter().zip(fit.left_out()) {
            if left.off.abs() < ODD * left.sd {
                continue;
            }
            let log = |density: f64| libm::log(density.max(1e-300));
            // Far out the density of a normal law has no more digits; its logarithm has.
            let said = -0.5 * (left.off / left.sd).powi(2) + log(normal(0.0, left.sd));
            let slipped = log(slip::density(set.facts, left.off, left.sd));
            let log = w.log + TEMPER * (slipped - said) + one;
            found.push(Weighed { slip: Some(*row), log, ..w.clone() });
        }
    }
    found
}
