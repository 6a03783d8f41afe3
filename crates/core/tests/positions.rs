//! The positions of the eccentricity test by what sort of scale it is. Source: OIML R 76-1:2006, A.4.7.

use ombret_core::assessment::{TestKind, TestView};
use ombret_core::job::drafts;
use ombret_core::job::{Draft, ReadDetail};
use ombret_core::journal::entries;
use ombret_core::journal::{Body, Direction, Purpose, ReadStage, Taken};
use ombret_core::quantity::{Mass, Unit};
use serde_json::{Value, json};

use crate::journal::{Journal, read, sheet};

fn adjusted(other: Value) -> Journal {
    Journal::adjusted(sheet(other))
}

fn test(job: &Journal) -> Option<TestView> {
    job.assessed().proof.tests.into_iter().find(|t| t.test == TestKind::Eccentricity)
}

fn places(other: Value) -> Vec<String> {
    test(&adjusted(other))
        .map_or_else(Vec::new, |t| t.positions.into_iter().map(|s| s.place.to_string()).collect())
}

fn at(position: u8, load: &str, shown: &str) -> Draft {
    let Draft::Read(drafts::ReadDraft { stage, load, shown, direction, pad, with, overruled, once, .. }) =
        read(ReadStage::Test, load, shown, Direction::Up)
    else {
        unreachable!()
    };
    let detail =
        ReadDetail { purpose: Purpose::Eccentricity, position: Some(position), ..ReadDetail::default() };
    Draft::Read(drafts::ReadDraft { stage, load, shown, direction, pad, with, overruled, once, detail })
}

#[test]
fn one_cell_and_unknown_cells_are_tested_at_the_quarters_too() {
    let quarters = ["in the middle", "front left", "rear right", "front right", "rear left"];
    for kind in ["bench", "counting", "medical", "pocket", "panel", "floor"] {
        assert_eq!(places(json!({"kind": kind})), quarters, "{kind}");
        assert_eq!(
            places(json!({"kind": kind, "cell_count": "1", "cell_e_max": "1000"})),
            quarters,
            "{kind}"
        );
    }
}

#[test]
fn a_round_pan_a_hopper_and_a_hook_have_positions_of_their_own() {
    assert_eq!(places(json!({"kind": "laboratory"})), ["in the middle", "front", "right", "rear", "left"]);
    assert_eq!(places(json!({"kind": "hopper"})).len(), 4);
    assert_eq!(places(json!({"kind": "hanging"})), Vec::<String>::new());
}

#[test]
fn a_vehicle_scale_is_read_by_section_in_both_directions() {
    let told = places(json!({"kind": "vehicle", "cell_count": "6", "cell_e_max": "500"}));
    assert_eq!(
        told,
        [
            "in the middle",
            "section 1, driving on",
            "section 2, driving on",
            "section 3, driving on",
            "section 3, coming back",
            "section 2, coming back",
            "section 1, coming back"
        ]
    );
}

#[test]
fn a_corner_of_a_bench_scale_on_one_cell_is_judged_and_told_by_its_name() {
    let mut job = adjusted(json!({"kind": "bench", "cell_count": "1", "cell_e_max": "1000"}));
    let load = test(&job).unwrap().load.unwrap().value.to_string();
    for spot in test(&job).unwrap().positions {
        let more = if spot.place == "rear left" { 2 } else { 0 };
        let shown: f64 = load.parse::<f64>().unwrap() + f64::from(more);
        job.ok(at(spot.position, &load, &format!("{shown:.1}")));
    }
    let told = test(&job).unwrap();
    assert_eq!((told.done, told.within), (5, Some(false)));
    assert!(told.says.to_string().contains("Outside at rear left"), "{}", told.says);
    assert_eq!(job.refused(at(9, &load, &load)), "unknown_position");
}

#[test]
fn a_journal_with_the_positions_of_an_earlier_version_keeps_them() {
    let mut job = adjusted(json!({"kind": "vehicle", "cell_count": "6", "cell_e_max": "500"}));
    let load = Mass::new(174u32.into(), Unit::Kg);
    job.push(Body::Read(entries::Read {
        stage: ReadStage::Test,
        load: load.clone(),
        shown: load,
        direction: Direction::Up,
        taken: Taken::Typed,
        pad: 1,
        with: Vec::new(),
        overruled: None,
        purpose: Purpose::Eccentricity,
        position: Some(3),
        added: None,
        substituted: None,
    }));
    let told = test(&job).unwrap();
    assert_eq!((told.done, told.positions.len()), (1, 7));
    let newest = job.assessed().entries.into_iter().max_by_key(|e| e.seq).unwrap().says;
    assert!(newest.to_string().contains("section 2, far side"), "{newest}");
}
