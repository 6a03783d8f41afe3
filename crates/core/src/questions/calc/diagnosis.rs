//! R18: readings as they are written down, and what is wrong by them.

use serde::Deserialize;
use serde_json::{Value, json};
use uuid::Uuid;

use super::read;
use crate::diagnosis::{
    Blank, Cause, CountsExpected, Facts, Pointers, Priors, Seen, Shown, diagnose, predicted_at_max, too_fine,
};
use crate::job::MOST_ENTRIES;
use crate::quantity::{Book, Decimal, Mass, most_shown};
use crate::refusal::Refusal;
use crate::tolerance::{Class, Scheme, Tolerance};

/// Where in a check a reading was taken.
#[derive(Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
enum StageOf {
    Zero,
    Up,
    Hold,
    Down,
    Corner,
    Repeat,
}

/// Where a load stood.
#[derive(Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
enum PlaceOf {
    Centre,
    FrontLeft,
    FrontRight,
    RearRight,
    RearLeft,
}

impl PlaceOf {
    /// From the left and from the rear edge, 0 to 1: the middle of a quarter.
    const fn at(self) -> Option<(f64, f64)> {
        match self {
            Self::Centre => None,
            Self::FrontLeft => Some((0.25, 0.75)),
            Self::FrontRight => Some((0.75, 0.75)),
            Self::RearRight => Some((0.75, 0.25)),
            Self::RearLeft => Some((0.25, 0.25)),
        }
    }
}

#[derive(Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
enum BlankOf {
    Above,
    Below,
    Error,
    Off,
}

#[derive(Deserialize)]
struct ReadingOf {
    stage: StageOf,
    #[serde(default)]
    t_s: Option<f64>,
    load: Mass,
    #[serde(default)]
    position: Option<PlaceOf>,
    #[serde(default)]
    shown: Option<String>,
    #[serde(default)]
    blank: Option<BlankOf>,
    #[serde(default)]
    flickers: Option<(String, String)>,
    #[serde(default)]
    counts: Option<f64>,
}

#[derive(Deserialize)]
struct CellsOf {
    count: u32,
    e_max: Mass,
    #[serde(rename = "sensitivity_mV_V")]
    sensitivity: Decimal,
}

#[derive(Deserialize)]
struct AdjustedOf {
    weight: Mass,
    #[serde(default)]
    noise_d: Option<f64>,
}

/// A place as a pair or by its names.
#[derive(Clone, Copy, Deserialize)]
#[serde(untagged)]
enum At {
    Pair(f64, f64),
    Named { x: f64, y: f64 },
}

#[derive(Deserialize)]
struct SetupOf {
    #[serde(default)]
    max: Option<Mass>,
    #[serde(default)]
    d: Option<Mass>,
    #[serde(default)]
    class: Option<String>,
    #[serde(default)]
    supports: Option<u32>,
    #[serde(default)]
    positions: Vec<At>,
    #[serde(default)]
    cells: Option<CellsOf>,
    #[serde(default, rename = "counts_per_mV_V")]
    counts_per: Option<f64>,
    #[serde(default)]
    dead_load_about: Option<Mass>,
    #[serde(default)]
    span_weight_keyed: Option<Mass>,
    #[serde(default)]
    last_adjustment: Option<AdjustedOf>,
    #[serde(default)]
    minutes_on_at_start: Option<f64>,
}

#[derive(Deserialize)]
struct CheckOf {
    setup: SetupOf,
    #[serde(default)]
    kit: Vec<Mass>,
    readings: Vec<ReadingOf>,
}

/// A cause by its name in R18.
const fn name(cause: Cause) -> &'static str {
    match cause {
        Cause::Sound => "sound",
        Cause::SpanDrift => "span_drift",
        Cause::ZeroOff => "zero_under_load",
        Cause::UnitSwitched => "unit_switched",
        Cause::DecimalMisplaced => "decimal_misplaced",
        Cause::WrongWeight => "wrong_span_weight",
        Cause::ThinSpan => "small_span_weight",
        Cause::Bow => "bow",
        Cause::SecondSupport => "stop_touched",
        Cause::Rubbing => "rubbing",
        Cause::CornerCell => "bad_corner_cell",
        Cause::Twisted => "foot_or_twist",
        Cause::Restless => "noise",
        Cause::DivisionTooFine => "division_too_fine",
        Cause::Cable => "cable_moisture",
        Cause::WarmUp => "warm_up_drift",
        Cause::Creep => "creep",
        Cause::Reversed => "reversed_signal",
        Cause::NoSignal => "no_excitation",
        Cause::Overloaded => "overloaded_cell",
        Cause::Unknown => "none_fits",
    }
}

/// Below so much signal for a division, in mV/V, a cell's own noise is seen. About half a microvolt at 5 V.
const FINEST_MV_V: f64 = 1e-4;

pub(crate) fn causes(input: Value) -> Result<Value, Refusal> {
    let asked: CheckOf = read(input)?;
    if asked.readings.len() > MOST_ENTRIES || asked.kit.len() > 1_000 || asked.setup.positions.len() > 64 {
        return Err(Refusal::from(Refused::TooMany { most_entries: MOST_ENTRIES }));
    }
    let (max, d) = scale(&asked)?;
    if let Some(odd) = asked.readings.iter().find(|r| r.load.value.is_negative() || in_d(&r.load, &max) > 1.2)
    {
        return Err(Refusal::from(Refused::AboveMax { load: odd.load.clone() }));
    }
    let class = asked.setup.class.as_deref().map_or(Ok(Class::III), str::parse::<Class>)?;
    let tolerance = Tolerance::by_class(Scheme::R76Initial, class);
    let mpe = |load: &Mass| tolerance.at(load, Some(&d), Some(&max));
    let facts = facts(&asked, class, &max, &d, &mpe(&max)?);
    let mut seen = Vec::new();
    let mut within = true;
    for r in &asked.readings {
        let one = seen_of(r, &d, &seen)?;
        let limit = in_d(&mpe(&r.load)?, &d);
        within &= one.error().is_some_and(|error| error.abs() <= limit + 1e-9);
        seen.push(one);
    }
    let diagnosis = diagnose(&seen, &facts, &Priors::default(), &Pointers::default(), within)
        .ok_or_else(|| Refusal::from(Refused::NothingRead))?;
    let ranked: Vec<Value> = diagnosis
        .ranked
        .iter()
        .map(|r| match r.and {
            None => json!({"cause": name(r.cause), "probability": r.probability}),
            Some(and) => json!({"pair": [name(r.cause), name(and)], "probability": r.probability}),
        })
        .collect();
    let first = diagnosis.ranked.first().filter(|_| !diagnosis.none_fits).map(|r| name(r.cause));
    Ok(json!({
        "first": first,
        "told": diagnosis.told,
        "ranked": ranked,
        "act": diagnosis.act,
        "next": diagnosis.next.map(|n| n.says.to_string()),
        "odd_readings": diagnosis.odd_at,
        "fits": diagnosis.fits,
    }))
}

fn in_d(mass: &Mass, d: &Mass) -> f64 {
    mass.ratio(d).map_or(0.0, |r| r.to_f64())
}

/// Max and the division; where they are not told, as far as the readings tell them.
fn scale(asked: &CheckOf) -> Result<(Mass, Mass), Refusal> {
    let highest = || asked.readings.iter().map(|r| &r.load).max_by(|a, b| a.cmp(b)).cloned();
    let max = asked.setup.max.clone().or_else(highest);
    let refused = || Refusal::from(Refused::NotPositive);
    let max = max.filter(|max| max.value.is_positive()).ok_or_else(refused)?;
    let d = match &asked.setup.d {
        Some(d) => d.clone(),
        None => {
            let places = asked.readings.iter().filter_map(|r| r.shown.as_deref()).map(decimals).max();
            Mass::new(Decimal::ten_to(-i64::from(places.ok_or_else(refused)?)), max.unit)
        }
    };
    if d.value.is_positive() { Ok((max, d)) } else { Err(refused()) }
}

/// Decimals of a figure as it is written.
fn decimals(shown: &str) -> u32 {
    let places = shown.trim().rsplit_once(['.', ',']).map_or(0, |(_, places)| places.len());
    u32::try_from(places.min(9)).unwrap_or(0)
}

fn figure(text: &str, d: &Mass) -> Result<f64, Refusal> {
    let value: Decimal = text.trim().replace(',', ".").parse().map_err(|e| Refusal::from(e).at("shown"))?;
    Ok(value.quotient(&d.value).map_or(0.0, |steps| steps.to_f64()))
}

fn seen_of(r: &ReadingOf, d: &Mass, before: &[Seen]) -> Result<Seen, Refusal> {
    let load = in_d(&r.load, d);
    let shown = match (&r.shown, r.blank) {
        (Some(text), None) => Shown::Figure(figure(text, d)?),
        (_, Some(BlankOf::Above)) => Shown::Blank(Blank::Above),
        (_, Some(BlankOf::Below)) => Shown::Blank(Blank::Below),
        (_, Some(BlankOf::Error)) => Shown::Blank(Blank::Error),
        (_, Some(BlankOf::Off)) | (None, None) => Shown::Blank(Blank::Off),
    };
    let flicker = match &r.flickers {
        Some((low, high)) => Some((figure(high, d)? - figure(low, d)?).abs()),
        None => None,
    };
    let been_on = before.iter().any(|s| s.load > 0.0);
    // A load that stays on keeps the way by which it came.
    let down = match r.stage {
        StageOf::Down => true,
        StageOf::Hold => before.last().is_some_and(|s| s.down),
        StageOf::Zero => been_on,
        StageOf::Up | StageOf::Corner | StageOf::Repeat => load == 0.0 && been_on,
    };
    // Without a clock a reading takes about half a minute.
    let at_s = r.t_s.unwrap_or_else(|| before.last().map_or(0.0, |s| s.at_s + 35.0));
    Ok(Seen {
        entry: Uuid::nil(),
        load,
        shown,
        down,
        place: r.position.and_then(PlaceOf::at),
        fine: false,
        at_s: before.last().map_or(at_s, |s| at_s.max(s.at_s)),
        flicker,
        counts: r.counts,
    })
}

fn facts(asked: &CheckOf, class: Class, max: &Mass, d: &Mass, mpe_max: &Mass) -> Facts {
    let setup = &asked.setup;
    let n = in_d(max, d);
    let signal = setup.cells.as_ref().map(|cells| {
        // mV/V for a division, all cells side by side.
        cells.sensitivity.to_f64() / (f64::from(cells.count.max(1)) * in_d(&cells.e_max, d).max(1e-9))
    });
    let corners = setup.supports.or_else(|| setup.cells.as_ref().map(|c| c.count)) == Some(4);
    let cells = if setup.positions.len() > 1 {
        setup
            .positions
            .iter()
            .map(|at| match at {
                At::Pair(x, y) | At::Named { x, y } => (*x, *y),
            })
            .collect()
    } else if corners {
        vec![(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)]
    } else {
        Vec::new()
    };
    let adjusted = setup.last_adjustment.as_ref();
    let span = setup.span_weight_keyed.as_ref().or_else(|| adjusted.map(|a| &a.weight)).map(|m| in_d(m, d));
    let noise = adjusted
        .and_then(|a| Decimal::from_measured(a.noise_d?, 6))
        .map(|noise| Mass::new(&noise * &d.value, d.unit));
    let weight = adjusted.map(|a| &a.weight).or(setup.span_weight_keyed.as_ref());
    let u_span = weight.and_then(|weight| predicted_at_max(max, d, weight, mpe_max, noise.as_ref()));
    let counts = signal.zip(setup.counts_per).map(|(signal, per)| CountsExpected {
        per_division: signal * per,
        dead: setup.dead_load_about.as_ref().map_or(0.0, |m| in_d(m, d)),
    });
    let place = Mass::new(Decimal::ten_to(-i64::from(places_of(d, asked))), d.unit);
    Facts {
        n,
        mpe_max: in_d(mpe_max, d),
        cells,
        span,
        pieces: asked.kit.iter().map(|m| in_d(m, d)).collect(),
        u_span,
        too_fine: too_fine(n, Some(class), signal.is_some_and(|signal| signal < FINEST_MV_V)),
        on_s: setup.minutes_on_at_start.map(|minutes| minutes * 60.0),
        counts: counts.filter(|c| c.per_division > 0.0),
        digit: in_d(&place, d),
        shown_to: in_d(&most_shown(Book::R76, max, d), d),
    }
}

/// Decimals of the display: those of the division.
fn places_of(d: &Mass, asked: &CheckOf) -> u32 {
    let of_d = u32::try_from(-d.value.exponent()).unwrap_or(0);
    asked
        .readings
        .iter()
        .filter_map(|r| r.shown.as_deref())
        .map(decimals)
        .min()
        .map_or(of_d, |least| of_d.max(least))
}

crate::refusals! {
    enum Refused {
        TooMany { most_entries: usize } = "too_many" at "readings":
            text!("calc-at-most-most-entries-readings", most_entries);
        AboveMax { load: Mass } = "above_max" at "readings": text!("calc-a-load-lies-between-zero", load);
        NothingRead = "nothing_read" at "readings": text!("calc-no-load-above-zero-was");
        NotPositive = "not_positive" at "d": text!("calc-max-division-and-tolerance-are");
    }
}
