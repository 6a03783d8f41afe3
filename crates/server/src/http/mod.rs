//! The way in: routes, who may use them, and one shape for everything that goes wrong.

mod accounts;
mod archive;
mod assets;
mod beside;
mod body;
mod customers;
mod due;
mod factors;
mod figures;
mod genuine;
mod guard;
mod history;
mod intake;
mod jobs;
mod judgement;
mod kit;
mod listed;
mod live;
mod mail;
mod metrics;
mod objects;
mod openapi;
mod owners;
mod papers;
mod practice;
mod problem;
mod profiles;
mod records;
mod scales;
mod serving;
mod sign_in;
mod tables;
mod tasks;
mod vocabulary;
mod workers;

use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, MatchedPath, State};
use axum::http::{HeaderName, HeaderValue, header};
use axum::middleware;
use axum::response::IntoResponse;
use sqlx::PgPool;
use tokio_util::sync::CancellationToken;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, RequestId, SetRequestIdLayer};
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::RequestBodyTimeoutLayer;
use tower_http::trace::TraceLayer;

pub use accounts::{FIRST_START, WorkshopDefaults, WorkshopForm, first_start, welcome};
pub use beside::is_taken;
pub use judgement::JudgementRules;
pub use mail::{Post, keep_reminding, remind};
pub use metrics::{serve_metrics, watch};
pub use objects::check_classes;
pub use openapi::document;
pub use papers::{PaperRules, Ready};
pub use practice::check_lesson;
pub use problem::{ApiError, Problem};
pub use profiles::check_site;
pub use serving::serve;
pub use sign_in::hash_password;
pub use tasks::{Tasks, Work, keep_taking_up, take_up};

use crate::live::{Allowed, Benches, Readers};
use crate::settings::Settings;
use crate::store::at_work::AtWork;
use crate::store::bus::Bus;

/// Largest ordinary request body, in bytes.
const BODY_LIMIT: usize = 64 * 1024;
/// Largest body with a profile in it, in bytes.
const PROFILE_LIMIT: usize = 160 * 1024;
/// Largest table of weights or file of a certificate, in bytes.
const KIT_LIMIT: usize = 6 * 1024 * 1024;
/// Largest job file taken in, in bytes.
const FILE_LIMIT: usize = 4 * 1024 * 1024;

/// What every handler may use.
#[derive(Clone)]
pub struct App {
    /// The database.
    pub pool: PgPool,
    /// Where figures, lists and lookups are asked for: a replica where one is set, else the same.
    pub reads: PgPool,
    /// Settings.
    pub settings: Arc<Settings>,
    /// Jobs that are worked on here.
    pub at_work: AtWork,
    /// What instances tell each other.
    pub bus: Bus,
    /// Connected indicators.
    pub readers: Readers,
    /// Practice scales of lessons.
    pub benches: Benches,
    /// Long work.
    pub tasks: Tasks,
    /// Who sends mail, where anybody does.
    pub post: Option<Post>,
    /// What keeps signing in from costing more than it should.
    pub sign_in_limits: sign_in::SignInLimits,
    /// Those who compute.
    pub workers: workers::Workers,
    /// Live streams that are open, by person.
    pub streams: live::Streams,
    /// Loading plans worked out lately.
    pub plans: kit::Plans,
}

impl App {
    /// Puts it together.
    pub fn new(pool: PgPool, settings: Settings, stop: CancellationToken) -> Self {
        let bus = Bus::new(pool.clone());
        let readers = Readers::new(Allowed::of(&settings), Arc::new(bus.clone()), stop.clone());
        let benches = Benches::new(settings.practice_speed, stop.clone());
        Self {
            reads: pool.clone(),
            pool,
            at_work: AtWork::default(),
            bus,
            settings: Arc::new(settings),
            readers,
            benches,
            tasks: Tasks::new(stop),
            post: None,
            sign_in_limits: sign_in::SignInLimits::default(),
            workers: workers::Workers::default(),
            streams: live::Streams::default(),
            plans: kit::Plans::default(),
        }
    }
}

/// What a page of the program may load and do: its own files, and nothing else.
const POLICY: &str = "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; object-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'";
/// What no page of the program needs of the machine.
const PERMISSIONS: &str = "accelerometer=(), camera=(), display-capture=(), geolocation=(), gyroscope=(), microphone=(), payment=(), usb=()";

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
        .layer(always(header::CONTENT_SECURITY_POLICY, POLICY))
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
        path if path.starts_with("/api/profiles") => PROFILE_LIMIT,
        path if path.starts_with("/api/kit/") || path.starts_with("/api/files/") || path == "/api/intake" => {
            KIT_LIMIT
        }
        path if path.starts_with("/api/lessons") => PROFILE_LIMIT,
        // An archive is taken from the stream and counts for itself.
        "/api/archive/import" => usize::MAX,
        "/api/dcc" => ombret_core::dcc::MOST_BYTES,
        _ => BODY_LIMIT,
    };
    DefaultBodyLimit::apply(DefaultBodyLimit::max(limit), &mut request);
    next.run(request).await
}
