//! What is put beside the work.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::assessment::Around;
use crate::journal::{AttachedFile, Body, Conditions, Entry, JobState, Particulars, entries};
use crate::refusal::Refusal;

use super::kind::{Admitted, Understood};
use super::words::{readable, reasoned};

/// A remark.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct RemarkedDraft {
    /// The remark.
    pub text: String,
}

impl Understood for RemarkedDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { text } = self;
        Ok(entries::Remarked { text }.into())
    }
}

impl Admitted for entries::Remarked {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        reasoned("text", &self.text)
    }
}

/// What is around the scale.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct ConditionsReadDraft {
    /// °C, as typed.
    #[serde(default)]
    pub temperature: String,
    /// % relative humidity, as typed.
    #[serde(default)]
    pub humidity: String,
    /// hPa, as typed.
    #[serde(default)]
    pub pressure: String,
    /// Anything else.
    #[serde(default)]
    pub note: String,
    /// With which instruments.
    #[serde(default)]
    pub instruments: Vec<Uuid>,
}

impl Understood for ConditionsReadDraft {
    fn understood(self, _: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let mut conditions =
            Conditions::typed(&self.temperature, &self.humidity, &self.pressure, &self.note)?;
        conditions.instruments = around.read_with(&self.instruments)?;
        Ok(entries::ConditionsRead { conditions }.into())
    }
}

impl Admitted for entries::ConditionsRead {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        self.conditions.note.as_deref().map_or(Ok(()), |note| readable("note", note))
    }
}

/// A photograph or a file, as it was sent up.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct AttachedDraft {
    /// What.
    #[serde(flatten)]
    pub file: AttachedFile,
}

impl Understood for AttachedDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { file } = self;
        Ok(entries::Attached { file }.into())
    }
}

impl Admitted for entries::Attached {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        self.file.check()
    }
}

/// A slip in what identifies the scale.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SheetCorrectedDraft {
    /// As it is.
    pub to: Particulars,
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for SheetCorrectedDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        Ok(entries::SheetCorrected { to: Box::new(self.to), reason: self.reason }.into())
    }
}

impl Admitted for entries::SheetCorrected {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        reasoned("reason", &self.reason)?;
        let mut sheet = state.sheet.clone();
        self.to.put_into(&mut sheet);
        sheet.check()
    }
}
