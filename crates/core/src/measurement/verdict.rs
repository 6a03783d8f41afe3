//! A verdict that knows its uncertainty. Source: JCGM 106:2012, 7 to 9; OIML R 76-1:2006, 3.7.1 (a
//! third).

use libm::erfc;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::wording::Text;

/// How the uncertainty enters a verdict.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DecisionRule {
    /// |E| ≤ MPE; U should be at most a third of it.
    #[default]
    Simple,
    /// |E| + U ≤ MPE.
    Guarded,
    /// Pass, pass inside the guard, fail inside the guard, fail.
    FourWay,
}

impl DecisionRule {
    /// Every rule.
    pub const ALL: [Self; 3] = [Self::Simple, Self::Guarded, Self::FourWay];

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Simple => text!("verdict-simple-the-error-within-the"),
            Self::Guarded => text!("verdict-guarded-error-and-uncertainty-within"),
            Self::FourWay => text!("verdict-four-way-with-a-guard"),
        }
    }

    /// From its name.
    ///
    /// # Errors
    /// A [`Refusal`] where there is none of this name.
    pub fn of(name: &str) -> Result<Self, Refusal> {
        match name {
            "simple" => Ok(Self::Simple),
            "guarded" => Ok(Self::Guarded),
            "four_way" => Ok(Self::FourWay),
            other => {
                Err(Refusal::from(Refused::NoSuchRule { string: other.chars().take(24).collect::<String>() }))
            }
        }
    }
}

/// What comes of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Within.
    Pass,
    /// Within, by less than U.
    PassInsideGuard,
    /// Outside, by at most U.
    FailInsideGuard,
    /// Outside.
    Fail,
}

/// A verdict with what it risks.
#[derive(Clone, Debug, PartialEq)]
pub struct Decision {
    /// The verdict.
    pub verdict: Verdict,
    /// Probability that the true error is outside, normal with u = U/k.
    pub probability_outside: f64,
    /// U is above a third of the tolerance: the simple rule says little.
    pub too_uncertain: bool,
}

/// Decides; at every limit the milder verdict holds.
///
/// # Examples
/// ```
/// use ombret_core::measurement::{DecisionRule, Verdict, decide};
/// use ombret_core::quantity::{Decimal, Unit, parse_mass};
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
/// let (error, u, k, mpe) = (kg("0.15"), kg("0.08"), Decimal::from(2u32), kg("0.2"));
/// // Within, but by less than U.
/// let four = decide(DecisionRule::FourWay, &error, &u, &k, &mpe).unwrap();
/// assert_eq!(four.verdict, Verdict::PassInsideGuard);
/// ```
///
/// # Errors
/// A [`Refusal`] where the tolerance or k is not above zero, or U is below it.
pub fn decide(
    rule: DecisionRule,
    error: &Mass,
    expanded: &Mass,
    k: &Decimal,
    mpe: &Mass,
) -> Result<Decision, Refusal> {
    if !mpe.value.is_positive() {
        return Err(Refusal::from(Refused::NoTolerance));
    }
    if expanded.value.is_negative() || !k.is_positive() {
        return Err(Refusal::from(Refused::NegativeUncertainty).at(if k.is_positive() { "U" } else { "k" }));
    }
    let (size, outer) = (error.abs(), error.abs().plus(expanded));
    let within = size <= *mpe;
    let verdict = match rule {
        DecisionRule::Simple if within => Verdict::Pass,
        DecisionRule::Guarded | DecisionRule::FourWay if outer <= *mpe => Verdict::Pass,
        DecisionRule::FourWay if within => Verdict::PassInsideGuard,
        DecisionRule::FourWay if size.minus(expanded) <= *mpe => Verdict::FailInsideGuard,
        _ => Verdict::Fail,
    };
    let in_unit = |mass: &Mass| mass.value_in(mpe.unit).to_f64();
    let (e, limit, u) = (in_unit(error), mpe.value.to_f64(), in_unit(expanded) / k.to_f64());
    let beyond = |distance: f64| 0.5 * erfc(distance / u / std::f64::consts::SQRT_2);
    let probability_outside =
        if u > 0.0 { beyond(limit - e) + beyond(limit + e) } else { f64::from(u8::from(!within)) };
    let too_uncertain = expanded.times(&Decimal::from(3u32)) > *mpe;
    Ok(Decision { verdict, probability_outside, too_uncertain })
}

crate::refusals! {
    enum Refused {
        NoSuchRule { string: String } = "no_such_rule" at "rule":
            text!("verdict-there-is-no-decision-rule", string);
        NoTolerance = "not_positive" at "mpe": text!("verdict-a-tolerance-of-zero-decides");
        NegativeUncertainty = "not_positive": text!("verdict-u-is-not-below-zero");
    }
}
