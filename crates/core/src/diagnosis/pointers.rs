//! What points to a cause beside the readings: inspection, and error texts of the display.

use super::causes::CauseInfo;
use crate::keying::MessageMeaning;

/// A fault that inspection found, or an error text, makes a cause that it points to so much likelier.
pub(super) const POINTED: f64 = 5.0;

/// What points to a cause beside the readings.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Pointers {
    /// Items of the checklist where a fault was found.
    pub items: Vec<String>,
    /// What error texts of the display mean.
    pub messages: Vec<MessageMeaning>,
}

impl Pointers {
    pub(super) fn at(&self, info: &CauseInfo) -> bool {
        info.items.iter().any(|item| self.items.contains(item))
            || info.messages.iter().any(|m| self.messages.contains(m))
    }
}
