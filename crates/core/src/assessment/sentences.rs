//! Each entry as a sentence, for the journal's list and the record.

use crate::journal::{Body, CheckFinding, JobState, Purpose, ReadStage, Settlement, TOGETHER, Taken, Way};
use crate::quantity::Mass;
use crate::scale::checklist;

/// The entry in a sentence.
pub fn sentence(state: &JobState, body: &Body) -> String {
    let kind = state.sheet.kind;
    // A figure stands as the display shows it, with the decimals of the setup.
    let on_display = |stage: &ReadStage, pad: u8, mass: &Mass| match stage {
        ReadStage::AsFound => state.setup_as_found_of(pad).0.text(mass),
        ReadStage::Prove => state.setup_of(pad).0.text(mass),
    };
    let label = |item: &str| {
        checklist(kind)
            .find(|known| known.id == item)
            .map_or_else(|| item.to_owned(), |known| known.label.clone())
    };
    match body {
        Body::Started { sheet, .. } => format!("Job begun on {}", sheet.name),
        Body::LookedOver { item, finding, note, cells } => {
            let found = match finding {
                CheckFinding::Ok => "in order",
                CheckFinding::Fault => "FAULT",
                CheckFinding::NotApplicable => "not applicable",
            };
            let note = note.as_ref().map_or_else(String::new, |n| format!(" ({n})"));
            let cells = crate::journal::says(cells).map_or_else(String::new, |says| format!(" {says}"));
            format!("{}: {found}{note}{cells}", label(item))
        }
        Body::FaultSettled { item, how: Settlement::Repaired, reason } => {
            format!("{}: repaired: {reason}", label(item))
        }
        Body::FaultSettled { item, how: Settlement::Overruled, reason } => {
            format!("{}: overruled: {reason}", label(item))
        }
        Body::ToleranceChosen { tolerance, reason } => format!("Tolerance: {}: {reason}", tolerance.label()),
        Body::Read {
            stage,
            load,
            shown,
            way,
            taken,
            pad,
            with,
            overruled,
            purpose,
            spot,
            added,
            substituted,
        } => {
            let stage_of = stage;
            let stage = if *stage == ReadStage::AsFound { "As found" } else { "Proof" };
            let way = if *way == Way::Up { "" } else { ", coming down" };
            let how = if matches!(taken, Taken::Live { .. }) { ", live" } else { "" };
            let at = at_pad(*pad);
            let why =
                overruled.as_ref().map_or_else(String::new, |why| format!("; weights overruled: {why}"));
            let moved = if load.value.is_negative() {
                format!("{} taken off", load.abs())
            } else {
                format!("{load} on")
            };
            let what = match (purpose, spot) {
                (Purpose::Load, _) => String::new(),
                (Purpose::Corner, Some(0)) => " in the middle".to_owned(),
                (Purpose::Corner, spot) => {
                    let named = spot.and_then(|s| crate::journal::position(state, s));
                    named.map_or_else(String::new, |p| format!(" at {}", p.place))
                }
                (Purpose::Repeat, _) => " once more".to_owned(),
            };
            let changed =
                added.as_ref().map_or_else(String::new, |a| format!(", next division after {a} more"));
            let rounds = substituted.map_or_else(String::new, |n| {
                format!(", by {n} substitution{}", if n == 1 { "" } else { "s" })
            });
            let why = format!("{changed}{rounds}{why}");
            let shown = on_display(stage_of, *pad, shown);
            format!("{stage}: {moved}{what}{at}{}, {shown} shown{way}{how}{why}", made_of(with))
        }
        Body::Discriminated { stage, load, added, before, after, pad } => {
            let (before, after) = (on_display(stage, *pad, before), on_display(stage, *pad, after));
            let stage = if *stage == ReadStage::AsFound { "As found" } else { "Proof" };
            format!("{stage}: {added} added to {load}{}, {before} became {after}", at_pad(*pad))
        }
        Body::DecisionChosen { rule, reason } => {
            format!("Decision rule for this job: {}: {reason}", rule.label())
        }
        Body::NoFigureRead { stage, load, display, way, pad } => {
            let stage = if *stage == ReadStage::AsFound { "As found" } else { "Proof" };
            let way = if *way == Way::Up { "" } else { ", coming down" };
            format!(
                "{stage}: {load} on{way}{}, the display shows no figure: {}",
                at_pad(*pad),
                display.says()
            )
        }
        Body::SetupFound { setup, factor, pad } => {
            let factor = factor.as_ref().map_or_else(String::new, |f| format!(", factor {f}"));
            format!("Setup as found{}: {} × {}{factor}", at_pad(*pad), setup.max, setup.d)
        }
        Body::LeftAlone { reason, pad: TOGETHER } => format!("Left as it was: {reason}"),
        Body::LeftAlone { reason, pad } => format!("Pad {pad} left as it was: {reason}"),
        Body::CountersRead { counters, .. } => {
            let part =
                |name: &str, value: Option<u32>| value.map_or_else(String::new, |v| format!(" {name} {v}"));
            format!(
                "Counters:{}{}",
                part("set-up", counters.setup),
                part("calibration", counters.calibration)
            )
        }
        Body::SetUp { setup, pad, because } => {
            let fine = setup.fine.as_ref().map_or_else(String::new, |f| {
                format!(", up to {} in steps of {} ({})", f.max, f.d, setup.mode.label())
            });
            let at = if *pad == 0 { " on every pad".to_owned() } else { at_pad(*pad) };
            let decimals = crate::scale::decimals_text(setup.decimals);
            let why =
                because.as_ref().map_or_else(String::new, |why| format!("; entered all the same: {why}"));
            format!("Set up{at}: Max {}, division {}, {decimals}{fine}{why}", setup.max, setup.d)
        }
        Body::ZeroCaptured { capture, pad } => {
            format!("Zero captured{}{}", at_pad(*pad), counts(capture.counts.as_ref()))
        }
        Body::SpanChosen { weight, pad, with, .. } => {
            format!("Span weight {weight} keyed in{}{}", at_pad(*pad), made_of(with))
        }
        Body::SchoolChosen { school, reason } => {
            format!("Span weight asked for: {}: {reason}", school.label())
        }
        Body::SpanCaptured { capture, pad } => {
            format!("Span captured{}{}", at_pad(*pad), counts(capture.counts.as_ref()))
        }
        Body::PointCaptured { weight, capture, with, pad } => format!(
            "Point {weight}{} captured{}{}",
            made_of(with),
            at_pad(*pad),
            counts(capture.counts.as_ref())
        ),
        Body::ZeroSaved { pad } => format!("Zero alone saved{}", at_pad(*pad)),
        Body::FactorSet { old, new, load, shown, with, pad, .. } => format!(
            "Correction factor {old} → {new}{} ({load}{} showed {shown})",
            at_pad(*pad),
            made_of(with)
        ),
        Body::InternalMatched { old, new, load, shown, with, pad, .. } => {
            format!("Internal weight {old} → {new}{} ({load}{} showed {shown})", at_pad(*pad), made_of(with))
        }
        Body::SelfAdjusted { pad } => format!("Adjusted itself by its internal weight{}", at_pad(*pad)),
        Body::AdjustmentSaved { pad } => format!("Adjustment saved{}", at_pad(*pad)),
        Body::AdjustmentAbandoned { reason } => format!("Adjustment abandoned: {reason}"),
        Body::SealedUp { seals, .. } => {
            format!("Sealed up{}", if seals.trim().is_empty() { String::new() } else { format!(": {seals}") })
        }
        Body::Remarked { text } => format!("Remark: {text}"),
        Body::StoppedShort { reason } => format!("Stopped short: {reason}"),
        Body::StruckOut { reason, .. } => format!("An entry struck out: {reason}"),
        Body::Closed { name, .. } => format!("Signed by {name}"),
        Body::ConditionsRead { conditions } => format!("Around it: {}", conditions.says()),
        Body::Attached { file } => format!("Beside it: {}", file.says()),
        Body::CustomerSigned { name, .. } => format!("Signed for the customer by {name}"),
        Body::SheetCorrected { to, reason } => {
            format!("Put right: {}, {}, {}, serial {}: {reason}", to.name, to.owner, to.place, to.serial)
        }
        Body::SentBack { remarks } => format!("Sent back: {remarks}"),
        Body::Approved { remarks } => {
            format!("Approved{}", remarks.as_ref().map_or_else(String::new, |r| format!(": {r}")))
        }
        Body::Amended { of, reason } => format!("New version, in the place of {of}: {reason}"),
    }
}

/// The pieces of a load, each by its mark.
fn made_of(with: &[crate::journal::UsedPiece]) -> String {
    if with.is_empty() {
        String::new()
    } else {
        format!(" ({})", with.iter().map(|p| p.serial.as_str()).collect::<Vec<_>>().join(", "))
    }
}

/// Pads beyond the first are named; the first or only one goes without saying.
fn at_pad(pad: u8) -> String {
    if pad <= 1 { String::new() } else { format!(" at pad {pad}") }
}

fn counts(counts: Option<&crate::quantity::Decimal>) -> String {
    counts.map_or_else(String::new, |c| format!(" at {c} counts"))
}
