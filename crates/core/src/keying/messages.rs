//! What the display says, what it means and what to do; on a scale whose job is known, the likely
//! ones come first.

use serde::Serialize;
use utoipa::ToSchema;

use super::profile::{MessageMeaning, Profile};
use crate::wording::Text;

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
    pub says: Text,
    /// What to do.
    pub then: Text,
    /// Why it is likely on this scale now.
    #[schema(required)]
    pub because: Option<Text>,
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
    pub signal: Option<Text>,
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
    pub fn words(self) -> (Text, Text) {
        match self {
            Self::ZeroPrompt => {
                (text!("message-it-wants-the-platform-empty"), text!("message-leave-on-it-only-what"))
            }
            Self::LoadPrompt => {
                (text!("message-it-wants-the-span-weight"), text!("message-set-it-down-gently-in"))
            }
            Self::Working => {
                (text!("message-it-counts-down-or-works"), text!("message-wait-if-it-starts-again"))
            }
            Self::Done => (text!("message-it-has-taken-it"), text!("message-go-on")),
            Self::Saved => (text!("message-it-has-been-kept"), text!("message-leave-the-weight-on-the")),
            Self::TooLittleWeight => {
                (text!("message-too-little-weight-or-none"), text!("message-check-that-the-weight-is"))
            }
            Self::Motion => (text!("message-the-reading-moves"), text!("message-hands-off-shield-it-from")),
            Self::SignalHigh => {
                (text!("message-the-signal-is-above-the"), text!("message-take-everything-off-look-for"))
            }
            Self::SignalLow => {
                (text!("message-the-signal-is-below-the"), text!("message-look-for-swapped-signal-wires"))
            }
            Self::ZeroError => {
                (text!("message-an-error-at-zero-as"), text!("message-feet-cable-and-plug-first"))
            }
            Self::CableFault => {
                (text!("message-the-test-of-cable-or"), text!("message-follow-the-cable-check-the"))
            }
            Self::NotSaved => (text!("message-it-was-not-kept"), text!("message-save-it-in-the-way")),
            Self::Overload => {
                (text!("message-more-than-it-can-show"), text!("message-take-weight-off-check-the"))
            }
            Self::WrongCode => (text!("message-the-code-was-wrong"), text!("message-type-it-again-ask-the")),
            Self::Locked => (text!("message-the-set-up-is-locked"), text!("message-move-the-switch-or-give")),
            Self::Supply => (text!("message-supply-or-battery"), text!("message-charge-or-change-it-before")),
            Self::Other => (text!("message-other"), text!("message-see-what-the-profile-says")),
        }
    }

    fn because(self, now: &Circumstances) -> Option<Text> {
        match self {
            Self::TooLittleWeight => {
                let share = now.weight_share.filter(|share| *share < 0.1 && !now.at_zero)?;
                Some(text!(
                    "message-the-span-weight-is-only",
                    share = crate::wording::fixed(share * 100.0, 0)
                ))
            }
            Self::Motion | Self::Working => now.moving.then(|| text!("message-the-reading-moves-now")),
            Self::SignalHigh | Self::SignalLow => now.signal.clone(),
            Self::CableFault => now.cable.then(|| text!("message-a-fault-at-the-cable")),
            Self::NotSaved => now.unsaved.then(|| text!("message-zero-or-span-is-captured")),
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
            let own = |text: &Option<String>, default: Text| text.clone().map_or(default, Text::verbatim);
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
