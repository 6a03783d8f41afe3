//! How many live streams somebody has open.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use uuid::Uuid;

/// Live streams that a person may have open at a time: more than pages on a bench.
const MOST_STREAMS: usize = 16;

/// Live streams that are open, by person.
#[derive(Clone, Default)]
pub struct Streams(Arc<Mutex<HashMap<Uuid, usize>>>);

/// One of them; it is given back when the stream ends.
pub(super) struct Open {
    streams: Streams,
    person: Uuid,
}

impl Streams {
    /// How many are open.
    pub fn count(&self) -> usize {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).values().sum()
    }

    pub(super) fn open(&self, person: Uuid) -> Option<Open> {
        let mut by_person = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let count = by_person.entry(person).or_default();
        if *count >= MOST_STREAMS {
            return None;
        }
        *count += 1;
        Some(Open { streams: self.clone(), person })
    }
}

impl Drop for Open {
    fn drop(&mut self) {
        let mut by_person = self.streams.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(count) = by_person.get_mut(&self.person) {
            *count -= 1;
            if *count == 0 {
                by_person.remove(&self.person);
            }
        }
    }
}
