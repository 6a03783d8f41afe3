//! The shade as a drawing for paper: tolerance over the range, errors as found and as left.

use std::fmt::Write as _;

use crate::assessment::{ErrorChart, ErrorChartPoint};

/// Frame of the drawing, in points.
const FRAME: (f64, f64) = (520.0, 132.0);
/// Left, right, top, bottom.
const EDGES: (f64, f64, f64, f64) = (46.0, 10.0, 8.0, 24.0);

/// The shade as SVG; `figure` writes a number as the language does.
pub fn error_chart_svg(error_chart: &ErrorChart, figure: &dyn Fn(&str) -> String) -> String {
    let points = error_chart.found.iter().chain(&error_chart.left);
    let tallest = error_chart
        .steps
        .iter()
        .map(|s| s.mpe_to.max(s.mpe_from))
        .chain(points.map(|p| p.error.abs() + p.u.unwrap_or(0.0)))
        .fold(error_chart.d, f64::max)
        * 1.15;
    let zero = (FRAME.1 - EDGES.3 + EDGES.2) / 2.0;
    let half = zero - EDGES.2;
    let x = |load: f64| EDGES.0 + load / error_chart.max * (FRAME.0 - EDGES.0 - EDGES.1);
    let y = |error: f64| zero - error / tallest * half;
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" font-family=\"Atkinson Hyperlegible Next\" font-size=\"8.5\" fill=\"#4c5b65\">",
        FRAME.0, FRAME.1
    );
    // OK because writing to a string does not fail, here and below.
    for s in &error_chart.steps {
        let _ = write!(
            out,
            "<path d=\"M{:.2} {:.2}L{:.2} {:.2}L{:.2} {:.2}L{:.2} {:.2}Z\" fill=\"#d3ddd5\"/>",
            x(s.from),
            y(s.mpe_from),
            x(s.to),
            y(s.mpe_to),
            x(s.to),
            y(-s.mpe_to),
            x(s.from),
            y(-s.mpe_from)
        );
    }
    let _ = write!(
        out,
        "<path d=\"M{} {zero}H{}\" stroke=\"#4c5b65\" stroke-width=\"0.6\" stroke-dasharray=\"1 3\"/>",
        EDGES.0,
        FRAME.0 - EDGES.1
    );
    let number = |value: f64| figure(&trimmed(value));
    for part in [0.0, 0.25, 0.5, 0.75, 1.0] {
        let _ = write!(
            out,
            "<text x=\"{:.1}\" y=\"{:.1}\" text-anchor=\"middle\">{}</text>",
            x(error_chart.max * part),
            FRAME.1 - EDGES.3 + 12.0,
            number(error_chart.max * part)
        );
    }
    let widest = error_chart.steps.iter().map(|s| s.mpe_to.max(s.mpe_from)).fold(0.0, f64::max);
    for (value, sign) in [(widest, "+"), (-widest, "\u{2212}")] {
        let _ = write!(
            out,
            "<text x=\"{:.1}\" y=\"{:.1}\" text-anchor=\"end\">{sign}{}</text>",
            EDGES.0 - 8.0,
            y(value) + 3.0,
            number(value.abs())
        );
    }
    let _ = write!(
        out,
        "<text x=\"{:.1}\" y=\"{:.1}\" text-anchor=\"end\">0</text><text x=\"{:.1}\" y=\"{:.1}\" text-anchor=\"end\">{}</text>",
        EDGES.0 - 8.0,
        zero + 3.0,
        FRAME.0 - EDGES.1,
        FRAME.1 - 2.0,
        error_chart.unit
    );
    let whisker = |p: &ErrorChartPoint| {
        p.u.map_or_else(String::new, |u| {
            format!(
                "<path d=\"M{:.2} {:.2}V{:.2}\" stroke=\"#4c5b65\" stroke-width=\"0.7\"/>",
                x(p.load),
                y(p.error + u),
                y(p.error - u)
            )
        })
    };
    for (list, fill) in [(&error_chart.found, "#ffffff"), (&error_chart.left, "#16202a")] {
        for p in list {
            let ink = if p.within { "#16202a" } else { "#9c2f1d" };
            let fill = if p.within || fill == "#ffffff" { fill } else { ink };
            let _ = write!(
                out,
                "{}<circle cx=\"{:.2}\" cy=\"{:.2}\" r=\"2.6\" fill=\"{fill}\" stroke=\"{ink}\" stroke-width=\"1\"/>",
                whisker(p),
                x(p.load),
                y(p.error)
            );
        }
    }
    out.push_str("</svg>");
    out
}

/// Four significant digits, no zeros at the end.
fn trimmed(value: f64) -> String {
    if value == 0.0 {
        return "0".into();
    }
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a few digits")]
    let decimals = (3.0 - libm::log10(value.abs()).floor()).clamp(0.0, 12.0) as usize;
    let text = format!("{value:.decimals$}");
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_on_the_drawing_are_short() {
        assert_eq!(
            [0.0, 1500.0, 0.5, 0.012_5, 3.25, 30_000.0].map(trimmed),
            ["0", "1500", "0.5", "0.0125", "3.25", "30000"].map(String::from)
        );
    }
}
