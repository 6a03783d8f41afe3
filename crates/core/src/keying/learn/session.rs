//! What a session of teaching is made of: what was done, seen and said, and what is asked next.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::machine::Act;
use super::super::profile::{Meaning, Message, OptionValue, Save};
use crate::quantity::{Decimal, Unit};
use crate::wording::Text;

/// Most events of a session.
pub const MOST_EVENTS: usize = 4_000;

/// Where an item lies, seen from the one before.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[schema(as = TaughtLies)]
pub enum Lies {
    /// In the same list.
    Same,
    /// In a list that was opened.
    Inside,
    /// In the list around.
    Around,
}

/// What sort of thing the display shows.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "is", rename_all = "snake_case")]
#[schema(as = TaughtScreen)]
pub enum Screen {
    /// Nothing: it is off.
    Off,
    /// It weighs.
    Weighing,
    /// It asks for a code.
    Code,
    /// The name of an item of a list.
    Item {
        /// Where that item lies.
        lies: Lies,
    },
    /// A number that can be changed.
    Number,
    /// One of several options.
    Option,
    /// A question.
    Question {
        /// The part of the display that is the answer offered, where one is.
        offered: Option<String>,
    },
    /// A page with buttons.
    Buttons,
}

impl Screen {
    /// Every sort of thing, in the order in which people look for it.
    pub const ALL: [Self; 10] = [
        Self::Item { lies: Lies::Same },
        Self::Item { lies: Lies::Inside },
        Self::Item { lies: Lies::Around },
        Self::Number,
        Self::Option,
        Self::Question { offered: None },
        Self::Buttons,
        Self::Code,
        Self::Weighing,
        Self::Off,
    ];
}

/// Something done, and what was seen then.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[schema(as = TaughtSeen)]
pub struct Seen {
    /// What was done.
    pub act: Act,
    /// What the display showed then.
    pub display: String,
    /// What sort of thing that is.
    pub screen: Screen,
    /// Which digit blinks, from the left; none: none does.
    #[serde(default)]
    pub blinks: Option<usize>,
    /// Buttons on the screen, where it has some.
    #[serde(default)]
    pub buttons: Vec<String>,
}

/// An item: the labels that lead to it, its own last.
pub type ItemPath = Vec<String>;

/// Something that the person said.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "about", rename_all = "snake_case")]
#[schema(as = TaughtAnswer)]
pub enum Answer {
    /// What an item means.
    Item {
        /// The item.
        item: ItemPath,
        /// Its meaning; none: not known, it is left alone.
        meaning: Option<Meaning>,
        /// Which span point it is for, from 1.
        #[serde(default = "one")]
        point: u8,
        /// What is entered there every time, at an item that means something else.
        #[serde(default)]
        answer: Option<String>,
        /// It opens a list of its own.
        #[serde(default)]
        list: bool,
    },
    /// What the options of an item stand for.
    Options {
        /// The item.
        item: ItemPath,
        /// The options, as shown.
        options: Vec<OptionValue>,
    },
    /// How a number is entered at an item.
    Field {
        /// The item.
        item: ItemPath,
        /// Digits of the field.
        digits: u8,
        /// Decimals of the field; none: those of the set-up.
        #[serde(default)]
        decimals: Option<u8>,
        /// The point is typed.
        #[serde(default)]
        with_point: bool,
        /// Least value taken, as typed; empty: not known.
        #[serde(default)]
        least: String,
        /// Greatest value taken, as typed; empty: not known.
        #[serde(default)]
        most: String,
        /// Numbers that stand for something: a code for each option.
        #[serde(default)]
        codes: Vec<OptionValue>,
    },
    /// Which items each pad has for itself.
    PerPad {
        /// The items.
        items: Vec<ItemPath>,
    },
    /// The switch of the way in.
    Switch {
        /// What it is called.
        name: String,
        /// It lies under a seal.
        under_seal: bool,
    },
    /// In which units it works.
    Units {
        /// Only unit that it shows.
        #[serde(default)]
        only_unit: Option<Unit>,
        /// Only unit in which weights are keyed in.
        #[serde(default)]
        weights_in: Option<Unit>,
        /// Least span weight that it takes, per cent of Max, as typed; empty: any.
        #[serde(default)]
        least_span_percent: String,
    },
    /// How what was entered is kept.
    Saving {
        /// How.
        save: Save,
    },
    /// Whether a field begins with the value that it holds.
    Starts {
        /// It does; else with zeros.
        value: bool,
    },
    /// Codes of items, where one can jump to them.
    Codes {
        /// Item and code.
        codes: Vec<(ItemPath, String)>,
    },
    /// The key that types the point; none: there is none.
    Point {
        /// Which.
        key: Option<String>,
    },
    /// What the display said in between, which is no item.
    Message {
        /// What it said, and what that means.
        message: Message,
    },
    /// What was understood of an item is right, or not.
    Right {
        /// The item; none: what no key tells.
        item: ItemPath,
        /// It is.
        right: bool,
    },
}

const fn one() -> u8 {
    1
}

/// An event of a session.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "event", rename_all = "snake_case")]
#[schema(as = TaughtEvent)]
pub enum Event {
    /// Something was done and seen.
    Seen(Seen),
    /// Something was said.
    Told(Answer),
}

/// A session of teaching.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[schema(as = TaughtSession)]
pub struct Session {
    /// What the indicator is called.
    pub name: String,
    /// What stands on its keys, in the order in which they lie; keys 0 to 9 of a keypad need not be listed.
    pub keys: Vec<String>,
    /// It has keys 0 to 9.
    #[serde(default)]
    pub keypad: bool,
    /// What was done, seen and said.
    pub events: Vec<Event>,
}

/// What is asked next.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "ask", rename_all = "snake_case")]
#[schema(as = TeachingQuestion)]
pub enum Question {
    /// Go into its set-up, and say each thing that is done.
    WayIn {
        /// What was done the last time, act by act.
        acts: Vec<Act>,
    },
    /// Do this and say what it shows.
    Press {
        /// What to do.
        act: Act,
        /// Why.
        why: Text,
        /// What would be seen, by each machine that explains what was seen so far; one: it is known.
        would_show: Vec<Expected>,
    },
    /// What does this item mean?
    Item {
        /// The item.
        item: ItemPath,
        /// A guess.
        guess: Option<Meaning>,
        /// The span point that would be next.
        point: u8,
    },
    /// What do its options stand for?
    Options {
        /// The item.
        item: ItemPath,
        /// Its meaning.
        meaning: Meaning,
        /// The options as shown, with a guess.
        options: Vec<OptionValue>,
    },
    /// How is a number entered here?
    Field {
        /// The item.
        item: ItemPath,
        /// Its meaning.
        meaning: Meaning,
        /// Digits seen.
        digits: u8,
    },
    /// Which of these has each pad for itself?
    PerPad {
        /// The items.
        items: Vec<ItemPath>,
    },
    /// What is the switch called?
    Switch,
    /// Units.
    Units,
    /// How is it kept?
    Saving {
        /// A guess.
        guess: Save,
    },
    /// Does a field begin with the value that it holds, or with zeros?
    Starts,
    /// Codes of items.
    Codes {
        /// The items.
        items: Vec<ItemPath>,
    },
    /// Which key types the point?
    Point,
    /// Is this right?
    Right {
        /// The item.
        item: ItemPath,
        /// Its meaning.
        meaning: Meaning,
        /// The span point.
        point: u8,
        /// Its options.
        options: Vec<OptionValue>,
        /// Its field, as it would stand in the profile.
        field: Option<FieldView>,
    },
    /// Is this right, which no key tells?
    Whole {
        /// The only unit that it shows.
        only_unit: Option<Unit>,
        /// The only unit in which weights are keyed in.
        weights_in: Option<Unit>,
        /// How it is kept.
        save: Save,
        /// What each pad has for itself.
        per_pad: Vec<ItemPath>,
    },
    /// Nothing: it is learnt.
    Nothing,
}

/// A field of a number, as it was understood.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = TaughtField)]
pub struct FieldView {
    /// Digits.
    pub digits: u8,
    /// Decimals; none: those of the set-up.
    #[schema(required)]
    pub decimals: Option<u8>,
    /// The point is typed.
    pub with_point: bool,
    /// Least value taken.
    #[schema(required)]
    pub least: Option<Decimal>,
    /// Greatest value taken.
    #[schema(required)]
    pub most: Option<Decimal>,
}

/// What would be seen.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = TeachingExpected)]
pub struct Expected {
    /// The display.
    pub display: String,
    /// What sort of thing.
    pub screen: Screen,
    /// Which digit blinks.
    #[schema(required)]
    pub blinks: Option<usize>,
    /// Buttons on the screen.
    pub buttons: Vec<String>,
}

/// Something that does not go with what was seen before.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = TeachingContradiction)]
pub struct Contradiction {
    /// The event that does not fit, from 0.
    pub event: usize,
    /// The event that it does not go with; none: none alone.
    #[schema(required)]
    pub earlier: Option<usize>,
    /// What does not fit.
    pub says: Text,
}

/// How far it is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = TeachingProgress)]
pub struct Progress {
    /// Items seen.
    pub items: usize,
    /// Items of which everything was seen once.
    pub once: usize,
    /// Items of which everything was seen twice.
    pub twice: usize,
    /// Keys pressed.
    pub presses: usize,
    /// Questions answered.
    pub answers: usize,
}
