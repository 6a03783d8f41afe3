//! Weighs the causes against the readings: marginal likelihood under each model, times its prior.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::causes::{Cause, CauseInfo, Deed, Priors, table};
use super::fit::Fit;
use super::model::{Facts, Model, Seen, sigma, ways};
use super::next_test::{NextTest, next_test};
use crate::keying::MessageMeaning;
use crate::wording::Text;

/// A cause with its probability.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Ranked {
    /// Which.
    pub cause: Cause,
    /// In words.
    pub label: Text,
    /// Probability, 0 to 1.
    pub probability: f64,
    /// The same for people.
    pub probability_text: Text,
    /// Which readings speak for it most.
    pub why: Vec<Spoken>,
    /// What is to be done.
    pub act: Deed,
    /// Which weight it was, where a sum of the kit explains it.
    #[schema(required)]
    pub which: Option<Text>,
    /// What adjusting can cure.
    pub can: Text,
    /// What it cannot.
    pub cannot: Text,
}

impl Ranked {
    fn of(info: &CauseInfo, probability: f64, why: Vec<Spoken>) -> Self {
        Self {
            cause: info.cause,
            label: info.label.clone(),
            probability,
            probability_text: percent(probability),
            why,
            act: info.act,
            which: None,
            can: info.can.clone(),
            cannot: info.cannot.clone(),
        }
    }
}

/// A reading that speaks for a cause.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Spoken {
    /// The entry it stands in.
    pub entry: Uuid,
    /// Error in divisions.
    pub error_d: f64,
    /// What the cause alone would make of it, in divisions.
    pub by_cause_d: f64,
}

/// What is wrong, as far as the readings tell.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Diagnosis {
    /// The causes, the likeliest first; those below a hundredth are left out.
    pub ranked: Vec<Ranked>,
    /// The readings tell one cause from the others.
    pub told: bool,
    /// In a sentence.
    pub says: Text,
    /// The cheapest test that separates the first two.
    #[schema(required)]
    pub next: Option<NextTest>,
}

/// Likeliest cause from so much on; below it, it cannot be told yet.
const TOLD: f64 = 0.6;
/// A fault that looking over found makes a cause that it points to so much likelier.
const POINTED: f64 = 5.0;
/// Causes below this are not listed.
const LISTED: f64 = 0.01;

/// ln(Σ w·e^x / Σ w).
fn log_mean(parts: &[(f64, f64)]) -> f64 {
    let top = parts.iter().map(|(x, _)| *x).fold(f64::MIN, f64::max);
    let weights: f64 = parts.iter().map(|(_, w)| w).sum();
    top + (parts.iter().map(|(x, w)| w * (x - top).exp()).sum::<f64>() / weights).ln()
}

/// What points to a cause beside the readings.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Pointers {
    /// Items of the checklist where a fault was found.
    pub items: Vec<String>,
    /// What the display said where it showed no figure.
    pub messages: Vec<MessageMeaning>,
}

impl Pointers {
    fn at(&self, info: &CauseInfo) -> bool {
        self.by_item(info) || self.by_message(info)
    }

    fn by_item(&self, info: &CauseInfo) -> bool {
        info.items.iter().any(|item| self.items.contains(item))
    }

    fn by_message(&self, info: &CauseInfo) -> bool {
        info.messages.iter().any(|m| self.messages.contains(m))
    }
}

/// The causes that a display without a figure points to: nothing else is known of the scale.
fn without_readings(priors: &Priors, pointers: &Pointers) -> Option<Diagnosis> {
    let weigh = |info: &'static CauseInfo| {
        let times = if pointers.by_item(info) { POINTED } else { 1.0 };
        (info, priors.of(info) * times)
    };
    let mut weighed: Vec<(&CauseInfo, f64)> =
        table().iter().filter(|info| pointers.by_message(info)).map(weigh).collect();
    let all: f64 = weighed.iter().map(|(_, weight)| weight).sum();
    if all <= 0.0 {
        return None;
    }
    weighed.sort_by(|a, b| b.1.total_cmp(&a.1));
    let ranked: Vec<Ranked> =
        weighed.into_iter().map(|(info, weight)| Ranked::of(info, weight / all, Vec::new())).collect();
    Some(Diagnosis { ranked, told: false, says: text!("evidence-cannot-tell-yet-the-display"), next: None })
}

/// Ranks the causes. `within`: every reading and test lies inside the tolerance.
pub fn diagnose(
    seen: &[Seen],
    facts: &Facts,
    priors: &Priors,
    pointers: &Pointers,
    within: bool,
) -> Option<Diagnosis> {
    if seen.iter().filter(|s| s.load > 0.0).count() == 0 {
        return without_readings(priors, pointers);
    }
    let models: Vec<(&CauseInfo, Vec<Model>)> =
        table().iter().map(|info| (info, ways(info.cause, facts))).collect();
    let mut weighed: Vec<(&CauseInfo, f64, Fit)> = Vec::new();
    for (info, ways) in &models {
        let fits: Vec<Fit> = ways.iter().filter_map(|model| Fit::of(model, seen, facts)).collect();
        let parts: Vec<(f64, f64)> = fits.iter().map(|f| (f.log_evidence, f.model.weight)).collect();
        let Some(best) = fits.into_iter().max_by(|a, b| {
            (a.log_evidence + a.model.weight.ln()).total_cmp(&(b.log_evidence + b.model.weight.ln()))
        }) else {
            continue;
        };
        let mut prior = priors.of(info);
        if pointers.at(info) {
            prior *= POINTED;
        }
        // Inside its tolerance everywhere, a scale is sound for its use unless a pattern says much more.
        if info.cause == Cause::Sound && within {
            prior *= 4.0;
        }
        if prior > 0.0 {
            weighed.push((info, log_mean(&parts) + prior.ln(), best));
        }
    }
    let all = log_sum(&weighed.iter().map(|(_, log, _)| *log).collect::<Vec<_>>());
    weighed.sort_by(|a, b| b.1.total_cmp(&a.1));
    let ranked: Vec<Ranked> = weighed
        .iter()
        .map(|(info, log, fit)| (info, (log - all).exp(), fit))
        .filter(|(_, probability, _)| *probability >= LISTED)
        .map(|(info, probability, fit)| {
            let why = if info.cause == Cause::Sound { Vec::new() } else { spoken(fit, seen, facts) };
            Ranked::of(info, probability, why)
        })
        .collect();
    let first = ranked.first()?;
    let loads = seen
        .iter()
        .filter(|s| s.load > 0.0)
        .map(|s| s.load.to_bits())
        .collect::<std::collections::BTreeSet<_>>()
        .len();
    let told = first.probability >= TOLD && (loads >= 2 || first.cause != Cause::Sound);
    let next = if ranked.len() > 1 && first.probability < 0.9 {
        next_test(seen, facts, &weighed[0].2, &weighed[1].2)
    } else {
        None
    };
    let says = if told {
        text!("evidence-told", label = first.label, probability = first.probability_text)
    } else {
        text!("evidence-cannot-tell-yet")
    };
    Some(Diagnosis { ranked, told, says, next })
}

fn log_sum(logs: &[f64]) -> f64 {
    let top = logs.iter().copied().fold(f64::MIN, f64::max);
    top + logs.iter().map(|l| (l - top).exp()).sum::<f64>().ln()
}

fn percent(probability: f64) -> Text {
    match probability * 100.0 {
        p if p > 99.5 => text!("evidence-over-99"),
        p => text!("evidence-percent", p = crate::wording::fixed(p, 0)),
    }
}

/// The readings whose errors the cause explains most.
fn spoken(fit: &Fit, seen: &[Seen], facts: &Facts) -> Vec<Spoken> {
    let explained = fit.explained(seen, facts);
    let gain = |i: usize| {
        let error = seen[i].shown - seen[i].load;
        (error.powi(2) - (error - explained[i]).powi(2)) / sigma(&seen[i], 0.0).powi(2)
    };
    let mut order: Vec<usize> = (0..seen.len()).filter(|i| gain(*i) > 1.0).collect();
    order.sort_by(|a, b| gain(*b).total_cmp(&gain(*a)));
    order
        .into_iter()
        .take(3)
        .map(|i| Spoken {
            entry: seen[i].entry,
            error_d: seen[i].shown - seen[i].load,
            by_cause_d: explained[i],
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::super::model::Shape;
    use super::*;
    use nalgebra::{DMatrix, DVector};
    use proptest::prelude::*;

    /// Evidence, and mean and spread at a next reading, by the whole covariance.
    fn dense(model: &Model, seen: &[Seen], next: &Seen, facts: &Facts) -> (f64, f64, f64) {
        let with = |a: &Seen, b: &Seen| {
            let of = |(shape, scale): &(Shape, f64)| scale.powi(2) * shape.at(a, facts) * shape.at(b, facts);
            model.shapes.iter().map(of).sum::<f64>() + model.walk.powi(2) * a.order.min(b.order)
        };
        let n = seen.len();
        let mut covariance = DMatrix::from_fn(n, n, |i, j| with(&seen[i], &seen[j]));
        (0..n).for_each(|i| covariance[(i, i)] += sigma(&seen[i], model.noise).powi(2));
        let residual =
            DVector::from_fn(n, |i, _| seen[i].shown - seen[i].load - model.fixed.at(&seen[i], facts));
        let cross = DVector::from_fn(n, |i, _| with(&seen[i], next));
        let factor = covariance.cholesky().unwrap();
        let log_det: f64 = factor.l_dirty().diagonal().iter().map(|l| l.ln()).sum::<f64>() * 2.0;
        let evidence = -0.5 * (residual.dot(&factor.solve(&residual)) + log_det);
        let mean = model.fixed.at(next, facts) + cross.dot(&factor.solve(&residual));
        let variance = with(next, next) + sigma(next, model.noise).powi(2) - cross.dot(&factor.solve(&cross));
        (evidence, mean, variance.max(1e-6).sqrt())
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(48))]

        #[test]
        fn the_filter_says_what_the_whole_covariance_says(
            read in prop::collection::vec((0u32..=3000, -40i32..=40, any::<bool>(), 1u32..=9), 1..14),
            n in 1000u32..=6000,
        ) {
            let mut order = 0.0;
            let seen: Vec<Seen> = read.iter().map(|(load, off, down, later)| {
                order += f64::from(*later) / 3.0;
                let load = f64::from(*load.min(&n));
                Seen { entry: Uuid::nil(), load, shown: load + f64::from(*off) / 10.0, down: *down, spot: None, fine: false, order, soaked: load / 2.0 }
            }).collect();
            let next = Seen { order: order + 1.0, load: f64::from(n) / 2.0, ..seen[0].clone() };
            let facts = Facts { n: f64::from(n), mpe_max: 1.5, cells: vec![(0.0, 0.0), (1.0, 0.0), (0.0, 1.0), (1.0, 1.0)], span: None, pieces: vec![20.0], u_span: None, too_fine: false };
            for info in table() {
                for model in ways(info.cause, &facts) {
                    let fit = Fit::of(&model, &seen, &facts).unwrap();
                    let (evidence, mean, spread) = dense(&model, &seen, &next, &facts);
                    let (told_mean, told_spread) = fit.predicts(&seen, &next, &facts);
                    let near = |a: f64, b: f64| (a - b).abs() <= 1e-6 * (1.0 + a.abs().max(b.abs()));
                    prop_assert!(near(fit.log_evidence, evidence), "{:?}: {} {}", info.cause, fit.log_evidence, evidence);
                    prop_assert!(near(told_mean, mean) && near(told_spread, spread), "{:?}", info.cause);
                }
            }
        }
    }
}
