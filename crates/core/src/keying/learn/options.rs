//! The options of an item, as they are stepped through.

use std::collections::BTreeSet;

use super::roles::Fact;

/// Options seen so far, in the order of the key that goes forward.
#[derive(Clone, Debug, Default)]
pub(super) struct Options {
    /// As shown, and the event that showed it first.
    pub shows: Vec<(String, usize)>,
    /// Where it stands.
    pub at: usize,
    /// Nothing comes behind the last.
    last: bool,
    /// Nothing comes before the first.
    first: bool,
    /// Seen since it was opened.
    walked: BTreeSet<usize>,
}

/// What does not fit: what should be shown, and the event that showed it.
pub(super) type Misfit = (String, usize);

impl Options {
    pub fn open(&mut self, shown: &str, event: usize) -> Result<(), Misfit> {
        self.walked.clear();
        if self.shows.is_empty() {
            self.shows.push((shown.to_owned(), event));
        }
        match self.place(shown) {
            Some(at) => self.at = at,
            None if self.whole() => {
                let (should, event) = &self.shows[self.at.min(self.shows.len() - 1)];
                return Err((should.clone(), *event));
            }
            // It stands at one that was not come to yet.
            None => {
                self.shows.push((shown.to_owned(), event));
                self.at = self.shows.len() - 1;
            }
        }
        self.walked.insert(self.at);
        Ok(())
    }

    fn place(&self, shown: &str) -> Option<usize> {
        self.shows.iter().position(|(text, _)| text == shown)
    }

    /// All of them are known.
    pub fn whole(&self) -> bool {
        self.first && self.last
    }

    pub fn ends_here(&self) -> bool {
        self.last && self.at + 1 == self.shows.len()
    }

    /// Everything was seen since it was opened.
    pub fn walked(&self) -> bool {
        self.whole() && self.walked.len() == self.shows.len()
    }

    /// What comes next, as far as known.
    pub fn beside(&self, forward: bool, round: Option<bool>) -> Option<&str> {
        let count = self.shows.len();
        let at = match (forward, self.at) {
            (true, at) if at + 1 < count => at + 1,
            (false, at) if at > 0 => at - 1,
            (true, _) if self.last => match round? {
                true => 0,
                false => self.at,
            },
            (false, _) if self.first => match round? {
                true => count - 1,
                false => self.at,
            },
            _ => return None,
        };
        Some(&self.shows[at].0)
    }

    /// The next one shows; `round` is learnt by it.
    pub fn step(
        &mut self,
        forward: bool,
        shown: &str,
        round: &mut Fact<bool>,
        event: usize,
    ) -> Result<(), Misfit> {
        if let Some(should) = self.beside(forward, round.is())
            && should != shown
        {
            let should = should.to_owned();
            let known = self.place(&should).map_or(event, |at| self.shows[at].1);
            return Err((should, known));
        }
        let misfit = |earlier| (String::new(), earlier);
        match self.place(shown) {
            Some(at) if at == self.at => {
                // It stands: nothing comes behind it, or before it.
                if forward {
                    self.last = true;
                } else {
                    self.first = true;
                }
                if self.shows.len() > 1 {
                    round.set(false, event).map_err(misfit)?;
                }
            }
            Some(at) if forward && at == 0 && self.at + 1 == self.shows.len() && self.at > 0 => {
                self.first = true;
                self.last = true;
                // Two of them say nothing of which way round it goes.
                round.set(true, event).map_err(misfit)?;
                self.at = at;
            }
            Some(at) if !forward && self.at == 0 && at + 1 == self.shows.len() && at > 0 => {
                self.first = true;
                self.last = true;
                round.set(true, event).map_err(misfit)?;
                self.at = at;
            }
            Some(at) if at == if forward { self.at + 1 } else { self.at.wrapping_sub(1) } => self.at = at,
            Some(at) => return Err((String::new(), self.shows[at].1)),
            None if forward && self.at + 1 == self.shows.len() => {
                self.shows.push((shown.to_owned(), event));
                self.at += 1;
            }
            None if !forward && self.at == 0 => {
                self.shows.insert(0, (shown.to_owned(), event));
                self.walked = self.walked.iter().map(|at| at + 1).collect();
            }
            None => return Err((self.shows[self.at].0.clone(), self.shows[self.at].1)),
        }
        self.walked.insert(self.at);
        Ok(())
    }

    /// Something behind it, or before it, was not seen since it was opened.
    pub fn unseen(&self, forward: bool) -> bool {
        if forward {
            !self.last || (self.at + 1..self.shows.len()).any(|at| !self.walked.contains(&at))
        } else {
            !self.first || (0..self.at).any(|at| !self.walked.contains(&at))
        }
    }

    /// It cannot be gone back to what may lie before the first.
    pub fn nothing_before(&mut self) {
        self.first = true;
    }
}

impl Options {
    /// All of them at once, as buttons.
    pub fn of(shows: Vec<(String, usize)>) -> Self {
        Self { shows, at: 0, last: true, first: true, walked: BTreeSet::new() }
    }

    /// Other buttons than before: those, and the event that showed them.
    pub fn differs(&self, buttons: &[String]) -> Option<Misfit> {
        let same =
            self.shows.len() == buttons.len() && self.shows.iter().zip(buttons).all(|((s, _), b)| s == b);
        let event = self.shows.first().map_or(0, |(_, event)| *event);
        (!same).then(|| (self.shows.iter().map(|(s, _)| s.as_str()).collect::<Vec<_>>().join(", "), event))
    }
}
