//! A decimal that fits inline: a whole number of 128 bits and a scale. Every operation gives `None`
//! where its result does not fit, and is then done with big integers.

use std::cmp::Ordering;
use std::fmt;

use bigdecimal::RoundingMode;

/// Significant digits kept of a quotient that does not end, rounded half to even.
pub const SIGNIFICANT_DIGITS: u32 = 28;

/// `digits · 10^(−scale)`. Several pairs are one value; [`Small::normal`] is the one without trailing
/// zeros.
#[derive(Clone, Copy, Hash)]
pub(super) struct Small {
    pub(super) digits: i128,
    pub(super) scale: i32,
}

const POWERS: [i128; 39] = {
    let mut powers = [1i128; 39];
    let mut k = 1;
    while k < 39 {
        powers[k] = powers[k - 1] * 10;
        k += 1;
    }
    powers
};

/// Ten to the power `k`, where it fits.
pub(super) fn power_of_ten(k: u32) -> Option<i128> {
    POWERS.get(k as usize).copied()
}

/// Digits of `n`; none for zero.
fn length(n: u128) -> u32 {
    n.checked_ilog10().map_or(0, |log| log + 1)
}

impl Small {
    pub(super) fn sign(self) -> i32 {
        match self.digits {
            0 => 0,
            digits if digits < 0 => -1,
            _ => 1,
        }
    }

    /// The same value without trailing zeros in its digits.
    pub(super) fn normal(self) -> Self {
        if self.digits == 0 {
            return Self { digits: 0, scale: 0 };
        }
        let Self { mut digits, mut scale } = self;
        // Most figures fit one word, in which a division is many times cheaper.
        if let Ok(mut word) = i64::try_from(digits) {
            while word % 10 == 0 && scale > i32::MIN {
                word /= 10;
                scale -= 1;
            }
            return Self { digits: i128::from(word), scale };
        }
        while digits % 10 == 0 && scale > i32::MIN {
            digits /= 10;
            scale -= 1;
        }
        Self { digits, scale }
    }

    /// Both digits at the larger of the two scales.
    fn aligned(self, other: Self) -> Option<(i128, i128, i32)> {
        if self.scale == other.scale {
            return Some((self.digits, other.digits, self.scale));
        }
        let at = |value: Self, scale: i32| {
            if value.digits == 0 {
                return Some(0);
            }
            let power = power_of_ten(scale.checked_sub(value.scale)?.try_into().ok()?)?;
            value.digits.checked_mul(power)
        };
        let scale = self.scale.max(other.scale);
        match (at(self, scale), at(other, scale)) {
            (Some(a), Some(b)) => Some((a, b, scale)),
            // Trailing zeros may be all that does not fit.
            _ => {
                let (a, b) = (self.normal(), other.normal());
                let scale = a.scale.max(b.scale);
                Some((at(a, scale)?, at(b, scale)?, scale))
            }
        }
    }

    pub(super) fn plus(self, other: Self) -> Option<Self> {
        let (a, b, scale) = self.aligned(other)?;
        Some(Self { digits: a.checked_add(b)?, scale })
    }

    pub(super) fn minus(self, other: Self) -> Option<Self> {
        let (a, b, scale) = self.aligned(other)?;
        Some(Self { digits: a.checked_sub(b)?, scale })
    }

    pub(super) fn times(self, other: Self) -> Option<Self> {
        let product = |a: Self, b: Self| {
            let digits = a.digits.checked_mul(b.digits)?;
            Some(Self { digits, scale: a.scale.checked_add(b.scale)? })
        };
        product(self, other).or_else(|| product(self.normal(), other.normal()))
    }

    pub(super) fn compare(self, other: Self) -> Option<Ordering> {
        if self.sign() != other.sign() {
            return Some(self.sign().cmp(&other.sign()));
        }
        let (a, b, _) = self.aligned(other)?;
        Some(a.cmp(&b))
    }

    /// `self / divisor`, which is not zero: exact where it ends, otherwise rounded half to even to
    /// [`SIGNIFICANT_DIGITS`].
    pub(super) fn quotient(self, divisor: Self) -> Option<Self> {
        if self.digits == 0 {
            return Some(self);
        }
        let (dividend, divisor) = (self.normal(), divisor.normal());
        let negative = (dividend.digits < 0) != (divisor.digits < 0);
        // The powers of ten are put back at the end, so that both stay short.
        let scale = dividend.scale.checked_sub(divisor.scale)?;
        let (top, bottom) = (dividend.digits.unsigned_abs(), divisor.digits.unsigned_abs());
        let common = common_divisor(top, bottom);
        let (top, bottom) = (top / common, bottom / common);
        let (digits, places) = match ending(top, bottom) {
            Ending::Ends(digits, places) => (digits, places),
            Ending::TooLong => return None,
            Ending::Never => rounded(top, bottom)?,
        };
        let digits = i128::try_from(digits).ok()?;
        let digits = if negative { -digits } else { digits };
        Some(Self { digits, scale: scale.checked_add(places)? }.normal())
    }

    /// At `decimals` places by `mode`; `None` too where the mode is none that is used here.
    pub(super) fn rounded(self, decimals: i32, mode: RoundingMode) -> Option<Self> {
        if self.scale <= decimals {
            return Some(self);
        }
        let cut = power_of_ten(self.scale.checked_sub(decimals)?.try_into().ok()?)?;
        let (whole, rest) = (self.digits / cut, self.digits % cut);
        let sign = i128::from(self.sign());
        let step = match mode {
            // Rest and cut are below 1.8 · 10^38, so that twice the rest may not fit; the half does.
            RoundingMode::HalfUp => {
                if rest.unsigned_abs() >= cut.unsigned_abs() / 2 {
                    sign
                } else {
                    0
                }
            }
            RoundingMode::Floor => {
                if rest < 0 {
                    -1
                } else {
                    0
                }
            }
            RoundingMode::Ceiling => {
                if rest > 0 {
                    1
                } else {
                    0
                }
            }
            _ => return None,
        };
        Some(Self { digits: whole + step, scale: decimals })
    }

    pub(super) fn parse(whole: &str, places: &str, negative: bool) -> Option<Self> {
        let mut digits: i128 = 0;
        for figure in whole.bytes().chain(places.bytes()) {
            digits = digits.checked_mul(10)?.checked_add(i128::from(figure - b'0'))?;
        }
        Some(Self {
            digits: if negative { -digits } else { digits },
            scale: i32::try_from(places.len()).ok()?,
        })
    }

    /// Text with exactly `places` after the point, of a value that has no more of them.
    pub(super) fn with_places(self, places: u32) -> Option<String> {
        let more = i32::try_from(places).ok()?.checked_sub(self.scale)?;
        let digits = self.digits.checked_mul(power_of_ten(more.try_into().ok()?)?)?;
        Some(Text { digits, places }.to_string())
    }

    /// The shortest plain text.
    pub(super) fn write(self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let normal = self.normal();
        match u32::try_from(normal.scale) {
            Ok(places) => Text { digits: normal.digits, places }.write(f),
            Err(_) => {
                write!(f, "{}", normal.digits)?;
                (0..normal.scale.unsigned_abs()).try_for_each(|_| f.write_str("0"))
            }
        }
    }

    pub(super) fn to_f64(self) -> f64 {
        let normal = self.normal();
        // Both are exact as floats in these bounds, so that one division rounds once.
        const EXACT: i64 = 1 << 53;
        if let (Ok(digits), Ok(places @ 0..=22)) =
            (i64::try_from(normal.digits), usize::try_from(normal.scale))
            && (-EXACT..=EXACT).contains(&digits)
        {
            #[allow(clippy::cast_precision_loss, reason = "within 2^53, and a power of ten up to 22")]
            return digits as f64 / POWERS[places] as f64;
        }
        // OK because digits with an exponent are always read as a number.
        format!("{}e{}", normal.digits, -i64::from(normal.scale)).parse().unwrap_or(f64::NAN)
    }
}

/// A whole number with a point in it.
struct Text {
    digits: i128,
    places: u32,
}

impl fmt::Display for Text {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.write(f)
    }
}

impl Text {
    fn write(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let sign = if self.digits < 0 { "-" } else { "" };
        let digits = self.digits.unsigned_abs();
        let width = self.places as usize;
        if width == 0 {
            return write!(f, "{sign}{digits}");
        }
        // Numbers of one word are written many times faster.
        if let (Ok(word), Some(power)) = (u64::try_from(digits), 10u64.checked_pow(self.places)) {
            return write!(f, "{sign}{}.{:0width$}", word / power, word % power);
        }
        match power_of_ten(self.places) {
            Some(power) => {
                let power = power.unsigned_abs();
                write!(f, "{sign}{}.{:0width$}", digits / power, digits % power)
            }
            None => write!(f, "{sign}0.{digits:0width$}"),
        }
    }
}

fn common_divisor(a: u128, b: u128) -> u128 {
    match (u64::try_from(a), u64::try_from(b)) {
        (Ok(a), Ok(b)) => u128::from(num_integer::gcd(a, b)),
        _ => num_integer::gcd(a, b),
    }
}

enum Ending {
    /// Digits, and how many of them stand behind the point.
    Ends(u128, i32),
    /// It ends, but not inline.
    TooLong,
    Never,
}

/// The decimal expansion of a reduced fraction ends if only twos and fives are below.
fn ending(top: u128, bottom: u128) -> Ending {
    let twos = bottom.trailing_zeros();
    let mut rest = bottom >> twos;
    let mut fives = 0;
    while rest.is_multiple_of(5) {
        rest /= 5;
        fives += 1;
    }
    if rest != 1 {
        return Ending::Never;
    }
    let places = twos.max(fives);
    let digits = power_of_ten(places).and_then(|power| top.checked_mul(power.unsigned_abs() / bottom));
    match (digits, i32::try_from(places)) {
        (Some(digits), Ok(places)) => Ending::Ends(digits, places),
        _ => Ending::TooLong,
    }
}

/// Long division of a fraction that never ends: two digits more than are kept, and something always
/// follows them, so that a tie is none.
fn rounded(top: u128, bottom: u128) -> Option<(u128, i32)> {
    let wanted = SIGNIFICANT_DIGITS + 2;
    // How many digits a step may take before the rest leaves 128 bits.
    let room = length(u128::MAX / bottom).checked_sub(1).filter(|room| *room > 0)?;
    let (mut whole, mut rest, mut places) = (top / bottom, top % bottom, 0u32);
    while length(whole) < wanted {
        let step = room.min(wanted - length(whole));
        let power = power_of_ten(step)?.unsigned_abs();
        rest *= power;
        whole = whole * power + rest / bottom;
        rest %= bottom;
        places += step;
    }
    let dropped = length(whole) - SIGNIFICANT_DIGITS;
    let power = power_of_ten(dropped)?.unsigned_abs();
    let (kept, cut) = (whole / power, whole % power);
    let digits = if cut >= power / 2 { kept + 1 } else { kept };
    Some((digits, i32::try_from(places).ok()? - i32::try_from(dropped).ok()?))
}
