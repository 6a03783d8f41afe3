//! A message and its arguments.

use std::borrow::Cow;

use serde::ser::SerializeMap;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use serde_json::{Map, Value, json};
use time::Date;
use utoipa::openapi::RefOr;
use utoipa::openapi::schema::{AdditionalProperties, ObjectBuilder, Schema, Type};
use utoipa::{PartialSchema, ToSchema};

use super::language::Language;

/// What a person has typed, or a name that is the same in every language, as a message.
const VERBATIM: &str = "verbatim";
/// What somebody wrote in several languages, as a message.
const TOLD: &str = "told";

/// A message of the catalogue with its arguments. On the wire it is an object: `say` names the message, the
/// other members are its arguments.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Text(Said);

/// Words are by far the most of what is said in an assessment, and need no list of arguments.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
enum Said {
    /// Words that are the same in every language.
    Words(Cow<'static, str>),
    /// A message of the catalogue.
    Message { key: Cow<'static, str>, args: Vec<(Cow<'static, str>, Arg)> },
}

/// An argument of a message.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub enum Arg {
    /// How many; a plural may hang on it.
    Count(i64),
    /// A figure: exact or rounded already. A language writes its decimal sign.
    Number(String),
    /// A mass: its figure and its unit.
    Mass(String, String),
    /// A day.
    Day(Date),
    /// A name, what was typed, what stands on a display: the same in every language.
    Words(String),
    /// A message inside this one.
    Message(Box<Text>),
    /// A message inside a sentence: English then begins it with a small letter.
    Inside(Box<Text>),
    /// A message at the head of a line: it then begins with a capital.
    First(Box<Text>),
    /// Several, one after the other.
    List(Vec<Arg>, Between),
}

/// What stands between several.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Between {
    /// Nothing: they follow on as sentences do.
    Nothing,
    /// A space.
    Space,
    /// A comma.
    Comma,
    /// A semicolon.
    Semicolon,
    /// The word for “and”.
    And,
}

/// What is said without the catalogue.
pub(super) enum OwnWords<'a> {
    /// As they stand.
    Words(&'a str),
    /// Figures and messages among them.
    Parts(&'a Arg),
}

/// What may be an argument.
pub trait ToArg {
    /// As an argument.
    fn to_arg(&self) -> Arg;
}

impl Text {
    /// A message without arguments yet. Use `text!`, by which a test finds every message.
    pub const fn new(key: &'static str) -> Self {
        Self(Said::Message { key: Cow::Borrowed(key), args: Vec::new() })
    }

    /// A message named by what it is about: `item` of the family `family`.
    pub fn of(family: &str, item: &str) -> Self {
        let key = Cow::Owned(format!("{family}-{}", item.replace('_', "-")));
        Self(Said::Message { key, args: Vec::new() })
    }

    /// Words that are the same in every language: typed by a person, a name, a figure.
    pub fn verbatim(words: impl Into<Cow<'static, str>>) -> Self {
        Self(Said::Words(words.into()))
    }

    /// What somebody wrote, with what stands for it in other languages. It goes as it was written where a
    /// language has nothing.
    pub fn told<'a>(words: &str, others: impl IntoIterator<Item = (Language, &'a str)>) -> Self {
        let words = [("words", Arg::Words(words.to_owned()))];
        let others = others.into_iter().map(|(language, said)| (language.tag(), Arg::Words(said.to_owned())));
        let args = words.into_iter().chain(others).map(|(name, said)| (Cow::Borrowed(name), said));
        Self(Said::Message { key: Cow::Borrowed(TOLD), args: args.collect() })
    }

    /// What is said without the catalogue: words, or those of a person in this language where there are any.
    pub(super) fn own_words(&self, language: Language) -> Option<OwnWords<'_>> {
        let (key, args) = match &self.0 {
            Said::Words(words) => return Some(OwnWords::Words(words)),
            Said::Message { key, args } => (key.as_ref(), args),
        };
        let named = |wanted: &str| args.iter().find(|(name, _)| name == wanted).map(|(_, value)| value);
        match key {
            VERBATIM => named("words").map(OwnWords::Parts),
            TOLD => named(language.tag()).or_else(|| named("words")).map(OwnWords::Parts),
            _ => None,
        }
    }

    /// Several, one after the other.
    pub fn list<T: ToArg>(items: impl IntoIterator<Item = T>, between: Between) -> Self {
        let items = items.into_iter().map(|item| item.to_arg()).collect();
        let args = vec![(Cow::Borrowed("words"), Arg::List(items, between))];
        Self(Said::Message { key: Cow::Borrowed(VERBATIM), args })
    }

    /// Adds an argument.
    #[must_use]
    pub fn with(mut self, name: &'static str, value: Arg) -> Self {
        if let Said::Message { args, .. } = &mut self.0 {
            args.push((Cow::Borrowed(name), value));
        }
        self
    }

    /// As part of a sentence: English then writes it small.
    pub fn inside(&self) -> Arg {
        Arg::Inside(Box::new(self.clone()))
    }

    /// At the head of a line: it then begins with a capital.
    pub fn first(&self) -> Arg {
        Arg::First(Box::new(self.clone()))
    }

    /// Which message.
    pub fn key(&self) -> &str {
        match &self.0 {
            Said::Words(_) => VERBATIM,
            Said::Message { key, .. } => key,
        }
    }

    /// Its arguments; words have none.
    pub fn args(&self) -> impl Iterator<Item = (&str, &Arg)> {
        let args = match &self.0 {
            Said::Words(_) => &[][..],
            Said::Message { args, .. } => args,
        };
        args.iter().map(|(name, value)| (name.as_ref(), value))
    }

    /// True where there is nothing to say.
    pub fn is_empty(&self) -> bool {
        match &self.0 {
            Said::Words(words) => words.is_empty(),
            Said::Message { key, args } => {
                key == VERBATIM
                    && args.iter().all(|(_, value)| matches!(value, Arg::List(items, _) if items.is_empty()))
            }
        }
    }
}

/// Nothing to say.
impl Default for Text {
    fn default() -> Self {
        Self::verbatim("")
    }
}

impl From<String> for Text {
    fn from(words: String) -> Self {
        Self::verbatim(words)
    }
}

impl From<&Self> for Text {
    fn from(text: &Self) -> Self {
        text.clone()
    }
}

impl From<&String> for Text {
    fn from(words: &String) -> Self {
        Self::verbatim(words.clone())
    }
}

impl From<&'static str> for Text {
    fn from(words: &'static str) -> Self {
        Self::verbatim(words)
    }
}

/// A figure with so many decimals.
pub fn fixed(value: impl Into<f64>, decimals: usize) -> Arg {
    Arg::Number(format!("{:.decimals$}", value.into()))
}

/// A figure with so many decimals and its sign.
pub fn signed(value: impl Into<f64>, decimals: usize) -> Arg {
    Arg::Number(format!("{:+.decimals$}", value.into()))
}

/// A figure as it was worked out already, with its unit if it has one: a language writes its decimal sign.
pub fn figure(text: impl Into<String>) -> Arg {
    Arg::Number(text.into())
}

/// A whole number with its sign.
pub fn plus(value: impl Into<i64>) -> Arg {
    Arg::Number(format!("{:+}", value.into()))
}

impl ToArg for Arg {
    fn to_arg(&self) -> Arg {
        self.clone()
    }
}

/// Nothing where there is nothing to say.
impl<T: ToArg> ToArg for Option<T> {
    fn to_arg(&self) -> Arg {
        self.as_ref().map_or_else(|| Arg::Words(String::new()), ToArg::to_arg)
    }
}

impl ToArg for Text {
    fn to_arg(&self) -> Arg {
        Arg::Message(Box::new(self.clone()))
    }
}

impl<T: ToArg + ?Sized> ToArg for &T {
    fn to_arg(&self) -> Arg {
        (**self).to_arg()
    }
}

impl<T: ToArg> ToArg for Vec<T> {
    fn to_arg(&self) -> Arg {
        Arg::List(self.iter().map(ToArg::to_arg).collect(), Between::Comma)
    }
}

impl ToArg for str {
    fn to_arg(&self) -> Arg {
        Arg::Words(self.to_owned())
    }
}

impl ToArg for String {
    fn to_arg(&self) -> Arg {
        Arg::Words(self.clone())
    }
}

impl ToArg for Cow<'_, str> {
    fn to_arg(&self) -> Arg {
        Arg::Words(self.to_string())
    }
}

impl ToArg for Date {
    fn to_arg(&self) -> Arg {
        Arg::Day(*self)
    }
}

impl ToArg for uuid::Uuid {
    fn to_arg(&self) -> Arg {
        Arg::Words(self.to_string())
    }
}

macro_rules! counts {
    ($($kind:ty),*) => {$(
        impl ToArg for $kind {
            fn to_arg(&self) -> Arg {
                i64::try_from(*self).map_or_else(|_| Arg::Number(self.to_string()), Arg::Count)
            }
        }
    )*};
}
counts!(u8, u16, u32, u64, usize, i8, i32, i64);

macro_rules! names {
    ($($kind:ty),*) => {$(
        impl ToArg for $kind {
            fn to_arg(&self) -> Arg {
                Arg::Words(self.to_string())
            }
        }
    )*};
}
names!(char, f64);

impl Serialize for Text {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut map = serializer.serialize_map(None)?;
        map.serialize_entry("say", self.key())?;
        if let Said::Words(words) = &self.0 {
            map.serialize_entry("words", words)?;
        }
        for (name, value) in self.args() {
            map.serialize_entry(name, value)?;
        }
        map.end()
    }
}

impl Serialize for Arg {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match self {
            Self::Count(n) => serializer.serialize_i64(*n),
            Self::Number(figure) => json!({ "number": figure }).serialize(serializer),
            Self::Mass(value, unit) => json!({ "value": value, "unit": unit }).serialize(serializer),
            Self::Day(day) => json!({ "day": day.to_string() }).serialize(serializer),
            Self::Words(words) => serializer.serialize_str(words),
            Self::Message(text) => text.serialize(serializer),
            Self::Inside(text) => json!({ "inside": text }).serialize(serializer),
            Self::First(text) => json!({ "first": text }).serialize(serializer),
            Self::List(items, between) => json!({ "list": items, "between": between }).serialize(serializer),
        }
    }
}

/// Plain words are read as words: what was written before messages were data.
impl<'de> Deserialize<'de> for Text {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        read(&Value::deserialize(deserializer)?).ok_or_else(|| serde::de::Error::custom("this is no message"))
    }
}

fn read(value: &Value) -> Option<Text> {
    match value {
        Value::String(words) => Some(Text::verbatim(words.clone())),
        Value::Object(map) => {
            let key: Cow<'static, str> = Cow::Owned(map.get("say")?.as_str()?.to_owned());
            if let (VERBATIM, Some(Value::String(words)), 2) = (key.as_ref(), map.get("words"), map.len()) {
                return Some(Text::verbatim(words.clone()));
            }
            let args = map
                .iter()
                .filter(|(name, _)| *name != "say")
                .map(|(name, value)| Some((Cow::Owned(name.clone()), arg(value)?)))
                .collect::<Option<_>>()?;
            Some(Text(Said::Message { key, args }))
        }
        _ => None,
    }
}

fn arg(value: &Value) -> Option<Arg> {
    let member = |map: &Map<String, Value>, name: &str| map.get(name)?.as_str().map(str::to_owned);
    Some(match value {
        Value::Number(n) => Arg::Count(n.as_i64()?),
        Value::String(words) => Arg::Words(words.clone()),
        Value::Object(map) if map.contains_key("list") => Arg::List(
            map.get("list")?.as_array()?.iter().map(arg).collect::<Option<_>>()?,
            serde_json::from_value(map.get("between")?.clone()).ok()?,
        ),
        Value::Object(map) if map.contains_key("say") => Arg::Message(Box::new(read(value)?)),
        Value::Object(map) if map.contains_key("inside") => Arg::Inside(Box::new(read(map.get("inside")?)?)),
        Value::Object(map) if map.contains_key("first") => Arg::First(Box::new(read(map.get("first")?)?)),
        Value::Object(map) if map.contains_key("number") => Arg::Number(member(map, "number")?),
        Value::Object(map) if map.contains_key("day") => Arg::Day(
            Date::parse(&member(map, "day")?, time::macros::format_description!("[year]-[month]-[day]"))
                .ok()?,
        ),
        Value::Object(map) => Arg::Mass(member(map, "value")?, member(map, "unit")?),
        _ => return None,
    })
}

impl PartialSchema for Text {
    fn schema() -> RefOr<Schema> {
        ObjectBuilder::new()
            .property("say", ObjectBuilder::new().schema_type(Type::String))
            .required("say")
            .additional_properties(Some(AdditionalProperties::FreeForm(true)))
            .description(Some(
                "A message of the catalogue: `say` names it, the other members are its arguments.",
            ))
            .into()
    }
}

impl ToSchema for Text {}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_message_travels_as_data_and_comes_back_as_it_was() {
        let text = Text::new("message")
            .with("on", time::macros::date!(2026 - 03 - 01).to_arg())
            .with("u", signed(0.25, 1))
            .with("why", Text::verbatim("wet").to_arg())
            .with(
                "words",
                Arg::List(vec![Arg::Count(3), Arg::Mass("0.20".into(), "kg".into())], Between::And),
            );
        let sent = serde_json::to_value(&text).unwrap();
        assert_eq!(sent["say"], "message");
        assert_eq!(serde_json::from_value::<Text>(sent).unwrap(), text);
        assert_eq!(serde_json::from_value::<Text>(json!("typed")).unwrap(), Text::verbatim("typed"));
    }

    #[test]
    fn what_somebody_wrote_in_two_languages_is_said_in_each_and_else_as_it_was_written() {
        let both = Text::told("A stone", [(Language::De, "Ein Stein")]);
        assert_eq!(
            (Language::En.say(&both), Language::De.say(&both)),
            ("A stone".into(), "Ein Stein".into())
        );
        let back: Text = serde_json::from_value(serde_json::to_value(&both).unwrap()).unwrap();
        assert_eq!(Language::De.say(&back), "Ein Stein");
        assert_eq!(Language::De.say(&Text::told("A stone", [])), "A stone");
    }
}
