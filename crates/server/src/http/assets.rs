//! The built front end. An unknown path is the page itself (its router knows it); a missing asset
//! and an unknown API path are told as such.

use axum::http::{HeaderValue, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

use super::problem::ApiError;

#[derive(RustEmbed)]
#[folder = "../../web/dist/"]
struct Web;

/// Serves a file of the front end, or the page.
pub async fn serve(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    // No file of the front end is reached by walking up, however that is spelt.
    if path.split(['/', '\\']).any(|part| part == ".." || part.eq_ignore_ascii_case("%2e%2e"))
        || path.contains('\0')
    {
        return StatusCode::NOT_FOUND.into_response();
    }
    if path == "api" || path.starts_with("api/") {
        return ApiError::NotFound("address in the API").into_response();
    }
    if let Some(found) = file(path) {
        return found;
    }
    if path.starts_with("assets/") {
        return StatusCode::NOT_FOUND.into_response();
    }
    file("index.html").unwrap_or_else(|| {
        (StatusCode::NOT_FOUND, "the front end is not built: run ./ombret demo").into_response()
    })
}

fn file(path: &str) -> Option<Response> {
    let found = Web::get(path)?;
    let kind = mime_guess::from_path(path).first_or_octet_stream();
    let keep = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    let kind = HeaderValue::from_str(kind.as_ref()).ok()?;
    Some(
        ([(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, HeaderValue::from_static(keep))], found.data)
            .into_response(),
    )
}
