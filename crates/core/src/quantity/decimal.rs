//! Exact decimals. What is read or typed stays exactly as it was read or typed; only a quotient
//! that does not end is rounded, once, at the end.
//!
//! Nearly every figure of the trade fits 38 digits, so that a decimal is a whole number and a scale,
//! held inline: no allocation, machine arithmetic. What does not fit falls back to big integers and
//! comes back as soon as it fits again; the law below holds both to the same results.

use std::cmp::Ordering;
use std::fmt;
use std::hash::{Hash, Hasher};
use std::ops::{Add, Mul, Neg, Sub};
use std::str::FromStr;

use bigdecimal::{BigDecimal, RoundingMode, Signed, ToPrimitive, Zero};
use num_bigint::BigInt;
use serde::{Deserialize, Deserializer, Serialize, Serializer, de};

mod big;
mod small;

pub use small::SIGNIFICANT_DIGITS;
use small::Small;

use crate::refusal::Refusal;
use crate::wording::Text;

/// The longest decimal that is accepted from outside, in characters. It bounds the cost of all
/// later arithmetic; every figure of the trade fits many times over.
const LONGEST: usize = 64;

/// An exact decimal number. On the wire it is text (`"12.50"` and `"12.5"` are equal), never a
/// floating-point number.
#[derive(Clone)]
pub struct Decimal(Held);

#[derive(Clone)]
enum Held {
    Small(Small),
    Big(Box<BigDecimal>),
}

/// The text was not a plain decimal number.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub struct DecimalError {
    /// What was given, cut to a readable length.
    pub text: String,
}

impl From<&DecimalError> for Text {
    fn from(error: &DecimalError) -> Self {
        text!("decimal-not-plain", text = error.text, longest = LONGEST)
    }
}

impl std::fmt::Display for DecimalError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl Decimal {
    /// Zero.
    pub const fn zero() -> Self {
        Self(Held::Small(Small { digits: 0, scale: 0 }))
    }

    /// `digits · 10^(−scale)`.
    pub fn new(digits: i64, scale: i64) -> Self {
        Self::of(i128::from(digits), scale)
    }

    fn of(digits: i128, scale: i64) -> Self {
        match i32::try_from(scale) {
            Ok(scale) => Self(Held::Small(Small { digits, scale })),
            Err(_) => Self(Held::Big(Box::new(BigDecimal::new(BigInt::from(digits), scale)))),
        }
    }

    /// From big integers, inline again where it fits.
    fn from_big(value: &BigDecimal) -> Self {
        let (digits, scale) = value.normalized().into_bigint_and_exponent();
        match (digits.to_i128(), i32::try_from(scale)) {
            (Some(digits), Ok(scale)) => Self(Held::Small(Small { digits, scale })),
            _ => Self(Held::Big(Box::new(BigDecimal::new(digits, scale)))),
        }
    }

    fn big(&self) -> BigDecimal {
        match &self.0 {
            Held::Small(small) => BigDecimal::new(BigInt::from(small.digits), i64::from(small.scale)),
            Held::Big(big) => big.as_ref().clone(),
        }
    }

    /// The inline way where both fit and the result does; otherwise the way of big integers.
    fn either(
        &self,
        other: &Self,
        small: impl FnOnce(Small, Small) -> Option<Small>,
        big: impl FnOnce(&BigDecimal, &BigDecimal) -> BigDecimal,
    ) -> Self {
        if let (Held::Small(a), Held::Small(b)) = (&self.0, &other.0)
            && let Some(result) = small(*a, *b)
        {
            return Self(Held::Small(result));
        }
        Self::from_big(&big(&self.big(), &other.big()))
    }

    /// Ten to the power `k`.
    pub fn ten_to(k: i64) -> Self {
        Self::of(1, -k)
    }

    /// The value times ten to the power `k`.
    #[must_use]
    pub fn shifted(&self, k: i64) -> Self {
        if let Held::Small(small) = &self.0
            && let Some(scale) = i32::try_from(k).ok().and_then(|k| small.scale.checked_sub(k))
        {
            return Self(Held::Small(Small { digits: small.digits, scale }));
        }
        self * &Self::ten_to(k)
    }

    /// True where the value is 0.
    pub fn is_zero(&self) -> bool {
        self.sign() == 0
    }

    /// True where the value is below 0.
    pub fn is_negative(&self) -> bool {
        self.sign() < 0
    }

    /// True where the value is above 0.
    pub fn is_positive(&self) -> bool {
        self.sign() > 0
    }

    fn sign(&self) -> i32 {
        match &self.0 {
            Held::Small(small) => small.sign(),
            Held::Big(big) if big.is_zero() => 0,
            Held::Big(big) => {
                if big.is_negative() {
                    -1
                } else {
                    1
                }
            }
        }
    }

    /// True where the value is a whole number.
    pub fn is_whole(&self) -> bool {
        self.exponent() >= 0
    }

    /// The value without its sign.
    #[must_use]
    pub fn abs(&self) -> Self {
        if self.is_negative() { -self } else { self.clone() }
    }

    /// `self / divisor`, exact where the quotient ends, otherwise rounded half to even to
    /// [`SIGNIFICANT_DIGITS`]; `None` where the divisor is zero.
    pub fn quotient(&self, divisor: &Self) -> Option<Self> {
        if divisor.is_zero() {
            return None;
        }
        Some(self.either(divisor, Small::quotient, big::quotient))
    }

    /// Rounded to a whole number, a tie going away from zero (as a display rounds).
    #[must_use]
    pub fn round_away(&self) -> Self {
        self.round_to(0)
    }

    /// Rounded to `decimals` places, a tie going away from zero.
    #[must_use]
    pub fn round_to(&self, decimals: i64) -> Self {
        self.rounded(decimals, RoundingMode::HalfUp)
    }

    /// The largest whole number that is not above the value.
    #[must_use]
    pub fn floor(&self) -> Self {
        self.rounded(0, RoundingMode::Floor)
    }

    /// The smallest whole number that is not below the value.
    #[must_use]
    pub fn ceil(&self) -> Self {
        self.rounded(0, RoundingMode::Ceiling)
    }

    fn rounded(&self, decimals: i64, mode: RoundingMode) -> Self {
        if let Held::Small(small) = &self.0
            && let Some(result) = i32::try_from(decimals).ok().and_then(|places| small.rounded(places, mode))
        {
            return Self(Held::Small(result));
        }
        Self::from_big(&self.big().with_scale_round(decimals, mode))
    }

    /// The power of ten of the last figure that is not zero; 0 for zero.
    pub fn exponent(&self) -> i64 {
        match &self.0 {
            Held::Small(small) => -i64::from(small.normal().scale),
            Held::Big(big) => -big.normalized().as_bigint_and_exponent().1,
        }
    }

    /// How many figures the value has from its first that is not zero to its last; 1 for zero.
    pub fn figures(&self) -> usize {
        match &self.0 {
            Held::Small(small) => {
                small.normal().digits.unsigned_abs().checked_ilog10().map_or(1, |log| log as usize + 1)
            }
            Held::Big(big) => big.normalized().as_bigint_and_exponent().0.magnitude().to_string().len(),
        }
    }

    /// The figures as a whole number without trailing zeros, so that the value is
    /// `significand · 10^exponent`; `None` where it has more than 38 of them.
    pub fn significand(&self) -> Option<i128> {
        match &self.0 {
            Held::Small(small) => Some(small.normal().digits),
            Held::Big(big) => big.normalized().as_bigint_and_exponent().0.to_i128(),
        }
    }

    /// Text with exactly `decimals` places after the point (none: no point). Rounds a tie away
    /// from zero and never shows a minus sign on zero.
    pub fn fixed(&self, decimals: u32) -> String {
        let rounded = self.round_to(i64::from(decimals));
        if let Held::Small(small) = &rounded.0
            && let Some(text) = small.with_places(decimals)
        {
            return text;
        }
        rounded.big().with_scale(i64::from(decimals)).to_plain_string()
    }

    /// The nearest floating-point number, for drawings and statistics.
    pub fn to_f64(&self) -> f64 {
        match &self.0 {
            Held::Small(small) => small.to_f64(),
            // OK because BigDecimal gives a value for every finite decimal of bounded length.
            Held::Big(big) => big.to_f64().unwrap_or(f64::NAN),
        }
    }

    /// The value as a whole number, where it is one and fits.
    pub fn to_u64(&self) -> Option<u64> {
        self.to_i128().and_then(|whole| u64::try_from(whole).ok())
    }

    /// The value as a whole number, where it is one and fits.
    pub fn to_i128(&self) -> Option<i128> {
        let power = u32::try_from(self.exponent()).ok()?;
        self.significand()?.checked_mul(small::power_of_ten(power)?)
    }

    /// The decimal nearest to a measured floating-point figure, to `decimals` places; `None` for
    /// what is not a finite number.
    pub fn from_measured(value: f64, decimals: usize) -> Option<Self> {
        if !value.is_finite() {
            return None;
        }
        let text = format!("{value:.decimals$}");
        text.parse().ok().or_else(|| BigDecimal::from_str(&text).ok().map(|big| Self::from_big(&big)))
    }
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
        if let Some(small) = Small::parse(whole, places, unsigned.len() < text.len()) {
            return Ok(Self(Held::Small(small)));
        }
        BigDecimal::from_str(text).map(|big| Self::from_big(&big)).map_err(|_| wrong())
    }
}

impl fmt::Display for Decimal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.0 {
            Held::Small(small) => small.write(f),
            Held::Big(big) => f.write_str(&big.normalized().to_plain_string()),
        }
    }
}

impl fmt::Debug for Decimal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "Decimal({self})")
    }
}

impl Ord for Decimal {
    fn cmp(&self, other: &Self) -> Ordering {
        if let (Held::Small(a), Held::Small(b)) = (&self.0, &other.0)
            && let Some(order) = a.compare(*b)
        {
            return order;
        }
        self.big().cmp(&other.big())
    }
}

impl PartialOrd for Decimal {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl PartialEq for Decimal {
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other) == Ordering::Equal
    }
}

impl Eq for Decimal {}

impl Hash for Decimal {
    fn hash<H: Hasher>(&self, state: &mut H) {
        match &self.0 {
            Held::Small(small) => small.normal().hash(state),
            // Never equal to an inline one: what fits is inline.
            Held::Big(big) => big.normalized().hash(state),
        }
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
        Self::of(i128::from(value), 0)
    }
}

impl From<u32> for Decimal {
    fn from(value: u32) -> Self {
        Self::of(i128::from(value), 0)
    }
}

impl From<i128> for Decimal {
    fn from(value: i128) -> Self {
        Self::of(value, 0)
    }
}

impl Add<&Decimal> for &Decimal {
    type Output = Decimal;
    fn add(self, other: &Decimal) -> Decimal {
        self.either(other, Small::plus, |a, b| a + b)
    }
}

impl Sub<&Decimal> for &Decimal {
    type Output = Decimal;
    fn sub(self, other: &Decimal) -> Decimal {
        self.either(other, Small::minus, |a, b| a - b)
    }
}

impl Mul<&Decimal> for &Decimal {
    type Output = Decimal;
    fn mul(self, other: &Decimal) -> Decimal {
        self.either(other, Small::times, |a, b| a * b)
    }
}

impl Neg for &Decimal {
    type Output = Decimal;
    fn neg(self) -> Decimal {
        match &self.0 {
            Held::Small(Small { digits, scale }) if *digits != i128::MIN => {
                Decimal(Held::Small(Small { digits: -digits, scale: *scale }))
            }
            _ => Decimal::from_big(&-self.big()),
        }
    }
}

impl PartialEq<i64> for Decimal {
    fn eq(&self, other: &i64) -> bool {
        self.partial_cmp(other) == Some(Ordering::Equal)
    }
}

impl PartialOrd<i64> for Decimal {
    fn partial_cmp(&self, other: &i64) -> Option<Ordering> {
        Some(self.cmp(&Self::new(*other, 0)))
    }
}

impl From<DecimalError> for Refusal {
    fn from(error: DecimalError) -> Self {
        Self::because("not_a_number", Text::from(&error))
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

    /// Digits and scales around which the inline form overflows, with plenty of small ones between.
    fn any_decimal() -> impl Strategy<Value = (BigDecimal, Decimal)> {
        let digits = prop_oneof![
            any::<i32>().prop_map(i128::from),
            any::<i64>().prop_map(i128::from),
            any::<i128>(),
            (0u32..=38, -3i128..=3).prop_map(|(power, off)| small::power_of_ten(power).unwrap() + off),
            Just(i128::MIN),
            Just(i128::MAX),
        ];
        (digits, -6i64..44).prop_map(|(digits, scale)| {
            (BigDecimal::new(BigInt::from(digits), scale), Decimal::of(digits, scale))
        })
    }

    fn hash_of(value: &Decimal) -> u64 {
        let mut hasher = std::collections::hash_map::DefaultHasher::new();
        value.hash(&mut hasher);
        hasher.finish()
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(2000))]

        #[test]
        fn the_inline_form_gives_what_big_integers_give(
            (big_a, a) in any_decimal(), (big_b, b) in any_decimal(), places in -3i64..12
        ) {
            let text = |big: BigDecimal| big.normalized().to_plain_string();
            prop_assert_eq!((&a + &b).to_string(), text(&big_a + &big_b));
            prop_assert_eq!((&a - &b).to_string(), text(&big_a - &big_b));
            prop_assert_eq!((&a * &b).to_string(), text(&big_a * &big_b));
            prop_assert_eq!((-&a).to_string(), text(-&big_a));
            prop_assert_eq!(a.cmp(&b), big_a.cmp(&big_b));
            if let Some(q) = a.quotient(&b) {
                prop_assert_eq!(q.to_string(), text(big::quotient(&big_a, &big_b)));
            }
            prop_assert_eq!(a.round_to(places).to_string(), text(big_a.with_scale_round(places, RoundingMode::HalfUp)));
            prop_assert_eq!(a.floor().to_string(), text(big_a.with_scale_round(0, RoundingMode::Floor)));
            prop_assert_eq!(a.ceil().to_string(), text(big_a.with_scale_round(0, RoundingMode::Ceiling)));
            prop_assert_eq!(a.is_whole(), big_a.is_integer());
            prop_assert_eq!(a.to_string(), text(big_a.clone()));
            // The same value, however it was come by, is one value.
            let by_another_way = &(&a + &b) - &b;
            prop_assert_eq!(&by_another_way, &a);
            prop_assert_eq!(hash_of(&by_another_way), hash_of(&a));
            let places = u32::try_from(places.max(0)).unwrap();
            let fixed = big_a.with_scale_round(i64::from(places), RoundingMode::HalfUp);
            let fixed = if fixed.is_zero() { fixed.abs() } else { fixed };
            prop_assert_eq!(a.fixed(places), fixed.to_plain_string());
        }

        #[test]
        fn the_nearest_float_is_the_one_that_its_text_is_read_as((_, a) in any_decimal()) {
            prop_assert_eq!(a.to_f64(), a.to_string().parse::<f64>().unwrap());
        }

        #[test]
        fn figures_and_exponent_make_the_value((_, a) in any_decimal()) {
            if let Some(significand) = a.significand() {
                prop_assert_eq!(&Decimal::from(significand) * &Decimal::ten_to(a.exponent()), a.clone());
                prop_assert!(significand % 10 != 0 || significand == 0);
                prop_assert_eq!(significand.unsigned_abs().to_string().len(), a.figures());
            }
        }

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
