//! A job is a journal. [`fold`] turns its entries into a state, [`decide`] says whether a new
//! entry may follow, [`interpret`] turns what was typed or read into an entry, and [`assess`]
//! works out everything a screen or a record shows.

mod assess;
mod chain;
mod closing;
mod decide;
mod draft;
mod entry;
mod file;
mod look_over;
mod proving;
mod sentences;
mod shade;
mod sheet;
mod stages;
mod state;
mod views;

pub use assess::{assess, judge_setup};
pub use chain::{ChainError, genesis, seal};
pub use decide::decide;
pub use draft::{Draft, Heard, Observation, Silence, Source, interpret, sheet_from_plain};
pub use entry::{
    Before, Body, Capture, CheckFinding, Entry, ReadStage, Sealed, Settlement, Setup, Signer, SpanOnRecord, Taken, Way,
};
pub use file::{FileError, JobFile, MEDIA_TYPE, MOST_ENTRIES, RULES_VERSION, open_file};
pub use look_over::{Caution, CheckItem, cautions_for, checklist};
pub use proving::{Phase, ReadingView, Wanted};
pub use sheet::{ScaleKind, ScaleSheet};
pub use stages::{Act, Missing, Next, Stage, StageState, StageView};
pub use state::{JobState, Reading, SetupOrigin, fold};
pub use views::{
    AdjustView, Assessment, Change, CheckView, CloseView, EntryView, Outcome, PhaseView, SetupJudgement, SetupView, Shade, ShadePoint,
    ShadeStep, ToleranceView,
};
