//! The catalogue, one bundle a language. Source of the format: Project Fluent, syntax 1.0.

use std::borrow::Cow;
use std::fmt;
use std::sync::LazyLock;

use fluent_bundle::concurrent::FluentBundle;
use fluent_bundle::types::{FluentNumber, FluentNumberOptions};
use fluent_bundle::{FluentArgs, FluentResource, FluentValue};
use serde_json::Value;

use super::language::Language;
use super::text::{Arg, Between, OwnWords, Text};

type Bundle = FluentBundle<FluentResource>;

macro_rules! catalogue {
    ($language:literal) => {
        [
            include_str!(concat!("../../../../words/", $language, "/core.ftl")),
            include_str!(concat!("../../../../words/", $language, "/paper.ftl")),
            include_str!(concat!("../../../../words/", $language, "/server.ftl")),
        ]
    };
}

static BUNDLES: LazyLock<[Bundle; 2]> =
    LazyLock::new(|| [bundle(Language::En, &catalogue!("en")), bundle(Language::De, &catalogue!("de"))]);

#[expect(clippy::expect_used, reason = "the files are part of the program, and a test reads them")]
fn bundle(language: Language, files: &[&str]) -> Bundle {
    let locale = language.tag().parse().expect("a language tag");
    let mut bundle = Bundle::new_concurrent(vec![locale]);
    // Marks around each argument would stand in files and on paper.
    bundle.set_use_isolating(false);
    for file in files {
        let resource = FluentResource::try_new((*file).to_owned()).map_err(|(_, errors)| errors);
        bundle.add_resource(resource.expect("a readable file of words")).expect("no message twice");
    }
    bundle
}

impl Language {
    fn bundle(self) -> &'static Bundle {
        match self {
            Self::En => &BUNDLES[0],
            Self::De => &BUNDLES[1],
        }
    }

    /// A message in this language; its key where the catalogue lacks it, which a test excludes.
    pub fn say(self, text: &Text) -> String {
        if let Some(words) = text.own_words(self) {
            return match words {
                OwnWords::Words(words) => words.to_owned(),
                OwnWords::Parts(parts) => self.shown(parts),
            };
        }
        let Some(pattern) = self.bundle().get_message(text.key()).and_then(|message| message.value()) else {
            return text.key().to_owned();
        };
        let mut args = FluentArgs::new();
        for (name, value) in text.args() {
            args.set(name.to_owned(), self.value(value));
        }
        let mut errors = Vec::new();
        self.bundle().format_pattern(pattern, Some(&args), &mut errors).into_owned()
    }

    /// A document with every message in it said in this language: for whoever reads an answer without the
    /// catalogue.
    pub fn read_out(self, document: Value) -> Value {
        match document {
            Value::Object(map) if map.get("say").is_some_and(Value::is_string) => {
                match serde_json::from_value::<Text>(Value::Object(map.clone())) {
                    Ok(text) => self.say(&text).into(),
                    Err(_) => Value::Object(map),
                }
            }
            Value::Object(map) => map.into_iter().map(|(name, part)| (name, self.read_out(part))).collect(),
            Value::Array(parts) => parts.into_iter().map(|part| self.read_out(part)).collect(),
            plain => plain,
        }
    }

    /// True where the catalogue has the message.
    pub fn knows(self, key: &str) -> bool {
        self.bundle().has_message(key)
    }

    /// A figure as the language writes it: its decimal sign.
    pub fn figure(self, text: &str) -> Cow<'_, str> {
        match self {
            Self::En => Cow::Borrowed(text),
            Self::De => Cow::Owned(text.replace('.', ",")),
        }
    }

    fn value(self, arg: &Arg) -> FluentValue<'static> {
        match arg {
            #[expect(
                clippy::cast_precision_loss,
                reason = "a plural hangs on small counts; the text is exact"
            )]
            Arg::Count(n) if n.unsigned_abs() < 1 << 52 => FluentValue::Number(FluentNumber::new(
                *n as f64,
                FluentNumberOptions { use_grouping: false, ..FluentNumberOptions::default() },
            )),
            other => FluentValue::String(Cow::Owned(self.shown(other))),
        }
    }

    /// An argument as a person reads it.
    fn shown(self, arg: &Arg) -> String {
        match arg {
            Arg::Count(n) => n.to_string(),
            Arg::Number(figure) => self.figure(figure).into_owned(),
            Arg::Mass(value, unit) => format!("{} {unit}", self.figure(value)),
            Arg::Day(day) => match self {
                Self::En => day.to_string(),
                Self::De => format!("{:02}.{:02}.{}", day.day(), u8::from(day.month()), day.year()),
            },
            Arg::Words(words) => words.clone(),
            Arg::Message(text) => self.say(text),
            Arg::First(text) => {
                let said = self.say(text);
                let mut letters = said.chars();
                letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
            }
            Arg::Inside(text) if self == Self::En => self.say(text).to_lowercase(),
            Arg::Inside(text) => self.say(text),
            Arg::List(items, between) => {
                let between = match (between, self) {
                    (Between::Nothing, _) => "",
                    (Between::Space, _) => " ",
                    (Between::Comma, _) => ", ",
                    (Between::Semicolon, _) => "; ",
                    (Between::And, Self::En) => " and ",
                    (Between::And, Self::De) => " und ",
                };
                items.iter().map(|item| self.shown(item)).collect::<Vec<_>>().join(between)
            }
        }
    }
}

/// In English: for logs, tests and the developer.
impl fmt::Display for Text {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&Language::En.say(self))
    }
}

/// What it says in English: for tests.
impl PartialEq<str> for Text {
    fn eq(&self, english: &str) -> bool {
        Language::En.say(self) == english
    }
}

/// What it says in English: for tests.
impl PartialEq<&str> for Text {
    fn eq(&self, english: &&str) -> bool {
        Language::En.say(self) == **english
    }
}
