//! The checklist of looking over and the cautions, both from one data file.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::sheet::{ScaleKind, ScaleSheet};
use super::stage::Stage;
use crate::wording::{Arg, Text};

/// An item of the checklist. What it is called stands in the catalogue under its name.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CheckItem {
    /// Stable name.
    pub id: String,
    /// True where adjusting cures a fault here; otherwise the fault stops the way to zero and span.
    pub cures: bool,
    /// Its answers are not called in order and fault.
    #[serde(default, rename = "words")]
    own_words: bool,
    /// Asked only of some scales.
    #[serde(default)]
    when: Option<When>,
    kinds: Kinds,
}

/// What the answers to an item are called.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct CheckWords {
    /// In order.
    pub ok: Text,
    /// A fault.
    pub fault: Text,
    /// The note.
    pub note: Text,
}

/// Of which scales an item is asked.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
enum When {
    /// Of those that carry a seal.
    Sealed,
    /// Of those whose profile has a test of the cable in its menu.
    CableTest,
}

impl CheckItem {
    /// True where it is asked of this scale.
    fn applies(&self, sheet: &ScaleSheet) -> bool {
        match self.when {
            None => true,
            Some(When::Sealed) => !sheet.practice && (sheet.trade || !sheet.seal_points.is_empty()),
            Some(When::CableTest) => sheet.profile_facts().is_some_and(|f| f.cable_test.is_some()),
        }
    }

    fn of(&self, what: &str) -> Text {
        Text::of("inspect", &format!("{}{what}", self.id))
    }

    /// In a few words.
    pub fn label(&self) -> Text {
        self.of("")
    }

    /// Why it matters.
    pub fn why(&self) -> Text {
        self.of("-why")
    }

    /// What to look at on this scale.
    pub fn look_at(&self, sheet: &ScaleSheet) -> Text {
        let test = sheet.profile_facts().and_then(|f| f.cable_test.as_deref()).unwrap_or_default();
        self.of("-look").with("test", Arg::Words(test.to_owned()))
    }

    /// What its answers are called, where not in order and fault.
    pub fn words(&self) -> Option<CheckWords> {
        self.own_words.then(|| CheckWords {
            ok: self.of("-ok"),
            fault: self.of("-fault"),
            note: self.of("-note"),
        })
    }
}

/// A caution, shown where it applies.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Caution {
    /// The stage where it applies.
    pub stage: Stage,
    /// The caution.
    pub says: Text,
}

#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[serde(untagged)]
enum Kinds {
    Every(Every),
    Some(Vec<ScaleKind>),
}

#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
enum Every {
    All,
}

impl Kinds {
    fn has(&self, kind: ScaleKind) -> bool {
        match self {
            Self::Every(Every::All) => true,
            Self::Some(kinds) => kinds.contains(&kind),
        }
    }
}

#[derive(Deserialize)]
struct RawCaution {
    id: String,
    kinds: Kinds,
    stage: Stage,
}

#[derive(Deserialize)]
struct Data {
    items: Vec<CheckItem>,
    cautions: Vec<RawCaution>,
}

static DATA: LazyLock<Data> = LazyLock::new(|| {
    #[expect(clippy::expect_used, reason = "the data ships with the program; a test reads it")]
    serde_json::from_str(include_str!("inspection_list.json")).expect("inspection_list.json")
});

/// What is looked at on this scale, in the order in which it is done.
pub fn inspection(sheet: &ScaleSheet) -> impl Iterator<Item = &'static CheckItem> + use<'_> {
    checklist(sheet.kind).filter(|item| item.applies(sheet))
}

/// Everything that may be looked at on a kind of scale: what a journal may answer.
pub fn checklist(kind: ScaleKind) -> impl Iterator<Item = &'static CheckItem> {
    DATA.items.iter().filter(move |item| item.kinds.has(kind))
}

/// An item of the checklist of any kind in words; none: there is no such item.
pub fn check_label(id: &str) -> Option<Text> {
    DATA.items.iter().find(|item| item.id == id).map(CheckItem::label)
}

/// The cautions for a kind of scale.
pub fn cautions_for(kind: ScaleKind) -> impl Iterator<Item = Caution> {
    DATA.cautions
        .iter()
        .filter(move |raw| raw.kinds.has(kind))
        .map(|raw| Caution { stage: raw.stage, says: Text::of("caution", &raw.id) })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_kind_has_a_checklist_with_zero_and_something_that_adjusting_cannot_cure() {
        for kind in ScaleKind::ALL {
            let items: Vec<&CheckItem> = checklist(kind).collect();
            assert!(items.iter().any(|i| i.id == "zero" && !i.cures), "{kind:?}");
            assert!(items.len() >= 5, "{kind:?} has {}", items.len());
            assert!(cautions_for(kind).count() >= 4, "{kind:?}");
        }
    }
}
