//! What a workshop settles for itself: its paper, and how it judges.

use ombret_core::diagnosis::Priors;
use ombret_core::quantity::Unit;
use ombret_core::record::Letterhead;
use ombret_core::tolerance::Scheme;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a workshop puts on paper.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct PaperRules {
    /// Letterhead, texts, language.
    pub letterhead: Letterhead,
    /// Records are approved by a reviewer before they are certificates.
    pub review: bool,
    /// The customer signs on the screen at the end.
    #[serde(default)]
    pub customer_signs: bool,
}

/// How a workshop judges.
#[derive(Clone, Debug, Default, Serialize, Deserialize, ToSchema)]
pub struct JudgementRules {
    /// Priors where they differ from the table's.
    #[serde(default)]
    #[schema(value_type = std::collections::BTreeMap<String, f64>)]
    pub priors: Priors,
    /// A scale inside its tolerance is left alone.
    pub leave_inside: bool,
}

/// What a workshop takes where nothing else is said; settled at the first start.
#[derive(Clone, Debug, Default, Serialize, Deserialize, ToSchema)]
#[serde(default)]
pub struct WorkshopDefaults {
    /// Unit where none is typed.
    #[schema(required)]
    pub unit: Option<Unit>,
    /// Tolerance book of a new scale.
    #[schema(required)]
    pub scheme: Option<Scheme>,
    /// Time zone, such as `Europe/Berlin`.
    pub time_zone: String,
}
