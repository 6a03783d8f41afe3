//! Each entry as a sentence, for the journal's list and the record.

use crate::journal::{Body, CheckFinding, JobState, Purpose, ReadStage, Settlement, TOGETHER, Taken, Way};
use crate::quantity::Mass;
use crate::scale::checklist;
use crate::wording::{Between, Text};

/// The entry in a sentence.
pub fn sentence(state: &JobState, body: &Body) -> Text {
    let kind = state.sheet.kind;
    // A figure stands as the display shows it, with the decimals of the setup.
    let on_display = |stage: &ReadStage, pad: u8, mass: &Mass| {
        let setup = match stage {
            ReadStage::AsFound => state.setup_as_found_of(pad).0,
            ReadStage::Prove => state.setup_of(pad).0,
        };
        crate::wording::figure(setup.text(mass))
    };
    let label = |item: &str| {
        checklist(kind)
            .find(|known| known.id == item)
            .map_or_else(|| Text::verbatim(item.to_owned()), |known| known.label())
    };
    match body {
        Body::Started { sheet, .. } => text!("sentences-job-begun-on-name", name = sheet.name),
        Body::LookedOver { item, finding, note, cells } => {
            let found = match finding {
                CheckFinding::Ok => text!("sentences-in-order"),
                CheckFinding::Fault => text!("sentences-fault"),
                CheckFinding::NotApplicable => text!("sentences-not-applicable"),
            };
            let note = note.as_ref().map_or_else(Text::default, |n| text!("sentences-note", n));
            let cells =
                crate::journal::says(cells).map_or_else(Text::default, |says| text!("sentences-says", says));
            text!("sentences-item", item = label(item), found, note, cells)
        }
        Body::FaultSettled { item, how: Settlement::Repaired, reason } => {
            text!("sentences-label-repaired-reason", label = label(item), reason)
        }
        Body::FaultSettled { item, how: Settlement::Overruled, reason } => {
            text!("sentences-label-overruled-reason", label = label(item), reason)
        }
        Body::ToleranceChosen { tolerance, reason } => {
            text!("sentences-tolerance-tolerance-reason", tolerance = tolerance.label(), reason)
        }
        Body::Read {
            stage,
            load,
            shown,
            way,
            taken,
            pad,
            with,
            overruled,
            purpose,
            spot,
            added,
            substituted,
        } => {
            let stage_of = stage;
            let stage = if *stage == ReadStage::AsFound {
                text!("sentences-as-found")
            } else {
                text!("sentences-proof")
            };
            let way = if *way == Way::Up { Text::default() } else { text!("sentences-coming-down") };
            let how =
                if matches!(taken, Taken::Live { .. }) { text!("sentences-live") } else { Text::default() };
            let at = at_pad(*pad);
            let why = overruled
                .as_ref()
                .map_or_else(Text::default, |why| text!("sentences-weights-overruled-why", why));
            let moved = if load.value.is_negative() {
                text!("sentences-abs-taken-off", abs = load.abs())
            } else {
                text!("sentences-load-on", load)
            };
            let what = match (purpose, spot) {
                (Purpose::Load, _) => Text::default(),
                (Purpose::Corner, Some(0)) => text!("sentences-in-the-middle"),
                (Purpose::Corner, spot) => {
                    let named = spot.and_then(|s| crate::journal::position(state, s));
                    named.map_or_else(Text::default, |p| text!("sentences-at-place", place = p.place))
                }
                (Purpose::Repeat, _) => text!("sentences-once-more"),
            };
            let changed = added
                .as_ref()
                .map_or_else(Text::default, |a| text!("sentences-next-division-after-a-more", a));
            let rounds =
                substituted.map_or_else(Text::default, |n| text!("sentences-by-n-substitution-s", n));
            let why = Text::list([changed, rounds, why], Between::Nothing);
            let shown = on_display(stage_of, *pad, shown);
            text!(
                "sentences-stage-moved-what-at-made",
                stage,
                moved,
                what,
                at,
                made_of = made_of(with),
                shown,
                way,
                how,
                why
            )
        }
        Body::Discriminated { stage, load, added, before, after, pad } => {
            let (before, after) = (on_display(stage, *pad, before), on_display(stage, *pad, after));
            let stage = if *stage == ReadStage::AsFound {
                text!("sentences-as-found")
            } else {
                text!("sentences-proof")
            };
            text!(
                "sentences-stage-added-added-to-load",
                stage,
                added,
                load,
                at_pad = at_pad(*pad),
                before,
                after
            )
        }
        Body::DecisionChosen { rule, reason } => {
            text!("sentences-decision-rule-for-this-job", rule = rule.label(), reason)
        }
        Body::NoFigureRead { stage, load, display, way, pad } => {
            let stage = if *stage == ReadStage::AsFound {
                text!("sentences-as-found")
            } else {
                text!("sentences-proof")
            };
            let way = if *way == Way::Up { Text::default() } else { text!("sentences-coming-down") };
            text!(
                "sentences-stage-load-on-way-at",
                stage,
                load,
                way,
                at_pad = at_pad(*pad),
                display = display.says()
            )
        }
        Body::SetupFound { setup, factor, pad } => {
            let factor = factor.as_ref().map_or_else(Text::default, |f| text!("sentences-factor-f", f));
            text!(
                "sentences-setup-as-found-at-pad",
                at_pad = at_pad(*pad),
                max = setup.max,
                d = setup.d,
                factor
            )
        }
        Body::LeftAlone { reason, pad: TOGETHER } => text!("sentences-left-as-it-was-reason", reason),
        Body::LeftAlone { reason, pad } => text!("sentences-pad-pad-left-as-it", pad, reason),
        Body::CountersRead { counters, .. } => {
            let part = |name: Text, value: Option<u32>| {
                value.map_or_else(Text::default, |v| text!("sentences-counter", name, v))
            };
            text!(
                "sentences-counters-part-part2",
                part = part(text!("sentences-set-up"), counters.setup),
                part2 = part(text!("sentences-calibration"), counters.calibration)
            )
        }
        Body::SetUp { setup, pad, because } => {
            let fine = setup.fine.as_ref().map_or_else(Text::default, |f| {
                text!("sentences-up-to-max-in-steps", max = f.max, d = f.d, mode = setup.mode.label())
            });
            let at = if *pad == 0 { text!("sentences-on-every-pad") } else { at_pad(*pad) };
            let decimals = crate::scale::decimals_text(setup.decimals);
            let why = because
                .as_ref()
                .map_or_else(Text::default, |why| text!("sentences-entered-all-the-same-why", why));
            text!("sentences-set-up-at-max-max", at, max = setup.max, d = setup.d, decimals, fine, why)
        }
        Body::ZeroCaptured { capture, pad } => {
            text!(
                "sentences-zero-captured-at-pad-as",
                at_pad = at_pad(*pad),
                as_ref = counts(capture.counts.as_ref())
            )
        }
        Body::SpanChosen { weight, pad, with, .. } => {
            text!(
                "sentences-span-weight-weight-keyed-in",
                weight,
                at_pad = at_pad(*pad),
                made_of = made_of(with)
            )
        }
        Body::SchoolChosen { school, reason } => {
            text!("sentences-span-weight-asked-for-school", school = school.label(), reason)
        }
        Body::SpanCaptured { capture, pad } => {
            text!(
                "sentences-span-captured-at-pad-as",
                at_pad = at_pad(*pad),
                as_ref = counts(capture.counts.as_ref())
            )
        }
        Body::PointCaptured { weight, capture, with, pad } => text!(
            "sentences-point-weight-made-of-captured",
            weight,
            made_of = made_of(with),
            at_pad = at_pad(*pad),
            as_ref = counts(capture.counts.as_ref())
        ),
        Body::ZeroSaved { pad } => text!("sentences-zero-alone-saved-at-pad", at_pad = at_pad(*pad)),
        Body::FactorSet { old, new, load, shown, with, pad, .. } => text!(
            "sentences-correction-factor-old-new-at",
            old,
            new,
            at_pad = at_pad(*pad),
            load,
            made_of = made_of(with),
            shown
        ),
        Body::InternalMatched { old, new, load, shown, with, pad, .. } => {
            text!(
                "sentences-internal-weight-old-new-at",
                old,
                new,
                at_pad = at_pad(*pad),
                load,
                made_of = made_of(with),
                shown
            )
        }
        Body::SelfAdjusted { pad } => {
            text!("sentences-adjusted-itself-by-its-internal", at_pad = at_pad(*pad))
        }
        Body::AdjustmentSaved { pad } => text!("sentences-adjustment-saved-at-pad", at_pad = at_pad(*pad)),
        Body::AdjustmentAbandoned { reason } => text!("sentences-adjustment-abandoned-reason", reason),
        Body::SealedUp { seals, .. } => {
            text!(
                "sentences-sealed-up",
                seals = if seals.trim().is_empty() {
                    Text::default()
                } else {
                    text!("sentences-colon", what = seals)
                }
            )
        }
        Body::Remarked { text } => text!("sentences-remark-what", what = text),
        Body::StoppedShort { reason } => text!("sentences-stopped-short-reason", reason),
        Body::StruckOut { reason, .. } => text!("sentences-an-entry-struck-out-reason", reason),
        Body::Closed { name, .. } => text!("sentences-signed-by-name", name),
        Body::ConditionsRead { conditions } => {
            text!("sentences-around-it-conditions", conditions = conditions.says())
        }
        Body::Attached { file } => text!("sentences-beside-it-file", file = file.says()),
        Body::CustomerSigned { name, .. } => text!("sentences-signed-for-the-customer-by", name),
        Body::SheetCorrected { to, reason } => {
            text!(
                "sentences-put-right-name-owner-place",
                name = to.name,
                owner = to.owner,
                place = to.place,
                serial = to.serial,
                reason
            )
        }
        Body::SentBack { remarks } => text!("sentences-sent-back-remarks", remarks),
        Body::Approved { remarks } => {
            text!(
                "sentences-approved-r",
                r = remarks.as_ref().map_or_else(Text::default, |r| text!("sentences-colon", what = r))
            )
        }
        Body::Amended { of, reason } => text!("sentences-new-version-in-the-place", of, reason),
    }
}

/// The pieces of a load, each by its mark.
fn made_of(with: &[crate::journal::UsedPiece]) -> Text {
    if with.is_empty() {
        Text::default()
    } else {
        text!("sentences-note", n = with.iter().map(|p| p.serial.as_str()).collect::<Vec<_>>())
    }
}

/// Pads beyond the first are named; the first or only one goes without saying.
fn at_pad(pad: u8) -> Text {
    if pad <= 1 { Text::default() } else { text!("sentences-at-pad-pad", pad) }
}

fn counts(counts: Option<&crate::quantity::Decimal>) -> Text {
    counts.map_or_else(Text::default, |c| text!("sentences-at-c-counts", c))
}
