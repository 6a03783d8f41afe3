//! How a job goes on: what was typed or read becomes an entry, is admitted, sealed and put into the state.
//! [`Journal`] is the one way.

mod admit;
mod draft;
mod file;
mod home;
mod journal;
mod kinds;

pub use admit::decide;
pub use draft::{Draft, interpret};
pub use file::{FileError, JobFile, MEDIA_TYPE, MOST_ENTRIES, RULES_VERSION, import_file, open_file};
pub use home::{Brought, HomeNote, bring, pieces_out, whole};
pub use journal::{Author, Journal, JournalError};
/// What a page sends of each kind.
pub mod drafts {
    pub use super::kinds::{
        AdjustmentAbandonedDraft, AmendedDraft, ApprovedDraft, AttachedDraft, ClosedDraft,
        ConditionsReadDraft, CountersReadDraft, CustomerSignedDraft, DecisionChosenDraft, DiscriminatedDraft,
        FactorSetDraft, FaultSettledDraft, InternalMatchedDraft, LeftAloneDraft, LookedOverDraft,
        NoFigureReadDraft, PointCapturedDraft, ReadDraft, RemarkedDraft, SealedUpDraft, SentBackDraft,
        SetupFoundDraft, SheetCorrectedDraft, SpanCapturedDraft, SpanChosenDraft, SpanWeightRuleChosenDraft,
        StoppedShortDraft, StruckOutDraft, ToleranceChosenDraft, ZeroCapturedDraft,
    };
}

pub use kinds::{Claim, NoFigureDraft, ReadDetail, SetupDraft, Source, span_weight};
