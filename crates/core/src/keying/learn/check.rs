//! What can be said in a session, and what is refused at its place.

use super::super::profile::{Meaning, MessageMeaning, WIDEST};
use super::super::read::LONGEST_TEXT;
use super::session::{Answer, Event, ItemPath, MOST_EVENTS, Session};
use crate::quantity::Decimal;
use crate::refusal::Refusal;
use crate::wording::Text;

/// Longest name of an indicator, in characters.
const LONGEST_NAME: usize = 120;
/// Most keys of one.
const MOST_KEYS: usize = 60;
/// Longest print on a key, in characters.
const LONGEST_KEY: usize = 24;

/// A figure as it is typed; none: nothing, or no figure.
pub(super) fn typed(text: &str) -> Option<Decimal> {
    value(text).parse().ok()
}

/// What an option stands for, as it is typed.
pub(super) fn value(is: &str) -> String {
    is.trim().replace(',', ".")
}

fn refuse(field: &str, says: Text) -> Refusal {
    Refusal::from(Refused::BadSession { says }).at(field)
}

impl Session {
    /// Whether a session can be kept: its name, its keys, and what was said last.
    ///
    /// # Errors
    /// Everything that cannot be kept, each at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        let mut wrong = Vec::new();
        if self.name.trim().is_empty() || self.name.chars().count() > LONGEST_NAME {
            wrong.push(refuse("name", text!("learn-say-what-it-is-called", longest = LONGEST_NAME)));
        }
        let short = |key: &String| !key.trim().is_empty() && key.chars().count() <= LONGEST_KEY;
        if self.keys.is_empty() || self.keys.len() > MOST_KEYS || !self.keys.iter().all(short) {
            wrong.push(refuse("keys", text!("learn-name-its-keys", most = MOST_KEYS, longest = LONGEST_KEY)));
        }
        if self.events.len() > MOST_EVENTS {
            wrong.push(refuse("events", text!("learn-it-is-too-long", most = MOST_EVENTS)));
        }
        if let Some(Event::Told(answer)) = self.events.last() {
            self.check_answer(answer, &mut wrong);
        }
        Refusal::all(wrong).map_or(Ok(()), Err)
    }

    /// What an item means, as it was said last.
    fn meaning_of(&self, path: &ItemPath) -> Option<Meaning> {
        self.events.iter().rev().find_map(|event| match event {
            Event::Told(Answer::Item { item, meaning, .. }) if item == path => *meaning,
            _ => None,
        })
    }

    fn check_answer(&self, answer: &Answer, wrong: &mut Vec<Refusal>) {
        let mut figure = |field: &str, text: &String| {
            if !text.trim().is_empty() && typed(text).is_none() {
                wrong.push(refuse(field, text!("learn-is-no-figure", text = shortened(text))));
            }
        };
        let (item, options) = match answer {
            Answer::Units { least_span_percent, .. } => {
                return figure("least_span_percent", least_span_percent);
            }
            Answer::Field { item, digits, least, most, codes, .. } => {
                figure("least", least);
                figure("most", most);
                if !(1..=WIDEST).contains(digits) {
                    wrong.push(refuse("digits", text!("profile-a-field-has-1-to", widest = WIDEST)));
                }
                if let Some(code) =
                    codes.iter().find(|o| o.shows.is_empty() || !o.shows.bytes().all(|b| b.is_ascii_digit()))
                {
                    let shows = shortened(&code.shows);
                    wrong.push(refuse("codes", text!("profile-shows-cannot-be-typed-digits", shows)));
                }
                (item, codes)
            }
            Answer::Options { item, options } => (item, options),
            Answer::Message { message } => {
                let long =
                    |text: &str| text.chars().count() > LONGEST_TEXT || text.chars().any(char::is_control);
                if message.text.trim().is_empty() || long(&message.text) {
                    wrong.push(refuse("text", text!("learn-say-what-it-showed", longest = LONGEST_TEXT)));
                }
                let says = message.says.as_deref().unwrap_or_default();
                if long(says) || (message.meaning == MessageMeaning::Other && says.trim().is_empty()) {
                    wrong.push(refuse("says", text!("learn-say-what-it-means", longest = LONGEST_TEXT)));
                }
                if message.then.as_deref().is_some_and(long) {
                    wrong.push(refuse("then", text!("learn-say-what-it-means", longest = LONGEST_TEXT)));
                }
                return;
            }
            _ => return,
        };
        let Some(meaning) = self.meaning_of(item) else { return };
        for option in options.iter().filter(|o| !o.is.trim().is_empty() && !meaning.takes(&value(&o.is))) {
            let says =
                text!("profile-is-is-no-value-of", is = shortened(&option.is), meaning = meaning.label());
            wrong.push(refuse(&format!("option-{}", option.shows), says));
        }
    }
}

fn shortened(text: &str) -> String {
    text.chars().take(24).collect()
}

crate::refusals! {
    enum Refused {
        BadSession { says: Text } = "bad_session": says;
    }
}
