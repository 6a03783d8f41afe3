//! Reads what happens to a number that is turned as a whole.

use super::super::presses::{is_last, turned_whole};
use super::super::profile::Starts;
use super::known::{Field, Known};
use super::misfit::{Clash, before, key_did};
use super::roles::InNumber;
use super::session::Seen;

/// The number that a display shows; none where it is no number.
fn number(display: &str) -> Option<u64> {
    display.bytes().all(|b| b.is_ascii_digit()).then(|| display.parse().ok())?
}

/// Which key turns the one into the other.
fn role_of(was: &str, now: &str) -> Option<InNumber> {
    let (from, to) = (number(was)?, number(now)?);
    if was.len() != now.len() {
        return None;
    }
    let turned = |up| turned_whole(from, was.len(), up, true) == to;
    match (turned(true), turned(false)) {
        (true, _) => Some(InNumber::Up),
        (false, true) => Some(InNumber::Down),
        (false, false) => None,
    }
}

/// What a number shows where it ends: nothing but zeros, or nothing but nines.
pub(super) fn at_end(display: &str) -> bool {
    number(display).is_some_and(|n| n == 0 || is_last(n, display.len()))
}

impl Known {
    /// A number is entered by turning it, digit by digit or as a whole.
    pub(super) fn is_turned(&self) -> bool {
        self.blinks.is() == Some(true) || self.whole.is() == Some(true)
    }

    /// A key that is no digit, at a number that does not blink and of which nothing was typed; false where nothing is
    /// said about a number that is turned.
    pub(super) fn turns_whole(
        &mut self,
        field: &Field,
        key: &str,
        seen: &Seen,
        event: usize,
    ) -> Result<bool, Clash> {
        let (was, now) = (field.digits.as_str(), seen.display.as_str());
        if was == now {
            return self.turns_nothing(was, key, event);
        }
        let differs = || before(event.saturating_sub(1), was, now);
        let role = role_of(was, now).ok_or_else(differs)?;
        if self.whole.is().is_none() && number(was) != Some(0) {
            // Nothing was turned before: it stood there when it was opened.
            self.starts.set(Starts::Value, event).map_err(|earlier| before(earlier, "", was))?;
        }
        self.whole.set(true, event).map_err(|_| differs())?;
        self.number.bind(key, role, event).map_err(key_did)?;
        self.idle_at_end.retain(|idle| idle != key);
        let went_round = match role {
            InNumber::Up => number(now) == Some(0),
            _ => number(was) == Some(0),
        };
        if went_round {
            self.number_round.set(true, event).map_err(key_did)?;
        }
        Ok(true)
    }

    /// A key changed nothing at a number that does not blink.
    fn turns_nothing(&mut self, display: &str, key: &str, event: usize) -> Result<bool, Clash> {
        let end = at_end(display);
        match self.number.role(key) {
            Some(InNumber::Up) if end && number(display) != Some(0) => {
                self.number_round.set(false, event).map_err(key_did)?;
            }
            Some(InNumber::Down) if number(display) == Some(0) => {
                self.number_round.set(false, event).map_err(key_did)?;
            }
            Some(InNumber::Up | InNumber::Down) => {
                return Err(key_did(self.number.event(key).unwrap_or(event)));
            }
            // A narrow field takes few numbers: it may be the key that would take another one.
            None if display.len() < 3 => self.idle_narrow.push(key.to_owned()),
            // At an end it may be the key that would lead out of the field's numbers.
            None if end => {
                if !self.idle_at_end.iter().any(|idle| idle == key) {
                    self.idle_at_end.push(key.to_owned());
                }
            }
            _ => return Ok(false),
        }
        Ok(true)
    }
}
