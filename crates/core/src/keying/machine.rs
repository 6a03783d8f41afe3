//! The virtual indicator: obeys a profile key by key. Pure; it knows nothing of plans.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::plan::{CAPTURED, Slot, Values};
use super::presses::{DigitKeys, turned_whole};
use super::profile::{Meaning, MenuStyle, Node, NumberEntry, Profile, SaveHow, Starts, WayIn};
use crate::quantity::Decimal;
use crate::wording::Text;

/// Something done at the indicator or on the platform.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "act", rename_all = "snake_case")]
#[schema(as = KeyAct)]
pub enum Act {
    /// A key or a button of the screen is pressed.
    Key {
        /// Its name in the profile, a digit, or the label of the button.
        key: String,
    },
    /// The power goes off.
    PowerOff,
    /// The power comes on.
    PowerOn,
    /// The power comes on while a key is held.
    HoldAtPowerOn {
        /// Which key.
        key: String,
    },
    /// The switch is moved to set-up, or back.
    Switch {
        /// To set-up.
        on: bool,
    },
    /// The confirm button.
    Button,
    /// Weights are on the platform, the named pad's where there are several.
    Load {
        /// How much, for people.
        what: Text,
    },
    /// The platform is emptied.
    Unload,
}

/// Where the list or the screen stands.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(super) struct Place {
    /// The group, by index; none: at the top.
    pub group: Option<usize>,
    /// The item in it.
    pub index: usize,
}

#[derive(Clone, Debug, PartialEq, Eq)]
enum Field {
    /// A blinking digit.
    Turning { digits: Vec<u8>, at: usize },
    /// A whole number in a field of so many digits.
    Whole { number: u64, width: usize },
    /// Typed so far; empty: the value in force stands there.
    Typing { text: String },
}

#[derive(Clone, Debug, PartialEq, Eq)]
enum Mode {
    Off,
    Weighing,
    Password(Field),
    Menu(Place),
    Jump(String),
    Number {
        parameter: usize,
        field: Field,
    },
    Choosing {
        parameter: usize,
        option: usize,
    },
    /// A question; for a number or capture the label is shown, for options the option.
    Question {
        parameter: usize,
        option: usize,
    },
}

/// What sort of thing a virtual indicator shows.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "is", rename_all = "snake_case")]
pub enum Showing {
    /// Nothing: it is off.
    Off,
    /// It weighs.
    Weighing,
    /// It asks for a code.
    Code,
    /// The name of an item of a list.
    Item {
        /// How many lists lie around that list.
        depth: usize,
    },
    /// A number that can be changed.
    Number,
    /// One of several options.
    Option,
    /// A question.
    Question {
        /// The answer that is offered, where one is.
        offered: Option<String>,
    },
    /// A page with buttons.
    Buttons,
}

/// A virtual indicator.
#[derive(Clone, Debug)]
pub struct Machine<'a> {
    profile: &'a Profile,
    mode: Mode,
    /// Steps of the way in that are done, and keys of the step that is under way.
    way: (usize, usize),
    switch: bool,
    loaded: bool,
    pad: u8,
    current: Values,
    kept: Values,
    zero_under_load: bool,
    captures: Vec<Slot>,
    note: Option<Text>,
}

/// What a virtual indicator shows and holds.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct MachineView {
    /// The display.
    pub display: String,
    /// What sort of thing that is.
    pub screen: Showing,
    /// What it means, for people.
    pub says: Text,
    /// Buttons on the screen now, where it has one.
    pub buttons: Vec<String>,
    /// Which digit blinks, from the left; none: none does.
    #[schema(required)]
    pub blinks: Option<usize>,
    /// In the set-up.
    pub inside: bool,
    /// The power is on.
    pub on: bool,
    /// The switch stands at set-up.
    pub switch: bool,
    /// Something is on the platform.
    pub loaded: bool,
    /// Something entered is not kept yet.
    pub unsaved: bool,
    /// What is kept: meaning, pad, point, and text.
    pub kept: Vec<KeptValue>,
}

/// A value that is kept.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct KeptValue {
    /// What it means.
    pub meaning: Meaning,
    /// Its label.
    pub label: Text,
    /// Pad, from 1.
    pub pad: u8,
    /// Point, from 1.
    pub point: u8,
    /// As the field holds it.
    pub text: String,
}

impl<'a> Machine<'a> {
    /// An indicator that weighs, with these values kept.
    pub fn new(profile: &'a Profile, kept: Values) -> Self {
        Self {
            profile,
            mode: Mode::Weighing,
            way: (0, 0),
            switch: false,
            loaded: false,
            pad: 1,
            current: kept.clone(),
            kept,
            zero_under_load: false,
            captures: Vec::new(),
            note: None,
        }
    }

    /// What it keeps.
    pub const fn kept(&self) -> &Values {
        &self.kept
    }

    /// What it holds now, kept or not.
    pub const fn current(&self) -> &Values {
        &self.current
    }

    /// Every capture that was done, in order.
    pub fn captures(&self) -> &[Slot] {
        &self.captures
    }

    /// True where it weighs, powered, with the switch back.
    pub fn weighs(&self) -> bool {
        self.mode == Mode::Weighing && !self.switch
    }

    /// True where a zero was captured with something on the platform.
    pub const fn zero_under_load(&self) -> bool {
        self.zero_under_load
    }

    pub(super) const fn place(&self) -> Option<&Place> {
        match &self.mode {
            Mode::Menu(place) => Some(place),
            _ => None,
        }
    }

    pub(super) const fn question(&self) -> Option<usize> {
        match &self.mode {
            Mode::Question { parameter, .. } => Some(*parameter),
            _ => None,
        }
    }

    pub(super) const fn asks_password(&self) -> bool {
        matches!(self.mode, Mode::Password(_))
    }

    /// The digits that stand in an open field of turned digits.
    pub(super) fn turning(&self) -> Option<&[u8]> {
        match &self.mode {
            Mode::Number { field: Field::Turning { digits, .. }, .. }
            | Mode::Password(Field::Turning { digits, .. }) => Some(digits),
            _ => None,
        }
    }

    /// The number that stands in an open field that is turned as a whole.
    pub(super) const fn whole(&self) -> Option<u64> {
        match &self.mode {
            Mode::Number { field: Field::Whole { number, .. }, .. }
            | Mode::Password(Field::Whole { number, .. }) => Some(*number),
            _ => None,
        }
    }

    /// Which option is offered, while one is chosen.
    pub(super) const fn option(&self) -> Option<usize> {
        match &self.mode {
            Mode::Choosing { option, .. } | Mode::Question { option, .. } => Some(*option),
            _ => None,
        }
    }

    /// Does something; what makes no sense does nothing.
    pub fn act(&mut self, act: &Act) {
        self.note = None;
        match act {
            Act::Key { key } => self.key(key),
            Act::PowerOff => self.power_off(),
            Act::PowerOn => self.power_on(None),
            Act::HoldAtPowerOn { key } => self.power_on(Some(key)),
            Act::Switch { on } => self.move_switch(*on),
            Act::Button => {
                if self.profile.save.how == SaveHow::Button && self.mode != Mode::Off {
                    self.kept = self.current.clone();
                }
            }
            Act::Load { .. } => self.loaded = true,
            Act::Unload => self.unload(),
        }
    }

    fn power_off(&mut self) {
        // What is not kept is gone: the way out after a mistake.
        self.mode = Mode::Off;
        self.current = self.kept.clone();
        let switch_first = self.switch && matches!(self.profile.way_in.first(), Some(WayIn::Switch { .. }));
        self.way = (usize::from(switch_first), 0);
    }

    fn power_on(&mut self, held: Option<&String>) {
        if self.mode != Mode::Off {
            return;
        }
        self.mode = Mode::Weighing;
        if let (Some(WayIn::HoldAtPowerOn { key }), Some(held)) = (self.profile.way_in.get(self.way.0), held)
            && key == held
        {
            self.way_done();
        } else if self.way.0 > 0 && self.way.0 == self.profile.way_in.len() {
            self.enter_menu();
        } else {
            self.ask_password();
        }
    }

    fn move_switch(&mut self, on: bool) {
        let was = std::mem::replace(&mut self.switch, on);
        if on && !was {
            if let Some(WayIn::Switch { power_off, .. }) = self.profile.way_in.get(self.way.0)
                && *power_off == (self.mode == Mode::Off)
            {
                if self.mode == Mode::Off {
                    self.way = (self.way.0 + 1, 0);
                } else {
                    self.way_done();
                }
            }
        } else if !on && was {
            if self.profile.save.how == SaveHow::SwitchBack && self.mode != Mode::Off {
                self.kept = self.current.clone();
            }
            if self.mode != Mode::Off {
                self.mode = Mode::Weighing;
            }
            self.way = (0, 0);
        }
    }

    fn way_done(&mut self) {
        self.way = (self.way.0 + 1, 0);
        if self.way.0 == self.profile.way_in.len() { self.enter_menu() } else { self.ask_password() }
    }

    fn ask_password(&mut self) {
        if let Some(WayIn::Password { code }) = self.profile.way_in.get(self.way.0)
            && self.way.0 > 0
        {
            self.mode = Mode::Password(self.field(&"0".repeat(code.len()), true));
        }
    }

    fn enter_menu(&mut self) {
        self.pad = 1;
        self.mode = match self.profile.menu.style {
            MenuStyle::Questions => self.asked(0),
            MenuStyle::List | MenuStyle::Touch => Mode::Menu(Place { group: None, index: 0 }),
        };
    }

    fn unload(&mut self) {
        self.loaded = false;
        let kept_on_unloading = !self.profile.save.before_unloading;
        if kept_on_unloading || self.current == self.kept {
            return;
        }
        // The span that was just captured is lost, as on the indicators that want to be saved first.
        let spans: Vec<Slot> =
            self.current.keys().filter(|slot| slot.meaning == Meaning::Span).copied().collect();
        for slot in spans {
            match self.kept.get(&slot) {
                Some(old) => self.current.insert(slot, old.clone()),
                None => self.current.remove(&slot),
            };
        }
    }

    /// A field with `text` in it; a keypad begins empty.
    fn field(&self, text: &str, from_zeros: bool) -> Field {
        match (&self.profile.number, DigitKeys::of(&self.profile.number)) {
            (NumberEntry::Digits { starts, .. }, Some(keys)) => {
                let zeros = from_zeros || *starts == Starts::Zeros;
                let digits: Vec<u8> =
                    text.bytes().map(|b| if zeros { 0 } else { b.wrapping_sub(b'0').min(9) }).collect();
                let at = keys.start(digits.len());
                Field::Turning { digits, at }
            }
            (NumberEntry::Whole { starts, .. }, _) => {
                let zeros = from_zeros || *starts == Starts::Zeros;
                // What is longer than a number can be is none that was entered here.
                Field::Whole { number: if zeros { 0 } else { text.parse().unwrap_or(0) }, width: text.len() }
            }
            _ => Field::Typing { text: String::new() },
        }
    }

    fn key(&mut self, key: &str) {
        match std::mem::replace(&mut self.mode, Mode::Off) {
            Mode::Off => {}
            Mode::Weighing => {
                self.mode = Mode::Weighing;
                self.way_key(key);
            }
            Mode::Password(field) => self.password_key(field, key),
            Mode::Menu(place) => self.menu_key(place, key),
            Mode::Jump(typed) => self.jump_key(typed, key),
            Mode::Number { parameter, field } => self.number_key(parameter, field, key),
            Mode::Choosing { parameter, option } => self.choice_key(parameter, option, key),
            Mode::Question { parameter, option } => self.question_key(parameter, option, key),
        }
    }

    fn way_key(&mut self, key: &str) {
        let Some(WayIn::Press { keys }) = self.profile.way_in.get(self.way.0) else { return };
        if keys.get(self.way.1).is_some_and(|due| due == key) {
            self.way.1 += 1;
            if self.way.1 == keys.len() {
                self.way_done();
            }
        } else {
            self.way.1 = usize::from(keys.first().is_some_and(|first| first == key));
        }
    }

    fn password_key(&mut self, mut field: Field, key: &str) {
        let Some(WayIn::Password { code }) = self.profile.way_in.get(self.way.0) else {
            return self.mode = Mode::Weighing;
        };
        if !self.confirms(key) {
            self.edit(&mut field, key, code.len(), false);
            return self.mode = Mode::Password(field);
        }
        let typed = text_of(&field, code.len());
        self.mode = Mode::Weighing;
        if typed == format!("{code:0>width$}", width = code.len()) {
            self.way_done();
        } else {
            self.note = Some(text!("machine-wrong-code"));
            self.way = (usize::from(self.switch), 0);
        }
    }

    fn confirms(&self, key: &str) -> bool {
        self.profile.number.confirm() == key
    }

    fn edit(&self, field: &mut Field, key: &str, width: usize, with_point: bool) {
        match (field, &self.profile.number) {
            (Field::Turning { digits, at }, NumberEntry::Digits { up, down, left, right, .. }) => {
                let is = |name: &Option<String>| name.as_deref() == Some(key);
                let Some(keys) = DigitKeys::of(&self.profile.number) else { return };
                if key == up {
                    digits[*at] = (digits[*at] + 1) % 10;
                } else if is(down) {
                    digits[*at] = (digits[*at] + 9) % 10;
                } else if is(left) || is(right) {
                    *at = keys.moved(*at, digits.len(), is(right)).unwrap_or(*at);
                }
            }
            (Field::Whole { number, width }, NumberEntry::Whole { up, down, round, .. })
                if key == up || down.as_deref() == Some(key) =>
            {
                *number = turned_whole(*number, *width, key == up, *round);
            }
            (Field::Typing { text }, NumberEntry::Keypad { clear, point, .. }) => {
                let digits = text.bytes().filter(u8::is_ascii_digit).count();
                if clear.as_deref() == Some(key) {
                    text.clear();
                } else if point.as_deref() == Some(key) {
                    if with_point && !text.contains('.') && !text.is_empty() {
                        text.push('.');
                    }
                } else if key.len() == 1 && key.bytes().all(|b| b.is_ascii_digit()) && digits < width {
                    text.push_str(key);
                }
            }
            _ => {}
        }
    }

    fn menu_key(&mut self, place: Place, key: &str) {
        let menu = &self.profile.menu;
        let is = |name: &Option<String>| name.as_deref() == Some(key);
        if is(&menu.jump) {
            return self.mode = Mode::Jump(String::new());
        }
        match menu.style {
            MenuStyle::Touch if is(&menu.leave) => self.leave_level(&place),
            MenuStyle::Touch => self.touch(place, key),
            _ => match step(self.profile, &place, key) {
                Step::To(next) => self.mode = Mode::Menu(next),
                Step::Open(parameter) => self.open(parameter, place),
                Step::Asks(group) => {
                    let inside = self.profile.groups[group].id.as_str();
                    self.mode = match self.profile.children(Some(inside)).first() {
                        Some(Node::Parameter(first)) => self.asked(*first),
                        _ => Mode::Menu(place),
                    };
                }
                Step::Out => self.leave_menu(),
                Step::Nothing => self.mode = Mode::Menu(place),
            },
        }
    }

    fn touch(&mut self, place: Place, button: &str) {
        let inside = place.group.map(|g| self.profile.groups[g].id.as_str());
        let children = self.profile.children(inside);
        let pressed = children.iter().enumerate().find(|(_, node)| self.profile.label(**node) == button);
        match pressed {
            Some((_, Node::Group(group))) => self.mode = Mode::Menu(Place { group: Some(*group), index: 0 }),
            Some((index, Node::Parameter(parameter))) => {
                self.open(*parameter, Place { group: place.group, index })
            }
            None => self.mode = Mode::Menu(place),
        }
    }

    fn leave_level(&mut self, place: &Place) {
        match parent(self.profile, place) {
            Some(up) => self.mode = Mode::Menu(up),
            None => self.leave_menu(),
        }
    }

    fn leave_menu(&mut self) {
        if self.profile.save.how == SaveHow::Leaving {
            self.kept = self.current.clone();
        }
        self.mode = Mode::Weighing;
        self.way = (0, 0);
    }

    fn jump_key(&mut self, mut typed: String, key: &str) {
        if self.confirms(key) {
            let found =
                self.profile.parameters.iter().position(|p| p.code.as_deref() == Some(typed.as_str()));
            match found {
                Some(parameter) => {
                    let place = place_of(self.profile, parameter);
                    self.open(parameter, place);
                }
                None => {
                    self.note = Some(text!("machine-no-such-code"));
                    self.mode = Mode::Menu(Place { group: None, index: 0 });
                }
            }
            return;
        }
        if key.len() == 1 && key.bytes().all(|b| b.is_ascii_digit()) && typed.len() < 12 {
            typed.push_str(key);
        }
        self.mode = Mode::Jump(typed);
    }

    fn value(&self, parameter: usize) -> String {
        self.current.get(&self.profile.slot(parameter, self.pad)).cloned().unwrap_or_default()
    }

    /// Opens a parameter: a capture is done, a number or an option can be changed.
    fn open(&mut self, parameter: usize, place: Place) {
        let p = &self.profile.parameters[parameter];
        if p.meaning.is_capture() {
            self.capture(parameter);
            return self.mode = Mode::Menu(self.after(place));
        }
        let value = self.value(parameter);
        self.mode = if p.options.is_empty() || p.typed {
            Mode::Number { parameter, field: self.field(&value, false) }
        } else {
            let option = p.options.iter().position(|o| o.shows == value).unwrap_or(0);
            Mode::Choosing { parameter, option }
        };
    }

    fn capture(&mut self, parameter: usize) {
        let slot = self.profile.slot(parameter, self.pad);
        match slot.meaning {
            Meaning::Save => {
                if self.profile.save.how == SaveHow::Parameter {
                    self.kept = self.current.clone();
                }
            }
            Meaning::Zero => {
                self.zero_under_load |= self.loaded;
                self.captures.push(slot);
                self.current.insert(slot, CAPTURED.into());
            }
            _ if self.loaded => {
                self.captures.push(slot);
                self.current.insert(slot, CAPTURED.into());
            }
            _ => self.note = Some(text!("machine-too-little-weight")),
        }
    }

    /// Where the list stands after a parameter was entered.
    fn after(&self, place: Place) -> Place {
        let inside = place.group.map(|g| self.profile.groups[g].id.as_str());
        let last = self.profile.children(inside).len().saturating_sub(1);
        let goes_on = self.profile.menu.goes_on && self.profile.menu.style == MenuStyle::List;
        if goes_on && place.index < last { Place { index: place.index + 1, ..place } } else { place }
    }

    fn set(&mut self, parameter: usize, text: String) {
        if self.profile.parameters[parameter].meaning == Meaning::Pad {
            self.pad = text.trim_start_matches('0').parse().unwrap_or(1);
        }
        self.current.insert(self.profile.slot(parameter, self.pad), text);
    }

    fn taken(&mut self, parameter: usize, text: String) {
        self.set(parameter, text);
        self.mode = if self.profile.is_asked(parameter) {
            self.next_question(parameter)
        } else {
            Mode::Menu(self.after(place_of(self.profile, parameter)))
        };
    }

    fn number_key(&mut self, parameter: usize, mut field: Field, key: &str) {
        let p = &self.profile.parameters[parameter];
        let width = usize::from(p.digits.unwrap_or(1));
        if !self.confirms(key) {
            self.edit(&mut field, key, width, p.with_point);
            return self.mode = Mode::Number { parameter, field };
        }
        // An empty field leaves the value as it is.
        let untouched = matches!(&field, Field::Typing { text } if text.is_empty());
        let text = if untouched {
            self.value(parameter)
        } else if p.with_point {
            plain(&field)
        } else {
            text_of(&field, width)
        };
        if self.allowed(parameter, &text) {
            self.taken(parameter, text);
        } else {
            self.note = Some(text!("machine-not-taken"));
            self.mode = Mode::Number { parameter, field };
        }
    }

    fn allowed(&self, parameter: usize, text: &str) -> bool {
        let p = &self.profile.parameters[parameter];
        if p.typed {
            let width = usize::from(p.digits.unwrap_or(1));
            return p.options.iter().any(|o| format!("{:0>width$}", o.shows) == text);
        }
        let Ok(value) = text.parse::<Decimal>() else { return false };
        // A field without decimals of its own has those of the display, which are not known here.
        let decimals = match p.decimals {
            Some(decimals) if !p.with_point => i64::from(decimals),
            None if !p.with_point && in_display(p.meaning) => return true,
            _ => 0,
        };
        let value = &value * &Decimal::ten_to(-decimals);
        p.least.as_ref().is_none_or(|least| value >= *least)
            && p.most.as_ref().is_none_or(|most| value <= *most)
    }

    fn choice_key(&mut self, parameter: usize, option: usize, key: &str) {
        let options = &self.profile.parameters[parameter].options;
        let chosen =
            |machine: &mut Self, option: usize| machine.taken(parameter, options[option].shows.clone());
        if self.profile.menu.style == MenuStyle::Touch {
            return match options.iter().position(|o| o.shows == key) {
                Some(option) => chosen(self, option),
                None if self.profile.menu.leave.as_deref() == Some(key) => {
                    self.mode = Mode::Menu(place_of(self.profile, parameter))
                }
                None => self.mode = Mode::Choosing { parameter, option },
            };
        }
        let Some(choice) = &self.profile.choice else {
            return self.mode = Mode::Choosing { parameter, option };
        };
        if choice.confirm == key {
            return chosen(self, option);
        }
        let forward = choice.next == key;
        let moves = forward || choice.previous.as_deref() == Some(key);
        let option = if moves { stepped(option, options.len(), forward, choice.round) } else { option };
        self.mode = Mode::Choosing { parameter, option };
    }

    fn asked(&self, parameter: usize) -> Mode {
        if parameter >= self.profile.parameters.len() {
            return Mode::Weighing;
        }
        let value = self.value(parameter);
        let option =
            self.profile.parameters[parameter].options.iter().position(|o| o.shows == value).unwrap_or(0);
        Mode::Question { parameter, option }
    }

    fn next_question(&mut self, parameter: usize) -> Mode {
        if let Some(group) = self.profile.asked_in(parameter) {
            let inside = self.profile.groups[group].id.as_str();
            let asked = self.profile.children(Some(inside));
            let at = asked.iter().position(|node| *node == Node::Parameter(parameter)).unwrap_or(0);
            return match asked.get(at + 1) {
                Some(Node::Parameter(next)) => self.asked(*next),
                _ => Mode::Menu(place_of_group(self.profile, group)),
            };
        }
        let next = self.asked(parameter + 1);
        if next == Mode::Weighing {
            self.leave_menu();
        }
        next
    }

    fn question_key(&mut self, parameter: usize, option: usize, key: &str) {
        let p = &self.profile.parameters[parameter];
        let (yes, no) =
            (self.profile.menu.yes.as_deref() == Some(key), self.profile.menu.no.as_deref() == Some(key));
        let stays = Mode::Question { parameter, option };
        let by_option = !p.options.is_empty() && !p.typed;
        self.mode = match (yes, no) {
            (true, _) if by_option => {
                let text = p.options[option].shows.clone();
                self.set(parameter, text);
                self.next_question(parameter)
            }
            (_, true) if by_option => Mode::Question { parameter, option: (option + 1) % p.options.len() },
            (true, _) if p.meaning.is_capture() => {
                self.capture(parameter);
                self.next_question(parameter)
            }
            (true, _) => Mode::Number { parameter, field: self.field(&self.value(parameter), false) },
            (_, true) => self.next_question(parameter),
            _ => stays,
        };
    }

    /// The display.
    pub fn display(&self) -> String {
        match &self.mode {
            Mode::Off => String::new(),
            Mode::Weighing => {
                if self.loaded {
                    "load".into()
                } else {
                    "0".into()
                }
            }
            Mode::Password(field) => shown(field, "", 0),
            Mode::Menu(place) => self.menu_text(place),
            Mode::Jump(typed) => format!("CODE {typed}").trim_end().to_owned(),
            Mode::Number { parameter, field } => shown(
                field,
                &self.value(*parameter),
                usize::from(self.profile.parameters[*parameter].digits.unwrap_or(1)),
            ),
            Mode::Choosing { parameter, option } => {
                self.profile.parameters[*parameter].options[*option].shows.clone()
            }
            Mode::Question { parameter, option } => {
                let p = &self.profile.parameters[*parameter];
                let offered = p
                    .options
                    .get(*option)
                    .filter(|_| !p.typed)
                    .map_or_else(String::new, |o| format!(" {}", o.shows));
                format!("{}{offered}", p.label)
            }
        }
    }

    fn menu_text(&self, place: &Place) -> String {
        let inside = place.group.map(|g| self.profile.groups[g].id.as_str());
        if self.profile.menu.style == MenuStyle::Touch {
            return place.group.map_or_else(|| "menu".to_owned(), |g| self.profile.groups[g].label.clone());
        }
        self.profile
            .children(inside)
            .get(place.index)
            .map_or_else(String::new, |node| self.profile.label(*node).to_owned())
    }

    /// What sort of thing it shows.
    fn showing(&self) -> Showing {
        match &self.mode {
            Mode::Off => Showing::Off,
            Mode::Weighing => Showing::Weighing,
            Mode::Password(_) | Mode::Jump(_) => Showing::Code,
            Mode::Menu(_) if self.profile.menu.style == MenuStyle::Touch => Showing::Buttons,
            Mode::Menu(place) => {
                let mut depth = 0;
                let mut at = place.clone();
                while let Some(up) = parent(self.profile, &at) {
                    depth += 1;
                    at = up;
                }
                Showing::Item { depth }
            }
            Mode::Number { .. } => Showing::Number,
            Mode::Choosing { .. } => Showing::Option,
            Mode::Question { parameter, option } => {
                let p = &self.profile.parameters[*parameter];
                let offered = p.options.get(*option).filter(|_| !p.typed).map(|o| o.shows.clone());
                Showing::Question { offered }
            }
        }
    }

    /// Everything that it shows and keeps.
    pub fn view(&self) -> MachineView {
        let kept =
            self.kept.iter().filter(|(slot, _)| self.profile.parameter_of(slot.meaning).is_some()).map(
                |(slot, text)| KeptValue {
                    meaning: slot.meaning,
                    label: slot.meaning.label(),
                    pad: slot.pad,
                    point: slot.point,
                    text: text.clone(),
                },
            );
        MachineView {
            display: self.display(),
            screen: self.showing(),
            says: self.note.clone().unwrap_or_else(|| self.says()),
            buttons: self.buttons(),
            blinks: match &self.mode {
                Mode::Number { field: Field::Turning { at, .. }, .. }
                | Mode::Password(Field::Turning { at, .. }) => Some(*at),
                _ => None,
            },
            inside: !matches!(self.mode, Mode::Off | Mode::Weighing),
            on: self.mode != Mode::Off,
            switch: self.switch,
            loaded: self.loaded,
            unsaved: self.current != self.kept,
            kept: self.known(kept.collect()),
        }
    }

    /// Values of pads that were never named are left out.
    fn known(&self, kept: Vec<KeptValue>) -> Vec<KeptValue> {
        let pads: BTreeSet<u8> = self
            .kept
            .iter()
            .filter(|(slot, _)| slot.meaning == Meaning::Span)
            .map(|(slot, _)| slot.pad)
            .chain([1])
            .collect();
        kept.into_iter().filter(|k| pads.contains(&k.pad)).collect()
    }

    fn says(&self) -> Text {
        match &self.mode {
            Mode::Off => text!("machine-off"),
            Mode::Weighing => text!("machine-weighing"),
            Mode::Password(_) => text!("machine-asks-for-the-code"),
            Mode::Menu(place) => {
                let inside = place.group.map(|g| self.profile.groups[g].id.as_str());
                match self.profile.children(inside).get(place.index) {
                    Some(Node::Parameter(index)) if self.profile.menu.style == MenuStyle::List => {
                        self.profile.parameters[*index].meaning.label()
                    }
                    _ => text!("machine-menu"),
                }
            }
            Mode::Jump(_) => text!("machine-asks-which-code"),
            Mode::Number { parameter, .. }
            | Mode::Choosing { parameter, .. }
            | Mode::Question { parameter, .. } => self.profile.parameters[*parameter].meaning.label(),
        }
    }

    fn buttons(&self) -> Vec<String> {
        if self.profile.menu.style != MenuStyle::Touch {
            return Vec::new();
        }
        match &self.mode {
            Mode::Menu(place) => {
                let inside = place.group.map(|g| self.profile.groups[g].id.as_str());
                self.profile
                    .children(inside)
                    .into_iter()
                    .map(|node| self.profile.label(node).to_owned())
                    .collect()
            }
            Mode::Choosing { parameter, .. } => {
                self.profile.parameters[*parameter].options.iter().map(|o| o.shows.clone()).collect()
            }
            _ => Vec::new(),
        }
    }
}

const fn in_display(meaning: Meaning) -> bool {
    matches!(
        meaning,
        Meaning::Max | Meaning::Division | Meaning::FineMax | Meaning::FineDivision | Meaning::SpanWeight
    )
}

fn text_of(field: &Field, width: usize) -> String {
    match field {
        Field::Turning { digits, .. } => digits.iter().map(|d| char::from(b'0' + d)).collect(),
        Field::Whole { number, width } => format!("{number:0>width$}"),
        Field::Typing { text } => format!("{text:0>width$}"),
    }
}

/// A number typed with its point, without zeros that say nothing.
fn plain(field: &Field) -> String {
    let text = text_of(field, 0);
    let text = text.trim_end_matches('.');
    text.parse::<Decimal>().map_or_else(|_| text.to_owned(), |value| value.to_string())
}

fn shown(field: &Field, value: &str, width: usize) -> String {
    match field {
        Field::Typing { text } if text.is_empty() => value.to_owned(),
        Field::Typing { text } => text.clone(),
        Field::Turning { .. } | Field::Whole { .. } => text_of(field, width),
    }
}

/// One step through `count` options or items.
pub(super) fn stepped(at: usize, count: usize, forward: bool, round: bool) -> usize {
    match (forward, at) {
        (true, at) if at + 1 < count => at + 1,
        (false, at) if at > 0 => at - 1,
        (true, _) if round => 0,
        (false, _) if round => count - 1,
        _ => at,
    }
}

/// What a key does to a list.
pub(super) enum Step {
    To(Place),
    Open(usize),
    /// The questions of a group begin.
    Asks(usize),
    Out,
    Nothing,
}

/// A list stands at `place`; `key` is pressed.
pub(super) fn step(profile: &Profile, place: &Place, key: &str) -> Step {
    let menu = &profile.menu;
    let is = |name: &Option<String>| name.as_deref() == Some(key);
    let inside = place.group.map(|g| profile.groups[g].id.as_str());
    let children = profile.children(inside);
    if is(&menu.open) {
        return match children.get(place.index) {
            Some(Node::Group(group)) if profile.groups[*group].questions => Step::Asks(*group),
            Some(Node::Group(group)) => Step::To(Place { group: Some(*group), index: 0 }),
            Some(Node::Parameter(parameter)) => Step::Open(*parameter),
            None => Step::Nothing,
        };
    }
    if is(&menu.leave) {
        return parent(profile, place).map_or(Step::Out, Step::To);
    }
    let forward = is(&menu.next);
    if forward || is(&menu.previous) {
        return Step::To(Place {
            group: place.group,
            index: stepped(place.index, children.len(), forward, menu.round),
        });
    }
    Step::Nothing
}

/// The place one level up; none at the top.
fn parent(profile: &Profile, place: &Place) -> Option<Place> {
    let group = &profile.groups[place.group?];
    let up = group.inside.as_ref().and_then(|id| profile.groups.iter().position(|g| g.id == *id));
    let siblings = profile.children(group.inside.as_deref());
    let index = siblings
        .iter()
        .position(|node| matches!(node, Node::Group(g) if profile.groups[*g].id == group.id))
        .unwrap_or(0);
    Some(Place { group: up, index })
}

/// Where a group stands in the list around it.
pub(super) fn place_of_group(profile: &Profile, group: usize) -> Place {
    parent(profile, &Place { group: Some(group), index: 0 }).unwrap_or(Place { group: None, index: 0 })
}

/// Where a parameter stands.
pub(super) fn place_of(profile: &Profile, parameter: usize) -> Place {
    let inside = profile.parameters[parameter].inside.as_deref();
    let group = inside.and_then(|id| profile.groups.iter().position(|g| g.id == id));
    let index =
        profile.children(inside).iter().position(|node| *node == Node::Parameter(parameter)).unwrap_or(0);
    Place { group, index }
}
