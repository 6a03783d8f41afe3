//! What comes from an indicator: its lines, whether they hold still, how it answers a push.

mod line;
mod reaction;
mod stability;

pub use line::{
    LONGEST_LINE, Line, LineError, LinePattern, LineReader, LineReading, OWN_PATTERN, candidates,
};
pub use reaction::{Follow, Reaction, compare_rises};
pub use stability::{Criterion, Status, Tracker, first_steady};
