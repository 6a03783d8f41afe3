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
pub struct Calibration {
    /// Counts at zero.
    pub zero: f64,
    /// Counts for one unit of mass.
    pub per_unit: f64,
}

/// Why a key does nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
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
}

/// An indicator with its display and keys.
#[derive(Debug)]
pub struct Indicator {
    panel: Panel,
    calibration: Calibration,
    pending: Option<(f64, Option<Calibration>)>,
    recent: VecDeque<f64>,
}

impl Indicator {
    /// An indicator as it was left.
    pub const fn new(panel: Panel, calibration: Calibration) -> Self {
        Self { panel, calibration, pending: None, recent: VecDeque::new() }
    }

    /// Takes a sample of the converter.
    pub fn take(&mut self, counts: f64) {
        self.recent.push_back(counts);
        while self.recent.len() > MOTION {
            self.recent.pop_front();
        }
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
        (self.filtered() - active.zero) / active.per_unit
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
        format!("{mark} {shown:.places$} {} fine={fine:.*} counts={:.0}", self.panel.unit, places + 2, self.filtered())
    }

    /// Sets it up.
    ///
    /// # Errors
    /// [`KeyRefusal::BadFigures`].
    pub fn key_setup(&mut self, panel: Panel) -> Result<(), KeyRefusal> {
        let sane = panel.max > panel.d && panel.d > 0.0 && panel.max.is_finite() && panel.decimals <= 6 && panel.unit == self.panel.unit;
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
    /// [`KeyRefusal::Motion`].
    pub fn key_zero(&mut self) -> Result<(), KeyRefusal> {
        if !self.steady() {
            return Err(KeyRefusal::Motion);
        }
        self.pending = Some((self.filtered(), None));
        Ok(())
    }

    /// Captures span with so much on it, in its unit.
    ///
    /// # Errors
    /// [`KeyRefusal`]: zero first, at rest, and enough weight.
    pub fn key_span(&mut self, weight: f64) -> Result<(), KeyRefusal> {
        let Some((zero, _)) = self.pending else { return Err(KeyRefusal::NoZero) };
        if !self.steady() {
            return Err(KeyRefusal::Motion);
        }
        let per_unit = (self.filtered() - zero) / weight;
        if weight <= 0.0 || weight > self.panel.max {
            return Err(KeyRefusal::BadFigures);
        }
        // Fewer than half a count a division cannot be told from noise.
        if per_unit * self.panel.d < 0.5 {
            return Err(KeyRefusal::TooLittle);
        }
        self.pending = Some((zero, Some(Calibration { zero, per_unit })));
        Ok(())
    }

    /// Saves what was captured.
    ///
    /// # Errors
    /// [`KeyRefusal::Nothing`].
    pub fn key_save(&mut self) -> Result<(), KeyRefusal> {
        match self.pending.take() {
            Some((_, Some(new))) => {
                self.calibration = new;
                Ok(())
            }
            other => {
                self.pending = other;
                Err(KeyRefusal::Nothing)
            }
        }
    }

    /// Leaves without saving: the old calibration stands.
    pub fn key_quit(&mut self) {
        self.pending = None;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn indicator() -> Indicator {
        let panel = Panel { unit: "kg".into(), max: 870.0, d: 0.2, decimals: 1 };
        Indicator::new(panel, Calibration { zero: 41_000.0, per_unit: 330.0 })
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
        i.key_zero().unwrap();
        assert_eq!(i.key_save(), Err(KeyRefusal::Nothing));
        assert_eq!(i.key_span(600.0), Err(KeyRefusal::TooLittle));
        settle(&mut i, 30_000.0);
        assert_eq!(i.key_span(600.0), Err(KeyRefusal::TooLittle));
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
