//! What a job is judged by: tolerance, decision rule, span weight rule.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::adjust::SpanWeightRule;
use crate::assessment::Around;
use crate::journal::{Body, Entry, JobState, entries};
use crate::measurement::DecisionRule;
use crate::refusal::Refusal;
use crate::tolerance::{HouseForm, Scheme, Tolerance};

use super::kind::{Admitted, Understood};
use super::words::reasoned;

/// Another tolerance for this job.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct ToleranceChosenDraft {
    /// Which.
    pub tolerance: Tolerance,
    /// The house rule as it is typed, where it is one.
    #[serde(default)]
    pub house: Option<HouseForm>,
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for ToleranceChosenDraft {
    fn understood(self, state: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { mut tolerance, house, reason } = self;
        if let (Scheme::House, Some(form)) = (tolerance.scheme, house) {
            tolerance.house = Some(form.read(state.setup_in_force().0.d.unit)?);
        }
        Ok(entries::ToleranceChosen { tolerance, reason }.into())
    }
}

impl Admitted for entries::ToleranceChosen {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        reasoned("reason", &self.reason)?;
        // It covers the setup in force.
        let (setup, _) = state.setup_in_force();
        self.tolerance.check(&setup.d, &setup.max).map_err(|e| Refusal::from(e).at("tolerance"))
    }
}

/// How the uncertainty enters the verdict on this job.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct DecisionChosenDraft {
    /// How.
    pub rule: DecisionRule,
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for DecisionChosenDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { rule, reason } = self;
        Ok(entries::DecisionChosen { rule, reason }.into())
    }
}

impl Admitted for entries::DecisionChosen {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        reasoned("reason", &self.reason)
    }
}

/// How much span weight is asked for on this job.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SpanWeightRuleChosenDraft {
    /// How much.
    #[serde(alias = "school")]
    pub span_weight_rule: SpanWeightRule,
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for SpanWeightRuleChosenDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { span_weight_rule, reason } = self;
        Ok(entries::SpanWeightRuleChosen { span_weight_rule, reason }.into())
    }
}

impl Admitted for entries::SpanWeightRuleChosen {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        reasoned("reason", &self.reason)
    }
}
