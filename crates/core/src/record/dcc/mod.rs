//! The digital calibration certificate: a record in the public XML format, version 3, with units as
//! D-SI writes them, written and read back. Source: DCC schema 3.2.1; D-SI 2.2.1; ISO/IEC 17025:2017, 7.8.

mod read;
mod rules;
mod tree;
mod units;
mod write;

pub use read::read_dcc;
pub use write::{Around, dcc_of, write_dcc};

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;

use crate::quantity::{Decimal, Mass};

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// Version of the schema that is written.
pub const SCHEMA: &str = "3.2.1";
/// Namespace of the certificate.
pub const DCC: &str = "https://ptb.de/dcc";
/// Namespace of its quantities.
pub const SI: &str = "https://ptb.de/si";
/// Largest file that is read, in bytes.
pub const MOST_BYTES: usize = 8 * 1024 * 1024;

/// Somebody who answers for it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Responsible {
    /// Name.
    pub name: String,
    /// As what.
    pub role: String,
    /// Signs.
    pub main_signer: bool,
}

/// A weight, or another piece of equipment.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Equipment {
    /// What it is.
    pub name: String,
    /// Mark or serial.
    pub mark: String,
    /// Its certificate.
    #[schema(required)]
    pub certificate: Option<String>,
}

/// A quantity beside the results: temperature, humidity, pressure.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Influence {
    /// What.
    pub name: String,
    /// Value.
    pub value: Decimal,
    /// Unit as D-SI writes it.
    pub unit: String,
}

/// Values over the loads.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Series {
    /// What: load, indication, error.
    pub name: String,
    /// Values.
    pub values: Vec<Mass>,
    /// Expanded uncertainties, one for each value, or none.
    pub expanded: Vec<Mass>,
    /// Coverage factors, one for each of them.
    pub k: Vec<Decimal>,
}

/// Results of one phase.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct ResultSet {
    /// As found, as left.
    pub name: String,
    /// Its series, of equal length.
    pub series: Vec<Series>,
}

/// A digital calibration certificate, as far as this program writes and reads it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Dcc {
    /// Number.
    pub number: String,
    /// Country of the laboratory, ISO 3166-1.
    pub country: String,
    /// Language, ISO 639-1.
    pub language: String,
    /// First day of the work.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub begun: Date,
    /// Last day of the work.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub ended: Date,
    /// The program that wrote it.
    pub software: String,
    /// What was calibrated.
    pub item: String,
    /// Its serial.
    pub serial: String,
    /// The laboratory.
    pub laboratory: String,
    /// The customer.
    pub customer: String,
    /// Where it stands.
    pub place: String,
    /// Who answers for it.
    pub people: Vec<Responsible>,
    /// Statements: traceability, conformity.
    pub statements: Vec<String>,
    /// Conforms; none: not stated.
    #[schema(required)]
    pub conforms: Option<bool>,
    /// Methods.
    pub methods: Vec<String>,
    /// Weights.
    pub equipment: Vec<Equipment>,
    /// Conditions.
    pub influences: Vec<Influence>,
    /// Results.
    pub results: Vec<ResultSet>,
    /// The signed job file from which it was written.
    #[serde(skip)]
    pub record: Option<AttachedRecord>,
}

/// A file inside a certificate.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct AttachedRecord {
    /// Its name.
    pub name: String,
    /// Its bytes.
    pub bytes: Vec<u8>,
}
