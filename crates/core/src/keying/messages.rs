//! What the display says, what it means and what to do; on a scale whose job is known, the likely
//! ones come first.

use serde::Serialize;
use utoipa::ToSchema;

use super::profile::{MessageMeaning, Profile};

/// What sort of message it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum MessageKind {
    /// It asks for something.
    Prompt,
    /// It works.
    Progress,
    /// It has worked.
    Success,
    /// It refuses what was asked.
    Refusal,
    /// Something is broken.
    Error,
}

/// A message, explained.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct MessageView {
    /// As it is shown.
    pub text: String,
    /// What sort.
    pub kind: MessageKind,
    /// What it means.
    pub meaning: MessageMeaning,
    /// What it means, in words.
    pub says: String,
    /// What to do.
    pub then: String,
    /// Why it is likely on this scale now.
    #[schema(required)]
    pub because: Option<String>,
}

/// What is known of the scale at this moment.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Circumstances {
    /// The span weight's share of Max, 0 to 1.
    pub weight_share: Option<f64>,
    /// Zero is being captured (else span).
    pub at_zero: bool,
    /// Zero or span is captured and not saved.
    pub unsaved: bool,
    /// Why the signal may be out of range on this scale.
    pub signal: Option<String>,
    /// The reading moves now.
    pub moving: bool,
    /// A fault at cable or connector was found.
    pub cable: bool,
}

impl MessageMeaning {
    /// What sort of message it is.
    pub const fn kind(self) -> MessageKind {
        match self {
            Self::ZeroPrompt | Self::LoadPrompt => MessageKind::Prompt,
            Self::Working => MessageKind::Progress,
            Self::Done | Self::Saved => MessageKind::Success,
            Self::TooLittleWeight
            | Self::Motion
            | Self::NotSaved
            | Self::WrongCode
            | Self::Locked
            | Self::Other => MessageKind::Refusal,
            Self::SignalHigh
            | Self::SignalLow
            | Self::ZeroError
            | Self::CableFault
            | Self::Overload
            | Self::Supply => MessageKind::Error,
        }
    }

    /// What it means and what to do.
    pub const fn words(self) -> (&'static str, &'static str) {
        match self {
            Self::ZeroPrompt => (
                "It wants the platform empty.",
                "Leave on it only what always stays there, wait until it is steady, confirm.",
            ),
            Self::LoadPrompt => (
                "It wants the span weight.",
                "Set it down gently, in the middle; hands off, wait until it is steady, confirm.",
            ),
            Self::Working => (
                "It counts down or works.",
                "Wait. If it starts again and again there is vibration or moving air.",
            ),
            Self::Done => ("It has taken it.", "Go on."),
            Self::Saved => ("It has been kept.", "Leave the weight on: the first reading already proves it."),
            Self::TooLittleWeight => (
                "Too little weight, or none.",
                "Check that the weight is on and the weight keyed in; take a heavier one.",
            ),
            Self::Motion => {
                ("The reading moves.", "Hands off; shield it from air, look for vibration; then try again.")
            }
            Self::SignalHigh => (
                "The signal is above the input's range.",
                "Take everything off; look for dead load, a stop, swapped wires; compare the signal bar.",
            ),
            Self::SignalLow => (
                "The signal is below the input's range, or reversed.",
                "Look for swapped signal wires, an inverted cell, a missing excitation.",
            ),
            Self::ZeroError => (
                "An error at zero, as at power-on.",
                "Feet, cable and plug first; then look for something on or under the platform. It cannot be adjusted away: repair first.",
            ),
            Self::CableFault => (
                "The test of cable or cell failed.",
                "Follow the cable; check the plug and the wiring; then power off and on.",
            ),
            Self::NotSaved => (
                "It was not kept.",
                "Save it in the way this indicator wants, before the power or the weight goes.",
            ),
            Self::Overload => {
                ("More than it can show.", "Take weight off; check the set-up's Max and the unit.")
            }
            Self::WrongCode => ("The code was wrong.", "Type it again; ask the owner for it."),
            Self::Locked => (
                "The set-up is locked.",
                "Move the switch or give the code. Whose seal that is, is a matter for the local authority.",
            ),
            Self::Supply => ("Supply or battery.", "Charge or change it before adjusting."),
            Self::Other => ("", "See what the profile says."),
        }
    }

    fn because(self, now: &Circumstances) -> Option<String> {
        match self {
            Self::TooLittleWeight => {
                let share = now.weight_share.filter(|share| *share < 0.1 && !now.at_zero)?;
                Some(format!("the span weight is only {:.0} % of Max", share * 100.0))
            }
            Self::Motion | Self::Working => now.moving.then(|| "the reading moves now".to_owned()),
            Self::SignalHigh | Self::SignalLow => now.signal.clone(),
            Self::CableFault => {
                now.cable.then(|| "a fault at the cable was found when it was looked over".to_owned())
            }
            Self::NotSaved => now.unsaved.then(|| "zero or span is captured and not saved".to_owned()),
            _ => None,
        }
    }
}

/// The messages of a profile that fit what is shown (all of them where nothing is given), the
/// likely ones first.
pub fn look_up(profile: &Profile, shown: &str, now: &Circumstances) -> Vec<MessageView> {
    let shown = shown.trim().to_lowercase();
    let fits = |text: &str| shown.is_empty() || text.to_lowercase().contains(&shown);
    let mut found: Vec<(u8, MessageView)> = profile
        .messages
        .iter()
        .filter(|m| fits(&m.text))
        .map(|m| {
            let (says, then) = m.meaning.words();
            let because = m.meaning.because(now);
            let exact = m.text.trim().to_lowercase() == shown;
            let trouble = matches!(m.meaning.kind(), MessageKind::Refusal | MessageKind::Error);
            let rank = match () {
                () if exact => 0,
                () if because.is_some() => 1,
                () if trouble => 2,
                () => 3,
            };
            let own =
                |text: &Option<String>, default: &str| text.clone().unwrap_or_else(|| default.to_owned());
            (
                rank,
                MessageView {
                    text: m.text.clone(),
                    kind: m.meaning.kind(),
                    meaning: m.meaning,
                    says: own(&m.says, says),
                    then: own(&m.then, then),
                    because,
                },
            )
        })
        .collect();
    found.sort_by_key(|(rank, _)| *rank);
    found.into_iter().map(|(_, view)| view).collect()
}
