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
use crate::wording::Text;
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
        max_digits: max_digits(&state.sheet, setup).map_or_else(|refusal| refusal.message, Text::verbatim),
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
            text!("judge-setup-calibration-unit"),
            text!("judge-setup-calibration-unit-the-unit-that"),
            text!("judge-setup-keyed-in-against-only", keyed_in, only),
            text!("judge-setup-the-profile-of-the-indicator"),
        );
        let says = text!("judge-setup-name-takes-weights-in-only", name = profile.name, only, keyed_in);
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

fn finding(check: Check, grade: Grade, says: Text, working: Working) -> Finding {
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
        text!("judge-setup-divisions-of-a-floor-platform"),
        text!("judge-setup-n-5000-by-custom"),
        n.fixed(0),
        text!("judge-setup-practice-about-5-000-divisions"),
    )
    .with("n", text!("judge-setup-divisions-asked-for"), n.fixed(0));
    let (grade, says) = if n > most {
        (Grade::Caution, text!("judge-setup-fixed-divisions-above-about-most", fixed = n.fixed(0), most))
    } else {
        (Grade::Sound, text!("judge-setup-fixed-divisions-are-customary-on", fixed = n.fixed(0)))
    };
    Some(finding(Check::FloorDivisions, grade, says, working))
}

fn decimals(setup: &Setup) -> Option<Finding> {
    let division = Division::new(&setup.finest().value).ok()?;
    let working = Working::new(
        text!("judge-setup-decimals-on-the-display"),
        "decimals = max(0, −k) for d = s · 10^k",
        division.decimals().to_string(),
        "OIML R 76-1:2006, 4.2.2.1",
    )
    .with("d", text!("judge-setup-finest-division-asked-for"), setup.finest())
    .with("decimals", text!("judge-setup-asked-for"), setup.decimals);
    let fits = division.decimals() == setup.decimals;
    let says = if fits {
        text!(
            "judge-setup-decimals-text-for-finest-on",
            decimals_text = decimals_text(setup.decimals),
            finest = setup.finest()
        )
    } else {
        text!(
            "judge-setup-a-division-of-finest-needs",
            finest = setup.finest(),
            decimals = decimals_text(division.decimals()),
            decimals2 = setup.decimals
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
        worse.says = text!("judge-setup-finer-range-says", says = worse.says);
        match findings.iter_mut().find(|f| f.check == worse.check) {
            Some(there) if there.grade < worse.grade => *there = worse,
            Some(_) => {}
            None => findings.push(worse),
        }
    }
    if fine.d >= setup.d || fine.max >= setup.max {
        let working = Working::new(
            text!("judge-setup-finer-range"),
            "Max₁ < Max, d₁ < d",
            text!(
                "judge-setup-max-d-under-max2-d2",
                max = fine.max,
                d = fine.d,
                max2 = setup.max,
                d2 = setup.d
            ),
            "OIML R 76-1:2006, 3.3, T.3.2.6, T.3.2.7",
        );
        findings.push(finding(
            Check::FinerRange,
            Grade::Refuse,
            text!("judge-setup-the-finer-range-must-end"),
            working,
        ));
    }
}

fn gravity(state: &JobState, setup: &Setup) -> Option<Finding> {
    let Some(used) = state.sheet.site.as_ref() else {
        // Where it is adjusted elsewhere, or a g is entered, somebody must say where it is used.
        let elsewhere =
            setup.adjusted_at.as_ref().map(|site| text!("judge-setup-adjusted-at-name", name = site.name));
        let elsewhere =
            elsewhere.or_else(|| setup.gravity.as_ref().map(|g| text!("judge-setup-with-g-g-entered", g)))?;
        let says = text!("judge-setup-elsewhere-the-sheet-names-no", elsewhere);
        let working = Working::new(text!("head-gravity"), "n·(g₂ − g₁)/g₁", &says, "WELMEC Guide 2");
        return Some(finding(Check::Gravity, Grade::Caution, says, working));
    };
    let here = |site: &Site| site.g().ok();
    let (name, adjusted) = match (&setup.gravity, &setup.adjusted_at) {
        (Some(g), _) => (text!("judge-setup-the-g-entered"), given_g(g).ok()?),
        (None, Some(site)) => (Text::verbatim(site.name.clone()), here(site)?),
        (None, None) => {
            let working = Working::new(
                text!("head-gravity"),
                "g₂ = g₁",
                text!("judge-setup-nothing-needed"),
                "WELMEC Guide 2",
            )
            .with("g₂", text!("judge-setup-where-it-stands-m-s"), format!("{:.5}", here(used)?));
            return Some(finding(
                Check::Gravity,
                Grade::Sound,
                text!("judge-setup-adjusted-where-it-stands-gravity"),
                working,
            ));
        }
    };
    let shift = GravityShift::new(&setup.max, &setup.d, &state.tolerance.0, adjusted, here(used)?).ok()?;
    let cost = text!(
        "judge-setup-shift-at-max-d-d",
        shift_at_max_d = crate::wording::signed(shift.shift_at_max_d, 2),
        name,
        name2 = used.name
    );
    let (grade, says) = if shift.matters() {
        (Grade::Caution, text!("judge-setup-cost-adjust-it", cost, g = crate::wording::fixed(shift.used, 5)))
    } else {
        (Grade::Sound, text!("judge-setup-cost-nothing-needed", cost))
    };
    Some(finding(Check::Gravity, grade, says, shift.working(&setup.max, &setup.d)))
}

/// What differs from the last record, and what of it voids the calibration on record.
fn changes(state: &JobState, setup: &Setup, pad: u8) -> Vec<Change> {
    let mut out = Vec::new();
    let mut row = |what: Text, from: Text, to: Text, voids: bool| {
        if from != to {
            out.push(Change { what, from, to, voids });
        }
    };
    if let (before, crate::journal::SetupOrigin::LastRecord) = state.setup_as_found_of(pad) {
        let ranges = |s: &Setup| {
            s.fine.as_ref().map_or_else(
                || s.mode.label(),
                |f| text!("judge-setup-mode-max-d", mode = s.mode.label(), max = f.max, d = f.d),
            )
        };
        let place = |s: &Setup| match (&s.gravity, &s.adjusted_at) {
            (Some(g), _) => text!("judge-setup-g-g-m-s-entered", g),
            (None, Some(site)) => text!("judge-setup-adjusted-at-name", name = site.name),
            (None, None) => text!("judge-setup-adjusted-where-it-stands"),
        };
        row(
            text!("judge-setup-unit"),
            text!("judge-setup-plain", what = before.d.unit),
            text!("judge-setup-plain", what = setup.d.unit),
            true,
        );
        row(
            text!("judge-setup-max"),
            text!("judge-setup-plain", what = before.max),
            text!("judge-setup-plain", what = setup.max),
            true,
        );
        row(
            text!("judge-setup-division"),
            text!("judge-setup-plain", what = before.d),
            text!("judge-setup-plain", what = setup.d),
            true,
        );
        row(
            text!("judge-setup-decimals"),
            text!("judge-setup-plain", what = before.decimals),
            text!("judge-setup-plain", what = setup.decimals),
            true,
        );
        row(text!("setup-ranges"), ranges(&before), ranges(setup), true);
        row(text!("setup-gravity"), place(&before), place(setup), true);
    }
    let (found, recorded) =
        (state.counters.0.as_ref(), state.before.as_ref().and_then(|b| b.counters.as_ref()));
    if let (Some(found), Some(recorded)) = (found, recorded) {
        let text =
            |value: Option<u32>| Text::verbatim(value.map_or_else(|| "–".to_owned(), |v| v.to_string()));
        // Somebody has been at it since: what is on record no longer holds.
        row(text!("judge-setup-set-up-counter"), text(recorded.setup), text(found.setup), true);
        row(
            text!("judge-setup-calibration-counter"),
            text(recorded.calibration),
            text(found.calibration),
            true,
        );
    }
    out
}
