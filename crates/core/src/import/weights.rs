//! A kit as a table, in and out.

use std::collections::BTreeMap;

use time::Date;
use uuid::Uuid;

use super::table::{Grid, Mapping, Row, Taken, read_rows};
use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::weights::{Certificate, Form, Piece, WeightClass};
use crate::wording::Text;

/// The columns of a kit, in the order of an export.
pub const PIECE_COLUMNS: [&str; 15] = [
    "serial",
    "nominal",
    "class",
    "form",
    "set",
    "place",
    "holder",
    "damaged",
    "certificate",
    "laboratory",
    "date",
    "due",
    "error",
    "U",
    "k",
];
/// The columns that must be there.
const NEEDED: [&str; 2] = ["serial", "nominal"];

/// Reads the pieces of a table.
pub fn read_pieces(
    grid: &Grid,
    mapping: &Mapping,
    unit: Unit,
    today: Date,
    there: &dyn Fn(&str) -> bool,
    ids: &mut dyn FnMut() -> Uuid,
) -> Taken<Piece> {
    let columns = PIECE_COLUMNS.map(|name| (name, NEEDED.contains(&name)));
    let mut serials: BTreeMap<String, usize> = BTreeMap::new();
    read_rows(grid, &columns, mapping, |number, row| {
        let piece = row_piece(row, unit, today, ids())?;
        let twice = |says| Err(Refusal::from(Refused::Taken { says }));
        match serials.insert(piece.serial.to_lowercase(), number) {
            Some(first) => twice(text!("weights-the-serial-serial-stands-in", serial = piece.serial, first)),
            None if there(&piece.serial) => {
                twice(text!("weights-the-serial-serial-is-in", serial = piece.serial))
            }
            None => Ok(piece),
        }
    })
}

fn row_piece(row: &Row<'_>, unit: Unit, today: Date, id: Uuid) -> Result<Piece, Refusal> {
    let cell = |ours: &str| row.cell(ours).to_owned();
    let at = |ours: &str, says: Text| Refusal::from(Refused::BadText { says }).at(ours);
    let class = match cell("class") {
        text if text.is_empty() => None,
        text => Some(
            WeightClass::of(&text)
                .ok_or_else(|| at("class", text!("weights-there-is-no-class-what", what = text)))?,
        ),
    };
    let form = match cell("form") {
        text if text.is_empty() => Form::Block,
        text => {
            Form::of(&text).ok_or_else(|| at("form", text!("weights-there-is-no-form-what", what = text)))?
        }
    };
    let k = match cell("k") {
        text if text.is_empty() => None,
        text => Some(text.replace(',', ".").parse::<Decimal>().map_err(|e| at("k", Text::from(&e)))?),
    };
    let day = |ours: &str, says: Text| row.date(ours)?.ok_or_else(|| at(ours, says));
    let certificates = match row.text("certificate")? {
        number if number.is_empty() => Vec::new(),
        number => vec![Certificate {
            number,
            laboratory: row.text("laboratory")?,
            date: day("date", text!("weights-a-certificate-needs-its-date"))?,
            due: day("due", text!("weights-a-certificate-needs-its-due"))?,
            error: row.mass("error", Unit::Mg)?,
            u: row.mass("U", Unit::Mg)?,
            k,
        }],
    };
    let piece = Piece {
        id,
        serial: row.text("serial")?,
        nominal: row
            .mass("nominal", unit)?
            .ok_or_else(|| at("nominal", text!("weights-a-piece-needs-its-nominal")))?,
        class,
        form,
        set: row.text("set")?,
        place: row.text("place")?,
        holder: row.text("holder")?,
        damaged: row.yes("damaged")?.unwrap_or(false),
        certificates,
        own: None,
        reference: None,
    };
    piece.check(today)?;
    Ok(piece)
}

/// A piece as a row of these columns.
pub fn piece_row(p: &Piece) -> Vec<String> {
    let c = p.certificate();
    let mass = |m: Option<&Mass>| m.map_or_else(String::new, ToString::to_string);
    vec![
        p.serial.clone(),
        p.nominal.to_string(),
        p.class.map_or_else(String::new, |c| c.symbol().into()),
        p.form.name().into(),
        p.set.clone(),
        p.place.clone(),
        p.holder.clone(),
        if p.damaged { "yes".into() } else { String::new() },
        c.map_or_else(String::new, |c| c.number.clone()),
        c.map_or_else(String::new, |c| c.laboratory.clone()),
        c.map_or_else(String::new, |c| c.date.to_string()),
        c.map_or_else(String::new, |c| c.due.to_string()),
        mass(c.and_then(|c| c.error.as_ref())),
        mass(c.and_then(|c| c.u.as_ref())),
        c.and_then(|c| c.k.as_ref()).map_or_else(String::new, ToString::to_string),
    ]
}

crate::refusals! {
    enum Refused {
        Taken { says: Text } = "taken" at "serial": says;
        BadText { says: Text } = "bad_text": says;
    }
}
