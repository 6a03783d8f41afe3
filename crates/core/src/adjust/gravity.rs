//! Gravity: what a scale reads that was adjusted at one place and is used at another. Source:
//! WELMEC Guide 2 (gravity zones), with the normal formula of 1980 and the free-air correction.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::tolerance::{Tolerance, ToleranceError};
use crate::wording::Text;
use crate::working::Working;

const SOURCE: &str = "WELMEC Guide 2, gravity zones";
const LATITUDE_DEG: f64 = 90.0;
const ALTITUDE_M: (f64, f64) = (-500.0, 9_000.0);
/// No place on Earth has a g outside these, in m/s².
const G_RANGE: (f64, f64) = (9.7, 9.9);

/// A place where scales are adjusted or used.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Site {
    /// What it is called.
    pub name: String,
    /// Latitude in degrees, north above zero.
    pub latitude: Decimal,
    /// Altitude above sea level in metres.
    pub altitude_m: Decimal,
}

/// Why a gravity cannot be told.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum GravityError {
    /// Beyond a pole.
    Latitude(String),
    /// Deeper or higher than any place where scales are used.
    Altitude(String),
    /// Not the g of any place.
    G(String),
    /// The tolerance at Max cannot be told.
    Tolerance(#[from] ToleranceError),
}

impl From<&GravityError> for Text {
    fn from(error: &GravityError) -> Self {
        match error {
            GravityError::Latitude(f0) => text!("gravity-latitude", f0),
            GravityError::Altitude(f0) => text!("gravity-altitude", f0),
            GravityError::G(f0) => text!("gravity-g", f0),
            GravityError::Tolerance(error) => error.into(),
        }
    }
}

impl From<GravityError> for Text {
    fn from(error: GravityError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for GravityError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl From<GravityError> for Refusal {
    fn from(error: GravityError) -> Self {
        let (code, field) = match &error {
            GravityError::Latitude(_) => ("latitude", "latitude"),
            GravityError::Altitude(_) => ("altitude", "altitude_m"),
            GravityError::G(_) => ("gravity", "g"),
            GravityError::Tolerance(inner) => return inner.clone().into(),
        };
        Self::because(code, Text::from(&error)).at(field)
    }
}

impl Site {
    /// g here in m/s²: g = 9.780318·(1 + 0.0053024·sin²φ − 0.0000058·sin²2φ) − 0.000003085·a.
    /// Source: WELMEC Guide 2.
    ///
    /// # Errors
    /// [`GravityError`] where |φ| > 90° or the altitude is outside −500 to 9 000 m.
    pub fn g(&self) -> Result<f64, GravityError> {
        gravity(&self.latitude, &self.altitude_m)
    }
}

/// g in m/s² from latitude in degrees and altitude in metres.
///
/// # Examples
/// ```
/// use ombret_core::adjust::gravity;
/// use ombret_core::quantity::Decimal;
///
/// let (north, south) = (gravity(&Decimal::from(60u32), &Decimal::zero()), gravity(&Decimal::from(40u32), &Decimal::zero()));
/// // Twenty degrees make nearly two in a thousand.
/// assert!((north.unwrap() / south.unwrap() - 1.001_8).abs() < 0.000_1);
/// assert!(gravity(&Decimal::from(91u32), &Decimal::zero()).is_err());
/// ```
///
/// # Errors
/// [`GravityError`] where |φ| > 90° or the altitude is outside −500 to 9 000 m.
pub fn gravity(latitude: &Decimal, altitude_m: &Decimal) -> Result<f64, GravityError> {
    let (degrees, altitude) = (latitude.to_f64(), altitude_m.to_f64());
    if degrees.abs() > LATITUDE_DEG {
        return Err(GravityError::Latitude(latitude.to_string()));
    }
    if !(ALTITUDE_M.0..=ALTITUDE_M.1).contains(&altitude) {
        return Err(GravityError::Altitude(altitude_m.to_string()));
    }
    let phi = degrees.to_radians();
    let (single, double) = (libm::sin(phi).powi(2), libm::sin(2.0 * phi).powi(2));
    Ok(9.780_318 * (1.0 + 0.005_302_4 * single - 0.000_005_8 * double) - 0.000_003_085 * altitude)
}

/// A g that was typed, in m/s².
///
/// # Errors
/// [`GravityError::G`] where no place has it.
pub fn given_g(g: &Decimal) -> Result<f64, GravityError> {
    let value = g.to_f64();
    if (G_RANGE.0..=G_RANGE.1).contains(&value) { Ok(value) } else { Err(GravityError::G(g.to_string())) }
}

/// What a scale adjusted at one g and used at another reads.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct GravityShift {
    /// g where it was adjusted, m/s².
    pub adjusted: f64,
    /// g where it is used, m/s².
    pub used: f64,
    /// Readings there are this many times those where it was adjusted.
    pub factor: f64,
    /// Change at Max, in divisions.
    pub shift_at_max_d: f64,
    /// A third of the tolerance at Max, in divisions.
    pub limit_d: f64,
}

impl GravityShift {
    /// Of a scale with `max` and `d`, judged by `tolerance`: n·(g₂ − g₁)/g₁ divisions at Max against
    /// MPE(Max)/3.
    ///
    /// # Errors
    /// [`GravityError::Tolerance`].
    pub fn new(
        max: &Mass,
        d: &Mass,
        tolerance: &Tolerance,
        adjusted: f64,
        used: f64,
    ) -> Result<Self, GravityError> {
        let n = max.ratio(d).unwrap_or_else(Decimal::zero).to_f64();
        let mpe = tolerance.at(max, Some(d), Some(max))?;
        let mpe_d = mpe.ratio(d).unwrap_or_else(Decimal::zero).to_f64();
        Ok(Self {
            adjusted,
            used,
            factor: used / adjusted,
            shift_at_max_d: n * (used - adjusted) / adjusted,
            limit_d: mpe_d / 3.0,
        })
    }

    /// More than a third of the tolerance at Max: adjust on site, or enter g.
    pub fn matters(&self) -> bool {
        self.shift_at_max_d.abs() > self.limit_d
    }

    /// How it comes about.
    pub fn working(&self, max: &Mass, d: &Mass) -> Working {
        let result = text!(
            "gravity-shift-at-max-d-d",
            shift_at_max_d = crate::wording::signed(self.shift_at_max_d, 2),
            limit_d = crate::wording::fixed(self.limit_d, 2)
        );
        Working::new(
            text!("head-gravity"),
            "g = 9.780318·(1 + 0.0053024·sin²φ − 0.0000058·sin²2φ) − 0.000003085·a;  shift = n·(g₂ − g₁)/g₁",
            result,
            SOURCE,
        )
        .with("g₁", text!("gravity-where-it-was-adjusted-m"), format!("{:.5}", self.adjusted))
        .with("g₂", text!("gravity-where-it-is-used-m"), format!("{:.5}", self.used))
        .with("n", text!("gravity-divisions-max-d"), max.ratio(d).unwrap_or_else(Decimal::zero))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::Unit;
    use crate::tolerance::{Class, Scheme};
    use proptest::prelude::*;

    fn at(latitude: i64, altitude: i64) -> f64 {
        gravity(&Decimal::new(latitude, 1), &Decimal::new(altitude, 0)).unwrap()
    }

    proptest! {
        #[test]
        fn g_rises_to_the_poles_falls_with_height_and_is_the_same_north_and_south(latitude in 0i64..=890, altitude in -500i64..8_900) {
            prop_assert!(at(latitude + 10, altitude) > at(latitude, altitude));
            prop_assert!(at(latitude, altitude + 100) < at(latitude, altitude));
            prop_assert!((at(-latitude, altitude) - at(latitude, altitude)).abs() < 1e-12);
        }

        #[test]
        fn going_there_and_back_leaves_the_reading_as_it_was(a in 0i64..=900, b in 0i64..=900) {
            let (max, d) = (Mass::new(Decimal::new(870, 0), Unit::Kg), Mass::new(Decimal::new(2, 1), Unit::Kg));
            let tolerance = Tolerance::by_class(Scheme::R76InService, Class::III);
            let shift = |from, to| GravityShift::new(&max, &d, &tolerance, at(from, 0), at(to, 0)).unwrap();
            prop_assert!((shift(a, b).factor * shift(b, a).factor - 1.0).abs() < 1e-12);
            prop_assert!(!shift(a, a).matters());
        }
    }
}
