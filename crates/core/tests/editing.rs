//! Profiles that are changed, compared and put together.

use ombret_core::keying::{
    Message, MessageMeaning, Part, Profile, compare, read_profile, rewrite_profile, with_parts, write_profile,
};
use proptest::prelude::*;
use proptest::sample::select;

use crate::keyed::{demo, profile};

const DEMO: [&str; 8] = [
    "aurel-vista",
    "brant-duo",
    "halvard-quad",
    "korrin-p4",
    "ostrand-loop",
    "perrow-hand",
    "sollen-k2",
    "tamsin-g",
];

/// The profile that a text says, whether it is of use or not.
fn said(text: &str) -> Profile {
    toml::from_str(text).unwrap_or_else(|error| panic!("{error}\n{text}"))
}

/// A profile of the demo, with one thing or another changed.
fn changed() -> impl Strategy<Value = Profile> {
    (select(DEMO.to_vec()), any::<[u8; 6]>()).prop_map(|(name, [about, caution, label, gone, cap, text])| {
        let mut out = profile(name);
        if about % 2 == 0 {
            out.about = format!("{about}");
        }
        if caution % 3 == 0 {
            out.cautions.push(format!("Mind the {caution}"));
        }
        let (items, keys) = (out.parameters.len(), out.keys.len());
        out.parameters[usize::from(label) % items].label = format!("L\"{label}\\");
        if gone % 2 == 0 && items > 1 {
            out.parameters.remove(usize::from(gone) % items);
        }
        if gone % 3 == 0 {
            out.parameters.rotate_left(1);
        }
        *out.keys.get_index_mut(usize::from(cap) % keys).unwrap().1 = format!("<{cap}>");
        if text % 2 == 0 {
            out.messages.push(Message {
                text: format!("NEW {text}"),
                meaning: MessageMeaning::Motion,
                says: None,
                then: Some("Wait.".into()),
            });
        }
        out
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(192))]

    #[test]
    fn a_text_that_is_changed_says_exactly_what_was_wanted(from in select(DEMO.to_vec()), to in changed()) {
        let text = rewrite_profile(&demo(from), &to);
        prop_assert_eq!(said(&text), to.clone());
        prop_assert_eq!(said(&write_profile(&to)), to.clone());
        // And once more, from the changed text.
        prop_assert_eq!(said(&rewrite_profile(&text, &profile(from))), profile(from));
    }

    #[test]
    fn what_is_taken_over_differs_no_longer_and_nothing_else_is_new(
        here in changed(), there in changed(), chosen in any::<prop::sample::Index>(), seed in any::<u64>()
    ) {
        let all = compare(&here, &there);
        let parts: Vec<Part> = all.iter().map(|d| d.part.clone()).collect();
        // One part alone.
        if let Some(part) = (!parts.is_empty()).then(|| chosen.get(&parts)) {
            let left = compare(&with_parts(&here, &there, std::slice::from_ref(part)), &there);
            prop_assert!(left.iter().all(|d| d.part != *part), "{part:?} still differs: {left:?}");
        }
        // Some of them.
        let some: Vec<Part> = parts.iter().enumerate().filter(|(i, _)| (seed >> (i % 64)) & 1 == 1).map(|(_, p)| p.clone()).collect();
        let left = compare(&with_parts(&here, &there, &some), &there);
        prop_assert!(left.iter().all(|d| !some.contains(&d.part)), "{some:?}: {left:?}");
        // And everything.
        let left = compare(&with_parts(&here, &there, &parts), &there);
        prop_assert!(left.is_empty(), "{left:?}");
    }

    #[test]
    fn a_profile_differs_from_itself_in_nothing_whatever_its_keys_and_lists_are_named(of in changed()) {
        prop_assert!(compare(&of, &of).is_empty());
        let mut named = said(&write_profile(&of).replace("inside = \"", "inside = \"x").replace("\nid = \"", "\nid = \"x"));
        prop_assert!(compare(&of, &named).is_empty());
        named.keys.reverse();
        prop_assert!(compare(&of, &named).iter().all(|d| d.part == Part::Keys));
    }
}

#[test]
fn a_message_is_added_and_every_line_that_stood_there_stays() {
    for name in DEMO {
        let before = demo(name);
        let mut with = profile(name);
        with.messages.push(Message {
            text: "HOLD 5".into(),
            meaning: MessageMeaning::Other,
            says: Some("It waits for five seconds.".into()),
            then: None,
        });
        let after = rewrite_profile(&before, &with);
        assert_eq!(read_profile(&after).unwrap(), with, "{name}");
        let mut lines = after.lines();
        for line in before.lines().filter(|line| !line.trim().is_empty()) {
            assert!(lines.any(|l| l == line), "{name}: {line:?} is gone\n{after}");
        }
    }
}

#[test]
fn comments_stay_beside_what_did_not_change() {
    let text = "# mine\nformat = \"ombret.profile\" # of its own\n".to_owned()
        + &demo("korrin-p4").replace("format = \"ombret.profile\"\n", "");
    let mut changed = said(&text);
    changed.parameters[1].label = "other".into();
    let after = rewrite_profile(&text, &changed);
    assert!(after.starts_with("# mine\nformat = \"ombret.profile\" # of its own\n"), "{after}");
    let differ = text.lines().zip(after.lines()).filter(|(a, b)| a != b).count();
    assert_eq!((differ, text.lines().count()), (1, after.lines().count()), "{after}");
}

#[test]
fn one_item_that_differs_is_all_that_is_told() {
    let here = profile("korrin-p4");
    let mut there = here.clone();
    let at = there.parameters.iter().position(|p| p.digits.is_some()).unwrap();
    there.parameters[at].digits = Some(3);
    let told = compare(&here, &there);
    assert_eq!(told.len(), 1, "{told:?}");
    let fields: Vec<&str> = told[0].fields.iter().map(|f| f.field.as_str()).collect();
    assert_eq!(fields, ["digits"]);
    assert_eq!(told[0].fields[0].there, "3");
    assert_eq!(with_parts(&here, &there, &[told[0].part.clone()]), there);
}

#[test]
fn what_is_wrong_is_told_with_its_place() {
    let text = demo("korrin-p4");
    let mut bad = profile("korrin-p4");
    bad.parameters[2].label = " ".into();
    bad.messages.push(Message { text: String::new(), meaning: MessageMeaning::Done, says: None, then: None });
    let problems = read_profile(&rewrite_profile(&text, &bad)).unwrap_err();
    let places: Vec<String> = problems.iter().map(|p| p.at.clone()).collect();
    assert!(places.contains(&"parameter.2.label".to_owned()), "{places:?}");
    assert!(places.contains(&format!("message.{}.text", bad.messages.len() - 1)), "{places:?}");
}

#[test]
fn what_the_reader_of_toml_says_is_told_in_words() {
    let text = demo("korrin-p4");
    let wrong = [
        (text.replacen("meaning = \"zero\"", "meaning = \"tare\"", 1), "profile-no-such-value"),
        (text.replacen("round = true", "rund = true", 1), "profile-no-such-field"),
        (text.replacen("style = \"list\"\n", "", 1), "profile-a-field-is-missing"),
        (text.replacen("digits = 6", "digits = \"six\"", 1), "profile-of-another-kind"),
        (text.replacen("digits = 6", "digits = = 6", 1), "profile-not-understood-here"),
    ];
    for (text, told) in wrong {
        let problems = read_profile(&text).unwrap_err();
        assert_eq!(problems[0].says.key(), told, "{problems:?}");
        assert!(problems[0].line > 5, "{told}: line {}", problems[0].line);
    }
}
