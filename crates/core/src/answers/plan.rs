//! The loading plan of a job, with the judgement of its span weight.

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;

use crate::adjust::SpanWeightRule;
use crate::assessment::{
    ListedLoad, LoadStatus, M1_SHARE, SpanView, judge_span, loads_of, next_load, planned_for, to_do,
    with_plan,
};
use crate::job::span_weight;
use crate::journal::{Direction, JobState, Phase, ReadStage};
use crate::refusal::Refusal;
use crate::weights::{CheckInputs, CheckLoad, CheckPlan, Piece, PlanChoices, PlanPiece, PlannedStep, Usable};
use crate::wording::Text;

/// What is asked of a plan.
#[derive(Deserialize, ToSchema)]
pub struct PlanQuestion {
    /// Choices of the technician.
    #[serde(default)]
    choices: PlanChoices,
    /// A span weight that is thought of, as typed.
    #[serde(default)]
    span: String,
    /// The loads of which stage.
    #[serde(default = "to_prove")]
    stage: ReadStage,
}

const fn to_prove() -> ReadStage {
    ReadStage::Test
}

/// The plan, with the judgement of the span weight.
#[derive(Serialize, ToSchema)]
pub struct PlanReply {
    plan: CheckPlan,
    /// The one list of loads of the stage, with what the plan puts on for each.
    loads: Vec<ListedLoad>,
    /// What to do for the load that is next, in a sentence.
    #[schema(required)]
    says: Option<Text>,
    /// How each step of the plan stands, in its order.
    statuses: Vec<LoadStatus>,
    /// Which step of the plan is next; none: none of them.
    #[schema(required)]
    next: Option<usize>,
    /// The span weight as it was typed in the question that this answers.
    asked_span: String,
    /// How good the span weight is; none: none is named.
    #[schema(required)]
    span: Option<SpanView>,
    /// Why the span weight that was typed cannot be.
    #[schema(required)]
    span_refused: Option<Refusal>,
    /// Of which pieces it is made; empty: the kit does not build it exactly.
    span_pieces: Vec<PlanPiece>,
    /// How much is asked for: on this job, else by the workshop.
    span_weight_rule: SpanWeightRule,
}

/// Makes a plan of pieces on a day: the exact search itself, or one that remembers.
pub type Planner<'a> = dyn Fn(&[Piece], Date, &PlanChoices, &[CheckLoad], &CheckInputs) -> CheckPlan + 'a;

/// The plan of a stage of a job with a workshop's pieces and span weight rule. A span weight that cannot be is refused at
/// its field; the plan is there all the same.
pub fn plan_of(
    state: &JobState,
    asked: PlanQuestion,
    pieces: &[Piece],
    span_weight_rule: SpanWeightRule,
    today: Date,
    plan_check: &Planner<'_>,
) -> PlanReply {
    let (setup, _) = state.setup_in_force();
    let mut refused = None;
    let thought = match asked.span.trim() {
        "" => None,
        text => span_weight(text, &setup).map_err(|refusal| refused = Some(refusal)).ok(),
    };
    let phase = if asked.stage == ReadStage::AsFound { Phase::AsFound } else { Phase::AsLeft };
    let (wants, targets) = planned_for(state, phase, thought);
    let span_weight_rule =
        state.span_weight_rule.as_ref().map_or(span_weight_rule, |(span_weight_rule, _)| *span_weight_rule);
    let told = wants.span.as_ref().map(|weight| {
        let fits = |p: &&Piece| weight.plus(&p.nominal) <= wants.setup.max;
        let usable = pieces.iter().filter(|p| matches!(p.usable(today), Usable::Yes { .. })).filter(fits);
        let largest = usable.max_by(|a, b| a.nominal.cmp(&b.nominal));
        judge_span(state, weight, M1_SHARE, span_weight_rule, largest)
    });
    let (span, wants, targets) = match told {
        Some(Err(refusal)) => {
            refused = Some(refusal);
            let (wants, targets) = planned_for(state, phase, None);
            (None, wants, targets)
        }
        Some(Ok(span)) => (Some(span), wants, targets),
        None => (None, wants, targets),
    };
    let inputs = wants.inputs(state);
    let plan = plan_check(pieces, today, &asked.choices, &targets, &inputs);
    let alone: Vec<_> = wants.span.iter().map(CheckLoad::just).collect();
    let span_step = plan_check(pieces, today, &asked.choices, &alone, &inputs).steps.pop();
    let span_pieces =
        span_step.filter(|step| step.load == step.wanted).map(|step| step.on).unwrap_or_default();
    let loads = with_plan(state, phase, loads_of(state, phase), &plan, pieces, today);
    let of_step =
        |step: &PlannedStep| loads.iter().find(|l| l.direction == Direction::Up && l.target == step.wanted);
    let statuses: Vec<LoadStatus> =
        plan.steps.iter().map(|s| of_step(s).map_or(LoadStatus::Left, |l| l.status)).collect();
    PlanReply {
        says: next_load(&loads).map(|item| to_do(state, item)),
        next: statuses.iter().position(|s| *s == LoadStatus::Next),
        statuses,
        loads,
        plan,
        asked_span: asked.span,
        span,
        span_refused: refused.map(|r| Refusal { field: Some("span".into()), ..r }),
        span_pieces,
        span_weight_rule,
    }
}
