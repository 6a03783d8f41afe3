//! What the tests of keying share.

use std::path::Path;

use ombret_core::keying::{CAPTURED, KeyingPlan, Meaning, Profile, Values, read_profile};
use ombret_core::quantity::Decimal;

/// The text of a profile of the demo.
pub fn demo(name: &str) -> String {
    std::fs::read_to_string(
        Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("../../demo/profiles/{name}.toml")),
    )
    .unwrap()
}

pub fn profile(name: &str) -> Profile {
    read_profile(&demo(name)).unwrap_or_else(|problems| panic!("{name}: {problems:?}"))
}

pub fn dec(text: &str) -> Decimal {
    text.parse().unwrap()
}

/// The values that the plan asks for, slot by slot, straight from the profile's coding.
pub fn planned(profile: &Profile, plan: &KeyingPlan, from: &Values) -> Values {
    let mut values = from.clone();
    for task in profile.tasks(plan).unwrap() {
        if profile.parameters[task.parameter].meaning == Meaning::Save {
            continue;
        }
        let text = if task.text.is_empty() { CAPTURED.to_owned() } else { task.text };
        values.insert(profile.slot(task.parameter, task.pad), text);
    }
    values
}
