//! Discrimination: 1.4 d added to a load at rest. Source: OIML R 76-1:2006, A.4.8.

use crate::journal::{Body, FIRST_PAD, JobState, ReadStage, Way};
use crate::quantity::{Decimal, Mass, parse_mass};
use crate::refusal::Refusal;

use super::pads::{known_pad, setup_at};
use super::reading::{may_be_read, on_the_display};

/// The entry of it, as typed.
pub(in crate::job) fn typed(
    state: &JobState,
    stage: ReadStage,
    load: &str,
    [before, after]: [&str; 2],
    pad: Option<u8>,
) -> Result<Body, Refusal> {
    let pad = pad.unwrap_or(FIRST_PAD);
    let setup = setup_at(state, stage, pad);
    let unit = setup.d.unit;
    let load = if load.trim().is_empty() { Mass::zero(unit) } else { parse_mass(load, unit, "load")? };
    let added = setup.d_at(&load, Way::Up).times(&Decimal::new(14, 1));
    let figure = |field: &str, text: &str| -> Result<Mass, Refusal> {
        let mass = parse_mass(text, unit, field)?;
        on_the_display(&setup, &mass, &load, Way::Up)
            .map_err(|refusal| Refusal { field: Some(field.into()), ..refusal })?;
        Ok(mass)
    };
    let (before, after) = (figure("before", before)?, figure("after", after)?);
    Ok(Body::Discriminated { stage, load, added, before, after, pad })
}

/// Whether it may follow.
pub(in crate::job) fn admit(
    state: &JobState,
    stage: ReadStage,
    load: &Mass,
    [before, after]: [&Mass; 2],
    pad: u8,
) -> Result<(), Refusal> {
    known_pad(state, pad)?;
    let shown = |field: &'static str| {
        move |r: Refusal| if r.field.as_deref() == Some("shown") { r.at(field) } else { r }
    };
    may_be_read(state, stage, load, before, pad).map_err(shown("before"))?;
    may_be_read(state, stage, load, after, pad).map_err(shown("after"))
}
