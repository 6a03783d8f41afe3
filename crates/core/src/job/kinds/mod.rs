//! The kinds of entries, one family a file: how what was typed is read, and what it needs to be admitted. The
//! stored shape and what it does to the state stand in `journal`, which knows neither typing nor judging.

mod beside;
mod close_out;
mod discrimination;
mod doubts;
mod inspection;
mod judged_by;
pub(in crate::job) mod kind;
mod left_alone;
mod no_figure;
mod pads;
mod reading;
mod review;
mod setup;
mod source;
mod started;
pub(in crate::job) mod uncounted;
mod words;
mod zero_span;

pub use beside::{AttachedDraft, ConditionsReadDraft, RemarkedDraft, SheetCorrectedDraft};
pub use close_out::{ClosedDraft, CustomerSignedDraft, SealedUpDraft, StoppedShortDraft, StruckOutDraft};
pub use discrimination::DiscriminatedDraft;
pub use inspection::{FaultSettledDraft, LookedOverDraft};
pub use judged_by::{DecisionChosenDraft, SpanWeightRuleChosenDraft, ToleranceChosenDraft};
pub use left_alone::LeftAloneDraft;
pub use no_figure::NoFigureDraft;
pub use no_figure::NoFigureReadDraft;
pub use reading::ReadDetail;
pub use reading::ReadDraft;
pub use review::{AmendedDraft, ApprovedDraft, SentBackDraft};
pub use setup::SetupDraft;
pub use setup::{CountersReadDraft, SetupFoundDraft};
pub use source::Source;
pub use uncounted::{FactorSetDraft, InternalMatchedDraft};
pub use zero_span::{
    AdjustmentAbandonedDraft, PointCapturedDraft, SpanCapturedDraft, SpanChosenDraft, ZeroCapturedDraft,
};
pub use zero_span::{Claim, span_weight};
