//! Exact decimals. What is read or typed stays exactly as it was read or typed; only a quotient
//! that does not end is rounded, once, at the end.

use std::cmp::Ordering;
use std::fmt;
use std::ops::{Add, Mul, Neg, Sub};
use std::str::FromStr;

use bigdecimal::{BigDecimal, RoundingMode, Signed, ToPrimitive, Zero};
use num_bigint::BigInt;
use num_integer::Integer;
use num_traits::One;
use serde::{Deserialize, Deserializer, Serialize, Serializer, de};

/// Significant digits kept of a quotient that does not end, rounded half to even.
pub const SIGNIFICANT_DIGITS: u64 = 28;

/// The longest decimal that is accepted from outside, in characters. It bounds the cost of all
/// later arithmetic; every figure of the trade fits many times over.
const LONGEST: usize = 64;

/// An exact decimal number. On the wire it is text (`"12.50"` and `"12.5"` are equal), never a
/// floating-point number.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Decimal(BigDecimal);

/// The text was not a plain decimal number.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error(
    "“{text}” is not a plain decimal number (digits, at most one point, a minus sign in front if it is negative, {LONGEST} characters at most)"
)]
pub struct DecimalError {
    /// What was given, cut to a readable length.
    pub text: String,
}

impl Decimal {
    /// Zero.
    pub fn zero() -> Self {
        Self(BigDecimal::zero())
    }

    /// `digits · 10^(−scale)`.
    pub fn new(digits: i64, scale: i64) -> Self {
        Self(BigDecimal::new(BigInt::from(digits), scale))
    }

    /// Ten to the power `k`.
    pub fn ten_to(k: i64) -> Self {
        Self(BigDecimal::new(BigInt::one(), -k))
    }

    /// True where the value is 0.
    pub fn is_zero(&self) -> bool {
        self.0.is_zero()
    }

    /// True where the value is below 0.
    pub fn is_negative(&self) -> bool {
        self.0.is_negative()
    }

    /// True where the value is above 0.
    pub fn is_positive(&self) -> bool {
        self.0.is_positive()
    }

    /// True where the value is a whole number.
    pub fn is_whole(&self) -> bool {
        self.0.is_integer()
    }

    /// The value without its sign.
    #[must_use]
    pub fn abs(&self) -> Self {
        Self(self.0.abs())
    }

    /// `self / divisor`, exact where the quotient ends, otherwise rounded half to even to
    /// [`SIGNIFICANT_DIGITS`]; `None` where the divisor is zero.
    pub fn quotient(&self, divisor: &Self) -> Option<Self> {
        if divisor.is_zero() {
            return None;
        }
        let (top, top_scale) = self.0.as_bigint_and_exponent();
        let (bottom, bottom_scale) = divisor.0.as_bigint_and_exponent();
        let (mut top, mut bottom) = match bottom_scale - top_scale {
            shift if shift >= 0 => (top * power_of_ten(shift), bottom),
            shift => (top, bottom * power_of_ten(-shift)),
        };
        if bottom.is_negative() {
            (top, bottom) = (-top, -bottom);
        }
        let common = top.gcd(&bottom);
        (top, bottom) = (top / &common, bottom / common);
        Some(Self(ending_quotient(&top, &bottom).unwrap_or_else(|| rounded_quotient(&top, &bottom))))
    }

    /// Rounded to a whole number, a tie going away from zero (as a display rounds).
    #[must_use]
    pub fn round_away(&self) -> Self {
        self.round_to(0)
    }

    /// Rounded to `decimals` places, a tie going away from zero.
    #[must_use]
    pub fn round_to(&self, decimals: i64) -> Self {
        Self(self.0.with_scale_round(decimals, RoundingMode::HalfUp))
    }

    /// The largest whole number that is not above the value.
    #[must_use]
    pub fn floor(&self) -> Self {
        Self(self.0.with_scale_round(0, RoundingMode::Floor))
    }

    /// The smallest whole number that is not below the value.
    #[must_use]
    pub fn ceil(&self) -> Self {
        Self(self.0.with_scale_round(0, RoundingMode::Ceiling))
    }

    /// The value written as `digits · 10^exponent` with no trailing zero in `digits`.
    pub fn digits_and_exponent(&self) -> (BigInt, i64) {
        let (digits, scale) = self.0.normalized().into_bigint_and_exponent();
        (digits, -scale)
    }

    /// Text with exactly `decimals` places after the point (none: no point). Rounds a tie away
    /// from zero and never shows a minus sign on zero.
    pub fn fixed(&self, decimals: u32) -> String {
        let rounded = self.0.with_scale_round(i64::from(decimals), RoundingMode::HalfUp);
        if rounded.is_zero() { rounded.abs().to_plain_string() } else { rounded.to_plain_string() }
    }

    /// The nearest floating-point number, for drawings and statistics.
    pub fn to_f64(&self) -> f64 {
        // OK because BigDecimal gives a value for every finite decimal of bounded length.
        self.0.to_f64().unwrap_or(f64::NAN)
    }

    /// The value as a whole number, where it is one and fits.
    pub fn to_u64(&self) -> Option<u64> {
        if self.is_whole() { self.0.to_u64() } else { None }
    }

    /// The decimal nearest to a measured floating-point figure, to `decimals` places; `None` for
    /// what is not a finite number.
    pub fn from_measured(value: f64, decimals: usize) -> Option<Self> {
        if !value.is_finite() {
            return None;
        }
        BigDecimal::from_str(&format!("{value:.decimals$}")).ok().map(|d| Self(d.normalized()))
    }
}

fn power_of_ten(exponent: i64) -> BigInt {
    // OK because exponents come from decimals of bounded length.
    BigInt::from(10u8).pow(u32::try_from(exponent).unwrap_or(u32::MAX))
}

/// The quotient of a reduced fraction if its decimal expansion ends: only twos and fives below.
fn ending_quotient(top: &BigInt, bottom: &BigInt) -> Option<BigDecimal> {
    let mut rest = bottom.clone();
    let mut count = |prime: u8| {
        let prime = BigInt::from(prime);
        let mut times = 0i64;
        while rest.is_multiple_of(&prime) {
            rest /= &prime;
            times += 1;
        }
        times
    };
    let places = count(2).max(count(5));
    rest.is_one().then(|| BigDecimal::new(top * power_of_ten(places) / bottom, places).normalized())
}

fn rounded_quotient(top: &BigInt, bottom: &BigInt) -> BigDecimal {
    let digits = |n: &BigInt| i64::try_from(n.magnitude().to_string().len()).unwrap_or(i64::MAX);
    // OK because SIGNIFICANT_DIGITS is a small constant.
    let shift = i64::try_from(SIGNIFICANT_DIGITS).unwrap_or(28) + 2 + digits(bottom) - digits(top);
    let (top, bottom) = if shift >= 0 {
        (top * power_of_ten(shift), bottom.clone())
    } else {
        (top.clone(), bottom * power_of_ten(-shift))
    };
    let (whole, rest) = top.div_rem(&bottom);
    // One more digit stands for everything that was cut off, so that a tie is never mistaken.
    let sticky = if rest.is_zero() { BigInt::zero() } else { BigInt::one() * rest.signum() };
    BigDecimal::new(whole * 10 + sticky, shift + 1)
        .with_precision_round(
            std::num::NonZeroU64::new(SIGNIFICANT_DIGITS).unwrap_or(std::num::NonZeroU64::MIN),
            RoundingMode::HalfEven,
        )
        .normalized()
}

impl FromStr for Decimal {
    type Err = DecimalError;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        let wrong = || DecimalError { text: text.chars().take(LONGEST).collect() };
        let unsigned = text.strip_prefix('-').unwrap_or(text);
        let (whole, places) = unsigned.split_once('.').unwrap_or((unsigned, "0"));
        let all_digits = |part: &str| !part.is_empty() && part.bytes().all(|b| b.is_ascii_digit());
        if text.len() > LONGEST || !all_digits(whole) || !all_digits(places) {
            return Err(wrong());
        }
        BigDecimal::from_str(text).map(Self).map_err(|_| wrong())
    }
}

impl fmt::Display for Decimal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0.normalized().to_plain_string())
    }
}

impl Serialize for Decimal {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

impl<'de> Deserialize<'de> for Decimal {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        String::deserialize(deserializer)?.parse().map_err(de::Error::custom)
    }
}

impl utoipa::PartialSchema for Decimal {
    fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
        utoipa::openapi::ObjectBuilder::new()
            .schema_type(utoipa::openapi::schema::Type::String)
            .pattern(Some(r"^-?\d+(\.\d+)?$"))
            .description(Some("An exact decimal number in plain notation."))
            .into()
    }
}

impl utoipa::ToSchema for Decimal {}

impl From<u64> for Decimal {
    fn from(value: u64) -> Self {
        Self(BigDecimal::from(value))
    }
}

impl From<u32> for Decimal {
    fn from(value: u32) -> Self {
        Self(BigDecimal::from(value))
    }
}

impl Add<&Decimal> for &Decimal {
    type Output = Decimal;
    fn add(self, other: &Decimal) -> Decimal {
        Decimal(&self.0 + &other.0)
    }
}

impl Sub<&Decimal> for &Decimal {
    type Output = Decimal;
    fn sub(self, other: &Decimal) -> Decimal {
        Decimal(&self.0 - &other.0)
    }
}

impl Mul<&Decimal> for &Decimal {
    type Output = Decimal;
    fn mul(self, other: &Decimal) -> Decimal {
        Decimal(&self.0 * &other.0)
    }
}

impl Neg for &Decimal {
    type Output = Decimal;
    fn neg(self) -> Decimal {
        Decimal(-&self.0)
    }
}

impl PartialEq<i64> for Decimal {
    fn eq(&self, other: &i64) -> bool {
        self.partial_cmp(other) == Some(Ordering::Equal)
    }
}

impl PartialOrd<i64> for Decimal {
    fn partial_cmp(&self, other: &i64) -> Option<Ordering> {
        self.0.partial_cmp(&BigDecimal::from(*other))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn dec(text: &str) -> Decimal {
        text.parse().unwrap()
    }

    #[test]
    fn only_plain_decimals_are_numbers() {
        for good in ["0", "-0.5", "007", "12.50"] {
            assert!(good.parse::<Decimal>().is_ok(), "{good}");
        }
        for bad in [
            "",
            "-",
            ".5",
            "5.",
            "1e3",
            "+1",
            "1,5",
            "0x10",
            "NaN",
            " 1",
            "1 ",
            "--1",
            "1.2.3",
            &"9".repeat(65),
        ] {
            assert!(bad.parse::<Decimal>().is_err(), "{bad}");
        }
    }

    #[test]
    fn a_quotient_that_ends_is_exact_and_one_that_does_not_has_28_digits() {
        assert_eq!(dec("1").quotient(&dec("1024")).unwrap().to_string(), "0.0009765625");
        assert_eq!(dec("-2").quotient(&dec("3")).unwrap().to_string(), "-0.6666666666666666666666666667");
        assert_eq!(dec("20000").quotient(&dec("3")).unwrap().to_string(), "6666.666666666666666666666667");
        assert_eq!(dec("7").quotient(&Decimal::zero()), None);
    }

    #[test]
    fn display_rounding_sends_a_tie_away_from_zero_and_drops_the_minus_of_zero() {
        assert_eq!(dec("0.125").fixed(2), "0.13");
        assert_eq!(dec("-0.125").fixed(2), "-0.13");
        assert_eq!(dec("-0.001").fixed(2), "0.00");
        assert_eq!(dec("18320").fixed(0), "18320");
    }

    proptest! {
        #[test]
        fn text_goes_round(digits in any::<i64>(), scale in 0i64..20) {
            let value = Decimal::new(digits, scale);
            prop_assert_eq!(value.to_string().parse::<Decimal>().unwrap(), value);
        }

        #[test]
        fn a_quotient_times_its_divisor_is_the_dividend(a in any::<i32>(), b in 1i64..1_000_000, scale in 0i64..9) {
            let (a, b) = (Decimal::new(i64::from(a), scale), Decimal::new(b, 3));
            let back = &a.quotient(&b).unwrap() * &b;
            let off = (&back - &a).abs();
            // Half a unit in the 28th digit of the quotient, times the divisor.
            prop_assert!(off.is_zero() || off.to_f64() <= a.to_f64().abs() * 1e-27);
        }
    }
}
