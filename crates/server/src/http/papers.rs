//! Paper: certificates, work reports and labels, and what a workshop puts on them. A signed record is
//! set from its frozen bytes, never from what the database says now.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderValue, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::assessment::{Assessment, assess};
use ombret_core::job::{JobFile, open_file};
use ombret_core::journal::{Entry, JobState};
use ombret_core::record::{
    Circumstances, Lack, RecordTerms, certificate, dcc, error_chart_svg, label, why_report,
};
use ombret_paper::{Beside, Sheet, qr_svg};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::genuine::check_code;
use super::guard::SignedIn;
use super::problem::{ApiError, Problem};
use crate::PROGRAM;
use crate::rules::PaperRules;
use crate::store::people::{Person, Role};
use crate::store::records::{self, Issued};
use crate::store::{customers, jobs, people, scales};
use ombret_core::text;
use ombret_core::wording::Language;

/// Which version of a record.
#[derive(Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct VersionQuery {
    /// From 1; none: as it stands now.
    pub(super) version: Option<i32>,
}

/// A language to choose.
#[derive(Serialize, ToSchema)]
pub struct LanguageRow {
    /// Which.
    language: Language,
    /// Its own name.
    name: String,
}

/// What a workshop puts on paper, and what it may choose.
#[derive(Serialize, ToSchema)]
pub struct PaperReply {
    /// As it is.
    rules: PaperRules,
    /// Languages.
    languages: Vec<LanguageRow>,
}

/// What paper a record may become.
#[derive(Serialize, ToSchema)]
pub struct PaperKind {
    /// It is a calibration certificate.
    certificate: bool,
    /// What it lacks.
    lacks: Vec<String>,
    /// It may have a label.
    label: bool,
}

/// A record with everything that paper needs of it.
pub struct Ready {
    pub(super) bytes: Vec<u8>,
    pub(super) issued: Option<Issued>,
    pub(super) state: JobState,
    pub(super) assessed: Assessment,
    pub(super) rules: PaperRules,
    pub(super) terms: RecordTerms,
}

impl Ready {
    /// Of a job, in a version; an open job is taken as it stands.
    pub(super) async fn of(
        app: &App,
        person: &Person,
        job: Uuid,
        version: Option<i32>,
    ) -> Result<Self, ApiError> {
        let mut rules = people::paper(&app.pool, person.workshop_id).await?;
        if rules.letterhead.name.trim().is_empty() {
            rules.letterhead.name.clone_from(&person.workshop);
        }
        // What is agreed with the customer comes before the workshop's own language.
        if let Some(language) =
            customers::of_job(&app.pool, person.workshop_id, job).await?.and_then(|c| c.language)
        {
            rules.letterhead.language = language;
        }
        let issued = records::file(&app.pool, person.workshop_id, job, version).await?;
        let mut foreign = issued.as_ref().is_some_and(|i| i.foreign);
        let (bytes, issued) = match issued {
            Some(mut issued) => (std::mem::take(&mut issued.bytes), Some(issued)),
            None if version.is_some() => return Err(ApiError::NotFound("version")),
            None => {
                let found =
                    jobs::job(&app.pool, person.workshop_id, job).await?.ok_or(ApiError::NotFound("job"))?;
                foreign = found.head.imported;
                (
                    serde_json::to_vec_pretty(&JobFile::new(job, PROGRAM, found.journal.sealed_after(0)))
                        .map_err(|e| ApiError::Internal(e.to_string()))?,
                    None,
                )
            }
        };
        app.workers.run(move |_| Self::opened(bytes, issued, rules, foreign)).await
    }

    /// From the bytes of a record; an open job has not been issued.
    ///
    /// # Errors
    /// Where the bytes are no job file.
    pub fn opened(
        bytes: Vec<u8>,
        issued: Option<Issued>,
        rules: PaperRules,
        foreign: bool,
    ) -> Result<Self, ApiError> {
        let (file, state) = open_file(&bytes).map_err(|e| ApiError::Internal(e.to_string()))?;
        let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
        let assessed = assess(&entries, &state);
        let terms = RecordTerms::of(&state, rules.review, foreign);
        Ok(Self { bytes, issued, state, assessed, rules, terms })
    }

    /// Sets its certificate, or its work report, as PDF/A.
    ///
    /// # Errors
    /// Where the typesetter refuses.
    pub fn certificate(mut self, id: Uuid, address: &str) -> Result<Vec<u8>, ApiError> {
        let words = self.rules.letterhead.language.words();
        let attachment = format!("{id}.ombret-job.json");
        let around = Circumstances {
            number: self.number(),
            replaced_by: self.issued.as_ref().and_then(|i| i.replaced_by.as_deref()),
            address,
            terms: self.terms,
            attachment: Some(&attachment),
        };
        let sheet = certificate(&self.state, &self.assessed, &self.rules.letterhead, &around);
        let drawing = error_chart_svg(&self.assessed.error_chart, &|text| words.figure(text));
        let mut beside = vec![Beside { name: "shade.svg".into(), bytes: drawing.into_bytes() }];
        beside.extend(qr_svg(address).map(|svg| Beside { name: "qr.svg".into(), bytes: svg.into_bytes() }));
        beside.extend(
            self.assessed
                .close
                .customer
                .as_ref()
                .map(|customer| Beside { name: "customer.svg".into(), bytes: customer.svg().into_bytes() }),
        );
        let on = self.assessed.close.signed_at.unwrap_or_else(OffsetDateTime::now_utc);
        let ident = format!("{id}/{}", sheet.number);
        beside.push(Beside { name: attachment, bytes: std::mem::take(&mut self.bytes) });
        ombret_paper::pdf(Sheet::Certificate, &sheet, beside, &ident, on)
            .map_err(|e| ApiError::Internal(e.to_string()))
    }

    /// Writes it as a digital calibration certificate.
    ///
    /// # Errors
    /// Where it is no calibration certificate, with what it lacks.
    pub fn dcc(&self, id: Uuid) -> Result<String, Refusal> {
        let around =
            dcc::Around { number: self.number().unwrap_or_default(), program: PROGRAM, terms: self.terms };
        let mut made = dcc::dcc_of(&self.state, &self.assessed, &self.rules.letterhead, &around)?;
        let name = format!("{id}.ombret-job.json");
        made.record = Some(dcc::AttachedRecord { name, bytes: self.bytes.clone() });
        dcc::write_dcc(&made)
    }

    /// Its number, where it is frozen.
    pub(super) fn number(&self) -> Option<&str> {
        self.issued.as_ref().map(|i| i.number.as_str())
    }

    /// What it lacks to be a certificate.
    pub(super) fn lacks(&self) -> Vec<Lack> {
        why_report(&self.state, &self.assessed, self.terms)
    }
}

/// Where the code on paper leads: a frozen record to the page that tells whether it is genuine, to anybody;
/// what is not frozen to the record itself.
fn address_of(app: &App, headers: &HeaderMap, job: Uuid, ready: &Ready) -> String {
    address_from(&base_of(app, headers), job, ready)
}

/// The address of this program, as browsers use it.
pub(super) fn base_of(app: &App, headers: &HeaderMap) -> String {
    let host = || headers.get(header::HOST).and_then(|h| h.to_str().ok()).map(|h| format!("http://{h}"));
    let base = app.settings.public_url.clone().or_else(host).unwrap_or_default();
    base.trim_end_matches('/').to_owned()
}

pub(super) fn address_from(base: &str, job: Uuid, ready: &Ready) -> String {
    match &ready.issued {
        Some(issued) if !issued.foreign => format!("{base}/check/{job}/{}", check_code(&issued.sha256)),
        _ => format!("{base}/jobs/{job}/record"),
    }
}

/// The certificate of a record as PDF/A; what is no certificate gets a work report.
#[utoipa::path(get, path = "/api/jobs/{id}/certificate", tag = "papers", params(("id" = Uuid, Path), VersionQuery),
    responses((status = 200, body = Vec<u8>, content_type = "application/pdf"), (status = 404, body = Problem)))]
pub async fn certificate_pdf(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Asked(asked): Asked<VersionQuery>,
    headers: HeaderMap,
) -> Result<Response, ApiError> {
    let ready = Ready::of(&app, &person, id, asked.version).await?;
    let address = address_of(&app, &headers, id, &ready);
    let name = format!("{}.pdf", ready.number().map_or_else(|| id.to_string(), str::to_owned));
    let bytes = app.workers.run(move |_| ready.certificate(id, &address)).await?;
    file("application/pdf", &name, bytes)
}

/// The record as a digital calibration certificate, DCC version 3.
#[utoipa::path(get, path = "/api/jobs/{id}/dcc", tag = "papers", params(("id" = Uuid, Path), VersionQuery),
    responses((status = 200, body = String, content_type = "application/xml"), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn dcc_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Asked(asked): Asked<VersionQuery>,
) -> Result<Response, ApiError> {
    let ready = Ready::of(&app, &person, id, asked.version).await?;
    let number = ready.number().unwrap_or_default().to_owned();
    file("application/xml", &format!("{number}.dcc.xml"), ready.dcc(id)?.into_bytes())
}

/// Reads a digital calibration certificate, whoever made it; nothing is stored.
#[utoipa::path(post, path = "/api/dcc", tag = "papers", request_body(content = String, content_type = "application/xml"), responses((status = 200, body = dcc::Dcc), (status = 422, body = Problem)))]
pub async fn read_dcc(
    State(app): State<App>,
    SignedIn(_): SignedIn,
    text: String,
) -> Result<Json<dcc::Dcc>, ApiError> {
    app.workers.run(move |_| Ok(dcc::read_dcc(&text)?)).await.map(Json)
}

/// As what a label is wanted.
#[derive(Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LabelForm {
    /// For a label printer's driver.
    Pdf,
    /// To be placed in another document.
    Svg,
}

/// As what.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct LabelQuery {
    /// PDF or SVG.
    #[param(inline)]
    form: LabelForm,
}

/// The label of a record.
#[utoipa::path(get, path = "/api/jobs/{id}/label", tag = "papers", params(("id" = Uuid, Path), LabelQuery),
    responses((status = 200, body = Vec<u8>, content_type = "application/pdf"), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn label_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Asked(query): Asked<LabelQuery>,
    headers: HeaderMap,
) -> Result<Response, ApiError> {
    let ready = Ready::of(&app, &person, id, None).await?;
    let due = scales::next_due(&app.pool, person.workshop_id, ready.state.sheet.id).await?;
    let address = address_of(&app, &headers, id, &ready);
    let sheet =
        label(&ready.assessed, &ready.rules.letterhead, ready.number().unwrap_or_default(), due, ready.terms)
            .map_err(|lack| {
                let why = ready.rules.letterhead.language.words().get(lack.key());
                ApiError::from(Refusal::from(Refused::NoLabel { why }))
            })?;
    let on = ready.assessed.close.signed_at.unwrap_or_else(OffsetDateTime::now_utc);
    let name = sheet.number.clone();
    let beside = qr_svg(&address)
        .map(|svg| Beside { name: "qr.svg".into(), bytes: svg.into_bytes() })
        .into_iter()
        .collect();
    match query.form {
        LabelForm::Pdf => {
            let bytes = app
                .workers
                .run(move |_| {
                    ombret_paper::pdf(Sheet::Label, &sheet, beside, &format!("label/{id}"), on)
                        .map_err(|e| ApiError::Internal(e.to_string()))
                })
                .await?;
            file("application/pdf", &format!("{name}-label.pdf"), bytes)
        }
        LabelForm::Svg => {
            let text = app
                .workers
                .run(move |_| {
                    ombret_paper::svg(Sheet::Label, &sheet, beside, on)
                        .map_err(|e| ApiError::Internal(e.to_string()))
                })
                .await?;
            file("image/svg+xml", &format!("{name}-label.svg"), text.into_bytes())
        }
    }
}

/// What paper a record may become, and why not more.
#[utoipa::path(get, path = "/api/jobs/{id}/paper", tag = "papers", params(("id" = Uuid, Path)), responses((status = 200, body = PaperKind), (status = 404, body = Problem)))]
pub async fn paper_kind(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<PaperKind>, ApiError> {
    let ready = Ready::of(&app, &person, id, None).await?;
    // The pages speak English, whatever the paper does.
    let words = Language::En.words();
    let lacks = ready.lacks();
    let label =
        !lacks.iter().any(|l| matches!(l, Lack::Foreign | Lack::Open | Lack::Unapproved | Lack::Unproved));
    Ok(Json(PaperKind {
        certificate: lacks.is_empty() && !ready.state.sheet.practice,
        lacks: lacks.iter().map(|l| words.get(l.key())).collect(),
        label: label && !ready.state.sheet.practice,
    }))
}

/// Languages to choose, by their own names.
pub(super) fn languages() -> Vec<LanguageRow> {
    Language::ALL.map(|language| LanguageRow { language, name: language.words().get("name") }).into()
}

/// What the workshop puts on paper.
#[utoipa::path(get, path = "/api/letterhead", tag = "papers", responses((status = 200, body = PaperReply), (status = 401, body = Problem)))]
pub async fn get_paper(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<PaperReply>, ApiError> {
    let rules = people::paper(&app.pool, person.workshop_id).await?;
    Ok(Json(PaperReply { rules, languages: languages() }))
}

/// Changes what the workshop puts on paper. Records that are frozen keep their content; only the paper
/// around them changes.
#[utoipa::path(put, path = "/api/letterhead", tag = "papers", request_body = PaperRules, responses((status = 204), (status = 403, body = Problem), (status = 422, body = Problem)))]
pub async fn set_paper(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Body(rules): Body<PaperRules>,
) -> Result<axum::http::StatusCode, ApiError> {
    if !person.is(Role::Technician) && !person.is(Role::Manager) {
        return Err(ApiError::WrongRole);
    }
    rules.letterhead.check()?;
    let now = people::paper(&app.pool, person.workshop_id).await?;
    if now.review != rules.review && !person.is(Role::Manager) {
        return Err(Refusal::from(Refused::ManagersRule).into());
    }
    people::change_paper(&app.pool, &person, &rules).await?;
    Ok(axum::http::StatusCode::NO_CONTENT)
}

/// A file to keep.
pub(super) fn file(kind: &'static str, name: &str, bytes: Vec<u8>) -> Result<Response, ApiError> {
    let name = HeaderValue::from_str(&format!("attachment; filename=\"{name}\""))
        .map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok(([(header::CONTENT_TYPE, HeaderValue::from_static(kind)), (header::CONTENT_DISPOSITION, name)], bytes)
        .into_response())
}

ombret_core::refusals! {
    enum Refused {
        NoLabel { why: String } = "no_label":
            text!("papers-api-there-is-no-label-for", why),
            then text!("papers-api-sign-the-record-and-have");
        ManagersRule = "managers_rule" at "review":
            text!("papers-api-whether-records-wait-for-approval"),
            then text!("papers-api-nothing-was-changed-ask-a");
    }
}
