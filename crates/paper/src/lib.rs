//! Sheets set by Typst: what goes onto paper is worked out elsewhere and comes in as data, so that this
//! crate, whose dependencies take longest to build, knows nothing of scales. Output is PDF/A-3a: tagged,
//! its fonts inside, with the record attached in a form that machines read. Source: ISO 19005-3:2012.

mod code;
mod world;

pub use code::qr_svg;
pub use world::Beside;

use serde::Serialize;
use time::OffsetDateTime;
use typst::foundations::{Datetime, Smart};
use typst_layout::PagedDocument;
use typst_pdf::{PdfOptions, PdfStandard, PdfStandards, Timestamp};

use world::Desk;

/// A sheet that can be set.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Sheet {
    /// A calibration certificate or a work report.
    Certificate,
    /// A label for the scale.
    Label,
}

impl Sheet {
    const fn source(self) -> &'static str {
        match self {
            Self::Certificate => include_str!("certificate.typ"),
            Self::Label => include_str!("label.typ"),
        }
    }
}

/// Why a sheet could not be set.
#[derive(Debug, thiserror::Error)]
pub enum PaperError {
    /// The data cannot be written as JSON.
    #[error("the sheet's data cannot be written: {0}")]
    Data(#[from] serde_json::Error),
    /// The typesetter refuses.
    #[error("the sheet cannot be set: {0}")]
    Setting(String),
}

/// Sets a sheet as PDF/A-3a. The same data and day give the same bytes.
///
/// # Errors
/// [`PaperError`] with what the typesetter says.
pub fn pdf(
    sheet: Sheet,
    data: &impl Serialize,
    beside: Vec<Beside>,
    id: &str,
    on: OffsetDateTime,
) -> Result<Vec<u8>, PaperError> {
    let document = set(sheet, data, beside, on)?;
    let standards =
        PdfStandards::new(&[PdfStandard::A_3a]).map_err(|e| PaperError::Setting(e.message().to_string()))?;
    let at = Datetime::from_ymd_hms(
        on.year(),
        u8::from(on.month()),
        on.day(),
        on.hour(),
        on.minute(),
        on.second(),
    )
    .map(Timestamp::new_utc);
    let options = PdfOptions {
        timestamp: at,
        ident: Smart::Custom(id.to_owned()),
        creator: Smart::Custom(Some("Ombret".to_owned())),
        standards,
        ..PdfOptions::default()
    };
    let bytes = typst_pdf::pdf(&document, &options).map_err(|found| told(&found));
    let_go();
    bytes
}

/// Sets a sheet of one page as SVG.
///
/// # Errors
/// [`PaperError`] with what the typesetter says.
pub fn svg(
    sheet: Sheet,
    data: &impl Serialize,
    beside: Vec<Beside>,
    on: OffsetDateTime,
) -> Result<String, PaperError> {
    let document = set(sheet, data, beside, on)?;
    let page = document.pages().first().ok_or_else(|| PaperError::Setting("no page".into()))?;
    let text = typst_svg::svg(page, &typst_svg::SvgOptions::default());
    let_go();
    Ok(text)
}

/// What was remembered for older sheets is let go, or memory grows with every one.
fn let_go() {
    comemo::evict(2);
}

fn set(
    sheet: Sheet,
    data: &impl Serialize,
    beside: Vec<Beside>,
    on: OffsetDateTime,
) -> Result<PagedDocument, PaperError> {
    let mut value = serde_json::to_value(data)?;
    world::printable(&mut value);
    let desk = Desk::new(sheet.source(), serde_json::to_vec(&value)?, beside, on);
    typst::compile::<PagedDocument>(&desk).output.map_err(|found| told(&found))
}

fn told(found: &[typst::diag::SourceDiagnostic]) -> PaperError {
    PaperError::Setting(found.iter().map(|d| d.message.to_string()).collect::<Vec<_>>().join("; "))
}
