//! What is wrong with a scale, what each choice would do, and how the workshop judges.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use ombret_core::answers::{JudgementReply, judgement_of};
use ombret_core::diagnosis::{Cause, CauseInfo, table};
use ombret_core::journal::ReadStage;
use ombret_core::scale::check_label;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use super::workers::Stop;
use crate::rules::JudgementRules;
use crate::store::{jobs, people};
use ombret_core::wording::Text;

/// Which readings.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PhaseQuery {
    /// As found or as left.
    stage: ReadStage,
}

/// The rules with the table that they change.
#[derive(Serialize, ToSchema)]
pub struct RulesReply {
    /// Every cause with the prior that ships with the program.
    causes: Vec<CauseInfo>,
    /// What the workshop has changed.
    rules: JudgementRules,
    /// Each cause's act in words, by cause.
    #[schema(value_type = BTreeMap<String, Text>)]
    acts: BTreeMap<Cause, Text>,
    /// The items of the checklist that point to a cause, in words, by item.
    items: BTreeMap<String, Text>,
}

impl RulesReply {
    fn of(rules: JudgementRules) -> Self {
        let causes = table().to_vec();
        let items =
            causes.iter().flat_map(|c| &c.items).filter_map(|id| Some((id.clone(), check_label(id)?)));
        Self {
            acts: causes.iter().map(|c| (c.cause, c.act.label())).collect(),
            items: items.collect(),
            causes,
            rules,
        }
    }
}

/// What the readings of a job tell of its scale.
#[utoipa::path(get, path = "/api/jobs/{id}/diagnosis", tag = "jobs", params(("id" = Uuid, Path), PhaseQuery),
    responses((status = 200, body = JudgementReply), (status = 404, body = Problem)))]
pub async fn diagnose(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Asked(query): Asked<PhaseQuery>,
) -> Result<Json<JudgementReply>, ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let kit = super::kit::pieces_of(&app, &person).await?;
    let rules = people::judgement(&app.pool, person.workshop_id).await?;
    let work =
        move |_: &Stop| Ok(judgement_of(&job.journal, query.stage, &kit, &rules.priors, rules.leave_inside));
    app.workers.run(work).await.map(Json)
}

/// How the workshop judges.
#[utoipa::path(get, path = "/api/priors", tag = "jobs", responses((status = 200, body = RulesReply)))]
pub async fn get_rules(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<RulesReply>, ApiError> {
    Ok(Json(RulesReply::of(people::judgement(&app.pool, person.workshop_id).await?)))
}

/// Changes how the workshop judges.
#[utoipa::path(put, path = "/api/priors", tag = "jobs", request_body = JudgementRules, responses((status = 200, body = RulesReply), (status = 422, body = Problem)))]
pub async fn set_rules(
    State(app): State<App>,
    Technician(person): Technician,
    Body(rules): Body<JudgementRules>,
) -> Result<Json<RulesReply>, ApiError> {
    rules.priors.check()?;
    people::set_judgement(&app.pool, &person, &rules).await?;
    Ok(Json(RulesReply::of(rules)))
}
