//! How the program does: requests by route, how long they took, the pool, who computes, what is connected.
//! Served on a listener of its own that only this machine reaches. Source: the Prometheus text format.

use std::net::SocketAddr;
use std::time::{Duration, Instant};

use axum::extract::{MatchedPath, Request};
use axum::middleware::Next;
use axum::response::Response;
use metrics::{counter, gauge, histogram};
use metrics_exporter_prometheus::{BuildError, Matcher, PrometheusBuilder};

use super::app::App;

/// How often what is not counted by requests is looked at.
const LOOKED_AT: Duration = Duration::from_secs(5);
/// Upper ends of the classes of how long requests took, in seconds.
const SECONDS: [f64; 10] = [0.002, 0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 1.0, 5.0, 15.0];
const TOOK: &str = "ombret_http_request_seconds";

/// Serves what is measured.
///
/// # Errors
/// Where it cannot listen there.
pub fn serve_metrics(address: SocketAddr) -> Result<(), BuildError> {
    PrometheusBuilder::new()
        .with_http_listener(address)
        .set_buckets_for_metric(Matcher::Full(TOOK.into()), &SECONDS)?
        .install()
}

/// Looks at what is not counted by requests, until the program ends.
pub async fn watch(app: App) {
    let gauged = |value: usize| f64::from(u32::try_from(value).unwrap_or(u32::MAX));
    loop {
        let idle = app.pool.num_idle();
        gauge!("ombret_database_connections").set(f64::from(app.pool.size()));
        gauge!("ombret_database_connections_idle").set(gauged(idle));
        let (waiting, computing) = app.workers.load();
        gauge!("ombret_workers_waiting").set(gauged(waiting));
        gauge!("ombret_workers_computing").set(gauged(computing));
        gauge!("ombret_device_links").set(gauged(app.readers.open()));
        gauge!("ombret_live_streams").set(gauged(app.streams.count()));
        if let Ok(open) = crate::store::jobs::count_open(&app.pool).await {
            gauge!("ombret_jobs_open").set(gauged(usize::try_from(open).unwrap_or(0)));
        }
        tokio::time::sleep(LOOKED_AT).await;
    }
}

/// Counts a request by the template of its route, never by its address: addresses hold secrets.
pub async fn measured(request: Request, next: Next) -> Response {
    let route = request
        .extensions()
        .get::<MatchedPath>()
        .map_or_else(|| "other".to_owned(), |path| path.as_str().to_owned());
    let method = request.method().to_string();
    let begun = Instant::now();
    let response = next.run(request).await;
    let status = response.status().as_u16().to_string();
    counter!("ombret_http_requests_total", "method" => method.clone(), "route" => route.clone(), "status" => status)
        .increment(1);
    histogram!(TOOK, "method" => method, "route" => route).record(begun.elapsed().as_secs_f64());
    response
}
