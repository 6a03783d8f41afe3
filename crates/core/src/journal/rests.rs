//! Which entries rest on one another, and how many points an adjustment may have.

use super::entry::Entry;
use super::state::JobState;
use super::values::TOGETHER;

/// Most points of a curve beside zero, the span among them, where the profile does not say.
const MOST_POINTS: usize = 8;

/// How many points beside zero the indicator takes.
pub(crate) fn most_points(state: &JobState) -> usize {
    state.sheet.profile_facts().map_or(MOST_POINTS, |f| usize::from(f.points).clamp(1, MOST_POINTS))
}

/// The steps of an adjustment rest on one another: the last must go first.
pub(crate) fn rests_on<'a>(entries: &'a [Entry], state: &JobState, entry: &Entry) -> Option<&'a Entry> {
    let own = entry.body.rank()?;
    let pad = entry.body.pad();
    let same_pad = |other: u8| pad == TOGETHER || other == TOGETHER || other == pad;
    let rests = |later: &&Entry| {
        later.seq > entry.seq && !state.struck.contains(&later.id) && same_pad(later.body.pad())
    };
    entries.iter().filter(rests).find(|later| later.body.rank().is_some_and(|rank| rank > own))
}
