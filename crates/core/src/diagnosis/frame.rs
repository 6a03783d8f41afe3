//! The readings under one kind of noise, whitened, and how likely they are when shapes of unknown size are
//! added to it. Source: marginal likelihood of a linear Gaussian model; matrix determinant lemma.

use nalgebra::{Cholesky, DMatrix, DVector, Dyn};

use super::shape::{Shape, Sight};
use super::ways::{Fixed, Noise, Way};

/// What is the same for every way: how a sound scale's errors hang together over all rows.
pub(super) struct Ground {
    sound: DMatrix<f64>,
}

/// The readings with a figure under one kind of noise.
pub(super) struct Frame<'s, 'a> {
    sight: &'s Sight<'a>,
    pub noise: Noise,
    factor: Cholesky<f64, Dyn>,
    half_log_det: f64,
    /// Whitened shapes that were asked for.
    known: Vec<(Shape, DVector<f64>)>,
    fixed: Vec<(Fixed, DVector<f64>)>,
}

/// How well a way explains the figures.
#[derive(Clone, Debug)]
pub(super) struct Evidence {
    /// Natural logarithm of the likelihood, but for what is the same for all.
    pub log: f64,
    /// Sizes of the shapes, as they come out, in their standard deviations.
    pub sizes: Vec<f64>,
    /// Standard deviation of the first size, in its own.
    pub first_sd: f64,
}

impl Ground {
    pub fn of(sight: &Sight, sound: &[(Shape, f64)]) -> Self {
        let m = sight.rows.len();
        let columns: Vec<DVector<f64>> =
            sound.iter().map(|(shape, size)| DVector::from_vec(sight.of(*shape)) * *size).collect();
        let all = DMatrix::from_columns(&columns);
        debug_assert_eq!(all.nrows(), m);
        Self { sound: &all * all.transpose() }
    }
}

/// The part of the readings that the cause fixes.
pub(super) fn fixed_part(sight: &Sight, fixed: Fixed) -> Vec<f64> {
    sight
        .rows
        .iter()
        .map(|row| match fixed {
            Fixed::Nothing => 0.0,
            Fixed::Ratio(times) => row.load * (times - 1.0),
            Fixed::CellLost(cell, deck, lost) => -lost * row.load * sight.facts.share(cell, row.place, deck),
        })
        .collect()
}

/// Variance of each reading by itself, in square divisions.
pub(super) fn own_variance(sight: &Sight, noise: Noise, at: usize) -> f64 {
    let row = &sight.rows[at];
    let standing = noise.standing.map_or(0.0, |(cell, deck, lost, off)| {
        lost * row.load * sight.facts.share_slope(cell, row.place, deck) * off
    });
    row.sd.powi(2) + noise.each.powi(2) + standing.powi(2)
}

/// How two rows hang together under a kind of noise.
pub(super) fn together(ground: &Ground, sight: &Sight, noise: Noise, a: usize, b: usize) -> f64 {
    let (one, other) = (&sight.rows[a], &sight.rows[b]);
    let walked = noise.walk.powi(2) * one.at_s.min(other.at_s);
    let alike = if noise.alike > 0.0 && one.load.to_bits() == other.load.to_bits() && one.place == other.place
    {
        // The same load reads the same again, mostly also from the other side.
        noise.alike.powi(2) * if one.down == other.down { 1.0 } else { 0.7 }
    } else {
        0.0
    };
    ground.sound[(a, b)] * noise.times.powi(2) + walked + alike
}

impl<'s, 'a> Frame<'s, 'a> {
    pub fn of(ground: &Ground, sight: &'s Sight<'a>, noise: Noise) -> Option<Self> {
        let read = &sight.read;
        let covariance = DMatrix::from_fn(read.len(), read.len(), |i, j| {
            let own = if i == j { own_variance(sight, noise, read[i]) } else { 0.0 };
            own + if i >= j { together(ground, sight, noise, read[i], read[j]) } else { 0.0 }
        });
        // Only the lower part is read.
        let factor = Cholesky::new(covariance)?;
        let half_log_det: f64 = factor.l_dirty().diagonal().iter().map(|l| l.ln()).sum();
        half_log_det.is_finite().then_some(Self {
            sight,
            noise,
            factor,
            half_log_det,
            known: Vec::new(),
            fixed: Vec::new(),
        })
    }

    fn whiten(&self, of: impl Fn(usize) -> f64) -> DVector<f64> {
        let read = &self.sight.read;
        let mut whitened = DVector::from_fn(read.len(), |i, _| of(read[i]));
        self.factor.l_dirty().solve_lower_triangular_mut(&mut whitened);
        whitened
    }

    /// A shape, whitened.
    pub fn shape(&mut self, shape: Shape) -> usize {
        if let Some(at) = self.known.iter().position(|(known, _)| *known == shape) {
            return at;
        }
        let column = self.whiten(|at| shape.at(&self.sight.rows[at], self.sight.facts));
        self.known.push((shape, column));
        self.known.len() - 1
    }

    /// The errors less what the cause fixes, whitened.
    pub fn errors(&mut self, fixed: Fixed) -> usize {
        if let Some(at) = self.fixed.iter().position(|(known, _)| *known == fixed) {
            return at;
        }
        let part = fixed_part(self.sight, fixed);
        let seen = self.sight.seen;
        let column = self.whiten(|at| seen[at].error().unwrap_or(0.0) - part[at]);
        self.fixed.push((fixed, column));
        self.fixed.len() - 1
    }

    /// How likely the figures are under a way, whose noise is the frame's.
    pub fn evidence(&mut self, way: &Way) -> Evidence {
        let errors = self.errors(way.fixed);
        let columns: Vec<(usize, f64)> =
            way.shapes.iter().map(|(shape, size)| (self.shape(*shape), *size)).collect();
        let z = &self.fixed[errors].1;
        let quiet = -0.5 * z.norm_squared() - self.half_log_det;
        match columns.as_slice() {
            [] => Evidence { log: quiet, sizes: Vec::new(), first_sd: 1.0 },
            [(at, size)] => {
                let u = &self.known[*at].1;
                let (b, m) = (size * u.dot(z), 1.0 + size * size * u.norm_squared());
                Evidence {
                    log: quiet + 0.5 * (b * b / m - m.ln()),
                    sizes: vec![b / m],
                    first_sd: m.sqrt().recip(),
                }
            }
            several => {
                let r = several.len();
                let m = DMatrix::from_fn(r, r, |i, j| {
                    let dot = self.known[several[i].0].1.dot(&self.known[several[j].0].1);
                    f64::from(u8::from(i == j)) + several[i].1 * several[j].1 * dot
                });
                let b = DVector::from_fn(r, |i, _| several[i].1 * self.known[several[i].0].1.dot(z));
                let Some(factor) = Cholesky::new(m) else {
                    return Evidence { log: f64::NEG_INFINITY, sizes: vec![0.0; r], first_sd: 1.0 };
                };
                let sizes = factor.solve(&b);
                let half_det: f64 = factor.l_dirty().diagonal().iter().map(|l| l.ln()).sum();
                let mut first = DVector::zeros(r);
                first[0] = 1.0;
                let first_sd = factor.solve(&first)[0].max(0.0).sqrt();
                Evidence {
                    log: quiet + 0.5 * b.dot(&sizes) - half_det,
                    sizes: sizes.as_slice().to_vec(),
                    first_sd,
                }
            }
        }
    }

    /// The largest whitened error that a way leaves, with its sizes as they came out.
    pub fn leaves(&mut self, way: &Way, evidence: &Evidence) -> f64 {
        let errors = self.errors(way.fixed);
        let columns: Vec<(usize, f64)> =
            way.shapes.iter().map(|(shape, size)| (self.shape(*shape), *size)).collect();
        let mut left = self.fixed[errors].1.clone();
        for ((at, size), by) in columns.iter().zip(&evidence.sizes) {
            left.axpy(-size * by, &self.known[*at].1, 1.0);
        }
        left.amax()
    }

    /// How likely the figures are where everything is shown as so many times the load: sums over the whitened
    /// errors, so that many ratios cost no more than one.
    pub fn ratios(&mut self) -> Ratios {
        let (errors, slope) = (self.errors(Fixed::Nothing), self.shape(Shape::Slope));
        let (z, u) = (&self.fixed[errors].1, &self.known[slope].1);
        let n = self.sight.facts.n;
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
