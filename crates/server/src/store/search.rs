//! The text by which a scale is found.

use ombret_core::record::plain_mark;
use ombret_core::scale::ScaleSheet;
use ombret_core::wording::Language;

/// Longest text that is searched, in characters: it stands in an index, whose rows are short.
const LONGEST_SEARCH: usize = 600;

pub(super) fn search_text(sheet: &ScaleSheet) -> String {
    [
        &sheet.name,
        &sheet.owner,
        &sheet.place,
        &sheet.serial,
        &sheet.indicator,
        &Language::ALL.map(|l| l.say(&sheet.kind.label())).join(" · "),
        &plain_mark(&sheet.serial),
    ]
    .map(|t| t.to_lowercase())
    .join(" · ")
    .chars()
    .take(LONGEST_SEARCH)
    .collect()
}
