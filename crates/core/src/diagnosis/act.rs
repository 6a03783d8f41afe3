//! What is to be done: the act that costs least where it may be the wrong one. A fault that a span would hide is
//! the dearest mistake; reading again is cheap.

use super::causes::{Cause, Deed, table};
use super::shape::Shape;
use super::ways::Fixed;
use super::weigh::Weighed;

/// Every act.
const ACTS: [Deed; 9] = [
    Deed::Leave,
    Deed::Rezero,
    Deed::Span,
    Deed::Points,
    Deed::Corners,
    Deed::Setup,
    Deed::Wait,
    Deed::ReadAgain,
    Deed::Repair,
];

/// A cell that gives so much less is not trimmed any more: it is exchanged.
const TRIMMED: f64 = 0.05;

/// What would put it right, where this way is true.
pub(super) fn needed(weighed: &Weighed) -> Deed {
    let of =
        |cause: Cause| table().iter().find(|info| info.cause == cause).map_or(Deed::Repair, |info| info.act);
    let by_cell = |act: Deed| {
        let lost = weighed.way.shapes.iter().find_map(|(shape, size)| match shape {
            Shape::Cell(..) => Some(*size),
            _ => None,
        });
        match (weighed.way.fixed, lost) {
            (Fixed::CellLost(..), _) => Deed::Repair,
            (_, Some(lost)) if lost > TRIMMED => Deed::Repair,
            _ => act,
        }
    };
    let one = |cause: Cause| if cause == Cause::CornerCell { by_cell(of(cause)) } else { of(cause) };
    match weighed.and {
        None => one(weighed.cause),
        Some(and) => first_of(one(weighed.cause), one(and)),
    }
}

/// Which of two is done first: what is broken before what is set, what is set before what is adjusted.
pub(super) fn first_of(a: Deed, b: Deed) -> Deed {
    let rank = |deed: Deed| match deed {
        Deed::Repair => 0,
        Deed::Setup => 1,
        Deed::Wait => 2,
        Deed::ReadAgain => 3,
        Deed::Corners => 4,
        Deed::Points => 5,
        Deed::Span => 6,
        Deed::Rezero => 7,
        Deed::Leave => 8,
    };
    if rank(a) <= rank(b) { a } else { b }
}

/// What an act costs where another was needed, by what it hides and what it takes.
const fn cost(act: Deed, needed: Deed) -> f64 {
    match (needed, act) {
        (Deed::Leave, Deed::Leave)
        | (Deed::Rezero, Deed::Rezero)
        | (Deed::Span, Deed::Span)
        | (Deed::Points, Deed::Points)
        | (Deed::Corners, Deed::Corners)
        | (Deed::Setup, Deed::Setup)
        | (Deed::Wait, Deed::Wait)
        | (Deed::ReadAgain, Deed::ReadAgain)
        | (Deed::Repair, Deed::Repair) => 0.0,
        (_, Deed::ReadAgain) => 1.2,
        // An adjustment over a fault hides it, until it harms.
        (Deed::Repair, Deed::Span | Deed::Points | Deed::Corners | Deed::Rezero) => 20.0,
        (Deed::Repair, Deed::Setup) => 5.0,
        (Deed::Repair, _) => 10.0,
        (Deed::Leave, Deed::Rezero | Deed::Wait) => 1.5,
        (Deed::Leave, Deed::Span) => 2.5,
        (Deed::Leave, _) => 4.0,
        (Deed::Span, Deed::Points) => 1.5,
        (Deed::Rezero, Deed::Span) | (Deed::Corners, Deed::Repair) => 2.0,
        (Deed::Points | Deed::Wait | Deed::ReadAgain, Deed::Repair) => 3.0,
        (Deed::Span | Deed::Rezero | Deed::Setup, Deed::Repair) => 4.0,
        (Deed::Setup | Deed::Wait | Deed::ReadAgain | Deed::Corners, Deed::Span) => 8.0,
        (_, Deed::Leave) => 6.0,
        _ => 5.0,
    }
}

/// The act of the least expected cost. `odd`: the probability that a reading was written down wrong.
pub(super) fn act(posterior: &[(&Weighed, f64)], odd: f64) -> Deed {
    let expected = |act: Deed| posterior.iter().map(|(w, p)| p * cost(act, needed(w))).sum::<f64>();
    if odd > 0.5 {
        return Deed::ReadAgain;
    }
    ACTS.into_iter().min_by(|a, b| expected(*a).total_cmp(&expected(*b))).unwrap_or(Deed::ReadAgain)
}
