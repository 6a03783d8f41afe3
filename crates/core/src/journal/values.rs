//! What entries are made of: who, how a figure came, how the indicator is set up.

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::adjust::Site;
use crate::keying::{MessageMeaning, RangeMode};
use crate::quantity::{Decimal, Division, Mass, Range, Unit};
use crate::wording::Text;

/// Who made an entry.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Signer {
    /// Identity of the person.
    pub id: Uuid,
    /// Name as it stands on the record.
    pub name: String,
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
    pub fn d_at(&self, load: &Mass, direction: Direction) -> &Mass {
        match &self.fine {
            Some(fine)
                if load.abs() <= fine.max
                    && !(self.mode == RangeMode::ByItself && direction == Direction::Down) =>
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

pub(in crate::journal) const fn first_pad() -> u8 {
    FIRST_PAD
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
pub(in crate::journal) const fn is_first_pad(pad: &u8) -> bool {
    *pad == FIRST_PAD
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
pub(in crate::journal) const fn is_together(pad: &u8) -> bool {
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
    /// As left. Stored under its first name.
    #[serde(rename = "prove")]
    Test,
}

/// What a reading is for. Source: OIML R 76-1:2006, A.4.4, A.4.7, A.4.10.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Purpose {
    /// A load across the range.
    #[default]
    Load,
    /// A load at one place of the platform: eccentricity.
    #[serde(rename = "corner")]
    Eccentricity,
    /// The same load again: repeatability.
    #[serde(rename = "repeat")]
    Repeatability,
}

impl Purpose {
    pub(in crate::journal) fn is_load(&self) -> bool {
        *self == Self::Load
    }
}

/// Whether the load was reached going up or coming down.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Direction {
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
