//! R11.

use serde::Deserialize;
use serde_json::{Value, json};

use super::{float, floats, op_of, read, unknown_op};
use crate::adjust::{Curve, Point, TrimMeans, TrimPosition, TwoPoint, internal_weight, new_factor, trim};
use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;

#[derive(Deserialize)]
struct TwoPointOf {
    weight: Mass,
    counts_zero: Decimal,
    counts_weight: Decimal,
    counts: Option<Vec<Decimal>>,
    d: Option<Mass>,
}

#[derive(Deserialize)]
struct MultiPointOf {
    points: Vec<Point>,
    #[serde(default)]
    counts: Vec<Decimal>,
}

#[derive(Deserialize)]
struct FactorOf {
    factor: Decimal,
    load: Mass,
    shown: Mass,
    shown_zero: Mass,
    decimals: Option<u32>,
    max: Option<Mass>,
    d: Option<Mass>,
}

#[derive(Deserialize)]
struct InternalOf {
    internal: Mass,
    load: Mass,
    shown: Mass,
    shown_zero: Mass,
}

pub(crate) fn adjustment(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "two_point").as_str() {
        "two_point" => two_point(read(input)?),
        "multi_point" => {
            let MultiPointOf { points, counts } = read(input)?;
            let unit = points.first().map(|p| p.mass.unit);
            let curve = Curve::new(points)?;
            let masses: Vec<Mass> = counts.iter().map(|c| curve.mass_at(c)).collect();
            Ok(json!({"masses": floats(&masses), "unit": unit}))
        }
        "factor" => factor(&read(input)?),
        "internal" => {
            let InternalOf { internal, load, shown, shown_zero } = read(input)?;
            let new = internal_weight(&internal, &load, &shown, &shown_zero)?;
            Ok(json!({
                "internal": float(&new.internal.value), "unit": new.internal.unit,
                "change_mg": float(&new.change_mg), "change_ppm": float(&new.change_ppm),
            }))
        }
        other => Err(unknown_op(other)),
    }
}

fn two_point(asked: TwoPointOf) -> Result<Value, Refusal> {
    let two = TwoPoint::new(asked.weight, asked.counts_zero, asked.counts_weight)?;
    let per_count = two.mass_per_count();
    let mut out = json!({"mass_per_count": float(&per_count.value), "unit": per_count.unit});
    if let Some(counts) = asked.counts {
        let masses: Vec<Mass> = counts.iter().map(|c| two.mass_at(c)).collect();
        out["masses"] = json!(floats(&masses));
    }
    if let Some(d) = asked.d {
        out["counts_per_d"] = json!(float(&two.counts_per_division(&d)));
        out["caution_few_counts"] = json!(two.few_counts(&d));
    }
    Ok(out)
}

fn factor(asked: &FactorOf) -> Result<Value, Refusal> {
    let new = new_factor(&asked.factor, &asked.load, &asked.shown, &asked.shown_zero)?;
    let mut out = json!({"factor": float(&new.factor)});
    if let Some(decimals) = asked.decimals.filter(|d| *d <= 24) {
        let n = asked.max.as_ref().zip(asked.d.as_ref()).and_then(|(max, d)| max.ratio(d));
        let (rounded, cost) = new.rounded(decimals, n.as_ref());
        out["rounded"] = json!(rounded);
        if let Some(cost) = cost {
            out["cost_at_max_d"] = json!(float(&cost));
        }
    }
    Ok(out)
}

#[derive(Deserialize)]
struct TrimPlace {
    shares: Vec<Decimal>,
    shown: Mass,
}

#[derive(Deserialize)]
struct TrimOf {
    cells: usize,
    load: Mass,
    shown_zero: Option<Mass>,
    way: TrimMeans,
    target: Option<Decimal>,
    positions: Vec<TrimPlace>,
}

pub(crate) fn corner_trim(input: Value) -> Result<Value, Refusal> {
    let asked: TrimOf = read(input)?;
    let unit = asked.load.unit;
    let zero = asked.shown_zero.unwrap_or_else(|| Mass::zero(unit));
    let place = |p: &TrimPlace| TrimPosition {
        shares: p.shares.iter().map(Decimal::to_f64).collect(),
        net: p.shown.minus(&zero).value_in(unit).to_f64(),
    };
    let positions: Vec<TrimPosition> = asked.positions.iter().map(place).collect();
    let result = trim(
        asked.cells,
        asked.load.value.to_f64(),
        &positions,
        asked.way,
        asked.target.as_ref().map(Decimal::to_f64),
    )?;
    Ok(
        json!({"gains": result.gains, "factors": result.factors, "residuals": result.residuals, "predicted": result.predicted, "unit": unit}),
    )
}
