//! One shape for everything that goes wrong: RFC 9457 problem documents with a stable type, the
//! field, the message and what to do.

use std::any::Any;
use std::collections::BTreeMap;

use axum::Json;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use serde::Serialize;
use serde_json::Value;
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
    /// HTTP status.
    pub status: u16,
    /// What is wrong here.
    pub detail: String,
    /// The field that was wrong.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub field: Option<String>,
    /// What to do now.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub what_to_do: Option<String>,
    /// Figures that belong to it.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub figures: BTreeMap<String, Value>,
    /// What else is wrong with the same form.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(nullable = false)]
    pub also: Vec<AlsoWrong>,
}

/// Another field of the same form.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct AlsoWrong {
    /// The field.
    #[schema(required)]
    pub field: Option<String>,
    /// What is wrong there.
    pub detail: String,
    /// What to do.
    #[schema(required)]
    pub what_to_do: Option<String>,
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
        newer: Value,
    },
    /// It is there already.
    #[error("{0}")]
    Taken(String),
    /// The rules refuse it.
    #[error("{}", .0.message)]
    Refused(Refusal),
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
    Device(String),
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
    fn table(&self) -> (StatusCode, &str, &'static str) {
        match self {
            Self::SignedOut => (StatusCode::UNAUTHORIZED, "signed_out", "Signed out"),
            Self::WrongCredentials => (StatusCode::UNAUTHORIZED, "wrong_credentials", "Not signed in"),
            Self::CodeNeeded => (StatusCode::UNAUTHORIZED, "code_needed", "One thing more"),
            Self::WrongCode => (StatusCode::UNAUTHORIZED, "wrong_code", "Not signed in"),
            Self::SlowDown { .. } => (StatusCode::TOO_MANY_REQUESTS, "slow_down", "Wait a little"),
            Self::Busy => (StatusCode::SERVICE_UNAVAILABLE, "busy", "Wait a little"),
            Self::WrongRole => (StatusCode::FORBIDDEN, "wrong_role", "Not allowed"),
            Self::ForeignOrigin => (StatusCode::FORBIDDEN, "foreign_origin", "Not allowed"),
            Self::NotFound(_) => (StatusCode::NOT_FOUND, "not_found", "Not found"),
            Self::Stale { .. } => (StatusCode::CONFLICT, "stale", "Somebody else was quicker"),
            Self::Taken(_) => (StatusCode::CONFLICT, "taken", "There already"),
            Self::Refused(refusal) => (StatusCode::UNPROCESSABLE_ENTITY, &refusal.code, "Refused"),
            Self::BadRequest { status, .. } => (*status, "bad_request", "Malformed request"),
            Self::Device(_) => (StatusCode::BAD_GATEWAY, "device", "The indicator does not answer"),
            Self::Store(StoreError::Gone(_)) => {
                (StatusCode::SERVICE_UNAVAILABLE, "database_gone", "The database is away")
            }
            // Two who send the same at once: one is stored, and the other is told so.
            Self::Store(error) if error.twice().is_some() => (StatusCode::CONFLICT, "taken", "There already"),
            Self::Store(_) | Self::Internal(_) => {
                (StatusCode::INTERNAL_SERVER_ERROR, "internal", "Something went wrong")
            }
        }
    }

    fn detail(&self) -> String {
        match self {
            Self::Store(StoreError::Gone(_)) => {
                "nothing was stored; what was typed is kept by the page and sent again".into()
            }
            Self::Store(error) if error.twice().is_some() => {
                "something of this identity is there already; load it again".into()
            }
            Self::Store(_) | Self::Internal(_) => "nothing was stored; the server's log says more".into(),
            other => other.to_string(),
        }
    }
}

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let (status, code, title) = self.table();
        let mut problem = Problem {
            kind: format!("urn:ombret:problem:{code}"),
            title: title.into(),
            status: status.as_u16(),
            detail: self.detail(),
            field: None,
            what_to_do: None,
            figures: BTreeMap::new(),
            also: Vec::new(),
        };
        match &self {
            Self::Refused(refusal) => {
                problem.field.clone_from(&refusal.field);
                problem.what_to_do.clone_from(&refusal.what_to_do);
                problem.figures.clone_from(&refusal.figures);
                let also = |r: &Refusal| AlsoWrong {
                    field: r.field.clone(),
                    detail: r.message.clone(),
                    what_to_do: r.what_to_do.clone(),
                };
                problem.also = refusal.also.iter().map(also).collect();
            }
            Self::Stale { head, newer, .. } => {
                problem.what_to_do =
                    Some("Look at the newer entries; then send again if it still holds.".into());
                problem.figures =
                    BTreeMap::from([("head".into(), (*head).into()), ("newer".into(), newer.clone())]);
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
