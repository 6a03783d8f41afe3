//! The kinds of entries, one family a file: how what was typed is read, and what it needs to be admitted. The
//! stored shape and what it does to the state stand in `journal`, which knows neither typing nor judging.

pub(in crate::job) mod close_out;
pub(in crate::job) mod discrimination;
mod doubts;
pub(in crate::job) mod inspection;
pub(in crate::job) mod judged_by;
pub(in crate::job) mod left_alone;
pub(in crate::job) mod no_figure;
mod pads;
pub(in crate::job) mod reading;
pub(in crate::job) mod setup;
mod source;
pub(in crate::job) mod uncounted;
pub(in crate::job) mod words;
pub(in crate::job) mod zero_span;

pub use no_figure::NoFigureDraft;
pub use reading::ReadDetail;
pub use setup::SetupDraft;
pub use source::Source;
pub use zero_span::{Claim, span_weight};

pub(in crate::job) use doubts::zero as believe_zero;
