//! Normal laws, as the diagnosis needs them.

use statrs::function::erf::erfc;

/// The density of a normal law at so far from its mean.
pub(super) fn normal(off: f64, sd: f64) -> f64 {
    (-0.5 * (off / sd).powi(2)).exp() / (sd * std::f64::consts::TAU.sqrt())
}

/// ln Φ(x), never below ln 10⁻¹³.
pub(super) fn log_below(x: f64) -> f64 {
    (0.5 * erfc(-x / std::f64::consts::SQRT_2)).max(1e-13).ln()
}

/// The logarithm of a normal density with a wide one beneath it, so that no figure is impossible.
pub(super) fn log_heavy(off: f64, sd: f64, wide: f64) -> f64 {
    (0.9 * normal(off, sd) + 0.1 * normal(off, wide)).max(1e-12).ln()
}

/// ln Σ eˣ.
pub(super) fn log_sum(logs: impl Iterator<Item = f64> + Clone) -> f64 {
    let top = logs.clone().fold(f64::NEG_INFINITY, f64::max);
    if top == f64::NEG_INFINITY { top } else { top + logs.map(|l| (l - top).exp()).sum::<f64>().ln() }
}
