//! Normal laws, as the diagnosis needs them.

use libm::erfc;

/// The density of a normal law at so far from its mean.
pub(super) fn normal(off: f64, sd: f64) -> f64 {
    libm::exp(-0.5 * (off / sd).powi(2)) / (sd * std::f64::consts::TAU.sqrt())
}

/// ln Φ(x), never below ln 10⁻¹³.
pub(super) fn log_below(x: f64) -> f64 {
    libm::log((0.5 * erfc(-x / std::f64::consts::SQRT_2)).max(1e-13))
}

/// The logarithm of a normal density with a wide one beneath it, so that no figure is impossible.
pub(super) fn log_heavy(off: f64, sd: f64, wide: f64) -> f64 {
    libm::log((0.9 * normal(off, sd) + 0.1 * normal(off, wide)).max(1e-12))
}

/// ln Σ eˣ.
pub(super) fn log_sum(logs: impl Iterator<Item = f64> + Clone) -> f64 {
    let top = logs.clone().fold(f64::NEG_INFINITY, f64::max);
    if top == f64::NEG_INFINITY {
        top
    } else {
        top + libm::log(logs.map(|l| libm::exp(l - top)).sum::<f64>())
    }
}
