//! The platform: what lies on it, how it swings when that changes, and the signal of its cells in
//! internal counts.

use rand::{Rng, RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde::{Deserialize, Serialize};

/// What the platform is made of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PlatformSettings {
    /// Counts of the empty platform.
    pub dead_counts: f64,
    /// Counts for a kilogram on it.
    pub counts_per_kg: f64,
    /// Standard deviation of the noise of one sample, in counts.
    pub noise_counts: f64,
    /// Natural frequency of the swing, in hertz.
    pub swing_hz: f64,
    /// Damping ratio of the swing (1: none).
    pub damping: f64,
    /// Load at which the overload stops take over, in kg.
    pub stop_kg: f64,
}

/// A platform in motion. The swing is a damped oscillation about what lies on it.
#[derive(Debug)]
pub struct Platform {
    settings: PlatformSettings,
    load_kg: f64,
    felt_kg: f64,
    speed_kg_s: f64,
    noise: ChaCha8Rng,
}

impl Platform {
    /// An empty platform at rest.
    pub fn new(settings: PlatformSettings, seed: u64) -> Self {
        Self { settings, load_kg: 0.0, felt_kg: 0.0, speed_kg_s: 0.0, noise: ChaCha8Rng::seed_from_u64(seed) }
    }

    /// What lies on it, in kg.
    pub const fn load_kg(&self) -> f64 {
        self.load_kg
    }

    /// Puts so much on it (or takes it off).
    pub fn put(&mut self, kg: f64) {
        self.load_kg = (self.load_kg + kg).max(0.0);
    }

    /// Pushes it by hand for a moment.
    pub fn push(&mut self, kg: f64) {
        self.felt_kg += kg;
    }

    /// Lets time pass, in seconds.
    pub fn pass(&mut self, seconds: f64) {
        // Small steps keep the oscillation true to its equation whatever the sample rate.
        let steps = (seconds / 0.002).ceil().max(1.0);
        let dt = seconds / steps;
        let omega = std::f64::consts::TAU * self.settings.swing_hz;
        let mut passed = 0.0;
        while passed < steps {
            let pull = omega.powi(2) * (self.load_kg - self.felt_kg) - 2.0 * self.settings.damping * omega * self.speed_kg_s;
            self.speed_kg_s += pull * dt;
            self.felt_kg += self.speed_kg_s * dt;
            passed += 1.0;
        }
    }

    /// One sample of the converter, in counts.
    pub fn sample(&mut self) -> f64 {
        let carried = self.felt_kg.min(self.settings.stop_kg);
        self.settings.counts_per_kg.mul_add(carried, self.settings.dead_counts) + self.settings.noise_counts * normal(&mut self.noise)
    }
}

/// A standard normal figure (Box and Muller).
fn normal(rng: &mut impl Rng) -> f64 {
    let (u, v): (f64, f64) = (rng.random::<f64>().max(1e-12), rng.random());
    (-2.0 * u.ln()).sqrt() * (std::f64::consts::TAU * v).cos()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn settings() -> PlatformSettings {
        PlatformSettings { dead_counts: 41_250.0, counts_per_kg: 333.0, noise_counts: 0.0, swing_hz: 1.6, damping: 0.3, stop_kg: 2_000.0 }
    }

    #[test]
    fn it_swings_past_the_load_and_comes_to_rest_on_it() {
        let mut platform = Platform::new(settings(), 1);
        platform.put(100.0);
        let mut seen: Vec<f64> = Vec::new();
        for _ in 0..100 {
            platform.pass(0.1);
            seen.push((platform.sample() - 41_250.0) / 333.0);
        }
        assert!(seen.iter().any(|kg| *kg > 110.0), "no swing");
        assert!(seen.last().is_some_and(|kg| (kg - 100.0).abs() < 1e-6));
    }

    #[test]
    fn the_same_seed_gives_the_same_noise_and_another_seed_another() {
        let noisy = PlatformSettings { noise_counts: 3.0, ..settings() };
        let run = |seed| {
            let mut platform = Platform::new(noisy.clone(), seed);
            (0..20).map(|_| platform.sample().to_bits()).collect::<Vec<_>>()
        };
        assert_eq!(run(7), run(7));
        assert_ne!(run(7), run(8));
    }

    #[test]
    fn above_the_stops_it_reads_no_more() {
        let mut platform = Platform::new(PlatformSettings { stop_kg: 500.0, ..settings() }, 1);
        platform.put(900.0);
        platform.pass(20.0);
        assert!((platform.sample() - 333.0f64.mul_add(500.0, 41_250.0)).abs() < 1.0);
    }
}
