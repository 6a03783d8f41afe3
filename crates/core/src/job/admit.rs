//! Whether an entry may follow. Pure: the same journal and the same entry are always decided the
//! same way. A refusal says what is wrong, at which field, and what to do.

use crate::adjust::{Curve, Point, TwoPoint};
use crate::assessment::{after_signing, comes_to, fit_for_proof, judge_setup};
use crate::grade::Grade;
use crate::journal::{
    Body, Capture, CheckFinding, Entry, JobState, Purpose, ReadStage, Setup, SetupOrigin, TOGETHER, Way,
    most_points, open_faults, position, rests_on,
};
use crate::quantity::{Book, Decimal, Mass, SHOWN_BELOW_ZERO_D, most_shown};
use crate::refusal::Refusal;
use crate::scale::{Check, ScaleSheet, checklist};
use crate::weights::MOST_ROUNDS;
use crate::wording::Text;

/// Longest note, reason or remark, in characters.
const LONGEST_TEXT: usize = 2_000;

/// Decides whether `body` may follow `entries`, whose state is `state`.
///
/// # Errors
/// A [`Refusal`]; nothing is changed by it.
pub fn decide(entries: &[Entry], state: &JobState, body: &Body) -> Result<(), Refusal> {
    may_follow(entries, state, body)?;
    believe(state, body)
}

/// What is not taken from a person although the journal would bear it. Journals that were written before
/// one of these rules was there stay readable: they are held to [`may_follow`] alone.
fn believe(state: &JobState, body: &Body) -> Result<(), Refusal> {
    match body {
        Body::LookedOver { finding: CheckFinding::Ok, cells, note, .. } => {
            crate::journal::alike(cells, note.as_deref())
        }
        Body::LookedOver { finding: CheckFinding::Fault, note, .. }
            if note.as_deref().is_none_or(|note| note.trim().is_empty()) =>
        {
            Err(Refusal::new("note_needed", text!("admit-say-in-a-few-words")).at("note"))
        }
        Body::ZeroCaptured { capture, pad } => super::capture::zero(state, capture, *pad),
        Body::SpanCaptured { capture, pad } => match (&state.pad(*pad).zero, &state.pad(*pad).span_weight) {
            (Some(zero), Some(weight)) => super::capture::span(state, zero, capture, weight, *pad),
            _ => Ok(()),
        },
        Body::SetUp { setup, .. } => covered(state, setup),
        Body::FactorSet { .. } if state.sheet.profile_facts().is_some_and(|f| f.factor.is_none()) => {
            Err(Refusal::new("no_factor", text!("admit-by-its-profile-this-indicator"))
                .then(text!("admit-capture-zero-and-span-with")))
        }
        Body::LeftAlone { pad, .. } => read_since(state, *pad),
        Body::Closed { .. } => complete(&crate::assessment::missing(&crate::assessment::Lists::of(state))),
        _ => Ok(()),
    }
}

/// Whether the journal bears the entry: a law of every journal that was ever written.
pub(super) fn may_follow(entries: &[Entry], state: &JobState, body: &Body) -> Result<(), Refusal> {
    after_signing(state, body)?;
    match body {
        Body::Started { .. } => {
            Err(Refusal::new("already_started", text!("admit-the-job-has-begun-already")))
        }
        Body::LookedOver { item, note, .. } => {
            known_item(&state.sheet, item)?;
            note.as_deref().map_or(Ok(()), |note| readable("note", note))
        }
        Body::FaultSettled { item, reason, .. } => settle(state, item, reason),
        Body::ToleranceChosen { tolerance, reason } => {
            reasoned("reason", reason)?;
            let (setup, _) = state.setup_in_force();
            tolerance.check(&setup.d, &setup.max).map_err(|e| Refusal::from(e).at("tolerance"))
        }
        Body::Read {
            stage,
            load,
            shown,
            way,
            pad,
            with,
            overruled,
            purpose,
            spot,
            added,
            substituted,
            ..
        } => {
            if !(*pad == TOGETHER && state.several()) {
                known_pad(state, *pad)?;
            }
            read(state, *stage, load, shown, *pad)?;
            purposeful(state, *purpose, *spot, load)?;
            changeover(state, *stage, load, *way, added.as_ref(), *pad)?;
            match substituted {
                None => comes_to(load, with)?,
                Some(rounds) => by_substitution(load, *rounds, with)?,
            }
            overruled.as_deref().map_or(Ok(()), |why| readable("overruled", why))?;
            if *stage == ReadStage::Prove { fit_for_proof(with, overruled.as_deref()) } else { Ok(()) }
        }
        Body::NoFigureRead { stage, load, display, pad, .. } => {
            if !(*pad == TOGETHER && state.several()) {
                known_pad(state, *pad)?;
            }
            if let crate::journal::NoFigure::Text { text, .. } = display {
                readable("text", text)?;
            }
            read(state, *stage, load, &Mass::zero(load.unit), *pad)
        }
        Body::SetupFound { setup, pad, .. } => {
            known_pad(state, *pad)?;
            if state.pad(*pad).setup.is_some()
                || state.pad(*pad).adjusting()
                || state.pad(*pad).adjusted.is_some()
            {
                return Err(Refusal::new("already_adjusted", text!("admit-as-found-is-how-it")));
            }
            if state.found.iter().any(|r| r.pad == *pad) {
                return Err(Refusal::new("read_already", text!("admit-readings-as-found-were-taken"))
                    .then(text!("admit-strike-them-out-first-then")));
            }
            state
                .tolerance
                .0
                .check(&setup.d, &setup.max)
                .map_err(|e| Refusal::from(e).at("max").then(text!("admit-choose-a-tolerance-that-covers")))
        }
        Body::Discriminated { stage, load, before, after, pad, .. } => {
            known_pad(state, *pad)?;
            read(state, *stage, load, before, *pad)
                .map_err(|r| if r.field.as_deref() == Some("shown") { r.at("before") } else { r })?;
            read(state, *stage, load, after, *pad)
                .map_err(|r| if r.field.as_deref() == Some("shown") { r.at("after") } else { r })
        }
        Body::DecisionChosen { reason, .. } => reasoned("reason", reason),
        Body::SchoolChosen { reason, .. } => reasoned("reason", reason),
        Body::CountersRead { .. } => Ok(()),
        Body::LeftAlone { reason, pad } => leave_alone(state, reason, *pad),
        Body::SetUp { setup, pad, because } => {
            if *pad != 0 {
                known_pad(state, *pad)?;
            }
            because.as_deref().map_or(Ok(()), |why| reasoned("because", why))?;
            set_up(state, setup, (*pad).max(1), because.is_some())
        }
        Body::ZeroCaptured { capture, pad } => {
            may_adjust(state, *pad)?;
            fits_counts(capture)
        }
        Body::SpanChosen { weight, pad, with, .. } => {
            may_adjust(state, *pad)?;
            span_weight(state, weight, *pad)?;
            comes_to(weight, with).map_err(|r| r.at("weight"))
        }
        Body::SpanCaptured { capture, pad } => span(state, capture, *pad),
        Body::PointCaptured { weight, capture, with, pad } => {
            point(state, weight, capture, *pad)?;
            comes_to(weight, with).map_err(|r| r.at("weight"))
        }
        Body::ZeroSaved { pad } => match (&state.pad(*pad).zero, &state.pad(*pad).span_weight) {
            (Some(_), None) => Ok(()),
            (None, _) => Err(Refusal::new("no_zero", text!("admit-zero-is-not-captured-yet"))
                .then(text!("admit-empty-the-platform-and-capture"))),
            (Some(_), Some(_)) => Err(Refusal::new("span_begun", text!("admit-a-span-weight-is-chosen"))
                .then(text!("admit-capture-span-or-abandon-the"))),
        },
        Body::FactorSet { new, load, with, pad, .. } => {
            without_capture(state, load, with, *pad)?;
            if new.is_positive() {
                Ok(())
            } else {
                Err(Refusal::new("not_positive", text!("admit-in-these-digits-the-new"))
                    .at("decimals")
                    .then(text!("admit-take-more-decimals")))
            }
        }
        Body::InternalMatched { load, with, pad, .. } => without_capture(state, load, with, *pad),
        Body::SelfAdjusted { pad } => {
            known_pad(state, *pad)?;
            if state.pad(*pad).awaits_itself() {
                return Ok(());
            }
            Err(Refusal::new("no_internal", text!("admit-no-internal-weight-was-matched"))
                .then(text!("admit-match-the-internal-weight-first")))
        }
        Body::AdjustmentSaved { pad } => match state.pad(*pad).span {
            Some(_) => Ok(()),
            None => Err(Refusal::new("nothing_to_save", text!("admit-there-is-no-captured-span"))
                .then(text!("admit-capture-zero-then-span"))),
        },
        Body::AdjustmentAbandoned { reason } => {
            reasoned("reason", reason)?;
            if state.adjusting() {
                Ok(())
            } else {
                Err(Refusal::new("nothing_to_abandon", text!("admit-no-adjustment-is-under-way")))
            }
        }
        Body::SealedUp { seals, .. } => readable("seals", seals),
        Body::Remarked { text } => reasoned("text", text),
        Body::StoppedShort { reason } => reasoned("reason", reason),
        Body::StruckOut { entry, reason } => {
            reasoned("reason", reason)?;
            strike(entries, state, *entry)
        }
        Body::Closed { name, .. } => close(state, name),
        Body::ConditionsRead { conditions } => {
            conditions.note.as_deref().map_or(Ok(()), |note| readable("note", note))
        }
        Body::Attached { file } => file.check(),
        Body::CustomerSigned { name, path } => {
            crate::journal::check_signature(name, path)?;
            complete(&crate::assessment::missing_beside_proof(state))
        }
        Body::SheetCorrected { to, reason } => {
            reasoned("reason", reason)?;
            let mut sheet = state.sheet.clone();
            to.put_into(&mut sheet);
            sheet.check()
        }
        Body::SentBack { remarks } => reasoned("remarks", remarks),
        Body::Approved { remarks } => remarks.as_deref().map_or(Ok(()), |text| readable("remarks", text)),
        Body::Amended { reason, .. } => reasoned("reason", reason),
    }
}

fn readable(field: &str, text: &str) -> Result<(), Refusal> {
    if text.chars().count() > LONGEST_TEXT {
        return Err(Refusal::new(
            "too_long",
            text!("admit-at-most-longest-text-characters", longest_text = LONGEST_TEXT),
        )
        .at(field));
    }
    Ok(())
}

fn reasoned(field: &str, text: &str) -> Result<(), Refusal> {
    if text.trim().is_empty() {
        return Err(Refusal::new("reason_needed", text!("admit-a-few-words-are-needed")).at(field));
    }
    readable(field, text)
}

fn known_item(sheet: &ScaleSheet, item: &str) -> Result<(), Refusal> {
    if checklist(sheet.kind).any(|known| known.id == item) {
        return Ok(());
    }
    Err(Refusal::new("unknown_item", text!("admit-this-scales-checklist-has-no")).at("item"))
}

fn settle(state: &JobState, item: &str, reason: &str) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    match state.checks.get(item) {
        Some(check) if check.finding == CheckFinding::Fault => Ok(()),
        _ => Err(Refusal::new("no_fault", text!("admit-there-is-no-fault-at")).at("item")),
    }
}

fn known_pad(state: &JobState, pad: u8) -> Result<(), Refusal> {
    if (1..=state.sheet.pads).contains(&pad) {
        return Ok(());
    }
    Err(Refusal::new("unknown_pad", text!("admit-this-scale-has-pads-pad", pads = state.sheet.pads))
        .at("pad"))
}

/// A load for the corners stands at a place that the platform has; the same load again is a load.
fn purposeful(state: &JobState, purpose: Purpose, spot: Option<u8>, load: &Mass) -> Result<(), Refusal> {
    if purpose != Purpose::Load && !load.value.is_positive() {
        return Err(Refusal::new("not_positive", text!("admit-a-load-is-above-zero", load)).at("load"));
    }
    match (purpose, spot) {
        (Purpose::Corner, None) => Err(Refusal::new("no_spot", text!("admit-at-which-place-does-it"))
            .at("spot")
            .then(text!("admit-tap-the-place-on-the"))),
        (Purpose::Corner, Some(spot)) if position(state, spot).is_none() => {
            Err(Refusal::new("unknown_spot", text!("admit-this-platform-has-no-such")).at("spot"))
        }
        (Purpose::Corner, Some(_)) | (_, None) => Ok(()),
        (_, Some(_)) => Err(Refusal::new("spot_elsewhere", text!("admit-only-a-load-for-the")).at("spot")),
    }
}

/// A load by substitution: above zero, in as many rounds as are offered, and not less than the weights
/// that were put on each time.
fn by_substitution(load: &Mass, rounds: u8, with: &[crate::journal::UsedPiece]) -> Result<(), Refusal> {
    if u32::from(rounds) >= MOST_ROUNDS || rounds == 0 {
        return Err(Refusal::new(
            "too_many_rounds",
            text!("admit-1-to-most-rounds-substitutions", most_rounds = MOST_ROUNDS - 1, rounds),
        )
        .at("substituted")
        .then(text!("admit-bring-more-weights")));
    }
    let weights = with.iter().fold(Mass::zero(load.unit), |sum, p| sum.plus(&p.nominal));
    if !load.value.is_positive() || weights > *load {
        return Err(Refusal::new("other_sum", text!("admit-a-load-of-load-is", load, weights))
            .at("load")
            .then(text!("admit-the-pieces-named-are-those")));
    }
    Ok(())
}

/// What was added until the display changed lies between nothing and one division. Source: OIML
/// R 76-1:2006, A.4.4.3.
fn changeover(
    state: &JobState,
    stage: ReadStage,
    load: &Mass,
    way: Way,
    added: Option<&Mass>,
    pad: u8,
) -> Result<(), Refusal> {
    let Some(added) = added else { return Ok(()) };
    let (setup, _) =
        if stage == ReadStage::AsFound { state.setup_as_found_of(pad) } else { state.setup_of(pad) };
    let d = setup.d_at(&load.abs(), way);
    if added.value.is_negative() || added > d {
        return Err(Refusal::new("not_changeover", text!("admit-small-weights-until-the-display", d, added))
            .at("added")
            .then(text!("admit-look-at-the-display-before")));
    }
    Ok(())
}

fn read(state: &JobState, stage: ReadStage, load: &Mass, shown: &Mass, pad: u8) -> Result<(), Refusal> {
    let (mut setup, _) = match stage {
        ReadStage::AsFound => state.setup_as_found_of(pad),
        ReadStage::Prove => state.setup_of(pad),
    };
    if pad == TOGETHER {
        setup.max = setup.max.times(&Decimal::from(u32::from(state.sheet.pads)));
        if stage == ReadStage::Prove && !state.settled() {
            return Err(Refusal::new("not_adjusted", text!("admit-not-every-pad-is-adjusted"))
                .at("pad")
                .then(text!("admit-adjust-each-pad-first-then")));
        }
    }
    match stage {
        ReadStage::AsFound if state.pad(pad).adjusting() || state.pad(pad).adjusted.is_some() => {
            return Err(Refusal::new("already_adjusted", text!("admit-as-found-is-what-it"))
                .then(text!("admit-record-the-reading-under-prove")));
        }
        ReadStage::Prove if state.pad(pad).adjusting() => {
            return Err(Refusal::new("adjusting", text!("admit-zero-or-span-is-captured"))
                .then(text!("admit-save-or-abandon-the-adjustment")));
        }
        ReadStage::Prove if !state.provable_at(pad) => {
            return Err(Refusal::new("not_adjusted", text!("admit-nothing-has-been-adjusted-yet"))
                .then(text!("admit-adjust-it-or-record-that")));
        }
        _ => {}
    }
    // A proof by taking off: the weight was left on, the display zeroed, and pieces are removed.
    let taken_off = load.value.is_negative();
    if taken_off && stage == ReadStage::AsFound {
        return Err(Refusal::new("negative_load", text!("admit-a-load-cannot-be-below", load)).at("load"));
    }
    if taken_off && shown.value.is_positive() {
        return Err(Refusal::new("not_taken_off", text!("admit-load-is-what-was-taken", load, shown))
            .at("shown")
            .then(text!("admit-type-what-the-display-shows")));
    }
    if load.abs() > setup.max {
        return Err(Refusal::new("above_max", text!("admit-load-is-above-max-max", load, max = setup.max))
            .at("load")
            .then(text!("admit-put-on-max-at-the")));
    }
    // Max + 9 e, or 105 % of Max where Handbook 44 counts and that is more.
    let nine = most_shown(Book::R76, &setup.max, &setup.d).max(most_shown(
        state.tolerance.0.scheme.book(),
        &setup.max,
        &setup.d,
    ));
    // With the weight on as tare the net may go down to minus what was on (OIML R 76-1:2006, T.2.7).
    let twenty = if taken_off {
        setup.max.times(&Decimal::new(-1, 0))
    } else {
        setup.d.times(&Decimal::new(-i64::from(SHOWN_BELOW_ZERO_D), 0))
    };
    if *shown > nine || *shown < twenty {
        return Err(Refusal::new(
            "beyond_display",
            text!("admit-a-display-with-max-max", max = setup.max, d = setup.d, twenty, nine, shown),
        )
        .at("shown")
        .then(text!("admit-look-at-the-unit-and")));
    }
    Ok(())
}

fn leave_alone(state: &JobState, reason: &str, pad: u8) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    let whole = pad == TOGETHER;
    if !whole {
        known_pad(state, pad)?;
    }
    let adjusted =
        if whole { state.any_adjusted() || state.adjusting() } else { state.pad(pad).adjusted.is_some() };
    if adjusted || state.pad(pad).adjusting() {
        return Err(Refusal::new("already_adjusted", text!("admit-it-has-been-adjusted-in"))
            .then(text!("admit-abandon-the-adjustment-first")));
    }
    let read = |r: &crate::journal::Reading| whole || r.pad == pad;
    let readings: Vec<&crate::journal::Reading> = state.found.iter().filter(|r| read(r)).collect();
    if readings.is_empty() {
        return Err(Refusal::new("nothing_read", text!("admit-leaving-it-alone-is-decided"))
            .then(text!("admit-take-readings-as-found-first")));
    }
    Ok(())
}

/// What is left as it was is judged by what was read since the last repair.
fn read_since(state: &JobState, pad: u8) -> Result<(), Refusal> {
    let mut read = state.found.iter().filter(|r| pad == TOGETHER || r.pad == pad);
    if read.any(|r| r.epoch == state.epoch_of(r.pad)) {
        return Ok(());
    }
    Err(Refusal::new("repaired_since", text!("admit-something-was-repaired-or-changed"))
        .then(text!("admit-read-it-again-the-readings")))
}

/// The tolerance must cover a Max that is raised.
fn covered(state: &JobState, setup: &Setup) -> Result<(), Refusal> {
    if let Err(why) = state.tolerance.0.check(&setup.d, &setup.max) {
        let refusal = Refusal::new(
            "tolerance_does_not_cover",
            text!("admit-the-tolerance-does-not-cover", max = setup.max, d = setup.d, why = Text::from(&why)),
        );
        return Err(refusal.at("max").then(text!("admit-choose-a-tolerance-that-covers-2")));
    }
    Ok(())
}

/// Findings that no reason overrules: what contradicts itself cannot be entered.
const fn contradicts_itself(check: Check) -> bool {
    matches!(
        check,
        Check::Series | Check::Decimals | Check::WholeN | Check::MultiInterval | Check::FinerRange
    )
}

fn set_up(state: &JobState, setup: &Setup, pad: u8, overruled: bool) -> Result<(), Refusal> {
    let judgement = judge_setup(state, setup, pad);
    let refused = || judgement.findings.iter().filter(|f| f.grade == Some(Grade::Refuse));
    let itself = refused().find(|f| contradicts_itself(f.check));
    let Some(worst) = itself.or_else(|| refused().next().filter(|_| !overruled)) else {
        return Ok(());
    };
    let field = match worst.check {
        Check::PlateMax | Check::WholeN => "max",
        Check::Decimals => "decimals",
        Check::FinerRange | Check::MultiInterval => "fine_max",
        _ => "d",
    };
    let mut refusal = Refusal::new("setup_refused", worst.says.clone()).at(field);
    refusal.figures = worst.figures.clone();
    Err(refusal.then(if judgement.alternatives.is_empty() {
        text!("admit-choose-another-max")
    } else {
        text!("admit-take-one-of-the-divisions")
    }))
}

fn may_adjust(state: &JobState, pad: u8) -> Result<(), Refusal> {
    known_pad(state, pad)?;
    if state.adjusting() && !state.pad(pad).adjusting() {
        return Err(Refusal::new(
            "other_pad",
            text!("admit-pad-pad-in-hand-is", pad_in_hand = state.pad_in_hand()),
        )
        .at("pad")
        .then(text!("admit-save-or-abandon-it-first")));
    }
    if let Some(item) = open_faults(state).next() {
        return Err(Refusal::new("fault_open", text!("admit-label-has-a-fault-that", label = item.label()))
            .then(text!("admit-repair-it-and-mark-it")));
    }
    if state.setup_of(pad).1 == SetupOrigin::Plate {
        return Err(Refusal::new("not_set_up", text!("admit-the-indicators-set-up-is"))
            .then(text!("admit-set-up-comes-first-changing")));
    }
    Ok(())
}

fn fits_counts(capture: &Capture) -> Result<(), Refusal> {
    let limit = Decimal::from(1_000_000_000_000u64);
    match &capture.counts {
        Some(counts) if counts.abs() >= limit => {
            Err(Refusal::new("too_large", text!("admit-internal-counts-stay-below-10")).at("counts"))
        }
        _ => Ok(()),
    }
}

fn span_weight(state: &JobState, weight: &Mass, pad: u8) -> Result<(), Refusal> {
    let (setup, _) = state.setup_of(pad);
    if !weight.value.is_positive() {
        return Err(Refusal::new("not_positive", text!("admit-the-span-weight-must-be")).at("weight"));
    }
    if *weight > setup.max {
        return Err(Refusal::new(
            "above_max",
            text!("admit-weight-is-above-max-max", weight, max = setup.max),
        )
        .at("weight")
        .then(text!("admit-take-a-span-weight-up")));
    }
    // A weight that is keyed in another unit than the display's is a matter for the profile.
    if state.sheet.profile_facts().is_none() && setup.calibrated_in.is_some_and(|unit| unit != setup.d.unit) {
        return Ok(());
    }
    crate::journal::span_digits(&state.sheet, &setup, weight).map(|_| ()).map_err(|r| r.at("weight"))
}

fn span(state: &JobState, capture: &Capture, pad: u8) -> Result<(), Refusal> {
    may_adjust(state, pad)?;
    fits_counts(capture)?;
    let Some(zero) = &state.pad(pad).zero else {
        return Err(Refusal::new("no_zero", text!("admit-zero-is-not-captured-yet"))
            .then(text!("admit-empty-the-platform-and-capture")));
    };
    let Some(weight) = &state.pad(pad).span_weight else {
        return Err(Refusal::new("no_weight", text!("admit-the-span-weight-is-not"))
            .then(text!("admit-choose-the-span-weight-first"))
            .at("weight"));
    };
    let (Some(at_zero), Some(with_weight)) = (&zero.counts, &capture.counts) else { return Ok(()) };
    TwoPoint::new(weight.clone(), at_zero.clone(), with_weight.clone())
        .map(|_| ())
        .map_err(|e| Refusal::from(e).at("counts"))
}

fn point(state: &JobState, weight: &Mass, capture: &Capture, pad: u8) -> Result<(), Refusal> {
    let here = state.pad(pad);
    if here.span.is_none() {
        return Err(Refusal::new("no_span", text!("admit-further-points-come-after-zero"))
            .then(text!("admit-capture-span-first")));
    }
    let most = most_points(state);
    if here.points.len() + 1 >= most {
        let by = if state.sheet.profile_facts().is_some() {
            text!("admit-this-indicator-takes")
        } else {
            text!("admit-a-curve-has-at-most")
        };
        let says = text!("admit-by-most-span-point-s", by, most);
        return Err(Refusal::new("too_many", says).at("weight").then(text!("admit-save-it")));
    }
    span_weight(state, weight, pad)?;
    fits_counts(capture)?;
    let mut points = here.curve_points();
    points.push((weight.clone(), capture.counts.clone()));
    points.sort_by(|a, b| a.0.cmp(&b.0));
    if let Some(pair) = points.windows(2).find(|pair| pair[0].0 == pair[1].0) {
        return Err(Refusal::new("twice", text!("admit-pair-is-a-point-already", pair = pair[0].0))
            .at("weight")
            .then(text!("admit-take-another-load")));
    }
    // An indicator that shows no counts keeps its curve to itself.
    let known: Option<Vec<Point>> =
        points.into_iter().map(|(mass, counts)| Some(Point { counts: counts?, mass })).collect();
    known.map_or(Ok(()), |points| Curve::new(points).map(|_| ()).map_err(|e| Refusal::from(e).at("counts")))
}

/// An adjustment that is not captured in counts: nothing else may be under way.
fn without_capture(
    state: &JobState,
    load: &Mass,
    with: &[crate::journal::UsedPiece],
    pad: u8,
) -> Result<(), Refusal> {
    may_adjust(state, pad)?;
    if state.adjusting() {
        return Err(Refusal::new("adjusting", text!("admit-zero-or-span-is-captured"))
            .then(text!("admit-save-or-abandon-the-adjustment")));
    }
    if !load.value.is_positive() || *load > state.setup_of(pad).0.max {
        return Err(Refusal::new("above_max", text!("admit-load-is-not-between-zero", load)).at("load"));
    }
    comes_to(load, with)
}

fn strike(entries: &[Entry], state: &JobState, id: uuid::Uuid) -> Result<(), Refusal> {
    let Some(entry) = entries.iter().find(|e| e.id == id) else {
        return Err(Refusal::new("unknown_entry", text!("admit-this-job-has-no-such")).at("entry"));
    };
    if state.struck.contains(&id) {
        return Err(Refusal::new("already_struck", text!("admit-that-entry-is-struck-out")).at("entry"));
    }
    if matches!(entry.body, Body::Started { .. } | Body::StruckOut { .. }) {
        return Err(Refusal::new("cannot_strike", text!("admit-the-start-of-a-job")).at("entry"));
    }
    if let Some(later) = rests_on(entries, state, entry) {
        return Err(Refusal::new("rests_on_it", text!("admit-entry-seq-rests-on-it", seq = later.seq))
            .at("entry")
            .then(text!("admit-strike-out-the-later-entry")));
    }
    Ok(())
}

fn close(state: &JobState, name: &str) -> Result<(), Refusal> {
    if name.trim().is_empty() {
        return Err(Refusal::new("name_needed", text!("admit-sign-with-your-name")).at("name"));
    }
    readable("name", name)?;
    complete(&crate::assessment::missing_beside_proof(state))
}

fn complete(missing: &[crate::assessment::Missing]) -> Result<(), Refusal> {
    match missing.iter().find(|m| m.blocks) {
        Some(first) => {
            Err(Refusal::new("incomplete", first.says.clone()).then(text!("admit-do-what-is-missing-or")))
        }
        None => Ok(()),
    }
}
