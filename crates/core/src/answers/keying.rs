//! The keying sheet of a job.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::assessment::{held_by_indicator, keying_plan};
use crate::job::SetupDraft;
use crate::journal::JobState;
use crate::keying::{CannotEnter, KeyingSheet, OperatingSettingsForm, Profile, Values, keying_sheet};
use crate::quantity::{Mass, parse_mass};
use crate::refusal::Refusal;

/// What the sheet is for.
#[derive(Deserialize, ToSchema)]
pub struct KeyingQuestion {
    /// The set-up as typed; none: the one in force.
    #[serde(default)]
    setup: Option<SetupDraft>,
    /// Span weights as typed, in rising order; empty: the one that is keyed in, or none yet.
    #[serde(default)]
    weights: Vec<String>,
    /// A correction factor to be entered instead of weights, as typed; empty: none.
    #[serde(default)]
    factor: String,
    /// How it is to behave in use, as typed.
    #[serde(default)]
    operating: OperatingSettingsForm,
}

/// The sheet, or why there is none.
#[derive(Serialize, ToSchema)]
pub struct KeyingReply {
    /// The profile.
    profile: Profile,
    /// The sheet.
    #[schema(required)]
    sheet: Option<KeyingSheet>,
    /// What cannot be entered.
    cannot: Vec<CannotEnter>,
}

/// What the display shows.
#[derive(Deserialize, ToSchema)]
pub struct MessageQuestion {
    /// As it is shown; empty: everything that it may show.
    #[serde(default)]
    pub shown: String,
}

/// The keying sheet of a job's set-up by an indicator's profile.
///
/// # Errors
/// A [`Refusal`] at the field.
pub fn keying_of(state: &JobState, profile: Profile, asked: &KeyingQuestion) -> Result<KeyingReply, Refusal> {
    let setup = match &asked.setup {
        Some(typed) => typed.read()?,
        None => state.setup_in_force().0,
    };
    let unit = profile.weights_in.or(setup.calibrated_in).unwrap_or(setup.d.unit);
    let typed: Vec<Mass> =
        asked.weights.iter().map(|w| parse_mass(w, unit, "weights")).collect::<Result<_, _>>()?;
    let pad = state.here();
    let chosen = || {
        pad.span_weight
            .clone()
            .or_else(|| pad.adjusted.as_ref().and_then(|a| a.proved_by().cloned()))
            .into_iter()
            .collect()
    };
    let factor = Some(asked.factor.trim().replace(',', "."))
        .filter(|text| !text.is_empty())
        .map(|text| text.parse().map_err(|e| Refusal::from(e).at("factor")))
        .transpose()?;
    // With a factor nothing is captured.
    let weights: Vec<Mass> = match (&factor, typed.is_empty()) {
        (Some(_), _) => Vec::new(),
        (None, true) => chosen(),
        (None, false) => typed,
    };
    let plan = keying_plan(state, &setup, &weights, factor, asked.operating.read()?);
    let from: Values = held_by_indicator(state, &profile);
    let (sheet, cannot) = match keying_sheet(&profile, &plan, &from) {
        Ok(sheet) => (Some(sheet), Vec::new()),
        Err(cannot) => (None, cannot),
    };
    Ok(KeyingReply { profile, sheet, cannot })
}
