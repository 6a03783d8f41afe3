//! A job's set-up as a plan for keying, and what is known when the display says something.

use crate::grade::Grade;
use crate::journal::{CheckFinding, JobState, Setup};
use crate::keying::{
    CAPTURED, Circumstances, KeyingPlan, Meaning, OperatingSettings, PadPlan, Profile, Values,
};
use crate::quantity::{Decimal, Mass};
use crate::scale::Check;

/// What is to be entered for `setup`, with these span weights on every pad.
pub fn keying_plan(
    state: &JobState,
    setup: &Setup,
    weights: &[Mass],
    factor: Option<Decimal>,
    operating: OperatingSettings,
) -> KeyingPlan {
    let unit = setup.d.unit;
    KeyingPlan {
        unit,
        max: setup.max.value_in(unit),
        d: setup.d.value.clone(),
        mode: setup.mode,
        fine: setup.fine.as_ref().map(|fine| (fine.max.value_in(unit), fine.d.value_in(unit))),
        gravity: setup.gravity.clone(),
        factor,
        operating,
        pads: vec![PadPlan { weights: weights.to_vec() }; usize::from(state.sheet.pads)],
    }
}

/// What the indicator holds as far as the last record knows; what is not known is as it comes out
/// of its box.
pub fn held_by_indicator(state: &JobState, profile: &Profile) -> Values {
    let mut values = profile.untouched();
    let (setup, _) = state.setup_as_found();
    let Ok(tasks) = profile.tasks(&keying_plan(state, &setup, &[], None, OperatingSettings::default()))
    else {
        return values;
    };
    for task in tasks
        .into_iter()
        .filter(|t| !t.text.is_empty() && profile.parameters[t.parameter].meaning != Meaning::Pad)
    {
        values.insert(profile.slot(task.parameter, task.pad), task.text);
    }
    values.retain(|_, text| text != CAPTURED);
    values
}

/// What is known of the scale when its display says something.
pub fn circumstances(state: &JobState, moving: bool) -> Circumstances {
    let pad = state.here();
    let (setup, _) = state.setup_in_force();
    let judged = super::setup::judge_setup(state, &setup, state.pad_in_hand());
    let signal = judged.findings.iter().find(|f| {
        matches!(f.check, Check::SignalRange | Check::OverloadReserve) && f.grade != Some(Grade::Sound)
    });
    Circumstances {
        weight_share: pad.span_weight.as_ref().and_then(|w| w.ratio(&setup.max)).map(|share| share.to_f64()),
        at_zero: pad.zero.is_none(),
        unsaved: pad.adjusting(),
        signal: signal.map(|f| f.says.clone()),
        moving,
        cable: state.checks.get("cable").is_some_and(|c| c.finding == CheckFinding::Fault),
    }
}
