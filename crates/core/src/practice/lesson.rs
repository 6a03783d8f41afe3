//! A lesson as a file: the scale and its sheet, what is hidden, hints, and what a good run is.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use super::lesson_text::LessonText;
use crate::quantity::Decimal;
use crate::scale::{ScaleSheet, checklist};
use crate::wording::Text;
use utoipa::ToSchema;

/// Largest file of a lesson, in bytes.
pub const MOST_LESSON_BYTES: usize = 64 * 1024;
/// Most hints.
const MOST_HINTS: usize = 12;
/// Longest text, in characters.
const LONGEST: usize = 1200;

/// What cures the scale of a lesson.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Cure {
    /// Nothing: it is inside its tolerance.
    Leave,
    /// A new zero.
    ZeroOnly,
    /// Zero and span.
    Span,
    /// Several points.
    Points,
    /// A correction factor.
    Factor,
    /// The internal weight matched.
    Internal,
    /// A repair; nothing is left to adjust after it.
    Repair,
    /// A repair, then zero and span.
    RepairAndSpan,
    /// None here: the job stops and says why.
    Stop,
}

impl Cure {
    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Leave => text!("lesson-leave-it-as-it-is"),
            Self::ZeroOnly => text!("lesson-a-new-zero-nothing-else"),
            Self::Span => text!("lesson-zero-and-span"),
            Self::Points => text!("lesson-several-points"),
            Self::Factor => text!("lesson-the-correction-factor"),
            Self::Internal => text!("lesson-the-internal-weight-matched-against"),
            Self::Repair => text!("lesson-a-repair-nothing-is-left"),
            Self::RepairAndSpan => text!("lesson-a-repair-then-zero-and"),
            Self::Stop => text!("lesson-stop-and-say-why-this"),
        }
    }
}

/// A good run.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct GoodRun {
    /// The least span weight, as a share of Max.
    #[serde(default)]
    pub span_share: Option<Decimal>,
    /// Minutes that it takes.
    pub minutes: u32,
    /// What is lifted on and off, in kg.
    pub lifted_kg: Decimal,
}

/// What the learner is not told.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Hidden {
    /// What it is, in words.
    pub is: LessonText,
    /// The items of the checklist where it is found.
    #[serde(default)]
    pub items: Vec<String>,
    /// What cures it.
    pub cure: Cure,
    /// What it would cost on a real scale if it were missed.
    pub missed: LessonText,
}

/// A lesson.
#[derive(Clone, Debug, PartialEq)]
pub struct Lesson {
    /// Stable name.
    pub id: String,
    /// Title; it does not give the fault away.
    pub title: LessonText,
    /// What the owner says.
    pub story: LessonText,
    /// The scale's sheet.
    pub sheet: ScaleSheet,
    /// The practice scale, in the format of the bench.
    pub bench: Value,
    /// What is hidden.
    pub hidden: Hidden,
    /// Hints, one after the other.
    pub hints: Vec<LessonText>,
    /// A good run.
    pub good: GoodRun,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Raw {
    id: String,
    title: LessonText,
    story: LessonText,
    sheet: Value,
    bench: Value,
    hidden: Hidden,
    #[serde(default)]
    hints: Vec<LessonText>,
    good: GoodRun,
}

/// Why a file is no lesson.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LessonError {
    /// Too large.
    TooLarge,
    /// Not readable.
    Unreadable(String),
    /// A part is wrong.
    Wrong {
        /// Which part.
        part: &'static str,
        /// What is wrong with it.
        says: Text,
    },
}

impl From<&LessonError> for Text {
    fn from(error: &LessonError) -> Self {
        match error {
            LessonError::TooLarge => text!("lesson-too-large", most_lesson_bytes = MOST_LESSON_BYTES / 1024),
            LessonError::Unreadable(f0) => text!("lesson-unreadable", f0),
            LessonError::Wrong { part, says } => text!("lesson-wrong", part, says),
        }
    }
}

impl From<LessonError> for Text {
    fn from(error: LessonError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for LessonError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

fn wrong(part: &'static str, says: impl Into<Text>) -> LessonError {
    LessonError::Wrong { part, says: says.into() }
}

/// Reads a lesson. The scale gets the identity `scale`, and its sheet the mark of practice.
///
/// # Errors
/// [`LessonError`], naming the part.
pub fn read_lesson(text: &str, scale: Uuid) -> Result<Lesson, LessonError> {
    if text.len() > MOST_LESSON_BYTES {
        return Err(LessonError::TooLarge);
    }
    let Raw { id, title, story, mut sheet, bench, hidden, hints, good } =
        serde_json::from_str(text).map_err(|e| LessonError::Unreadable(e.to_string()))?;
    let slug = |c: char| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-';
    if id.is_empty() || id.len() > 60 || !id.chars().all(slug) {
        return Err(wrong("id", text!("lesson-small-letters-digits-and-dashes")));
    }
    for (part, text) in
        [("title", &title), ("story", &story), ("hidden.is", &hidden.is), ("hidden.missed", &hidden.missed)]
    {
        if !text.fits(LONGEST) {
            return Err(wrong(part, text!("lesson-a-text-of-at-most", longest = LONGEST)));
        }
    }
    if hints.len() > MOST_HINTS || !hints.iter().all(|hint| hint.fits(LONGEST)) {
        return Err(wrong(
            "hints",
            text!("lesson-at-most-most-hints-each", most_hints = MOST_HINTS, longest = LONGEST),
        ));
    }
    let object = sheet.as_object_mut().ok_or_else(|| wrong("sheet", text!("lesson-an-object-is-needed")))?;
    object.insert("id".into(), Value::String(scale.to_string()));
    object.insert("practice".into(), Value::Bool(true));
    let sheet: ScaleSheet = serde_json::from_value(sheet).map_err(|e| wrong("sheet", e.to_string()))?;
    sheet.check().map_err(|refusal| wrong("sheet", refusal.message))?;
    if let Some(item) = hidden.items.iter().find(|item| !checklist(sheet.kind).any(|c| c.id == **item)) {
        let known: Vec<&str> = checklist(sheet.kind).map(|c| c.id.as_str()).collect();
        return Err(wrong(
            "hidden.items",
            text!("lesson-item-is-not-on-the", item, known = known.join(", ")),
        ));
    }
    if matches!(hidden.cure, Cure::Repair | Cure::RepairAndSpan) && hidden.items.is_empty() {
        return Err(wrong("hidden.items", text!("lesson-a-repair-needs-an-item")));
    }
    let one = Decimal::from(1u32);
    if good.span_share.as_ref().is_some_and(|share| !share.is_positive() || *share > one) {
        return Err(wrong("good.span_share", text!("lesson-a-share-of-max-above")));
    }
    if good.lifted_kg.is_negative() || good.minutes == 0 {
        return Err(wrong("good", text!("lesson-minutes-above-zero-and-kilograms")));
    }
    Ok(Lesson { id, title, story, sheet, bench, hidden, hints, good })
}
