//! Laws of the simulated scale: what lies on it, what the keys teach it, and what they leave alone.

#![allow(
    clippy::unwrap_used,
    clippy::float_cmp,
    reason = "what cannot be had fails a test and says where; figures of a test are small and meant"
)]

use ombret_bench::{Answer, Scale, ScaleSettings};
use proptest::prelude::*;
use serde_json::{Value, json};

fn settings(other: Value) -> ScaleSettings {
    let mut file = json!({
        "about": "a platform for laws",
        "platform": {"dead_counts": 50_000, "counts_per_kg": 400, "noise_counts": 0, "swing_hz": 2, "damping": 0.9, "stop_kg": 2_000},
        "panel": {"unit": "kg", "max": 1_000, "d": 0.01, "decimals": 2},
        "calibration": {"zero": 50_000, "per_unit": 400},
        "seed": 9
    });
    file.as_object_mut().unwrap().extend(other.as_object().unwrap().clone());
    serde_json::from_value(file).unwrap()
}

struct Hands(Scale);

impl Hands {
    fn at(other: Value) -> Self {
        let mut hands = Self(Scale::new(&settings(other)));
        hands.reads();
        hands
    }

    fn act(&mut self, line: &str) -> Result<Answer, String> {
        self.0.act(line.parse().unwrap()).map_err(|e| e.to_string())
    }

    /// What it shows at rest.
    fn reads(&mut self) -> f64 {
        let mut line = String::new();
        for _ in 0..150 {
            line = self.0.tick(0.1);
        }
        line.split(' ').nth(1).and_then(|f| f.parse().ok()).unwrap_or(f64::NAN)
    }

    fn with(&mut self, kg: f64) -> f64 {
        self.act("clear").unwrap();
        self.reads();
        self.act(&format!("put {kg}")).unwrap();
        self.reads()
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn what_lies_on_it_is_the_sum_of_what_was_put_on_and_not_taken(pieces in proptest::collection::vec(1u32..100, 1..8), off in any::<prop::sample::Index>()) {
        let mut hands = Hands::at(json!({}));
        for kg in &pieces {
            hands.act(&format!("put {kg}")).unwrap();
        }
        let taken = pieces[off.index(pieces.len())];
        hands.act(&format!("take {taken}")).unwrap();
        let sum: u32 = pieces.iter().sum();
        prop_assert!((hands.reads() - f64::from(sum - taken)).abs() < 0.011);
        hands.act("clear").unwrap();
        prop_assert!(hands.reads().abs() < 0.011, "it comes back to zero");
    }

    #[test]
    fn pads_together_read_the_sum_of_each(loads in proptest::collection::vec(0u32..200, 3)) {
        let pad = json!({"platform": settings(json!({})).platform, "calibration": {"zero": 50_000, "per_unit": 400}});
        let mut hands = Hands::at(json!({"pads": [pad, pad]}));
        for (pad, kg) in (1..).zip(&loads) {
            hands.act(&format!("put {kg} on {pad}")).unwrap();
        }
        hands.act("pad all").unwrap();
        let together = hands.reads();
        let mut sum = 0.0;
        for pad in 1..=3 {
            hands.act(&format!("pad {pad}")).unwrap();
            sum += hands.reads();
        }
        prop_assert!((together - sum).abs() < 0.03);
    }

    #[test]
    fn whatever_it_was_taught_wrong_zero_and_span_put_it_right(per_unit in 200.0f64..800.0, zero in 45_000.0f64..55_000.0, weight in 100u32..1_000, load in 1u32..1_000) {
        let mut hands = Hands::at(json!({"calibration": {"zero": zero, "per_unit": per_unit}}));
        hands.act("zero").unwrap();
        hands.act(&format!("put {weight}")).unwrap();
        hands.reads();
        hands.act(&format!("span {weight}")).unwrap();
        hands.act("save").unwrap();
        prop_assert!((hands.with(f64::from(load)) - f64::from(load)).abs() < 0.011);
    }

    #[test]
    fn leaving_without_saving_changes_nothing(weight in 100u32..1_000, load in 1u32..1_000) {
        let mut hands = Hands::at(json!({"calibration": {"zero": 50_000, "per_unit": 404}}));
        let before = hands.with(f64::from(load));
        hands.act("clear").unwrap();
        hands.reads();
        hands.act("zero").unwrap();
        hands.act(&format!("put {weight}")).unwrap();
        hands.reads();
        hands.act(&format!("span {weight}")).unwrap();
        hands.act("quit").unwrap();
        prop_assert_eq!(hands.with(f64::from(load)), before);
    }

    #[test]
    fn a_factor_scales_every_reading_alike(factor in 0.95f64..1.05, load in 1u32..950) {
        let mut hands = Hands::at(json!({}));
        let before = hands.with(f64::from(load));
        hands.act(&format!("factor {factor}")).unwrap();
        prop_assert!((hands.reads() - before * factor).abs() < 0.02);
    }

    #[test]
    fn rocking_moves_weight_between_the_diagonals_and_not_in_the_middle(twist in 0.001f64..0.05, load in 50u32..300) {
        let cells = json!([{"x": 0, "y": 0}, {"x": 1, "y": 0}, {"x": 1, "y": 1}, {"x": 0, "y": 1}]);
        let mut platform = serde_json::to_value(settings(json!({})).platform).unwrap();
        platform["cells"] = cells;
        platform["around"] = json!({"twist": twist});
        let mut hands = Hands::at(json!({"platform": platform}));
        let mut at = |x: f64, y: f64| {
            hands.act("clear").unwrap();
            hands.reads();
            hands.act(&format!("put {load} at {x} {y}")).unwrap();
            hands.reads() - f64::from(load)
        };
        let (one, other, middle) = (at(0.25, 0.25), at(0.75, 0.25), at(0.5, 0.5));
        prop_assert!(middle.abs() < 0.011 && (one + other).abs() < 0.03 && one > 0.0, "{one} {other} {middle}");
    }
}

#[test]
fn the_same_file_plays_the_same_twice_whatever_is_done_to_it() {
    let run = || {
        let mut hands = Hands::at(
            json!({"platform": {"dead_counts": 50_000, "counts_per_kg": 400, "noise_counts": 30, "swing_hz": 2, "damping": 0.2, "stop_kg": 2_000, "around": {"air_counts": 9, "cable_counts": 50}}}),
        );
        ["put 300", "push", "take 100", "clear"].map(|line| {
            hands.act(line).unwrap();
            hands.0.tick(0.1)
        })
    };
    assert_eq!(run(), run());
}
