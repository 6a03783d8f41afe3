//! What the author of a lesson wrote: in one language, or in several.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::wording::{Arg, Language, Text, ToArg};

/// Words of an author. In a file either a text, or an object with a text for each language
/// (`{"en": "…", "de": "…"}`).
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum LessonText {
    /// In the author's own language; it is read so by everybody.
    Once(String),
    /// In several; who reads another one gets the first.
    Each(BTreeMap<Language, String>),
}

impl LessonText {
    /// True where every language has at least a word and none more than `most` characters.
    pub fn fits(&self, most: usize) -> bool {
        let fits = |words: &String| !words.trim().is_empty() && words.chars().count() <= most;
        match self {
            Self::Once(words) => fits(words),
            Self::Each(all) => !all.is_empty() && all.values().all(fits),
        }
    }

    /// The languages that it is written in, where that is said.
    pub fn languages(&self) -> impl Iterator<Item = Language> {
        match self {
            Self::Once(_) => Vec::new(),
            Self::Each(all) => all.keys().copied().collect(),
        }
        .into_iter()
    }
}

impl From<&str> for LessonText {
    fn from(words: &str) -> Self {
        Self::Once(words.to_owned())
    }
}

impl From<&LessonText> for Text {
    fn from(told: &LessonText) -> Self {
        match told {
            LessonText::Once(words) => Self::verbatim(words.clone()),
            LessonText::Each(all) => {
                let first = all.values().next().map_or("", String::as_str);
                Self::told(first, all.iter().map(|(language, words)| (*language, words.as_str())))
            }
        }
    }
}

impl From<LessonText> for Text {
    fn from(told: LessonText) -> Self {
        (&told).into()
    }
}

impl ToArg for LessonText {
    fn to_arg(&self) -> Arg {
        Text::from(self).to_arg()
    }
}
