//! The error of indication, plain or by changeover points, and the loads it is taken against.
//! Sources: OIML R 76-1:2006 A.4.4.1 to A.4.4.3 and 3.7.3; EURAMET cg-18 v4, 7.1.

use serde::Deserialize;

use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Why an error or a load cannot be told.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ErrorOfIndicationError {
    /// ΔL must lie between zero and one division.
    AddedOutOfRange {
        /// What was added.
        added: String,
        /// The division.
        d: String,
    },
    /// Corrections were asked for and a piece has none.
    NoCertificate {
        /// Which piece, counted from 1.
        piece: usize,
    },
}

impl From<&ErrorOfIndicationError> for Text {
    fn from(error: &ErrorOfIndicationError) -> Self {
        match error {
            ErrorOfIndicationError::AddedOutOfRange { added, d } => {
                text!("error-of-indication-added-out-of-range", added, d)
            }
            ErrorOfIndicationError::NoCertificate { piece } => {
                text!("error-of-indication-no-certificate", piece)
            }
        }
    }
}

impl From<ErrorOfIndicationError> for Text {
    fn from(error: ErrorOfIndicationError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for ErrorOfIndicationError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// A reading with what belongs to it. `added` (ΔL) needs `d`.
#[derive(Clone, Debug, Deserialize)]
pub struct ErrorInputs {
    /// The unit of the result.
    pub unit: Unit,
    /// Indication I.
    pub shown: Mass,
    /// Load L.
    pub load: Mass,
    /// The division, for changeover points.
    #[serde(default)]
    pub d: Option<Mass>,
    /// Small weights added until the display changed to I + d.
    #[serde(default)]
    pub added: Option<Mass>,
    /// Error at zero, E0.
    #[serde(default)]
    pub zero_error: Option<Mass>,
    /// Tolerance to judge against.
    #[serde(default)]
    pub mpe: Option<Mass>,
}

/// An error of indication.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ErrorOfIndication {
    /// E = I − L, or P − L by changeover points.
    pub error: Mass,
    /// P = I + d/2 − ΔL, the indication before rounding.
    pub before_rounding: Option<Mass>,
    /// Ec = E − E0.
    pub corrected: Option<Mass>,
    /// |Ec| (or |E|) ≤ MPE; at the limit is within.
    pub within: Option<bool>,
}

/// A piece put on: its nominal and, where known, its certificate's error.
#[derive(Clone, Debug, Deserialize)]
pub struct KnownPiece {
    /// Nominal mass.
    pub nominal: Mass,
    /// Conventional mass − nominal.
    #[serde(default)]
    pub certificate_error: Option<Mass>,
}

/// One step of substitution: the reading with the test load on and with the material that took
/// the place of the weights.
#[derive(Clone, Debug, Deserialize)]
pub struct SubstitutionStep {
    /// With the test load.
    pub shown_before: Mass,
    /// With the material.
    pub shown_with_material: Mass,
}

/// E = I − L; with ΔL, P = I + d/2 − ΔL and E = P − L; with E0, Ec = E − E0. Judged on Ec where E0
/// was taken, else on E. Source: OIML R 76-1:2006, A.4.4.3.
///
/// # Examples
/// ```
/// use ombret_core::measurement::error_of_indication;
/// use serde_json::json;
///
/// let kg = |value: &str| json!({"value": value, "unit": "kg"});
/// // Three tenths of a division were added until the display went on: P = 200 + 0.1 − 0.06.
/// let read = json!({
///     "unit": "kg", "shown": kg("200"), "load": kg("200"), "d": kg("0.2"), "added": kg("0.06"), "mpe": kg("0.2"),
/// });
/// let told = error_of_indication(&serde_json::from_value(read).unwrap()).unwrap();
/// assert_eq!((told.error.to_string(), told.within), ("0.04 kg".into(), Some(true)));
/// ```
///
/// # Errors
/// [`ErrorOfIndicationError::AddedOutOfRange`] where ΔL is below zero or above one division.
pub fn error_of_indication(inputs: &ErrorInputs) -> Result<ErrorOfIndication, ErrorOfIndicationError> {
    let unit = inputs.unit;
    let shown = inputs.shown.to(unit);
    let before_rounding = match (&inputs.added, &inputs.d) {
        (Some(added), Some(d)) => {
            if added.value.is_negative() || added > d {
                return Err(ErrorOfIndicationError::AddedOutOfRange {
                    added: added.to_string(),
                    d: d.to_string(),
                });
            }
            let half = d.to(unit).times(&Decimal::new(5, 1));
            Some(shown.plus(&half).minus(added))
        }
        _ => None,
    };
    let error = before_rounding.as_ref().unwrap_or(&shown).minus(&inputs.load);
    let corrected = inputs.zero_error.as_ref().map(|e0| error.minus(e0));
    let judged = corrected.as_ref().unwrap_or(&error);
    let within = inputs.mpe.as_ref().map(|mpe| judged.abs() <= *mpe);
    Ok(ErrorOfIndication { error, before_rounding, corrected, within })
}

/// L = Σ nominals, or Σ (nominal + certificate error) where the corrections are to be used.
/// Source: OIML R 111-1:2004, conventional mass; EURAMET cg-18 v4, 7.1.2.
///
/// # Errors
/// [`ErrorOfIndicationError::NoCertificate`] where a correction is missing.
pub fn load_of(
    pieces: &[KnownPiece],
    use_certificate: bool,
    unit: Unit,
) -> Result<Mass, ErrorOfIndicationError> {
    (1..).zip(pieces).try_fold(Mass::zero(unit), |sum, (index, piece)| {
        let with_nominal = sum.plus(&piece.nominal);
        match (use_certificate, &piece.certificate_error) {
            (false, _) => Ok(with_nominal),
            (true, Some(error)) => Ok(with_nominal.plus(error)),
            (true, None) => Err(ErrorOfIndicationError::NoCertificate { piece: index }),
        }
    })
}

/// L₁ = m, L_(k+1) = L_k + ΔI + m, where m is the mass of the weights used again and again.
/// Source: OIML R 76-1:2006, 3.7.3; EURAMET cg-18 v4, 4.3.3.
pub fn substituted_loads(weights: &Mass, steps: &[SubstitutionStep], unit: Unit) -> Vec<Mass> {
    let mut loads = vec![weights.to(unit)];
    let mut load = weights.to(unit);
    for step in steps {
        load = load.plus(&step.shown_with_material).minus(&step.shown_before).plus(weights);
        loads.push(load.clone());
    }
    loads
}

impl From<ErrorOfIndicationError> for Refusal {
    fn from(error: ErrorOfIndicationError) -> Self {
        let code = match error {
            ErrorOfIndicationError::AddedOutOfRange { .. } => "added_out_of_range",
            ErrorOfIndicationError::NoCertificate { .. } => "no_certificate",
        };
        Self::because(code, Text::from(&error))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn kg(digits: i64) -> Mass {
        Mass::new(Decimal::new(digits, 3), Unit::Kg)
    }

    proptest! {
        #[test]
        fn the_changeover_error_is_within_half_a_division_of_the_plain_one(i in 0i64..900_000, l in 0i64..900_000, added in 0i64..=200) {
            let inputs = |added: Option<i64>| ErrorInputs {
                unit: Unit::Kg, shown: kg(i), load: kg(l), d: Some(kg(200)), added: added.map(kg), zero_error: None, mpe: None,
            };
            let plain = error_of_indication(&inputs(None)).unwrap().error;
            let fine = error_of_indication(&inputs(Some(added))).unwrap().error;
            prop_assert!(fine.minus(&plain).abs() <= kg(100));
        }

        #[test]
        fn judging_is_the_same_in_every_unit(i in 0i64..900_000, l in 0i64..900_000, mpe in 1i64..400) {
            let judged = |unit| error_of_indication(&ErrorInputs {
                unit, shown: kg(i), load: kg(l), d: None, added: None, zero_error: None, mpe: Some(kg(mpe)),
            }).unwrap().within;
            prop_assert_eq!(judged(Unit::Kg), judged(Unit::G));
            prop_assert_eq!(judged(Unit::Kg), Some((i - l).abs() <= mpe));
        }
    }
}
