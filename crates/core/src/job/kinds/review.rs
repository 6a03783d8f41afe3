//! What a reviewer says.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::assessment::Around;
use crate::journal::{Body, Entry, JobState, entries};
use crate::refusal::Refusal;

use super::kind::{Admitted, Understood};
use super::words::{readable, reasoned, said};

/// Sent back.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SentBackDraft {
    /// What is to be put right.
    #[serde(default)]
    pub remarks: String,
}

impl Understood for SentBackDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { remarks } = self;
        Ok(entries::SentBack { remarks }.into())
    }
}

impl Admitted for entries::SentBack {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        reasoned("remarks", &self.remarks)
    }
}

/// Approved.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct ApprovedDraft {
    /// Remarks.
    #[serde(default)]
    pub remarks: String,
}

impl Understood for ApprovedDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        Ok(entries::Approved { remarks: said(self.remarks) }.into())
    }
}

impl Admitted for entries::Approved {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        self.remarks.as_deref().map_or(Ok(()), |text| readable("remarks", text))
    }
}

/// A new version is begun.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct AmendedDraft {
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for AmendedDraft {
    fn understood(self, _: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let of = around.number.unwrap_or_default().to_owned();
        Ok(entries::Amended { of, reason: self.reason }.into())
    }
}

impl Admitted for entries::Amended {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        reasoned("reason", &self.reason)
    }
}
