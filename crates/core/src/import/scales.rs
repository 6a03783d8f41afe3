//! Scales as a table.

use std::collections::BTreeMap;

use uuid::Uuid;

use super::table::{Grid, Mapping, Row, Taken, at_columns, read_rows};
use crate::measurement::DecisionRule;
use crate::quantity::{Mass, Unit};
use crate::record::plain_mark;
use crate::refusal::Refusal;
use crate::scale::{Build, Plate, ScaleKind, ScaleSheet};
use crate::tolerance::{Class, Scheme, Tolerance};
use crate::wording::{Language, Text};

/// The columns, each with whether it must be there.
pub const SCALE_COLUMNS: [(&str, bool); 15] = [
    ("name", true),
    ("customer", true),
    ("address", false),
    ("place", false),
    ("kind", false),
    ("serial", false),
    ("indicator", false),
    ("made", false),
    ("max", true),
    ("division", true),
    ("unit", false),
    ("class", false),
    ("tolerance", false),
    ("trade", false),
    ("interval", false),
];

/// Fields whose columns are called otherwise.
const FIELDS: [(&str, &str); 5] = [
    ("owner", "customer"),
    ("owner_address", "address"),
    ("plate_max", "max"),
    ("plate_d", "division"),
    ("interval_months", "interval"),
];

/// What is taken where a row says nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct ScaleDefaults {
    /// Unit of a figure alone.
    pub unit: Unit,
    /// Tolerance book.
    pub scheme: Scheme,
    /// Months from one check to the next.
    pub interval_months: u8,
}

/// Reads scales. `defaults` gives what is taken where a row says nothing, by its customer: what was agreed
/// with them, else what the workshop takes. `there` says whether a scale of that serial, written plainly, is known already.
pub fn read_scales(
    grid: &Grid,
    mapping: &Mapping,
    defaults: &dyn Fn(&str) -> ScaleDefaults,
    there: &dyn Fn(&str) -> bool,
    ids: &mut dyn FnMut() -> Uuid,
) -> Taken<ScaleSheet> {
    let mut serials: BTreeMap<String, usize> = BTreeMap::new();
    read_rows(grid, &SCALE_COLUMNS, mapping, |number, row| {
        let sheet = read(row, defaults, ids())?;
        sheet.check_typed().map_err(|refusal| at_columns(refusal, &FIELDS))?;
        let plain = plain_mark(&sheet.serial);
        if plain.is_empty() {
            return Ok(sheet);
        }
        let twice = |says| Err(Refusal::from(Refused::Taken { says }));
        match serials.insert(plain.clone(), number) {
            Some(first) => twice(text!("scales-the-serial-serial-stands-in", serial = sheet.serial, first)),
            None if there(&plain) => twice(text!("scales-a-scale-of-serial-serial", serial = sheet.serial)),
            None => Ok(sheet),
        }
    })
}

/// The tolerance books that a row can name: a rule or a table of one's own does not fit a cell.
pub(crate) fn table_books() -> Vec<Scheme> {
    Scheme::ALL.into_iter().filter(|s| !matches!(s, Scheme::House | Scheme::Table)).collect()
}

/// One of several by its name or its key, whatever the capitals.
pub(crate) fn one_of<T: Copy + serde::Serialize>(
    row: &Row<'_>,
    ours: &str,
    all: &[T],
    label: impl Fn(T) -> Text,
) -> Result<Option<T>, Refusal> {
    let text = row.cell(ours);
    if text.is_empty() {
        return Ok(None);
    }
    let key = |value: T| {
        serde_json::to_value(value).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
    };
    let found = all.iter().copied().find(|value| {
        Language::ALL.iter().any(|l| l.say(&label(*value)).eq_ignore_ascii_case(text))
            || key(*value).eq_ignore_ascii_case(text)
    });
    found.map(Some).ok_or_else(|| {
        let shown: String = text.chars().take(24).collect();
        let names: Vec<Text> = all.iter().map(|value| label(*value)).collect();
        Refusal::from(Refused::BadText { shown, names }).at(ours)
    })
}

fn read(row: &Row<'_>, defaults: &dyn Fn(&str) -> ScaleDefaults, id: Uuid) -> Result<ScaleSheet, Refusal> {
    let defaults = defaults(row.cell("customer"));
    let unit = match row.cell("unit") {
        "" => defaults.unit,
        text => text.parse().map_err(|e| Refusal::from(e).at("unit"))?,
    };
    let needed = |ours: &str, says: Text| -> Result<Mass, Refusal> {
        row.mass(ours, unit)?.ok_or_else(|| Refusal::from(Refused::Missing { says }).at(ours))
    };
    // Everything is read before anything is refused, so that all of a row is told at once.
    let mut wrong = Vec::new();
    let max = needed("max", text!("scales-a-scale-needs-its-max")).map_err(|r| wrong.push(r)).ok();
    let d_min =
        needed("division", text!("scales-a-scale-needs-its-division")).map_err(|r| wrong.push(r)).ok();
    let kind =
        one_of(row, "kind", &ScaleKind::ALL, ScaleKind::label).map_err(|r| wrong.push(r)).ok().flatten();
    let scheme =
        one_of(row, "tolerance", &table_books(), Scheme::label).map_err(|r| wrong.push(r)).ok().flatten();
    let class = one_of(row, "class", &Class::ALL, |class| Text::verbatim(class.symbol()))
        .map_err(|r| wrong.push(r))
        .ok()
        .flatten();
    let made = row.whole("made").map_err(|r| wrong.push(r)).ok().flatten();
    let trade = row.yes("trade").map_err(|r| wrong.push(r)).ok().flatten();
    let interval = row.whole("interval").map_err(|r| wrong.push(r)).ok().flatten();
    let mut text = |ours: &str| row.text(ours).map_err(|r| wrong.push(r)).unwrap_or_default();
    let (name, owner, address, place) = (text("name"), text("customer"), text("address"), text("place"));
    let (serial, indicator) = (text("serial"), text("indicator"));
    if let Some(all) = Refusal::all(wrong) {
        return Err(all);
    }
    let scheme = scheme.unwrap_or(defaults.scheme);
    Ok(ScaleSheet {
        id,
        name,
        owner,
        owner_address: address.split([',', ';', '\n']).map(str::trim).collect::<Vec<_>>().join("\n"),
        place,
        kind: kind.unwrap_or(ScaleKind::Floor),
        serial,
        indicator,
        made,
        plate: max.zip(d_min).map(|(max, d_min)| Plate { max, d_min }),
        fine: None,
        calibration_switch: None,
        build: Build::default(),
        pads: 1,
        seal_points: Vec::new(),
        wiring: Vec::new(),
        site: None,
        profile: None,
        trade: trade.unwrap_or(false),
        tolerance: Tolerance::by_class(scheme, class.unwrap_or(Class::III)),
        interval_months: interval.map_or(defaults.interval_months, |m| u8::try_from(m).unwrap_or(u8::MAX)),
        field_width: 6,
        working_load: None,
        house_tests: None,
        decision: DecisionRule::default(),
        practice: false,
    })
}

/// A scale as a row of these columns.
pub fn scale_row(sheet: &ScaleSheet) -> Vec<String> {
    let plate = sheet.plate.as_ref();
    vec![
        sheet.name.clone(),
        sheet.owner.clone(),
        sheet.owner_address.lines().collect::<Vec<_>>().join(", "),
        sheet.place.clone(),
        sheet.kind.label().to_string(),
        sheet.serial.clone(),
        sheet.indicator.clone(),
        sheet.made.map_or_else(String::new, |year| year.to_string()),
        plate.map_or_else(String::new, |p| p.max.to_string()),
        plate.map_or_else(String::new, |p| p.d_min.to_string()),
        plate.map_or_else(String::new, |p| p.max.unit.to_string()),
        sheet.tolerance.class.map_or_else(String::new, |c| c.symbol().into()),
        sheet.tolerance.scheme.label().to_string(),
        if sheet.trade { "yes".into() } else { "no".into() },
        sheet.interval_months.to_string(),
    ]
}

crate::refusals! {
    enum Refused {
        Taken { says: Text } = "taken" at "serial": says;
        BadText { shown: String, names: Vec<Text> } = "bad_text":
            text!("scales-shown-is-none-of-names", shown, names);
        Missing { says: Text } = "missing": says;
    }
}
