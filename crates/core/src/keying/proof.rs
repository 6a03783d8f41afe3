//! What a visit says of the keying sheet that it was keyed by.

use serde::Deserialize;
use utoipa::ToSchema;

use super::read::LONGEST_TEXT;
use crate::refusal::Refusal;

/// What a visit says of its keying sheet.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(tag = "said", rename_all = "snake_case")]
#[schema(as = ProofForm)]
pub enum Proof {
    /// It was right to the end.
    AsItSaid,
    /// Something differed.
    DifferedHere {
        /// The item, by what the sheet says that the display shows.
        item: String,
        /// What it showed.
        shown: String,
        /// What was different.
        #[serde(default)]
        note: String,
    },
}

impl Proof {
    /// The same without space around what was typed, if it can be kept; `practice`: it was said of a practice scale.
    ///
    /// # Errors
    /// A practice scale proves nothing; what differed needs a place, and what was shown or what was different; the
    /// field that is longer than a text of a profile.
    pub fn checked(self, practice: bool) -> Result<Self, Refusal> {
        if practice {
            return Err(Refusal::from(Refused::Practice));
        }
        let Self::DifferedHere { item, shown, note } = self else { return Ok(self) };
        let within = |field: &str, text: String| {
            let text = text.trim().to_owned();
            if text.chars().count() > LONGEST_TEXT || text.chars().any(char::is_control) {
                return Err(Refusal::from(Refused::TooLong { most: LONGEST_TEXT }).at(field));
            }
            Ok(text)
        };
        let (item, shown, note) = (within("item", item)?, within("shown", shown)?, within("note", note)?);
        if item.is_empty() {
            return Err(Refusal::from(Refused::SayWhere));
        }
        if shown.is_empty() && note.is_empty() {
            return Err(Refusal::from(Refused::SayWhat));
        }
        Ok(Self::DifferedHere { item, shown, note })
    }
}

crate::refusals! {
    enum Refused {
        Practice = "practice": text!("proofs-practice-proves-nothing"), then text!("proofs-on-a-real-visit");
        TooLong { most: usize } = "too_long": text!("proofs-at-most", most);
        SayWhere = "missing" at "item": text!("proofs-say-where");
        SayWhat = "missing" at "shown": text!("proofs-say-what");
    }
}
