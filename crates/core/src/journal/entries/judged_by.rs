//! What a job is judged by, where that is not what the sheet says.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use crate::adjust::SpanWeightRule;
use crate::journal::state::JobState;
use crate::measurement::DecisionRule;
use crate::tolerance::Tolerance;
use crate::wording::Text;

/// Another tolerance than the sheet's was chosen for this job.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ToleranceChosen {
    /// The tolerance.
    pub tolerance: Tolerance,
    /// Why.
    pub reason: String,
}

impl Kind for ToleranceChosen {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.tolerance = (self.tolerance.clone(), Some(self.reason.clone()));
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-tolerance-tolerance-reason",
            tolerance = self.tolerance.label(),
            reason = self.reason
        )
    }
}

/// How the uncertainty enters the verdict on this job.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DecisionChosen {
    /// How.
    pub rule: DecisionRule,
    /// Why.
    pub reason: String,
}

impl Kind for DecisionChosen {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.decision = (self.rule, Some(self.reason.clone()));
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-decision-rule-for-this-job", rule = self.rule.label(), reason = self.reason)
    }
}

/// How much span weight is asked for on this job.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SpanWeightRuleChosen {
    /// How much.
    #[serde(rename = "school")]
    pub span_weight_rule: SpanWeightRule,
    /// Why.
    pub reason: String,
}

impl Kind for SpanWeightRuleChosen {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.span_weight_rule = Some((self.span_weight_rule, self.reason.clone()));
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-span-weight-asked-for-school",
            rule = self.span_weight_rule.label(),
            reason = self.reason
        )
    }
}
