//! A platform in motion: what lies where on it, how it swings and comes to rest, and what its cells
//! make of that. Deterministic by its seed; floating point throughout, as nature is.

use rand::{Rng, RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde::{Deserialize, Serialize};

use crate::cells::{Cell, CellSettings, shares};

/// What the platform is made of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
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
    /// Its cells; none: one sound cell in the middle.
    #[serde(default)]
    pub cells: Vec<CellSettings>,
    /// Capacity of each cell, in kg; none: enough.
    #[serde(default)]
    pub cell_kg: Option<f64>,
    /// What is not as it should be around the cells.
    #[serde(default)]
    pub around: Surroundings,
}

/// Faults and influences outside the cells.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Surroundings {
    /// Something rubs: the platform sticks until the force has changed by so many kg.
    pub rubbing_kg: f64,
    /// Something lodged under it carries part of the load above this many kg.
    pub debris_from_kg: Option<f64>,
    /// Which part of what is above that.
    pub debris_share: f64,
    /// Amplitude of a vibration, in counts, and its frequency in hertz.
    pub vibration_counts: f64,
    /// Its frequency.
    pub vibration_hz: f64,
    /// Moving air: standard deviation of a slow wander, in counts.
    pub air_counts: f64,
    /// Warm-up: counts by which zero moves in the long run.
    pub warm_up_counts: f64,
    /// Seconds in which it does two thirds of that.
    pub warm_up_s: f64,
    /// A damaged cable: counts of a jump that comes now and then.
    pub cable_counts: f64,
    /// The platform rocks on two feet: load gained on one diagonal and lost on the other, as a share.
    pub twist: f64,
    /// Kelvin from where it was adjusted.
    pub kelvin: f64,
    /// No excitation: only noise about nothing.
    pub no_excitation: bool,
}

/// Something on the platform.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Lying {
    kg: f64,
    x: f64,
    y: f64,
}

/// Seconds that a hand presses on it.
const PUSH_S: f64 = 0.8;

/// A platform in motion. The swing is a damped oscillation about what lies on it.
#[derive(Debug)]
pub struct Platform {
    settings: PlatformSettings,
    cells: Vec<Cell>,
    lying: Vec<Lying>,
    /// A hand that presses, and for how many seconds still.
    hand: (f64, f64),
    felt_kg: f64,
    speed_kg_s: f64,
    /// What gets through to the cells where something rubs.
    through_kg: f64,
    seconds: f64,
    wander: f64,
    jump: f64,
    noise: ChaCha8Rng,
}

impl Platform {
    /// An empty platform at rest.
    pub fn new(mut settings: PlatformSettings, seed: u64) -> Self {
        if settings.cells.is_empty() {
            settings.cells = vec![CellSettings::at(0.5, 0.5)];
        }
        let capacity = settings.cell_kg.unwrap_or(settings.stop_kg * 2.0).max(1e-9);
        let cells = settings.cells.iter().map(|c| Cell::new(c.clone(), capacity)).collect();
        Self {
            cells,
            settings,
            lying: Vec::new(),
            hand: (0.0, 0.0),
            felt_kg: 0.0,
            speed_kg_s: 0.0,
            through_kg: 0.0,
            seconds: 0.0,
            wander: 0.0,
            jump: 0.0,
            noise: ChaCha8Rng::seed_from_u64(seed),
        }
    }

    /// What lies on it, in kg.
    pub fn load_kg(&self) -> f64 {
        self.lying.iter().map(|l| l.kg).sum()
    }

    /// Puts so much on it at a place; both from 0 to 1, from the left and from the rear.
    pub fn put_at(&mut self, kg: f64, x: f64, y: f64) {
        self.lying.push(Lying { kg, x: x.clamp(0.0, 1.0), y: y.clamp(0.0, 1.0) });
    }

    /// Puts so much on the middle, or takes it off again, the last that came first.
    pub fn put(&mut self, kg: f64) {
        if kg >= 0.0 {
            self.put_at(kg, 0.5, 0.5);
            return;
        }
        let mut off = -kg;
        while let Some(last) = self.lying.last_mut().filter(|_| off > 0.0) {
            let part = off.min(last.kg);
            last.kg -= part;
            off -= part;
            if last.kg <= 1e-9 {
                self.lying.pop();
            }
        }
    }

    /// What was found wrong around or in the cells is put right.
    pub fn mend(&mut self, around: Option<&Surroundings>, cells: &[CellSettings]) {
        if let Some(around) = around {
            self.settings.around = around.clone();
            self.jump = 0.0;
            self.wander = 0.0;
        }
        if !cells.is_empty() {
            let capacity = self.capacity();
            self.cells = cells.iter().map(|c| Cell::new(c.clone(), capacity)).collect();
            self.settings.cells = cells.to_vec();
        }
    }

    /// The overload stops are set so that they take over at this load, in kg.
    pub const fn set_stops(&mut self, kg: f64) {
        self.settings.stop_kg = kg;
    }

    fn capacity(&self) -> f64 {
        self.settings.cell_kg.unwrap_or(self.settings.stop_kg * 2.0).max(1e-9)
    }

    /// Pushes it by hand for a moment.
    pub fn push(&mut self, kg: f64) {
        self.hand = (kg, PUSH_S);
    }

    /// Lets time pass, in seconds.
    pub fn pass(&mut self, seconds: f64) {
        // Small steps keep the oscillation true to its equation whatever the sample rate.
        let steps = (seconds / 0.002).ceil().max(1.0);
        let dt = seconds / steps;
        let omega = std::f64::consts::TAU * self.settings.swing_hz;
        let lies = self.load_kg();
        let mut passed = 0.0;
        while passed < steps {
            let load = if self.hand.1 > 0.0 { lies + self.hand.0 } else { lies };
            self.hand.1 -= dt;
            let pull =
                omega.powi(2) * (load - self.felt_kg) - 2.0 * self.settings.damping * omega * self.speed_kg_s;
            self.speed_kg_s += pull * dt;
            self.felt_kg += self.speed_kg_s * dt;
            passed += 1.0;
        }
        self.seconds += seconds;
        let around = &self.settings.around;
        self.through_kg =
            self.through_kg.clamp(self.felt_kg - around.rubbing_kg, self.felt_kg + around.rubbing_kg);
        self.wander += -self.wander * seconds / 4.0
            + around.air_counts * (seconds / 2.0).sqrt() * normal(&mut self.noise);
        if around.cable_counts > 0.0 && self.noise.random::<f64>() < seconds / 6.0 {
            self.jump = around.cable_counts * normal(&mut self.noise);
        }
        let forces = self.forces();
        for (cell, force) in self.cells.iter_mut().zip(forces) {
            cell.pass(force, seconds);
        }
    }

    /// The force on each cell, in kg.
    fn forces(&self) -> Vec<f64> {
        let Surroundings { debris_from_kg, debris_share, .. } = &self.settings.around;
        let mut through = self.through_kg.min(self.settings.stop_kg);
        if let Some(from) = debris_from_kg.filter(|from| through > *from) {
            through -= debris_share * (through - from);
        }
        let load = self.load_kg();
        // Where nothing lies, what is felt (a push, the last of a swing) is felt in the middle.
        let middle = [Lying { kg: 1.0, x: 0.5, y: 0.5 }];
        let (lying, whole) =
            if load > 1e-9 { (self.lying.as_slice(), load) } else { (middle.as_slice(), 1.0) };
        let mut forces = vec![0.0; self.cells.len()];
        let twist = self.settings.around.twist;
        for one in lying {
            let rocks = 1.0 + 16.0 * twist * (one.x - 0.5) * (one.y - 0.5);
            let through = through * rocks;
            for (force, share) in forces.iter_mut().zip(shares(&self.settings.cells, one.x, one.y)) {
                *force += through * (one.kg / whole) * share;
            }
        }
        forces
    }

    /// What each cell gives, in counts above its dead load.
    pub fn cell_counts(&self) -> Vec<f64> {
        let kelvin = self.settings.around.kelvin;
        self.cells
            .iter()
            .zip(self.forces())
            .map(|(cell, force)| self.settings.counts_per_kg * cell.output_kg(force, kelvin))
            .collect()
    }

    /// One sample of the converter, in counts.
    pub fn sample(&mut self) -> f64 {
        let noise = self.settings.noise_counts * normal(&mut self.noise);
        let around = &self.settings.around;
        if around.no_excitation {
            return noise;
        }
        let sum: f64 = self.cell_counts().iter().sum();
        let shake =
            around.vibration_counts * (std::f64::consts::TAU * around.vibration_hz * self.seconds).sin();
        let warm = if around.warm_up_s > 0.0 {
            around.warm_up_counts * (1.0 - (-self.seconds / around.warm_up_s).exp())
        } else {
            0.0
        };
        self.settings.dead_counts + sum + noise + shake + self.wander + self.jump + warm
    }
}

/// A standard normal figure (Box and Muller).
pub(crate) fn normal(rng: &mut impl Rng) -> f64 {
    let (u, v): (f64, f64) = (rng.random::<f64>().max(1e-12), rng.random());
    (-2.0 * u.ln()).sqrt() * (std::f64::consts::TAU * v).cos()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn settings() -> PlatformSettings {
        PlatformSettings {
            dead_counts: 41_250.0,
            counts_per_kg: 333.0,
            noise_counts: 0.0,
            swing_hz: 1.6,
            damping: 0.3,
            stop_kg: 2_000.0,
            cells: Vec::new(),
            cell_kg: None,
            around: Surroundings::default(),
        }
    }

    fn on_four() -> PlatformSettings {
        let cells =
            [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)].map(|(x, y)| CellSettings::at(x, y)).to_vec();
        PlatformSettings { cells, ..settings() }
    }

    /// Reads it at rest, in kg.
    fn rests(platform: &mut Platform) -> f64 {
        platform.pass(20.0);
        (platform.sample() - 41_250.0) / 333.0
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
        let around = Surroundings { air_counts: 2.0, cable_counts: 30.0, ..Surroundings::default() };
        let noisy = PlatformSettings { noise_counts: 3.0, around, ..settings() };
        let run = |seed| {
            let mut platform = Platform::new(noisy.clone(), seed);
            let mut sample = || {
                platform.pass(0.1);
                platform.sample().to_bits()
            };
            (0..20).map(|_| sample()).collect::<Vec<_>>()
        };
        assert_eq!(run(7), run(7));
        assert_ne!(run(7), run(8));
    }

    #[test]
    fn above_the_stops_it_reads_no_more() {
        let mut platform = Platform::new(PlatformSettings { stop_kg: 500.0, ..settings() }, 1);
        platform.put(900.0);
        assert!((rests(&mut platform) - 500.0).abs() < 0.01);
    }

    #[test]
    fn sound_corners_read_alike_and_a_weak_one_reads_low_over_itself_only() {
        let mut weak = on_four();
        weak.cells[1].gain = 0.99;
        let at = |settings: &PlatformSettings, x: f64, y: f64| {
            let mut platform = Platform::new(settings.clone(), 1);
            platform.put_at(200.0, x, y);
            rests(&mut platform)
        };
        for (x, y) in [(0.25, 0.25), (0.75, 0.25), (0.75, 0.75), (0.25, 0.75), (0.5, 0.5)] {
            assert!((at(&on_four(), x, y) - 200.0).abs() < 1e-6, "sound at {x} {y}");
        }
        let (over, across) = (at(&weak, 0.75, 0.25), at(&weak, 0.25, 0.75));
        assert!(over < 199.1 && (across - 200.0).abs() < 1e-6, "{over} {across}");
    }

    #[test]
    fn what_rubs_reads_low_going_up_high_coming_down_and_does_not_come_back() {
        let around = Surroundings { rubbing_kg: 1.5, ..Surroundings::default() };
        let mut platform = Platform::new(PlatformSettings { around, damping: 1.0, ..settings() }, 1);
        platform.put(300.0);
        let up = rests(&mut platform);
        platform.put(300.0);
        rests(&mut platform);
        platform.put(-300.0);
        let down = rests(&mut platform);
        platform.put(-300.0);
        let zero = rests(&mut platform);
        assert!(
            (up - 298.5).abs() < 0.01 && (down - 301.5).abs() < 0.01 && (zero - 1.5).abs() < 0.01,
            "{up} {down} {zero}"
        );
    }

    #[test]
    fn debris_is_right_up_to_a_knee_and_low_above_it() {
        let around =
            Surroundings { debris_from_kg: Some(400.0), debris_share: 0.1, ..Surroundings::default() };
        let mut platform = Platform::new(PlatformSettings { around, ..settings() }, 1);
        platform.put(400.0);
        assert!((rests(&mut platform) - 400.0).abs() < 1e-6);
        platform.put(200.0);
        assert!((rests(&mut platform) - 580.0).abs() < 0.01);
    }

    #[test]
    fn without_excitation_there_is_no_signal_and_what_is_taken_off_comes_from_the_top() {
        let around = Surroundings { no_excitation: true, ..Surroundings::default() };
        let mut dead = Platform::new(PlatformSettings { around, ..settings() }, 1);
        dead.put(100.0);
        dead.pass(5.0);
        assert!(dead.sample().abs() < 1e-9);
        let mut platform = Platform::new(on_four(), 1);
        platform.put_at(20.0, 0.2, 0.2);
        platform.put_at(10.0, 0.8, 0.8);
        platform.put(-15.0);
        assert!((platform.load_kg() - 15.0).abs() < 1e-9);
        platform.put(-100.0);
        assert!(platform.load_kg().abs() < 1e-9);
    }
}
