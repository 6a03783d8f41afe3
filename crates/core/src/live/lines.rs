//! Lines in, samples out.

use std::collections::VecDeque;

use serde::{Deserialize, Serialize};

use crate::signal::{Line, LineReader, LineReading};
use crate::wording::Text;

/// Samples that are kept: a minute and more at 20 lines a second.
const KEPT: usize = 1_500;
/// So many lines understood in a row, and the pattern fits again.
const GOOD_AGAIN: u64 = 25;

/// Why a line came to an end.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Cut {
    /// There was no connection to begin with.
    NoConnection,
    /// The indicator says nothing.
    Silent,
    /// The indicator closed the line.
    Closed,
    /// The line was cut.
    Broken,
}

impl Cut {
    /// In words.
    pub fn says(self) -> Text {
        match self {
            Self::NoConnection => text!("live-cut-no-connection"),
            Self::Silent => text!("live-cut-silent"),
            Self::Closed => text!("live-cut-closed"),
            Self::Broken => text!("live-cut-broken"),
        }
    }
}

/// How the line to the indicator stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Link {
    /// Trying for the first time.
    Connecting,
    /// Lines come.
    Connected,
    /// It was cut, or never came; why.
    Lost(Cut),
}

/// One reading with its time.
#[derive(Clone, Debug)]
pub struct Sample {
    /// Counted from 1.
    pub number: u64,
    /// When it came, in seconds.
    pub at_s: f64,
    /// What it said.
    pub reading: LineReading,
    /// The first after a gap: the line was cut, or the display showed no figure.
    pub after_gap: bool,
}

/// What has come from one indicator.
#[derive(Debug)]
pub struct Lines {
    link: Link,
    samples: VecDeque<Sample>,
    count: u64,
    odd: u64,
    /// Lines in a row that were understood.
    good: u64,
    last_odd: Option<String>,
    /// What the display says where it shows no figure.
    blank: Option<String>,
    gap: bool,
}

impl Default for Lines {
    fn default() -> Self {
        Self {
            link: Link::Connecting,
            samples: VecDeque::new(),
            count: 0,
            odd: 0,
            good: 0,
            last_odd: None,
            blank: None,
            gap: false,
        }
    }
}

impl Lines {
    /// How the line stands.
    pub const fn link(&self) -> &Link {
        &self.link
    }

    /// The samples after `number`, the oldest first.
    pub fn since(&self, number: u64) -> impl Iterator<Item = &Sample> {
        let first = self.samples.partition_point(|sample| sample.number <= number);
        self.samples.range(first..)
    }

    /// Lines that were not understood, and the last of them.
    pub fn odd_lines(&self) -> (u64, Option<&str>) {
        (self.odd, self.last_odd.as_deref())
    }

    /// What the display says where it shows no figure.
    pub fn blank(&self) -> Option<&str> {
        self.blank.as_deref()
    }

    /// The line stands otherwise now; nothing is steady across it.
    pub fn set_link(&mut self, link: Link) {
        self.link = link;
        self.gap = true;
    }

    /// Some lines were missed: nothing is steady across them.
    pub const fn missed(&mut self) {
        self.gap = true;
    }

    /// Takes a line that came at `at_s`.
    pub fn take(&mut self, line: &str, reader: &LineReader, at_s: f64) {
        match reader.read(line) {
            Ok(Line::Blank(says)) => {
                self.link = Link::Connected;
                self.blank = Some(says);
                self.gap = true;
            }
            Ok(Line::Reading(reading)) => {
                self.count += 1;
                self.good += 1;
                // Once lines are understood again, what was not is past.
                if self.good >= GOOD_AGAIN {
                    self.odd = 0;
                    self.last_odd = None;
                }
                self.link = Link::Connected;
                self.blank = None;
                let after_gap = std::mem::take(&mut self.gap);
                self.samples.push_back(Sample { number: self.count, at_s, reading, after_gap });
                if self.samples.len() > KEPT {
                    self.samples.pop_front();
                }
            }
            // A connection begins in the middle of a line as a rule; an empty line says nothing.
            Err(_) if line.trim().is_empty() => {}
            Err(error) => {
                self.link = Link::Connected;
                self.odd += 1;
                self.good = 0;
                self.last_odd = Some(error.to_string());
            }
        }
    }
}
