//! Long work under way: how far it is, and whether it goes on.

use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};

use tokio_util::sync::CancellationToken;
use uuid::Uuid;

/// Some work that is under way here: how far it is, and whether it goes on.
#[derive(Clone)]
pub struct Work {
    /// Identity.
    pub id: Uuid,
    /// Told when it is to stop.
    pub stop: CancellationToken,
    done: Arc<AtomicI64>,
    total: Arc<AtomicI64>,
}

impl Work {
    /// None of it done yet.
    pub fn new(id: Uuid, stop: CancellationToken) -> Self {
        Self { id, stop, done: Arc::default(), total: Arc::default() }
    }

    /// How much is done, and of how much.
    pub fn stands(&self) -> (i64, i64) {
        (self.done.load(Ordering::Relaxed), self.total.load(Ordering::Relaxed))
    }

    /// How far it is.
    pub fn progress(&self, done: u64, total: u64) {
        let whole = |n: u64| i64::try_from(n).unwrap_or(i64::MAX);
        self.total.store(whole(total), Ordering::Relaxed);
        self.done.store(whole(done), Ordering::Relaxed);
    }
}
