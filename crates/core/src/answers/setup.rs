//! A set-up that is thought of.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::assessment::{SetupJudgement, judge_by_profile, judge_setup};
use crate::job::SetupDraft;
use crate::journal::JobState;
use crate::keying::Profile;
use crate::refusal::Refusal;

/// A set-up to judge.
#[derive(Deserialize, ToSchema)]
pub struct SetupQuestion {
    /// As typed in the page.
    pub setup: SetupDraft,
}

/// Judges a set-up without entering it; what the indicator cannot hold enters where its profile is known.
///
/// # Errors
/// A [`Refusal`] at the field.
pub fn judged_setup(
    state: &JobState,
    asked: &SetupQuestion,
    profile: Option<&Profile>,
) -> Result<SetupJudgement, Refusal> {
    let pad = asked.setup.pad.unwrap_or_else(|| state.pad_in_hand()).max(1);
    let judged = judge_setup(state, &asked.setup.read()?, pad);
    Ok(match profile {
        Some(profile) => judge_by_profile(judged, profile),
        None => judged,
    })
}
