//! Masses: an exact decimal with its unit. Conversions go through the kilogram, in which every
//! unit has a factor that ends.

use std::cmp::Ordering;
use std::fmt;
use std::str::FromStr;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::decimal::Decimal;
use crate::refusal::Refusal;
use crate::wording::Text;

/// The units of mass that a scale or a weight may have.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum Unit {
    /// Milligram.
    Mg,
    /// Gram.
    G,
    /// Kilogram.
    Kg,
    /// Tonne, 1000 kg.
    T,
    /// Avoirdupois pound, exactly 0.45359237 kg.
    Lb,
    /// Avoirdupois ounce, a sixteenth of a pound.
    Oz,
    /// Short ton, 2000 lb.
    Tn,
}

/// The unit symbol is none of [`Unit::ALL`].
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub struct UnknownUnit {
    /// What was given.
    pub symbol: String,
}

impl From<&UnknownUnit> for Text {
    fn from(error: &UnknownUnit) -> Self {
        text!("unknown-unit", symbol = error.symbol)
    }
}

impl std::fmt::Display for UnknownUnit {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl Unit {
    /// Every unit, from the smallest metric one.
    pub const ALL: [Self; 7] = [Self::Mg, Self::G, Self::Kg, Self::T, Self::Lb, Self::Oz, Self::Tn];

    /// The symbol as it is written and typed.
    pub const fn symbol(self) -> &'static str {
        match self {
            Self::Mg => "mg",
            Self::G => "g",
            Self::Kg => "kg",
            Self::T => "t",
            Self::Lb => "lb",
            Self::Oz => "oz",
            Self::Tn => "tn",
        }
    }

    /// The power of ten that one of this unit is in kilograms; `None` for what is not metric.
    const fn power(self) -> Option<i64> {
        match self {
            Self::Mg => Some(-6),
            Self::G => Some(-3),
            Self::Kg => Some(0),
            Self::T => Some(3),
            Self::Lb | Self::Oz | Self::Tn => None,
        }
    }

    /// One of this unit in kilograms, exact. Source: NIST Handbook 44, Appendix C (the
    /// avoirdupois pound of 1959); the International System of Units.
    pub fn in_kg(self) -> Decimal {
        match self {
            Self::Mg => Decimal::ten_to(-6),
            Self::G => Decimal::ten_to(-3),
            Self::Kg => Decimal::ten_to(0),
            Self::T => Decimal::ten_to(3),
            Self::Lb => Decimal::new(45_359_237, 8),
            Self::Oz => Decimal::new(28_349_523_125, 12),
            Self::Tn => Decimal::new(90_718_474, 5),
        }
    }
}

impl FromStr for Unit {
    type Err = UnknownUnit;

    fn from_str(symbol: &str) -> Result<Self, Self::Err> {
        Self::ALL
            .into_iter()
            .find(|unit| unit.symbol() == symbol)
            .ok_or_else(|| UnknownUnit { symbol: symbol.chars().take(24).collect() })
    }
}

impl fmt::Display for Unit {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.symbol())
    }
}

/// A mass: an exact value and the unit it was read or typed in. Two masses are equal if they are
/// the same mass, whatever their units.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
pub struct Mass {
    /// The value in `unit`.
    pub value: Decimal,
    /// The unit of `value`.
    pub unit: Unit,
}

impl Mass {
    /// A mass of `value` in `unit`.
    pub const fn new(value: Decimal, unit: Unit) -> Self {
        Self { value, unit }
    }

    /// Nothing, in `unit`.
    pub fn zero(unit: Unit) -> Self {
        Self::new(Decimal::zero(), unit)
    }

    /// The value in kilograms, always exact.
    pub fn kg(&self) -> Decimal {
        match self.unit.power() {
            Some(power) => self.value.shifted(power),
            None => &self.value * &self.unit.in_kg(),
        }
    }

    /// The value in `unit`: exact where the quotient ends, else 28 significant digits, half-even.
    pub fn value_in(&self, unit: Unit) -> Decimal {
        if unit == self.unit {
            return self.value.clone();
        }
        if let (Some(from), Some(to)) = (self.unit.power(), unit.power()) {
            return self.value.shifted(from - to);
        }
        // OK because no unit has a factor of zero.
        self.kg().quotient(&unit.in_kg()).unwrap_or_else(Decimal::zero)
    }

    /// The same mass in `unit`.
    #[must_use]
    pub fn to(&self, unit: Unit) -> Self {
        Self::new(self.value_in(unit), unit)
    }

    /// The sum, in the unit of `self`.
    #[must_use]
    pub fn plus(&self, other: &Self) -> Self {
        Self::new(&self.value + &other.value_in(self.unit), self.unit)
    }

    /// The difference, in the unit of `self`.
    #[must_use]
    pub fn minus(&self, other: &Self) -> Self {
        Self::new(&self.value - &other.value_in(self.unit), self.unit)
    }

    /// The mass times a number.
    #[must_use]
    pub fn times(&self, factor: &Decimal) -> Self {
        Self::new(&self.value * factor, self.unit)
    }

    /// How many of `other` go into this mass; `None` where `other` is zero.
    pub fn ratio(&self, other: &Self) -> Option<Decimal> {
        if self.unit == other.unit {
            self.value.quotient(&other.value)
        } else {
            self.kg().quotient(&other.kg())
        }
    }

    /// The mass without its sign.
    #[must_use]
    pub fn abs(&self) -> Self {
        Self::new(self.value.abs(), self.unit)
    }

    /// With every digit that it has, as a calculator tells it.
    pub fn exact_text(&self) -> String {
        format!("{} {}", self.value, self.unit)
    }

    /// With a sign in front and `decimals` places, for an error: `+0.05 kg`, `0.00 kg`.
    pub fn signed(&self, decimals: u32) -> String {
        let text = self.value.fixed(decimals);
        let plus = if self.value.is_positive() && text.bytes().any(|b| (b'1'..=b'9').contains(&b)) {
            "+"
        } else {
            ""
        };
        format!("{plus}{text} {}", self.unit)
    }
}

/// More digits than this come from a conversion between units; nobody reads them.
const MOST_DIGITS: usize = 12;
/// So many of them are told then.
const TOLD_DIGITS: i64 = 7;

impl fmt::Display for Mass {
    /// For people: a mass that a conversion gave more digits than anybody reads is rounded. What is
    /// stored and computed with keeps all of them.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let count = self.value.figures();
        if count <= MOST_DIGITS {
            return write!(f, "{} {}", self.value, self.unit);
        }
        let places = i64::try_from(count).map_or(0, |count| TOLD_DIGITS - count - self.value.exponent());
        write!(f, "{} {}", self.value.round_to(places), self.unit)
    }
}

impl PartialEq for Mass {
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other) == Ordering::Equal
    }
}

impl Eq for Mass {}

impl PartialOrd for Mass {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl Ord for Mass {
    fn cmp(&self, other: &Self) -> Ordering {
        if self.unit == other.unit { self.value.cmp(&other.value) } else { self.kg().cmp(&other.kg()) }
    }
}

impl From<UnknownUnit> for Refusal {
    fn from(error: UnknownUnit) -> Self {
        Self::because("unknown_unit", Text::from(&error)).with("unit", error.symbol)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn unit() -> impl Strategy<Value = Unit> {
        proptest::sample::select(Unit::ALL.to_vec())
    }

    #[test]
    fn an_error_is_shown_with_its_sign_unless_it_is_nothing() {
        let kg = |v: &str| Mass::new(v.parse().unwrap(), Unit::Kg);
        assert_eq!(kg("0.05").signed(2), "+0.05 kg");
        assert_eq!(kg("-0.05").signed(2), "-0.05 kg");
        assert_eq!(kg("0.0001").signed(2), "0.00 kg");
    }

    proptest! {
        #[test]
        fn there_and_back_is_the_same_mass_to_28_digits(v in any::<i32>(), scale in 0i64..6, a in unit(), b in unit()) {
            let mass = Mass::new(Decimal::new(i64::from(v), scale), a);
            let back = mass.to(b).to(a);
            let off = mass.minus(&back).value.to_f64().abs();
            prop_assert!(off <= mass.value.to_f64().abs() * 2e-27);
        }

        #[test]
        fn order_does_not_depend_on_the_unit(v in 0i64..1_000_000, w in 0i64..1_000_000, a in unit(), b in unit()) {
            let (x, y) = (Mass::new(Decimal::new(v, 3), a), Mass::new(Decimal::new(w, 3), a));
            let moved = y.to(b);
            if moved.to(a).value == y.value {
                prop_assert_eq!(x.cmp(&y), x.cmp(&moved));
            }
        }

        #[test]
        fn into_kilograms_is_always_exact(v in any::<i32>(), a in unit()) {
            let mass = Mass::new(Decimal::new(i64::from(v), 2), a);
            prop_assert_eq!(mass.to(Unit::Kg).kg(), mass.kg());
            prop_assert_eq!(mass.to(Unit::Kg).to(a).value, mass.value);
        }
    }

    #[test]
    fn a_converted_mass_is_told_in_as_many_digits_as_a_person_reads() {
        let pounds = Mass::new(Decimal::new(2134, 1), Unit::Kg).to(Unit::Lb);
        assert_eq!(pounds.to_string(), "470.4665 lb");
        assert_eq!(Mass::new(Decimal::new(123_456_789_012, 6), Unit::Kg).to_string(), "123456.789012 kg");
    }
}
