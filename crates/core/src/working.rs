//! A figure that is shown can explain itself: the formula, the figures put in, the result, the
//! public source. It is built where the figure is computed.

use serde::Serialize;
use utoipa::ToSchema;

use crate::wording::Text;

/// How a figure came about.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Working {
    /// What was worked out, in the trade's words.
    pub name: Text,
    /// The formula in symbols.
    pub formula: Text,
    /// The figures put in.
    pub figures: Vec<Figure>,
    /// The result with its unit.
    pub result: Text,
    /// The public source of the rule.
    pub source: Text,
}

/// One figure of a working.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Figure {
    /// The symbol in the formula.
    pub symbol: Text,
    /// What it stands for and where it comes from.
    pub meaning: Text,
    /// Its value with its unit.
    pub value: String,
}

impl Working {
    /// A working without figures yet.
    pub fn new(
        name: impl Into<Text>,
        formula: impl Into<Text>,
        result: impl Into<Text>,
        source: impl Into<Text>,
    ) -> Self {
        Self {
            name: name.into(),
            formula: formula.into(),
            figures: Vec::new(),
            result: result.into(),
            source: source.into(),
        }
    }

    /// Adds a figure.
    #[must_use]
    pub fn with(mut self, symbol: impl Into<Text>, meaning: impl Into<Text>, value: impl ToString) -> Self {
        self.figures.push(Figure {
            symbol: symbol.into(),
            meaning: meaning.into(),
            value: value.to_string(),
        });
        self
    }
}
