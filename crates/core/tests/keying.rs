//! Profiles, keying sheets and the virtual indicator: for any plan that a profile can take, typing
//! the sheet leaves the virtual indicator in exactly the planned state; for any other, the sheet is
//! refused.

use crate::keyed::{dec, demo, planned, profile};
use ombret_core::keying::{
    Act, Circumstances, KeyPhase, KeyingPlan, KeyingSheet, Machine, Meaning, OperatingSettings, PadPlan,
    Profile, RangeMode, Values, keying_sheet, look_up, read_profile,
};
use ombret_core::quantity::{Decimal, Mass, Unit};
use proptest::prelude::*;
use std::collections::BTreeMap;

const NAMES: [&str; 8] = [
    "korrin-p4",
    "sollen-k2",
    "brant-duo",
    "aurel-vista",
    "tamsin-g",
    "halvard-quad",
    "perrow-hand",
    "ostrand-loop",
];

fn plan(unit: Unit, max: &str, d: &str, weights: &[&str]) -> KeyingPlan {
    let weights = weights.iter().map(|w| Mass::new(dec(w), unit)).collect();
    KeyingPlan {
        unit,
        max: dec(max),
        d: dec(d),
        mode: RangeMode::Single,
        fine: None,
        gravity: None,
        factor: None,
        operating: OperatingSettings::default(),
        pads: vec![PadPlan { weights }],
    }
}

fn typed<'a>(profile: &'a Profile, sheet: &KeyingSheet, from: &Values) -> Machine<'a> {
    let mut machine = Machine::new(profile, from.clone());
    for step in &sheet.steps {
        for act in &step.acts {
            machine.act(act);
        }
    }
    machine
}

/// Some values that an indicator may hold when somebody comes to it.
fn held(profile: &Profile, seed: &[u8]) -> Values {
    let mut dice = seed.iter().cycle().copied();
    let mut values = profile.untouched();
    for (slot, text) in &mut values {
        let of = |at: &usize| profile.slot(*at, slot.pad) == *slot;
        let Some(p) = (0..profile.parameters.len()).find(of).map(|at| &profile.parameters[at]) else {
            continue;
        };
        let roll = usize::from(dice.next().unwrap_or(0));
        *text = match p.options.get(roll % p.options.len().max(1)) {
            Some(option) if p.typed => {
                format!("{:0>width$}", option.shows, width = usize::from(p.digits.unwrap_or(1)))
            }
            Some(option) => option.shows.clone(),
            None if p.with_point || p.least.is_some() || p.most.is_some() => text.clone(),
            None => text.chars().map(|_| char::from(b'0' + dice.next().unwrap_or(0) % 10)).collect(),
        };
    }
    values
}

/// A plan that the profile can take, whatever the dice say.
fn possible(name: &str, a: u32, b: u32, c: u32) -> KeyingPlan {
    let pick = |list: &[&str], roll: u32| list[usize::try_from(roll).unwrap() % list.len()].to_owned();
    let times = |d: &str, n: u32| (&dec(d) * &Decimal::from(n)).to_string();
    let share = |max: &str, d: &str, roll: u32| {
        times(
            d,
            dec(max)
                .quotient(&dec(d))
                .unwrap()
                .to_u64()
                .unwrap()
                .try_into()
                .map_or(1, |n: u32| n / 4 + roll % (n / 2)),
        )
    };
    let (unit, d, n): (Unit, String, u32) = match name {
        "korrin-p4" => (
            [Unit::G, Unit::Kg, Unit::T, Unit::Lb][(a % 4) as usize],
            pick(&["0.001", "0.02", "0.5", "2", "50"], b),
            100 + c % 900,
        ),
        "sollen-k2" => (
            [Unit::G, Unit::Kg, Unit::Lb, Unit::Oz][(a % 4) as usize],
            pick(&["0.001", "0.02", "0.5", "2", "50"], b),
            100 + c % 900,
        ),
        "brant-duo" => (
            [Unit::Kg, Unit::Lb][(a % 2) as usize],
            pick(&["0.001", "0.002", "0.005", "0.01", "0.02", "0.1"], b),
            100 + c % 300,
        ),
        "aurel-vista" => {
            ([Unit::Kg, Unit::T, Unit::Lb][(a % 3) as usize], pick(&["0.01", "0.5", "5"], b), 100 + c % 900)
        }
        "tamsin-g" => ([Unit::Kg, Unit::T][(a % 2) as usize], pick(&["0.1", "0.2", "0.5"], b), 100 + c % 900),
        "halvard-quad" => {
            ([Unit::Kg, Unit::Lb][(a % 2) as usize], pick(&["1", "2", "5", "10"], b), 100 + c % 900)
        }
        "perrow-hand" => (Unit::G, "0.1".into(), 8000),
        _ => (Unit::Kg, pick(&["0.01", "0.2", "5"], b), 100 + c % 900),
    };
    let max = times(&d, n);
    let weight = match name {
        "perrow-hand" => pick(&["50", "100", "200", "500"], c),
        _ => share(&max, &d, c),
    };
    let mut made = plan(unit, &max, &d, &[&weight]);
    match name {
        "sollen-k2" if c.is_multiple_of(3) => {
            made.mode = RangeMode::MultiInterval;
            made.fine = Some((dec(&times(&d, n / 2)), dec(&d)));
            made.d = &dec(&d) * &dec("2");
            made.max = &made.d * &Decimal::from(n);
            made.pads[0].weights.push(Mass::new(made.max.clone(), unit));
        }
        "halvard-quad" => {
            let pad = made.pads[0].clone();
            made.pads = vec![pad; (b % 4 + 1) as usize];
        }
        // Its field for weights ends below a hundred tonnes.
        "tamsin-g" if unit == Unit::T => {
            made.pads[0].weights = vec![Mass::new(made.max.clone().min(dec("99")), Unit::T)]
        }
        "korrin-p4" | "aurel-vista" if b.is_multiple_of(2) => made.gravity = Some(dec("9.81734")),
        "ostrand-loop" => {
            made.pads[0].weights.clear();
            made.factor = Some(Decimal::new(i64::from(60_000 + c % 100_000), 5));
        }
        _ => {}
    }
    // How it behaves in use: entered, or left as it is.
    match name {
        "korrin-p4" if c.is_multiple_of(2) => {
            made.operating = OperatingSettings {
                automatic_zero: Some(dec(&pick(&["0", "5", "20"], a))),
                zero_tracking: Some(dec(&pick(&["0", "0.5", "1"], b))),
                start_unit: Some([Unit::Kg, Unit::Lb][(a % 2) as usize]),
                filter: Some(Decimal::from(c % 10)),
            }
        }
        "brant-duo" if c.is_multiple_of(2) => made.operating.filter = Some(Decimal::from(1 + b % 3)),
        _ => {}
    }
    made
}

proptest! {
    #[test]
    fn typing_the_sheet_leaves_exactly_the_planned_state(which in 0usize..8, a in any::<u32>(), b in any::<u32>(), c in any::<u32>(), seed in proptest::collection::vec(any::<u8>(), 1..40)) {
        let name = NAMES[which];
        let profile = profile(name);
        let plan = possible(name, a, b, c);
        let from = held(&profile, &seed);
        let sheet = keying_sheet(&profile, &plan, &from).unwrap_or_else(|cannot| panic!("{name} {plan:?}: {cannot:?}"));
        let machine = typed(&profile, &sheet, &from);
        prop_assert_eq!(machine.kept(), &planned(&profile, &plan, &from), "{}: {:#?}", name, sheet.steps);
        prop_assert!(machine.weighs() && !machine.zero_under_load(), "{}", name);
        prop_assert!(sheet.presses <= sheet.naive);
    }

    #[test]
    fn what_the_sheet_says_the_display_shows_is_what_it_shows(which in 0usize..8, a in any::<u32>(), b in any::<u32>(), c in any::<u32>()) {
        let profile = profile(NAMES[which]);
        let from = profile.untouched();
        let sheet = keying_sheet(&profile, &possible(NAMES[which], a, b, c), &from).unwrap();
        let mut machine = Machine::new(&profile, from);
        for step in &sheet.steps {
            let mut acts = step.acts.iter();
            for shown in &step.moves {
                prop_assert_eq!(machine.display(), shown.shows.clone());
                let count: usize = shown.presses.iter().map(|p| p.times).sum();
                acts.by_ref().take(count).for_each(|act| machine.act(act));
                prop_assert_eq!(machine.display(), shown.then.clone());
            }
        }
    }

    #[test]
    fn a_plan_outside_the_limits_is_refused_and_says_what_can_be_entered(which in 0usize..8, fault in 0usize..5, a in any::<u32>(), b in any::<u32>(), c in any::<u32>()) {
        let name = NAMES[which];
        let profile = profile(name);
        let mut plan = possible(name, a, b, c);
        let about = match fault {
            0 => { plan.unit = Unit::Mg; Meaning::Unit }
            1 => { plan.pads = vec![PadPlan::default(); 5]; Meaning::Pads }
            2 => { plan.mode = RangeMode::ByHand; plan.fine = Some((plan.d.clone(), plan.d.clone())); Meaning::RangeMode }
            3 if !plan.pads[0].weights.is_empty() => { plan.pads[0].weights = vec![Mass::new(&plan.max * &dec("3"), plan.unit)]; Meaning::SpanWeight }
            _ => { plan.pads[0].weights = vec![Mass::new(dec("1"), plan.unit); 4]; Meaning::Points }
        };
        let cannot = keying_sheet(&profile, &plan, &profile.untouched()).unwrap_err();
        prop_assert!(cannot.iter().any(|c| c.what == about && !c.says.is_empty()), "{} {:?}: {:?}", name, about, cannot);
    }

    #[test]
    fn the_virtual_indicator_takes_any_key_at_any_time(which in 0usize..8, rolls in proptest::collection::vec(any::<u8>(), 0..120)) {
        let profile = profile(NAMES[which]);
        let mut machine = Machine::new(&profile, profile.untouched());
        let mut keys: Vec<String> = profile.keys.keys().cloned().collect();
        keys.extend(('0'..='9').map(String::from));
        for roll in rolls {
            let view = machine.view();
            let all: Vec<String> = keys.iter().chain(&view.buttons).cloned().collect();
            let key = all[usize::from(roll) % all.len()].clone();
            machine.act(&match roll {
                0..=3 => Act::PowerOff,
                4..=7 => Act::PowerOn,
                8..=15 => Act::HoldAtPowerOn { key },
                16..=23 => Act::Switch { on: roll % 2 == 0 },
                24..=27 => Act::Button,
                28..=31 => Act::Load { what: "50 kg".into() },
                32..=35 => Act::Unload,
                _ => Act::Key { key },
            });
        }
        // Nothing is kept that no parameter of the profile has.
        let known = profile.untouched();
        let captures = |slot: &ombret_core::keying::Slot| slot.meaning.is_capture();
        prop_assert!(machine.kept().keys().all(|slot| known.contains_key(slot) || captures(slot)));
    }

    #[test]
    fn any_text_is_answered_with_a_profile_or_with_lines(text in "(?s).{0,400}") {
        if let Err(problems) = read_profile(&text) {
            prop_assert!(!problems.is_empty());
            prop_assert!(problems.iter().all(|p| (1..=text.lines().count() + 1).contains(&p.line)));
        }
    }
}

#[test]
fn what_ombret_does_not_know_is_stepped_over_or_answered_as_the_profile_says() {
    let profile = profile("brant-duo");
    let plan = plan(Unit::Kg, "60", "0.02", &["50"]);
    let tasks = profile.tasks(&plan).unwrap();
    let other: Vec<&str> = tasks
        .iter()
        .filter(|t| profile.parameters[t.parameter].meaning == Meaning::Other)
        .map(|t| t.text.as_str())
        .collect();
    assert_eq!(other, ["2"]);
    let mut asked = plan;
    asked.operating.zero_tracking = Some(dec("0.5"));
    let cannot = profile.tasks(&asked).unwrap_err();
    assert_eq!(cannot[0].what, Meaning::ZeroTracking);
}

#[test]
fn an_answer_belongs_to_an_unknown_item_and_must_fit_it() {
    let text = demo("brant-duo");
    for (from, to, says) in [
        (
            "label = \"full?\"",
            "label = \"full?\"\nanswer = \"60\"",
            "an answer is for an item that means other",
        ),
        ("answer = \"2\"", "answer = \"two\"", "“two” is no number"),
        ("label = \"lamp?\"", "label = \"lamp?\"\nanswer = \"1\"", "it needs options, or digits"),
    ] {
        let problems = read_profile(&text.replace(from, to)).unwrap_err();
        assert!(problems.iter().any(|p| p.says.to_string().contains(says)), "{says}: {problems:?}");
    }
}

#[test]
fn every_demo_profile_is_read_and_goes_round_through_toml() {
    for name in NAMES {
        let profile = profile(name);
        let again = read_profile(&toml::to_string(&profile).unwrap()).unwrap();
        assert_eq!(profile, again, "{name}");
    }
}

/// Puts one line of a profile in another's place and gives the problems that come of it.
fn spoiled(name: &str, line: &str, by: &str) -> Vec<(usize, String)> {
    let text = demo(name);
    assert!(text.contains(line), "{name} has no line {line}");
    let at = text.find(line).map(|byte| text[..byte].matches('\n').count() + 1).unwrap();
    let text = text.replacen(line, by, 1);
    let problems = read_profile(&text).unwrap_err();
    assert!(
        problems.iter().any(|p| p.line.abs_diff(at) <= by.matches("\n").count() + 4),
        "{by}: expected near line {at}: {problems:?}"
    );
    problems.into_iter().map(|p| (p.line, p.says.to_string())).collect()
}

#[test]
fn what_is_wrong_with_a_profile_is_told_with_its_line() {
    let said = |problems: Vec<(usize, String)>, text: &str| {
        assert!(problems.iter().any(|(_, says)| says.contains(text)), "{text}: {problems:?}")
    };
    said(spoiled("korrin-p4", "meaning = \"max\"", "meaning = \"tare\""), "is not known here");
    said(spoiled("sollen-k2", "code = \"12\"", "code = \"11\""), "given to “Unit” already");
    said(spoiled("tamsin-g", "digits = 5\nleast", "digits = 3\nleast"), "3 digits cannot hold 10000");
    said(
        spoiled("aurel-vista", "label = \"Scale\"", "label = \"Scale\"\ninside = \"figures\""),
        "lies in itself",
    );
    said(
        spoiled("korrin-p4", "text = \"SHAKES\"\nmeaning = \"motion\"", "text = \"SHAKES\""),
        "“meaning” is missing here",
    );
    said(
        spoiled("aurel-vista", "says = \"The adjustment is taken and not kept yet.\"", "says = \"\""),
        "say what",
    );
    said(spoiled("korrin-p4", "up = \"up\"", "up = \"upp\""), "there is no key “upp”");
    said(spoiled("brant-duo", "right = \"shift\"", ""), "not every digit can be reached");
    said(
        spoiled("korrin-p4", "way_in]]\nact = \"switch\"", "way_in]]\nact = \"knock\""),
        "is not known here",
    );
    said(
        spoiled(
            "halvard-quad",
            "inside = \"setting\"\noptions = [{ is = \"kg\"",
            "inside = \"cellar\"\noptions = [{ is = \"kg\"",
        ),
        "no group “cellar”",
    );
    said(
        spoiled("sollen-k2", "with_point = true\nleast", "with_point = 7\nleast"),
        "something of another kind belongs here",
    );
    let long = format!("{}\n# {}", demo("korrin-p4"), "x".repeat(70_000));
    assert!(read_profile(&long).unwrap_err()[0].says.to_string().contains("at most 65536 bytes"));
}

#[test]
fn the_fewest_presses_are_far_fewer_and_the_switch_goes_back_before_the_weight_comes_off() {
    let profile = profile("korrin-p4");
    let plan = plan(Unit::Kg, "870", "0.2", &["600"]);
    let sheet = keying_sheet(&profile, &plan, &profile.untouched()).unwrap();
    assert!(sheet.presses * 3 < sheet.naive * 2, "{} against {}", sheet.presses, sheet.naive);
    let max = sheet.steps.iter().find(|s| s.title == "Max 870 kg").unwrap();
    assert_eq!(max.moves.iter().map(|m| m.then.as_str()).collect::<Vec<_>>(), ["000000", "008700", "A5 Gra"]);
    let save = sheet.steps.iter().find(|s| s.phase == KeyPhase::Save).unwrap();
    assert!(save.platform.as_ref().unwrap().to_string().contains("stays on"));
    assert_eq!(save.acts, [Act::Switch { on: false }]);
    // Taking the weight off first loses the span, as the sheet warns.
    let mut machine = Machine::new(&profile, profile.untouched());
    for step in sheet.steps.iter().filter(|s| s.phase != KeyPhase::Save) {
        step.acts.iter().for_each(|act| machine.act(act));
    }
    machine.act(&Act::Unload);
    machine.act(&Act::Switch { on: false });
    assert!(!machine.kept().iter().any(|(slot, _)| slot.meaning == Meaning::Span));
}

#[test]
fn a_jump_is_taken_where_it_is_shorter_and_the_plug_throws_away_what_is_not_kept() {
    let profile = profile("sollen-k2");
    let plan = plan(Unit::Kg, "34", "0.02", &["30"]);
    let sheet = keying_sheet(&profile, &plan, &profile.untouched()).unwrap();
    let zero = sheet.steps.iter().find(|s| s.phase == KeyPhase::Zero).unwrap();
    assert_eq!(
        zero.moves[0].presses.iter().map(|p| p.cap.to_string()).collect::<Vec<_>>(),
        ["№", "2", "1", "✓"]
    );
    let mut machine = Machine::new(&profile, profile.untouched());
    let before_save = sheet.steps.iter().filter(|s| s.phase != KeyPhase::Save);
    before_save.for_each(|step| step.acts.iter().for_each(|act| machine.act(act)));
    machine.act(&Act::PowerOff);
    assert_eq!(machine.kept(), &profile.untouched());
}

#[test]
fn kg_only_weights_on_a_pound_scale_are_asked_for_in_kg() {
    let profile = profile("tamsin-g");
    let pounds = plan(Unit::Lb, "1000", "0.5", &["500"]);
    let cannot = keying_sheet(&profile, &pounds, &profile.untouched()).unwrap_err();
    let weight = cannot.iter().find(|c| c.what == Meaning::SpanWeight).unwrap();
    assert_eq!(weight.nearest.as_ref().map(ToString::to_string).as_deref(), Some("226.8 kg"));
    let mut fits = pounds;
    fits.pads[0].weights = vec![Mass::new(dec("200"), Unit::Kg)];
    let sheet = keying_sheet(&profile, &fits, &profile.untouched()).unwrap();
    assert!(
        sheet
            .steps
            .iter()
            .any(|s| s.title == "Span weight 200 kg" && s.moves.iter().any(|m| m.then == "002000"))
    );
    fits.pads[0].weights = vec![Mass::new(dec("40"), Unit::Kg)];
    let cannot = keying_sheet(&profile, &fits, &profile.untouched()).unwrap_err();
    assert!(cannot[0].says.to_string().contains("wants 10 % of Max"), "{cannot:?}");
}

#[test]
fn messages_are_looked_up_and_the_likely_ones_come_first() {
    let profile = profile("korrin-p4");
    let light = Circumstances { weight_share: Some(0.04), ..Circumstances::default() };
    let all = look_up(&profile, "", &light);
    assert_eq!(
        (all[0].text.as_str(), all[0].because.as_ref().map(ToString::to_string)),
        ("LIGHT", Some("the span weight is only 4 % of Max".to_owned()))
    );
    assert_eq!(all.len(), profile.messages.len());
    let moving = look_up(&profile, "", &Circumstances { moving: true, ..Circumstances::default() });
    assert!(moving[..2].iter().any(|m| m.text == "SHAKES"));
    assert_eq!(look_up(&profile, "sig hi", &light)[0].text, "SIG HI");
    assert!(look_up(&profile, "nothing of the sort", &light).is_empty());
    // Every message says what it means and what to do.
    for name in NAMES {
        let told: BTreeMap<String, (String, String)> = look_up(&self::profile(name), "", &light)
            .into_iter()
            .map(|m| (m.text, (m.says.to_string(), m.then.to_string())))
            .collect();
        assert!(told.values().all(|(says, then)| !says.is_empty() && !then.is_empty()), "{name}: {told:?}");
    }
}

/// An indicator on which numbers are turned as a whole.
const TURNED: &str = r#"
format = "ombret.profile"
version = 1
name = "Quill W2"
[keys]
up = "▲"
down = "▼"
ok = "✔"
out = "✖"
[[way_in]]
act = "press"
keys = ["out", "ok"]
[menu]
style = "list"
next = "up"
previous = "down"
open = "ok"
leave = "out"
round = true
[number]
style = "whole"
up = "up"
down = "down"
round = true
starts = "value"
confirm = "ok"
[choice]
next = "up"
previous = "down"
round = true
confirm = "ok"
[save]
how = "leaving"
[[parameter]]
meaning = "unit"
label = "UnIt"
options = [{ is = "kg", shows = "kg" }, { is = "lb", shows = "lb" }]
[[parameter]]
meaning = "decimals"
label = "dEC"
options = [{ is = "0", shows = "0" }, { is = "1", shows = "0.0" }, { is = "2", shows = "0.00" }, { is = "3", shows = "0.000" }]
[[parameter]]
meaning = "count_by"
label = "StP"
options = [{ is = "1", shows = "1" }, { is = "2", shows = "2" }, { is = "5", shows = "5" }]
[[parameter]]
meaning = "max"
label = "toP"
digits = 4
[[parameter]]
meaning = "zero"
label = "nIL"
[[parameter]]
meaning = "span_weight"
label = "Lod"
digits = 4
[[parameter]]
meaning = "span"
label = "run"
"#;

#[test]
fn a_whole_number_is_held_until_it_is_there_and_turned_the_shorter_way() {
    let profile = read_profile(TURNED).unwrap_or_else(|problems| panic!("{problems:?}"));
    let plan = plan(Unit::Kg, "870", "0.2", &["600"]);
    let sheet = keying_sheet(&profile, &plan, &profile.untouched()).unwrap();
    let moves = |title: usize| &sheet.steps[title].moves;
    // Max, 8700 in last digits: 1300 down from zero, and the key that opens it is pressed once.
    let max = moves(4);
    let run = |at: usize| (max[at].presses[0].cap.to_string(), max[at].presses[0].times, max[at].until);
    assert_eq!(run(1), ("✔".into(), 1, false));
    assert_eq!(run(2), ("▼".into(), 1300, true));
    assert_eq!((max[2].shows.as_str(), max[2].then.as_str()), ("0000", "8700"));
    let mut machine = Machine::new(&profile, profile.untouched());
    for act in sheet.steps.iter().flat_map(|step| &step.acts) {
        machine.act(act);
    }
    machine.act(&Act::Unload);
    assert_eq!(machine.kept(), &planned(&profile, &plan, &profile.untouched()));
    // From one end to the other of more digits nobody turns.
    let wide = TURNED.replace("digits = 4", "digits = 5");
    let problems = read_profile(&wide).unwrap_err();
    assert_eq!(problems.len(), 2, "{problems:?}");
    // Only upwards, and not round: most numbers are never come to.
    let one_way = TURNED.replace("up = \"up\"\ndown = \"down\"\nround = true", "up = \"up\"");
    assert_ne!(one_way, TURNED);
    assert!(read_profile(&one_way).is_err());
}
