//! The calculators about readings: repeatability, a verdict with its uncertainty, corners and their trim.

use super::{CalculatorAnswer, CalculatorQuestion, figure, number, optional, positive, whole};
use crate::adjust::{TrimMeans, TrimPosition, trim};
use crate::measurement::{DecisionRule, Verdict, decide, minimum_weight, repeatability, weighings};
use crate::quantity::{Decimal, Mass, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::tolerance::Class;
use crate::wording::{Between, Text};
use crate::working::Working;

/// Readings separated by spaces or semicolons; a comma is a decimal mark.
fn readings(field: &str, text: &str, unit: Unit) -> Result<Vec<Mass>, Refusal> {
    text.split([' ', ';', '\n', '\t'])
        .filter(|part| !part.is_empty())
        .map(|part| Ok(parse_mass(part, unit, field)?))
        .collect()
}

pub(crate) fn repeats(
    class: Class,
    shown: &str,
    mpe: &str,
    d: &str,
    unit: Unit,
) -> Result<CalculatorAnswer, Refusal> {
    let shown = readings("shown", shown, unit)?;
    let mpe = positive("mpe", mpe, unit)?;
    let result = repeatability(weighings(class), &shown, &mpe).map_err(|e| Refusal::from(e).at("shown"))?;
    let mut figures = vec![
        figure(text!("checks-largest-smallest"), &result.range),
        figure(Text::from("s"), format!("{:.6} {unit}", result.s)),
        figure(text!("checks-weighings"), shown.len()),
    ];
    let mut working = vec![
        Working::new(
            text!("head-repeatability"),
            text!("checks-max-min-mpe"),
            if result.within { text!("word-within") } else { text!("word-outside") },
            "OIML R 76-1:2006, 3.6.1",
        )
        .with(text!("checks-max-min"), text!("checks-of-the-weighings"), &result.range)
        .with("MPE", text!("checks-tolerance-at-this-load"), &mpe),
    ];
    if let Some(d) = optional(d, |d| positive("d", d, unit))? {
        let least = minimum_weight(&shown, &d).map_err(|e| Refusal::from(e).at("shown"))?;
        figures
            .push(figure(text!("checks-least-weight-on-a-balance"), format!("{:.4} {unit}", least.minimum)));
        working.push(
            Working::new(
                text!("checks-minimum-weight"),
                "m_min = 2 · max(s, 0.41 d) / 0.0010",
                format!("{:.4} {unit}", least.minimum),
                text!("checks-usp-41-practice-of-laboratory"),
            )
            .with("s", text!("checks-sample-standard-deviation"), format!("{:.6} {unit}", least.s))
            .with("d", text!("word-division"), &d),
        );
    }
    let says = if result.within {
        text!("checks-within-range-apart-mpe-allowed", range = result.range, mpe)
    } else {
        text!("checks-outside-range-apart-mpe-allowed", range = result.range, mpe)
    };
    Ok(CalculatorAnswer { says, figures, working, ..CalculatorAnswer::default() })
}

pub(crate) fn verdict(
    rule: DecisionRule,
    error: &str,
    expanded: &str,
    k: &str,
    mpe: &str,
    unit: Unit,
) -> Result<CalculatorAnswer, Refusal> {
    let (error, expanded, mpe) =
        (parse_mass(error, unit, "error")?, parse_mass(expanded, unit, "U")?, positive("mpe", mpe, unit)?);
    let k = number("k", k)?;
    let result = decide(rule, &error, &expanded, &k, &mpe)?;
    let words = match result.verdict {
        Verdict::Pass => text!("checks-pass"),
        Verdict::PassInsideGuard => text!("checks-pass-inside-the-guard-nearer"),
        Verdict::FailInsideGuard => text!("checks-fail-inside-the-guard-nearer"),
        Verdict::Fail => text!("checks-fail"),
    };
    let caution = if rule == DecisionRule::Simple && result.too_uncertain {
        text!("checks-u-is-above-a-third")
    } else {
        Text::default()
    };
    let working = Working::new(
        text!("checks-verdict-with-uncertainty"),
        "|E| against MPE, MPE − U and MPE + U; P from the normal distribution with u = U/k",
        &words,
        "JCGM 106:2012, 7 to 9",
    )
    .with("E", text!("word-error"), &error)
    .with("U", text!("checks-expanded-uncertainty"), &expanded)
    .with("k", text!("checks-coverage-factor"), &k)
    .with("MPE", text!("word-tolerance"), &mpe);
    let figures = vec![
        figure(
            text!("checks-true-error-outside-the-tolerance"),
            format!("{:.2} %", result.probability_outside * 100.0),
        ),
        figure(
            text!("checks-u-mpe"),
            format!("{:.2}", expanded.value_in(unit).to_f64() / mpe.value_in(unit).to_f64()),
        ),
    ];
    Ok(CalculatorAnswer {
        says: Text::list([&words, &caution], Between::Nothing),
        figures,
        working: vec![working],
        ..CalculatorAnswer::default()
    })
}

/// Each reading has the load over one cell, which carries `share` per cent of it; the others share
/// the rest alike.
pub(crate) fn corner_trim(question: &CalculatorQuestion) -> Result<CalculatorAnswer, Refusal> {
    let CalculatorQuestion::Trim { load, shown, shown_zero, share, digital, unit } = question else {
        return Err(Refusal::from(Refused::BadInput));
    };
    let load = positive("load", load, *unit)?;
    let shown = readings("shown", shown, *unit)?;
    let zero = optional(shown_zero, |text| Ok(parse_mass(text, *unit, "shown_zero")?))?
        .unwrap_or_else(|| Mass::zero(*unit));
    let share = whole("share", share, 100)?;
    let cells = shown.len();
    if cells < 2 {
        return Err(Refusal::from(Refused::TooFew));
    }
    #[expect(clippy::cast_precision_loss, reason = "a handful of cells")]
    let (own, rest) = (f64::from(share) / 100.0, (1.0 - f64::from(share) / 100.0) / (cells - 1) as f64);
    let position = |(over, shown): (usize, &Mass)| TrimPosition {
        shares: (0..cells).map(|cell| if cell == over { own } else { rest }).collect(),
        net: shown.minus(&zero).value_in(*unit).to_f64(),
    };
    let positions: Vec<TrimPosition> = shown.iter().enumerate().map(position).collect();
    let way = if *digital { TrimMeans::Digital } else { TrimMeans::JunctionBox };
    let result =
        trim(cells, load.value_in(*unit).to_f64(), &positions, way, None).map_err(|mut refusal| {
            refusal.field =
                Some(if refusal.code == "positions_do_not_separate" { "share" } else { "shown" }.into());
            refusal
        })?;
    let mut figures = Vec::new();
    for (cell, ((gain, factor), after)) in
        result.gains.iter().zip(&result.factors).zip(&result.predicted).enumerate()
    {
        figures.push(figure(
            text!("checks-cell-cell-gain-then", cell = cell + 1),
            format!("{gain:.5}, × {factor:.5}"),
        ));
        figures.push(figure(
            text!("checks-over-cell-cell-it-will", cell = cell + 1),
            format!("{} {unit}", Decimal::from_measured(*after, 4).unwrap_or_else(Decimal::zero)),
        ));
    }
    let spread = |values: &[f64]| {
        values.iter().copied().fold(f64::MIN, f64::max) - values.iter().copied().fold(f64::MAX, f64::min)
    };
    let before: Vec<f64> = positions.iter().map(|p| p.net).collect();
    let says = text!(
        "checks-corners-spread-unit-apart-now",
        spread = crate::wording::fixed(spread(&before), 4),
        unit,
        spread2 = crate::wording::fixed(spread(&result.predicted), 4)
    );
    let working = Working::new(
        text!("checks-corner-trim"),
        "least squares for the gains g; f = g_target / g",
        text!("checks-cells-cells", cells),
        text!("checks-least-squares-practice-of-junction"),
    )
    .with("L", text!("word-load"), &load)
    .with("share", text!("checks-on-the-cell-it-stands"), format!("{share} %"))
    .with(
        "g_target",
        text!("checks-each-cell-is-brought-to"),
        if *digital { "1".into() } else { text!("checks-the-lowest-gain") },
    );
    Ok(CalculatorAnswer { says, figures, working: vec![working], ..CalculatorAnswer::default() })
}

crate::refusals! {
    enum Refused {
        BadInput = "bad_input": text!("checks-not-a-question-about-corners");
        TooFew = "too_few" at "shown": text!("checks-one-reading-over-each-cell");
    }
}
