//! What a display shows of a load, and the digits that are keyed in where there is no point.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::decimal::Decimal;
use super::division::{Division, DivisionError};
use super::mass::Mass;
use crate::refusal::Refusal;
use crate::wording::Text;

/// Which book's class limits count.
#[derive(Default, Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Book {
    /// OIML R 76-1.
    #[default]
    R76,
    /// NIST Handbook 44, section 2.20.
    Hb44,
}

/// What the display does with a load.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Indication {
    /// It shows this text.
    Shown(String),
    /// Nothing is shown: above Max + 9 d.
    Above,
    /// Nothing is shown: below −20 d.
    Below,
}

/// One range or interval of a scale: from the one before up to `max`, in steps of `d`.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Range {
    /// Upper end; a load exactly there still belongs to this range.
    pub max: Mass,
    /// The division.
    pub d: Mass,
}

/// Why a weight cannot be keyed in.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum DigitsError {
    /// Zero or below.
    NotPositive,
    /// Finer than the last digit of the field.
    NotWholeDigits {
        /// The weight.
        weight: String,
        /// Decimals of the field.
        decimals: u32,
    },
    /// Wider than the field.
    TooWide {
        /// The weight.
        weight: String,
        /// Digits needed.
        needs: u32,
        /// Digits in the field.
        width: u32,
    },
}

impl From<&DigitsError> for Text {
    fn from(error: &DigitsError) -> Self {
        match error {
            DigitsError::NotPositive => text!("digits-not-positive"),
            DigitsError::NotWholeDigits { weight, decimals } => {
                text!("digits-not-whole-digits", weight, decimals)
            }
            DigitsError::TooWide { weight, needs, width } => text!("digits-too-wide", weight, needs, width),
        }
    }
}

impl From<DigitsError> for Text {
    fn from(error: DigitsError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for DigitsError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// I = d · round(x / d), a tie away from zero; nothing is shown above Max + 9 e (by Handbook 44 above
/// 105 % of Max) nor, without tare, below −20 d (e = d here). The text is in the unit of `d`. Sources:
/// OIML R 76-1:2006, 4.2.3 and 4.5; NIST Handbook 44 §2.20, S.1.7.
///
/// # Examples
/// ```
/// use ombret_core::quantity::{Book, Indication, Unit, indicate, parse_mass};
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
/// let shown = indicate(&kg("437.29"), &kg("0.2"), &kg("870"), Book::R76).unwrap();
/// assert_eq!(shown, Indication::Shown("437.2".into()));
/// let above = indicate(&kg("873"), &kg("0.2"), &kg("870"), Book::R76).unwrap();
/// assert_eq!(above, Indication::Above);
/// ```
///
/// # Errors
/// [`DivisionError`] where `d` is not of the series.
pub fn indicate(load: &Mass, d: &Mass, max: &Mass, book: Book) -> Result<Indication, DivisionError> {
    let division = Division::new(&d.value)?;
    let times = |n: u32| d.times(&Decimal::from(n));
    // OK because a division is above zero.
    let steps = load.ratio(d).unwrap_or_else(Decimal::zero).round_away();
    // The limits are on what would be shown: a load that rounds to Max + 9 e still shows it.
    let shown = Mass::new(&steps * &d.value, d.unit);
    if shown > most_shown(book, max, d) {
        return Ok(Indication::Above);
    }
    if shown.plus(&times(SHOWN_BELOW_ZERO_D)).value.is_negative() {
        return Ok(Indication::Below);
    }
    Ok(Indication::Shown(shown.value.fixed(division.decimals())))
}

/// Divisions below zero that a display shows without tare, and no further. Source: OIML R 76-1:2006, 4.2.3.
pub const SHOWN_BELOW_ZERO_D: u32 = 20;

/// The highest indication that a display may give: Max + 9 e (OIML R 76-1:2006, 4.2.3) or 105 % of
/// capacity (NIST Handbook 44 §2.20, S.1.7).
pub fn most_shown(book: Book, max: &Mass, e: &Mass) -> Mass {
    match book {
        Book::R76 => max.plus(&e.times(&Decimal::from(9u32))),
        Book::Hb44 => max.times(&Decimal::new(105, 2)),
    }
}

/// A multi-interval display: the interval follows the net load. Gives the interval, counted from
/// 1, and the text; the upper end of an interval belongs to the finer one. Source: OIML R 76-1:2006, T.3.2.6.
///
/// # Errors
/// [`DivisionError`] where a division is not of the series.
pub fn indicate_in_intervals(
    load: &Mass,
    ranges: &[Range],
    book: Book,
) -> Result<(usize, Indication), DivisionError> {
    let index = ranges.iter().position(|range| *load <= range.max).unwrap_or(ranges.len().saturating_sub(1));
    match ranges.get(index) {
        Some(range) => Ok((index + 1, indicate(load, &range.d, &range.max, book)?)),
        None => Ok((0, Indication::Above)),
    }
}

/// The digits keyed into a field without a point: W / 10^(−decimals), zeros in front up to
/// `width` (7.5 with 3 decimals in 6 digits is `007500`).
///
/// # Errors
/// [`DigitsError`] where the weight cannot be keyed in exactly.
pub fn digits_without_point(weight: &Mass, decimals: u32, width: u32) -> Result<String, DigitsError> {
    if !weight.value.is_positive() {
        return Err(DigitsError::NotPositive);
    }
    let digits = &weight.value * &Decimal::ten_to(i64::from(decimals));
    if !digits.is_whole() {
        return Err(DigitsError::NotWholeDigits { weight: weight.to_string(), decimals });
    }
    let text = digits.fixed(0);
    let needs = u32::try_from(text.len()).unwrap_or(u32::MAX);
    if needs > width {
        return Err(DigitsError::TooWide { weight: weight.to_string(), needs, width });
    }
    Ok(format!("{}{text}", "0".repeat(usize::try_from(width - needs).unwrap_or(0))))
}

impl From<DigitsError> for Refusal {
    fn from(error: DigitsError) -> Self {
        let message = Text::from(&error);
        match error {
            DigitsError::NotPositive => Self::because("not_positive", message),
            DigitsError::NotWholeDigits { .. } => {
                Self::because("not_whole_digits", message).then(text!("digits-choose-weight"))
            }
            DigitsError::TooWide { needs, .. } => Self::because("too_wide", message).with("needs", needs),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::mass::Unit;
    use super::*;
    use proptest::prelude::*;

    fn kg(digits: i64, scale: i64) -> Mass {
        Mass::new(Decimal::new(digits, scale), Unit::Kg)
    }

    proptest! {
        #[test]
        fn what_is_shown_is_within_half_a_division_and_a_multiple_of_it(
            load in -30_000i64..900_000, s in proptest::sample::select(vec![1i64, 2, 5]), k in 0i64..3,
        ) {
            let (load, d, max) = (kg(load, 3), kg(s, k), kg(870, 0));
            if let Indication::Shown(text) = indicate(&load, &d, &max, Book::R76).unwrap() {
                let shown = Mass::new(text.parse().unwrap(), Unit::Kg);
                prop_assert!(shown.minus(&load).abs().times(&Decimal::from(2u32)) <= d);
                prop_assert!(shown.ratio(&d).unwrap().is_whole());
            }
        }

        #[test]
        fn keyed_digits_read_back_as_the_weight(value in 1i64..99_999_999, decimals in 0u32..4, width in 4u32..9) {
            let weight = kg(value, 2);
            if let Ok(digits) = digits_without_point(&weight, decimals, width) {
                prop_assert_eq!(digits.len(), usize::try_from(width).unwrap());
                let back = &digits.parse::<Decimal>().unwrap() * &Decimal::ten_to(-i64::from(decimals));
                prop_assert_eq!(back, weight.value);
            }
        }
    }

    #[test]
    fn the_limits_are_on_what_would_be_shown() {
        let (d, max) = (kg(2, 2), kg(60, 0));
        let shown = |load: Mass, book| indicate(&load, &d, &max, book).unwrap();
        let text = |text: &str| Indication::Shown(text.into());
        // 60.189 kg rounds to Max + 9 e, which is still shown; half a division more is not.
        assert_eq!(shown(kg(60_189, 3), Book::R76), text("60.18"));
        assert_eq!(shown(kg(6_019, 2), Book::R76), Indication::Above);
        assert_eq!(shown(kg(-409, 3), Book::R76), text("-0.40"));
        assert_eq!(shown(kg(-41, 2), Book::R76), Indication::Below);
        assert_eq!(shown(kg(6_301, 2), Book::Hb44), Indication::Above);
        assert_eq!(shown(kg(63_009, 3), Book::Hb44), text("63.00"));
    }
}
