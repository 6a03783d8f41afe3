//! A port of the machine that the page runs on.

use crate::journal::{Heard, Setup};
use crate::live::{Cut, Lines, Link, LiveView, Watch, observe};
use crate::signal::{LONGEST_LINE, LinePattern, LineReader};
use crate::wording::Text;

/// What comes from one port.
pub(super) struct Port {
    reader: LineReader,
    lines: Lines,
    /// The beginning of a line that has not ended yet.
    begun: String,
    /// The rest of a line that is longer than any is no line of its own.
    over_long: bool,
    watch: Option<(Setup, Watch)>,
}

impl Port {
    pub(super) fn new(pattern: LinePattern) -> Result<Self, Text> {
        let reader = LineReader::new(pattern).map_err(|e| Text::from(&e))?;
        Ok(Self { reader, lines: Lines::default(), begun: String::new(), over_long: false, watch: None })
    }

    /// Takes what came: whole lines, and the beginning of the next.
    pub(super) fn heard(&mut self, text: &str, at_s: f64) {
        for part in text.split_inclusive(['\n', '\r']) {
            self.begun.push_str(part);
            let whole = part.ends_with(['\n', '\r']);
            if !whole && self.begun.len() <= LONGEST_LINE {
                continue;
            }
            let line = std::mem::take(&mut self.begun);
            if std::mem::replace(&mut self.over_long, !whole) {
                continue;
            }
            self.lines.take(&line, &self.reader, at_s);
        }
    }

    pub(super) fn lost(&mut self, why: Cut) {
        self.begun.clear();
        self.lines.set_link(Link::Lost(why));
    }

    /// What a page shows; none where the set-up has no division.
    pub(super) fn view(&mut self, setup: &Setup, now_s: f64) -> Option<LiveView> {
        if self.watch.as_ref().is_none_or(|(of, _)| of != setup) {
            self.watch = Watch::new(setup.clone()).map(|watch| (setup.clone(), watch));
        }
        let (_, watch) = self.watch.as_mut()?;
        Some(watch.view(&self.lines, now_s))
    }

    /// What a job in this set-up may take.
    pub(super) fn observe(&self, setup: Setup, now_s: f64) -> Heard {
        observe(&self.lines, setup, now_s)
    }
}
