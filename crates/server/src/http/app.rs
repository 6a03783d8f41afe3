//! What every handler may use.

use std::sync::Arc;

use sqlx::PgPool;
use tokio_util::sync::CancellationToken;

use super::limits::SignInLimits;
use super::plans::Plans;
use super::post::Post;
use super::streams::Streams;
use super::tasks::Tasks;
use super::workers::Workers;
use crate::live::{Allowed, Benches, Readers};
use crate::settings::Settings;
use crate::store::bus::Bus;
use crate::store::job_cache::JobCache;

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
    pub job_cache: JobCache,
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
    pub sign_in_limits: SignInLimits,
    /// Those who compute.
    pub workers: Workers,
    /// Live streams that are open, by person.
    pub streams: Streams,
    /// Loading plans worked out lately.
    pub plans: Plans,
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
            job_cache: JobCache::default(),
            bus,
            settings: Arc::new(settings),
            readers,
            benches,
            tasks: Tasks::new(stop),
            post: None,
            sign_in_limits: SignInLimits::default(),
            workers: Workers::default(),
            streams: Streams::default(),
            plans: Plans::default(),
        }
    }
}
