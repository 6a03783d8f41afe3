//! From what was typed, or read from the connected indicator, to an entry. Text stays text until
//! here, so that every field is read by the same rules and refused at its place.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::adjust::{School, Site, given_g, internal_weight, new_factor};
use crate::assessment::Around;
use crate::grade::Grade;
use crate::journal::{
    AttachedFile, Body, Capture, CheckFinding, Conditions, Counters, Heard, JobState, NoFigure, Observation,
    Particulars, Purpose, ReadStage, Settlement, Setup, Silence, Taken, UsedPiece, Way,
};
use crate::keying::RangeMode;
use crate::measurement::DecisionRule;
use crate::quantity::{Decimal, Division, Mass, Range, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::tolerance::{HouseForm, Scheme, Tolerance};

/// Where a figure comes from.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum Source {
    /// Typed by a person.
    Typed {
        /// As typed.
        text: String,
        /// The person saw the steady sign for about three seconds.
        #[serde(default)]
        steady: bool,
    },
    /// From the connected indicator.
    Live,
}

/// A set-up as it is typed.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SetupDraft {
    /// Max, as typed.
    pub max: String,
    /// Division, as typed.
    pub d: String,
    /// The unit for both.
    pub unit: Unit,
    /// Decimals, as typed; empty: as the division needs.
    #[serde(default)]
    pub decimals: String,
    /// How the ranges work.
    #[serde(default)]
    pub mode: RangeMode,
    /// Upper limit of the finer range, as typed.
    #[serde(default)]
    pub fine_max: String,
    /// Division of the finer range, as typed.
    #[serde(default)]
    pub fine_d: String,
    /// The unit that weights are keyed in; none: the display's.
    #[serde(default)]
    pub calibrated_in: Option<Unit>,
    /// Where it is adjusted, where that is not the place of use.
    #[serde(default)]
    pub adjusted_at: Option<Site>,
    /// g to be entered, as typed; empty: none.
    #[serde(default)]
    pub gravity: String,
    /// Which pad; 0: all of them; none: the one that is worked at.
    #[serde(default)]
    pub pad: Option<u8>,
    /// It is understood that a capture under way is voided by it.
    #[serde(default)]
    pub agreed: bool,
    /// Why it is entered although it is judged not to be fit; empty: no reason.
    #[serde(default)]
    pub because: String,
}

impl SetupDraft {
    /// One range, nothing else said.
    pub fn new(max: &str, d: &str, unit: Unit) -> Self {
        Self {
            max: max.into(),
            d: d.into(),
            unit,
            decimals: String::new(),
            mode: RangeMode::Single,
            fine_max: String::new(),
            fine_d: String::new(),
            calibrated_in: None,
            adjusted_at: None,
            gravity: String::new(),
            pad: None,
            agreed: false,
            because: String::new(),
        }
    }
}

/// What else may be said of a reading.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
pub struct ReadDetail {
    /// What it is for.
    #[serde(default)]
    pub purpose: Purpose,
    /// The place where it stands, where it is for the corners; 0: the middle.
    #[serde(default)]
    pub spot: Option<u8>,
    /// Small weights that were added until the display changed, as typed; empty: none.
    #[serde(default)]
    pub added: String,
    /// Substitutions before the load was reached, as typed; empty: none.
    #[serde(default)]
    pub substituted: String,
}

/// What a person says beside a capture.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
pub struct Claim {
    /// What the display showed, as typed; empty: not told.
    #[serde(default)]
    pub shown: String,
    /// Why it is taken although it does not look like what it is meant to be; empty: no reason.
    #[serde(default)]
    pub because: String,
}

/// What a display does that shows no figure, as typed.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(tag = "display", rename_all = "snake_case")]
pub enum NoFigureDraft {
    /// Nothing at all.
    Blank,
    /// Dashes or a sign for too much.
    Over,
    /// Dashes or a sign for too little.
    Under,
    /// A text.
    Text {
        /// As it stands there.
        text: String,
    },
    /// It goes to and fro between two figures.
    Flickers {
        /// The lower one, as typed.
        from: String,
        /// The higher one, as typed.
        to: String,
    },
}

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

impl Source {
    /// Typed by a person who saw the steady sign.
    pub fn typed(text: impl Into<String>) -> Self {
        Self::Typed { text: text.into(), steady: true }
    }
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

/// Reads a draft in the light of the job: units that were not typed are those of the display.
///
/// # Errors
/// A [`Refusal`] at its field.
pub fn interpret(state: &JobState, draft: Draft, around: &Around) -> Result<Body, Refusal> {
    let live = around.live;
    Ok(match draft {
        Draft::LookedOver { item, finding, note, cells } => {
            let cells = crate::journal::typed(&cells, state)?;
            Body::LookedOver { item, finding, note: said(note), cells }
        }
        Draft::FaultSettled { item, how, reason } => Body::FaultSettled { item, how, reason },
        Draft::ToleranceChosen { mut tolerance, house, reason } => {
            if let (Scheme::House, Some(form)) = (tolerance.scheme, house) {
                tolerance.house = Some(form.read(state.setup_in_force().0.d.unit)?);
            }
            Body::ToleranceChosen { tolerance, reason }
        }
        Draft::Read { stage, load, shown, way, pad, with, overruled, once, detail } => {
            let typed = Typed { stage, load: &load, shown: &shown, way, pad, detail: &detail };
            let body = read(state, &typed, around.used(state, &with)?, said(overruled), live)?;
            if once {
                not_read_before(state, &body)?;
            }
            body
        }
        Draft::Discriminated { stage, load, before, after, pad } => {
            let pad = pad.unwrap_or(crate::journal::FIRST_PAD);
            let (setup, _) =
                if stage == ReadStage::AsFound { state.setup_as_found_of(pad) } else { state.setup_of(pad) };
            let unit = setup.d.unit;
            let load =
                if load.trim().is_empty() { Mass::zero(unit) } else { parse_mass(&load, unit, "load")? };
            let added = setup.d_at(&load, Way::Up).times(&Decimal::new(14, 1));
            let figure = |field: &str, text: &str| -> Result<Mass, Refusal> {
                let mass = parse_mass(text, unit, field)?;
                super::capture::on_the_display(&setup, &mass, &load, Way::Up)
                    .map_err(|refusal| Refusal { field: Some(field.into()), ..refusal })?;
                Ok(mass)
            };
            let (before, after) = (figure("before", &before)?, figure("after", &after)?);
            Body::Discriminated { stage, load, added, before, after, pad }
        }
        Draft::DecisionChosen { rule, reason } => Body::DecisionChosen { rule, reason },
        Draft::SchoolChosen { school, reason } => Body::SchoolChosen { school, reason },
        Draft::CountersRead { stage, setup, calibration } => {
            Body::CountersRead { stage, counters: counters(&setup, &calibration)? }
        }
        Draft::LeftAlone { reason, pad } => {
            Body::LeftAlone { reason, pad: pad.unwrap_or(crate::journal::TOGETHER) }
        }
        Draft::SetUp(typed) => {
            let pad = typed.pad.unwrap_or_else(|| state.pad_in_hand());
            let setup = typed.read()?;
            voiding(state, &setup, pad, typed.agreed)?;
            // A reason stands only where there is something to overrule.
            let refused = || {
                crate::assessment::judge_setup(state, &setup, pad.max(crate::journal::FIRST_PAD)).overall
                    == Grade::Refuse
            };
            let because = said(typed.because).filter(|_| refused());
            Body::SetUp { setup: Box::new(setup), pad, because }
        }
        Draft::ZeroCaptured { counts, pad, claim } => {
            let pad = pad.unwrap_or_else(|| state.pad_in_hand());
            let capture = claimed(state, pad, capture(&counts, live)?, &claim)?;
            Body::ZeroCaptured { capture, pad }
        }
        Draft::NoFigureRead { stage, load, display, way, pad } => {
            let pad = pad.unwrap_or(crate::journal::FIRST_PAD);
            let unit = setup_at(state, stage, pad).d.unit;
            let load =
                if load.trim().is_empty() { Mass::zero(unit) } else { parse_mass(&load, unit, "load")? };
            Body::NoFigureRead { stage, load, display: no_figure(display, unit, &state.sheet)?, way, pad }
        }
        Draft::SetupFound { setup, factor } => {
            let pad = setup.pad.unwrap_or(crate::journal::FIRST_PAD);
            let factor = if factor.trim().is_empty() { None } else { Some(self::factor(&factor)?) };
            Body::SetupFound { setup: Box::new(setup.read()?), factor, pad }
        }
        Draft::SpanChosen { weight, pad, with } => {
            let pad = pad.unwrap_or_else(|| state.pad_in_hand());
            let (setup, _) = state.setup_of(pad);
            let school = state.school.as_ref().map_or(around.school, |(school, _)| *school);
            Body::SpanChosen {
                weight: span_weight(&weight, &setup)?,
                with: around.used(state, &with)?,
                school: Some(school),
                pad,
            }
        }
        Draft::SpanCaptured { counts, pad, claim } => {
            let pad = pad.unwrap_or_else(|| state.pad_in_hand());
            let capture = claimed(state, pad, capture(&counts, live)?, &claim)?;
            Body::SpanCaptured { capture, pad }
        }
        Draft::PointCaptured { weight, counts, with, pad } => {
            let pad = pad.unwrap_or_else(|| state.pad_in_hand());
            let (setup, _) = state.setup_of(pad);
            let weight = parse_mass(&weight, setup.calibrated_in.unwrap_or(setup.d.unit), "weight")?;
            Body::PointCaptured {
                weight,
                capture: capture(&counts, live)?,
                with: around.used(state, &with)?,
                pad,
            }
        }
        Draft::ZeroSaved => Body::ZeroSaved { pad: state.pad_in_hand() },
        Draft::FactorSet { factor, load, shown, shown_zero, decimals, with } => {
            let pad = state.pad_in_hand();
            let old = self::factor(&factor)?;
            let field = state.sheet.profile_facts().and_then(|f| f.factor.as_ref());
            let decimals = match field {
                Some(field) => u32::from(field.decimals.unwrap_or(0)),
                None => decimals_of_factor(&decimals)?,
            };
            let [load, shown, shown_zero] = three(state, pad, &load, &shown, &shown_zero)?;
            let new =
                new_factor(&old, &load, &shown, &shown_zero).map_err(|e| Refusal::from(e).at("shown"))?;
            let new = new.factor.round_to(i64::from(decimals));
            if let Some(field) = field {
                crate::journal::keyed_in(field, &new, "", decimals).map_err(|r| r.at("shown"))?;
            }
            Body::FactorSet { old, new, load, shown, shown_zero, with: around.used(state, &with)?, pad }
        }
        Draft::InternalMatched { internal, load, shown, shown_zero, with } => {
            let pad = state.pad_in_hand();
            let unit = state.setup_of(pad).0.d.unit;
            let old = parse_mass(&internal, unit, "internal")?;
            if !old.value.is_positive() {
                return Err(Refusal::new("not_positive", text!("draft-an-internal-weight-is-above", old))
                    .at("internal"));
            }
            let [load, shown, shown_zero] = three(state, pad, &load, &shown, &shown_zero)?;
            let told = internal_weight(&old, &load, &shown, &shown_zero)
                .map_err(|e| Refusal::from(e).at("shown"))?;
            // Six decimals of the unit are finer than any division of a balance.
            let new = Mass::new(told.internal.value.round_to(6), told.internal.unit);
            Body::InternalMatched { old, new, load, shown, shown_zero, with: around.used(state, &with)?, pad }
        }
        Draft::SelfAdjusted => Body::SelfAdjusted { pad: matched_pad(state) },
        Draft::AdjustmentSaved => Body::AdjustmentSaved { pad: state.pad_in_hand() },
        Draft::AdjustmentAbandoned { reason } => Body::AdjustmentAbandoned { reason },
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

/// The pad whose internal weight was matched; else the one that is worked at.
fn matched_pad(state: &JobState) -> u8 {
    let matched = state.pads.iter().position(crate::journal::PadState::awaits_itself);
    matched.and_then(|at| u8::try_from(at + 1).ok()).unwrap_or_else(|| state.pad_in_hand())
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

fn short(text: &str) -> String {
    text.trim().chars().take(24).collect()
}

/// A correction factor, as typed.
fn factor(text: &str) -> Result<Decimal, Refusal> {
    let refused = || {
        Refusal::new("not_a_number", text!("draft-short-is-no-factor-a", short = short(text))).at("factor")
    };
    let factor: Decimal = text.trim().replace(',', ".").parse().map_err(|_| refused())?;
    if !factor.is_positive() {
        return Err(Refusal::new("not_positive", text!("draft-a-factor-is-above-zero", factor)).at("factor"));
    }
    Ok(factor)
}

/// Decimals of an indicator's factor, as typed.
fn decimals_of_factor(text: &str) -> Result<u32, Refusal> {
    let refused = || {
        Refusal::new(
            "not_a_number",
            text!("draft-short-a-factor-has-0", short = short(text), most_decimals = MOST_DECIMALS),
        )
        .at("decimals")
    };
    text.trim().parse::<u32>().ok().filter(|n| *n <= MOST_DECIMALS).ok_or_else(refused)
}

fn setup_at(state: &JobState, stage: ReadStage, pad: u8) -> Setup {
    match stage {
        ReadStage::AsFound => state.setup_as_found_of(pad).0,
        ReadStage::Prove => state.setup_of(pad).0,
    }
}

fn no_figure(
    typed: NoFigureDraft,
    unit: Unit,
    sheet: &crate::scale::ScaleSheet,
) -> Result<NoFigure, Refusal> {
    Ok(match typed {
        NoFigureDraft::Blank => NoFigure::Blank,
        NoFigureDraft::Over => NoFigure::Over,
        NoFigureDraft::Under => NoFigure::Under,
        NoFigureDraft::Text { text } if text.trim().is_empty() => {
            return Err(Refusal::new("missing", text!("draft-type-what-the-display-shows")).at("text"));
        }
        NoFigureDraft::Text { text } => {
            let text = text.trim().to_owned();
            let meaning = sheet.profile_facts().and_then(|facts| facts.message(&text));
            NoFigure::Text { text, meaning }
        }
        NoFigureDraft::Flickers { from, to } => {
            let (from, to) = (parse_mass(&from, unit, "from")?, parse_mass(&to, unit, "to")?);
            if from >= to {
                return Err(
                    Refusal::new("out_of_range", text!("draft-the-lower-figure-comes-first")).at("from")
                );
            }
            NoFigure::Flickers { from, to }
        }
    })
}

/// What a person says beside a capture goes with it.
fn claimed(state: &JobState, pad: u8, capture: Capture, claim: &Claim) -> Result<Capture, Refusal> {
    let unit = state.setup_of(pad).0.d.unit;
    let typed =
        if claim.shown.trim().is_empty() { None } else { Some(parse_mass(&claim.shown, unit, "shown")?) };
    Ok(Capture { shown: capture.shown.or(typed), because: said(claim.because.clone()), ..capture })
}

/// A span weight, as typed: a mass, or a percentage of Max as some indicators ask for it.
///
/// # Errors
/// A [`Refusal`] at `weight`.
pub fn span_weight(text: &str, setup: &Setup) -> Result<Mass, Refusal> {
    let unit = setup.calibrated_in.unwrap_or(setup.d.unit);
    let Some(share) = text.trim().strip_suffix('%') else { return Ok(parse_mass(text, unit, "weight")?) };
    let refused = || {
        Refusal::new(
            "not_a_mass",
            text!("draft-string-is-no-percentage-of", string = text.chars().take(24).collect::<String>()),
        )
        .at("weight")
    };
    let share: Decimal = share.trim().replace(',', ".").parse().map_err(|_| refused())?;
    let mass = setup.max.times(&(&share * &Decimal::new(1, 2))).to(unit);
    Ok(Mass::new(mass.value.round_to(9), unit))
}

/// Most decimals of a correction factor.
const MOST_DECIMALS: u32 = 9;

/// A load and the two readings that belong to it.
fn three(state: &JobState, pad: u8, load: &str, shown: &str, shown_zero: &str) -> Result<[Mass; 3], Refusal> {
    let unit = state.setup_of(pad).0.d.unit;
    let zero = if shown_zero.trim().is_empty() {
        Mass::zero(unit)
    } else {
        parse_mass(shown_zero, unit, "shown_zero")?
    };
    let load = parse_mass(load, unit, "load")?;
    if !load.value.is_positive() {
        return Err(Refusal::new("not_positive", text!("draft-a-load-is-above-zero", load)).at("load"));
    }
    Ok([load, parse_mass(shown, unit, "shown")?, zero])
}

fn said(text: String) -> Option<String> {
    Some(text).filter(|t| !t.trim().is_empty())
}

/// A reading as it was typed.
struct Typed<'a> {
    stage: ReadStage,
    load: &'a str,
    shown: &'a Source,
    way: Way,
    pad: Option<u8>,
    detail: &'a ReadDetail,
}

fn read(
    state: &JobState,
    typed: &Typed,
    with: Vec<UsedPiece>,
    overruled: Option<String>,
    live: &Heard,
) -> Result<Body, Refusal> {
    let Typed { stage, load, shown, way, pad, detail } = *typed;
    let pad = pad.unwrap_or_else(|| crate::assessment::pad_to_read(state, stage));
    let setup = setup_at(state, stage, pad);
    // Pieces that are named say what the load is, where it is not typed.
    let load = if load.trim().is_empty() && !with.is_empty() {
        with.iter().fold(Mass::zero(setup.d.unit), |sum, p| sum.plus(&p.nominal))
    } else {
        parse_mass(load, setup.d.unit, "load")?
    };
    let (shown, taken) = match shown {
        Source::Typed { text, .. } => (parse_mass(text, setup.d.unit, "shown")?, Taken::Typed),
        Source::Live => {
            let now = steady(live)?;
            (now.shown.clone(), taken(now))
        }
    };
    super::capture::on_the_display(&setup, &shown, &load, way)?;
    let added = if detail.added.trim().is_empty() {
        None
    } else {
        Some(parse_mass(&detail.added, setup.d.unit, "added")?)
    };
    Ok(Body::Read {
        stage,
        load,
        shown,
        way,
        taken,
        pad,
        with,
        overruled,
        purpose: detail.purpose,
        spot: detail.spot,
        added,
        substituted: rounds(&detail.substituted)?,
    })
}

/// The same load in the same direction is never booked twice without a word.
fn not_read_before(state: &JobState, body: &Body) -> Result<(), Refusal> {
    let Body::Read { stage, load, way, pad, purpose: crate::journal::Purpose::Load, .. } = body else {
        return Ok(());
    };
    let (there, now) = match stage {
        ReadStage::AsFound => (&state.found, state.epoch_of(*pad)),
        ReadStage::Prove => (&state.left, state.epoch_of(*pad)),
    };
    let same = |r: &&crate::journal::Reading| {
        r.counts && r.is_load() && r.epoch == now && r.pad == *pad && r.way == *way && r.load == *load
    };
    let Some(before) = there.iter().rev().find(same) else { return Ok(()) };
    let (setup, _) = state.setup_of(*pad);
    let direction = if *way == Way::Up { text!("word-increasing") } else { text!("word-decreasing") };
    Err(Refusal::new(
        "read_before",
        text!(
            "draft-load-direction-was-read-already",
            load,
            direction,
            setup = crate::wording::figure(setup.text(&before.shown))
        ),
    )
    .at("load")
    .then(text!("draft-enter-it-once-more-to")))
}

/// How often weights were replaced by material, as typed.
fn rounds(text: &str) -> Result<Option<u8>, Refusal> {
    let text = text.trim();
    if text.is_empty() || text == "0" {
        return Ok(None);
    }
    let refused = || {
        Refusal::new(
            "not_rounds",
            text!("draft-string-is-no-number-of", string = text.chars().take(12).collect::<String>()),
        )
        .at("substituted")
    };
    text.parse::<u8>().map(Some).map_err(|_| refused())
}

fn steady(live: &Heard) -> Result<&Observation, Refusal> {
    let now = match live {
        Ok(now) => now,
        Err(Silence(why)) => {
            let refusal = Refusal::new("no_signal", text!("draft-no-reading-comes-from-the", why));
            return Err(refusal.at("shown").then(text!("draft-look-at-the-display-the")));
        }
    };
    if now.steady && now.mark == Some(false) {
        return Err(Refusal::new("own_mark_moving", text!("draft-the-indicators-own-mark-says"))
            .at("shown")
            .then(text!("draft-wait-for-its-own-steady")));
    }
    if now.steady {
        return Ok(now);
    }
    Err(Refusal::new("motion", text!("draft-the-reading-is-still-moving"))
        .at("shown")
        .then(text!("draft-hands-off-wait-until-it")))
}

fn taken(now: &Observation) -> Taken {
    Taken::Live {
        hold_s: now.hold_s.clone(),
        restarts: now.restarts,
        samples: now.samples,
        mean: now.mean.clone(),
    }
}

fn capture(counts: &Source, live: &Heard) -> Result<Capture, Refusal> {
    match counts {
        Source::Typed { text, steady } => {
            let text =
                text.trim().replace(['\u{2212}'], "-").replace([' ', '\u{A0}', '\u{2009}', '\u{202F}'], "");
            let counts = if text.is_empty() {
                None
            } else {
                let whole = |c: &Decimal| c.is_whole();
                let refused = || {
                    Refusal::new(
                        "not_counts",
                        text!(
                            "draft-string-are-no-internal-counts",
                            string = text.chars().take(24).collect::<String>()
                        ),
                    )
                    .at("counts")
                };
                Some(text.parse::<Decimal>().ok().filter(whole).ok_or_else(refused)?)
            };
            if !steady {
                return Err(Refusal::new("motion", text!("draft-it-is-not-said-that"))
                    .at("steady")
                    .then(text!("draft-wait-until-the-steady-sign")));
            }
            Ok(Capture { counts, ..Capture::only(Taken::Typed) })
        }
        Source::Live => {
            let now = self::steady(live)?;
            Ok(Capture {
                counts: now.counts.as_ref().map(|c| c.round_to(1)),
                shown: Some(now.shown.clone()),
                ..Capture::only(taken(now))
            })
        }
    }
}

impl SetupDraft {
    /// The set-up, understood.
    ///
    /// # Errors
    /// A [`Refusal`] at its field.
    pub fn read(&self) -> Result<Setup, Refusal> {
        let mut setup = set_up(&self.max, &self.d, self.unit, &self.decimals)?;
        setup.mode = self.mode;
        setup.fine = fine_range(self.mode, &self.fine_max, &self.fine_d, self.unit)?;
        if let (Some(fine), "") = (&setup.fine, self.decimals.trim()) {
            setup.decimals = Division::new(&fine.d.value)
                .map_err(|e| Refusal::from(e).at("fine_d"))?
                .decimals()
                .max(setup.decimals);
        }
        setup.calibrated_in = self.calibrated_in.filter(|calibrated| *calibrated != self.unit);
        setup.gravity = gravity_entry(&self.gravity)?;
        if let Some(site) = &self.adjusted_at {
            site.g().map_err(|e| Refusal::from(e).at("adjusted_at"))?;
        }
        setup.adjusted_at.clone_from(&self.adjusted_at);
        Ok(setup)
    }
}

/// A capture that a changed set-up would void is not voided unasked.
fn voiding(state: &JobState, setup: &Setup, pad: u8, agreed: bool) -> Result<(), Refusal> {
    let pads = if pad == 0 { 1..=state.sheet.pads } else { pad..=pad };
    let voids = pads.into_iter().any(|pad| state.pad(pad).adjusting() && state.setup_of(pad).0 != *setup);
    if agreed || !voids {
        return Ok(());
    }
    Err(Refusal::new("would_void", text!("draft-zero-or-span-is-captured"))
        .at("agreed")
        .then(text!("draft-save-or-abandon-the-adjustment")))
}

fn counters(setup: &str, calibration: &str) -> Result<Counters, Refusal> {
    let read = |field: &str, text: &str| match text.trim() {
        "" => Ok(None),
        text => text.parse::<u32>().map(Some).map_err(|_| {
            Refusal::new(
                "not_a_number",
                text!("draft-string-is-no-counter-a", string = text.chars().take(24).collect::<String>()),
            )
            .at(field)
        }),
    };
    let counters = Counters {
        setup: read("counter_setup", setup)?,
        calibration: read("counter_calibration", calibration)?,
    };
    if counters.setup.is_none() && counters.calibration.is_none() {
        return Err(Refusal::new("missing", text!("draft-type-what-a-counter-shows")).at("counter_setup"));
    }
    Ok(counters)
}

fn gravity_entry(text: &str) -> Result<Option<Decimal>, Refusal> {
    let text = text.trim().replace(',', ".");
    if text.is_empty() {
        return Ok(None);
    }
    let g: Decimal = text.parse().map_err(|e| Refusal::from(e).at("gravity"))?;
    given_g(&g).map_err(|e| {
        let mut refusal = Refusal::from(e);
        refusal.field = Some("gravity".into());
        refusal
    })?;
    Ok(Some(g))
}

fn fine_range(mode: RangeMode, max: &str, d: &str, unit: Unit) -> Result<Option<Range>, Refusal> {
    if mode == RangeMode::Single {
        return Ok(None);
    }
    let in_unit = |field: &str, text: &str| -> Result<Mass, Refusal> {
        let mass = parse_mass(text, unit, field)?;
        if mass.unit != unit {
            return Err(Refusal::new(
                "unit_differs",
                text!("draft-typed-in-unit-while-the", unit = mass.unit, unit2 = unit),
            )
            .at(field));
        }
        if !mass.value.is_positive() {
            return Err(Refusal::new("not_positive", text!("draft-mass-is-not-above-zero", mass)).at(field));
        }
        Ok(mass)
    };
    Ok(Some(Range { max: in_unit("fine_max", max)?, d: in_unit("fine_d", d)? }))
}

fn set_up(max: &str, d: &str, unit: Unit, decimals: &str) -> Result<Setup, Refusal> {
    let max = parse_mass(max, unit, "max")?;
    let d = parse_mass(d, unit, "d")?;
    if max.unit != unit || d.unit != unit {
        let (field, typed) = if max.unit == unit { ("d", d.unit) } else { ("max", max.unit) };
        return Err(Refusal::new("unit_differs", text!("draft-typed-in-typed-while-the", typed, unit))
            .at(field)
            .then(text!("draft-choose-the-unit-that-the")));
    }
    for (field, mass) in [("max", &max), ("d", &d)] {
        if !mass.value.is_positive() {
            return Err(Refusal::new("not_positive", text!("draft-mass-is-not-above-zero", mass)).at(field));
        }
    }
    let needed = Division::new(&d.value).map_err(|e| Refusal::from(e).at("d"))?.decimals();
    let decimals = match decimals.trim() {
        "" => needed,
        text => text.parse().ok().filter(|n| *n <= 9).ok_or_else(|| {
            Refusal::new("not_a_number", text!("draft-decimals-are-a-whole-number")).at("decimals")
        })?,
    };
    Ok(Setup { decimals, ..Setup::of(max, d) })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kg(text: &str) -> Mass {
        parse_mass(text, Unit::Kg, "test").unwrap()
    }

    #[test]
    fn a_set_up_is_read_with_its_unit_and_refused_at_its_field() {
        let made = set_up("870", "0,2", Unit::Kg, "").unwrap();
        assert_eq!((made.max, made.d, made.decimals), (kg("870"), kg("0.2"), 1));
        for (max, d, decimals, field) in [
            ("-870", "0.2", "", "max"),
            ("8.7.0", "0.2", "", "max"),
            ("1000000000000000000000000000000", "0.2", "", "max"),
            ("870", "3", "", "d"),
            ("870", "abc", "", "d"),
            ("870 lb", "0.2", "", "max"),
            ("870", "0.2", "one", "decimals"),
            ("870", "0.2", "-1", "decimals"),
        ] {
            let refused = set_up(max, d, Unit::Kg, decimals).unwrap_err();
            assert_eq!(refused.field.as_deref(), Some(field), "{max} {d} {decimals}: {refused:?}");
        }
    }

    #[test]
    fn counts_are_whole_may_be_missing_and_need_the_steady_sign() {
        let typed = |text: &str, steady| {
            capture(&Source::Typed { text: text.into(), steady }, &Err(Silence::not_connected()))
        };
        assert_eq!(typed("412 118", true).unwrap().counts, Some("412118".parse().unwrap()));
        assert_eq!(typed(" ", true).unwrap().counts, None);
        assert_eq!(typed("-250", true).unwrap().counts, Some("-250".parse().unwrap()));
        assert_eq!(typed("4.5", true).unwrap_err().code, "not_counts");
        assert_eq!(typed("1e9", true).unwrap_err().code, "not_counts");
        assert_eq!(typed("412118", false).unwrap_err().code, "motion");
        assert_eq!(capture(&Source::Live, &Err(Silence::not_connected())).unwrap_err().code, "no_signal");
    }
}
