//! What each machine that explains what was seen would show.

use super::super::presses::turned_whole;
use super::super::profile::{End, Starts};
use super::known::{At, Field, Item, Known, What};
use super::roles::{InChoice, InMenu, InNumber, InQuestion};
use super::session::{Expected, Lies, Screen};

fn shown(display: impl Into<String>, screen: Screen, blinks: Option<usize>) -> Expected {
    Expected { display: display.into(), screen, blinks, buttons: Vec::new() }
}

impl Known {
    fn item_shown(&self, level: usize, item: usize, lies: Lies) -> Expected {
        let it = &self.levels[level].items[item];
        let screen = if self.levels[level].questions {
            let offered = match &it.what {
                What::Options(options) => options.shows.get(options.at).map(|(text, _)| text.clone()),
                _ => None,
            };
            Screen::Question { offered }
        } else {
            Screen::Item { lies }
        };
        let offered = match &screen {
            Screen::Question { offered: Some(offered) } => format!(" {offered}"),
            _ => String::new(),
        };
        shown(format!("{}{offered}", it.label), screen, None)
    }

    /// What each machine that explains what was seen would show; nothing: none of them knows.
    pub fn expected(&self, name: &str) -> Vec<Expected> {
        match self.place() {
            At::Menu { level, item } if !self.levels[*level].buttons => {
                self.expected_in_list(*level, *item, name)
            }
            At::Menu { level, .. } => {
                let found = self.levels[*level].items.iter().position(|i| i.label == name);
                found.map_or_else(Vec::new, |item| self.opened(*level, item))
            }
            At::Option { level, item } => self.expected_option(*level, *item, name),
            At::Number { level, item, field } => self.expected_number(*level, *item, field, name),
            At::Question { level, item } => self.expected_question(*level, *item, name),
            _ => Vec::new(),
        }
    }

    fn expected_in_list(&self, level: usize, item: usize, name: &str) -> Vec<Expected> {
        let list = &self.levels[level];
        let count = list.items.len();
        let stood = |item| self.item_shown(level, item, Lies::Same);
        let ends = |there: usize| match self.round.is() {
            Some(true) => vec![stood(there)],
            Some(false) => vec![stood(item)],
            None => vec![stood(there), stood(item)],
        };
        match self.menu.role(name) {
            Some(InMenu::Forward) if item + 1 < count => vec![stood(item + 1)],
            Some(InMenu::Forward) if list.closed => ends(0),
            Some(InMenu::Back) if item > 0 => vec![stood(item - 1)],
            Some(InMenu::Back) if list.closed => ends(count - 1),
            Some(InMenu::Open) => self.opened(level, item),
            Some(InMenu::Leave) => {
                list.parent.map_or_else(Vec::new, |(up, at)| vec![self.item_shown(up, at, Lies::Around)])
            }
            _ => Vec::new(),
        }
    }

    fn opened(&self, level: usize, item: usize) -> Vec<Expected> {
        let it = &self.levels[level].items[item];
        match &it.what {
            What::List(inner) if !self.levels[*inner].buttons && !self.levels[*inner].items.is_empty() => {
                vec![self.item_shown(*inner, 0, Lies::Inside)]
            }
            What::Options(options) if !self.levels[level].buttons => {
                let value = it.holds.as_ref().map_or(&options.shows[0].0, |(value, _)| value);
                vec![shown(value.clone(), Screen::Option, None)]
            }
            What::Number(width) if self.is_turned() => self.opened_number(it, *width),
            _ => Vec::new(),
        }
    }

    fn opened_number(&self, it: &Item, width: usize) -> Vec<Expected> {
        let blinks = match self.cursor.is() {
            Some(End::First) => 0,
            _ => width.saturating_sub(1),
        };
        let number = |display: String| Expected {
            display,
            screen: Screen::Number,
            blinks: (self.whole.is() != Some(true)).then_some(blinks),
            buttons: Vec::new(),
        };
        let zeros = "0".repeat(width);
        let holds = it.holds.as_ref().map(|(value, _)| value.clone());
        match (self.starts.is(), holds) {
            (Some(Starts::Zeros), _) => vec![number(zeros)],
            (Some(Starts::Value), Some(value)) => vec![number(value)],
            (None, Some(value)) if value != zeros => vec![number(value), number(zeros)],
            _ => Vec::new(),
        }
    }

    /// What it shows after something was entered.
    fn entered_then(&self, level: usize, item: usize) -> Vec<Expected> {
        let list = &self.levels[level];
        let count = list.items.len();
        let next = (item + 1 < count).then(|| self.item_shown(level, item + 1, Lies::Same));
        if list.questions {
            return match (next, list.parent) {
                (Some(next), _) => vec![next],
                (None, Some((up, at))) if list.closed => vec![self.item_shown(up, at, Lies::Around)],
                _ => Vec::new(),
            };
        }
        if list.buttons {
            return Vec::new();
        }
        let same = self.item_shown(level, item, Lies::Same);
        match (self.goes_on.is(), next) {
            (Some(true), Some(next)) => vec![next],
            (Some(false), _) => vec![same],
            (None, Some(next)) => vec![same, next],
            _ => Vec::new(),
        }
    }

    fn expected_option(&self, level: usize, item: usize, name: &str) -> Vec<Expected> {
        let What::Options(options) = &self.levels[level].items[item].what else { return Vec::new() };
        let role = self.choice.role(name);
        if role == Some(InChoice::Confirm) {
            return self.entered_then(level, item);
        }
        let Some(forward) = role.map(|role| role == InChoice::Forward) else { return Vec::new() };
        let beside = options.beside(forward, self.choice_round.is());
        beside.map_or_else(Vec::new, |text| vec![shown(text.to_owned(), Screen::Option, None)])
    }

    fn expected_number(&self, level: usize, item: usize, field: &Field, name: &str) -> Vec<Expected> {
        let role = self.number.role(name);
        let (Some(role), Some(at)) = (role, field.blinks) else {
            return match role {
                Some(InNumber::Confirm) => self.entered_then(level, item),
                Some(InNumber::Up) => self.turned_whole(field, true),
                Some(InNumber::Down) => self.turned_whole(field, false),
                _ => Vec::new(),
            };
        };
        let mut digits: Vec<char> = field.digits.chars().collect();
        let last = digits.len().saturating_sub(1);
        let turned =
            |c: char, by: u32| c.to_digit(10).and_then(|d| char::from_digit((d + by) % 10, 10)).unwrap_or(c);
        let round = self.number_round.is();
        let then = match role {
            InNumber::Confirm => return self.entered_then(level, item),
            InNumber::Up => {
                digits[at] = turned(digits[at], 1);
                vec![at]
            }
            InNumber::Down => {
                digits[at] = turned(digits[at], 9);
                vec![at]
            }
            InNumber::Left if at > 0 => vec![at - 1],
            InNumber::Right if at < last => vec![at + 1],
            InNumber::Left | InNumber::Right => {
                let far = if at == 0 { last } else { 0 };
                match round {
                    Some(true) => vec![far],
                    Some(false) => vec![at],
                    None => vec![far, at],
                }
            }
        };
        let display: String = digits.into_iter().collect();
        then.into_iter().map(|at| shown(display.clone(), Screen::Number, Some(at))).collect()
    }

    fn turned_whole(&self, field: &Field, up: bool) -> Vec<Expected> {
        let Ok(number) = field.digits.parse() else { return Vec::new() };
        let width = field.digits.len();
        let after = |round| format!("{:0>width$}", turned_whole(number, width, up, round));
        let mut displays = match self.number_round.is() {
            Some(round) => vec![after(round)],
            None => vec![after(true), after(false)],
        };
        displays.dedup();
        displays.into_iter().map(|display| shown(display, Screen::Number, None)).collect()
    }

    fn expected_question(&self, level: usize, item: usize, name: &str) -> Vec<Expected> {
        let it = &self.levels[level].items[item];
        match (self.question.role(name), &it.what) {
            (Some(InQuestion::No), What::Options(options)) => {
                let next = options.beside(true, Some(true));
                next.map_or_else(Vec::new, |text| {
                    let screen = Screen::Question { offered: Some(text.to_owned()) };
                    vec![shown(format!("{} {text}", it.label), screen, None)]
                })
            }
            (Some(InQuestion::Yes), What::Number(width)) if self.is_turned() => {
                self.opened_number(it, *width)
            }
            (Some(InQuestion::Yes), What::Options(_)) | (Some(InQuestion::No), _) => {
                self.entered_then(level, item)
            }
            _ => Vec::new(),
        }
    }
}
