//! How the indicator is set up: as it was found, as it was keyed in, and what its counters say.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use super::telling::at_pad;
use crate::journal::state::JobState;
use crate::journal::values::{Counters, ReadStage, Setup, TOGETHER, first_pad, is_first_pad};
use crate::quantity::Decimal;
use crate::scale::decimals_text;
use crate::wording::Text;

/// How the indicator was found to be set up, where that is not what the sheet says.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SetupFound {
    /// As found.
    pub setup: Box<Setup>,
    /// The correction factor that it held, where it has one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub factor: Option<Decimal>,
    /// Which pad.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
}

impl Kind for SetupFound {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        let pad = state.pad_mut(self.pad);
        pad.found = Some((*self.setup).clone());
        pad.found_factor.clone_from(&self.factor);
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-setup-as-found-at-pad",
            at_pad = at_pad(self.pad),
            max = self.setup.max,
            d = self.setup.d,
            factor = self.factor.as_ref().map_or_else(Text::default, |f| text!("sentences-factor-f", f))
        )
    }
}

/// The indicator was set up.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SetUp {
    /// How.
    pub setup: Box<Setup>,
    /// Which pad; 0: all of them.
    #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
    pub pad: u8,
    /// Why it was entered although it was judged not to be fit.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub because: Option<String>,
}

impl Kind for SetUp {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        let pads = if self.pad == TOGETHER { 1..=state.sheet.pads } else { self.pad..=self.pad };
        for pad in pads {
            set_up(state, &self.setup, pad);
            state.pad_mut(pad).setup_because.clone_from(&self.because);
        }
    }

    fn says(&self, _: &JobState) -> Text {
        let fine = self.setup.fine.as_ref().map_or_else(Text::default, |f| {
            text!("sentences-up-to-max-in-steps", max = f.max, d = f.d, mode = self.setup.mode.label())
        });
        let at = if self.pad == TOGETHER { text!("sentences-on-every-pad") } else { at_pad(self.pad) };
        let decimals = decimals_text(self.setup.decimals);
        let why = self
            .because
            .as_ref()
            .map_or_else(Text::default, |why| text!("sentences-entered-all-the-same-why", why));
        let (max, d) = (&self.setup.max, &self.setup.d);
        text!("sentences-set-up-at-max-max", at, max, d, decimals, fine, why)
    }

    fn pad(&self) -> u8 {
        self.pad
    }

    fn rank(&self) -> Option<u8> {
        Some(0)
    }
}

/// The indicator's counters of changes were read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CountersRead {
    /// As found or as left.
    pub stage: ReadStage,
    /// What they show.
    pub counters: Counters,
}

impl Kind for CountersRead {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        let counters = Some(self.counters.clone());
        match self.stage {
            ReadStage::AsFound => state.counters.0 = counters,
            ReadStage::Test => state.counters.1 = counters,
        }
    }

    fn says(&self, _: &JobState) -> Text {
        let part = |name: Text, value: Option<u32>| {
            value.map_or_else(Text::default, |v| text!("sentences-counter", name, v))
        };
        text!(
            "sentences-counters-part-part2",
            part = part(text!("sentences-set-up"), self.counters.setup),
            part2 = part(text!("sentences-calibration"), self.counters.calibration)
        )
    }
}

/// A set-up that differs from the one in force takes what rested on that with it.
fn set_up(state: &mut JobState, setup: &Setup, pad: u8) {
    let (in_force, _) = state.setup_of(pad);
    let which = if state.several() { text!("state-pad-pad", pad) } else { Text::default() };
    if in_force != *setup {
        if state.pad(pad).adjusting() {
            state.voided.push(text!("state-which-the-set-up-was", which));
            state.pad_mut(pad).drop_captures();
        }
        let voided = state.pad_mut(pad).adjusted.take();
        if let Some(voided) = voided {
            state.pad_mut(pad).earlier.push(voided);
            state.voided.push(text!("state-which-the-set-up-was-2", which));
        }
        state.left_alone = None;
        state.pad_mut(pad).left_alone = None;
        state.changed(pad);
    }
    state.pad_mut(pad).setup = Some(setup.clone());
}
