//! A keying sheet typed at the bench: the indicator weighs as was planned, by every profile of the demo.

#![allow(
    clippy::unwrap_used,
    clippy::float_cmp,
    reason = "what cannot be had fails a test and says where; figures of a test are small and meant"
)]

use ombret_bench::{Answer, Scale, ScaleSettings};
use ombret_core::keying::{
    Act, KeyingPlan, OperatingSettings, PadPlan, RangeMode, keying_sheet, read_profile,
};
use ombret_core::quantity::{Mass, Unit};

fn bench(profile: &str, max: f64, d: f64, decimals: usize) -> Scale {
    let settings: ScaleSettings = serde_json::from_value(serde_json::json!({
        "about": "a platform found three per cent wrong",
        "platform": {"dead_counts": 41250, "counts_per_kg": 500, "noise_counts": 0, "swing_hz": 2, "damping": 0.8, "stop_kg": max * 2.0},
        "panel": {"unit": "kg", "max": max, "d": d, "decimals": decimals},
        "calibration": {"zero": 41000, "per_unit": 515},
        "profile": profile,
        "seed": 5
    }))
    .unwrap();
    Scale::new(&settings)
}

fn act(scale: &mut Scale, line: &str) -> Result<Answer, String> {
    scale.act(line.parse().unwrap()).map_err(|e| e.to_string())
}

fn hand(done: &Act, weight: &str) -> String {
    match done {
        Act::Key { key } => format!("key {key}"),
        Act::PowerOff => "power off".into(),
        Act::PowerOn => "power on".into(),
        Act::HoldAtPowerOn { key } => format!("hold {key}"),
        Act::Switch { on } => format!("switch {}", if *on { "open" } else { "closed" }),
        Act::Button => "button".into(),
        Act::Load { .. } => format!("put {weight}"),
        Act::Unload => "clear".into(),
    }
}

fn plan(max: f64, d: f64, weight: &str) -> KeyingPlan {
    KeyingPlan {
        unit: Unit::Kg,
        max: max.to_string().parse().unwrap(),
        d: d.to_string().parse().unwrap(),
        mode: RangeMode::Single,
        fine: None,
        gravity: None,
        factor: None,
        operating: OperatingSettings::default(),
        pads: vec![PadPlan { weights: vec![Mass::new(weight.parse().unwrap(), Unit::Kg)] }],
    }
}

fn rest(scale: &mut Scale) -> String {
    (0..200).map(|_| scale.tick(0.1)).last().unwrap()
}

#[test]
fn typing_the_sheet_leaves_the_indicator_weighing_as_planned() {
    for (name, max, d, decimals, weight) in [
        ("korrin-p4", 870.0, 0.2, 1, "600"),
        ("brant-duo", 60.0, 0.02, 2, "50"),
        ("sollen-k2", 60.0, 0.02, 2, "40"),
    ] {
        let text = std::fs::read_to_string(format!(
            "{}/../../demo/profiles/{name}.toml",
            env!("CARGO_MANIFEST_DIR")
        ))
        .unwrap();
        let profile = read_profile(&text).unwrap();
        let sheet = keying_sheet(&profile, &plan(max, d, weight), &profile.untouched())
            .unwrap_or_else(|cannot| panic!("{name}: {cannot:?}"));
        let mut scale = bench(&text, max, d, decimals);
        rest(&mut scale);
        for done in sheet.steps.iter().flat_map(|step| &step.acts) {
            let line = hand(done, weight);
            act(&mut scale, &line).unwrap_or_else(|refused| panic!("{name}: {line}: {refused}"));
            rest(&mut scale);
        }
        act(&mut scale, "clear").unwrap();
        rest(&mut scale);
        act(&mut scale, &format!("put {}", max / 2.0)).unwrap();
        let line = rest(&mut scale);
        assert!(line.starts_with(&format!("steady {:.decimals$} kg", max / 2.0)), "{name}: {line}");
    }
}

#[test]
fn a_capture_in_motion_is_refused_and_the_menu_stays_where_it_was() {
    let text =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/profiles/korrin-p4.toml"))
            .unwrap();
    let profile = read_profile(&text).unwrap();
    let sheet = keying_sheet(&profile, &plan(870.0, 0.2, "600"), &profile.untouched()).unwrap();
    let mut scale = bench(&text, 870.0, 0.2, 1);
    rest(&mut scale);
    let mut refused = None;
    for done in sheet.steps.iter().flat_map(|step| &step.acts) {
        // Somebody leans on the platform all the while.
        act(&mut scale, "push").unwrap();
        scale.tick(0.1);
        let shown = act(&mut scale, "look").unwrap();
        if let Err(why) = act(&mut scale, &hand(done, "600")) {
            refused = Some(why);
            assert!(matches!(&shown, Answer::Stands(s) if s.menu.is_some()), "{shown:?}");
            assert_eq!(act(&mut scale, "look").unwrap(), shown);
            break;
        }
    }
    assert_eq!(refused.as_deref(), Some("the reading is moving"));
    assert!(act(&mut bench("not a profile", 870.0, 0.2, 1), "key ok").is_err());
}
