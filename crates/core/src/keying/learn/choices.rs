//! Reads what happens to options and questions, and where it stands after an entry.

use super::known::{At, Item, Known, What};
use super::misfit::{Read, before, key_did, odd};
use super::options::Options;
use super::read::label_of;
use super::roles::{Fact, InChoice, InMenu, InQuestion};
use super::session::{Screen, Seen};

impl Known {
    pub(super) fn open_options(&mut self, level: usize, item: usize, seen: &Seen, event: usize) -> Read {
        self.is_no_list(level, item);
        let it = &mut self.levels[level].items[item];
        if matches!(it.what, What::Unknown) {
            it.what = What::Options(Options::default());
        }
        let What::Options(options) = &mut it.what else {
            return Err(before(it.event, "", &seen.display));
        };
        if let Some((value, left)) = &it.holds
            && *value != seen.display
        {
            return Err(before(*left, value, &seen.display));
        }
        options
            .open(&seen.display, event)
            .map_err(|(should, earlier)| before(earlier, &should, &seen.display))?;
        self.at = Some(At::Option { level, item });
        Ok(())
    }

    pub(super) fn option(&mut self, level: usize, item: usize, key: &str, seen: &Seen, event: usize) -> Read {
        if self.levels[level].buttons {
            return self.option_button(level, item, key, seen, event);
        }
        let mut round = self.choice_round;
        let role = self.choice.role(key);
        let What::Options(options) = &mut self.levels[level].items[item].what else { return Ok(()) };
        if seen.screen != Screen::Option {
            let all = options.walked() || (options.ends_here() && self.choice.key(InChoice::Back).is_none());
            let value = options.shows[options.at].0.clone();
            self.choice.bind(key, InChoice::Confirm, event).map_err(key_did)?;
            let it = &mut self.levels[level].items[item];
            it.holds = Some((value, event));
            it.visits += usize::from(all);
            return self.after(level, item, seen, event);
        }
        let stands = options.shows[options.at].0 == seen.display;
        let forward = match role {
            Some(InChoice::Forward) => true,
            Some(InChoice::Back) => false,
            Some(InChoice::Confirm) => return Err(key_did(self.choice.event(key).unwrap_or(event))),
            None if stands => {
                let first = options.at == 0;
                self.choice.does_nothing(key);
                self.idle_at_first_option.retain(|idle| idle != key);
                if first {
                    self.idle_at_first_option.push(key.to_owned());
                }
                return Ok(());
            }
            None => self.choice.key(InChoice::Forward).is_none(),
        };
        options
            .step(forward, &seen.display, &mut round, event)
            .map_err(|(should, earlier)| before(earlier, &should, &seen.display))?;
        self.choice_round = round;
        let role = if forward { InChoice::Forward } else { InChoice::Back };
        self.choice.bind(key, role, event).map_err(key_did)
    }

    pub(super) fn option_button(
        &mut self,
        level: usize,
        item: usize,
        key: &str,
        seen: &Seen,
        event: usize,
    ) -> Read {
        let What::Options(options) = &self.levels[level].items[item].what else { return Ok(()) };
        let chosen = options.shows.iter().any(|(text, _)| text == key);
        if seen.screen == Screen::Option {
            if chosen {
                return Err(before(self.levels[level].items[item].event, "", &seen.display));
            }
            self.choice.does_nothing(key);
            return Ok(());
        }
        if !chosen {
            self.menu.bind(key, InMenu::Leave, event).map_err(key_did)?;
        }
        self.levels[level].items[item].visits += 1;
        self.after(level, item, seen, event)
    }

    pub(super) fn question(
        &mut self,
        level: usize,
        item: usize,
        key: &str,
        seen: &Seen,
        event: usize,
    ) -> Read {
        let it = &self.levels[level].items[item];
        let (label, role) = (it.label.clone(), self.question.role(key));
        if let Screen::Question { offered } = &seen.screen
            && label_of(seen) == label
        {
            let What::Options(options) = &mut self.levels[level].items[item].what else {
                self.question.does_nothing(key);
                return Ok(());
            };
            let offered = offered.clone().unwrap_or_default();
            let stands = options.shows[options.at].0 == offered;
            if stands && role.is_none() {
                self.question.does_nothing(key);
                return Ok(());
            }
            if role == Some(InQuestion::Yes) {
                return Err(key_did(self.question.event(key).unwrap_or(event)));
            }
            // What is offered goes round always.
            let mut round = Fact::default();
            options
                .step(true, &offered, &mut round, event)
                .map_err(|(should, earlier)| before(earlier, &should, &offered))?;
            if options.ends_here() {
                options.nothing_before();
            }
            return self.question.bind(key, InQuestion::No, event).map_err(key_did);
        }
        if seen.screen == Screen::Number {
            self.question.bind(key, InQuestion::Yes, event).map_err(key_did)?;
            return self.open_number(level, item, seen, event);
        }
        let by_option = match &mut self.levels[level].items[item].what {
            What::Options(options) => {
                let all = options.walked();
                self.levels[level].items[item].visits += usize::from(all);
                true
            }
            _ => false,
        };
        let answer = match role {
            Some(role) => role,
            None if by_option => InQuestion::Yes,
            // Both answers lead on from here.
            None if self.levels[level].items[item].stays_closed()
                && self.question.key(InQuestion::Yes).is_none() =>
            {
                return self.after(level, item, seen, event);
            }
            None => InQuestion::No,
        };
        if by_option && answer == InQuestion::No {
            return Err(key_did(self.question.event(key).unwrap_or(event)));
        }
        self.question.bind(key, answer, event).map_err(key_did)?;
        self.after(level, item, seen, event)
    }

    /// Where it stands after something was entered, or passed over.
    pub(super) fn after(&mut self, level: usize, item: usize, seen: &Seen, event: usize) -> Read {
        if self.levels[level].buttons {
            return self.begin(level, seen, event);
        }
        if self.levels[level].questions {
            return self.next_question(level, item, seen, event);
        }
        let label = self.levels[level].items[item].label.clone();
        let count = self.levels[level].items.len();
        match &seen.screen {
            Screen::Item { .. } if seen.display == label => {
                let last = self.levels[level].closed && item + 1 == count;
                if !last && self.goes_on.is() != Some(false) && count > item + 1 {
                    self.goes_on.set(false, event).map_err(|earlier| before(earlier, "", &seen.display))?;
                }
                self.at = Some(At::Menu { level, item });
                Ok(())
            }
            Screen::Item { .. } => {
                self.goes_on.set(true, event).map_err(|earlier| before(earlier, &label, &seen.display))?;
                let items = &self.levels[level].items;
                let other = items.get(item + 1).is_some_and(|next| next.label != seen.display);
                let back = item > 0 && items[item - 1].label == seen.display;
                if (other || back) && !self.turned {
                    // What was taken for the way on is the way back, in a list that goes round.
                    return self.turn(level, item, seen, event);
                }
                if self.levels[level].items.len() == item + 1 {
                    self.levels[level].by_itself = true;
                }
                self.forward(level, item, &seen.display, event)
            }
            _ => Err(odd(text!("learn-after-an-entry-it-stands"))),
        }
    }

    pub(super) fn next_question(&mut self, level: usize, item: usize, seen: &Seen, event: usize) -> Read {
        let count = self.levels[level].items.len();
        match &seen.screen {
            Screen::Question { .. } => {
                let label = label_of(seen);
                if item + 1 < count {
                    let next = &self.levels[level].items[item + 1];
                    if next.label != label {
                        return Err(before(next.event, &next.label, label));
                    }
                } else if let Some(twice) = self.levels[level].items.iter().find(|i| i.label == label) {
                    return Err(before(twice.event, "", label));
                } else if self.levels[level].closed {
                    return Err(before(self.levels[level].items[item].event, "", label));
                } else {
                    self.levels[level].items.push(Item::new(label, event));
                }
                self.stand(level, item + 1, seen, event)
            }
            _ if item + 1 < count => {
                let next = &self.levels[level].items[item + 1];
                Err(before(next.event, &next.label, &seen.display))
            }
            Screen::Item { .. } => {
                self.levels[level].closed = true;
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
            Screen::Weighing | Screen::Off if self.levels[level].parent.is_none() => {
                self.levels[level].closed = true;
                self.entering.clear();
                self.at = Some(At::Out);
                Ok(())
            }
            _ => Err(odd(text!("learn-after-an-entry-it-stands"))),
        }
    }
}
