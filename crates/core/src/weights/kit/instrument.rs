//! What reads the air around a scale: thermometers, hygrometers, barometers, each with its certificate. Source:
//! ISO/IEC 17025:2017 6.4 (equipment that affects the result), EURAMET cg-18:2015 7.1.

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::longest::LONGEST_FIELD;
use crate::refusal::Refusal;
use crate::wording::Text;

time::serde::format_description!(iso_day, Date, "[year]-[month]-[day]");

/// What it reads.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum InstrumentKind {
    /// Temperature.
    #[default]
    Thermometer,
    /// Humidity.
    Hygrometer,
    /// Pressure.
    Barometer,
    /// Several of them.
    Combined,
}

impl InstrumentKind {
    /// Every kind.
    pub const ALL: [Self; 4] = [Self::Thermometer, Self::Hygrometer, Self::Barometer, Self::Combined];

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Thermometer => text!("instrument-thermometer"),
            Self::Hygrometer => text!("instrument-hygrometer"),
            Self::Barometer => text!("instrument-barometer"),
            Self::Combined => text!("instrument-thermometer-with-hygrometer-or-barometer"),
        }
    }
}

/// An instrument of the workshop.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Instrument {
    /// Identity, made by the client.
    pub id: Uuid,
    /// What it reads.
    pub kind: InstrumentKind,
    /// Serial or mark.
    pub serial: String,
    /// Number of its certificate; empty: none.
    #[serde(default)]
    pub certificate: String,
    /// Who calibrated it.
    #[serde(default)]
    pub laboratory: String,
    /// When it is due again.
    #[serde(default, with = "iso_day::option")]
    #[schema(required, value_type = Option<String>, format = Date)]
    pub due: Option<Date>,
}

impl Instrument {
    /// Checks that it makes sense.
    ///
    /// # Errors
    /// Every [`Refusal`], at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        let mut wrong = Vec::new();
        if self.serial.trim().is_empty() {
            wrong.push(Refusal::from(Refused::NoSerial));
        }
        for (field, text) in
            [("serial", &self.serial), ("certificate", &self.certificate), ("laboratory", &self.laboratory)]
        {
            if text.chars().count() > LONGEST_FIELD || text.chars().any(char::is_control) {
                let says =
                    text!("instrument-at-most-longest-field-characters", longest_field = LONGEST_FIELD);
                wrong.push(Refusal::from(Refused::BadText { says }).at(field));
            }
        }
        if !self.certificate.trim().is_empty() && self.due.is_none() {
            wrong.push(Refusal::from(Refused::NoDueDate));
        }
        Refusal::all(wrong).map_or(Ok(()), Err)
    }

    /// As it stands on a record.
    pub fn used(&self) -> UsedInstrument {
        UsedInstrument {
            id: self.id,
            serial: self.serial.clone(),
            certificate: Some(self.certificate.clone()).filter(|c| !c.trim().is_empty()),
            due: self.due,
        }
    }
}

/// An instrument as a record names it: as it was known when it was read.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct UsedInstrument {
    /// Identity.
    pub id: Uuid,
    /// Serial or mark.
    pub serial: String,
    /// Number of its certificate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub certificate: Option<String>,
    /// When it was due again.
    #[serde(default, skip_serializing_if = "Option::is_none", with = "iso_day::option")]
    #[schema(value_type = Option<String>, format = Date)]
    pub due: Option<Date>,
}

impl UsedInstrument {
    /// By its mark and certificate.
    pub fn says(&self) -> String {
        match &self.certificate {
            Some(number) => format!("{} ({number})", self.serial),
            None => self.serial.clone(),
        }
    }

    /// What speaks against it on a day.
    pub fn doubt(&self, day: Date) -> Option<Text> {
        match (&self.certificate, self.due) {
            (None, _) => Some(text!("instrument-serial-has-no-certificate", serial = self.serial)),
            (Some(_), Some(due)) if due < day => {
                Some(text!("instrument-serial-was-due-on-due", serial = self.serial, due))
            }
            _ => None,
        }
    }
}

crate::refusals! {
    enum Refused {
        NoSerial = "missing" at "serial": text!("instrument-an-instrument-has-a-serial");
        BadText { says: Text } = "bad_text": says;
        NoDueDate = "missing" at "due": text!("instrument-a-certificate-has-its-due");
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use time::macros::date;

    fn one() -> Instrument {
        Instrument {
            serial: "T-1".into(),
            certificate: "C 5".into(),
            due: Some(date!(2026 - 12 - 01)),
            ..Instrument::default()
        }
    }

    #[test]
    fn a_certificate_has_its_due_date_and_an_instrument_its_mark() {
        assert!(one().check().is_ok());
        let fields = |i: Instrument| i.check().unwrap_err().field.unwrap();
        assert_eq!(fields(Instrument { due: None, ..one() }), "due");
        assert_eq!(fields(Instrument { serial: " ".into(), ..one() }), "serial");
    }

    #[test]
    fn one_past_its_due_date_or_without_certificate_is_doubted() {
        let used = one().used();
        assert_eq!(used.says(), "T-1 (C 5)");
        assert_eq!(used.doubt(date!(2026 - 12 - 01)), None);
        assert!(used.doubt(date!(2026 - 12 - 02)).unwrap().to_string().contains("due on 2026-12-01"));
        let bare = Instrument { certificate: String::new(), due: None, ..one() }.used();
        assert!(bare.doubt(date!(2026 - 01 - 01)).unwrap().to_string().contains("no certificate"));
    }
}
