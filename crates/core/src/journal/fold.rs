//! Entries folded into the state of their job. What was struck out is left aside.

use std::collections::BTreeSet;

use uuid::Uuid;

use super::entries;
use super::entry::{Body, Entry};
use super::state::JobState;

impl JobState {
    /// Goes on by the last of `entries`; the state is that of those before it.
    pub(crate) fn advance(&mut self, entries: &[Entry]) {
        let Some(entry) = entries.last() else { return };
        // What is struck out was never there: that alone asks for the whole journal again.
        if matches!(entry.body, Body::StruckOut(_)) {
            if let Some(state) = fold(entries) {
                *self = state;
            }
            return;
        }
        self.head = entry.seq;
        entry.take_effect(self);
    }
}

/// Folds a journal into its state; `None` where it does not begin with a start.
pub fn fold<'a>(entries: impl IntoIterator<Item = &'a Entry> + Clone) -> Option<JobState> {
    let struck: BTreeSet<Uuid> = entries
        .clone()
        .into_iter()
        .filter_map(|entry| match &entry.body {
            Body::StruckOut(entries::StruckOut { entry, .. }) => Some(*entry),
            _ => None,
        })
        .collect();
    let mut entries = entries.into_iter();
    let first = entries.next()?;
    let Body::Started(entries::Started { sheet, before }) = &first.body else { return None };
    let mut state =
        JobState::begun((first.at, first.by.clone()), (**sheet).clone(), before.as_deref().cloned());
    for entry in entries {
        state.head = entry.seq;
        if !struck.contains(&entry.id) {
            entry.take_effect(&mut state);
        }
    }
    state.struck = struck;
    Some(state)
}
