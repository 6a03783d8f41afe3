//! A reading: a load and what the display showed.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::assessment::{Around, comes_to, fit_for_proof};
use crate::journal::{
    Body, Direction, Entry, Heard, JobState, Purpose, ReadStage, Setup, TOGETHER, Taken, UsedPiece, entries,
    position as platform_position,
};
use crate::quantity::{Book, Decimal, Mass, SHOWN_BELOW_ZERO_D, Unit, most_shown, parse_mass};
use crate::refusal::Refusal;
use crate::weights::MOST_ROUNDS;
use crate::wording::Text;

use super::kind::{Admitted, Understood};
use super::pads::{known_pads, setup_at};
use super::source::{Source, steady, taken};
use super::words::{readable, said};

/// What else may be said of a reading.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
pub struct ReadDetail {
    /// What it is for.
    #[serde(default)]
    pub purpose: Purpose,
    /// The place where it stands, where it is for the corners; 0: the middle.
    #[serde(default, alias = "spot")]
    pub position: Option<u8>,
    /// Small weights that were added until the display changed, as typed; empty: none.
    #[serde(default)]
    pub added: String,
    /// Substitutions before the load was reached, as typed; empty: none.
    #[serde(default)]
    pub substituted: String,
}

/// The entry of it.
fn typed(
    state: &JobState,
    draft: &ReadDraft,
    with: Vec<UsedPiece>,
    overruled: Option<String>,
    live: &Heard,
) -> Result<entries::Read, Refusal> {
    let ReadDraft { stage, load, shown, direction, pad, detail, .. } = draft;
    let (stage, direction) = (*stage, *direction);
    let pad = pad.unwrap_or_else(|| crate::assessment::pad_to_read(state, stage));
    let setup = setup_at(state, stage, pad);
    // Pieces that are named say what the load is, where it is not typed.
    let load = if load.trim().is_empty() && !with.is_empty() {
        with.iter().fold(Mass::zero(setup.d.unit), |sum, p| sum.plus(&p.nominal))
    } else {
        parse_mass(load, setup.d.unit, "load")?
    };
    let (shown, taken) = match shown {
        Source::Typed { text, .. } => (parse_mass(text, setup.d.unit, "shown")?, Taken::Typed),
        Source::Live => {
            let now = steady(live)?;
            (now.shown.clone(), taken(now))
        }
    };
    on_the_display(&setup, &shown, &load, direction)?;
    let added = if detail.added.trim().is_empty() {
        None
    } else {
        Some(parse_mass(&detail.added, setup.d.unit, "added")?)
    };
    Ok(entries::Read {
        stage,
        load,
        shown,
        direction,
        taken,
        pad,
        with,
        overruled,
        purpose: detail.purpose,
        position: detail.position,
        added,
        substituted: rounds(&detail.substituted)?,
    })
}

/// The same load in the same direction is never booked twice without a word.
fn not_read_before(state: &JobState, read: &entries::Read) -> Result<(), Refusal> {
    let entries::Read { stage, load, direction, pad, purpose: Purpose::Load, .. } = read else {
        return Ok(());
    };
    let (there, now) = match stage {
        ReadStage::AsFound => (&state.found, state.epoch_of(*pad)),
        ReadStage::Test => (&state.left, state.epoch_of(*pad)),
    };
    let same = |r: &&crate::journal::Reading| {
        r.counts
            && r.is_load()
            && r.epoch == now
            && r.pad == *pad
            && r.direction == *direction
            && r.load == *load
    };
    let Some(before) = there.iter().rev().find(same) else { return Ok(()) };
    let (setup, _) = state.setup_of(*pad);
    let direction =
        if *direction == Direction::Up { text!("word-increasing") } else { text!("word-decreasing") };
    Err(Refusal::from(Refused::ReadBefore {
        load: load.clone(),
        direction,
        setup: setup.text(&before.shown),
    }))
}

/// How often weights were replaced by material, as typed.
fn rounds(text: &str) -> Result<Option<u8>, Refusal> {
    let text = text.trim();
    if text.is_empty() || text == "0" {
        return Ok(None);
    }
    let refused = || Refusal::from(Refused::NotRounds { string: text.chars().take(12).collect::<String>() });
    text.parse::<u8>().map(Some).map_err(|_| refused())
}

/// A figure that the display can show: in its unit, a multiple of the division in force there.
///
/// # Errors
/// `other_unit` or `not_a_multiple`, at `shown`, with the neighbours.
pub(in crate::job) fn on_the_display(
    setup: &Setup,
    shown: &Mass,
    load: &Mass,
    direction: Direction,
) -> Result<(), Refusal> {
    let unit = setup.d.unit;
    if shown.unit != unit {
        return Err(Refusal::from(Refused::OtherUnit { shown: shown.clone(), unit, unit2: shown.unit }));
    }
    // On a scale of two ranges either division may be in force near the change.
    let fits = |d: &Mass| shown.ratio(d).is_some_and(|n| n.is_whole());
    let d = setup.d_at(&load.abs(), direction);
    if fits(d) || fits(setup.d_at(&shown.abs(), direction)) {
        return Ok(());
    }
    let steps = shown.ratio(d).unwrap_or_else(Decimal::zero);
    let neighbour = |n: Decimal| setup.text(&Mass::new(&n * &d.value, unit));
    let (low, high) = (neighbour(steps.floor()), neighbour(steps.ceil()));
    Err(Refusal::from(Refused::NotAMultiple { shown: shown.clone(), d: d.clone(), low, high }))
}

/// Whether it may follow.
fn admit(state: &JobState, read: &entries::Read) -> Result<(), Refusal> {
    known_pads(state, read.pad)?;
    may_be_read(state, read.stage, &read.load, &read.shown, read.pad)?;
    purposeful(state, read.purpose, read.position, &read.load)?;
    changeover(state, read.stage, &read.load, read.direction, read.added.as_ref(), read.pad)?;
    match read.substituted {
        None => comes_to(&read.load, &read.with)?,
        Some(rounds) => by_substitution(&read.load, rounds, &read.with)?,
    }
    let overruled = read.overruled.as_deref();
    overruled.map_or(Ok(()), |why| readable("overruled", why))?;
    if read.stage == ReadStage::Test { fit_for_proof(&read.with, overruled) } else { Ok(()) }
}

/// A load for the corners stands at a place that the platform has; the same load again is a load.
fn purposeful(state: &JobState, purpose: Purpose, position: Option<u8>, load: &Mass) -> Result<(), Refusal> {
    if purpose != Purpose::Load && !load.value.is_positive() {
        return Err(Refusal::from(Refused::NotPositive { load: load.clone() }));
    }
    match (purpose, position) {
        (Purpose::Eccentricity, None) => Err(Refusal::from(Refused::NoPosition)),
        (Purpose::Eccentricity, Some(number)) if platform_position(state, number).is_none() => {
            Err(Refusal::from(Refused::UnknownPosition))
        }
        (Purpose::Eccentricity, Some(_)) | (_, None) => Ok(()),
        (_, Some(_)) => Err(Refusal::from(Refused::PositionElsewhere)),
    }
}

/// A load by substitution: above zero, in as many rounds as are offered, and not less than the weights
/// that were put on each time.
fn by_substitution(load: &Mass, rounds: u8, with: &[UsedPiece]) -> Result<(), Refusal> {
    if u32::from(rounds) >= MOST_ROUNDS || rounds == 0 {
        return Err(Refusal::from(Refused::TooManyRounds { most_rounds: MOST_ROUNDS - 1, rounds }));
    }
    let weights = with.iter().fold(Mass::zero(load.unit), |sum, p| sum.plus(&p.nominal));
    if !load.value.is_positive() || weights > *load {
        return Err(Refusal::from(Refused::OtherSum { load: load.clone(), weights }));
    }
    Ok(())
}

/// What was added until the display changed lies between nothing and one division. Source: OIML
/// R 76-1:2006, A.4.4.3.
fn changeover(
    state: &JobState,
    stage: ReadStage,
    load: &Mass,
    direction: Direction,
    added: Option<&Mass>,
    pad: u8,
) -> Result<(), Refusal> {
    let Some(added) = added else { return Ok(()) };
    let (setup, _) =
        if stage == ReadStage::AsFound { state.setup_as_found_of(pad) } else { state.setup_of(pad) };
    let d = setup.d_at(&load.abs(), direction);
    if added.value.is_negative() || added > d {
        return Err(Refusal::from(Refused::NotChangeover { d: d.clone(), added: added.clone() }));
    }
    Ok(())
}

/// What may stand on a display at this load, in this stage.
pub(in crate::job) fn may_be_read(
    state: &JobState,
    stage: ReadStage,
    load: &Mass,
    shown: &Mass,
    pad: u8,
) -> Result<(), Refusal> {
    let (mut setup, _) = match stage {
        ReadStage::AsFound => state.setup_as_found_of(pad),
        ReadStage::Test => state.setup_of(pad),
    };
    if pad == TOGETHER {
        setup.max = setup.max.times(&Decimal::from(u32::from(state.sheet.pads)));
        if stage == ReadStage::Test && !state.settled() {
            return Err(Refusal::from(Refused::NotEveryPadIsAdjusted));
        }
    }
    match stage {
        ReadStage::AsFound if state.pad(pad).adjusting() || state.pad(pad).adjusted.is_some() => {
            return Err(Refusal::from(Refused::AlreadyAdjusted));
        }
        ReadStage::Test if state.pad(pad).adjusting() => {
            return Err(Refusal::from(Refused::Adjusting));
        }
        ReadStage::Test if !state.provable_at(pad) => {
            return Err(Refusal::from(Refused::NothingHasBeenAdjustedYet));
        }
        _ => {}
    }
    // A proof by taking off: the weight was left on, the display zeroed, and pieces are removed.
    let taken_off = load.value.is_negative();
    if taken_off && stage == ReadStage::AsFound {
        return Err(Refusal::from(Refused::NegativeLoad { load: load.clone() }));
    }
    if taken_off && shown.value.is_positive() {
        return Err(Refusal::from(Refused::NotTakenOff { load: load.clone(), shown: shown.clone() }));
    }
    if load.abs() > setup.max {
        return Err(Refusal::from(Refused::AboveMax { load: load.clone(), max: setup.max.clone() }));
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
        return Err(Refusal::from(Refused::BeyondDisplay {
            max: setup.max.clone(),
            d: setup.d.clone(),
            twenty,
            nine,
            shown: shown.clone(),
        }));
    }
    Ok(())
}

/// A reading.
#[derive(Clone, Debug, PartialEq, Deserialize, ToSchema)]
pub struct ReadDraft {
    /// As found or to prove.
    pub stage: ReadStage,
    /// What was put on, as typed.
    pub load: String,
    /// What was shown.
    pub shown: Source,
    /// Up or down.
    #[serde(alias = "way")]
    pub direction: Direction,
    /// Which pad; none: the one that is worked at.
    #[serde(default)]
    pub pad: Option<u8>,
    /// The pieces it is made of, from the kit.
    #[serde(default)]
    pub with: Vec<Uuid>,
    /// Why pieces that are not fit for a proof are taken.
    #[serde(default)]
    pub overruled: String,
    /// Refuse a load that was read in this direction already, unless that is what is meant.
    #[serde(default)]
    pub once: bool,
    /// What else is to be said of it.
    #[serde(flatten, default)]
    pub detail: ReadDetail,
}

impl Understood for ReadDraft {
    fn understood(self, state: &JobState, around: &Around<'_>) -> Result<Body, Refusal> {
        let with = around.used(state, &self.with)?;
        let (once, overruled) = (self.once, said(self.overruled.clone()));
        let read = typed(state, &self, with, overruled, around.live)?;
        if once {
            not_read_before(state, &read)?;
        }
        Ok(read.into())
    }
}

impl Admitted for entries::Read {
    fn admit(&self, _: &[Entry], state: &JobState) -> Result<(), Refusal> {
        admit(state, self)
    }
}

crate::refusals! {
    enum Refused {
        ReadBefore { load: Mass, direction: Text, setup: String } = "read_before" at "load":
            text!("draft-load-direction-was-read-already", load, direction, setup = crate::wording::figure(setup)),
            then text!("draft-enter-it-once-more-to");
        NotRounds { string: String } = "not_rounds" at "substituted":
            text!("draft-string-is-no-number-of", string);
        OtherUnit { shown: Mass, unit: Unit, unit2: Unit } = "other_unit" at "shown":
            text!("capture-shown-was-read-and-this", shown, unit),
            then text!("capture-switch-the-display-to-unit", unit, unit2);
        NotAMultiple { shown: Mass, d: Mass, low: String, high: String } = "not_a_multiple" at "shown":
            text!("capture-shown-is-no-multiple-of", shown, d, low, high),
            then text!("capture-read-it-again-if-the");
        NotPositive { load: Mass } = "not_positive" at "load": text!("admit-a-load-is-above-zero", load);
        NoPosition = "no_position" at "position":
            text!("admit-at-which-place-does-it"),
            then text!("admit-tap-the-place-on-the");
        UnknownPosition = "unknown_position" at "position": text!("admit-this-platform-has-no-such");
        PositionElsewhere = "position_elsewhere" at "position": text!("admit-only-a-load-for-the");
        TooManyRounds { most_rounds: u32, rounds: u8 } = "too_many_rounds" at "substituted":
            text!("admit-1-to-most-rounds-substitutions", most_rounds, rounds),
            then text!("admit-bring-more-weights");
        OtherSum { load: Mass, weights: Mass } = "other_sum" at "load":
            text!("admit-a-load-of-load-is", load, weights),
            then text!("admit-the-pieces-named-are-those");
        NotChangeover { d: Mass, added: Mass } = "not_changeover" at "added":
            text!("admit-small-weights-until-the-display", d, added),
            then text!("admit-look-at-the-display-before");
        NotEveryPadIsAdjusted = "not_adjusted" at "pad":
            text!("admit-not-every-pad-is-adjusted"),
            then text!("admit-adjust-each-pad-first-then");
        AlreadyAdjusted = "already_adjusted":
            text!("admit-as-found-is-what-it"),
            then text!("admit-record-the-reading-under-prove");
        Adjusting = "adjusting":
            text!("admit-zero-or-span-is-captured"),
            then text!("admit-save-or-abandon-the-adjustment");
        NothingHasBeenAdjustedYet = "not_adjusted":
            text!("admit-nothing-has-been-adjusted-yet"),
            then text!("admit-adjust-it-or-record-that");
        NegativeLoad { load: Mass } = "negative_load" at "load": text!("admit-a-load-cannot-be-below", load);
        NotTakenOff { load: Mass, shown: Mass } = "not_taken_off" at "shown":
            text!("admit-load-is-what-was-taken", load, shown),
            then text!("admit-type-what-the-display-shows");
        AboveMax { load: Mass, max: Mass } = "above_max" at "load":
            text!("admit-load-is-above-max-max", load, max),
            then text!("admit-put-on-max-at-the");
        BeyondDisplay { max: Mass, d: Mass, twenty: Mass, nine: Mass, shown: Mass }
            = "beyond_display" at "shown":
            text!("admit-a-display-with-max-max", max, d, twenty, nine, shown),
            then text!("admit-look-at-the-unit-and");
    }
}
