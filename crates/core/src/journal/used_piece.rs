//! A piece as it was when it was used, so that a record can be traced to it whatever becomes of the kit.
//! Sources: OIML R 76-1:2006, 3.7.1; ISO/IEC 17025:2017, 7.8.2.

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::quantity::{Decimal, Mass};
use crate::weights::{Piece, ShareOfPiece, Usable, WeightClass};
use crate::wording::Text;

time::serde::format_description!(iso_day, Date, "[year]-[month]-[day]");

/// A piece as it was when it was used.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct UsedPiece {
    /// Identity in the kit.
    pub id: Uuid,
    /// Serial or mark.
    pub serial: String,
    /// Nominal; of a reference object its mass.
    pub nominal: Mass,
    /// Class.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub class: Option<WeightClass>,
    /// Number of the certificate in force.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub certificate: Option<String>,
    /// Until when that holds.
    #[serde(default, with = "iso_day::option", skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>, format = Date)]
    pub due: Option<Date>,
    /// Tolerance of a class of the workshop's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mpe: Option<Mass>,
    /// Conventional mass − nominal by that certificate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub error: Option<Mass>,
    /// Expanded uncertainty.
    #[serde(default, rename = "U", skip_serializing_if = "Option::is_none")]
    pub u: Option<Mass>,
    /// Coverage factor.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub k: Option<Decimal>,
    /// Of a reference object: the record of the scale that weighed it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reference: Option<String>,
    /// Why it was not fit for a proof on that day; none: it was.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unfit: Option<Text>,
}

impl UsedPiece {
    pub(crate) fn of(piece: &Piece, day: Date) -> Self {
        let certificate = piece.certificate();
        let unfit = match piece.usable(day) {
            Usable::No { why } => Some(why),
            Usable::Yes { .. } => None,
        };
        Self {
            id: piece.id,
            serial: piece.serial.clone(),
            nominal: piece.nominal.clone(),
            class: piece.class,
            certificate: certificate.map(|c| c.number.clone()),
            due: certificate.map(|c| c.due),
            mpe: piece.own.as_ref().map(|own| own.mpe.clone()),
            error: certificate.and_then(|c| c.error.clone()),
            u: certificate.and_then(|c| c.u.clone()),
            k: certificate.and_then(|c| c.k.clone()),
            reference: piece.reference.as_ref().map(|r| r.record.clone()),
            unfit,
        }
    }

    pub(crate) fn share(&self) -> ShareOfPiece {
        ShareOfPiece {
            nominal: self.nominal.clone(),
            class: self.class,
            own: self.mpe.clone(),
            certificate_error: self.error.clone(),
            u: self.u.clone(),
        }
    }
}
