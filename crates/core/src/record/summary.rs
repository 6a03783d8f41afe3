//! What is kept of a record beside its frozen bytes, so that many can be counted and one be found.

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;

use crate::assessment::{Assessment, PhaseView};
use crate::diagnosis::{Cause, Priors, diagnose_job, worst_pad};
use crate::journal::{CheckFinding, JobState, Phase};
use crate::scale::ScaleKind;

/// How a scale was found.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Found {
    /// Every reading and every test as found inside the tolerance.
    Within,
    /// At least one outside.
    Outside,
    /// Nothing was read before the adjustment.
    Unread,
}

/// As what a mark stands on a record.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum MarkKind {
    /// Number of the record.
    Number,
    /// Serial of the scale, as it then was.
    Serial,
    /// A seal that was put on.
    Seal,
}

/// A mark by which a record is found.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct RecordMark {
    /// As what.
    pub kind: MarkKind,
    /// As it is written.
    pub text: String,
    /// As it is compared: [`plain_mark`].
    pub plain: String,
}

/// What is counted of a record, and what it is found by.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RecordSummary {
    /// Kind of the scale.
    pub kind: ScaleKind,
    /// How it was found.
    pub found: Found,
    /// Where it was found outside and the readings tell one cause from the others: that cause.
    pub cause: Option<Cause>,
    /// Items of the checklist at which a fault was found.
    pub faults: Vec<String>,
    /// Something of its adjustment was changed.
    pub adjusted: bool,
    /// Age of the scale in years on that day, where its year of make is known.
    pub age: Option<u16>,
    /// By what it is found.
    pub marks: Vec<RecordMark>,
}

/// A mark without what people write differently: letters and digits only, in lower case.
pub fn plain_mark(text: &str) -> String {
    text.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect()
}

/// The summary of a record with its number. `assessed` is the assessment of `state`, `priors` those of the workshop.
pub fn record_summary(
    state: &JobState,
    assessed: &Assessment,
    number: &str,
    closed_at: OffsetDateTime,
    priors: &Priors,
) -> RecordSummary {
    let found = found(&assessed.as_found);
    let diagnosis = (found == Found::Outside)
        .then(|| diagnose_job(state, assessed, Phase::AsFound, worst_pad(&assessed.as_found), &[], priors))
        .flatten();
    let cause = diagnosis
        .filter(|d| d.told)
        .and_then(|d| d.ranked.first().map(|r| r.cause))
        .filter(|cause| *cause != Cause::Sound);
    let made = state.sheet.made.map(i32::from);
    RecordSummary {
        kind: state.sheet.kind,
        found,
        cause,
        faults: state
            .checks
            .iter()
            .filter(|(_, c)| c.finding == CheckFinding::Fault)
            .map(|(item, _)| item.clone())
            .collect(),
        adjusted: state.pads.iter().any(|p| p.adjusted.is_some()),
        age: made.and_then(|made| u16::try_from((closed_at.year() - made).max(0)).ok()),
        marks: marks(state, number),
    }
}

fn found(view: &PhaseView) -> Found {
    let readings = view.readings.iter().filter(|r| r.counts).map(|r| r.within);
    let tests = view.tests.iter().filter_map(|t| t.within);
    match readings.chain(tests).reduce(|a, b| a && b) {
        None => Found::Unread,
        Some(true) => Found::Within,
        Some(false) => Found::Outside,
    }
}

fn marks(state: &JobState, number: &str) -> Vec<RecordMark> {
    let seals = state.sealed_up.as_ref().map_or("", |(seals, _, _)| seals.as_str());
    let seals = seals.split([',', ';', '/', '\n']).map(|seal| (MarkKind::Seal, seal));
    let mut marks: Vec<RecordMark> =
        [(MarkKind::Number, number), (MarkKind::Serial, state.sheet.serial.as_str())]
            .into_iter()
            .chain(seals)
            .map(|(kind, text)| RecordMark { kind, text: text.trim().to_owned(), plain: plain_mark(text) })
            .filter(|mark| !mark.plain.is_empty())
            .collect();
    let mut seen = std::collections::BTreeSet::new();
    marks.retain(|mark| seen.insert((mark.kind as u8, mark.plain.clone())));
    marks
}
