//! When a drifting scale leaves its tolerance: a straight line through the errors at the worst load,
//! with its confidence band. Source: least squares; JCGM 100:2008, H.3.

use crate::measurement::student;
use crate::refusal::Refusal;

/// Share of the tolerance at which a scale is called due.
pub(super) const SHARE: f64 = 0.8;
/// Two-sided coverage of the band.
const COVERAGE: f64 = 0.90;
/// A slope below this part of the tolerance a day is level.
const LEVEL: f64 = 1e-12;

/// The line and where it leads. Days are counted from the first record.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Trend {
    /// Error at the first record's day, by the line.
    pub start: f64,
    /// Slope a day.
    pub slope: f64,
    /// Standard deviation about the line.
    pub s: f64,
    /// Where the line meets 80 % of the tolerance on its side; none: never.
    pub meets: Option<f64>,
    /// Where the outer edge of the band meets it.
    pub earliest: Option<f64>,
    /// Where the inner edge does.
    pub latest: Option<f64>,
}

/// The line through `(day, error)`; `mpe` in the unit of the errors.
///
/// # Errors
/// A [`Refusal`] below three records, or where all are of one day.
pub fn trend(records: &[(f64, f64)], mpe: f64) -> Result<Trend, Refusal> {
    if records.len() < 3 {
        return Err(Refusal::from(Refused::TooFew).with("needs", 3));
    }
    #[expect(clippy::cast_precision_loss, reason = "a few records")]
    let n = records.len() as f64;
    let (mx, my) =
        (records.iter().map(|r| r.0).sum::<f64>() / n, records.iter().map(|r| r.1).sum::<f64>() / n);
    let sxx: f64 = records.iter().map(|r| (r.0 - mx).powi(2)).sum();
    if sxx <= 0.0 {
        return Err(Refusal::from(Refused::OneDay));
    }
    let slope = records.iter().map(|r| (r.0 - mx) * (r.1 - my)).sum::<f64>() / sxx;
    let start = slope.mul_add(-mx, my);
    let off: f64 = records.iter().map(|r| (r.1 - slope.mul_add(r.0, start)).powi(2)).sum();
    let s = (off / (n - 2.0)).sqrt();
    let level = Trend { start, slope, s, meets: None, earliest: None, latest: None };
    if slope.abs() < LEVEL * mpe {
        return Ok(level);
    }
    // Seen from the side that the line runs to, it rises.
    let side = slope.signum();
    let (rise, rest) = (slope.abs(), SHARE * mpe - side * my);
    let last = records.iter().map(|r| r.0).fold(f64::MIN, f64::max) - mx;
    let spread = student(COVERAGE, n - 2.0) * s;
    let edge = |z: f64| spread * (1.0 / n + z * z / sxx).sqrt();
    // (rest − rise·z)² = spread²·(1/n + z²/Sxx): both edges in one equation.
    let roots = quadratic(
        rise.mul_add(rise, -spread * spread / sxx),
        -2.0 * rise * rest,
        rest.mul_add(rest, -spread * spread / n),
    );
    let meets = rest / rise;
    // What a record shows has happened by then: the last record's day, or the line's own where that
    // was before, so that earliest ≤ meets ≤ latest always.
    let outer = if rise.mul_add(last, edge(last)) >= rest {
        Some(last.min(meets))
    } else {
        roots.iter().copied().find(|z| *z >= last && *z <= meets + 1e-9)
    };
    let inner = if rise.mul_add(last, -edge(last)) >= rest {
        Some(last)
    } else {
        roots.iter().copied().find(|z| *z >= meets - 1e-9)
    };
    Ok(Trend {
        meets: Some(meets + mx),
        earliest: outer.map(|z| z + mx),
        latest: inner.map(|z| z + mx),
        ..level
    })
}

/// The real roots in rising order; a discriminant that rounding took below zero counts as zero.
fn quadratic(a: f64, b: f64, c: f64) -> Vec<f64> {
    if a == 0.0 {
        return if b == 0.0 { Vec::new() } else { vec![-c / b] };
    }
    let inside = b.mul_add(b, -4.0 * a * c);
    if inside < -1e-9 * b * b {
        return Vec::new();
    }
    let root = inside.max(0.0).sqrt();
    let mut roots = vec![(-b - root) / (2.0 * a), (-b + root) / (2.0 * a)];
    roots.sort_by(f64::total_cmp);
    roots
}

crate::refusals! {
    enum Refused {
        TooFew = "too_few" at "records": text!("trend-a-line-with-its-band");
        OneDay = "one_day" at "records": text!("trend-records-of-a-single-day");
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn the_band_is_ordered(errors in proptest::collection::vec(-4.0f64..4.0, 3..9), step in 1u32..400, drift in -2.0f64..2.0) {
            let records: Vec<(f64, f64)> = (0u32..)
                .zip(&errors)
                .map(|(i, e)| (f64::from(i * step), drift.mul_add(f64::from(i), *e)))
                .collect();
            let result = trend(&records, 3.0).unwrap();
            if let (Some(earliest), Some(meets)) = (result.earliest, result.meets) {
                prop_assert!(earliest <= meets + 1e-6, "{result:?}");
            }
            if let (Some(meets), Some(latest)) = (result.meets, result.latest) {
                prop_assert!(meets <= latest + 1e-6, "{result:?}");
            }
            let last = records[records.len() - 1].0;
            prop_assert!(result.latest.is_none_or(|latest| latest >= last - 1e-6 || result.meets.is_some_and(|m| m <= latest)));
        }
    }

    #[test]
    fn a_line_that_has_met_the_limit_surely_says_the_last_day_at_the_latest() {
        // 80 % of 1 is met on day 8; the last record is of day 20 and scatters hardly at all.
        let records: Vec<(f64, f64)> = (0u32..=20)
            .map(|i| (f64::from(i), 0.1f64.mul_add(f64::from(i), if i % 2 == 0 { 0.001 } else { -0.001 })))
            .collect();
        let result = trend(&records, 1.0).unwrap();
        assert!((result.meets.unwrap() - 8.0).abs() < 0.1);
        assert_eq!(result.latest, Some(20.0));
        assert!(result.earliest.unwrap() <= result.meets.unwrap());
    }
}
