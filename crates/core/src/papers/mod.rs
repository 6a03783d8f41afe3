//! What goes onto paper: a certificate or a work report, and a label, in the workshop's language. Every
//! word and figure is worked out here; setting it is another crate's work.

mod certificate;
mod drawing;
mod label;
mod letterhead;
mod words;

pub use certificate::{
    Certificate, Circumstances, Facts, Lines, Row, Signature, Table, certificate, why_report,
};
pub use drawing::shade_svg;
pub use label::{Label, label};
pub use letterhead::{Lack, Letterhead, RecordTerms};
pub use words::{Language, Words};
