//! The words of paper, one file a language. A language is added by adding a file with the same keys.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A language that paper can be in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Language {
    /// English.
    #[default]
    En,
    /// German.
    De,
}

impl Language {
    /// Every one.
    pub const ALL: [Self; 2] = [Self::En, Self::De];

    /// Its tag. Source: BCP 47.
    pub const fn tag(self) -> &'static str {
        match self {
            Self::En => "en",
            Self::De => "de",
        }
    }

    /// Its words.
    pub fn words(self) -> &'static Words {
        static TABLES: LazyLock<[Words; 2]> =
            LazyLock::new(|| [read(include_str!("words/en.toml")), read(include_str!("words/de.toml"))]);
        match self {
            Self::En => &TABLES[0],
            Self::De => &TABLES[1],
        }
    }
}

#[expect(clippy::expect_used, reason = "the files are part of the program, and a test reads them")]
fn read(text: &str) -> Words {
    Words(toml::from_str(text).expect("a table of words"))
}

/// The words of a language.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Words(BTreeMap<String, String>);

impl Words {
    /// A word; its key where the language lacks it, which a test excludes.
    pub fn get(&self, key: &str) -> String {
        self.0.get(key).cloned().unwrap_or_else(|| key.to_owned())
    }

    /// A sentence with its gaps filled.
    pub fn fill(&self, key: &str, gaps: &[(&str, &str)]) -> String {
        gaps.iter().fold(self.get(key), |text, (name, value)| text.replace(&format!("{{{name}}}"), value))
    }

    /// A figure as the language writes it: its decimal sign.
    pub fn figure(&self, text: &str) -> String {
        let sign = self.get("decimal");
        if sign == "." { text.to_owned() } else { text.replace('.', &sign) }
    }

    /// Every key.
    pub fn keys(&self) -> impl Iterator<Item = &String> {
        self.0.keys()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_language_has_every_word_and_the_same_gaps() {
        let gaps = |text: &str| {
            let mut found: Vec<String> = text
                .split('{')
                .skip(1)
                .filter_map(|rest| rest.split_once('}').map(|(gap, _)| gap.to_owned()))
                .collect();
            found.sort();
            found
        };
        let english = Language::En.words();
        for language in Language::ALL {
            let words = language.words();
            assert!(words.keys().eq(english.keys()), "{language:?}");
            for key in words.keys() {
                assert_eq!(gaps(&words.get(key)), gaps(&english.get(key)), "{language:?} {key}");
            }
        }
    }

    #[test]
    fn figures_carry_the_decimal_sign_of_the_language() {
        assert_eq!(Language::De.words().figure("±0.5 kg"), "±0,5 kg");
        assert_eq!(Language::En.words().figure("±0.5 kg"), "±0.5 kg");
        assert_eq!(Language::De.words().fill("pad", &[("pad", "2")]), "Platte 2");
    }
}
