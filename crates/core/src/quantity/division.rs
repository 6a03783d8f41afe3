//! The division d of a display: 1, 2 or 5 times a power of ten, and how many go into Max.

use serde::Serialize;

use super::decimal::Decimal;
use super::mass::Mass;
use crate::refusal::Refusal;
use crate::wording::Text;

/// A division of the series 1, 2, 5 · 10^k. Source: OIML R 76-1:2006, 4.2.2.1.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Division {
    value: Decimal,
    s: u8,
    k: i64,
}

/// Why a division or a number of divisions is impossible.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error, Serialize)]
pub enum DivisionError {
    /// Zero or below.
    NotPositive {
        /// What was asked for.
        d: Decimal,
    },
    /// Not 1, 2 or 5 times a power of ten.
    NotInSeries {
        /// What was asked for.
        d: Decimal,
        /// The next lower division of the series.
        lower: Decimal,
        /// The next higher division of the series.
        upper: Decimal,
    },
    /// Max is no whole number of divisions.
    NotWhole {
        /// The capacity asked for.
        max: String,
        /// The division asked for.
        d: String,
        /// Max / d.
        n: Decimal,
    },
}

impl From<&DivisionError> for Text {
    fn from(error: &DivisionError) -> Self {
        match error {
            DivisionError::NotPositive { d } => text!("division-not-positive", d),
            DivisionError::NotInSeries { d, lower, upper } => {
                text!("division-not-in-series", d, lower, upper)
            }
            DivisionError::NotWhole { max, d, n } => text!("division-not-whole", max, d, n),
        }
    }
}

impl From<DivisionError> for Text {
    fn from(error: DivisionError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for DivisionError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl Division {
    /// Checks that `d` belongs to the series.
    ///
    /// # Errors
    /// [`DivisionError::NotPositive`] or [`DivisionError::NotInSeries`] with its neighbours.
    pub fn new(d: &Decimal) -> Result<Self, DivisionError> {
        if !d.is_positive() {
            return Err(DivisionError::NotPositive { d: d.clone() });
        }
        let s = match d.significand() {
            Some(1) => 1,
            Some(2) => 2,
            Some(5) => 5,
            _ => return Err(Self::neighbours(d)),
        };
        Ok(Self { value: d.clone(), s, k: d.exponent() })
    }

    /// The leading figure: 1, 2 or 5.
    pub const fn s(&self) -> u8 {
        self.s
    }

    /// The power of ten.
    pub const fn k(&self) -> i64 {
        self.k
    }

    /// The division itself.
    pub const fn value(&self) -> &Decimal {
        &self.value
    }

    /// Places shown after the point: max(0, −k).
    pub fn decimals(&self) -> u32 {
        u32::try_from(-self.k).unwrap_or(0)
    }

    /// Zeros that always stand at the end of the figure: max(0, k).
    pub fn fixed_zeros(&self) -> u32 {
        u32::try_from(self.k).unwrap_or(0)
    }

    /// The members of the series from `from` upwards.
    pub fn series_from(from: &Decimal) -> impl Iterator<Item = Self> + use<> {
        let exponent = from.exponent();
        let from = from.clone();
        (exponent - 1..)
            .flat_map(|k| {
                [1u8, 2, 5].map(|s| Self { value: &Decimal::from(u64::from(s)) * &Decimal::ten_to(k), s, k })
            })
            .skip_while(move |d| d.value < from)
    }

    fn neighbours(d: &Decimal) -> DivisionError {
        // The exponent of the leading digit, so that d = m · 10^k with 1 ≤ m < 10.
        let k = d.exponent() + i64::try_from(d.figures()).unwrap_or(1) - 1;
        let steps: Vec<Decimal> =
            [1i64, 2, 5, 10].iter().map(|s| &Decimal::new(*s, 0) * &Decimal::ten_to(k)).collect();
        let lower = steps.iter().rfind(|step| *step < d).unwrap_or(&steps[0]).clone();
        let upper = steps.iter().find(|step| *step > d).unwrap_or(&steps[3]).clone();
        DivisionError::NotInSeries { d: d.clone(), lower, upper }
    }
}

/// n = Max / d, the number of divisions (R 76-1, T.3.2.5), which must be whole.
///
/// # Examples
/// ```
/// use ombret_core::quantity::{Unit, divisions, parse_mass};
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
/// assert_eq!(divisions(&kg("870"), &kg("0.2")).unwrap(), 4350);
/// assert!(divisions(&kg("870"), &kg("0.7")).is_err());
/// ```
///
/// # Errors
/// [`DivisionError::NotPositive`] where d is not above zero, [`DivisionError::NotWhole`] with n.
pub fn divisions(max: &Mass, d: &Mass) -> Result<u64, DivisionError> {
    if !d.value.is_positive() {
        return Err(DivisionError::NotPositive { d: d.value.clone() });
    }
    let n = max.ratio(d).unwrap_or_else(Decimal::zero);
    n.to_u64().filter(|n| *n > 0).ok_or_else(|| DivisionError::NotWhole {
        max: max.to_string(),
        d: d.to_string(),
        n,
    })
}

impl From<DivisionError> for Refusal {
    fn from(error: DivisionError) -> Self {
        let message = Text::from(&error);
        match error {
            DivisionError::NotPositive { .. } => Self::because("not_positive", message),
            DivisionError::NotInSeries { lower, upper, .. } => Self::because("not_in_series", message)
                .with("lower", lower.to_string())
                .with("upper", upper.to_string()),
            DivisionError::NotWhole { n, .. } => Self::because("n_not_whole", message).with("n", n.to_f64()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_refused_division_lies_between_its_neighbours_and_both_are_allowed(digits in 1i64..100_000, scale in 0i64..8) {
            let d = Decimal::new(digits, scale);
            match Division::new(&d) {
                Ok(division) => prop_assert!([1, 2, 5].contains(&division.s())),
                Err(DivisionError::NotInSeries { lower, upper, .. }) => {
                    prop_assert!(lower < d && d < upper);
                    prop_assert!(Division::new(&lower).is_ok() && Division::new(&upper).is_ok());
                }
                Err(other) => prop_assert!(false, "{other}"),
            }
        }

        #[test]
        fn the_series_rises_and_every_member_is_allowed(digits in 1i64..10_000, scale in 0i64..6) {
            let from = Decimal::new(digits, scale);
            let members: Vec<Division> = Division::series_from(&from).take(8).collect();
            prop_assert!(members[0].value() >= &from);
            prop_assert!(members.windows(2).all(|w| w[0].value() < w[1].value()));
            prop_assert!(members.iter().all(|d| Division::new(d.value()).as_ref() == Ok(d)));
        }
    }
}
