//! Corner trim: the gain of each cell from readings of one load at several places, and what each is
//! set to so that all read alike. Source: least squares; practice of junction boxes and digital
//! cells.

use serde::Deserialize;

use crate::refusal::Refusal;

/// How cells are trimmed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum TrimMeans {
    /// Resistors in a junction box: only down, to the lowest.
    JunctionBox,
    /// A factor in each digital cell.
    Digital,
}

/// A load at one place.
#[derive(Clone, Debug, PartialEq)]
pub struct TrimPosition {
    /// Part of the load on each cell.
    pub shares: Vec<f64>,
    /// Reading less the reading at zero.
    pub net: f64,
}

/// What comes of the readings.
#[derive(Clone, Debug, PartialEq)]
pub struct Trim {
    /// Gain of each cell: 1 is right.
    pub gains: Vec<f64>,
    /// What each cell is multiplied by.
    pub factors: Vec<f64>,
    /// Reading − fit, at each place.
    pub residuals: Vec<f64>,
    /// Readings after trimming, at each place.
    pub predicted: Vec<f64>,
}

/// Least squares for the gains; each cell then to the lowest gain, or to `target`.
///
/// # Examples
/// ```
/// use ombret_core::adjust::{TrimPosition, TrimMeans, trim};
///
/// // Two cells, each loaded alone; the second gives one in a hundred less.
/// let at = |first: f64, net: f64| TrimPosition { shares: vec![first, 1.0 - first], net };
/// let told = trim(2, 100.0, &[at(1.0, 100.0), at(0.0, 99.0)], TrimMeans::JunctionBox, None).unwrap();
/// assert!((told.factors[0] - 0.99).abs() < 1e-9 && (told.factors[1] - 1.0).abs() < 1e-9);
/// ```
///
/// # Errors
/// A [`Refusal`] where places are too few, do not tell the cells apart, or a cell is dead or reversed.
pub fn trim(
    cells: usize,
    load: f64,
    positions: &[TrimPosition],
    means: TrimMeans,
    target: Option<f64>,
) -> Result<Trim, Refusal> {
    if cells == 0 || load <= 0.0 {
        return Err(Refusal::from(Refused::NotPositive).at(if cells == 0 { "cells" } else { "load" }));
    }
    if let Some(odd) = positions.iter().position(|p| p.shares.len() != cells) {
        return Err(Refusal::from(Refused::BadInput {
            odd: odd + 1,
            shares: positions[odd].shares.len(),
            cells,
        }));
    }
    if positions.len() < cells {
        let missing = cells - positions.len();
        return Err(Refusal::from(Refused::TooFewPositions { positions: positions.len(), cells, missing })
            .with("missing", missing));
    }
    let column = |cell: usize| positions.iter().map(|p| p.shares[cell] * load).collect::<Vec<f64>>();
    let columns: Vec<Vec<f64>> = (0..cells).map(column).collect();
    let net: Vec<f64> = positions.iter().map(|p| p.net).collect();
    let gains = least_squares(&columns, &net).map_err(|cell| {
        Refusal::from(Refused::PositionsDoNotSeparate { cell: cell + 1 }).with("cell", cell + 1)
    })?;
    if let Some(dead) = gains.iter().position(|g| *g <= 0.0) {
        return Err(Refusal::from(Refused::ReversedOrDead { dead: dead + 1 }).with("cell", dead + 1));
    }
    let lowest = gains.iter().copied().fold(f64::MAX, f64::min);
    let aim = match means {
        TrimMeans::JunctionBox => lowest,
        TrimMeans::Digital => target.unwrap_or(1.0),
    };
    let factors: Vec<f64> = gains.iter().map(|g| aim / g).collect();
    let sum = |at: usize, by: &dyn Fn(usize) -> f64| {
        (0..cells).map(|cell| columns[cell][at] * by(cell)).sum::<f64>()
    };
    let residuals: Vec<f64> =
        net.iter().enumerate().map(|(at, net)| net - sum(at, &|cell| gains[cell])).collect();
    // What the fit does not explain is there after trimming too.
    let predicted =
        (0..positions.len()).map(|at| sum(at, &|cell| gains[cell] * factors[cell]) + residuals[at]).collect();
    Ok(Trim { gains, factors, residuals, predicted })
}

/// Solves by orthogonal columns; the number of the first column that the ones before it span.
fn least_squares(columns: &[Vec<f64>], right: &[f64]) -> Result<Vec<f64>, usize> {
    let dot = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(x, y)| x * y).sum::<f64>();
    let mut basis: Vec<Vec<f64>> = Vec::new();
    let mut upper: Vec<Vec<f64>> = Vec::new();
    for (at, column) in columns.iter().enumerate() {
        let mut rest = column.clone();
        let mut row = Vec::with_capacity(columns.len());
        for unit in &basis {
            let part = dot(unit, &rest);
            rest.iter_mut().zip(unit).for_each(|(r, u)| *r -= part * u);
            row.push(part);
        }
        let (length, own) = (dot(&rest, &rest).sqrt(), dot(column, column).sqrt());
        if length <= 1e-9 * own.max(f64::MIN_POSITIVE) {
            return Err(at);
        }
        rest.iter_mut().for_each(|r| *r /= length);
        row.push(length);
        basis.push(rest);
        upper.push(row);
    }
    let mut rest = right.to_vec();
    let mut along = Vec::with_capacity(basis.len());
    for unit in &basis {
        let part = dot(unit, &rest);
        rest.iter_mut().zip(unit).for_each(|(r, u)| *r -= part * u);
        along.push(part);
    }
    let mut found = vec![0.0; columns.len()];
    for at in (0..columns.len()).rev() {
        let later: f64 = (at + 1..columns.len()).map(|j| upper[j][at] * found[j]).sum();
        found[at] = (along[at] - later) / upper[at][at];
    }
    Ok(found)
}

crate::refusals! {
    enum Refused {
        NotPositive = "not_positive": text!("trim-a-trim-needs-a-cell");
        BadInput { odd: usize, shares: usize, cells: usize } = "bad_input" at "positions":
            text!("trim-position-odd-names-shares-shares", odd, shares, cells);
        TooFewPositions { positions: usize, cells: usize, missing: usize } = "too_few_positions" at "positions":
            text!("trim-positions-readings-for-cells-cells", positions, cells, missing);
        PositionsDoNotSeparate { cell: usize } = "positions_do_not_separate" at "positions":
            text!("trim-these-places-do-not-tell", cell);
        ReversedOrDead { dead: usize } = "reversed_or_dead" at "positions":
            text!("trim-cell-dead-is-dead-or", dead);
    }
}
