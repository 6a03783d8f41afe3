//! The readings under one kind of noise, whitened, and how likely they are when terms of unknown size are
//! added to it. Source: marginal likelihood of a linear Gaussian model; matrix determinant lemma.

use std::num::NonZeroU16;

use nalgebra::{Cholesky, DMatrix, DVector, Dyn, SMatrix, SVector};

use super::reading_set::ReadingSet;
use super::shape::Shape;
use super::ways::{Explanation, Fixed, Noise, Term};

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
    /// Variance of each reading, and the least that one has by itself.
    variances: Vec<f64>,
    least: f64,
    /// Whitened shapes that were asked for.
    shapes: Vec<DVector<f64>>,
    /// Where the shape of each slot stands among them; nothing: it was not asked for yet.
    slots: Vec<Option<NonZeroU16>>,
    /// Whitened errors, less what a cause fixes.
    errors: Vec<(Fixed, DVector<f64>)>,
}

/// What a way leaves of the errors.
pub(super) struct Left {
    /// Whitened, for each reading with a figure.
    pub rows: DVector<f64>,
    /// Squared, with the squares of the terms' sizes in their standard deviations: as far as the errors lie from
    /// what the way expects, in standard deviations of all of it.
    pub misfit: f64,
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
        let covariance = sound.of_readings(set, noise);
        let variances = covariance.diagonal().iter().copied().collect();
        let least = set.read.iter().map(|row| noise.own_variance(set, *row)).fold(f64::MAX, f64::min);
        let factor = Cholesky::new(covariance)?;
        let half_log_det: f64 = factor.l_dirty().diagonal().iter().map(|l| libm::log(*l)).sum();
        half_log_det.is_finite().then_some(Self {
            set,
            noise,
            factor,
            half_log_det,
            variances,
            least,
            shapes: Vec::new(),
            slots: Vec::new(),
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
        let slot = shape.slot();
        if let Some(Some(known)) = self.slots.get(slot) {
            return usize::from(known.get()) - 1;
        }
        let column = self.whiten(|row| shape.at(self.set, row));
        self.shapes.push(column);
        if self.slots.len() <= slot {
            self.slots.resize(slot + 1, None);
        }
        // Slots are some hundreds; were there more, the shape would be worked out again.
        self.slots[slot] = u16::try_from(self.shapes.len()).ok().and_then(NonZeroU16::new);
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
    pub fn evidence(&mut self, way: &Explanation) -> Evidence {
        let (errors, columns) = (self.errors(way.fixed), self.columns(&way.terms));
        let z = &self.errors[errors].1;
        let quiet = -0.5 * z.norm_squared() - self.half_log_det;
        let of = Together { whitened: self, columns: &columns, terms: &way.terms, z, quiet };
        match columns.len() {
            0 => Evidence { log: quiet, sizes: Vec::new() },
            1 => of.evidence::<1>(),
            2 => of.evidence::<2>(),
            3 => of.evidence::<3>(),
            4 => of.evidence::<4>(),
            5 => of.evidence::<5>(),
            6 => of.evidence::<6>(),
            7 => of.evidence::<7>(),
            most => {
                debug_assert!(most == 8, "a way of two causes has eight terms at most");
                of.evidence::<8>()
            }
        }
    }

    /// What a way leaves of the errors, with its sizes as they came out.
    pub fn leaves(&mut self, way: &Explanation, evidence: &Evidence) -> Left {
        let (errors, columns) = (self.errors(way.fixed), self.columns(&way.terms));
        let mut rows = self.errors[errors].1.clone();
        let mut by_terms = 0.0;
        for ((term, column), (size, _)) in way.terms.iter().zip(&columns).zip(&evidence.sizes) {
            rows.axpy(-size, &self.shapes[*column], 1.0);
            by_terms += (size / term.sd).powi(2);
        }
        Left { misfit: rows.norm_squared() + by_terms, rows }
    }

    /// What terms on top of a way that leaves this may add to the logarithm of the likelihood, about: each by
    /// itself, as far as it points along what is left; half the misfit at most.
    pub fn may_add(&mut self, terms: &[Term], left: &Left) -> f64 {
        let mut most = 0.0;
        for term in terms {
            let column = self.shape(term.shape);
            let u = &self.shapes[column];
            most += 0.5 * u.dot(&left.rows).powi(2) / (u.norm_squared() + term.sd.powi(-2));
        }
        most
    }

    /// The most that restlessness on top of a way that leaves this may add to the logarithm of the likelihood:
    /// where C ≤ C + N ≤ (1 + ν/λ)·C, with ν the largest that N has in any direction and λ the least of C, the
    /// misfit falls to λ/(λ + ν) of itself at most; and ln|C| grows by Σ ln(1 + e²/cᵢᵢ) at least, since that sum
    /// is convex and the eigenvalues of C majorize its diagonal.
    pub fn restless_may_add(&mut self, way: &Explanation, left: &Left, noise: Noise) -> f64 {
        let set = self.set;
        let walked: f64 = set.read.iter().map(|row| set.rows[*row].at_s).sum();
        let most = noise.each.powi(2) + noise.walk.powi(2) * walked;
        let variance = |(i, row): (usize, &usize)| {
            let terms = way.terms.iter().map(|term| (term.sd * term.shape.at(set, *row)).powi(2));
            self.variances[i] + terms.sum::<f64>()
        };
        let grown = |variance: f64| libm::log1p(noise.each.powi(2) / variance);
        let volume: f64 = set.read.iter().enumerate().map(variance).map(grown).sum();
        0.5 * (left.misfit * most / (self.least + most) - volume)
    }

    /// How likely the figures are where everything is shown as so many times the load: sums over the whitened
    /// errors, so that many ratios cost no more than one.
    pub fn ratios(&mut self) -> Ratios {
        let (errors, slope) = (self.errors(Fixed::Nothing), self.shape(Shape::Slope));
        let (z, u) = (&self.errors[errors].1, &self.shapes[slope]);
        let n = self.set.facts.n;
        Ratios {
            quiet: -0.5 * z.norm_squared() - self.half_log_det,
            along: u.dot(z) * n,
            across: u.norm_squared() * n * n,
        }
    }
}

/// Terms of unknown size on top of the errors.
struct Together<'w, 's, 'a> {
    whitened: &'w Whitened<'s, 'a>,
    columns: &'w [usize],
    terms: &'w [Term],
    /// Whitened errors.
    z: &'w DVector<f64>,
    /// The logarithm without the terms.
    quiet: f64,
}

impl Together<'_, '_, '_> {
    /// Of so many terms; a way of two causes has eight at most.
    fn evidence<const TERMS: usize>(&self) -> Evidence {
        let column = |i: usize| &self.whitened.shapes[self.columns[i]];
        let sd = |i: usize| self.terms[i].sd;
        let mut m = SMatrix::<f64, TERMS, TERMS>::identity();
        for i in 0..TERMS {
            for j in 0..=i {
                m[(i, j)] += sd(i) * sd(j) * column(i).dot(column(j));
            }
        }
        let b = SVector::<f64, TERMS>::from_fn(|i, _| sd(i) * column(i).dot(self.z));
        let Some(factor) = m.cholesky() else {
            return Evidence { log: f64::NEG_INFINITY, sizes: vec![(0.0, 1.0); TERMS] };
        };
        let by = factor.solve(&b);
        let half_det: f64 = factor.l_dirty().diagonal().iter().map(|l| libm::log(*l)).sum();
        let spread = factor.inverse();
        let size = |i: usize| (sd(i) * by[i], sd(i) * spread[(i, i)].max(0.0).sqrt());
        Evidence { log: self.quiet + 0.5 * b.dot(&by) - half_det, sizes: (0..TERMS).map(size).collect() }
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
