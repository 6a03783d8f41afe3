//! What the readings of a job tell of its scale.

use serde::Serialize;
use utoipa::ToSchema;

use crate::diagnosis::{Choices, Diagnosis, Priors, choices, diagnose_job, worst_pad};
use crate::job::Journal;
use crate::journal::{Phase, ReadStage};
use crate::weights::Piece;

/// What the readings tell.
#[derive(Serialize, ToSchema)]
pub struct JudgementReply {
    /// The pad that it is about, the one farthest from its tolerance; none where there is one only.
    #[schema(required)]
    pub pad: Option<u8>,
    /// What is wrong; none where no load was read.
    #[schema(required)]
    pub diagnosis: Option<Diagnosis>,
    /// What each choice would do; none where fewer than two loads were read.
    #[schema(required)]
    pub choices: Option<Choices>,
}

/// What the readings of a stage tell, with the workshop's kit, its likelihoods and whether it leaves a scale
/// inside its tolerance alone.
pub fn judgement_of(
    journal: &Journal,
    stage: ReadStage,
    kit: &[Piece],
    priors: &Priors,
    leave_inside: bool,
) -> JudgementReply {
    let (state, told) = (journal.state(), journal.assess());
    let (phase, view) = match stage {
        ReadStage::AsFound => (Phase::AsFound, &told.as_found),
        ReadStage::Test => (Phase::AsLeft, &told.proof),
    };
    let pad = worst_pad(view);
    let diagnosis = diagnose_job(state, &told, phase, pad, kit, priors);
    JudgementReply {
        pad: state.several().then_some(pad),
        choices: choices(view, pad, leave_inside, told.adjust.most_points, diagnosis.as_ref()),
        diagnosis,
    }
}
