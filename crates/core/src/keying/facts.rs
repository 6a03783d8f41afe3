//! What a job needs to know of its indicator's profile. It is frozen when the job begins: a later edition
//! of the profile changes no record.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::profile::{Meaning, MessageMeaning, Parameter, Profile};
use crate::quantity::{Decimal, Unit};

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
const fn is_false(flag: &bool) -> bool {
    !*flag
}

/// A field in which a number is keyed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct NumberField {
    /// What the display or the button says.
    pub label: String,
    /// Its code, where one can jump to it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub code: Option<String>,
    /// Digits of the field.
    pub digits: u8,
    /// Decimals of the field; none: those of the set-up for a mass, else none at all.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub decimals: Option<u8>,
    /// It is typed with its decimal point.
    #[serde(default, skip_serializing_if = "is_false")]
    pub with_point: bool,
    /// Least value taken.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub least: Option<Decimal>,
    /// Greatest value taken.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub most: Option<Decimal>,
}

/// Why a number cannot be keyed into its field.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum FieldError {
    /// It has more decimals than the field; the nearest that can be keyed.
    Decimals(i64, Decimal),
    /// Below the least.
    Below(Decimal),
    /// Above the most.
    Above(Decimal),
    /// It needs so many digits; the largest that fits.
    Width(usize, Decimal),
}

impl NumberField {
    /// The field of a parameter that takes a number.
    pub fn of(p: &Parameter) -> Option<Self> {
        Some(Self {
            label: p.label.clone(),
            code: p.code.clone(),
            digits: p.digits.filter(|_| p.options.is_empty())?,
            decimals: p.decimals,
            with_point: p.with_point,
            least: p.least.clone(),
            most: p.most.clone(),
        })
    }

    /// The text of a number as the field holds it; `decimals`: where the field does not say its own.
    ///
    /// # Errors
    /// A [`FieldError`] where the number cannot be keyed exactly, with the nearest that can.
    pub fn text(&self, value: &Decimal, decimals: u32) -> Result<String, FieldError> {
        let decimals = i64::from(self.decimals.map_or(decimals, u32::from));
        let width = usize::from(self.digits);
        let shifted = value * &Decimal::ten_to(decimals);
        if !shifted.is_whole() {
            return Err(FieldError::Decimals(decimals, value.round_to(decimals)));
        }
        if let Some(least) = self.least.as_ref().filter(|least| value < *least) {
            return Err(FieldError::Below(least.clone()));
        }
        if let Some(most) = self.most.as_ref().filter(|most| value > *most) {
            return Err(FieldError::Above(most.clone()));
        }
        let whole = shifted.fixed(0);
        if value.is_negative() || whole.len() > width {
            let most = &Decimal::ten_to(i64::from(self.digits)) - &Decimal::from(1u32);
            return Err(FieldError::Width(whole.len(), &most * &Decimal::ten_to(-decimals)));
        }
        Ok(if self.with_point { value.to_string() } else { format!("{whole:0>width$}") })
    }
}

/// What a job needs to know of a profile.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct ProfileFacts {
    /// Span points that it takes, zero not counted; 0: it is not calibrated with weights.
    pub points: u8,
    /// The field of Max.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max: Option<NumberField>,
    /// The field of the span weight.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub span_weight: Option<NumberField>,
    /// The only unit in which weights are keyed, where there is but one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weights_in: Option<Unit>,
    /// The field of the correction factor.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub factor: Option<NumberField>,
    /// What its display may say, and what that means.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub messages: BTreeMap<String, MessageMeaning>,
    /// What the item of the menu is called that tests cable and cell.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cable_test: Option<String>,
}

impl ProfileFacts {
    /// What a text of the display means, where the profile knows it.
    pub fn message(&self, text: &str) -> Option<MessageMeaning> {
        self.messages.get(&text.trim().to_lowercase()).copied()
    }
}

impl Profile {
    /// What a job needs to know of it.
    pub fn facts(&self) -> ProfileFacts {
        let field = |meaning| self.parameter_of(meaning).and_then(NumberField::of);
        let points = self.parameters.iter().filter(|p| p.meaning == Meaning::SpanWeight).count();
        ProfileFacts {
            points: u8::try_from(points).unwrap_or(u8::MAX),
            max: field(Meaning::Max),
            span_weight: field(Meaning::SpanWeight),
            weights_in: self.weights_in,
            factor: field(Meaning::Factor),
            messages: self.messages.iter().map(|m| (m.text.trim().to_lowercase(), m.meaning)).collect(),
            cable_test: self.parameter_of(Meaning::CableTest).map(|p| p.label.clone()),
        }
    }
}
