//! Jobs that are worked on: kept with the state that they come to, so that the next entry reads nothing but
//! who sends it. What is kept is never trusted alone: an entry goes behind the head that it was sealed
//! behind or nowhere, and a job that another instance has moved on is read again.

use std::sync::{Arc, Mutex, PoisonError};

use hashlink::LruCache;
use tokio::sync::OwnedMutexGuard;
use uuid::Uuid;

use super::journals::Job;

/// Most jobs that are kept; the one that nobody has asked for the longest goes first.
const KEPT: usize = 256;

/// One job, and whose turn it is at it.
type Place = Arc<tokio::sync::Mutex<Option<Job>>>;

/// The jobs that this instance has in hand.
#[derive(Clone)]
pub struct AtWork(Arc<Mutex<LruCache<Uuid, Place>>>);

impl Default for AtWork {
    fn default() -> Self {
        Self(Arc::new(Mutex::new(LruCache::new(KEPT))))
    }
}

impl AtWork {
    /// The place of a job, as soon as nobody else of this instance is at it: what is kept of it, or nothing.
    pub async fn place(&self, job: Uuid) -> OwnedMutexGuard<Option<Job>> {
        let place = {
            let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
            kept.entry(job).or_insert_with(Place::default).clone()
        };
        place.lock_owned().await
    }
}
