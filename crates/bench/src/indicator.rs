//! The indicator: filter, calibration, display, steady mark, and the keys for set-up, zero, span
//! and saving. A change is kept only when it is saved.

use std::collections::VecDeque;

use serde::{Deserialize, Serialize};

/// Samples of the moving average.
const FILTER: usize = 4;
/// Samples over which the steady mark looks.
const MOTION: usize = 10;

/// How the display is set up. Masses are in `unit`.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Panel {
    /// Unit symbol.
    pub unit: String,
    /// Max.
    pub max: f64,
    /// Division.
    pub d: f64,
    /// Decimals shown.
    pub decimals: usize,
}

/// From counts to mass.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Calibration {
    /// Counts at zero.
    pub zero: f64,
    /// Counts for one unit of mass.
    pub per_unit: f64,
    /// Correction factor on top of it.
    #[serde(default = "one")]
    pub factor: f64,
    /// Points of a curve: counts above zero and mass, rising.
    #[serde(default)]
    pub curve: Vec<(f64, f64)>,
}

const fn one() -> f64 {
    1.0
}

impl Calibration {
    /// A straight line.
    pub const fn straight(zero: f64, per_unit: f64) -> Self {
        Self { zero, per_unit, factor: 1.0, curve: Vec::new() }
    }

    /// Mass for so many counts: straight pieces from point to point, the last one carried on.
    fn mass(&self, counts: f64) -> f64 {
        let above = counts - self.zero;
        let last = self.curve.len().saturating_sub(2);
        let piece = self.curve.windows(2).enumerate().find(|(i, pair)| *i == last || above <= pair[1].0);
        let mass = match piece {
            Some((_, pair)) => {
                pair[0].1 + (above - pair[0].0) * (pair[1].1 - pair[0].1) / (pair[1].0 - pair[0].0)
            }
            None => above / self.per_unit,
        };
        mass * self.factor
    }
}

/// What the indicator asks of the hands beside its keys.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Manners {
    /// The switch under the seal must be opened before anything is changed.
    pub switch: bool,
    /// What keeps a change.
    pub keeps: Keeps,
    /// Lowest and highest counts that are taken for zero.
    pub zero_counts: Option<(f64, f64)>,
    /// Zero follows slow changes.
    pub tracking: bool,
}

/// What keeps a change.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Keeps {
    /// A key.
    #[default]
    Key,
    /// Leaving the menu.
    Leaving,
    /// Putting the switch back.
    Switch,
}

/// Why a key does nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[serde(rename_all = "snake_case")]
pub enum KeyRefusal {
    /// The signal is moving.
    #[error("the reading is moving")]
    Motion,
    /// Zero must be captured first.
    #[error("zero is not captured")]
    NoZero,
    /// The signal hardly rose.
    #[error("too little weight, or none on the platform")]
    TooLittle,
    /// There is nothing to save.
    #[error("nothing to save")]
    Nothing,
    /// The figures cannot be set.
    #[error("these figures cannot be set")]
    BadFigures,
    /// The signal falls under load.
    #[error("the signal falls under load: it is reversed")]
    Reversed,
    /// Above Max.
    #[error("overload")]
    Overload,
    /// Zero lies where no sound cell has it.
    #[error("error at zero: the signal is far from where a sound platform has it")]
    ErrorAtZero,
    /// The switch is closed.
    #[error("the switch under the seal is closed")]
    Locked,
    /// There is no such thing on this scale.
    #[error("this scale has none")]
    None,
}

/// An indicator with its display and keys.
#[derive(Debug)]
pub struct Indicator {
    panel: Panel,
    calibration: Calibration,
    manners: Manners,
    switch_open: bool,
    pending: Option<(f64, Option<Calibration>)>,
    recent: VecDeque<f64>,
    /// How far zero has been followed, in counts.
    tracked: f64,
}

impl Indicator {
    /// An indicator as it was left.
    pub const fn new(panel: Panel, calibration: Calibration, manners: Manners) -> Self {
        Self {
            panel,
            calibration,
            switch_open: !manners.switch,
            manners,
            pending: None,
            recent: VecDeque::new(),
            tracked: 0.0,
        }
    }

    /// Takes a sample of the converter.
    pub fn take(&mut self, counts: f64) {
        self.recent.push_back(counts);
        while self.recent.len() > MOTION {
            self.recent.pop_front();
        }
        if self.manners.tracking && self.steady() && self.fine().abs() < 0.5 * self.panel.d {
            self.tracked += 0.05 * (self.filtered() - self.tracked - self.calibration.zero);
        }
    }

    /// True while the switch under the seal is open, or there is none.
    pub const fn open(&self) -> bool {
        self.switch_open
    }

    /// Moves the switch under the seal; putting it back keeps what was captured where that keeps it.
    ///
    /// # Errors
    /// [`KeyRefusal::None`] where there is no switch.
    pub fn switch(&mut self, open: bool) -> Result<(), KeyRefusal> {
        if !self.manners.switch {
            return Err(KeyRefusal::None);
        }
        if !open && self.manners.keeps == Keeps::Switch {
            self.keep();
        }
        self.switch_open = open;
        if !open {
            self.pending = None;
        }
        Ok(())
    }

    const fn unlocked(&self) -> Result<(), KeyRefusal> {
        if self.switch_open { Ok(()) } else { Err(KeyRefusal::Locked) }
    }

    /// How it is set up.
    pub const fn panel(&self) -> &Panel {
        &self.panel
    }

    /// True while zero or span is captured and not saved.
    pub const fn calibrating(&self) -> bool {
        self.pending.is_some()
    }

    fn filtered(&self) -> f64 {
        let last: Vec<f64> = self.recent.iter().rev().take(FILTER).copied().collect();
        #[expect(clippy::cast_precision_loss, reason = "a handful of samples")]
        let count = last.len().max(1) as f64;
        last.iter().sum::<f64>() / count
    }

    /// What it would show without rounding, in its unit. The new calibration is tried out before it is saved.
    pub fn fine(&self) -> f64 {
        let active = match &self.pending {
            Some((_, Some(new))) => new,
            _ => &self.calibration,
        };
        active.mass(self.filtered() - self.tracked)
    }

    /// True while the signal has stayed within a division.
    pub fn steady(&self) -> bool {
        let (low, high) = self.recent.iter().fold((f64::MAX, f64::MIN), |(l, h), c| (l.min(*c), h.max(*c)));
        self.recent.len() == MOTION && (high - low) / self.calibration.per_unit.abs() <= self.panel.d
    }

    /// The line that it sends.
    pub fn line(&self) -> String {
        let (fine, places) = (self.fine(), self.panel.decimals);
        if fine > 9.0f64.mul_add(self.panel.d, self.panel.max) {
            return "over".into();
        }
        if fine < -20.0 * self.panel.d {
            return "under".into();
        }
        let shown = (fine / self.panel.d).round() * self.panel.d + 0.0;
        let mark = if self.steady() { "steady" } else { "moving" };
        format!(
            "{mark} {shown:.places$} {} fine={fine:.*} counts={:.0}",
            self.panel.unit,
            places + 2,
            self.filtered()
        )
    }

    /// Sets it up.
    ///
    /// # Errors
    /// [`KeyRefusal::BadFigures`].
    pub fn key_setup(&mut self, panel: Panel) -> Result<(), KeyRefusal> {
        self.unlocked()?;
        let sane = panel.max > panel.d
            && panel.d > 0.0
            && panel.max.is_finite()
            && panel.decimals <= 6
            && panel.unit == self.panel.unit;
        if !sane {
            return Err(KeyRefusal::BadFigures);
        }
        self.panel = panel;
        self.pending = None;
        Ok(())
    }

    /// Captures zero.
    ///
    /// # Errors
    /// [`KeyRefusal`]: at rest, and where a sound platform has it.
    pub fn key_zero(&mut self) -> Result<(), KeyRefusal> {
        self.unlocked()?;
        self.rests()?;
        let counts = self.filtered();
        if self.manners.zero_counts.is_some_and(|(low, high)| !(low..=high).contains(&counts)) {
            return Err(KeyRefusal::ErrorAtZero);
        }
        self.tracked = 0.0;
        self.pending = Some((counts, None));
        Ok(())
    }

    const fn in_reach(&self, weight: f64) -> Result<(), KeyRefusal> {
        if weight > 0.0 && weight <= self.panel.max { Ok(()) } else { Err(KeyRefusal::BadFigures) }
    }

    fn rests(&self) -> Result<(), KeyRefusal> {
        if self.steady() { Ok(()) } else { Err(KeyRefusal::Motion) }
    }

    /// Captures span with so much on it, in its unit.
    ///
    /// # Errors
    /// [`KeyRefusal`]: zero first, at rest, and enough weight.
    pub fn key_span(&mut self, weight: f64) -> Result<(), KeyRefusal> {
        self.unlocked()?;
        let Some((zero, _)) = self.pending else { return Err(KeyRefusal::NoZero) };
        self.rests()?;
        self.in_reach(weight)?;
        let per_unit = (self.filtered() - zero) / weight;
        // Fewer than half a count a division cannot be told from noise.
        if per_unit * self.panel.d < -0.5 {
            return Err(KeyRefusal::Reversed);
        }
        if per_unit * self.panel.d < 0.5 {
            return Err(KeyRefusal::TooLittle);
        }
        self.pending = Some((
            zero,
            Some(Calibration {
                curve: vec![(0.0, 0.0), (per_unit * weight, weight)],
                ..Calibration::straight(zero, per_unit)
            }),
        ));
        Ok(())
    }

    /// Captures a further point of the curve, with so much on it, in its unit.
    ///
    /// # Errors
    /// [`KeyRefusal`]: span first, at rest, rising with the points that are there.
    pub fn key_point(&mut self, weight: f64) -> Result<(), KeyRefusal> {
        self.unlocked()?;
        self.rests()?;
        self.in_reach(weight)?;
        let counts = self.filtered();
        let Some((_, Some(new))) = &mut self.pending else { return Err(KeyRefusal::NoZero) };
        let mut curve = new.curve.clone();
        curve.push((counts - new.zero, weight));
        curve.sort_by(|a, b| a.1.total_cmp(&b.1));
        if curve.windows(2).any(|pair| pair[1].0 <= pair[0].0 || pair[1].1 <= pair[0].1) {
            return Err(KeyRefusal::BadFigures);
        }
        new.curve = curve;
        Ok(())
    }

    /// Enters a correction factor; it works at once.
    ///
    /// # Errors
    /// [`KeyRefusal::BadFigures`] where it is not near one.
    pub fn key_factor(&mut self, factor: f64) -> Result<(), KeyRefusal> {
        self.unlocked()?;
        if !(0.1..=10.0).contains(&factor) {
            return Err(KeyRefusal::BadFigures);
        }
        self.calibration.factor = factor;
        Ok(())
    }

    /// Takes what it has for the weight `kept` of a motor-driven internal weight that rests on it
    /// now, and keeps that at once. `zero`: the counts without it.
    pub(crate) fn match_internal(&mut self, zero: f64, kept: f64) {
        let per_unit = (self.filtered() - zero) / kept;
        self.calibration = Calibration::straight(zero, per_unit);
        self.pending = None;
    }

    /// The signal as it is filtered, in counts.
    pub(crate) fn signal(&self) -> f64 {
        self.filtered()
    }

    /// The menu keeps what was captured, whatever keys there are for it.
    pub(crate) fn keep_now(&mut self) {
        self.keep();
    }

    /// The power went off: what was not kept is gone.
    pub(crate) fn forget(&mut self) {
        self.pending = None;
    }

    fn keep(&mut self) -> bool {
        match self.pending.take() {
            Some((_, Some(new))) => self.calibration = Calibration { factor: self.calibration.factor, ..new },
            // Zero alone: the span stays as it was.
            Some((zero, None)) => self.calibration.zero = zero,
            None => return false,
        }
        true
    }

    /// Keeps what was captured; zero alone leaves the span as it was.
    ///
    /// # Errors
    /// [`KeyRefusal::Nothing`]; [`KeyRefusal::None`] where there is no such key.
    pub fn key_save(&mut self) -> Result<(), KeyRefusal> {
        self.unlocked()?;
        if self.manners.keeps != Keeps::Key {
            return Err(KeyRefusal::None);
        }
        if self.keep() { Ok(()) } else { Err(KeyRefusal::Nothing) }
    }

    /// Leaves: the old calibration stands, but where leaving keeps the new one.
    pub fn key_quit(&mut self) {
        if self.manners.keeps == Keeps::Leaving {
            self.keep();
        }
        self.pending = None;
    }
}

/// The line of several pads shown together.
pub(crate) fn together<'a>(pads: impl Iterator<Item = &'a Indicator> + Clone) -> String {
    let Some(first) = pads.clone().next() else { return "under".into() };
    let panel = &first.panel;
    let places = panel.decimals;
    if pads.clone().any(|pad| matches!(pad.line().as_str(), "over" | "under")) {
        return "over".into();
    }
    let fine: f64 = pads.clone().map(Indicator::fine).sum();
    let shown = (fine / panel.d).round() * panel.d + 0.0;
    let mark = if pads.clone().all(Indicator::steady) { "steady" } else { "moving" };
    let counts: f64 = pads.map(Indicator::filtered).sum();
    format!("{mark} {shown:.places$} {} fine={fine:.*} counts={counts:.0}", panel.unit, places + 2)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn with(manners: Manners) -> Indicator {
        let panel = Panel { unit: "kg".into(), max: 870.0, d: 0.2, decimals: 1 };
        Indicator::new(panel, Calibration::straight(41_000.0, 330.0), manners)
    }

    fn indicator() -> Indicator {
        with(Manners::default())
    }

    fn settle(indicator: &mut Indicator, counts: f64) {
        for _ in 0..MOTION {
            indicator.take(counts);
        }
    }

    #[test]
    fn it_shows_what_was_taught_only_after_saving_and_forgets_it_on_leaving() {
        let mut i = indicator();
        settle(&mut i, 41_250.0);
        i.key_zero().unwrap();
        settle(&mut i, 241_250.0);
        i.key_span(600.0).unwrap();
        assert!((i.fine() - 600.0).abs() < 1e-9);
        i.key_quit();
        assert!((i.fine() - 600.0).abs() > 1.0);
        settle(&mut i, 41_250.0);
        i.key_zero().unwrap();
        settle(&mut i, 241_250.0);
        i.key_span(600.0).unwrap();
        i.key_save().unwrap();
        assert_eq!(i.line(), "steady 600.0 kg fine=600.000 counts=241250");
    }

    #[test]
    fn it_refuses_motion_no_weight_and_span_before_zero() {
        let mut i = indicator();
        assert_eq!(i.key_span(600.0), Err(KeyRefusal::NoZero));
        i.take(41_250.0);
        assert_eq!(i.key_zero(), Err(KeyRefusal::Motion));
        settle(&mut i, 41_250.0);
        assert_eq!(i.key_save(), Err(KeyRefusal::Nothing));
        i.key_zero().unwrap();
        assert_eq!(i.key_span(600.0), Err(KeyRefusal::TooLittle));
        settle(&mut i, 30_000.0);
        assert_eq!(i.key_span(600.0), Err(KeyRefusal::Reversed));
    }

    #[test]
    fn zero_alone_moves_every_reading_by_the_same() {
        let mut i = indicator();
        settle(&mut i, 241_000.0);
        let before = i.fine();
        settle(&mut i, 41_330.0);
        i.key_zero().unwrap();
        i.key_save().unwrap();
        assert!(i.fine().abs() < 1e-9);
        settle(&mut i, 241_000.0);
        assert!((before - i.fine() - 1.0).abs() < 1e-9);
    }

    #[test]
    fn points_straighten_a_bow_and_must_rise() {
        let bowed = |kg: f64| 41_250.0 + 333.0 * (kg + 3.0 * (kg / 870.0) * (1.0 - kg / 870.0));
        let mut i = indicator();
        settle(&mut i, bowed(0.0));
        i.key_zero().unwrap();
        settle(&mut i, bowed(870.0));
        i.key_span(870.0).unwrap();
        settle(&mut i, bowed(435.0));
        assert!(i.fine() > 435.7);
        i.key_point(435.0).unwrap();
        assert_eq!(i.key_point(435.0), Err(KeyRefusal::BadFigures), "the same load twice");
        i.key_save().unwrap();
        assert!((i.fine() - 435.0).abs() < 1e-9);
        settle(&mut i, bowed(870.0));
        assert!((i.fine() - 870.0).abs() < 1e-9);
    }

    #[test]
    fn a_factor_scales_and_stays_through_the_next_adjustment() {
        let mut i = indicator();
        settle(&mut i, 41_000.0 + 33_000.0);
        i.key_factor(1.01).unwrap();
        assert!((i.fine() - 101.0).abs() < 1e-9);
        assert_eq!(i.key_factor(0.0), Err(KeyRefusal::BadFigures));
    }

    #[test]
    fn nothing_is_changed_behind_a_closed_switch_and_putting_it_back_keeps() {
        let mut i = with(Manners { switch: true, keeps: Keeps::Switch, ..Manners::default() });
        settle(&mut i, 41_330.0);
        assert_eq!(i.key_zero(), Err(KeyRefusal::Locked));
        i.switch(true).unwrap();
        i.key_zero().unwrap();
        assert_eq!(i.key_save(), Err(KeyRefusal::None), "there is no such key");
        i.switch(false).unwrap();
        assert!(i.fine().abs() < 1e-9);
        let mut leaving = with(Manners { keeps: Keeps::Leaving, ..Manners::default() });
        settle(&mut leaving, 41_330.0);
        leaving.key_zero().unwrap();
        leaving.key_quit();
        assert!(leaving.fine().abs() < 1e-9);
        assert_eq!(leaving.switch(true), Err(KeyRefusal::None));
    }

    #[test]
    fn a_zero_where_no_sound_platform_has_it_is_an_error_and_tracking_follows_only_near_zero() {
        let mut i =
            with(Manners { zero_counts: Some((30_000.0, 60_000.0)), tracking: true, ..Manners::default() });
        settle(&mut i, 90_000.0);
        assert_eq!(i.key_zero(), Err(KeyRefusal::ErrorAtZero));
        settle(&mut i, 41_000.0 + 330.0 * 0.08);
        for _ in 0..200 {
            i.take(41_000.0 + 330.0 * 0.08);
        }
        assert!(i.fine().abs() < 0.01, "{}", i.fine());
        settle(&mut i, 41_000.0 + 330.0 * 50.0);
        assert!((i.fine() - 49.92).abs() < 0.01, "{}", i.fine());
    }

    #[test]
    fn nothing_is_shown_far_above_max_or_far_below_zero() {
        let mut i = indicator();
        settle(&mut i, 330.0f64.mul_add(880.0, 41_000.0));
        assert_eq!(i.line(), "over");
        settle(&mut i, 330.0f64.mul_add(-9.0, 41_000.0));
        assert_eq!(i.line(), "under");
    }
}
