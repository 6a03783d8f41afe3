//! A day's round: one set of pieces that serves every scale, as light as dropping what is not
//! needed makes it, with what clashes and what falls due.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use time::Date;
use utoipa::ToSchema;

use super::loads::{CheckPlan, PlanChoices, plan_check_within, reached};
use super::planned_piece::PlanPiece;
use super::targets::{CheckInputs, CheckLoad};
use crate::quantity::{Decimal, Mass, Unit};
use crate::weights::kit::{Piece, Usable};
use crate::wording::{Between, Text};

/// A scale of the round.
#[derive(Clone, Debug)]
pub struct RoundScale<'a> {
    /// Its name.
    pub name: String,
    /// What its plan rests on.
    pub inputs: CheckInputs<'a>,
    /// Its loads.
    pub loads: Vec<CheckLoad>,
}

/// Pieces kept at one place.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct PackingPlace {
    /// The place.
    pub place: String,
    /// The pieces.
    pub pieces: Vec<PlanPiece>,
    /// Their mass in kg.
    pub mass: Mass,
}

/// The packing list of a day.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct PackingList {
    /// By place.
    pub places: Vec<PackingPlace>,
    /// Total mass in kg.
    pub mass: Mass,
    /// Pieces.
    pub pieces: usize,
    /// By so much the mass may at most be above the least that serves them all, in kg; zero: no set
    /// is lighter.
    pub gap: Mass,
    /// What each scale lacks.
    pub lacks: Vec<Text>,
    /// Certificates to carry, by number.
    pub certificates: Vec<String>,
    /// Pieces of the list that fall due soon.
    pub due: Vec<Text>,
    /// Pieces that somebody else has.
    pub clashes: Vec<Text>,
}

/// Choices that are looked at for a scale of the round: which pieces serve it matters here, not in which
/// order they are lifted.
const CELLS: usize = 400_000;

/// The plan of a scale by which it is packed for.
pub fn plan_for_round(scale: &RoundScale, kit: &[Piece], day: Date) -> CheckPlan {
    let choices = PlanChoices { least_work: true, ..PlanChoices::default() };
    plan_check_within(kit, day, &choices, &scale.loads, &scale.inputs, CELLS)
}

/// Packs for a day. From the pieces of every scale's own plan those are dropped, the heaviest
/// first, without which every scale still has all the loads it had; what is left cannot be made
/// smaller by dropping a piece. `plan` gives [`plan_for_round`], made now or kept. `None` where `stop` says that nobody waits for it any more.
pub fn pack(
    scales: &[RoundScale],
    kit: &[Piece],
    day: Date,
    by: &str,
    plan: &dyn Fn(&RoundScale) -> CheckPlan,
    stop: &dyn Fn() -> bool,
) -> Option<PackingList> {
    let mut whole: Vec<CheckPlan> = Vec::with_capacity(scales.len());
    for scale in scales {
        if stop() {
            return None;
        }
        whole.push(plan(scale));
    }
    // Scales of one make, set up alike, count once.
    let alike = |s: &RoundScale| format!("{:?}{:?}", s.inputs, s.loads);
    let mut seen = BTreeSet::new();
    let different: Vec<(&RoundScale, Vec<CheckLoad>)> = scales
        .iter()
        .zip(&whole)
        .filter(|(scale, _)| seen.insert(alike(scale)))
        .map(|(scale, full)| {
            // What the whole kit does not reach is not asked of less.
            let reached =
                |l: &&CheckLoad| full.steps.iter().any(|s| s.wanted == l.load && s.reason == l.reason);
            (scale, scale.loads.iter().filter(reached).cloned().collect())
        })
        .collect();
    let mut taken: Vec<&Piece> = kit
        .iter()
        .filter(|p| whole.iter().any(|plan| plan.steps.iter().any(|s| s.on.iter().any(|o| o.id == p.id))))
        .collect();
    taken.sort_by(|a, b| b.nominal.cmp(&a.nominal));
    let serves = |taken: &[&Piece]| {
        different.iter().all(|(scale, loads)| reached(taken, day, loads, &scale.inputs) == loads.len())
    };
    let mut at = 0;
    while at < taken.len() {
        if stop() {
            return None;
        }
        let mut fewer = taken.clone();
        fewer.remove(at);
        if serves(&fewer) { taken = fewer } else { at += 1 }
    }
    Some(list(scales, &whole, &taken, day, by))
}

fn list(scales: &[RoundScale], whole: &[CheckPlan], taken: &[&Piece], day: Date, by: &str) -> PackingList {
    let mut by_place: BTreeMap<String, Vec<&Piece>> = BTreeMap::new();
    for piece in taken {
        by_place.entry(piece.place.clone()).or_default().push(piece);
    }
    let sum = |pieces: &[&Piece]| {
        Mass::new(pieces.iter().fold(Decimal::zero(), |sum, p| &sum + &p.nominal.kg()), Unit::Kg)
    };
    let name = |p: &&Piece| PlanPiece::of(p, Unit::Kg);
    let mut certificates: Vec<String> = taken
        .iter()
        .filter_map(|p| p.certificate())
        .map(|c| format!("{} ({})", c.number, c.laboratory))
        .collect();
    certificates.sort();
    certificates.dedup();
    let mut soon: BTreeMap<i64, Vec<String>> = BTreeMap::new();
    for piece in taken {
        if let Usable::Yes { due_in_days: Some(days) } = piece.usable(day) {
            soon.entry(days).or_default().push(piece.serial.clone());
        }
    }
    let due = soon
        .into_iter()
        .map(|(days, serials)| text!("route-due-in-days-days-serials", days, serials))
        .collect();
    let elsewhere = |p: &&&Piece| !p.holder.trim().is_empty() && !p.holder.eq_ignore_ascii_case(by);
    // Whatever is packed, the largest load of the round must at least be there.
    let largest = whole
        .iter()
        .flat_map(|plan| &plan.steps)
        .map(|step| step.load.kg())
        .max()
        .unwrap_or_else(Decimal::zero);
    let lightest = &largest * &Decimal::new(95, 2);
    let exact = whole
        .iter()
        .flat_map(|plan| &plan.steps)
        .any(|step| step.load.kg() == largest && step.load == step.wanted);
    let mass = sum(taken);
    let gap = Mass::new(&mass.value - if exact { &largest } else { &lightest }, Unit::Kg);
    PackingList {
        gap: if gap.value.is_negative() { Mass::zero(Unit::Kg) } else { gap },
        mass,
        pieces: taken.len(),
        lacks: scales
            .iter()
            .zip(whole)
            .flat_map(|(scale, plan)| plan.lacks.iter().map(move |l| (scale, l)))
            .map(|(scale, l)| {
                let borrow = if l.borrow.is_empty() {
                    Text::default()
                } else {
                    text!("route-borrow-x", x = Text::list(&l.borrow, Between::And))
                };
                text!("route-name-load-why-cannot-be", name = scale.name, load = l.load, why = l.why, borrow)
            })
            .collect(),
        certificates,
        due,
        clashes: taken
            .iter()
            .filter(elsewhere)
            .map(|p| {
                text!(
                    "route-nominal-serial-is-with-holder",
                    nominal = p.nominal,
                    serial = p.serial,
                    holder = p.holder
                )
            })
            .collect(),
        places: by_place
            .into_iter()
            .map(|(place, pieces)| PackingPlace {
                mass: sum(&pieces),
                pieces: pieces.iter().map(name).collect(),
                place,
            })
            .collect(),
    }
}
