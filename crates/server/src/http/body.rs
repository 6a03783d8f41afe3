//! Extractors for what comes in, whose failures are problem documents too.

use axum::extract::rejection::{JsonRejection, PathRejection, QueryRejection};
use axum::extract::{FromRequest, FromRequestParts, Path, Query, Request};
use axum::http::StatusCode;
use axum::http::request::Parts;
use serde::de::DeserializeOwned;

use super::ApiError;

fn bad(status: StatusCode, detail: String) -> ApiError {
    ApiError::BadRequest { status, detail }
}

/// A JSON body.
pub struct Body<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequest<S> for Body<T> {
    type Rejection = ApiError;

    async fn from_request(request: Request, state: &S) -> Result<Self, Self::Rejection> {
        match axum::Json::<T>::from_request(request, state).await {
            Ok(axum::Json(value)) => Ok(Self(value)),
            Err(JsonRejection::MissingJsonContentType(_)) => Err(bad(
                StatusCode::UNSUPPORTED_MEDIA_TYPE,
                "the body must be sent as application/json".into(),
            )),
            Err(rejection) if rejection.status() == StatusCode::PAYLOAD_TOO_LARGE => {
                Err(bad(StatusCode::PAYLOAD_TOO_LARGE, "the body is larger than is taken here".into()))
            }
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
