//! What cannot be true is not taken in silence: a zero with a load on it, a span without one. Each refusal says what to do, and a capture can be taken all the same
//! for a reason that stays on the record.

use crate::adjust::TwoPoint;
use crate::journal::{Capture, JobState, Setup, SetupOrigin, SpanOnRecord};
use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Share of Max that an empty platform may be off zero: the range of a zero-setting device. Source:
/// OIML R 76-1:2006, 4.5.1 (4 % of Max).
const ZERO_RANGE: (i64, i64) = (4, 2);
/// Share of the change of signal that is expected by cells or last record, below which a span is not
/// believed: rated outputs of cells lie within some per cent, corners and levers within some more.
const LEAST_OF_EXPECTED: (i64, i64) = (8, 1);
/// Share of the span weight by which the display must have moved, whatever it was adjusted to before.
const LEAST_MOVED: (i64, i64) = (1, 1);

fn said_so(capture: &Capture) -> bool {
    capture.because.as_ref().is_some_and(|why| !why.trim().is_empty())
}

fn on_record(state: &JobState, pad: u8) -> Option<&SpanOnRecord> {
    let before = state.before.as_ref()?;
    if pad <= 1 { before.span.as_ref() } else { before.pads.iter().find(|p| p.pad == pad)?.span.as_ref() }
}

/// The zero of a pad: an empty platform, by the display and by the counts.
///
/// # Errors
/// `not_empty` or `negative_counts`, at `because`.
pub(in crate::job) fn zero(state: &JobState, capture: &Capture, pad: u8) -> Result<(), Refusal> {
    if said_so(capture) {
        return Ok(());
    }
    let (setup, _) = state.setup_of(pad);
    let allowed = setup.max.times(&Decimal::new(ZERO_RANGE.0, ZERO_RANGE.1));
    let stays = state.sheet.build.stays_on.as_ref().map_or_else(
        || text!("capture-take-everything-off"),
        |s| text!("capture-take-everything-off-but-what", what = s.what),
    );
    let not_empty = |more: &Mass, by: Text| {
        Refusal::from(Refused::NotEmpty { by, rounded: setup.text(&rounded(more, &setup)), stays })
    };
    if let Some(shown) = &capture.shown {
        let zero_before =
            state.found.iter().rev().find(|r| r.pad == pad && r.is_load() && r.load.value.is_zero());
        let expected = zero_before.map_or_else(|| Mass::zero(setup.d.unit), |r| r.shown.clone());
        let more = shown.minus(&expected);
        if more > allowed {
            return Err(not_empty(&more, text!("capture-the-display")));
        }
    }
    let Some(counts) = &capture.counts else { return Ok(()) };
    if counts.is_negative() {
        return Err(Refusal::from(Refused::NegativeCounts { counts: counts.clone() }));
    }
    if let Some(last) = on_record(state, pad)
        && let Ok(two) = TwoPoint::new(last.weight.clone(), last.at_zero.clone(), last.with_weight.clone())
    {
        let more = two.mass_at(counts);
        if more > allowed {
            return Err(not_empty(&more, text!("capture-the-last-records-count-at")));
        }
    }
    Ok(())
}

fn rounded(mass: &Mass, setup: &Setup) -> Mass {
    let steps = mass.ratio(&setup.d).unwrap_or_else(Decimal::zero).round_away();
    Mass::new(&steps * &setup.d.value, setup.d.unit)
}

/// The span of a pad: the weight must be there, by the display, by the counts, by what cells or last
/// record lead to expect.
///
/// # Errors
/// `nothing_put_on`, `below_expected` or `few_counts`, at `because` or `counts`.
pub(in crate::job) fn span(
    state: &JobState,
    zero: &Capture,
    capture: &Capture,
    weight: &Mass,
    pad: u8,
) -> Result<(), Refusal> {
    let (setup, _) = state.setup_of(pad);
    let put_on = text!("capture-put-weight-on-in-the", weight);
    if let (Some(at_zero), Some(with_weight)) = (&zero.counts, &capture.counts) {
        let two = TwoPoint::new(weight.clone(), at_zero.clone(), with_weight.clone())
            .map_err(|e| Refusal::from(e).at("counts"))?;
        let counts = two.counts_per_division(&setup.d);
        if counts < 1 {
            return Err(Refusal::from(Refused::FewCounts {
                at_zero: at_zero.clone(),
                with_weight: with_weight.clone(),
                round_to: counts.round_to(3),
                advice: put_on,
            }));
        }
        if let Some((expected, by)) = expected(state, weight, pad)
            && !said_so(capture)
        {
            let change = with_weight - at_zero;
            if change < &expected * &Decimal::new(LEAST_OF_EXPECTED.0, LEAST_OF_EXPECTED.1) {
                return Err(Refusal::from(Refused::BelowExpected {
                    change,
                    by,
                    weight: weight.clone(),
                    round_to: expected.round_to(0),
                    put_on,
                }));
            }
        }
    }
    if said_so(capture) {
        return Ok(());
    }
    if let (Some(at_zero), Some(with_weight)) = (&zero.shown, &capture.shown) {
        let moved = with_weight.minus(at_zero);
        if moved < weight.times(&Decimal::new(LEAST_MOVED.0, LEAST_MOVED.1)) {
            return Err(Refusal::from(Refused::NothingPutOn {
                setup: setup.text(at_zero),
                setup2: setup.text(with_weight),
                weight: weight.clone(),
                put_on,
            }));
        }
    }
    Ok(())
}

/// By how many counts a weight should raise the signal, and what says so: the cells with their
/// indicator where that is known, else the last record.
fn expected(state: &JobState, weight: &Mass, pad: u8) -> Option<(Decimal, Text)> {
    if let Some(last) = on_record(state, pad)
        && state.setup_expected_of(pad).1 == SetupOrigin::LastRecord
    {
        let change = &last.with_weight - &last.at_zero;
        return Some((&change * &weight.ratio(&last.weight)?, text!("capture-the-last-record")));
    }
    let counts = state.sheet.build.indicator.as_ref()?.span_counts?;
    let (rated, _) = state.sheet.rated()?;
    Some((&Decimal::from(counts) * &weight.ratio(&rated)?, text!("capture-the-cells-and-the-indicators")))
}

crate::refusals! {
    enum Refused {
        NotEmpty { by: Text, rounded: String, stays: Text } = "not_empty" at "because":
            text!("capture-by-says-that-about-rounded", by, rounded = crate::wording::figure(rounded)),
            then text!("capture-stays-and-capture-zero-again", stays);
        NegativeCounts { counts: Decimal } = "negative_counts" at "because":
            text!("capture-counts-internal-counts-at-zero", counts),
            then text!("capture-look-at-the-wiring-signal");
        FewCounts { at_zero: Decimal, with_weight: Decimal, round_to: Decimal, advice: Text }
            = "few_counts" at "counts":
            text!("capture-the-count-went-from-at", at_zero, with_weight, round_to),
            then advice;
        BelowExpected { change: Decimal, by: Text, weight: Mass, round_to: Decimal, put_on: Text }
            = "below_expected" at "because":
            text!("capture-the-count-rose-by-change", change, by, weight, round_to),
            then text!("capture-put-on-if-the-weight", put_on);
        NothingPutOn { setup: String, setup2: String, weight: Mass, put_on: Text }
            = "nothing_put_on" at "because":
            text!("capture-the-display-went-from-setup", setup = crate::wording::figure(setup), setup2 = crate::wording::figure(setup2), weight),
            then text!("capture-put-on-if-it-does", put_on);
    }
}
