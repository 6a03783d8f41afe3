//! From what was typed, or read from the connected indicator, to an entry. Text stays text until
//! here, so that every field is read by the same rules and refused at its place.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::adjust::School;
use crate::assessment::Around;
use crate::journal::{
    AttachedFile, Body, CheckFinding, Conditions, JobState, Particulars, ReadStage, Settlement, TOGETHER, Way,
};
use crate::measurement::DecisionRule;
use crate::refusal::Refusal;
use crate::tolerance::{HouseForm, Tolerance};

use super::kinds::words::said;
use super::kinds::{
    Claim, NoFigureDraft, ReadDetail, SetupDraft, Source, discrimination, inspection, judged_by, no_figure,
    reading, setup, uncounted, zero_span,
};

/// An entry as it is typed.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Draft {
    /// An item of the checklist.
    LookedOver {
        /// Which.
        item: String,
        /// What was found.
        finding: CheckFinding,
        /// A note.
        #[serde(default)]
        note: String,
        /// Counts of each cell, as typed, with spaces between; empty: not given.
        #[serde(default)]
        cells: String,
    },
    /// A fault settled.
    FaultSettled {
        /// Which item.
        item: String,
        /// How.
        how: Settlement,
        /// What was done or why.
        #[serde(default)]
        reason: String,
    },
    /// Another tolerance for this job.
    ToleranceChosen {
        /// Which.
        tolerance: Tolerance,
        /// The house rule as it is typed, where it is one.
        #[serde(default)]
        house: Option<HouseForm>,
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// A reading.
    Read {
        /// As found or to prove.
        stage: ReadStage,
        /// What was put on, as typed.
        load: String,
        /// What was shown.
        shown: Source,
        /// Up or down.
        way: Way,
        /// Which pad; none: the one that is worked at.
        #[serde(default)]
        pad: Option<u8>,
        /// The pieces it is made of, from the kit.
        #[serde(default)]
        with: Vec<Uuid>,
        /// Why pieces that are not fit for a proof are taken.
        #[serde(default)]
        overruled: String,
        /// Refuse a load that was read in this direction already, unless that is what is meant.
        #[serde(default)]
        once: bool,
        /// What else is to be said of it.
        #[serde(flatten, default)]
        detail: ReadDetail,
    },
    /// A load at which the display shows no figure that can be read.
    NoFigureRead {
        /// As found or to prove.
        stage: ReadStage,
        /// What was put on, as typed; empty: nothing.
        #[serde(default)]
        load: String,
        /// What the display does.
        display: NoFigureDraft,
        /// Increasing or decreasing.
        way: Way,
        /// Which pad; none: the first.
        #[serde(default)]
        pad: Option<u8>,
    },
    /// How the indicator was found to be set up.
    SetupFound {
        /// As found.
        setup: SetupDraft,
        /// The correction factor that it holds, as typed; empty: none.
        #[serde(default)]
        factor: String,
    },
    /// A small weight added to a load at rest.
    Discriminated {
        /// As found or to prove.
        stage: ReadStage,
        /// What is on, as typed; empty: nothing.
        #[serde(default)]
        load: String,
        /// What was shown before, as typed.
        before: String,
        /// What was shown after 1.4 d were added, as typed.
        after: String,
        /// Which pad; none: the first.
        #[serde(default)]
        pad: Option<u8>,
    },
    /// How the uncertainty enters the verdict on this job.
    DecisionChosen {
        /// How.
        rule: DecisionRule,
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// How much span weight is asked for on this job.
    SchoolChosen {
        /// How much.
        school: School,
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// The counters of changes, as typed.
    CountersRead {
        /// As found or as left.
        stage: ReadStage,
        /// Changes of the set-up.
        #[serde(default)]
        setup: String,
        /// Calibrations.
        #[serde(default)]
        calibration: String,
    },
    /// Left alone.
    LeftAlone {
        /// Why.
        #[serde(default)]
        reason: String,
        /// Which pad; none: the whole scale.
        #[serde(default)]
        pad: Option<u8>,
    },
    /// The set-up.
    SetUp(SetupDraft),
    /// Zero.
    ZeroCaptured {
        /// Its counts.
        counts: Source,
        /// Which pad; none: the one that is worked at.
        #[serde(default)]
        pad: Option<u8>,
        /// What is said beside it.
        #[serde(flatten, default)]
        claim: Claim,
    },
    /// The span weight.
    SpanChosen {
        /// As typed.
        weight: String,
        /// Which pad; none: the one that is worked at.
        #[serde(default)]
        pad: Option<u8>,
        /// The pieces it is made of, from the kit.
        #[serde(default)]
        with: Vec<Uuid>,
    },
    /// Span.
    SpanCaptured {
        /// Its counts.
        counts: Source,
        /// Which pad; none: the one that is worked at.
        #[serde(default)]
        pad: Option<u8>,
        /// What is said beside it.
        #[serde(flatten, default)]
        claim: Claim,
    },
    /// A further point of the curve.
    PointCaptured {
        /// Its weight, as typed.
        weight: String,
        /// Its counts.
        counts: Source,
        /// The pieces it is made of, from the kit.
        #[serde(default)]
        with: Vec<Uuid>,
        /// Which pad; none: the one that is worked at.
        #[serde(default)]
        pad: Option<u8>,
    },
    /// Zero alone saved in the indicator.
    ZeroSaved,
    /// A correction factor entered in the indicator.
    FactorSet {
        /// The factor as it was, as typed.
        factor: String,
        /// What was on, as typed.
        load: String,
        /// What was shown with it, as typed.
        shown: String,
        /// What was shown at zero, as typed; empty: zero.
        #[serde(default)]
        shown_zero: String,
        /// Decimals of the indicator's factor, as typed; empty: those of its profile.
        #[serde(default, deserialize_with = "text_or_number")]
        #[schema(value_type = String)]
        decimals: String,
        /// The pieces of the load, from the kit.
        #[serde(default)]
        with: Vec<Uuid>,
    },
    /// An internal weight matched against external ones.
    InternalMatched {
        /// Its mass as it was kept, as typed.
        internal: String,
        /// What was on, as typed.
        load: String,
        /// What was shown with it, as typed.
        shown: String,
        /// What was shown at zero, as typed; empty: zero.
        #[serde(default)]
        shown_zero: String,
        /// The pieces of the load, from the kit.
        #[serde(default)]
        with: Vec<Uuid>,
    },
    /// It adjusted itself by its internal weight.
    SelfAdjusted,
    /// Saved in the indicator.
    AdjustmentSaved,
    /// Abandoned.
    AdjustmentAbandoned {
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// Seals, switch, lock.
    SealedUp {
        /// Seal numbers.
        #[serde(default)]
        seals: String,
        /// Switch back, cover on.
        switch_back: bool,
        /// Set-up locked.
        locked: bool,
    },
    /// A remark.
    Remarked {
        /// The remark.
        text: String,
    },
    /// What is around the scale.
    ConditionsRead {
        /// °C, as typed.
        #[serde(default)]
        temperature: String,
        /// % relative humidity, as typed.
        #[serde(default)]
        humidity: String,
        /// hPa, as typed.
        #[serde(default)]
        pressure: String,
        /// Anything else.
        #[serde(default)]
        note: String,
        /// With which instruments.
        #[serde(default)]
        instruments: Vec<Uuid>,
    },
    /// A photograph or a file, as it was sent up.
    Attached {
        /// What.
        #[serde(flatten)]
        file: AttachedFile,
    },
    /// The customer signs.
    CustomerSigned {
        /// Who signs.
        #[serde(default)]
        name: String,
        /// What was drawn.
        #[serde(default)]
        path: String,
    },
    /// A slip in what identifies the scale.
    SheetCorrected {
        /// As it is.
        to: Particulars,
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// Stopped short.
    StoppedShort {
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// An entry struck out.
    StruckOut {
        /// Which.
        entry: Uuid,
        /// Why.
        #[serde(default)]
        reason: String,
    },
    /// Signed.
    Closed {
        /// The name of the account that signs; what a client sends is not taken.
        #[serde(default)]
        name: String,
    },
    /// Sent back.
    SentBack {
        /// What is to be put right.
        #[serde(default)]
        remarks: String,
    },
    /// Approved.
    Approved {
        /// Remarks.
        #[serde(default)]
        remarks: String,
    },
    /// A new version is begun.
    Amended {
        /// Why.
        #[serde(default)]
        reason: String,
    },
}

impl Draft {
    /// A reading as typed, both figures in the display's unit where they name none: nothing else is said of it.
    pub fn reading(stage: ReadStage, load: &str, shown: &str, way: Way) -> Self {
        Self::Read {
            stage,
            load: load.into(),
            shown: Source::typed(shown),
            way,
            pad: None,
            with: Vec::new(),
            overruled: String::new(),
            once: false,
            detail: ReadDetail::default(),
        }
    }

    /// The same reading, made of these pieces of the kit; any other draft as it is.
    #[must_use]
    pub fn made_of(mut self, pieces: Vec<Uuid>) -> Self {
        if let Self::Read { with, .. } = &mut self {
            *with = pieces;
        }
        self
    }
}

/// Reads a draft in the light of the job: units that were not typed are those of the display. Where more than
/// passing it on is to be done, the file of its kind does it.
///
/// # Errors
/// A [`Refusal`] at its field.
pub fn interpret(state: &JobState, draft: Draft, around: &Around) -> Result<Body, Refusal> {
    let live = around.live;
    Ok(match draft {
        Draft::LookedOver { item, finding, note, cells } => {
            inspection::looked_over(state, item, finding, note, &cells)?
        }
        Draft::FaultSettled { item, how, reason } => Body::FaultSettled { item, how, reason },
        Draft::ToleranceChosen { tolerance, house, reason } => {
            judged_by::tolerance(state, tolerance, house, reason)?
        }
        Draft::DecisionChosen { rule, reason } => Body::DecisionChosen { rule, reason },
        Draft::SchoolChosen { school, reason } => Body::SchoolChosen { school, reason },
        Draft::Read { stage, load, shown, way, pad, with, overruled, once, detail } => {
            let typed = reading::Typed { stage, load: &load, shown: &shown, way, pad, detail: &detail };
            let body = reading::typed(state, &typed, around.used(state, &with)?, said(overruled), live)?;
            if once {
                reading::not_read_before(state, &body)?;
            }
            body
        }
        Draft::NoFigureRead { stage, load, display, way, pad } => {
            no_figure::typed(state, stage, &load, display, way, pad)?
        }
        Draft::Discriminated { stage, load, before, after, pad } => {
            discrimination::typed(state, stage, &load, [&before, &after], pad)?
        }
        Draft::CountersRead { stage, setup, calibration } => {
            setup::counters_read(stage, &setup, &calibration)?
        }
        Draft::SetUp(typed) => setup::typed(state, typed)?,
        Draft::SetupFound { setup, factor } => setup::found(&setup, &factor)?,
        Draft::LeftAlone { reason, pad } => Body::LeftAlone { reason, pad: pad.unwrap_or(TOGETHER) },
        Draft::ZeroCaptured { counts, pad, claim } => zero_span::zero(state, &counts, pad, &claim, live)?,
        Draft::SpanChosen { weight, pad, with } => {
            zero_span::span_chosen(state, around, &weight, pad, &with)?
        }
        Draft::SpanCaptured { counts, pad, claim } => zero_span::span(state, &counts, pad, &claim, live)?,
        Draft::PointCaptured { weight, counts, with, pad } => {
            zero_span::point(state, around, &weight, &counts, &with, pad)?
        }
        Draft::ZeroSaved => Body::ZeroSaved { pad: state.pad_in_hand() },
        Draft::AdjustmentSaved => Body::AdjustmentSaved { pad: state.pad_in_hand() },
        Draft::AdjustmentAbandoned { reason } => Body::AdjustmentAbandoned { reason },
        Draft::FactorSet { factor, load, shown, shown_zero, decimals, with } => {
            let figures = [load.as_str(), &shown, &shown_zero];
            uncounted::factor_set(state, around, &factor, &decimals, figures, &with)?
        }
        Draft::InternalMatched { internal, load, shown, shown_zero, with } => {
            let figures = [load.as_str(), &shown, &shown_zero];
            uncounted::internal_matched(state, around, &internal, figures, &with)?
        }
        Draft::SelfAdjusted => Body::SelfAdjusted { pad: uncounted::matched_pad(state) },
        Draft::SealedUp { seals, switch_back, locked } => Body::SealedUp { seals, switch_back, locked },
        Draft::Remarked { text } => Body::Remarked { text },
        Draft::StoppedShort { reason } => Body::StoppedShort { reason },
        Draft::StruckOut { entry, reason } => Body::StruckOut { entry, reason },
        Draft::Closed { name } => Body::Closed { name: name.trim().to_owned(), approval: around.approval },
        Draft::ConditionsRead { temperature, humidity, pressure, note, instruments } => {
            let mut conditions = Conditions::typed(&temperature, &humidity, &pressure, &note)?;
            conditions.instruments = around.read_with(&instruments)?;
            Body::ConditionsRead { conditions }
        }
        Draft::Attached { file } => Body::Attached { file },
        Draft::CustomerSigned { name, path } => {
            Body::CustomerSigned { name: name.trim().to_owned(), path: path.trim().to_owned() }
        }
        Draft::SheetCorrected { to, reason } => Body::SheetCorrected { to: Box::new(to), reason },
        Draft::SentBack { remarks } => Body::SentBack { remarks },
        Draft::Approved { remarks } => Body::Approved { remarks: said(remarks) },
        Draft::Amended { reason } => {
            Body::Amended { of: around.number.unwrap_or_default().to_owned(), reason }
        }
    })
}

/// A whole number that a page may send as text or as a number.
fn text_or_number<'de, D: serde::Deserializer<'de>>(from: D) -> Result<String, D::Error> {
    #[derive(Deserialize)]
    #[serde(untagged)]
    enum Either {
        Text(String),
        Number(serde_json::Number),
    }
    Ok(match Either::deserialize(from)? {
        Either::Text(text) => text,
        Either::Number(number) => number.to_string(),
    })
}
