//! The uncertainty of an error of indication, term by term. Sources: EURAMET cg-18 v4, 7.1 to 7.3;
//! JCGM 100:2008, 5 and annex G.

use serde::{Deserialize, Serialize};
use statrs::distribution::{ContinuousCDF, StudentsT};

use crate::ten_digits::ten_digits;
use utoipa::ToSchema;

use super::repeatability::spread;
use crate::quantity::{Decimal, Mass, Unit};
use crate::weights::growth;
use crate::wording::Text;

/// Coverage of two standard deviations of the normal distribution.
const COVERAGE: f64 = 0.9545;
/// Density of air and of weights, kg/m³.
const AIR: f64 = 1.2;
const WEIGHTS: f64 = 8000.0;

/// A piece of the load.
#[derive(Clone, Debug, Deserialize)]
pub struct BudgetPiece {
    /// Nominal.
    pub nominal: Mass,
    /// Tolerance of its class.
    pub mpe: Mass,
    /// Expanded uncertainty of its certificate.
    #[serde(default, rename = "U")]
    pub u: Option<Mass>,
    /// Its coverage factor.
    #[serde(default)]
    pub k: Option<Decimal>,
}

/// What a budget rests on.
#[derive(Clone, Debug, Deserialize)]
pub struct BudgetInputs {
    /// Unit of the result.
    pub unit: Unit,
    /// Indication.
    pub shown: Mass,
    /// Load.
    pub load: Mass,
    /// Division at zero.
    pub d_zero: Mass,
    /// Division at the load.
    pub d_load: Mass,
    /// The small weights' step, with changeover points: in place of both divisions.
    #[serde(default)]
    pub step: Option<Mass>,
    /// The pieces of the load.
    pub pieces: Vec<BudgetPiece>,
    /// Adjusted on site right before.
    pub adjusted_before: bool,
    /// Sets of repeated readings.
    #[serde(default)]
    pub repeats: Vec<Vec<Mass>>,
    /// Largest difference between corners.
    #[serde(default)]
    pub ecc_difference: Option<Mass>,
    /// Load of the corner test.
    #[serde(default)]
    pub ecc_load: Option<Mass>,
    /// Drift of the weights since their certificate, in U.
    #[serde(default)]
    pub k_drift: Option<Decimal>,
    /// Standard uncertainty by convection.
    #[serde(default)]
    pub u_convection: Option<Mass>,
    /// Substitutions before the load was reached; the pieces are what was put on each time.
    #[serde(default)]
    pub substitutions: u32,
}

/// Standard uncertainties, in the unit of the result.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, ToSchema)]
pub struct Terms {
    /// Rounding at zero, d_0/(2√3).
    pub digit_zero: f64,
    /// Rounding at the load, d_I/(2√3).
    pub digit_load: f64,
    /// Repeatability, s.
    pub repeatability: f64,
    /// Eccentricity, |ΔI|·I/(2·L·√3).
    pub eccentricity: f64,
    /// Weights.
    pub weights: f64,
    /// Buoyancy of air.
    pub buoyancy: f64,
    /// Drift of the weights.
    pub drift: f64,
    /// Convection.
    pub convection: f64,
}

impl Terms {
    /// Each with its name, in the order of the sum.
    pub const fn named(&self) -> [(Text, f64); 8] {
        [
            (text!("uncertainty-rounding-at-zero"), self.digit_zero),
            (text!("uncertainty-rounding-at-the-load"), self.digit_load),
            (text!("uncertainty-repeatability"), self.repeatability),
            (text!("uncertainty-eccentricity"), self.eccentricity),
            (text!("uncertainty-weights"), self.weights),
            (text!("uncertainty-buoyancy-of-air"), self.buoyancy),
            (text!("uncertainty-drift-of-the-weights"), self.drift),
            (text!("uncertainty-convection"), self.convection),
        ]
    }

    /// Root of the sum of squares.
    pub fn combined(&self) -> f64 {
        self.named().iter().map(|(_, u)| u * u).sum::<f64>().sqrt()
    }
}

/// The uncertainty of an error.
#[derive(Clone, Debug, PartialEq)]
pub struct Budget {
    /// The terms.
    pub terms: Terms,
    /// Combined standard uncertainty.
    pub u: f64,
    /// Effective degrees of freedom; none: infinite.
    pub degrees_of_freedom: Option<f64>,
    /// Coverage factor for 95.45 %.
    pub k: f64,
    /// U = k·u.
    pub expanded: f64,
    /// U with two significant digits, never rounded down.
    pub expanded_text: String,
    /// E to the same decimal.
    pub error_text: String,
}

/// The budget of one load.
pub fn budget(inputs: &BudgetInputs) -> Budget {
    let unit = inputs.unit;
    let of = |mass: &Mass| mass.value_in(unit).to_f64();
    let root3 = 3f64.sqrt();
    let digit = |d: &Mass| of(inputs.step.as_ref().unwrap_or(d)) / (2.0 * root3);
    // The set with the largest s, and how many weighings it has.
    let sets = inputs.repeats.iter().filter(|set| set.len() > 1);
    let largest = sets.map(|set| (spread(set, unit).1, set.len())).max_by(|a, b| a.0.total_cmp(&b.0));
    // Small weights tell the rounding, not how far the scale repeats: without repeats a third of the
    // division stands for that, however finely the error was read.
    let repeatability = largest.map_or_else(|| of(&inputs.d_load) / 3.0, |(s, _)| s);
    let eccentricity = match (&inputs.ecc_difference, &inputs.ecc_load) {
        (Some(difference), Some(load)) if load.value.is_positive() => {
            of(difference).abs() * of(&inputs.shown).abs() / (2.0 * of(load) * root3)
        }
        _ => 0.0,
    };
    let certified = |p: &BudgetPiece| p.u.as_ref().zip(p.k.as_ref()).map(|(u, k)| of(u) / k.to_f64());
    let mpe: f64 = inputs.pieces.iter().map(|p| of(&p.mpe)).sum();
    let mass: f64 = inputs.pieces.iter().map(|p| of(&p.nominal)).sum();
    let quarter = mpe / 4.0;
    let buoyancy = if inputs.adjusted_before {
        quarter / root3
    } else {
        0.1f64.mul_add(AIR / WEIGHTS * mass, quarter) / root3
    };
    let drifting: f64 =
        inputs.pieces.iter().filter(|p| p.k.is_some()).filter_map(|p| p.u.as_ref()).map(of).sum();
    let weights = inputs.pieces.iter().map(|p| certified(p).unwrap_or_else(|| of(&p.mpe) / root3)).sum();
    // u²(L_k) = k²·u²(m) + 2·Σ u²(I_j): each round counts the weights and the readings between once more.
    let times = inputs.substitutions + 1;
    let between = vec![of(&inputs.d_load) / 12f64.sqrt(); usize::try_from(inputs.substitutions).unwrap_or(0)];
    let terms = Terms {
        digit_zero: digit(&inputs.d_zero),
        digit_load: digit(&inputs.d_load),
        repeatability,
        eccentricity,
        weights: growth(times, weights, &between),
        buoyancy: f64::from(times) * buoyancy,
        drift: f64::from(times) * inputs.k_drift.as_ref().map_or(1.0, Decimal::to_f64) * drifting / root3,
        convection: inputs.u_convection.as_ref().map_or(0.0, of),
    };
    let u = terms.combined();
    let freedom = largest.filter(|(s, _)| *s > 0.0).map(|(s, n)| {
        #[expect(clippy::cast_precision_loss, reason = "a handful of weighings")]
        let own = (n - 1) as f64;
        u.powi(4) / (s.powi(4) / own)
    });
    let k = freedom.map_or(2.0, coverage_factor);
    let expanded = k * u;
    let error = inputs.shown.to(unit).minus(&inputs.load).value;
    let (expanded_text, error_text) = rounded_up(expanded, &error);
    Budget { terms, u, degrees_of_freedom: freedom, k, expanded, expanded_text, error_text }
}

/// Two-sided Student t for 95.45 %, at the degrees of freedom cut to the whole number below.
/// Source: JCGM 100:2008, G.3 and table G.2.
pub fn coverage_factor(degrees_of_freedom: f64) -> f64 {
    student(COVERAGE, degrees_of_freedom.floor().max(1.0))
}

/// Two-sided Student t for this coverage.
pub fn student(coverage: f64, degrees_of_freedom: f64) -> f64 {
    let Ok(t) = StudentsT::new(0.0, 1.0, degrees_of_freedom) else { return f64::INFINITY };
    let wanted = (1.0 + coverage) / 2.0;
    // The library's own inverse is good to a few digits only; its distribution is good to nearly all.
    let (mut low, mut high) = (0.0, 1.0e6);
    for _ in 0..200 {
        let middle = f64::midpoint(low, high);
        if t.cdf(middle) < wanted { low = middle } else { high = middle }
    }
    ten_digits(f64::midpoint(low, high))
}

/// U with two significant digits, rounded up, and E to the same decimal.
fn rounded_up(expanded: f64, error: &Decimal) -> (String, String) {
    if !expanded.is_finite() || expanded <= 0.0 {
        return ("0".into(), error.to_string());
    }
    #[expect(clippy::cast_possible_truncation, reason = "the exponent of a finite figure")]
    let mut place = libm::log10(expanded).floor() as i64 - 1;
    let scale = |place: i64| Decimal::ten_to(place);
    let digits = |place: i64| {
        let step = scale(place).to_f64();
        // What lies above a step by less than its own rounding is that step.
        (expanded / step * (1.0 - 1e-12)).ceil()
    };
    if digits(place) >= 100.0 {
        place += 1;
    }
    let whole = Decimal::from_measured(digits(place), 0).unwrap_or_else(Decimal::zero);
    let steps = error.quotient(&scale(place)).unwrap_or_else(Decimal::zero).round_away();
    let places = u32::try_from(-place).unwrap_or(0);
    ((&whole * &scale(place)).fixed(places), (&steps * &scale(place)).fixed(places))
}
