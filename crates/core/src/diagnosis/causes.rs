//! The causes, with their priors and what is to be done about each, from one table.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::keying::MessageMeaning;
use crate::refusal::Refusal;
use crate::wording::Text;

/// A cause.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Cause {
    /// Nothing is wrong.
    Sound,
    /// Every load off by the same ratio.
    SpanDrift,
    /// Every load off by the same amount.
    ZeroOff,
    /// Off by the ratio of two units.
    UnitSwitched,
    /// Off by a power of ten.
    DecimalMisplaced,
    /// Off by the ratio of two sums of the kit.
    WrongWeight,
    /// Off by a ratio that a small span weight explains.
    ThinSpan,
    /// Off in the middle.
    Bow,
    /// Right up to a knee, low above it.
    SecondSupport,
    /// Low going up, high coming down.
    Rubbing,
    /// Off over one cell.
    CornerCell,
    /// Corners off in pairs.
    Twisted,
    /// Scattered about the right mean.
    Restless,
    /// Scattered, with more divisions than the cells can tell.
    DivisionTooFine,
    /// Scattered and drifting.
    Cable,
    /// Drifting one way in time.
    WarmUp,
    /// Growing under load, coming back slowly.
    Creep,
    /// Falling under load.
    Reversed,
    /// Not reacting.
    NoSignal,
    /// Zero far off.
    Overloaded,
    /// None of the known ones.
    #[serde(rename = "none_fits")]
    Unknown,
}

/// What is to be done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Deed {
    /// Leave it.
    Leave,
    /// A new zero.
    Rezero,
    /// Zero and span.
    Span,
    /// More points.
    Points,
    /// Trim the corners.
    Corners,
    /// Repair.
    Repair,
    /// Set it up.
    Setup,
    /// Wait.
    Wait,
    /// Read again, before anything is done.
    ReadAgain,
}

impl Deed {
    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Leave => text!("causes-leave-it-as-it-is"),
            Self::Rezero => text!("causes-a-new-zero"),
            Self::Span => text!("causes-zero-and-span"),
            Self::Points => text!("causes-more-points"),
            Self::Corners => text!("causes-trim-the-corners"),
            Self::Repair => text!("causes-repair"),
            Self::Setup => text!("causes-set-it-up-right"),
            Self::Wait => text!("causes-wait"),
            Self::ReadAgain => text!("causes-read-it-again"),
        }
    }
}

/// What is known of a cause.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CauseInfo {
    /// Which.
    pub cause: Cause,
    /// In words.
    #[serde(default)]
    pub label: Text,
    /// Probability before anything is read, where the cause can be at all: too small a span weight is
    /// weighed only where the last one was below a fifth of Max.
    pub prior: f64,
    /// What is to be done.
    pub act: Deed,
    /// Items of the checklist that point to it.
    pub items: Vec<String>,
    /// Messages of the display that point to it.
    #[serde(default)]
    pub messages: Vec<MessageMeaning>,
    /// What adjusting can cure.
    #[serde(default)]
    pub can: Text,
    /// What it cannot.
    #[serde(default)]
    pub cannot: Text,
}

static TABLE: LazyLock<Vec<CauseInfo>> = LazyLock::new(|| {
    #[expect(clippy::expect_used, reason = "the data ships with the program; a test reads it")]
    let mut table: Vec<CauseInfo> = serde_json::from_str(include_str!("causes.json")).expect("causes.json");
    for info in &mut table {
        let name = serde_json::to_value(info.cause).ok().and_then(|v| v.as_str().map(str::to_owned));
        let of = |what: &str| Text::of("cause", &format!("{}{what}", name.as_deref().unwrap_or_default()));
        (info.label, info.can, info.cannot) = (of(""), of("-can"), of("-cannot"));
    }
    table
});

/// Every cause.
pub fn table() -> &'static [CauseInfo] {
    &TABLE
}

/// A workshop's own priors, where they differ from the table's.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Priors(pub BTreeMap<Cause, f64>);

impl Priors {
    /// Checks them.
    ///
    /// # Errors
    /// A [`Refusal`] where one is not a probability.
    pub fn check(&self) -> Result<(), Refusal> {
        match self.0.iter().find(|(_, p)| !(0.0..=1.0).contains(*p)) {
            Some((cause, p)) => {
                let label = table()
                    .iter()
                    .find(|c| c.cause == *cause)
                    .map_or_else(Text::default, |c| c.label.clone());
                Err(Refusal::from(Refused::NotProbability { label, p: *p }))
            }
            None => Ok(()),
        }
    }

    pub(super) fn of(&self, info: &CauseInfo) -> f64 {
        self.0.get(&info.cause).copied().unwrap_or(info.prior)
    }
}

crate::refusals! {
    enum Refused {
        NotProbability { label: Text, p: f64 } = "not_probability" at "priors":
            text!("causes-label-p-is-no-probability", label, p);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_table_has_each_cause_once_and_its_priors_sum_to_about_one() {
        let mut causes: Vec<Cause> = table().iter().map(|c| c.cause).collect();
        causes.sort();
        causes.dedup();
        assert_eq!((causes.len(), table().len()), (21, 21));
        let sum: f64 = table().iter().filter(|c| c.cause != Cause::ThinSpan).map(|c| c.prior).sum();
        assert!((0.95..=1.15).contains(&sum), "{sum}");
        assert!(Priors([(Cause::Bow, 1.5)].into()).check().is_err());
        assert!(Priors([(Cause::Bow, 0.5)].into()).check().is_ok());
    }
}
