//! How a job goes on: what was typed or read becomes an entry, is admitted, sealed and put into the state.
//! [`Journal`] is the one way.

mod admit;
mod capture;
mod draft;
mod file;
mod journal;

pub use admit::decide;
pub use draft::{Claim, Draft, NoFigureDraft, ReadDetail, SetupDraft, Source, interpret, span_weight};
pub use file::{FileError, JobFile, MEDIA_TYPE, MOST_ENTRIES, RULES_VERSION, import_file, open_file};
pub use journal::{Author, Journal, JournalError};
