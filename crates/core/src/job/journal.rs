//! The one way in which a job goes on: what a page, a person or a program sends is understood, admitted,
//! sealed behind the entry before and put into the state, which is kept and not folded again.

use time::OffsetDateTime;
use uuid::Uuid;

use super::admit::decide;
use super::draft::{Draft, interpret};
use super::file::MOST_ENTRIES;
use crate::assessment::{Around, Assessment, assess};
use crate::journal::{Body, Entry, JobState, Sealed, Signer, fold, four_eyes, genesis, seal};
use crate::refusal::Refusal;
use crate::wording::Text;

/// What a journal could not be made of.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum JournalError {
    /// The first entry is no start.
    NoStart,
    /// An entry cannot be written as JSON, which no entry made by this program is.
    Unsealed(String),
}

impl From<&JournalError> for Text {
    fn from(error: &JournalError) -> Self {
        match error {
            JournalError::NoStart => text!("journal-no-start"),
            JournalError::Unsealed(f0) => text!("journal-unsealed", f0),
        }
    }
}

impl From<JournalError> for Text {
    fn from(error: JournalError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for JournalError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// Who enters something, when, and under which identity.
#[derive(Clone, Debug)]
pub struct Author {
    /// Identity of the entry, made by the client.
    pub entry: Uuid,
    /// When; a clock that was set back does not make a journal run backwards.
    pub at: OffsetDateTime,
    /// Who.
    pub by: Signer,
}

/// A job: its entries, their seals, and the state that they come to.
#[derive(Clone, Debug)]
pub struct Journal {
    job: Uuid,
    entries: Vec<Entry>,
    /// Hash of each entry, in the same order.
    hashes: Vec<String>,
    state: JobState,
}

impl Journal {
    /// A job that begins with `body`.
    ///
    /// # Errors
    /// [`JournalError::NoStart`] where `body` is no start.
    pub fn begin(job: Uuid, body: Body, author: Author) -> Result<Self, JournalError> {
        let first = Entry { id: author.entry, seq: 1, at: author.at, by: author.by, body };
        let sealed = seal(first, &genesis(job)).map_err(|e| JournalError::Unsealed(e.to_string()))?;
        Self::of(job, vec![sealed])
    }

    /// A job as it was stored. Its chain is taken as it is; a file from outside is checked before.
    ///
    /// # Errors
    /// [`JournalError::NoStart`] where it does not begin.
    pub fn of(job: Uuid, sealed: Vec<Sealed>) -> Result<Self, JournalError> {
        let (entries, hashes): (Vec<Entry>, Vec<String>) =
            sealed.into_iter().map(|s| (s.entry, s.hash)).unzip();
        let state = fold(&entries).ok_or(JournalError::NoStart)?;
        Ok(Self { job, entries, hashes, state })
    }

    /// The job.
    pub const fn job(&self) -> Uuid {
        self.job
    }

    /// Its entries, the oldest first.
    pub fn entries(&self) -> &[Entry] {
        &self.entries
    }

    /// The state that they come to.
    pub const fn state(&self) -> &JobState {
        &self.state
    }

    /// The hash of the newest entry: two journals of a job with the same head are the same.
    pub fn head(&self) -> &str {
        // OK because a journal has at least its first entry.
        self.hashes.last().map_or("", String::as_str)
    }

    /// The entries with their seals, from the one behind `seq`; none where there is none behind it.
    pub fn sealed_after(&self, seq: u32) -> Vec<Sealed> {
        let from = usize::try_from(seq).unwrap_or(usize::MAX).min(self.entries.len());
        let mut prev = match from.checked_sub(1) {
            Some(before) => self.hashes[before].clone(),
            None => genesis(self.job),
        };
        let sealed = |(entry, hash): (&Entry, &String)| {
            let prev = std::mem::replace(&mut prev, hash.clone());
            Sealed { entry: entry.clone(), prev, hash: hash.clone() }
        };
        self.entries[from..].iter().zip(&self.hashes[from..]).map(sealed).collect()
    }

    /// Understands a draft in this job.
    ///
    /// # Errors
    /// A [`Refusal`] at the field.
    pub fn understand(&self, draft: Draft, around: &Around<'_>) -> Result<Body, Refusal> {
        interpret(&self.state, draft, around)
    }

    /// Seals `body` as the next entry where it may follow; the journal itself stays as it is.
    ///
    /// # Errors
    /// A [`Refusal`] where it may not.
    pub fn admit(&self, body: Body, author: Author) -> Result<Sealed, Refusal> {
        if self.entries.len() >= MOST_ENTRIES {
            return Err(Refusal::from(Refused::TooLong { most_entries: MOST_ENTRIES }));
        }
        decide(&self.entries, &self.state, &body)?;
        four_eyes(&self.state, &body, author.by.id)?;
        let at = self.entries.last().map_or(author.at, |before| before.at.max(author.at));
        let entry = Entry { id: author.entry, seq: self.state.head + 1, at, by: author.by, body };
        seal(entry, self.head()).map_err(|e| Refusal::from(Refused::NotSealed { why: e.to_string() }))
    }

    /// Puts an admitted entry behind the others.
    pub fn push(&mut self, sealed: Sealed) {
        self.hashes.push(sealed.hash);
        self.entries.push(sealed.entry);
        self.state.advance(&self.entries);
    }

    /// Understands, admits and puts behind: the whole way of an entry.
    ///
    /// # Errors
    /// A [`Refusal`]; the journal is then as it was.
    pub fn append(&mut self, draft: Draft, around: &Around<'_>, author: Author) -> Result<(), Refusal> {
        let body = self.understand(draft, around)?;
        let sealed = self.admit(body, author)?;
        self.push(sealed);
        Ok(())
    }

    /// Everything a screen or a record shows of it.
    pub fn assess(&self) -> Assessment {
        assess(&self.entries, &self.state)
    }
}

crate::refusals! {
    enum Refused {
        TooLong { most_entries: usize } = "too_long":
            text!("journal-a-job-has-at-most", most_entries),
            then text!("journal-close-this-job-and-start");
        NotSealed { why: String } = "not_sealed": text!("journal-not-sealed", why);
    }
}
