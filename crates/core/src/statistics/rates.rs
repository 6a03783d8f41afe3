//! Shares of counted things with what chance makes of them. Source: E. B. Wilson, J. Am. Stat. Assoc. 22
//! (1927) 209; NIST/SEMATECH e-Handbook of Statistical Methods, 7.2.4.1.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use crate::refusal::Refusal;
use crate::wording::Text;

/// Two-sided 95 % of the normal distribution.
const Z: f64 = 1.959_963_984_540_054;

/// A count.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Tally {
    /// Records with something read as found.
    pub read: u64,
    /// Of these, found outside.
    pub outside: u64,
}

/// How many of how many, with the interval in which the true share lies.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Rate {
    /// Of what.
    pub label: Text,
    /// How many were looked at.
    pub read: u64,
    /// How many of them were found outside.
    pub outside: u64,
    /// outside / read; none where nothing was looked at.
    #[schema(required)]
    pub share: Option<f64>,
    /// Lower end of the 95 % interval.
    #[schema(required)]
    pub low: Option<f64>,
    /// Upper end.
    #[schema(required)]
    pub high: Option<f64>,
    /// For people: “12 of 80, 15 % (95 %: 8.8 % to 24 %)”; no line breaks between a figure and its sign.
    pub says: Text,
}

/// The share with its 95 % interval: (p + z²/2n ± z·√(p(1−p)/n + z²/4n²)) / (1 + z²/n).
///
/// # Errors
/// A [`Refusal`] where more were found outside than were looked at.
pub fn rate(label: impl Into<Text>, tally: Tally) -> Result<Rate, Refusal> {
    let Tally { read, outside } = tally;
    if outside > read {
        return Err(Refusal::from(Refused::OutOfRange { outside, read }));
    }
    let label = label.into();
    if read == 0 {
        return Ok(Rate {
            label,
            read,
            outside,
            share: None,
            low: None,
            high: None,
            says: text!("rates-none-read-as-found"),
        });
    }
    #[expect(clippy::cast_precision_loss, reason = "counts of records")]
    let (n, k) = (read as f64, outside as f64);
    let p = k / n;
    let middle = p + Z * Z / (2.0 * n);
    let half = Z * (p * (1.0 - p) / n + Z * Z / (4.0 * n * n)).sqrt();
    let whole = 1.0 + Z * Z / n;
    // Rounding may leave a hair beside the share at its ends.
    let low = if outside == 0 { 0.0 } else { ((middle - half) / whole).clamp(0.0, p) };
    let high = if outside == read { 1.0 } else { ((middle + half) / whole).clamp(p, 1.0) };
    let says = text!(
        "rates-outside-of-read-percent-95",
        outside,
        read,
        percent = percent(p),
        percent2 = percent(low),
        percent3 = percent(high)
    );
    Ok(Rate { label, read, outside, share: Some(p), low: Some(low), high: Some(high), says })
}

/// A share of one for people, in per cent: one decimal below ten.
pub fn percent(share: f64) -> String {
    let hundred = share * 100.0;
    if hundred > 0.0 && hundred < 10.0 {
        format!("{hundred:.1}\u{a0}%")
    } else {
        format!("{hundred:.0}\u{a0}%")
    }
}

/// Classes of age.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum AgeClass {
    /// Up to two years.
    UpTo2,
    /// Three to five.
    UpTo5,
    /// Six to ten.
    UpTo10,
    /// Eleven to twenty.
    UpTo20,
    /// Older.
    Older,
    /// Its year of make is not on the sheet.
    Unknown,
}

impl AgeClass {
    /// The class of an age in years.
    pub const fn of(age: Option<u16>) -> Self {
        match age {
            None => Self::Unknown,
            Some(0..=2) => Self::UpTo2,
            Some(3..=5) => Self::UpTo5,
            Some(6..=10) => Self::UpTo10,
            Some(11..=20) => Self::UpTo20,
            Some(_) => Self::Older,
        }
    }

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::UpTo2 => text!("rates-up-to-2-years"),
            Self::UpTo5 => text!("rates-3-to-5-years"),
            Self::UpTo10 => text!("rates-6-to-10-years"),
            Self::UpTo20 => text!("rates-11-to-20-years"),
            Self::Older => text!("rates-over-20-years"),
            Self::Unknown => text!("rates-year-of-make-not-known"),
        }
    }
}

/// Tallies of single ages, gathered in their classes, the youngest first.
pub fn by_age(tallies: impl IntoIterator<Item = (Option<u16>, Tally)>) -> BTreeMap<AgeClass, Tally> {
    let mut classes: BTreeMap<AgeClass, Tally> = BTreeMap::new();
    for (age, tally) in tallies {
        let sum = classes.entry(AgeClass::of(age)).or_default();
        sum.read += tally.read;
        sum.outside += tally.outside;
    }
    classes
}

crate::refusals! {
    enum Refused {
        OutOfRange { outside: u64, read: u64 } = "out_of_range" at "outside":
            text!("rates-outside-of-read-cannot-be", outside, read);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn of(outside: u64, read: u64) -> Rate {
        rate("", Tally { read, outside }).unwrap()
    }

    proptest! {
        #[test]
        fn the_interval_holds_the_share_and_mirrors_and_narrows(read in 1u64..5_000, part in 0.0f64..=1.0) {
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss, reason = "a part of a count")]
            let outside = (read as f64 * part) as u64;
            let (there, back) = (of(outside, read), of(read - outside, read));
            let (low, share, high) = (there.low.unwrap(), there.share.unwrap(), there.high.unwrap());
            prop_assert!(0.0 <= low && low <= share && share <= high && high <= 1.0);
            // Counting those inside instead is the same interval seen from the other end.
            prop_assert!((back.low.unwrap() - (1.0 - high)).abs() < 1e-12 && (back.high.unwrap() - (1.0 - low)).abs() < 1e-12);
            let more = of(outside * 4, read * 4);
            prop_assert!(more.high.unwrap() - more.low.unwrap() < high - low);
            // Its ends solve (p − π)² = z²·π(1−π)/n, from which the formula comes.
            #[expect(clippy::cast_precision_loss, reason = "a count")]
            let n = read as f64;
            for end in [low, high].into_iter().filter(|e| *e > 0.0 && *e < 1.0) {
                prop_assert!(((share - end).powi(2) - Z * Z * end * (1.0 - end) / n).abs() < 1e-9);
            }
        }

        #[test]
        fn classes_of_age_lose_no_record(ages in proptest::collection::vec((proptest::option::of(0u16..60), 0u64..50, 0u64..50), 0..30)) {
            let tallies: Vec<(Option<u16>, Tally)> = ages.into_iter().map(|(age, outside, more)| (age, Tally { read: outside + more, outside })).collect();
            let sum = |all: &mut dyn Iterator<Item = Tally>| all.fold((0, 0), |(r, o), t| (r + t.read, o + t.outside));
            let classes = by_age(tallies.iter().copied());
            prop_assert_eq!(sum(&mut classes.values().copied()), sum(&mut tallies.iter().map(|(_, t)| *t)));
            for (age, tally) in &tallies {
                prop_assert!(classes[&AgeClass::of(*age)].read >= tally.read);
            }
        }
    }

    #[test]
    fn nothing_read_has_no_share_and_more_than_all_is_refused() {
        let none = of(0, 0);
        assert_eq!((none.share, none.says.to_string().as_str()), (None, "none read as found"));
        assert_eq!(rate("", Tally { read: 2, outside: 3 }).unwrap_err().field.as_deref(), Some("outside"));
        // Worked by hand: n = 10, k = 1: (0.1 + 0.19207 ± 1.95996·√(0.009 + 0.0096036)) / 1.384146.
        let told = of(1, 10);
        assert!(
            (told.low.unwrap() - 0.017_876).abs() < 1e-5 && (told.high.unwrap() - 0.404_150).abs() < 1e-5,
            "{told:?}"
        );
        assert_eq!(told.says, "1 of 10, 10\u{a0}% (95\u{a0}%: 1.8\u{a0}% to 40\u{a0}%)");
    }
}
