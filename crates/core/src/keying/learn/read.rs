//! Reads one event: what it adds to what is known, or what it does not go with.

use super::super::machine::Act;
use super::super::profile::{End, WayIn};
use super::known::{At, Field, Item, Known, Level, What};
use super::misfit::{Read, before, key_did, odd};
use super::options::Options;
use super::roles::InNumber;
use super::session::{Screen, Seen};

impl Known {
    /// Something was done and seen.
    pub fn see(&mut self, seen: &Seen, event: usize) -> Read {
        let key = match &seen.act {
            Act::Key { key } => {
                self.presses += 1;
                Some(key.as_str())
            }
            _ => None,
        };
        if seen.blinks.is_some_and(|at| at >= seen.display.chars().count()) {
            return Err(odd(text!("learn-the-blinking-is-outside")));
        }
        let at = self.at.clone().unwrap_or(At::Out);
        let (Some(key), false) = (key, matches!(at, At::Out)) else { return self.entering(seen, event) };
        match at {
            At::Out => Ok(()),
            At::Code(field) => self.code(field, key, seen, event),
            At::Menu { level, .. } if self.levels[level].buttons => self.button(level, key, seen, event),
            At::Menu { level, item } => self.menu(level, item, key, seen, event),
            At::Number { level, item, field } => self.number(level, item, field, key, seen, event),
            At::Option { level, item } => self.option(level, item, key, seen, event),
            At::Question { level, item } => self.question(level, item, key, seen, event),
            At::Jump => self.jump(key, seen, event),
            At::Lost { level, mut passed } => {
                if self.found(level, seen) {
                    return Ok(());
                }
                if passed.contains(&seen.display) {
                    return Err(before(self.first_event(level, event), "", &seen.display));
                }
                passed.push(seen.display.clone());
                self.at = Some(At::Lost { level, passed });
                Ok(())
            }
        }
    }

    /// The way in, or the power and the switch at any time.
    pub(super) fn entering(&mut self, seen: &Seen, event: usize) -> Read {
        if matches!(seen.act, Act::PowerOff) {
            self.entering.clear();
        }
        self.entering.push(seen.act.clone());
        self.leave_off();
        match &seen.screen {
            Screen::Off | Screen::Weighing => {
                self.at = Some(At::Out);
                Ok(())
            }
            Screen::Code => {
                self.at = Some(At::Code(field_of(seen)));
                self.blinking(seen, event)?;
                self.cursor_at(seen, event)
            }
            _ => self.inside(seen, event),
        }
    }

    /// It is in the menu, at its top.
    pub(super) fn inside(&mut self, seen: &Seen, event: usize) -> Read {
        let first = self.levels.is_empty();
        if first {
            self.way_in = self.way_of();
        }
        self.entered = std::mem::take(&mut self.entering);
        self.code_typed = None;
        let (questions, buttons) = match &seen.screen {
            Screen::Item { .. } => (false, false),
            Screen::Question { .. } => (true, false),
            Screen::Buttons => (false, true),
            _ => return Err(odd(text!("learn-a-menu-begins-with"))),
        };
        if first {
            self.levels.push(Level {
                parent: None,
                items: Vec::new(),
                closed: buttons,
                questions,
                buttons,
                by_itself: false,
            });
        } else if self.levels[0].questions != questions || self.levels[0].buttons != buttons {
            return Err(before(self.first_event(0, event), "", &seen.display));
        }
        self.begin(0, seen, event)
    }

    pub(super) fn first_event(&self, level: usize, event: usize) -> usize {
        self.levels[level].items.first().map_or(event, |item| item.event)
    }

    /// A list, a page or a row of questions is come to, at its first item.
    pub(super) fn begin(&mut self, level: usize, seen: &Seen, event: usize) -> Read {
        if self.levels[level].buttons {
            if self.levels[level].items.is_empty() {
                self.levels[level].items = seen.buttons.iter().map(|b| Item::new(b, event)).collect();
            } else if let Some(gone) = self.differs(level, &seen.buttons) {
                return Err(before(self.first_event(level, event), &gone, &seen.buttons.join(", ")));
            }
            self.at = Some(At::Menu { level, item: 0 });
            return Ok(());
        }
        let label = label_of(seen);
        match self.levels[level].items.first() {
            None => self.levels[level].items.push(Item::new(label, event)),
            Some(first) if first.label != label => return Err(before(first.event, &first.label, label)),
            Some(_) => {}
        }
        self.stand(level, 0, seen, event)
    }

    pub(super) fn differs(&self, level: usize, buttons: &[String]) -> Option<String> {
        let items = &self.levels[level].items;
        (items.len() != buttons.len() || items.iter().zip(buttons).any(|(i, b)| i.label != *b))
            .then(|| items.iter().map(|i| i.label.as_str()).collect::<Vec<_>>().join(", "))
    }

    /// It stands at an item, or asks its question.
    pub(super) fn stand(&mut self, level: usize, item: usize, seen: &Seen, event: usize) -> Read {
        if let Screen::Question { offered } = &seen.screen {
            if let Some(offered) = offered {
                let it = &mut self.levels[level].items[item];
                if matches!(it.what, What::Unknown) {
                    it.what = What::Options(Options::default());
                }
                match &mut it.what {
                    What::Options(options) => options
                        .open(offered, event)
                        .map_err(|(should, earlier)| before(earlier, &should, offered))?,
                    _ => return Err(before(it.event, "", &seen.display)),
                }
            } else if matches!(self.levels[level].items[item].what, What::Options(_)) {
                return Err(before(self.levels[level].items[item].event, "", &seen.display));
            }
            self.at = Some(At::Question { level, item });
        } else {
            self.at = Some(At::Menu { level, item });
        }
        Ok(())
    }

    /// What the acts of the way in come to.
    pub(super) fn way_of(&self) -> Vec<WayIn> {
        let (name, under_seal) = self.switch.clone().unwrap_or_default();
        let mut out: Vec<WayIn> = Vec::new();
        let mut power = true;
        for act in &self.entering {
            match act {
                Act::PowerOff => power = false,
                Act::PowerOn => power = true,
                Act::HoldAtPowerOn { key } => {
                    power = true;
                    out.push(WayIn::HoldAtPowerOn { key: key.clone() });
                }
                Act::Switch { on: true } => {
                    out.push(WayIn::Switch { name: name.clone(), under_seal, power_off: !power })
                }
                Act::Key { key } => match out.last_mut() {
                    Some(WayIn::Press { keys }) => keys.push(key.clone()),
                    _ => out.push(WayIn::Press { keys: vec![key.clone()] }),
                },
                _ => {}
            }
        }
        out.extend(self.code_typed.clone().map(|code| WayIn::Password { code }));
        out
    }

    pub(super) fn code(&mut self, mut field: Field, key: &str, seen: &Seen, event: usize) -> Read {
        if seen.screen == Screen::Code {
            self.digits(&mut field, key, seen, event)?;
            self.at = Some(At::Code(field));
            return Ok(());
        }
        self.number.bind(key, InNumber::Confirm, event).map_err(key_did)?;
        if matches!(seen.screen, Screen::Weighing | Screen::Off) {
            // It was the wrong one: from the beginning.
            self.entering.clear();
            self.at = Some(At::Out);
            return Ok(());
        }
        self.code_typed = Some(field.digits);
        self.inside(seen, event)
    }

    pub(super) fn blinking(&mut self, seen: &Seen, event: usize) -> Read {
        self.blinks.set(seen.blinks.is_some(), event).map_err(|earlier| before(earlier, "", &seen.display))
    }

    pub(super) fn cursor_at(&mut self, seen: &Seen, event: usize) -> Read {
        let width = seen.display.chars().count();
        let Some(at) = seen.blinks.filter(|_| width > 1) else { return Ok(()) };
        let end = match at {
            0 => End::First,
            at if at + 1 == width => End::Last,
            _ => return Err(odd(text!("learn-the-blinking-begins-at-an"))),
        };
        self.cursor.set(end, event).map_err(|earlier| before(earlier, "", &seen.display))
    }

    /// Leaves what was open, without a word.
    pub(super) fn leave_off(&mut self) {
        if let Some(At::Number { level, item, .. } | At::Option { level, item }) = &self.at {
            // No key led out of it; more cannot be seen of it.
            self.levels[*level].items[*item].visits += 1;
        }
        self.at = Some(At::Out);
        // What was not kept is gone.
        for item in self.levels.iter_mut().flat_map(|level| &mut level.items) {
            item.holds = None;
        }
    }
}

pub(super) fn field_of(seen: &Seen) -> Field {
    Field { digits: seen.display.clone(), blinks: seen.blinks, refused: false, typed: false }
}

/// The name of what is shown, without an offered answer.
pub(super) fn label_of(seen: &Seen) -> &str {
    match &seen.screen {
        Screen::Question { offered: Some(offered) } => {
            seen.display.strip_suffix(offered.as_str()).unwrap_or(&seen.display).trim_end()
        }
        _ => &seen.display,
    }
}
