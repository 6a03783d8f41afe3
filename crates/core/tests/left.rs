//! What is said where a scale is out of tolerance as it is left.

use ombret_core::assessment::Act;
use ombret_core::job::Draft;
use ombret_core::job::drafts;
use ombret_core::journal::{ReadStage, Way};
use ombret_core::scale::Stage;

use serde_json::json;

use crate::journal::{Journal, read, sheet};

#[test]
fn out_of_tolerance_is_said_before_the_next_load_is_asked_for() {
    let mut job = Journal::adjusted(sheet(json!({})));
    job.ok(read(ReadStage::Prove, "600", "600", Way::Up));
    assert!(matches!(job.assessed().next.act, Act::Read { .. }));
    // 0.8 kg at 870 kg, where 0.6 kg are allowed.
    job.ok(read(ReadStage::Prove, "870", "870.8", Way::Up));
    let next = job.assessed().next;
    assert_eq!((next.stage, &next.act), (Stage::Prove, &Act::OutOfTolerance));
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
    for (load, shown, way) in [
        ("600", "600", Way::Up),
        ("0", "0", Way::Up),
        ("100", "100", Way::Up),
        ("400", "400", Way::Up),
        ("870", "870.8", Way::Up),
        ("400", "400", Way::Down),
        ("0", "0", Way::Down),
    ] {
        job.ok(read(ReadStage::Prove, load, shown, way));
    }
    assert!(matches!(job.assessed().next.act, Act::OutOfTolerance));
    job.ok(Draft::SealedUp(drafts::SealedUpDraft { seals: "A 7".into(), switch_back: true, locked: true }));
    assert!(matches!(job.assessed().next.act, Act::Sign), "{:?}", job.assessed().next);
}
