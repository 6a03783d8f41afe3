//! How good a span weight is: the predicted uncertainty of a two-point adjustment over the range,
//! and the least weight that each rule asks for. Sources: EURAMET cg-18 v4, 4 and 7; NIST
//! Handbook 44 §2.20, table 4.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::arithmetic::AdjustError;
use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::wording::Text;
use crate::working::Working;

/// How much span weight practitioners ask for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SpanWeightRule {
    /// A tenth of Max.
    #[default]
    Tenth,
    /// A quarter of Max.
    Quarter,
    /// All of Max.
    Full,
    /// The load that the scale is really used at.
    #[serde(rename = "working")]
    WorkingLoad,
    /// The table of Handbook 44.
    Table4,
}

impl SpanWeightRule {
    /// Every rule.
    pub const ALL: [Self; 5] = [Self::Tenth, Self::Quarter, Self::Full, Self::WorkingLoad, Self::Table4];

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Tenth => text!("adequacy-a-tenth-of-max"),
            Self::Quarter => text!("adequacy-a-quarter-of-max"),
            Self::Full => text!("adequacy-all-of-max"),
            Self::WorkingLoad => text!("adequacy-the-working-load"),
            Self::Table4 => Text::new("adequacy-table-4"),
        }
    }

    /// The least span weight; none where the working load is not known, or the book itself is to be
    /// asked.
    pub fn floor(self, max: &Mass, working_load: Option<&Mass>) -> Option<Mass> {
        let share = |digits: i64| Some(max.times(&Decimal::new(digits, 2)));
        match self {
            Self::Tenth => share(10),
            Self::Quarter => share(25),
            Self::Full => Some(max.clone()),
            Self::WorkingLoad => working_load.cloned(),
            Self::Table4 => table4(max).map(|t| t.weights),
        }
    }
}

/// How good.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Adequacy {
    /// U at Max is at most a third of the tolerance there.
    Sound,
    /// At most the tolerance.
    Thin,
    /// Above it.
    Blind,
}

/// What a prediction rests on.
#[derive(Clone, Debug)]
pub struct AdequacyInputs<'a> {
    /// Max.
    pub max: &'a Mass,
    /// Division.
    pub d: &'a Mass,
    /// Span weight.
    pub weight: &'a Mass,
    /// Standard uncertainty of the weight's mass.
    pub u_weight: &'a Mass,
    /// Tolerance at Max.
    pub mpe_max: &'a Mass,
    /// Internal resolution; none: d/10.
    pub internal_d: Option<&'a Mass>,
    /// Noise of one captured value; none: the internal resolution.
    pub noise: Option<&'a Mass>,
}

/// A prediction. Floating point: statistics, in the unit of d.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Prediction {
    weight: f64,
    u_weight: f64,
    u_read: f64,
    max: f64,
    mpe_max: f64,
}

impl Prediction {
    /// Predicts.
    ///
    /// # Errors
    /// `not_positive` where there is no weight, `above_max`.
    pub fn new(inputs: &AdequacyInputs) -> Result<Self, Refusal> {
        if !inputs.weight.value.is_positive() {
            return Err(AdjustError::NotPositive {
                what: text!("adequacy-the-span-weight"),
                value: inputs.weight.to_string(),
            }
            .into());
        }
        if inputs.weight > inputs.max {
            return Err(Refusal::from(Refused::AboveMax {
                weight: inputs.weight.clone(),
                max: inputs.max.clone(),
            }));
        }
        let unit = inputs.d.unit;
        let float = |mass: &Mass| mass.value_in(unit).to_f64();
        let internal = inputs.internal_d.map_or_else(|| float(inputs.d) / 10.0, float);
        let noise = inputs.noise.map_or(internal, float);
        Ok(Self {
            weight: float(inputs.weight),
            u_weight: float(inputs.u_weight),
            u_read: (internal.powi(2) / 12.0 + noise.powi(2)).sqrt(),
            max: float(inputs.max),
            mpe_max: float(inputs.mpe_max),
        })
    }

    /// u(x): u² = (1 − x/W)²·u_r² + (x/W)²·(u_wt² + u_r²), u_r² = d_i²/12 + s².
    pub fn u_at(&self, load: f64) -> f64 {
        let share = load / self.weight;
        ((1.0 - share).powi(2) * self.u_read.powi(2)
            + share.powi(2) * (self.u_weight.powi(2) + self.u_read.powi(2)))
        .sqrt()
    }

    /// Expanded uncertainty at Max, k = 2.
    pub fn u_at_max(&self) -> f64 {
        2.0 * self.u_at(self.max)
    }

    /// U at Max against the tolerance there.
    pub fn ratio(&self) -> f64 {
        self.u_at_max() / self.mpe_max
    }

    /// How good it is.
    pub fn grade(&self) -> Adequacy {
        match self.ratio() {
            ratio if ratio <= 1.0 / 3.0 => Adequacy::Sound,
            ratio if ratio <= 1.0 => Adequacy::Thin,
            _ => Adequacy::Blind,
        }
    }

    /// How it comes about.
    pub fn working(&self, unit: Unit) -> Working {
        Working::new(
            text!("adequacy-predicted-error-at-max"),
            "u²(x) = (1 − x/W)²·u_r² + (x/W)²·(u_wt² + u_r²);  U = 2·u(Max)",
            text!(
                "adequacy-u-u-at-max-unit",
                u_at_max = crate::wording::fixed(self.u_at_max(), 4),
                unit,
                ratio = crate::wording::fixed(self.ratio(), 2)
            ),
            "EURAMET cg-18 v4, 7.1; two-point adjustment",
        )
        .with("W", text!("adequacy-span-weight"), format!("{} {unit}", self.weight))
        .with("u_r", text!("adequacy-of-one-captured-reading"), format!("{:.5} {unit}", self.u_read))
        .with("u_wt", text!("adequacy-of-the-weights-mass"), format!("{:.6} {unit}", self.u_weight))
        .with("MPE", text!("adequacy-tolerance-at-max"), format!("{} {unit}", self.mpe_max))
    }
}

/// The least weights and test load of Handbook 44, table 4.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Table4 {
    /// Least weights.
    pub weights: Mass,
    /// Least test load; none: the weights go to capacity.
    pub test_load: Option<Mass>,
}

/// Table 4 for a capacity; none above 250 t or 500 000 lb, where the book itself is to be asked.
///
/// # Examples
/// ```
/// use ombret_core::adjust::table4;
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let capacity = parse_mass("3000", Unit::Kg, "capacity").unwrap();
/// let least = table4(&capacity).unwrap();
/// assert_eq!(least.weights.to_string(), "500 kg");
/// assert_eq!(least.test_load.unwrap().to_string(), "1500 kg");
/// ```
pub fn table4(capacity: &Mass) -> Option<Table4> {
    let pounds = matches!(capacity.unit, Unit::Lb | Unit::Oz | Unit::Tn);
    let unit = if pounds { Unit::Lb } else { Unit::Kg };
    let mass = |value: u32| Mass::new(Decimal::from(value), unit);
    // Up to, share of weights in thousandths, at least, share of the test load in per cent.
    let rows: [(u32, i64, u32, i64); 4] = if pounds {
        [(300, 1000, 0, 100), (2_500, 250, 300, 75), (40_000, 125, 1_000, 50), (500_000, 125, 10_000, 25)]
    } else {
        [(150, 1000, 0, 100), (1_500, 250, 150, 75), (20_000, 125, 500, 50), (250_000, 125, 5_000, 25)]
    };
    let (_, share, least, test) = rows.into_iter().find(|(to, ..)| *capacity <= mass(*to))?;
    let weights = capacity.times(&Decimal::new(share, 3)).max(mass(least).to(capacity.unit));
    let test_load = (test < 100).then(|| capacity.times(&Decimal::new(test, 2)));
    Some(Table4 { weights, test_load })
}

crate::refusals! {
    enum Refused {
        AboveMax { weight: Mass, max: Mass } = "above_max" at "weight":
            text!("adequacy-weight-is-above-max-max", weight, max);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn kg(digits: i64) -> Mass {
        Mass::new(Decimal::new(digits, 2), Unit::Kg)
    }

    proptest! {
        #[test]
        fn more_span_weight_never_predicts_more_error_at_max(w in 1i64..50_000, more in 1i64..10_000) {
            let predict = |weight: i64| {
                let (max, d, u, mpe) = (kg(60_000), kg(20), kg(0), kg(30));
                Prediction::new(&AdequacyInputs { max: &max, d: &d, weight: &kg(weight), u_weight: &u, mpe_max: &mpe, internal_d: None, noise: None }).unwrap().u_at_max()
            };
            prop_assert!(predict(w + more) <= predict(w) + 1e-12);
        }

        #[test]
        fn every_floor_lies_within_max(max in 1i64..30_000_000) {
            for span_weight_rule in SpanWeightRule::ALL {
                if let Some(floor) = span_weight_rule.floor(&kg(max), None) {
                    prop_assert!(floor <= kg(max).max(kg(15_000)), "{:?}", span_weight_rule);
                }
            }
        }
    }
}
