//! A lesson as a file: the scale and its sheet, what is hidden, hints, and what a good run is.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::quantity::Decimal;
use crate::scale::{ScaleSheet, checklist};
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
    pub const fn label(self) -> &'static str {
        match self {
            Self::Leave => "leave it as it is",
            Self::ZeroOnly => "a new zero, nothing else",
            Self::Span => "zero and span",
            Self::Points => "several points",
            Self::Factor => "the correction factor",
            Self::Internal => "the internal weight, matched against external ones",
            Self::Repair => "a repair; nothing is left to adjust after it",
            Self::RepairAndSpan => "a repair, then zero and span",
            Self::Stop => "stop and say why: this scale needs more than you have here",
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
    pub is: String,
    /// The items of the checklist where it is found.
    #[serde(default)]
    pub items: Vec<String>,
    /// What cures it.
    pub cure: Cure,
    /// What it would cost on a real scale if it were missed.
    pub missed: String,
}

/// A lesson.
#[derive(Clone, Debug, PartialEq)]
pub struct Lesson {
    /// Stable name.
    pub id: String,
    /// Title; it does not give the fault away.
    pub title: String,
    /// What the owner says.
    pub story: String,
    /// The scale's sheet.
    pub sheet: ScaleSheet,
    /// The practice scale, in the format of the bench.
    pub bench: Value,
    /// What is hidden.
    pub hidden: Hidden,
    /// Hints, one after the other.
    pub hints: Vec<String>,
    /// A good run.
    pub good: GoodRun,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Raw {
    id: String,
    title: String,
    story: String,
    sheet: Value,
    bench: Value,
    hidden: Hidden,
    #[serde(default)]
    hints: Vec<String>,
    good: GoodRun,
}

/// Why a file is no lesson.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LessonError {
    /// Too large.
    #[error("a lesson has at most {} KiB", MOST_LESSON_BYTES / 1024)]
    TooLarge,
    /// Not readable.
    #[error("not readable as a lesson: {0}")]
    Unreadable(String),
    /// A part is wrong.
    #[error("{part}: {says}")]
    Wrong {
        /// Which part.
        part: &'static str,
        /// What is wrong with it.
        says: String,
    },
}

fn wrong(part: &'static str, says: impl Into<String>) -> LessonError {
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
        return Err(wrong("id", "small letters, digits and dashes, at most 60"));
    }
    for (part, text) in
        [("title", &title), ("story", &story), ("hidden.is", &hidden.is), ("hidden.missed", &hidden.missed)]
    {
        if text.trim().is_empty() || text.chars().count() > LONGEST {
            return Err(wrong(part, format!("a text of at most {LONGEST} characters is needed")));
        }
    }
    if hints.len() > MOST_HINTS || hints.iter().any(|h| h.trim().is_empty() || h.chars().count() > LONGEST) {
        return Err(wrong(
            "hints",
            format!("at most {MOST_HINTS}, each a text of at most {LONGEST} characters"),
        ));
    }
    let object = sheet.as_object_mut().ok_or_else(|| wrong("sheet", "an object is needed"))?;
    object.insert("id".into(), Value::String(scale.to_string()));
    object.insert("practice".into(), Value::Bool(true));
    let sheet: ScaleSheet = serde_json::from_value(sheet).map_err(|e| wrong("sheet", e.to_string()))?;
    sheet.check().map_err(|refusal| wrong("sheet", refusal.message))?;
    if let Some(item) = hidden.items.iter().find(|item| !checklist(sheet.kind).any(|c| c.id == **item)) {
        let known: Vec<&str> = checklist(sheet.kind).map(|c| c.id.as_str()).collect();
        return Err(wrong(
            "hidden.items",
            format!("“{item}” is not on the checklist of this kind of scale; there are {}", known.join(", ")),
        ));
    }
    if matches!(hidden.cure, Cure::Repair | Cure::RepairAndSpan) && hidden.items.is_empty() {
        return Err(wrong(
            "hidden.items",
            "a repair needs an item of the checklist where the fault is found",
        ));
    }
    let one = Decimal::from(1u32);
    if good.span_share.as_ref().is_some_and(|share| !share.is_positive() || *share > one) {
        return Err(wrong("good.span_share", "a share of Max, above 0 and at most 1"));
    }
    if good.lifted_kg.is_negative() || good.minutes == 0 {
        return Err(wrong("good", "minutes above zero and kilograms not below it"));
    }
    Ok(Lesson { id, title, story, sheet, bench, hidden, hints, good })
}
