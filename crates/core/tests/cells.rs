//! The counts of each cell, typed while looking over.

use ombret_core::job::Draft;
use ombret_core::job::drafts;
use ombret_core::journal::CheckFinding;
use proptest::prelude::*;
use serde_json::json;

use crate::journal::{Journal, sheet};

fn looked(cells: &str, note: &str) -> Draft {
    Draft::LookedOver(drafts::LookedOverDraft {
        item: "corners".into(),
        finding: CheckFinding::Ok,
        note: note.into(),
        cells: cells.into(),
    })
}

fn begun() -> Journal {
    Journal::on(sheet(json!({"cell_count": "4", "cell_e_max": "400"})))
}

proptest! {
    #[test]
    fn cells_that_carry_about_the_same_are_in_order_and_one_far_off_is_named(
        base in 5_000i64..200_000, off in proptest::collection::vec(-20i64..20, 4), dead in 0usize..4,
    ) {
        // A few per cent from cell to cell, as a dead load is spread.
        let counts: Vec<i64> = off.iter().map(|percent| base + base * percent / 100).collect();
        let text = |counts: &[i64]| counts.iter().map(ToString::to_string).collect::<Vec<_>>().join(" ");
        let mut job = begun();
        prop_assert!(job.add(looked(&text(&counts), "")).is_ok(), "{counts:?}");
        let mut weak = counts;
        weak[dead] = base / 50;
        let refused = job.add(looked(&text(&weak), "")).unwrap_err();
        prop_assert_eq!((refused.code.as_str(), refused.field.as_deref()), ("cells_disagree", Some("note")));
        prop_assert!(refused.message.to_string().contains(&format!("cell {} is far", dead + 1)), "{}", refused.message);
        // With a word about it, it stands, and the counts with it.
        prop_assert!(job.add(looked(&text(&weak), "a new cell, not trimmed yet")).is_ok());
        let view = job.assessed().inspection.into_iter().find(|i| i.item == "corners").unwrap();
        prop_assert!(view.cells.unwrap().to_string().contains(&weak[dead].to_string()));
    }
}

#[test]
fn what_are_no_counts_is_refused_at_its_field() {
    for (typed, says) in [
        ("9012 8990 x 9104", "“x” is no count"),
        ("9012 8990 9104", "3 counts for 4 cells"),
        ("9012.5 8990 9001 9104", "“9012.5” is no count"),
        ("1e15 8990 9001 9104", "is no count"),
    ] {
        let refused = begun().add(looked(typed, "")).unwrap_err();
        assert_eq!(refused.field.as_deref(), Some("cells"), "{typed}");
        assert!(refused.message.to_string().contains(says), "{typed}: {}", refused.message);
    }
    begun().ok(looked("9012, 8990; 9001 9104", ""));
    begun().ok(looked("", ""));
}

#[test]
fn two_cells_alone_accuse_nobody() {
    let mut job = Journal::on(sheet(json!({"cell_count": "2", "cell_e_max": "800"})));
    job.ok(looked("9012 100", ""));
}
