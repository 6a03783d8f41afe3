//! Where each piece stands: spread over the supports, so that no cell is loaded beyond its share and
//! nothing has to be moved twice. A piece that is on keeps its place. Source: OIML R 76-1:2006,
//! A.4.4 and A.4.7 (loads evenly distributed except in the test of eccentricity).

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::planned_piece::PlanPiece;
use crate::wording::Text;

/// Where a piece stands.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Placement {
    /// The piece.
    pub piece: Uuid,
    /// From the left edge, as a share of the width.
    pub x: f64,
    /// From the rear edge, as a share of the depth.
    pub y: f64,
    /// In words.
    pub place: Text,
}

/// A place on the platform.
#[derive(Clone, Debug, PartialEq)]
struct Place {
    x: f64,
    y: f64,
    place: Text,
}

/// Places of a platform on so many supports; the first is its middle.
#[derive(Clone, Debug, PartialEq)]
pub struct Platform {
    places: Vec<Place>,
}

impl Platform {
    /// `hangs`: the load hangs from a hook.
    pub fn on(supports: u32, hangs: bool) -> Self {
        let place_at = |x: f64, y: f64, place: Text| Place { x, y, place };
        let mut places = vec![place_at(
            0.5,
            0.5,
            if hangs { text!("placement-on-the-hook") } else { text!("placement-in-the-middle") },
        )];
        match supports {
            _ if hangs => {}
            0..=2 => {}
            3 => places.extend([
                place_at(0.25, 0.75, text!("placement-front-left")),
                place_at(0.75, 0.75, text!("placement-front-right")),
                place_at(0.5, 0.2, text!("placement-rear")),
            ]),
            4 => places.extend([
                place_at(0.25, 0.75, text!("placement-front-left")),
                place_at(0.75, 0.25, text!("placement-rear-right")),
                place_at(0.75, 0.75, text!("placement-front-right")),
                place_at(0.25, 0.25, text!("placement-rear-left")),
            ]),
            more => {
                let sections = more.div_ceil(2);
                for section in 0..sections {
                    let x = (f64::from(section) + 0.5) / f64::from(sections);
                    places.push(place_at(
                        x,
                        0.25,
                        text!("placement-section-section-far-side", section = section + 1),
                    ));
                    places.push(place_at(
                        x,
                        0.75,
                        text!("placement-section-section-near-side", section = section + 1),
                    ));
                }
            }
        }
        Self { places }
    }
}

impl Platform {
    /// Its places, each with x from the left and y from the rear edge; the first is the middle.
    pub fn places(&self) -> impl Iterator<Item = (&Text, f64, f64)> {
        self.places.iter().map(|s| (&s.place, s.x, s.y))
    }
}

/// The platform as it fills and empties.
#[derive(Debug)]
pub struct Standing<'p> {
    platform: &'p Platform,
    at: BTreeMap<Uuid, (usize, f64)>,
}

impl<'p> Standing<'p> {
    /// An empty platform.
    pub const fn on(platform: &'p Platform) -> Self {
        Self { platform, at: BTreeMap::new() }
    }

    /// Takes pieces off and puts others on, the heaviest first, each where there is least; a piece
    /// alone stands in the middle.
    pub fn step(&mut self, take: &[PlanPiece], put: &[PlanPiece]) -> Vec<Placement> {
        for piece in take {
            self.at.remove(&piece.id);
        }
        let mut put: Vec<&PlanPiece> = put.iter().collect();
        put.sort_by(|a, b| b.drawn.total_cmp(&a.drawn));
        let alone = self.at.is_empty() && put.len() == 1;
        for piece in put {
            let place_at = if alone || self.platform.places.len() == 1 { 0 } else { self.least() };
            self.at.insert(piece.id, (place_at, piece.drawn));
        }
        let placement = |(piece, (place_at, _)): (&Uuid, &(usize, f64))| {
            let Place { x, y, place } = &self.platform.places[*place_at];
            Placement { piece: *piece, x: *x, y: *y, place: place.clone() }
        };
        self.at.iter().map(placement).collect()
    }

    fn least(&self) -> usize {
        let load = |place_at: usize| {
            self.at.values().filter(|(at, _)| *at == place_at).map(|(_, mass)| mass).sum::<f64>()
        };
        (1..self.platform.places.len()).min_by(|a, b| load(*a).total_cmp(&load(*b))).unwrap_or(0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::{Decimal, Mass, Unit};
    use proptest::prelude::*;

    fn piece(n: u128, kg: u32) -> PlanPiece {
        PlanPiece {
            id: Uuid::from_u128(n),
            serial: n.to_string(),
            nominal: Mass::new(Decimal::from(kg), Unit::Kg),
            place: String::new(),
            form: String::new(),
            drawn: f64::from(kg),
        }
    }

    proptest! {
        #[test]
        fn the_supports_are_loaded_alike_to_within_one_piece(masses in proptest::collection::vec(1u32..50, 2..30), supports in 3u32..9) {
            let platform = Platform::on(supports, false);
            let pieces: Vec<PlanPiece> = masses.iter().zip(1..).map(|(m, n)| piece(n, *m)).collect();
            let placements = Standing::on(&platform).step(&[], &pieces);
            prop_assert_eq!(placements.len(), pieces.len());
            let mut loads: BTreeMap<String, f64> = platform.places[1..].iter().map(|s| (s.place.to_string(), 0.0)).collect();
            for placement in &placements {
                *loads.get_mut(&placement.place.to_string()).unwrap() += pieces.iter().find(|p| p.id == placement.piece).unwrap().drawn;
            }
            let heaviest = f64::from(*masses.iter().max().unwrap());
            let (low, high) = (loads.values().copied().fold(f64::MAX, f64::min), loads.values().copied().fold(0.0, f64::max));
            prop_assert!(high - low <= heaviest, "{loads:?}");
        }

        #[test]
        fn a_piece_that_stays_on_is_not_moved(first in proptest::collection::vec(1u32..50, 1..9), second in proptest::collection::vec(1u32..50, 1..9), off in 0usize..4) {
            let platform = Platform::on(4, false);
            let mut standing = Standing::on(&platform);
            let first: Vec<PlanPiece> = first.iter().zip(1..).map(|(m, n)| piece(n, *m)).collect();
            let second: Vec<PlanPiece> = second.iter().zip(100..).map(|(m, n)| piece(n, *m)).collect();
            let before = standing.step(&[], &first);
            let taken = &first[..off.min(first.len())];
            let after = standing.step(taken, &second);
            for placement in before.iter().filter(|s| taken.iter().all(|t| t.id != s.piece)) {
                prop_assert!(after.contains(placement));
            }
            prop_assert!(taken.iter().all(|t| after.iter().all(|s| s.piece != t.id)));
        }
    }

    #[test]
    fn one_piece_stands_in_the_middle_and_everything_hangs_on_the_hook() {
        let one = [piece(1, 20)];
        assert_eq!(
            Standing::on(&Platform::on(4, false)).step(&[], &one)[0].place.to_string(),
            "in the middle"
        );
        let two = [piece(1, 20), piece(2, 20)];
        assert!(
            Standing::on(&Platform::on(1, true)).step(&[], &two).iter().all(|s| s.place == "on the hook")
        );
    }
}
