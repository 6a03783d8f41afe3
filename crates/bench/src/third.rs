//! A scale with a fault as a list of readings, by physics that share no line with the diagnosis nor with the live
//! bench: to judge by. A deck between rigid and limp, loads that never stand quite the same,
//! cells that creep by a logarithm and warm up by a stretched exponential, friction as a play, stops that give
//! way softly, a person who writes some things down and forgets others.

use rand::{Rng, RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde_json::{Value, json};

use crate::platform::normal;

/// Names of the causes, as R18 has them.
pub const CAUSES: [&str; 20] = [
    "sound",
    "span_drift",
    "zero_under_load",
    "unit_switched",
    "decimal_misplaced",
    "wrong_span_weight",
    "small_span_weight",
    "bow",
    "stop_touched",
    "rubbing",
    "bad_corner_cell",
    "foot_or_twist",
    "noise",
    "division_too_fine",
    "cable_moisture",
    "warm_up_drift",
    "creep",
    "reversed_signal",
    "no_excitation",
    "overloaded_cell",
];

/// What is asked of the model.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Ask {
    /// The causes; two are at work at once.
    pub causes: Vec<&'static str>,
    /// Three loads and back to zero, without corners.
    pub quick: bool,
    /// One reading is written down wrong.
    pub slip: bool,
    /// A fault that no cause of the list makes.
    pub strange: bool,
}

/// A check as R18 is asked about it.
#[derive(Clone, Debug, PartialEq)]
pub struct MadeCheck {
    /// The `input` of R18.
    pub input: Value,
    /// The reading that was written down wrong.
    pub slipped: Option<usize>,
}

/// One load put on, read and taken off again.
struct Step {
    stage: &'static str,
    load: f64,
    place: &'static str,
    at: (f64, f64),
    wait: f64,
}

/// What may be wrong with it, in divisions where not said.
struct Fault {
    gain: [f64; 4],
    offset: f64,
    bow: f64,
    cubic: f64,
    knee: f64,
    knee_corner: Option<usize>,
    stiff: f64,
    play: (f64, f64),
    twist: f64,
    noise: f64,
    walk: f64,
    jumps: f64,
    warm: (f64, f64),
    creep: (f64, f64),
    /// The display shows so many times what is weighed, in steps of so many divisions.
    shown: (f64, f64),
    adjust: f64,
    zero_was: f64,
    dead_signal: bool,
    wave: f64,
}

/// Heavier than normal: every twelfth is three times as large.
fn heavy(rng: &mut impl Rng) -> f64 {
    let wide = if rng.random_range(0..12) == 0 { 3.0 } else { 1.0 };
    wide * normal(rng)
}

fn log_between(rng: &mut impl Rng, low: f64, high: f64) -> f64 {
    rng.random_range(low.ln()..high.ln()).exp()
}

fn either(rng: &mut impl Rng) -> f64 {
    if rng.random() { 1.0 } else { -1.0 }
}

/// The builds: Max and division in kg, and the pieces that come with it.
const BUILDS: [(f64, f64, &[f64]); 5] = [
    (640.0, 0.2, &[100.0, 100.0, 100.0, 100.0, 50.0, 50.0, 20.0, 20.0, 10.0, 5.0, 2.0]),
    (1450.0, 0.5, &[200.0, 200.0, 200.0, 200.0, 200.0, 100.0, 100.0, 50.0, 50.0, 20.0, 10.0, 5.0]),
    (92.0, 0.02, &[20.0, 20.0, 20.0, 10.0, 10.0, 5.0, 5.0, 2.0, 1.0, 0.5]),
    (30.0, 0.01, &[10.0, 5.0, 5.0, 2.0, 2.0, 1.0, 0.5, 0.2, 0.1]),
    (2900.0, 1.0, &[500.0, 500.0, 500.0, 500.0, 200.0, 200.0, 100.0, 50.0, 20.0, 20.0, 10.0]),
];

const CORNERS: [(&str, (f64, f64)); 4] = [
    ("front_left", (0.25, 0.75)),
    ("front_right", (0.75, 0.75)),
    ("rear_right", (0.75, 0.25)),
    ("rear_left", (0.25, 0.25)),
];
/// Where the cells are, before they are set in from the edge.
const CELLS: [(f64, f64); 4] = [(0.0, 1.0), (1.0, 1.0), (1.0, 0.0), (0.0, 0.0)];

/// A check of a scale with these faults; the same seed, the same check.
pub fn check(ask: &Ask, seed: u64) -> MadeCheck {
    let mut rng = ChaCha8Rng::seed_from_u64(seed);
    let rng = &mut rng;
    let (max, mut d, kit) = BUILDS[rng.random_range(0..BUILDS.len())];
    let has = |cause: &str| ask.causes.contains(&cause);
    if has("division_too_fine") {
        d = max / [16_000.0, 32_000.0, 64_000.0][rng.random_range(0..3)];
        d = 10f64.powf(d.log10().floor());
    }
    let n = (max / d).round();
    let mpe = if n <= 2000.0 { 1.0 } else { 1.5 };
    let mut span = (max * [0.25, 0.4, 0.5, 0.75, 1.0][rng.random_range(0..5)] / kit[kit.len() - 1]).floor()
        * kit[kit.len() - 1];
    if has("small_span_weight") {
        span = kit.iter().copied().filter(|m| *m <= 0.07 * max && *m >= 0.008 * max).fold(0.0, f64::max);
        if span == 0.0 {
            span = kit[kit.len() - 1];
        }
    }
    let mut fault = sound(rng, n, mpe);
    for cause in &ask.causes {
        breaks(cause, &mut fault, rng, (n, mpe), span / d, kit, d);
    }
    if ask.strange {
        fault.wave = log_between(rng, 8.0, 40.0) * mpe;
    }
    let minutes = if has("warm_up_drift") { rng.random_range(0..4) } else { rng.random_range(25..240) };
    let steps = if ask.quick { quick(rng, n) } else { full(rng, n) };
    let mut readings = Scale::new(rng, &fault, n, d, f64::from(minutes) * 60.0).read(rng, &steps);
    let dead = rng.random_range(0.03..0.2) * max / d;
    // Four cells of half of Max and 2 mV/V each, at 500 000 counts for 1 mV/V.
    let per_division = 1e6 * d / (4.0 * max / 2.0);
    count(rng, &mut readings, &steps, &fault, (n, per_division, dead));
    let slipped = if ask.slip { slip(rng, &mut readings, d, kit) } else { None };
    let mass = |value: f64| json!({"value": trim(value), "unit": "kg"});
    let setup = json!({
        "max": mass(max), "d": mass(d), "class": "III", "supports": 4,
        "cells": {"count": 4, "e_max": mass(max / 2.0), "sensitivity_mV_V": "2"},
        "counts_per_mV_V": 500_000,
        "dead_load_about": mass((dead * rng.random_range(0.75..1.3)).round() * d),
        "span_weight_keyed": mass(span),
        "minutes_on_at_start": minutes,
    });
    let kit: Vec<Value> = kit.iter().map(|m| mass(*m)).collect();
    MadeCheck { input: json!({"setup": setup, "kit": kit, "readings": readings}), slipped }
}

fn trim(value: f64) -> String {
    let text = format!("{value:.6}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// A sound scale: everything a little off, inside its tolerance.
fn sound(rng: &mut impl Rng, n: f64, mpe: f64) -> Fault {
    let mut small = |of: f64| of * rng.random_range(-1.0..1.0);
    Fault {
        gain: [small(0.4 / n), small(0.4 / n), small(0.4 / n), small(0.4 / n)],
        offset: small(0.2),
        bow: small(0.15 * mpe),
        cubic: small(0.05 * mpe),
        knee: f64::INFINITY,
        knee_corner: None,
        stiff: 0.0,
        play: (small(0.1).abs(), small(0.1).abs()),
        twist: small(0.3 / n),
        noise: 0.05 + small(0.08).abs(),
        walk: 0.0,
        jumps: 0.0,
        warm: (small(0.3), 400.0),
        creep: (small(0.4), 150.0),
        shown: (1.0, 1.0),
        adjust: small(0.3 * mpe / n),
        zero_was: 0.0,
        dead_signal: false,
        wave: 0.0,
    }
}

fn breaks(
    cause: &str,
    f: &mut Fault,
    rng: &mut impl Rng,
    (n, mpe): (f64, f64),
    span: f64,
    kit: &[f64],
    d: f64,
) {
    let at_max = |rng: &mut _, low: f64, high: f64| log_between(rng, low * mpe, high * mpe) / n * either(rng);
    match cause {
        "span_drift" => f.adjust += at_max(rng, 1.6, 20.0),
        "zero_under_load" => f.zero_was = log_between(rng, 4.0, 0.05 * n),
        "unit_switched" => f.shown = (2.204_622_621_849, [1.0, 2.0, 5.0][rng.random_range(0..3)]),
        "decimal_misplaced" => {
            let times = [10.0, 0.1, 100.0, 0.01][rng.random_range(0..4)];
            f.shown = (times, times);
        }
        "wrong_span_weight" => {
            let on = if rng.random() {
                span * (1.0 + log_between(rng, 0.004, 0.04))
            } else {
                let pieces = rng.random_range(1..=3);
                let by: f64 = (0..pieces).map(|_| kit[rng.random_range(0..kit.len())] / d).sum();
                if by < 0.8 * span && rng.random() { span - by } else { span + by }
            };
            f.adjust += span / on - 1.0;
        }
        "small_span_weight" => f.adjust += (0.1 + 0.25 * rng.random::<f64>()) * either(rng) / span,
        "bow" => {
            let size = log_between(rng, 1.8 * mpe, 12.0 * mpe) * either(rng);
            f.bow += 0.85 * size;
            f.cubic += 0.2 * size * either(rng);
        }
        "stop_touched" => {
            f.knee = n * rng.random_range(0.25..0.92);
            f.stiff = log_between(rng, 0.04, 1.0);
            if rng.random_range(0..4) == 0 {
                f.knee_corner = Some(rng.random_range(0..4));
                f.knee *= 0.25;
            }
        }
        "rubbing" => {
            let width = log_between(rng, 2.0 * mpe, 10.0 * mpe);
            f.play = (width, width * rng.random_range(0.0..0.8));
        }
        "bad_corner_cell" => {
            let lost = match rng.random_range(0..4) {
                0 => 1.0,
                1 => 2.0,
                _ => log_between(rng, 0.02, 0.6),
            };
            f.gain[rng.random_range(0..4)] -= lost;
            if lost < 1.0 && rng.random() {
                // Spanned in the middle since.
                f.adjust += lost / (4.0 - lost);
            }
        }
        "foot_or_twist" => f.twist += log_between(rng, 3.0, 40.0) * 3.0 / n * either(rng),
        "noise" => f.noise = log_between(rng, 1.5, 12.0) * mpe / 1.5,
        "division_too_fine" => f.noise = rng.random_range(1.3..4.0),
        "cable_moisture" => {
            f.walk = log_between(rng, 0.3, 1.2);
            f.jumps = if rng.random() { log_between(rng, 3.0, 15.0) } else { 0.0 };
            f.noise = rng.random_range(0.3..1.5);
        }
        "warm_up_drift" => {
            f.warm = (log_between(rng, 8.0, 50.0) * either(rng), log_between(rng, 150.0, 900.0))
        }
        "creep" => f.creep = (log_between(rng, 5.0, 16.0) * either(rng), log_between(rng, 40.0, 400.0)),
        "reversed_signal" => f.shown = (-1.0, 1.0),
        "no_excitation" => f.dead_signal = true,
        "overloaded_cell" => {
            f.offset += n * log_between(rng, 0.06, 0.5) * either(rng);
            f.gain[rng.random_range(0..4)] += rng.random_range(-0.02..0.01);
        }
        _ => {}
    }
}

fn full(rng: &mut impl Rng, n: f64) -> Vec<Step> {
    let mut wait = || rng.random_range(14.0..55.0);
    let middle = (0.5, 0.5);
    let mut steps = vec![Step { stage: "zero", load: 0.0, place: "centre", at: middle, wait: 5.0 }];
    let up = [0.1, 0.25, 0.5, 0.75, 1.0].map(|share| (share * n).round());
    for load in up {
        steps.push(Step { stage: "up", load, place: "centre", at: middle, wait: wait() });
    }
    for hold in [60.0, 200.0] {
        steps.push(Step { stage: "hold", load: n, place: "centre", at: middle, wait: hold });
    }
    for load in up.into_iter().rev().skip(1) {
        steps.push(Step { stage: "down", load, place: "centre", at: middle, wait: wait() });
    }
    steps.push(Step { stage: "zero", load: 0.0, place: "centre", at: middle, wait: 13.0 });
    for (place, at) in CORNERS {
        steps.push(Step { stage: "corner", load: (n / 3.0).round(), place, at, wait: wait() });
    }
    for _ in 0..4 {
        steps.push(Step {
            stage: "repeat",
            load: (0.5 * n).round(),
            place: "centre",
            at: middle,
            wait: wait(),
        });
    }
    steps.push(Step { stage: "zero", load: 0.0, place: "centre", at: middle, wait: 12.0 });
    steps
}

fn quick(rng: &mut impl Rng, n: f64) -> Vec<Step> {
    let mut wait = || rng.random_range(14.0..55.0);
    let loads = [("zero", 0.0), ("up", 0.2), ("up", 0.5), ("up", 1.0), ("zero", 0.0)];
    let step = |(stage, share): (&'static str, f64)| Step {
        stage,
        load: (share * n).round(),
        place: "centre",
        at: (0.5, 0.5),
        wait: wait(),
    };
    loads.into_iter().map(step).collect()
}

/// The scale while it is read.
struct Scale<'f> {
    fault: &'f Fault,
    /// Max, in divisions, and a division, in kg.
    n: f64,
    d: f64,
    /// Seconds from power-on.
    on_s: f64,
    /// From rigid, 0, to limp, 1.
    limp: f64,
    inset: f64,
    /// How exactly a load stands, in parts of the deck.
    standing: f64,
    writes_flicker: bool,
    at_s: f64,
    wandered: f64,
    /// What the load rubbed to rest at, in divisions; none before the first.
    rests: Option<f64>,
    /// Loads with the time since when each has been on.
    history: Vec<(f64, f64)>,
}

impl<'f> Scale<'f> {
    fn new(rng: &mut impl Rng, fault: &'f Fault, n: f64, d: f64, on_s: f64) -> Self {
        Self {
            fault,
            n,
            d,
            on_s,
            limp: rng.random_range(0.0..1.0),
            inset: rng.random_range(0.0..0.1),
            standing: rng.random_range(0.004..0.025),
            writes_flicker: rng.random_range(0..3) > 0,
            at_s: 0.0,
            wandered: 0.0,
            rests: None,
            history: Vec::new(),
        }
    }

    /// What a person writes down at each step.
    fn read(mut self, rng: &mut impl Rng, steps: &[Step]) -> Vec<Value> {
        steps
            .iter()
            .map(|step| {
                let weighed = self.weigh(rng, step);
                self.written(step, weighed)
            })
            .collect()
    }

    /// What it weighs, in divisions.
    fn weigh(&mut self, rng: &mut impl Rng, step: &Step) -> f64 {
        let f = self.fault;
        self.at_s += step.wait;
        self.wandered += f.walk * step.wait.sqrt() * normal(rng);
        if f.jumps > 0.0 && rng.random_range(0..6) == 0 {
            self.wandered += f.jumps * normal(rng);
        }
        // Put on soon after the last reading.
        self.history.push((self.at_s - 0.7 * step.wait, step.load));
        let (x, y) = (step.at.0 + self.standing * normal(rng), step.at.1 + self.standing * normal(rng));
        let borne = self.rub(step, self.borne(step.load, (x, y)));
        let warm = |at_s: f64| (-(at_s / f.warm.1).powf(0.8)).exp();
        let drifts = f.warm.0 * (warm(self.on_s) - warm(self.on_s + self.at_s));
        let mass = borne + self.creep() + drifts + self.wandered + f.offset + f.noise * heavy(rng);
        let weighed =
            if f.dead_signal { 2.0 + 0.1 * normal(rng) } else { (mass - f.zero_was) * (1.0 + f.adjust) };
        if f.shown.0 < 0.0 { -weighed } else { weighed }
    }

    /// What the cells make of a load at a place.
    fn borne(&self, load: f64, at: (f64, f64)) -> f64 {
        let f = self.fault;
        let shares: Vec<f64> = CELLS.iter().map(|cell| share(*cell, at, self.limp, self.inset)).collect();
        let cells: f64 = shares.iter().zip(f.gain).map(|(share, gain)| load * share * (1.0 + gain)).sum();
        let twisted = f.twist * load * (at.0 - 0.5) * (at.1 - 0.5) * 16.0 / 3.0;
        let x = load / self.n;
        let bow = f.bow * 4.0 * x * (1.0 - x) + f.cubic * 10.0 * x * (1.0 - x) * (1.0 - 2.0 * x);
        let beyond = f.knee_corner.map_or(load, |cell| load * shares[cell]) - f.knee;
        // A stop gives way softly before it stands.
        let soft = 0.004 * self.n;
        let taken = if beyond > 40.0 * soft { beyond } else { soft * (beyond / soft).exp().ln_1p() };
        cells + twisted + bow + f.wave * (x * 9.0 + 1.0).sin() - f.stiff * taken
    }

    /// A play: it follows only after its width. Put on anew it comes from below.
    fn rub(&mut self, step: &Step, target: f64) -> f64 {
        let width = self.fault.play.0 + self.fault.play.1 * step.load / self.n;
        let before = if matches!(step.stage, "corner" | "repeat") { Some(width) } else { self.rests };
        let rests = before.map_or(target, |before| before.clamp(target - width, target + width));
        self.rests = Some(rests);
        rests
    }

    /// By the logarithm of the time since each change of load, up to half an hour.
    fn creep(&self) -> f64 {
        let (size, tau) = self.fault.creep;
        let end = (1800.0 / tau + 1.0f64).ln();
        let mut before = 0.0;
        let one = |(since, load): &(f64, f64)| {
            let step = load - std::mem::replace(&mut before, *load);
            size * step / self.n * ((self.at_s - since) / tau + 1.0).ln() / end
        };
        self.history.iter().map(one).sum()
    }

    fn written(&self, step: &Step, weighed: f64) -> Value {
        let mut reading = json!({
            "stage": step.stage, "t_s": self.at_s.round(), "position": step.place,
            "load": {"value": trim(step.load * self.d), "unit": "kg"},
        });
        if weighed > self.n + 9.0 {
            reading["blank"] = json!("above");
        } else if weighed < -20.0 {
            reading["blank"] = json!("below");
        } else {
            reading["shown"] = json!(self.display(weighed));
            // No two flickers are alike.
            let by = 1.6 * self.fault.noise * (1.0 + 0.3 * (self.at_s * 0.377).fract());
            let (low, high) = (self.display(weighed - by), self.display(weighed + by));
            if self.writes_flicker && low != high {
                reading["flickers"] = json!([low, high]);
            }
        }
        reading
    }

    /// The figure on the display, in the unit and with the decimals that it is set to.
    fn display(&self, weighed: f64) -> String {
        let (times, step) = (self.fault.shown.0.abs(), self.fault.shown.1);
        let decimals = match times {
            t if t > 5.0 => (places(self.d) - 1).max(0),
            t if t < 0.5 => places(self.d) + 2,
            _ => places(self.d),
        };
        let shown = (weighed * times / step).round() * step * self.d;
        let text = format!("{shown:.*}", usize::try_from(decimals).unwrap_or(0));
        let zero = text.trim_start_matches('-').chars().all(|c| c == '0' || c == '.');
        if zero { text.replace('-', "") } else { text }
    }
}

fn places(d: f64) -> i32 {
    (0..7).find(|p| ((d * 10f64.powi(*p)).round() - d * 10f64.powi(*p)).abs() < 1e-6).unwrap_or(6)
}

fn share((cx, cy): (f64, f64), (x, y): (f64, f64), limp: f64, inset: f64) -> f64 {
    let spread = |at: f64| 0.5 + (at - 0.5) / (1.0 - 2.0 * inset);
    let (u, v) = (spread(x), spread(y));
    let bilinear = (if cx > 0.5 { u } else { 1.0 - u }) * (if cy > 0.5 { v } else { 1.0 - v });
    let rigid = 0.25 + 0.5 * (u - 0.5) * (2.0 * cx - 1.0) + 0.5 * (v - 0.5) * (2.0 * cy - 1.0);
    limp * bilinear + (1.0 - limp) * rigid
}

/// Internal counts at zero and at the highest load, as most write them down.
fn count(
    rng: &mut impl Rng,
    readings: &mut [Value],
    steps: &[Step],
    f: &Fault,
    (n, per, dead): (f64, f64, f64),
) {
    if rng.random_range(0..3) == 0 {
        return;
    }
    let gain = 1.0 + f.gain.iter().sum::<f64>() / 4.0 + 0.0015 * normal(rng);
    for (reading, step) in readings.iter_mut().zip(steps) {
        if step.stage == "zero" || step.load >= n {
            let beyond = if f.knee_corner.is_none() { (step.load - f.knee).max(0.0) * f.stiff } else { 0.0 };
            let signal = (dead + step.load - beyond) * gain + f.offset;
            let signal = if f.shown.0 < 0.0 { -signal } else { signal };
            let signal = if f.dead_signal { 0.0 } else { signal };
            reading["counts"] = json!((signal * per + 3.0 * normal(rng)).round());
        }
    }
}

/// One figure is written down wrong: a digit, two that changed places, or a piece that was left out.
fn slip(rng: &mut impl Rng, readings: &mut [Value], d: f64, kit: &[f64]) -> Option<usize> {
    let figures: Vec<usize> = (0..readings.len())
        .filter(|i| readings[*i]["shown"].is_string() && readings[*i]["stage"] != "zero")
        .collect();
    for _ in 0..20 {
        let at = figures[rng.random_range(0..figures.len())];
        let text = readings[at]["shown"].as_str()?.to_owned();
        let was: f64 = text.parse().ok()?;
        let mut digits: Vec<char> = text.chars().collect();
        let places: Vec<usize> = (0..digits.len()).filter(|i| digits[*i].is_ascii_digit()).collect();
        match rng.random_range(0..3) {
            0 => {
                let place = places[rng.random_range(0..places.len())];
                digits[place] = char::from_digit(rng.random_range(0..10), 10)?;
            }
            1 if places.len() > 1 => {
                let i = rng.random_range(0..places.len() - 1);
                digits.swap(places[i], places[i + 1]);
            }
            _ => {
                let piece = kit[rng.random_range(0..kit.len())];
                if was > piece {
                    let decimals = text.rsplit_once('.').map_or(0, |(_, p)| p.len());
                    digits = format!("{:.*}", decimals, was - piece).chars().collect();
                }
            }
        }
        let wrong: String = digits.into_iter().collect();
        let now: f64 = wrong.parse().ok()?;
        if (now - was).abs() > 8.0 * d && (now / d).round() * d - now < 1e-9 {
            readings[at]["shown"] = json!(wrong);
            if let Some(object) = readings[at].as_object_mut() {
                object.remove("flickers");
            }
            return Some(at);
        }
    }
    None
}
