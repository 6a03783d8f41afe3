//! What an archive brings passes the same checks as what is typed.

use std::collections::BTreeSet;

use ombret_core::adjust::SpanWeightRule;
use ombret_core::customer::Customer;
use ombret_core::journal::MOST_FILE_BYTES;
use ombret_core::keying::{LONGEST_PROFILE, read_profile};
use ombret_core::weights::{Instrument, Piece};
use time::OffsetDateTime;
use uuid::Uuid;

use super::format::{Broken, CertificatePart, FilePart, ProfilePart, ScalePart, WorkshopPart};
use crate::store::beside::FileOf;
use crate::validation::{check_classes, check_lesson, check_site, is_taken};

/// What is the workshop's own.
pub(super) fn workshop(own: &WorkshopPart) -> Result<(), Broken> {
    let wrong = |what: &str, why: String| Broken::at("workshop.json", format!("{what}: {why}"));
    own.paper.letterhead.check().map_err(|r| wrong("paper", r.message.to_string()))?;
    own.judgement.priors.check().map_err(|r| wrong("judgement", r.message.to_string()))?;
    serde_json::from_value::<SpanWeightRule>(own.school.clone().into()).map_err(|_| {
        wrong("school", format!("“{}” is none", own.school.chars().take(40).collect::<String>()))
    })?;
    check_classes(&own.own_classes).map_err(|r| wrong("own_classes", r.message.to_string()))?;
    for site in &own.sites {
        check_site(site).map_err(|r| wrong("sites", r.message.to_string()))?;
    }
    for (id, text) in &own.lessons {
        let found = check_lesson(text).map_err(|r| wrong("lessons", r.message.to_string()))?;
        if found != *id {
            return Err(wrong("lessons", format!("the lesson “{found}” stands there as another")));
        }
    }
    Ok(())
}

/// The scales.
pub(super) fn scales(parts: &[ScalePart]) -> Result<(), Broken> {
    let mut seen = BTreeSet::new();
    for part in parts {
        let wrong = |why: String| Broken::at("scales.json", format!("{}: {why}", part.sheet.name));
        part.sheet.check().map_err(|r| wrong(r.message.to_string()))?;
        if part.sheet.practice {
            return Err(wrong("is the scale of a lesson".into()));
        }
        if !seen.insert(part.sheet.id) {
            return Err(wrong("stands twice".into()));
        }
        if let Some(device) = &part.device {
            device.check().map_err(|e| wrong(e.to_string()))?;
        }
    }
    Ok(())
}

/// The weights.
pub(super) fn kit(pieces: &[Piece]) -> Result<(), Broken> {
    let today = OffsetDateTime::now_utc().date();
    let mut seen = BTreeSet::new();
    for piece in pieces {
        let wrong = |why: String| Broken::at("kit.json", format!("“{}”: {why}", piece.serial));
        piece.check(today).map_err(|r| wrong(r.message.to_string()))?;
        if !seen.insert(piece.id) {
            return Err(wrong("stands twice".into()));
        }
    }
    Ok(())
}

/// The files of certificates: each belongs to a certificate that a piece has.
pub(super) fn certificates(parts: &[CertificatePart], kit: &[Piece]) -> Result<(), Broken> {
    let known: BTreeSet<(Uuid, &str)> =
        kit.iter().flat_map(|p| p.certificates.iter().map(|c| (p.id, c.number.as_str()))).collect();
    let mut seen = BTreeSet::new();
    for part in parts {
        let wrong = |why: &str| Broken::at("certificates.json", format!("{} {why}", part.number));
        if !known.contains(&(part.piece, part.number.as_str())) {
            return Err(wrong("belongs to no piece"));
        }
        if !seen.insert((part.piece, &part.number)) {
            return Err(wrong("stands twice"));
        }
        let name = part.name.chars();
        if part.name.trim().is_empty() || name.clone().count() > 200 || name.clone().any(char::is_control) {
            return Err(wrong("has no name that a file has"));
        }
    }
    Ok(())
}

/// The profiles: the edition in force can be read, and every earlier one is of a length that was.
pub(super) fn profiles(parts: &[ProfilePart]) -> Result<(), Broken> {
    let mut seen = BTreeSet::new();
    for part in parts {
        let shown: String = part.name.chars().filter(|c| !c.is_control()).take(80).collect();
        let wrong = |why: &str| Broken::at("profiles.json", format!("“{shown}” {why}"));
        let Some(last) = part.editions.last() else { return Err(wrong("has no edition")) };
        let read = read_profile(&last.text).map_err(|_| wrong("cannot be read"))?;
        if read.name != part.name || read.about != part.about {
            return Err(wrong("says another name in its text"));
        }
        let rising = part.editions.windows(2).all(|pair| pair[0].edition < pair[1].edition);
        let short = part
            .editions
            .iter()
            .all(|e| e.edition > 0 && e.text.len() <= LONGEST_PROFILE && e.changed_by.chars().count() <= 200);
        if !rising || !short {
            return Err(wrong("has editions that could not have been saved"));
        }
        if !seen.insert(part.name.to_lowercase()) {
            return Err(wrong("stands twice"));
        }
    }
    Ok(())
}

/// The customers: as they are typed, and each once.
pub(super) fn customers(parts: &[Customer]) -> Result<(), Broken> {
    let mut seen = BTreeSet::new();
    for part in parts {
        let shown: String = part.name.chars().filter(|c| !c.is_control()).take(80).collect();
        let wrong = |why: String| Broken::at("customers.json", format!("“{shown}” {why}"));
        part.check().map_err(|r| wrong(r.message.to_string()))?;
        if !seen.insert(Customer::plain_name(&part.name)) {
            return Err(wrong("stands twice".into()));
        }
    }
    Ok(())
}

/// The instruments: as they are typed, and each once.
pub(super) fn instruments(parts: &[Instrument]) -> Result<(), Broken> {
    let mut seen = BTreeSet::new();
    for part in parts {
        let shown: String = part.serial.chars().filter(|c| !c.is_control()).take(80).collect();
        let wrong = |why: String| Broken::at("instruments.json", format!("“{shown}” {why}"));
        part.check().map_err(|r| wrong(r.message.to_string()))?;
        if !seen.insert(part.serial.trim().to_lowercase()) {
            return Err(wrong("stands twice".into()));
        }
    }
    Ok(())
}

/// Photographs and files: each belongs to something that is in the archive, and is of a kind that is taken.
pub(super) fn files(parts: &[FilePart], known: impl Fn(FileOf, Uuid) -> bool) -> Result<(), Broken> {
    let mut seen = BTreeSet::new();
    for part in parts {
        let wrong = |why: &str| Broken::at("files.json", format!("{} {why}", part.id));
        if !known(part.of, part.of_id) {
            return Err(wrong("belongs to nothing in the archive"));
        }
        if !seen.insert(part.id) {
            return Err(wrong("stands twice"));
        }
        let plain =
            |text: &str, most: usize| text.chars().count() <= most && !text.chars().any(char::is_control);
        let named = !part.name.trim().is_empty() && plain(&part.name, 120) && plain(&part.caption, 120);
        if !named || !plain(&part.by, 200) || !is_taken(&part.media) {
            return Err(wrong("is no file that could have been kept"));
        }
        if !(1..=i64::try_from(MOST_FILE_BYTES).unwrap_or(0)).contains(&part.size) {
            return Err(wrong("is larger than is taken"));
        }
    }
    Ok(())
}
