//! How long until the next check: the owner's rule, shortened or stretched by what was found.
//! Source: OIML D 10:2007, method 1 (automatic adjustment).

use serde::Serialize;
use time::Date;
use utoipa::ToSchema;

use super::add_months;
use crate::quantity::Decimal;
use crate::refusal::Refusal;

/// Most months of an interval.
const MOST_MONTHS: u32 = 1200;

/// What became of the interval.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum IntervalOutcome {
    /// Found out of tolerance.
    Halved,
    /// As it was.
    Kept,
    /// Below 80 % of the tolerance three times running.
    Stretched,
}

/// The next interval.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NextDue {
    /// Months.
    pub months: u32,
    /// Why.
    pub outcome: IntervalOutcome,
    /// The day.
    pub due: Date,
}

/// `shares` are |as found error|/MPE since the interval was last changed, the oldest first. Out of
/// tolerance: half, not below a month; three times running below 80 %: a quarter longer, not above
/// `limit`; else kept. What does not come to whole months is cut to the month below.
///
/// # Examples
/// ```
/// use ombret_core::quantity::Decimal;
/// use ombret_core::schedule::next_due;
/// use time::macros::date;
///
/// // Out of tolerance: half the interval.
/// let told = next_due(date!(2027 - 03 - 31), 12, &["1.4".parse::<Decimal>().unwrap()], None).unwrap();
/// assert_eq!((told.months, told.due), (6, date!(2027 - 09 - 30)));
/// ```
///
/// # Errors
/// A [`Refusal`] where the interval is no number of months, or a share is below zero.
pub fn next_due(day: Date, months: u32, shares: &[Decimal], limit: Option<u32>) -> Result<NextDue, Refusal> {
    if !(1..=MOST_MONTHS).contains(&months) {
        return Err(Refusal::from(Refused::NotPositive { most_months: MOST_MONTHS }));
    }
    if shares.iter().any(Decimal::is_negative) {
        return Err(Refusal::from(Refused::Negative));
    }
    let (one, near) = (Decimal::from(1u32), Decimal::new(8, 1));
    let outcome = match shares {
        [.., last] if *last > one => IntervalOutcome::Halved,
        [.., a, b, c] if [a, b, c].into_iter().all(|share| *share < near) => IntervalOutcome::Stretched,
        _ => IntervalOutcome::Kept,
    };
    let months = match outcome {
        IntervalOutcome::Halved => (months / 2).max(1),
        IntervalOutcome::Kept => months,
        IntervalOutcome::Stretched => (months * 5 / 4).min(limit.unwrap_or(u32::MAX)).max(1),
    };
    Ok(NextDue { months, outcome, due: add_months(day, months) })
}

crate::refusals! {
    enum Refused {
        NotPositive { most_months: u32 } = "not_positive" at "months":
            text!("interval-an-interval-is-1-to", most_months);
        Negative = "negative" at "shares_of_mpe": text!("interval-a-share-of-the-tolerance");
    }
}
