//! A scale over the years: how far its records stood from their tolerance, the drift at the load
//! that the records share, and where that leads. Source: OIML D 10:2007; least squares.

use serde::{Deserialize, Serialize};
use time::{Date, Duration};
use utoipa::ToSchema;

use super::trend::{SHARE as NEAR, trend};
use crate::quantity::Decimal;
use crate::wording::Text;

/// What a record showed, in one unit: the drawing that is stored with it.
#[derive(Clone, Debug, PartialEq, Deserialize)]
pub struct Drawn {
    /// Unit of every figure.
    pub unit: String,
    /// Max.
    pub max: f64,
    /// Tolerance.
    pub steps: Vec<DrawnStep>,
    /// As found.
    pub found: Vec<DrawnPoint>,
    /// As left.
    pub left: Vec<DrawnPoint>,
}

/// A piece of the tolerance.
#[derive(Clone, Copy, Debug, PartialEq, Deserialize)]
pub struct DrawnStep {
    to: f64,
    mpe_to: f64,
}

/// A reading.
#[derive(Clone, Copy, Debug, PartialEq, Deserialize)]
pub struct DrawnPoint {
    load: f64,
    error: f64,
}

impl Drawn {
    fn mpe(&self, load: f64) -> Option<f64> {
        self.steps
            .iter()
            .find(|s| load <= s.to * (1.0 + 1e-9))
            .or_else(|| self.steps.last())
            .map(|s| s.mpe_to)
    }

    fn worst(&self, points: &[DrawnPoint]) -> Option<f64> {
        points
            .iter()
            .filter_map(|p| Some(p.error.abs() / self.mpe(p.load).filter(|m| *m > 0.0)?))
            .max_by(f64::total_cmp)
    }

    /// Largest share of the tolerance as found; as left where nothing was read as found.
    pub fn found_share(&self) -> Option<f64> {
        self.worst(&self.found).or_else(|| self.worst(&self.left))
    }

    /// Largest share of the tolerance as left; as found where it was left alone.
    pub fn left_share(&self) -> Option<f64> {
        self.worst(&self.left).or_else(|| self.worst(&self.found))
    }

    fn error_at(&self, points: &[DrawnPoint], load: f64) -> Option<f64> {
        let near = points
            .iter()
            .filter(|p| (p.load - load).abs() <= 0.05 * self.max)
            .min_by(|a, b| (a.load - load).abs().total_cmp(&(b.load - load).abs()))?;
        Some(near.error)
    }
}

/// A record in the drift line.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct DriftPoint {
    /// The day.
    pub day: String,
    /// Days since the first record.
    pub at: f64,
    /// Error as found at the load.
    #[schema(required)]
    pub found: Option<f64>,
    /// Error as left at the load.
    #[schema(required)]
    pub left: Option<f64>,
}

/// The drift of a scale.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Drift {
    /// The load, in `unit`.
    pub load: f64,
    /// Unit.
    pub unit: String,
    /// Tolerance at it.
    pub mpe: f64,
    /// The part of it at which the scale is called due.
    pub near: f64,
    /// The records, oldest first.
    pub points: Vec<DriftPoint>,
    /// When the line meets 80 % of the tolerance.
    #[schema(required)]
    pub meets: Option<String>,
    /// The earliest and latest day of its 90 % band.
    #[schema(required)]
    pub between: Option<[Option<String>; 2]>,
    /// In a sentence.
    pub says: Text,
}

/// Drift at the largest load that the records share; none where there are no records with readings.
pub fn drift(records: &[(Date, Drawn)]) -> Option<Drift> {
    let (_, newest) = records.last()?;
    let (first, _) = records.first()?;
    let alike =
        |drawn: &Drawn| drawn.unit == newest.unit && (drawn.max - newest.max).abs() < 1e-9 * newest.max;
    let of = |drawn: &Drawn| drawn.found.iter().chain(&drawn.left).map(|p| p.load).fold(0.0, f64::max);
    let load = of(newest);
    let mpe = newest.mpe(load)?;
    #[expect(clippy::cast_precision_loss, reason = "days of a life")]
    let days = |day: &Date| (*day - *first).whole_days() as f64;
    let points: Vec<DriftPoint> = records
        .iter()
        .filter(|(_, drawn)| alike(drawn))
        .map(|(day, drawn)| DriftPoint {
            day: day.to_string(),
            at: days(day),
            found: drawn.error_at(&drawn.found, load),
            left: drawn.error_at(&drawn.left, load).or_else(|| drawn.error_at(&drawn.found, load)),
        })
        .collect();
    // Over adjustments: what each interval changed, found minus left before, summed up and set so that it
    // ends at what was left last.
    let end = points.last()?.left?;
    let mut sum = 0.0;
    let mut line = vec![(points[0].at, sum)];
    for pair in points.windows(2) {
        if let (Some(left), Some(found)) = (pair[0].left, pair[1].found.or(pair[1].left)) {
            sum += found - left;
            line.push((pair[1].at, sum));
        }
    }
    line.iter_mut().for_each(|point| point.1 += end - sum);
    let result = trend(&line, mpe).ok();
    let date = |at: f64| {
        #[expect(clippy::cast_possible_truncation, reason = "days of a life")]
        let days = at.round() as i64;
        first
            .checked_add(Duration::days(days))
            .filter(|_| (0..=36_500).contains(&days))
            .map(|d| d.to_string())
    };
    let meets = result.as_ref().and_then(|t| date(t.meets?));
    let says = match &result {
        None => text!("history-a-line-needs-three-records"),
        Some(t) => {
            let when = meets.as_ref().map_or_else(
                || text!("history-it-does-not-meet-80"),
                |d| text!("history-80-of-the-tolerance-about", d),
            );
            text!(
                "history-slope-unit-a-year-at",
                slope = crate::wording::signed(t.slope * 365.25, 3),
                unit = newest.unit,
                load,
                when
            )
        }
    };
    let between = result.as_ref().map(|t| [t.earliest.and_then(date), t.latest.and_then(date)]);
    Some(Drift { load, unit: newest.unit.clone(), mpe, near: NEAR * mpe, points, meets, between, says })
}

/// Shares of the tolerance as found, as decimals for the rule of the interval.
pub fn shares(records: &[Drawn]) -> Vec<Decimal> {
    records.iter().filter_map(|d| Decimal::from_measured(d.found_share()?, 6)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use time::macros::date;

    fn drawn(found: f64, left: f64) -> Drawn {
        let point = |error| DrawnPoint { load: 600.0, error };
        Drawn {
            unit: "kg".into(),
            max: 600.0,
            steps: vec![DrawnStep { to: 100.0, mpe_to: 0.1 }, DrawnStep { to: 600.0, mpe_to: 0.5 }],
            found: vec![point(found)],
            left: vec![point(left)],
        }
    }

    #[test]
    fn changes_between_records_add_up_over_adjustments() {
        // A tenth of a kilogram more each year, adjusted back each time.
        let records = [
            (date!(2023 - 01 - 01), drawn(0.1, 0.0)),
            (date!(2024 - 01 - 01), drawn(0.1, 0.0)),
            (date!(2025 - 01 - 01), drawn(0.1, 0.0)),
        ];
        let result = drift(&records).unwrap();
        assert!(result.says.to_string().starts_with("+0.100 kg a year"), "{}", result.says);
        // The slope is 0.2 kg in 731 days; 0.4 kg from nothing on the last day takes 1462: two days past four years.
        assert_eq!(result.meets.as_deref(), Some("2029-01-02"));
        assert!((drawn(0.4, 0.0).found_share().unwrap() - 0.8).abs() < 1e-9);
    }

    #[test]
    fn two_records_make_no_line_and_another_set_up_is_left_aside() {
        let two = [(date!(2023 - 01 - 01), drawn(0.1, 0.0)), (date!(2024 - 01 - 01), drawn(0.2, 0.0))];
        assert_eq!(drift(&two).unwrap().says, "A line needs three records.");
        let mut other = drawn(9.0, 9.0);
        other.max = 1200.0;
        let mixed = [(date!(2022 - 01 - 01), other), two[0].clone(), two[1].clone()];
        assert_eq!(drift(&mixed).unwrap().points.len(), 2);
        assert!(drift(&[]).is_none());
    }
}
