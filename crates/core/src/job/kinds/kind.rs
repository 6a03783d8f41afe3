//! What every kind of entry is asked before it may follow, and every draft before it is one.

use crate::assessment::Around;
use crate::journal::{Body, Entry, JobState};
use crate::refusal::Refusal;

/// A draft: what a page sends.
pub trait Understood {
    /// The entry of it: units that were not typed are those of the display.
    ///
    /// # Errors
    /// A [`Refusal`] at its field.
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal>;
}

/// A kind of entry that may follow or not.
pub trait Admitted {
    /// Whether the journal bears it: a law of every journal that was ever written.
    ///
    /// # Errors
    /// A [`Refusal`]; nothing is changed by it.
    fn admit(&self, entries: &[Entry], state: &JobState) -> Result<(), Refusal>;

    /// What is not taken from a person although the journal would bear it. Journals that were written before one of
    /// these rules was there stay readable.
    ///
    /// # Errors
    /// A [`Refusal`]; nothing is changed by it.
    fn believe(&self, _: &JobState) -> Result<(), Refusal> {
        Ok(())
    }
}
