//! Adjustments without internal counts: a correction factor, an internal weight, a scale that adjusts itself.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::adjust::{internal_weight, new_factor};
use crate::assessment::{Around, comes_to};
use crate::journal::{Body, Entry, JobState, PadState, UsedPiece, entries, keyed_in};
use crate::quantity::{Decimal, Mass, parse_mass};
use crate::refusal::Refusal;

use super::kind::{Admitted, Understood};
use super::pads::known_pad;
use super::words::short;
use super::zero_span::may_adjust;

/// A correction factor worked out anew. `figures`: the load, what is shown with it and at zero, as typed.
pub(in crate::job) fn factor_set(
    state: &JobState,
    around: &Around,
    typed: &str,
    decimals: &str,
    figures: [&str; 3],
    with: &[Uuid],
) -> Result<Body, Refusal> {
    let pad = state.pad_in_hand();
    let old = factor(typed)?;
    let field = state.sheet.profile_facts().and_then(|f| f.factor.as_ref());
    let decimals = match field {
        Some(field) => u32::from(field.decimals.unwrap_or(0)),
        None => decimals_of_factor(decimals)?,
    };
    let [load, shown, shown_zero] = three(state, pad, figures)?;
    let new = new_factor(&old, &load, &shown, &shown_zero).map_err(|e| Refusal::from(e).at("shown"))?;
    let new = new.factor.round_to(i64::from(decimals));
    if let Some(field) = field {
        keyed_in(field, &new, "", decimals).map_err(|r| r.at("shown"))?;
    }
    Ok(Body::FactorSet(entries::FactorSet {
        old,
        new,
        load,
        shown,
        shown_zero,
        with: around.used(state, with)?,
        pad,
    }))
}

/// An internal weight matched against one outside. `figures` as above.
pub(in crate::job) fn internal_matched(
    state: &JobState,
    around: &Around,
    internal: &str,
    figures: [&str; 3],
    with: &[Uuid],
) -> Result<Body, Refusal> {
    let pad = state.pad_in_hand();
    let unit = state.setup_of(pad).0.d.unit;
    let old = parse_mass(internal, unit, "internal")?;
    if !old.value.is_positive() {
        return Err(Refusal::from(Refused::InternalNotPositive { old }));
    }
    let [load, shown, shown_zero] = three(state, pad, figures)?;
    let told = internal_weight(&old, &load, &shown, &shown_zero).map_err(|e| Refusal::from(e).at("shown"))?;
    // Six decimals of the unit are finer than any division of a balance.
    let new = Mass::new(told.internal.value.round_to(6), told.internal.unit);
    Ok(Body::InternalMatched(entries::InternalMatched {
        old,
        new,
        load,
        shown,
        shown_zero,
        with: around.used(state, with)?,
        pad,
    }))
}

/// The pad whose internal weight was matched; else the one that is worked at.
pub(in crate::job) fn matched_pad(state: &JobState) -> u8 {
    let matched = state.pads.iter().position(PadState::awaits_itself);
    matched.and_then(|at| u8::try_from(at + 1).ok()).unwrap_or_else(|| state.pad_in_hand())
}

/// A correction factor, as typed.
pub(in crate::job) fn factor(text: &str) -> Result<Decimal, Refusal> {
    let refused = || Refusal::from(Refused::NoFactorTyped { short: short(text) });
    let factor: Decimal = text.trim().replace(',', ".").parse().map_err(|_| refused())?;
    if !factor.is_positive() {
        return Err(Refusal::from(Refused::FactorNotPositive { factor }));
    }
    Ok(factor)
}

/// Most decimals of a correction factor.
const MOST_DECIMALS: u32 = 9;

/// Decimals of an indicator's factor, as typed.
fn decimals_of_factor(text: &str) -> Result<u32, Refusal> {
    let refused =
        || Refusal::from(Refused::FactorDecimals { short: short(text), most_decimals: MOST_DECIMALS });
    text.trim().parse::<u32>().ok().filter(|n| *n <= MOST_DECIMALS).ok_or_else(refused)
}

/// A load and the two readings that belong to it.
fn three(state: &JobState, pad: u8, [load, shown, shown_zero]: [&str; 3]) -> Result<[Mass; 3], Refusal> {
    let unit = state.setup_of(pad).0.d.unit;
    let zero = if shown_zero.trim().is_empty() {
        Mass::zero(unit)
    } else {
        parse_mass(shown_zero, unit, "shown_zero")?
    };
    let load = parse_mass(load, unit, "load")?;
    if !load.value.is_positive() {
        return Err(Refusal::from(Refused::LoadNotPositive { load }));
    }
    Ok([load, parse_mass(shown, unit, "shown")?, zero])
}

/// Whether a factor may be set.
pub(in crate::job) fn admit_factor(
    state: &JobState,
    new: &Decimal,
    load: &Mass,
    with: &[UsedPiece],
    pad: u8,
) -> Result<(), Refusal> {
    without_capture(state, load, with, pad)?;
    if new.is_positive() {
        return Ok(());
    }
    Err(Refusal::from(Refused::FactorTurnsToZero))
}

/// An indicator that has one.
pub(in crate::job) fn believe_factor(state: &JobState) -> Result<(), Refusal> {
    if state.sheet.profile_facts().is_some_and(|f| f.factor.is_none()) {
        return Err(Refusal::from(Refused::NoFactor));
    }
    Ok(())
}

/// Whether it may adjust itself.
pub(in crate::job) fn admit_itself(state: &JobState, pad: u8) -> Result<(), Refusal> {
    known_pad(state, pad)?;
    if state.pad(pad).awaits_itself() {
        return Ok(());
    }
    Err(Refusal::from(Refused::NoInternal))
}

/// An adjustment that is not captured in counts: nothing else may be under way.
pub(in crate::job) fn without_capture(
    state: &JobState,
    load: &Mass,
    with: &[UsedPiece],
    pad: u8,
) -> Result<(), Refusal> {
    may_adjust(state, pad)?;
    if state.adjusting() {
        return Err(Refusal::from(Refused::Adjusting));
    }
    if !load.value.is_positive() || *load > state.setup_of(pad).0.max {
        return Err(Refusal::from(Refused::AboveMax { load: load.clone() }));
    }
    comes_to(load, with)
}

/// A correction factor entered in the indicator.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct FactorSetDraft {
    /// The factor as it was, as typed.
    pub factor: String,
    /// What was on, as typed.
    pub load: String,
    /// What was shown with it, as typed.
    pub shown: String,
    /// What was shown at zero, as typed; empty: zero.
    #[serde(default)]
    pub shown_zero: String,
    /// Decimals of the indicator's factor, as typed; empty: those of its profile.
    #[serde(default, deserialize_with = "text_or_number")]
    #[schema(value_type = String)]
    pub decimals: String,
    /// The pieces of the load, from the kit.
    #[serde(default)]
    pub with: Vec<Uuid>,
}

impl Understood for FactorSetDraft {
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let figures = [self.load.as_str(), &self.shown, &self.shown_zero];
        factor_set(state, around, &self.factor, &self.decimals, figures, &self.with)
    }
}

impl Admitted for entries::FactorSet {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_factor(state, &self.new, &self.load, &self.with, self.pad)
    }

    fn believe(&self, state: &JobState) -> Result<(), Refusal> {
        believe_factor(state)
    }
}

/// An internal weight matched against external ones.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct InternalMatchedDraft {
    /// Its mass as it was kept, as typed.
    pub internal: String,
    /// What was on, as typed.
    pub load: String,
    /// What was shown with it, as typed.
    pub shown: String,
    /// What was shown at zero, as typed; empty: zero.
    #[serde(default)]
    pub shown_zero: String,
    /// The pieces of the load, from the kit.
    #[serde(default)]
    pub with: Vec<Uuid>,
}

impl Understood for InternalMatchedDraft {
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let figures = [self.load.as_str(), &self.shown, &self.shown_zero];
        internal_matched(state, around, &self.internal, figures, &self.with)
    }
}

impl Admitted for entries::InternalMatched {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        without_capture(state, &self.load, &self.with, self.pad)
    }
}

impl Admitted for entries::SelfAdjusted {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_itself(state, self.pad)
    }
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

crate::refusals! {
    enum Refused {
        InternalNotPositive { old: Mass } = "not_positive" at "internal":
            text!("draft-an-internal-weight-is-above", old);
        NoFactorTyped { short: String } = "not_a_number" at "factor":
            text!("draft-short-is-no-factor-a", short);
        FactorNotPositive { factor: Decimal } = "not_positive" at "factor":
            text!("draft-a-factor-is-above-zero", factor);
        FactorDecimals { short: String, most_decimals: u32 } = "not_a_number" at "decimals":
            text!("draft-short-a-factor-has-0", short, most_decimals);
        LoadNotPositive { load: Mass } = "not_positive" at "load": text!("draft-a-load-is-above-zero", load);
        FactorTurnsToZero = "not_positive" at "decimals":
            text!("admit-in-these-digits-the-new"),
            then text!("admit-take-more-decimals");
        NoFactor = "no_factor":
            text!("admit-by-its-profile-this-indicator"),
            then text!("admit-capture-zero-and-span-with");
        NoInternal = "no_internal":
            text!("admit-no-internal-weight-was-matched"),
            then text!("admit-match-the-internal-weight-first");
        Adjusting = "adjusting":
            text!("admit-zero-or-span-is-captured"),
            then text!("admit-save-or-abandon-the-adjustment");
        AboveMax { load: Mass } = "above_max" at "load": text!("admit-load-is-not-between-zero", load);
    }
}
