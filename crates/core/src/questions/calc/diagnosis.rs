//! R18.

use serde::Deserialize;
use serde_json::{Value, json};
use uuid::Uuid;

use super::read;
use crate::diagnosis::{Facts, Pointers, Priors, Seen, diagnose, soak};
use crate::job::MOST_ENTRIES;
use crate::quantity::Mass;
use crate::refusal::Refusal;

#[derive(Deserialize)]
struct ReadingOf {
    load: Mass,
    shown: Mass,
    #[serde(default)]
    down: bool,
    #[serde(default)]
    at: Option<(f64, f64)>,
    /// Minutes since the first.
    #[serde(default)]
    minute: f64,
}

#[derive(Deserialize)]
struct CheckOf {
    max: Mass,
    d: Mass,
    mpe_max: Mass,
    #[serde(default)]
    cells: Vec<(f64, f64)>,
    readings: Vec<ReadingOf>,
    #[serde(default)]
    span: Option<Mass>,
    #[serde(default)]
    pieces: Vec<Mass>,
    #[serde(default)]
    within: bool,
}

pub(crate) fn causes(input: Value) -> Result<Value, Refusal> {
    let asked: CheckOf = read(input)?;
    let d = &asked.d;
    let in_d = |mass: &Mass| mass.ratio(d).map_or(0.0, |r| r.to_f64());
    if !d.value.is_positive() || !asked.max.value.is_positive() || !asked.mpe_max.value.is_positive() {
        return Err(Refusal::new("not_positive", text!("calc-max-division-and-tolerance-are")).at("d"));
    }
    if asked.readings.len() > MOST_ENTRIES || asked.cells.len() > 64 || asked.pieces.len() > 1_000 {
        let says = text!("calc-at-most-most-entries-readings", most_entries = MOST_ENTRIES);
        return Err(Refusal::new("too_many", says).at("readings"));
    }
    if let Some(odd) = asked.readings.iter().find(|r| r.load.value.is_negative() || r.load > asked.max) {
        return Err(
            Refusal::new("above_max", text!("calc-a-load-lies-between-zero", load = odd.load)).at("readings")
        );
    }
    let (mut soaked, mut minute, mut highest) = (0.0, 0.0, 0.0f64);
    let mut seen = Vec::new();
    for (order, r) in (1u32..).zip(&asked.readings) {
        let load = in_d(&r.load);
        soaked = soak(soaked, load, (r.minute - minute) * 60.0);
        minute = r.minute;
        let back = load == 0.0 && highest > 0.0;
        highest = highest.max(load);
        seen.push(Seen {
            entry: Uuid::nil(),
            load,
            shown: in_d(&r.shown),
            down: r.down || back,
            spot: r.at,
            fine: false,
            order: f64::from(order),
            soaked,
        });
    }
    let n = in_d(&asked.max);
    let facts = Facts {
        n,
        mpe_max: in_d(&asked.mpe_max),
        cells: asked.cells,
        span: asked.span.as_ref().map(in_d),
        pieces: asked.pieces.iter().map(in_d).collect(),
        u_span: None,
        too_fine: n > 10_000.0,
    };
    let told = diagnose(&seen, &facts, &Priors::default(), &Pointers::default(), asked.within)
        .ok_or_else(|| Refusal::new("nothing_read", text!("calc-no-load-above-zero-was")).at("readings"))?;
    let ranked: Vec<Value> =
        told.ranked.iter().map(|r| json!({"cause": r.cause, "probability": r.probability})).collect();
    Ok(
        json!({"first": told.ranked.first().map(|r| r.cause), "told": told.told, "ranked": ranked, "act": told.ranked.first().map(|r| r.act), "next": told.next.map(|n| n.says.to_string())}),
    )
}
