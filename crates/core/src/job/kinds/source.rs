//! Where a figure comes from: typed by a person, or the connected indicator.

use serde::Deserialize;
use utoipa::ToSchema;

use crate::journal::{Capture, Heard, Observation, Silence, Taken};
use crate::quantity::Decimal;
use crate::refusal::Refusal;
use crate::wording::Text;

/// Where a figure comes from.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum Source {
    /// Typed by a person.
    Typed {
        /// As typed.
        text: String,
        /// The person saw the steady sign for about three seconds.
        #[serde(default)]
        steady: bool,
    },
    /// From the connected indicator.
    Live,
}

impl Source {
    /// Typed by a person who saw the steady sign.
    pub fn typed(text: impl Into<String>) -> Self {
        Self::Typed { text: text.into(), steady: true }
    }
}

/// What the indicator shows, where it rests.
pub(in crate::job) fn steady(live: &Heard) -> Result<&Observation, Refusal> {
    let now = match live {
        Ok(now) => now,
        Err(Silence(why)) => {
            let refusal = Refusal::from(Refused::NoSignal { why: why.clone() });
            return Err(refusal.at("shown").then(text!("draft-look-at-the-display-the")));
        }
    };
    if now.steady && now.mark == Some(false) {
        return Err(Refusal::from(Refused::OwnMarkMoving));
    }
    if now.steady {
        return Ok(now);
    }
    Err(Refusal::from(Refused::StillMoving))
}

/// How it was taken.
pub(in crate::job) fn taken(now: &Observation) -> Taken {
    Taken::Live {
        hold_s: now.hold_s.clone(),
        restarts: now.restarts,
        samples: now.samples,
        mean: now.mean.clone(),
    }
}

/// Internal counts, typed or as the indicator sends them.
pub(in crate::job) fn capture(counts: &Source, live: &Heard) -> Result<Capture, Refusal> {
    match counts {
        Source::Typed { text, steady } => {
            let text =
                text.trim().replace(['\u{2212}'], "-").replace([' ', '\u{A0}', '\u{2009}', '\u{202F}'], "");
            let counts = if text.is_empty() {
                None
            } else {
                let whole = |c: &Decimal| c.is_whole();
                let refused = || {
                    Refusal::from(Refused::NotCounts { string: text.chars().take(24).collect::<String>() })
                };
                Some(text.parse::<Decimal>().ok().filter(whole).ok_or_else(refused)?)
            };
            if !steady {
                return Err(Refusal::from(Refused::NotSaidSteady));
            }
            Ok(Capture { counts, ..Capture::only(Taken::Typed) })
        }
        Source::Live => {
            let now = self::steady(live)?;
            Ok(Capture {
                counts: now.counts.as_ref().map(|c| c.round_to(1)),
                shown: Some(now.shown.clone()),
                ..Capture::only(taken(now))
            })
        }
    }
}

crate::refusals! {
    enum Refused {
        NoSignal { why: Text } = "no_signal": text!("draft-no-reading-comes-from-the", why);
        OwnMarkMoving = "own_mark_moving" at "shown":
            text!("draft-the-indicators-own-mark-says"),
            then text!("draft-wait-for-its-own-steady");
        StillMoving = "motion" at "shown":
            text!("draft-the-reading-is-still-moving"),
            then text!("draft-hands-off-wait-until-it");
        NotCounts { string: String } = "not_counts" at "counts":
            text!("draft-string-are-no-internal-counts", string);
        NotSaidSteady = "motion" at "steady":
            text!("draft-it-is-not-said-that"),
            then text!("draft-wait-until-the-steady-sign");
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn counts_are_whole_may_be_missing_and_need_the_steady_sign() {
        let typed = |text: &str, steady| {
            capture(&Source::Typed { text: text.into(), steady }, &Err(Silence::not_connected()))
        };
        assert_eq!(typed("412 118", true).unwrap().counts, Some("412118".parse().unwrap()));
        assert_eq!(typed(" ", true).unwrap().counts, None);
        assert_eq!(typed("-250", true).unwrap().counts, Some("-250".parse().unwrap()));
        assert_eq!(typed("4.5", true).unwrap_err().code, "not_counts");
        assert_eq!(typed("1e9", true).unwrap_err().code, "not_counts");
        assert_eq!(typed("412118", false).unwrap_err().code, "motion");
        assert_eq!(capture(&Source::Live, &Err(Silence::not_connected())).unwrap_err().code, "no_signal");
    }
}
