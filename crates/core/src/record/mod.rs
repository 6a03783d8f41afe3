//! What leaves a job: the certificate and its words, the label, the summary that is counted, two records compared,
//! the digital calibration certificate.

mod certificate;
mod compare;
pub mod dcc;
mod drawing;
mod label;
mod letterhead;
mod summary;
mod words;

pub use certificate::{
    Certificate, Circumstances, Facts, Lines, Row, Signature, Table, certificate, why_report,
};
pub use compare::{Compared, compare};
pub use dcc::{
    Around, AttachedRecord, Dcc, Equipment, Influence, MOST_BYTES, Responsible, ResultSet, Series, dcc_of,
    read_dcc, write_dcc,
};
pub use drawing::error_chart_svg;
pub use label::{Label, label};
pub use letterhead::{Lack, Letterhead, RecordTerms};
pub use summary::{Found, MarkKind, RecordMark, RecordSummary, plain_mark, record_summary};
pub use words::Words;
