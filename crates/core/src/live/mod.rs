//! A connected indicator: its lines as they come, and what a page or a job may take of them. Times are seconds of
//! any one clock that never runs backwards; whoever reads the line brings them.

mod lines;
mod watch;

pub use lines::{Cut, Lines, Link, Sample};
pub use watch::{LiveView, Watch, observe};
