//! Everything that a screen or a record shows of a job, worked out from its state: one file a stage, the list of
//! loads, what is next, the error chart.

mod adjustment;
mod assess;
mod close_out;
mod error_chart;
mod keying;
mod load_list;
mod loaded;
mod missing;
mod readings;
mod review;
mod setup;
mod span_weight;
mod stages;
mod tests;
mod views;

pub use assess::assess;
pub(crate) use assess::worst;
pub(crate) use close_out::{missing, missing_beside_proof};
pub use keying::{circumstances, held_by_indicator, keying_plan};
pub(crate) use load_list::Lists;
pub use load_list::{ListedLoad, ListedPurpose, LoadStatus, loads_of, next_load, planned_for, with_plan};
pub use loaded::{Around, mark};
pub(crate) use loaded::{comes_to, fit_for_proof};
pub use missing::Missing;
pub use readings::{BudgetLine, BudgetView, ReadingView};
pub(crate) use review::after_signing;
pub use review::{ReviewView, Standing};
pub use setup::{judge_by_profile, judge_setup};
pub use span_weight::{M1_SHARE, SpanFloor, SpanPoint, SpanView, Wants, judge_span, usable_mass};
pub(crate) use stages::pad_to_read;
pub use stages::{Act, Next, StageState, StageView, to_do};
pub use tests::{PositionView, TestKind, TestView};
pub use views::{
    AdjustLine, AdjustPart, AdjustView, Assessment, Change, CheckView, CloseView, DecisionView, EntryView,
    ErrorChart, ErrorChartPoint, ErrorChartStep, NoFigureView, PadLine, PhaseView, PointLine, SetupJudgement,
    SetupView, ToleranceView,
};
