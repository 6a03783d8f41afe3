//! Whether an entry may follow. Pure: the same journal and the same entry are always decided the
//! same way. A refusal says what is wrong, at which field, and what to do.

use crate::assessment::after_signing;
use crate::journal::{Body, Entry, JobState, every_kind};
use crate::refusal::Refusal;

use super::kinds::kind::Admitted;

macro_rules! admitted {
    ($($(#[$stored:meta])? $kind:ident,)*) => {
        fn admitted(body: &Body) -> &dyn Admitted {
            match body {
                $(Body::$kind(kind) => kind,)*
            }
        }
    };
}
every_kind!(admitted);

/// Decides whether `body` may follow `entries`, whose state is `state`.
///
/// # Errors
/// A [`Refusal`]; nothing is changed by it.
pub fn decide(entries: &[Entry], state: &JobState, body: &Body) -> Result<(), Refusal> {
    may_follow(entries, state, body)?;
    admitted(body).believe(state)
}

/// Whether the journal bears the entry: a law of every journal that was ever written.
pub(super) fn may_follow(entries: &[Entry], state: &JobState, body: &Body) -> Result<(), Refusal> {
    after_signing(state, body)?;
    admitted(body).admit(entries, state)
}
