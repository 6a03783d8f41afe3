//! A model held against the readings: how likely they are under it, what it makes of each, and what it expects
//! of one that is not taken yet.

use nalgebra::{DMatrix, DVector};

use super::model::{Facts, Model, Seen, Shape, sigma};

/// What a model makes of the readings. The errors that a cause makes are a few shapes of unknown size and a
/// walk in time; a filter through the readings in their order gives the same evidence as the whole
/// covariance, in a time that grows with the readings and not with their cube. Source: Kalman filter and
/// disturbance smoother, de Jong (1989).
pub(super) struct Fit<'m> {
    pub model: &'m Model,
    steps: Vec<Step>,
    residual: Vec<f64>,
    /// The inverse of the covariance times the residual.
    solved: Vec<f64>,
    pub log_evidence: f64,
}

/// What a reading adds: which, how the shapes and the walk make it, and how much of what is new is believed.
struct Step {
    at: usize,
    row: DVector<f64>,
    gain: DVector<f64>,
    variance: f64,
}

impl<'m> Fit<'m> {
    pub fn of(model: &'m Model, seen: &[Seen], facts: &Facts) -> Option<Self> {
        let residual: Vec<f64> = seen.iter().map(|s| s.shown - s.load - model.fixed.at(s, facts)).collect();
        let walks = model.shapes.len();
        let mut order: Vec<usize> = (0..seen.len()).collect();
        order.sort_by(|a, b| seen[*a].order.total_cmp(&seen[*b].order));
        // The size of every shape is one before anything is read; the walk has not begun.
        let mut state = DMatrix::identity(walks + 1, walks + 1);
        state[(walks, walks)] = 0.0;
        let mut now = 0.0;
        let mut steps = Vec::with_capacity(seen.len());
        for at in order {
            let s = &seen[at];
            state[(walks, walks)] += model.walk.powi(2) * (s.order - now);
            now = s.order;
            let row = DVector::from_fn(walks + 1, |i, _| {
                model.shapes.get(i).map_or(1.0, |(shape, scale)| scale * shape.at(s, facts))
            });
            let spread = &state * &row;
            let variance = row.dot(&spread) + sigma(s, model.noise).powi(2);
            if !(variance > 0.0 && variance.is_finite()) {
                return None;
            }
            state.ger(-1.0 / variance, &spread, &spread, 1.0);
            steps.push(Step { at, row, gain: spread / variance, variance });
        }
        let log_det: f64 = steps.iter().map(|step| step.variance.ln()).sum();
        let mut fit = Self { model, steps, residual, solved: Vec::new(), log_evidence: 0.0 };
        fit.solved = fit.solve(&fit.residual);
        let fits: f64 = fit.residual.iter().zip(&fit.solved).map(|(r, s)| r * s).sum();
        fit.log_evidence = -0.5 * (fits + log_det);
        Some(fit)
    }

    /// The inverse of the covariance times `values`: once through the readings and once back.
    fn solve(&self, values: &[f64]) -> Vec<f64> {
        let size = self.model.shapes.len() + 1;
        let mut state = DVector::zeros(size);
        let news: Vec<f64> = self
            .steps
            .iter()
            .map(|step| {
                let new = values[step.at] - step.row.dot(&state);
                state.axpy(new, &step.gain, 1.0);
                new
            })
            .collect();
        let mut back = DVector::zeros(size);
        let mut solved = vec![0.0; values.len()];
        for (step, new) in self.steps.iter().zip(&news).rev() {
            let one = new / step.variance - step.gain.dot(&back);
            solved[step.at] = one;
            back.axpy(one, &step.row, 1.0);
        }
        solved
    }

    /// What the cause itself, not the noise, makes of each reading.
    pub fn explained(&self, seen: &[Seen], facts: &Facts) -> Vec<f64> {
        let of = |(i, s): (usize, &Seen)| {
            let noise = sigma(s, self.model.noise).powi(2) * self.solved[i];
            self.residual[i] - noise + self.model.fixed.at(s, facts)
        };
        seen.iter().enumerate().map(of).collect()
    }

    /// Mean and standard deviation of the error at a reading that is not taken yet.
    pub fn predicts(&self, seen: &[Seen], next: &Seen, facts: &Facts) -> (f64, f64) {
        let together = |s: &Seen| {
            let of =
                |(shape, scale): &(Shape, f64)| scale.powi(2) * shape.at(s, facts) * shape.at(next, facts);
            self.model.shapes.iter().map(of).sum::<f64>() + self.model.walk.powi(2) * s.order.min(next.order)
        };
        let cross: Vec<f64> = seen.iter().map(together).collect();
        let dot = |other: &[f64]| cross.iter().zip(other).map(|(a, b)| a * b).sum::<f64>();
        let mean = self.model.fixed.at(next, facts) + dot(&self.solved);
        let own = together(next) + sigma(next, self.model.noise).powi(2);
        let variance = own - dot(&self.solve(&cross));
        (mean, variance.max(1e-6).sqrt())
    }
}
