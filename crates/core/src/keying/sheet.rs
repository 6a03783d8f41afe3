//! The keying sheet: numbered steps from a profile and a plan. It is made by keying the plan into a
//! virtual indicator with the fewest presses, so that what it says the display shows is what the
//! virtual indicator shows.

use std::collections::{HashMap, VecDeque};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::machine::{Act, Machine, Place, Step, place_of, place_of_group, step, stepped};
use super::plan::{CannotEnter, KeyingPlan, Task, Values};
use super::presses::{DigitKeys, fewest_presses, fewest_turns, naive_presses};
use super::profile::{Meaning, MenuStyle, Node, NumberEntry, Profile, SaveHow, WayIn};
use crate::quantity::Mass;
use crate::wording::{Between, Text, ToArg};

/// What part of the work a step belongs to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum KeyPhase {
    /// Into the set-up.
    WayIn,
    /// Unit, decimals, division, Max and what belongs to them.
    SetUp,
    /// Zero.
    Zero,
    /// Span.
    Span,
    /// Keeping it.
    Save,
    /// Out of the set-up.
    WayOut,
}

/// Keys, pressed so often.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Press {
    /// What stands on the key, or what is done by hand.
    pub cap: Text,
    /// How often.
    pub times: usize,
    /// Not a key: a switch, the power, a weight.
    pub by_hand: bool,
}

/// A move: what the display shows, what is pressed, what it shows then.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct KeyMove {
    /// The display before.
    pub shows: String,
    /// What is pressed or done.
    pub presses: Vec<Press>,
    /// The display after.
    pub then: String,
    /// A list is stepped through until it shows that, however many items lie between.
    pub until: bool,
}

/// A step of the sheet.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct KeyStep {
    /// Number, from 1.
    pub number: usize,
    /// What part of the work it belongs to.
    pub phase: KeyPhase,
    /// The pad that it is about; none: all of them.
    #[schema(required)]
    pub pad: Option<u8>,
    /// What it is for: `Max 870 kg`.
    pub title: Text,
    /// The moves.
    pub moves: Vec<KeyMove>,
    /// What must be on the platform, where that matters.
    #[schema(required)]
    pub platform: Option<Text>,
    /// Cautions that belong here.
    pub cautions: Vec<Text>,
    /// Key presses.
    pub presses: usize,
    /// Key presses without thinking: forwards only, every digit upwards, leading zeros typed.
    pub naive: usize,
    /// The same as acts, for a virtual indicator.
    pub acts: Vec<Act>,
}

/// The sheet.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct KeyingSheet {
    /// Name of the profile.
    pub profile: String,
    /// The steps.
    pub steps: Vec<KeyStep>,
    /// Key presses in all.
    pub presses: usize,
    /// Key presses without thinking.
    pub naive: usize,
    /// Cautions of the profile.
    pub cautions: Vec<Text>,
}

/// Makes the sheet for an indicator that holds `from`: what is pressed, key by key, until it holds the plan.
///
/// # Examples
/// ```
/// use ombret_core::keying::{KeyingPlan, OperatingSettings, PadPlan, RangeMode, keying_sheet, read_profile};
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/profiles/korrin-p4.toml");
/// let profile = read_profile(&std::fs::read_to_string(path).unwrap()).unwrap();
/// let plan = KeyingPlan {
///     unit: Unit::Kg,
///     max: "870".parse().unwrap(),
///     d: "0.2".parse().unwrap(),
///     mode: RangeMode::Single,
///     fine: None,
///     gravity: None,
///     factor: None,
///     operating: OperatingSettings::default(),
///     pads: vec![PadPlan { weights: vec![parse_mass("600", Unit::Kg, "weight").unwrap()] }],
/// };
/// let sheet = keying_sheet(&profile, &plan, &profile.untouched()).unwrap();
/// // No more presses than by always turning each digit upwards.
/// assert!(sheet.presses > 0 && sheet.presses <= sheet.naive);
/// // 0.3 is no division of the series 1, 2, 5, and no indicator takes it.
/// let odd = KeyingPlan { d: "0.3".parse().unwrap(), ..plan };
/// assert!(keying_sheet(&profile, &odd, &profile.untouched()).is_err());
/// ```
///
/// # Errors
/// Everything that cannot be entered, with the nearest that can.
pub fn keying_sheet(
    profile: &Profile,
    plan: &KeyingPlan,
    from: &Values,
) -> Result<KeyingSheet, Vec<CannotEnter>> {
    let tasks = profile.tasks(plan)?;
    let mut writer =
        Writer { profile, machine: Machine::new(profile, from.clone()), steps: Vec::new(), loaded: None };
    writer.write(&tasks)?;
    let steps = writer.steps;
    Ok(KeyingSheet {
        profile: profile.name.clone(),
        presses: steps.iter().map(|s| s.presses).sum(),
        naive: steps.iter().map(|s| s.naive).sum(),
        cautions: cautions(profile),
        steps,
    })
}

/// The cautions of the profile, and what nobody knows of it.
fn cautions(profile: &Profile) -> Vec<Text> {
    let gap = |label: &String| text!("keying-nobody-knows-what-it-means", label);
    profile.cautions.iter().map(Text::from).chain(profile.gaps.iter().map(gap)).collect()
}

struct Writer<'a> {
    profile: &'a Profile,
    machine: Machine<'a>,
    steps: Vec<KeyStep>,
    loaded: Option<Mass>,
}

/// A step while it is being written.
struct Draft {
    phase: KeyPhase,
    pad: Option<u8>,
    title: Text,
    moves: Vec<KeyMove>,
    platform: Option<Text>,
    cautions: Vec<Text>,
    naive: usize,
    acts: Vec<Act>,
}

impl Draft {
    fn new(phase: KeyPhase, title: impl Into<Text>) -> Self {
        Self {
            phase,
            pad: None,
            title: title.into(),
            moves: Vec::new(),
            platform: None,
            cautions: Vec::new(),
            naive: 0,
            acts: Vec::new(),
        }
    }
}

fn key(name: &str) -> Act {
    Act::Key { key: name.to_owned() }
}

fn keys<'k>(names: impl IntoIterator<Item = &'k str>) -> Vec<Act> {
    names.into_iter().map(key).collect()
}

impl Writer<'_> {
    /// Does the acts, as one move of the step.
    fn play(&mut self, draft: &mut Draft, acts: Vec<Act>) {
        if acts.is_empty() {
            return;
        }
        let shows = self.machine.display();
        for act in &acts {
            self.machine.act(act);
        }
        let presses = self.runs(&acts);
        let until = presses.len() == 1 && self.steps_on(&acts, &shows);
        draft.moves.push(KeyMove { shows, presses, then: self.machine.display(), until });
        draft.acts.extend(acts);
    }

    /// True where keys only step on through a list or turn a whole number, so that what it shows tells when to stop.
    fn steps_on(&self, acts: &[Act], shows: &str) -> bool {
        let menu = &self.profile.menu;
        let steps = |act: &Act| match act {
            Act::Key { key } => [&menu.next, &menu.previous].into_iter().flatten().any(|name| name == key),
            _ => false,
        };
        let in_list = menu.style == MenuStyle::List && self.machine.place().is_some();
        // A whole number is held on until it is there: nobody counts hundreds of presses.
        let turns = |act: &Act| match (act, &self.profile.number) {
            (Act::Key { key }, NumberEntry::Whole { up, down, .. }) => {
                key == up || down.as_ref() == Some(key)
            }
            _ => false,
        };
        let turned = self.machine.whole().is_some() && acts.iter().all(turns);
        turned || (in_list && acts.iter().all(steps) && self.machine.display() != shows)
    }

    fn runs(&self, acts: &[Act]) -> Vec<Press> {
        let mut out: Vec<Press> = Vec::new();
        for act in acts {
            let (cap, by_hand) = self.cap(act);
            match out.last_mut().filter(|last| last.cap == cap && !by_hand) {
                Some(last) => last.times += 1,
                None => out.push(Press { cap, times: 1, by_hand }),
            }
        }
        out
    }

    fn cap(&self, act: &Act) -> (Text, bool) {
        let switch = self.profile.way_in.iter().find_map(|step| match step {
            WayIn::Switch { name, .. } => Some(name),
            _ => None,
        });
        match act {
            Act::Key { key } => (Text::verbatim(self.profile.cap(key).to_owned()), false),
            Act::PowerOff => (text!("keying-power-off"), true),
            Act::PowerOn => (text!("keying-power-on"), true),
            Act::HoldAtPowerOn { key } => {
                (text!("keying-hold-cap-and-switch-the", cap = self.profile.cap(key)), true)
            }
            Act::Switch { on: true } => (
                text!(
                    "keying-switch-to-set-up",
                    switch = switch.map_or_else(|| text!("word-switch"), Text::from)
                ),
                true,
            ),
            Act::Switch { on: false } => (
                text!("keying-switch-back", switch = switch.map_or_else(|| text!("word-switch"), Text::from)),
                true,
            ),
            Act::Button => (
                self.profile.save.button.as_ref().map_or_else(|| text!("keying-confirm-button"), Text::from),
                true,
            ),
            Act::Load { what } => (text!("keying-put-what-on", what), true),
            Act::Unload => (text!("keying-take-everything-off"), true),
        }
    }

    fn finish(&mut self, draft: Draft) {
        let presses = draft.acts.iter().filter(|act| matches!(act, Act::Key { .. })).count();
        self.steps.push(KeyStep {
            number: self.steps.len() + 1,
            phase: draft.phase,
            pad: draft.pad,
            title: draft.title,
            moves: draft.moves,
            platform: draft.platform,
            cautions: draft.cautions,
            presses,
            naive: draft.naive.max(presses),
            acts: draft.acts,
        });
    }

    fn write(&mut self, tasks: &[Task]) -> Result<(), Vec<CannotEnter>> {
        self.way_in();
        let mut pad = 1;
        for task in tasks {
            if task.pad != pad {
                pad = task.pad;
                self.next_pad();
            }
            self.task(task)?;
        }
        self.save_and_leave();
        Ok(())
    }

    fn way_in(&mut self) {
        let mut draft = Draft::new(KeyPhase::WayIn, text!("keying-into-the-set-up"));
        for (index, step) in self.profile.way_in.iter().enumerate() {
            match step {
                WayIn::Switch { under_seal, power_off, .. } => {
                    let hold_next =
                        matches!(self.profile.way_in.get(index + 1), Some(WayIn::HoldAtPowerOn { .. }));
                    self.switch(&mut draft, true, *power_off, *power_off && !hold_next);
                    if *under_seal {
                        draft.cautions.push(text!("keying-the-switch-lies-under-a"));
                    }
                }
                WayIn::HoldAtPowerOn { key } => {
                    let off = if self.machine.view().on { vec![Act::PowerOff] } else { Vec::new() };
                    self.play(&mut draft, off);
                    self.play(&mut draft, vec![Act::HoldAtPowerOn { key: key.clone() }]);
                }
                WayIn::Press { keys: names } => self.play(&mut draft, keys(names.iter().map(String::as_str))),
                WayIn::Password { code } => self.password(&mut draft, code),
            }
        }
        self.finish(draft);
    }

    fn switch(&mut self, draft: &mut Draft, on: bool, power_off: bool, then_on: bool) {
        if power_off {
            draft.cautions.push(text!("keying-power-off-before-the-switch"));
            self.play(draft, vec![Act::PowerOff]);
        }
        self.play(draft, vec![Act::Switch { on }]);
        if then_on {
            self.play(draft, vec![Act::PowerOn]);
        }
    }

    fn password(&mut self, draft: &mut Draft, code: &str) {
        if !self.machine.asks_password() {
            return;
        }
        let (acts, naive) = self.typing(code, false);
        draft.naive += naive;
        self.play(draft, acts);
        self.confirm(draft);
    }

    fn confirm(&mut self, draft: &mut Draft) {
        draft.naive += 1;
        self.play(draft, vec![key(self.profile.number.confirm())]);
    }

    /// The keys that bring `text` into the open field, and how many it takes without thinking.
    fn typing(&self, text: &str, may_stay: bool) -> (Vec<Act>, usize) {
        match (&self.profile.number, DigitKeys::of(&self.profile.number)) {
            (_, Some(digit_keys)) => {
                let from = self.machine.turning().unwrap_or_default();
                let to: Vec<u8> = text.bytes().map(|b| b.wrapping_sub(b'0')).collect();
                // OK because a profile whose digits cannot all be reached is not taken.
                let fewest = fewest_presses(&digit_keys, from, &to).unwrap_or_default();
                (keys(fewest), naive_presses(from, &to))
            }
            (NumberEntry::Keypad { point, .. }, None) => {
                if may_stay && self.machine.display() == text {
                    return (Vec::new(), text.len());
                }
                let has_point = text.contains('.');
                let short = if has_point { text } else { text.trim_start_matches('0') };
                let short = if short.is_empty() { "0" } else { short };
                let acts = short
                    .chars()
                    .map(
                        |c| if c == '.' { key(point.as_deref().unwrap_or(".")) } else { key(&c.to_string()) },
                    )
                    .collect();
                (acts, text.len())
            }
            (NumberEntry::Whole { up, down, round, .. }, None) => {
                let from = self.machine.whole().unwrap_or(0);
                let Ok(to) = text.parse() else { return (Vec::new(), 0) };
                let turns = |down| fewest_turns(from, to, text.len(), down, *round);
                let naive = turns(false).or_else(|| turns(true)).map_or(0, |(times, _)| times);
                // OK because a profile by which not every number can be reached is not taken.
                let (times, upwards) = turns(down.is_some()).unwrap_or((0, true));
                let by = if upwards { up } else { down.as_ref().unwrap_or(up) };
                let as_count = |times: u64| usize::try_from(times).unwrap_or(usize::MAX);
                (vec![key(by); as_count(times)], as_count(naive))
            }
            (NumberEntry::Digits { .. }, None) => (Vec::new(), 0),
        }
    }

    fn next_pad(&mut self) {
        if self.loaded.is_none() {
            return;
        }
        if self.profile.save.before_unloading {
            self.save_and_leave();
            self.unload();
            self.way_in();
        } else {
            self.unload();
        }
    }

    fn unload(&mut self) {
        let mut draft = Draft::new(KeyPhase::Span, text!("keying-weight-off"));
        self.play(&mut draft, vec![Act::Unload]);
        self.loaded = None;
        self.finish(draft);
    }

    fn task(&mut self, task: &Task) -> Result<(), Vec<CannotEnter>> {
        let p = &self.profile.parameters[task.parameter];
        let mut draft = Draft::new(phase(p.meaning), title(self.profile, task));
        draft.pad = p.per_pad.then_some(task.pad);
        self.platform(&mut draft, task);
        if !self.go_to(&mut draft, task) {
            return Err(vec![CannotEnter {
                what: p.meaning,
                says: text!("keying-label-cannot-be-reached-in", label = p.label),
                nearest: None,
            }]);
        }
        if !p.meaning.is_capture() && !self.enter(&mut draft, task) {
            return Err(vec![CannotEnter {
                what: p.meaning,
                says: text!("keying-value-cannot-be-stepped-to", value = task.text, label = p.label),
                nearest: None,
            }]);
        }
        self.finish(draft);
        Ok(())
    }

    fn platform(&mut self, draft: &mut Draft, task: &Task) {
        let pads = self.profile.parameters[task.parameter].per_pad;
        let which = if pads { text!("keying-pad-pad", pad = task.pad) } else { text!("keying-the-platform") };
        match self.profile.parameters[task.parameter].meaning {
            Meaning::Zero => {
                draft.platform = Some(text!("keying-which-empty-with-everything-on", which));
                draft.cautions.push(text!("keying-nothing-else-on-it-not"));
            }
            Meaning::Span => {
                let Some(weight) = &task.weight else { return };
                draft.platform = Some(text!("keying-which-weight-in-the-middle", which, weight));
                draft.cautions.push(text!("keying-set-it-down-gently-hands"));
                if self.profile.save.before_unloading {
                    draft.cautions.push(text!("keying-leave-it-on-until-it"));
                }
                let what = if pads {
                    text!("keying-weight-on-pad-pad", weight, pad = task.pad)
                } else {
                    text!("adjustment-mass", mass = weight)
                };
                self.play(draft, vec![Act::Load { what }]);
                self.loaded = Some(weight.clone());
            }
            _ => {}
        }
    }

    /// Brings the display to the parameter and opens it.
    fn go_to(&mut self, draft: &mut Draft, task: &Task) -> bool {
        match self.profile.menu.style {
            MenuStyle::List => self.go_in_lists(draft, task.parameter),
            MenuStyle::Touch => self.go_on_screen(draft, task.parameter),
            MenuStyle::Questions => self.go_by_questions(draft, task.parameter),
        }
    }

    /// Through lists, and through the questions that lie in one.
    fn go_in_lists(&mut self, draft: &mut Draft, parameter: usize) -> bool {
        let group = self.profile.asked_in(parameter);
        // Questions before it, or of another list, are passed over.
        while let Some(asked) = self.machine.question() {
            if asked == parameter || (self.profile.asked_in(asked) == group && asked < parameter) {
                break;
            }
            self.pass(draft, asked);
        }
        let Some(group) = group else {
            return self.go_in_list(draft, place_of(self.profile, parameter), Some(parameter));
        };
        if self.machine.question().is_none()
            && !self.go_in_list(draft, place_of_group(self.profile, group), None)
        {
            return false;
        }
        self.go_by_questions(draft, parameter)
    }

    fn go_in_list(&mut self, draft: &mut Draft, target: Place, parameter: Option<usize>) -> bool {
        let Some(from) = self.machine.place().cloned() else { return false };
        let (Some(open), Some(path)) =
            (self.profile.menu.open.as_deref(), shortest(self.profile, &from, &target, true))
        else {
            return false;
        };
        let forwards = shortest(self.profile, &from, &target, false).unwrap_or_else(|| path.clone());
        draft.naive += forwards.len() + 1;
        let code = parameter.and_then(|parameter| self.profile.parameters[parameter].code.as_deref());
        let jump = self.profile.menu.jump.as_deref().zip(code);
        match jump.filter(|(_, code)| code.len() + 2 < path.len() + 1) {
            Some((jump, code)) => {
                let mut acts = vec![key(jump)];
                acts.extend(code.chars().map(|c| key(&c.to_string())));
                acts.push(key(self.profile.number.confirm()));
                self.play(draft, acts);
            }
            None => {
                // One move for each key, so that what it shows tells when to stop.
                for run in path.chunk_by(|a, b| a == b) {
                    self.play(draft, keys(run.iter().map(String::as_str)));
                }
                self.play(draft, vec![key(open)]);
            }
        }
        true
    }

    fn go_on_screen(&mut self, draft: &mut Draft, parameter: usize) -> bool {
        let Some(place) = self.machine.place().cloned() else { return false };
        let Some(leave) = self.profile.menu.leave.as_deref() else { return false };
        let path = |group: Option<usize>| {
            let mut out = Vec::new();
            let mut at = group;
            while let Some(index) = at {
                out.push(index);
                at = self.profile.groups[index]
                    .inside
                    .as_ref()
                    .and_then(|id| self.profile.groups.iter().position(|g| g.id == *id));
            }
            out.reverse();
            out
        };
        let (here, there) = (path(place.group), path(place_of(self.profile, parameter).group));
        let common = here.iter().zip(&there).take_while(|(a, b)| a == b).count();
        let mut acts: Vec<Act> = (common..here.len()).map(|_| key(leave)).collect();
        acts.extend(there[common..].iter().map(|group| key(&self.profile.groups[*group].label)));
        acts.push(key(&self.profile.parameters[parameter].label));
        draft.naive += acts.len();
        self.play(draft, acts);
        true
    }

    fn go_by_questions(&mut self, draft: &mut Draft, parameter: usize) -> bool {
        while let Some(asked) = self.machine.question().filter(|asked| *asked != parameter) {
            if asked > parameter {
                return false;
            }
            self.pass(draft, asked);
        }
        if self.machine.question() != Some(parameter) {
            return false;
        }
        let p = &self.profile.parameters[parameter];
        if p.options.is_empty() || p.typed {
            let Some(yes) = self.profile.menu.yes.as_deref() else { return false };
            draft.naive += 1;
            self.play(draft, vec![key(yes)]);
        }
        true
    }

    /// Passes a question over: what is offered stays, a number is not opened, a capture not done.
    fn pass(&mut self, draft: &mut Draft, asked: usize) {
        let p = &self.profile.parameters[asked];
        let by_option = !p.options.is_empty() && !p.typed;
        let menu = &self.profile.menu;
        if let Some(name) = if by_option { menu.yes.as_deref() } else { menu.no.as_deref() } {
            draft.naive += 1;
            self.play(draft, vec![key(name)]);
        }
    }

    /// Enters what is wanted; false where no key leads to it.
    fn enter(&mut self, draft: &mut Draft, task: &Task) -> bool {
        let p = &self.profile.parameters[task.parameter];
        if p.options.is_empty() || p.typed {
            let (acts, naive) = self.typing(&task.text, true);
            draft.naive += naive;
            self.play(draft, acts);
            self.confirm(draft);
            return true;
        }
        let target = p.options.iter().position(|o| o.shows == task.text).unwrap_or(0);
        let from = self.machine.option().unwrap_or(0);
        let count = p.options.len();
        let style = if self.profile.is_asked(task.parameter) {
            MenuStyle::Questions
        } else {
            self.profile.menu.style
        };
        match (style, &self.profile.choice) {
            (MenuStyle::Touch, _) => {
                draft.naive += 1;
                self.play(draft, vec![key(&task.text)]);
            }
            (MenuStyle::Questions, _) => {
                let (Some(yes), Some(no)) =
                    (self.profile.menu.yes.as_deref(), self.profile.menu.no.as_deref())
                else {
                    return false;
                };
                let times = (target + count - from) % count;
                draft.naive += times + 1;
                self.play(draft, vec![key(no); times]);
                self.play(draft, vec![key(yes)]);
            }
            (MenuStyle::List, Some(choice)) => {
                let walk = |name: &str, forward: bool| {
                    let mut at = from;
                    let mut times = 0;
                    while at != target && times <= count {
                        at = stepped(at, count, forward, choice.round);
                        times += 1;
                    }
                    (at == target).then(|| vec![key(name); times])
                };
                let forward = walk(&choice.next, true);
                let back = choice.previous.as_deref().and_then(|name| walk(name, false));
                let naive = forward.as_ref().or(back.as_ref()).map_or(0, Vec::len);
                let Some(shorter) = [forward, back].into_iter().flatten().min_by_key(Vec::len) else {
                    return false;
                };
                draft.naive += naive + 1;
                self.play(draft, shorter);
                self.play(draft, vec![key(&choice.confirm)]);
            }
            (MenuStyle::List, None) => return false,
        }
        true
    }

    fn save_and_leave(&mut self) {
        let mut draft = Draft::new(KeyPhase::Save, text!("keying-save"));
        let save = &self.profile.save;
        match save.how {
            SaveHow::SwitchBack => {
                draft.title = text!("keying-save-by-putting-the-switch");
                if save.before_unloading {
                    draft.cautions.push(text!("keying-the-weight-stays-on-until"));
                }
                self.play(&mut draft, vec![Act::Switch { on: false }]);
            }
            SaveHow::Button => {
                draft.title = text!("keying-save-with-the-confirm-button");
                if save.under_seal {
                    draft.cautions.push(text!("keying-the-button-lies-under-a"));
                }
                self.play(&mut draft, vec![Act::Button]);
                self.leave_menu(&mut draft);
            }
            SaveHow::Leaving | SaveHow::Parameter => {
                draft.title = if save.how == SaveHow::Leaving {
                    text!("keying-save-by-leaving-the-set")
                } else {
                    text!("keying-leave-the-set-up")
                };
                self.leave_menu(&mut draft);
            }
        }
        if let Some(weight) = &self.loaded {
            draft.platform = Some(text!("keying-weight-stays-on-the-first", weight));
        }
        if !draft.moves.is_empty() {
            self.finish(draft);
        }
        self.switch_back();
    }

    fn leave_menu(&mut self, draft: &mut Draft) {
        while let Some(asked) = self.machine.question() {
            self.pass(draft, asked);
        }
        let Some(leave) = self.profile.menu.leave.as_deref() else { return };
        let mut acts = Vec::new();
        let mut place = self.machine.place().cloned();
        while let Some(at) = place {
            acts.push(key(leave));
            place = match step(self.profile, &at, leave) {
                Step::To(up) => Some(up),
                _ => None,
            };
        }
        draft.naive += acts.len();
        self.play(draft, acts);
    }

    fn switch_back(&mut self) {
        if !self.machine.view().switch {
            return;
        }
        let mut draft = Draft::new(KeyPhase::WayOut, text!("keying-switch-back-2"));
        let power_off =
            self.profile.way_in.iter().any(|step| matches!(step, WayIn::Switch { power_off: true, .. }));
        self.switch(&mut draft, false, power_off, power_off);
        self.finish(draft);
    }
}

const fn phase(meaning: Meaning) -> KeyPhase {
    match meaning {
        Meaning::Zero => KeyPhase::Zero,
        Meaning::SpanWeight | Meaning::Span | Meaning::Points | Meaning::Factor => KeyPhase::Span,
        Meaning::Save => KeyPhase::Save,
        _ => KeyPhase::SetUp,
    }
}

fn title(profile: &Profile, task: &Task) -> Text {
    let p = &profile.parameters[task.parameter];
    let label = p.meaning.label();
    let point = if p.point > 1 { text!("keying-point", point = p.point) } else { Text::default() };
    let pad = if p.per_pad { text!("keying-pad-pad-2", pad = task.pad) } else { Text::default() };
    let value = if task.stands_for.is_empty() {
        Text::default()
    } else {
        text!("keying-value", value = task.stands_for)
    };
    Text::new("keying-title")
        .with("label", label.first())
        .with("rest", Text::list([point, value, pad], Between::Nothing).to_arg())
}

/// The shortest way through a list from one place to another; `thinking`: also backwards.
fn shortest(profile: &Profile, from: &Place, to: &Place, thinking: bool) -> Option<Vec<String>> {
    let menu = &profile.menu;
    let back = menu.previous.as_ref().filter(|_| thinking);
    let moves: Vec<&String> =
        [menu.next.as_ref(), back, menu.open.as_ref(), menu.leave.as_ref()].into_iter().flatten().collect();
    let mut came: HashMap<Place, Option<(Place, &String)>> = HashMap::from([(from.clone(), None)]);
    let mut queue = VecDeque::from([from.clone()]);
    while let Some(at) = queue.pop_front() {
        if at == *to {
            break;
        }
        let on_parameter = {
            let inside = at.group.map(|g| profile.groups[g].id.as_str());
            matches!(profile.children(inside).get(at.index), Some(Node::Parameter(_)))
        };
        for name in &moves {
            // Opening a parameter is no way through the list.
            if on_parameter && menu.open.as_ref() == Some(*name) {
                continue;
            }
            if let Step::To(next) = step(profile, &at, name)
                && !came.contains_key(&next)
            {
                came.insert(next.clone(), Some((at.clone(), *name)));
                queue.push_back(next);
            }
        }
    }
    let mut path = Vec::new();
    let mut at = to;
    while let Some((before, name)) = came.get(at)? {
        path.push((*name).clone());
        at = before;
    }
    path.reverse();
    Some(path)
}
