//! Adjust or leave: what each choice would do to the errors that were read, before anything is
//! touched. Arithmetic of straight lines and pieces between what was read; noise is left aside.

use serde::Serialize;
use utoipa::ToSchema;

use super::causes::Deed;
use super::evidence::{Diagnosis, Ranked};
use crate::assessment::PhaseView;
use crate::journal::{Direction, Purpose};
use crate::quantity::Decimal;
use crate::wording::Text;

/// An error as it would be.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct AdjustedPoint {
    /// Load, in words.
    pub load_text: String,
    /// Error in divisions.
    pub error_d: f64,
    /// Inside the tolerance.
    pub within: bool,
}

/// What a choice would do.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct AdjustmentOption {
    /// The choice.
    pub act: Deed,
    /// In words.
    pub label: Text,
    /// The errors.
    pub points: Vec<AdjustedPoint>,
    /// Every one inside.
    pub within: bool,
    /// What the figures speak for.
    pub best: bool,
    /// Largest share of the tolerance.
    pub worst_share: f64,
}

/// Choices and what is best by them.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Choices {
    /// Each choice.
    pub ways: Vec<AdjustmentOption>,
    /// What the figures speak for.
    pub advice: Deed,
    /// That is an adjustment.
    pub adjusts: bool,
    /// In a sentence.
    pub says: Text,
}

impl Choices {
    fn of(ways: Vec<AdjustmentOption>, advice: Deed, says: Text) -> Self {
        let adjusts = matches!(advice, Deed::Rezero | Deed::Span | Deed::Points | Deed::Corners);
        Self { ways, advice, adjusts, says }
    }
}

/// A scale at more of its tolerance than this is not left alone: it would not hold until the next check.
const SHARE_LEFT: f64 = 0.8;

/// The likely cause, where adjusting would only hide it.
fn forbidding(diagnosis: &Diagnosis) -> Option<&Ranked> {
    let hides = |act: Deed| matches!(act, Deed::Repair | Deed::Setup | Deed::Wait);
    let first = diagnosis.ranked.first().filter(|r| hides(r.act) && (diagnosis.told || r.probability >= 0.5));
    first.or_else(|| diagnosis.ranked.iter().find(|r| hides(diagnosis.act) && r.act == diagnosis.act))
}

/// A load with its error and tolerance, in divisions.
#[derive(Clone, Debug)]
struct Point {
    load: f64,
    error: f64,
    mpe: f64,
    text: String,
}

/// What each choice would do to the errors of a phase; none where fewer than two loads were read. Where the next
/// thing is another reading, what each would do is shown and none is advised.
/// `leave_inside`: a scale inside its tolerance is left alone, by the rule of the workshop. Where the likely
/// cause forbids an adjustment, none is offered.
pub fn choices(
    phase: &PhaseView,
    pad: u8,
    leave_inside: bool,
    most_points: usize,
    diagnosis: Option<&Diagnosis>,
) -> Option<Choices> {
    let d = &phase.setup.d;
    let mut points: Vec<Point> = phase
        .readings
        .iter()
        .filter(|r| {
            r.counts
                && r.direction == Direction::Up
                && r.pad == pad
                && r.purpose == Purpose::Load
                && !r.load.value.is_negative()
        })
        .map(|r| Point {
            load: r.load.ratio(d).unwrap_or_else(Decimal::zero).to_f64(),
            error: r.error.ratio(d).unwrap_or_else(Decimal::zero).to_f64(),
            mpe: r.mpe_d,
            text: r.load_text.clone(),
        })
        .collect();
    points.sort_by(|a, b| a.load.total_cmp(&b.load));
    let last = points.last()?.clone();
    if last.load <= 0.0 || points.len() < 2 {
        return None;
    }
    let at_zero = points.iter().find(|p| p.load == 0.0).map_or(0.0, |p| p.error);
    let half = points
        .iter()
        .filter(|p| p.load > 0.0 && p.load < last.load)
        .min_by(|a, b| (a.load - last.load / 2.0).abs().total_cmp(&(b.load - last.load / 2.0).abs()))
        .cloned();
    let line = |load: f64| at_zero + (last.error - at_zero) * load / last.load;
    let pieces = |load: f64| match &half {
        Some(half) if load <= half.load => at_zero + (half.error - at_zero) * load / half.load,
        Some(half) => half.error + (last.error - half.error) * (load - half.load) / (last.load - half.load),
        None => line(load),
    };
    let way = |act: Deed, label: Text, left: &dyn Fn(&Point) -> f64| {
        let judged: Vec<(f64, &Point)> = points.iter().map(|p| (left(p), p)).collect();
        let worst_share = judged.iter().map(|(error, p)| error.abs() / p.mpe.max(1e-9)).fold(0.0, f64::max);
        AdjustmentOption {
            act,
            label,
            points: judged
                .iter()
                .map(|(error, p)| AdjustedPoint {
                    load_text: p.text.clone(),
                    error_d: *error,
                    within: error.abs() <= p.mpe,
                })
                .collect(),
            within: worst_share <= 1.0,
            best: false,
            worst_share,
        }
    };
    let mut ways = vec![
        way(Deed::Leave, text!("adjustment-options-leave-it"), &|p| p.error),
        way(Deed::Rezero, text!("adjustment-options-zero-only"), &|p| p.error - at_zero),
        way(Deed::Span, text!("adjustment-options-zero-and-span-at-last", last = last.text), &|p| {
            p.error - line(p.load)
        }),
    ];
    if let Some(half) = half.as_ref().filter(|_| most_points > 1) {
        ways.push(way(
            Deed::Points,
            text!("adjustment-options-zero-half-and-last", half = half.text, last = last.text),
            &|p| p.error - pieces(p.load),
        ));
    }
    // Zero is no point of the indicator's count.
    let span_points = points.iter().filter(|p| p.load > 0.0).count();
    if points.len() >= 4 && span_points <= most_points {
        ways.push(way(
            Deed::Points,
            text!("adjustment-options-a-point-at-each-of", points = points.len()),
            &|_| 0.0,
        ));
    }
    if diagnosis.is_some_and(|d| d.act == Deed::ReadAgain) {
        return Some(Choices::of(ways, Deed::ReadAgain, text!("adjustment-options-nothing-before-that")));
    }
    if let Some(cause) = diagnosis.and_then(forbidding) {
        ways.truncate(1);
        let says = text!("adjustment-options-would-hide", label = cause.label);
        return Some(Choices::of(ways, cause.act, says));
    }
    // The least that brings everything inside; a third of the tolerance is inside with room to spare.
    let inside = ways[0].within;
    let room = if leave_inside { SHARE_LEFT } else { 1.0 / 3.0 };
    let best = if inside && ways[0].worst_share <= room {
        Some(0)
    } else {
        // The least that brings everything inside; where nothing does better, what is inside is left.
        ways.iter().skip(1).position(|w| w.within).map(|i| i + 1).or(inside.then_some(0))
    };
    let says = match best.map(|best| &ways[best]) {
        Some(w) if w.act == Deed::Leave => text!(
            "adjustment-options-inside-everywhere-worst-share-of",
            worst_share = crate::wording::fixed(w.worst_share * 100.0, 0)
        ),
        Some(w) if inside => text!(
            "adjustment-options-inside-but-to-lowercase-worst",
            to_lowercase = w.label.inside(),
            worst_share = crate::wording::fixed(w.worst_share * 100.0, 0),
            worst_share2 = crate::wording::fixed(ways[0].worst_share * 100.0, 0)
        ),
        Some(w) => text!(
            "adjustment-options-label-brings-every-load-read",
            label = w.label,
            worst_share = crate::wording::fixed(w.worst_share * 100.0, 0)
        ),
        None => text!("adjustment-options-no-adjustment-brings-every-load"),
    };
    let advice = best.map_or(Deed::Repair, |best| ways[best].act);
    if let Some(best) = best {
        ways[best].best = true;
    }
    Some(Choices::of(ways, advice, says))
}
