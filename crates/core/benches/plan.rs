//! What a loading plan costs: sixty pieces and eleven loads, one kit as a workshop has it and two
//! hundred random ones. Figures and how they were taken: docs/performance.md.

use std::hint::black_box;
use std::time::Instant;

use criterion::{Criterion, criterion_group, criterion_main};
use ombret_core::quantity::{Decimal, Mass, Unit};
use ombret_core::weights::{PlanInputs, Target, loading_plan};

fn kg(tenths: i64) -> Mass {
    Mass::new(Decimal::new(tenths, 1), Unit::Kg)
}

/// A hundred and twenty pieces of fifteen masses: more choices than can all be looked at.
fn large() -> PlanInputs {
    let nominals = [500i64, 250, 200, 100, 75, 50, 40, 30, 20, 15, 10, 5, 3, 2, 1];
    let pieces = (0..120).map(|n| kg(nominals[n % 15])).collect();
    PlanInputs { pieces, ..inputs(7) }
}

/// Sixty pieces and eleven loads; the seed chooses among the usual nominals.
fn inputs(seed: u64) -> PlanInputs {
    let mut state = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
    let mut roll = |sides: u64| {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        usize::try_from((state >> 33) % sides).unwrap_or(0)
    };
    let nominals = [5000i64, 2000, 1000, 500, 200, 200, 200, 200, 100, 50, 20, 10, 5, 2, 1];
    let mut pieces: Vec<Mass> = (0..40).map(|_| kg(200)).collect();
    pieces.extend((0..20).map(|_| kg(nominals[roll(15)])));
    let max = 8000 + i64::try_from(roll(8)).unwrap_or(0) * 500;
    let shares = [1i64, 5, 10, 20, 25, 40, 50, 60, 75, 90, 100];
    let target = |share: &i64| Target {
        load: kg(max * share / 100),
        exact: matches!(share, 50 | 100),
        not_above: matches!(share, 10 | 40),
        fixed: None,
    };
    PlanInputs { unit: Unit::Kg, max: kg(max), targets: shares.iter().map(target).collect(), pieces }
}

fn plans(c: &mut Criterion) {
    let usual = inputs(7);
    c.bench_function("plan: 60 pieces, 11 loads", |b| b.iter(|| loading_plan(black_box(&usual))));
    let large = large();
    c.bench_function("plan: 120 pieces of 15 masses, 11 loads", |b| {
        b.iter(|| loading_plan(black_box(&large)))
    });
    if let Ok(plan) = loading_plan(&large) {
        println!("120 pieces: work {}, at most {} above the least", plan.work, plan.gap);
    }
    let mut times = Vec::new();
    let (mut proven, mut level, mut built) = (0, 0, 0);
    for seed in 0..200 {
        let asked = inputs(seed);
        let began = Instant::now();
        let plan = loading_plan(&asked);
        times.push(began.elapsed());
        if let Ok(plan) = plan {
            built += 1;
            proven += usize::from(plan.proven);
            level += usize::from(plan.gap.value.is_zero());
        }
    }
    times.sort();
    println!(
        "200 random kits: median {:?}, worst {:?}; {built} can be built, {proven} proven, {level} move no more than the bound",
        times[100], times[199]
    );
}

criterion_group!(benches, plans);
criterion_main!(benches);
