//! The kinds of entries, a family a file: what is stored, what it does to the state, how the journal tells it.

mod beside;
mod close_out;
mod discrimination;
mod inspection;
mod judged_by;
mod kind;
mod left_alone;
mod no_figure;
mod reading;
mod review;
mod setup;
mod started;
mod telling;
mod uncounted;
mod zero_span;

pub use beside::{Attached, ConditionsRead, Remarked, SheetCorrected};
pub use close_out::{Closed, CustomerSigned, SealedUp, StoppedShort, StruckOut};
pub use discrimination::Discriminated;
pub use inspection::{FaultSettled, LookedOver};
pub use judged_by::{DecisionChosen, SpanWeightRuleChosen, ToleranceChosen};
pub(super) use kind::{Kind, Stamp};
pub use left_alone::LeftAlone;
pub use no_figure::NoFigureRead;
pub use reading::Read;
pub use review::{Amended, Approved, SentBack};
pub use setup::{CountersRead, SetUp, SetupFound};
pub use started::Started;
pub use uncounted::{FactorSet, InternalMatched, SelfAdjusted};
pub use zero_span::{
    AdjustmentAbandoned, AdjustmentSaved, PointCaptured, SpanCaptured, SpanChosen, ZeroCaptured, ZeroSaved,
};
