//! What stands on a record beside its readings: what was around the scale, slips in its particulars, and what
//! becomes of it once it is signed. Source: ISO/IEC 17025:2017, 7.8.2, 7.8.4, 7.8.8.

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;

use crate::quantity::Decimal;
use crate::refusal::Refusal;
use crate::scale::ScaleSheet;
use crate::weights::UsedInstrument;

/// What is possible where people work: °C, % and hPa.
const BOUNDS: [(&str, i64, i64, &str); 3] =
    [("temperature", -60, 70, "°C"), ("humidity", 0, 100, "%"), ("pressure", 450, 1_100, "hPa")];

/// What was around the scale while it was worked on.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Conditions {
    /// Temperature, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature: Option<Decimal>,
    /// Relative humidity, %.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub humidity: Option<Decimal>,
    /// Pressure, hPa.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pressure: Option<Decimal>,
    /// Anything else: wind, vibration, rain.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
    /// With what it was read.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub instruments: Vec<UsedInstrument>,
}

impl Conditions {
    /// From what was typed; empty fields were not read.
    ///
    /// # Errors
    /// A [`Refusal`] at its field: no number, or not of this world.
    pub fn typed(temperature: &str, humidity: &str, pressure: &str, note: &str) -> Result<Self, Refusal> {
        let read = |text: &str, (field, least, most, unit): (&str, i64, i64, &str)| {
            let text = text.trim().replace(',', ".").replace('\u{2212}', "-");
            if text.is_empty() {
                return Ok(None);
            }
            let value: Decimal = text.parse().map_err(|e| Refusal::from(e).at(field))?;
            if value < Decimal::new(least, 0) || value > Decimal::new(most, 0) {
                return Err(Refusal::from(Refused::OutOfRange { value, unit: unit.to_owned(), least, most })
                    .at(field));
            }
            Ok(Some(value))
        };
        let note = Some(note.trim().to_owned()).filter(|n| !n.is_empty());
        let made = Self {
            temperature: read(temperature, BOUNDS[0])?,
            humidity: read(humidity, BOUNDS[1])?,
            pressure: read(pressure, BOUNDS[2])?,
            note,
            instruments: Vec::new(),
        };
        if made == Self::default() {
            return Err(Refusal::from(Refused::NothingRead));
        }
        Ok(made)
    }

    /// In a few words.
    pub fn says(&self) -> String {
        let with = |value: &Option<Decimal>, unit: &str| value.as_ref().map(|v| format!("{v} {unit}"));
        [
            with(&self.temperature, "°C"),
            with(&self.humidity, "% rh"),
            with(&self.pressure, "hPa"),
            self.note.clone(),
        ]
        .into_iter()
        .flatten()
        .chain(self.instruments.iter().map(UsedInstrument::says))
        .collect::<Vec<_>>()
        .join(", ")
    }
}

/// What identifies a scale on paper.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Particulars {
    /// Name.
    pub name: String,
    /// Owner.
    pub owner: String,
    /// Place.
    pub place: String,
    /// Serial.
    pub serial: String,
}

impl Particulars {
    /// Those of a sheet.
    pub fn of(sheet: &ScaleSheet) -> Self {
        Self {
            name: sheet.name.clone(),
            owner: sheet.owner.clone(),
            place: sheet.place.clone(),
            serial: sheet.serial.clone(),
        }
    }

    pub(crate) fn put_into(&self, sheet: &mut ScaleSheet) {
        let Self { name, owner, place, serial } = self.clone();
        (sheet.name, sheet.owner, sheet.place, sheet.serial) = (name, owner, place, serial);
    }
}

/// What an entry after the signature asks: who may make it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Needs {
    /// Somebody who works on scales.
    Technician,
    /// Somebody who approves.
    Reviewer,
}

impl Needs {
    /// The role by its stored name.
    pub const fn role(self) -> &'static str {
        match self {
            Self::Technician => "technician",
            Self::Reviewer => "reviewer",
        }
    }
}

/// Who said something of a record, and when.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Remark {
    /// Name.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// What.
    pub text: String,
}

/// What became of the signatures of a job.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Review {
    /// Number and reason of every amendment.
    pub amended: Vec<(String, String)>,
    /// Whether the version in hand waits for approval, as it was signed.
    pub approval: Option<bool>,
    /// The approval of the version in hand.
    pub approved: Option<Remark>,
    /// What it was last sent back with.
    pub sent_back: Option<Remark>,
}

impl Review {
    /// Version of the record, from 1.
    pub fn version(&self) -> u32 {
        u32::try_from(self.amended.len()).unwrap_or(u32::MAX).saturating_add(1)
    }
}

crate::refusals! {
    enum Refused {
        OutOfRange { value: Decimal, unit: String, least: i64, most: i64 } = "out_of_range":
            text!("conditions-value-unit-is-not-between", value, unit, least, most);
        NothingRead = "nothing_read" at "temperature":
            text!("conditions-none-of-them-was-read"),
            then text!("conditions-read-the-temperature-at-least");
    }
}
