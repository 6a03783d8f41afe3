//! Everything that a screen or a record shows of a job, worked out.

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::load_list::ListedLoad;
use super::missing::Missing;
use super::readings::{BudgetView, ReadingView};
use super::review::ReviewView;
use super::stages::{Next, StageView};
use super::tests::TestView;
use crate::grade::Grade;
use crate::journal::{
    AttachedFile, Before, CheckFinding, CustomerSignature, Direction, Outcome, Settlement, Setup,
    SetupOrigin, UsedPiece,
};
use crate::keying::NumberField;
use crate::measurement::DecisionRule;
use crate::quantity::Mass;
use crate::scale::{Alternative, Caution, CheckWords, Finding, ScaleSheet, SignalBar};
use crate::tolerance::Tolerance;
use crate::wording::Text;
use crate::working::Working;

/// The whole assessment of a job.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Assessment {
    /// The scale.
    pub sheet: ScaleSheet,
    /// Its last record.
    #[schema(required)]
    pub before: Option<Before>,
    /// When the job began.
    #[serde(with = "time::serde::rfc3339")]
    pub started_at: OffsetDateTime,
    /// Who began it.
    pub started_by: String,
    /// The course.
    pub stages: Vec<StageView>,
    /// The one action that is next.
    pub next: Next,
    /// The tolerance in force.
    pub tolerance: ToleranceView,
    /// The decision rule in force.
    pub decision: DecisionView,
    /// The largest uncertainty of the readings on which the verdict rests.
    #[schema(required)]
    pub largest_u: Option<BudgetView>,
    /// The checklist.
    pub inspection: Vec<CheckView>,
    /// What the wiring card comes to; none: nothing is noted.
    #[schema(required)]
    pub wiring: Option<Text>,
    /// Readings as found.
    pub as_found: PhaseView,
    /// The set-up.
    pub setup: SetupView,
    /// Zero and span.
    pub adjust: AdjustView,
    /// Readings as left.
    pub proof: PhaseView,
    /// Closing.
    pub close: CloseView,
    /// What the job came to.
    pub outcome: Outcome,
    /// The outcome in a sentence.
    pub outcome_says: Text,
    /// Reservations about the outcome.
    pub reservations: Vec<Text>,
    /// The drawing of tolerance and errors.
    pub error_chart: ErrorChart,
    /// Cautions, by stage.
    pub cautions: Vec<Caution>,
    /// The journal.
    pub entries: Vec<EntryView>,
    /// Every piece that was named, each once, the heaviest first.
    pub weights_used: Vec<UsedPiece>,
    /// How the record stands.
    pub review: ReviewView,
    /// What was around the scale, each time that it was read.
    pub conditions: Vec<String>,
    /// Photographs and files.
    pub files: Vec<AttachedFile>,
}

/// The tolerance in force.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct ToleranceView {
    /// As chosen.
    pub tolerance: Tolerance,
    /// In words.
    pub label: Text,
    /// Why it differs from the sheet's.
    #[schema(required)]
    pub reason: Option<String>,
    /// Its public source.
    pub source: Text,
}

/// An item of the checklist.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct CheckView {
    /// Stable name.
    pub item: String,
    /// In a few words.
    pub label: Text,
    /// What to look at.
    pub look: Text,
    /// Why it matters.
    pub why: Text,
    /// Adjusting cures a fault here.
    pub cures: bool,
    /// What the answers are called, where not in order and fault.
    #[schema(required)]
    pub words: Option<CheckWords>,
    /// What was found.
    #[schema(required)]
    pub finding: Option<CheckFinding>,
    /// The note.
    #[schema(required)]
    pub note: Option<String>,
    /// How a fault was settled.
    #[schema(required)]
    pub settled: Option<Settlement>,
    /// The words for it.
    #[schema(required)]
    pub settled_says: Option<String>,
    /// What the counts of each cell come to.
    #[schema(required)]
    pub cells: Option<Text>,
    /// This fault stops the way to zero and span.
    pub stops: bool,
}

/// Readings of a phase and their verdict.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct PhaseView {
    /// The set-up they are judged with.
    pub setup: Setup,
    /// Where it comes from.
    pub origin: SetupOrigin,
    /// The readings.
    pub readings: Vec<ReadingView>,
    /// Loads at which the display showed no figure.
    pub no_figures: Vec<NoFigureView>,
    /// The loads, in the order in which they are put on, and how each stands.
    pub loads: Vec<ListedLoad>,
    /// What is lacking.
    pub lacks: Vec<Text>,
    /// The verdict for all.
    pub outcome: Outcome,
    /// The verdict in a sentence.
    pub says: Text,
    /// Tests beside the loads: corners, repeats, discrimination, zero.
    pub tests: Vec<TestView>,
    /// What is added at a time to find the point of change.
    pub small_step: Mass,
}

/// A load at which the display showed no figure.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct NoFigureView {
    /// The entry it stands in.
    pub entry: Uuid,
    /// What was on, in words.
    pub load_text: String,
    /// Increasing or decreasing.
    pub direction: Direction,
    /// Which pad.
    pub pad: u8,
    /// What the display did, in words.
    pub says: Text,
    /// The text that it showed.
    #[schema(required)]
    pub text: Option<String>,
    /// What that means; none: the profile does not know it.
    #[schema(required)]
    pub means: Option<Text>,
    /// What to do.
    pub then: Text,
    /// It went to and fro between two figures.
    pub flickers: bool,
    /// False where what it was meant to tell has been changed since.
    pub counts: bool,
}

/// How the uncertainty enters the verdict.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct DecisionView {
    /// The rule.
    pub rule: DecisionRule,
    /// In words.
    pub label: Text,
    /// Why it differs from the sheet's.
    #[schema(required)]
    pub reason: Option<String>,
    /// What is to be said of it.
    #[schema(required)]
    pub caution: Option<Text>,
}

/// The set-up.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct SetupView {
    /// In force.
    pub setup: Setup,
    /// Where it comes from.
    pub origin: SetupOrigin,
    /// n = Max / d.
    pub n: u64,
    /// Its judgement.
    pub judgement: SetupJudgement,
}

/// A judged set-up.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct SetupJudgement {
    /// What was judged.
    pub setup: Setup,
    /// Every finding.
    pub findings: Vec<Finding>,
    /// The worst grade.
    pub overall: Grade,
    /// Divisions that could be taken for this Max.
    pub alternatives: Vec<Alternative>,
    /// What differs from the set-up found.
    pub changes: Vec<Change>,
    /// Max as it is keyed in, without a point; or why it cannot be.
    pub max_digits: Text,
    /// The smallest load to be weighed, Min, where the class gives one.
    #[schema(required)]
    pub min_load: Option<Mass>,
    /// The cells' millivolt scale, where enough is known.
    #[schema(required)]
    pub signal: Option<SignalBar>,
}

/// One difference from the set-up found.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Change {
    /// What.
    pub what: Text,
    /// From.
    pub from: Text,
    /// To.
    pub to: Text,
    /// It voids the calibration.
    pub voids: bool,
}

/// A point of a curve.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct PointLine {
    /// Its weight.
    pub weight: Mass,
    /// Its counts.
    #[schema(required)]
    pub counts: Option<String>,
    /// What a straight line through zero and span would show too much there, in divisions.
    #[schema(required)]
    pub straight: Option<String>,
}

/// What a line of the adjustment is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum AdjustPart {
    /// Zero.
    Zero,
    /// The span weight or load.
    Weight,
    /// The digits that are keyed.
    Digits,
    /// Span.
    Span,
    /// The new correction factor.
    Factor,
    /// A further point, a figure read, an internal weight.
    Figure,
    /// Saved.
    Save,
}

/// A line of the adjustment, in the order of the work.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct AdjustLine {
    /// What it is about.
    pub part: AdjustPart,
    /// In words.
    pub label: Text,
    /// The figure; none: not yet.
    #[schema(required)]
    pub figure: Option<Text>,
    /// What is to be said of it.
    pub note: Text,
}

/// Zero and span.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct AdjustView {
    /// Its lines: what was captured, keyed, read and entered, each way of adjusting with its own.
    pub lines: Vec<AdjustLine>,
    /// Adjustments of this job that a later one took the place of, in words.
    pub earlier: Vec<Text>,
    /// Its internal weight was matched, and it is to adjust itself by it now.
    pub awaits_itself: bool,
    /// How many points beside zero the indicator takes.
    pub most_points: usize,
    /// The field of the correction factor, where its profile has one.
    #[schema(required)]
    pub factor_field: Option<NumberField>,
    /// By its profile it takes no correction factor.
    pub no_factor: bool,
    /// The pad that is worked at, from 1.
    pub pad: u8,
    /// Each pad, where there are several.
    pub pads: Vec<PadLine>,
    /// Zero counts, captured or saved.
    #[schema(required)]
    pub zero_counts: Option<String>,
    /// Zero is captured.
    pub zero: bool,
    /// The span weight.
    #[schema(required)]
    pub weight: Option<Mass>,
    /// Span counts, captured or saved.
    #[schema(required)]
    pub span_counts: Option<String>,
    /// Span is captured.
    pub span: bool,
    /// Saved in the indicator.
    pub saved: bool,
    /// Left alone, and why.
    #[schema(required)]
    pub left_alone: Option<String>,
    /// What a later entry undid.
    pub voided: Vec<Text>,
    /// Why the way is stopped.
    #[schema(required)]
    pub stopped_by: Option<Text>,
    /// Reservations: a small span weight, few counts.
    pub cautions: Vec<Text>,
    /// Sensitivity against the last record's.
    #[schema(required)]
    pub against_last: Option<Text>,
    /// How the adjustment comes about.
    pub working: Vec<Working>,
    /// The pieces of the span weight, where they were named.
    pub weight_pieces: Vec<UsedPiece>,
    /// How it was adjusted, in words.
    #[schema(required)]
    pub how: Option<Text>,
    /// The points of a curve.
    pub points: Vec<PointLine>,
    /// What the new span changes at Max.
    #[schema(required)]
    pub change_at_max: Option<Text>,
}

/// How a pad stands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct PadLine {
    /// The pad, from 1.
    pub pad: u8,
    /// In a few words.
    pub says: Text,
    /// Saved.
    pub done: bool,
}

/// Closing.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct CloseView {
    /// What is missing.
    pub missing: Vec<Missing>,
    /// Nothing that blocks is missing.
    pub ready: bool,
    /// Seals.
    #[schema(required)]
    pub seals: Option<String>,
    /// There is a switch or a cover to be put back.
    pub has_switch: bool,
    /// The switch is back.
    pub switch_back: bool,
    /// Set-up locked.
    pub locked: bool,
    /// Remarks.
    pub remarks: Vec<String>,
    /// It stops short, and why.
    #[schema(required)]
    pub stopped: Option<String>,
    /// The customer's signature on the work as it stands.
    #[schema(required)]
    pub customer: Option<CustomerSignature>,
    /// The name as signed.
    #[schema(required)]
    pub signed: Option<String>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub signed_at: Option<OffsetDateTime>,
}

/// The drawing: tolerance over the range, and the errors in it. Floating point, in `unit`.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct ErrorChart {
    /// Unit of every figure.
    pub unit: String,
    /// Max.
    pub max: f64,
    /// Division.
    pub d: f64,
    /// Tolerance.
    pub steps: Vec<ErrorChartStep>,
    /// As found.
    pub found: Vec<ErrorChartPoint>,
    /// As left.
    pub left: Vec<ErrorChartPoint>,
}

/// A piece of the tolerance.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, ToSchema)]
pub struct ErrorChartStep {
    /// From this load.
    pub from: f64,
    /// To this load.
    pub to: f64,
    /// ± at its beginning.
    pub mpe_from: f64,
    /// ± at its end.
    pub mpe_to: f64,
}

/// A reading in the drawing.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct ErrorChartPoint {
    /// The entry.
    pub entry: Uuid,
    /// Load.
    pub load: f64,
    /// Error.
    pub error: f64,
    /// Within tolerance.
    pub within: bool,
    /// Coming down.
    pub down: bool,
    /// Expanded uncertainty, where it is known.
    #[schema(required)]
    pub u: Option<f64>,
    /// In words.
    pub says: Text,
}

/// An entry of the journal, as it is listed.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct EntryView {
    /// Identity.
    pub id: Uuid,
    /// Place.
    pub seq: u32,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// In a sentence.
    pub says: Text,
    /// Struck out, and why.
    #[schema(required)]
    pub struck: Option<String>,
    /// It can be struck out now.
    pub can_strike: bool,
}
