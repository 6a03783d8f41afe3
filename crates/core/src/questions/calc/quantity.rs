//! R1 and R2.

use serde::Deserialize;
use serde_json::{Value, json};

use super::{op_of, read, unknown_op};
use crate::quantity::{
    Book, Decimal, Division, Indication, Mass, Range, Unit, digits_without_point, divisions, indicate,
    indicate_in_intervals, parse_mass,
};
use crate::refusal::Refusal;

#[derive(Deserialize)]
struct RawMass {
    value: Decimal,
    unit: String,
}

#[derive(Deserialize)]
struct Convert {
    mass: RawMass,
    to: String,
}

#[derive(Deserialize)]
struct Parse {
    text: String,
    column: String,
    default_unit: String,
}

pub(crate) fn mass(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "convert").as_str() {
        "convert" => {
            let Convert { mass, to } = read(input)?;
            let mass = Mass::new(mass.value, mass.unit.parse()?).to(to.parse()?);
            Ok(json!({"mass": mass}))
        }
        "parse" => {
            let Parse { text, column, default_unit } = read(input)?;
            let unit: Unit = default_unit.parse()?;
            Ok(json!({"mass": parse_mass(&text, unit, &column)?}))
        }
        other => Err(unknown_op(other)),
    }
}

#[derive(Deserialize)]
struct DivisionOf {
    d: Decimal,
}

#[derive(Deserialize)]
struct CountOf {
    max: Mass,
    d: Mass,
}

#[derive(Deserialize)]
struct IndicationOf {
    load: Mass,
    d: Mass,
    max: Mass,
    #[serde(default)]
    scheme: Book,
}

#[derive(Deserialize)]
struct IntervalOf {
    load: Mass,
    ranges: Vec<Range>,
    #[serde(default)]
    scheme: Book,
}

#[derive(Deserialize)]
struct DigitsOf {
    weight: Mass,
    decimals: u32,
    width: u32,
}

pub(crate) fn display(input: Value) -> Result<Value, Refusal> {
    match op_of(&input, "").as_str() {
        "division" => {
            let d = Division::new(&read::<DivisionOf>(input)?.d)?;
            Ok(json!({"s": d.s(), "k": d.k(), "decimals": d.decimals(), "fixed_zeros": d.fixed_zeros()}))
        }
        "n" => {
            let CountOf { max, d } = read(input)?;
            Ok(json!({"n": divisions(&max, &d)?}))
        }
        "indication" => {
            let IndicationOf { load, d, max, scheme } = read(input)?;
            Ok(shown(&indicate(&load, &d, &max, scheme)?))
        }
        "multi_interval" => {
            let IntervalOf { load, ranges, scheme } = read(input)?;
            let (interval, indication) = indicate_in_intervals(&load, &ranges, scheme)?;
            let mut out = shown(&indication);
            if matches!(indication, Indication::Shown(_)) {
                out["interval"] = json!(interval);
            }
            Ok(out)
        }
        "digits" => {
            let DigitsOf { weight, decimals, width } = read(input)?;
            if decimals > 12 || width > 24 {
                return Err(Refusal::from(Refused::BadInput));
            }
            Ok(json!({"digits": digits_without_point(&weight, decimals, width)?}))
        }
        other => Err(unknown_op(other)),
    }
}

fn shown(indication: &Indication) -> Value {
    match indication {
        Indication::Shown(text) => json!({"shown": text}),
        Indication::Above => json!({"shown": null, "limit": "above"}),
        Indication::Below => json!({"shown": null, "limit": "below"}),
    }
}

crate::refusals! {
    enum Refused {
        BadInput = "bad_input": text!("calc-a-field-has-at-most");
    }
}
