//! Substitution: when the weights are used up, material takes their place and they are put on again.
//! Each round lends its uncertainty to the next. Sources: OIML R 76-1:2006, 3.7.3; NIST Handbook 44
//! §2.20, N.1.10; EURAMET cg-18 v4, 7.1.2.

use serde::Serialize;
use utoipa::ToSchema;

use crate::grade::Grade;
use crate::quantity::{Book, Decimal, Mass};
use crate::tolerance::{Scheme, Tolerance};
use crate::wording::Text;
use crate::working::Working;

/// Most rounds that are offered.
pub(crate) const MOST_ROUNDS: u32 = 12;
/// Most substitutions of Handbook 44.
const MOST_HB44: u32 = 3;

/// A load reached by substitution.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct SubstitutionStep {
    /// About what it comes to.
    pub load: Mass,
    /// Substitutions before it.
    pub substitutions: u32,
    /// Standard uncertainty of the load, in its unit.
    pub u: f64,
    /// Its expanded uncertainty (k = 2) as a share of the tolerance there.
    pub share: f64,
}

/// How far substitution reaches.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Substitution {
    /// The weights that are used again and again.
    pub weights: Mass,
    /// The loads.
    pub steps: Vec<SubstitutionStep>,
    /// Whether the scheme takes it.
    pub grade: Grade,
    /// Why.
    pub says: Text,
    /// How the uncertainty of the last load comes about.
    pub working: Working,
}

/// What substitution rests on.
#[derive(Clone, Debug)]
pub struct SubstitutionInputs<'a> {
    /// The weights that are at hand.
    pub weights: &'a Mass,
    /// Their standard uncertainty, in their unit.
    pub u_weights: f64,
    /// Max.
    pub max: &'a Mass,
    /// Division.
    pub d: &'a Mass,
    /// The tolerance.
    pub tolerance: &'a Tolerance,
    /// Largest difference of repeated readings in e, where it is known.
    pub repeatability_e: Option<f64>,
}

/// u(L_k) = √(k²·u²(m) + 2·Σ u²(I_j)), j = 1 … k − 1, in the unit of the figures put in.
///
/// # Examples
/// ```
/// use ombret_core::weights::growth;
///
/// // One substitution: twice the weights, and the two readings between.
/// assert!((growth(2, 0.03, &[0.06]) - (4.0 * 0.03f64.powi(2) + 2.0 * 0.06f64.powi(2)).sqrt()).abs() < 1e-12);
/// ```
pub fn growth(k: u32, u_weights: f64, u_shown: &[f64]) -> f64 {
    (f64::from(k).powi(2) * u_weights.powi(2) + 2.0 * u_shown.iter().map(|u| u.powi(2)).sum::<f64>()).sqrt()
}

/// The loads up to Max; `None` where the weights reach it alone, or are too few to begin with.
pub fn substitution(inputs: &SubstitutionInputs) -> Option<Substitution> {
    let SubstitutionInputs { weights, max, d, .. } = inputs;
    if !weights.value.is_positive() || weights >= max {
        return None;
    }
    let rounds = u32::try_from(max.ratio(weights)?.floor().to_u64()?).ok()?;
    let unit = weights.unit;
    // One reading of a display that rounds: d/√12.
    let u_shown = d.value_in(unit).to_f64() / 12f64.sqrt();
    let step = |k: u32| {
        let load = weights.times(&Decimal::from(k));
        let u = growth(k, inputs.u_weights, &vec![u_shown; usize::try_from(k - 1).unwrap_or(0)]);
        let mpe = inputs.tolerance.at(&load, Some(d), Some(max)).ok()?.value_in(unit).to_f64();
        Some(SubstitutionStep { load, substitutions: k - 1, u, share: 2.0 * u / mpe })
    };
    let steps: Vec<SubstitutionStep> = (1..=rounds.min(MOST_ROUNDS)).map_while(step).collect();
    let last = steps.last()?;
    // More rounds than are offered are refused as such.
    let asked = if rounds > MOST_ROUNDS { rounds } else { last.substitutions };
    let (grade, says) = judge_substitution(weights, asked, max, inputs.tolerance, inputs.repeatability_e)?;
    let working = Working::new(
        text!("substitution-uncertainty-of-a-substituted-load"),
        "u(L_k) = √(k²·u²(m) + 2·Σ u²(I_j)), j = 1 … k − 1",
        format!("{:.6} {unit}", last.u),
        "EURAMET cg-18 v4, 7.1.2; JCGM 100:2008, 5.2",
    )
    .with("k", text!("substitution-loads-of-weights-in-it"), last.substitutions + 1)
    .with(
        "u(m)",
        text!("substitution-standard-uncertainty-of-the-weights"),
        format!("{:.6} {unit}", inputs.u_weights),
    )
    .with("u(I_j)", text!("substitution-one-reading-of-the-display"), format!("{u_shown:.6} {unit}"));
    Some(Substitution { weights: (*weights).clone(), grade, says, working, steps })
}

/// Whether a scheme takes a load that these weights reach by so many substitutions, and why.
/// `repeatability_e`: largest difference of repeated readings in e, where it is known; `None` where Max
/// is nothing. Sources: OIML R 76-1:2006, 3.7.3; NIST Handbook 44 §2.20, N.1.10.
pub fn judge_substitution(
    weights: &Mass,
    substitutions: u32,
    max: &Mass,
    tolerance: &Tolerance,
    repeatability_e: Option<f64>,
) -> Option<(Grade, Text)> {
    let share = weights.ratio(max)?;
    let percent = (&share * &Decimal::from(100u32)).round_to(0);
    if substitutions >= MOST_ROUNDS {
        return Some((
            Grade::Refuse,
            text!("substitution-the-weights-are-percent-of", percent, most_rounds = MOST_ROUNDS),
        ));
    }
    Some(match tolerance.scheme.book() {
        Book::Hb44 if substitutions > MOST_HB44 => {
            (Grade::Refuse, text!("substitution-hb44", substitutions, most = MOST_HB44))
        }
        Book::Hb44 => (Grade::Sound, text!("substitution-hb44", substitutions, most = MOST_HB44)),
        Book::R76 if matches!(tolerance.scheme, Scheme::House) => {
            (Grade::Caution, text!("substitution-the-weights-are-percent-of-2", percent))
        }
        Book::R76 => {
            let needed = match repeatability_e {
                Some(e) if e <= 0.2 => 20u32,
                Some(e) if e <= 0.3 => 35,
                _ => 50,
            };
            let enough = share >= Decimal::new(i64::from(needed), 2);
            let repeatability = repeatability_e.map_or_else(
                || text!("substitution-not-known"),
                |e| text!("substitution-e", e = crate::wording::fixed(e, 1)),
            );
            let says = text!("substitution-r76-asks", percent, needed, repeatability);
            (if enough { Grade::Sound } else { Grade::Caution }, says)
        }
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::Unit;
    use crate::tolerance::Class;
    use proptest::prelude::*;

    fn kg(n: i64, places: i64) -> Mass {
        Mass::new(Decimal::new(n, places), Unit::Kg)
    }

    fn asked(weights: i64, scheme: Scheme, repeatability_e: Option<f64>) -> Option<Substitution> {
        let (weights, max, d, tolerance) =
            (kg(weights, 0), kg(1_740, 0), kg(5, 1), Tolerance::by_class(scheme, Class::III));
        substitution(&SubstitutionInputs {
            weights: &weights,
            u_weights: weights.value.to_f64() * 3e-5,
            max: &max,
            d: &d,
            tolerance: &tolerance,
            repeatability_e,
        })
    }

    proptest! {
        #[test]
        fn uncertainty_grows_with_every_round_and_no_load_is_above_max(weights in 150i64..1_700) {
            let told = asked(weights, Scheme::R76InService, None).unwrap();
            prop_assert!(told.steps.windows(2).all(|pair| pair[0].u < pair[1].u && pair[0].load < pair[1].load));
            prop_assert!(told.steps.iter().all(|s| s.load <= kg(1_740, 0)));
        }

        #[test]
        fn without_reading_errors_the_weights_alone_count(k in 1u32..9, u in 0.001f64..0.1) {
            let none = vec![0.0; usize::try_from(k - 1).unwrap()];
            prop_assert!((growth(k, u, &none) - f64::from(k) * u).abs() < 1e-12);
        }
    }

    #[test]
    fn each_book_has_its_own_limit() {
        assert_eq!(asked(900, Scheme::R76InService, None).unwrap().grade, Grade::Sound);
        assert_eq!(asked(700, Scheme::R76InService, None).unwrap().grade, Grade::Caution);
        assert_eq!(asked(700, Scheme::R76InService, Some(0.3)).unwrap().grade, Grade::Sound);
        assert_eq!(asked(350, Scheme::R76InService, Some(0.2)).unwrap().grade, Grade::Sound);
        assert_eq!(asked(435, Scheme::Hb44Maintenance, None).unwrap().grade, Grade::Sound);
        assert_eq!(asked(300, Scheme::Hb44Maintenance, None).unwrap().grade, Grade::Refuse);
        assert!(
            asked(1_740, Scheme::R76InService, None).is_none(),
            "weights that reach Max need no substitution"
        );
    }
}
