//! One shape for everything that goes wrong: RFC 9457 problem documents with a stable type, the
//! field, the message and what to do.

use std::any::Any;
use std::collections::BTreeMap;

use axum::Json;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::journal::Sealed;
use ombret_core::keying::ProfileProblem;
use ombret_core::wording::Text;
use ombret_core::{Detail, Refusal, text};
use serde::Serialize;
use utoipa::ToSchema;

use crate::store::StoreError;

/// A problem document.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Problem {
    /// Stable name of the kind of problem.
    #[serde(rename = "type")]
    pub kind: String,
    /// In a few words.
    pub title: String,
    /// The same as a message.
    pub heading: Text,
    /// HTTP status.
    pub status: u16,
    /// What is wrong here, in English.
    pub detail: String,
    /// The same as a message.
    pub message: Text,
    /// The field that was wrong.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub field: Option<String>,
    /// What to do now.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub what_to_do: Option<Text>,
    /// Figures that belong to it.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub figures: BTreeMap<String, Detail>,
    /// What is wrong with a profile's text, each at its line.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(nullable = false)]
    pub problems: Vec<ProfileProblem>,
    /// Where the journal is, and the entries that the sender does not have.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub moved_on: Option<MovedOn>,
    /// What else is wrong with the same form.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(nullable = false)]
    pub also: Vec<AlsoWrong>,
}

/// Somebody else was quicker.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct MovedOn {
    /// Place of the last entry.
    pub head: u32,
    /// The entries that the sender does not have.
    pub newer: Vec<Sealed>,
}

/// Another field of the same form.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct AlsoWrong {
    /// The field.
    #[schema(required)]
    pub field: Option<String>,
    /// What is wrong there.
    pub message: Text,
    /// What to do.
    #[schema(required)]
    pub what_to_do: Option<Text>,
}

/// Every way in which a request can fail.
#[derive(Debug, thiserror::Error)]
pub enum ApiError {
    /// Nobody is signed in.
    #[error("sign in first")]
    SignedOut,
    /// Name or password is wrong; it is not said which.
    #[error("name or password is wrong")]
    WrongCredentials,
    /// The password is right and the person has a second factor.
    #[error("type the code that your authenticator shows, or one of your codes for a lost device")]
    CodeNeeded,
    /// The second factor is wrong.
    #[error("this code is wrong, or was used already")]
    WrongCode,
    /// Too many failures.
    #[error("too many failed sign-ins with this name; wait {seconds} s")]
    SlowDown {
        /// How long.
        seconds: i64,
    },
    /// More is asked at a time than can be worked out.
    #[error("more is being worked out at this moment than there is room for")]
    Busy,
    /// The role may not do it.
    #[error("this is for somebody with another role")]
    WrongRole,
    /// A write from another site.
    #[error("this request comes from another site")]
    ForeignOrigin,
    /// There is no such thing in this workshop.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// Somebody else was quicker.
    #[error("the job has moved on: it is at entry {head}, this was meant to follow entry {after}")]
    Stale {
        /// Where the journal is.
        head: u32,
        /// What the sender knew.
        after: u32,
        /// The entries that the sender does not have.
        newer: Vec<Sealed>,
    },
    /// It is there already.
    #[error("{0}")]
    Taken(Text),
    /// The rules refuse it.
    #[error("{}", .0.message)]
    Refused(Refusal),
    /// The text of a profile says none.
    #[error("{}", .refusal.message)]
    Profile {
        /// The first of what is wrong.
        refusal: Refusal,
        /// All of it, each at its line.
        problems: Vec<ProfileProblem>,
    },
    /// The request itself is malformed.
    #[error("{detail}")]
    BadRequest {
        /// Status to answer with.
        status: StatusCode,
        /// What is wrong.
        detail: String,
    },
    /// An outside device does not do its part.
    #[error("{0}")]
    Device(Text),
    /// The database.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// Something that should not happen; told without detail.
    #[error("{0}")]
    Internal(String),
}

impl From<Refusal> for ApiError {
    fn from(refusal: Refusal) -> Self {
        Self::Refused(refusal)
    }
}

impl ApiError {
    fn table(&self) -> (StatusCode, &str) {
        match self {
            Self::SignedOut => (StatusCode::UNAUTHORIZED, "signed_out"),
            Self::WrongCredentials => (StatusCode::UNAUTHORIZED, "wrong_credentials"),
            Self::CodeNeeded => (StatusCode::UNAUTHORIZED, "code_needed"),
            Self::WrongCode => (StatusCode::UNAUTHORIZED, "wrong_code"),
            Self::SlowDown { .. } => (StatusCode::TOO_MANY_REQUESTS, "slow_down"),
            Self::Busy => (StatusCode::SERVICE_UNAVAILABLE, "busy"),
            Self::WrongRole => (StatusCode::FORBIDDEN, "wrong_role"),
            Self::ForeignOrigin => (StatusCode::FORBIDDEN, "foreign_origin"),
            Self::NotFound(_) => (StatusCode::NOT_FOUND, "not_found"),
            Self::Stale { .. } => (StatusCode::CONFLICT, "stale"),
            Self::Taken(_) => (StatusCode::CONFLICT, "taken"),
            Self::Refused(refusal) | Self::Profile { refusal, .. } => {
                (StatusCode::UNPROCESSABLE_ENTITY, &refusal.code)
            }
            Self::BadRequest { status, .. } => (*status, "bad_request"),
            Self::Device(_) => (StatusCode::BAD_GATEWAY, "device"),
            Self::Store(StoreError::Gone(_)) => (StatusCode::SERVICE_UNAVAILABLE, "database_gone"),
            // Two who send the same at once: one is stored, and the other is told so.
            Self::Store(error) if error.twice().is_some() => (StatusCode::CONFLICT, "taken"),
            Self::Store(_) | Self::Internal(_) => (StatusCode::INTERNAL_SERVER_ERROR, "internal"),
        }
    }

    /// What is wrong, as a message.
    fn message(&self, code: &str) -> Text {
        match self {
            Self::SlowDown { seconds } => text!("problem-slow-down-detail", seconds),
            Self::NotFound(thing) => {
                let thing = thing.to_lowercase().replace([' ', ','], "-").replace("--", "-");
                text!("problem-not-found-detail", thing = Text::of("thing", &thing))
            }
            Self::Stale { head, after, .. } => text!("problem-stale-detail", head, after),
            Self::Taken(text) | Self::Device(text) => text.clone(),
            Self::Refused(refusal) | Self::Profile { refusal, .. } => refusal.message.clone(),
            Self::BadRequest { detail, .. } => Text::verbatim(detail.clone()),
            _ => Text::of("problem", &format!("{code}-detail")),
        }
    }
}

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let (status, code) = self.table();
        let heading = match &self {
            Self::Refused(_) | Self::Profile { .. } => text!("problem-refused"),
            _ => Text::of("problem", code),
        };
        let message = self.message(code);
        let mut problem = Problem {
            kind: format!("urn:ombret:problem:{code}"),
            title: heading.to_string(),
            heading,
            status: status.as_u16(),
            detail: message.to_string(),
            message,
            field: None,
            what_to_do: None,
            figures: BTreeMap::new(),
            problems: Vec::new(),
            moved_on: None,
            also: Vec::new(),
        };
        match &self {
            Self::Refused(refusal) | Self::Profile { refusal, .. } => {
                problem.field.clone_from(&refusal.field);
                problem.what_to_do.clone_from(&refusal.what_to_do);
                problem.figures.clone_from(&refusal.figures);
                if let Self::Profile { problems, .. } = &self {
                    problem.problems.clone_from(problems);
                }
                let also = |r: &Refusal| AlsoWrong {
                    field: r.field.clone(),
                    message: r.message.clone(),
                    what_to_do: r.what_to_do.clone(),
                };
                problem.also = refusal.also.iter().map(also).collect();
            }
            Self::Stale { head, newer, .. } => {
                problem.what_to_do = Some(text!("problem-stale-advice"));
                problem.moved_on = Some(MovedOn { head: *head, newer: newer.clone() });
            }
            _ => {}
        }
        match &self {
            Self::Store(StoreError::Gone(error)) => tracing::warn!(%error, "the database is away"),
            Self::Store(error) => tracing::error!(error = ?error, "the store failed"),
            Self::Internal(error) => tracing::error!(%error, "internal error"),
            _ => {}
        }
        let mut response = (status, Json(problem)).into_response();
        let headers = response.headers_mut();
        headers.insert(header::CONTENT_TYPE, HeaderValue::from_static("application/problem+json"));
        let wait = match &self {
            Self::SlowDown { seconds } => Some(*seconds),
            Self::Store(StoreError::Gone(_)) | Self::Busy => Some(2),
            _ => None,
        };
        if let Some(wait) = wait.and_then(|w| HeaderValue::from_str(&w.to_string()).ok()) {
            headers.insert(header::RETRY_AFTER, wait);
        }
        response
    }
}

/// A handler that panicked is answered like any internal error.
pub fn panicked(panic: Box<dyn Any + Send + 'static>) -> Response {
    let text =
        panic.downcast_ref::<String>().map(String::as_str).or_else(|| panic.downcast_ref::<&str>().copied());
    ApiError::Internal(format!("a handler panicked: {}", text.unwrap_or("no message"))).into_response()
}
