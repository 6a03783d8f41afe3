//! Laws of what is entered without the server and comes home: the same entries where nobody else entered anything, in
//! whatever parts they come, and nothing lost where somebody did. And of a port's text: however it is cut up.

use std::collections::BTreeSet;

use ombret_core::assessment::Around;
use ombret_core::job::drafts;
use ombret_core::job::{Author, Draft, Journal, bring, whole};
use ombret_core::journal::entries;
use ombret_core::journal::{Body, Direction, Needs, ReadStage, Sealed, Signer, Silence, media_of};
use ombret_core::offline::Offline;
use proptest::prelude::*;
use serde_json::{Value, json};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::journal::sheet;

const JOB: Uuid = Uuid::from_u128(1);
const EBBA: Uuid = Uuid::from_u128(7);
const SIGNE: Uuid = Uuid::from_u128(8);

fn author(entry: u128, by: Uuid) -> Author {
    let at = OffsetDateTime::UNIX_EPOCH + Duration::seconds(i64::try_from(entry).unwrap());
    Author { entry: Uuid::from_u128(1_000 + entry), at, by: Signer { id: by, name: by.to_string() } }
}

fn begun() -> Journal {
    let body = Body::Started(entries::Started { sheet: Box::new(sheet(json!({}))), before: None });
    Journal::begin(JOB, body, author(0, EBBA)).unwrap()
}

/// Something that is always taken, by its number.
fn draft(kind: u8, n: u128) -> Draft {
    if kind == 0 {
        Draft::Remarked(drafts::RemarkedDraft { text: format!("remark {n}") })
    } else {
        Draft::reading(
            ReadStage::AsFound,
            &format!("{}", u128::from(kind) * 10),
            &format!("{}", u128::from(kind) * 10),
            Direction::Up,
        )
    }
}

fn enter(journal: &mut Journal, kind: u8, n: u128, by: Uuid) {
    let silent = Err(Silence::not_connected());
    journal.append(draft(kind, n), &Around::only(&silent), author(n, by)).unwrap();
}

fn anything(_: &Sealed, _: Needs) -> Result<(), ombret_core::Refusal> {
    Ok(())
}

proptest! {
    #[test]
    fn where_nobody_entered_anything_the_same_entries_come_home_in_whatever_parts(
        kinds in prop::collection::vec(0u8..5, 1..12), cuts in prop::collection::vec(0usize..12, 0..4),
    ) {
        let at_home = begun();
        let mut device = at_home.clone();
        for (n, kind) in kinds.iter().enumerate() {
            enter(&mut device, *kind, n as u128 + 1, EBBA);
        }
        let made = device.sealed_after(1);
        prop_assert!(whole(JOB, &made).is_ok() && whole(JOB, &device.sealed_after(0)).is_ok());
        let (mut there, mut from) = (at_home, 0);
        let mut cuts: Vec<usize> = cuts.into_iter().map(|c| c.min(made.len())).chain([made.len()]).collect();
        cuts.sort_unstable();
        for to in cuts {
            // Each part overlaps the one before it: what is known is passed over.
            let brought = bring(&there, &made[from.min(to)..to], EBBA, anything);
            prop_assert!(brought.left.is_none() && brought.between == 0);
            brought.taken.into_iter().for_each(|sealed| there.push(sealed));
            from = from.max(to.saturating_sub(1));
        }
        prop_assert_eq!(there.head(), device.head());
        let again = bring(&there, &made, EBBA, anything);
        prop_assert_eq!((again.taken.len(), again.known), (0, made.len()));
    }

    #[test]
    fn where_somebody_did_nothing_is_lost_and_the_order_stays(
        own in prop::collection::vec(0u8..5, 1..10), others in prop::collection::vec(0u8..5, 1..6), refused in 0usize..12,
    ) {
        let mut there = begun();
        let mut device = there.clone();
        for (n, kind) in own.iter().enumerate() {
            enter(&mut device, *kind, n as u128 + 1, EBBA);
        }
        for (n, kind) in others.iter().enumerate() {
            enter(&mut there, *kind, n as u128 + 500, SIGNE);
        }
        let made = device.sealed_after(1);
        let bad = made.get(refused).map(|s| s.entry.id);
        let may = |sealed: &Sealed, _: Needs| match bad {
            Some(bad) if sealed.entry.id == bad => Err(ombret_core::Refusal::because("no", "no".into())),
            _ => Ok(()),
        };
        let brought = bring(&there, &made, EBBA, may);
        let ids = |all: &[Sealed]| all.iter().map(|s| s.entry.id).collect::<Vec<_>>();
        let left = brought.left.as_ref().map(|(left, _)| ids(left)).unwrap_or_default();
        prop_assert_eq!([ids(&brought.taken), left].concat(), ids(&made));
        prop_assert_eq!(brought.between, others.len());
        prop_assert_eq!(brought.taken.len(), made.len().min(refused));
        for (taken, as_made) in brought.taken.iter().zip(&made) {
            prop_assert_eq!(&taken.entry.body, &as_made.entry.body);
        }
        brought.taken.into_iter().for_each(|sealed| there.push(sealed));
        prop_assert!(whole(JOB, &there.sealed_after(0)).is_ok());
    }

    #[test]
    fn one_byte_that_was_changed_or_an_entry_that_is_missing_shows(kinds in prop::collection::vec(0u8..5, 3..9), at in 0usize..8) {
        let mut device = begun();
        for (n, kind) in kinds.iter().enumerate() {
            enter(&mut device, *kind, n as u128 + 1, EBBA);
        }
        let all = device.sealed_after(0);
        let at = at % all.len();
        let mut changed = all.clone();
        changed[at].entry.by.name.push('x');
        prop_assert!(whole(JOB, &changed).is_err());
        let mut missing = all.clone();
        missing.remove(at);
        prop_assert_eq!(whole(JOB, &missing).is_err(), at != all.len() - 1 && at != 0);
        prop_assert!(whole(SIGNE, &all).is_err(), "of another job");
    }

    #[test]
    fn a_port_reads_the_same_however_its_text_is_cut_up(cuts in prop::collection::btree_set(0usize..400, 0..40)) {
        let text: String = (0..20).map(|n| format!("ST {}.0 kg\r\n", n * 10)).collect();
        let pattern = json!({"pattern": "^(?P<mark>\\S+) (?P<value>-?[0-9.]+) (?P<unit>kg)$", "steady": "ST"});
        let shown = |parts: &[&str]| -> Value {
            let mut core = Offline::default();
            let mut ask = |question: Value| -> Value { serde_json::from_str(&core.answer(&question.to_string())).unwrap() };
            let entries = begun().sealed_after(0);
            assert!(ask(json!({"ask": "open", "job": JOB, "entries": entries})).get("ok").is_some());
            assert!(ask(json!({"ask": "port_open", "port": "p", "pattern": pattern})).get("ok").is_some());
            for part in parts {
                ask(json!({"ask": "port_heard", "port": "p", "text": part, "at_s": 1.0}));
            }
            ask(json!({"ask": "port_view", "port": "p", "job": JOB, "now_s": 1.5}))
        };
        let cuts: BTreeSet<usize> = cuts.into_iter().filter(|c| *c < text.len()).chain([0, text.len()]).collect();
        let edges: Vec<usize> = cuts.into_iter().collect();
        let parts: Vec<&str> = edges.windows(2).map(|w| &text[w[0]..w[1]]).collect();
        let whole = shown(&[&text]);
        prop_assert_eq!(&whole["ok"]["shown"], "190.0 kg");
        prop_assert_eq!(shown(&parts), whole);
    }
}

#[test]
fn a_file_is_what_its_bytes_say_and_no_larger_than_it_may_be() {
    assert_eq!(media_of(9, b"%PDF-1.7 x"), Ok("application/pdf"));
    assert_eq!(media_of(9, b"\xff\xd8\xff\xe0"), Ok("image/jpeg"));
    for (size, head) in [(9, b"<svg/>".as_slice()), (0, b"%PDF-"), (5 << 20, b"%PDF-"), (9, b"%PD")] {
        assert_eq!(media_of(size, head).unwrap_err().field.as_deref(), Some("file"));
    }
}

#[test]
fn what_the_core_does_not_know_or_cannot_read_is_said_and_brings_it_down_nowhere() {
    let mut core = Offline::default();
    let mut ask = |question: &str| -> Value { serde_json::from_str(&core.answer(question)).unwrap() };
    assert_eq!(ask(&json!({"ask": "assess", "job": JOB}).to_string()), json!({"unknown": "job"}));
    assert_eq!(
        ask(&json!({"ask": "port_view", "port": "p", "job": JOB, "now_s": 0}).to_string()),
        json!({"unknown": "job"})
    );
    for broken in ["", "{}", "{\"ask\": \"what\"}", "[1", "{\"ask\": \"open\", \"job\": 5}"] {
        assert!(ask(broken).get("broken").is_some(), "{broken}");
    }
    assert!(ask(&json!({"ask": "open", "job": JOB, "entries": []}).to_string())["broken"].as_str().is_some());
    let port = json!({"ask": "port_open", "port": "p", "pattern": {"pattern": "(", "steady": ""}});
    assert_eq!(ask(&port.to_string())["refused"]["code"], "bad_device");
}
