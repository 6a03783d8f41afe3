//! Discrimination: 1.4 d added to a load at rest. Source: OIML R 76-1:2006, A.4.8.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::assessment::Around;
use crate::journal::{Body, Direction, Entry, FIRST_PAD, JobState, ReadStage, entries};
use crate::quantity::{Decimal, Mass, parse_mass};
use crate::refusal::Refusal;

use super::kind::{Admitted, Understood};
use super::pads::{known_pad, setup_at};
use super::reading::{may_be_read, on_the_display};

/// A small weight added to a load at rest.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct DiscriminatedDraft {
    /// As found or to prove.
    pub stage: ReadStage,
    /// What is on, as typed; empty: nothing.
    #[serde(default)]
    pub load: String,
    /// What was shown before, as typed.
    pub before: String,
    /// What was shown after 1.4 d were added, as typed.
    pub after: String,
    /// Which pad; none: the first.
    #[serde(default)]
    pub pad: Option<u8>,
}

impl Understood for DiscriminatedDraft {
    fn understood(self, state: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { stage, load, before, after, pad } = self;
        let pad = pad.unwrap_or(FIRST_PAD);
        let setup = setup_at(state, stage, pad);
        let unit = setup.d.unit;
        let load = if load.trim().is_empty() { Mass::zero(unit) } else { parse_mass(&load, unit, "load")? };
        let added = setup.d_at(&load, Direction::Up).times(&Decimal::new(14, 1));
        let figure = |field: &str, text: &str| -> Result<Mass, Refusal> {
            let mass = parse_mass(text, unit, field)?;
            on_the_display(&setup, &mass, &load, Direction::Up)
                .map_err(|refusal| Refusal { field: Some(field.into()), ..refusal })?;
            Ok(mass)
        };
        let (before, after) = (figure("before", &before)?, figure("after", &after)?);
        Ok(entries::Discriminated { stage, load, added, before, after, pad }.into())
    }
}

impl Admitted for entries::Discriminated {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        known_pad(state, self.pad)?;
        let shown = |field: &'static str| {
            move |r: Refusal| if r.field.as_deref() == Some("shown") { r.at(field) } else { r }
        };
        let read = |shown| may_be_read(state, self.stage, &self.load, shown, self.pad);
        read(&self.before).map_err(shown("before"))?;
        read(&self.after).map_err(shown("after"))
    }
}
