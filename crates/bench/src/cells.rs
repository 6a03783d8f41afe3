//! The load cells under a platform: how a load is shared among them, and what each makes of its
//! share. The plate is rigid and the cells are springs of one stiffness, so a share is linear in
//! where the load stands, and the shares add up to the load wherever that is.

use serde::{Deserialize, Serialize};

/// A load cell.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CellSettings {
    /// From the left edge, as a share of the width.
    pub x: f64,
    /// From the rear edge, as a share of the depth.
    pub y: f64,
    /// Sensitivity against the nominal one: 1 is right, 0 is dead, below zero is reversed.
    #[serde(default = "one")]
    pub gain: f64,
    /// Nonlinearity: output too high at half its capacity, as a share of its capacity.
    #[serde(default)]
    pub bow: f64,
    /// Hysteresis: output too low going up and too high coming down, as a share of its capacity.
    #[serde(default)]
    pub hysteresis: f64,
    /// Creep: output gained under load in the long run, as a share of the load.
    #[serde(default)]
    pub creep: f64,
    /// Zero that is off, as a share of its capacity (an overloaded cell).
    #[serde(default)]
    pub zero: f64,
    /// Sensitivity lost or gained by a kelvin.
    #[serde(default)]
    pub per_kelvin: f64,
}

const fn one() -> f64 {
    1.0
}

impl CellSettings {
    /// A sound cell at a place.
    pub const fn at(x: f64, y: f64) -> Self {
        Self { x, y, gain: 1.0, bow: 0.0, hysteresis: 0.0, creep: 0.0, zero: 0.0, per_kelvin: 0.0 }
    }
}

/// Seconds in which creep comes to about two thirds.
const CREEP_S: f64 = 300.0;
/// Half the width of the play that makes hysteresis, as a share of the capacity.
const PLAY: f64 = 0.05;

/// A cell in operation.
#[derive(Clone, Debug)]
pub struct Cell {
    settings: CellSettings,
    capacity_kg: f64,
    /// Where the play stands, in kg.
    play: f64,
    /// Creep so far, in kg.
    crept: f64,
}

impl Cell {
    /// A cell at rest.
    pub const fn new(settings: CellSettings, capacity_kg: f64) -> Self {
        Self { settings, capacity_kg, play: 0.0, crept: 0.0 }
    }

    /// Lets time pass under a force.
    pub fn pass(&mut self, force_kg: f64, seconds: f64) {
        let width = PLAY * self.capacity_kg;
        self.play = self.play.clamp(force_kg - width, force_kg + width);
        let towards = self.settings.creep * force_kg;
        self.crept += (towards - self.crept) * (1.0 - (-seconds / CREEP_S).exp());
    }

    /// What it gives for a force, in kg of a sound cell, so many kelvin from where it was adjusted.
    pub fn output_kg(&self, force_kg: f64, kelvin: f64) -> f64 {
        let Self { settings: s, capacity_kg, .. } = self;
        let share = force_kg / capacity_kg;
        let bow = 4.0 * s.bow * share * (1.0 - share) * capacity_kg;
        // The play lags behind by its width, so this is ± hysteresis of the capacity once it is pulled along.
        let lag = s.hysteresis * (self.play - force_kg) / PLAY;
        let linear = s.gain * s.per_kelvin.mul_add(kelvin, 1.0) * (force_kg + bow + lag + self.crept);
        s.zero.mul_add(*capacity_kg, linear)
    }
}

/// The part of a load at (x, y) that each cell carries; they add up to one.
pub fn shares(cells: &[CellSettings], x: f64, y: f64) -> Vec<f64> {
    #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
    let n = cells.len().max(1) as f64;
    let mean = |of: fn(&CellSettings) -> f64| cells.iter().map(of).sum::<f64>() / n;
    let (mx, my) = (mean(|c| c.x), mean(|c| c.y));
    let (sxx, syy) =
        cells.iter().fold((0.0, 0.0), |(xx, yy), c| (xx + (c.x - mx).powi(2), yy + (c.y - my).powi(2)));
    let lever =
        |off: f64, of_cell: f64, square: f64| if square > 1e-12 { off * of_cell / square } else { 0.0 };
    cells.iter().map(|c| 1.0 / n + lever(x - mx, c.x - mx, sxx) + lever(y - my, c.y - my, syy)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn four() -> Vec<CellSettings> {
        [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)].map(|(x, y)| CellSettings::at(x, y)).to_vec()
    }

    proptest! {
        #[test]
        fn what_the_cells_carry_is_the_load_wherever_it_stands(x in 0.0f64..1.0, y in 0.0f64..1.0, places in proptest::collection::vec((0.0f64..1.0, 0.0f64..1.0), 1..9)) {
            let cells: Vec<CellSettings> = places.into_iter().map(|(x, y)| CellSettings::at(x, y)).collect();
            prop_assert!((shares(&cells, x, y).iter().sum::<f64>() - 1.0).abs() < 1e-9);
        }

        #[test]
        fn turning_the_load_round_turns_the_shares(x in 0.0f64..1.0, y in 0.0f64..1.0) {
            let (here, there) = (shares(&four(), x, y), shares(&four(), 1.0 - x, 1.0 - y));
            for cell in 0..4 {
                prop_assert!((here[cell] - there[(cell + 2) % 4]).abs() < 1e-9);
            }
        }

        #[test]
        fn creep_comes_under_load_and_goes_back_without_it(load in 10.0f64..500.0, minutes in 5u32..40) {
            let mut cell = Cell::new(CellSettings { creep: 3e-4, ..CellSettings::at(0.5, 0.5) }, 600.0);
            let first = cell.output_kg(load, 0.0);
            cell.pass(load, f64::from(minutes) * 60.0);
            prop_assert!(cell.output_kg(load, 0.0) > first);
            cell.pass(0.0, 7_200.0);
            prop_assert!(cell.output_kg(0.0, 0.0).abs() < 1e-6);
        }

        #[test]
        fn hysteresis_reads_low_going_up_and_high_coming_down(load in 100.0f64..500.0) {
            let mut cell = Cell::new(CellSettings { hysteresis: 2e-4, ..CellSettings::at(0.5, 0.5) }, 600.0);
            cell.pass(load, 1.0);
            let up = cell.output_kg(load, 0.0);
            cell.pass(600.0, 1.0);
            cell.pass(load, 1.0);
            let down = cell.output_kg(load, 0.0);
            prop_assert!(up < load && load < down, "{up} {down}");
        }

        #[test]
        fn a_bow_is_largest_in_the_middle_and_nothing_at_the_ends(share in 0.0f64..1.0) {
            let cell = Cell::new(CellSettings { bow: 1e-3, ..CellSettings::at(0.5, 0.5) }, 600.0);
            let off = |share: f64| cell.output_kg(share * 600.0, 0.0) - share * 600.0;
            prop_assert!(off(share) <= off(0.5) + 1e-9 && off(share) >= -1e-9);
            prop_assert!(off(0.0).abs() < 1e-9 && off(1.0).abs() < 1e-9);
        }
    }

    #[test]
    fn over_a_cell_it_carries_all_of_the_load_and_the_one_across_is_lifted() {
        let over = shares(&four(), 0.0, 0.0);
        assert!(
            (over[0] - 0.75).abs() < 1e-9 && (over[2] + 0.25).abs() < 1e-9,
            "a rigid plate on springs: {over:?}"
        );
        let middle = shares(&four(), 0.5, 0.5);
        assert!(middle.iter().all(|s| (s - 0.25).abs() < 1e-9));
    }
}
