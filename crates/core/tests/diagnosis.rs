//! The diagnosis against scales that it was not fitted to: simulated with every fault, over many
//! seeds, strengths and builds. Prints the confusion matrix of docs/diagnosis.md.

use std::collections::BTreeMap;

use ombret_bench::{Calibration, CellSettings, Panel, PlatformSettings, Scale, ScaleSettings, Surroundings};
use ombret_core::diagnosis::{Cause, Facts, Pointers, Priors, Seen, diagnose, table};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;

/// A scale with a fault, and what is known of it.
struct Case {
    settings: ScaleSettings,
    facts: Facts,
    d: f64,
}

const QUARTERS: [(f64, f64); 4] = [(0.25, 0.25), (0.75, 0.25), (0.75, 0.75), (0.25, 0.75)];
const CORNERS: [(f64, f64); 4] = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)];

/// Tolerance in service, class III, in divisions.
fn mpe(load: f64) -> f64 {
    match load {
        l if l <= 500.0 => 1.0,
        l if l <= 2000.0 => 2.0,
        _ => 3.0,
    }
}

#[allow(clippy::disallowed_methods, reason = "it only draws cases")]
fn log_between(rng: &mut ChaCha8Rng, low: f64, high: f64) -> f64 {
    (rng.random_range(low.ln()..high.ln())).exp() * if rng.random::<bool>() { 1.0 } else { -1.0 }
}

fn case(cause: Cause, rng: &mut ChaCha8Rng) -> Case {
    let builds = [
        (640.0, 0.2, 4),
        (38.0, 0.01, 1),
        (1450.0, 0.5, 4),
        (92.0, 0.05, 4),
        (7.2, 0.002, 1),
        (2900.0, 1.0, 4),
    ];
    let (max, mut d, cells) = builds[rng.random_range(0..builds.len())];
    // What only several cells can show is shown on several.
    let cells = if matches!(cause, Cause::CornerCell | Cause::Twisted) { 4 } else { cells };
    if cause == Cause::DivisionTooFine {
        d = max / 24_000.0;
    }
    let n: f64 = max / d;
    let per_kg = 12.0 * n.max(3000.0) / max;
    let dead = 40_000.0;
    // A sound scale: every part a little off, well inside the tolerance.
    let small = |rng: &mut ChaCha8Rng, of: f64| rng.random_range(-of..of);
    let mut list: Vec<CellSettings> = if cells == 4 {
        CORNERS.iter().map(|(x, y)| CellSettings::at(*x, *y)).collect()
    } else {
        vec![CellSettings::at(0.5, 0.5)]
    };
    for cell in &mut list {
        cell.gain += small(rng, 0.5 / n);
        cell.bow = small(rng, 0.1 * mpe(n) / n);
        cell.hysteresis = rng.random_range(0.0..0.05) * mpe(n) / n;
        cell.creep = rng.random_range(0.0..0.1) / n;
    }
    let mut platform = PlatformSettings {
        dead_counts: dead,
        counts_per_kg: per_kg,
        noise_counts: 0.08 * per_kg * d,
        swing_hz: 2.0,
        damping: 0.7,
        stop_kg: max * 1.6,
        cells: list,
        cell_kg: Some(if cells == 4 { max / 2.0 } else { max * 1.25 }),
        around: Surroundings::default(),
    };
    let mut calibration = Calibration::straight(
        dead + small(rng, 0.25) * d * per_kg,
        per_kg * (1.0 + small(rng, 0.4 * mpe(n) / n)),
    );
    let mut facts = Facts {
        cells: if cells == 4 { CORNERS.to_vec() } else { Vec::new() },
        span: Some((0.5 * n).round()),
        pieces: vec![(n / 30.0).round(), (n / 75.0).round()],
        too_fine: n > 10_000.0,
        on_s: (cause == Cause::WarmUp).then_some(0.0),
        ..Facts::of(n, mpe(n))
    };
    let around = &mut platform.around;
    let at_max =
        |rng: &mut ChaCha8Rng, low: f64, high: f64| log_between(rng, low * mpe(n), high * mpe(n)) / n;
    match cause {
        Cause::Sound | Cause::Unknown => {}
        Cause::SpanDrift => calibration.per_unit *= 1.0 + at_max(rng, 1.6, 20.0),
        Cause::ZeroOff => calibration.zero += log_between(rng, 2.5, 60.0) * d * per_kg,
        Cause::UnitSwitched => {
            calibration.per_unit *= if rng.random::<bool>() { 0.453_592_37 } else { 2.204_622_621_8 }
        }
        Cause::DecimalMisplaced => calibration.per_unit *= [10.0, 0.1, 100.0][rng.random_range(0..3)],
        Cause::WrongWeight => {
            let span = 0.5 * n;
            let piece = facts.pieces[rng.random_range(0..2)];
            let on = if rng.random::<bool>() { span + piece } else { span - piece };
            // The indicator was told `span` and carried `on`.
            calibration.per_unit = per_kg * on / span;
        }
        Cause::ThinSpan => {
            facts.span = Some((0.04 * n).round());
            facts.u_span = Some(2.2 * mpe(n));
            calibration.per_unit *= 1.0 + at_max(rng, 1.6, 4.0);
        }
        Cause::Bow => platform.cells.iter_mut().for_each(|c| c.bow = 1.0),
        Cause::SecondSupport => {
            if rng.random::<bool>() {
                platform.stop_kg = max * rng.random_range(0.4..0.93);
            } else {
                around.debris_from_kg = Some(max * rng.random_range(0.1..0.7));
                around.debris_share = rng.random_range(0.02..0.5);
            }
        }
        Cause::Rubbing => {
            around.rubbing_kg = log_between(rng, 2.0, 20.0).abs() * d;
            // What rubs takes the swing away.
            platform.damping = 1.0;
        }
        Cause::CornerCell => {
            let cell = rng.random_range(0..4);
            platform.cells[cell].gain = match rng.random_range(0..4) {
                0 => 0.0,
                1 => -1.0,
                _ => 1.0 - log_between(rng, 0.01, 0.15).abs(),
            };
            // Half of them were spanned in the middle since: right there, wrong at the corners.
            if platform.cells[cell].gain > 0.5 && rng.random::<bool>() {
                calibration.per_unit *= (3.0 + platform.cells[cell].gain) / 4.0;
            }
        }
        Cause::Twisted => around.twist = log_between(rng, 5.0, 40.0) / (n / 3.0),
        Cause::Restless | Cause::DivisionTooFine => {
            platform.noise_counts = rng.random_range(3.0..9.0) * d * per_kg
        }
        Cause::Cable => around.cable_counts = rng.random_range(10.0..60.0) * d * per_kg,
        Cause::WarmUp => {
            around.warm_up_counts = log_between(rng, 10.0, 60.0) * d * per_kg;
            around.warm_up_s = rng.random_range(60.0..200.0);
        }
        Cause::Creep => platform.cells.iter_mut().for_each(|c| c.creep = 0.006),
        Cause::Reversed => platform.cells.iter_mut().for_each(|c| c.gain = -1.0),
        Cause::NoSignal => around.no_excitation = true,
        Cause::Overloaded => platform.cells[0].zero = rng.random_range(0.4..1.2),
    }
    if cause == Cause::Bow {
        let bow = at_max(rng, 1.8, 12.0);
        platform.cells.iter_mut().for_each(|c| c.bow = bow);
    }
    if cause == Cause::Creep {
        let creep = rng.random_range(8.0..30.0) / n;
        platform.cells.iter_mut().for_each(|c| c.creep = creep);
    }
    let panel = Panel { unit: "kg".into(), max: max * 200.0, d, decimals: 6 };
    let settings = ScaleSettings {
        about: String::new(),
        platform,
        pads: Vec::new(),
        panel,
        calibration,
        manners: Default::default(),
        profile: None,
        internal: None,
        conditions: Vec::new(),
        seed: rng.random(),
    };
    Case { settings, facts, d }
}

/// A full check: up, down, the same load again, and corners where there are any.
fn check(case: &Case) -> Vec<Seen> {
    let mut scale = Scale::new(&case.settings);
    let (n, d) = (case.facts.n, case.d);
    let mut seen: Vec<Seen> = Vec::new();
    let (mut before, mut highest) = (0.0, 0.0f64);
    let mut steps: Vec<(f64, bool, Option<(f64, f64)>)> =
        [0.0, 15.0 / n, 0.1, 0.25, 0.5, 0.75, 1.0].map(|s| (s, false, None)).to_vec();
    steps.extend([(0.75, true, None), (0.5, true, None), (0.25, true, None), (0.0, true, None)]);
    steps.extend([
        (0.8, false, None),
        (0.0, true, None),
        (0.8, false, None),
        (0.0, true, None),
        (0.8, false, None),
        (0.0, true, None),
    ]);
    if !case.facts.cells.is_empty() {
        steps.push((1.0 / 3.0, false, None));
        steps.extend(QUARTERS.map(|spot| (1.0 / 3.0, false, Some(spot))));
    }
    for (i, (share, down, spot)) in steps.into_iter().enumerate() {
        let load = (share * n).round();
        let on = load * d;
        let now: f64 = before * d;
        // From load to load without emptying, so that the way is up or down; another place is another load.
        let emptied = spot.is_some() || on < now && !down;
        if emptied {
            scale.act("clear".parse().unwrap()).unwrap();
        }
        let now = if emptied { 0.0 } else { now };
        let line = match spot {
            Some((x, y)) => format!("put {on} at {x} {y}"),
            None if on >= now => format!("put {}", on - now),
            None => format!("take {}", now - on),
        };
        scale.act(line.parse().unwrap()).unwrap();
        let mut line = String::new();
        for _ in 0..150 {
            line = scale.tick(0.1);
        }
        before = load;
        let came_back = load == 0.0 && highest > 0.0;
        highest = highest.max(load);
        // A display that shows no figure gives no reading.
        let Some(shown) = line.split(' ').nth(1).and_then(|f| f.parse::<f64>().ok()) else { continue };
        #[expect(clippy::cast_precision_loss, reason = "a handful of readings")]
        let at_s = 15.0 * i as f64;
        seen.push(Seen { down: down || came_back, place: spot, ..Seen::of(load, (shown / d).round(), at_s) });
    }
    seen
}

/// What the diagnosis says first, and whether the true cause is among the first two.
fn told(case: &Case, truth: Cause) -> (Cause, bool) {
    let seen = check(case);
    let within = seen.iter().all(|s| s.error().is_some_and(|error| error.abs() <= mpe(s.load)));
    let Some(said) = diagnose(&seen, &case.facts, &Priors::default(), &Pointers::default(), within) else {
        return (Cause::NoSignal, truth == Cause::NoSignal);
    };
    (said.ranked[0].cause, said.ranked.iter().take(2).any(|r| r.cause == truth))
}

const SEEDS: u64 = 16;

#[test]
fn every_fault_is_told_from_a_full_check_and_a_sound_scale_is_left_alone() {
    let mut matrix: BTreeMap<(Cause, Cause), usize> = BTreeMap::new();
    let (mut first, mut second, mut all) = (0usize, 0usize, 0usize);
    for info in table().iter().filter(|info| info.cause != Cause::Unknown) {
        // Sound scales are the common case, and a false alarm costs a visit: more of them.
        let seeds = if info.cause == Cause::Sound { 10 * SEEDS } else { SEEDS };
        for seed in 0..seeds {
            let mut rng = ChaCha8Rng::seed_from_u64(seed * 1000 + info.cause as u64);
            let case = case(info.cause, &mut rng);
            let (said, in_two) = told(&case, info.cause);
            *matrix.entry((info.cause, said)).or_default() += 1;
            if info.cause != Cause::Sound {
                all += 1;
                first += usize::from(said == info.cause);
                second += usize::from(in_two);
            }
        }
    }
    println!("\n| true | told first | others |\n|---|---|---|");
    for info in table() {
        let row: Vec<(&(Cause, Cause), &usize)> =
            matrix.iter().filter(|((truth, _), _)| *truth == info.cause).collect();
        let sum: usize = row.iter().map(|(_, n)| **n).sum();
        let right = matrix.get(&(info.cause, info.cause)).copied().unwrap_or(0);
        let others: Vec<String> = row
            .iter()
            .filter(|((_, said), _)| *said != info.cause)
            .map(|((_, said), n)| format!("{said:?} {n}"))
            .collect();
        println!("| {:?} | {right} of {sum} | {} |", info.cause, others.join(", "));
    }
    let alarms = 10 * SEEDS as usize - matrix.get(&(Cause::Sound, Cause::Sound)).copied().unwrap_or(0);
    println!(
        "\nfirst {first} of {all}, first two {second} of {all}, false alarms {alarms} of {}",
        10 * SEEDS
    );
    assert!(first * 100 >= all * 95, "first place: {first} of {all}");
    assert!(second * 100 >= all * 99, "first two: {second} of {all}");
    assert!(alarms * 100 < 2 * 10 * SEEDS as usize, "false alarms: {alarms}");
}
