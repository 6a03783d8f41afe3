//! Why an event does not go with what was seen before.

use crate::wording::Text;

/// Why an event does not fit.
pub(super) struct Clash {
    pub earlier: Option<usize>,
    pub says: Text,
}

pub(super) type Read = Result<(), Clash>;

pub(super) fn before(earlier: usize, should: &str, shown: &str) -> Clash {
    let says = if should.is_empty() {
        text!("learn-it-was-otherwise-before", shown)
    } else {
        text!("learn-here-it-showed-before", should, shown)
    };
    Clash { earlier: Some(earlier), says }
}

pub(super) fn key_did(earlier: usize) -> Clash {
    Clash { earlier: Some(earlier), says: text!("learn-this-key-did-something-else") }
}

pub(super) fn odd(says: Text) -> Clash {
    Clash { earlier: None, says }
}
