//! The counts of each cell with the platform empty: a cell that is far from the others is dead, inverted
//! or not wired. Source: practice; a platform spreads its dead load over its cells.

use super::state::JobState;
use crate::quantity::Decimal;
use crate::refusal::Refusal;
use crate::wording::Text;

/// A cell is out of the common run where its count differs from the middle of the others by more than half of
/// it (5 · 10⁻¹): a dead load is never spread quite evenly.
const FAR: (i64, i64) = (5, 1);

/// Counts as they are typed, with spaces, commas or semicolons between.
///
/// # Errors
/// A [`Refusal`] at `cells`.
pub(crate) fn typed(text: &str, state: &JobState) -> Result<Vec<Decimal>, Refusal> {
    let words: Vec<&str> =
        text.split(|c: char| c.is_whitespace() || c == ';' || c == ',').filter(|w| !w.is_empty()).collect();
    if words.is_empty() {
        return Ok(Vec::new());
    }
    let refused = |says: Text| Refusal::from(Refused::NotCounts { says });
    let known = state.sheet.build.cells.as_ref().map(|c| c.count);
    if let Some(count) = known.filter(|count| usize::try_from(*count).is_ok_and(|count| count != words.len()))
    {
        return Err(refused(text!("cells-words-counts-for-count-cells", words = words.len(), count)));
    }
    if !(2..=16).contains(&words.len()) {
        return Err(refused(text!("cells-counts-of-2-to-16", words = words.len())));
    }
    let limit = Decimal::from(1_000_000_000_000u64);
    let count = |word: &&str| {
        let read = word.replace('\u{2212}', "-").parse::<Decimal>().ok();
        read.filter(|c| c.is_whole() && c.abs() < limit).ok_or_else(|| {
            refused(text!("cells-string-is-no-count", string = word.chars().take(20).collect::<String>()))
        })
    };
    words.iter().map(count).collect()
}

/// The middle of the others.
fn others(cells: &[Decimal], at: usize) -> Decimal {
    let mut rest: Vec<&Decimal> =
        cells.iter().enumerate().filter(|(i, _)| *i != at).map(|(_, c)| c).collect();
    rest.sort();
    let half = rest.len() / 2;
    if rest.len() % 2 == 1 {
        rest[half].clone()
    } else {
        &(rest[half - 1] + rest[half]) * &Decimal::new(5, 1)
    }
}

/// The cell that is farthest from the others, from 1, where one is far from them.
fn odd(cells: &[Decimal]) -> Option<(usize, Decimal)> {
    let far = |at: usize| {
        let middle = others(cells, at);
        let off = (&cells[at] - &middle).abs();
        (off > &middle.abs() * &Decimal::new(FAR.0, FAR.1)).then_some((at + 1, off))
    };
    if cells.len() < 3 {
        // Two cells alone do not tell which of them is wrong.
        return None;
    }
    (0..cells.len()).filter_map(far).max_by(|a, b| a.1.cmp(&b.1))
}

/// In a sentence; none where no counts were given.
pub(crate) fn says(cells: &[Decimal]) -> Option<Text> {
    if cells.is_empty() {
        return None;
    }
    let listed = cells.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ");
    Some(match odd(cells) {
        Some((cell, _)) => text!(
            "cells-counts-of-the-cells-listed",
            listed,
            cell,
            round_to = others(cells, cell - 1).round_to(0)
        ),
        None => text!("cells-counts-of-the-cells-listed-2", listed),
    })
}

/// Cells that disagree are not in order without a word.
///
/// # Errors
/// `cells_disagree`, at `note`.
pub(crate) fn alike(cells: &[Decimal], note: Option<&str>) -> Result<(), Refusal> {
    let Some((cell, _)) = odd(cells).filter(|_| note.is_none_or(|n| n.trim().is_empty())) else {
        return Ok(());
    };
    Err(Refusal::from(Refused::CellsDisagree { says: says(cells).unwrap_or_default(), cell }))
}

crate::refusals! {
    enum Refused {
        NotCounts { says: Text } = "not_counts" at "cells": says;
        CellsDisagree { says: Text, cell: usize } = "cells_disagree" at "note":
            says,
            then text!("cells-look-at-cell-cell-its", cell);
    }
}
