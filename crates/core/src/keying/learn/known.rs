//! What is known of the machine behind a session.

use std::collections::BTreeMap;

use super::super::machine::Act;
use super::super::profile::{End, Meaning, MenuStyle, Message, OptionValue, Save, Starts, WayIn};
use super::check::typed;
use super::misfit::Clash;
use super::options::Options;
use super::roles::{Fact, InChoice, InMenu, InNumber, InQuestion, Roles};
use super::session::{Answer, Contradiction, Event, ItemPath, Progress, Session};
use crate::quantity::{Decimal, Unit};

/// What an item turned out to be.
#[derive(Clone, Debug)]
pub(super) enum What {
    /// It was not opened.
    Unknown,
    /// It opens a list of its own, by its index.
    List(usize),
    /// A number in so many digits.
    Number(usize),
    /// One of several options.
    Options(Options),
    /// It does something and stands in the list again.
    Does,
}

/// What was said of an item.
#[derive(Clone, Debug)]
pub(super) struct Meant {
    pub meaning: Option<Meaning>,
    pub point: u8,
    pub answer: Option<String>,
    pub list: bool,
}

/// How a number is entered at it, as it was said.
#[derive(Clone, Debug)]
pub(super) struct FieldMeant {
    pub digits: u8,
    pub decimals: Option<u8>,
    pub with_point: bool,
    pub least: Option<Decimal>,
    pub most: Option<Decimal>,
    pub codes: Vec<OptionValue>,
}

/// An item of a list.
#[derive(Clone, Debug)]
pub(super) struct Item {
    pub label: String,
    /// The event that showed it first.
    pub event: usize,
    pub what: What,
    /// How often everything of it was seen.
    pub visits: usize,
    pub meant: Option<Meant>,
    pub options_mean: Option<Vec<OptionValue>>,
    pub field: Option<FieldMeant>,
    /// The digits that it holds, as far as known, and the event that left them.
    pub holds: Option<(String, usize)>,
    pub right: bool,
    /// What was said of it was not right: it is asked for once more.
    pub ask_again: bool,
}

impl Item {
    pub fn new(label: &str, event: usize) -> Self {
        Self {
            label: label.to_owned(),
            event,
            what: What::Unknown,
            visits: 0,
            meant: None,
            options_mean: None,
            field: None,
            holds: None,
            right: false,
            ask_again: false,
        }
    }

    /// What was said of it is forgotten; it is asked for once more.
    pub fn forget(&mut self) {
        self.meant = None;
        self.options_mean = None;
        self.field = None;
        self.right = false;
        self.ask_again = true;
    }

    pub fn meaning(&self) -> Option<Meaning> {
        self.meant.as_ref()?.meaning
    }

    /// Opening it would do something, or nobody knows what.
    pub fn stays_closed(&self) -> bool {
        match &self.meant {
            Some(meant) => !meant.list && meant.meaning.is_none_or(Meaning::is_capture),
            None => false,
        }
    }
}

/// A list of the menu, or a row of questions.
#[derive(Clone, Debug)]
pub(super) struct Level {
    /// The list and the item that it lies in.
    pub parent: Option<(usize, usize)>,
    pub items: Vec<Item>,
    /// Its last item was seen.
    pub closed: bool,
    pub questions: bool,
    pub buttons: bool,
    /// Its order was seen as it went on by itself after an entry.
    pub by_itself: bool,
}

/// Where the display stands.
#[derive(Clone, Debug)]
pub(super) enum At {
    /// It weighs, or is off.
    Out,
    /// It asks for the code of the way in.
    Code(Field),
    Menu {
        level: usize,
        item: usize,
    },
    Number {
        level: usize,
        item: usize,
        field: Field,
    },
    Option {
        level: usize,
        item: usize,
    },
    Question {
        level: usize,
        item: usize,
    },
    Jump,
    /// Somewhere in a list that was not walked through yet.
    Lost {
        level: usize,
        passed: Vec<String>,
    },
}

/// The digits of an open field.
#[derive(Clone, Debug)]
pub(super) struct Field {
    pub digits: String,
    pub blinks: Option<usize>,
    /// It was confirmed and not taken.
    pub refused: bool,
    /// A digit was typed.
    pub typed: bool,
}

/// Everything that is known.
#[derive(Clone, Debug, Default)]
pub(super) struct Known {
    pub levels: Vec<Level>,
    pub at: Option<At>,
    pub menu: Roles<InMenu>,
    pub number: Roles<InNumber>,
    pub choice: Roles<InChoice>,
    pub question: Roles<InQuestion>,
    /// Lists go on from the last item to the first.
    pub round: Fact<bool>,
    pub goes_on: Fact<bool>,
    pub number_round: Fact<bool>,
    pub cursor: Fact<End>,
    pub starts: Fact<Starts>,
    pub choice_round: Fact<bool>,
    /// A digit blinks where a number is entered.
    pub blinks: Fact<bool>,
    /// The whole number is turned.
    pub whole: Fact<bool>,
    pub way_in: Vec<WayIn>,
    /// What was done since it weighed, or was off.
    pub entering: Vec<Act>,
    /// What was done to get in, the last time.
    pub entered: Vec<Act>,
    pub code_typed: Option<String>,
    pub switch: Option<(String, bool)>,
    pub units: Option<(Option<Unit>, Option<Unit>, Option<Decimal>)>,
    pub per_pad: Option<Vec<ItemPath>>,
    pub save: Option<Save>,
    pub codes: Option<BTreeMap<ItemPath, String>>,
    pub point: Option<Option<String>>,
    /// Keys of which nothing was seen at an item that stays closed, or at an end of a list: list, item, key.
    pub idle_here: Vec<(usize, usize, String)>,
    /// Keys that did nothing at the first option, where the key back would do nothing either.
    pub idle_at_first_option: Vec<String>,
    /// Keys that told nothing in a field of one or two digits.
    pub idle_narrow: Vec<String>,
    /// Keys that move the blinking in a field of two digits, nobody knows which way.
    pub movers: Vec<String>,
    /// Keys that did nothing while the blinking, or a whole number, stood at an end.
    pub idle_at_end: Vec<String>,
    /// Lists are read the other way round than at first.
    pub turned: bool,
    /// What the display said in between.
    pub messages: Vec<Message>,
    pub whole_right: bool,
    pub presses: usize,
    pub answers: usize,
    pub contradiction: Option<Contradiction>,
}

impl Known {
    /// Reads a session, up to what does not fit.
    pub fn of(session: &Session) -> Self {
        let mut known = Self { at: Some(At::Out), ..Self::default() };
        for (event, happened) in session.events.iter().enumerate().take(super::session::MOST_EVENTS) {
            let read = match happened {
                Event::Seen(seen) => known.see(seen, event),
                Event::Told(answer) => known.hear(answer, event),
            };
            if let Err(clash) = read {
                known.contradiction = Some(Contradiction { event, earlier: clash.earlier, says: clash.says });
                break;
            }
        }
        known
    }

    pub fn place(&self) -> &At {
        self.at.as_ref().unwrap_or(&At::Out)
    }

    /// What sort of menu it is.
    pub fn style(&self) -> Option<MenuStyle> {
        let top = self.levels.first()?;
        Some(match (top.buttons, top.questions) {
            (true, _) => MenuStyle::Touch,
            (_, true) => MenuStyle::Questions,
            _ => MenuStyle::List,
        })
    }

    /// The labels that lead to an item.
    pub fn path(&self, level: usize, item: usize) -> ItemPath {
        let mut out = vec![self.levels[level].items[item].label.clone()];
        let mut up = self.levels[level].parent;
        while let Some((level, item)) = up {
            out.push(self.levels[level].items[item].label.clone());
            up = self.levels[level].parent;
        }
        out.reverse();
        out
    }

    /// Every item that is no list, with where it lies.
    pub fn leaves(&self) -> Vec<(usize, usize)> {
        let mut out = Vec::new();
        for (l, level) in self.levels.iter().enumerate() {
            for (i, item) in level.items.iter().enumerate() {
                if !matches!(item.what, What::List(_)) {
                    out.push((l, i));
                }
            }
        }
        out
    }

    fn find(&mut self, path: &ItemPath) -> Option<&mut Item> {
        let (level, item) = (0..self.levels.len())
            .flat_map(|l| (0..self.levels[l].items.len()).map(move |i| (l, i)))
            .find(|(l, i)| self.path(*l, *i) == *path)?;
        Some(&mut self.levels[level].items[item])
    }

    /// Something was said.
    fn hear(&mut self, answer: &Answer, event: usize) -> Result<(), Clash> {
        self.answers += 1;
        match answer {
            Answer::Item { item, meaning, point, answer, list } => {
                let meant = Meant { meaning: *meaning, point: *point, answer: answer.clone(), list: *list };
                if let Some(found) = self.find(item) {
                    found.meant = Some(meant);
                    found.ask_again = false;
                }
            }
            Answer::Options { item, options } => {
                if let Some(found) = self.find(item) {
                    found.options_mean = Some(options.clone());
                }
            }
            Answer::Field { item, digits, decimals, with_point, least, most, codes } => {
                let meant = FieldMeant {
                    digits: *digits,
                    decimals: *decimals,
                    with_point: *with_point,
                    least: typed(least),
                    most: typed(most),
                    codes: codes.clone(),
                };
                if let Some(found) = self.find(item) {
                    found.field = Some(meant);
                }
            }
            Answer::PerPad { items } => self.per_pad = Some(items.clone()),
            Answer::Switch { name, under_seal } => self.switch = Some((name.clone(), *under_seal)),
            Answer::Units { only_unit, weights_in, least_span_percent } => {
                self.units = Some((*only_unit, *weights_in, typed(least_span_percent)));
            }
            Answer::Saving { save } => self.save = Some(save.clone()),
            Answer::Codes { codes } => self.codes = Some(codes.iter().cloned().collect()),
            Answer::Starts { value } => {
                let starts = if *value { Starts::Value } else { Starts::Zeros };
                self.starts.set(starts, event).map_err(|earlier| Clash {
                    earlier: Some(earlier),
                    says: text!("learn-it-was-otherwise-before", shown = "000"),
                })?;
            }
            Answer::Point { key } => self.point = Some(key.clone()),
            Answer::Message { message } => {
                message.clone().put_among(&mut self.messages);
            }
            Answer::Right { item, right: true } if item.is_empty() => self.whole_right = true,
            Answer::Right { item, right: true } => {
                if let Some(found) = self.find(item) {
                    found.right = true;
                }
            }
            Answer::Right { item, right: false } if item.is_empty() => {
                (self.units, self.save, self.per_pad, self.switch) = (None, None, None, None);
            }
            Answer::Right { item, right: false } => {
                if let Some(found) = self.find(item) {
                    found.forget();
                }
            }
        }
        Ok(())
    }

    /// Whoever said that it opens a list is asked once more: it opened a value.
    pub(super) fn is_no_list(&mut self, level: usize, item: usize) {
        let it = &mut self.levels[level].items[item];
        if it.meant.as_ref().is_some_and(|meant| meant.list) {
            it.forget();
        }
    }

    /// How far it is.
    pub fn progress(&self) -> Progress {
        let leaves = self.leaves();
        let seen = |times: usize| leaves.iter().filter(|(l, i)| self.seen(*l, *i, times)).count();
        Progress {
            items: leaves.len(),
            once: seen(1),
            twice: seen(2),
            presses: self.presses,
            answers: self.answers,
        }
    }

    /// Everything of an item was seen so often; what is not opened is seen by its name.
    pub fn seen(&self, level: usize, item: usize, times: usize) -> bool {
        let it = &self.levels[level].items[item];
        match &it.what {
            What::List(inner) => self.level_seen(*inner, times),
            _ if it.meant.is_none() => false,
            _ if it.stays_closed() => true,
            _ => it.visits >= times,
        }
    }

    /// The whole list was seen so often.
    pub fn level_seen(&self, level: usize, times: usize) -> bool {
        let it = &self.levels[level];
        it.closed && (0..it.items.len()).all(|item| self.seen(level, item, times))
    }
}
