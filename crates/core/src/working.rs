//! A figure that is shown can explain itself: the formula, the figures put in, the result, the
//! public source. It is built where the figure is computed.

use std::borrow::Cow;

use serde::Serialize;
use utoipa::ToSchema;

/// How a figure came about.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Working {
    /// What was worked out, in the trade's words.
    pub name: Cow<'static, str>,
    /// The formula in symbols.
    pub formula: Cow<'static, str>,
    /// The figures put in.
    pub figures: Vec<Figure>,
    /// The result with its unit.
    pub result: String,
    /// The public source of the rule.
    pub source: Cow<'static, str>,
}

/// One figure of a working.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Figure {
    /// The symbol in the formula.
    pub symbol: Cow<'static, str>,
    /// What it stands for and where it comes from.
    pub meaning: Cow<'static, str>,
    /// Its value with its unit.
    pub value: String,
}

impl Working {
    /// A working without figures yet.
    pub fn new(
        name: impl Into<Cow<'static, str>>,
        formula: impl Into<Cow<'static, str>>,
        result: impl Into<String>,
        source: impl Into<Cow<'static, str>>,
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
    pub fn with(
        mut self,
        symbol: impl Into<Cow<'static, str>>,
        meaning: impl Into<Cow<'static, str>>,
        value: impl ToString,
    ) -> Self {
        self.figures.push(Figure {
            symbol: symbol.into(),
            meaning: meaning.into(),
            value: value.to_string(),
        });
        self
    }
}
