//! Reads what happens in lists and on pages with buttons.

use super::known::{At, Item, Known, Level, What};
use super::misfit::{Clash, Read, before, key_did, odd};
use super::options::Options;
use super::roles::{InMenu, InNumber};
use super::session::{Lies, Screen, Seen};

impl Known {
    pub(super) fn menu(&mut self, level: usize, item: usize, key: &str, seen: &Seen, event: usize) -> Read {
        let known = self.menu.role(key);
        match &seen.screen {
            Screen::Item { lies: Lies::Same } => self.beside(level, item, key, seen, event),
            Screen::Item { lies: Lies::Inside } | Screen::Question { .. } => {
                self.menu.bind(key, InMenu::Open, event).map_err(key_did)?;
                let questions = matches!(seen.screen, Screen::Question { .. });
                let inner = self.list_inside(level, item, questions, false, &seen.display)?;
                self.begin(inner, seen, event)
            }
            Screen::Item { lies: Lies::Around } => {
                self.menu.bind(key, InMenu::Leave, event).map_err(key_did)?;
                let Some((up, at)) = self.levels[level].parent else {
                    return Err(odd(text!("learn-there-is-no-list-around")));
                };
                let it = &self.levels[up].items[at];
                if it.label != seen.display {
                    return Err(before(it.event, &it.label, &seen.display));
                }
                self.at = Some(At::Menu { level: up, item: at });
                Ok(())
            }
            Screen::Number => {
                self.menu.bind(key, InMenu::Open, event).map_err(key_did)?;
                self.open_number(level, item, seen, event)
            }
            Screen::Option => {
                self.menu.bind(key, InMenu::Open, event).map_err(key_did)?;
                self.open_options(level, item, seen, event)
            }
            Screen::Weighing | Screen::Off => {
                if self.levels[level].parent.is_some() && known != Some(InMenu::Leave) {
                    return Err(odd(text!("learn-it-left-from-inside")));
                }
                self.menu.bind(key, InMenu::Leave, event).map_err(key_did)?;
                self.entering.clear();
                self.at = Some(At::Out);
                Ok(())
            }
            Screen::Code => {
                self.menu.bind(key, InMenu::Jump, event).map_err(key_did)?;
                self.at = Some(At::Jump);
                Ok(())
            }
            Screen::Buttons => Err(odd(text!("learn-a-list-has-no-buttons"))),
        }
    }

    /// The list that lies in an item.
    fn list_inside(
        &mut self,
        level: usize,
        item: usize,
        questions: bool,
        buttons: bool,
        shown: &str,
    ) -> Result<usize, Clash> {
        match self.levels[level].items[item].what {
            What::List(inner) => Ok(inner),
            What::Unknown => {
                let inner = self.levels.len();
                self.levels.push(Level {
                    parent: Some((level, item)),
                    items: Vec::new(),
                    closed: buttons,
                    questions,
                    buttons,
                    by_itself: false,
                });
                self.levels[level].items[item].what = What::List(inner);
                Ok(inner)
            }
            _ => Err(before(self.levels[level].items[item].event, "", shown)),
        }
    }

    /// A key was pressed in a list, and it stands in the same list.
    pub(super) fn beside(&mut self, level: usize, item: usize, key: &str, seen: &Seen, event: usize) -> Read {
        let shown = seen.display.as_str();
        let label = self.levels[level].items[item].label.clone();
        let role = self.menu.role(key);
        if shown == label {
            return self.stays(level, item, key, role, seen, event);
        }
        match role {
            Some(InMenu::Forward) => self.forward(level, item, shown, event),
            Some(InMenu::Back) => self.back(level, item, shown, event),
            Some(InMenu::Open) => {
                // It did something, and the list went on.
                self.does(level, item, event)?;
                self.goes_on.set(true, event).map_err(key_did)?;
                self.forward(level, item, shown, event)
            }
            Some(InMenu::Leave | InMenu::Jump) => Err(key_did(self.menu.event(key).unwrap_or(event))),
            // It goes back to where it came from by itself.
            None if self.leads_back(level, item, shown) => {
                self.menu.bind(key, InMenu::Back, event).map_err(key_did)?;
                self.back(level, item, shown, event)
            }
            None if self.menu.key(InMenu::Forward).is_none() => {
                self.menu.bind(key, InMenu::Forward, event).map_err(key_did)?;
                self.forward(level, item, shown, event)
            }
            None => {
                self.menu.bind(key, InMenu::Back, event).map_err(key_did)?;
                self.back(level, item, shown, event)
            }
        }
    }

    /// Where a list was followed as it goes on by itself, a key that leads elsewhere leads back.
    pub(super) fn leads_back(&self, level: usize, item: usize, shown: &str) -> bool {
        let items = &self.levels[level].items;
        let from = item > 0 && items[item - 1].label == shown;
        match items.get(item + 1) {
            Some(next) => next.label != shown,
            None => from && items.len() > 1,
        }
    }

    pub(super) fn stays(
        &mut self,
        level: usize,
        item: usize,
        key: &str,
        role: Option<InMenu>,
        seen: &Seen,
        event: usize,
    ) -> Read {
        let count = self.levels[level].items.len();
        match role {
            Some(InMenu::Forward) => {
                let last = item + 1 == count;
                if !last || (self.levels[level].closed && self.round.is() == Some(true) && count > 1) {
                    let next = &self.levels[level].items[(item + 1) % count];
                    return Err(before(next.event, &next.label, &seen.display));
                }
                self.levels[level].closed = true;
                if count > 1 {
                    self.round.set(false, event).map_err(key_did)?;
                }
                Ok(())
            }
            Some(InMenu::Back) => {
                if item > 0 || (self.round.is() == Some(true) && count > 1) {
                    return Err(key_did(self.menu.event(key).unwrap_or(event)));
                }
                if count > 1 {
                    self.round.set(false, event).map_err(key_did)?;
                }
                Ok(())
            }
            Some(InMenu::Open) => self.does(level, item, event),
            Some(InMenu::Leave | InMenu::Jump) => Err(key_did(self.menu.event(key).unwrap_or(event))),
            // Opening it would do something and show nothing of it; and at an end of a list that does not go round
            // the key on, or back, shows nothing either: it is tried elsewhere.
            None if self.levels[level].items[item].stays_closed() || item == 0 || item + 1 == count => {
                self.idle_here.push((level, item, key.to_owned()));
                Ok(())
            }
            None => {
                self.menu.does_nothing(key);
                Ok(())
            }
        }
    }

    pub(super) fn does(&mut self, level: usize, item: usize, event: usize) -> Read {
        let it = &mut self.levels[level].items[item];
        match it.what {
            What::Unknown | What::Does => {
                it.what = What::Does;
                it.visits += 1;
                Ok(())
            }
            _ => Err(Clash { earlier: Some(it.event.min(event)), says: text!("learn-it-opened-before") }),
        }
    }

    pub(super) fn forward(&mut self, level: usize, item: usize, shown: &str, event: usize) -> Read {
        let list = &mut self.levels[level];
        let count = list.items.len();
        if item + 1 < count {
            let next = &list.items[item + 1];
            if next.label != shown {
                return Err(before(next.event, &next.label, shown));
            }
            self.at = Some(At::Menu { level, item: item + 1 });
            return Ok(());
        }
        if list.items[0].label == shown {
            list.closed = true;
            self.round.set(true, event).map_err(|earlier| before(earlier, "", shown))?;
            self.at = Some(At::Menu { level, item: 0 });
            return Ok(());
        }
        if item > 0 && list.items[item - 1].label == shown && list.by_itself && !self.turned {
            // In a list that went on by itself it leads back.
            self.turn_lists();
            return self.back(level, item, shown, event);
        }
        if let Some(twice) = list.items.iter().find(|i| i.label == shown) {
            return Err(before(twice.event, "", shown));
        }
        if list.closed {
            let stands = if self.round.is() == Some(true) { &list.items[0] } else { &list.items[item] };
            return Err(before(stands.event, &stands.label, shown));
        }
        list.items.push(Item::new(shown, event));
        self.at = Some(At::Menu { level, item: count });
        Ok(())
    }

    pub(super) fn back(&mut self, level: usize, item: usize, shown: &str, event: usize) -> Read {
        let list = &self.levels[level];
        if item > 0 {
            let there = &list.items[item - 1];
            if there.label != shown {
                return Err(before(there.event, &there.label, shown));
            }
            self.at = Some(At::Menu { level, item: item - 1 });
            return Ok(());
        }
        self.round.set(true, event).map_err(|earlier| before(earlier, "", shown))?;
        if list.closed {
            let last = list.items.len() - 1;
            if list.items[last].label != shown {
                return Err(before(list.items[last].event, &list.items[last].label, shown));
            }
            self.at = Some(At::Menu { level, item: last });
        } else {
            self.at = Some(At::Lost { level, passed: Vec::new() });
        }
        Ok(())
    }

    /// Somewhere in a list; a name that is known tells where.
    pub(super) fn found(&mut self, level: usize, seen: &Seen) -> bool {
        let Some(item) = self.levels[level].items.iter().position(|i| i.label == seen.display) else {
            return false;
        };
        self.at = Some(At::Menu { level, item });
        true
    }

    pub(super) fn jump(&mut self, key: &str, seen: &Seen, event: usize) -> Read {
        if seen.screen == Screen::Code {
            return Ok(());
        }
        self.number.bind(key, InNumber::Confirm, event).map_err(key_did)?;
        self.begin(0, seen, event)
    }

    pub(super) fn button(&mut self, level: usize, key: &str, seen: &Seen, event: usize) -> Read {
        let pressed = self.levels[level].items.iter().position(|i| i.label == key);
        let Some(item) = pressed else {
            return match &seen.screen {
                Screen::Weighing | Screen::Off => {
                    self.menu.bind(key, InMenu::Leave, event).map_err(key_did)?;
                    self.entering.clear();
                    self.at = Some(At::Out);
                    Ok(())
                }
                Screen::Buttons if self.differs(level, &seen.buttons).is_none() => {
                    self.menu.does_nothing(key);
                    Ok(())
                }
                Screen::Buttons => {
                    self.menu.bind(key, InMenu::Leave, event).map_err(key_did)?;
                    let Some((up, _)) = self.levels[level].parent else {
                        return Err(odd(text!("learn-there-is-no-list-around")));
                    };
                    self.begin(up, seen, event)
                }
                _ => Err(odd(text!("learn-a-list-has-no-buttons"))),
            };
        };
        match &seen.screen {
            Screen::Number => self.open_number(level, item, seen, event),
            Screen::Option => {
                let it = &mut self.levels[level].items[item];
                let shows: Vec<(String, usize)> = seen.buttons.iter().map(|b| (b.clone(), event)).collect();
                match &it.what {
                    What::Unknown => it.what = What::Options(Options::of(shows)),
                    What::Options(options) => {
                        if let Some((should, earlier)) = options.differs(&seen.buttons) {
                            return Err(before(earlier, &should, &seen.buttons.join(", ")));
                        }
                    }
                    _ => return Err(before(it.event, "", &seen.display)),
                }
                self.at = Some(At::Option { level, item });
                Ok(())
            }
            Screen::Buttons if self.differs(level, &seen.buttons).is_none() => self.does(level, item, event),
            Screen::Buttons => {
                let inner = self.list_inside(level, item, false, true, &seen.display)?;
                self.begin(inner, seen, event)
            }
            _ => Err(odd(text!("learn-a-list-has-no-buttons"))),
        }
    }

    /// What was taken for the key on is the key back: lists that were followed by it are read the other way round.
    pub(super) fn turn_lists(&mut self) {
        self.turned = true;
        self.menu.swap(InMenu::Forward, InMenu::Back);
        let followed = |l: &Level| !l.questions && !l.buttons && !l.by_itself && l.items.len() > 2;
        for at in 0..self.levels.len() {
            if !followed(&self.levels[at]) {
                continue;
            }
            let count = self.levels[at].items.len();
            self.levels[at].items[1..].reverse();
            // What is known by the place of an item goes with it.
            let moved = |item: &mut usize| *item = if *item == 0 { 0 } else { count - *item };
            for (_, item) in
                self.levels.iter_mut().filter_map(|l| l.parent.as_mut()).filter(|(l, _)| *l == at)
            {
                moved(item);
            }
            for (_, item, _) in self.idle_here.iter_mut().filter(|(l, ..)| *l == at) {
                moved(item);
            }
        }
    }

    /// Only the first item of a list is still known, and what lies in it.
    fn forget_behind_first(&mut self, level: usize) {
        self.levels[level].items.truncate(1);
        self.idle_here.retain(|(l, item, _)| *l != level || *item == 0);
        let lost: Vec<usize> = (0..self.levels.len())
            .filter(|at| self.levels[*at].parent.is_some_and(|(l, item)| l == level && item > 0))
            .collect();
        for inner in lost {
            self.forget_behind_first(inner);
            self.levels[inner].items.clear();
            self.levels[inner].parent = None;
        }
    }

    /// The key that was taken for the way on is the way back: lists are read the other way round.
    pub(super) fn turn(&mut self, level: usize, item: usize, seen: &Seen, event: usize) -> Read {
        self.round.set(true, event).map_err(|earlier| before(earlier, "", &seen.display))?;
        let here = self.levels[level].items[item].label.clone();
        self.turn_lists();
        if !self.levels[level].closed {
            // What lies between is not known yet; the end is come to again.
            self.forget_behind_first(level);
            if self.levels[level].items[0].label != here {
                self.at = Some(At::Lost { level, passed: Vec::new() });
                self.found(level, seen);
                return Ok(());
            }
        }
        let at = self.levels[level].items.iter().position(|i| i.label == here).unwrap_or(0);
        self.forward(level, at, &seen.display, event)
    }
}
