//! The books' tables, written out a second time from their text: each step with its end and the
//! least load past it. They may change only when a book does.

use ombret_core::quantity::{Book, Decimal, Mass, Unit};
use ombret_core::tolerance::{Class, House, Pick, Scheme, TableRow, Tolerance, class_bounds};
use proptest::prelude::*;

const E: (i64, i64) = (5, 1); // half a kilogram

fn e() -> Mass {
    Mass::new(Decimal::new(E.0, E.1), Unit::Kg)
}

/// So many e, as a mass.
fn in_e(n: i64) -> Mass {
    e().times(&Decimal::new(n, 0))
}

/// A hair above so many e.
fn just_above(n: i64) -> Mass {
    in_e(n).plus(&Mass::new(Decimal::new(1, 3), Unit::Kg))
}

/// Tolerance in tenths of e.
fn tenths(scheme: Scheme, class: Class, load: &Mass) -> i64 {
    let mpe = Tolerance::by_class(scheme, class).at(load, Some(&e()), None).unwrap();
    let tenths = &mpe.ratio(&e()).unwrap() * &Decimal::from(10u32);
    assert!(tenths.is_whole(), "{scheme:?} {class:?} {load}: {mpe}");
    tenths.to_string().parse().unwrap()
}

/// Ends of the steps in e and the tolerance up to each in tenths of e; the last runs on.
type Steps = &'static [(i64, i64)];

const R76: [(Class, Steps, i64); 4] = [
    (Class::I, &[(50_000, 5), (200_000, 10)], 15),
    (Class::II, &[(5_000, 5), (20_000, 10)], 15),
    (Class::III, &[(500, 5), (2_000, 10)], 15),
    (Class::IIII, &[(50, 5), (200, 10)], 15),
];

const HB44: [(Class, Steps, i64); 4] = [
    (Class::I, &[(50_000, 10), (200_000, 20)], 30),
    (Class::II, &[(5_000, 10), (20_000, 20)], 30),
    (Class::III, &[(500, 10), (2_000, 20), (4_000, 30)], 50),
    (Class::IIII, &[(50, 10), (200, 20), (400, 30)], 50),
];

fn each_step(scheme: Scheme, table: &[(Class, Steps, i64)], factor: (i64, i64)) {
    let scaled = |t: i64| t * factor.0 / factor.1;
    for (class, steps, above) in table {
        for (at, (end, told)) in steps.iter().enumerate() {
            let next = steps.get(at + 1).map_or(*above, |(_, next)| *next);
            assert_eq!(
                tenths(scheme, *class, &in_e(*end)),
                scaled(*told),
                "{scheme:?} {class:?}: {end} e belongs to the smaller"
            );
            assert_eq!(
                tenths(scheme, *class, &just_above(*end)),
                scaled(next),
                "{scheme:?} {class:?}: just above {end} e"
            );
        }
        assert_eq!(tenths(scheme, *class, &in_e(0)), scaled(steps[0].1), "{scheme:?} {class:?} at zero");
        assert_eq!(tenths(scheme, *class, &in_e(9_000_000)), scaled(*above), "{scheme:?} {class:?} far up");
    }
}

#[test]
fn r76_for_new_scales_and_twice_that_in_service() {
    each_step(Scheme::R76Initial, &R76, (1, 1));
    each_step(Scheme::R76InService, &R76, (2, 1));
}

#[test]
fn handbook_44_in_maintenance_and_half_of_that_in_acceptance() {
    each_step(Scheme::Hb44Maintenance, &HB44, (1, 1));
    each_step(Scheme::Hb44Acceptance, &HB44, (1, 2));
}

#[test]
fn three_l_grows_by_one_for_each_further_five_hundred_or_part_of_it() {
    for (load, told) in [
        (in_e(500), 10),
        (just_above(500), 20),
        (in_e(1_000), 20),
        (just_above(1_000), 30),
        (in_e(1_500), 30),
        (just_above(1_500), 40),
        (in_e(10_000), 200),
    ] {
        assert_eq!(tenths(Scheme::Hb44Maintenance, Class::IIIL, &load), told, "{load}");
    }
    assert!(Tolerance::by_class(Scheme::R76Initial, Class::IIIL).at(&in_e(1), Some(&e()), None).is_err());
}

/// Class limits of e and n: (class, e, unit, n_min, n_max).
#[test]
fn class_limits_of_r76_table_3_row_by_row() {
    let rows: [(Class, &str, Unit, u64, Option<u64>); 9] = [
        (Class::I, "1", Unit::Mg, 50_000, None),
        (Class::II, "1", Unit::Mg, 100, Some(100_000)),
        (Class::II, "50", Unit::Mg, 100, Some(100_000)),
        (Class::II, "100", Unit::Mg, 5_000, Some(100_000)),
        (Class::III, "0.1", Unit::G, 100, Some(10_000)),
        (Class::III, "2", Unit::G, 100, Some(10_000)),
        (Class::III, "5", Unit::G, 500, Some(10_000)),
        (Class::IIII, "5", Unit::G, 100, Some(1_000)),
        (Class::IIII, "20", Unit::Kg, 100, Some(1_000)),
    ];
    for (class, e, unit, least, most) in rows {
        let e = Mass::new(e.parse().unwrap(), unit);
        let bounds = class_bounds(Book::R76, class, &e).unwrap();
        assert!(bounds.holds(least) && !bounds.holds(least - 1), "{class:?} {e}");
        assert!(most.is_none_or(|most| bounds.holds(most) && !bounds.holds(most + 1)), "{class:?} {e}");
        assert!(most.is_some() || bounds.holds(10_000_000), "{class:?} {e}");
    }
    for (class, e, unit) in [
        (Class::I, "0.5", Unit::Mg),
        (Class::II, "0.5", Unit::Mg),
        (Class::III, "0.05", Unit::G),
        (Class::IIII, "2", Unit::G),
    ] {
        let e = Mass::new(e.parse().unwrap(), unit);
        assert!(class_bounds(Book::R76, class, &e).is_err(), "{class:?} has no row for {e}");
    }
}

#[test]
fn handbook_44_has_rows_of_its_own_in_pounds() {
    let bounds = |class, e: &str, unit| class_bounds(Book::Hb44, class, &Mass::new(e.parse().unwrap(), unit));
    let three = bounds(Class::III, "0.005", Unit::Lb).unwrap();
    assert!(three.holds(100) && three.holds(10_000) && !three.holds(10_001));
    assert!(!bounds(Class::III, "0.01", Unit::Lb).unwrap().holds(499));
    assert!(bounds(Class::IIII, "1", Unit::Lb).unwrap().holds(1_200));
    let long = bounds(Class::IIIL, "20", Unit::Lb).unwrap();
    assert!(long.holds(2_000) && !long.holds(1_999) && long.holds(10_000) && !long.holds(10_001));
    assert!(bounds(Class::IIIL, "2", Unit::Lb).is_err(), "III L begins at 5 lb");
}

fn house(pick: Pick, divisions: Option<i64>, percent: Option<i64>) -> Tolerance {
    let tenths = |n: i64| Decimal::new(n, 1);
    let house = House {
        divisions: divisions.map(tenths),
        percent_of_load: percent.map(tenths),
        ..serde_json::from_value(serde_json::json!({"pick": pick})).unwrap()
    };
    serde_json::from_value(serde_json::json!({"scheme": "house", "house": house})).unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn the_outline_is_the_tolerance_at_every_load(class in 0usize..4, scheme in 0usize..4, n in 100i64..12_000, part in 1i64..1_000) {
        let scheme = [Scheme::R76Initial, Scheme::R76InService, Scheme::Hb44Maintenance, Scheme::Hb44Acceptance][scheme];
        let class = [Class::I, Class::II, Class::III, Class::IIII][class];
        let (tolerance, max) = (Tolerance::by_class(scheme, class), in_e(n));
        let steps = tolerance.outline(&e(), &max).unwrap();
        prop_assert_eq!(steps.first().map(|s| s.from.clone()), Some(in_e(0)));
        prop_assert_eq!(steps.last().map(|s| s.to.clone()), Some(max.clone()));
        prop_assert!(steps.windows(2).all(|pair| pair[0].to == pair[1].from && pair[0].mpe_to <= pair[1].mpe_from));
        let load = max.times(&Decimal::new(part, 3));
        let step = steps.iter().find(|s| load <= s.to).unwrap();
        prop_assert_eq!(tolerance.at(&load, Some(&e()), Some(&max)).unwrap(), step.mpe_to.clone());
    }

    #[test]
    fn the_largest_of_a_house_rule_is_never_below_the_smallest(divisions in 1i64..50, percent in 1i64..50, load in 1i64..9_000) {
        let at = |pick| house(pick, Some(divisions), Some(percent)).at(&in_e(load), Some(&e()), Some(&in_e(9_000))).unwrap();
        prop_assert!(at(Pick::Largest) >= at(Pick::Smallest));
        let one = house(Pick::Largest, Some(divisions), None).at(&in_e(load), Some(&e()), None).unwrap();
        prop_assert_eq!(one, e().times(&Decimal::new(divisions, 1)), "a single term is the rule");
    }

    #[test]
    fn a_table_of_ones_own_is_read_row_by_row(ends in proptest::collection::btree_set(1i64..5_000, 1..8), load in 1i64..6_000) {
        let rows: Vec<TableRow> = ends.iter().zip(1i64..).map(|(end, n)| TableRow { to: Some(in_e(*end)), mpe: in_e(n) }).collect();
        let tolerance: Tolerance = serde_json::from_value(serde_json::json!({"scheme": "table", "table": rows})).unwrap();
        let told = tolerance.at(&in_e(load), None, None);
        match ends.iter().position(|end| load <= *end) {
            Some(row) => prop_assert_eq!(told.unwrap(), in_e(i64::try_from(row).unwrap() + 1)),
            None => prop_assert!(told.is_err(), "beyond the table"),
        }
    }
}
