//! What each key does, mode by mode, and which event showed it.

use indexmap::{IndexMap, IndexSet};

/// What a key does in a list.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(super) enum InMenu {
    Forward,
    Back,
    Open,
    Leave,
    Jump,
}

/// What it does to a number.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(super) enum InNumber {
    Up,
    Down,
    Left,
    Right,
    Confirm,
}

/// What it does while an option is chosen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(super) enum InChoice {
    Forward,
    Back,
    Confirm,
}

/// What it answers to a question.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(super) enum InQuestion {
    Yes,
    No,
}

/// The keys of one mode.
#[derive(Clone, Debug)]
pub(super) struct Roles<R> {
    of: IndexMap<String, (R, usize)>,
    /// Pressed, and nothing was seen of it.
    idle: IndexSet<String>,
}

impl<R> Default for Roles<R> {
    fn default() -> Self {
        Self { of: IndexMap::new(), idle: IndexSet::new() }
    }
}

impl<R: Copy + PartialEq> Roles<R> {
    /// The first key that does this.
    pub fn key(&self, role: R) -> Option<&str> {
        self.of.iter().find(|(_, (r, _))| *r == role).map(|(key, _)| key.as_str())
    }

    pub fn role(&self, key: &str) -> Option<R> {
        self.of.get(key).map(|(role, _)| *role)
    }

    /// A key does this; where it did something else before, the event that showed that.
    pub fn bind(&mut self, key: &str, role: R, event: usize) -> Result<(), usize> {
        match self.of.get(key) {
            Some((was, _)) if *was == role => Ok(()),
            Some((_, event)) => Err(*event),
            None => {
                self.idle.shift_remove(key);
                self.of.insert(key.to_owned(), (role, event));
                Ok(())
            }
        }
    }

    /// What did the one does the other.
    pub fn swap(&mut self, one: R, other: R) {
        for (role, _) in self.of.values_mut() {
            if *role == one {
                *role = other;
            } else if *role == other {
                *role = one;
            }
        }
    }

    pub fn event(&self, key: &str) -> Option<usize> {
        self.of.get(key).map(|(_, event)| *event)
    }

    pub fn does_nothing(&mut self, key: &str) {
        if !self.of.contains_key(key) {
            self.idle.insert(key.to_owned());
        }
    }

    /// A key of which nothing is known here, the likely ones first.
    pub fn untried<'k>(&self, keys: &'k [String], likely: &[Option<&str>]) -> Option<&'k str> {
        let open = |key: &&String| !self.of.contains_key(*key) && !self.idle.contains(*key);
        likely
            .iter()
            .flatten()
            .find_map(|name| keys.iter().find(|key| key.as_str() == *name).filter(open))
            .or_else(|| keys.iter().find(open))
            .map(String::as_str)
    }
}

/// Something that is so or not, and which event showed it.
#[derive(Clone, Copy, Debug)]
pub(super) struct Fact<T>(Option<(T, usize)>);

impl<T> Default for Fact<T> {
    fn default() -> Self {
        Self(None)
    }
}

impl<T: Copy + PartialEq> Fact<T> {
    pub fn is(&self) -> Option<T> {
        self.0.map(|(value, _)| value)
    }

    /// It is so; where it was otherwise before, the event that showed that.
    pub fn set(&mut self, value: T, event: usize) -> Result<(), usize> {
        match self.0 {
            Some((was, earlier)) if was != value => Err(earlier),
            Some(_) => Ok(()),
            None => {
                self.0 = Some((value, event));
                Ok(())
            }
        }
    }
}
