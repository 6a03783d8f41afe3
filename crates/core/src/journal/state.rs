//! The state of a job, folded from its entries. What was struck out is left aside; nothing is
//! decided here.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::attachment::{AttachedFile, CustomerSignature};
use super::conditions::{Conditions, Review};
use super::used_piece::UsedPiece;
use super::values::{
    Before, Capture, CheckFinding, Counters, Direction, NoFigure, Purpose, ReadStage, Settlement, Setup,
    Signer, SpanOnRecord, TOGETHER, Taken,
};
use crate::adjust::SpanWeightRule;
use crate::measurement::DecisionRule;
use crate::quantity::{Decimal, Division, Mass};
use crate::scale::ScaleSheet;
use crate::tolerance::Tolerance;
use crate::wording::Text;

/// One item of the checklist as it stands.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CheckState {
    /// What was found.
    pub finding: CheckFinding,
    /// A note.
    pub note: Option<String>,
    /// Counts of each cell.
    pub cells: Vec<Decimal>,
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
    pub direction: Direction,
    /// How it was taken.
    pub taken: Taken,
    /// False where what it was meant to prove has been changed since.
    pub counts: bool,
    /// Which pad it stood on.
    pub pad: u8,
    /// The pieces it was made of, where they were named.
    pub with: Vec<UsedPiece>,
    /// Why pieces that are not fit for a proof were taken.
    pub overruled: Option<String>,
    /// What it is for.
    pub purpose: Purpose,
    /// Where it stood; 0: the middle.
    pub position: Option<u8>,
    /// Small weights that were added until the display changed.
    pub added: Option<Mass>,
    /// Substitutions before the load was reached.
    pub substituted: Option<u8>,
    /// How many repairs, set-ups and adjustments its pad had seen by then in this job: readings of
    /// different epochs are never judged or explained together.
    pub epoch: u32,
}

impl Reading {
    /// True where it is a load across the range.
    pub fn is_load(&self) -> bool {
        self.purpose == Purpose::Load
    }
}

/// A load at which the display showed no figure.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NoFigureReading {
    /// The entry it stands in.
    pub entry: Uuid,
    /// As found or as left.
    pub stage: ReadStage,
    /// What was on.
    pub load: Mass,
    /// What the display did.
    pub display: NoFigure,
    /// Increasing or decreasing.
    pub direction: Direction,
    /// Which pad.
    pub pad: u8,
    /// False where what it was meant to tell has been changed since.
    pub counts: bool,
    /// When.
    pub at: OffsetDateTime,
    /// As of a reading.
    pub epoch: u32,
}

/// A small weight added to a load at rest.
#[derive(Clone, Debug, PartialEq)]
pub struct Discrimination {
    /// The entry it stands in.
    pub entry: Uuid,
    /// As found or as left.
    pub stage: ReadStage,
    /// What was on.
    pub load: Mass,
    /// What was added.
    pub added: Mass,
    /// What was shown before.
    pub before: Mass,
    /// What was shown after.
    pub after: Mass,
    /// Which pad.
    pub pad: u8,
    /// False where what it was meant to prove has been changed since.
    pub counts: bool,
    /// As of a reading.
    pub epoch: u32,
}

/// What has been done at one pad.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PadState {
    /// The set-up keyed in in this job.
    pub setup: Option<Setup>,
    /// Why that was entered although it was judged not to be fit.
    pub setup_because: Option<String>,
    /// Zero, captured and not yet saved.
    pub zero: Option<Capture>,
    /// Span weight, keyed in and not yet saved.
    pub span_weight: Option<Mass>,
    /// The pieces it is made of, where they were named.
    pub span_with: Vec<UsedPiece>,
    /// How much was asked for.
    pub span_weight_rule: Option<SpanWeightRule>,
    /// Further points.
    pub points: Vec<CapturedPoint>,
    /// Span, captured and not yet saved.
    pub span: Option<Capture>,
    /// The adjustment in force from this job.
    pub adjusted: Option<Adjusted>,
    /// Adjustments of this job that a later one took the place of, the oldest first.
    pub earlier: Vec<Adjusted>,
    /// It adjusted itself by its internal weight after that was matched.
    pub adjusted_itself: bool,
    /// How it was found to be set up, where that is not what was known.
    pub found: Option<Setup>,
    /// The correction factor that it was found with.
    pub found_factor: Option<Decimal>,
    /// The adjustment of this pad was left as it was, and why.
    pub left_alone: Option<String>,
    /// Repairs, set-ups and adjustments so far.
    pub epoch: u32,
}

impl PadState {
    /// Zero, span and the further points, as far as they are captured.
    pub(crate) fn curve_points(&self) -> Vec<(Mass, Option<Decimal>)> {
        let unit = self.span_weight.as_ref().map_or(crate::quantity::Unit::Kg, |w| w.unit);
        let zero = self.zero.as_ref().map(|c| (Mass::zero(unit), c.counts.clone()));
        let span = self.span_weight.clone().zip(self.span.as_ref()).map(|(w, c)| (w, c.counts.clone()));
        zero.into_iter()
            .chain(span)
            .chain(self.points.iter().map(|p| (p.weight.clone(), p.capture.counts.clone())))
            .collect()
    }

    /// True while zero or span is captured and neither saved nor abandoned.
    pub const fn adjusting(&self) -> bool {
        self.zero.is_some() || self.span_weight.is_some() || self.span.is_some()
    }

    /// True where its internal weight was matched and it has not adjusted itself by it yet.
    pub fn awaits_itself(&self) -> bool {
        !self.adjusted_itself && matches!(self.adjusted.as_ref().map(|a| &a.how), Some(How::Internal(..)))
    }

    fn adjust(&mut self, adjusted: Adjusted) {
        self.earlier.extend(self.adjusted.replace(adjusted));
        self.adjusted_itself = false;
    }

    pub(super) fn drop_captures(&mut self) {
        self.zero = None;
        self.span_weight = None;
        self.span_with.clear();
        self.span_weight_rule = None;
        self.points.clear();
        self.span = None;
    }
}

/// A saved adjustment.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Adjusted {
    /// In which way.
    pub how: How,
    /// The pieces of the span weight, where they were named.
    pub with: Vec<UsedPiece>,
    /// How much was asked for.
    pub span_weight_rule: Option<SpanWeightRule>,
    /// Span weight.
    pub weight: Mass,
    /// Zero.
    pub zero: Capture,
    /// Span.
    pub span: Capture,
    /// What was shown with the load and at zero, where it was not captured.
    pub read: Option<(Mass, Mass)>,
    /// When it was saved.
    pub at: OffsetDateTime,
}

/// In which way something was adjusted.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum How {
    /// Zero and span.
    TwoPoint,
    /// Zero, span and further points.
    Points(Vec<CapturedPoint>),
    /// Zero alone.
    ZeroOnly,
    /// A correction factor: as it was and as it is.
    Factor(Decimal, Decimal),
    /// An internal weight: as it was kept and as it is.
    Internal(Mass, Mass),
}

/// A further point of a curve.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CapturedPoint {
    /// Its weight.
    pub weight: Mass,
    /// Its counts.
    pub capture: Capture,
    /// The pieces it is made of.
    pub with: Vec<UsedPiece>,
}

impl Adjusted {
    /// The load that must be read again to prove it; none where only zero was set.
    pub const fn proved_by(&self) -> Option<&Mass> {
        match self.how {
            How::ZeroOnly => None,
            _ => Some(&self.weight),
        }
    }

    /// The weight that still stands there when it was saved; none where it was not captured with one.
    pub fn left_on(&self) -> Option<&Mass> {
        match &self.how {
            // With an internal weight it adjusts itself, empty.
            How::ZeroOnly | How::Internal(..) => None,
            How::Points(points) => points.last().map(|p| &p.weight).or(Some(&self.weight)),
            _ => Some(&self.weight),
        }
    }

    /// In words.
    pub fn says(&self) -> Text {
        match &self.how {
            How::TwoPoint => text!("state-saved-at-weight", weight = self.weight),
            How::Points(points) => text!("state-saved-with-points-span-points", points = points.len() + 1),
            How::ZeroOnly => text!("state-zero-only"),
            How::Factor(old, new) => text!("state-factor-old-new", old, new),
            How::Internal(old, new) => text!("state-internal-weight-old-new", old, new),
        }
    }

    /// The counts as they go on the record, where both are known.
    pub fn on_record(&self) -> Option<SpanOnRecord> {
        if !matches!(self.how, How::TwoPoint | How::Points(_)) {
            return None;
        }
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
    /// Read off the indicator as it was found.
    Found,
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
    /// What was repaired after it had been read, and not read again since.
    pub repaired: Option<String>,
    /// The pads, the first or only one first.
    pub pads: Vec<PadState>,
    /// Counters as found and as left.
    pub counters: (Option<Counters>, Option<Counters>),
    /// Reasons of adjustments that were abandoned.
    pub abandoned: Vec<String>,
    /// What a later entry undid, in words.
    pub voided: Vec<Text>,
    /// Seals, switch back, locked.
    pub sealed_up: Option<(String, bool, bool)>,
    /// Remarks for the record.
    pub remarks: Vec<String>,
    /// The job ends unproved, and why.
    pub stopped: Option<String>,
    /// Signed and closed: the name, who and when.
    pub closed: Option<(String, Signer, OffsetDateTime)>,
    /// What became of the signatures.
    pub review: Review,
    /// What was around the scale, each time that it was read.
    pub conditions: Vec<Conditions>,
    /// Photographs and files.
    pub files: Vec<AttachedFile>,
    /// The customer's signature on the work as it stands.
    pub customer: Option<CustomerSignature>,
    /// Entries struck out.
    pub struck: BTreeSet<Uuid>,
    /// How much span weight is asked for on this job, and why.
    pub span_weight_rule: Option<(SpanWeightRule, String)>,
    /// Loads at which the display showed no figure.
    pub no_figures: Vec<NoFigureReading>,
    /// Small weights added to a load at rest.
    pub discriminations: Vec<Discrimination>,
    /// How the uncertainty enters the verdict and, where it is not the sheet's, why.
    pub decision: (DecisionRule, Option<String>),
    /// The pieces on the platform after the last entry, where that is known.
    pub(super) standing: Option<Vec<UsedPiece>>,
    /// Place of the last entry.
    pub head: u32,
}

impl JobState {
    /// The pad that is worked at: one that is being adjusted, else the first that is not adjusted
    /// yet, else the first. Counted from 1.
    pub fn pad_in_hand(&self) -> u8 {
        let being = self.pads.iter().position(PadState::adjusting);
        let due = || self.pads.iter().position(|p| p.adjusted.is_none() && p.left_alone.is_none());
        u8::try_from(being.or_else(due).unwrap_or(0) + 1).unwrap_or(1)
    }

    /// A pad, from 1; one that the scale does not have counts as the first.
    pub fn pad(&self, pad: u8) -> &PadState {
        // OK because a job has one pad at least.
        self.pads.get(usize::from(pad).saturating_sub(1)).unwrap_or(&self.pads[0])
    }

    /// The pad that is worked at.
    pub fn here(&self) -> &PadState {
        self.pad(self.pad_in_hand())
    }

    pub(super) fn pad_mut(&mut self, pad: u8) -> &mut PadState {
        let index = usize::from(pad).saturating_sub(1).min(self.pads.len() - 1);
        &mut self.pads[index]
    }

    /// True where every pad is adjusted in this job.
    pub fn all_adjusted(&self) -> bool {
        self.pads.iter().all(|p| p.adjusted.is_some())
    }

    /// True where it is decided of every pad whether it is adjusted or left as it was, and done.
    pub fn settled(&self) -> bool {
        self.left_alone.is_some() || self.pads.iter().all(|p| p.adjusted.is_some() || p.left_alone.is_some())
    }

    /// True where a pad, or all together, can be proved: adjusted or left as it was.
    pub fn provable_at(&self, pad: u8) -> bool {
        let at = self.pad(pad);
        if pad == TOGETHER {
            self.settled()
        } else {
            self.left_alone.is_some() || at.adjusted.is_some() || at.left_alone.is_some()
        }
    }

    /// True where what was read as found stands for what is left.
    pub fn found_stands_at(&self, pad: u8) -> bool {
        self.left_alone.is_some()
            || (pad != TOGETHER && self.pad(pad).left_alone.is_some() && self.pad(pad).adjusted.is_none())
    }

    /// Repairs, set-ups and adjustments of a pad, or of all together.
    pub fn epoch_of(&self, pad: u8) -> u32 {
        if pad == TOGETHER { self.pads.iter().map(|p| p.epoch).sum() } else { self.pad(pad).epoch }
    }

    /// The epoch in which a pad was first read as found.
    pub fn first_epoch_of(&self, pad: u8) -> u32 {
        let read = self.found.iter().filter(|r| r.pad == pad).map(|r| r.epoch);
        read.min().unwrap_or_else(|| self.epoch_of(pad))
    }

    /// True where a pad has been adjusted in this job.
    pub fn any_adjusted(&self) -> bool {
        self.pads.iter().any(|p| p.adjusted.is_some())
    }

    /// True where the scale has several pads.
    pub fn several(&self) -> bool {
        self.pads.len() > 1
    }

    /// The set-up that the display of a pad works with, and where it comes from.
    pub fn setup_of(&self, pad: u8) -> (Setup, SetupOrigin) {
        match &self.pad(pad).setup {
            Some(setup) => (setup.clone(), SetupOrigin::ThisJob),
            None => self.setup_as_found_of(pad),
        }
    }

    /// The set-up in force of the pad that is worked at.
    pub fn setup_in_force(&self) -> (Setup, SetupOrigin) {
        self.setup_of(self.pad_in_hand())
    }

    /// The set-up that was found at a pad: the last record's or, where there is none, the plate's
    /// figures or what the cells propose.
    pub fn setup_as_found_of(&self, pad: u8) -> (Setup, SetupOrigin) {
        if let Some(found) = &self.pad(pad).found {
            return (found.clone(), SetupOrigin::Found);
        }
        self.setup_expected_of(pad)
    }

    /// The set-up that was to be expected at a pad before anybody looked.
    pub fn setup_expected_of(&self, pad: u8) -> (Setup, SetupOrigin) {
        let before = self.before.as_ref();
        let on_record = before.and_then(|b| {
            if pad <= 1 {
                b.setup.clone()
            } else {
                b.pads.iter().find(|p| p.pad == pad).and_then(|p| p.setup.clone())
            }
        });
        match (on_record, self.sheet.rated()) {
            (Some(setup), _) => (setup, SetupOrigin::LastRecord),
            (None, Some((max, d))) => {
                let mut setup = Setup::of(max, d);
                if let Some(fine) = &self.sheet.fine {
                    setup.mode = fine.mode;
                    setup.fine = Some(fine.range.clone());
                    let finer = Division::new(&fine.range.d.value).map_or(0, |d| d.decimals());
                    setup.decimals = setup.decimals.max(finer);
                }
                (setup, SetupOrigin::Plate)
            }
            // OK because a sheet without plate and cells is refused before a job begins.
            (None, None) => (
                Setup::of(
                    Mass::new(1000u32.into(), crate::quantity::Unit::Kg),
                    Mass::new(1u32.into(), crate::quantity::Unit::Kg),
                ),
                SetupOrigin::Plate,
            ),
        }
    }

    /// The set-up as found of the first pad.
    pub fn setup_as_found(&self) -> (Setup, SetupOrigin) {
        self.setup_as_found_of(1)
    }

    /// The pieces that stand on the platform now, as far as they were named: those of the last reading,
    /// or of the span since; none where that is not known.
    pub fn standing_now(&self) -> Option<&[UsedPiece]> {
        self.standing.as_deref()
    }

    /// True while zero or span is captured at a pad and neither saved nor abandoned.
    pub fn adjusting(&self) -> bool {
        self.pads.iter().any(PadState::adjusting)
    }

    /// What a job on this scale would begin with, for planning ahead.
    pub fn expected(sheet: ScaleSheet, before: Option<Before>) -> Self {
        let nobody = Signer { id: Uuid::nil(), name: String::new() };
        Self::begun((OffsetDateTime::UNIX_EPOCH, nobody), sheet, before)
    }

    /// A job that has just begun: when, and by whom.
    pub(super) fn begun(
        started: (OffsetDateTime, Signer),
        sheet: ScaleSheet,
        before: Option<Before>,
    ) -> Self {
        let pads = usize::from(sheet.pads.clamp(1, ScaleSheet::MOST_PADS));
        let decision = (sheet.decision, None);
        let made = Self {
            tolerance: (sheet.tolerance.clone(), None),
            sheet,
            before,
            started,
            checks: BTreeMap::new(),
            found: Vec::new(),
            left: Vec::new(),
            left_alone: None,
            repaired: None,
            pads: Vec::new(),
            counters: (None, None),
            abandoned: Vec::new(),
            voided: Vec::new(),
            sealed_up: None,
            remarks: Vec::new(),
            stopped: None,
            closed: None,
            review: Review::default(),
            conditions: Vec::new(),
            files: Vec::new(),
            customer: None,
            struck: BTreeSet::new(),
            span_weight_rule: None,
            no_figures: Vec::new(),
            discriminations: Vec::new(),
            decision,
            standing: Some(Vec::new()),
            head: 1,
        };
        Self { pads: vec![PadState::default(); pads], ..made }
    }

    pub(super) fn drop_captures(&mut self) {
        self.pads.iter_mut().for_each(PadState::drop_captures);
    }

    /// Something was changed at a pad: what was read there before no longer tells how it is.
    pub(super) fn changed(&mut self, pad: u8) {
        self.pad_mut(pad).epoch += 1;
        self.void_proof(pad);
    }

    fn void_proof(&mut self, pad: u8) {
        // What was read on all pads together rested on this one too.
        for reading in self.left.iter_mut().filter(|r| r.pad == pad || r.pad == TOGETHER) {
            reading.counts = false;
        }
        for blank in self.no_figures.iter_mut().filter(|r| r.pad == pad || r.pad == TOGETHER) {
            blank.counts = false;
        }
        for small in self.discriminations.iter_mut().filter(|s| s.pad == pad && s.stage == ReadStage::Test) {
            small.counts = false;
        }
    }

    /// True where what is read now at a pad will count.
    pub(super) fn counts_now(&self, stage: ReadStage, pad: u8) -> bool {
        let adjusting = if pad == TOGETHER { self.adjusting() } else { self.pad(pad).adjusting() };
        stage == ReadStage::AsFound || (self.provable_at(pad) && !adjusting)
    }

    /// An adjustment without a captured span.
    pub(super) fn adjusted_by(
        &mut self,
        at: OffsetDateTime,
        number: u8,
        how: How,
        (weight, with): (Mass, &[UsedPiece]),
        zero: Capture,
        read: Option<(Mass, Mass)>,
    ) {
        self.left_alone = None;
        let pad = self.pad_mut(number);
        pad.drop_captures();
        let (with, span) = (with.to_vec(), zero.clone());
        pad.adjust(Adjusted { how, weight, with, span_weight_rule: None, span, zero, read, at });
        self.changed(number);
    }

    pub(super) fn save(&mut self, at: OffsetDateTime, number: u8) {
        let pad = self.pad_mut(number);
        if let (Some(weight), Some(zero), Some(span)) =
            (pad.span_weight.take(), pad.zero.take(), pad.span.take())
        {
            let (with, span_weight_rule) = (std::mem::take(&mut pad.span_with), pad.span_weight_rule.take());
            let points = std::mem::take(&mut pad.points);
            let how = if points.is_empty() { How::TwoPoint } else { How::Points(points) };
            pad.adjust(Adjusted { how, weight, with, span_weight_rule, zero, span, read: None, at });
            self.changed(number);
        }
    }
}

impl JobState {
    /// Items of the checklist where a fault was found, settled or not.
    pub fn faulty_items(&self) -> impl Iterator<Item = &str> {
        self.checks.iter().filter(|(_, c)| c.finding == CheckFinding::Fault).map(|(item, _)| item.as_str())
    }

    /// True where nothing was repaired, set up or adjusted since the first reading as found of each pad.
    pub(crate) fn one_epoch(&self) -> bool {
        (TOGETHER..=self.sheet.pads).all(|pad| self.first_epoch_of(pad) == self.epoch_of(pad))
    }
}
