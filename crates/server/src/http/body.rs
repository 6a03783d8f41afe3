//! Extractors for what comes in, whose failures are problem documents too.

use axum::body::Bytes;
use axum::extract::rejection::{JsonRejection, PathRejection, QueryRejection};
use axum::extract::{FromRequest, FromRequestParts, Path, Query, Request};
use axum::http::request::Parts;
use axum::http::{StatusCode, header};
use serde::de::DeserializeOwned;
use serde_json::Value;

use super::problem::ApiError;

fn bad(status: StatusCode, detail: String) -> ApiError {
    ApiError::BadRequest { status, detail }
}

/// A JSON body.
pub struct Body<T>(pub T);

/// No text that anybody types has the character U+0000, and no database keeps it.
pub(super) fn nul() -> ApiError {
    bad(StatusCode::UNPROCESSABLE_ENTITY, "there is a character in it that no text has (U+0000)".into())
}

fn has_nul(value: &Value) -> bool {
    match value {
        Value::String(text) => text.contains('\0'),
        Value::Array(items) => items.iter().any(has_nul),
        Value::Object(fields) => fields.iter().any(|(key, value)| key.contains('\0') || has_nul(value)),
        _ => false,
    }
}

/// True where JSON has a text with U+0000 in it.
pub(super) fn json_has_nul(bytes: &[u8]) -> bool {
    // It can only be there as an escape; texts that show one are rare, so most bodies are read once.
    bytes.windows(6).any(|w| w == b"\\u0000")
        && serde_json::from_slice::<Value>(bytes).is_ok_and(|value| has_nul(&value))
}

impl<S: Send + Sync, T: DeserializeOwned> FromRequest<S> for Body<T> {
    type Rejection = ApiError;

    async fn from_request(request: Request, state: &S) -> Result<Self, Self::Rejection> {
        let kind = request.headers().get(header::CONTENT_TYPE).cloned();
        let bytes = Bytes::from_request(request, state).await.map_err(|rejection| {
            if rejection.status() == StatusCode::PAYLOAD_TOO_LARGE {
                bad(StatusCode::PAYLOAD_TOO_LARGE, "the body is larger than is taken here".into())
            } else {
                bad(rejection.status(), "the body broke off".into())
            }
        })?;
        if json_has_nul(&bytes) {
            return Err(nul());
        }
        let mut whole = Request::new(axum::body::Body::from(bytes));
        if let Some(kind) = kind {
            whole.headers_mut().insert(header::CONTENT_TYPE, kind);
        }
        match axum::Json::<T>::from_request(whole, state).await {
            Ok(axum::Json(value)) => Ok(Self(value)),
            Err(JsonRejection::MissingJsonContentType(_)) => Err(bad(
                StatusCode::UNSUPPORTED_MEDIA_TYPE,
                "the body must be sent as application/json".into(),
            )),
            Err(rejection) => {
                // What a parser says is for the log; a person cannot mend "expected u16 at column 7".
                tracing::info!(why = %rejection.body_text(), "a request was not understood");
                Err(bad(
                    rejection.status(),
                    "something in this form is not of the kind that is asked for there; look for letters where a number belongs".into(),
                ))
            }
        }
    }
}

/// A part of the path.
pub struct At<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for At<T> {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Self::Rejection> {
        Path::<T>::from_request_parts(parts, state)
            .await
            .map(|Path(value)| Self(value))
            .map_err(|rejection: PathRejection| bad(StatusCode::NOT_FOUND, rejection.body_text()))
    }
}

/// The query.
pub struct Asked<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequestParts<S> for Asked<T> {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Self::Rejection> {
        Query::<T>::from_request_parts(parts, state)
            .await
            .map(|Query(value)| Self(value))
            .map_err(|rejection: QueryRejection| bad(StatusCode::BAD_REQUEST, rejection.body_text()))
    }
}
