//! What a job is judged by: tolerance, decision rule, school.

use crate::journal::{Body, JobState};
use crate::refusal::Refusal;
use crate::tolerance::{HouseForm, Scheme, Tolerance};

use super::words::reasoned;

/// A tolerance that was chosen, as typed.
pub(in crate::job) fn tolerance(
    state: &JobState,
    mut tolerance: Tolerance,
    house: Option<HouseForm>,
    reason: String,
) -> Result<Body, Refusal> {
    if let (Scheme::House, Some(form)) = (tolerance.scheme, house) {
        tolerance.house = Some(form.read(state.setup_in_force().0.d.unit)?);
    }
    Ok(Body::ToleranceChosen { tolerance, reason })
}

/// It covers the setup in force.
pub(in crate::job) fn admit_tolerance(
    state: &JobState,
    tolerance: &Tolerance,
    reason: &str,
) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    let (setup, _) = state.setup_in_force();
    tolerance.check(&setup.d, &setup.max).map_err(|e| Refusal::from(e).at("tolerance"))
}
