//! The label on the scale: what was done, when it is due, where its record is.

use serde::Serialize;
use time::Date;

use super::letterhead::{Lack, Letterhead, RecordTerms};
use crate::assessment::Assessment;
use crate::journal::Outcome;

/// A label.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Label {
    /// What it is.
    pub title: String,
    /// Tag of its language.
    pub lang: String,
    /// The workshop.
    pub workshop: String,
    /// The scale.
    pub scale: String,
    /// Number of the record.
    pub number: String,
    /// Rows of label and value.
    pub rows: Vec<(String, String)>,
    /// It has a code.
    pub qr: bool,
}

/// The label of a record; `due` where the scale is due again.
///
/// # Errors
/// What the record lacks: a scale that is not signed off gets no label.
pub fn label(
    assessed: &Assessment,
    letterhead: &Letterhead,
    number: &str,
    due: Option<Date>,
    terms: RecordTerms,
) -> Result<Label, Lack> {
    if let Some(lack) = Lack::of_standing(assessed, terms).next() {
        return Err(lack);
    }
    let words = letterhead.language.words();
    let verdict =
        words.get(if assessed.outcome == Outcome::InTolerance { "in_tolerance" } else { "out_of_tolerance" });
    let done = assessed.close.signed_at.map_or_else(String::new, |at| at.date().to_string());
    let mut rows = vec![(words.get("label_done"), done)];
    rows.extend(due.map(|d| (words.get("label_due"), d.to_string())));
    rows.push((String::new(), verdict));
    Ok(Label {
        title: format!("{} {number}", assessed.sheet.name),
        lang: letterhead.language.tag().into(),
        workshop: letterhead.name.clone(),
        scale: format!("{}, {}", assessed.sheet.name, assessed.sheet.serial),
        number: number.to_owned(),
        rows,
        qr: true,
    })
}
