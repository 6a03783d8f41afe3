//! A scale that is left as it was.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::assessment::Around;
use crate::journal::{Body, Entry, JobState, Reading, TOGETHER, entries};
use crate::refusal::Refusal;

use super::kind::{Admitted, Understood};
use super::pads::known_pad;
use super::words::reasoned;

/// Whether it may follow.
pub(in crate::job) fn admit(state: &JobState, reason: &str, pad: u8) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    let whole = pad == TOGETHER;
    if !whole {
        known_pad(state, pad)?;
    }
    let adjusted =
        if whole { state.any_adjusted() || state.adjusting() } else { state.pad(pad).adjusted.is_some() };
    if adjusted || state.pad(pad).adjusting() {
        return Err(Refusal::from(Refused::AlreadyAdjusted));
    }
    let read = |r: &Reading| whole || r.pad == pad;
    let readings: Vec<&Reading> = state.found.iter().filter(|r| read(r)).collect();
    if readings.is_empty() {
        return Err(Refusal::from(Refused::NothingRead));
    }
    Ok(())
}

/// What is left as it was is judged by what was read since the last repair.
pub(in crate::job) fn believe(state: &JobState, pad: u8) -> Result<(), Refusal> {
    let mut read = state.found.iter().filter(|r| pad == TOGETHER || r.pad == pad);
    if read.any(|r| r.epoch == state.epoch_of(r.pad)) {
        return Ok(());
    }
    Err(Refusal::from(Refused::RepairedSince))
}

/// Left alone.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct LeftAloneDraft {
    /// Why.
    #[serde(default)]
    pub reason: String,
    /// Which pad; none: the whole scale.
    #[serde(default)]
    pub pad: Option<u8>,
}

impl Understood for LeftAloneDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        Ok(entries::LeftAlone { reason: self.reason, pad: self.pad.unwrap_or(TOGETHER) }.into())
    }
}

impl Admitted for entries::LeftAlone {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit(state, &self.reason, self.pad)
    }

    fn believe(&self, state: &JobState) -> Result<(), Refusal> {
        believe(state, self.pad)
    }
}

crate::refusals! {
    enum Refused {
        AlreadyAdjusted = "already_adjusted":
            text!("admit-it-has-been-adjusted-in"),
            then text!("admit-abandon-the-adjustment-first");
        NothingRead = "nothing_read":
            text!("admit-leaving-it-alone-is-decided"),
            then text!("admit-take-readings-as-found-first");
        RepairedSince = "repaired_since":
            text!("admit-something-was-repaired-or-changed"),
            then text!("admit-read-it-again-the-readings");
    }
}
