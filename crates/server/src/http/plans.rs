//! Loading plans worked out lately.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex, PoisonError};

use ombret_core::weights::{
    CheckInputs, CheckLoad, CheckPlan, Piece, PlanChoices, RoundScale, plan_check, plan_for_round,
};
use sha2::{Digest, Sha256};
use time::Date;

/// Plans that were worked out lately: a plan does not depend on what was read, so that the list of loads
/// is there at once after each reading.
#[derive(Clone, Default)]
pub struct Plans(Arc<Mutex<VecDeque<Kept>>>);

/// What was asked, as a hash, and the plan.
type Kept = (Vec<u8>, CheckPlan);

impl Plans {
    /// Most plans that are kept.
    const MOST: usize = 128;

    pub(super) fn of(
        &self,
        pieces: &[Piece],
        day: Date,
        choices: &PlanChoices,
        targets: &[CheckLoad],
        inputs: &CheckInputs,
    ) -> CheckPlan {
        let asked = format!("{pieces:?}{day}{choices:?}{targets:?}{inputs:?}");
        self.kept_or(&asked, || plan_check(pieces, day, choices, targets, inputs))
    }

    pub(super) fn of_round(&self, scale: &RoundScale, pieces: &[Piece], day: Date) -> CheckPlan {
        let asked = format!("round{pieces:?}{day}{:?}{:?}", scale.loads, scale.inputs);
        self.kept_or(&asked, || plan_for_round(scale, pieces, day))
    }

    fn kept_or(&self, asked: &str, plan: impl FnOnce() -> CheckPlan) -> CheckPlan {
        let key = Sha256::digest(asked.as_bytes()).to_vec();
        let kept = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, plan)) = kept().iter().find(|(of, _)| *of == key) {
            return plan.clone();
        }
        let plan = plan();
        let mut plans = kept();
        if plans.len() >= Self::MOST {
            plans.pop_front();
        }
        plans.push_back((key, plan.clone()));
        plan
    }
}
