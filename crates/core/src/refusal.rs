//! What was refused, in one shape for every part of the program: a stable code, a sentence for
//! people, the field it belongs to, what to do now, and the figures it tells.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::wording::Text;

/// A refusal: nothing was changed, and this says why.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Refusal {
    /// Stable name of the reason.
    pub code: String,
    /// What is wrong, in the trade's words.
    pub message: Text,
    /// The field that was wrong, where it was one.
    #[schema(required)]
    pub field: Option<String>,
    /// What to do now.
    #[schema(required)]
    pub what_to_do: Option<Text>,
    /// Figures that belong to the refusal.
    pub figures: BTreeMap<String, Value>,
    /// What else is wrong with the same form, each at its field.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(no_recursion)]
    pub also: Vec<Refusal>,
}

impl Refusal {
    /// A refusal with its code and sentence.
    pub fn new(code: &str, message: impl Into<Text>) -> Self {
        Self {
            code: code.into(),
            message: message.into(),
            field: None,
            what_to_do: None,
            figures: BTreeMap::new(),
            also: Vec::new(),
        }
    }

    /// Several refusals as one: the first, with the others beside it; none where there is none.
    pub fn all(refusals: impl IntoIterator<Item = Self>) -> Option<Self> {
        let mut refusals = refusals.into_iter();
        let first = refusals.next()?;
        Some(Self { also: refusals.collect(), ..first })
    }

    /// Names the field.
    #[must_use]
    pub fn at(mut self, field: &str) -> Self {
        self.field.get_or_insert_with(|| field.into());
        self
    }

    /// Says what to do.
    #[must_use]
    pub fn then(mut self, what_to_do: impl Into<Text>) -> Self {
        self.what_to_do = Some(what_to_do.into());
        self
    }

    /// Adds a figure.
    #[must_use]
    pub fn with(mut self, name: &str, value: impl Into<Value>) -> Self {
        self.figures.insert(name.into(), value.into());
        self
    }
}
