//! The readings under one kind of noise, whitened, and how likely they are when terms of unknown size are
//! added to it. Source: marginal likelihood of a linear Gaussian model; matrix determinant lemma.

use nalgebra::{Cholesky, DMatrix, DVector, Dyn};

use super::reading_set::ReadingSet;
use super::shape::Shape;
use super::ways::{Fixed, Noise, Term, Way};

/// How a sound scale's errors hang together over all rows: the same under every way.
pub(super) struct SoundCovariance(DMatrix<f64>);

impl SoundCovariance {
    pub fn of(set: &ReadingSet, sound: &[(Shape, f64)]) -> Self {
        let column = |(shape, sd): &(Shape, f64)| DVector::from_vec(shape.over(set)) * *sd;
        let all = DMatrix::from_columns(&sound.iter().map(column).collect::<Vec<_>>());
        Self(&all * all.transpose())
    }

    /// How two rows hang together under a kind of noise, but for what each has by itself.
    pub fn between(&self, set: &ReadingSet, noise: Noise, a: usize, b: usize) -> f64 {
        let (one, other) = (&set.rows[a], &set.rows[b]);
        let walked = noise.walk.powi(2) * one.at_s.min(other.at_s);
        let same =
            noise.alike > 0.0 && one.load.to_bits() == other.load.to_bits() && one.place == other.place;
        // The same load reads the same again, mostly also from the other side.
        let alike = match (same, one.down == other.down) {
            (false, _) => 0.0,
            (true, true) => noise.alike.powi(2),
            (true, false) => 0.7 * noise.alike.powi(2),
        };
        self.0[(a, b)] * noise.times.powi(2) + walked + alike
    }

    /// The readings' covariance under a kind of noise; only the lower part is filled in.
    fn of_readings(&self, set: &ReadingSet, noise: Noise) -> DMatrix<f64> {
        let read = &set.read;
        DMatrix::from_fn(read.len(), read.len(), |i, j| match i.cmp(&j) {
            std::cmp::Ordering::Less => 0.0,
            std::cmp::Ordering::Equal => {
                self.between(set, noise, read[i], read[j]) + noise.own_variance(set, read[i])
            }
            std::cmp::Ordering::Greater => self.between(set, noise, read[i], read[j]),
        })
    }
}

/// The readings with a figure under one kind of noise.
pub(super) struct Whitened<'s, 'a> {
    set: &'s ReadingSet<'a>,
    pub noise: Noise,
    factor: Cholesky<f64, Dyn>,
    half_log_det: f64,
    /// Whitened shapes that were asked for.
    shapes: Vec<(Shape, DVector<f64>)>,
    /// Whitened errors, less what a cause fixes.
    errors: Vec<(Fixed, DVector<f64>)>,
}

/// How well a way explains the figures.
#[derive(Clone, Debug)]
pub(super) struct Evidence {
    /// Natural logarithm of the likelihood, but for what is the same for all.
    pub log: f64,
    /// Size of each term as it comes out, and its standard deviation, in divisions where its shape is one.
    pub sizes: Vec<(f64, f64)>,
}

impl<'s, 'a> Whitened<'s, 'a> {
    pub fn of(sound: &SoundCovariance, set: &'s ReadingSet<'a>, noise: Noise) -> Option<Self> {
        let factor = Cholesky::new(sound.of_readings(set, noise))?;
        let half_log_det: f64 = factor.l_dirty().diagonal().iter().map(|l| l.ln()).sum();
        half_log_det.is_finite().then_some(Self {
            set,
            noise,
            factor,
            half_log_det,
            shapes: Vec::new(),
            errors: Vec::new(),
        })
    }

    fn whiten(&self, of: impl Fn(usize) -> f64) -> DVector<f64> {
        let read = &self.set.read;
        let mut whitened = DVector::from_fn(read.len(), |i, _| of(read[i]));
        self.factor.l_dirty().solve_lower_triangular_mut(&mut whitened);
        whitened
    }

    fn shape(&mut self, shape: Shape) -> usize {
        if let Some(at) = self.shapes.iter().position(|(known, _)| *known == shape) {
            return at;
        }
        let column = self.whiten(|row| shape.at(self.set, row));
        self.shapes.push((shape, column));
        self.shapes.len() - 1
    }

    fn errors(&mut self, fixed: Fixed) -> usize {
        if let Some(at) = self.errors.iter().position(|(known, _)| *known == fixed) {
            return at;
        }
        let column = self.whiten(|row| self.set.error(row) - fixed.at(self.set, row));
        self.errors.push((fixed, column));
        self.errors.len() - 1
    }

    fn columns(&mut self, terms: &[Term]) -> Vec<usize> {
        terms.iter().map(|term| self.shape(term.shape)).collect()
    }

    /// How likely the figures are under a way, whose noise is this.
    pub fn evidence(&mut self, way: &Way) -> Evidence {
        let (errors, columns) = (self.errors(way.fixed), self.columns(&way.terms));
        let z = &self.errors[errors].1;
        let quiet = -0.5 * z.norm_squared() - self.half_log_det;
        let column = |i: usize| &self.shapes[columns[i]].1;
        let sd = |i: usize| way.terms[i].sd;
        match columns.len() {
            0 => Evidence { log: quiet, sizes: Vec::new() },
            1 => {
                let (b, m) = (sd(0) * column(0).dot(z), 1.0 + sd(0).powi(2) * column(0).norm_squared());
                let size = (sd(0) * b / m, sd(0) / m.sqrt());
                Evidence { log: quiet + 0.5 * (b * b / m - m.ln()), sizes: vec![size] }
            }
            r => {
                let own = |i: usize, j: usize| if i == j { 1.0 } else { 0.0 };
                let m = DMatrix::from_fn(r, r, |i, j| own(i, j) + sd(i) * sd(j) * column(i).dot(column(j)));
                let b = DVector::from_fn(r, |i, _| sd(i) * column(i).dot(z));
                let Some(factor) = Cholesky::new(m) else {
                    return Evidence { log: f64::NEG_INFINITY, sizes: vec![(0.0, 1.0); r] };
                };
                let by = factor.solve(&b);
                let half_det: f64 = factor.l_dirty().diagonal().iter().map(|l| l.ln()).sum();
                let spread = factor.inverse();
                let size = |i: usize| (sd(i) * by[i], sd(i) * spread[(i, i)].max(0.0).sqrt());
                Evidence { log: quiet + 0.5 * b.dot(&by) - half_det, sizes: (0..r).map(size).collect() }
            }
        }
    }

    /// The whitened errors that a way leaves, with its sizes as they came out.
    pub fn leaves(&mut self, way: &Way, evidence: &Evidence) -> DVector<f64> {
        let (errors, columns) = (self.errors(way.fixed), self.columns(&way.terms));
        let mut left = self.errors[errors].1.clone();
        for (column, (size, _)) in columns.iter().zip(&evidence.sizes) {
            left.axpy(-size, &self.shapes[*column].1, 1.0);
        }
        left
    }

    /// What terms on top of a way that leaves this may add to the logarithm of the likelihood, about: each by
    /// itself, as far as it points along what is left.
    pub fn may_add(&mut self, terms: &[Term], left: &DVector<f64>) -> f64 {
        let mut most = 0.0;
        for term in terms {
            let column = self.shape(term.shape);
            let u = &self.shapes[column].1;
            most += 0.5 * u.dot(left).powi(2) / (u.norm_squared() + term.sd.powi(-2));
        }
        most
    }

    /// How likely the figures are where everything is shown as so many times the load: sums over the whitened
    /// errors, so that many ratios cost no more than one.
    pub fn ratios(&mut self) -> Ratios {
        let (errors, slope) = (self.errors(Fixed::Nothing), self.shape(Shape::Slope));
        let (z, u) = (&self.errors[errors].1, &self.shapes[slope].1);
        let n = self.set.facts.n;
        Ratios {
            quiet: -0.5 * z.norm_squared() - self.half_log_det,
            along: u.dot(z) * n,
            across: u.norm_squared() * n * n,
        }
    }
}

/// The likelihood as a function of a ratio.
#[derive(Clone, Copy, Debug)]
pub(super) struct Ratios {
    quiet: f64,
    along: f64,
    across: f64,
}

impl Ratios {
    /// Where everything is shown as `ratio` times the load.
    pub fn at(&self, ratio: f64) -> f64 {
        let off = ratio - 1.0;
        self.quiet + off * self.along - 0.5 * off * off * self.across
    }

    /// The likeliest ratio and its standard deviation; none where no load was read.
    pub fn best(&self) -> Option<(f64, f64)> {
        (self.across > 0.0).then(|| (1.0 + self.along / self.across, self.across.sqrt().recip()))
    }
}
