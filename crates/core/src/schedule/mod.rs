//! When a scale is due again.

mod after;
mod history;
mod interval;
mod trend;

pub use after::due_after;
pub use history::{Drawn, DrawnPoint, DrawnStep, Drift, DriftPoint, drift, shares};
pub use interval::{IntervalOutcome, NextDue, next_due};
pub use trend::{Trend, trend};

use time::{Date, Month};

/// The same day `months` later; a day that the month lacks becomes its last day. Source: OIML D 10
/// leaves the interval to the owner; this is only its arithmetic.
pub fn add_months(from: Date, months: u32) -> Date {
    let whole = u32::from(u8::from(from.month())) - 1 + months;
    // OK because twelve months make a year and a remainder of twelve fits a month.
    let year = from.year() + i32::try_from(whole / 12).unwrap_or(0);
    let month =
        u8::try_from(whole % 12 + 1).ok().and_then(|m| Month::try_from(m).ok()).unwrap_or(Month::January);
    let day = from.day().min(month.length(year));
    Date::from_calendar_date(year, month, day).unwrap_or(from)
}

/// The Monday of the week in which a day lies (ISO 8601).
pub fn monday(day: Date) -> Date {
    let back = i64::from(day.weekday().number_days_from_monday());
    day.checked_sub(time::Duration::days(back)).unwrap_or(day)
}

#[cfg(test)]
mod tests {
    use super::*;
    use time::macros::date;

    #[test]
    fn a_day_that_the_month_lacks_becomes_its_last() {
        assert_eq!(add_months(date!(2025 - 01 - 31), 1), date!(2025 - 02 - 28));
        assert_eq!(add_months(date!(2023 - 08 - 31), 6), date!(2024 - 02 - 29));
        assert_eq!(add_months(date!(2026 - 11 - 24), 14), date!(2028 - 01 - 24));
    }
}
