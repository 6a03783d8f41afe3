//! R22.

use serde::Deserialize;
use serde_json::{Value, json};
use time::Date;

use super::{op_of, read, unknown_op};
use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::schedule::{next_due, trend};

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

#[derive(Deserialize)]
struct IntervalOf {
    #[serde(with = "iso_date")]
    day: Date,
    months: u32,
    shares_of_mpe: Vec<Decimal>,
    limit_months: Option<u32>,
}

#[derive(Deserialize)]
struct RecordOf {
    #[serde(with = "iso_date")]
    day: Date,
    error: Mass,
}

#[derive(Deserialize)]
struct TrendOf {
    mpe: Mass,
    records: Vec<RecordOf>,
}

pub(crate) fn due(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "interval").as_str() {
        "interval" => {
            let asked: IntervalOf = read(input)?;
            let result = next_due(asked.day, asked.months, &asked.shares_of_mpe, asked.limit_months)?;
            Ok(json!({"months": result.months, "outcome": result.outcome, "due": result.due.to_string()}))
        }
        "trend" => {
            let asked: TrendOf = read(input)?;
            if !asked.mpe.value.is_positive() {
                return Err(Refusal::from(Refused::NotPositive));
            }
            let first = asked.records.iter().map(|r| r.day).min();
            #[expect(clippy::cast_precision_loss, reason = "days of a life")]
            let days = |day: Date| first.map_or(0.0, |first| (day - first).whole_days() as f64);
            let records: Vec<(f64, f64)> = asked
                .records
                .iter()
                .map(|r| (days(r.day), r.error.value_in(asked.mpe.unit).to_f64()))
                .collect();
            let result = trend(&records, asked.mpe.value.to_f64())?;
            Ok(
                json!({"slope_per_day": result.slope, "s": result.s, "meets": result.meets, "earliest": result.earliest, "latest": result.latest}),
            )
        }
        other => Err(unknown_op(other)),
    }
}

crate::refusals! {
    enum Refused {
        NotPositive = "not_positive" at "mpe": text!("calc-no-tolerance");
    }
}
