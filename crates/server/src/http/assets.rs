//! The built front end. An unknown path is the page itself (its router knows it); a missing asset
//! and an unknown API path are told as such. What was compressed when it was built is served as it is.

use axum::http::{HeaderMap, HeaderValue, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

use super::problem::ApiError;

#[derive(RustEmbed)]
#[folder = "../../web/dist/"]
struct Web;

/// Ways in which a file may lie here compressed, the smaller first.
const WAYS: [(&str, &str); 2] = [("br", ".br"), ("gzip", ".gz")];

/// Serves a file of the front end, or the page.
pub async fn serve(uri: Uri, headers: HeaderMap) -> Response {
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
    if let Some(found) = file(path, &headers) {
        return found;
    }
    if path.starts_with("assets/") {
        return StatusCode::NOT_FOUND.into_response();
    }
    file("index.html", &headers).unwrap_or_else(|| {
        (StatusCode::NOT_FOUND, "the front end is not built: run ./ombret demo").into_response()
    })
}

/// Whether a browser takes an encoding; one that is named with q=0 it does not.
fn takes(headers: &HeaderMap, encoding: &str) -> bool {
    headers.get_all(header::ACCEPT_ENCODING).iter().filter_map(|value| value.to_str().ok()).any(|value| {
        value.split(',').any(|one| {
            let (name, weight) = one.trim().split_once(';').unwrap_or((one.trim(), ""));
            let refused = weight.trim().strip_prefix("q=").is_some_and(|q| q.parse() == Ok(0.0));
            name.trim().eq_ignore_ascii_case(encoding) && !refused
        })
    })
}

fn file(path: &str, headers: &HeaderMap) -> Option<Response> {
    let kind = mime_guess::from_path(path).first_or_octet_stream();
    let keep = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    let kind = HeaderValue::from_str(kind.as_ref()).ok()?;
    let whole = Web::get(path)?;
    let small = WAYS
        .iter()
        .filter(|(encoding, _)| takes(headers, encoding))
        .find_map(|(encoding, ending)| Some((*encoding, Web::get(&format!("{path}{ending}"))?)));
    let mut response =
        ([(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, HeaderValue::from_static(keep))], ())
            .into_response();
    if path.starts_with("assets/") {
        response.headers_mut().insert(header::VARY, HeaderValue::from_static("accept-encoding"));
    }
    *response.body_mut() = match small {
        Some((encoding, small)) => {
            response.headers_mut().insert(header::CONTENT_ENCODING, HeaderValue::from_static(encoding));
            small.data.into()
        }
        None => whole.data.into(),
    };
    Some(response)
}
