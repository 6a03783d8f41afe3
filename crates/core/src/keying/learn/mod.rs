//! Learning an indicator by showing it: from keys that were pressed and what the display showed then, the machine
//! behind it, one question at a time.
//!
//! A session is a list of events. It is read from its beginning each time, so that a step can be undone or corrected
//! anywhere; what contradicts something seen before is pointed at and nothing behind it is read.

mod check;
mod choices;
mod draft;
mod expected;
mod known;
mod lists;
mod misfit;
mod next;
mod numbers;
mod options;
mod read;
mod roles;
mod session;
mod whole;

use serde::Serialize;
use utoipa::ToSchema;

pub use draft::{Draft, Gap};
pub use session::{
    Answer, Contradiction, Event, Expected, FieldView, ItemPath, Lies, MOST_EVENTS, Progress, Question,
    Screen, Seen, Session,
};

use super::profile::MenuStyle;

/// What was learnt from a session.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Learnt {
    /// What sort of menu, as far as known.
    #[schema(required)]
    pub style: Option<MenuStyle>,
    /// What is asked next.
    pub next: Question,
    /// What does not fit.
    #[schema(required)]
    pub contradiction: Option<Contradiction>,
    /// How far it is.
    pub progress: Progress,
    /// What stands on the display now, as far as known.
    #[schema(required)]
    pub stands: Option<Expected>,
    /// What is not known, and what it costs.
    pub gaps: Vec<Gap>,
}

/// Reads a session from its beginning.
pub fn learn(session: &Session) -> Learnt {
    learnt(known::Known::of(session), session)
}

/// The same with the profile that it comes to, as far as it is known; none: too little is known for one.
pub fn learn_whole(session: &Session) -> (Learnt, Option<Draft>) {
    let known = known::Known::of(session);
    let draft = known.draft(session);
    (learnt(known, session), draft)
}

fn learnt(known: known::Known, session: &Session) -> Learnt {
    Learnt {
        style: known.style(),
        next: if known.contradiction.is_some() { Question::Nothing } else { known.next(session) },
        progress: known.progress(),
        stands: stands(session),
        gaps: known.gaps(),
        contradiction: known.contradiction,
    }
}

/// The display as it was seen last; an item lies in the list that it stands in.
fn stands(session: &Session) -> Option<Expected> {
    let last = session.events.iter().rev().find_map(|event| match event {
        Event::Seen(seen) => Some(seen),
        Event::Told(_) => None,
    })?;
    let screen = match &last.screen {
        Screen::Item { .. } => Screen::Item { lies: Lies::Same },
        other => other.clone(),
    };
    Some(Expected {
        display: last.display.clone(),
        screen,
        blinks: last.blinks,
        buttons: last.buttons.clone(),
    })
}
