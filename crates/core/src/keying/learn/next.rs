//! What is asked next: the thing that tells most, fewest presses first.

use super::super::machine::Act;
use super::super::profile::{Meaning, OptionValue, Save, SaveHow, WayIn};
use super::known::{At, Field, Item, Known, What};
use super::roles::{InChoice, InMenu, InNumber, InQuestion};
use super::session::{FieldView, Question, Session};
use super::whole::at_end;
use crate::wording::Text;

fn key(name: &str) -> Act {
    Act::Key { key: name.to_owned() }
}

/// From a number up to this it is tried whether turning it goes round.
const TRIED_TURNS: u64 = 3;

/// Widest field in which it is tried whether the blinking goes round.
const TRIED_WIDTH: usize = 8;

impl Known {
    /// What is asked next.
    pub fn next(&self, session: &Session) -> Question {
        if self.levels.is_empty() {
            return Question::WayIn { acts: Vec::new() };
        }
        let done = self.level_seen(0, 2);
        let in_menu = matches!(self.place(), At::Menu { .. } | At::Question { .. } | At::Out);
        if in_menu && let Some(question) = self.about_items() {
            return question;
        }
        match self.place() {
            At::Out if done => self.last_questions(),
            At::Out | At::Code(_) => Question::WayIn { acts: self.entered.clone() },
            At::Menu { level, item } if done => match self.leaving(session, *level, *item) {
                Some(question) => question,
                None => self.last_questions(),
            },
            At::Menu { level, item } if self.levels[*level].buttons => self.on_screen(session, *level, *item),
            At::Menu { level, item } => self.in_list(session, *level, *item),
            At::Number { level, item, field } => self.at_number(session, *level, *item, field),
            At::Option { level, item } => self.at_option(session, *level, *item),
            At::Question { level, item } => self.at_question(session, *level, *item),
            At::Jump => self.press_or_restart(
                self.number.key(InNumber::Confirm),
                self.number.untried(&session.keys, &[self.menu.key(InMenu::Open)]),
                text!("learn-why-out-of-the-code"),
            ),
            At::Lost { .. } => {
                self.press_or_restart(self.menu.key(InMenu::Forward), None, text!("learn-why-where-it-is"))
            }
        }
    }

    /// How often everything is to be seen now.
    fn wanted(&self) -> usize {
        if self.level_seen(0, 1) { 2 } else { 1 }
    }

    fn press(&self, name: &str, why: Text) -> Question {
        Question::Press { act: key(name), why, would_show: self.expected(name) }
    }

    /// A key that is known, else one that is tried, else from the beginning.
    fn press_or_restart(&self, known: Option<&str>, tried: Option<&str>, why: Text) -> Question {
        match (known, tried) {
            (Some(name), _) => self.press(name, why),
            (None, Some(name)) => self.press(name, text!("learn-why-what-it-does")),
            (None, None) => Question::Press {
                act: Act::PowerOff,
                why: text!("learn-why-from-the-beginning"),
                would_show: Vec::new(),
            },
        }
    }

    /// The item that it stands at, and items whose values were seen.
    fn about_items(&self) -> Option<Question> {
        for (level, item) in self.leaves() {
            let it = &self.levels[level].items[item];
            let Some(meaning) = it.meaning().filter(|_| it.visits > 0) else { continue };
            let skipped = meaning == Meaning::Other && it.meant.as_ref().is_none_or(|m| m.answer.is_none());
            if skipped || meaning.is_capture() {
                continue;
            }
            match &it.what {
                What::Options(options) if it.options_mean.is_none() && meaning != Meaning::Other => {
                    let options = options.shows.iter().map(|(shows, _)| guessed(meaning, shows)).collect();
                    return Some(Question::Options { item: self.path(level, item), meaning, options });
                }
                What::Number(width) if it.field.is_none() => {
                    let digits = u8::try_from(*width).unwrap_or(u8::MAX);
                    return Some(Question::Field { item: self.path(level, item), meaning, digits });
                }
                _ => {}
            }
            if it.field.as_ref().is_some_and(|f| f.with_point) && self.point.is_none() {
                return Some(Question::Point);
            }
        }
        if let Some((level, item)) =
            self.leaves().into_iter().find(|(l, i)| self.levels[*l].items[*i].ask_again)
        {
            return self.meaning_of(level, item);
        }
        let (At::Menu { level, item } | At::Question { level, item }) = self.place() else { return None };
        self.meaning_of(*level, *item)
    }

    fn meaning_of(&self, level: usize, item: usize) -> Option<Question> {
        let it = self.levels[level].items.get(item)?;
        if it.meant.is_some() || matches!(it.what, What::List(_)) {
            return None;
        }
        let guess = guess(&it.label);
        let point = self.points(guess);
        Some(Question::Item { item: self.path(level, item), guess, point })
    }

    /// The span point that the next item of a meaning would be for.
    fn points(&self, meaning: Option<Meaning>) -> u8 {
        let same = |(l, i): &(usize, usize)| self.levels[*l].items[*i].meaning() == meaning;
        match meaning {
            Some(meaning) if meaning.has_points() => {
                u8::try_from(self.leaves().iter().filter(|at| same(at)).count() + 1).unwrap_or(1)
            }
            _ => 1,
        }
    }

    /// What no key tells.
    fn last_questions(&self) -> Question {
        if self.switch.is_none() && self.way_in.iter().any(|w| matches!(w, WayIn::Switch { .. })) {
            return Question::Switch;
        }
        if self.starts.is().is_none() && self.is_turned() {
            return Question::Starts;
        }
        if self.units.is_none() {
            return Question::Units;
        }
        let leaves = self.leaves();
        let means =
            |meaning| leaves.iter().any(|(l, i)| self.levels[*l].items[*i].meaning() == Some(meaning));
        let named = || -> Vec<_> {
            let known = |(l, i): &&(usize, usize)| self.levels[*l].items[*i].meaning().is_some();
            leaves.iter().filter(known).map(|(l, i)| self.path(*l, *i)).collect()
        };
        if self.per_pad.is_none() && means(Meaning::Pads) {
            return Question::PerPad { items: named() };
        }
        if self.save.is_none() {
            let how = match () {
                () if means(Meaning::Save) => SaveHow::Parameter,
                () if self.way_in.iter().any(|w| matches!(w, WayIn::Switch { .. })) => SaveHow::SwitchBack,
                () => SaveHow::Leaving,
            };
            let guess = Save { how, button: None, under_seal: false, before_unloading: false };
            return Question::Saving { guess };
        }
        if self.codes.is_none() && self.menu.key(InMenu::Jump).is_some() {
            return Question::Codes { items: named() };
        }
        for (level, item) in leaves {
            let it = &self.levels[level].items[item];
            let Some(meaning) = it.meaning().filter(|_| !it.right) else { continue };
            let options = match (&it.options_mean, &it.field) {
                (Some(options), _) => options.clone(),
                (None, Some(field)) => field.codes.clone(),
                _ => Vec::new(),
            };
            let field = it.field.as_ref().map(|f| FieldView {
                digits: f.digits,
                decimals: f.decimals,
                with_point: f.with_point,
                least: f.least.clone(),
                most: f.most.clone(),
            });
            let point = it.meant.as_ref().map_or(1, |m| m.point);
            return Question::Right { item: self.path(level, item), meaning, point, options, field };
        }
        if let (false, Some(save), Some((only_unit, weights_in, _))) =
            (self.whole_right, &self.save, &self.units)
        {
            return Question::Whole {
                only_unit: *only_unit,
                weights_in: *weights_in,
                save: save.clone(),
                per_pad: self.per_pad.clone().unwrap_or_default(),
            };
        }
        Question::Nothing
    }

    /// The way out of a list is seen once.
    fn leaving(&self, session: &Session, level: usize, item: usize) -> Option<Question> {
        if self.menu.key(InMenu::Leave).is_some() {
            return None;
        }
        let others = self.keys_to_try(session, level, item);
        let tried = self.menu.untried(&others, &[])?;
        Some(self.press(tried, text!("learn-why-out-of-it")))
    }

    /// Keys but those of which nothing was seen at this item.
    fn keys_to_try(&self, session: &Session, level: usize, item: usize) -> Vec<String> {
        let idle =
            |name: &&String| self.idle_here.iter().any(|(l, i, k)| (*l, *i) == (level, item) && k == *name);
        session.keys.iter().filter(|name| !idle(name)).cloned().collect()
    }

    fn opens(&self, level: usize, item: usize, wanted: usize) -> bool {
        let it = &self.levels[level].items[item];
        !it.stays_closed() && (!self.seen(level, item, wanted) || self.tells_start(it))
    }

    /// Opened once more it would show whether a field begins with the value that it holds.
    fn tells_start(&self, it: &Item) -> bool {
        self.is_turned()
            && self.starts.is().is_none()
            && it.holds.as_ref().is_some_and(|(value, _)| value.chars().any(|c| c != '0'))
            && matches!(it.what, What::Number(_))
    }

    fn in_list(&self, session: &Session, level: usize, item: usize) -> Question {
        let (menu, wanted) = (&self.menu, self.wanted());
        let list = &self.levels[level];
        let forward = menu.key(InMenu::Forward);
        let open = menu.key(InMenu::Open);
        let others = self.keys_to_try(session, level, item);
        let untried = menu.untried(&others, &[]);
        // A key that did nothing at an end may lead back from here.
        if wanted > 1
            && item > 0
            && item + 1 < list.items.len()
            && menu.key(InMenu::Back).is_none()
            && !list.items[item].stays_closed()
            && let Some(idle) = untried
        {
            return self.press(idle, text!("learn-why-what-it-does"));
        }
        if self.opens(level, item, wanted) && !(open.is_none() && untried.is_none()) {
            return self.press_or_restart(open, untried, text!("learn-why-open-it"));
        }
        let count = list.items.len();
        if !list.closed {
            return self.press_or_restart(forward, untried, text!("learn-why-what-comes-next"));
        }
        let ahead = |to: usize, back: bool| -> Option<usize> {
            let round = self.round.is() == Some(true);
            match (back, to) {
                (false, to) if to > item => Some(to - item),
                (true, to) if to < item => Some(item - to),
                (false, to) => round.then(|| to + count - item),
                (true, to) => round.then(|| item + count - to),
            }
        };
        let unseen = |at: &usize| {
            *at != item && (!self.seen(level, *at, wanted) || self.tells_start(&list.items[*at]))
        };
        let nearest = |back| (0..count).filter(unseen).filter_map(|to| ahead(to, back)).min();
        if (0..count).any(|at| unseen(&at)) {
            let back_key = menu.key(InMenu::Back);
            let (on, back) = (nearest(false), nearest(true).filter(|_| back_key.is_some()));
            let why = text!("learn-why-on-to-the-next");
            return match (on, back) {
                (Some(on), Some(back)) if back < on => self.press_or_restart(back_key, None, why),
                (None, Some(_)) => self.press_or_restart(back_key, None, why),
                (Some(_), _) => self.press_or_restart(forward, untried, why),
                (None, None) => match untried {
                    Some(name) => self.press(name, text!("learn-why-what-it-does")),
                    None => self.press_or_restart(menu.key(InMenu::Leave), None, why),
                },
            };
        }
        self.press_or_restart(menu.key(InMenu::Leave), untried, text!("learn-why-out-of-it"))
    }

    fn on_screen(&self, session: &Session, level: usize, _: usize) -> Question {
        let wanted = self.wanted();
        let items = &self.levels[level].items;
        for (item, it) in items.iter().enumerate() {
            if let Some(question) = self.meaning_of(level, item) {
                return question;
            }
            if self.opens(level, item, wanted) {
                return self.press(&it.label, text!("learn-why-open-it"));
            }
        }
        let untried = self.menu.untried(&session.keys, &[]);
        self.press_or_restart(self.menu.key(InMenu::Leave), untried, text!("learn-why-out-of-it"))
    }

    fn at_number(&self, session: &Session, level: usize, item: usize, field: &Field) -> Question {
        let number = &self.number;
        let confirm = number.key(InNumber::Confirm);
        let likely = self.menu.key(InMenu::Open).or_else(|| self.question.key(InQuestion::Yes));
        if field.refused {
            return self.press_or_restart(None, None, Text::default());
        }
        let once = self.seen(level, item, 1);
        if field.blinks.is_none()
            && !once
            && !session.keypad
            && let Some(question) = self.at_whole(session, level, field)
        {
            return question;
        }
        let (Some(at), false) = (field.blinks, once) else {
            let all: Vec<String> =
                session.keys.iter().filter(|key| !self.told_nothing(field, key)).cloned().collect();
            let others = number.untried(&all, &[likely]);
            return self.press_or_restart(confirm, others, text!("learn-why-take-it"));
        };
        let others: Vec<String> =
            session.keys.iter().filter(|k| Some(k.as_str()) != likely).cloned().collect();
        let first = [self.menu.key(InMenu::Forward), self.menu.key(InMenu::Back)];
        let others: Vec<String> = others.into_iter().filter(|key| !self.told_nothing(field, key)).collect();
        if let Some(name) = number.untried(&others, &first) {
            return self.press(name, text!("learn-why-what-it-does"));
        }
        let width = field.digits.chars().count();
        let (left, right) = (number.key(InNumber::Left), number.key(InNumber::Right));
        let inside = at > 0 && at + 1 < width;
        if inside
            && left.is_some() != right.is_some()
            && let Some(idle) = self.idle_at_end.iter().find(|idle| number.role(idle).is_none())
        {
            return self.press(idle, text!("learn-why-what-it-does"));
        }
        if self.number_round.is().is_none() && (3..=TRIED_WIDTH).contains(&width) {
            let mover = match (left, right) {
                (Some(left), Some(right)) => Some(if at * 2 < width { left } else { right }),
                (one, other) => one.or(other),
            };
            if let Some(mover) = mover {
                return self.press(mover, text!("learn-why-does-it-go-round"));
            }
        }
        // A figure that is no zero tells, when it is opened again, whether fields begin with their value.
        if self.starts.is().is_none()
            && !self.levels[level].questions
            && field.digits.chars().all(|c| c == '0')
            && let Some(up) = number.key(InNumber::Up)
        {
            return self.press(up, text!("learn-why-does-it-begin-with-its-value"));
        }
        let all: Vec<String> =
            session.keys.iter().filter(|key| !self.told_nothing(field, key)).cloned().collect();
        let others = number.untried(&all, &[likely]);
        self.press_or_restart(confirm, others, text!("learn-why-take-it"))
    }

    /// What is asked at a number that does not blink and is not typed, before it is taken.
    fn at_whole(&self, session: &Session, level: usize, field: &Field) -> Option<Question> {
        let number = &self.number;
        let likely = self.menu.key(InMenu::Open).or_else(|| self.question.key(InQuestion::Yes));
        let others =
            session.keys.iter().filter(|k| Some(k.as_str()) != likely && !self.told_nothing(field, k));
        let others: Vec<String> = others.cloned().collect();
        let first = [self.menu.key(InMenu::Forward), self.menu.key(InMenu::Back)];
        if let Some(name) = number.untried(&others, &first) {
            return Some(self.press(name, text!("learn-why-what-it-does")));
        }
        let up = number.key(InNumber::Up)?;
        let zero = field.digits.bytes().all(|b| b == b'0');
        // Away from zero a key that did nothing there may turn it down.
        if zero && number.key(InNumber::Down).is_none() && !self.idle_at_end.is_empty() {
            return Some(self.press(up, text!("learn-why-what-it-does")));
        }
        // From zero downwards shows whether it goes round; from far away nobody turns it there.
        let near = field.digits.parse::<u64>().is_ok_and(|n| n <= TRIED_TURNS);
        if self.number_round.is().is_none()
            && near
            && let Some(down) = number.key(InNumber::Down)
        {
            return Some(self.press(down, text!("learn-why-does-it-go-round")));
        }
        // Back from the far end, whose number is hardly one that the field takes.
        if !zero && at_end(&field.digits) && self.number_round.is() == Some(true) {
            return Some(self.press(up, text!("learn-why-back-to-zero")));
        }
        (self.starts.is().is_none() && !self.levels[level].questions && zero)
            .then(|| self.press(up, text!("learn-why-does-it-begin-with-its-value")))
    }

    /// A key that tells nothing in a field as narrow as this.
    fn told_nothing(&self, field: &Field, key: &String) -> bool {
        let narrow = field.digits.chars().count() < 3;
        let whole = field.blinks.is_none() && at_end(&field.digits);
        (whole && self.idle_at_end.contains(key))
            || narrow && (self.idle_narrow.contains(key) || self.movers.contains(key))
    }

    fn at_option(&self, session: &Session, level: usize, item: usize) -> Question {
        let What::Options(options) = &self.levels[level].items[item].what else {
            return self.press_or_restart(None, None, Text::default());
        };
        if self.levels[level].buttons {
            let out = self.menu.key(InMenu::Leave);
            let first = options.shows.first().map(|(text, _)| text.as_str());
            return self.press_or_restart(out.or(first), None, text!("learn-why-take-it"));
        }
        let choice = &self.choice;
        let likely = self.menu.key(InMenu::Open);
        let others: Vec<String> =
            session.keys.iter().filter(|k| Some(k.as_str()) != likely).cloned().collect();
        let first = [self.menu.key(InMenu::Forward), self.menu.key(InMenu::Back)];
        let untried = choice.untried(&others, &first);
        let (forward, back) = (choice.key(InChoice::Forward), choice.key(InChoice::Back));
        let why = text!("learn-why-all-of-them");
        if !options.walked() {
            let round = self.choice_round.is() == Some(true);
            if forward.is_none() && untried.is_some() {
                return self.press_or_restart(None, untried, why);
            }
            // Whether anything lies before it is seen by one press, before all is walked through.
            if !round && options.at == 0 && options.unseen(false) && back.is_some() {
                return self.press_or_restart(back, None, why);
            }
            if forward.is_some() && (options.unseen(true) || (round && !options.walked())) {
                return self.press_or_restart(forward, None, why);
            }
            if options.unseen(false) && !(back.is_none() && untried.is_none()) {
                return self.press_or_restart(back, untried, why);
            }
            // A key that did nothing at the first option may lead back from here.
            if back.is_none()
                && !round
                && options.at > 0
                && let Some(idle) = self.idle_at_first_option.iter().find(|idle| choice.role(idle).is_none())
            {
                return self.press(idle, text!("learn-why-what-it-does"));
            }
        }
        let rest = choice.untried(&session.keys, &[likely]);
        self.press_or_restart(choice.key(InChoice::Confirm), rest, text!("learn-why-take-it"))
    }

    fn at_question(&self, session: &Session, level: usize, item: usize) -> Question {
        let wanted = self.wanted();
        let it = &self.levels[level].items[item];
        let question = &self.question;
        let (yes, no) = (question.key(InQuestion::Yes), question.key(InQuestion::No));
        let untried = question.untried(&session.keys, &[]);
        let wants = match &it.what {
            What::Options(options) => {
                self.seen(level, item, wanted) || options.walked() || (no.is_none() && untried.is_none())
            }
            _ => self.opens(level, item, wanted),
        };
        let why = if wants { text!("learn-why-take-it") } else { text!("learn-why-pass-it-over") };
        self.press_or_restart(if wants { yes } else { no }, untried, why)
    }
}

/// An option with a guess of what it stands for.
fn guessed(meaning: Meaning, shows: &str) -> OptionValue {
    let is = Some(shows.trim()).filter(|text| meaning.takes(text)).unwrap_or_default().to_owned();
    OptionValue { is, shows: shows.to_owned() }
}

/// What a name most likely means, by a word of the trade in it.
fn guess(label: &str) -> Option<Meaning> {
    const WORDS: [(&str, Meaning); 14] = [
        ("unit", Meaning::Unit),
        ("dec", Meaning::Decimals),
        ("div", Meaning::Division),
        ("max", Meaning::Max),
        ("cap", Meaning::Max),
        ("zero", Meaning::Zero),
        ("wt", Meaning::SpanWeight),
        ("weight", Meaning::SpanWeight),
        ("span", Meaning::Span),
        ("save", Meaning::Save),
        ("grav", Meaning::Gravity),
        ("filt", Meaning::Filter),
        ("pads", Meaning::Pads),
        ("pad", Meaning::Pad),
    ];
    let label = label.to_lowercase();
    WORDS.iter().find(|(word, _)| label.contains(word)).map(|(_, meaning)| *meaning)
}
