//! What a load was made of: the pieces as they were on that day, so that a record can be traced to
//! them whatever becomes of the kit. Sources: OIML R 76-1:2006, 3.7.1; ISO/IEC 17025:2017, 7.8.2.

use time::Date;
use uuid::Uuid;

use crate::adjust::SpanWeightRule;
use crate::journal::{JobState, Reading, UsedPiece};
use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;
use crate::weights::{Instrument, Piece, ReferenceObject, ShareOfPiece, UsedInstrument, too_coarse};
use crate::wording::Text;

/// Most pieces of one load.
const MOST_PIECES: usize = 400;

/// What is around a draft when it is read: what the indicator says, the kit, the workshop's span weight rule,
/// the day.
#[derive(Clone, Debug)]
pub struct Around<'a> {
    /// What comes from the indicator.
    pub live: &'a crate::journal::Heard,
    /// The kit; needed only where pieces are named.
    pub kit: &'a [Piece],
    /// How much span weight the workshop asks for.
    pub span_weight_rule: SpanWeightRule,
    /// The day.
    pub day: Date,
    /// Number of the job's record, where it has one.
    pub number: Option<&'a str>,
    /// Whether a record that is signed now waits for approval; none in a lesson.
    pub approval: Option<bool>,
    /// Instruments that read the air; needed only where some are named.
    pub instruments: &'a [Instrument],
}

impl<'a> Around<'a> {
    /// Nothing but the indicator.
    pub const fn only(live: &'a crate::journal::Heard) -> Self {
        Self {
            live,
            kit: &[],
            span_weight_rule: SpanWeightRule::Tenth,
            day: Date::MIN,
            number: None,
            approval: None,
            instruments: &[],
        }
    }

    /// The instruments by their identity.
    pub(crate) fn read_with(&self, ids: &[Uuid]) -> Result<Vec<UsedInstrument>, Refusal> {
        let find = |id: &Uuid| self.instruments.iter().find(|i| i.id == *id).map(Instrument::used);
        let unknown = || Refusal::from(Refused::UnknownInstrument);
        if ids.len() > 6 {
            return Err(Refusal::from(Refused::TooManyInstruments));
        }
        ids.iter().map(|id| find(id).ok_or_else(unknown)).collect()
    }

    /// The pieces by their identity; an object that was weighed on this very scale is no reference for it.
    pub(crate) fn used(&self, state: &JobState, ids: &[Uuid]) -> Result<Vec<UsedPiece>, Refusal> {
        if ids.len() > MOST_PIECES {
            return Err(Refusal::from(Refused::TooManyPieces { most_pieces: MOST_PIECES }));
        }
        let mut used: Vec<UsedPiece> = Vec::with_capacity(ids.len());
        for id in ids {
            if used.iter().any(|u| u.id == *id) {
                return Err(Refusal::from(Refused::Twice));
            }
            let piece =
                self.kit.iter().find(|p| p.id == *id).ok_or_else(|| Refusal::from(Refused::UnknownPiece))?;
            let own = |r: &crate::weights::WeighedBy| {
                r.scale_id.map_or_else(|| r.scale == state.sheet.name, |id| id == state.sheet.id)
            };
            if piece.reference.as_ref().is_some_and(own) {
                return Err(Refusal::from(Refused::OwnReference { serial: piece.serial.clone() }));
            }
            used.push(UsedPiece::of(piece, self.day));
        }
        Ok(used)
    }
}

/// The pieces of a load come to the load. An object that was weighed counts with its mass.
pub(crate) fn comes_to(load: &Mass, with: &[UsedPiece]) -> Result<(), Refusal> {
    if with.is_empty() {
        return Ok(());
    }
    let sum = with.iter().fold(Mass::zero(load.unit), |sum, p| sum.plus(&p.nominal));
    if sum == *load {
        return Ok(());
    }
    // A pound weight on a kilogram scale has more places than are typed; half a milligram in a
    // kilogram is far below any tolerance of R 111-1, class M1 and coarser.
    let near = load.times(&Decimal::new(5, 7));
    if sum.minus(load).abs() <= near.abs() {
        return Ok(());
    }
    Err(Refusal::from(Refused::OtherSum { sum, load: load.clone() }))
}

/// Pieces that are not fit for a proof are refused there, unless a reason is given.
pub(crate) fn fit_for_proof(with: &[UsedPiece], overruled: Option<&str>) -> Result<(), Refusal> {
    // A reference object proves nothing, and the record says so; it is not refused.
    let unfit: Vec<Text> = with
        .iter()
        .filter(|p| p.reference.is_none())
        .filter_map(|p| Some(text!("loaded-serial-is-as-ref", serial = p.serial, as_ref = p.unfit.as_ref()?)))
        .collect();
    if unfit.is_empty() || overruled.is_some_and(|why| !why.trim().is_empty()) {
        return Ok(());
    }
    Err(Refusal::from(Refused::UnfitWeight { unfit }))
}

/// What is odd about the weights of a reading; `mpe` is the tolerance at its load.
pub(crate) fn weight_cautions(reading: &Reading, mpe: &Mass) -> Vec<Text> {
    let mut out = Vec::new();
    let objects: Vec<&str> =
        reading.with.iter().filter(|p| p.reference.is_some()).map(|p| p.serial.as_str()).collect();
    if !objects.is_empty() {
        out.push(text!("loaded-rests-on-a-reference-object", objects));
    } else {
        let shares: Vec<ShareOfPiece> = reading.with.iter().map(UsedPiece::share).collect();
        out.extend(too_coarse(&shares, mpe));
    }
    let unfit = reading
        .with
        .iter()
        .filter(|p| p.reference.is_none())
        .filter_map(|p| Some(text!("loaded-serial-unfit", serial = p.serial, why = p.unfit.as_ref()?)));
    out.extend(unfit.map(|says| match &reading.overruled {
        Some(why) => text!("loaded-says-overruled-why", says, why),
        None => says,
    }));
    out
}

/// Why nothing is proven although it was adjusted: the proof rests on objects that were weighed, or
/// the span does and no certified weight was put on afterwards.
pub fn mark(state: &JobState) -> Option<Text> {
    let is_object = |p: &UsedPiece| p.reference.is_some();
    let named = |pieces: &[UsedPiece]| {
        pieces
            .iter()
            .filter(|p| is_object(p))
            .map(|p| {
                text!(
                    "loaded-serial-by-record-clone",
                    serial = p.serial,
                    clone = p.reference.clone().unwrap_or_default()
                )
            })
            .collect::<Vec<_>>()
    };
    let proof: Vec<&Reading> = state.left.iter().filter(|r| r.counts && r.load.value.is_positive()).collect();
    let mut objects: Vec<Text> = proof.iter().flat_map(|r| named(&r.with)).collect();
    let certified = proof.iter().any(|r| !r.with.is_empty() && !r.with.iter().any(is_object));
    if !certified {
        objects.extend(state.pads.iter().filter_map(|p| p.adjusted.as_ref()).flat_map(|a| named(&a.with)));
    }
    objects.sort_by_key(ToString::to_string);
    objects.dedup();
    (!objects.is_empty())
        .then(|| text!("loaded-mark-reference-object-objects", mark = ReferenceObject::MARK, objects))
}

crate::refusals! {
    enum Refused {
        UnknownInstrument = "unknown_instrument" at "instruments": text!("loaded-the-workshop-has-no-such");
        TooManyInstruments = "too_many" at "instruments": text!("loaded-at-most-6-instruments-read");
        TooManyPieces { most_pieces: usize } = "too_many" at "with":
            text!("loaded-at-most-most-pieces-pieces", most_pieces);
        Twice = "twice" at "with": text!("loaded-a-piece-can-stand-on");
        UnknownPiece = "unknown_piece" at "with": text!("loaded-the-kit-has-no-such");
        OwnReference { serial: String } = "own_reference" at "with":
            text!("loaded-serial-was-weighed-on-this", serial),
            then text!("loaded-take-certified-weights-or-an");
        OtherSum { sum: Mass, load: Mass } = "other_sum" at "load":
            text!("loaded-the-pieces-named-come-to", sum, load),
            then text!("loaded-name-the-pieces-that-lie");
        UnfitWeight { unfit: Vec<Text> } = "unfit_weight" at "overruled":
            text!("loaded-unfit-not-for-a-proof", unfit),
            then text!("loaded-take-another-piece-or-overrule");
    }
}
