//! Are the weights good enough for the tolerance, in date, or only a reference object? Sources:
//! OIML R 76-1:2006, 3.7.1; NIST Handbook 44, appendix A, 3.2 (a third of the tolerance).

use serde::Deserialize;
use time::Date;

use super::class::{WeightClass, WeightError, weight_tolerance};
use crate::grade::Grade;
use crate::quantity::{Decimal, Mass};
use crate::wording::Text;

/// What is known of a piece's error.
#[derive(Clone, Debug, Deserialize)]
pub struct ShareOfPiece {
    /// Nominal.
    pub nominal: Mass,
    /// Class.
    #[serde(default)]
    pub class: Option<WeightClass>,
    /// Tolerance in a class of the workshop's own.
    #[serde(default)]
    pub own: Option<Mass>,
    /// Conventional mass − nominal.
    #[serde(default)]
    pub certificate_error: Option<Mass>,
    /// Expanded uncertainty.
    #[serde(default, rename = "U")]
    pub u: Option<Mass>,
}

/// The sum against a third of the tolerance.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Enough {
    /// Σ tolerances, or Σ (|error| + U), or ΣU where the corrections are applied.
    pub sum: Mass,
    /// Sum / MPE.
    pub ratio: Decimal,
    /// At most a third.
    pub enough: bool,
}

/// Σ tolerances by class, Σ (|error| + U) by certificate where nominals are used, ΣU where the
/// corrections are applied: at most MPE/3, in the unit of the tolerance.
///
/// # Errors
/// [`WeightError`] where a piece has neither certificate nor class.
pub fn enough(pieces: &[ShareOfPiece], corrected: bool, mpe: &Mass) -> Result<Enough, WeightError> {
    let mut sum = Mass::zero(mpe.unit);
    for piece in pieces {
        let part = match (&piece.certificate_error, &piece.u, piece.class) {
            (_, Some(u), _) if corrected => u.clone(),
            (Some(error), Some(u), _) => error.abs().plus(u),
            _ if piece.own.is_some() => piece.own.clone().unwrap_or_else(|| Mass::zero(mpe.unit)),
            (_, _, Some(class)) => weight_tolerance(&piece.nominal, class)?.0,
            _ => return Err(WeightError::NothingKnown { nominal: piece.nominal.to_string() }),
        };
        sum = sum.plus(&part);
    }
    let within = sum.times(&Decimal::from(3u32)) <= *mpe;
    let ratio = sum.ratio(mpe).unwrap_or_else(Decimal::zero);
    Ok(Enough { sum, ratio, enough: within })
}

/// The coarsest class of OIML R 111-1 whose tolerances for these nominals come to a third of `mpe` at the
/// most; none: not even the finest, or a nominal that the classes do not have.
pub fn class_that_does(nominals: &[&Mass], mpe: &Mass) -> Option<WeightClass> {
    let does = |class: &WeightClass| {
        let sum = nominals.iter().try_fold(Mass::zero(mpe.unit), |sum, nominal| {
            Some(sum.plus(&weight_tolerance(nominal, *class).ok()?.0))
        });
        sum.is_some_and(|sum| sum.times(&Decimal::from(3u32)) <= *mpe)
    };
    WeightClass::ALL.into_iter().filter(|class| *class != WeightClass::F).rev().find(does)
}

/// What is to be said of weights that are not good enough for a tolerance, with the class that would do;
/// none where they are, or where nothing is known of a piece.
pub fn too_coarse(pieces: &[ShareOfPiece], mpe: &Mass) -> Option<Text> {
    let told = enough(pieces, false, mpe).ok().filter(|told| !pieces.is_empty() && !told.enough)?;
    let nominals: Vec<&Mass> = pieces.iter().map(|p| &p.nominal).collect();
    let would = class_that_does(&nominals, mpe).map_or_else(
        || text!("enough-no-class-is-fine-enough"),
        |class| text!("enough-class-symbol-would-do-or", symbol = class.symbol()),
    );
    Some(text!("enough-too-coarse", ratio = told.ratio.round_to(2), mpe, would))
}

/// Whether a piece is in date.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct DueGrade {
    /// Sound, caution or refuse.
    pub grade: Grade,
    /// It goes on the record.
    pub on_record: bool,
}

/// The due date itself is in date. Later: a caution for adjusting, a refusal for the proof unless
/// overruled with a reason, which goes on the record.
pub fn due_grade(day: Date, due: Date, proof: bool, overruled: bool) -> DueGrade {
    match (day > due, proof, overruled) {
        (false, _, _) => DueGrade { grade: Grade::Sound, on_record: false },
        (true, true, false) => DueGrade { grade: Grade::Refuse, on_record: false },
        (true, _, overruled) => DueGrade { grade: Grade::Caution, on_record: overruled },
    }
}

/// An object weighed on a scale that was just proved.
#[derive(Clone, Debug, PartialEq)]
pub struct ReferenceObject {
    /// Its mass: the reading.
    pub mass: Mass,
    /// u = MPE/√3, in the unit of the reading.
    pub u: f64,
}

impl ReferenceObject {
    /// What it makes of the job.
    pub const MARK: Text = text!("enough-adjusted-not-proven-not-for");
}

/// The mass of a reference object and its standard uncertainty.
pub fn reference_object(shown: &Mass, scale_mpe: &Mass) -> ReferenceObject {
    ReferenceObject { mass: shown.clone(), u: scale_mpe.value_in(shown.unit).to_f64() / 3f64.sqrt() }
}
