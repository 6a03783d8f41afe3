//! Computation: off the threads that serve, no more at a time than there are processors, with an end, and
//! none of it goes on after whoever asked has gone.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

use tokio::sync::Semaphore;

use super::problem::ApiError;

/// Work that waits for its turn at a time; more is told to come again.
const WAITING: usize = 64;
/// Longest that one piece of work takes.
const BUDGET: Duration = Duration::from_secs(15);

/// Whether work should stop: its time is up, or nobody waits for it any more.
#[derive(Clone)]
pub struct Stop {
    gone: Arc<AtomicBool>,
    until: Instant,
}

impl Stop {
    /// True where it should.
    pub fn asked(&self) -> bool {
        self.gone.load(Ordering::Relaxed) || Instant::now() > self.until
    }
}

/// Says so when the request is dropped.
struct Gone(Arc<AtomicBool>);

impl Drop for Gone {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

/// Those who compute.
#[derive(Clone)]
pub struct Workers {
    places: Arc<Semaphore>,
    most: usize,
    waiting: Arc<Semaphore>,
}

impl Default for Workers {
    fn default() -> Self {
        let processors = std::thread::available_parallelism().map_or(2, std::num::NonZero::get);
        Self {
            places: Arc::new(Semaphore::new(processors.max(2))),
            most: processors.max(2),
            waiting: Arc::new(Semaphore::new(WAITING)),
        }
    }
}

impl Workers {
    /// How much waits and how much is computed now.
    pub fn load(&self) -> (usize, usize) {
        let all = WAITING.saturating_sub(self.waiting.available_permits());
        let computing = self.most.saturating_sub(self.places.available_permits());
        (all.saturating_sub(computing), computing)
    }

    /// Does some work that takes a while.
    ///
    /// # Errors
    /// What the work says; [`ApiError::SlowDown`] where too much waits already; an internal error where it
    /// panicked.
    pub async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Stop) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<T, ApiError> {
        let _waits = self.waiting.try_acquire().map_err(|_| ApiError::Busy)?;
        let internal = |e: &dyn std::fmt::Display| ApiError::Internal(e.to_string());
        let place = self.places.clone().acquire_owned().await.map_err(|e| internal(&e))?;
        let gone = Gone(Arc::default());
        let stop = Stop { gone: gone.0.clone(), until: Instant::now() + BUDGET };
        let done = tokio::task::spawn_blocking(move || {
            let _place = place;
            work(&stop)
        });
        let done = done.await.map_err(|e| internal(&e))?;
        drop(gone);
        done
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn work_stops_when_nobody_waits_for_it_and_no_more_runs_than_there_are_places() {
        let workers =
            Workers { places: Arc::new(Semaphore::new(1)), most: 1, waiting: Arc::new(Semaphore::new(2)) };
        let (said, mut heard) = tokio::sync::mpsc::unbounded_channel();
        let first = {
            let (workers, said) = (workers.clone(), said.clone());
            tokio::spawn(async move {
                workers
                    .run(move |stop| {
                        said.send("begun").unwrap();
                        while !stop.asked() {
                            std::thread::sleep(Duration::from_millis(1));
                        }
                        said.send("stopped").unwrap();
                        Ok(())
                    })
                    .await
            })
        };
        assert_eq!(heard.recv().await, Some("begun"));
        let second = tokio::spawn({
            let workers = workers.clone();
            async move { workers.run(|_| Ok(7)).await }
        });
        while workers.waiting.available_permits() > 0 {
            tokio::task::yield_now().await;
        }
        assert!(matches!(workers.run(|_| Ok(())).await, Err(ApiError::Busy)), "too much waits already");
        first.abort();
        assert_eq!(heard.recv().await, Some("stopped"));
        assert_eq!(second.await.unwrap().unwrap(), 7);
    }
}
