//! Is the reading steady? A moving window over the live signal, told by its spread and its slope.
//! This is statistics of a measured signal, so it is floating point; what is captured from it is
//! turned into an exact decimal once, by whoever records it. Practice behind it: about three
//! seconds without the steady sign flickering; OIML R 76-1:2006, T.5.2 (stable equilibrium).

use std::collections::VecDeque;

use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Comparison slack: far below any division, far above the rounding of sums of samples.
const SLACK: f64 = 1e-9;

/// Why steadiness cannot be judged.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum SteadyError {
    /// Band or hold time must be above zero.
    NotPositive {
        /// Which one.
        what: Text,
        /// Its value.
        value: f64,
    },
}

impl From<&SteadyError> for Text {
    fn from(error: &SteadyError) -> Self {
        match error {
            SteadyError::NotPositive { what, value } => text!("steady-not-positive", what, value),
        }
    }
}

impl From<SteadyError> for Text {
    fn from(error: SteadyError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for SteadyError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// How still is still enough.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Criterion {
    band: f64,
    hold_s: f64,
}

impl Criterion {
    /// The usual hold time T in seconds.
    pub const HOLD_S: f64 = 3.0;

    /// `band` B is the largest peak to peak, in the signal's own unit (one division, as a rule);
    /// `hold_s` is T in seconds.
    ///
    /// # Errors
    /// [`SteadyError`] where either is not above zero.
    pub fn new(band: f64, hold_s: f64) -> Result<Self, SteadyError> {
        for (what, value) in [(text!("stability-the-band"), band), (text!("stability-the-hold-time"), hold_s)]
        {
            if value.is_nan() || value <= 0.0 || value.is_infinite() {
                return Err(SteadyError::NotPositive { what, value });
            }
        }
        Ok(Self { band, hold_s })
    }
}

/// One sample: when, the signal that is judged, and a second figure that is averaged with it
/// (internal counts, where the indicator gives them).
#[derive(Clone, Copy, Debug, PartialEq)]
struct Sample {
    at_s: f64,
    value: f64,
    counts: Option<f64>,
}

/// Where the reading stands.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Status {
    /// Steady: held for T within B and level.
    pub steady: bool,
    /// Share of T that has been held, 0 to 1.
    pub held: f64,
    /// How often the clock had to start again.
    pub restarts: u32,
    /// Peak to peak in the window, in the signal's unit.
    pub spread: f64,
    /// Mean of the window.
    pub mean: f64,
    /// Mean of the counts in the window, where every sample has them.
    pub mean_counts: Option<f64>,
    /// Samples in the window.
    pub samples: usize,
}

/// Judges samples as they come. Memory is bounded by T times the sample rate.
#[derive(Clone, Debug)]
pub struct Tracker {
    criterion: Criterion,
    window: VecDeque<Sample>,
    started_s: f64,
    restarts: u32,
    was_steady: bool,
}

impl Tracker {
    /// An empty window; the clock starts at the first sample.
    pub const fn new(criterion: Criterion) -> Self {
        Self { criterion, window: VecDeque::new(), started_s: 0.0, restarts: 0, was_steady: false }
    }

    /// Takes a sample and says where the reading stands. Samples come in order of time.
    pub fn push(&mut self, at_s: f64, value: f64, counts: Option<f64>) -> Status {
        let sample = Sample { at_s, value, counts };
        if self.window.is_empty() {
            self.started_s = at_s;
        }
        self.window.push_back(sample);
        let oldest = (at_s - self.criterion.hold_s).max(self.started_s) - SLACK;
        while self.window.front().is_some_and(|s| s.at_s < oldest) {
            self.window.pop_front();
        }
        if self.spread() > self.criterion.band * (1.0 + SLACK) {
            self.window.clear();
            self.window.push_back(sample);
            self.started_s = at_s;
            // Restarts are counted for the load that is settling now.
            self.restarts = if self.was_steady { 1 } else { self.restarts + 1 };
        }
        let status = self.status(at_s);
        self.was_steady = status.steady;
        status
    }

    /// Starts again for a new load: the window and the count of restarts are emptied.
    pub fn reset(&mut self) {
        self.window.clear();
        self.restarts = 0;
        self.was_steady = false;
    }

    fn spread(&self) -> f64 {
        let values = || self.window.iter().map(|s| s.value);
        values().fold(f64::NEG_INFINITY, f64::max) - values().fold(f64::INFINITY, f64::min)
    }

    fn status(&self, now_s: f64) -> Status {
        let held_s = now_s - self.started_s;
        let full = held_s >= self.criterion.hold_s - SLACK;
        let drift = (self.slope() * self.criterion.hold_s).abs();
        let counts: Option<Vec<f64>> = self.window.iter().map(|s| s.counts).collect();
        Status {
            steady: full && drift <= self.criterion.band / 2.0 * (1.0 + SLACK),
            held: (held_s / self.criterion.hold_s).clamp(0.0, 1.0),
            restarts: self.restarts,
            spread: self.spread(),
            mean: mean(self.window.iter().map(|s| s.value)),
            mean_counts: counts.filter(|c| !c.is_empty()).map(|c| mean(c.into_iter())),
            samples: self.window.len(),
        }
    }

    /// Least-squares slope over the window, signal per second.
    fn slope(&self) -> f64 {
        let t_mean = mean(self.window.iter().map(|s| s.at_s));
        let x_mean = mean(self.window.iter().map(|s| s.value));
        let (top, bottom) = self.window.iter().fold((0.0, 0.0), |(top, bottom), s| {
            let t = s.at_s - t_mean;
            (t.mul_add(s.value - x_mean, top), t.mul_add(t, bottom))
        });
        if bottom > 0.0 { top / bottom } else { 0.0 }
    }
}

impl Status {
    /// The mean as an exact mass, to a thousandth of `d`; `None` where it is no finite number.
    pub fn mean_mass(&self, unit: Unit, decimals_of_d: u32) -> Option<Mass> {
        let places = usize::try_from(decimals_of_d).unwrap_or(0) + 3;
        Decimal::from_measured(self.mean, places).map(|value| Mass::new(value, unit))
    }
}

fn mean(values: impl Iterator<Item = f64>) -> f64 {
    let (sum, count) = values.fold((0.0, 0u32), |(sum, count), v| (sum + v, count + 1));
    if count == 0 { 0.0 } else { sum / f64::from(count) }
}

/// The first moment at which a recorded series is steady.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Outcome {
    /// When and what: time of the sample and mean of the window; `None`: never.
    pub captured: Option<(f64, f64)>,
    /// Restarts until then.
    pub restarts: u32,
}

/// Runs a recorded series of (seconds, signal) to the first steady moment.
///
/// # Examples
/// ```
/// use ombret_core::signal::{Criterion, first_steady};
///
/// let samples: Vec<(f64, f64)> = (0..20).map(|i| (f64::from(i) * 0.25, if i < 4 { f64::from(i) } else { 4.0 })).collect();
/// let outcome = first_steady(&samples, Criterion::new(0.5, 1.0).unwrap());
/// assert_eq!(outcome.captured.unwrap().1, 4.0);
/// ```
pub fn first_steady(samples: &[(f64, f64)], criterion: Criterion) -> Outcome {
    let mut tracker = Tracker::new(criterion);
    for (at_s, value) in samples {
        let status = tracker.push(*at_s, *value, None);
        if status.steady {
            return Outcome { captured: Some((*at_s, status.mean)), restarts: status.restarts };
        }
    }
    Outcome { captured: None, restarts: tracker.restarts }
}

impl From<SteadyError> for Refusal {
    fn from(error: SteadyError) -> Self {
        Self::because("not_positive", Text::from(&error))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn criterion() -> Criterion {
        Criterion::new(0.01, 3.0).unwrap()
    }

    #[test]
    fn a_band_or_time_that_is_not_above_zero_is_refused() {
        for (band, hold) in [(0.0, 3.0), (-1.0, 3.0), (0.01, 0.0), (f64::NAN, 3.0), (f64::INFINITY, 3.0)] {
            assert!(Criterion::new(band, hold).is_err(), "{band} {hold}");
        }
    }

    #[test]
    fn a_load_change_after_steady_makes_it_unsteady_until_it_has_held_again() {
        let mut tracker = Tracker::new(criterion());
        let at = |i: u32| f64::from(i) * 0.1;
        let first: Vec<bool> = (0..40).map(|i| tracker.push(at(i), 5.0, None).steady).collect();
        assert!(!first[29] && first[30]);
        let second: Vec<bool> = (40..80).map(|i| tracker.push(at(i), 9.0, None).steady).collect();
        assert!(!second[0] && !second[29] && second[30]);
    }

    proptest! {
        #[test]
        fn steady_means_that_no_two_samples_of_the_window_differ_by_more_than_the_band(noise in proptest::collection::vec(-0.02f64..0.02, 20..80)) {
            let samples: Vec<(f64, f64)> = (0u32..).zip(&noise).map(|(i, n)| (f64::from(i) * 0.25, 12.0 + n)).collect();
            if let Some((at, mean)) = first_steady(&samples, criterion()).captured {
                let window: Vec<f64> = samples.iter().filter(|s| s.0 >= at - 3.0 - 1e-9 && s.0 <= at).map(|s| s.1).collect();
                let high = window.iter().copied().fold(f64::MIN, f64::max);
                let low = window.iter().copied().fold(f64::MAX, f64::min);
                prop_assert!(high - low <= 0.01 + 1e-9);
                prop_assert!(low - 1e-9 <= mean && mean <= high + 1e-9);
            }
        }

        #[test]
        fn shifting_time_or_the_signal_changes_nothing_but_the_mean(noise in proptest::collection::vec(-0.006f64..0.006, 20..60), t in 0.0f64..100.0, x in -50.0f64..50.0) {
            let series = |dt: f64, dx: f64| -> Vec<(f64, f64)> { (0u32..).zip(&noise).map(|(i, n)| (f64::from(i) * 0.25 + dt, n + dx)).collect() };
            let (a, b) = (first_steady(&series(0.0, 0.0), criterion()), first_steady(&series(t, x), criterion()));
            prop_assert_eq!(a.restarts, b.restarts);
            prop_assert_eq!(a.captured.is_some(), b.captured.is_some());
        }
    }
}
