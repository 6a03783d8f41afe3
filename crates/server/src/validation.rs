//! Validation: whatever comes in, from a page or from an archive, is checked by the same rules.

use std::collections::BTreeSet;

use ombret_bench::ScaleSettings;
use ombret_core::Refusal;
use ombret_core::adjust::Site;
use ombret_core::journal::MEDIA;
use ombret_core::practice::{Lesson, read_lesson};
use ombret_core::text;
use ombret_core::weights::OwnClass;
use uuid::Uuid;

/// Largest text of a lesson or a profile, in bytes, with room for what carries it.
pub const TEXT_LIMIT: usize = 160 * 1024;

/// Whether files of a kind are taken.
pub fn is_taken(media: &str) -> bool {
    MEDIA.iter().any(|(known, _)| *known == media)
}

/// Most classes of a workshop's own.
const MOST_CLASSES: usize = 40;

/// Whether they may be kept together.
///
/// # Errors
/// A [`Refusal`] at its field.
pub fn check_classes(classes: &[OwnClass]) -> Result<(), Refusal> {
    if classes.len() > MOST_CLASSES {
        return Err(Refusal::new(
            "too_many",
            text!("validation-api-at-most-most-classes-classes", most_classes = MOST_CLASSES),
        )
        .at("name"));
    }
    let mut names = BTreeSet::new();
    for class in classes {
        class.check()?;
        if !names.insert(class.name.trim().to_lowercase()) {
            return Err(Refusal::new(
                "twice",
                text!("validation-api-class-name-stands-there-twice", name = class.name),
            )
            .at("name"));
        }
    }
    Ok(())
}

/// The name of a lesson that may be kept.
///
/// # Errors
/// A [`Refusal`] at its text.
pub fn check_lesson(text: &str) -> Result<String, Refusal> {
    if text.len() > TEXT_LIMIT {
        return Err(Refusal::new("too_long", text!("validation-api-a-lesson-is-a-text")).at("text"));
    }
    Ok(lesson_and_bench(text, Uuid::nil())?.0.id)
}

/// A lesson, and the practice scale that it is played at.
///
/// # Errors
/// A [`Refusal`] at its text.
pub fn lesson_and_bench(text: &str, scale: Uuid) -> Result<(Lesson, ScaleSettings), Refusal> {
    let bad = |says: String| Refusal::new("bad_lesson", says).at("text");
    let lesson = read_lesson(text, scale).map_err(|e| bad(e.to_string()))?;
    let bench: ScaleSettings =
        serde_json::from_value(lesson.bench.clone()).map_err(|e| bad(format!("bench: {e}")))?;
    bench.check().map_err(|e| bad(format!("bench: {e}")))?;
    if bench.pads.len() + 1 != usize::from(lesson.sheet.pads) {
        return Err(bad(format!(
            "bench: {} platforms for a sheet with {}",
            bench.pads.len() + 1,
            lesson.sheet.pads
        )));
    }
    Ok((lesson, bench))
}

/// Whether a site may be kept.
///
/// # Errors
/// A [`Refusal`] at its field.
pub fn check_site(site: &Site) -> Result<(), Refusal> {
    let name = &site.name;
    if name.is_empty() || name.chars().count() > 80 || name.chars().any(char::is_control) {
        return Err(Refusal::new("bad_text", text!("validation-api-a-site-needs-a-name")).at("site_name"));
    }
    site.g().map_err(Refusal::from)?;
    Ok(())
}
