//! What is said where a scale is out of tolerance as it is left.

use ombret_core::assessment::Act;
use ombret_core::job::Draft;
use ombret_core::job::drafts;
use ombret_core::journal::{Direction, ReadStage};
use ombret_core::scale::Stage;

use serde_json::json;

use crate::journal::{Journal, read, sheet};

#[test]
fn out_of_tolerance_is_said_before_the_next_load_is_asked_for() {
    let mut job = Journal::adjusted(sheet(json!({})));
    job.ok(read(ReadStage::Test, "600", "600", Direction::Up));
    assert!(matches!(job.assessed().next.act, Act::Read { .. }));
    // 0.8 kg at 870 kg, where 0.6 kg are allowed.
    job.ok(read(ReadStage::Test, "870", "870.8", Direction::Up));
    let next = job.assessed().next;
    assert_eq!((next.stage, &next.act), (Stage::Test, &Act::OutOfTolerance));
    assert!(
        next.says.to_string().contains("+0.8 kg at 870 kg") && next.says.to_string().contains("±0.6 kg"),
        "{}",
        next.says
    );
    // Adjusted again, what was read before no longer counts.
    job.adjust();
    assert!(matches!(job.assessed().next.act, Act::Read { .. }));
}

#[test]
fn whoever_has_decided_to_close_it_so_is_not_asked_again() {
    let mut job = Journal::adjusted(sheet(json!({})));
    for (load, shown, direction) in [
        ("600", "600", Direction::Up),
        ("0", "0", Direction::Up),
        ("100", "100", Direction::Up),
        ("400", "400", Direction::Up),
        ("870", "870.8", Direction::Up),
        ("400", "400", Direction::Down),
        ("0", "0", Direction::Down),
    ] {
        job.ok(read(ReadStage::Test, load, shown, direction));
    }
    assert!(matches!(job.assessed().next.act, Act::OutOfTolerance));
    job.ok(Draft::SealedUp(drafts::SealedUpDraft { seals: "A 7".into(), switch_back: true, locked: true }));
    assert!(matches!(job.assessed().next.act, Act::Sign), "{:?}", job.assessed().next);
}
