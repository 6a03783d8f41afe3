//! A table as cells of text, and how its rows are read.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;

use crate::quantity::{Mass, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Most rows taken in at once.
pub const MOST_ROWS: usize = 10_000;
/// Most columns of a table.
const MOST_COLUMNS: usize = 200;
/// Most errors that are told.
const MOST_ERRORS: usize = 200;
/// Rows that are shown before anything is taken in.
const PREVIEW: usize = 5;

/// How a file's columns are mapped: ours → the file's; an empty name: none of them.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Mapping(pub BTreeMap<String, String>);

/// A row that is wrong.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct RowError {
    /// Row of the file, from 1; the head is row 1.
    pub row: usize,
    /// The column, as the file calls it.
    #[schema(required)]
    pub column: Option<String>,
    /// What is wrong.
    pub says: Text,
}

/// A table as it was looked at.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Looked {
    /// The columns of the file.
    pub head: Vec<String>,
    /// Our columns, in their order.
    pub ours: Vec<String>,
    /// Those of ours that must be there.
    pub needed: Vec<String>,
    /// Which of the file's columns is which of ours.
    pub mapping: BTreeMap<String, String>,
    /// The first rows, as they stand.
    pub preview: Vec<Vec<String>>,
    /// How many rows there are.
    pub count: usize,
    /// What is wrong.
    pub errors: Vec<RowError>,
}

/// What a table came to: what it says, where nothing of it is wrong.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Taken<T> {
    /// How it was looked at.
    pub looked: Looked,
    /// What it says; nothing where anything is wrong.
    pub items: Vec<T>,
}

/// A table: its head and its rows.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Grid {
    head: Vec<String>,
    rows: Vec<Vec<String>>,
}

fn bad(says: impl Into<Text>) -> Refusal {
    Refusal::from(Refused::BadTable { says: says.into() })
}

impl Grid {
    /// From text whose cells are separated by semicolons, commas or tabs.
    ///
    /// # Errors
    /// A [`Refusal`] at `file` where it is no table, or too long.
    pub fn of_text(text: &str) -> Result<Self, Refusal> {
        let mut reader = csv::ReaderBuilder::new()
            .delimiter(separator(text)?)
            .flexible(true)
            .has_headers(false)
            .trim(csv::Trim::All)
            .from_reader(text.as_bytes());
        let mut cells = Vec::new();
        for record in reader.records() {
            let record = record
                .map_err(|error| bad(text!("table-this-is-no-table-error", error = error.to_string())))?;
            cells.push(record.iter().map(str::to_owned).collect());
            if cells.len() > MOST_ROWS + 1 {
                break;
            }
        }
        Self::of_cells(cells)
    }

    /// From the cells of a spreadsheet, its head first.
    ///
    /// # Errors
    /// A [`Refusal`] at `file` where it is empty or too large.
    pub fn of_cells(mut cells: Vec<Vec<String>>) -> Result<Self, Refusal> {
        if cells.is_empty() || cells[0].iter().all(|h| h.trim().is_empty()) {
            return Err(bad(text!("table-the-file-is-empty")));
        }
        let head: Vec<String> =
            cells.remove(0).iter().map(|h| h.trim_start_matches('\u{feff}').trim().to_owned()).collect();
        if head.len() > MOST_COLUMNS {
            return Err(bad(text!("table-at-most-most-columns-columns", most_columns = MOST_COLUMNS)));
        }
        if cells.len() > MOST_ROWS {
            return Err(Refusal::from(Refused::TooLong { most_rows: MOST_ROWS }));
        }
        Ok(Self { head, rows: cells })
    }
}

/// The separator of a table: the one that stands most often in its head.
fn separator(text: &str) -> Result<u8, Refusal> {
    let head = text.lines().next().unwrap_or_default();
    if head.trim().is_empty() {
        return Err(bad(text!("table-the-file-is-empty")));
    }
    if head.contains('\0') {
        return Err(bad(text!("table-this-is-no-text-is")).then(text!("table-save-it-as-csv-or")));
    }
    let most = [b';', b',', b'\t'].into_iter().max_by_key(|s| head.bytes().filter(|b| b == s).count());
    Ok(most.unwrap_or(b','))
}

/// A refusal at the columns that its fields are.
pub(crate) fn at_columns(mut refusal: Refusal, columns: &[(&str, &str)]) -> Refusal {
    let column = |field: Option<String>| {
        field.map(|field| match columns.iter().find(|(known, _)| *known == field) {
            Some((_, column)) => (*column).to_owned(),
            None => field,
        })
    };
    refusal.field = column(refusal.field);
    for other in &mut refusal.also {
        other.field = column(other.field.take());
    }
    refusal
}

/// One row, asked by our names.
pub struct Row<'a> {
    cells: &'a [String],
    columns: &'a BTreeMap<&'static str, usize>,
}

impl Row<'_> {
    /// A cell as it stands, without blanks at its ends; empty where no column is mapped.
    pub fn cell(&self, ours: &str) -> &str {
        self.columns.get(ours).and_then(|at| self.cells.get(*at)).map_or("", |text| text.trim())
    }

    /// A text that no spreadsheet would take for a formula.
    ///
    /// # Errors
    /// A [`Refusal`] at the column.
    pub fn text(&self, ours: &str) -> Result<String, Refusal> {
        let text = self.cell(ours);
        if text.starts_with(['=', '+', '-', '@', '\t']) && defused(text) != text {
            let shown: String = text.chars().take(30).collect();
            return Err(Refusal::from(Refused::Formula { shown }).at(ours));
        }
        Ok(text.to_owned())
    }

    /// A date: 2026-11-24, or 24.11.2026. With slashes it could be either of two days.
    ///
    /// # Errors
    /// A [`Refusal`] at the column.
    pub fn date(&self, ours: &str) -> Result<Option<Date>, Refusal> {
        let text = self.cell(ours);
        if text.is_empty() {
            return Ok(None);
        }
        let iso = time::macros::format_description!("[year]-[month]-[day]");
        let dots = time::macros::format_description!("[day padding:none].[month padding:none].[year]");
        Date::parse(text, iso).or_else(|_| Date::parse(text, dots)).map(Some).map_err(|_| {
            let shown: String = text.chars().take(24).collect();
            Refusal::from(Refused::BadDate { shown }).at(ours)
        })
    }

    /// A mass; a number alone is in `unit`.
    ///
    /// # Errors
    /// A [`Refusal`] at the column.
    pub fn mass(&self, ours: &str, unit: Unit) -> Result<Option<Mass>, Refusal> {
        let text = self.cell(ours);
        if text.is_empty() {
            return Ok(None);
        }
        parse_mass(text, unit, ours).map(Some).map_err(|e| Refusal::from(e).at(ours))
    }

    /// A whole number.
    ///
    /// # Errors
    /// A [`Refusal`] at the column.
    pub fn whole(&self, ours: &str) -> Result<Option<u16>, Refusal> {
        let text = self.cell(ours);
        if text.is_empty() {
            return Ok(None);
        }
        text.parse().map(Some).map_err(|_| {
            let shown: String = text.chars().take(24).collect();
            Refusal::from(Refused::NotANumber { shown }).at(ours)
        })
    }

    /// Yes or no; none where nothing stands there.
    ///
    /// # Errors
    /// A [`Refusal`] at the column.
    pub fn yes(&self, ours: &str) -> Result<Option<bool>, Refusal> {
        match self.cell(ours).to_lowercase().as_str() {
            "" => Ok(None),
            "yes" | "true" | "1" | "x" | "ja" | "j" | "y" => Ok(Some(true)),
            "no" | "false" | "0" | "-" | "nein" | "n" => Ok(Some(false)),
            other => {
                let typed: String = other.chars().take(24).collect();
                Err(Refusal::from(Refused::NeitherYesNorNo { typed }).at(ours))
            }
        }
    }
}

/// Reads every row of a table. `ours` are our columns, each with whether it must be there.
pub fn read_rows<T>(
    grid: &Grid,
    ours: &[(&'static str, bool)],
    mapping: &Mapping,
    mut each: impl FnMut(usize, &Row<'_>) -> Result<T, Refusal>,
) -> Taken<T> {
    let place = |name: &str| grid.head.iter().position(|h| h.eq_ignore_ascii_case(name.trim()));
    let columns: BTreeMap<&'static str, usize> = ours
        .iter()
        .filter_map(|(name, _)| {
            let theirs = mapping.0.get(*name).map_or(*name, String::as_str);
            if theirs.is_empty() { None } else { place(theirs).map(|at| (*name, at)) }
        })
        .collect();
    let mut taken = Taken {
        looked: Looked {
            ours: ours.iter().map(|(name, _)| (*name).to_owned()).collect(),
            needed: ours.iter().filter(|(_, needed)| *needed).map(|(name, _)| (*name).to_owned()).collect(),
            mapping: columns.iter().map(|(ours, at)| ((*ours).to_owned(), grid.head[*at].clone())).collect(),
            head: grid.head.clone(),
            ..Looked::default()
        },
        items: Vec::new(),
    };
    let looked = &mut taken.looked;
    for name in looked.needed.clone() {
        if !columns.contains_key(name.as_str()) {
            looked.errors.push(RowError { row: 1, column: None, says: text!("table-no-column", name) });
        }
    }
    for (index, cells) in grid.rows.iter().enumerate() {
        // Spreadsheets end in rows that hold nothing.
        if cells.iter().all(|cell| cell.trim().is_empty()) {
            continue;
        }
        let row = index + 2;
        if looked.preview.len() < PREVIEW {
            looked.preview.push(cells.clone());
        }
        looked.count += 1;
        let told = if cells.len() == grid.head.len() {
            each(row, &Row { cells, columns: &columns })
        } else {
            let (has, wants) = (cells.len(), grid.head.len());
            Err(Refusal::from(Refused::UnevenRow { has, wants }))
        };
        match told {
            Ok(item) => taken.items.push(item),
            Err(mut refusal) => {
                let also = std::mem::take(&mut refusal.also);
                for wrong in std::iter::once(refusal).chain(also) {
                    let column = wrong.field.map(|ours| {
                        columns.get(ours.as_str()).map_or_else(|| ours.clone(), |at| grid.head[*at].clone())
                    });
                    looked.errors.push(RowError { row, column, says: wrong.message });
                }
            }
        }
        if looked.errors.len() >= MOST_ERRORS {
            break;
        }
    }
    if !looked.errors.is_empty() {
        taken.items.clear();
    }
    taken
}

/// Rows as text, with commas between, quotes where they are needed, and no cell that a spreadsheet would take
/// for a formula. Source: RFC 4180; OWASP, CSV injection.
///
/// # Errors
/// Where the table cannot be written, which it can in memory.
pub fn write_rows(head: &[&str], rows: impl IntoIterator<Item = Vec<String>>) -> Result<String, Refusal> {
    let failed = |error: &dyn std::fmt::Display| Refusal::from(Refused::Internal { why: error.to_string() });
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    writer.write_record(head).map_err(|e| failed(&e))?;
    for row in rows {
        writer.write_record(row.iter().map(|cell| defused(cell))).map_err(|e| failed(&e))?;
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

crate::refusals! {
    enum Refused {
        BadTable { says: Text } = "bad_table" at "file": says;
        TooLong { most_rows: usize } = "too_long" at "file":
            text!("table-at-most-most-rows-rows", most_rows),
            then text!("table-split-the-file");
        Formula { shown: String } = "bad_text": text!("table-shown-looks-like-a-formula", shown);
        BadDate { shown: String } = "bad_date": text!("table-shown-is-no-date-of", shown);
        NotANumber { shown: String } = "not_a_number": text!("table-shown-is-no-whole-number", shown);
        NeitherYesNorNo { typed: String } = "bad_text": text!("table-typed-says-neither-yes-nor", typed);
        UnevenRow { has: usize, wants: usize } = "bad_table":
            text!("table-has-cells-where-the-head", has, wants);
        Internal { why: String } = "internal": text!("table-not-written", why);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const OURS: [(&str, bool); 2] = [("mark", true), ("note", false)];

    fn read(text: &str, mapping: &[(&str, &str)]) -> Taken<(String, String)> {
        let mapping = Mapping(mapping.iter().map(|(a, b)| ((*a).to_owned(), (*b).to_owned())).collect());
        read_rows(&Grid::of_text(text).unwrap(), &OURS, &mapping, |_, row| {
            Ok((row.text("mark")?, row.text("note")?))
        })
    }

    #[test]
    fn a_needed_column_that_is_not_there_stops_everything() {
        let taken = read("note\na\n", &[]);
        assert_eq!(taken.looked.errors[0].says, "no column is mapped to “mark”");
        assert!(taken.items.is_empty());
        assert_eq!(read("note\na\n", &[("mark", "note")]).items, [("a".into(), "a".into())]);
    }

    #[test]
    fn empty_rows_count_for_nothing_and_keep_the_numbers() {
        let taken = read("mark;note\n;\na;=1+1\n", &[]);
        assert_eq!(taken.looked.count, 1);
        assert_eq!((taken.looked.errors[0].row, taken.looked.errors[0].column.as_deref()), (3, Some("note")));
    }

    #[test]
    fn a_day_with_slashes_could_be_either_and_is_refused() {
        let day = |text: &str| {
            let grid = Grid::of_text(&format!("mark\n{text}\n")).unwrap();
            read_rows(&grid, &OURS, &Mapping::default(), |_, row| row.date("mark")).items.pop().flatten()
        };
        let november = Date::from_calendar_date(2026, time::Month::November, 4);
        assert_eq!(day("2026-11-04"), november.ok());
        assert_eq!(day("4.11.2026"), november.ok());
        assert_eq!(day("04/11/2026"), None);
    }

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

    proptest! {
        #[test]
        fn what_is_written_is_read_again(rows in prop::collection::vec(("[a-zA-Z0-9 äß\"]{1,12}", "[a-zA-Z0-9;, \n]{0,12}"), 1..20)) {
            let rows: Vec<(String, String)> = rows
                .into_iter()
                .map(|(a, b)| (a.trim().to_owned(), b.trim().to_owned()))
                .filter(|(a, _)| !a.is_empty())
                .collect();
            let text = write_rows(&["mark", "note"], rows.iter().map(|(a, b)| vec![a.clone(), b.clone()])).unwrap();
            prop_assert_eq!(read(&text, &[]).items, rows);
        }
    }
}
