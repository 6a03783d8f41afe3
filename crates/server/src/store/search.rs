//! The text by which a scale is found.

use ombret_core::record::plain_mark;
use ombret_core::scale::ScaleSheet;

/// Longest text that is searched, in characters: it stands in an index, whose rows are short.
const LONGEST_SEARCH: usize = 600;

pub(super) fn search_text(sheet: &ScaleSheet) -> String {
    [
        &sheet.name,
        &sheet.owner,
        &sheet.place,
        &sheet.serial,
        &sheet.indicator,
        &sheet.kind.label().to_owned(),
        &plain_mark(&sheet.serial),
    ]
    .map(|t| t.to_lowercase())
    .join(" · ")
    .chars()
    .take(LONGEST_SEARCH)
    .collect()
}
