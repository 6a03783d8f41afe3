//! A whole workshop as one file: a ZIP with open JSON in it and a manifest that has the hash of every
//! part. Practice stays where it was done, and so do people with their passwords.

mod format;
mod read;
mod validate;
mod write;

pub use format::{
    Broken, CertificatePart, EditionPart, FilePart, JobPart, Manifest, ProfilePart, RecordPart, ScalePart,
    WorkshopPart,
};
pub use read::{NotTaken, Opened, Taken, TrustedKeys, open, take_in};
pub use write::export;
