//! What points to a cause beside the readings: inspection, and messages of the display.

use super::causes::CauseInfo;
use crate::keying::MessageMeaning;

/// A fault that looking over found makes a cause that it points to so much likelier.
pub(super) const POINTED: f64 = 5.0;

/// What points to a cause beside the readings.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Pointers {
    /// Items of the checklist where a fault was found.
    pub items: Vec<String>,
    /// What the display said where it showed no figure.
    pub messages: Vec<MessageMeaning>,
}

impl Pointers {
    pub(super) fn at(&self, info: &CauseInfo) -> bool {
        self.by_item(info) || self.by_message(info)
    }

    pub(super) fn by_item(&self, info: &CauseInfo) -> bool {
        info.items.iter().any(|item| self.items.contains(item))
    }

    pub(super) fn by_message(&self, info: &CauseInfo) -> bool {
        info.messages.iter().any(|m| self.messages.contains(m))
    }
}
