//! Pads that an entry may be about.

use crate::journal::{JobState, ReadStage, Setup, TOGETHER};
use crate::refusal::Refusal;

/// A pad that the scale has.
pub(in crate::job) fn known_pad(state: &JobState, pad: u8) -> Result<(), Refusal> {
    if (1..=state.sheet.pads).contains(&pad) {
        return Ok(());
    }
    Err(Refusal::from(Refused::UnknownPad { pads: state.sheet.pads }))
}

/// The same, or all pads together where there are several.
pub(in crate::job) fn known_pads(state: &JobState, pad: u8) -> Result<(), Refusal> {
    if pad == TOGETHER && state.several() { Ok(()) } else { known_pad(state, pad) }
}

/// The setup that a reading of a stage is judged by.
pub(in crate::job) fn setup_at(state: &JobState, stage: ReadStage, pad: u8) -> Setup {
    match stage {
        ReadStage::AsFound => state.setup_as_found_of(pad).0,
        ReadStage::Test => state.setup_of(pad).0,
    }
}

crate::refusals! {
    enum Refused {
        UnknownPad { pads: u8 } = "unknown_pad" at "pad": text!("admit-this-scale-has-pads-pad", pads);
    }
}
