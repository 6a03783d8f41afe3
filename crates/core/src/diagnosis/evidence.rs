//! What is wrong, as far as the readings tell: causes with their probabilities, whether any fits at all, which
//! reading looks odd, what is to be done and what to read next.

use std::collections::BTreeSet;

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::act::{act, needed};
use super::causes::{Cause, CauseInfo, Deed, Priors, table};
use super::counter::Weighed;
use super::fit::Fit;
use super::law::log_sum;
use super::next_test::{NextTest, best, proposals};
use super::pointers::Pointers;
use super::reading_set::ReadingSet;
use super::seen::{Facts, Seen};
use super::ways::sound;
use super::weigh::weigh;
use super::whitened::SoundCovariance;
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
    /// A fault that points to it was found at the last record too.
    #[schema(required)]
    pub again: Option<Text>,
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
            again: None,
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
    /// The same in words, where something is told; else the next reading is what there is to do.
    #[schema(required)]
    pub act_says: Option<Text>,
    /// Readings that look as if they were written down wrong: to be read again before anything is done.
    pub odd: Vec<Uuid>,
    /// Their places among the readings.
    #[serde(skip)]
    pub odd_at: Vec<usize>,
    /// None of the known causes fits the readings.
    pub none_fits: bool,
    /// How often readings of the first cause would agree no better with it, 0 to 1.
    pub fits: f64,
    /// The reading that is expected to tell most for what it costs; none where one is to be read again first.
    #[schema(required)]
    pub next: Option<NextTest>,
}

/// Likeliest cause from so much on; below it, it cannot be told yet.
const TOLD: f64 = 0.75;
/// The same for two causes at once: the second may stand for what the first leaves.
const BOTH_TOLD: f64 = 0.9;
/// From so much on no further reading is asked for.
const SURE: f64 = 0.95;
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

pub(super) fn info(cause: Cause) -> Option<&'static CauseInfo> {
    table().iter().find(|info| info.cause == cause)
}

/// A cause, or two, with the probability of all its ways and the likeliest of them.
struct Found<'w, 's, 'a, 'g> {
    cause: Cause,
    and: Option<Cause>,
    probability: f64,
    way: &'w Weighed,
    fit: Option<Fit<'s, 'a, 'g>>,
}

/// The causes, the likeliest first.
fn by_cause<'w, 's, 'a, 'g>(
    posterior: &[(&'w Weighed, f64)],
    sound: &'g SoundCovariance,
    set: &'s ReadingSet<'a>,
) -> Vec<Found<'w, 's, 'a, 'g>> {
    let mut found: Vec<Found> = Vec::new();
    for (way, probability) in posterior {
        let of = |f: &&mut Found| {
            (f.cause, f.and) == (way.cause, way.and) || (Some(f.cause), f.and) == (way.and, Some(way.cause))
        };
        match found.iter_mut().find(of) {
            Some(there) => there.probability += probability,
            None => found.push(Found {
                cause: way.cause,
                and: way.and,
                probability: *probability,
                way,
                fit: None,
            }),
        }
    }
    found.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    for (i, f) in found.iter_mut().enumerate() {
        if i < COMPARED || f.probability >= LISTED {
            f.fit = Fit::of(sound, set, &f.way.way);
        }
    }
    found
}

impl Found<'_, '_, '_, '_> {
    fn ranked(&self, set: &ReadingSet) -> Option<Ranked> {
        let mut ranked =
            Ranked::of(info(self.cause)?, self.and.and_then(info), self.probability, needed(self.way));
        if let Some(fit) = self.fit.as_ref().filter(|_| !matches!(self.cause, Cause::Sound | Cause::Unknown))
        {
            ranked.shows = shows(fit, set);
            ranked.why = speaks(&ranked.shows, set);
        }
        Some(ranked)
    }
}

/// True where enough was looked at for a scale to be called sound: two loads, and on several cells the corners.
fn looked_at(seen: &[Seen], facts: &Facts) -> bool {
    let loads: BTreeSet<u64> = seen.iter().filter(|s| s.load > 0.0).map(|s| s.load.to_bits()).collect();
    loads.len() >= 2 && (facts.cells.len() < 3 || seen.iter().any(|s| s.place.is_some()))
}

/// Ranks the causes; none where no load was on and the display showed figures. `within`: every reading and test
/// lies inside the tolerance.
///
/// # Examples
/// ```
/// use ombret_core::diagnosis::{Cause, Deed, Facts, Pointers, Priors, Seen, diagnose};
///
/// // 3 000 divisions, tolerance 3 d at Max; two divisions in a thousand too much, up and down.
/// let read = [(0.0, 0.0, false), (1500.0, 1506.0, false), (3000.0, 3012.0, false), (1500.0, 1506.0, true), (0.0, 0.0, true)];
/// let seen: Vec<Seen> = read
///     .iter()
///     .zip(0u8..)
///     .map(|((load, shown, down), i)| Seen { down: *down, ..Seen::of(*load, *shown, 60.0 * f64::from(i)) })
///     .collect();
/// let told = diagnose(&seen, &Facts::of(3000.0, 3.0), &Priors::default(), &Pointers::default(), false).unwrap();
/// assert_eq!((told.ranked[0].cause, told.act), (Cause::SpanDrift, Deed::Span));
/// ```
pub fn diagnose(
    seen: &[Seen],
    facts: &Facts,
    priors: &Priors,
    pointers: &Pointers,
    within: bool,
) -> Option<Diagnosis> {
    let earlier = seen.len().saturating_sub(MOST_READINGS);
    let seen = &seen[earlier..];
    if !seen.iter().any(|s| s.load > 0.0 || s.figure().is_none()) {
        return None;
    }
    let proposals = proposals(seen, facts);
    let next: Vec<Seen> = proposals.iter().map(|p| p.seen.clone()).collect();
    let set = ReadingSet::new(seen, &next, facts);
    let sound = SoundCovariance::of(&set, &sound(facts));
    let weighed = weigh(&sound, &set, priors, pointers, within);
    let all = log_sum(weighed.iter().map(|w| w.log));
    let posterior: Vec<(&Weighed, f64)> = weighed.iter().map(|w| (w, libm::exp(w.log - all))).collect();
    let mut slips = vec![0.0f64; seen.len()];
    for (w, probability) in &posterior {
        w.slip.iter().for_each(|row| slips[*row] += probability);
    }
    let odd: Vec<usize> = (0..seen.len()).filter(|row| slips[*row] > ODD).collect();

    let found = by_cause(&posterior, &sound, &set);
    let first = found.first()?;
    let fits = first.fit.as_ref().map_or(1.0, |fit| fit.agrees(&odd));
    let none_fits = first.cause == Cause::Unknown || fits < FITS;
    let is_sound = first.cause == Cause::Sound;
    let enough = first.probability >= if first.and.is_some() { BOTH_TOLD } else { TOLD };
    let told = enough && !none_fits && odd.is_empty() && (!is_sound || looked_at(seen, facts));
    let act = if none_fits || !odd.is_empty() {
        Deed::ReadAgain
    } else if is_sound && told {
        // What is told to be sound is not asked about again.
        Deed::Leave
    } else {
        act(&posterior)
    };
    let open = found.len() > 1 && (first.probability < SURE || none_fits) && odd.is_empty();
    let likely: Vec<(&Fit, f64)> =
        found.iter().take(COMPARED).filter_map(|f| Some((f.fit.as_ref()?, f.probability))).collect();
    let ranked: Vec<Ranked> =
        found.iter().take_while(|f| f.probability >= LISTED).filter_map(|f| f.ranked(&set)).collect();
    let label = &ranked.first()?.label;
    let says = if !odd.is_empty() {
        text!("evidence-a-reading-looks-odd")
    } else if none_fits {
        text!("evidence-none-fits")
    } else if told {
        text!("evidence-told", label, probability = ranked.first()?.probability_text)
    } else if set.read.is_empty() {
        text!("evidence-cannot-tell-yet-the-display")
    } else if is_sound && enough {
        text!("evidence-sound-as-far", label)
    } else {
        text!("evidence-cannot-tell-yet")
    };
    let next = if open { best(&proposals, seen.len(), &likely) } else { None };
    // Where one more reading comes before anything else, that reading is what there is to do.
    let reads_on = act == Deed::ReadAgain && next.is_some() && !none_fits;
    let says_act = act != Deed::Leave && (told || none_fits || !odd.is_empty()) && !reads_on;
    Some(Diagnosis {
        told,
        says,
        act,
        act_says: says_act.then(|| act.label()),
        odd: odd.iter().map(|row| seen[*row].entry).collect(),
        odd_at: odd.iter().map(|row| row + earlier).collect(),
        none_fits,
        fits,
        next,
        ranked,
    })
}

fn percent(probability: f64) -> Text {
    match probability * 100.0 {
        p if p > 99.5 => text!("evidence-over-99"),
        p => text!("evidence-percent", p = crate::wording::fixed(p, 0)),
    }
}

/// What the cause makes of every reading with a figure.
fn shows(fit: &Fit, set: &ReadingSet) -> Vec<Spoken> {
    let spoken = |row: &usize| Spoken {
        entry: set.seen[*row].entry,
        error_d: set.error(*row),
        by_cause_d: fit.by_cause(*row),
    };
    set.read.iter().map(spoken).collect()
}

/// The readings whose errors the cause explains most.
fn speaks(shows: &[Spoken], set: &ReadingSet) -> Vec<Spoken> {
    let gain = |(row, s): &(&usize, &Spoken)| {
        (s.error_d.powi(2) - (s.error_d - s.by_cause_d).powi(2)) / set.rows[**row].sd.powi(2)
    };
    let mut order: Vec<(&usize, &Spoken)> = set.read.iter().zip(shows).filter(|s| gain(s) > 1.0).collect();
    order.sort_by(|a, b| gain(b).total_cmp(&gain(a)));
    order.into_iter().take(3).map(|(_, s)| s.clone()).collect()
}
