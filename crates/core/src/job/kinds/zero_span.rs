//! Zero, span and further points in internal counts. What the counts and the display say against a capture
//! stands in [`super::doubts`].

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::adjust::{Curve, Point, TwoPoint};
use crate::assessment::{Around, comes_to};
use crate::journal::{
    Body, Capture, Entry, Heard, JobState, Setup, SetupOrigin, UsedPiece, entries, most_points, open_faults,
};
use crate::quantity::{Decimal, Mass, parse_mass};
use crate::refusal::Refusal;
use crate::wording::Text;

use super::doubts;
use super::kind::{Admitted, Understood};
use super::pads::known_pad;
use super::source::{Source, capture};
use super::words::{reasoned, said};

/// What a person says beside a capture.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
pub struct Claim {
    /// What the display showed, as typed; empty: not told.
    #[serde(default)]
    pub shown: String,
    /// Why it is taken although it does not look like what it is meant to be; empty: no reason.
    #[serde(default)]
    pub because: String,
}

/// A capture with what a person says beside it, and its pad: the one that is worked at, where none is named.
fn captured(
    state: &JobState,
    counts: &Source,
    pad: Option<u8>,
    claim: Claim,
    live: &Heard,
) -> Result<(Capture, u8), Refusal> {
    let pad = pad.unwrap_or_else(|| state.pad_in_hand());
    let capture = capture(counts, live)?;
    let unit = state.setup_of(pad).0.d.unit;
    let typed =
        if claim.shown.trim().is_empty() { None } else { Some(parse_mass(&claim.shown, unit, "shown")?) };
    let shown = capture.shown.or(typed);
    Ok((Capture { shown, because: said(claim.because), ..capture }, pad))
}

/// A span weight, as typed: a mass, or a percentage of Max as some indicators ask for it.
///
/// # Errors
/// A [`Refusal`] at `weight`.
pub fn span_weight(text: &str, setup: &Setup) -> Result<Mass, Refusal> {
    let unit = setup.calibrated_in.unwrap_or(setup.d.unit);
    let Some(share) = text.trim().strip_suffix('%') else { return Ok(parse_mass(text, unit, "weight")?) };
    let refused = || Refusal::from(Refused::NotAMass { string: text.chars().take(24).collect::<String>() });
    let share: Decimal = share.trim().replace(',', ".").parse().map_err(|_| refused())?;
    let mass = setup.max.times(&(&share * &Decimal::new(1, 2))).to(unit);
    Ok(Mass::new(mass.value.round_to(9), unit))
}

/// Whether a span weight may be chosen.
pub(in crate::job) fn admit_span_chosen(
    state: &JobState,
    weight: &Mass,
    with: &[UsedPiece],
    pad: u8,
) -> Result<(), Refusal> {
    may_adjust(state, pad)?;
    may_be_keyed(state, weight, pad)?;
    comes_to(weight, with).map_err(|r| r.at("weight"))
}

/// Whether a further point may follow.
pub(in crate::job) fn admit_point(
    state: &JobState,
    weight: &Mass,
    capture: &Capture,
    with: &[UsedPiece],
    pad: u8,
) -> Result<(), Refusal> {
    points_rise(state, weight, capture, pad)?;
    comes_to(weight, with).map_err(|r| r.at("weight"))
}

/// Whether zero may be saved alone.
pub(in crate::job) fn admit_zero_saved(state: &JobState, pad: u8) -> Result<(), Refusal> {
    match (&state.pad(pad).zero, &state.pad(pad).span_weight) {
        (Some(_), None) => Ok(()),
        (None, _) => Err(Refusal::from(Refused::NoZero)),
        (Some(_), Some(_)) => Err(Refusal::from(Refused::SpanBegun)),
    }
}

/// Whether an adjustment may be saved.
pub(in crate::job) fn admit_saved(state: &JobState, pad: u8) -> Result<(), Refusal> {
    match state.pad(pad).span {
        Some(_) => Ok(()),
        None => Err(Refusal::from(Refused::NothingToSave)),
    }
}

/// Whether an adjustment may be abandoned.
pub(in crate::job) fn admit_abandoned(state: &JobState, reason: &str) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    if state.adjusting() {
        return Ok(());
    }
    Err(Refusal::from(Refused::NothingToAbandon))
}

/// A span is believed beside its zero and its weight.
pub(in crate::job) fn believe_span(state: &JobState, capture: &Capture, pad: u8) -> Result<(), Refusal> {
    match (&state.pad(pad).zero, &state.pad(pad).span_weight) {
        (Some(zero), Some(weight)) => doubts::span(state, zero, capture, weight, pad),
        _ => Ok(()),
    }
}

/// Whether a pad may be adjusted now.
pub(in crate::job) fn may_adjust(state: &JobState, pad: u8) -> Result<(), Refusal> {
    known_pad(state, pad)?;
    if state.adjusting() && !state.pad(pad).adjusting() {
        return Err(Refusal::from(Refused::OtherPad { pad_in_hand: state.pad_in_hand() }));
    }
    if let Some(item) = open_faults(state).next() {
        return Err(Refusal::from(Refused::FaultOpen { label: item.label() }));
    }
    if state.setup_of(pad).1 == SetupOrigin::Plate {
        return Err(Refusal::from(Refused::NotSetUp));
    }
    Ok(())
}

fn fits_counts(capture: &Capture) -> Result<(), Refusal> {
    let limit = Decimal::from(1_000_000_000_000u64);
    match &capture.counts {
        Some(counts) if counts.abs() >= limit => Err(Refusal::from(Refused::TooLarge)),
        _ => Ok(()),
    }
}

/// A span weight that the indicator can be told.
fn may_be_keyed(state: &JobState, weight: &Mass, pad: u8) -> Result<(), Refusal> {
    let (setup, _) = state.setup_of(pad);
    if !weight.value.is_positive() {
        return Err(Refusal::from(Refused::NotPositive));
    }
    if *weight > setup.max {
        return Err(Refusal::from(Refused::AboveMax { weight: weight.clone(), max: setup.max.clone() }));
    }
    // A weight that is keyed in another unit than the display's is a matter for the profile.
    if state.sheet.profile_facts().is_none() && setup.calibrated_in.is_some_and(|unit| unit != setup.d.unit) {
        return Ok(());
    }
    crate::journal::span_digits(&state.sheet, &setup, weight).map(|_| ()).map_err(|r| r.at("weight"))
}

/// Whether span may be captured.
pub(in crate::job) fn admit_span(state: &JobState, capture: &Capture, pad: u8) -> Result<(), Refusal> {
    may_adjust(state, pad)?;
    fits_counts(capture)?;
    let Some(zero) = &state.pad(pad).zero else {
        return Err(Refusal::from(Refused::NoZero));
    };
    let Some(weight) = &state.pad(pad).span_weight else {
        return Err(Refusal::from(Refused::NoWeight));
    };
    let (Some(at_zero), Some(with_weight)) = (&zero.counts, &capture.counts) else { return Ok(()) };
    TwoPoint::new(weight.clone(), at_zero.clone(), with_weight.clone())
        .map(|_| ())
        .map_err(|e| Refusal::from(e).at("counts"))
}

fn points_rise(state: &JobState, weight: &Mass, capture: &Capture, pad: u8) -> Result<(), Refusal> {
    let here = state.pad(pad);
    if here.span.is_none() {
        return Err(Refusal::from(Refused::NoSpan));
    }
    let most = most_points(state);
    if here.points.len() + 1 >= most {
        let by = if state.sheet.profile_facts().is_some() {
            text!("admit-this-indicator-takes")
        } else {
            text!("admit-a-curve-has-at-most")
        };
        return Err(Refusal::from(Refused::TooMany { by, most }));
    }
    may_be_keyed(state, weight, pad)?;
    fits_counts(capture)?;
    let mut points = here.curve_points();
    points.push((weight.clone(), capture.counts.clone()));
    points.sort_by(|a, b| a.0.cmp(&b.0));
    if let Some(pair) = points.windows(2).find(|pair| pair[0].0 == pair[1].0) {
        return Err(Refusal::from(Refused::Twice { pair: pair[0].0.clone() }));
    }
    // An indicator that shows no counts keeps its curve to itself.
    let known: Option<Vec<Point>> =
        points.into_iter().map(|(mass, counts)| Some(Point { counts: counts?, mass })).collect();
    known.map_or(Ok(()), |points| Curve::new(points).map(|_| ()).map_err(|e| Refusal::from(e).at("counts")))
}

/// Zero.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct ZeroCapturedDraft {
    /// Its counts.
    pub counts: Source,
    /// Which pad; none: the one that is worked at.
    #[serde(default)]
    pub pad: Option<u8>,
    /// What is said beside it.
    #[serde(flatten, default)]
    pub claim: Claim,
}

impl Understood for ZeroCapturedDraft {
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let (capture, pad) = captured(state, &self.counts, self.pad, self.claim, around.live)?;
        Ok(entries::ZeroCaptured { capture, pad }.into())
    }
}

impl Admitted for entries::ZeroCaptured {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        may_adjust(state, self.pad)?;
        fits_counts(&self.capture)
    }

    fn believe(&self, state: &JobState) -> Result<(), Refusal> {
        doubts::zero(state, &self.capture, self.pad)
    }
}

/// The span weight.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SpanChosenDraft {
    /// As typed.
    pub weight: String,
    /// Which pad; none: the one that is worked at.
    #[serde(default)]
    pub pad: Option<u8>,
    /// The pieces it is made of, from the kit.
    #[serde(default)]
    pub with: Vec<Uuid>,
}

impl Understood for SpanChosenDraft {
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let pad = self.pad.unwrap_or_else(|| state.pad_in_hand());
        let (setup, _) = state.setup_of(pad);
        let span_weight_rule = state
            .span_weight_rule
            .as_ref()
            .map_or(around.span_weight_rule, |(span_weight_rule, _)| *span_weight_rule);
        let weight = span_weight(&self.weight, &setup)?;
        let with = around.used(state, &self.with)?;
        Ok(entries::SpanChosen { weight, with, span_weight_rule: Some(span_weight_rule), pad }.into())
    }
}

impl Admitted for entries::SpanChosen {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_span_chosen(state, &self.weight, &self.with, self.pad)
    }
}

/// Span.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct SpanCapturedDraft {
    /// Its counts.
    pub counts: Source,
    /// Which pad; none: the one that is worked at.
    #[serde(default)]
    pub pad: Option<u8>,
    /// What is said beside it.
    #[serde(flatten, default)]
    pub claim: Claim,
}

impl Understood for SpanCapturedDraft {
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let (capture, pad) = captured(state, &self.counts, self.pad, self.claim, around.live)?;
        Ok(entries::SpanCaptured { capture, pad }.into())
    }
}

impl Admitted for entries::SpanCaptured {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_span(state, &self.capture, self.pad)
    }

    fn believe(&self, state: &JobState) -> Result<(), Refusal> {
        believe_span(state, &self.capture, self.pad)
    }
}

/// A further point of the curve.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct PointCapturedDraft {
    /// Its weight, as typed.
    pub weight: String,
    /// Its counts.
    pub counts: Source,
    /// The pieces it is made of, from the kit.
    #[serde(default)]
    pub with: Vec<Uuid>,
    /// Which pad; none: the one that is worked at.
    #[serde(default)]
    pub pad: Option<u8>,
}

impl Understood for PointCapturedDraft {
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let pad = self.pad.unwrap_or_else(|| state.pad_in_hand());
        let (setup, _) = state.setup_of(pad);
        let weight = parse_mass(&self.weight, setup.calibrated_in.unwrap_or(setup.d.unit), "weight")?;
        let capture = capture(&self.counts, around.live)?;
        let with = around.used(state, &self.with)?;
        Ok(entries::PointCaptured { weight, capture, with, pad }.into())
    }
}

impl Admitted for entries::PointCaptured {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_point(state, &self.weight, &self.capture, &self.with, self.pad)
    }
}

impl Admitted for entries::ZeroSaved {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_zero_saved(state, self.pad)
    }
}

impl Admitted for entries::AdjustmentSaved {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_saved(state, self.pad)
    }
}

/// Abandoned.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct AdjustmentAbandonedDraft {
    /// Why.
    #[serde(default)]
    pub reason: String,
}

impl Understood for AdjustmentAbandonedDraft {
    fn understood(self, _: &JobState, _: &Around<'_>) -> Result<Body, Refusal> {
        let Self { reason } = self;
        Ok(entries::AdjustmentAbandoned { reason }.into())
    }
}

impl Admitted for entries::AdjustmentAbandoned {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit_abandoned(state, &self.reason)
    }
}

crate::refusals! {
    enum Refused {
        NotAMass { string: String } = "not_a_mass" at "weight":
            text!("draft-string-is-no-percentage-of", string);
        NoZero = "no_zero":
            text!("admit-zero-is-not-captured-yet"),
            then text!("admit-empty-the-platform-and-capture");
        SpanBegun = "span_begun":
            text!("admit-a-span-weight-is-chosen"),
            then text!("admit-capture-span-or-abandon-the");
        NothingToSave = "nothing_to_save":
            text!("admit-there-is-no-captured-span"),
            then text!("admit-capture-zero-then-span");
        NothingToAbandon = "nothing_to_abandon": text!("admit-no-adjustment-is-under-way");
        OtherPad { pad_in_hand: u8 } = "other_pad" at "pad":
            text!("admit-pad-pad-in-hand-is", pad_in_hand),
            then text!("admit-save-or-abandon-it-first");
        FaultOpen { label: Text } = "fault_open":
            text!("admit-label-has-a-fault-that", label),
            then text!("admit-repair-it-and-mark-it");
        NotSetUp = "not_set_up":
            text!("admit-the-indicators-set-up-is"),
            then text!("admit-set-up-comes-first-changing");
        TooLarge = "too_large" at "counts": text!("admit-internal-counts-stay-below-10");
        NotPositive = "not_positive" at "weight": text!("admit-the-span-weight-must-be");
        AboveMax { weight: Mass, max: Mass } = "above_max" at "weight":
            text!("admit-weight-is-above-max-max", weight, max),
            then text!("admit-take-a-span-weight-up");
        NoWeight = "no_weight" at "weight":
            text!("admit-the-span-weight-is-not"),
            then text!("admit-choose-the-span-weight-first");
        NoSpan = "no_span":
            text!("admit-further-points-come-after-zero"),
            then text!("admit-capture-span-first");
        TooMany { by: Text, most: usize } = "too_many" at "weight":
            text!("admit-by-most-span-point-s", by, most),
            then text!("admit-save-it");
        Twice { pair: Mass } = "twice" at "weight":
            text!("admit-pair-is-a-point-already", pair),
            then text!("admit-take-another-load");
    }
}
