//! What points to a cause beside the readings: inspection, and error texts of the display.

use super::causes::CauseInfo;
use crate::keying::MessageMeaning;

/// A fault that inspection found, or an error text, makes a cause that it points to so much likelier.
const POINTED: f64 = 5.0;
/// A fault that was found at the last record makes it so much likelier: what was put right once comes back.
const AGAIN: f64 = 2.0;

/// What points to a cause beside the readings.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Pointers {
    /// Items of the checklist where a fault was found.
    pub items: Vec<String>,
    /// What error texts of the display mean.
    pub messages: Vec<MessageMeaning>,
    /// Items of the checklist where a fault was found at the last record.
    pub last_time: Vec<String>,
}

impl Pointers {
    /// How much likelier all of it makes a cause.
    pub(super) fn makes_likelier(&self, info: &CauseInfo) -> f64 {
        let now = info.items.iter().any(|item| self.items.contains(item))
            || info.messages.iter().any(|m| self.messages.contains(m));
        if now {
            return POINTED;
        }
        if self.was_found(info) { AGAIN } else { 1.0 }
    }

    /// True where a fault that points to it was found at the last record.
    pub(super) fn was_found(&self, info: &CauseInfo) -> bool {
        info.items.iter().any(|item| self.last_time.contains(item))
    }
}
