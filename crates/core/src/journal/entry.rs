//! The entries of a journal. They are written once; a correction is a new entry that strikes one
//! out.

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::attachment::AttachedFile;
use super::conditions::{Conditions, Particulars};
use super::used_piece::UsedPiece;
use crate::adjust::{School, Site};
use crate::keying::{MessageMeaning, RangeMode};
use crate::measurement::DecisionRule;
use crate::quantity::{Decimal, Division, Mass, Range, Unit};
use crate::scale::ScaleSheet;
use crate::tolerance::Tolerance;
use crate::wording::Text;

/// Who made an entry.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Signer {
    /// Identity of the person.
    pub id: Uuid,
    /// Name as it stands on the record.
    pub name: String,
}

/// One entry of a journal.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Entry {
    /// Identity, made by the client (UUID v7), so that sending twice is harmless.
    pub id: Uuid,
    /// Place in the journal, from 1.
    pub seq: u32,
    /// When it was made.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who made it.
    pub by: Signer,
    /// What it says.
    pub body: Body,
}

/// An entry with its place in the hash chain.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Sealed {
    /// The entry.
    #[serde(flatten)]
    pub entry: Entry,
    /// Hash of the entry before, or of the job's identity for the first.
    pub prev: String,
    /// Hash over this entry and `prev`.
    pub hash: String,
}

/// How the indicator is set up: capacity and division, in the unit it shows.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Setup {
    /// Max.
    pub max: Mass,
    /// Division d.
    pub d: Mass,
    /// Decimals on the display.
    pub decimals: u32,
    /// How the ranges work.
    #[serde(default, skip_serializing_if = "is_single")]
    pub mode: RangeMode,
    /// The finer range, where there are two.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fine: Option<Range>,
    /// The unit that weights are keyed in, where it is not the display's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub calibrated_in: Option<Unit>,
    /// Where it is adjusted, where that is not the place of use.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub adjusted_at: Option<Site>,
    /// g as it is entered, m/s².
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gravity: Option<Decimal>,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_single(mode: &RangeMode) -> bool {
    *mode == RangeMode::Single
}

impl Setup {
    /// From Max and d; the decimals follow from the division.
    pub fn of(max: Mass, d: Mass) -> Self {
        let decimals = Division::new(&d.value).map_or(0, |division| division.decimals());
        Self {
            max: max.to(d.unit),
            d,
            decimals,
            mode: RangeMode::Single,
            fine: None,
            calibrated_in: None,
            adjusted_at: None,
            gravity: None,
        }
    }

    /// The finest division.
    pub fn finest(&self) -> &Mass {
        self.fine.as_ref().map_or(&self.d, |fine| &fine.d)
    }

    /// A figure as the display shows it: in its unit, with its decimals.
    pub fn text(&self, mass: &Mass) -> String {
        let value = mass.value_in(self.d.unit);
        let own = u32::try_from(-value.exponent()).unwrap_or(0);
        // What has more places than the display was not read off it; it is told to a hundredth of d.
        format!("{} {}", value.fixed(self.decimals.max(own.min(self.decimals + 2))), self.d.unit)
    }

    /// The step of the small weights for points of change: a tenth of a division. Source: OIML R 76-1:2006,
    /// A.4.4.3.
    pub fn small_step(&self, d: &Mass) -> Mass {
        d.times(&Decimal::new(1, 1)).to(self.d.unit)
    }

    /// The ranges, finest first.
    pub fn ranges(&self) -> Vec<Range> {
        self.fine.iter().cloned().chain([Range { max: self.max.clone(), d: self.d.clone() }]).collect()
    }

    /// The division at a load: that of the range in which it lies. A scale that changed up by
    /// itself keeps the coarse one until it is back at zero (OIML R 76-1:2006, 4.10).
    pub fn d_at(&self, load: &Mass, way: Way) -> &Mass {
        match &self.fine {
            Some(fine)
                if load.abs() <= fine.max && !(self.mode == RangeMode::ByItself && way == Way::Down) =>
            {
                &fine.d
            }
            _ => &self.d,
        }
    }
}

/// All pads together, in a reading.
pub const TOGETHER: u8 = 0;

/// The first pad, or the only one.
pub const FIRST_PAD: u8 = 1;

const fn first_pad() -> u8 {
    FIRST_PAD
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
const fn is_first_pad(pad: &u8) -> bool {
    *pad == FIRST_PAD
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
const fn is_together(pad: &u8) -> bool {
    *pad == TOGETHER
}

/// What an indicator's counters of changes show.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Counters {
    /// Changes of the set-up.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setup: Option<u32>,
    /// Calibrations.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub calibration: Option<u32>,
}

/// What stood on the last record of a further pad.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct PadBefore {
    /// The pad, from 2.
    pub pad: u8,
    /// The set-up then.
    #[serde(default)]
    pub setup: Option<Setup>,
    /// The span counts then.
    #[serde(default)]
    pub span: Option<SpanOnRecord>,
}

/// What stood on the last record of the scale.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Before {
    /// Number of that record.
    pub number: String,
    /// When it was closed.
    #[serde(with = "time::serde::rfc3339")]
    pub closed_at: OffsetDateTime,
    /// The set-up then.
    #[serde(default)]
    pub setup: Option<Setup>,
    /// The span counts then, where the indicator gave them.
    #[serde(default)]
    pub span: Option<SpanOnRecord>,
    /// Further pads.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pads: Vec<PadBefore>,
    /// What the counters showed when it was closed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub counters: Option<Counters>,
    /// Items of the checklist where a fault was found then.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub faults: Vec<String>,
}

/// The span of an adjustment, as it stands on a record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct SpanOnRecord {
    /// Span weight.
    pub weight: Mass,
    /// Counts at zero.
    pub at_zero: Decimal,
    /// Counts with the weight.
    pub with_weight: Decimal,
}

/// What was found at one item of the checklist.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CheckFinding {
    /// In order.
    Ok,
    /// A fault.
    Fault,
    /// Does not apply here.
    NotApplicable,
}

/// How a fault was settled.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Settlement {
    /// Put right.
    Repaired,
    /// Left as it is, with a reason that stays on the record.
    Overruled,
}

/// When a reading was taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ReadStage {
    /// Before anything was touched.
    AsFound,
    /// As left.
    Prove,
}

/// What a reading is for. Source: OIML R 76-1:2006, A.4.4, A.4.7, A.4.10.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Purpose {
    /// A load across the range.
    #[default]
    Load,
    /// A load at one place of the platform: eccentricity.
    Corner,
    /// The same load again: repeatability.
    Repeat,
}

impl Purpose {
    fn is_load(&self) -> bool {
        *self == Self::Load
    }
}

/// Whether the load was reached going up or coming down.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Way {
    /// Going up.
    Up,
    /// Coming down.
    Down,
}

/// How a figure came into the journal.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum Taken {
    /// Read by a person and typed.
    Typed,
    /// Taken from the connected indicator when it was steady.
    Live {
        /// Seconds that it had held.
        hold_s: Decimal,
        /// Times the clock had to start again.
        restarts: u32,
        /// Samples in the mean.
        samples: u32,
        /// Mean of the raw signal, where the indicator gives a finer one than it shows.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        mean: Option<Mass>,
    },
}

impl Taken {
    /// Read off the connected indicator; it was steady then, or it would not have been taken.
    pub const fn is_live(&self) -> bool {
        matches!(self, Self::Live { .. })
    }
}

/// A captured point of an adjustment.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Capture {
    /// Internal counts, where the indicator shows them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub counts: Option<Decimal>,
    /// How it was taken.
    pub taken: Taken,
    /// What the display showed at that moment, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shown: Option<Mass>,
    /// Why it was taken although it did not look like what it was meant to be.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub because: Option<String>,
}

impl Capture {
    /// Nothing but how it was taken.
    pub const fn only(taken: Taken) -> Self {
        Self { counts: None, taken, shown: None, because: None }
    }
}

/// What a display does that shows no figure.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "display", rename_all = "snake_case")]
pub enum NoFigure {
    /// Nothing at all.
    Blank,
    /// Dashes or a sign for too much.
    Over,
    /// Dashes or a sign for too little.
    Under,
    /// A text, such as an error code.
    Text {
        /// As it stands there.
        text: String,
        /// What it means by the profile of the day.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        meaning: Option<MessageMeaning>,
    },
    /// It goes to and fro between two figures.
    Flickers {
        /// The lower one.
        from: Mass,
        /// The higher one.
        to: Mass,
    },
}

impl NoFigure {
    /// What it means, as far as that can be told.
    pub const fn meaning(&self) -> Option<MessageMeaning> {
        match self {
            Self::Blank => Some(MessageMeaning::Supply),
            Self::Over => Some(MessageMeaning::Overload),
            Self::Under => Some(MessageMeaning::SignalLow),
            Self::Flickers { .. } => Some(MessageMeaning::Motion),
            Self::Text { meaning, .. } => *meaning,
        }
    }

    /// In words.
    pub fn says(&self) -> Text {
        match self {
            Self::Blank => text!("entry-blank"),
            Self::Over => text!("entry-dashes-over"),
            Self::Under => text!("entry-dashes-under"),
            Self::Text { text, .. } => text!("entry-text", text),
            Self::Flickers { from, to } => text!("entry-flickers-between-from-and-to", from, to),
        }
    }
}

/// What an entry says.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Body {
    /// The job began.
    Started {
        /// The scale as it was known then.
        sheet: Box<ScaleSheet>,
        /// Its last record.
        #[serde(default)]
        before: Option<Box<Before>>,
    },
    /// An item of the checklist was looked at.
    LookedOver {
        /// Which item.
        item: String,
        /// What was found.
        finding: CheckFinding,
        /// A note.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        note: Option<String>,
        /// Counts of each cell with the platform empty, where the indicator gives them.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        cells: Vec<Decimal>,
    },
    /// A fault was settled.
    FaultSettled {
        /// Which item.
        item: String,
        /// How.
        how: Settlement,
        /// What was done, or why it is overruled.
        reason: String,
    },
    /// Another tolerance than the sheet's was chosen for this job.
    ToleranceChosen {
        /// The tolerance.
        tolerance: Tolerance,
        /// Why.
        reason: String,
    },
    /// A load was put on and read.
    Read {
        /// Before or after adjusting.
        stage: ReadStage,
        /// What was put on.
        load: Mass,
        /// What was shown.
        shown: Mass,
        /// Going up or coming down.
        way: Way,
        /// How it was taken.
        taken: Taken,
        /// Which pad it stood on.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
        /// The pieces it was made of, where they were named.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        with: Vec<UsedPiece>,
        /// Why pieces that are not fit for a proof were taken.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        overruled: Option<String>,
        /// What it is for.
        #[serde(default, skip_serializing_if = "Purpose::is_load")]
        purpose: Purpose,
        /// The place where it stood, where it is for the corners; 0: the middle.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        spot: Option<u8>,
        /// Small weights that were added until the display changed to the next division.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        added: Option<Mass>,
        /// Substitutions before the load was reached.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        substituted: Option<u8>,
    },
    /// A load was put on and the display showed no figure that could be read.
    NoFigureRead {
        /// Before or after adjusting.
        stage: ReadStage,
        /// What was put on.
        load: Mass,
        /// What the display did.
        display: NoFigure,
        /// Increasing or decreasing.
        way: Way,
        /// Which pad it stood on.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// How the indicator was found to be set up, where that is not what the sheet says.
    SetupFound {
        /// As found.
        setup: Box<Setup>,
        /// The correction factor that it held, where it has one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        factor: Option<Decimal>,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// A small weight was added to a load at rest: does the display move?
    Discriminated {
        /// As found or as left.
        stage: ReadStage,
        /// What was on.
        load: Mass,
        /// What was added.
        added: Mass,
        /// What was shown before.
        before: Mass,
        /// What was shown after.
        after: Mass,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// How the uncertainty enters the verdict on this job.
    DecisionChosen {
        /// How.
        rule: DecisionRule,
        /// Why.
        reason: String,
    },
    /// How much span weight is asked for on this job.
    SchoolChosen {
        /// How much.
        school: School,
        /// Why.
        reason: String,
    },
    /// The indicator's counters of changes were read.
    CountersRead {
        /// As found or as left.
        stage: ReadStage,
        /// What they show.
        counters: Counters,
    },
    /// The adjustment was left as it was.
    LeftAlone {
        /// Why.
        reason: String,
        /// Which pad; 0: the whole scale.
        #[serde(default, skip_serializing_if = "is_together")]
        pad: u8,
    },
    /// The indicator was set up.
    SetUp {
        /// How.
        setup: Box<Setup>,
        /// Which pad; 0: all of them.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
        /// Why it was entered although it was judged not to be fit.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        because: Option<String>,
    },
    /// Zero was captured.
    ZeroCaptured {
        /// The point.
        capture: Capture,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// The span weight was chosen and keyed in.
    SpanChosen {
        /// The weight.
        weight: Mass,
        /// The pieces it is made of, where they were named.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        with: Vec<UsedPiece>,
        /// How much was asked for.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        school: Option<School>,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// Span was captured.
    SpanCaptured {
        /// The point.
        capture: Capture,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// A further point of the curve.
    PointCaptured {
        /// Its weight.
        weight: Mass,
        /// The point.
        capture: Capture,
        /// The pieces it is made of, where they were named.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        with: Vec<UsedPiece>,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// Zero alone was captured and saved; the span stays as it was.
    ZeroSaved {
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// A correction factor entered in the indicator.
    FactorSet {
        /// As it was.
        old: Decimal,
        /// As it is, in the indicator's digits.
        new: Decimal,
        /// What was on.
        load: Mass,
        /// What was shown with it.
        shown: Mass,
        /// What was shown at zero.
        shown_zero: Mass,
        /// The pieces of the load, where they were named.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        with: Vec<UsedPiece>,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// A motor-driven internal weight matched against external ones.
    InternalMatched {
        /// Its mass as it was kept.
        old: Mass,
        /// As it is kept now.
        new: Mass,
        /// What was on.
        load: Mass,
        /// What was shown with it.
        shown: Mass,
        /// What was shown at zero.
        shown_zero: Mass,
        /// The pieces of the load, where they were named.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        with: Vec<UsedPiece>,
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// It adjusted itself by its internal weight, after that was matched.
    SelfAdjusted {
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// The adjustment was saved in the indicator.
    AdjustmentSaved {
        /// Which pad.
        #[serde(default = "first_pad", skip_serializing_if = "is_first_pad")]
        pad: u8,
    },
    /// The adjustment was abandoned; the one before stands.
    AdjustmentAbandoned {
        /// Why.
        reason: String,
    },
    /// Seal, switch and cover were dealt with.
    SealedUp {
        /// Seal numbers or marks, as they are now.
        seals: String,
        /// The calibration switch is back and the cover on.
        switch_back: bool,
        /// Set-up is locked and unwanted units are off.
        locked: bool,
    },
    /// A remark for the record.
    Remarked {
        /// The remark.
        text: String,
    },
    /// What was around the scale was read.
    ConditionsRead {
        /// What.
        #[serde(flatten)]
        conditions: Conditions,
    },
    /// A photograph or a file is put beside the journal.
    Attached {
        /// What.
        #[serde(flatten)]
        file: AttachedFile,
    },
    /// The customer signs the work as it stands.
    CustomerSigned {
        /// Who signed.
        name: String,
        /// What was drawn.
        path: String,
    },
    /// A slip in what identifies the scale is put right.
    SheetCorrected {
        /// As it is.
        to: Box<Particulars>,
        /// Why.
        reason: String,
    },
    /// The job ends before the scale is proved.
    StoppedShort {
        /// Why.
        reason: String,
    },
    /// An earlier entry is struck out.
    StruckOut {
        /// Which one.
        entry: Uuid,
        /// Why.
        reason: String,
    },
    /// Signed and closed.
    Closed {
        /// The name as signed.
        name: String,
        /// The record waits for a reviewer's approval: the workshop's rule when it was signed. None in
        /// journals from before the rule was part of the signature.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        approval: Option<bool>,
    },
    /// The reviewer sends the signed record back; it is open again.
    SentBack {
        /// What is to be put right.
        remarks: String,
    },
    /// The reviewer approves the signed record.
    Approved {
        /// Remarks.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        remarks: Option<String>,
    },
    /// The signed record is to have a new version; the job is open again.
    Amended {
        /// Number of the record that it takes the place of.
        of: String,
        /// Why.
        reason: String,
    },
}
