//! What the page asks.

use std::collections::BTreeMap;

use serde::Deserialize;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::adjust::SpanWeightRule;
use crate::answers::{KeyingQuestion, MessageQuestion, PlanQuestion, SetupQuestion};
use crate::diagnosis::Priors;
use crate::job::{Author, Draft};
use crate::journal::{Before, ReadStage, Sealed, Signer};
use crate::keying::Act;
use crate::keying::learn::Session as TaughtSession;
use crate::live::Cut;
use crate::scale::ScaleSheet;
use crate::signal::LinePattern;
use crate::weights::{Instrument, Piece};

/// What a workshop brings to each of its jobs.
#[derive(Deserialize, Default)]
#[serde(default)]
pub(super) struct Workshop {
    /// Its kit.
    pub pieces: Vec<Piece>,
    /// How much span weight it asks for.
    #[serde(alias = "school")]
    pub span_weight_rule: SpanWeightRule,
    /// Whether its records are approved.
    pub approval: Option<bool>,
    /// What reads the air.
    pub instruments: Vec<Instrument>,
    /// How likely a fault is, where it differs from the table.
    pub priors: Priors,
    /// A scale inside its tolerance is left alone.
    pub leave_inside: bool,
    /// Texts of the profiles that its scales name.
    pub profiles: BTreeMap<Uuid, String>,
}

/// Who enters, when, and under which identity.
#[derive(Deserialize)]
pub(super) struct AskAuthor {
    pub entry: Uuid,
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    pub by: Signer,
}

impl From<AskAuthor> for Author {
    fn from(asked: AskAuthor) -> Self {
        Self { entry: asked.entry, at: asked.at, by: asked.by }
    }
}

/// The next entry of a job.
#[derive(Deserialize)]
pub(super) struct AskEntry {
    pub job: Uuid,
    /// Place of the last entry that the page knows.
    pub after: u32,
    pub author: AskAuthor,
    pub draft: Draft,
    /// Only say what would come of it.
    #[serde(default)]
    pub try_only: bool,
    /// Roles of whoever enters it, by their stored names.
    pub roles: Vec<String>,
    /// Number of the job's record, where it has one.
    #[serde(default)]
    pub number: Option<String>,
    /// The port that its indicator is read by.
    #[serde(default)]
    pub port: Option<String>,
    /// The page's clock, in seconds.
    #[serde(default)]
    pub now_s: f64,
}

/// A question.
#[derive(Deserialize)]
#[serde(tag = "ask", rename_all = "snake_case")]
pub(super) enum Ask {
    /// A worked case, as on the command line: `{"rule": …, "input": {…}}`.
    Work { line: String },
    /// What the workshop brings, for all questions that follow.
    Workshop(Box<Workshop>),
    /// A job as it is stored.
    Open { job: Uuid, entries: Vec<Sealed> },
    /// What was entered behind it.
    Follow { job: Uuid, entries: Vec<Sealed> },
    /// The job is not at hand any more.
    Leave { job: Uuid },
    /// A job begins.
    Begin { job: Uuid, author: AskAuthor, sheet: Box<ScaleSheet>, before: Option<Box<Before>> },
    /// The next entry.
    Enter(Box<AskEntry>),
    /// The job as it stands.
    Assess { job: Uuid },
    /// Its entries behind one.
    Entries { job: Uuid, after: u32 },
    /// A set-up that is thought of.
    Judge {
        job: Uuid,
        #[serde(flatten)]
        question: SetupQuestion,
    },
    /// What the readings tell.
    Diagnosis { job: Uuid, stage: ReadStage },
    /// The loading plan.
    Plan {
        job: Uuid,
        #[serde(with = "time::serde::rfc3339")]
        at: OffsetDateTime,
        #[serde(flatten)]
        question: PlanQuestion,
    },
    /// The keying sheet.
    Keying {
        job: Uuid,
        #[serde(flatten)]
        question: KeyingQuestion,
    },
    /// What the display says.
    Messages {
        job: Uuid,
        #[serde(flatten)]
        question: MessageQuestion,
        #[serde(default)]
        port: Option<String>,
        #[serde(default)]
        now_s: f64,
    },
    /// What a session of teaching comes to.
    Learn { session: Box<TaughtSession> },
    /// Acts at a virtual indicator, from its beginning.
    Machine { text: String, acts: Vec<Act> },
    /// Whether a photograph or a file may be kept: its size in bytes and its first bytes.
    Media { size: u64, head: Vec<u8> },
    /// The job as a file.
    File { job: Uuid, program: String },
    /// A port whose lines are read by this pattern; none: the own one.
    PortOpen { port: String, pattern: Option<LinePattern> },
    /// What came from it.
    PortHeard { port: String, text: String, at_s: f64 },
    /// It was cut.
    PortLost { port: String, why: Cut },
    /// Nobody looks any more.
    PortClose { port: String },
    /// What a page shows of it.
    PortView { port: String, job: Uuid, now_s: f64 },
}
