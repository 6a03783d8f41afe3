//! A quotient of decimals that do not fit inline.

use bigdecimal::{BigDecimal, RoundingMode, Signed, Zero};
use num_bigint::BigInt;
use num_integer::Integer;
use num_traits::One;

use super::small::SIGNIFICANT_DIGITS;

/// `dividend / divisor`, which is not zero: exact where it ends, otherwise rounded half to even.
pub(super) fn quotient(dividend: &BigDecimal, divisor: &BigDecimal) -> BigDecimal {
    let (top, top_scale) = dividend.as_bigint_and_exponent();
    let (bottom, bottom_scale) = divisor.as_bigint_and_exponent();
    let (mut top, mut bottom) = match bottom_scale - top_scale {
        shift if shift >= 0 => (top * power_of_ten(shift), bottom),
        shift => (top, bottom * power_of_ten(-shift)),
    };
    if bottom.is_negative() {
        (top, bottom) = (-top, -bottom);
    }
    let common = top.gcd(&bottom);
    (top, bottom) = (top / &common, bottom / common);
    ending_quotient(&top, &bottom).unwrap_or_else(|| rounded_quotient(&top, &bottom))
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
    let shift = i64::from(SIGNIFICANT_DIGITS) + 2 + digits(bottom) - digits(top);
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
            std::num::NonZeroU64::new(u64::from(SIGNIFICANT_DIGITS)).unwrap_or(std::num::NonZeroU64::MIN),
            RoundingMode::HalfEven,
        )
        .normalized()
}
