//! What a job takes from its indicator's profile, and the ways of adjusting with steps of their own.

use ombret_core::assessment::{Act, AdjustLine, AdjustPart};
use ombret_core::job::drafts;
use ombret_core::job::{Draft, SetupDraft};
use ombret_core::journal::{CheckFinding, Direction, ReadStage};
use ombret_core::keying::{Profile, read_profile};
use ombret_core::quantity::{Decimal, Mass, Unit};
use ombret_core::scale::{ScaleSheet, inspection};
use proptest::prelude::*;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::journal::{Journal, read, set_up, sheet, typed};

fn profile(name: &str) -> Profile {
    let path = format!("{}/../../demo/profiles/{name}.toml", env!("CARGO_MANIFEST_DIR"));
    read_profile(&std::fs::read_to_string(path).unwrap()).unwrap()
}

fn with_profile(name: &str, other: Value) -> ScaleSheet {
    let mut made = sheet(other);
    let profile = profile(name);
    made.profile = Some(ombret_core::scale::ProfileRef {
        id: Uuid::from_u128(7),
        name: profile.name.clone(),
        facts: Some(Box::new(profile.facts())),
    });
    made
}

fn line(job: &Journal, part: AdjustPart) -> Option<String> {
    job.assessed().adjust.lines.into_iter().find(|l| l.part == part)?.figure.map(|f| f.to_string())
}

#[test]
fn the_digits_to_key_are_those_of_the_profiles_field_everywhere() {
    // Six digits on the sheet, five in the profile's field.
    let mut job = Journal::on(with_profile("brant-duo", json!({"plate_max": "60", "plate_d": "0.02"})));
    job.inspection();
    job.ok(set_up("60", "0.02"));
    assert_eq!(job.assessed().setup.judgement.max_digits, "06000");
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("41250"),
        pad: None,
        claim: Default::default(),
    }));
    job.ok(Draft::SpanChosen(drafts::SpanChosenDraft { weight: "50".into(), pad: None, with: Vec::new() }));
    assert_eq!(line(&job, AdjustPart::Digits).as_deref(), Some("05000"));
    // One span point is all that it takes.
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("241250"),
        pad: None,
        claim: Default::default(),
    }));
    assert_eq!(job.assessed().adjust.most_points, 1);
    let point = Draft::PointCaptured(drafts::PointCapturedDraft {
        weight: "20".into(),
        counts: typed("121250"),
        with: Vec::new(),
        pad: None,
    });
    let refused = job.add(point).unwrap_err();
    assert_eq!(
        (refused.code.as_str(), refused.message.to_string().as_str()),
        ("too_many", "this indicator takes 1 span point, zero not counted")
    );
}

proptest! {
    #[test]
    fn the_digits_of_a_span_weight_are_those_that_the_keying_sheet_enters(tens in 1i64..600) {
        let profile = profile("korrin-p4");
        let mut job = Journal::on(with_profile("korrin-p4", json!({})));
        job.inspection();
        job.set_up();
        job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft { counts: typed("41250"), pad: None, claim: Default::default() }));
        let weight = Mass::new(Decimal::new(tens * 2, 1), Unit::Kg);
        job.ok(Draft::SpanChosen(drafts::SpanChosenDraft { weight: weight.to_string(), pad: None, with: Vec::new() }));
        let state = job.state();
        let plan = ombret_core::assessment::keying_plan(&state, &state.setup_in_force().0, &[weight], None, Default::default());
        let tasks = profile.tasks(&plan).unwrap();
        let keyed = tasks.iter().find(|t| profile.parameters[t.parameter].meaning == ombret_core::keying::Meaning::SpanWeight).unwrap();
        prop_assert_eq!(line(&job, AdjustPart::Digits), Some(keyed.text.clone()));
    }
}

fn factor(load: &str, shown: &str) -> Draft {
    Draft::FactorSet(drafts::FactorSetDraft {
        factor: "1".into(),
        load: load.into(),
        shown: shown.into(),
        shown_zero: String::new(),
        decimals: String::new(),
        with: Vec::new(),
    })
}

#[test]
fn a_factor_has_the_decimals_of_its_field_and_shows_its_own_steps() {
    let mut job = Journal::on(with_profile("ostrand-loop", json!({})));
    job.inspection();
    job.set_up();
    let field = job.assessed().adjust.factor_field.unwrap();
    job.ok(factor("600", "594"));
    let lines = job.assessed().adjust.lines;
    let figure = |l: &AdjustLine| l.figure.as_ref().map_or_else(|| "–".to_owned(), ToString::to_string);
    let told: Vec<(String, String)> = lines.iter().map(|l| (l.label.to_string(), figure(l))).collect();
    let new = &told.iter().find(|(label, _)| label == "New factor").unwrap().1;
    let expected = Decimal::from(600u32).quotient(&Decimal::from(594u32)).unwrap();
    assert_eq!(*new, expected.round_to(i64::from(field.decimals.unwrap_or(0))).to_string());
    assert!(
        told.contains(&("Display shows with the load".into(), "594.0 kg".into()))
            && told.contains(&("Load".into(), "600 kg".into())),
        "{told:?}"
    );
    let digits = line(&job, AdjustPart::Digits).unwrap();
    assert_eq!(digits.len(), usize::from(field.digits), "{digits}");
    assert!(!told.iter().any(|(label, _)| *label == "Zero" || *label == "Span"), "{told:?}");
}

#[test]
fn an_indicator_without_a_factor_takes_none() {
    let mut job = Journal::on(with_profile("korrin-p4", json!({})));
    job.inspection();
    job.set_up();
    let Draft::FactorSet(drafts::FactorSetDraft { factor, load, shown, shown_zero, with, .. }) =
        factor("600", "594")
    else {
        unreachable!()
    };
    let draft = Draft::FactorSet(drafts::FactorSetDraft {
        factor,
        load,
        shown,
        shown_zero,
        with,
        decimals: "4".into(),
    });
    assert_eq!(job.refused(draft), "no_factor");
    assert!(job.assessed().adjust.no_factor);
}

/// A balance with an internal weight, adjusted by external ones before.
fn balance() -> Journal {
    let sheet = sheet(json!({
        "kind": "laboratory", "unit": "g", "plate_max": "220", "plate_d": "0.001",
        "tolerance": {"scheme": "r76_in_service", "class": "I"}
    }));
    let mut job = Journal::on(sheet);
    job.inspection();
    job.ok(Draft::SetUp(ombret_core::job::SetupDraft::new("220", "0.001", Unit::G)));
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: typed("1000"),
        pad: None,
        claim: Default::default(),
    }));
    job.ok(Draft::SpanChosen(drafts::SpanChosenDraft { weight: "200".into(), pad: None, with: Vec::new() }));
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: typed("4001000"),
        pad: None,
        claim: Default::default(),
    }));
    job.ok(Draft::AdjustmentSaved);
    job
}

#[test]
fn an_internal_weight_keeps_the_external_adjustment_tells_its_change_and_adjusts_itself() {
    let mut job = balance();
    assert_eq!(job.refused(Draft::SelfAdjusted), "no_internal");
    job.ok(Draft::InternalMatched(drafts::InternalMatchedDraft {
        internal: "200.0012".into(),
        load: "200".into(),
        shown: "200.002".into(),
        shown_zero: "0".into(),
        with: Vec::new(),
    }));
    let told = job.assessed();
    assert_eq!(told.adjust.earlier, ["saved at 200 g"]);
    let now = told.adjust.lines.iter().find(|l| l.label == "Internal weight now").unwrap();
    assert!(now.note.to_string().contains(" mg") && now.note.to_string().contains(" ppm"), "{now:?}");
    assert!(matches!(told.next.act, Act::LetItAdjust), "{:?}", told.next);
    job.ok(Draft::SelfAdjusted);
    let told = job.assessed();
    assert!(!told.adjust.awaits_itself);
    assert!(matches!(&told.next.act, Act::Read { item } if item.load.value.is_zero()), "{:?}", told.next);
    assert_eq!(job.refused(Draft::SelfAdjusted), "no_internal");
    // A reading before it adjusted itself proves nothing.
    let mut job = balance();
    job.ok(read(ReadStage::Test, "200", "200", Direction::Up));
    assert!(job.state().left[0].counts);
}

#[test]
fn a_seal_is_asked_for_where_one_belongs_and_a_missing_one_stops_nothing() {
    let items = |sheet: &ScaleSheet| inspection(sheet).map(|i| i.id.clone()).collect::<Vec<_>>();
    assert!(items(&sheet(json!({}))).contains(&"seal".to_owned()));
    assert!(!items(&sheet(json!({"trade": false}))).contains(&"seal".to_owned()));
    assert!(items(&sheet(json!({"trade": false, "seal_points": "cover"}))).contains(&"seal".to_owned()));
    let mut job = Journal::begin();
    let finding = |finding, note: &str| {
        Draft::LookedOver(drafts::LookedOverDraft {
            item: "seal".into(),
            finding,
            note: note.into(),
            cells: String::new(),
        })
    };
    assert_eq!(job.refused(finding(CheckFinding::Fault, "")), "note_needed");
    job.ok(finding(CheckFinding::Fault, "wire cut, lead gone"));
    job.inspection();
    job.set_up();
    job.adjust();
}

#[test]
fn the_cable_test_of_the_menu_is_asked_for_by_its_name() {
    let job = Journal::on(with_profile("korrin-p4", json!({})));
    let item = job.assessed().inspection.into_iter().find(|i| i.item == "cable_test").unwrap();
    assert!(item.look.to_string().contains("“C1 Lin”"), "{}", item.look);
    assert!(Journal::begin().assessed().inspection.iter().all(|i| i.item != "cable_test"));
}

#[test]
fn a_setup_that_is_not_fit_is_entered_only_for_a_reason_that_stays_and_never_where_it_contradicts_itself() {
    let with = |max: &str, d: &str, because: &str| {
        let mut typed = SetupDraft::new(max, d, Unit::Kg);
        typed.because = because.into();
        Draft::SetUp(typed)
    };
    let mut job = Journal::begin();
    job.inspection();
    // More than the plate allows.
    assert_eq!(job.refused(with("900", "0.2", "")), "setup_refused");
    assert_eq!(job.refused(with("870.1", "0.2", "the owner wants it")), "setup_refused");
    job.ok(with("900", "0.2", "new platform, its plate comes next week"));
    let told = job.assessed();
    assert!(
        told.reservations.iter().any(|r| r.to_string().contains("new platform")),
        "{:?}",
        told.reservations
    );
    // Where nothing is to be overruled no reason stays.
    job.ok(with("870", "0.2", "for nothing"));
    assert!(job.assessed().reservations.iter().all(|r| !r.to_string().contains("for nothing")));
}

#[test]
fn adjusted_elsewhere_is_a_caution_where_the_sheet_names_no_site() {
    use ombret_core::assessment::judge_setup;
    use ombret_core::grade::Grade;
    use ombret_core::scale::Check;
    let site = |latitude: &str| json!({"name": "Skarholm", "latitude": latitude, "altitude_m": "12"});
    let graded = |other: Value, typed: Value| {
        let job = Journal::on(sheet(other));
        let state = job.state();
        let mut draft = SetupDraft::new("870", "0.2", Unit::Kg);
        draft.adjusted_at = serde_json::from_value(typed).unwrap();
        let judged = judge_setup(&state, &draft.read().unwrap(), 1);
        judged.findings.into_iter().find(|f| f.check == Check::Gravity).and_then(|f| f.grade)
    };
    assert_eq!(graded(json!({}), site("58.2")), Some(Grade::Caution));
    assert_eq!(graded(json!({}), Value::Null), None);
    assert_eq!(graded(json!({"site": site("58.2")}), site("58.2")), Some(Grade::Sound));
}

#[test]
fn how_it_behaves_in_operation_is_refused_field_by_field_and_all_at_once() {
    let form = ombret_core::keying::OperatingSettingsForm {
        automatic_zero: "abc".into(),
        zero_tracking: "-1".into(),
        filter: "2,5".into(),
        start_unit: None,
    };
    let refused = form.read().unwrap_err();
    let fields: Vec<&str> =
        std::iter::once(&refused).chain(&refused.also).filter_map(|r| r.field.as_deref()).collect();
    assert_eq!(fields, ["automatic_zero", "zero_tracking"]);
    let empty = ombret_core::keying::OperatingSettingsForm::default().read().unwrap();
    assert_eq!(empty, ombret_core::keying::OperatingSettings::default());
}
