//! What a profile says: how one kind of indicator is told things. The format is Ombret's own and
//! open: docs/profile.md.

use indexmap::IndexMap;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::quantity::{Decimal, Unit};
use crate::wording::Text;

/// Name and version of the format.
pub const PROFILE_FORMAT: &str = "ombret.profile";
/// Version of the format.
pub const PROFILE_VERSION: u32 = 1;
/// Widest field, in digits.
pub const WIDEST: u8 = 12;
/// Widest field whose number is turned as a whole: from one end to the other is ten thousand presses.
pub const WIDEST_WHOLE: u8 = 4;

/// A profile.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Profile {
    /// Always `ombret.profile`.
    pub format: String,
    /// Version of the format.
    pub version: u32,
    /// What the indicator is called.
    pub name: String,
    /// What sort of indicator it is, in a sentence.
    #[serde(default)]
    pub about: String,
    /// Only unit in which weights may be keyed in, where there is but one.
    #[serde(default)]
    pub weights_in: Option<Unit>,
    /// Only unit that it shows, where there is but one.
    #[serde(default)]
    pub only_unit: Option<Unit>,
    /// Least span weight that it takes, per cent of Max.
    #[serde(default)]
    pub least_span_percent: Option<Decimal>,
    /// Cautions that belong to opening and keying it.
    #[serde(default)]
    pub cautions: Vec<String>,
    /// Items that nobody has found out about yet, by what the display shows.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gaps: Vec<String>,
    /// Keys: their name here and what stands on them. Keys 0 to 9 of a keypad need not be listed.
    #[serde(default)]
    pub keys: IndexMap<String, String>,
    /// How one gets into the set-up.
    pub way_in: Vec<WayIn>,
    /// How one moves about in it.
    pub menu: Menu,
    /// How a number is entered.
    pub number: NumberEntry,
    /// How one of several options is chosen, where that is not by question or touch.
    #[serde(default)]
    pub choice: Option<Cycle>,
    /// How what was entered is kept.
    pub save: Save,
    /// Groups of parameters, where the menu has levels.
    #[serde(default, rename = "group")]
    pub groups: Vec<Group>,
    /// The parameters, in the order in which they are keyed.
    #[serde(rename = "parameter")]
    pub parameters: Vec<Parameter>,
    /// What the display may say.
    #[serde(default, rename = "message")]
    pub messages: Vec<Message>,
}

/// A step of the way in.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "act", rename_all = "snake_case", deny_unknown_fields)]
pub enum WayIn {
    /// A switch or jumper is moved.
    Switch {
        /// Where it is.
        name: String,
        /// It lies under a seal.
        #[serde(default)]
        under_seal: bool,
        /// The power must be off while it is moved.
        #[serde(default)]
        power_off: bool,
    },
    /// A key is held while the power comes on.
    HoldAtPowerOn {
        /// Which key.
        key: String,
    },
    /// Keys are pressed one after the other.
    Press {
        /// Which keys.
        keys: Vec<String>,
    },
    /// A code is typed, like any number.
    Password {
        /// The code, digits only.
        code: String,
    },
}

/// What sort of menu it has.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum MenuStyle {
    /// A list that one steps through, perhaps with levels.
    List,
    /// One question after the other, answered by yes or no.
    Questions,
    /// Buttons on a screen.
    Touch,
}

/// How one moves about.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Menu {
    /// What sort.
    pub style: MenuStyle,
    /// To the next item of a list.
    #[serde(default)]
    pub next: Option<String>,
    /// To the one before.
    #[serde(default)]
    pub previous: Option<String>,
    /// Opens an item of a list.
    #[serde(default)]
    pub open: Option<String>,
    /// Leaves a level; at the top, the menu.
    #[serde(default)]
    pub leave: Option<String>,
    /// Answers a question.
    #[serde(default)]
    pub yes: Option<String>,
    /// Answers a question.
    #[serde(default)]
    pub no: Option<String>,
    /// A list goes on from its last item to the first, and back.
    #[serde(default)]
    pub round: bool,
    /// Asks for the code of a parameter, which is then typed.
    #[serde(default)]
    pub jump: Option<String>,
    /// After a parameter is entered the list stands at the next.
    #[serde(default)]
    pub goes_on: bool,
}

/// Where the blinking digit is at first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum End {
    /// The leftmost digit.
    First,
    /// The rightmost digit.
    Last,
}

/// What stands in the field at first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Starts {
    /// The value in force.
    Value,
    /// Zeros.
    Zeros,
}

/// How a number is entered.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "style", rename_all = "snake_case", deny_unknown_fields)]
pub enum NumberEntry {
    /// A blinking digit is turned up or down, and the blinking moved.
    Digits {
        /// Turns it up; from 9 to 0.
        up: String,
        /// Turns it down.
        #[serde(default)]
        down: Option<String>,
        /// Moves the blinking to the left.
        #[serde(default)]
        left: Option<String>,
        /// Moves it to the right.
        #[serde(default)]
        right: Option<String>,
        /// From one end it goes on at the other.
        #[serde(default)]
        round: bool,
        /// Where it begins.
        cursor: End,
        /// What stands there at first.
        starts: Starts,
        /// Takes the number.
        confirm: String,
    },
    /// The whole number is turned: up or down by one of its last digit, as often as the key is pressed or as long as
    /// it is held.
    Whole {
        /// Turns it up.
        up: String,
        /// Turns it down.
        #[serde(default)]
        down: Option<String>,
        /// After nothing but nines come zeros.
        #[serde(default)]
        round: bool,
        /// What stands there at first.
        starts: Starts,
        /// Takes the number.
        confirm: String,
    },
    /// Digits are typed on a keypad, from the right.
    Keypad {
        /// Takes the number.
        confirm: String,
        /// Clears the field.
        #[serde(default)]
        clear: Option<String>,
        /// Types a decimal point.
        #[serde(default)]
        point: Option<String>,
    },
}

impl NumberEntry {
    /// The key that takes the number.
    pub fn confirm(&self) -> &str {
        match self {
            Self::Digits { confirm, .. } | Self::Whole { confirm, .. } | Self::Keypad { confirm, .. } => {
                confirm
            }
        }
    }

    /// Widest field, in digits.
    pub const fn widest(&self) -> u8 {
        match self {
            Self::Whole { .. } => WIDEST_WHOLE,
            Self::Digits { .. } | Self::Keypad { .. } => WIDEST,
        }
    }

    /// What stands in a field that is turned; none for a keypad.
    pub const fn starts(&self) -> Option<Starts> {
        match self {
            Self::Digits { starts, .. } | Self::Whole { starts, .. } => Some(*starts),
            Self::Keypad { .. } => None,
        }
    }
}

/// How one of several options is chosen by stepping through them.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Cycle {
    /// To the next option.
    pub next: String,
    /// To the one before.
    #[serde(default)]
    pub previous: Option<String>,
    /// Goes round.
    #[serde(default)]
    pub round: bool,
    /// Takes it.
    pub confirm: String,
}

/// How what was entered is kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SaveHow {
    /// By leaving the menu.
    Leaving,
    /// By putting the switch back.
    SwitchBack,
    /// By a confirm button, as a rule under the seal.
    Button,
    /// By an item of the menu.
    Parameter,
}

impl SaveHow {
    /// Every way.
    pub const ALL: [Self; 4] = [Self::Leaving, Self::SwitchBack, Self::Button, Self::Parameter];
}

/// Saving.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Save {
    /// How.
    pub how: SaveHow,
    /// What the button is called, where there is one.
    #[serde(default)]
    pub button: Option<String>,
    /// The button lies under a seal.
    #[serde(default)]
    pub under_seal: bool,
    /// Span is lost if the weight comes off before it is saved.
    #[serde(default)]
    pub before_unloading: bool,
}

/// A level of the menu.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Group {
    /// Its name here.
    pub id: String,
    /// What the display or the button says.
    pub label: String,
    /// The group that it lies in.
    #[serde(default)]
    pub inside: Option<String>,
    /// Its place in the list, from 1; none: groups come first, as they stand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<u8>,
    /// What lies in it is asked, one question after the other, and then the list stands at the group again.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub questions: bool,
}

/// What a parameter means.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Meaning {
    /// The unit shown.
    Unit,
    /// Decimals shown.
    Decimals,
    /// Division, in the unit shown.
    Division,
    /// Division, counted in last digits of the display.
    CountBy,
    /// Max.
    Max,
    /// Graduations, n = Max / d.
    Graduations,
    /// Single range, multi-interval, or multiple range.
    RangeMode,
    /// Upper limit of the finer range.
    FineMax,
    /// Division of the finer range.
    FineDivision,
    /// Number of pads.
    Pads,
    /// Which pad the following is for.
    Pad,
    /// Gravity, m/s².
    Gravity,
    /// Captures zero.
    Zero,
    /// Number of span points.
    Points,
    /// The span weight.
    SpanWeight,
    /// Captures span.
    Span,
    /// Correction factor.
    Factor,
    /// Keeps everything.
    Save,
    /// How far from zero it sets itself to zero when it is switched on, per cent of Max.
    AutomaticZero,
    /// How much of a slow change at zero it takes away, divisions a second.
    ZeroTracking,
    /// The unit that it shows when it is switched on.
    StartUnit,
    /// How strongly the reading is smoothed; a larger figure is stronger.
    Filter,
    /// Tests cable and cell.
    CableTest,
    /// Something that Ombret does not know: stepped over, or answered with what the profile says.
    Other,
}

impl Meaning {
    /// Every meaning, in the order in which people look for them.
    pub const ALL: [Self; 24] = [
        Self::Unit,
        Self::Decimals,
        Self::Division,
        Self::CountBy,
        Self::Max,
        Self::Graduations,
        Self::Zero,
        Self::SpanWeight,
        Self::Span,
        Self::Points,
        Self::Factor,
        Self::Save,
        Self::RangeMode,
        Self::FineMax,
        Self::FineDivision,
        Self::Pads,
        Self::Pad,
        Self::Gravity,
        Self::AutomaticZero,
        Self::ZeroTracking,
        Self::StartUnit,
        Self::Filter,
        Self::CableTest,
        Self::Other,
    ];

    /// True where there is nothing to enter: opening it does it.
    pub const fn is_capture(self) -> bool {
        matches!(self, Self::Zero | Self::Span | Self::Save | Self::CableTest)
    }

    /// When it is keyed, among what belongs to adjusting; none: as it stands in the list.
    pub const fn keyed_late(self) -> Option<u8> {
        Some(match self {
            Self::Pads => 1,
            Self::Pad => 2,
            Self::Zero => 3,
            Self::Points => 4,
            Self::SpanWeight => 5,
            Self::Span => 6,
            Self::Save => 7,
            _ => return None,
        })
    }

    /// There may be one for each span point.
    pub const fn has_points(self) -> bool {
        matches!(self, Self::SpanWeight | Self::Span)
    }

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Unit => text!("parameter-unit"),
            Self::Decimals => text!("parameter-decimals"),
            Self::Division => text!("parameter-division"),
            Self::CountBy => text!("parameter-division-in-last-digits"),
            Self::Max => text!("parameter-max"),
            Self::Graduations => text!("parameter-graduations"),
            Self::RangeMode => text!("parameter-ranges"),
            Self::FineMax => text!("parameter-upper-limit-of-the-finer"),
            Self::FineDivision => text!("parameter-division-of-the-finer-range"),
            Self::Pads => text!("parameter-number-of-pads"),
            Self::Pad => text!("parameter-pad"),
            Self::Gravity => text!("parameter-gravity"),
            Self::Zero => text!("parameter-zero"),
            Self::Points => text!("parameter-number-of-span-points"),
            Self::SpanWeight => text!("parameter-span-weight"),
            Self::Span => text!("parameter-span"),
            Self::Factor => text!("parameter-correction-factor"),
            Self::Save => text!("parameter-save"),
            Self::AutomaticZero => text!("parameter-automatic-zero"),
            Self::ZeroTracking => text!("parameter-zero-tracking"),
            Self::StartUnit => text!("parameter-unit-at-power-on"),
            Self::Filter => text!("parameter-filter"),
            Self::CableTest => text!("parameter-cable-test"),
            Self::Other => text!("parameter-another-item"),
        }
    }
}

/// An option of a parameter.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OptionValue {
    /// What it stands for, such as `kg`, `0.2`, `single`.
    pub is: String,
    /// What the display shows, or what is typed for it.
    pub shows: String,
}

impl OptionValue {
    /// An option of which nobody knows what it stands for: it is stepped over, and never chosen.
    pub fn unknown(shows: &str) -> Self {
        Self { is: format!("? {shows}"), shows: shows.to_owned() }
    }

    /// True where nobody knows what it stands for.
    pub fn is_unknown(&self) -> bool {
        self.is.starts_with('?')
    }
}

const fn first() -> u8 {
    1
}

/// A parameter.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Parameter {
    /// What it means.
    pub meaning: Meaning,
    /// What the display or the button says.
    pub label: String,
    /// Its code, where one can jump to it.
    #[serde(default)]
    pub code: Option<String>,
    /// The group that it lies in.
    #[serde(default)]
    pub inside: Option<String>,
    /// Which span point it is for, from 1.
    #[serde(default = "first")]
    pub point: u8,
    /// Each pad has its own.
    #[serde(default)]
    pub per_pad: bool,
    /// The options; none for a number.
    #[serde(default)]
    pub options: Vec<OptionValue>,
    /// The options are typed as numbers.
    #[serde(default)]
    pub typed: bool,
    /// Digits of the field.
    #[serde(default)]
    pub digits: Option<u8>,
    /// Decimals of the field; none: those of the set-up.
    #[serde(default)]
    pub decimals: Option<u8>,
    /// It is typed with its decimal point.
    #[serde(default)]
    pub with_point: bool,
    /// Least value taken.
    #[serde(default)]
    pub least: Option<Decimal>,
    /// Greatest value taken.
    #[serde(default)]
    pub most: Option<Decimal>,
    /// What is entered at an item that Ombret does not know; none: it is stepped over.
    #[serde(default)]
    pub answer: Option<String>,
}

/// What a message of the display means.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum MessageMeaning {
    /// Empty the platform.
    ZeroPrompt,
    /// Put the weight on.
    LoadPrompt,
    /// It counts down or works.
    Working,
    /// It has taken it.
    Done,
    /// It has been kept.
    Saved,
    /// Too little weight, or none.
    TooLittleWeight,
    /// It moves.
    Motion,
    /// The signal is above its range.
    SignalHigh,
    /// The signal is below its range, or reversed.
    SignalLow,
    /// An error at zero.
    ZeroError,
    /// The test of the cable or cell failed.
    CableFault,
    /// It was not kept.
    NotSaved,
    /// More than it can show.
    Overload,
    /// The code was wrong.
    WrongCode,
    /// The set-up is locked.
    Locked,
    /// Supply or battery.
    Supply,
    /// Something else; the profile says what.
    Other,
}

impl MessageMeaning {
    /// Every meaning, in the order in which people look for them.
    pub const ALL: [Self; 17] = [
        Self::ZeroPrompt,
        Self::LoadPrompt,
        Self::Working,
        Self::Done,
        Self::Saved,
        Self::TooLittleWeight,
        Self::Motion,
        Self::SignalHigh,
        Self::SignalLow,
        Self::ZeroError,
        Self::CableFault,
        Self::NotSaved,
        Self::Overload,
        Self::WrongCode,
        Self::Locked,
        Self::Supply,
        Self::Other,
    ];
}

/// What the display may say.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Message {
    /// As it is shown.
    pub text: String,
    /// What it means.
    pub meaning: MessageMeaning,
    /// What it means, in the profile's own words.
    #[serde(default)]
    pub says: Option<String>,
    /// What to do, in the profile's own words.
    #[serde(default)]
    pub then: Option<String>,
}

impl Message {
    /// True where this is what the display showed.
    pub fn is_called(&self, shown: &str) -> bool {
        self.text.trim().to_lowercase() == shown.trim().to_lowercase()
    }

    /// Adds it to what is known, in place of what was known of the same text; its place, from 0.
    pub fn put_among(self, known: &mut Vec<Self>) -> usize {
        let place = known.iter().position(|m| m.is_called(&self.text)).unwrap_or(known.len());
        known.splice(place..known.len().min(place + 1), [self]);
        place
    }
}

impl Profile {
    /// What stands on a key.
    pub fn cap<'a>(&'a self, key: &'a str) -> &'a str {
        self.keys.get(key).map_or(key, String::as_str)
    }

    /// What lies in a group (`None`: at the top): groups as they stand, then parameters, then groups that have a place
    /// of their own at their places.
    pub fn children(&self, group: Option<&str>) -> Vec<Node> {
        let groups = self
            .groups
            .iter()
            .enumerate()
            .filter(|(_, g)| g.inside.as_deref() == group && g.at.is_none())
            .map(|(i, _)| Node::Group(i));
        let parameters = self
            .parameters
            .iter()
            .enumerate()
            .filter(|(_, p)| p.inside.as_deref() == group)
            .map(|(i, _)| Node::Parameter(i));
        let mut out: Vec<Node> = groups.chain(parameters).collect();
        let mut placed: Vec<(u8, usize)> = self
            .groups
            .iter()
            .enumerate()
            .filter(|(_, g)| g.inside.as_deref() == group)
            .filter_map(|(i, g)| Some((g.at?, i)))
            .collect();
        placed.sort_unstable();
        for (at, index) in placed {
            let at = usize::from(at).saturating_sub(1).min(out.len());
            out.insert(at, Node::Group(index));
        }
        out
    }

    /// The group that a parameter lies in, where its items are asked one after the other.
    pub fn asked_in(&self, parameter: usize) -> Option<usize> {
        let inside = self.parameters[parameter].inside.as_deref()?;
        self.groups.iter().position(|g| g.id == inside && g.questions)
    }

    /// True where a parameter is a question.
    pub fn is_asked(&self, parameter: usize) -> bool {
        self.menu.style == MenuStyle::Questions || self.asked_in(parameter).is_some()
    }

    /// The label of an item of the menu.
    pub fn label(&self, node: Node) -> &str {
        match node {
            Node::Group(index) => &self.groups[index].label,
            Node::Parameter(index) => &self.parameters[index].label,
        }
    }

    /// The parameter of a meaning, the first where there are several.
    pub fn parameter_of(&self, meaning: Meaning) -> Option<&Parameter> {
        self.parameters.iter().find(|p| p.meaning == meaning)
    }
}

/// An item of the menu.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Node {
    /// A group, by its index.
    Group(usize),
    /// A parameter, by its index.
    Parameter(usize),
}
