//! The positions of the eccentricity test, by what sort of scale it is. Sources: OIML R 76-1:2006, 3.6.2
//! and A.4.7; NIST Handbook 44 §2.20, N.1.3.
//!
//! A position keeps its number for ever, since readings on record name it: the middle is 0, the supports
//! or quarters of a platform count from 1, those of a round pan, a section on the way on and a section on
//! the way back have ranges of their own.

use super::state::JobState;
use super::values::Purpose;
use crate::scale::ScaleKind;
use crate::weights::Platform;
use crate::wording::Text;

/// A position on the platform.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Position {
    /// Its number; 0: the middle.
    pub number: u8,
    /// In words.
    pub place: Text,
    /// From the left edge, 0 to 1.
    pub x: f64,
    /// From the rear edge, 0 to 1.
    pub y: f64,
}

/// First number of the positions of a round pan.
const PAN: u8 = 20;
/// First number of the sections on the way on, and on the way back.
const ON: u8 = 40;
const BACK: u8 = 60;

impl Position {
    fn new(number: u8, place: Text, x: f64, y: f64) -> Self {
        Self { number, place, x, y }
    }
}

/// The supports that are tested one by one; below three a platform is tested by its quarters.
fn by_support(state: &JobState) -> bool {
    supports(state) >= 3 || state.sheet.kind == ScaleKind::Hopper
}

fn on_supports(supports: u32, kind: ScaleKind) -> Vec<Position> {
    let supports = if kind == ScaleKind::Hopper { supports } else { supports.max(4) };
    let platform = Platform::on(supports, kind == ScaleKind::Hanging);
    (0..)
        .zip(platform.places())
        .map(|(number, (place, x, y))| Position::new(number, place.clone(), x, y))
        .collect()
}

fn round_pan() -> Vec<Position> {
    vec![
        Position::new(0, text!("positions-in-the-middle"), 0.5, 0.5),
        Position::new(PAN, text!("positions-front"), 0.5, 0.75),
        Position::new(PAN + 1, text!("positions-right"), 0.75, 0.5),
        Position::new(PAN + 2, text!("positions-rear"), 0.5, 0.25),
        Position::new(PAN + 3, text!("positions-left"), 0.25, 0.5),
    ]
}

/// Each section on the way on, then on the way back: a deck that binds reads by the direction.
fn sections(supports: u32) -> Vec<Position> {
    let sections = u8::try_from(supports.div_ceil(2)).unwrap_or(u8::MAX).clamp(2, 16);
    let x = |section: u8| (f64::from(section) - 0.5) / f64::from(sections);
    let on =
        (1..=sections).map(|s| Position::new(ON + s, text!("positions-section-s-driving-on", s), x(s), 0.3));
    let back = (1..=sections)
        .rev()
        .map(|s| Position::new(BACK + s, text!("positions-section-s-coming-back", s), x(s), 0.7));
    std::iter::once(Position::new(0, text!("positions-in-the-middle"), 0.5, 0.5))
        .chain(on)
        .chain(back)
        .collect()
}

/// The positions of a pad; the first is its middle. A job that was begun with the positions of an
/// earlier version keeps them.
pub(crate) fn positions(state: &JobState) -> Vec<Position> {
    let now = todays(state);
    let known = |position: u8| now.iter().any(|p| p.number == position);
    let read = state.found.iter().chain(&state.left).filter(|r| r.purpose == Purpose::Eccentricity);
    if read.filter_map(|r| r.position).all(known) { now } else { earlier(state) }
}

fn todays(state: &JobState) -> Vec<Position> {
    let supports = supports(state);
    match state.sheet.kind {
        // Nothing stands on a hook but in its line.
        ScaleKind::Hanging => on_supports(1, ScaleKind::Hanging),
        ScaleKind::Laboratory => round_pan(),
        ScaleKind::Vehicle => sections(supports),
        kind => on_supports(supports, kind),
    }
}

/// The positions before round pans and sections in both directions were told apart.
fn earlier(state: &JobState) -> Vec<Position> {
    on_supports(supports(state), state.sheet.kind)
}

/// The position of a number, of today's or of an earlier version.
pub(crate) fn position(state: &JobState, number: u8) -> Option<Position> {
    let of = |list: Vec<Position>| list.into_iter().find(|p| p.number == number);
    of(todays(state)).or_else(|| of(earlier(state)))
}

/// Where the cells are, from the left and from the rear edge; empty where one cell carries all, or where
/// nothing is known of them.
pub(crate) fn cells(state: &JobState) -> Vec<(f64, f64)> {
    if !by_support(state) || state.sheet.kind == ScaleKind::Hanging {
        return Vec::new();
    }
    let places: Vec<(f64, f64)> =
        Platform::on(supports(state), false).places().skip(1).map(|(_, x, y)| (x, y)).collect();
    // Cells at the edges, where places of a quarter are half-way out.
    let quarters = places.len() == 4;
    places
        .into_iter()
        .map(|(x, y)| if quarters { ((x - 0.25) * 2.0, (y - 0.25) * 2.0) } else { (x, y) })
        .collect()
}

/// On how many supports one pad stands: as many as it has cells, else what its kind usually has.
pub(crate) fn supports(state: &JobState) -> u32 {
    let pads = u32::from(state.sheet.pads.max(1));
    match &state.sheet.build.cells {
        Some(cells) => (cells.count / pads).max(1),
        None if matches!(state.sheet.kind, ScaleKind::Floor | ScaleKind::Pads) => 4,
        None if state.sheet.kind == ScaleKind::Vehicle => 6,
        None if state.sheet.kind == ScaleKind::Hopper => 3,
        None => 1,
    }
}
