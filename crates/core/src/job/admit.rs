//! Whether an entry may follow. Pure: the same journal and the same entry are always decided the
//! same way. A refusal says what is wrong, at which field, and what to do.

use crate::adjust::{Curve, Point, TwoPoint};
use crate::assessment::{after_signing, comes_to, fit_for_proof, judge_setup};
use crate::grade::Grade;
use crate::journal::{
    Body, Capture, CheckFinding, Entry, JobState, Purpose, ReadStage, Setup, SetupOrigin, TOGETHER, Way,
    most_points, open_faults, position, rests_on,
};
use crate::quantity::{Book, Decimal, Mass, most_shown};
use crate::refusal::Refusal;
use crate::scale::{Check, ScaleSheet, checklist};
use crate::weights::MOST_ROUNDS;

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
            Err(Refusal::new("note_needed", "say in a few words what you saw; it stays on the record")
                .at("note"))
        }
        Body::ZeroCaptured { capture, pad } => super::capture::zero(state, capture, *pad),
        Body::SpanCaptured { capture, pad } => match (&state.pad(*pad).zero, &state.pad(*pad).span_weight) {
            (Some(zero), Some(weight)) => super::capture::span(state, zero, capture, weight, *pad),
            _ => Ok(()),
        },
        Body::SetUp { setup, .. } => covered(state, setup),
        Body::FactorSet { .. } if state.sheet.profile_facts().is_some_and(|f| f.factor.is_none()) => {
            Err(Refusal::new("no_factor", "by its profile this indicator takes no correction factor")
                .then("Capture zero and span with weights."))
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
        Body::Started { .. } => Err(Refusal::new("already_started", "the job has begun already")),
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
                return Err(Refusal::new(
                    "already_adjusted",
                    "as found is how it was before anything was changed",
                ));
            }
            if state.found.iter().any(|r| r.pad == *pad) {
                return Err(Refusal::new(
                    "read_already",
                    "readings as found were taken with the setup that was expected",
                )
                .then("Strike them out first; then record the setup as found and read again."));
            }
            state
                .tolerance
                .0
                .check(&setup.d, &setup.max)
                .map_err(|e| Refusal::from(e).at("max").then("Choose a tolerance that covers it."))
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
            (None, _) => Err(Refusal::new("no_zero", "zero is not captured yet")
                .then("Empty the platform and capture zero first.")),
            (Some(_), Some(_)) => {
                Err(Refusal::new("span_begun", "a span weight is chosen: zero alone is saved before that")
                    .then("Capture span, or abandon the adjustment."))
            }
        },
        Body::FactorSet { new, load, with, pad, .. } => {
            without_capture(state, load, with, *pad)?;
            if new.is_positive() {
                Ok(())
            } else {
                Err(Refusal::new("not_positive", "in these digits the new factor would be zero")
                    .at("decimals")
                    .then("Take more decimals."))
            }
        }
        Body::InternalMatched { load, with, pad, .. } => without_capture(state, load, with, *pad),
        Body::SelfAdjusted { pad } => {
            known_pad(state, *pad)?;
            if state.pad(*pad).awaits_itself() {
                return Ok(());
            }
            Err(Refusal::new("no_internal", "no internal weight was matched just now")
                .then("Match the internal weight first."))
        }
        Body::AdjustmentSaved { pad } => match state.pad(*pad).span {
            Some(_) => Ok(()),
            None => Err(Refusal::new("nothing_to_save", "there is no captured span to save")
                .then("Capture zero, then span.")),
        },
        Body::AdjustmentAbandoned { reason } => {
            reasoned("reason", reason)?;
            if state.adjusting() {
                Ok(())
            } else {
                Err(Refusal::new("nothing_to_abandon", "no adjustment is under way"))
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
        return Err(Refusal::new("too_long", format!("at most {LONGEST_TEXT} characters fit here")).at(field));
    }
    Ok(())
}

fn reasoned(field: &str, text: &str) -> Result<(), Refusal> {
    if text.trim().is_empty() {
        return Err(
            Refusal::new("reason_needed", "a few words are needed here; they stay on the record").at(field)
        );
    }
    readable(field, text)
}

fn known_item(sheet: &ScaleSheet, item: &str) -> Result<(), Refusal> {
    if checklist(sheet.kind).any(|known| known.id == item) {
        return Ok(());
    }
    Err(Refusal::new("unknown_item", "this scale's checklist has no such item").at("item"))
}

fn settle(state: &JobState, item: &str, reason: &str) -> Result<(), Refusal> {
    reasoned("reason", reason)?;
    match state.checks.get(item) {
        Some(check) if check.finding == CheckFinding::Fault => Ok(()),
        _ => Err(Refusal::new("no_fault", "there is no fault at this item to settle").at("item")),
    }
}

fn known_pad(state: &JobState, pad: u8) -> Result<(), Refusal> {
    if (1..=state.sheet.pads).contains(&pad) {
        return Ok(());
    }
    Err(Refusal::new(
        "unknown_pad",
        format!("this scale has {} pad{}", state.sheet.pads, if state.several() { "s" } else { "" }),
    )
    .at("pad"))
}

/// A load for the corners stands at a place that the platform has; the same load again is a load.
fn purposeful(state: &JobState, purpose: Purpose, spot: Option<u8>, load: &Mass) -> Result<(), Refusal> {
    if purpose != Purpose::Load && !load.value.is_positive() {
        return Err(Refusal::new("not_positive", format!("a load is above zero, not {load}")).at("load"));
    }
    match (purpose, spot) {
        (Purpose::Corner, None) => Err(Refusal::new("no_spot", "at which place does it stand?")
            .at("spot")
            .then("Tap the place on the platform.")),
        (Purpose::Corner, Some(spot)) if position(state, spot).is_none() => {
            Err(Refusal::new("unknown_spot", "this platform has no such place").at("spot"))
        }
        (Purpose::Corner, Some(_)) | (_, None) => Ok(()),
        (_, Some(_)) => {
            Err(Refusal::new("spot_elsewhere", "only a load for the corners has a place").at("spot"))
        }
    }
}

/// A load by substitution: above zero, in as many rounds as are offered, and not less than the weights
/// that were put on each time.
fn by_substitution(load: &Mass, rounds: u8, with: &[crate::journal::UsedPiece]) -> Result<(), Refusal> {
    if u32::from(rounds) >= MOST_ROUNDS || rounds == 0 {
        return Err(Refusal::new(
            "too_many_rounds",
            format!("1 to {} substitutions, not {rounds}", MOST_ROUNDS - 1),
        )
        .at("substituted")
        .then("Bring more weights."));
    }
    let weights = with.iter().fold(Mass::zero(load.unit), |sum, p| sum.plus(&p.nominal));
    if !load.value.is_positive() || weights > *load {
        return Err(Refusal::new(
            "other_sum",
            format!("a load of {load} is not reached by substitution with {weights}"),
        )
        .at("load")
        .then("The pieces named are those that were put on each time."));
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
        return Err(Refusal::new("not_changeover", format!("small weights until the display changes come to between 0 and one division, {d}; {added} do not"))
            .at("added")
            .then("Look at the display before the first was added, and add a tenth of a division at a time."));
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
            return Err(Refusal::new("not_adjusted", "not every pad is adjusted or left as it was yet")
                .at("pad")
                .then("Adjust each pad first; then all of them are read together."));
        }
    }
    match stage {
        ReadStage::AsFound if state.pad(pad).adjusting() || state.pad(pad).adjusted.is_some() => {
            return Err(Refusal::new(
                "already_adjusted",
                "as found is what it showed before anything was touched; it has been adjusted since",
            )
            .then("Record the reading under Prove."));
        }
        ReadStage::Prove if state.pad(pad).adjusting() => {
            return Err(Refusal::new("adjusting", "zero or span is captured and not yet saved")
                .then("Save or abandon the adjustment first."));
        }
        ReadStage::Prove if !state.provable_at(pad) => {
            return Err(Refusal::new(
                "not_adjusted",
                "nothing has been adjusted yet, so there is nothing to prove",
            )
            .then(
                "Adjust it, or record that it is left alone; a reading before that belongs under As found.",
            ));
        }
        _ => {}
    }
    // A proof by taking off: the weight was left on, the display zeroed, and pieces are removed.
    let taken_off = load.value.is_negative();
    if taken_off && stage == ReadStage::AsFound {
        return Err(Refusal::new("negative_load", format!("a load cannot be below zero; {load} was typed"))
            .at("load"));
    }
    if taken_off && shown.value.is_positive() {
        return Err(Refusal::new("not_taken_off", format!("{load} is what was taken off a display that was zeroed with the weight on; it then reads below zero, not {shown}"))
            .at("shown")
            .then("Type what the display shows, with its minus sign."));
    }
    if load.abs() > setup.max {
        return Err(Refusal::new("above_max", format!("{load} is above Max, {}", setup.max))
            .at("load")
            .then("Put on Max at the most."));
    }
    // Max + 9 e, or 105 % of Max where Handbook 44 counts and that is more.
    let nine = most_shown(Book::R76, &setup.max, &setup.d).max(most_shown(
        state.tolerance.0.scheme.book(),
        &setup.max,
        &setup.d,
    ));
    // With the weight on as tare the net may go down to minus what was on (OIML R 76-1:2006, T.2.7).
    let twenty =
        if taken_off { setup.max.times(&Decimal::new(-1, 0)) } else { setup.d.times(&Decimal::new(-20, 0)) };
    if *shown > nine || *shown < twenty {
        return Err(Refusal::new(
            "beyond_display",
            format!(
                "a display with Max {} and division {} shows {twenty} to {nine}; {shown} cannot stand on it",
                setup.max, setup.d
            ),
        )
        .at("shown")
        .then("Look at the unit and the decimal point."));
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
        return Err(Refusal::new("already_adjusted", "it has been adjusted in this job")
            .then("Abandon the adjustment first."));
    }
    let read = |r: &crate::journal::Reading| whole || r.pad == pad;
    let readings: Vec<&crate::journal::Reading> = state.found.iter().filter(|r| read(r)).collect();
    if readings.is_empty() {
        return Err(Refusal::new(
            "nothing_read",
            "leaving it alone is decided on readings as found, and there are none",
        )
        .then("Take readings as found first."));
    }
    Ok(())
}

/// What is left as it was is judged by what was read since the last repair.
fn read_since(state: &JobState, pad: u8) -> Result<(), Refusal> {
    let mut read = state.found.iter().filter(|r| pad == TOGETHER || r.pad == pad);
    if read.any(|r| r.epoch == state.epoch_of(r.pad)) {
        return Ok(());
    }
    Err(Refusal::new("repaired_since", "something was repaired or changed since it was read")
        .then("Read it again; the readings before tell how it was found."))
}

/// The tolerance must cover a Max that is raised.
fn covered(state: &JobState, setup: &Setup) -> Result<(), Refusal> {
    if let Err(why) = state.tolerance.0.check(&setup.d, &setup.max) {
        let refusal = Refusal::new(
            "tolerance_does_not_cover",
            format!("the tolerance does not cover {} × {}: {why}", setup.max, setup.d),
        );
        return Err(refusal.at("max").then("Choose a tolerance that covers it, or another Max."));
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
        "Choose another Max."
    } else {
        "Take one of the divisions offered."
    }))
}

fn may_adjust(state: &JobState, pad: u8) -> Result<(), Refusal> {
    known_pad(state, pad)?;
    if state.adjusting() && !state.pad(pad).adjusting() {
        return Err(Refusal::new("other_pad", format!("pad {} is being adjusted", state.pad_in_hand()))
            .at("pad")
            .then("Save or abandon it first: pads are done one after the other."));
    }
    if let Some(item) = open_faults(state).next() {
        return Err(Refusal::new(
            "fault_open",
            format!("“{}” has a fault that adjusting cannot cure", item.label),
        )
        .then("Repair it and mark it repaired, or overrule it with a reason."));
    }
    if state.setup_of(pad).1 == SetupOrigin::Plate {
        return Err(Refusal::new("not_set_up", "the indicator's set-up is not on record yet")
            .then("Set up comes first: changing it afterwards spoils the calibration."));
    }
    Ok(())
}

fn fits_counts(capture: &Capture) -> Result<(), Refusal> {
    let limit = Decimal::from(1_000_000_000_000u64);
    match &capture.counts {
        Some(counts) if counts.abs() >= limit => {
            Err(Refusal::new("too_large", "internal counts stay below 10^12").at("counts"))
        }
        _ => Ok(()),
    }
}

fn span_weight(state: &JobState, weight: &Mass, pad: u8) -> Result<(), Refusal> {
    let (setup, _) = state.setup_of(pad);
    if !weight.value.is_positive() {
        return Err(Refusal::new("not_positive", "the span weight must be above zero").at("weight"));
    }
    if *weight > setup.max {
        return Err(Refusal::new("above_max", format!("{weight} is above Max, {}", setup.max))
            .at("weight")
            .then("Take a span weight up to Max."));
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
        return Err(Refusal::new("no_zero", "zero is not captured yet")
            .then("Empty the platform and capture zero first."));
    };
    let Some(weight) = &state.pad(pad).span_weight else {
        return Err(Refusal::new("no_weight", "the span weight is not keyed in yet")
            .then("Choose the span weight first.")
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
        return Err(
            Refusal::new("no_span", "further points come after zero and span").then("Capture span first.")
        );
    }
    let most = most_points(state);
    if here.points.len() + 1 >= most {
        let by = if state.sheet.profile_facts().is_some() {
            "this indicator takes"
        } else {
            "a curve has at most"
        };
        let says = format!("{by} {most} span point{}, zero not counted", if most == 1 { "" } else { "s" });
        return Err(Refusal::new("too_many", says).at("weight").then("Save it."));
    }
    span_weight(state, weight, pad)?;
    fits_counts(capture)?;
    let mut points = here.curve_points();
    points.push((weight.clone(), capture.counts.clone()));
    points.sort_by(|a, b| a.0.cmp(&b.0));
    if let Some(pair) = points.windows(2).find(|pair| pair[0].0 == pair[1].0) {
        return Err(Refusal::new("twice", format!("{} is a point already", pair[0].0))
            .at("weight")
            .then("Take another load."));
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
        return Err(Refusal::new("adjusting", "zero or span is captured and not yet saved")
            .then("Save or abandon the adjustment first."));
    }
    if !load.value.is_positive() || *load > state.setup_of(pad).0.max {
        return Err(Refusal::new("above_max", format!("{load} is not between zero and Max")).at("load"));
    }
    comes_to(load, with)
}

fn strike(entries: &[Entry], state: &JobState, id: uuid::Uuid) -> Result<(), Refusal> {
    let Some(entry) = entries.iter().find(|e| e.id == id) else {
        return Err(Refusal::new("unknown_entry", "this job has no such entry").at("entry"));
    };
    if state.struck.contains(&id) {
        return Err(Refusal::new("already_struck", "that entry is struck out already").at("entry"));
    }
    if matches!(entry.body, Body::Started { .. } | Body::StruckOut { .. }) {
        return Err(
            Refusal::new("cannot_strike", "the start of a job and a strike-out stay as they are").at("entry")
        );
    }
    if let Some(later) = rests_on(entries, state, entry) {
        return Err(Refusal::new("rests_on_it", format!("entry {} rests on it", later.seq))
            .at("entry")
            .then("Strike out the later entry first."));
    }
    Ok(())
}

fn close(state: &JobState, name: &str) -> Result<(), Refusal> {
    if name.trim().is_empty() {
        return Err(Refusal::new("name_needed", "sign with your name").at("name"));
    }
    readable("name", name)?;
    complete(&crate::assessment::missing_beside_proof(state))
}

fn complete(missing: &[crate::assessment::Missing]) -> Result<(), Refusal> {
    match missing.iter().find(|m| m.blocks) {
        Some(first) => Err(Refusal::new("incomplete", first.says.clone())
            .then("Do what is missing, or record why the job stops short.")),
        None => Ok(()),
    }
}
