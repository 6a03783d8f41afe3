//! When a scale is due again after a job, and why. Sources: OIML D 10:2007, method 1; ISO/IEC 17025:2017,
//! 7.8.4.3 (no recommendation of an interval but by agreement with the owner).

use time::Date;

use super::add_months;
use super::history::{Drawn, shares};
use super::interval::{IntervalOutcome, next_due};
use crate::assessment::mark;
use crate::journal::{JobState, Outcome};
use crate::wording::Text;

/// The day, and why. `drawn`: the newest records of the scale, the oldest first, this job's among them;
/// `before`: when it was due before this job.
///
/// Only a proof moves the date by the owner's interval, shortened or stretched by what was found. A job
/// that proves nothing leaves the date as it was, or makes it this day where the scale was adjusted: what
/// was proven before is then no longer so.
pub fn due_after(
    state: &JobState,
    outcome: Outcome,
    day: Date,
    drawn: &[Drawn],
    before: Option<Date>,
) -> (Date, Text) {
    let months = u32::from(state.sheet.interval_months);
    let on_object = mark(state).is_some();
    if outcome == Outcome::NotProven || on_object {
        let why =
            if on_object { text!("after-adjusted-on-a-reference-object") } else { text!("after-not-proven") };
        let before = before.unwrap_or(day);
        let due = if state.any_adjusted() { day.min(before) } else { before };
        return (due, why);
    }
    // What the law or the owner sets for a trade scale is not stretched.
    let limit = state.sheet.trade.then_some(months);
    let by_owner = || text!("after-months-months-by-the-owners", months);
    let Ok(result) = next_due(day, months, &shares(drawn), limit) else {
        return (add_months(day, months), by_owner());
    };
    let reason = match result.outcome {
        IntervalOutcome::Halved => {
            text!("after-months-months-instead-of-months2", months = result.months, months2 = months)
        }
        IntervalOutcome::Stretched if result.months > months => {
            text!("after-months-months-instead-of-months2-2", months = result.months, months2 = months)
        }
        _ => by_owner(),
    };
    (result.due, reason)
}
