//! Validation: whatever comes in, from a page or from an archive, is checked by the same rules.

use std::collections::BTreeSet;

use ombret_bench::ScaleSettings;
use ombret_core::Refusal;
use ombret_core::adjust::Site;
use ombret_core::journal::MEDIA;
use ombret_core::practice::{Lesson, read_lesson};
use ombret_core::text;
use ombret_core::weights::OwnClass;
use ombret_core::wording::Text;
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
        return Err(Refusal::from(Refused::TooMany { most_classes: MOST_CLASSES }));
    }
    let mut names = BTreeSet::new();
    for class in classes {
        class.check()?;
        if !names.insert(class.name.trim().to_lowercase()) {
            return Err(Refusal::from(Refused::Twice { name: class.name.clone() }));
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
        return Err(Refusal::from(Refused::TooLong));
    }
    Ok(lesson_and_bench(text, Uuid::nil())?.0.id)
}

/// A lesson, and the practice scale that it is played at.
///
/// # Errors
/// A [`Refusal`] at its text.
pub fn lesson_and_bench(text: &str, scale: Uuid) -> Result<(Lesson, ScaleSettings), Refusal> {
    let bad = |says: Text| Refusal::from(Refused::BadLesson { says });
    // Where the file of a scale is wrong, its reader says it in the words of that file.
    let of_bench = |why: String| bad(text!("validation-api-bench", why));
    let lesson = read_lesson(text, scale).map_err(|e| bad(e.into()))?;
    let bench: ScaleSettings =
        serde_json::from_value(lesson.bench.clone()).map_err(|e| of_bench(e.to_string()))?;
    bench.check().map_err(|e| of_bench(e.to_string()))?;
    if bench.pads.len() + 1 != usize::from(lesson.sheet.pads) {
        let (platforms, pads) = (bench.pads.len() + 1, lesson.sheet.pads);
        return Err(bad(text!("validation-api-other-pads", platforms, pads)));
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
        return Err(Refusal::from(Refused::BadText));
    }
    site.g().map_err(Refusal::from)?;
    Ok(())
}

ombret_core::refusals! {
    enum Refused {
        TooMany { most_classes: usize } = "too_many" at "name":
            text!("validation-api-at-most-most-classes-classes", most_classes);
        Twice { name: String } = "twice" at "name": text!("validation-api-class-name-stands-there-twice", name);
        TooLong = "too_long" at "text": text!("validation-api-a-lesson-is-a-text");
        BadLesson { says: Text } = "bad_lesson" at "text": says;
        BadText = "bad_text" at "site_name": text!("validation-api-a-site-needs-a-name");
    }
}
