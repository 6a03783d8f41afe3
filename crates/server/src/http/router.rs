//! Every route, and what lies around all of them.

use std::sync::LazyLock;
use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, MatchedPath, State};
use axum::http::{HeaderName, HeaderValue, header};
use axum::middleware;
use axum::response::IntoResponse;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, RequestId, SetRequestIdLayer};
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::RequestBodyTimeoutLayer;
use tower_http::trace::TraceLayer;

use super::app::App;
use super::{assets, body, guard, metrics, openapi, problem};
use crate::live::LINK_PORT;
use crate::validation::TEXT_LIMIT;

/// Largest ordinary request body, in bytes.
const BODY_LIMIT: usize = 64 * 1024;
/// Largest table of weights or file of a certificate, in bytes.
const KIT_LIMIT: usize = 6 * 1024 * 1024;

/// What a page of the program may load and do: its own files, and nothing else. The core for the page is one of
/// them; without `wasm-unsafe-eval` no WebAssembly is compiled.
static POLICY: LazyLock<String> = LazyLock::new(|| {
    format!(
        "default-src 'self'; connect-src 'self' ws://127.0.0.1:{LINK_PORT}; script-src 'self' 'wasm-unsafe-eval'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; object-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
    )
});
/// What pages of the program need of the machine: the camera for a code, and nothing else.
const PERMISSIONS: &str = "accelerometer=(), camera=(self), display-capture=(), geolocation=(), gyroscope=(), microphone=(), payment=(), usb=()";

/// Every route.
pub fn router(app: App) -> Router {
    let https = app.settings.https();
    let patience = Duration::from_secs(app.settings.patience_s);
    let (api, _) = openapi::routes().split_for_parts();
    let always = |name, value: &'static str| {
        SetResponseHeaderLayer::overriding(name, header::HeaderValue::from_static(value))
    };
    api.route("/api/openapi.json", axum::routing::get(openapi::serve))
        .route_layer(middleware::from_fn(body_limit))
        .route_layer(middleware::from_fn(metrics::measured))
        .layer(middleware::map_response_with_state((), no_store))
        .fallback(assets::serve)
        .layer(middleware::from_fn(no_nul))
        .layer(middleware::from_fn_with_state(app.clone(), guard::same_origin))
        .layer(CompressionLayer::new().gzip(true))
        .layer(always(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(always(header::REFERRER_POLICY, "same-origin"))
        .layer(always(header::CONTENT_SECURITY_POLICY, POLICY.as_str()))
        .layer(always(HeaderName::from_static("cross-origin-opener-policy"), "same-origin"))
        .layer(always(HeaderName::from_static("permissions-policy"), PERMISSIONS))
        .layer(SetResponseHeaderLayer::overriding(
            header::STRICT_TRANSPORT_SECURITY,
            https.then(|| HeaderValue::from_static("max-age=31536000")),
        ))
        .layer(RequestBodyTimeoutLayer::new(patience))
        .layer(CatchPanicLayer::custom(problem::panicked))
        .layer(TraceLayer::new_for_http().make_span_with(span))
        .layer(PropagateRequestIdLayer::x_request_id())
        .layer(SetRequestIdLayer::x_request_id(MakeRequestUuid))
        .with_state(app)
}

/// What is logged of a request: by the template of its route, for addresses hold secrets.
fn span(request: &axum::extract::Request) -> tracing::Span {
    let id = request.extensions().get::<RequestId>().and_then(|id| id.header_value().to_str().ok());
    let route = request.extensions().get::<MatchedPath>().map_or("other", MatchedPath::as_str);
    tracing::info_span!("request", id = id.unwrap_or_default(), method = %request.method(), route)
}

/// No address has U+0000 in it.
async fn no_nul(request: axum::extract::Request, next: middleware::Next) -> axum::response::Response {
    if request.uri().path_and_query().is_some_and(|asked| asked.as_str().contains("%00")) {
        return body::nul().into_response();
    }
    next.run(request).await
}

/// What the API answers is for whoever asked, now; it says itself where it may be kept.
async fn no_store(State(()): State<()>, mut response: axum::response::Response) -> axum::response::Response {
    response.headers_mut().entry(header::CACHE_CONTROL).or_insert(HeaderValue::from_static("no-store"));
    response
}

/// Profiles are texts of some length; every other body is small.
async fn body_limit(mut request: axum::extract::Request, next: middleware::Next) -> axum::response::Response {
    let limit = match request.uri().path() {
        path if path.starts_with("/api/profiles") => TEXT_LIMIT,
        path if path.starts_with("/api/kit/")
            || path.starts_with("/api/files/")
            || path == "/api/intake"
            || path == "/api/offline/home" =>
        {
            KIT_LIMIT
        }
        path if path.starts_with("/api/lessons") => TEXT_LIMIT,
        // An archive is taken from the stream and counts for itself.
        "/api/archive/import" => usize::MAX,
        "/api/dcc" => ombret_core::record::MOST_BYTES,
        _ => BODY_LIMIT,
    };
    DefaultBodyLimit::apply(DefaultBodyLimit::max(limit), &mut request);
    next.run(request).await
}
