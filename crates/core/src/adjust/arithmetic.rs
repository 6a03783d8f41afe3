//! The arithmetic of adjusting. Counts and masses are exact; only quotients that do not end are
//! rounded, to 28 significant digits.

use serde::Deserialize;

use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Fewer internal counts than this for a division make the display jump.
const FEW_COUNTS: i64 = 10;

/// Why an adjustment cannot be worked out.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum AdjustError {
    /// The signal does not rise with the load.
    ReversedOrDead {
        /// At zero.
        at_zero: String,
        /// With the weight.
        with_weight: String,
    },
    /// Two neighbouring points do not rise in counts and in mass.
    NotRising {
        /// The lower point, counted from 1.
        first: usize,
        /// The next one.
        second: usize,
    },
    /// A curve needs two points.
    TooFew,
    /// A mass that must be above zero is not.
    NotPositive {
        /// Which one.
        what: Text,
        /// Its value.
        value: String,
    },
}

impl From<&AdjustError> for Text {
    fn from(error: &AdjustError) -> Self {
        match error {
            AdjustError::ReversedOrDead { at_zero, with_weight } => {
                text!("adjust-reversed-or-dead", with_weight, at_zero)
            }
            AdjustError::NotRising { first, second } => text!("adjust-not-rising", first, second),
            AdjustError::TooFew => text!("adjust-too-few"),
            AdjustError::NotPositive { what, value } => text!("adjust-not-positive", what, value),
        }
    }
}

impl From<AdjustError> for Text {
    fn from(error: AdjustError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for AdjustError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// A two-point adjustment: q = W / (c_W − c_0), x = q · (c − c_0).
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TwoPoint {
    weight: Mass,
    at_zero: Decimal,
    with_weight: Decimal,
}

impl TwoPoint {
    /// From the span weight and the counts without and with it.
    ///
    /// # Examples
    /// ```
    /// use ombret_core::adjust::TwoPoint;
    /// use ombret_core::quantity::{Decimal, Unit, parse_mass};
    ///
    /// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
    /// let two = TwoPoint::new(kg("500"), Decimal::from(10_000u32), Decimal::from(260_000u32)).unwrap();
    /// assert_eq!(two.mass_at(&Decimal::from(135_000u32)).to_string(), "250 kg");
    /// assert_eq!(two.counts_per_division(&kg("0.2")).to_string(), "100");
    /// ```
    ///
    /// # Errors
    /// [`AdjustError::ReversedOrDead`] where the counts do not rise, [`AdjustError::NotPositive`].
    pub fn new(weight: Mass, at_zero: Decimal, with_weight: Decimal) -> Result<Self, AdjustError> {
        if !weight.value.is_positive() {
            return Err(AdjustError::NotPositive {
                what: text!("arithmetic-the-span-weight"),
                value: weight.to_string(),
            });
        }
        if with_weight <= at_zero {
            return Err(AdjustError::ReversedOrDead {
                at_zero: at_zero.to_string(),
                with_weight: with_weight.to_string(),
            });
        }
        Ok(Self { weight, at_zero, with_weight })
    }

    fn rise(&self) -> Decimal {
        &self.with_weight - &self.at_zero
    }

    /// q, mass for one count, in the unit of the span weight.
    pub fn mass_per_count(&self) -> Mass {
        // OK because the counts rise.
        Mass::new(self.weight.value.quotient(&self.rise()).unwrap_or_else(Decimal::zero), self.weight.unit)
    }

    /// The load that gives these counts, in the unit of the span weight.
    pub fn mass_at(&self, counts: &Decimal) -> Mass {
        let over = &(counts - &self.at_zero) * &self.weight.value;
        // OK because the counts rise.
        Mass::new(over.quotient(&self.rise()).unwrap_or_else(Decimal::zero), self.weight.unit)
    }

    /// Internal counts for one division: d · (c_W − c_0) / W.
    pub fn counts_per_division(&self, d: &Mass) -> Decimal {
        let over = &d.value_in(self.weight.unit) * &self.rise();
        // OK because the span weight is above zero.
        over.quotient(&self.weight.value).unwrap_or_else(Decimal::zero)
    }

    /// True where a division has fewer than ten internal counts.
    pub fn few_counts(&self, d: &Mass) -> bool {
        self.counts_per_division(d) < FEW_COUNTS
    }
}

/// A point of an adjustment curve.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
pub struct Point {
    /// Internal counts.
    pub counts: Decimal,
    /// The load.
    pub mass: Mass,
}

/// Straight pieces between points that rise in counts and mass; the first and the last piece are
/// carried on beyond them.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Curve {
    points: Vec<Point>,
}

impl Curve {
    /// From points in rising order.
    ///
    /// # Errors
    /// [`AdjustError::TooFew`], [`AdjustError::NotRising`] naming the pair.
    pub fn new(points: Vec<Point>) -> Result<Self, AdjustError> {
        if points.len() < 2 {
            return Err(AdjustError::TooFew);
        }
        let falls = |pair: &[Point]| pair[1].counts <= pair[0].counts || pair[1].mass <= pair[0].mass;
        match points.windows(2).position(falls) {
            Some(index) => Err(AdjustError::NotRising { first: index + 1, second: index + 2 }),
            None => Ok(Self { points }),
        }
    }

    /// The load that gives these counts, in the unit of the first point.
    pub fn mass_at(&self, counts: &Decimal) -> Mass {
        let unit = self.points[0].mass.unit;
        let upper = self.points[1..self.points.len() - 1]
            .iter()
            .position(|p| counts <= &p.counts)
            .unwrap_or(self.points.len() - 2);
        let (from, to) = (&self.points[upper], &self.points[upper + 1]);
        let rise = to.mass.minus(&from.mass).value_in(unit);
        let over = &(counts - &from.counts) * &rise;
        // OK because the counts of neighbouring points differ.
        let above = over.quotient(&(&to.counts - &from.counts)).unwrap_or_else(Decimal::zero);
        Mass::new(&from.mass.value_in(unit) + &above, unit)
    }
}

/// A new correction factor.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NewFactor {
    /// f′ = f · L / (I − I_0).
    pub factor: Decimal,
}

impl NewFactor {
    /// The factor as the indicator takes it, and what the rounding costs at Max in divisions:
    /// (rounded / exact − 1) · n.
    pub fn rounded(&self, decimals: u32, n: Option<&Decimal>) -> (String, Option<Decimal>) {
        let rounded = self.factor.round_to(i64::from(decimals));
        let cost = n.and_then(|n| (&(&rounded - &self.factor) * n).quotient(&self.factor));
        (rounded.fixed(decimals), cost)
    }
}

fn rise_of_reading(shown: &Mass, shown_zero: &Mass) -> Result<Mass, AdjustError> {
    let rise = shown.minus(shown_zero);
    if rise.value.is_positive() {
        return Ok(rise);
    }
    Err(AdjustError::ReversedOrDead { at_zero: shown_zero.to_string(), with_weight: shown.to_string() })
}

fn positive(what: Text, mass: &Mass) -> Result<(), AdjustError> {
    if mass.value.is_positive() {
        Ok(())
    } else {
        Err(AdjustError::NotPositive { what, value: mass.to_string() })
    }
}

/// f′ = f · L / (I − I_0): the factor that makes the reading right.
///
/// # Errors
/// [`AdjustError::ReversedOrDead`] where the reading does not rise, [`AdjustError::NotPositive`].
pub fn new_factor(
    factor: &Decimal,
    load: &Mass,
    shown: &Mass,
    shown_zero: &Mass,
) -> Result<NewFactor, AdjustError> {
    positive(text!("arithmetic-the-load"), load)?;
    if !factor.is_positive() {
        return Err(AdjustError::NotPositive {
            what: text!("arithmetic-the-factor"),
            value: factor.to_string(),
        });
    }
    let rise = rise_of_reading(shown, shown_zero)?;
    // OK because the rise is above zero.
    let factor = (factor * &load.kg()).quotient(&rise.kg()).unwrap_or_else(Decimal::zero);
    Ok(NewFactor { factor })
}

/// An internal weight matched against external ones.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NewInternal {
    /// m′ = m · L / (I − I_0), in the unit of m.
    pub internal: Mass,
    /// m′ − m in mg.
    pub change_mg: Decimal,
    /// (m′ − m) / m in parts per million.
    pub change_ppm: Decimal,
}

/// m′_int = m_int · L / (I − I_0) and its change since last time.
///
/// # Errors
/// [`AdjustError::ReversedOrDead`] where the reading does not rise, [`AdjustError::NotPositive`].
pub fn internal_weight(
    internal: &Mass,
    load: &Mass,
    shown: &Mass,
    shown_zero: &Mass,
) -> Result<NewInternal, AdjustError> {
    positive(text!("arithmetic-the-internal-weight"), internal)?;
    positive(text!("arithmetic-the-load"), load)?;
    let rise = rise_of_reading(shown, shown_zero)?.kg();
    let load_kg = load.kg();
    let share = |of: &Decimal| (of * &(&load_kg - &rise)).quotient(&rise).unwrap_or_else(Decimal::zero);
    let value = (&internal.value * &load_kg).quotient(&rise).unwrap_or_else(Decimal::zero);
    let in_mg = internal.value_in(crate::quantity::Unit::Mg);
    Ok(NewInternal {
        internal: Mass::new(value, internal.unit),
        change_mg: share(&in_mg),
        change_ppm: share(&Decimal::ten_to(6)),
    })
}

impl From<AdjustError> for Refusal {
    fn from(error: AdjustError) -> Self {
        let message = Text::from(&error);
        match error {
            AdjustError::ReversedOrDead { .. } => {
                Self::because("reversed_or_dead", message).then(text!("arithmetic-check-that-the-weight-is"))
            }
            AdjustError::NotRising { first, second } => {
                Self::because("not_rising", message).with("pair", vec![first, second])
            }
            AdjustError::TooFew => Self::because("too_few", message),
            AdjustError::NotPositive { .. } => Self::because("not_positive", message),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::Unit;
    use proptest::prelude::*;

    fn kg(digits: i64) -> Mass {
        Mass::new(Decimal::new(digits, 2), Unit::Kg)
    }

    proptest! {
        #[test]
        fn the_two_points_themselves_come_out_exactly(w in 1i64..1_000_000, c0 in -100_000i64..100_000, rise in 1i64..5_000_000) {
            let (c0, cw) = (Decimal::new(c0, 0), Decimal::new(c0 + rise, 0));
            let two = TwoPoint::new(kg(w), c0.clone(), cw.clone()).unwrap();
            prop_assert!(two.mass_at(&c0).value.is_zero());
            prop_assert_eq!(two.mass_at(&cw), kg(w));
        }

        #[test]
        fn a_signal_that_does_not_rise_is_always_refused(w in 1i64..1_000_000, c0 in -100_000i64..100_000, fall in 0i64..5_000_000) {
            let made = TwoPoint::new(kg(w), Decimal::new(c0, 0), Decimal::new(c0 - fall, 0));
            let refused = matches!(made, Err(AdjustError::ReversedOrDead { .. }));
            prop_assert!(refused);
        }

        #[test]
        fn a_curve_of_two_points_is_the_straight_line(w in 1i64..1_000_000, rise in 1i64..5_000_000, at in -1000i64..6_000_000) {
            let (zero, full, at) = (Decimal::zero(), Decimal::new(rise, 0), Decimal::new(at, 0));
            let two = TwoPoint::new(kg(w), zero.clone(), full.clone()).unwrap();
            let curve = Curve::new(vec![Point { counts: zero, mass: kg(0) }, Point { counts: full, mass: kg(w) }]).unwrap();
            prop_assert_eq!(two.mass_at(&at), curve.mass_at(&at));
        }

        #[test]
        fn a_curve_meets_its_points_and_rises(steps in proptest::collection::vec((1i64..50_000, 1i64..90_000), 2..8)) {
            let mut sum = (0, 0);
            let points: Vec<Point> = steps.iter().map(|(c, m)| {
                sum = (sum.0 + c, sum.1 + m);
                Point { counts: Decimal::new(sum.0, 0), mass: kg(sum.1) }
            }).collect();
            let curve = Curve::new(points.clone()).unwrap();
            for point in &points {
                prop_assert_eq!(curve.mass_at(&point.counts), point.mass.clone());
            }
            let just_past = |p: &Point| curve.mass_at(&(&p.counts + &Decimal::new(1, 1)));
            prop_assert!(points.iter().all(|p| just_past(p) > p.mass));
        }

        #[test]
        fn the_new_factor_makes_the_reading_right(f in 5_000i64..20_000, load in 1i64..100_000, shown in 1i64..100_000) {
            let f = Decimal::new(f, 4);
            let new = new_factor(&f, &kg(load), &kg(shown), &kg(0)).unwrap().factor;
            let corrected = (&kg(shown).value * &new).quotient(&f).unwrap();
            let off = (&corrected - &kg(load).value).abs();
            prop_assert!(off.to_f64() < 1e-18);
        }
    }
}
