//! The kit: plans that keep their word, tables that are taken in whole or not at all, pieces that
//! are never offered.

use ombret_core::import::{Grid, Mapping, PIECE_COLUMNS, Taken, piece_row, read_pieces, write_rows};
use ombret_core::quantity::{Decimal, Mass, Unit, parse_mass};
use ombret_core::tolerance::{Class, Scheme, Tolerance};
use ombret_core::weights::{
    CheckInputs, LockedStep, OwnClass, OwnRow, Piece, PlanChoices, PlanInputs, Platform, RoundScale, Target,
    Thoroughness, Usable, WeighedBy, WeightClass, check_loads, class_that_does, loading_plan, pack,
    plan_check, plan_for_round, weight_tolerance,
};
use proptest::prelude::*;
use time::Date;
use time::macros::date;
use uuid::Uuid;

const TODAY: Date = date!(2026 - 11 - 24);

fn kg(text: &str) -> Mass {
    parse_mass(text, Unit::Kg, "test").unwrap()
}

fn grains(n: u32) -> Mass {
    Mass::new(Decimal::new(i64::from(n), 1), Unit::Kg)
}

fn inputs(pieces: Vec<Mass>, targets: &[(u32, bool)], max: u32) -> PlanInputs {
    let targets = targets
        .iter()
        .map(|(load, exact)| Target { load: grains(*load), exact: *exact, not_above: false, fixed: None })
        .collect();
    PlanInputs { unit: Unit::Kg, max: grains(max), targets, pieces }
}

/// The simplest plan there is: for each load, the largest pieces that still fit, from an empty platform.
fn greedy_work(inputs: &PlanInputs) -> Option<Mass> {
    let mut sorted: Vec<&Mass> = inputs.pieces.iter().collect();
    sorted.sort_by(|a, b| b.cmp(a));
    let mut work = Mass::zero(Unit::Kg);
    let mut before = Mass::zero(Unit::Kg);
    for target in &inputs.targets {
        let mut sum = Mass::zero(Unit::Kg);
        for piece in &sorted {
            if sum.plus(piece) <= target.load {
                sum = sum.plus(piece);
            }
        }
        let met =
            if target.exact { sum == target.load } else { sum >= target.load.times(&Decimal::new(95, 2)) };
        if !met {
            return None;
        }
        work = work.plus(&before).plus(&sum);
        before = sum;
    }
    Some(work)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(80))]
    #[test]
    fn a_plan_keeps_its_word(
        masses in proptest::collection::vec(prop_oneof![Just(10u32), Just(20), Just(50), Just(100), Just(200), 1u32..300], 1..14),
        mut loads in proptest::collection::vec((5u32..900, any::<bool>()), 1..7), max in 300u32..1200,
    ) {
        loads.sort_unstable();
        loads.retain(|(load, _)| *load <= max);
        let asked = inputs(masses.iter().map(|m| grains(*m)).collect(), &loads, max);
        match loading_plan(&asked) {
            Ok(plan) => {
                let mut on: Vec<usize> = Vec::new();
                let (mut work, mut moves) = (Mass::zero(Unit::Kg), 0);
                for (step, target) in plan.loads.iter().zip(&asked.targets) {
                    for taken in &step.take {
                        let at = on.iter().position(|p| p == taken);
                        prop_assert!(at.is_some(), "takes off what is not on");
                        on.remove(at.unwrap());
                    }
                    for put in &step.put {
                        prop_assert!(!on.contains(put), "uses a piece twice");
                        on.push(*put);
                    }
                    for piece in step.put.iter().chain(&step.take) {
                        work = work.plus(&asked.pieces[*piece]);
                        moves += 1;
                    }
                    let sum = on.iter().fold(Mass::zero(Unit::Kg), |sum, p| sum.plus(&asked.pieces[*p]));
                    prop_assert_eq!(&sum, &step.load, "a load is what its pieces sum to");
                    prop_assert!(sum <= asked.max);
                    prop_assert!(sum.minus(&target.load).abs() <= target.load.times(&Decimal::new(5, 2)));
                }
                prop_assert_eq!(&work, &plan.work);
                prop_assert_eq!(moves, plan.moves);
                if let Some(greedy) = greedy_work(&asked) {
                    prop_assert!(plan.work <= greedy);
                }
            }
            Err(error) => {
                prop_assert!(!error.unreachable.is_empty());
                prop_assert!(greedy_work(&asked).is_none(), "a greedy plan exists");
            }
        }
    }
}

/// Every choice of pieces for every load, tried one after the other: work, moves, distinct pieces.
fn best_of_all(inputs: &PlanInputs, met: &[Option<bool>]) -> (Mass, usize, usize) {
    let choices = 1u32 << inputs.pieces.len();
    let sum = |choice: u32| {
        (0..inputs.pieces.len())
            .filter(|p| choice >> p & 1 == 1)
            .fold(Mass::zero(Unit::Kg), |sum, p| sum.plus(&inputs.pieces[p]))
    };
    let mut ways: Vec<(u32, u32, Mass, usize)> = vec![(0, 0, Mass::zero(Unit::Kg), 0)];
    for (target, met) in inputs.targets.iter().zip(met) {
        let fits = |load: &Mass| {
            let off = load.minus(&target.load).abs() <= target.load.times(&Decimal::new(5, 2));
            *load <= inputs.max && if *met == Some(true) { *load == target.load } else { off }
        };
        let next: Vec<u32> = (0..choices).filter(|choice| fits(&sum(*choice))).collect();
        let mut best: std::collections::BTreeMap<(u32, u32), (Mass, usize)> =
            std::collections::BTreeMap::new();
        for (on, used, work, moves) in &ways {
            for choice in &next {
                let moved = on ^ choice;
                let cost = (work.plus(&sum(moved)), moves + moved.count_ones() as usize);
                let kept = best.entry((*choice, used | choice)).or_insert_with(|| cost.clone());
                if cost < *kept {
                    *kept = cost;
                }
            }
        }
        ways = best.into_iter().map(|((on, used), (work, moves))| (on, used, work, moves)).collect();
    }
    ways.into_iter().map(|(_, used, work, moves)| (work, moves, used.count_ones() as usize)).min().unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]
    #[test]
    fn no_choice_of_pieces_is_better_than_the_plan(
        masses in proptest::collection::vec(prop_oneof![Just(10u32), Just(20), Just(20), Just(50), 1u32..90], 1..6),
        mut loads in proptest::collection::vec((5u32..160, any::<bool>()), 1..4),
    ) {
        loads.sort_unstable();
        let asked = inputs(masses.iter().map(|m| grains(*m)).collect(), &loads, 200);
        if let Ok(plan) = loading_plan(&asked) {
            prop_assert!(plan.proven && plan.gap.value.is_zero());
            prop_assert_eq!((plan.work, plan.moves, plan.pieces), best_of_all(&asked, &plan.exact_met));
        }
    }

    #[test]
    fn a_kit_too_large_to_look_at_wholly_gets_a_plan_that_says_how_far_it_may_be(each in 6usize..8, share in 20u32..60) {
        let nominals = [500u32, 250, 200, 100, 75, 50, 40, 30, 20, 15, 10, 5, 3, 2, 1];
        let kit: Vec<Mass> = nominals.iter().flat_map(|m| std::iter::repeat_n(grains(*m), each)).collect();
        let loads: Vec<(u32, bool)> = (1..=10).map(|n| (n * share * 5, n == 10)).collect();
        let asked = inputs(kit, &loads, 4_000);
        let plan = loading_plan(&asked).unwrap();
        let last = asked.targets.last().unwrap();
        prop_assert!(plan.work.minus(&plan.gap) <= last.load, "the least work is not above the bound");
        prop_assert!(plan.work >= last.load.times(&Decimal::new(95, 2)));
        prop_assert_eq!(&plan.loads.last().unwrap().load, &last.load, "an exact load is met");
    }
}

fn table(rows: &str) -> String {
    format!(
        "serial,nominal,class,form,set,place,holder,damaged,certificate,laboratory,date,due,error,U,k\n{rows}"
    )
}

fn read(text: &str) -> Result<Taken<Piece>, ombret_core::Refusal> {
    let mut next = 0u128;
    let mut ids = || {
        next += 1;
        Uuid::from_u128(next)
    };
    let grid = Grid::of_text(text)?;
    Ok(read_pieces(&grid, &Mapping::default(), Unit::Kg, TODAY, &|serial| serial == "K-9", &mut ids))
}

fn written(pieces: &[Piece]) -> String {
    write_rows(&PIECE_COLUMNS, pieces.iter().map(piece_row)).unwrap()
}

const GOOD: &str = "A-1,20 kg,M1,block,blocks,van,,,C-77,Skerry Lab,2026-01-10,2027-01-10,12 mg,30 mg,2\nA-2,20 kg,M1,block,blocks,van,,,C-77,Skerry Lab,2026-01-10,2027-01-10,-8 mg,30 mg,2\n";

#[test]
fn a_table_goes_out_and_comes_in_as_it_was_and_formulas_are_defused() {
    let first = read(&table(GOOD)).unwrap();
    assert!(first.looked.errors.is_empty(), "{:?}", first.looked.errors);
    let again = read(&written(&first.items)).unwrap();
    assert_eq!(first.items, again.items);
    let mut odd = first.items[0].clone();
    odd.place = "=cmd()".into();
    assert!(written(&[odd]).contains("'=cmd()"));
    let mapped =
        Mapping([("serial".to_owned(), "Mark".to_owned()), ("nominal".to_owned(), "Mass".to_owned())].into());
    let grid = Grid::of_text("Mark;Mass;class\nQ1;5;M1\n").unwrap();
    let other = read_pieces(&grid, &mapped, Unit::Kg, TODAY, &|_| false, &mut || Uuid::nil());
    assert_eq!((other.looked.count, other.items[0].nominal.clone()), (1, kg("5")));
}

#[test]
fn every_wrong_row_is_told_and_nothing_is_taken_in() {
    for (row, column, says) in [
        ("A-1,20 kg,M1,block,,,,,C-9,Lab,2026-01-10,2027-01-10,,,\n", "serial", "stands in row 2"),
        ("K-9,20 kg,M1,block,,,,,,,,,,,\n", "serial", "in the kit already"),
        ("B-1,-20 kg,M1,block,,,,,,,,,,,\n", "nominal", "not above zero"),
        ("B-1,15 kg,M1,block,,,,,,,,,,,\n", "class", "has no tolerance for 15 kg"),
        ("B-1,20 kg,M9,block,,,,,,,,,,,\n", "class", "no class"),
        ("B-1,20 kg,M1,block,,,,,C-1,Lab,2026-11-25,2027-11-25,,,\n", "date", "dated after today"),
        ("B-1,20 kg,M1,block,,,,,C-1,Lab,2026-01-01,2025-01-01,,,\n", "due", "due before"),
        ("B-1,20 kg,M1,block,,,,,C-1,Lab,2026-01-01,2027-01-01,,30 mg,\n", "k", "belong together"),
        ("B-1,20 kg,M1,block,=1+1,,,,,,,,,,\n", "set", "formula"),
        ("B-1;20 kg;M1;block\n", "", "mixed separators"),
        ("B-1,twenty,M1,block,,,,,,,,,,,\n", "nominal", "twenty"),
    ] {
        let told = read(&table(&format!("{GOOD}{row}"))).unwrap();
        assert!(told.items.is_empty(), "{row}");
        let error = &told.looked.errors[0];
        assert_eq!((error.row, error.column.as_deref().unwrap_or_default()), (4, column), "{row}: {error:?}");
        assert!(error.says.to_string().contains(says), "{row}: {error:?}");
    }
    let many: String = (0..50_000).map(|i| format!("S-{i},20 kg,M1,block,,,,,,,,,,,\n")).collect();
    assert_eq!(read(&table(&many)).unwrap_err().code, "too_long");
    assert_eq!(read("").unwrap_err().code, "bad_table");
}

fn kit() -> Vec<Piece> {
    let rows: String = (1..=8)
        .map(|i| format!("A-{i},20 kg,M1,block,,van,,,C-77,Skerry Lab,2026-01-10,2027-01-10,,,\n"))
        .collect();
    let small = "S-1,10 kg,M1,block,,shelf,,,C-78,Skerry Lab,2026-01-10,2026-12-20,,,\nS-2,5 kg,M1,block,,shelf,,,C-78,Skerry Lab,2026-01-10,2027-12-20,,,\nS-3,2 kg,M1,block,,shelf,tomas,,C-78,Skerry Lab,2026-01-10,2027-12-20,,,\nS-4,1 kg,M1,block,,shelf,,,C-78,Skerry Lab,2026-01-10,2027-12-20,,,\n";
    let bad = "D-1,50 kg,M1,block,,van,,yes,C-77,Skerry Lab,2026-01-10,2027-01-10,,,\nD-2,50 kg,M1,block,,van,,,C-70,Skerry Lab,2024-01-10,2025-01-10,,,\nD-3,50 kg,M1,block,,van,,,C-71,Skerry Lab,2026-01-10,2027-01-10,9000 mg,30 mg,2\n";
    read(&table(&format!("{rows}{small}{bad}"))).unwrap().items
}

#[test]
fn a_piece_past_due_out_of_class_or_damaged_is_never_offered() {
    let kit = kit();
    let barred: Vec<String> = kit
        .iter()
        .filter(|p| matches!(p.usable(TODAY), Usable::No { .. }))
        .map(|p| p.serial.clone())
        .collect();
    assert_eq!(barred, ["D-1", "D-2", "D-3"]);
    let tolerance = Tolerance::by_class(Scheme::R76InService, Class::III);
    let (max, d) = (kg("150"), kg("0.05"));
    let steps = [kg("25"), kg("100")];
    let inputs = CheckInputs {
        max: &max,
        d: &d,
        tolerance: &tolerance,
        min_load: None,
        steps: &steps,
        span: Some(&max),
        working_load: None,
        platform: Platform::on(4, false),
        fine: None,
        thoroughness: Thoroughness::Test,
    };
    let loads = check_loads(&inputs);
    assert_eq!(
        loads.iter().map(|l| l.load.to_string()).collect::<Vec<_>>(),
        ["25 kg", "75 kg", "100 kg", "150 kg"]
    );
    let plan = plan_check(&kit, TODAY, &PlanChoices::default(), &loads, &inputs);
    assert!(plan.proven && plan.lacks.is_empty(), "{plan:?}");
    assert!(plan.steps.iter().flat_map(|s| &s.on).all(|p| !p.serial.starts_with('D')));
    assert_eq!(plan.aside.len(), 3);
    assert!(plan.steps[0].load <= kg("25"), "a tolerance step is never overshot");
    // Barring a piece replans without it; barring too many says what to borrow.
    let barred = PlanChoices { barred: vec![kit[0].id], ..PlanChoices::default() };
    assert!(
        plan_check(&kit, TODAY, &barred, &loads, &inputs)
            .steps
            .iter()
            .flat_map(|s| &s.on)
            .all(|p| p.id != kit[0].id)
    );
    let most = PlanChoices { barred: kit[..6].iter().map(|p| p.id).collect(), ..PlanChoices::default() };
    let short = plan_check(&kit, TODAY, &most, &loads, &inputs);
    assert_eq!(
        short.lacks.iter().map(|l| l.load.to_string()).collect::<Vec<_>>(),
        ["75 kg", "100 kg", "150 kg"]
    );
    assert!(short.lacks.iter().all(|l| !l.borrow.is_empty()), "{:?}", short.lacks);

    let day = pack(
        &[RoundScale { name: "Wool table".into(), inputs: inputs.clone(), loads: loads.clone() }],
        &kit,
        TODAY,
        "ebba",
        &|scale| plan_for_round(scale, &kit, TODAY),
        &|| false,
    )
    .unwrap();
    assert!(day.lacks.is_empty() && day.pieces > 0);
    assert!(day.certificates.iter().any(|c| c.starts_with("C-77")));
    let all: Decimal = day.places.iter().fold(Decimal::zero(), |sum, p| &sum + &p.mass.value);
    assert_eq!(day.mass.value, all);
}

#[test]
fn a_locked_load_keeps_its_pieces_and_a_swap_changes_one_for_its_like() {
    let kit = kit();
    let tolerance = Tolerance::by_class(Scheme::R76InService, Class::III);
    let (max, d) = (kg("150"), kg("0.05"));
    let inputs = CheckInputs {
        max: &max,
        d: &d,
        tolerance: &tolerance,
        min_load: None,
        steps: &[],
        span: Some(&max),
        working_load: None,
        platform: Platform::on(4, false),
        fine: None,
        thoroughness: Thoroughness::Test,
    };
    let loads = check_loads(&inputs);
    let first = plan_check(&kit, TODAY, &PlanChoices::default(), &loads, &inputs);
    let (used, idle) = (first.steps[0].on[0].id, kit[7].id);
    assert!(first.steps[0].on.iter().all(|p| p.id != idle));
    let swapped = plan_check(
        &kit,
        TODAY,
        &PlanChoices { swaps: vec![[used, idle]], ..PlanChoices::default() },
        &loads,
        &inputs,
    );
    assert!(
        swapped.steps[0].on.iter().any(|p| p.id == idle) && swapped.steps[0].on.iter().all(|p| p.id != used)
    );
    assert_eq!(
        (swapped.work.clone(), swapped.moves),
        (first.work.clone(), first.moves),
        "a like piece costs the same"
    );

    // Other pieces than the plan's, chosen by hand for half of Max: 3 × 20, 10 and 5 kg; the rest is
    // planned around them.
    let mine: Vec<Uuid> = [4, 5, 6, 8, 9].map(|at: usize| kit[at].id).to_vec();
    let half = first.steps.iter().position(|s| s.wanted == kg("75")).unwrap();
    let lock = LockedStep { wanted: first.steps[half].wanted.clone(), pieces: mine.clone() };
    let least = PlanChoices { least_work: true, ..PlanChoices::default() };
    let first = plan_check(&kit, TODAY, &least, &loads, &inputs);
    let locked = plan_check(&kit, TODAY, &PlanChoices { locked: vec![lock], ..least }, &loads, &inputs);
    let mut on: Vec<Uuid> = locked.steps[half].on.iter().map(|p| p.id).collect();
    on.sort();
    assert_eq!(on, mine);
    assert!(locked.work >= first.work, "a lock on a load that is wanted never makes the work less");
    assert_eq!(locked.steps.last().unwrap().load, max);
}

#[test]
fn a_kit_that_is_too_small_is_told_how_far_substitution_reaches() {
    let kit = kit();
    let tolerance = Tolerance::by_class(Scheme::R76InService, Class::III);
    let (max, d) = (kg("300"), kg("0.1"));
    let inputs = CheckInputs {
        max: &max,
        d: &d,
        tolerance: &tolerance,
        min_load: None,
        steps: &[],
        span: None,
        working_load: None,
        platform: Platform::on(4, false),
        fine: None,
        thoroughness: Thoroughness::Test,
    };
    let plan = plan_check(&kit, TODAY, &PlanChoices::default(), &check_loads(&inputs), &inputs);
    let told = plan.substitution.unwrap();
    assert_eq!(told.weights, plan.steps.last().unwrap().load);
    assert!(
        told.steps.windows(2).all(|pair| pair[0].u < pair[1].u),
        "each round lends its uncertainty to the next"
    );
    assert!(!plan.lacks.is_empty());
}

#[test]
fn an_object_that_was_weighed_is_never_offered_for_a_proof() {
    let mut object = kit().remove(0);
    object.certificates.clear();
    object.class = None;
    object.reference = Some(WeighedBy {
        scale_id: None,
        record: "SK-2026-0007".into(),
        scale: "Wool table".into(),
        on: TODAY,
        u: kg("0.058"),
    });
    assert!(object.check(TODAY).is_ok());
    assert!(matches!(object.usable(TODAY), Usable::No { why } if why.to_string().contains("does not prove")));
    assert!((object.standard_uncertainty_mg().unwrap() - 58_000.0).abs() < 1e-6);
}

#[test]
fn a_class_of_the_workshops_own_has_just_the_nominals_of_its_table() {
    let class = OwnClass { name: "yard".into(), rows: vec![OwnRow { nominal: kg("25"), mpe: kg("0.01") }] };
    assert!(class.check().is_ok());
    let mut piece = kit().remove(0);
    piece.nominal = kg("25");
    piece.class = None;
    piece.own = Some(class.of(&piece.nominal).unwrap());
    assert!(piece.check(TODAY).is_ok());
    assert_eq!(class.of(&kg("20")).unwrap_err().code, "not_in_table");
    piece.certificates[0].error = Some(kg("0.011"));
    assert!(matches!(piece.usable(TODAY), Usable::No { why } if why.to_string().contains("yard")));
    for (wrong, code) in [
        (OwnClass { name: "M1".into(), ..class.clone() }, "taken"),
        (OwnClass { name: " ".into(), ..class.clone() }, "missing"),
        (OwnClass { rows: Vec::new(), ..class.clone() }, "missing"),
        (OwnClass { rows: vec![OwnRow { nominal: kg("1"), mpe: kg("1") }], ..class.clone() }, "not_positive"),
        (OwnClass { rows: vec![class.rows[0].clone(), class.rows[0].clone()], ..class.clone() }, "twice"),
    ] {
        assert_eq!(wrong.check().unwrap_err().code, code, "{wrong:?}");
    }
}

proptest! {
    #[test]
    fn the_class_that_would_do_does_and_no_coarser_one(pieces in proptest::collection::vec(prop::sample::select(vec![1u32, 2, 5, 10, 20]), 1..12), mg in 1u32..2_000_000) {
        let nominals: Vec<Mass> = pieces.iter().map(|n| Mass::new(Decimal::from(*n), Unit::Kg)).collect();
        let named: Vec<&Mass> = nominals.iter().collect();
        let mpe = Mass::new(Decimal::from(mg), Unit::Mg);
        let third = |class: WeightClass| {
            let sum = nominals.iter().fold(Mass::zero(Unit::Mg), |sum, n| sum.plus(&weight_tolerance(n, class).unwrap().0));
            sum.times(&Decimal::from(3u32)) <= mpe
        };
        let coarser = |than: Option<WeightClass>| WeightClass::ALL.into_iter().filter(|c| *c != WeightClass::F)
            .skip_while(move |c| than.is_some_and(|than| *c != than)).skip(usize::from(than.is_some()));
        let found = class_that_does(&named, &mpe);
        if let Some(class) = found {
            prop_assert!(third(class));
        }
        for class in coarser(found) {
            prop_assert!(weight_tolerance(&nominals[0], class).is_err() || !third(class), "{class:?} too");
        }
    }
}

#[test]
fn what_cannot_be_of_a_piece_is_refused_by_its_row() {
    let row = |damaged: &str, error: &str, u: &str| {
        format!(
            "A-1,10 kg,M1,block,blocks,van,,{damaged},C-77,Skerry Lab,2026-01-10,2027-01-10,{error},{u},2\n"
        )
    };
    let wrong = |text: String| read(&table(&text)).unwrap().looked.errors.first().cloned();
    for (text, column) in [
        (row("maybe", "12 mg", "30 mg"), "damaged"),
        (row("", "30 kg", "30 mg"), "error"),
        (row("", "12 mg", "2 kg"), "U"),
    ] {
        let told = wrong(text.clone()).unwrap_or_else(|| panic!("{text} is taken"));
        assert_eq!((told.row, told.column.as_deref()), (2, Some(column)), "{text}: {}", told.says);
    }
    for damaged in ["", "no", "yes", "x", "0"] {
        assert_eq!(wrong(row(damaged, "12 mg", "30 mg")), None, "{damaged}");
    }
}
