//! R4.

use serde::Deserialize;
use serde_json::{Value, json};

use super::read;
use crate::quantity::{Mass, Range};
use crate::refusal::Refusal;
use crate::tolerance::{Class, House, Scheme, TableRow, Tolerance};

#[derive(Deserialize)]
struct ToleranceOf {
    scheme: Scheme,
    class: Option<String>,
    e: Option<Mass>,
    d: Option<Mass>,
    max: Option<Mass>,
    load: Mass,
    error: Option<Mass>,
    ranges: Option<Vec<Range>>,
    house: Option<House>,
    table: Option<Vec<TableRow>>,
}

pub(crate) fn tolerance(input: Value) -> Result<Value, Refusal> {
    let asked: ToleranceOf = read(input)?;
    let class = asked.class.as_deref().map(str::parse::<Class>).transpose()?;
    let tolerance = Tolerance { scheme: asked.scheme, class, house: asked.house, table: asked.table };
    let mpe = match &asked.ranges {
        Some(ranges) => tolerance.in_intervals(&asked.load, ranges)?,
        None => tolerance.at(&asked.load, asked.e.as_ref().or(asked.d.as_ref()), asked.max.as_ref())?,
    };
    let mut out = json!({"mpe": mpe});
    if let Some(error) = asked.error {
        out["within"] = json!(error.abs() <= mpe);
    }
    Ok(out)
}
