//! Earlier results as a table: what was found before the workshop kept its records here. They are shown in
//! the history of their scale and are no records: nobody signed them here.

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;
use uuid::Uuid;

use super::table::{Grid, Mapping, Taken, read_rows};
use crate::quantity::{Mass, Unit};
use crate::refusal::Refusal;
use crate::wording::Text;

/// The columns, each with whether it must be there; one of `indication` and `error` must.
pub const RESULT_COLUMNS: [(&str, bool); 5] =
    [("scale", true), ("date", true), ("load", true), ("indication", false), ("error", false)];

time::serde::format_description!(iso_day, Date, "[year]-[month]-[day]");

/// A result of before.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct EarlierResult {
    /// The scale.
    pub scale: Uuid,
    /// On which day.
    #[serde(with = "iso_day")]
    #[schema(value_type = String, format = Date)]
    pub day: Date,
    /// What lay on it.
    pub load: Mass,
    /// Indication less load, in the unit of the load. Source: OIML R 76-1:2006 T.5.5.1.
    pub error: Mass,
}

/// Finds a scale by serial or name, with its unit, or says why not.
pub type FindScale<'a> = dyn Fn(&str) -> Result<(Uuid, Unit), Text> + 'a;

/// Reads earlier results. `scale` finds a scale by serial or name, with its unit, or says why not.
pub fn read_results(
    grid: &Grid,
    mapping: &Mapping,
    today: Date,
    scale: &FindScale<'_>,
) -> Taken<EarlierResult> {
    let mut taken = read_rows(grid, &RESULT_COLUMNS, mapping, |_, row| {
        let missing = |ours: &str, says: Text| Refusal::from(Refused::Missing { says }).at(ours);
        let name = row.cell("scale");
        if name.is_empty() {
            return Err(missing("scale", text!("results-a-result-belongs-to-a")));
        }
        let (id, unit) = scale(name).map_err(|says| Refusal::from(Refused::NotFound { says }))?;
        let day = row.date("date")?.ok_or_else(|| missing("date", text!("results-a-result-has-its-day")))?;
        if day > today {
            return Err(Refusal::from(Refused::OutOfRange { day }));
        }
        let load =
            row.mass("load", unit)?.ok_or_else(|| missing("load", text!("results-a-result-has-its-load")))?;
        let (shown, error) = (row.mass("indication", load.unit)?, row.mass("error", load.unit)?);
        let by_indication = shown.map(|shown| shown.minus(&load));
        let error = match (by_indication, error) {
            (Some(one), Some(other)) if one.minus(&other).value.is_zero() => one,
            (Some(one), Some(other)) => {
                return Err(Refusal::from(Refused::BadFigures { one, other }));
            }
            (Some(one), None) | (None, Some(one)) => one,
            (None, None) => {
                return Err(missing("indication", text!("results-a-result-has-its-indication")));
            }
        };
        Ok(EarlierResult { scale: id, day, error: error.to(load.unit), load })
    });
    let mapped = |ours: &str| taken.looked.mapping.contains_key(ours);
    if !mapped("indication") && !mapped("error") {
        taken.items.clear();
        taken.looked.errors.insert(
            0,
            super::table::RowError { row: 1, column: None, says: text!("results-no-column-is-mapped-to") },
        );
    }
    taken
}

crate::refusals! {
    enum Refused {
        Missing { says: Text } = "missing": says;
        NotFound { says: Text } = "not_found" at "scale": says;
        OutOfRange { day: Date } = "out_of_range" at "date": text!("results-day-is-yet-to-come", day);
        BadFigures { one: Mass, other: Mass } = "bad_figures" at "error":
            text!("results-the-indication-says-one-and", one, other);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(text: &str) -> Taken<EarlierResult> {
        let today = Date::from_calendar_date(2026, time::Month::November, 28).unwrap();
        let scale = |name: &str| {
            if name == "A-1" {
                Ok((Uuid::nil(), Unit::Kg))
            } else {
                Err(Text::verbatim(format!("no scale “{name}”")))
            }
        };
        read_results(&Grid::of_text(text).unwrap(), &Mapping::default(), today, &scale)
    }

    #[test]
    fn the_error_is_the_indication_less_the_load() {
        let taken = read("scale;date;load;indication\nA-1;2025-03-01;500;500.2\n");
        assert_eq!(taken.items[0].error.to_string(), "0.2 kg");
        let taken = read("scale;date;load;error\nA-1;2025-03-01;500;-200 g\n");
        assert_eq!(taken.items[0].error.to_string(), "-0.2 kg");
    }

    #[test]
    fn what_contradicts_itself_is_asked_about() {
        let taken = read("scale;date;load;indication;error\nA-1;2025-03-01;500;500.2;0.1\n");
        assert!(taken.looked.errors[0].says.to_string().contains("which is it"), "{:?}", taken.looked.errors);
        assert!(taken.items.is_empty());
    }

    #[test]
    fn a_result_of_tomorrow_or_of_nobody_is_refused() {
        let taken =
            read("scale;date;load;error\nA-1;2026-11-29;500;0\nB-2;2026-11-01;500;0\nA-1;2026-11-01;500;\n");
        let columns: Vec<_> = taken.looked.errors.iter().map(|e| e.column.clone().unwrap()).collect();
        assert_eq!(columns, ["date", "scale", "indication"]);
    }

    #[test]
    fn one_of_indication_and_error_is_mapped() {
        assert!(
            read("scale;date;load\nA-1;2025-03-01;5\n").looked.errors[0]
                .says
                .to_string()
                .contains("indication")
        );
    }
}
