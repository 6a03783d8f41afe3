//! Each entry as a sentence, for the journal's list and the record.

use super::{Body, CheckFinding, ReadStage, ScaleKind, Settlement, Taken, Way, checklist};

/// The entry in a sentence.
pub fn sentence(kind: ScaleKind, body: &Body) -> String {
    let label = |item: &str| checklist(kind).find(|known| known.id == item).map_or_else(|| item.to_owned(), |known| known.label.clone());
    match body {
        Body::Started { sheet, .. } => format!("Job begun on {}", sheet.name),
        Body::LookedOver { item, finding, note } => {
            let found = match finding {
                CheckFinding::Ok => "in order",
                CheckFinding::Fault => "FAULT",
                CheckFinding::NotApplicable => "not applicable",
            };
            let note = note.as_ref().map_or_else(String::new, |n| format!(" ({n})"));
            format!("{}: {found}{note}", label(item))
        }
        Body::FaultSettled { item, how: Settlement::Repaired, reason } => format!("{}: repaired: {reason}", label(item)),
        Body::FaultSettled { item, how: Settlement::Overruled, reason } => format!("{}: overruled: {reason}", label(item)),
        Body::ToleranceChosen { tolerance, reason } => format!("Tolerance: {}: {reason}", tolerance.label()),
        Body::Read { stage, load, shown, way, taken } => {
            let stage = if *stage == ReadStage::AsFound { "As found" } else { "Proof" };
            let way = if *way == Way::Up { "" } else { ", coming down" };
            let how = if matches!(taken, Taken::Live { .. }) { ", live" } else { "" };
            format!("{stage}: {load} on, {shown} shown{way}{how}")
        }
        Body::LeftAlone { reason } => format!("Left as it was: {reason}"),
        Body::SetUp { setup } => format!("Set up: Max {}, division {}, {} decimals", setup.max, setup.d, setup.decimals),
        Body::ZeroCaptured { capture } => format!("Zero captured{}", counts(capture.counts.as_ref())),
        Body::SpanChosen { weight } => format!("Span weight {weight} keyed in"),
        Body::SpanCaptured { capture } => format!("Span captured{}", counts(capture.counts.as_ref())),
        Body::AdjustmentSaved => "Adjustment saved".into(),
        Body::AdjustmentAbandoned { reason } => format!("Adjustment abandoned: {reason}"),
        Body::SealedUp { seals, .. } => format!("Sealed up{}", if seals.trim().is_empty() { String::new() } else { format!(": {seals}") }),
        Body::Remarked { text } => format!("Remark: {text}"),
        Body::StoppedShort { reason } => format!("Stopped short: {reason}"),
        Body::StruckOut { reason, .. } => format!("An entry struck out: {reason}"),
        Body::Closed { name } => format!("Signed by {name}"),
    }
}

fn counts(counts: Option<&crate::quantity::Decimal>) -> String {
    counts.map_or_else(String::new, |c| format!(" at {c} counts"))
}
