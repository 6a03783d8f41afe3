//! From what was typed, or read from the connected indicator, to an entry. Text stays text until
//! here, so that every field is read by the same rules and refused at its place.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::assessment::Around;
use crate::journal::entries;
use crate::journal::{Body, Direction, JobState, ReadStage};
use crate::refusal::Refusal;

use super::kinds::kind::Understood;
use super::kinds::uncounted::matched_pad;
use super::kinds::{
    AdjustmentAbandonedDraft, AmendedDraft, ApprovedDraft, AttachedDraft, ClosedDraft, ConditionsReadDraft,
    CountersReadDraft, CustomerSignedDraft, DecisionChosenDraft, DiscriminatedDraft, FactorSetDraft,
    FaultSettledDraft, InternalMatchedDraft, LeftAloneDraft, LookedOverDraft, NoFigureReadDraft,
    PointCapturedDraft, ReadDetail, ReadDraft, RemarkedDraft, SealedUpDraft, SentBackDraft, SetupDraft,
    SetupFoundDraft, SheetCorrectedDraft, Source, SpanCapturedDraft, SpanChosenDraft,
    SpanWeightRuleChosenDraft, StoppedShortDraft, StruckOutDraft, ToleranceChosenDraft, ZeroCapturedDraft,
};

/// An entry as it is typed. What each holds stands in the file of its kind.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Draft {
    /// An item of the checklist.
    LookedOver(LookedOverDraft),
    /// A fault settled.
    FaultSettled(FaultSettledDraft),
    /// Another tolerance for this job.
    ToleranceChosen(ToleranceChosenDraft),
    /// A reading.
    Read(ReadDraft),
    /// A load at which the display shows no figure that can be read.
    NoFigureRead(NoFigureReadDraft),
    /// How the indicator was found to be set up.
    SetupFound(SetupFoundDraft),
    /// A small weight added to a load at rest.
    Discriminated(DiscriminatedDraft),
    /// How the uncertainty enters the verdict on this job.
    DecisionChosen(DecisionChosenDraft),
    /// How much span weight is asked for on this job.
    #[serde(rename = "school_chosen")]
    SpanWeightRuleChosen(SpanWeightRuleChosenDraft),
    /// The counters of changes, as typed.
    CountersRead(CountersReadDraft),
    /// Left alone.
    LeftAlone(LeftAloneDraft),
    /// The set-up.
    SetUp(SetupDraft),
    /// Zero.
    ZeroCaptured(ZeroCapturedDraft),
    /// The span weight.
    SpanChosen(SpanChosenDraft),
    /// Span.
    SpanCaptured(SpanCapturedDraft),
    /// A further point of the curve.
    PointCaptured(PointCapturedDraft),
    /// Zero alone saved in the indicator.
    ZeroSaved,
    /// A correction factor entered in the indicator.
    FactorSet(FactorSetDraft),
    /// An internal weight matched against external ones.
    InternalMatched(InternalMatchedDraft),
    /// It adjusted itself by its internal weight.
    SelfAdjusted,
    /// Saved in the indicator.
    AdjustmentSaved,
    /// Abandoned.
    AdjustmentAbandoned(AdjustmentAbandonedDraft),
    /// Seals, switch, lock.
    SealedUp(SealedUpDraft),
    /// A remark.
    Remarked(RemarkedDraft),
    /// What is around the scale.
    ConditionsRead(ConditionsReadDraft),
    /// A photograph or a file, as it was sent up.
    Attached(AttachedDraft),
    /// The customer signs.
    CustomerSigned(CustomerSignedDraft),
    /// A slip in what identifies the scale.
    SheetCorrected(SheetCorrectedDraft),
    /// Stopped short.
    StoppedShort(StoppedShortDraft),
    /// An entry struck out.
    StruckOut(StruckOutDraft),
    /// Signed.
    Closed(ClosedDraft),
    /// Sent back.
    SentBack(SentBackDraft),
    /// Approved.
    Approved(ApprovedDraft),
    /// A new version is begun.
    Amended(AmendedDraft),
}

impl Draft {
    /// A reading as typed, both figures in the display's unit where they name none: nothing else is said of it.
    pub fn reading(stage: ReadStage, load: &str, shown: &str, direction: Direction) -> Self {
        Self::Read(ReadDraft {
            stage,
            load: load.into(),
            shown: Source::typed(shown),
            direction,
            pad: None,
            with: Vec::new(),
            overruled: String::new(),
            once: false,
            detail: ReadDetail::default(),
        })
    }

    /// The same reading, made of these pieces of the kit; any other draft as it is.
    #[must_use]
    pub fn made_of(mut self, pieces: Vec<Uuid>) -> Self {
        if let Self::Read(draft) = &mut self {
            draft.with = pieces;
        }
        self
    }

    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        match self {
            Self::LookedOver(draft) => draft.understood(state, around),
            Self::FaultSettled(draft) => draft.understood(state, around),
            Self::ToleranceChosen(draft) => draft.understood(state, around),
            Self::Read(draft) => draft.understood(state, around),
            Self::NoFigureRead(draft) => draft.understood(state, around),
            Self::SetupFound(draft) => draft.understood(state, around),
            Self::Discriminated(draft) => draft.understood(state, around),
            Self::DecisionChosen(draft) => draft.understood(state, around),
            Self::SpanWeightRuleChosen(draft) => draft.understood(state, around),
            Self::CountersRead(draft) => draft.understood(state, around),
            Self::LeftAlone(draft) => draft.understood(state, around),
            Self::SetUp(draft) => draft.understood(state, around),
            Self::ZeroCaptured(draft) => draft.understood(state, around),
            Self::SpanChosen(draft) => draft.understood(state, around),
            Self::SpanCaptured(draft) => draft.understood(state, around),
            Self::PointCaptured(draft) => draft.understood(state, around),
            Self::ZeroSaved => Ok(entries::ZeroSaved { pad: state.pad_in_hand() }.into()),
            Self::FactorSet(draft) => draft.understood(state, around),
            Self::InternalMatched(draft) => draft.understood(state, around),
            Self::SelfAdjusted => Ok(entries::SelfAdjusted { pad: matched_pad(state) }.into()),
            Self::AdjustmentSaved => Ok(entries::AdjustmentSaved { pad: state.pad_in_hand() }.into()),
            Self::AdjustmentAbandoned(draft) => draft.understood(state, around),
            Self::SealedUp(draft) => draft.understood(state, around),
            Self::Remarked(draft) => draft.understood(state, around),
            Self::ConditionsRead(draft) => draft.understood(state, around),
            Self::Attached(draft) => draft.understood(state, around),
            Self::CustomerSigned(draft) => draft.understood(state, around),
            Self::SheetCorrected(draft) => draft.understood(state, around),
            Self::StoppedShort(draft) => draft.understood(state, around),
            Self::StruckOut(draft) => draft.understood(state, around),
            Self::Closed(draft) => draft.understood(state, around),
            Self::SentBack(draft) => draft.understood(state, around),
            Self::Approved(draft) => draft.understood(state, around),
            Self::Amended(draft) => draft.understood(state, around),
        }
    }
}

/// Reads a draft in the light of the job.
///
/// # Errors
/// A [`Refusal`] at its field.
pub fn interpret(state: &JobState, draft: Draft, around: &Around<'_>) -> Result<Body, Refusal> {
    draft.understood(state, around)
}
