//! The one list of loads, and which readings tell how a scale is left.

use ombret_core::assessment::{ListedLoad, ListedPurpose, LoadStatus, loads_of, planned_for, with_plan};
use ombret_core::import::{Grid, Mapping, read_pieces};
use ombret_core::job::drafts;
use ombret_core::job::{Claim, Draft};
use ombret_core::journal::{CheckFinding, Direction, Outcome, Phase, ReadStage, Settlement};
use ombret_core::quantity::{Decimal, Mass, Unit};
use ombret_core::weights::{
    CheckLoad, Form, LoadReason, Piece, PlanChoices, WeightClass, fewest_pieces, near_enough, plan_check,
    round_figure,
};
use proptest::prelude::*;
use serde_json::json;
use time::Date;
use uuid::Uuid;

use crate::journal::{Journal, read, sheet};

const TODAY: Date = match Date::from_ordinal_date(2031, 40) {
    Ok(day) => day,
    Err(_) => Date::MIN,
};

fn piece(n: u128, kg: u32) -> Piece {
    serde_json::from_value(json!({
        "id": Uuid::from_u128(n), "serial": format!("P-{n}"), "nominal": {"value": kg.to_string(), "unit": "kg"},
        "class": WeightClass::M1, "form": Form::Block, "set": "", "place": "van", "holder": "", "damaged": false,
        "certificates": [{"number": format!("C-{n}"), "date": "2030-10-01", "due": "2032-10-01", "laboratory": "Isle Metrology"}],
    }))
    .unwrap()
}

/// 20 pieces of 20 kg, and small ones.
fn kit() -> Vec<Piece> {
    let twenty = (1..=44).map(|n| piece(n, 20));
    twenty.chain([piece(60, 10), piece(61, 5), piece(62, 2), piece(63, 2), piece(64, 1)]).collect()
}

fn listed(job: &Journal) -> Vec<ListedLoad> {
    listed_with(job, &kit())
}

fn listed_with(job: &Journal, kit: &[Piece]) -> Vec<ListedLoad> {
    let state = job.state();
    let (wants, targets) = planned_for(&state, Phase::AsLeft, None);
    let plan = plan_check(kit, TODAY, &PlanChoices::default(), &targets, &wants.inputs(&state));
    with_plan(&state, Phase::AsLeft, loads_of(&state, Phase::AsLeft), &plan, kit, TODAY)
}

fn next(list: &[ListedLoad]) -> &ListedLoad {
    list.iter().find(|l| l.status == LoadStatus::Next).unwrap()
}

#[test]
fn after_the_span_the_weight_that_stands_there_comes_first_and_unloading_is_never_told_to_load_again() {
    let mut job = Journal::adjusted(sheet(json!({})));
    let first = next(&listed(&job)).clone();
    assert_eq!((first.reason, first.load.to_string().as_str()), (LoadReason::SpanStillOn, "600 kg"));
    assert_eq!(job.assessed().next.says, "Leave 600 kg on and read it: it tests the span.");
    for (load, direction) in
        [("600", Direction::Up), ("0", Direction::Up), ("100", Direction::Up), ("870", Direction::Up)]
    {
        job.ok(read(ReadStage::Test, load, load, direction));
    }
    // Half of Max was passed over on the way up; coming down it is not asked for going up.
    let list = listed(&job);
    assert_eq!((next(&list).reason, next(&list).direction), (LoadReason::SameDecreasing, Direction::Down));
    let passed = list.iter().filter(|l| l.status == LoadStatus::Left && l.direction == Direction::Up);
    assert!(passed.filter(|l| l.purpose == ListedPurpose::Load).count() >= 1);
}

#[test]
fn a_load_counts_as_done_only_where_it_was_read_and_the_whole_list_leaves_nothing_missing() {
    let mut job = Journal::adjusted(sheet(json!({})));
    for item in listed(&job).into_iter().filter(|l| l.purpose == ListedPurpose::Load) {
        assert_ne!(item.status, LoadStatus::Done, "{item:?}");
        let load = item.load.value.to_string();
        assert!(near_enough(&item.load, &item.target), "{item:?}");
        job.ok(read(ReadStage::Test, &load, &load, item.direction));
    }
    let told = job.assessed();
    assert!(told.proof.lacks.is_empty(), "{:?}", told.proof.lacks);
    assert!(
        listed(&job)
            .iter()
            .filter(|l| l.purpose == ListedPurpose::Load)
            .all(|l| l.status == LoadStatus::Done)
    );
    assert_eq!(told.outcome, Outcome::InTolerance);
}

#[test]
fn what_the_program_asks_for_is_round_made_of_few_pieces_and_carried_down() {
    let job = Journal::adjusted(sheet(json!({})));
    let list = listed(&job);
    let loads: Vec<String> =
        list.iter().filter(|l| l.purpose == ListedPurpose::Load).map(|l| l.load.to_string()).collect();
    assert_eq!(loads, ["600 kg", "0 kg", "4 kg", "100 kg", "380 kg", "420 kg", "870 kg", "420 kg", "0 kg"]);
    let named = |direction: Direction| {
        let item = list.iter().find(|l| l.direction == direction && l.load.to_string() == "420 kg").unwrap();
        let mut ids: Vec<Uuid> = item.pieces.iter().map(|p| p.id).collect();
        ids.sort();
        ids
    };
    assert_eq!(named(Direction::Up).len(), 21);
    assert_eq!(named(Direction::Up), named(Direction::Down));
}

#[test]
fn what_goes_on_and_off_follows_from_what_stands_there() {
    let mut job = Journal::adjusted(sheet(json!({})));
    job.ok(read(ReadStage::Test, "600", "600", Direction::Up));
    job.ok(read(ReadStage::Test, "0", "0", Direction::Up));
    let list = listed(&job);
    let item = next(&list);
    assert_eq!(item.load.to_string(), "4 kg");
    assert_eq!((item.put.len(), item.take.len()), (2, 0));
}

#[test]
fn the_weight_that_still_stands_there_has_the_pieces_that_were_put_on() {
    let mut job = Journal::begin();
    job.inspection();
    job.set_up();
    job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
        counts: crate::journal::typed("41250"),
        pad: None,
        claim: Claim::default(),
    }));
    // 30 blocks of 20 kg, from the back of the kit.
    let pieces = kit();
    let with: Vec<Uuid> = pieces[14..44].iter().map(|p| p.id).collect();
    let state = job.state();
    let live = Err(ombret_core::journal::Silence::not_connected());
    let around = ombret_core::assessment::Around {
        kit: &pieces,
        day: TODAY,
        ..ombret_core::assessment::Around::only(&live)
    };
    let draft =
        Draft::SpanChosen(drafts::SpanChosenDraft { weight: "600".into(), pad: None, with: with.clone() });
    let body = ombret_core::job::interpret(&state, draft, &around).unwrap();
    job.push(body);
    job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
        counts: crate::journal::typed("241250"),
        pad: None,
        claim: Claim::default(),
    }));
    job.ok(Draft::AdjustmentSaved);
    let list = listed(&job);
    let first = next(&list);
    assert_eq!(first.reason, LoadReason::SpanStillOn);
    assert_eq!(first.pieces.iter().map(|p| p.id).collect::<Vec<_>>(), with);
    assert!(first.put.is_empty() && first.take.is_empty(), "nothing is lifted for it");
}

#[test]
fn the_same_load_twice_is_booked_only_when_that_is_meant() {
    let mut job = Journal::adjusted(sheet(json!({})));
    let once = |shown: &str, once: bool| match read(ReadStage::Test, "600", shown, Direction::Up) {
        Draft::Read(drafts::ReadDraft {
            stage,
            load,
            shown,
            direction,
            pad,
            with,
            overruled,
            detail,
            ..
        }) => Draft::Read(drafts::ReadDraft {
            stage,
            load,
            shown,
            direction,
            pad,
            with,
            overruled,
            once,
            detail,
        }),
        other => other,
    };
    job.ok(once("600", true));
    assert_eq!(job.refused(once("600.2", true)), "read_before");
    job.ok(once("600.2", false));
    assert_eq!(job.assessed().proof.readings.len(), 2);
}

/// The kit of the demo, on a day on which most of it is in date.
fn demo_kit() -> Vec<Piece> {
    let day = Date::from_ordinal_date(2026, 330).unwrap();
    let mut n = 0u128;
    let mut ids = || {
        n += 1;
        Uuid::from_u128(n)
    };
    let text = include_str!("../../../demo/kit.csv");
    let grid = Grid::of_text(text).unwrap();
    read_pieces(&grid, &Mapping::default(), Unit::Kg, day, &|_| false, &mut ids).items
}

#[test]
fn a_large_mixed_kit_gives_round_loads_of_its_own_unit() {
    let day = Date::from_ordinal_date(2026, 330).unwrap();
    let job = Journal::adjusted(sheet(json!({})));
    let state = job.state();
    let (wants, targets) = planned_for(&state, Phase::AsLeft, None);
    let plan = plan_check(&demo_kit(), day, &PlanChoices::default(), &targets, &wants.inputs(&state));
    let list = with_plan(&state, Phase::AsLeft, loads_of(&state, Phase::AsLeft), &plan, &demo_kit(), day);
    for item in list.iter().filter(|l| l.purpose != ListedPurpose::Discrimination) {
        assert!(item.load.ratio(&wants.setup.d).unwrap().is_whole(), "{} {:?}", item.load, item.reason);
        assert!(near_enough(&item.load, &item.target), "{} for {}", item.load, item.target);
    }
    let loads: Vec<String> = plan.steps.iter().map(|s| s.load.to_string()).collect();
    assert_eq!(loads, ["4 kg", "100 kg", "400 kg", "420 kg", "600 kg", "870 kg"], "{:?}", plan.least_work);
}

fn fault_at(job: &mut Journal, item: &str) {
    job.ok(Draft::LookedOver(drafts::LookedOverDraft {
        item: item.into(),
        finding: CheckFinding::Fault,
        note: "crushed".into(),
        cells: String::new(),
    }));
}

fn repaired(job: &mut Journal, item: &str) {
    job.ok(Draft::FaultSettled(drafts::FaultSettledDraft {
        item: item.into(),
        how: Settlement::Repaired,
        reason: "cable changed".into(),
    }));
}

#[test]
fn after_a_repair_only_what_was_read_since_tells_how_it_is_left() {
    let mut job = Journal::begin();
    job.inspection();
    for (load, shown) in [("0", "0"), ("400", "403"), ("870", "871.8")] {
        job.ok(read(ReadStage::AsFound, load, shown, Direction::Up));
    }
    fault_at(&mut job, "cable");
    repaired(&mut job, "cable");
    assert!(
        job.assessed().next.says.to_string().starts_with("Read again after the repair."),
        "{}",
        job.assessed().next.says
    );
    assert_eq!(
        job.refused(Draft::LeftAlone(drafts::LeftAloneDraft { reason: "inside".into(), pad: None })),
        "repaired_since"
    );
    for (load, shown) in [("0", "0"), ("200", "200"), ("400", "400.2"), ("870", "870")] {
        job.ok(read(ReadStage::AsFound, load, shown, Direction::Up));
    }
    job.ok(Draft::LeftAlone(drafts::LeftAloneDraft { reason: "within after the repair".into(), pad: None }));
    let told = job.assessed();
    assert_eq!((told.as_found.outcome, told.outcome), (Outcome::OutOfTolerance, Outcome::InTolerance));
    assert_eq!(told.as_found.readings.iter().filter(|r| r.after_repair).count(), 4);
    assert!(told.outcome_says.to_string().contains("4 of 4"), "{}", told.outcome_says);
}

#[test]
fn a_repair_after_the_proof_asks_for_it_again() {
    let mut job = Journal::adjusted(sheet(json!({})));
    for item in listed(&job).into_iter().filter(|l| l.purpose == ListedPurpose::Load) {
        let load = item.load.value.to_string();
        job.ok(read(ReadStage::Test, &load, &load, item.direction));
    }
    assert_eq!(job.assessed().outcome, Outcome::InTolerance);
    fault_at(&mut job, "cable");
    repaired(&mut job, "cable");
    let told = job.assessed();
    assert_eq!(told.outcome, Outcome::NotProven);
    assert!(told.proof.readings.iter().all(|r| !r.counts));
    assert!(told.next.says.to_string().starts_with("Read again after the repair."), "{}", told.next.says);
}

#[test]
fn a_reading_beyond_an_own_table_stays_as_not_judged_and_nothing_is_proven() {
    let mut job = Journal::on(sheet(json!({"trade": false})));
    job.inspection();
    for load in ["0", "400", "870"] {
        job.ok(read(ReadStage::AsFound, load, load, Direction::Up));
    }
    job.ok(crate::journal::set_up("600", "0.2"));
    let table = json!({"scheme": "table", "table": [
        {"to": {"value": "300", "unit": "kg"}, "mpe": {"value": "0.4", "unit": "kg"}},
        {"to": {"value": "600", "unit": "kg"}, "mpe": {"value": "0.6", "unit": "kg"}}]});
    let tolerance = serde_json::from_value(table).unwrap();
    job.ok(Draft::ToleranceChosen(drafts::ToleranceChosenDraft {
        tolerance,
        house: None,
        reason: "the owner's own".into(),
    }));
    let found = job.assessed().as_found;
    assert_eq!(found.readings.len(), 3);
    assert_eq!((found.readings[2].within, found.outcome), (false, Outcome::NotProven));
    assert!(
        found.readings[2].not_judged.as_ref().unwrap().to_string().contains("600 kg"),
        "{:?}",
        found.readings[2]
    );
    assert!(found.says.to_string().contains("1 reading could not be judged"), "{}", found.says);
    // The tolerance must cover a Max that is raised again.
    assert_eq!(job.refused(crate::journal::set_up("870", "0.2")), "tolerance_does_not_cover");
}

#[test]
fn two_pads_of_four_are_adjusted_and_the_total_is_judged_before_anything_is_in_tolerance() {
    let mut job =
        Journal::on(sheet(json!({"kind": "pads", "plate_max": "12000", "plate_d": "5", "pads": 4})));
    for item in ombret_core::scale::checklist(ombret_core::scale::ScaleKind::Pads) {
        job.ok(Draft::LookedOver(drafts::LookedOverDraft {
            item: item.id.clone(),
            finding: CheckFinding::Ok,
            note: String::new(),
            cells: String::new(),
        }));
    }
    let at = |stage: ReadStage, pad: u8, load: &str, shown: &str, direction: Direction| match read(
        stage, load, shown, direction,
    ) {
        Draft::Read(drafts::ReadDraft {
            stage,
            load,
            shown,
            direction,
            with,
            overruled,
            once,
            detail,
            ..
        }) => Draft::Read(drafts::ReadDraft {
            stage,
            load,
            shown,
            direction,
            pad: Some(pad),
            with,
            overruled,
            once,
            detail,
        }),
        other => other,
    };
    for pad in 1..=4u8 {
        for load in ["0", "6000", "12000"] {
            let shown = if pad % 2 == 0 && load == "12000" { "12040" } else { load };
            job.ok(at(ReadStage::AsFound, pad, load, shown, Direction::Up));
        }
    }
    job.ok(Draft::SetUp(ombret_core::job::SetupDraft {
        pad: Some(0),
        ..ombret_core::job::SetupDraft::new("12000", "5", Unit::Kg)
    }));
    for pad in [1u8, 3] {
        for load in ["0", "6000", "12000"] {
            job.ok(at(ReadStage::AsFound, pad, load, load, Direction::Up));
        }
        job.ok(Draft::LeftAlone(drafts::LeftAloneDraft { reason: "within".into(), pad: Some(pad) }));
        job.ok(at(ReadStage::Test, pad, "3000", "3000", Direction::Up));
    }
    for pad in [2u8, 4] {
        assert_eq!(job.assessed().adjust.pad, pad);
        job.ok(Draft::ZeroCaptured(drafts::ZeroCapturedDraft {
            counts: crate::journal::typed("1000"),
            pad: None,
            claim: Claim::default(),
        }));
        job.ok(Draft::SpanChosen(drafts::SpanChosenDraft {
            weight: "12000".into(),
            pad: None,
            with: Vec::new(),
        }));
        job.ok(Draft::SpanCaptured(drafts::SpanCapturedDraft {
            counts: crate::journal::typed("241000"),
            pad: None,
            claim: Claim::default(),
        }));
        job.ok(Draft::AdjustmentSaved);
    }
    for pad in [2u8, 4] {
        for (load, direction) in [
            ("12000", Direction::Up),
            ("0", Direction::Up),
            ("3000", Direction::Up),
            ("6000", Direction::Up),
            ("6000", Direction::Down),
        ] {
            job.ok(at(ReadStage::Test, pad, load, load, direction));
        }
    }
    let before = job.assessed();
    assert_eq!(before.outcome, Outcome::NotProven, "{:?}", before.proof.lacks);
    assert_eq!(before.proof.lacks, ["all pads together, 12000 kg"]);
    job.ok(at(ReadStage::Test, 0, "12000", "12000", Direction::Up));
    let after = job.assessed();
    assert_eq!(after.outcome, Outcome::InTolerance, "{}", after.outcome_says);
    assert!(after.outcome_says.to_string().starts_with("Adjusted: pad 2, 4;"), "{}", after.outcome_says);
    assert!(!serde_json::to_string(&after).unwrap().contains("pad 0"));
}

fn wanted(kg: i64, not_above: bool) -> CheckLoad {
    CheckLoad {
        load: Mass::new(Decimal::new(kg, 0), Unit::Kg),
        exact: false,
        not_above,
        reason: LoadReason::Half,
        round: None,
    }
}

proptest! {
    #[test]
    fn a_round_load_keeps_to_its_target(kg in 5i64..20_000, not_above: bool) {
        let (d, max) = (Mass::new(Decimal::new(1, 0), Unit::Kg), Mass::new(Decimal::new(20_000, 0), Unit::Kg));
        let wanted = wanted(kg, not_above);
        let round = round_figure(&wanted, &d, &max);
        prop_assert!(near_enough(&round, &wanted.load));
        prop_assert!(!not_above || round <= wanted.load);
        prop_assert!(round.ratio(&d).unwrap().is_whole());
    }

    #[test]
    fn no_choice_of_fewer_pieces_lies_in_the_window(
        masses in proptest::collection::vec(1u32..60, 1..9), kg in 5i64..200,
    ) {
        let pieces: Vec<Mass> = masses.iter().map(|m| Mass::new(Decimal::from(*m), Unit::Kg)).collect();
        let (d, max) = (Mass::new(Decimal::new(1, 0), Unit::Kg), Mass::new(Decimal::new(500, 0), Unit::Kg));
        let wanted = wanted(kg, false);
        let best = (0u32..1 << masses.len())
            .filter(|set| {
                let sum: u32 = masses.iter().enumerate().filter(|(i, _)| set >> i & 1 == 1).map(|(_, m)| m).sum();
                near_enough(&Mass::new(Decimal::from(sum), Unit::Kg), &wanted.load)
            })
            .map(u32::count_ones)
            .min();
        let found = fewest_pieces(&pieces, &wanted, &d, &max);
        prop_assert_eq!(found.as_ref().map(|(_, chosen)| u32::try_from(chosen.len()).unwrap()), best);
        if let Some((load, chosen)) = found {
            let sum = chosen.iter().fold(Mass::zero(Unit::Kg), |sum, i| sum.plus(&pieces[*i]));
            prop_assert_eq!(sum, load);
        }
    }
}

#[test]
fn weights_that_are_not_good_enough_are_told_before_they_are_lifted_with_the_class_that_would_do() {
    let job = Journal::adjusted(sheet(json!({})));
    let told = |class: WeightClass| {
        let pieces: Vec<Piece> = (1..=90).map(|n| Piece { class: Some(class), ..piece(n, 10) }).collect();
        listed_with(&job, &pieces)
    };
    // Ten kilograms in class M3 may be off by 5 g each: 87 of them by 0.435 kg, where the tolerance is 0.6 kg.
    let caution = told(WeightClass::M3).into_iter().find_map(|l| l.caution).unwrap();
    assert!(
        caution.to_string().contains("more than a third")
            && caution.to_string().contains("Class M2 would do"),
        "{caution}"
    );
    assert!(told(WeightClass::M1).iter().all(|l| l.caution.is_none()));
}
