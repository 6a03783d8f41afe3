//! A kit as a table: CSV in, with the columns mapped and every wrong row told; CSV out, with cells
//! that a spreadsheet would take for formulas defused. Source: RFC 4180.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;
use uuid::Uuid;

use super::{Certificate, Form, Piece, WeightClass};
use crate::quantity::{Decimal, Mass, Unit, parse_mass};
use crate::refusal::Refusal;

/// Most rows taken in at once.
pub const MOST_ROWS: usize = 10_000;
/// Most errors that are told.
const MOST_ERRORS: usize = 200;

/// The columns of a kit, in the order of an export.
pub const COLUMNS: [&str; 15] = [
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

/// A row that is wrong.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct RowError {
    /// Row of the file, from 1; the head is row 1.
    pub row: usize,
    /// The column, as the file calls it.
    #[schema(required)]
    pub column: Option<String>,
    /// What is wrong.
    pub says: String,
}

/// What a table came to.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct TableRead {
    /// The columns of the file.
    pub head: Vec<String>,
    /// Which of the file's columns is which of ours.
    pub mapping: BTreeMap<String, String>,
    /// The first rows, as they stand.
    pub preview: Vec<Vec<String>>,
    /// The pieces; none where anything is wrong.
    #[serde(skip)]
    pub pieces: Vec<Piece>,
    /// How many there are.
    pub count: usize,
    /// What is wrong.
    pub errors: Vec<RowError>,
}

/// How a file's columns are mapped: ours → the file's.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Mapping(pub BTreeMap<String, String>);

/// Reads a table. `ids` makes identities for new pieces; `there` are the serials of the kit.
///
/// # Errors
/// A [`Refusal`] where the file as a whole cannot be read; rows that are wrong are in the result.
pub fn read_table(
    text: &str,
    mapping: &Mapping,
    unit: Unit,
    today: Date,
    there: &dyn Fn(&str) -> bool,
    ids: &mut dyn FnMut() -> Uuid,
) -> Result<TableRead, Refusal> {
    let separator = separator(text)?;
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(separator)
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let unreadable =
        |error: csv::Error| Refusal::new("bad_table", format!("this is no table: {error}")).at("file");
    let head: Vec<String> = reader
        .headers()
        .map_err(unreadable)?
        .iter()
        .map(|h| h.trim_start_matches('\u{feff}').to_owned())
        .collect();
    let columns = columns(&head, mapping);
    let mut read = TableRead {
        mapping: columns.iter().map(|(ours, at)| (ours.clone(), head[*at].clone())).collect(),
        head,
        preview: Vec::new(),
        pieces: Vec::new(),
        count: 0,
        errors: Vec::new(),
    };
    for needed in ["serial", "nominal"] {
        if !columns.contains_key(needed) {
            read.errors.push(RowError {
                row: 1,
                column: None,
                says: format!("no column is mapped to “{needed}”"),
            });
        }
    }
    let mut serials: BTreeMap<String, usize> = BTreeMap::new();
    for (index, record) in reader.records().enumerate() {
        let row = index + 2;
        if index >= MOST_ROWS {
            return Err(Refusal::new("too_long", format!("at most {MOST_ROWS} rows are taken in at once"))
                .at("file")
                .then("Split the file."));
        }
        let record = record.map_err(unreadable)?;
        if read.preview.len() < 5 {
            read.preview.push(record.iter().map(str::to_owned).collect());
        }
        read.count += 1;
        let told = if record.len() == read.head.len() {
            row_piece(&record, &columns, unit, today, ids())
        } else {
            Err((
                None,
                format!(
                    "{} cells where the head has {}: mixed separators, or a missing quote",
                    record.len(),
                    read.head.len()
                ),
            ))
        };
        let told = told.and_then(|piece| {
            let key = piece.serial.to_lowercase();
            match serials.insert(key, row) {
                Some(first) => Err((
                    Some("serial".to_owned()),
                    format!("the serial “{}” stands in row {first} already", piece.serial),
                )),
                None if there(&piece.serial) => Err((
                    Some("serial".to_owned()),
                    format!("the serial “{}” is in the kit already", piece.serial),
                )),
                None => Ok(piece),
            }
        });
        match told {
            Ok(piece) => read.pieces.push(piece),
            Err((column, says)) => {
                let column = column.map(|ours| columns.get(&ours).map_or(ours, |at| read.head[*at].clone()));
                read.errors.push(RowError { row, column, says });
            }
        }
        if read.errors.len() >= MOST_ERRORS {
            break;
        }
    }
    if !read.errors.is_empty() {
        read.pieces.clear();
    }
    Ok(read)
}

/// The separator of a table: the one that stands most often in its head.
fn separator(text: &str) -> Result<u8, Refusal> {
    let head = text.lines().next().unwrap_or_default();
    if head.trim().is_empty() {
        return Err(Refusal::new("bad_table", "the file is empty").at("file"));
    }
    if head.contains('\0') {
        return Err(Refusal::new("bad_table", "this is no text: is it a spreadsheet's own format?")
            .at("file")
            .then("Save it as CSV."));
    }
    let most = [b';', b',', b'\t'].into_iter().max_by_key(|s| head.bytes().filter(|b| b == s).count());
    Ok(most.unwrap_or(b','))
}

/// Ours → place in the file: as mapped, else by name.
fn columns(head: &[String], mapping: &Mapping) -> BTreeMap<String, usize> {
    let place = |name: &str| head.iter().position(|h| h.trim().eq_ignore_ascii_case(name.trim()));
    COLUMNS
        .into_iter()
        .filter_map(|ours| {
            let theirs = mapping.0.get(ours).map_or(ours, String::as_str);
            if theirs.is_empty() { None } else { place(theirs).map(|at| (ours.to_owned(), at)) }
        })
        .collect()
}

type Wrong = (Option<String>, String);

fn row_piece(
    record: &csv::StringRecord,
    columns: &BTreeMap<String, usize>,
    unit: Unit,
    today: Date,
    id: Uuid,
) -> Result<Piece, Wrong> {
    let cell =
        |ours: &str| columns.get(ours).and_then(|at| record.get(*at)).unwrap_or_default().trim().to_owned();
    let at = |ours: &str, says: String| (Some(ours.to_owned()), says);
    for ours in ["serial", "set", "place", "holder", "certificate", "laboratory"] {
        if cell(ours).starts_with(['=', '+', '-', '@', '\t']) {
            return Err(at(
                ours,
                format!("“{}” looks like a formula", cell(ours).chars().take(30).collect::<String>()),
            ));
        }
    }
    let mass = |ours: &str, unit: Unit| -> Result<Option<Mass>, Wrong> {
        let text = cell(ours);
        if text.is_empty() {
            Ok(None)
        } else {
            parse_mass(&text, unit, ours).map(Some).map_err(|e| at(ours, e.to_string()))
        }
    };
    let date = |ours: &str| -> Result<Option<Date>, Wrong> {
        let text = cell(ours);
        let format = time::macros::format_description!("[year]-[month]-[day]");
        if text.is_empty() {
            Ok(None)
        } else {
            Date::parse(&text, format)
                .map(Some)
                .map_err(|_| at(ours, format!("“{text}” is no date of the form 2026-11-24")))
        }
    };
    let class = match cell("class") {
        text if text.is_empty() => None,
        text => {
            Some(WeightClass::of(&text).ok_or_else(|| at("class", format!("there is no class “{text}”")))?)
        }
    };
    let form = match cell("form") {
        text if text.is_empty() => Form::Block,
        text => Form::of(&text).ok_or_else(|| {
            at(
                "form",
                format!("there is no form “{text}”: block, slotted, cylinder, hanging, cart, wheel-on"),
            )
        })?,
    };
    let k = match cell("k") {
        text if text.is_empty() => None,
        text => Some(text.replace(',', ".").parse::<Decimal>().map_err(|e| at("k", e.to_string()))?),
    };
    let certificates = match cell("certificate") {
        number if number.is_empty() => Vec::new(),
        number => vec![Certificate {
            number,
            laboratory: cell("laboratory"),
            date: date("date")?.ok_or_else(|| at("date", "a certificate needs its date".into()))?,
            due: date("due")?.ok_or_else(|| at("due", "a certificate needs its due date".into()))?,
            error: mass("error", Unit::Mg)?,
            u: mass("U", Unit::Mg)?,
            k,
        }],
    };
    let piece = Piece {
        id,
        serial: cell("serial"),
        nominal: mass("nominal", unit)?
            .ok_or_else(|| at("nominal", "a piece needs its nominal mass".into()))?,
        class,
        form,
        set: cell("set"),
        place: cell("place"),
        holder: cell("holder"),
        damaged: match cell("damaged").to_lowercase().as_str() {
            "yes" | "true" | "1" | "x" => true,
            "" | "no" | "false" | "0" | "-" => false,
            other => {
                let typed: String = other.chars().take(24).collect();
                return Err(at("damaged", format!("“{typed}” says neither yes nor no")));
            }
        },
        certificates,
        own: None,
        reference: None,
    };
    piece.check(today).map_err(|refusal| (refusal.field, refusal.message))?;
    Ok(piece)
}

/// The kit as CSV, one piece a row; a cell that a spreadsheet would take for a formula gets an
/// apostrophe in front.
///
/// # Errors
/// Where the table cannot be written, which it can in memory.
pub fn write_table(pieces: &[Piece]) -> Result<String, Refusal> {
    let failed = |error: &dyn std::fmt::Display| Refusal::new("internal", error.to_string());
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    writer.write_record(COLUMNS).map_err(|e| failed(&e))?;
    for p in pieces {
        let c = p.certificate();
        let mass = |m: Option<&Mass>| m.map_or_else(String::new, ToString::to_string);
        let row = [
            defused(&p.serial),
            p.nominal.to_string(),
            p.class.map_or_else(String::new, |c| c.symbol().into()),
            p.form.label().into(),
            defused(&p.set),
            defused(&p.place),
            defused(&p.holder),
            if p.damaged { "yes".into() } else { String::new() },
            c.map_or_else(String::new, |c| defused(&c.number)),
            c.map_or_else(String::new, |c| defused(&c.laboratory)),
            c.map_or_else(String::new, |c| c.date.to_string()),
            c.map_or_else(String::new, |c| c.due.to_string()),
            mass(c.and_then(|c| c.error.as_ref())),
            mass(c.and_then(|c| c.u.as_ref())),
            c.and_then(|c| c.k.as_ref()).map_or_else(String::new, ToString::to_string),
        ];
        writer.write_record(row).map_err(|e| failed(&e))?;
    }
    let bytes = writer.into_inner().map_err(|e| failed(&e))?;
    String::from_utf8(bytes).map_err(|e| failed(&e))
}

/// A field of a table; one that a spreadsheet would take for a formula begins with an apostrophe. A signed
/// figure, with or without its unit, is none. Source: OWASP, CSV injection.
pub fn defused(text: &str) -> String {
    let figure = |rest: &str| {
        rest.starts_with(|c: char| c.is_ascii_digit())
            && rest.chars().all(|c| c.is_alphanumeric() || matches!(c, '.' | ' ' | '%'))
    };
    let signed = text.strip_prefix(['+', '-']).is_some_and(figure);
    if text.starts_with(['=', '+', '-', '@', '\t', '\r']) && !signed {
        format!("'{text}")
    } else {
        text.to_owned()
    }
}

#[cfg(test)]
mod tests {
    use super::defused;

    #[test]
    fn a_formula_is_told_from_a_signed_figure() {
        for plain in ["", "WT-07", "-0.2", "+1.0 d", "+12 %", "5 kg", "−3"] {
            assert_eq!(defused(plain), plain);
        }
        for formula in ["=1+1", "+cmd|' /C calc'!A0", "-1+cmd|x", "@SUM(A1)", "-2+3", "\tx", "+1(A1)", "-A1"]
        {
            assert_eq!(defused(formula), format!("'{formula}"));
        }
    }
}
