//! What a page sees of the live reading, and what a job may take from it. Steadiness is judged with the job's own
//! division, sample by sample.

use serde::Serialize;
use utoipa::ToSchema;

use super::{Lines, Link, Sample};
use crate::journal::{Heard, Observation, Setup, Silence};
use crate::quantity::{Decimal, Mass};
use crate::signal::{Criterion, Follow, Reaction, Status, Tracker, compare_rises};
use crate::wording::Text;

/// A reading older than this is no reading, in seconds.
const FRESH_S: f64 = 2.0;

/// A step of more divisions than this is a load that is put on or taken off.
const MOVES_D: f64 = 5.0;

/// The live reading as a page shows it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LiveView {
    /// Readings come.
    pub connected: bool,
    /// How the line stands, in words.
    pub says: Text,
    /// What the display shows, with its unit.
    #[schema(required)]
    pub shown: Option<String>,
    /// Steady for the hold time, within one division and level.
    pub steady: bool,
    /// Share of the hold time, 0 to 1.
    pub held: f64,
    /// Times the clock had to start again.
    pub restarts: u32,
    /// Peak to peak in the window, in divisions.
    #[schema(required)]
    pub noise_d: Option<f64>,
    /// Internal counts.
    #[schema(required)]
    pub counts: Option<String>,
    /// Counts of each cell, where the line carries them.
    pub cells: Vec<String>,
    /// The indicator's own steady mark.
    #[schema(required)]
    pub mark: Option<bool>,
    /// Lines that were not understood.
    pub odd_lines: u64,
    /// The last of them.
    #[schema(required)]
    pub last_odd: Option<String>,
    /// What is odd about the unit: it was switched, or the reading jumped by the ratio of two units.
    #[schema(required)]
    pub unit_note: Option<Text>,
    /// The last pushes, the newest last.
    pub pushes: Vec<Reaction>,
    /// The last four of them compared, corner by corner.
    #[schema(required)]
    pub rises: Option<Text>,
    /// For how many seconds it has shown zero without leaving it.
    pub zero_held_s: f64,
}

/// Follows the lines of an indicator for one page or one look.
pub struct Watch {
    setup: Setup,
    tracker: Tracker,
    seen: u64,
    began_s: Option<f64>,
    last: Option<(Sample, Status)>,
    /// The last figure before this one that was not near zero, and the ratio of a jump between them.
    rested: Option<f64>,
    jump: Option<f64>,
    follow: Follow,
    /// Restarts that came while a load was being put on or taken off: they are not counted.
    moved: u32,
    /// Since when it has shown zero.
    zero_since: Option<f64>,
}

impl Watch {
    /// Judges by a set-up's division; `None` where that is not above zero.
    pub fn new(setup: Setup) -> Option<Self> {
        let criterion = Criterion::new(setup.d.value.to_f64(), Criterion::HOLD_S).ok()?;
        Some(Self {
            setup,
            tracker: Tracker::new(criterion),
            seen: 0,
            began_s: None,
            last: None,
            rested: None,
            jump: None,
            follow: Follow::default(),
            moved: 0,
            zero_since: None,
        })
    }

    /// Judges what has come since.
    fn catch_up(&mut self, lines: &Lines) {
        for sample in lines.since(self.seen) {
            self.seen = sample.number;
            let unit = self.setup.d.unit;
            let judged =
                sample.reading.fine.as_ref().unwrap_or(&sample.reading.shown).value_in(unit).to_f64();
            let counts = sample.reading.counts.as_ref().map(Decimal::to_f64);
            let at = sample.at_s - *self.began_s.get_or_insert(sample.at_s);
            // A hole in the samples is no steadiness: the clock starts again after it.
            let late = self.last.as_ref().is_some_and(|(before, _)| sample.at_s - before.at_s > FRESH_S);
            if late || sample.after_gap {
                self.tracker.reset();
                self.follow.reset();
            }
            let d = self.setup.d.value.to_f64();
            let status = self.tracker.push(at, judged, counts);
            // Restarts are those of a load at rest: a step of many divisions is a load that moves.
            let stepped =
                self.last.as_ref().is_some_and(|(_, before)| (judged - before.mean).abs() > MOVES_D * d);
            if stepped || status.restarts < self.moved {
                self.moved = status.restarts;
            }
            self.watch_jump(judged);
            self.zero_since =
                sample.reading.shown.value.is_zero().then(|| self.zero_since.unwrap_or(sample.at_s));
            self.follow.push(judged / d, status.steady.then_some(status.mean / d));
            self.last = Some((sample.clone(), status));
        }
    }

    fn now(&self, lines: &Lines, now_s: f64) -> Option<&(Sample, Status)> {
        let readable = *lines.link() == Link::Connected && lines.blank().is_none();
        self.last.as_ref().filter(|(sample, _)| readable && now_s - sample.at_s < FRESH_S)
    }

    /// What a page shows at `now_s`.
    pub fn view(&mut self, lines: &Lines, now_s: f64) -> LiveView {
        self.catch_up(lines);
        let (odd_lines, last_odd) = lines.odd_lines();
        let now = self.now(lines, now_s);
        let says = match now {
            None => silence(lines),
            Some((_, status)) if status.steady => text!("live-stable"),
            Some(_) => text!("live-not-stable"),
        };
        LiveView {
            connected: now.is_some(),
            says,
            shown: now.map(|(sample, _)| shown_text(&sample.reading.shown, &self.setup)),
            steady: now.is_some_and(|(_, status)| status.steady),
            held: now.map_or(0.0, |(_, status)| status.held),
            restarts: now.map_or(0, |(_, status)| status.restarts.saturating_sub(self.moved)),
            noise_d: now.map(|(_, status)| status.spread / self.setup.d.value.to_f64()),
            counts: now.and_then(|(sample, _)| sample.reading.counts.as_ref().map(ToString::to_string)),
            cells: now.map_or_else(Vec::new, |(sample, _)| {
                sample.reading.cells.iter().map(ToString::to_string).collect()
            }),
            mark: now.and_then(|(sample, _)| sample.reading.mark),
            odd_lines,
            last_odd: last_odd.map(str::to_owned),
            rises: compare_rises(self.follow.seen().rchunks(4).next().unwrap_or_default()),
            pushes: self.follow.seen().to_vec(),
            zero_held_s: self.zero_since.filter(|_| now.is_some()).map_or(0.0, |since| now_s - since),
            unit_note: now.and_then(|(sample, _)| self.unit_note(&sample.reading.shown)),
        }
    }

    /// The unit that the line names, against the set-up's; where it names none, a jump by 2.2046.
    fn unit_note(&self, shown: &Mass) -> Option<Text> {
        let unit = self.setup.d.unit;
        if shown.unit != unit {
            return Some(text!("live-unit-switched", shown = shown.unit, unit));
        }
        let ratio = Decimal::from_measured(self.jump?, 4)?;
        Some(text!("live-unit-jumped", ratio))
    }

    /// Kept until the reading is near zero again: only then is it certain that it is another load.
    fn watch_jump(&mut self, judged: f64) {
        const POUND: f64 = 2.204_622_621_848_775_8;
        let near_zero = 20.0 * self.setup.d.value.to_f64();
        if judged.abs() < near_zero {
            self.jump = None;
            self.rested = None;
            return;
        }
        if let Some(before) = self.rested {
            let ratio = judged / before;
            if self.jump.is_some_and(|jump| (ratio * jump - 1.0).abs() < 1e-3) {
                self.jump = None;
            } else if [POUND, 1.0 / POUND].iter().any(|unit| (ratio / unit - 1.0).abs() < 5e-4) {
                self.jump = Some(ratio);
            }
        }
        self.rested = Some(judged);
    }

    /// What a job may take at `now_s`.
    fn observation(&mut self, lines: &Lines, now_s: f64) -> Heard {
        self.catch_up(lines);
        let moved = self.moved;
        let Some((sample, status)) = self.now(lines, now_s) else { return Err(Silence(silence(lines))) };
        let finer = sample.reading.fine.is_some();
        Ok(Observation {
            steady: status.steady,
            mark: sample.reading.mark,
            shown: sample.reading.shown.clone(),
            mean: if finer { status.mean_mass(self.setup.d.unit, self.setup.decimals) } else { None },
            counts: status.mean_counts.and_then(|c| Decimal::from_measured(c, 1)),
            hold_s: Decimal::from_measured(Criterion::HOLD_S, 1).unwrap_or_else(Decimal::zero),
            restarts: status.restarts.saturating_sub(moved),
            samples: u32::try_from(status.samples).unwrap_or(u32::MAX),
        })
    }
}

/// Why there is no reading.
fn silence(lines: &Lines) -> Text {
    match lines.link() {
        Link::Connecting => text!("live-connecting"),
        Link::Lost(why) => text!("live-lost", why = why.says()),
        Link::Connected => match (lines.blank(), lines.odd_lines()) {
            (Some(says), _) => text!("live-no-figure", says),
            (None, (0, _)) => text!("live-no-reading"),
            (None, _) => text!("live-not-understood"),
        },
    }
}

/// What a job in this set-up may take of an indicator at `now_s`.
pub fn observe(lines: &Lines, setup: Setup, now_s: f64) -> Heard {
    match Watch::new(setup) {
        Some(mut watch) => watch.observation(lines, now_s),
        None => Err(Silence(text!("live-no-division"))),
    }
}

fn shown_text(shown: &Mass, setup: &Setup) -> String {
    let places = u32::try_from(-shown.value.exponent()).unwrap_or(0);
    let least = if shown.unit == setup.d.unit { setup.decimals } else { 0 };
    format!("{} {}", shown.value.fixed(places.max(least)), shown.unit)
}
