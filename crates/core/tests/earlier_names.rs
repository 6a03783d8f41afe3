//! What was stored or sent under the names of earlier versions is read as before, and stored entries are written as
//! they were: their hashes are over those bytes.

use ombret_core::job::Draft;
use ombret_core::journal::{Body, Direction, Purpose, ReadStage, entries};
use serde_json::{Value, json};

fn kilograms(value: &str) -> Value {
    json!({"value": value, "unit": "kg"})
}

#[test]
fn stored_entries_keep_their_names() {
    let stored = [
        json!({"kind": "read", "stage": "prove", "load": kilograms("290"), "shown": kilograms("290.2"), "way": "up",
               "taken": {"from": "typed"}, "purpose": "corner", "spot": 3}),
        json!({"kind": "read", "stage": "as_found", "load": kilograms("400"), "shown": kilograms("400"),
               "way": "down", "taken": {"from": "typed"}, "purpose": "repeat"}),
        json!({"kind": "no_figure_read", "stage": "prove", "load": kilograms("0"), "display": {"display": "blank"},
               "way": "down"}),
        json!({"kind": "school_chosen", "school": "quarter", "reason": "the owner asks for it"}),
        json!({"kind": "span_chosen", "weight": kilograms("600"), "school": "tenth"}),
    ];
    for entry in stored {
        let body: Body = serde_json::from_value(entry.clone()).unwrap();
        assert_eq!(serde_json::to_value(&body).unwrap(), entry);
    }
}

#[test]
fn a_stored_reading_means_what_it_meant() {
    let entry = json!({"kind": "read", "stage": "prove", "load": kilograms("290"), "shown": kilograms("290.2"),
                       "way": "down", "taken": {"from": "typed"}, "purpose": "corner", "spot": 3});
    let Ok(Body::Read(entries::Read { stage, direction, purpose, position, .. })) =
        serde_json::from_value(entry)
    else {
        panic!("it is no reading")
    };
    assert_eq!(
        (stage, direction, purpose, position),
        (ReadStage::Test, Direction::Down, Purpose::Eccentricity, Some(3))
    );
}

#[test]
fn what_is_sent_is_understood_under_both_names() {
    let both = [
        (
            json!({"kind": "read", "stage": "prove", "load": "290", "shown": {"from": "live"}, "way": "up",
                   "purpose": "corner", "spot": 2}),
            json!({"kind": "read", "stage": "prove", "load": "290", "shown": {"from": "live"}, "direction": "up",
                   "purpose": "corner", "position": 2}),
        ),
        (
            json!({"kind": "no_figure_read", "stage": "prove", "load": "0", "display": {"display": "blank"},
                   "way": "down"}),
            json!({"kind": "no_figure_read", "stage": "prove", "load": "0", "display": {"display": "blank"},
                   "direction": "down"}),
        ),
        (
            json!({"kind": "school_chosen", "school": "full", "reason": "so"}),
            json!({"kind": "school_chosen", "span_weight_rule": "full", "reason": "so"}),
        ),
    ];
    for (before, now) in both {
        let read = |sent: Value| serde_json::from_value::<Draft>(sent).unwrap();
        assert_eq!(read(before), read(now));
    }
}
