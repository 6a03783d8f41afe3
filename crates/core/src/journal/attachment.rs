//! What belongs to a job beside its figures: photographs and files, each by its hash, and the customer's own
//! signature on the work as it stands.

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::refusal::Refusal;
use crate::scale::Stage;
use crate::wording::Text;

/// Largest file, in bytes.
pub const MOST_FILE_BYTES: u64 = 4 * 1024 * 1024;
/// What a photograph or a file may be, and by which bytes each begins.
pub const MEDIA: [(&str, &[u8]); 4] = [
    ("image/jpeg", &[0xff, 0xd8, 0xff]),
    ("image/png", b"\x89PNG\r\n\x1a\n"),
    ("image/webp", b"RIFF"),
    ("application/pdf", b"%PDF-"),
];
/// Longest signature, in characters of its path.
const LONGEST_PATH: usize = 20_000;
/// Longest name and caption, in characters.
const LONGEST: usize = 120;
/// The paper that a customer signs on: width and height, in the units of the path.
pub const SIGNED_ON: (u32, u32) = (600, 200);

fn sized(size: u64) -> Result<(), Refusal> {
    if size == 0 || size > MOST_FILE_BYTES {
        return Err(Refusal::from(Refused::TooLarge { most_file_bytes: MOST_FILE_BYTES >> 20 }));
    }
    Ok(())
}

/// What a file of so many bytes is, by the bytes with which it begins; never by its name.
///
/// # Errors
/// A [`Refusal`] where it is empty, larger than [`MOST_FILE_BYTES`], or none of [`MEDIA`].
pub fn media_of(size: u64, head: &[u8]) -> Result<&'static str, Refusal> {
    sized(size)?;
    let known = MEDIA.iter().find(|(_, begins)| head.starts_with(begins));
    known.map(|(media, _)| *media).ok_or_else(|| Refusal::from(Refused::BadFile))
}

/// A photograph or a file of a job. The journal has its hash; its bytes lie beside it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct AttachedFile {
    /// Identity.
    pub id: Uuid,
    /// The file's name.
    pub name: String,
    /// What it is, such as `image/jpeg`.
    pub media: String,
    /// Its size, in bytes.
    pub size: u64,
    /// SHA-256 of its bytes, in lower-case hexadecimal.
    pub sha256: String,
    /// What it shows.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub caption: String,
    /// In which stage it was taken.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stage: Option<Stage>,
    /// It is named on the record.
    #[serde(default)]
    pub on_record: bool,
}

impl AttachedFile {
    /// Checks that it makes sense.
    ///
    /// # Errors
    /// A [`Refusal`] at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        for (field, text) in [("name", &self.name), ("caption", &self.caption), ("media", &self.media)] {
            if text.chars().count() > LONGEST || text.chars().any(char::is_control) {
                return Err(Refusal::from(Refused::BadText { longest: LONGEST }).at(field));
            }
        }
        if self.name.trim().is_empty() {
            return Err(Refusal::from(Refused::Missing));
        }
        sized(self.size)?;
        let hash = |b: u8| b.is_ascii_digit() || (b'a'..=b'f').contains(&b);
        if self.sha256.len() != 64 || !self.sha256.bytes().all(hash) {
            return Err(Refusal::from(Refused::BadHash));
        }
        Ok(())
    }

    /// In a few words.
    pub fn says(&self) -> Text {
        let caption = if self.caption.trim().is_empty() { &self.name } else { &self.caption };
        text!("attachment-caption-sha-256-get", caption, get = self.sha256.get(..12).unwrap_or_default())
    }
}

/// The customer's signature on the work as it stood.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct CustomerSignature {
    /// Who signed.
    pub name: String,
    /// What was drawn: the path of an SVG of 600 by 200 units, moves and lines only.
    pub path: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

impl CustomerSignature {
    /// As an SVG of its own.
    pub fn svg(&self) -> String {
        let (width, height) = SIGNED_ON;
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {width} {height}\" width=\"{width}\" height=\"{height}\"><path d=\"{}\" fill=\"none\" stroke=\"#14202b\" stroke-width=\"3\" stroke-linecap=\"round\" stroke-linejoin=\"round\"/></svg>",
            self.path
        )
    }
}

/// Whether a name and a path may be a customer's signature: moves and lines on the paper, nothing else.
///
/// # Errors
/// A [`Refusal`] at its field.
pub(crate) fn check_signature(name: &str, path: &str) -> Result<(), Refusal> {
    let name = name.trim();
    if name.chars().count() < 2 || name.chars().count() > LONGEST || name.chars().any(char::is_control) {
        return Err(Refusal::from(Refused::NameNeeded));
    }
    let bad = |says: Text| Err(Refusal::from(Refused::BadSignature { says }));
    if path.trim().is_empty() {
        return bad(text!("attachment-nothing-was-drawn"));
    }
    if path.len() > LONGEST_PATH {
        return bad(text!("attachment-that-is-more-than-a"));
    }
    let mut lines = 0;
    for part in path.split_inclusive(['M', 'L']).skip(1) {
        let point = part.trim_end_matches(['M', 'L']).trim();
        let mut figures = point.split(' ').map(str::parse::<u32>);
        let on = |figure: Option<Result<u32, _>>, most: u32| matches!(figure, Some(Ok(f)) if f <= most);
        if !on(figures.next(), SIGNED_ON.0) || !on(figures.next(), SIGNED_ON.1) || figures.next().is_some() {
            return bad(text!("attachment-this-is-no-signature-that"));
        }
        lines += 1;
    }
    if lines < 2 || !path.starts_with('M') || path.ends_with(['M', 'L']) {
        return bad(text!("attachment-nothing-was-drawn"));
    }
    Ok(())
}

crate::refusals! {
    enum Refused {
        TooLarge { most_file_bytes: u64 } = "too_large" at "file":
            text!("attachment-a-file-has-1-byte", most_file_bytes);
        BadFile = "bad_file" at "file": text!("attachment-a-photograph-jpeg-png-webp");
        BadText { longest: usize } = "bad_text": text!("attachment-at-most-longest-characters-fit", longest);
        Missing = "missing" at "name": text!("attachment-a-file-has-a-name");
        BadHash = "bad_hash" at "sha256": text!("attachment-this-is-no-sha-256");
        NameNeeded = "name_needed" at "name": text!("attachment-who-signs-the-name-is");
        BadSignature { says: Text } = "bad_signature" at "path": says;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_signature_is_moves_and_lines_on_the_paper() {
        for good in ["M10 20L30 40", "M10 20L30 40L600 200M0 0L1 1"] {
            assert!(check_signature("Ida Moor", good).is_ok(), "{good}");
        }
        for bad in [
            "",
            "M10 20",
            "L10 20L30 40",
            "M10 20L30",
            "M10 20L601 0",
            "M10 20L30 40Z",
            "M10 20L30 40\"/>",
            "M10 20L-3 4",
            "M10 20L3.5 4",
            "M10 20LL30 40",
            "M10 20L30 40L",
            "M1 1L1 1 1",
        ] {
            assert!(check_signature("Ida Moor", bad).is_err(), "{bad}");
        }
        assert_eq!(check_signature(" ", "M10 20L30 40").unwrap_err().field.as_deref(), Some("name"));
        assert!(check_signature("Ida Moor", &"M1 1L2 2".repeat(5_000)).is_err());
    }

    #[test]
    fn a_file_is_named_and_has_its_hash() {
        let file = AttachedFile {
            id: Uuid::nil(),
            name: "plate.jpg".into(),
            media: "image/jpeg".into(),
            size: 9,
            sha256: "0f".repeat(32),
            caption: String::new(),
            stage: None,
            on_record: true,
        };
        assert!(file.check().is_ok());
        assert_eq!(file.says(), "plate.jpg (SHA-256 0f0f0f0f0f0f …)");
        let at = |file: AttachedFile| file.check().unwrap_err().field.unwrap();
        assert_eq!(at(AttachedFile { size: 0, ..file.clone() }), "file");
        assert_eq!(at(AttachedFile { size: MOST_FILE_BYTES + 1, ..file.clone() }), "file");
        assert_eq!(at(AttachedFile { sha256: "0F".repeat(32), ..file.clone() }), "sha256");
        assert_eq!(at(AttachedFile { name: " ".into(), ..file }), "name");
    }
}
