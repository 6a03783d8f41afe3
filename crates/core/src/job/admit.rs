//! Whether an entry may follow. Pure: the same journal and the same entry are always decided the
//! same way. A refusal says what is wrong, at which field, and what to do.

use crate::assessment::after_signing;
use crate::journal::{Body, CheckFinding, Entry, JobState, alike};
use crate::refusal::Refusal;

use super::kinds::words::{readable, reasoned};
use super::kinds::{
    believe_zero, close_out, discrimination, inspection, judged_by, left_alone, no_figure, reading, setup,
    uncounted, zero_span,
};

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
        Body::LookedOver { finding: CheckFinding::Ok, cells, note, .. } => alike(cells, note.as_deref()),
        Body::LookedOver { finding: CheckFinding::Fault, note, .. } => {
            inspection::believe_fault(note.as_deref())
        }
        Body::ZeroCaptured { capture, pad } => believe_zero(state, capture, *pad),
        Body::SpanCaptured { capture, pad } => zero_span::believe_span(state, capture, *pad),
        Body::SetUp { setup, .. } => setup::covered(state, setup),
        Body::FactorSet { .. } => uncounted::believe_factor(state),
        Body::LeftAlone { pad, .. } => left_alone::believe(state, *pad),
        Body::Closed { .. } => close_out::believe_closed(state),
        _ => Ok(()),
    }
}

/// Whether the journal bears the entry: a law of every journal that was ever written.
pub(super) fn may_follow(entries: &[Entry], state: &JobState, body: &Body) -> Result<(), Refusal> {
    after_signing(state, body)?;
    match body {
        Body::Started { .. } => Err(Refusal::from(Refused::AlreadyStarted)),
        Body::LookedOver { item, note, .. } => inspection::admit(state, item, note.as_deref()),
        Body::FaultSettled { item, reason, .. } => inspection::admit_settled(state, item, reason),
        Body::ToleranceChosen { tolerance, reason } => judged_by::admit_tolerance(state, tolerance, reason),
        Body::Read { .. } => reading::admit(state, body),
        Body::NoFigureRead { stage, load, display, pad, .. } => {
            no_figure::admit(state, *stage, load, display, *pad)
        }
        Body::Discriminated { stage, load, before, after, pad, .. } => {
            discrimination::admit(state, *stage, load, [before, after], *pad)
        }
        Body::SetupFound { setup, pad, .. } => setup::admit_found(state, setup, *pad),
        Body::SetUp { setup, pad, because } => setup::admit(state, setup, *pad, because.as_deref()),
        Body::CountersRead { .. } => Ok(()),
        Body::LeftAlone { reason, pad } => left_alone::admit(state, reason, *pad),
        Body::ZeroCaptured { capture, pad } => zero_span::admit_zero(state, capture, *pad),
        Body::SpanChosen { weight, pad, with, .. } => zero_span::admit_span_chosen(state, weight, with, *pad),
        Body::SpanCaptured { capture, pad } => zero_span::admit_span(state, capture, *pad),
        Body::PointCaptured { weight, capture, with, pad } => {
            zero_span::admit_point(state, weight, capture, with, *pad)
        }
        Body::ZeroSaved { pad } => zero_span::admit_zero_saved(state, *pad),
        Body::AdjustmentSaved { pad } => zero_span::admit_saved(state, *pad),
        Body::AdjustmentAbandoned { reason } => zero_span::admit_abandoned(state, reason),
        Body::FactorSet { new, load, with, pad, .. } => uncounted::admit_factor(state, new, load, with, *pad),
        Body::InternalMatched { load, with, pad, .. } => uncounted::without_capture(state, load, with, *pad),
        Body::SelfAdjusted { pad } => uncounted::admit_itself(state, *pad),
        Body::StruckOut { entry, reason } => close_out::admit_struck(entries, state, *entry, reason),
        Body::Closed { name, .. } => close_out::admit_closed(state, name),
        Body::CustomerSigned { name, path } => close_out::admit_customer(state, name, path),
        Body::Attached { file } => file.check(),
        Body::SheetCorrected { to, reason } => {
            reasoned("reason", reason)?;
            let mut sheet = state.sheet.clone();
            to.put_into(&mut sheet);
            sheet.check()
        }
        Body::SealedUp { seals, .. } => readable("seals", seals),
        Body::Remarked { text } => reasoned("text", text),
        Body::DecisionChosen { reason, .. }
        | Body::SchoolChosen { reason, .. }
        | Body::StoppedShort { reason }
        | Body::Amended { reason, .. } => reasoned("reason", reason),
        Body::ConditionsRead { conditions } => {
            conditions.note.as_deref().map_or(Ok(()), |note| readable("note", note))
        }
        Body::SentBack { remarks } => reasoned("remarks", remarks),
        Body::Approved { remarks } => remarks.as_deref().map_or(Ok(()), |text| readable("remarks", text)),
    }
}

crate::refusals! {
    enum Refused {
        AlreadyStarted = "already_started": text!("admit-the-job-has-begun-already");
    }
}
