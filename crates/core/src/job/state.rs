//! The state of a job, folded from its entries. What was struck out is left aside; nothing is
//! decided here.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::{Before, Body, Capture, CheckFinding, Entry, ReadStage, ScaleSheet, Settlement, Setup, Signer, SpanOnRecord, Taken, Way};
use crate::quantity::Mass;
use crate::tolerance::Tolerance;

/// One item of the checklist as it stands.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CheckState {
    /// What was found.
    pub finding: CheckFinding,
    /// A note.
    pub note: Option<String>,
    /// How a fault was settled, and the words for it.
    pub settled: Option<(Settlement, String)>,
}

/// A reading in the journal.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Reading {
    /// The entry it stands in.
    pub entry: Uuid,
    /// When.
    pub at: OffsetDateTime,
    /// What was put on.
    pub load: Mass,
    /// What was shown.
    pub shown: Mass,
    /// Up or down.
    pub way: Way,
    /// How it was taken.
    pub taken: Taken,
    /// False where what it was meant to prove has been changed since.
    pub counts: bool,
}

/// A saved adjustment.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Adjusted {
    /// Span weight.
    pub weight: Mass,
    /// Zero.
    pub zero: Capture,
    /// Span.
    pub span: Capture,
    /// When it was saved.
    pub at: OffsetDateTime,
}

impl Adjusted {
    /// The counts as they go on the record, where both are known.
    pub fn on_record(&self) -> Option<SpanOnRecord> {
        let (at_zero, with_weight) = self.zero.counts.clone().zip(self.span.counts.clone())?;
        Some(SpanOnRecord { weight: self.weight.clone(), at_zero, with_weight })
    }
}

/// Where the set-up in force comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SetupOrigin {
    /// Keyed in in this job.
    ThisJob,
    /// From the last record.
    LastRecord,
    /// Not known yet: the plate's figures stand in.
    Plate,
}

/// Everything that the entries of a job come to.
#[derive(Clone, Debug, PartialEq)]
pub struct JobState {
    /// The scale.
    pub sheet: ScaleSheet,
    /// Its last record.
    pub before: Option<Before>,
    /// When the job began, and who began it.
    pub started: (OffsetDateTime, Signer),
    /// The tolerance in force and, where it is not the sheet's, why.
    pub tolerance: (Tolerance, Option<String>),
    /// The checklist, by item.
    pub checks: BTreeMap<String, CheckState>,
    /// Readings as found.
    pub found: Vec<Reading>,
    /// Readings as left.
    pub left: Vec<Reading>,
    /// The adjustment was left alone, and why.
    pub left_alone: Option<String>,
    /// The set-up keyed in in this job.
    pub setup: Option<Setup>,
    /// Zero, captured and not yet saved.
    pub zero: Option<Capture>,
    /// Span weight, keyed in and not yet saved.
    pub span_weight: Option<Mass>,
    /// Span, captured and not yet saved.
    pub span: Option<Capture>,
    /// The adjustment in force from this job.
    pub adjusted: Option<Adjusted>,
    /// Reasons of adjustments that were abandoned.
    pub abandoned: Vec<String>,
    /// What a later entry undid, in words.
    pub voided: Vec<String>,
    /// Seals, switch back, locked.
    pub sealed_up: Option<(String, bool, bool)>,
    /// Remarks for the record.
    pub remarks: Vec<String>,
    /// The job ends unproved, and why.
    pub stopped: Option<String>,
    /// Signed and closed: the name, who and when.
    pub closed: Option<(String, Signer, OffsetDateTime)>,
    /// Entries struck out.
    pub struck: BTreeSet<Uuid>,
    /// Place of the last entry.
    pub head: u32,
}

impl JobState {
    /// The set-up that the display works with, and where it comes from.
    pub fn setup_in_force(&self) -> (Setup, SetupOrigin) {
        match &self.setup {
            Some(setup) => (setup.clone(), SetupOrigin::ThisJob),
            None => self.setup_as_found(),
        }
    }

    /// The set-up that was found: the last record's or, where there is none, the plate's figures.
    pub fn setup_as_found(&self) -> (Setup, SetupOrigin) {
        match self.before.as_ref().and_then(|b| b.setup.clone()) {
            Some(setup) => (setup, SetupOrigin::LastRecord),
            None => (Setup::of(self.sheet.plate.max.clone(), self.sheet.plate.d_min.clone()), SetupOrigin::Plate),
        }
    }

    /// True while zero or span is captured and neither saved nor abandoned.
    pub const fn adjusting(&self) -> bool {
        self.zero.is_some() || self.span_weight.is_some() || self.span.is_some()
    }

    fn new(entry: &Entry, sheet: ScaleSheet, before: Option<Before>) -> Self {
        Self {
            tolerance: (sheet.tolerance.clone(), None),
            sheet,
            before,
            started: (entry.at, entry.by.clone()),
            checks: BTreeMap::new(),
            found: Vec::new(),
            left: Vec::new(),
            left_alone: None,
            setup: None,
            zero: None,
            span_weight: None,
            span: None,
            adjusted: None,
            abandoned: Vec::new(),
            voided: Vec::new(),
            sealed_up: None,
            remarks: Vec::new(),
            stopped: None,
            closed: None,
            struck: BTreeSet::new(),
            head: entry.seq,
        }
    }

    fn drop_captures(&mut self) {
        self.zero = None;
        self.span_weight = None;
        self.span = None;
    }

    fn void_proof(&mut self) {
        for reading in &mut self.left {
            reading.counts = false;
        }
    }

    fn apply(&mut self, entry: &Entry) {
        match &entry.body {
            Body::Started { .. } | Body::StruckOut { .. } => {}
            Body::LookedOver { item, finding, note } => {
                self.checks.insert(item.clone(), CheckState { finding: *finding, note: note.clone(), settled: None });
            }
            Body::FaultSettled { item, how, reason } => {
                if let Some(check) = self.checks.get_mut(item) {
                    check.settled = Some((*how, reason.clone()));
                }
            }
            Body::ToleranceChosen { tolerance, reason } => self.tolerance = (tolerance.clone(), Some(reason.clone())),
            Body::Read { stage, load, shown, way, taken } => {
                let counts = match stage {
                    ReadStage::AsFound => true,
                    ReadStage::Prove => (self.adjusted.is_some() || self.left_alone.is_some()) && !self.adjusting(),
                };
                let reading = Reading {
                    entry: entry.id,
                    at: entry.at,
                    load: load.clone(),
                    shown: shown.clone(),
                    way: *way,
                    taken: taken.clone(),
                    counts,
                };
                match stage {
                    ReadStage::AsFound => self.found.push(reading),
                    ReadStage::Prove => self.left.push(reading),
                }
            }
            Body::LeftAlone { reason } => {
                self.left_alone = Some(reason.clone());
                self.drop_captures();
            }
            Body::SetUp { setup } => self.set_up(setup),
            Body::ZeroCaptured { capture } => {
                self.left_alone = None;
                self.zero = Some(capture.clone());
                self.span = None;
            }
            Body::SpanChosen { weight } => {
                self.span_weight = Some(weight.clone());
                self.span = None;
            }
            Body::SpanCaptured { capture } => self.span = Some(capture.clone()),
            Body::AdjustmentSaved => self.save(entry.at),
            Body::AdjustmentAbandoned { reason } => {
                self.abandoned.push(reason.clone());
                self.drop_captures();
            }
            Body::SealedUp { seals, switch_back, locked } => self.sealed_up = Some((seals.clone(), *switch_back, *locked)),
            Body::Remarked { text } => self.remarks.push(text.clone()),
            Body::StoppedShort { reason } => self.stopped = Some(reason.clone()),
            Body::Closed { name } => self.closed = Some((name.clone(), entry.by.clone(), entry.at)),
        }
    }

    fn set_up(&mut self, setup: &Setup) {
        let (in_force, _) = self.setup_in_force();
        if in_force != *setup {
            if self.adjusting() {
                self.voided.push("the set-up was changed between zero and span: zero and span must be captured again".into());
                self.drop_captures();
            }
            if self.adjusted.take().is_some() {
                self.voided.push("the set-up was changed after calibrating: the adjustment and its proof no longer count".into());
            }
            self.left_alone = None;
            self.void_proof();
        }
        self.setup = Some(setup.clone());
    }

    fn save(&mut self, at: OffsetDateTime) {
        if let (Some(weight), Some(zero), Some(span)) = (self.span_weight.take(), self.zero.take(), self.span.take()) {
            self.void_proof();
            self.adjusted = Some(Adjusted { weight, zero, span, at });
        }
    }
}

/// Folds a journal into its state; `None` where it does not begin with a start.
pub fn fold<'a>(entries: impl IntoIterator<Item = &'a Entry> + Clone) -> Option<JobState> {
    let struck: BTreeSet<Uuid> = entries
        .clone()
        .into_iter()
        .filter_map(|entry| match &entry.body {
            Body::StruckOut { entry, .. } => Some(*entry),
            _ => None,
        })
        .collect();
    let mut entries = entries.into_iter();
    let first = entries.next()?;
    let Body::Started { sheet, before } = &first.body else { return None };
    let mut state = JobState::new(first, (**sheet).clone(), before.clone());
    for entry in entries {
        state.head = entry.seq;
        if !struck.contains(&entry.id) {
            state.apply(entry);
        }
    }
    state.struck = struck;
    Some(state)
}
