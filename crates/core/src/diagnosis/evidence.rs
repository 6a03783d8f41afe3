//! What is wrong, as far as the readings tell: causes with their probabilities, whether any fits at all, which
//! reading looks odd, what is to be done and what to read next.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::act::{act, needed};
use super::causes::{Cause, CauseInfo, Deed, Priors, table};
use super::frame::Ground;
use super::next_test::{NextTest, best, proposals};
use super::pointers::{POINTED, Pointers};
use super::seen::{Facts, Seen};
use super::shape::Sight;
use super::ways::sound;
use super::weigh::{Weighed, log_sum, weigh};
use super::whole::Whole;
use crate::wording::Text;

/// A cause with its probability.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Ranked {
    /// Which.
    pub cause: Cause,
    /// A second cause at the same time.
    #[schema(required)]
    pub and: Option<Cause>,
    /// In words.
    pub label: Text,
    /// Probability, 0 to 1.
    pub probability: f64,
    /// The same for people.
    pub probability_text: Text,
    /// Which readings speak for it most.
    pub why: Vec<Spoken>,
    /// What it would have shown at every reading.
    pub shows: Vec<Spoken>,
    /// What is to be done.
    pub act: Deed,
    /// Which weight it was, where a sum of the kit explains it.
    #[schema(required)]
    pub which: Option<Text>,
    /// What adjusting can cure.
    pub can: Text,
    /// What it cannot.
    pub cannot: Text,
}

impl Ranked {
    fn of(info: &CauseInfo, and: Option<&CauseInfo>, probability: f64, act: Deed) -> Self {
        let label = and.map_or_else(
            || info.label.clone(),
            |and| text!("evidence-both", one = info.label, other = and.label),
        );
        Self {
            cause: info.cause,
            and: and.map(|and| and.cause),
            label,
            probability,
            probability_text: percent(probability),
            why: Vec::new(),
            shows: Vec::new(),
            act,
            which: None,
            can: info.can.clone(),
            cannot: info.cannot.clone(),
        }
    }
}

/// A reading and what a cause makes of it.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Spoken {
    /// The entry it stands in.
    pub entry: Uuid,
    /// Error in divisions.
    pub error_d: f64,
    /// What the cause alone would make of it, in divisions.
    pub by_cause_d: f64,
}

/// What is wrong, as far as the readings tell.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Diagnosis {
    /// The causes, the likeliest first; those below a hundredth are left out.
    pub ranked: Vec<Ranked>,
    /// The readings tell one cause from the others.
    pub told: bool,
    /// In a sentence.
    pub says: Text,
    /// What is to be done now: it costs least where the first cause may be the wrong one.
    pub act: Deed,
    /// The same in words.
    pub act_says: Text,
    /// Readings that look as if they were written down wrong: to be read again before anything is done.
    pub odd: Vec<Uuid>,
    /// Their places among the readings.
    #[serde(skip)]
    pub odd_at: Vec<usize>,
    /// None of the known causes fits the readings.
    pub none_fits: bool,
    /// How often readings of the first cause would agree no better with it, 0 to 1.
    pub fits: f64,
    /// The reading that is expected to tell most for what it costs.
    #[schema(required)]
    pub next: Option<NextTest>,
}

/// Likeliest cause from so much on; below it, it cannot be told yet.
const TOLD: f64 = 0.75;
/// The same for two causes at once: the second may stand for what the first leaves.
const BOTH_TOLD: f64 = 0.9;
/// Causes below this are not listed.
const LISTED: f64 = 0.01;
/// Readings of the true cause agree worse than the first one's do in fewer cases than this: it is not it.
const FITS: f64 = 1e-4;
/// A reading is odd from this probability of a slip on.
const ODD: f64 = 0.5;
/// Most readings that are weighed; beyond them the newest count.
const MOST_READINGS: usize = 120;
/// Most causes whose expectations of a next reading are compared.
const COMPARED: usize = 5;

/// The causes that a display without a figure points to: nothing else is known of the scale.
fn without_readings(priors: &Priors, pointers: &Pointers) -> Option<Diagnosis> {
    let weigh = |info: &'static CauseInfo| {
        let times = if pointers.by_item(info) { POINTED } else { 1.0 };
        (info, priors.of(info) * times)
    };
    let mut weighed: Vec<(&CauseInfo, f64)> =
        table().iter().filter(|info| pointers.by_message(info)).map(weigh).collect();
    let all: f64 = weighed.iter().map(|(_, weight)| weight).sum();
    if all <= 0.0 {
        return None;
    }
    weighed.sort_by(|a, b| b.1.total_cmp(&a.1));
    let ranked: Vec<Ranked> =
        weighed.into_iter().map(|(info, weight)| Ranked::of(info, None, weight / all, info.act)).collect();
    let act = ranked.first().map_or(Deed::ReadAgain, |first| first.act);
    Some(Diagnosis {
        ranked,
        told: false,
        says: text!("evidence-cannot-tell-yet-the-display"),
        act,
        act_says: act.label(),
        odd: Vec::new(),
        odd_at: Vec::new(),
        none_fits: false,
        fits: 1.0,
        next: None,
    })
}

fn info(cause: Cause) -> Option<&'static CauseInfo> {
    table().iter().find(|info| info.cause == cause)
}

/// Ranks the causes. `within`: every reading and test lies inside the tolerance.
pub fn diagnose(
    seen: &[Seen],
    facts: &Facts,
    priors: &Priors,
    pointers: &Pointers,
    within: bool,
) -> Option<Diagnosis> {
    let earlier = seen.len().saturating_sub(MOST_READINGS);
    let seen = &seen[earlier..];
    if !seen.iter().any(|s| s.load > 0.0 && s.figure().is_some()) && !pointers.messages.is_empty() {
        return without_readings(priors, pointers);
    }
    if !seen.iter().any(|s| s.load > 0.0) {
        return None;
    }
    let proposals = proposals(seen, facts);
    let tests: Vec<Seen> = proposals.iter().map(|p| p.seen.clone()).collect();
    let sight = Sight::new(seen, &tests, facts);
    let ground = Ground::of(&sight, &sound(facts));
    let weighed = weigh(&ground, &sight, priors, pointers, within);
    let all = log_sum(weighed.iter().map(|w| w.log));
    let posterior: Vec<(&Weighed, f64)> = weighed.iter().map(|w| (w, (w.log - all).exp())).collect();

    let mut by_cause: Vec<(Cause, Option<Cause>, f64, &Weighed)> = Vec::new();
    let mut slips = vec![0.0f64; seen.len()];
    for (w, probability) in &posterior {
        if let Some(row) = w.slip {
            slips[row] += probability;
        }
        let same = |(cause, and, ..): &(Cause, Option<Cause>, f64, &Weighed)| {
            (*cause, *and) == (w.cause, w.and) || (Some(*cause), *and) == (w.and, Some(w.cause))
        };
        match by_cause.iter_mut().find(|c| same(c)) {
            Some(there) => there.2 += probability,
            None => by_cause.push((w.cause, w.and, *probability, w)),
        }
    }
    by_cause.sort_by(|a, b| b.2.total_cmp(&a.2));
    let odd_at: Vec<usize> = (0..seen.len()).filter(|row| slips[*row] > ODD).collect();

    let first = by_cause.first()?;
    let whole = Whole::of(&ground, &sight, &first.3.way);
    let fits = whole.as_ref().map_or(1.0, |whole| whole.fits(&odd_at));
    let none_fits = first.0 == Cause::Unknown || fits < FITS;
    let mut ranked = Vec::new();
    for (cause, and, probability, w) in by_cause.iter().take_while(|c| c.2 >= LISTED) {
        let Some(info_of) = info(*cause) else { continue };
        let mut one = Ranked::of(info_of, and.and_then(info), *probability, needed(w));
        if !matches!(cause, Cause::Sound | Cause::Unknown)
            && let Some(whole) = Whole::of(&ground, &sight, &w.way)
        {
            one.shows = shows(&whole, &sight);
            one.why = speaks(&one.shows, &sight);
        }
        ranked.push(one);
    }
    let loads = seen
        .iter()
        .filter(|s| s.load > 0.0)
        .map(|s| s.load.to_bits())
        .collect::<std::collections::BTreeSet<_>>();
    // Sound is told of what was looked at: on several cells that takes the corners.
    let looked_at = loads.len() >= 2 && (facts.cells.len() < 3 || seen.iter().any(|s| s.place.is_some()));
    let enough = if first.1.is_some() { BOTH_TOLD } else { TOLD };
    let told = first.2 >= enough && !none_fits && odd_at.is_empty() && (looked_at || first.0 != Cause::Sound);
    let next = if by_cause.len() > 1 && (first.2 < 0.95 || none_fits) {
        let likely: Vec<(Whole, f64)> = by_cause
            .iter()
            .take(COMPARED)
            .filter_map(|c| Some((Whole::of(&ground, &sight, &c.3.way)?, c.2)))
            .collect();
        best(&proposals, seen.len(), &likely)
    } else {
        None
    };
    let act = match first.0 {
        _ if none_fits => Deed::ReadAgain,
        // What is told to be sound is not asked about again.
        Cause::Sound if told => Deed::Leave,
        _ => act(&posterior, slips.iter().sum()),
    };
    let says = if !odd_at.is_empty() {
        text!("evidence-a-reading-looks-odd")
    } else if none_fits {
        text!("evidence-none-fits")
    } else if told {
        text!("evidence-told", label = ranked.first()?.label, probability = ranked.first()?.probability_text)
    } else if first.0 == Cause::Sound && first.2 >= TOLD {
        text!("evidence-sound-as-far", label = ranked.first()?.label)
    } else {
        text!("evidence-cannot-tell-yet")
    };
    let odd = odd_at.iter().map(|row| seen[*row].entry).collect();
    let odd_at = odd_at.iter().map(|row| row + earlier).collect();
    Some(Diagnosis { ranked, told, says, act, act_says: act.label(), odd, odd_at, none_fits, fits, next })
}

fn percent(probability: f64) -> Text {
    match probability * 100.0 {
        p if p > 99.5 => text!("evidence-over-99"),
        p => text!("evidence-percent", p = crate::wording::fixed(p, 0)),
    }
}

/// What the cause makes of every reading.
fn shows(whole: &Whole, sight: &Sight) -> Vec<Spoken> {
    let spoken = |row: &usize| Spoken {
        entry: sight.seen[*row].entry,
        error_d: sight.seen[*row].error().unwrap_or(0.0),
        by_cause_d: whole.by_cause(*row),
    };
    sight.read.iter().map(spoken).collect()
}

/// The readings whose errors the cause explains most.
fn speaks(shows: &[Spoken], sight: &Sight) -> Vec<Spoken> {
    let gain = |(i, s): &(usize, &Spoken)| {
        (s.error_d.powi(2) - (s.error_d - s.by_cause_d).powi(2)) / sight.rows[sight.read[*i]].sd.powi(2)
    };
    let mut order: Vec<(usize, &Spoken)> = shows.iter().enumerate().filter(|s| gain(s) > 1.0).collect();
    order.sort_by(|a, b| gain(b).total_cmp(&gain(a)));
    order.into_iter().take(3).map(|(_, s)| s.clone()).collect()
}
