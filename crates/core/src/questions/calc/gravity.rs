//! R16.

use serde::Deserialize;
use serde_json::{Value, json};

use super::{op_of, read, unknown_op};
use crate::adjust::{GravityError, GravityShift, given_g, gravity};
use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::tolerance::{Class, House, Scheme, TableRow, Tolerance};

#[derive(Deserialize)]
struct Place {
    #[serde(default)]
    latitude: Option<Decimal>,
    #[serde(default)]
    altitude_m: Option<Decimal>,
    #[serde(default)]
    g: Option<Decimal>,
}

impl Place {
    fn g(&self) -> Result<f64, Refusal> {
        match (&self.g, &self.latitude) {
            (Some(g), _) => Ok(given_g(g)?),
            (None, Some(latitude)) => {
                Ok(gravity(latitude, self.altitude_m.as_ref().unwrap_or(&Decimal::zero()))?)
            }
            (None, None) => Err(Refusal::from(Refused::BadInput)),
        }
    }
}

#[derive(Deserialize)]
struct ShiftOf {
    max: Mass,
    d: Mass,
    scheme: Scheme,
    class: Option<Class>,
    house: Option<House>,
    table: Option<Vec<TableRow>>,
    adjusted: Place,
    used: Place,
}

pub(crate) fn site(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "g").as_str() {
        "g" => Ok(json!({"g": read::<Place>(input)?.g()?})),
        "shift" => shift(&read(input)?),
        other => Err(unknown_op(other)),
    }
}

fn shift(asked: &ShiftOf) -> Result<Value, Refusal> {
    let tolerance = Tolerance {
        scheme: asked.scheme,
        class: asked.class,
        house: asked.house.clone(),
        table: asked.table.clone(),
    };
    if !asked.d.value.is_positive() || !asked.max.value.is_positive() {
        return Err(Refusal::from(Refused::NotPositive).at(if asked.d.value.is_positive() {
            "max"
        } else {
            "d"
        }));
    }
    let shift = GravityShift::new(&asked.max, &asked.d, &tolerance, asked.adjusted.g()?, asked.used.g()?)
        .map_err(<Refusal as From<GravityError>>::from)?;
    Ok(json!({
        "g_adjusted": shift.adjusted, "g_used": shift.used, "factor": shift.factor,
        "shift_at_max_d": shift.shift_at_max_d, "limit_d": shift.limit_d, "caution": shift.matters(),
    }))
}

crate::refusals! {
    enum Refused {
        BadInput = "bad_input" at "latitude": text!("calc-no-place");
        NotPositive = "not_positive": text!("calc-max-and-d-above-zero");
    }
}
