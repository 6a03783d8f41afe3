//! After the work: what was around the scale, slips in its particulars, and what happens to a record
//! once it is signed. A reviewer approves it or sends it back; a record is never changed, only followed
//! by a new version that names the old one and why. Source: ISO/IEC 17025:2017, 7.8.2, 7.8.4, 7.8.8.

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::{Body, Entry, JobState, ScaleSheet};
use crate::instrument::UsedInstrument;
use crate::quantity::Decimal;
use crate::refusal::Refusal;

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

/// What is possible where people work: °C, % and hPa.
const BOUNDS: [(&str, i64, i64, &str); 3] =
    [("temperature", -60, 70, "°C"), ("humidity", 0, 100, "%"), ("pressure", 450, 1_100, "hPa")];

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
                return Err(Refusal::new(
                    "out_of_range",
                    format!("{value} {unit} is not between {least} and {most} {unit}"),
                )
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
            return Err(Refusal::new("nothing_read", "none of them was read")
                .at("temperature")
                .then("Read the temperature at least."));
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

    pub(super) fn put_into(&self, sheet: &mut ScaleSheet) {
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

impl Body {
    /// Who may make this entry.
    pub const fn needs(&self) -> Needs {
        match self {
            Self::Approved { .. } | Self::SentBack { .. } => Needs::Reviewer,
            _ => Needs::Technician,
        }
    }
}

/// How a record stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Standing {
    /// Not signed yet.
    Open,
    /// Signed, nobody has approved it.
    Signed,
    /// Signed and approved.
    Approved,
    /// Sent back, not signed again yet.
    SentBack,
    /// Opened again for a new version.
    Amending,
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

/// How a record stands, and how it came to that.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct ReviewView {
    /// How it stands.
    pub standing: Standing,
    /// Version of the record, from 1.
    pub version: u32,
    /// The record that this version takes the place of.
    #[schema(required)]
    pub replaces: Option<String>,
    /// Why.
    #[schema(required)]
    pub because: Option<String>,
    /// The approval.
    #[schema(required)]
    pub approved: Option<Remark>,
    /// What it was last sent back with.
    #[schema(required)]
    pub sent_back: Option<Remark>,
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

/// The view of it.
pub(super) fn review(state: &JobState) -> ReviewView {
    let Review { amended, approved, sent_back, .. } = &state.review;
    let standing = match (&state.closed, approved, sent_back) {
        (Some(_), Some(_), _) => Standing::Approved,
        (Some(_), None, _) => Standing::Signed,
        (None, _, Some(_)) => Standing::SentBack,
        (None, _, None) if amended.is_empty() => Standing::Open,
        (None, _, None) => Standing::Amending,
    };
    let last = amended.last();
    ReviewView {
        standing,
        version: state.review.version(),
        replaces: last.map(|(of, _)| of.clone()),
        because: last.map(|(_, why)| why.clone()),
        approved: approved.clone(),
        sent_back: sent_back.clone(),
    }
}

impl JobState {
    pub(super) fn reviewed(&mut self, entry: &Entry) {
        let said = |text: &str| Remark { by: entry.by.name.clone(), at: entry.at, text: text.to_owned() };
        match &entry.body {
            Body::Approved { remarks } => {
                self.review.approved = Some(said(remarks.as_deref().unwrap_or_default()))
            }
            Body::SentBack { remarks } => {
                self.review.sent_back = Some(said(remarks));
                self.closed = None;
            }
            Body::Amended { of, reason } => {
                self.review.amended.push((of.clone(), reason.clone()));
                (self.review.approved, self.review.sent_back, self.closed) = (None, None, None);
            }
            _ => {}
        }
    }
}

/// Four eyes: who signed a record neither approves it nor sends it back, whatever other roles the name has.
/// Source: ISO/IEC 17025:2017, 6.2.6 and 7.8.2.
///
/// # Errors
/// A [`Refusal`] where `by` is who signed.
pub fn four_eyes(state: &JobState, body: &Body, by: Uuid) -> Result<(), Refusal> {
    let own = state.closed.as_ref().is_some_and(|(_, signer, _)| signer.id == by);
    if body.needs() == Needs::Reviewer && own {
        return Err(Refusal::new("own_record", "who signed a record does not approve it")
            .then("Ask another reviewer of this workshop."));
    }
    Ok(())
}

/// Whether an entry may follow a signature, or must.
pub(super) fn after_signing(state: &JobState, body: &Body) -> Result<(), Refusal> {
    let Some((signer, _, _)) = &state.closed else {
        return match body {
            Body::Approved { .. } | Body::SentBack { .. } | Body::Amended { .. } => {
                Err(Refusal::new("not_signed", "there is no signed record yet")
                    .then("The technician signs first."))
            }
            _ => Ok(()),
        };
    };
    let practice =
        || Refusal::new("practice", "a lesson makes no record: there is nothing to approve or to amend");
    match (body, &state.review.approved) {
        (Body::Approved { .. } | Body::SentBack { .. } | Body::Amended { .. }, _) if state.sheet.practice => {
            Err(practice())
        }
        (Body::Approved { .. }, None) | (Body::SentBack { .. }, None) | (Body::Amended { .. }, _) => Ok(()),
        (Body::Approved { .. }, Some(by)) => {
            Err(Refusal::new("approved", format!("{} approved it already", by.by)))
        }
        (Body::SentBack { .. }, Some(by)) => {
            Err(Refusal::new("approved", format!("{} approved it: it can be amended, not sent back", by.by))
                .then("Ask the technician for a new version."))
        }
        _ => Err(Refusal::new("closed", format!("the record was signed by {signer} and is frozen"))
            .then("Amend it, or start a new job for this scale.")),
    }
}
