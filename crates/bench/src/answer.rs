//! What the scale answers to its operator: data, so that whoever asks says it in the words of a language.

use ombret_core::practice::LessonText;
use serde::{Deserialize, Serialize};

use crate::indicator::KeyRefusal;

/// One answer; on the wire it is a line of JSON.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Answer {
    /// It was done, and the scale stands like this.
    Stands(Standing),
    /// What is found at an item of the checklist; none: nothing is wrong there.
    Found(Option<LessonText>),
    /// It is mended, and how.
    Mended(LessonText),
    /// The key does nothing.
    Refused(KeyRefusal),
    /// The line is no command.
    NoCommand(String),
}

/// How the scale stands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Standing {
    /// What lies on it, to three places in `unit`.
    pub on: String,
    /// The unit of the display.
    pub unit: String,
    /// Max as it is set up, in `unit`.
    pub max: String,
    /// Division as it is set up, in `unit`.
    pub d: String,
    /// How many pads there are.
    pub pads: usize,
    /// The pad that is shown, from 1; none: all of them together.
    pub pad: Option<usize>,
    /// A calibration is under way.
    pub calibrating: bool,
    /// What the internal weight is taken for, in `unit`; none: there is none.
    pub internal: Option<String>,
    /// What the menu shows; none: no menu is run.
    pub menu: Option<String>,
    /// The switch under the seal is closed.
    pub switch_closed: bool,
}
