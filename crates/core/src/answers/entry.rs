//! The next entry of a job, as whoever is at work asks for it.

use crate::assessment::Around;
use crate::job::drafts;
use crate::job::{Author, Draft, Journal};
use crate::journal::{Needs, Sealed};
use crate::refusal::Refusal;

/// Why an entry was not taken.
#[derive(Clone, Debug, PartialEq)]
pub enum NotTaken {
    /// It is for somebody with another role.
    WrongRole,
    /// The rules refuse it.
    Refused(Refusal),
}

impl From<Refusal> for NotTaken {
    fn from(refusal: Refusal) -> Self {
        Self::Refused(refusal)
    }
}

/// The entry that would follow: understood, allowed, and sealed. The name that signs is the name of the account.
///
/// # Errors
/// [`NotTaken`]; the journal stays as it is in either case.
pub fn next_entry(
    journal: &Journal,
    draft: &Draft,
    around: &Around<'_>,
    author: Author,
    may: impl FnOnce(Needs) -> bool,
) -> Result<Sealed, NotTaken> {
    let draft = match draft {
        Draft::Closed(_) => Draft::Closed(drafts::ClosedDraft { name: author.by.name.clone() }),
        other => other.clone(),
    };
    let body = journal.understand(draft, around)?;
    if !may(body.needs()) {
        return Err(NotTaken::WrongRole);
    }
    Ok(journal.admit(body, author)?)
}
