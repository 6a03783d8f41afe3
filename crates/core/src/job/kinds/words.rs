//! Words that a person types beside an entry.

use crate::refusal::Refusal;

/// Longest note, reason or remark, in characters.
const LONGEST_TEXT: usize = 2_000;

pub(in crate::job) fn readable(field: &str, text: &str) -> Result<(), Refusal> {
    if text.chars().count() > LONGEST_TEXT {
        return Err(Refusal::from(Refused::TooLong { longest_text: LONGEST_TEXT }).at(field));
    }
    Ok(())
}

pub(in crate::job) fn reasoned(field: &str, text: &str) -> Result<(), Refusal> {
    if text.trim().is_empty() {
        return Err(Refusal::from(Refused::ReasonNeeded).at(field));
    }
    readable(field, text)
}

/// A text that was typed; none where nothing was.
pub(in crate::job) fn said(text: String) -> Option<String> {
    Some(text).filter(|t| !t.trim().is_empty())
}

/// The beginning of a text, to be named in a refusal.
pub(in crate::job) fn short(text: &str) -> String {
    text.trim().chars().take(24).collect()
}

crate::refusals! {
    enum Refused {
        TooLong { longest_text: usize } = "too_long":
            text!("admit-at-most-longest-text-characters", longest_text);
        ReasonNeeded = "reason_needed": text!("admit-a-few-words-are-needed");
    }
}
