//! A job's set-up as a plan for keying, and what is known when the display says something.

use super::{CheckFinding, JobState, ScaleSheet, Setup};
use crate::keying::{
    CAPTURED, Circumstances, FieldError, KeyingPlan, Meaning, NumberField, OperatingSettings, PadPlan,
    Profile, Values,
};
use crate::quantity::{Decimal, Mass, digits_without_point};
use crate::refusal::Refusal;
use crate::setup::{Check, Grade};

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
    let judged = super::judge_setup(state, &setup, state.pad_in_hand());
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

/// The digits of Max as they are keyed.
///
/// # Errors
/// A [`Refusal`] where it cannot be keyed exactly.
pub(super) fn max_digits(sheet: &ScaleSheet, setup: &Setup) -> Result<String, Refusal> {
    let field = sheet.profile_facts().and_then(|f| f.max.as_ref());
    digits(sheet, setup, &setup.max.to(setup.d.unit), field)
}

/// The digits of a span weight as they are keyed: the one place where they are worked out.
///
/// # Errors
/// A [`Refusal`] where it cannot be keyed exactly.
pub(super) fn span_digits(sheet: &ScaleSheet, setup: &Setup, weight: &Mass) -> Result<String, Refusal> {
    let facts = sheet.profile_facts();
    let unit = facts.and_then(|f| f.weights_in).or(setup.calibrated_in).unwrap_or(setup.d.unit);
    digits(sheet, setup, &weight.to(unit), facts.and_then(|f| f.span_weight.as_ref()))
}

/// By the field of the profile or, without one, by the width on the sheet.
fn digits(
    sheet: &ScaleSheet,
    setup: &Setup,
    mass: &Mass,
    field: Option<&NumberField>,
) -> Result<String, Refusal> {
    let Some(field) = field else {
        return digits_without_point(mass, setup.decimals, u32::from(sheet.field_width))
            .map_err(Refusal::from);
    };
    keyed_in(field, &mass.value, mass.unit.symbol(), setup.decimals)
}

/// A number as a field of the profile takes it; `unit`: empty where it has none.
///
/// # Errors
/// A [`Refusal`] where it cannot be keyed exactly, with the nearest that can.
pub(super) fn keyed_in(
    field: &NumberField,
    value: &Decimal,
    unit: &str,
    decimals: u32,
) -> Result<String, Refusal> {
    let said = |value: &Decimal| if unit.is_empty() { value.to_string() } else { format!("{value} {unit}") };
    let item = &field.label;
    field.text(value, decimals).map_err(|error| match error {
        FieldError::Decimals(decimals, nearest) => {
            let says = format!("{} does not end at the last of {decimals} decimals of “{item}”", said(value));
            Refusal::new("not_whole_digits", says).then(format!("The nearest is {}.", said(&nearest)))
        }
        FieldError::Below(least) => Refusal::new(
            "below_least",
            format!("“{item}” takes {} or more, not {}", said(&least), said(value)),
        ),
        FieldError::Above(most) => {
            Refusal::new("above_most", format!("“{item}” takes up to {}, not {}", said(&most), said(value)))
        }
        FieldError::Width(needs, most) => {
            let says = format!("{} needs {needs} digits; “{item}” has {}", said(value), field.digits);
            Refusal::new("too_wide", says).then(format!("It takes up to {}.", said(&most)))
        }
    })
}
