//! A job is a journal. [`fold`] turns its entries into a state, [`decide`] says whether a new
//! entry may follow, [`interpret`] turns what was typed or read into an entry, and [`assess`]
//! works out everything a screen or a record shows.

mod adjust_lines;
mod assess;
mod beside;
mod capture;
mod cells;
mod chain;
mod checks;
mod closing;
mod compare;
mod conditions;
mod decide;
mod digits;
mod draft;
mod entry;
mod file;
mod heard;
mod journal;
mod judging;
mod keyed;
mod load_list;
mod loaded;
mod look_over;
mod outcome;
mod phase;
mod positions;
mod progress;
mod proving;
mod review;
mod sentences;
mod shade;
mod sheet;
mod sheet_form;
mod signature;
mod stage;
mod stages;
mod state;
mod used_piece;
mod views;
mod weights_of;
mod wiring;

pub use assess::assess;
pub(crate) use assess::worst;
pub use beside::{AttachedFile, CustomerSignature, MOST_FILE_BYTES, SIGNED_ON};
pub use chain::{ChainError, genesis, hex_of_bytes, seal};
pub use checks::{SpotView, TestKind, TestView};
pub use compare::{Compared, compare};
pub use conditions::{Conditions, Needs, Particulars, Remark, Review};
pub use decide::decide;
pub use draft::{Claim, Draft, NoFigureDraft, ReadDetail, SetupDraft, Source, interpret, span_weight};
pub use entry::{
    Before, Body, Capture, CheckFinding, Counters, Entry, FIRST_PAD, NoFigure, PadBefore, Purpose, ReadStage,
    Sealed, Settlement, Setup, Signer, SpanOnRecord, TOGETHER, Taken, Way,
};
pub use file::{FileError, JobFile, MEDIA_TYPE, MOST_ENTRIES, RULES_VERSION, import_file, open_file};
pub use heard::{Heard, Observation, Silence};
pub use journal::{Author, Journal, JournalError};
pub use judging::{judge_by_profile, judge_setup};
pub use keyed::{circumstances, held_by_indicator, keying_plan};
pub use load_list::{ListedLoad, ListedPurpose, LoadStatus, loads_of, next_load, planned_for, with_plan};
pub use loaded::{Around, mark};
pub use look_over::{Caution, CheckItem, CheckWords, cautions_for, check_label, checklist, inspection};
pub use outcome::Outcome;
pub use phase::Phase;
pub(crate) use positions::cells;
pub(crate) use progress::proof_readings;
pub use proving::{BudgetLine, BudgetView, ReadingView};
pub use review::{ReviewView, Standing, four_eyes};
pub use sheet::{Build, FineRange, HouseTests, ProfileRef, ScaleKind, ScaleSheet, StaysOn};
pub use sheet_form::SheetForm;
pub use signature::{RecordSignature, SignatureError, Statement, bytes_of_hex, signed_by};
pub use stage::{Missing, Stage};
pub use stages::{Act, Next, StageState, StageView, to_do};
pub use state::{
    Adjusted, CapturedPoint, CheckState, Discrimination, How, JobState, NoFigureReading, PadState, Reading,
    SetupOrigin, fold,
};
pub use used_piece::UsedPiece;
pub use views::{
    AdjustLine, AdjustPart, AdjustView, Assessment, Change, CheckView, CloseView, DecisionView, EntryView,
    NoFigureView, PadLine, PhaseView, PointLine, SetupJudgement, SetupView, Shade, ShadePoint, ShadeStep,
    ToleranceView,
};
pub use weights_of::{M1_SHARE, SpanFloor, SpanPoint, SpanView, Wants, judge_span, usable_mass};
pub use wiring::{WIRE_COLOURS, WIRES, Wire, wiring_says};
