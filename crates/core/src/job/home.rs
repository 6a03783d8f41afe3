//! What was entered away from the server comes home: each entry is decided again, in the order in which it was
//! made, by what the job has become meanwhile. Nothing is lost: what cannot follow is given back with the reason.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::journal::{Author, Journal};
use crate::journal::{Needs, Sealed, UsedPiece, genesis, seal};
use crate::refusal::Refusal;
use crate::weights::{Piece, Usable};
use crate::wording::Text;

/// What came of entries that were brought.
#[derive(Clone, Debug, PartialEq)]
pub struct Brought {
    /// Those that follow, sealed behind the journal as it stands here; the very same where nobody entered anything
    /// meanwhile.
    pub taken: Vec<Sealed>,
    /// How many were here already.
    pub known: usize,
    /// Entries of others that stand between what the device knew and what it brought.
    pub between: usize,
    /// Those that cannot follow, from the first that was refused, and why.
    pub left: Option<(Vec<Sealed>, Refusal)>,
}

/// Whether these entries of a job are as they were sealed, one behind the other, the first of all behind the job's
/// identity.
///
/// # Errors
/// A [`Refusal`] that names the first that is not.
pub fn whole(job: Uuid, brought: &[Sealed]) -> Result<(), Refusal> {
    let broken = |sealed: &Sealed| Refusal::from(Refused::BrokenChain { seq: sealed.entry.seq });
    for (index, sealed) in brought.iter().enumerate() {
        let again = seal(sealed.entry.clone(), &sealed.prev).map_err(|_| broken(sealed))?;
        let before = index.checked_sub(1).map(|i| &brought[i]);
        let follows = match before {
            Some(before) => before.hash == sealed.prev && before.entry.seq + 1 == sealed.entry.seq,
            None => (sealed.entry.seq == 1) == (sealed.prev == genesis(job)),
        };
        if again.hash != sealed.hash || !follows {
            return Err(broken(sealed));
        }
    }
    Ok(())
}

/// Decides entries that one person made away. `may` says whether an entry may be that person's: by its role, and
/// whether its signature holds.
pub fn bring(
    journal: &Journal,
    brought: &[Sealed],
    by: Uuid,
    may: impl Fn(&Sealed, Needs) -> Result<(), Refusal>,
) -> Brought {
    let mut journal = journal.clone();
    let new: Vec<&Sealed> =
        brought.iter().filter(|b| !journal.entries().iter().any(|e| e.id == b.entry.id)).collect();
    let known = brought.len() - new.len();
    // Where the device stood when it went on alone; where nothing new comes nobody stands between.
    let between = new.first().map_or(0, |first| {
        let stood = first.entry.seq.saturating_sub(1);
        usize::try_from(journal.state().head.saturating_sub(stood)).unwrap_or(0)
    });
    let mut out = Brought { taken: Vec::new(), known, between, left: None };
    for (index, sealed) in new.iter().enumerate() {
        let entry = &sealed.entry;
        let own = if entry.by.id == by {
            may(sealed, entry.body.needs())
        } else {
            Err(Refusal::from(Refused::NotYours { name: entry.by.name.clone() }))
        };
        let author = Author { entry: entry.id, at: entry.at, by: entry.by.clone() };
        match own.and_then(|()| journal.admit(entry.body.clone(), author)) {
            Ok(again) => {
                journal.push(again.clone());
                out.taken.push(again);
            }
            Err(refusal) => {
                out.left = Some((new[index..].iter().map(|s| (*s).clone()).collect(), refusal));
                break;
            }
        }
    }
    out
}

/// What is to be known of a job that came home.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "note", rename_all = "snake_case")]
pub enum HomeNote {
    /// Others had entered something meanwhile; what was brought stands behind it.
    Between {
        /// How much.
        entries: usize,
        /// Who.
        by: Vec<String>,
    },
    /// A piece that was used may not be used any more.
    PieceOut {
        /// Its serial or mark.
        serial: String,
        /// Why.
        why: Text,
    },
    /// The sheet of the scale was changed at home.
    SheetChanged,
    /// The device's clock differs from the server's by so much.
    Clock {
        /// Seconds, above zero where the device is ahead.
        seconds: i64,
    },
    /// Somebody else works on the scale in another job.
    OtherJob {
        /// Which.
        job: Uuid,
        /// Who began it.
        by: String,
    },
    /// Entries that could not follow.
    Left {
        /// How many.
        entries: usize,
        /// Why.
        why: Text,
    },
}

impl HomeNote {
    /// In words.
    pub fn says(&self) -> Text {
        match self {
            Self::Between { entries, by } => text!("home-between", entries, by = by.join(", ")),
            Self::PieceOut { serial, why } => text!("home-piece-out", serial, why),
            Self::SheetChanged => text!("home-sheet-changed"),
            Self::Clock { seconds } => {
                let ahead = if *seconds > 0 { text!("home-ahead") } else { text!("home-behind") };
                text!("home-clock", minutes = (seconds.abs() + 30) / 60, ahead)
            }
            Self::OtherJob { by, .. } => text!("home-other-job", by),
            Self::Left { entries, why } => text!("home-left", entries, why),
        }
    }

    /// Whether somebody has to do something about it.
    pub const fn serious(&self) -> bool {
        matches!(self, Self::PieceOut { .. } | Self::OtherJob { .. } | Self::Left { .. })
    }
}

/// The pieces that entries rest on and that today's kit says may not be used, though they might have been on the
/// day: recalled, found damaged, or with a newer certificate that rules them out.
pub fn pieces_out(taken: &[Sealed], kit: &[Piece]) -> Vec<HomeNote> {
    let mut out: Vec<HomeNote> = Vec::new();
    for sealed in taken {
        let day = sealed.entry.at.date();
        for used in used_in(sealed).into_iter().filter(|used| used.unfit.is_none()) {
            let now = kit.iter().find(|piece| piece.id == used.id).map(|piece| piece.usable(day));
            let why = match now {
                Some(Usable::No { why }) => why,
                None => text!("home-piece-gone"),
                Some(Usable::Yes { .. }) => continue,
            };
            let note = HomeNote::PieceOut { serial: used.serial, why };
            if !out.contains(&note) {
                out.push(note);
            }
        }
    }
    out
}

/// The pieces that an entry names, whatever kind it is.
fn used_in(sealed: &Sealed) -> Vec<UsedPiece> {
    let body = serde_json::to_value(&sealed.entry.body).unwrap_or_default();
    body.get("with").and_then(|with| serde_json::from_value(with.clone()).ok()).unwrap_or_default()
}

crate::refusals! {
    enum Refused {
        BrokenChain { seq: u32 } = "broken_chain" at "entries": text!("home-broken-chain", seq);
        NotYours { name: String } = "not_yours": text!("home-not-yours", name);
    }
}
