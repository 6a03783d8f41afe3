//! What is to be done: the act that costs least where it may be the wrong one. A fault that a span would hide is
//! the dearest mistake; reading again is cheap.

use super::causes::{Cause, Deed, table};
use super::counter::Weighed;
use super::shape::Shape;
use super::ways::Fixed;

/// Every act, what is done first before what is done after it: what is broken before what is set, what is set
/// before what is adjusted.
const ACTS: [Deed; 9] = [
    Deed::Repair,
    Deed::Setup,
    Deed::Wait,
    Deed::ReadAgain,
    Deed::Corners,
    Deed::Points,
    Deed::Span,
    Deed::Rezero,
    Deed::Leave,
];

/// A cell that gives so much less is not trimmed any more: it is exchanged.
const TRIMMED: f64 = 0.05;

/// What would put it right, where this way is true.
pub(super) fn needed(weighed: &Weighed) -> Deed {
    let one = |cause: Cause| match table().iter().find(|info| info.cause == cause) {
        Some(info) if cause != Cause::CornerCell || is_trimmed(weighed) => info.act,
        _ => Deed::Repair,
    };
    let acts = [Some(weighed.cause), weighed.and].map(|cause| cause.map(one));
    ACTS.into_iter().find(|act| acts.contains(&Some(*act))).unwrap_or(Deed::Repair)
}

/// True where the cell gives so little less that the junction box takes it up.
fn is_trimmed(weighed: &Weighed) -> bool {
    let cell = weighed.way.terms.iter().find(|term| matches!(term.shape, Shape::Cell(..)));
    !matches!(weighed.way.fixed, Fixed::CellLost(..)) && cell.is_none_or(|cell| cell.sd <= TRIMMED)
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

/// The act of the least expected cost over what each way needs, with its probability.
pub(super) fn act(posterior: &[(&Weighed, f64)]) -> Deed {
    let mut needs = [0.0f64; ACTS.len()];
    for (weighed, probability) in posterior {
        let need = needed(weighed);
        ACTS.iter().zip(&mut needs).filter(|(act, _)| **act == need).for_each(|(_, sum)| *sum += probability);
    }
    let expected = |act: Deed| ACTS.iter().zip(needs).map(|(need, p)| p * cost(act, *need)).sum::<f64>();
    ACTS.into_iter().min_by(|a, b| expected(*a).total_cmp(&expected(*b))).unwrap_or(Deed::ReadAgain)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_right_act_costs_nothing_and_no_adjustment_costs_less_than_reading_again_over_a_repair() {
        for need in ACTS {
            for act in ACTS {
                assert_eq!(cost(act, need) == 0.0, act == need, "{act:?} {need:?}");
            }
            assert!(
                cost(Deed::ReadAgain, need)
                    <= ACTS.map(|a| cost(a, need)).into_iter().filter(|c| *c > 0.0).fold(9.0, f64::min)
            );
        }
        // Where a repair is needed in one of ten, an adjustment is dearer than another reading.
        for act in [Deed::Span, Deed::Points, Deed::Corners, Deed::Rezero] {
            assert!(0.1 * cost(act, Deed::Repair) > cost(Deed::ReadAgain, Deed::Repair));
        }
    }
}
