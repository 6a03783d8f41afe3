//! The lines of an adjustment: each way of adjusting has its own steps and figures.

use super::views::{AdjustLine, AdjustPart, PointLine};
use crate::adjust::TwoPoint;
use crate::journal::{Adjusted, Capture, How, JobState, PadState, Setup, keyed_in, span_digits};
use crate::quantity::{Decimal, Mass, Unit};

fn line(part: AdjustPart, label: &str, figure: Option<String>, note: impl Into<String>) -> AdjustLine {
    AdjustLine { part, label: label.into(), figure, note: note.into() }
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
                captured(AdjustPart::Zero, "Zero", Some(&adjusted.zero)),
                line(AdjustPart::Figure, "Span", Some("as it was".into()), ""),
                saved(true),
            ],
            How::TwoPoint | How::Points(_) => captures(state, &setup, pad, Some(adjusted)),
        },
        None => captures(state, &setup, pad, None),
    }
}

fn captured(part: AdjustPart, label: &str, capture: Option<&Capture>) -> AdjustLine {
    let counts = capture.and_then(|c| c.counts.as_ref());
    let figure = capture.map(|_| counts.map_or_else(|| "captured".into(), ToString::to_string));
    let because = capture.and_then(|c| c.because.as_ref()).map(|why| format!("all the same: {why}"));
    line(
        part,
        label,
        figure,
        because.unwrap_or_else(|| if counts.is_some() { "counts".into() } else { String::new() }),
    )
}

fn saved(yes: bool) -> AdjustLine {
    line(AdjustPart::Save, "Saved", Some(if yes { "yes" } else { "no" }.into()), "")
}

fn captures(state: &JobState, setup: &Setup, pad: &PadState, adjusted: Option<&Adjusted>) -> Vec<AdjustLine> {
    let weight = adjusted.map(|a| &a.weight).or(pad.span_weight.as_ref());
    let share = weight.and_then(|w| w.times(&Decimal::from(100u32)).ratio(&setup.max));
    let mut out = vec![
        captured(AdjustPart::Zero, "Zero", adjusted.map(|a| &a.zero).or(pad.zero.as_ref())),
        line(
            AdjustPart::Weight,
            "Span weight",
            weight.map(ToString::to_string),
            share.map_or_else(String::new, |s| format!("{} % of Max", s.fixed(0))),
        ),
    ];
    if let Some(weight) = weight {
        let digits = span_digits(&state.sheet, setup, weight).unwrap_or_else(|refusal| refusal.message);
        out.push(line(AdjustPart::Digits, "keyed in as", Some(digits), ""));
    }
    out.push(captured(AdjustPart::Span, "Span", adjusted.map(|a| &a.span).or(pad.span.as_ref())));
    let points = match adjusted.map(|a| &a.how) {
        Some(How::Points(points)) => points,
        _ => &pad.points,
    };
    let bowed = point_lines(setup, pad, adjusted);
    for point in points {
        let mut line = captured(AdjustPart::Figure, &format!("Point {}", point.weight), Some(&point.capture));
        if let Some(by) = bowed.iter().find(|p| p.weight == point.weight).and_then(|p| p.straight.as_ref()) {
            line.note = format!("{by} with one span");
        }
        out.push(line);
    }
    out.push(saved(adjusted.is_some()));
    out
}

/// What was read, without it at zero and with the load.
fn read(setup: &Setup, adjusted: &Adjusted) -> Vec<AdjustLine> {
    let mut out = vec![line(AdjustPart::Weight, "Load", Some(adjusted.weight.to_string()), "")];
    if let Some((shown, shown_zero)) = &adjusted.read {
        out.push(line(AdjustPart::Figure, "Shown at zero", Some(setup.text(shown_zero)), ""));
        out.push(line(AdjustPart::Figure, "Shown with the load", Some(setup.text(shown)), ""));
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
    out.push(line(AdjustPart::Figure, "Factor as it was", Some(old.to_string()), ""));
    out.push(line(AdjustPart::Factor, "New factor", Some(new.to_string()), ppm_of(old, new)));
    if let Some(field) = state.sheet.profile_facts().and_then(|f| f.factor.as_ref()) {
        let digits = keyed_in(field, new, "", 0).unwrap_or_else(|refusal| refusal.message);
        out.push(line(AdjustPart::Digits, "keyed in as", Some(digits), format!("at “{}”", field.label)));
    }
    out.push(line(AdjustPart::Save, "Entered", Some("yes".into()), ""));
    out
}

fn internal(setup: &Setup, pad: &PadState, adjusted: &Adjusted, old: &Mass, new: &Mass) -> Vec<AdjustLine> {
    let mut out = Vec::new();
    if let Some(before) = pad.earlier.last() {
        out.push(line(AdjustPart::Figure, "By external weights before", Some(before.says()), ""));
    }
    out.extend(read(setup, adjusted));
    out.push(line(AdjustPart::Figure, "Internal weight as kept", Some(old.to_string()), ""));
    out.push(line(AdjustPart::Figure, "Internal weight now", Some(new.to_string()), since(old, new)));
    out.push(line(
        AdjustPart::Save,
        "Adjusted itself by it",
        Some(if pad.adjusted_itself { "yes" } else { "not yet" }.into()),
        "by its internal weight alone from now on",
    ));
    out
}

/// The change of an internal weight, in milligrams and in parts per million.
fn since(old: &Mass, new: &Mass) -> String {
    let change = new.minus(old);
    let mg = change.value_in(Unit::Mg);
    let sign = if mg.is_positive() { "+" } else { "" };
    let ppm = change.ratio(old).map_or_else(String::new, |r| format!(", {}", ppm(&r)));
    format!("{sign}{} mg{ppm} since it was last kept", mg.round_to(3))
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
