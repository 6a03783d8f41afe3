//! The profile as far as it is known, and what is not known of it.

use std::collections::{BTreeMap, VecDeque};

use indexmap::IndexMap;
use serde::Serialize;
use utoipa::ToSchema;

use super::super::edit::write_profile;
use super::super::profile::{
    Cycle, End, Group, Meaning, Menu, MenuStyle, NumberEntry, OptionValue, PROFILE_FORMAT, PROFILE_VERSION,
    Parameter, Profile, Save, SaveHow, Starts, WayIn,
};
use super::super::read::{ProfileProblem, read_profile};
use super::check::value;
use super::known::{Item, Known, What};
use super::roles::{InChoice, InMenu, InNumber, InQuestion};
use super::session::{ItemPath, Session};
use crate::wording::Text;

/// The profile as far as it is known.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[schema(as = TaughtDraft)]
pub struct Draft {
    /// Its text.
    pub text: String,
    /// What keeps it from being of use.
    pub problems: Vec<ProfileProblem>,
    /// The same as data, where nothing does.
    #[schema(required)]
    pub profile: Option<Profile>,
}

/// Something that is not known.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = TaughtGap)]
pub struct Gap {
    /// The item.
    pub item: ItemPath,
    /// What is not known of it.
    pub says: Text,
    /// What that costs.
    pub costs: Text,
}

impl Known {
    /// What is not known, and what it costs.
    pub fn gaps(&self) -> Vec<Gap> {
        let mut out = Vec::new();
        for (level, item) in self.leaves() {
            let it = &self.levels[level].items[item];
            let Some(meant) = &it.meant else { continue };
            let says = match (&meant.meaning, &it.what) {
                (None, _) if !meant.list => text!("learn-gap-meaning"),
                (Some(meaning), What::Options(_))
                    if it.options_mean.is_none() && *meaning != Meaning::Other =>
                {
                    text!("learn-gap-options")
                }
                (Some(meaning), What::Options(_))
                    if *meaning != Meaning::Other
                        && it
                            .options_mean
                            .as_ref()
                            .is_some_and(|all| all.iter().any(|o| o.is.is_empty())) =>
                {
                    text!("learn-gap-some-options")
                }
                _ => continue,
            };
            let costs = if meant.meaning.is_none() {
                text!("learn-gap-is-stepped-over")
            } else {
                text!("learn-gap-cannot-be-set")
            };
            out.push(Gap { item: self.path(level, item), says, costs });
        }
        out
    }

    /// The profile as far as it is known; none: too little is known for one.
    pub fn draft(&self, session: &Session) -> Option<Draft> {
        let profile = self.profile(session)?;
        let text = write_profile(&profile);
        Some(match read_profile(&text) {
            Ok(profile) => Draft { text, problems: Vec::new(), profile: Some(profile) },
            Err(problems) => Draft { text, problems, profile: None },
        })
    }

    fn profile(&self, session: &Session) -> Option<Profile> {
        let style = self.style()?;
        let name = |role| self.menu.key(role).map(str::to_owned);
        let (next, previous) = (name(InMenu::Forward), name(InMenu::Back));
        let question = |role| self.question.key(role).map(str::to_owned);
        let choice = |role| self.choice.key(role).map(str::to_owned);
        let mut keys: IndexMap<String, String> =
            session.keys.iter().map(|cap| (cap.clone(), cap.clone())).collect();
        if session.keypad {
            keys.retain(|cap, _| !(cap.len() == 1 && cap.bytes().all(|b| b.is_ascii_digit())));
        }
        let (only_unit, weights_in, least_span_percent) = self.units.clone().unwrap_or_default();
        let open = name(InMenu::Open).or_else(|| question(InQuestion::Yes));
        let number = self.entry().or_else(|| {
            let confirm = open.clone()?;
            Some(NumberEntry::Keypad { confirm, clear: None, point: None })
        })?;
        let (groups, parameters) = self.items();
        Some(Profile {
            format: PROFILE_FORMAT.into(),
            version: PROFILE_VERSION,
            name: if session.name.trim().is_empty() { "?".into() } else { session.name.trim().to_owned() },
            about: String::new(),
            weights_in,
            only_unit,
            least_span_percent,
            cautions: Vec::new(),
            gaps: self.left_alone(),
            keys,
            way_in: self.named_way_in(),
            menu: Menu {
                style,
                next: next.filter(|_| style == MenuStyle::List),
                previous: previous.filter(|_| style == MenuStyle::List),
                open: name(InMenu::Open).filter(|_| style == MenuStyle::List),
                leave: name(InMenu::Leave).filter(|_| style != MenuStyle::Questions),
                yes: question(InQuestion::Yes),
                no: question(InQuestion::No),
                round: self.round.is() == Some(true),
                jump: name(InMenu::Jump),
                goes_on: self.goes_on.is() == Some(true),
            },
            number,
            choice: choice(InChoice::Forward).zip(choice(InChoice::Confirm)).map(|(next, confirm)| Cycle {
                next,
                previous: choice(InChoice::Back),
                round: self.choice_round.is() == Some(true),
                confirm,
            }),
            save: self.save.clone().unwrap_or(Save {
                how: SaveHow::Leaving,
                button: None,
                under_seal: false,
                before_unloading: false,
            }),
            groups,
            parameters,
            messages: self.messages.clone(),
        })
    }

    /// How a number is entered, as far as known.
    pub fn entry(&self) -> Option<NumberEntry> {
        let name = |role| self.number.key(role).map(str::to_owned);
        // Where every field has two digits, the blinking goes back and forth by any key that moves it.
        let moves = name(InNumber::Left).is_some() || name(InNumber::Right).is_some();
        let mover = self.movers.first().filter(|_| !moves).cloned();
        let confirm = name(InNumber::Confirm)?;
        if self.whole.is() == Some(true) {
            let down = name(InNumber::Down);
            return Some(NumberEntry::Whole {
                up: name(InNumber::Up)?,
                round: self.number_round.is() == Some(true) || down.is_none(),
                down,
                starts: self.starts.is().unwrap_or(Starts::Value),
                confirm,
            });
        }
        if self.blinks.is() != Some(true) {
            return Some(NumberEntry::Keypad { confirm, clear: None, point: self.point.clone().flatten() });
        }
        Some(NumberEntry::Digits {
            up: name(InNumber::Up)?,
            down: name(InNumber::Down),
            left: name(InNumber::Left),
            right: name(InNumber::Right).or_else(|| mover.clone()),
            round: self.number_round.is() == Some(true) || mover.is_some(),
            cursor: self.cursor.is().unwrap_or(End::Last),
            starts: self.starts.is().unwrap_or(Starts::Value),
            confirm,
        })
    }

    /// Labels of the items that nobody has found out about.
    fn left_alone(&self) -> Vec<String> {
        let items = self.leaves().into_iter().map(|(l, i)| &self.levels[l].items[i]);
        items
            .filter(|it| it.meant.as_ref().is_some_and(|m| m.meaning.is_none() && !m.list))
            .map(|it| it.label.clone())
            .collect()
    }

    fn named_way_in(&self) -> Vec<WayIn> {
        let (switch, seal) = self.switch.clone().unwrap_or_else(|| ("?".into(), false));
        let named = |step: &WayIn| match step {
            WayIn::Switch { power_off, .. } => {
                WayIn::Switch { name: switch.clone(), under_seal: seal, power_off: *power_off }
            }
            other => other.clone(),
        };
        self.way_in.iter().map(named).collect()
    }

    /// Groups and parameters, what is keyed first first.
    fn items(&self) -> (Vec<Group>, Vec<Parameter>) {
        let mut groups = Vec::new();
        let mut ids: BTreeMap<usize, String> = BTreeMap::new();
        let mut blocks: Vec<(u8, Vec<Parameter>)> = Vec::new();
        // From the top down; a list that lies in one comes after it.
        let mut lists = VecDeque::from([0]);
        while let Some(level) = lists.pop_front() {
            let inside = ids.get(&level).cloned();
            let mut block = Vec::new();
            for (item, it) in self.levels[level].items.iter().enumerate() {
                if let What::List(inner) = it.what {
                    let id = format!("list-{inner}");
                    ids.insert(inner, id.clone());
                    lists.push_back(inner);
                    groups.push(Group {
                        id,
                        label: it.label.clone(),
                        inside: inside.clone(),
                        at: u8::try_from(item + 1).ok(),
                        questions: self.levels[inner].questions,
                    });
                } else {
                    block.push(self.parameter(level, item, it, inside.clone()));
                }
            }
            let late = block.iter().filter_map(|p| p.meaning.keyed_late()).min().unwrap_or(0);
            blocks.push((late, block));
        }
        // Within a list the order is the menu's; whole lists are keyed in the order of the work.
        blocks.sort_by_key(|(late, _)| *late);
        (groups, blocks.into_iter().flat_map(|(_, block)| block).collect())
    }

    fn parameter(&self, level: usize, item: usize, it: &Item, inside: Option<String>) -> Parameter {
        let meaning = it.meaning().unwrap_or(Meaning::Other);
        let path = self.path(level, item);
        let field = it.field.as_ref();
        let is_other = meaning == Meaning::Other;
        let named = |o: &OptionValue| match value(&o.is) {
            // What Ombret does not know is told by what it shows.
            _ if is_other => OptionValue { is: o.shows.clone(), shows: o.shows.clone() },
            is if !is.is_empty() && meaning.takes(&is) => OptionValue { is, shows: o.shows.clone() },
            // An option that nobody can name is still there to be stepped over.
            _ => OptionValue::unknown(&o.shows),
        };
        let shown = |shows: &str| named(&OptionValue { is: String::new(), shows: shows.into() });
        let options: Vec<OptionValue> = match (&it.what, &it.options_mean, field) {
            (What::Options(_), Some(options), _) => options.iter().map(named).collect(),
            (What::Options(options), None, _) => {
                options.shows.iter().map(|(shows, _)| shown(shows)).collect()
            }
            (What::Number(_), _, Some(field)) => field.codes.iter().map(named).collect(),
            _ => Vec::new(),
        };
        let typed = matches!(it.what, What::Number(_)) && !options.is_empty();
        let number = field.filter(|_| !meaning.is_capture());
        Parameter {
            meaning,
            label: it.label.clone(),
            code: self.codes.as_ref().and_then(|codes| codes.get(&path).cloned()),
            inside,
            point: it.meant.as_ref().map_or(1, |m| m.point),
            per_pad: self.per_pad.as_ref().is_some_and(|items| items.contains(&path)),
            digits: number.map(|f| f.digits),
            decimals: number.and_then(|f| f.decimals).filter(|_| !typed),
            with_point: number.is_some_and(|f| f.with_point) && !typed,
            least: number.and_then(|f| f.least.clone()).filter(|_| !typed),
            most: number.and_then(|f| f.most.clone()).filter(|_| !typed),
            answer: it.meant.as_ref().and_then(|m| m.answer.clone()).filter(|_| meaning == Meaning::Other),
            options,
            typed,
        }
    }
}
