//! A display that shows no figure.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::assessment::Around;
use crate::journal::{Body, Direction, Entry, FIRST_PAD, JobState, NoFigure, ReadStage, entries};
use crate::quantity::{Mass, Unit, parse_mass};
use crate::refusal::Refusal;

use super::kind::{Admitted, Understood};
use super::pads::{known_pads, setup_at};
use super::reading::may_be_read;
use super::words::readable;

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
            return Err(Refusal::from(Refused::Missing));
        }
        NoFigureDraft::Text { text } => {
            let text = text.trim().to_owned();
            let meaning = sheet.profile_facts().and_then(|facts| facts.message(&text));
            NoFigure::Text { text, meaning }
        }
        NoFigureDraft::Flickers { from, to } => {
            let (from, to) = (parse_mass(&from, unit, "from")?, parse_mass(&to, unit, "to")?);
            if from >= to {
                return Err(Refusal::from(Refused::OutOfRange));
            }
            NoFigure::Flickers { from, to }
        }
    })
}

/// A load at which the display shows no figure that can be read.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct NoFigureReadDraft {
    /// As found or to prove.
    pub stage: ReadStage,
    /// What was put on, as typed; empty: nothing.
    #[serde(default)]
    pub load: String,
    /// What the display does.
    pub display: NoFigureDraft,
    /// Increasing or decreasing.
    #[serde(alias = "way")]
    pub direction: Direction,
    /// Which pad; none: the first.
    #[serde(default)]
    pub pad: Option<u8>,
}

impl Understood for NoFigureReadDraft {
    fn understood(self, state: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { stage, load, display, direction, pad } = self;
        let pad = pad.unwrap_or(FIRST_PAD);
        let unit = setup_at(state, stage, pad).d.unit;
        let load = if load.trim().is_empty() { Mass::zero(unit) } else { parse_mass(&load, unit, "load")? };
        let display = no_figure(display, unit, &state.sheet)?;
        Ok(entries::NoFigureRead { stage, load, display, direction, pad }.into())
    }
}

impl Admitted for entries::NoFigureRead {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        known_pads(state, self.pad)?;
        if let NoFigure::Text { text, .. } = &self.display {
            readable("text", text)?;
        }
        may_be_read(state, self.stage, &self.load, &Mass::zero(self.load.unit), self.pad)
    }
}

crate::refusals! {
    enum Refused {
        Missing = "missing" at "text": text!("draft-type-what-the-display-shows");
        OutOfRange = "out_of_range" at "from": text!("draft-the-lower-figure-comes-first");
    }
}
