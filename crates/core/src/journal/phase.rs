//! As found and as left: which readings and which setup belong to each.

use super::state::{JobState, Reading};
use super::values::{Setup, TOGETHER};
use crate::quantity::Decimal;
use crate::tolerance::Tolerance;

/// As found or as left.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Phase {
    /// Before anything was touched.
    AsFound,
    /// Read as found after the last repair or change, where that stands for what is left.
    FoundNow,
    /// As left.
    AsLeft,
}

pub(crate) fn setup_for(state: &JobState, phase: Phase, pad: u8) -> Setup {
    let mut setup = match phase {
        Phase::AsFound | Phase::FoundNow => state.setup_as_found_of(pad).0,
        Phase::AsLeft => state.setup_of(pad).0,
    };
    if pad == TOGETHER {
        setup.max = setup.max.times(&Decimal::from(u32::from(state.sheet.pads)));
    }
    setup
}

/// The readings of a phase: as found those of each pad's first epoch.
pub(crate) fn readings_of(state: &JobState, phase: Phase) -> Vec<&Reading> {
    match phase {
        Phase::AsFound => state.found.iter().filter(|r| r.epoch == state.first_epoch_of(r.pad)).collect(),
        Phase::FoundNow => state.found.iter().filter(|r| r.epoch == state.epoch_of(r.pad)).collect(),
        Phase::AsLeft => state.left.iter().collect(),
    }
}

/// The outline of the tolerance over every range, each range with its own division.
pub fn outline(tolerance: &Tolerance, setup: &Setup) -> Vec<crate::tolerance::Step> {
    let coarse = tolerance.outline(&setup.d, &setup.max).unwrap_or_default();
    let Some(fine) = &setup.fine else { return coarse };
    let mut steps = tolerance.outline(&fine.d, &fine.max).unwrap_or_default();
    for mut step in coarse.into_iter().filter(|step| step.to > fine.max) {
        if step.from < fine.max {
            step.from = fine.max.clone();
        }
        steps.push(step);
    }
    steps
}
