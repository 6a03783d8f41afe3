//! The lines of an adjustment: each way of adjusting has its own steps and figures.

use super::views::{AdjustLine, AdjustPart, PointLine};
use crate::adjust::TwoPoint;
use crate::journal::{Adjusted, Capture, How, JobState, PadState, Setup, keyed_in, span_digits};
use crate::quantity::{Decimal, Mass, Unit};
use crate::wording::Text;

fn line(part: AdjustPart, label: Text, figure: Option<Text>, note: impl Into<Text>) -> AdjustLine {
    AdjustLine { part, label, figure, note: note.into() }
}

/// The lines of the pad that is worked at, in the order of the work.
pub(crate) fn adjust_lines(state: &JobState) -> Vec<AdjustLine> {
    let (setup, _) = state.setup_in_force();
    let pad = state.here();
    match pad.adjusted.as_ref().filter(|_| !pad.adjusting()) {
        Some(adjusted) => match &adjusted.how {
            How::Factor(old, new) => factor(state, &setup, adjusted, old, new),
            How::Internal(old, new) => internal(&setup, pad, adjusted, old, new),
            How::ZeroOnly => vec![
                captured(AdjustPart::Zero, text!("adjustment-zero"), Some(&adjusted.zero)),
                line(AdjustPart::Figure, text!("adjustment-span"), Some(text!("adjustment-as-it-was")), ""),
                saved(true),
            ],
            How::TwoPoint | How::Points(_) => captures(state, &setup, pad, Some(adjusted)),
        },
        None => captures(state, &setup, pad, None),
    }
}

fn captured(part: AdjustPart, label: Text, capture: Option<&Capture>) -> AdjustLine {
    let counts = capture.and_then(|c| c.counts.as_ref());
    let figure = capture.map(|_| {
        counts.map_or_else(|| text!("adjustment-captured"), |counts| Text::verbatim(counts.to_string()))
    });
    let because =
        capture.and_then(|c| c.because.as_ref()).map(|why| text!("adjustment-all-the-same-why", why));
    line(
        part,
        label,
        figure,
        because
            .unwrap_or_else(|| if counts.is_some() { text!("adjustment-counts") } else { Text::default() }),
    )
}

fn saved(yes: bool) -> AdjustLine {
    line(
        AdjustPart::Save,
        text!("adjustment-saved"),
        Some(if yes { text!("adjustment-yes") } else { text!("adjustment-no") }),
        "",
    )
}

fn captures(state: &JobState, setup: &Setup, pad: &PadState, adjusted: Option<&Adjusted>) -> Vec<AdjustLine> {
    let weight = adjusted.map(|a| &a.weight).or(pad.span_weight.as_ref());
    let share = weight.and_then(|w| w.times(&Decimal::from(100u32)).ratio(&setup.max));
    let mut out = vec![
        captured(AdjustPart::Zero, text!("adjustment-zero"), adjusted.map(|a| &a.zero).or(pad.zero.as_ref())),
        line(
            AdjustPart::Weight,
            text!("adjustment-span-weight"),
            weight.map(|w| text!("adjustment-mass", mass = w)),
            share.map_or_else(Text::default, |s| text!("adjustment-fixed-of-max", fixed = s.fixed(0))),
        ),
    ];
    if let Some(weight) = weight {
        let digits =
            span_digits(&state.sheet, setup, weight).map_or_else(|refusal| refusal.message, Text::verbatim);
        out.push(line(AdjustPart::Digits, text!("adjustment-keyed-in-as"), Some(digits), ""));
    }
    out.push(captured(
        AdjustPart::Span,
        text!("adjustment-span"),
        adjusted.map(|a| &a.span).or(pad.span.as_ref()),
    ));
    let points = match adjusted.map(|a| &a.how) {
        Some(How::Points(points)) => points,
        _ => &pad.points,
    };
    let bowed = point_lines(setup, pad, adjusted);
    for point in points {
        let mut line = captured(
            AdjustPart::Figure,
            text!("adjustment-point-weight", weight = point.weight),
            Some(&point.capture),
        );
        if let Some(by) = bowed.iter().find(|p| p.weight == point.weight).and_then(|p| p.straight.as_ref()) {
            line.note = text!("adjustment-by-with-one-span", by);
        }
        out.push(line);
    }
    out.push(saved(adjusted.is_some()));
    out
}

/// What was read, without it at zero and with the load.
fn read(setup: &Setup, adjusted: &Adjusted) -> Vec<AdjustLine> {
    let mut out = vec![line(
        AdjustPart::Weight,
        text!("adjustment-load"),
        Some(text!("adjustment-mass", mass = adjusted.weight)),
        "",
    )];
    if let Some((shown, shown_zero)) = &adjusted.read {
        out.push(line(
            AdjustPart::Figure,
            text!("adjustment-shown-at-zero"),
            Some(Text::verbatim(setup.text(shown_zero))),
            "",
        ));
        out.push(line(
            AdjustPart::Figure,
            text!("adjustment-shown-with-the-load"),
            Some(Text::verbatim(setup.text(shown))),
            "",
        ));
    }
    out
}

fn factor(
    state: &JobState,
    setup: &Setup,
    adjusted: &Adjusted,
    old: &Decimal,
    new: &Decimal,
) -> Vec<AdjustLine> {
    let mut out = read(setup, adjusted);
    out.push(line(
        AdjustPart::Figure,
        text!("adjustment-factor-as-it-was"),
        Some(text!("adjustment-mass", mass = old)),
        "",
    ));
    out.push(line(
        AdjustPart::Factor,
        text!("adjustment-new-factor"),
        Some(text!("adjustment-mass", mass = new)),
        ppm_of(old, new),
    ));
    if let Some(field) = state.sheet.profile_facts().and_then(|f| f.factor.as_ref()) {
        let digits = keyed_in(field, new, "", 0).map_or_else(|refusal| refusal.message, Text::verbatim);
        out.push(line(
            AdjustPart::Digits,
            text!("adjustment-keyed-in-as"),
            Some(digits),
            text!("adjustment-at-label", label = field.label),
        ));
    }
    out.push(line(AdjustPart::Save, text!("adjustment-entered"), Some(text!("word-yes")), ""));
    out
}

fn internal(setup: &Setup, pad: &PadState, adjusted: &Adjusted, old: &Mass, new: &Mass) -> Vec<AdjustLine> {
    let mut out = Vec::new();
    if let Some(before) = pad.earlier.last() {
        out.push(line(
            AdjustPart::Figure,
            text!("adjustment-by-external-weights-before"),
            Some(before.says()),
            "",
        ));
    }
    out.extend(read(setup, adjusted));
    out.push(line(
        AdjustPart::Figure,
        text!("adjustment-internal-weight-as-kept"),
        Some(text!("adjustment-mass", mass = old)),
        "",
    ));
    out.push(line(
        AdjustPart::Figure,
        text!("adjustment-internal-weight-now"),
        Some(text!("adjustment-mass", mass = new)),
        since(old, new),
    ));
    out.push(line(
        AdjustPart::Save,
        text!("adjustment-adjusted-itself-by-it"),
        Some(if pad.adjusted_itself { text!("adjustment-yes") } else { text!("adjustment-not-yet") }),
        text!("adjustment-by-its-internal-weight-alone"),
    ));
    out
}

/// The change of an internal weight, in milligrams and in parts per million.
fn since(old: &Mass, new: &Mass) -> Text {
    let change = new.minus(old);
    let mg = change.value_in(Unit::Mg);
    let sign = if mg.is_positive() { "+" } else { "" };
    let ppm = change.ratio(old).map_or_else(Text::default, |r| text!("adjustment-ppm", ppm = ppm(&r)));
    text!("adjustment-sign-round-to-mg-ppm", sign, round_to = mg.round_to(3), ppm)
}

fn ppm_of(old: &Decimal, new: &Decimal) -> String {
    (new - old).quotient(old).map_or_else(String::new, |r| ppm(&r))
}

fn ppm(ratio: &Decimal) -> String {
    let ppm = (ratio * &Decimal::from(1_000_000u32)).round_to(1);
    format!("{}{ppm} ppm", if ppm.is_positive() { "+" } else { "" })
}

/// The points of a curve, with what a straight line through zero and span would leave at each.
pub(crate) fn point_lines(
    setup: &Setup,
    pad: &crate::journal::PadState,
    saved: Option<&Adjusted>,
) -> Vec<PointLine> {
    let (mut points, two) = match saved {
        Some(adjusted) => {
            let How::Points(further) = &adjusted.how else { return Vec::new() };
            let unit = adjusted.weight.unit;
            let ends = [
                (Mass::zero(unit), adjusted.zero.counts.clone()),
                (adjusted.weight.clone(), adjusted.span.counts.clone()),
            ];
            (
                ends.into_iter()
                    .chain(further.iter().map(|p| (p.weight.clone(), p.capture.counts.clone())))
                    .collect::<Vec<_>>(),
                adjusted.on_record(),
            )
        }
        None if pad.points.is_empty() => return Vec::new(),
        None => {
            let on =
                |(weight, (zero, span)): (&Mass, (&crate::journal::Capture, &crate::journal::Capture))| {
                    Some(crate::journal::SpanOnRecord {
                        weight: weight.clone(),
                        at_zero: zero.counts.clone()?,
                        with_weight: span.counts.clone()?,
                    })
                };
            let span = pad.span_weight.as_ref().zip(pad.zero.as_ref().zip(pad.span.as_ref())).and_then(on);
            (pad.curve_points(), span)
        }
    };
    points.sort_by(|a, b| a.0.cmp(&b.0));
    let line = two.and_then(|t| TwoPoint::new(t.weight, t.at_zero, t.with_weight).ok());
    let bow = |weight: &Mass, counts: Option<&Decimal>| {
        let off = line.as_ref()?.mass_at(counts?).minus(weight).ratio(&setup.d)?;
        Some(format!("{}{} d", if off.is_positive() { "+" } else { "" }, off.round_to(2)))
    };
    points
        .into_iter()
        .map(|(weight, counts)| PointLine {
            straight: bow(&weight, counts.as_ref()),
            counts: counts.map(|c| c.to_string()),
            weight,
        })
        .collect()
}
