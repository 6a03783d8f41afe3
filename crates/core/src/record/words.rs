//! The words of paper, in the language of the paper.

use crate::wording::{Arg, Language, Text};

/// The words of a language.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Words(Language);

impl Language {
    /// Its words on paper.
    pub const fn words(self) -> Words {
        Words(self)
    }
}

impl Words {
    /// A word of the paper.
    pub fn get(self, key: &str) -> String {
        self.fill(key, &[])
    }

    /// A sentence of the paper with its gaps filled.
    pub fn fill(self, key: &str, gaps: &[(&'static str, &str)]) -> String {
        let text = gaps.iter().fold(Text::of("paper", key), |text, (name, value)| {
            text.with(name, Arg::Words((*value).to_owned()))
        });
        self.0.say(&text)
    }

    /// What the rules have to say.
    pub fn say(self, text: &Text) -> String {
        self.0.say(text)
    }

    /// A figure as the language writes it: its decimal sign.
    pub fn figure(self, text: &str) -> String {
        self.0.figure(text).into_owned()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn figures_carry_the_decimal_sign_of_the_language() {
        assert_eq!(Language::De.words().figure("±0.5 kg"), "±0,5 kg");
        assert_eq!(Language::En.words().figure("±0.5 kg"), "±0.5 kg");
        assert_eq!(Language::De.words().fill("pad", &[("pad", "2")]), "Platte 2");
    }
}
