//! Reads what happens to a number while it is entered.

use super::super::profile::Starts;
use super::known::{At, Field, Known, What};
use super::misfit::{Clash, Read, before, key_did, odd};
use super::read::field_of;
use super::roles::InNumber;
use super::session::{Screen, Seen};

impl Known {
    pub(super) fn open_number(&mut self, level: usize, item: usize, seen: &Seen, event: usize) -> Read {
        self.blinking(seen, event)?;
        self.cursor_at(seen, event)?;
        self.is_no_list(level, item);
        let width = seen.display.chars().count();
        let holds = self.levels[level].items[item].holds.clone();
        let turned = self.is_turned();
        let it = &mut self.levels[level].items[item];
        match it.what {
            What::Unknown => it.what = What::Number(width),
            What::Number(was) if was != width && turned => {
                return Err(before(it.event, "", &seen.display));
            }
            What::Number(_) => {}
            _ => return Err(before(it.event, "", &seen.display)),
        }
        if turned {
            let zeros = seen.display.chars().all(|c| c == '0');
            match holds {
                _ if !zeros => {
                    self.starts
                        .set(Starts::Value, event)
                        .map_err(|earlier| before(earlier, "", &seen.display))?;
                }
                // It holds something else and shows nothing of it.
                Some((value, _)) if value.chars().any(|c| c != '0') => {
                    self.starts
                        .set(Starts::Zeros, event)
                        .map_err(|earlier| before(earlier, &value, &seen.display))?;
                }
                _ => {}
            }
        }
        if let Some((value, left)) = self.levels[level].items[item].holds.clone()
            && (self.starts.is() == Some(Starts::Value) || !turned)
            && value != seen.display
        {
            return Err(before(left, &value, &seen.display));
        }
        self.at = Some(At::Number { level, item, field: field_of(seen) });
        Ok(())
    }

    /// A key at an open number, which stays open.
    pub(super) fn digits(&mut self, field: &mut Field, key: &str, seen: &Seen, event: usize) -> Read {
        let (was, now): (Vec<char>, Vec<char>) =
            (field.digits.chars().collect(), seen.display.chars().collect());
        let (Some(at), Some(then)) = (field.blinks, seen.blinks) else {
            return self.typed(field, key, seen, event);
        };
        if was.len() != now.len() {
            return Err(before(event.saturating_sub(1), &field.digits, &seen.display));
        }
        let changed: Vec<usize> = (0..was.len()).filter(|i| was[*i] != now[*i]).collect();
        let role = match changed.as_slice() {
            [] if at == then => None,
            [] => Some(self.moved(at, then, was.len(), key, event)?),
            [one] if *one == at && at == then => {
                let (from, to) = (was[at].to_digit(10), now[at].to_digit(10));
                match (from, to) {
                    (Some(from), Some(to)) if (from + 1) % 10 == to => Some(InNumber::Up),
                    (Some(from), Some(to)) if (to + 1) % 10 == from => Some(InNumber::Down),
                    _ => return Err(before(event.saturating_sub(1), &field.digits, &seen.display)),
                }
            }
            _ => return Err(before(event.saturating_sub(1), &field.digits, &seen.display)),
        };
        match role {
            Some(role) => {
                // In a field of two digits nobody sees which way round it goes.
                let unsure = was.len() == 2 && matches!(role, InNumber::Left | InNumber::Right);
                if !unsure {
                    self.number.bind(key, role, event).map_err(key_did)?;
                } else if self.number.role(key).is_none() {
                    if !self.movers.iter().any(|mover| mover == key) {
                        self.movers.push(key.to_owned());
                    }
                } else if self
                    .number
                    .role(key)
                    .is_some_and(|r| !matches!(r, InNumber::Left | InNumber::Right))
                {
                    return Err(key_did(self.number.event(key).unwrap_or(event)));
                }
            }
            None => self.no_digit(field, key, at, was.len(), event)?,
        }
        field.digits = seen.display.clone();
        field.blinks = seen.blinks;
        Ok(())
    }

    /// The blinking moved.
    pub(super) fn moved(
        &mut self,
        at: usize,
        then: usize,
        width: usize,
        key: &str,
        event: usize,
    ) -> Result<InNumber, Clash> {
        let last = width.saturating_sub(1);
        if width > 2 && at == 0 && then == last {
            self.number_round.set(true, event).map_err(key_did)?;
            return Ok(InNumber::Left);
        }
        if width > 2 && at == last && then == 0 {
            self.number_round.set(true, event).map_err(key_did)?;
            return Ok(InNumber::Right);
        }
        if width == 2 {
            // Where the key is known, the field is told by it.
            return Ok(match self.number.role(key) {
                Some(role) => role,
                None if then > at => InNumber::Right,
                None => InNumber::Left,
            });
        }
        match then {
            then if then == at + 1 => Ok(InNumber::Right),
            then if then + 1 == at => Ok(InNumber::Left),
            _ => Err(odd(text!("learn-the-blinking-jumped"))),
        }
    }

    /// A key changed nothing at an open number.
    pub(super) fn no_digit(
        &mut self,
        field: &mut Field,
        key: &str,
        at: usize,
        width: usize,
        event: usize,
    ) -> Read {
        match self.number.role(key) {
            Some(InNumber::Up | InNumber::Down) => {
                return Err(key_did(self.number.event(key).unwrap_or(event)));
            }
            Some(InNumber::Left) if at == 0 && width > 1 => {
                self.number_round.set(false, event).map_err(key_did)?;
            }
            Some(InNumber::Right) if at + 1 == width && width > 1 => {
                self.number_round.set(false, event).map_err(key_did)?;
            }
            Some(InNumber::Left | InNumber::Right) if width > 1 => {
                return Err(key_did(self.number.event(key).unwrap_or(event)));
            }
            Some(InNumber::Confirm) => field.refused = true,
            _ if width < 3 => self.idle_narrow.push(key.to_owned()),
            _ => {
                self.number.does_nothing(key);
                self.idle_at_end.retain(|idle| idle != key);
                if at == 0 || at + 1 == width {
                    self.idle_at_end.push(key.to_owned());
                }
            }
        }
        Ok(())
    }

    /// A key of a keypad.
    pub(super) fn typed(&mut self, field: &mut Field, key: &str, seen: &Seen, event: usize) -> Read {
        let is_digit = key.len() == 1 && key.bytes().all(|b| b.is_ascii_digit());
        if !is_digit && !field.typed && self.turns_whole(field, key, seen, event)? {
            // What it does is known now.
        } else if is_digit {
            let before_it = if field.typed { field.digits.as_str() } else { "" };
            let should = format!("{before_it}{key}");
            if seen.display != should && seen.display != field.digits {
                return Err(before(event.saturating_sub(1), &should, &seen.display));
            }
            field.typed = true;
        } else if seen.display == field.digits {
            if self.number.role(key) == Some(InNumber::Confirm) {
                field.refused = true;
            } else {
                self.number.does_nothing(key);
            }
        }
        field.digits = seen.display.clone();
        Ok(())
    }

    pub(super) fn number(
        &mut self,
        level: usize,
        item: usize,
        mut field: Field,
        key: &str,
        seen: &Seen,
        event: usize,
    ) -> Read {
        if seen.screen == Screen::Number {
            self.digits(&mut field, key, seen, event)?;
            self.at = Some(At::Number { level, item, field });
            return Ok(());
        }
        self.number.bind(key, InNumber::Confirm, event).map_err(key_did)?;
        let it = &mut self.levels[level].items[item];
        it.visits += 1;
        if field.blinks.is_some() || !field.typed {
            it.holds = Some((field.digits, event));
        }
        self.after(level, item, seen, event)
    }
}
