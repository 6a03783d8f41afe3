//! Judges a set-up for a job: everything that the sheet knows, each pad, each range, gravity, and
//! what changed since the last record.

use std::collections::BTreeMap;

use super::views::{Change, SetupJudgement};
use crate::adjust::{GravityShift, Site, given_g};
use crate::grade::Grade;
use crate::journal::{JobState, Setup, max_digits};
use crate::keying::{Profile, RangeMode};
use crate::quantity::{Decimal, Division, Range};
use crate::scale::{
    Check, Finding, ScaleKind, SetupInputs, alternatives, decimals_text, judge, overall, signal_bar,
};
use crate::tolerance::class_bounds;
use crate::working::Working;

/// Judges a set-up of a pad of this job.
pub fn judge_setup(state: &JobState, setup: &Setup, pad: u8) -> SetupJudgement {
    let inputs = inputs(state, setup);
    let mut findings = judge(&inputs);
    findings.extend(decimals(setup));
    if let Some(fine) = &setup.fine {
        finer(&mut findings, &inputs, setup, fine);
    }
    findings.extend(floor_divisions(state, setup));
    findings.extend(gravity(state, setup));
    let build = &state.sheet.build;
    let offered = if setup.max.value.is_positive() {
        alternatives(&SetupInputs { ranges: None, ..inputs.clone() })
    } else {
        Vec::new()
    };
    let min_load = inputs.class.and_then(|class| {
        class_bounds(state.tolerance.0.scheme.book(), class, setup.finest()).ok()?.min_load
    });
    let span = state
        .pad(pad)
        .span_weight
        .clone()
        .or_else(|| state.pad(pad).adjusted.as_ref().and_then(|a| a.proved_by().cloned()));
    SetupJudgement {
        overall: overall(&findings),
        findings,
        alternatives: offered,
        changes: changes(state, setup, pad),
        max_digits: max_digits(&state.sheet, setup).unwrap_or_else(|refusal| refusal.message),
        min_load,
        signal: signal_bar(&inputs, build.dead_load.as_ref(), span.as_ref()),
        setup: setup.clone(),
    }
}

/// Adds what the indicator's profile has to say: weights that it takes in one unit only.
pub fn judge_by_profile(mut judgement: SetupJudgement, profile: &Profile) -> SetupJudgement {
    let setup = &judgement.setup;
    let keyed_in = setup.calibrated_in.unwrap_or(setup.d.unit);
    if let Some(only) = profile.weights_in.filter(|only| *only != keyed_in) {
        let working = Working::new(
            "Calibration unit",
            "calibration unit = the unit that the indicator takes",
            format!("{keyed_in} against {only}"),
            "the profile of the indicator",
        );
        let says = format!(
            "{} takes weights in {only} only, not in {keyed_in}: choose {only} to calibrate in",
            profile.name
        );
        judgement.findings.retain(|f| f.check != Check::CalibrationUnit);
        judgement.findings.push(finding(Check::CalibrationUnit, Grade::Refuse, says, working));
        judgement.overall = overall(&judgement.findings);
    }
    judgement
}

fn inputs(state: &JobState, setup: &Setup) -> SetupInputs {
    let build = &state.sheet.build;
    SetupInputs {
        max: setup.max.clone(),
        d: setup.d.clone(),
        class: state.tolerance.0.class,
        scheme: Some(state.tolerance.0.scheme.book()),
        trade: state.sheet.trade,
        plate: state.sheet.plate.clone(),
        cells: build.cells.clone(),
        excitation_v: build.excitation_v.clone(),
        dead_load: build.dead_load_in_all(),
        indicator: build.indicator.clone(),
        lever_ratio: build.lever_ratio.clone(),
        reserve: build.reserve.clone(),
        ranges: (setup.mode == RangeMode::MultiInterval).then(|| setup.ranges()),
        calibration_unit: Some(setup.calibrated_in.unwrap_or(setup.d.unit)),
        one_unit_only: false,
    }
}

fn finding(check: Check, grade: Grade, says: String, working: Working) -> Finding {
    Finding { check, grade: Some(grade), says, figures: BTreeMap::new(), working }
}

/// Divisions that are customary on an industrial floor platform.
const FLOOR_DIVISIONS: u32 = 5_000;

/// Many thousands of divisions on a floor platform only flicker.
fn floor_divisions(state: &JobState, setup: &Setup) -> Option<Finding> {
    if !matches!(state.sheet.kind, ScaleKind::Floor | ScaleKind::Pads | ScaleKind::Vehicle) {
        return None;
    }
    let ranges = setup.ranges();
    let n = ranges.iter().filter_map(|r| r.max.ratio(&r.d)).max()?;
    let most = Decimal::from(FLOOR_DIVISIONS);
    let working = Working::new(
        "Divisions of a floor platform",
        "n ≤ 5000 by custom",
        n.fixed(0),
        "practice: about 5 000 divisions on industrial floor platforms",
    )
    .with("n", "divisions asked for", n.fixed(0));
    let (grade, says) = if n > most {
        (
            Grade::Caution,
            format!(
                "{} divisions: above about {most} the display of a floor platform often only flickers",
                n.fixed(0)
            ),
        )
    } else {
        (Grade::Sound, format!("{} divisions are customary on a floor platform", n.fixed(0)))
    };
    Some(finding(Check::FloorDivisions, grade, says, working))
}

fn decimals(setup: &Setup) -> Option<Finding> {
    let division = Division::new(&setup.finest().value).ok()?;
    let working = Working::new(
        "Decimals on the display",
        "decimals = max(0, −k) for d = s · 10^k",
        division.decimals().to_string(),
        "OIML R 76-1:2006, 4.2.2.1",
    )
    .with("d", "finest division asked for", setup.finest())
    .with("decimals", "asked for", setup.decimals);
    let fits = division.decimals() == setup.decimals;
    let says = if fits {
        format!("{} for {} on the display", decimals_text(setup.decimals), setup.finest())
    } else {
        format!(
            "a division of {} needs {}, not {}",
            setup.finest(),
            decimals_text(division.decimals()),
            setup.decimals
        )
    };
    Some(finding(Check::Decimals, if fits { Grade::Sound } else { Grade::Refuse }, says, working))
}

/// The finer range is judged like a scale of its own; of each check the worse finding stays.
fn finer(findings: &mut Vec<Finding>, inputs: &SetupInputs, setup: &Setup, fine: &Range) {
    let own = SetupInputs { max: fine.max.clone(), d: fine.d.clone(), ranges: None, ..inputs.clone() };
    let ranged = [
        Check::Series,
        Check::WholeN,
        Check::Class,
        Check::PlateD,
        Check::CellVMin,
        Check::CellDivisions,
        Check::IndicatorDivisions,
        Check::SignalPerDivision,
        Check::CountsPerD,
    ];
    for mut worse in judge(&own).into_iter().filter(|f| ranged.contains(&f.check)) {
        worse.says = format!("finer range: {}", worse.says);
        match findings.iter_mut().find(|f| f.check == worse.check) {
            Some(there) if there.grade < worse.grade => *there = worse,
            Some(_) => {}
            None => findings.push(worse),
        }
    }
    if fine.d >= setup.d || fine.max >= setup.max {
        let working = Working::new(
            "Finer range",
            "Max₁ < Max, d₁ < d",
            format!("{} × {} under {} × {}", fine.max, fine.d, setup.max, setup.d),
            "OIML R 76-1:2006, 3.3, T.3.2.6, T.3.2.7",
        );
        findings.push(finding(
            Check::FinerRange,
            Grade::Refuse,
            "the finer range must end below Max and have a finer division".into(),
            working,
        ));
    }
}

fn gravity(state: &JobState, setup: &Setup) -> Option<Finding> {
    let Some(used) = state.sheet.site.as_ref() else {
        // Where it is adjusted elsewhere, or a g is entered, somebody must say where it is used.
        let elsewhere = setup.adjusted_at.as_ref().map(|site| format!("adjusted at {}", site.name));
        let elsewhere =
            elsewhere.or_else(|| setup.gravity.as_ref().map(|g| format!("with g {g} entered")))?;
        let says = format!("{elsewhere}: the sheet names no site, so what gravity costs is not known");
        let working = Working::new("Gravity", "n·(g₂ − g₁)/g₁", &says, "WELMEC Guide 2");
        return Some(finding(Check::Gravity, Grade::Caution, says, working));
    };
    let here = |site: &Site| site.g().ok();
    let (name, adjusted) = match (&setup.gravity, &setup.adjusted_at) {
        (Some(g), _) => ("the g entered".to_owned(), given_g(g).ok()?),
        (None, Some(site)) => (site.name.clone(), here(site)?),
        (None, None) => {
            let working = Working::new("Gravity", "g₂ = g₁", "nothing needed", "WELMEC Guide 2").with(
                "g₂",
                "where it stands, m/s²",
                format!("{:.5}", here(used)?),
            );
            return Some(finding(
                Check::Gravity,
                Grade::Sound,
                "adjusted where it stands: gravity needs nothing".into(),
                working,
            ));
        }
    };
    let shift = GravityShift::new(&setup.max, &setup.d, &state.tolerance.0, adjusted, here(used)?).ok()?;
    let cost = format!("{:+.2} d at Max between {name} and {}", shift.shift_at_max_d, used.name);
    let (grade, says) = if shift.matters() {
        (Grade::Caution, format!("{cost}: adjust it where it stands, or enter g = {:.5} m/s²", shift.used))
    } else {
        (Grade::Sound, format!("{cost}: nothing needed"))
    };
    Some(finding(Check::Gravity, grade, says, shift.working(&setup.max, &setup.d)))
}

/// What differs from the last record, and what of it voids the calibration on record.
fn changes(state: &JobState, setup: &Setup, pad: u8) -> Vec<Change> {
    let mut out = Vec::new();
    let mut row = |what: &str, from: String, to: String, voids: bool| {
        if from != to {
            out.push(Change { what: what.into(), from, to, voids });
        }
    };
    if let (before, crate::journal::SetupOrigin::LastRecord) = state.setup_as_found_of(pad) {
        let ranges = |s: &Setup| {
            s.fine.as_ref().map_or_else(
                || s.mode.label().to_owned(),
                |f| format!("{}, {} × {}", s.mode.label(), f.max, f.d),
            )
        };
        let place = |s: &Setup| match (&s.gravity, &s.adjusted_at) {
            (Some(g), _) => format!("g {g} m/s² entered"),
            (None, Some(site)) => format!("adjusted at {}", site.name),
            (None, None) => "adjusted where it stands".to_owned(),
        };
        row("unit", before.d.unit.to_string(), setup.d.unit.to_string(), true);
        row("Max", before.max.to_string(), setup.max.to_string(), true);
        row("division", before.d.to_string(), setup.d.to_string(), true);
        row("decimals", before.decimals.to_string(), setup.decimals.to_string(), true);
        row("ranges", ranges(&before), ranges(setup), true);
        row("gravity", place(&before), place(setup), true);
    }
    let (found, recorded) =
        (state.counters.0.as_ref(), state.before.as_ref().and_then(|b| b.counters.as_ref()));
    if let (Some(found), Some(recorded)) = (found, recorded) {
        let text = |value: Option<u32>| value.map_or_else(|| "–".to_owned(), |v| v.to_string());
        // Somebody has been at it since: what is on record no longer holds.
        row("set-up counter", text(recorded.setup), text(found.setup), true);
        row("calibration counter", text(recorded.calibration), text(found.calibration), true);
    }
    out
}
