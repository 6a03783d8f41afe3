//! A way held against all readings at once: what it makes of each, how each agrees with all the others, what it
//! expects of one that is not taken yet, and whether the readings look as if it were true.

use nalgebra::{Cholesky, DMatrix, DVector, Dyn};
use statrs::distribution::{ChiSquared, ContinuousCDF};

use super::frame::{Ground, fixed_part, own_variance, together};
use super::shape::Sight;
use super::ways::Way;

/// The readings under one way.
pub(super) struct Whole<'s, 'a, 'g> {
    sight: &'s Sight<'a>,
    ground: &'g Ground,
    way: Way,
    fixed: Vec<f64>,
    /// Shapes times their sizes, over all rows.
    columns: Vec<Vec<f64>>,
    residual: DVector<f64>,
    factor: Cholesky<f64, Dyn>,
    inverse: DMatrix<f64>,
    solved: DVector<f64>,
}

/// A reading against what all the others say of it.
#[derive(Clone, Copy, Debug)]
pub(super) struct Against {
    /// What was read less what the others expect, in divisions.
    pub off: f64,
    /// Standard deviation of that.
    pub sd: f64,
}

impl<'s, 'a, 'g> Whole<'s, 'a, 'g> {
    pub fn of(ground: &'g Ground, sight: &'s Sight<'a>, way: &Way) -> Option<Self> {
        let fixed = fixed_part(sight, way.fixed);
        let columns: Vec<Vec<f64>> = way
            .shapes
            .iter()
            .map(|(shape, size)| sight.of(*shape).into_iter().map(|v| v * size).collect())
            .collect();
        let read = &sight.read;
        let covariance = DMatrix::from_fn(read.len(), read.len(), |i, j| {
            let own = if i == j { own_variance(sight, way.noise, read[i]) } else { 0.0 };
            own + covary(ground, sight, way, &columns, read[i], read[j])
        });
        let factor = Cholesky::new(covariance)?;
        let residual =
            DVector::from_fn(read.len(), |i, _| sight.seen[read[i]].error().unwrap_or(0.0) - fixed[read[i]]);
        let solved = factor.solve(&residual);
        let inverse = factor.inverse();
        Some(Self { sight, ground, way: way.clone(), fixed, columns, residual, factor, inverse, solved })
    }

    /// Each reading against all the others.
    pub fn against(&self) -> Vec<Against> {
        (0..self.residual.len())
            .map(|i| {
                let precision = self.inverse[(i, i)].max(1e-12);
                Against { off: self.solved[i] / precision, sd: precision.recip().sqrt() }
            })
            .collect()
    }

    /// The probability that readings of this way would agree no better: by what it leaves of each, without the
    /// readings of `without`.
    pub fn fits(&self, without: &[usize]) -> f64 {
        let (mut sum, mut freedom) = (0.0, 0.0);
        for (i, at) in self.sight.read.iter().enumerate() {
            if without.contains(at) {
                continue;
            }
            let own = own_variance(self.sight, self.way.noise, *at);
            sum += own * self.solved[i].powi(2);
            freedom += own * self.inverse[(i, i)];
        }
        if freedom < 0.5 {
            return 1.0;
        }
        ChiSquared::new(freedom).map_or(1.0, |law| 1.0 - law.cdf(sum))
    }

    /// What the cause alone makes of a row, in divisions.
    pub fn by_cause(&self, row: usize) -> f64 {
        let shapes: f64 = self
            .columns
            .iter()
            .map(|column| {
                let along: f64 =
                    self.sight.read.iter().enumerate().map(|(i, at)| column[*at] * self.solved[i]).sum();
                column[row] * along
            })
            .sum();
        let walk: f64 = if self.way.noise.walk > 0.0 {
            let step = self.way.noise.walk.powi(2);
            let at = |i: usize| self.sight.rows[i].at_s;
            self.sight.read.iter().enumerate().map(|(i, r)| step * at(row).min(at(*r)) * self.solved[i]).sum()
        } else {
            0.0
        };
        self.fixed[row] + shapes + walk
    }

    /// Mean and standard deviation of the error at a row, as this way expects it after the readings.
    pub fn predicts(&self, row: usize) -> (f64, f64) {
        let read = &self.sight.read;
        let cross = DVector::from_fn(read.len(), |i, _| {
            covary(self.ground, self.sight, &self.way, &self.columns, row, read[i])
        });
        let mean = self.fixed[row] + cross.dot(&self.solved);
        let own = own_variance(self.sight, self.way.noise, row)
            + covary(self.ground, self.sight, &self.way, &self.columns, row, row);
        let variance = own - cross.dot(&self.factor.solve(&cross));
        (mean, variance.max(1e-4).sqrt())
    }
}

fn covary(ground: &Ground, sight: &Sight, way: &Way, columns: &[Vec<f64>], a: usize, b: usize) -> f64 {
    together(ground, sight, way.noise, a, b) + columns.iter().map(|column| column[a] * column[b]).sum::<f64>()
}
