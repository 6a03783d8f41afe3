//! When a scale is due again: only a proof moves the date by the owner's interval.

use ombret_core::job::Draft;
use ombret_core::job::drafts;
use ombret_core::journal::{Direction, Outcome, ReadStage};
use ombret_core::schedule::{add_months, due_after};
use proptest::prelude::*;
use time::macros::date;
use time::{Date, Duration};

use serde_json::json;

use crate::journal::{Journal, read, sheet};

const DAY: Date = date!(2031 - 03 - 04);

fn due(job: &Journal, before: Option<Date>) -> (Date, String) {
    let (day, why) = due_after(&job.state(), job.assessed().outcome, DAY, &[], before);
    (day, why.to_string())
}

#[test]
fn an_adjustment_that_is_not_proven_makes_it_due_at_once_and_says_why() {
    let mut job = Journal::adjusted(sheet(json!({})));
    assert_eq!(job.assessed().outcome, Outcome::NotProven);
    assert_eq!(due(&job, Some(add_months(DAY, 8))), (DAY, "not proven".into()));
    for (load, direction) in [
        ("600", Direction::Up),
        ("0", Direction::Up),
        ("100", Direction::Up),
        ("400", Direction::Up),
        ("870", Direction::Up),
        ("400", Direction::Down),
        ("0", Direction::Down),
    ] {
        job.ok(read(ReadStage::Test, load, load, direction));
    }
    assert_eq!(job.assessed().outcome, Outcome::InTolerance);
    assert_eq!(due(&job, None), (add_months(DAY, 12), "12 months by the owner's rule".into()));
}

proptest! {
    #[test]
    fn a_job_that_proves_nothing_never_puts_the_date_off(days in -400i64..400) {
        // Nothing was adjusted: what was proven before is as it was.
        let mut job = Journal::begin();
        job.inspection();
        job.ok(Draft::StoppedShort(drafts::StoppedShortDraft { reason: "no weights".into() }));
        let before = DAY + Duration::days(days);
        prop_assert_eq!(due(&job, Some(before)).0, before);
        prop_assert_eq!(due(&job, None).0, DAY);
        let mut job = Journal::adjusted(sheet(json!({})));
        job.ok(Draft::StoppedShort(drafts::StoppedShortDraft { reason: "rain".into() }));
        prop_assert_eq!(due(&job, Some(before)).0, DAY.min(before));
    }
}
