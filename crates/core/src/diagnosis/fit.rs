//! A way held against all readings at once: what it makes of each, how each agrees with all the others, what it
//! expects of one that is not taken yet, and whether the readings look as if it were true.

use nalgebra::{Cholesky, DMatrix, DVector, Dyn};
use statrs::distribution::{ChiSquared, ContinuousCDF};

use crate::ten_digits::ten_digits;

use super::reading_set::ReadingSet;
use super::ways::Explanation;
use super::whitened::SoundCovariance;

/// The readings under one way.
pub(super) struct Fit<'s, 'a, 'g> {
    set: &'s ReadingSet<'a>,
    sound: &'g SoundCovariance,
    way: Explanation,
    /// Terms times their standard deviations, over all rows.
    columns: Vec<Vec<f64>>,
    factor: Cholesky<f64, Dyn>,
    /// The inverse of the covariance times the errors less what the way fixes.
    solved: DVector<f64>,
}

/// A reading against what all the others say of it.
#[derive(Clone, Copy, Debug)]
pub(super) struct LeftOut {
    /// What was read less what the others expect, in divisions.
    pub off: f64,
    /// Standard deviation of that, in divisions.
    pub sd: f64,
}

impl<'s, 'a, 'g> Fit<'s, 'a, 'g> {
    pub fn of(sound: &'g SoundCovariance, set: &'s ReadingSet<'a>, way: &Explanation) -> Option<Self> {
        let column = |term: &super::ways::Term| -> Vec<f64> {
            term.shape.over(set).into_iter().map(|v| v * term.sd).collect()
        };
        let columns: Vec<Vec<f64>> = way.terms.iter().map(column).collect();
        let read = &set.read;
        let covariance = DMatrix::from_fn(read.len(), read.len(), |i, j| {
            let own = if i == j { way.noise.own_variance(set, read[i]) } else { 0.0 };
            own + sound.between(set, way.noise, read[i], read[j]) + together(&columns, read[i], read[j])
        });
        let factor = Cholesky::new(covariance)?;
        let left = DVector::from_fn(read.len(), |i, _| set.error(read[i]) - way.fixed.at(set, read[i]));
        let solved = factor.solve(&left);
        Some(Self { set, sound, way: way.clone(), columns, factor, solved })
    }

    /// Each reading against all the others. Source: leave-one-out residuals of a Gaussian process.
    pub fn left_out(&self) -> Vec<LeftOut> {
        let inverse = self.factor.inverse();
        let one = |(i, solved): (usize, &f64)| {
            let precision = inverse[(i, i)].max(1e-12);
            LeftOut { off: solved / precision, sd: precision.sqrt().recip() }
        };
        self.solved.iter().enumerate().map(one).collect()
    }

    /// The probability that readings of this way would agree no better: by what it leaves of each, without the
    /// readings of `without`.
    pub fn agrees(&self, without: &[usize]) -> f64 {
        let inverse = self.factor.inverse();
        let (mut sum, mut freedom) = (0.0, 0.0);
        for (i, row) in self.set.read.iter().enumerate().filter(|(_, row)| !without.contains(row)) {
            let own = self.way.noise.own_variance(self.set, *row);
            sum += own * self.solved[i].powi(2);
            freedom += own * inverse[(i, i)];
        }
        if freedom < 0.5 {
            return 1.0;
        }
        ChiSquared::new(freedom).map_or(1.0, |law| ten_digits(1.0 - law.cdf(sum)))
    }

    /// What the cause alone makes of a row, in divisions.
    pub fn by_cause(&self, row: usize) -> f64 {
        let walk = |other: usize| {
            self.way.noise.walk.powi(2) * self.set.rows[row].at_s.min(self.set.rows[other].at_s)
        };
        let read = self.set.read.iter().zip(self.solved.iter());
        self.way.fixed.at(self.set, row)
            + read.map(|(r, solved)| (together(&self.columns, row, *r) + walk(*r)) * solved).sum::<f64>()
    }

    /// Mean and standard deviation of the error at a row, as this way expects it after the readings.
    pub fn predicts(&self, row: usize) -> (f64, f64) {
        let with = |other: usize| {
            self.sound.between(self.set, self.way.noise, row, other) + together(&self.columns, row, other)
        };
        let cross = DVector::from_iterator(self.set.read.len(), self.set.read.iter().map(|r| with(*r)));
        let mean = self.way.fixed.at(self.set, row) + cross.dot(&self.solved);
        let own = self.way.noise.own_variance(self.set, row) + with(row);
        (mean, (own - cross.dot(&self.factor.solve(&cross))).max(1e-4).sqrt())
    }
}

/// How two rows hang together by the terms of a way.
fn together(columns: &[Vec<f64>], a: usize, b: usize) -> f64 {
    columns.iter().map(|column| column[a] * column[b]).sum()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::diagnosis::causes::table;
    use crate::diagnosis::seen::{Facts, Seen};
    use crate::diagnosis::ways::{sound, ways};
    use crate::diagnosis::whitened::Whitened;
    use proptest::prelude::*;

    fn facts(n: f64) -> Facts {
        Facts {
            cells: vec![(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)],
            span: Some(0.5 * n),
            pieces: vec![20.0],
            too_fine: true,
            ..Facts::of(n, 1.5)
        }
    }

    fn readings(read: &[(u32, i32, bool, u32)], n: f64) -> Vec<Seen> {
        let mut at_s = 0.0;
        let one = |(load, off, down, wait): &(u32, i32, bool, u32)| {
            at_s += f64::from(*wait);
            let load = f64::from(*load).min(n);
            let place = (load > 0.0 && *off % 3 == 0).then_some((0.25, 0.75));
            Seen { down: *down, place, ..Seen::of(load, load + f64::from(*off) / 10.0, at_s) }
        };
        read.iter().map(one).collect()
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]

        /// The likelihood by whitening and the determinant lemma is that of the whole covariance, reading by
        /// reading: each one's density given those before it.
        #[test]
        fn the_likelihood_is_that_of_one_reading_after_the_other(
            read in prop::collection::vec((0u32..=3000, -40i32..=40, any::<bool>(), 5u32..=300), 2..9),
        ) {
            let facts = facts(3000.0);
            let seen = readings(&read, facts.n);
            for info in table() {
                let all = ReadingSet::new(&seen, &[], &facts);
                for way in ways(info.cause, &all).into_iter().step_by(7) {
                    let mut log = 0.0;
                    for known in 0..seen.len() {
                        let set = ReadingSet::new(&seen[..known], &seen[known..=known], &facts);
                        let covariance = SoundCovariance::of(&set, &sound(&facts));
                        let (mean, sd) = Fit::of(&covariance, &set, &way).unwrap().predicts(known);
                        let off = seen[known].error().unwrap() - mean;
                        log += -0.5 * (off / sd).powi(2) - libm::log(sd);
                    }
                    let covariance = SoundCovariance::of(&all, &sound(&facts));
                    let told = Whitened::of(&covariance, &all, way.noise).unwrap().evidence(&way).log;
                    prop_assert!((log - told).abs() <= 1e-6 * (1.0 + told.abs()), "{:?}: {log} {told}", info.cause);
                }
            }
        }

        #[test]
        fn a_reading_against_the_others_is_what_they_expect_without_it(
            read in prop::collection::vec((0u32..=3000, -40i32..=40, any::<bool>(), 5u32..=300), 3..9),
            which in any::<prop::sample::Index>(),
        ) {
            let facts = facts(3000.0);
            let seen = readings(&read, facts.n);
            let at = which.index(seen.len());
            let set = ReadingSet::new(&seen, &[], &facts);
            let covariance = SoundCovariance::of(&set, &sound(&facts));
            for info in table() {
                for way in ways(info.cause, &set).into_iter().step_by(11) {
                    let told = Fit::of(&covariance, &set, &way).unwrap().left_out()[at];
                    let mut without = ReadingSet::new(&seen, &[], &facts);
                    without.read.retain(|row| *row != at);
                    let (mean, sd) = Fit::of(&covariance, &without, &way).unwrap().predicts(at);
                    let off = seen[at].error().unwrap() - mean;
                    prop_assert!((told.off - off).abs() < 1e-6 * (1.0 + off.abs()) && (told.sd - sd).abs() < 1e-6 * (1.0 + sd), "{:?}", info.cause);
                }
            }
        }
    }
}
