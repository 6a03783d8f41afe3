//! The languages that people are spoken to in.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A language that people are spoken to in, on the screen and on paper.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Language {
    /// English.
    #[default]
    En,
    /// German.
    De,
}

impl Language {
    /// Every one.
    pub const ALL: [Self; 2] = [Self::En, Self::De];

    /// Its tag. Source: BCP 47.
    pub const fn tag(self) -> &'static str {
        match self {
            Self::En => "en",
            Self::De => "de",
        }
    }
}
