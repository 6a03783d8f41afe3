//! A cache of the jobs that are worked on, with the state that they come to, so that the next entry reads nothing
//! but who sends it. It is never trusted alone: an entry goes behind the head that it was sealed behind or
//! nowhere, and a job that another instance has moved on is read again.

use std::sync::{Arc, Mutex, PoisonError};

use hashlink::LruCache;
use tokio::sync::OwnedMutexGuard;
use uuid::Uuid;

use super::journals::Job;

/// Most jobs that are kept; the one that nobody has asked for the longest goes first.
const KEPT: usize = 256;

/// One job, and whose turn it is at it.
type Slot = Arc<tokio::sync::Mutex<Option<Job>>>;

/// The jobs that this instance keeps.
#[derive(Clone)]
pub struct JobCache(Arc<Mutex<LruCache<Uuid, Slot>>>);

impl Default for JobCache {
    fn default() -> Self {
        Self(Arc::new(Mutex::new(LruCache::new(KEPT))))
    }
}

impl JobCache {
    /// The slot of a job, as soon as nobody else of this instance is at it: what is kept of it, or nothing.
    pub async fn slot(&self, job: Uuid) -> OwnedMutexGuard<Option<Job>> {
        let slot = {
            let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
            kept.entry(job).or_insert_with(Slot::default).clone()
        };
        slot.lock_owned().await
    }
}
