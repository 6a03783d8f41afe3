//! What was refused, in one shape for every part of the program: a stable code, a sentence for
//! people, the field it belongs to, what to do now, and the figures it tells.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::adjust::AdjustError;
use crate::proof::ErrorOfIndicationError;
use crate::quantity::{DecimalError, DigitsError, DivisionError, ParseMassError, UnknownUnit};
use crate::steady::SteadyError;
use crate::tolerance::ToleranceError;

/// A refusal: nothing was changed, and this says why.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Refusal {
    /// Stable name of the reason.
    pub code: String,
    /// What is wrong, in the trade's words.
    pub message: String,
    /// The field that was wrong, where it was one.
    #[schema(required)]
    pub field: Option<String>,
    /// What to do now.
    #[schema(required)]
    pub what_to_do: Option<String>,
    /// Figures that belong to the refusal.
    pub figures: BTreeMap<String, Value>,
    /// What else is wrong with the same form, each at its field.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(no_recursion)]
    pub also: Vec<Refusal>,
}

impl Refusal {
    /// A refusal with its code and sentence.
    pub fn new(code: &str, message: impl Into<String>) -> Self {
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
    pub fn then(mut self, what_to_do: impl Into<String>) -> Self {
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

impl From<UnknownUnit> for Refusal {
    fn from(error: UnknownUnit) -> Self {
        Self::new("unknown_unit", error.to_string()).with("unit", error.symbol)
    }
}

impl From<DecimalError> for Refusal {
    fn from(error: DecimalError) -> Self {
        Self::new("not_a_number", error.to_string())
    }
}

impl From<ParseMassError> for Refusal {
    /// The field is named by where the message stands, never by the program's own name for it.
    fn from(error: ParseMassError) -> Self {
        let (code, column) = match &error {
            ParseMassError::NotAMass { column, .. } => ("not_a_mass", column),
            ParseMassError::UnknownUnit { column, .. } => ("unknown_unit", column),
            ParseMassError::TooLarge { column, .. } => ("too_large", column),
        };
        Self::new(code, error.says()).at(column).with("names", column.clone())
    }
}

impl From<DivisionError> for Refusal {
    fn from(error: DivisionError) -> Self {
        let message = error.to_string();
        match error {
            DivisionError::NotPositive { .. } => Self::new("not_positive", message),
            DivisionError::NotInSeries { lower, upper, .. } => Self::new("not_in_series", message)
                .with("lower", lower.to_string())
                .with("upper", upper.to_string()),
            DivisionError::NotWhole { n, .. } => Self::new("n_not_whole", message).with("n", n.to_f64()),
        }
    }
}

impl From<DigitsError> for Refusal {
    fn from(error: DigitsError) -> Self {
        let message = error.to_string();
        match error {
            DigitsError::NotPositive => Self::new("not_positive", message),
            DigitsError::NotWholeDigits { .. } => Self::new("not_whole_digits", message)
                .then("Choose a weight that ends at the display's last digit."),
            DigitsError::TooWide { needs, .. } => Self::new("too_wide", message).with("needs", needs),
        }
    }
}

impl From<ToleranceError> for Refusal {
    fn from(error: ToleranceError) -> Self {
        let code = match error {
            ToleranceError::NoSuchClass { .. } => "no_such_class",
            ToleranceError::NoRow { .. } => "no_row",
            ToleranceError::NoTerm => "no_term",
            ToleranceError::BeyondTable { .. } => "beyond_table",
            ToleranceError::NotPositive { .. } => "not_positive",
            ToleranceError::Missing { .. } => "missing",
            ToleranceError::TableOrder { .. } => "table_order",
        };
        Self::new(code, error.to_string())
    }
}

impl From<ErrorOfIndicationError> for Refusal {
    fn from(error: ErrorOfIndicationError) -> Self {
        let code = match error {
            ErrorOfIndicationError::AddedOutOfRange { .. } => "added_out_of_range",
            ErrorOfIndicationError::NoCertificate { .. } => "no_certificate",
        };
        Self::new(code, error.to_string())
    }
}

impl From<AdjustError> for Refusal {
    fn from(error: AdjustError) -> Self {
        let message = error.to_string();
        match error {
            AdjustError::ReversedOrDead { .. } => Self::new("reversed_or_dead", message).then(
                "Check that the weight is on, that the signal wires are not swapped and that the cell is not dead; then take zero again.",
            ),
            AdjustError::NotRising { first, second } => {
                Self::new("not_rising", message).with("pair", vec![first, second])
            }
            AdjustError::TooFew => Self::new("too_few", message),
            AdjustError::NotPositive { .. } => Self::new("not_positive", message),
        }
    }
}

impl From<SteadyError> for Refusal {
    fn from(error: SteadyError) -> Self {
        Self::new("not_positive", error.to_string())
    }
}
