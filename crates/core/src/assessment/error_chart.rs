//! The figures of the drawing: tolerance over the range, and where each reading lies in it.

use super::readings::ReadingView;
use super::views::{ErrorChart, ErrorChartPoint, ErrorChartStep};
use crate::journal::{Direction, JobState, Purpose, Setup, TOGETHER};
use crate::quantity::Unit;
use crate::tolerance::Tolerance;

/// The drawing of a job.
pub fn error_chart(state: &JobState, found: &[ReadingView], left: &[ReadingView]) -> ErrorChart {
    let (setup, _) = state.setup_in_force();
    let unit = setup.d.unit;
    let points = |readings: &[ReadingView]| {
        readings
            .iter()
            .filter(|r| r.counts && r.purpose == Purpose::Load && r.pad != TOGETHER)
            .map(|r| point(r, unit, setup.d_at(&r.load.abs(), r.direction).value.to_f64()))
            .collect()
    };
    ErrorChart {
        unit: unit.symbol().into(),
        max: setup.max.value_in(unit).to_f64(),
        d: setup.d.value.to_f64(),
        steps: steps(&state.tolerance.0, &setup),
        found: points(found),
        left: points(left),
    }
}

fn steps(tolerance: &Tolerance, setup: &Setup) -> Vec<ErrorChartStep> {
    let unit = setup.d.unit;
    crate::journal::outline(tolerance, setup)
        .into_iter()
        .map(|s| ErrorChartStep {
            from: s.from.value_in(unit).to_f64(),
            to: s.to.value_in(unit).to_f64(),
            mpe_from: s.mpe_from.value_in(unit).to_f64(),
            mpe_to: s.mpe_to.value_in(unit).to_f64(),
        })
        .collect()
}

fn point(reading: &ReadingView, unit: Unit, d: f64) -> ErrorChartPoint {
    let verdict = if reading.within { text!("word-within") } else { text!("word-outside") };
    ErrorChartPoint {
        entry: reading.entry,
        load: reading.load.abs().value_in(unit).to_f64(),
        error: reading.error.value_in(unit).to_f64(),
        within: reading.within,
        down: reading.direction == Direction::Down,
        u: reading.budget.as_ref().map(|b| b.expanded_d * d),
        says: text!(
            "error-chart-error-text-at-load-text",
            error_text = crate::wording::figure(reading.error_text.as_str()),
            load_text = crate::wording::figure(reading.load_text.as_str()),
            verdict,
            mpe_text = crate::wording::figure(reading.mpe_text.as_str())
        ),
    }
}
