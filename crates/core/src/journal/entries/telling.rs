//! What several kinds tell in the same words.

use crate::journal::state::JobState;
use crate::journal::used_piece::UsedPiece;
use crate::journal::values::{Direction, ReadStage};
use crate::quantity::{Decimal, Mass};
use crate::scale::checklist;
use crate::wording::{Arg, Text, figure};

/// A figure stands as the display shows it, with the decimals of the setup.
pub fn on_display(state: &JobState, stage: ReadStage, pad: u8, mass: &Mass) -> Arg {
    let setup = match stage {
        ReadStage::AsFound => state.setup_as_found_of(pad).0,
        ReadStage::Test => state.setup_of(pad).0,
    };
    figure(setup.text(mass))
}

/// An item of the checklist by its name.
pub fn label(state: &JobState, item: &str) -> Text {
    checklist(state.sheet.kind)
        .find(|known| known.id == item)
        .map_or_else(|| Text::verbatim(item.to_owned()), |known| known.label())
}

pub fn stage(stage: ReadStage) -> Text {
    match stage {
        ReadStage::AsFound => text!("sentences-as-found"),
        ReadStage::Test => text!("sentences-proof"),
    }
}

pub fn coming_down(direction: Direction) -> Text {
    if direction == Direction::Up { Text::default() } else { text!("sentences-coming-down") }
}

/// The pieces of a load, each by its mark.
pub fn made_of(with: &[UsedPiece]) -> Text {
    if with.is_empty() {
        Text::default()
    } else {
        text!("sentences-note", n = with.iter().map(|p| p.serial.as_str()).collect::<Vec<_>>())
    }
}

/// Pads beyond the first are named; the first or only one goes without saying.
pub fn at_pad(pad: u8) -> Text {
    if pad <= 1 { Text::default() } else { text!("sentences-at-pad-pad", pad) }
}

pub fn counts(counts: Option<&Decimal>) -> Text {
    counts.map_or_else(Text::default, |c| text!("sentences-at-c-counts", c))
}
