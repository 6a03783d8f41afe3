//! In what two profiles differ, and one with parts of another.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::profile::{Group, Meaning, NumberEntry, OptionValue, Parameter, Profile, WayIn};

/// Fields that name a key.
const KEY_FIELDS: [&str; 14] = [
    "next", "previous", "open", "leave", "yes", "no", "jump", "up", "down", "left", "right", "confirm",
    "clear", "point",
];

/// A part of a profile.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(tag = "part", rename_all = "snake_case")]
#[schema(as = ProfilePart)]
pub enum Part {
    /// What it is called and what sort it is.
    About,
    /// Units, and the least span weight.
    Units,
    /// Cautions.
    Cautions,
    /// Items that nobody has found out about.
    Gaps,
    /// What stands on the keys.
    Keys,
    /// The way in.
    WayIn,
    /// How one moves about.
    Menu,
    /// How a number is entered.
    Number,
    /// How an option is chosen.
    Choice,
    /// How it is kept.
    Save,
    /// A list inside the menu.
    List {
        /// What the display shows, from the top down.
        path: Vec<String>,
    },
    /// An item of the menu.
    Item {
        /// What it means.
        meaning: Meaning,
        /// Its span point.
        point: u8,
        /// What the display shows, from the top down, where nothing else tells it from others.
        path: Vec<String>,
    },
    /// The order in which items are keyed.
    Order,
    /// A message.
    Message {
        /// As shown.
        text: String,
    },
}

/// Something of a part that differs.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = ProfileFieldDiffers)]
pub struct FieldDiffers {
    /// Its name in the profile.
    pub field: String,
    /// As it is here; empty: nothing.
    pub here: String,
    /// As it is there; empty: nothing.
    pub there: String,
}

/// A part in which two profiles differ.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = ProfileDifference)]
pub struct Difference {
    /// Which.
    pub part: Part,
    /// Here it is called so; none: it is not there.
    #[schema(required)]
    pub here: Option<String>,
    /// There it is called so; none: it is not there.
    #[schema(required)]
    pub there: Option<String>,
    /// What differs of it.
    pub fields: Vec<FieldDiffers>,
}

/// In what `there` differs from `here`. Names that profiles give their keys and lists do not count, only what stands
/// on a key and what a list is called on the display.
pub fn compare(here: &Profile, there: &Profile) -> Vec<Difference> {
    let there = &aligned(there, here);
    let mut out: Vec<Difference> = parts(here, there)
        .into_iter()
        .map(|part| {
            let (before, after) = (view(here, &part), view(there, &part));
            let fields = differing(before.as_ref(), after.as_ref());
            let name = |view: Option<View>| view.map(|v| v.name);
            Difference { part, here: name(before), there: name(after), fields }
        })
        .filter(|d| !d.fields.is_empty() || d.here.is_some() != d.there.is_some())
        .collect();
    let (before, after) = (order(here, there), order(there, here));
    if !before.iter().map(|(part, _)| part).eq(after.iter().map(|(part, _)| part)) {
        let said =
            |all: Vec<(Part, String)>| all.into_iter().map(|(_, name)| name).collect::<Vec<_>>().join(" · ");
        let fields = vec![FieldDiffers { field: "order".into(), here: said(before), there: said(after) }];
        let name = || Some(String::new());
        out.push(Difference { part: Part::Order, here: name(), there: name(), fields });
    }
    out
}

/// `here`, with these parts as `there` has them. What they need to stand on, keys and lists, comes with them; whether
/// the whole is a profile of use is for [`super::read_profile`] to say.
pub fn with_parts(here: &Profile, there: &Profile, parts: &[Part]) -> Profile {
    let there = &aligned(there, here);
    let mut out = here.clone();
    for part in parts {
        take(&mut out, there, part);
    }
    if parts.contains(&Part::Order) {
        put_in_order(&mut out, there);
    }
    let named: Vec<String> = keys_named(&mut out).into_iter().map(|key| key.clone()).collect();
    for key in named {
        if let Some(cap) = there.keys.get(&key)
            && !out.keys.contains_key(&key)
        {
            out.keys.insert(key, cap.clone());
        }
    }
    out
}

/// Lists and items in the order in which they stand there; what is only here stays behind what it stood behind.
fn put_in_order(out: &mut Profile, there: &Profile) {
    let places = |all: &[Part], other: &[Part]| {
        let mut last = None;
        let place = |part: &Part| other.iter().position(|q| q == part);
        all.iter()
            .map(|part| {
                last = place(part).or(last);
                last
            })
            .collect::<Vec<Option<usize>>>()
    };
    let sorted = |all: &[Part], other: &[Part]| {
        let places = places(all, other);
        let mut order: Vec<usize> = (0..all.len()).collect();
        order.sort_by_key(|i| places[*i]);
        order
    };
    let lists = sorted(&list_parts(out), &list_parts(there));
    let items = sorted(&item_parts(out), &item_parts(there));
    out.groups = lists.into_iter().map(|i| out.groups[i].clone()).collect();
    out.parameters = items.into_iter().map(|i| out.parameters[i].clone()).collect();
}

fn take(out: &mut Profile, there: &Profile, part: &Part) {
    match part {
        Part::About => (out.name, out.about) = (there.name.clone(), there.about.clone()),
        Part::Units => {
            (out.weights_in, out.only_unit) = (there.weights_in, there.only_unit);
            out.least_span_percent.clone_from(&there.least_span_percent);
        }
        Part::Cautions => out.cautions.clone_from(&there.cautions),
        Part::Gaps => out.gaps.clone_from(&there.gaps),
        Part::Keys => out.keys.clone_from(&there.keys),
        Part::WayIn => out.way_in.clone_from(&there.way_in),
        Part::Menu => out.menu = there.menu.clone(),
        Part::Number => out.number = there.number.clone(),
        Part::Choice => out.choice.clone_from(&there.choice),
        Part::Save => out.save = there.save.clone(),
        Part::Order => {}
        Part::List { path } => match group_at(there, path) {
            Some(group) => take_group(out, there, group),
            None => remove_group(out, path),
        },
        Part::Item { .. } => {
            let at = item_parts(out).iter().position(|p| p == part);
            let all = item_parts(there);
            let Some(place) = all.iter().position(|p| p == part) else {
                at.map(|at| out.parameters.remove(at));
                return;
            };
            let new = there.parameters[place].clone();
            if let Some(group) = new.inside.as_ref().and_then(|id| there.groups.iter().find(|g| g.id == *id))
                && !out.groups.iter().any(|g| g.id == group.id)
            {
                take_group(out, there, group);
            }
            match at {
                Some(at) => out.parameters[at] = new,
                None => {
                    // Behind the nearest that stands before it there.
                    let own = item_parts(out);
                    let before = all[..place].iter().rev().find_map(|q| own.iter().position(|p| p == q));
                    out.parameters.insert(before.map_or(0, |at| at + 1), new);
                }
            }
        }
        Part::Message { text } => {
            let at = out.messages.iter().position(|m| m.text == *text);
            match (at, there.messages.iter().find(|m| m.text == *text)) {
                (Some(at), Some(new)) => out.messages[at] = new.clone(),
                (None, Some(new)) => out.messages.push(new.clone()),
                (Some(at), None) => {
                    out.messages.remove(at);
                }
                (None, None) => {}
            }
        }
    }
}

/// A list with those that it lies in.
fn take_group(out: &mut Profile, there: &Profile, group: &Group) {
    if let Some(around) = group.inside.as_ref().and_then(|id| there.groups.iter().find(|g| g.id == *id))
        && !out.groups.iter().any(|g| g.id == around.id)
    {
        take_group(out, there, around);
    }
    match out.groups.iter().position(|g| g.id == group.id) {
        Some(at) => out.groups[at] = group.clone(),
        None => out.groups.push(group.clone()),
    }
}

/// A list, and what lies in it.
fn remove_group(out: &mut Profile, path: &[String]) {
    let inside: Vec<String> = out
        .groups
        .iter()
        .filter(|g| path_of(out, Some(g.id.as_str())).starts_with(path))
        .map(|g| g.id.clone())
        .collect();
    out.groups.retain(|g| !inside.contains(&g.id));
    out.parameters.retain(|p| p.inside.as_ref().is_none_or(|id| !inside.contains(id)));
}

/// Every part that either has, in the order in which people read a profile.
fn parts(here: &Profile, there: &Profile) -> Vec<Part> {
    let mut out = vec![
        Part::About,
        Part::Units,
        Part::Cautions,
        Part::Gaps,
        Part::Keys,
        Part::WayIn,
        Part::Menu,
        Part::Number,
        Part::Choice,
        Part::Save,
    ];
    let messages = |p: &Profile| -> Vec<Part> {
        p.messages.iter().map(|m| Part::Message { text: m.text.clone() }).collect()
    };
    for of in [list_parts, item_parts, messages] {
        for part in of(here).into_iter().chain(of(there)) {
            if !out.contains(&part) {
                out.push(part);
            }
        }
    }
    out
}

fn item_part(profile: &Profile, p: &Parameter) -> Part {
    // There is one item of a meaning for each span point, but any number of those that Ombret does not know.
    let path = || path_of(profile, p.inside.as_deref()).into_iter().chain([p.label.clone()]).collect();
    Part::Item {
        meaning: p.meaning,
        point: p.point,
        path: if p.meaning == Meaning::Other { path() } else { Vec::new() },
    }
}

fn item_parts(profile: &Profile) -> Vec<Part> {
    profile.parameters.iter().map(|p| item_part(profile, p)).collect()
}

fn list_parts(profile: &Profile) -> Vec<Part> {
    profile.groups.iter().map(|g| Part::List { path: path_of(profile, Some(&g.id)) }).collect()
}

/// Lists and items of `one` that `other` has too, in their order, with what the display shows.
fn order(one: &Profile, other: &Profile) -> Vec<(Part, String)> {
    let (lists, items) = (list_parts(other), item_parts(other));
    let groups = list_parts(one).into_iter().zip(one.groups.iter().map(|g| g.label.clone()));
    let parameters = item_parts(one).into_iter().zip(one.parameters.iter().map(|p| p.label.clone()));
    groups.chain(parameters).filter(|(part, _)| lists.contains(part) || items.contains(part)).collect()
}

/// A part as it is seen: what it is called, and its fields.
struct View {
    name: String,
    fields: Vec<Field>,
}

/// A field of a part.
#[derive(Clone)]
struct Field {
    name: String,
    /// By which it is compared.
    is: String,
    /// As it is seen.
    shown: String,
}

impl Field {
    fn new(name: &str, text: impl Into<String>) -> Self {
        let is: String = text.into();
        Self { name: name.to_owned(), shown: is.clone(), is }
    }
}

fn view(profile: &Profile, part: &Part) -> Option<View> {
    let plain = |fields| Some(View { name: String::new(), fields });
    let one = |field: &str, text: String| plain(vec![Field::new(field, text)]);
    match part {
        Part::About => plain(vec![
            Field::new("name", profile.name.as_str()),
            Field::new("about", profile.about.as_str()),
        ]),
        Part::Units => {
            let unit =
                |unit: Option<crate::quantity::Unit>| unit.map(|u| u.symbol().to_owned()).unwrap_or_default();
            plain(vec![
                Field::new("only_unit", unit(profile.only_unit)),
                Field::new("weights_in", unit(profile.weights_in)),
                Field::new(
                    "least_span_percent",
                    profile.least_span_percent.as_ref().map(ToString::to_string).unwrap_or_default(),
                ),
            ])
        }
        Part::Cautions => one("cautions", profile.cautions.join(" · ")),
        Part::Gaps => one("gaps", profile.gaps.join(" · ")),
        Part::Keys => one("keys", profile.keys.values().cloned().collect::<Vec<_>>().join(" ")),
        Part::WayIn => plain(profile.way_in.iter().map(|step| way_in(profile, step)).collect()),
        Part::Menu => plain(fields_of(profile, &profile.menu)),
        Part::Number => plain(fields_of(profile, &profile.number)),
        Part::Choice => plain(fields_of(profile, profile.choice.as_ref()?)),
        Part::Save => plain(fields_of(profile, &profile.save)),
        Part::Order => None,
        Part::List { path } => {
            let group = group_at(profile, path)?;
            let fields =
                fields_of(profile, group).into_iter().filter(|f| f.name != "id" && f.name != "inside");
            Some(View { name: path.join(" › "), fields: fields.collect() })
        }
        Part::Item { .. } => {
            let found = profile.parameters.iter().find(|p| item_part(profile, p) == *part)?;
            let around = path_of(profile, found.inside.as_deref());
            let fields = fields_of(profile, found)
                .into_iter()
                .filter(|f| f.name != "meaning" && f.name != "point")
                .map(|f| if f.name == "inside" { Field::new("inside", around.join(" › ")) } else { f });
            Some(View { name: found.label.clone(), fields: fields.collect() })
        }
        Part::Message { text } => {
            let found = profile.messages.iter().find(|m| m.text == *text)?;
            Some(View { name: text.clone(), fields: fields_of(profile, found) })
        }
    }
}

fn way_in(profile: &Profile, step: &WayIn) -> Field {
    let (name, keys): (&str, Vec<&String>) = match step {
        WayIn::Switch { name, .. } => return Field::new("switch", name.as_str()),
        WayIn::Password { code } => return Field::new("password", code.as_str()),
        WayIn::HoldAtPowerOn { key } => ("hold_at_power_on", vec![key]),
        WayIn::Press { keys } => ("press", keys.iter().collect()),
    };
    let joined = |with: &dyn Fn(&str) -> String| keys.iter().map(|k| with(k)).collect::<Vec<_>>().join(" ");
    Field { name: name.into(), is: joined(&str::to_owned), shown: joined(&|k| profile.cap(k).to_owned()) }
}

/// The fields of a part by their names in the profile, keys by what stands on them.
fn fields_of(profile: &Profile, part: &impl Serialize) -> Vec<Field> {
    let Ok(toml::Value::Table(table)) = toml::Value::try_from(part) else { return Vec::new() };
    let field = |(name, value): (String, toml::Value)| match value {
        toml::Value::String(key) if KEY_FIELDS.contains(&name.as_str()) => {
            Field { name, shown: profile.cap(&key).to_owned(), is: key }
        }
        toml::Value::String(text) => Field::new(&name, text),
        toml::Value::Array(all) => {
            Field::new(&name, all.into_iter().map(option_text).collect::<Vec<_>>().join(" · "))
        }
        toml::Value::Boolean(false) => Field::new(&name, ""),
        other => Field::new(&name, other.to_string()),
    };
    table.into_iter().map(field).collect()
}

fn option_text(value: toml::Value) -> String {
    match value.clone().try_into::<OptionValue>() {
        Ok(option) => format!("{} = {}", option.is, option.shows),
        Err(_) => value.as_str().map_or_else(|| value.to_string(), str::to_owned),
    }
}

fn differing(before: Option<&View>, after: Option<&View>) -> Vec<FieldDiffers> {
    // A way in may have two steps of one sort: they are told apart by their place.
    let numbered = |view: Option<&View>| {
        let mut seen: BTreeMap<String, usize> = BTreeMap::new();
        let mut out: Vec<((String, usize), Field)> = Vec::new();
        for field in view.map(|v| v.fields.as_slice()).unwrap_or_default() {
            let n = seen.entry(field.name.clone()).or_default();
            *n += 1;
            out.push(((field.name.clone(), *n), field.clone()));
        }
        out
    };
    let (before, after) = (numbered(before), numbered(after));
    let mut names: Vec<&(String, usize)> = before.iter().map(|(name, _)| name).collect();
    names.extend(after.iter().map(|(name, _)| name).filter(|n| !before.iter().any(|(b, _)| b == *n)));
    let at = |fields: &[((String, usize), Field)], name: &(String, usize)| {
        let found = fields.iter().find(|(n, _)| n == name).map(|(_, field)| field.clone());
        found.unwrap_or_else(|| Field::new(&name.0, ""))
    };
    names
        .into_iter()
        .map(|name| (at(&before, name), at(&after, name)))
        .filter(|(here, there)| here.is != there.is)
        .map(|(here, there)| FieldDiffers { field: here.name, here: here.shown, there: there.shown })
        .collect()
}

/// What the display shows on the way to a list, from the top down.
fn path_of(profile: &Profile, group: Option<&str>) -> Vec<String> {
    let mut out = Vec::new();
    let mut at = group;
    while let Some(found) = at.and_then(|id| profile.groups.iter().find(|g| g.id == id)) {
        out.insert(0, found.label.clone());
        at = found.inside.as_deref().filter(|_| out.len() <= profile.groups.len());
    }
    out
}

fn group_at<'a>(profile: &'a Profile, path: &[String]) -> Option<&'a Group> {
    profile.groups.iter().find(|g| path_of(profile, Some(&g.id)) == path)
}

/// Every place where a key is named.
fn keys_named(profile: &mut Profile) -> Vec<&mut String> {
    let mut out: Vec<&mut String> = Vec::new();
    for step in &mut profile.way_in {
        match step {
            WayIn::HoldAtPowerOn { key } => out.push(key),
            WayIn::Press { keys } => out.extend(keys),
            WayIn::Switch { .. } | WayIn::Password { .. } => {}
        }
    }
    let menu = &mut profile.menu;
    for key in [
        &mut menu.next,
        &mut menu.previous,
        &mut menu.open,
        &mut menu.leave,
        &mut menu.yes,
        &mut menu.no,
        &mut menu.jump,
    ] {
        out.extend(key);
    }
    match &mut profile.number {
        NumberEntry::Digits { up, down, left, right, confirm, .. } => {
            out.extend([up, confirm]);
            out.extend([down, left, right].into_iter().flatten());
        }
        NumberEntry::Whole { up, down, confirm, .. } => {
            out.extend([up, confirm]);
            out.extend(down);
        }
        NumberEntry::Keypad { confirm, clear, point } => {
            out.push(confirm);
            out.extend([clear, point].into_iter().flatten());
        }
    }
    if let Some(choice) = &mut profile.choice {
        out.extend([&mut choice.next, &mut choice.confirm]);
        out.extend(&mut choice.previous);
    }
    out
}

/// A profile with its keys and lists named as `like` names those that say the same.
fn aligned(profile: &Profile, like: &Profile) -> Profile {
    let mut out = profile.clone();
    let unused = |wanted: &str, taken: &dyn Fn(&str) -> bool| {
        let mut id = wanted.to_owned();
        while taken(&id) {
            id.push('_');
        }
        id
    };
    let mut keys: BTreeMap<String, String> = BTreeMap::new();
    for (id, cap) in &profile.keys {
        let named = |id: &str, keys: &BTreeMap<String, String>| keys.values().any(|k| k == id);
        let by_cap =
            like.keys.iter().find(|(key, c)| *c == cap && !named(key, &keys)).map(|(key, _)| key.clone());
        // The same key with something else on it.
        let by_name = || {
            let other = like.keys.get(id).filter(|c| !profile.keys.values().any(|cap| cap == *c));
            other.filter(|_| !named(id, &keys)).map(|_| id.clone())
        };
        let same = by_cap.or_else(by_name);
        let taken = |id: &str| like.keys.contains_key(id) || named(id, &keys);
        let name = same.unwrap_or_else(|| unused(id, &taken));
        keys.insert(id.clone(), name);
    }
    for key in keys_named(&mut out) {
        if let Some(name) = keys.get(key.as_str()) {
            key.clone_from(name);
        }
    }
    out.keys = profile.keys.iter().map(|(id, cap)| (keys[id].clone(), cap.clone())).collect();

    let mut groups: BTreeMap<String, String> = BTreeMap::new();
    for group in &profile.groups {
        let path = path_of(profile, Some(&group.id));
        let named = |id: &str, groups: &BTreeMap<String, String>| groups.values().any(|g| g == id);
        let same = group_at(like, &path).map(|g| g.id.clone()).filter(|id| !named(id, &groups));
        let taken = |id: &str| like.groups.iter().any(|g| g.id == id) || named(id, &groups);
        let name = same.unwrap_or_else(|| unused(&group.id, &taken));
        groups.insert(group.id.clone(), name);
    }
    let rename = |id: &mut String| {
        if let Some(name) = groups.get(id.as_str()) {
            id.clone_from(name);
        }
    };
    for group in &mut out.groups {
        rename(&mut group.id);
        group.inside.as_mut().map(rename);
    }
    for parameter in &mut out.parameters {
        parameter.inside.as_mut().map(rename);
    }
    out
}
