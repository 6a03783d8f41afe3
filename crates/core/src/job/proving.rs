//! Readings judged: error, tolerance and verdict for each, the verdict for all, and the loads
//! that are worth putting on.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::decide::is_live;
use super::loaded::weight_cautions;
use super::{JobState, ReadStage, Reading, Setup, Way};
use crate::proof::{ErrorInputs, error_of_indication};
use crate::quantity::{Decimal, Mass};
use crate::tolerance::{Scheme, Tolerance};
use crate::working::Working;

/// As found or as left.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Phase {
    /// Before anything was touched.
    AsFound,
    /// As left.
    AsLeft,
}

/// A reading with its error and verdict.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct ReadingView {
    /// The entry it stands in.
    pub entry: Uuid,
    /// What was put on.
    pub load: Mass,
    /// The load in words, in the display's unit too where it was typed in another.
    pub load_text: String,
    /// What was shown, with the display's decimals.
    pub shown_text: String,
    /// Up or down.
    pub way: Way,
    /// Which pad it stood on.
    pub pad: u8,
    /// Taken from the connected indicator.
    pub live: bool,
    /// E = I − L, in the display's unit.
    pub error: Mass,
    /// The error with its sign.
    pub error_text: String,
    /// The error in divisions, two decimals.
    pub error_d: String,
    /// ± tolerance at this load.
    pub mpe_text: String,
    /// |E| ≤ MPE.
    pub within: bool,
    /// False where what it was meant to prove has been changed since.
    pub counts: bool,
    /// What is odd about it.
    pub cautions: Vec<String>,
    /// The pieces it was made of.
    pub pieces: Vec<String>,
    /// How it came about.
    pub working: Vec<Working>,
}

/// A load that is worth putting on.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Wanted {
    /// The load.
    pub load: Mass,
    /// Up or down.
    pub way: Way,
    /// On which pad.
    pub pad: u8,
    /// Why.
    pub why: String,
    /// Taken already.
    pub done: bool,
}

/// Judges every reading of a phase.
pub fn judged(state: &JobState, phase: Phase) -> Vec<ReadingView> {
    readings_of(state, phase).iter().filter_map(|reading| judge(reading, &setup_for(state, phase, reading.pad), &state.tolerance.0)).collect()
}

fn setup_for(state: &JobState, phase: Phase, pad: u8) -> Setup {
    match phase {
        Phase::AsFound => state.setup_as_found_of(pad).0,
        Phase::AsLeft => state.setup_of(pad).0,
    }
}

fn readings_of(state: &JobState, phase: Phase) -> &[Reading] {
    match phase {
        Phase::AsFound => &state.found,
        Phase::AsLeft => &state.left,
    }
}

/// The pad that a reading is wanted from next.
pub fn pad_to_read(state: &JobState, stage: ReadStage) -> u8 {
    let phase = if stage == ReadStage::AsFound { Phase::AsFound } else { Phase::AsLeft };
    wanted(state, phase).into_iter().find(|w| !w.done).map_or(1, |w| w.pad)
}

fn judge(reading: &Reading, setup: &Setup, tolerance: &Tolerance) -> Option<ReadingView> {
    let unit = setup.d.unit;
    // OK because a tolerance is checked against the set-up before it enters the journal.
    let d = setup.d_at(&reading.load, reading.way);
    let mpe = tolerance.at(&reading.load.to(unit), Some(d), Some(&setup.max)).ok()?.to(unit);
    let told = error_of_indication(&ErrorInputs {
        unit,
        shown: reading.shown.clone(),
        load: reading.load.clone(),
        d: None,
        added: None,
        zero_error: None,
        mpe: Some(mpe.clone()),
    })
    .ok()?;
    let in_d = told.error.ratio(d)?;
    let shown = reading.shown.to(unit);
    // An error against a load in another unit has more places than the display.
    let places = if told.error.ratio(d).is_some_and(|r| r.is_whole()) { setup.decimals } else { setup.decimals + 2 };
    let error_text = told.error.signed(places);
    let mpe_text = format!("±{mpe}");
    let within = told.within.unwrap_or(false);
    let working = workings(reading, d, tolerance, &shown, &error_text, &mpe, within);
    Some(ReadingView {
        entry: reading.entry,
        load_text: load_text(&reading.load, setup),
        load: reading.load.clone(),
        shown_text: format!("{} {unit}", shown.value.fixed(setup.decimals.max(places_of(&shown.value)))),
        way: reading.way,
        pad: reading.pad,
        live: is_live(&reading.taken),
        error_d: signed_divisions(&in_d),
        error: told.error,
        error_text,
        mpe_text,
        within,
        counts: reading.counts,
        cautions: cautions(&shown, d).into_iter().chain(weight_cautions(reading, &mpe)).collect(),
        pieces: reading.with.iter().map(|p| p.serial.clone()).collect(),
        working,
    })
}

fn places_of(value: &Decimal) -> u32 {
    let (_, exponent) = value.digits_and_exponent();
    u32::try_from(-exponent).unwrap_or(0)
}

fn signed_divisions(in_d: &Decimal) -> String {
    let text = if in_d.is_whole() { in_d.to_string() } else { in_d.fixed(2) };
    if in_d.is_positive() { format!("+{text} d") } else { format!("{text} d") }
}

fn load_text(load: &Mass, setup: &Setup) -> String {
    if load.unit == setup.d.unit { load.to_string() } else { format!("{load} = {}", Mass::new(load.value_in(setup.d.unit).round_to(6), setup.d.unit)) }
}

fn workings(reading: &Reading, d: &Mass, tolerance: &Tolerance, shown: &Mass, error: &str, mpe: &Mass, within: bool) -> Vec<Working> {
    let in_e = reading.load.abs().ratio(d).unwrap_or_else(Decimal::zero);
    let mut of_error = Working::new("Error of indication", "E = I − L", error, "OIML R 76-1:2006, A.4.4.3")
        .with("I", "indication", shown)
        .with("L", "load", &reading.load);
    if let super::Taken::Live { hold_s, restarts, samples, mean } = &reading.taken {
        of_error = of_error.with("T", "taken steady: held, samples, restarts", format!("{hold_s} s, {samples}, {restarts}"));
        if let Some(mean) = mean {
            of_error = of_error.with("x̄", "mean of the raw signal, for information", mean);
        }
    }
    let of_mpe = Working::new("Tolerance", "MPE from the step in which the load lies; |E| ≤ MPE is within", format!("±{mpe}"), &tolerance.source())
        .with("scheme", "chosen for this scale", tolerance.label())
        .with("e", "verification interval, equal to d", d)
        .with("L / e", "load in e", if in_e.is_whole() { in_e.to_string() } else { in_e.fixed(2) })
        .with("verdict", "|E| against MPE", if within { "within" } else { "outside" });
    vec![of_error, of_mpe]
}

fn cautions(shown: &Mass, d: &Mass) -> Vec<String> {
    let steps = shown.ratio(d).unwrap_or_else(Decimal::zero);
    if steps.is_whole() {
        return Vec::new();
    }
    vec![format!("{shown} is no multiple of the division {d}; was it read right?")]
}

/// The loads of a plain check: zero, the ends of the tolerance steps, half, Max, the span weight;
/// then half and zero coming down. Source: OIML R 76-1:2006, A.4.4.1; NIST Handbook 44 §2.20, N.1.
pub fn wanted(state: &JobState, phase: Phase) -> Vec<Wanted> {
    (1..=state.sheet.pads).flat_map(|pad| wanted_on(state, phase, pad)).collect()
}

fn wanted_on(state: &JobState, phase: Phase, pad: u8) -> Vec<Wanted> {
    let setup = setup_for(state, phase, pad);
    let readings: Vec<&Reading> = readings_of(state, phase).iter().filter(|r| r.pad == pad).collect();
    let half = Mass::new(whole_divisions(&setup.max.times(&Decimal::new(5, 1)), &setup.d), setup.d.unit);
    let mut loads: Vec<(Mass, &str)> = vec![(Mass::zero(setup.d.unit), "zero")];
    if phase == Phase::AsLeft {
        loads.extend(steps_inside(state, &setup).into_iter().map(|load| (load, "end of a tolerance step")));
        loads.extend(state.pad(pad).adjusted.iter().filter_map(|a| Some((a.proved_by()?.clone(), "the span weight"))));
    }
    loads.push((half.clone(), "half of Max: a bow shows here"));
    loads.push((setup.max.clone(), "Max, or as far as the weights go"));
    loads.sort_by(|a, b| a.0.cmp(&b.0));
    loads.dedup_by(|later, first| {
        let close = later.0.minus(&first.0).abs() <= setup.max.times(&Decimal::new(2, 2));
        // Where two fall together the exact one stays: the span weight and Max are not moved.
        if close && (later.1 == "the span weight" || later.1.starts_with("Max")) {
            *first = later.clone();
        }
        close
    });
    let taken = |load: &Mass, way: Way| readings.iter().any(|r| r.counts && r.way == way && close_to(&r.load, load));
    let up = loads.iter().map(|(load, why)| Wanted { load: load.clone(), way: Way::Up, pad, why: (*why).into(), done: taken(load, Way::Up) });
    let down = [(half, "the same load coming down"), (Mass::zero(setup.d.unit), "zero comes back")]
        .map(|(load, why)| Wanted { done: taken(&load, Way::Down), load, way: Way::Down, pad, why: why.into() });
    if phase == Phase::AsLeft { up.chain(down).collect() } else { up.collect() }
}

fn whole_divisions(load: &Mass, d: &Mass) -> Decimal {
    &load.ratio(d).unwrap_or_else(Decimal::zero).floor() * &d.value
}

fn steps_inside(state: &JobState, setup: &Setup) -> Vec<Mass> {
    if matches!(state.tolerance.0.scheme, Scheme::House) {
        return Vec::new();
    }
    let outline = outline(&state.tolerance.0, setup);
    // A scale with many steps is proved at the first few; the rest lies on the way to Max.
    outline.into_iter().map(|step| step.to).filter(|to| *to < setup.max).take(4).collect()
}

/// The outline of the tolerance over every range, each range with its own division.
pub fn outline(tolerance: &Tolerance, setup: &Setup) -> Vec<crate::tolerance::Step> {
    let coarse = tolerance.outline(&setup.d, &setup.max).unwrap_or_default();
    let Some(fine) = &setup.fine else { return coarse };
    let mut steps = tolerance.outline(&fine.d, &fine.max).unwrap_or_default();
    for mut step in coarse.into_iter().filter(|step| step.to > fine.max) {
        if step.from < fine.max {
            step.from = fine.max.clone();
        }
        steps.push(step);
    }
    steps
}

/// Within five per cent of the load that was wanted; zero only by zero.
fn close_to(load: &Mass, wanted: &Mass) -> bool {
    if wanted.value.is_zero() {
        return load.value.is_zero();
    }
    load.minus(wanted).abs() <= wanted.times(&Decimal::new(5, 2))
}

/// What a proof still lacks, in words; empty where it will do. `span` is the span weight, where
/// there was an adjustment.
pub fn lacking(readings: &[&Reading], span: Option<&Mass>) -> Vec<String> {
    let mut lacks = Vec::new();
    if !readings.iter().any(|r| r.load.value.is_zero()) {
        lacks.push("a reading at zero".to_owned());
    }
    if let Some(span) = span
        && !readings.iter().any(|r| r.load == *span)
    {
        lacks.push(format!("the span weight, {span}"));
    }
    let mut others: Vec<&Mass> = readings.iter().map(|r| &r.load).filter(|l| !l.value.is_zero() && Some(*l) != span).collect();
    others.sort();
    others.dedup();
    let needed = if span.is_some() { 2usize } else { 3 };
    if others.len() < needed {
        lacks.push(format!("{} more load{} across the range: a bow shows only at a further load", needed - others.len(), if needed - others.len() == 1 { "" } else { "s" }));
    }
    if span.is_some() && !readings.iter().any(|r| r.way == Way::Down) {
        lacks.push("a load coming down".to_owned());
    }
    lacks
}
