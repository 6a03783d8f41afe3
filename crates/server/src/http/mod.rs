//! The way in: routes, who may use them, and one shape for everything that goes wrong.

mod archive;
mod assets;
mod body;
mod due;
mod figures;
mod guard;
mod history;
mod jobs;
mod judgement;
mod kit;
mod live;
mod objects;
mod openapi;
mod papers;
mod practice;
mod problem;
mod profiles;
mod records;
mod scales;
mod sign_in;
mod vocabulary;

use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::http::header;
use axum::middleware;
use sqlx::PgPool;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::trace::TraceLayer;

pub use judgement::JudgementRules;
pub use openapi::document;
pub use papers::{PaperRules, Ready};
pub use problem::{ApiError, Problem};
pub use sign_in::hash_password;

use crate::archive::Tasks;
use crate::live::{Benches, Readers};
use crate::settings::Settings;

/// Largest ordinary request body, in bytes.
const BODY_LIMIT: usize = 64 * 1024;
/// Largest body with a profile in it, in bytes.
const PROFILE_LIMIT: usize = 160 * 1024;
/// Largest table of weights or file of a certificate, in bytes.
const KIT_LIMIT: usize = 6 * 1024 * 1024;
/// Largest job file taken in, in bytes.
const FILE_LIMIT: usize = 4 * 1024 * 1024;
/// How long open streams may take to end.
const FAREWELL: Duration = Duration::from_secs(2);

/// What every handler may use.
#[derive(Clone)]
pub struct App {
    /// The database.
    pub pool: PgPool,
    /// Settings.
    pub settings: Arc<Settings>,
    /// Connected indicators.
    pub readers: Readers,
    /// Practice scales of lessons.
    pub benches: Benches,
    /// Long work.
    pub tasks: Tasks,
    /// Loading plans worked out lately.
    pub plans: kit::Plans,
}

impl App {
    /// Puts it together.
    pub fn new(pool: PgPool, settings: Settings, stop: CancellationToken) -> Self {
        let benches = Benches::new(settings.practice_speed, stop.clone());
        Self {
            pool,
            settings: Arc::new(settings),
            readers: Readers::new(stop.clone()),
            benches,
            tasks: Tasks::new(stop),
            plans: kit::Plans::default(),
        }
    }
}

/// Every route.
pub fn router(app: App) -> Router {
    let policy = "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'";
    let (api, _) = openapi::routes().split_for_parts();
    let always = |name, value: &'static str| {
        SetResponseHeaderLayer::overriding(name, header::HeaderValue::from_static(value))
    };
    api.route("/api/openapi.json", axum::routing::get(openapi::serve))
        .route_layer(middleware::from_fn(body_limit))
        .fallback(assets::serve)
        .layer(middleware::from_fn_with_state(app.clone(), guard::same_origin))
        .layer(CompressionLayer::new().gzip(true))
        .layer(always(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(always(header::REFERRER_POLICY, "same-origin"))
        .layer(always(header::CONTENT_SECURITY_POLICY, policy))
        .layer(CatchPanicLayer::custom(problem::panicked))
        .layer(TraceLayer::new_for_http())
        .with_state(app)
}

/// Profiles are texts of some length; every other body is small.
async fn body_limit(mut request: axum::extract::Request, next: middleware::Next) -> axum::response::Response {
    let limit = match request.uri().path() {
        path if path.starts_with("/api/profiles") => PROFILE_LIMIT,
        path if path.starts_with("/api/kit/") => KIT_LIMIT,
        path if path.starts_with("/api/lessons") => PROFILE_LIMIT,
        // An archive is taken from the stream and counts for itself.
        "/api/archive/import" => usize::MAX,
        "/api/dcc" => ombret_core::dcc::MOST_BYTES,
        _ => BODY_LIMIT,
    };
    DefaultBodyLimit::apply(DefaultBodyLimit::max(limit), &mut request);
    next.run(request).await
}

/// Serves until `stop`, then lets open requests end.
///
/// # Errors
/// Where the listener fails.
pub async fn serve(listener: TcpListener, app: App, stop: CancellationToken) -> std::io::Result<()> {
    let waited = stop.clone();
    let serving =
        axum::serve(listener, router(app)).with_graceful_shutdown(async move { waited.cancelled().await });
    let serving = tokio::spawn(serving.into_future());
    stop.cancelled().await;
    // Streams end on the same token; whatever else hangs is not waited for.
    match tokio::time::timeout(FAREWELL, serving).await {
        Ok(Ok(ended)) => ended,
        Ok(Err(_)) | Err(_) => Ok(()),
    }
}
