//! Which entries rest on one another, and how many points an adjustment may have.

use super::entry::{Body, Entry};
use super::state::JobState;

/// Most points of a curve beside zero, the span among them, where the profile does not say.
const MOST_POINTS: usize = 8;

/// How many points beside zero the indicator takes.
pub(crate) fn most_points(state: &JobState) -> usize {
    state.sheet.profile_facts().map_or(MOST_POINTS, |f| usize::from(f.points).clamp(1, MOST_POINTS))
}

/// The steps of an adjustment rest on one another: the last must go first.
pub(crate) fn rests_on<'a>(entries: &'a [Entry], state: &JobState, entry: &Entry) -> Option<&'a Entry> {
    let rank = |body: &Body| match body {
        Body::SetUp { .. } => Some(0),
        Body::ZeroCaptured { .. } | Body::SpanChosen { .. } => Some(1),
        Body::SpanCaptured { .. } => Some(2),
        Body::PointCaptured { .. } => Some(3),
        Body::AdjustmentSaved { .. } | Body::ZeroSaved { .. } => Some(4),
        _ => None,
    };
    let own = rank(&entry.body)?;
    let pad = pad_of(&entry.body);
    let same_pad = |body: &Body| pad == 0 || pad_of(body) == 0 || pad_of(body) == pad;
    let rests =
        |later: &&Entry| later.seq > entry.seq && !state.struck.contains(&later.id) && same_pad(&later.body);
    entries.iter().filter(rests).find(|later| rank(&later.body).is_some_and(|r| r > own))
}

/// The pad that an entry is about; 0: all of them.
pub(crate) const fn pad_of(body: &Body) -> u8 {
    match body {
        Body::SetUp { pad, .. }
        | Body::ZeroCaptured { pad, .. }
        | Body::SpanChosen { pad, .. }
        | Body::SpanCaptured { pad, .. }
        | Body::AdjustmentSaved { pad }
        | Body::PointCaptured { pad, .. }
        | Body::ZeroSaved { pad }
        | Body::FactorSet { pad, .. }
        | Body::InternalMatched { pad, .. }
        | Body::SelfAdjusted { pad }
        | Body::Discriminated { pad, .. }
        | Body::NoFigureRead { pad, .. }
        | Body::Read { pad, .. } => *pad,
        _ => 0,
    }
}
