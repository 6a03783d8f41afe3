//! Reads a profile from its text. Everything that is wrong is told, each with its line; a profile
//! with anything wrong is not taken.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use toml_edit::{ImDocument, Item, TableLike};
use utoipa::ToSchema;

use super::profile::{
    End, Meaning, MenuStyle, NumberEntry, PROFILE_FORMAT, PROFILE_VERSION, Parameter, Profile, SaveHow,
    WIDEST, WayIn,
};
use crate::wording::Text;

/// Longest profile, in bytes.
pub const LONGEST_PROFILE: usize = 64 * 1024;
/// Longest text inside a profile, in characters.
pub(super) const LONGEST_TEXT: usize = 400;

/// Something wrong with a profile.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct ProfileProblem {
    /// Line, from 1.
    pub line: usize,
    /// Where in the profile, such as `parameter.3.label`, places from 0; empty: in the text as a whole.
    pub at: String,
    /// What is wrong and what would be right.
    pub says: Text,
}

/// Reads a profile.
///
/// # Errors
/// Every [`ProfileProblem`], in the order of their lines; never an empty list.
pub fn read_profile(text: &str) -> Result<Profile, Vec<ProfileProblem>> {
    let one = |line, says: Text| Err(vec![ProfileProblem { line, at: String::new(), says }]);
    if text.len() > LONGEST_PROFILE {
        return one(
            1,
            text!("profile-a-profile-has-at-most", longest_profile = LONGEST_PROFILE, what = text.len()),
        );
    }
    let profile: Profile = match toml::from_str(text) {
        Ok(profile) => profile,
        Err(error) => {
            let line = error.span().map_or(1, |span| line_at(text, span.start));
            return one(line, in_words(error.message().trim()));
        }
    };
    let Ok(document) = ImDocument::parse(text) else { return one(1, text!("profile-this-is-no-toml")) };
    let mut checker = Checker { text, root: document.as_item(), profile: &profile, problems: Vec::new() };
    checker.check();
    let mut problems = checker.problems;
    if problems.is_empty() {
        return Ok(profile);
    }
    problems.sort_by_key(|p| p.line);
    Err(problems)
}

/// What the reader of TOML says, as a person would.
fn in_words(message: &str) -> Text {
    let quoted = |text: &str| text.split('`').nth(1).unwrap_or_default().to_owned();
    // What would be right, without the reader's own words between.
    let allowed = |text: &str| {
        let (_, after) = text.split_once("expected").unwrap_or_default();
        after.split('`').skip(1).step_by(2).collect::<Vec<_>>().join(", ")
    };
    if message.starts_with("unknown variant") {
        return text!("profile-no-such-value", value = quoted(message), allowed = allowed(message));
    }
    if message.starts_with("unknown field") {
        return text!("profile-no-such-field", field = quoted(message), allowed = allowed(message));
    }
    if message.starts_with("missing field") {
        return text!("profile-a-field-is-missing", field = quoted(message));
    }
    if message.starts_with("invalid type") || message.starts_with("invalid value") {
        return text!("profile-of-another-kind");
    }
    text!("profile-not-understood-here", says = message.replace('\n', " "))
}

fn line_at(text: &str, byte: usize) -> usize {
    text.bytes().take(byte).filter(|b| *b == b'\n').count() + 1
}

/// Where something stands: keys of tables and places in lists.
#[derive(Clone, Copy)]
enum At<'a> {
    Key(&'a str),
    Place(usize),
}

struct Checker<'a> {
    text: &'a str,
    root: &'a Item,
    profile: &'a Profile,
    problems: Vec<ProfileProblem>,
}

impl Checker<'_> {
    /// The line of what stands there, or of the nearest thing around it.
    fn line(&self, path: &[At]) -> usize {
        let mut item = self.root;
        let mut span = None;
        for step in path {
            let found = match step {
                At::Key(key) => item.as_table_like().and_then(|t: &dyn TableLike| t.get(key)),
                At::Place(place) => {
                    if let Some(table) = item.as_array_of_tables().and_then(|a| a.get(*place)) {
                        span = table.span().or(span);
                        let Some(At::Key(key)) = path.last() else { continue };
                        return table
                            .get(key)
                            .and_then(Item::span)
                            .or(span)
                            .map_or(1, |s| line_at(self.text, s.start));
                    }
                    None
                }
            };
            let Some(found) = found else { break };
            span = found.span().or(span);
            item = found;
        }
        span.map_or(1, |s| line_at(self.text, s.start))
    }

    fn wrong(&mut self, path: &[At], says: impl Into<Text>) {
        let line = self.line(path);
        let step = |step: &At| match step {
            At::Key(key) => (*key).to_owned(),
            At::Place(place) => place.to_string(),
        };
        let at = path.iter().map(step).collect::<Vec<_>>().join(".");
        self.problems.push(ProfileProblem { line, at, says: says.into() });
    }

    fn check(&mut self) {
        let profile = self.profile;
        if profile.format != PROFILE_FORMAT || profile.version != PROFILE_VERSION {
            self.wrong(
                &[At::Key("format")],
                text!(
                    "profile-this-is-profile-version-version",
                    profile = profile.format,
                    version = profile.version,
                    profile_format = PROFILE_FORMAT,
                    profile_version = PROFILE_VERSION
                ),
            );
        }
        self.readable(&[At::Key("name")], text!("profile-name"), &profile.name, true);
        self.readable(&[At::Key("about")], text!("profile-about"), &profile.about, false);
        for caution in &profile.cautions {
            self.readable(&[At::Key("cautions")], text!("profile-a-caution"), caution, true);
        }
        for (key, cap) in &profile.keys {
            self.readable(&[At::Key("keys"), At::Key(key)], text!("profile-what-stands-on-a-key"), cap, true);
        }
        self.way_in();
        self.menu();
        self.number();
        self.saving();
        self.groups();
        for index in 0..profile.parameters.len() {
            self.parameter(index);
        }
        self.twice();
        self.whole();
        self.messages();
    }

    fn readable(&mut self, path: &[At], what: Text, text: &str, needed: bool) {
        if needed && text.trim().is_empty() {
            self.wrong(path, text!("profile-what-is-empty", what));
        }
        if text.chars().count() > LONGEST_TEXT || text.chars().any(char::is_control) {
            self.wrong(path, text!("profile-what-at-most-longest-text", what, longest_text = LONGEST_TEXT));
        }
    }

    fn known_key(&mut self, path: &[At], key: &str) {
        let digit = key.len() == 1
            && key.bytes().all(|b| b.is_ascii_digit())
            && matches!(self.profile.number, NumberEntry::Keypad { .. });
        if !digit && !self.profile.keys.contains_key(key) {
            self.wrong(path, text!("profile-there-is-no-key-key", key));
        }
    }

    fn known_keys(&mut self, table: &str, named: &[(&str, Option<&String>)]) {
        for (field, key) in named {
            if let Some(key) = key {
                self.known_key(&[At::Key(table), At::Key(field)], key);
            }
        }
    }

    fn way_in(&mut self) {
        let profile = self.profile;
        if profile.way_in.is_empty() {
            self.wrong(&[At::Key("way_in")], text!("profile-a-way-into-the-set"));
        }
        for (index, step) in profile.way_in.iter().enumerate() {
            let at = [At::Key("way_in"), At::Place(index), At::Key("act")];
            match step {
                WayIn::Switch { name, .. } => {
                    self.readable(&at, text!("profile-the-name-of-the-switch"), name, true)
                }
                WayIn::HoldAtPowerOn { key } => self.known_key(&at, key),
                WayIn::Press { keys } => {
                    if keys.is_empty() {
                        self.wrong(&at, text!("profile-no-key-is-named"));
                    }
                    for key in keys {
                        self.known_key(&at, key);
                    }
                }
                WayIn::Password { code } => {
                    let widest = self.profile.number.widest();
                    if code.is_empty()
                        || code.len() > usize::from(widest)
                        || !code.bytes().all(|b| b.is_ascii_digit())
                    {
                        self.wrong(&at, text!("profile-a-password-here-is-1", widest));
                    }
                    if index == 0 {
                        self.wrong(&at, text!("profile-something-must-ask-for-the"));
                    }
                }
            }
        }
    }

    fn needs(&mut self, what: &str, key: Option<&String>) {
        match key {
            Some(key) => self.known_key(&[At::Key("menu"), At::Key(what)], key),
            None => self.wrong(&[At::Key("menu")], text!("profile-a-menu-of-this-style", what)),
        }
    }

    fn menu(&mut self) {
        let menu = &self.profile.menu;
        match menu.style {
            MenuStyle::List => {
                self.needs("next", menu.next.as_ref());
                self.needs("open", menu.open.as_ref());
                self.needs("leave", menu.leave.as_ref());
                if self.profile.groups.iter().any(|g| g.questions) {
                    self.needs("yes", menu.yes.as_ref());
                    self.needs("no", menu.no.as_ref());
                }
            }
            MenuStyle::Questions => {
                self.needs("yes", menu.yes.as_ref());
                self.needs("no", menu.no.as_ref());
                if !self.profile.groups.is_empty() {
                    self.wrong(&[At::Key("group")], text!("profile-questions-come-one-after-the"));
                }
            }
            MenuStyle::Touch => self.needs("leave", menu.leave.as_ref()),
        }
        self.known_keys("menu", &[("previous", menu.previous.as_ref()), ("jump", menu.jump.as_ref())]);
        if menu.jump.is_some() && !matches!(self.profile.number, NumberEntry::Keypad { .. }) {
            self.wrong(&[At::Key("menu"), At::Key("jump")], text!("profile-jumping-needs-a-keypad-to"));
        }
    }

    fn number(&mut self) {
        let at = [At::Key("number")];
        match &self.profile.number {
            NumberEntry::Digits { up, down, left, right, round, cursor, confirm, .. } => {
                let named = [
                    ("up", Some(up)),
                    ("down", down.as_ref()),
                    ("left", left.as_ref()),
                    ("right", right.as_ref()),
                    ("confirm", Some(confirm)),
                ];
                self.known_keys("number", &named);
                let reaches = match (left, right) {
                    (Some(_), Some(_)) => true,
                    (Some(_), None) => *round || *cursor == End::Last,
                    (None, Some(_)) => *round || *cursor == End::First,
                    (None, None) => false,
                };
                if !reaches {
                    self.wrong(&at, text!("profile-with-these-keys-not-every"));
                }
            }
            NumberEntry::Whole { up, down, round, confirm, .. } => {
                let named = [("up", Some(up)), ("down", down.as_ref()), ("confirm", Some(confirm))];
                self.known_keys("number", &named);
                if down.is_none() && !round {
                    self.wrong(&at, text!("profile-with-these-keys-not-every"));
                }
            }
            NumberEntry::Keypad { confirm, clear, point } => {
                self.known_keys(
                    "number",
                    &[("confirm", Some(confirm)), ("clear", clear.as_ref()), ("point", point.as_ref())],
                );
            }
        }
        if let Some(choice) = &self.profile.choice {
            self.known_keys(
                "choice",
                &[
                    ("next", Some(&choice.next)),
                    ("previous", choice.previous.as_ref()),
                    ("confirm", Some(&choice.confirm)),
                ],
            );
        }
    }

    fn saving(&mut self) {
        let profile = self.profile;
        let at = [At::Key("save"), At::Key("how")];
        let switch = profile.way_in.iter().any(|step| matches!(step, WayIn::Switch { .. }));
        match profile.save.how {
            SaveHow::SwitchBack if !switch => self.wrong(&at, text!("profile-saving-by-putting-the-switch")),
            SaveHow::Button if profile.save.button.as_ref().is_none_or(|b| b.trim().is_empty()) => {
                self.wrong(&at, text!("profile-say-what-the-button-is"))
            }
            SaveHow::Parameter if profile.parameter_of(Meaning::Save).is_none() => {
                self.wrong(&at, text!("profile-saving-by-an-item-of"))
            }
            _ => {}
        }
    }

    fn groups(&mut self) {
        let profile = self.profile;
        let mut ids = BTreeSet::new();
        for (index, group) in profile.groups.iter().enumerate() {
            let at = |key| [At::Key("group"), At::Place(index), At::Key(key)];
            self.readable(&at("label"), text!("profile-the-label-of-a-group"), &group.label, true);
            if group.questions && profile.menu.style != MenuStyle::List {
                self.wrong(&at("questions"), text!("profile-questions-lie-in-a-list"));
            }
            if !ids.insert(&group.id) {
                self.wrong(&at("id"), text!("profile-there-are-two-groups-id", id = group.id));
            }
            if let Some(inside) = &group.inside {
                if !profile.groups.iter().any(|g| g.id == *inside) {
                    self.wrong(&at("inside"), text!("profile-there-is-no-group-inside", inside));
                } else if profile.groups.iter().any(|g| g.id == *inside && g.questions) {
                    self.wrong(&at("inside"), text!("profile-questions-hold-no-group", id = group.id));
                } else if self.circles(&group.id) {
                    self.wrong(&at("inside"), text!("profile-the-group-id-lies-in", id = group.id, inside));
                }
            }
        }
    }

    fn circles(&self, id: &str) -> bool {
        let mut at = id;
        for _ in 0..=self.profile.groups.len() {
            match self.profile.groups.iter().find(|g| g.id == at).and_then(|g| g.inside.as_deref()) {
                Some(parent) => at = parent,
                None => return false,
            }
        }
        true
    }

    fn parameter(&mut self, index: usize) {
        let profile = self.profile;
        let p = &profile.parameters[index];
        let at = |key: &'static str| [At::Key("parameter"), At::Place(index), At::Key(key)];
        self.readable(&at("label"), text!("profile-the-label-of-a-parameter"), &p.label, true);
        if let Some(inside) =
            p.inside.as_ref().filter(|inside| !profile.groups.iter().any(|g| g.id == **inside))
        {
            self.wrong(&at("inside"), text!("profile-there-is-no-group-inside", inside));
        }
        if let Some(code) = p.code.as_ref().filter(|c| {
            c.is_empty() || c.len() > usize::from(WIDEST) || !c.bytes().all(|b| b.is_ascii_digit())
        }) {
            self.wrong(&at("code"), text!("profile-code-is-no-code-1", code, widest = WIDEST));
        }
        if p.code.is_some() && profile.asked_in(index).is_some() {
            self.wrong(&at("code"), text!("profile-a-question-has-no-code"));
        }
        if p.answer.is_some() && p.meaning != Meaning::Other {
            self.wrong(&at("answer"), text!("profile-an-answer-is-for-an"));
        }
        if p.meaning.is_capture() {
            if !p.options.is_empty() || p.digits.is_some() {
                self.wrong(
                    &at("meaning"),
                    text!("profile-meaning-takes-no-value-opening", meaning = p.meaning.label()),
                );
            }
        } else if p.meaning == Meaning::Other && p.options.is_empty() && p.digits.is_none() {
            if p.answer.is_some() {
                self.wrong(&at("answer"), text!("profile-to-be-answered-it-needs"));
            }
        } else if p.options.is_empty() {
            self.number_parameter(p, index);
        } else {
            self.option_parameter(p, index);
        }
        if p.per_pad && profile.is_asked(index) {
            self.wrong(&at("per_pad"), text!("profile-questions-come-once-pads-in"));
        }
    }

    fn number_parameter(&mut self, p: &Parameter, index: usize) {
        let at = |key: &'static str| [At::Key("parameter"), At::Place(index), At::Key(key)];
        if let Some(answer) = p.answer.as_ref().filter(|a| a.parse::<crate::quantity::Decimal>().is_err()) {
            self.wrong(&at("answer"), text!("profile-answer-is-no-number", answer));
        }
        if matches!(p.meaning, Meaning::Unit | Meaning::StartUnit | Meaning::RangeMode) {
            self.wrong(&at("meaning"), text!("profile-meaning-needs-options", meaning = p.meaning.label()));
            return;
        }
        let Some(digits) = p.digits else {
            self.wrong(
                &at("meaning"),
                text!("profile-meaning-needs-options-or-digits", meaning = p.meaning.label()),
            );
            return;
        };
        let widest = self.profile.number.widest();
        if !(1..=widest).contains(&digits) {
            self.wrong(&at("digits"), text!("profile-a-field-has-1-to", widest));
        }
        if p.with_point && !matches!(self.profile.number, NumberEntry::Keypad { point: Some(_), .. }) {
            self.wrong(&at("with_point"), text!("profile-typing-a-point-needs-a"));
        }
        if let (Some(most), Some(decimals)) = (&p.most, p.decimals.or(Some(0)).filter(|_| !p.with_point)) {
            let needed = most.fixed(u32::from(decimals)).bytes().filter(u8::is_ascii_digit).count();
            if needed > usize::from(digits) {
                self.wrong(&at("digits"), text!("profile-digits-digits-cannot-hold-most", digits, most));
            }
        }
        if matches!((&p.least, &p.most), (Some(least), Some(most)) if least > most) {
            self.wrong(&at("least"), text!("profile-the-least-is-above-the"));
        }
    }

    fn option_parameter(&mut self, p: &Parameter, index: usize) {
        let at = |key: &'static str| [At::Key("parameter"), At::Place(index), At::Key(key)];
        let typed_badly = |o: &&super::profile::OptionValue| {
            !o.shows.bytes().all(|b| b.is_ascii_digit()) || o.shows.is_empty()
        };
        if p.typed {
            if let Some(option) = p.options.iter().find(typed_badly) {
                self.wrong(
                    &at("options"),
                    text!("profile-shows-cannot-be-typed-digits", shows = option.shows),
                );
            }
            if p.digits.is_none_or(|d| p.options.iter().any(|o| o.shows.len() > usize::from(d))) {
                self.wrong(&at("options"), text!("profile-typed-options-need-digits-the"));
            }
        } else if self.profile.menu.style == MenuStyle::List
            && !self.profile.is_asked(index)
            && self.profile.choice.is_none()
        {
            self.wrong(&at("options"), text!("profile-stepping-through-options-needs-keys"));
        }
        if let Some(answer) = p.answer.as_ref().filter(|a| p.options.iter().all(|o| o.is != **a)) {
            self.wrong(&at("answer"), text!("profile-answer-is-none-of-its", answer));
        }
        let (mut is, mut shows) = (BTreeSet::new(), BTreeSet::new());
        for option in &p.options {
            if !is.insert(&option.is) || !shows.insert(&option.shows) {
                self.wrong(
                    &at("options"),
                    text!("profile-the-option-is-shows-stands", is = option.is, shows = option.shows),
                );
            }
            let understood = option.is_unknown() || p.meaning.takes(&option.is);
            if !understood {
                self.wrong(
                    &at("options"),
                    text!("profile-is-is-no-value-of", is = option.is, meaning = p.meaning.label()),
                );
            }
        }
    }

    fn twice(&mut self) {
        let profile = self.profile;
        let mut meanings = BTreeMap::new();
        let mut codes = BTreeMap::new();
        let mut labels = BTreeMap::new();
        for (index, p) in profile.parameters.iter().enumerate() {
            let at = |key: &'static str| [At::Key("parameter"), At::Place(index), At::Key(key)];
            if p.meaning != Meaning::Other
                && let Some(first) = meanings.insert((p.meaning, p.point), &p.label)
            {
                self.wrong(
                    &at("meaning"),
                    text!(
                        "profile-first-and-label-both-mean",
                        first,
                        label = p.label,
                        meaning = p.meaning.label()
                    ),
                );
            }
            if let Some(first) = p.code.as_ref().and_then(|code| codes.insert(code, &p.label)) {
                self.wrong(
                    &at("code"),
                    text!(
                        "profile-the-code-as-deref-is",
                        as_deref = p.code.as_deref().unwrap_or_default(),
                        first
                    ),
                );
            }
            if let Some(first) = labels.insert((&p.inside, &p.label), index) {
                self.wrong(
                    &at("label"),
                    text!("profile-the-label-label-stands-twice", label = p.label, first = first + 1),
                );
            }
        }
    }

    /// What must be there for the profile to be of use.
    fn whole(&mut self) {
        let profile = self.profile;
        let has = |meaning| profile.parameters.iter().any(|p| p.meaning == meaning);
        let end = [At::Key("parameter")];
        let with_weights = has(Meaning::Zero) && has(Meaning::Span);
        if !(has(Meaning::Factor) || with_weights) {
            self.wrong(&end, text!("profile-it-must-be-able-to"));
        }
        if has(Meaning::Span) != has(Meaning::SpanWeight) {
            self.wrong(&end, text!("profile-a-span-needs-a-span"));
        }
        if profile.parameters.iter().any(|p| p.per_pad) && !(has(Meaning::Pads) && has(Meaning::Pad)) {
            self.wrong(&end, text!("profile-pads-in-turn-need-a"));
        }
        if profile.menu.style == MenuStyle::Questions
            && profile.parameters.iter().rev().skip(1).any(|p| p.meaning == Meaning::Save)
        {
            self.wrong(&end, text!("profile-the-question-whether-to-save"));
        }
        for point in profile.parameters.iter().filter(|p| p.meaning == Meaning::SpanWeight).map(|p| p.point) {
            if !profile.parameters.iter().any(|p| p.meaning == Meaning::Span && p.point == point) {
                self.wrong(&end, text!("profile-span-weight-point-has-no", point));
            }
        }
    }

    fn messages(&mut self) {
        let profile = self.profile;
        let mut texts = BTreeSet::new();
        for (index, message) in profile.messages.iter().enumerate() {
            let at = [At::Key("message"), At::Place(index), At::Key("text")];
            self.readable(&at, text!("profile-the-text-of-a-message"), &message.text, true);
            if !texts.insert(message.text.trim().to_lowercase()) {
                self.wrong(&at, text!("profile-the-message-message-stands-twice", message = message.text));
            }
            if message.meaning == super::profile::MessageMeaning::Other
                && message.says.as_ref().is_none_or(|s| s.trim().is_empty())
            {
                self.wrong(
                    &[At::Key("message"), At::Place(index), At::Key("says")],
                    text!("profile-say-what-message-means-says", message = message.text),
                );
            }
        }
    }
}
