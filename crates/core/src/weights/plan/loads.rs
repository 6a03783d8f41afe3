//! A plan of real pieces for the loads of a check. Sources: OIML R 76-1:2006, A.4.4.1; NIST Handbook
//! 44 §2.20, N.1.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;
use uuid::Uuid;

use super::loading::{
    LoadingPlan, MOST_CELLS, PlanInputs, Target, loading_plan_within, to_borrow, unreachable,
};
use super::placement::{Placement, Standing};
use super::planned_piece::PlanPiece;
use super::substitution::{Substitution, SubstitutionInputs, substitution};
use super::targets::{CheckInputs, CheckLoad, LoadReason, in_pounds, rounded};
use crate::quantity::{Decimal, Mass, Unit};
use crate::weights::kit::{Piece, ShareOfPiece, TWO_PEOPLE_KG, Usable, WeightClass, enough, nominals};
use crate::wording::Text;

/// One load, with what to put on and take off.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct PlannedStep {
    /// What it is for.
    pub reason: LoadReason,
    /// The same in words.
    pub why: Text,
    /// The load that was wanted.
    pub wanted: Mass,
    /// What the pieces come to, in the scale's unit.
    pub load: Mass,
    /// On the platform.
    pub on: Vec<PlanPiece>,
    /// To put on, the largest first.
    pub put: Vec<PlanPiece>,
    /// To take off, the smallest first.
    pub take: Vec<PlanPiece>,
    /// Errors of the weights against the tolerance here: at most a third is enough.
    #[schema(required)]
    pub ratio: Option<f64>,
    /// Where each stands.
    pub placements: Vec<Placement>,
    /// Cautions for this step.
    pub cautions: Vec<Text>,
}

/// What a load lacks.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct LoadLack {
    /// The load.
    pub load: Mass,
    /// Why it is wanted.
    pub why: Text,
    /// What to borrow, in the fewest pieces.
    pub borrow: Vec<Mass>,
}

/// The plan of a check.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct CheckPlan {
    /// The steps.
    pub steps: Vec<PlannedStep>,
    /// Loads that this kit cannot build.
    pub lacks: Vec<LoadLack>,
    /// Mass moved, in the scale's unit.
    pub work: Mass,
    /// Mass that the plan of least work would move, where round loads cost more; none: they do not.
    #[schema(required)]
    pub least_work: Option<Mass>,
    /// Pieces put on or taken off.
    pub moves: usize,
    /// Distinct pieces.
    pub pieces: usize,
    /// Every choice of pieces was looked at.
    pub proven: bool,
    /// By so much the work may at most be above the least.
    pub gap: Mass,
    /// Pieces that are left aside, and why.
    pub aside: Vec<AsidePiece>,
    /// Pieces that may be used and are not.
    pub idle: Vec<PlanPiece>,
    /// How far material in place of weights reaches, where the kit is too small.
    #[schema(required)]
    pub substitution: Option<Substitution>,
}

/// A piece that is not offered.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct AsidePiece {
    /// Serial or mark.
    pub serial: String,
    /// Nominal.
    pub nominal: Mass,
    /// Why.
    pub why: Text,
}

/// Choices of the technician.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(default)]
pub struct PlanChoices {
    /// Pieces that are not to be used.
    pub barred: Vec<Uuid>,
    /// Pieces that are to be used before others of their mass.
    pub preferred: Vec<Uuid>,
    /// Pieces that take each other's place, two by two.
    pub swaps: Vec<[Uuid; 2]>,
    /// Loads that are to be made of just these pieces.
    pub locked: Vec<LockedStep>,
    /// The loads of the plan with the least mass moved, however odd, in place of round ones.
    pub least_work: bool,
}

/// A load whose pieces are settled.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct LockedStep {
    /// The load that was wanted.
    pub wanted: Mass,
    /// Its pieces.
    pub pieces: Vec<Uuid>,
}

/// Plans a check with the pieces that may be used on `day`: the loads in order, each with the pieces that make it,
/// so that the least mass is moved. Source: practice; OIML R 76-1:2006, A.4.4.1; NIST Handbook 44 §2.20, N.1.
///
/// # Examples
/// ```
/// use ombret_core::import::{Grid, Mapping, read_pieces};
/// use ombret_core::quantity::{Unit, parse_mass};
/// use ombret_core::tolerance::{Class, Scheme, Tolerance};
/// use ombret_core::weights::{CheckInputs, PlanChoices, Platform, Thoroughness, check_loads, plan_check};
/// use time::macros::date;
/// use uuid::Uuid;
///
/// let today = date!(2026 - 10 - 01);
/// let rows: String = (1..=8).map(|n| format!("A-{n},20 kg,M1,C-77,2026-01-10,2027-01-10\n")).collect();
/// let table = format!("serial,nominal,class,certificate,date,due\n{rows}");
/// let mut ids = (1..).map(Uuid::from_u128);
/// let mut next = || ids.next().unwrap();
/// let grid = Grid::of_text(&table).unwrap();
/// let kit = read_pieces(&grid, &Mapping::default(), Unit::Kg, today, &|_| false, &mut next).items;
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "load").unwrap();
/// let (max, d, steps) = (kg("150"), kg("0.05"), [kg("25"), kg("100")]);
/// let inputs = CheckInputs {
///     max: &max,
///     d: &d,
///     tolerance: &Tolerance::by_class(Scheme::R76InService, Class::III),
///     min_load: None,
///     steps: &steps,
///     span: None,
///     working_load: None,
///     platform: Platform::on(4, false),
///     fine: None,
///     thoroughness: Thoroughness::Test,
/// };
/// let plan = plan_check(&kit, today, &PlanChoices::default(), &check_loads(&inputs), &inputs);
/// // Of 20 kg pieces alone 100 kg are five; 25 kg cannot be built, and the plan says so.
/// assert!(plan.steps.iter().any(|step| step.load == kg("100") && step.on.len() == 5));
/// assert!(plan.lacks.iter().any(|lack| lack.load == kg("25")));
/// ```
pub fn plan_check(
    kit: &[Piece],
    day: Date,
    choices: &PlanChoices,
    loads: &[CheckLoad],
    inputs: &CheckInputs,
) -> CheckPlan {
    plan_check_within(kit, day, choices, loads, inputs, MOST_CELLS)
}

/// How many of the loads the pieces that may be used on `day` reach; nothing is planned.
pub(crate) fn reached(kit: &[&Piece], day: Date, loads: &[CheckLoad], inputs: &CheckInputs) -> usize {
    let pieces: Vec<&Piece> =
        kit.iter().copied().filter(|p| matches!(p.usable(day), Usable::Yes { .. })).collect();
    let missing = |kit: &Kit| {
        let used = kit.of(&pieces, loads, inputs.max.unit);
        unreachable(&plan_inputs(&used, loads, &[], inputs, &[])).len()
    };
    let mut least = loads.len();
    for kit in &KITS {
        least = least.min(missing(kit));
        if least == 0 {
            break;
        }
    }
    loads.len() - least
}

/// The same, looking at no more than so many choices of pieces.
pub(crate) fn plan_check_within(
    kit: &[Piece],
    day: Date,
    choices: &PlanChoices,
    loads: &[CheckLoad],
    inputs: &CheckInputs,
    cells: usize,
) -> CheckPlan {
    let mut aside = Vec::new();
    let mut pieces: Vec<&Piece> = Vec::new();
    for piece in kit {
        let why = match piece.usable(day) {
            Usable::No { why } => Some(why),
            Usable::Yes { .. } => {
                choices.barred.contains(&piece.id).then(|| text!("loads-left-aside-by-choice"))
            }
        };
        match why {
            Some(why) => {
                aside.push(AsidePiece { serial: piece.serial.clone(), nominal: piece.nominal.clone(), why })
            }
            None => pieces.push(piece),
        }
    }
    let locked = |piece: &Piece| choices.locked.iter().any(|l| l.pieces.contains(&piece.id));
    pieces.sort_by_key(|p| (!locked(p), !choices.preferred.contains(&p.id)));
    for [a, b] in &choices.swaps {
        let place = |id: &Uuid| pieces.iter().position(|p| p.id == *id);
        if let (Some(a), Some(b)) = (place(a), place(b)) {
            pieces.swap(a, b);
        }
    }
    let unit = inputs.max.unit;
    let mut best: Option<(PlanTry, Vec<&Piece>)> = None;
    for kit in KITS {
        let used = kit.of(&pieces, loads, unit);
        let tried = try_kit(&used, loads, inputs, &choices.locked, cells);
        let good = tried.is_perfect();
        if best.as_ref().is_none_or(|(b, _)| tried.rank() < b.rank()) {
            best = Some((tried, used));
        }
        if good {
            break;
        }
    }
    let Some((least, used)) = best else { return CheckPlan::nothing(unit, aside) };
    // Round loads first, then the least work over them; where they cannot be planned, as before.
    let wanted_loads = loads;
    let masses: Vec<Mass> = used.iter().map(|p| p.nominal.clone()).collect();
    let round_loads = rounded(&masses, loads, inputs);
    let tried = (!choices.least_work)
        .then(|| try_kit(&used, &round_loads, inputs, &choices.locked, cells))
        .filter(|round| (round.unreachable.len(), round.missed) <= (least.unreachable.len(), least.missed));
    let least_work =
        tried.as_ref().filter(|t| t.plan.work > least.plan.work).map(|_| least.plan.work.clone());
    let tried = tried.unwrap_or(least);
    let loads = wanted_loads;
    let lacks = tried.unreachable.iter().map(|index| lack(*index, loads, inputs, &used)).collect();
    let wanted = loads.iter().enumerate().filter(|(i, _)| !tried.unreachable.contains(i)).map(|(_, l)| l);
    let mut told = BTreeSet::new();
    let mut steps: Vec<PlannedStep> = tried
        .plan
        .loads
        .iter()
        .zip(wanted)
        .map(|(step, load)| named(step, load, &used, inputs, &mut told))
        .collect();
    let mut standing = Standing::on(&inputs.platform);
    for step in &mut steps {
        step.placements = standing.step(&step.take, &step.put);
    }
    let plan = tried.plan;
    let short = tried
        .unreachable
        .iter()
        .any(|i| loads[*i].load > steps.last().map_or_else(|| Mass::zero(unit), |s| s.load.clone()));
    let substitution = if short { substituted(&steps, &used, inputs) } else { None };
    let on: BTreeSet<Uuid> = steps.iter().flat_map(|s| &s.on).map(|p| p.id).collect();
    let idle = pieces.iter().filter(|p| !on.contains(&p.id)).map(|p| PlanPiece::of(p, unit)).collect();
    CheckPlan {
        least_work,
        substitution,
        idle,
        steps,
        lacks,
        work: plan.work,
        moves: plan.moves,
        pieces: plan.pieces,
        proven: plan.proven,
        gap: plan.gap,
        aside,
    }
}

/// Which pieces a plan is tried with. Weights in the scale's own unit give plain loads, and pieces
/// far below the smallest load only multiply the choices; both are left out first and taken in
/// where they are needed.
#[derive(Clone, Copy)]
enum Kit {
    OwnUnitAndSize,
    OwnUnit,
    Everything,
}

const KITS: [Kit; 3] = [Kit::OwnUnitAndSize, Kit::OwnUnit, Kit::Everything];

impl Kit {
    fn of<'a>(self, pieces: &[&'a Piece], loads: &[CheckLoad], unit: Unit) -> Vec<&'a Piece> {
        let least = loads.first().map(|l| l.load.times(&Decimal::new(5, 2)));
        let fits = |p: &&&Piece| match self {
            Self::OwnUnitAndSize => {
                in_pounds(p.nominal.unit) == in_pounds(unit)
                    && least.as_ref().is_none_or(|least| p.nominal >= *least)
            }
            Self::OwnUnit => in_pounds(p.nominal.unit) == in_pounds(unit),
            Self::Everything => true,
        };
        pieces.iter().filter(fits).copied().collect()
    }
}

struct PlanTry {
    plan: LoadingPlan,
    unreachable: Vec<usize>,
    missed: usize,
}

impl PlanTry {
    /// Every load built, every exact one met, nothing moved that need not be.
    fn is_perfect(&self) -> bool {
        self.unreachable.is_empty() && self.missed == 0 && self.plan.gap.value.is_zero()
    }

    fn rank(&self) -> (usize, usize, Mass, usize) {
        (self.unreachable.len(), self.missed, self.plan.work.clone(), self.plan.moves)
    }
}

fn plan_inputs(
    pieces: &[&Piece],
    loads: &[CheckLoad],
    skip: &[usize],
    inputs: &CheckInputs,
    locked: &[LockedStep],
) -> PlanInputs {
    // A lock holds while all its pieces may be used and come to no more than Max.
    let fixed = |load: &CheckLoad| {
        let lock = locked.iter().find(|l| l.wanted == load.load)?;
        let places: Vec<usize> =
            lock.pieces.iter().map(|id| pieces.iter().position(|p| p.id == *id)).collect::<Option<_>>()?;
        let sum = places.iter().fold(Mass::zero(inputs.max.unit), |sum, p| sum.plus(&pieces[*p].nominal));
        (sum <= *inputs.max).then_some(places)
    };
    let kept = loads.iter().enumerate().filter(|(i, _)| !skip.contains(i)).map(|(_, l)| l);
    PlanInputs {
        unit: inputs.max.unit,
        max: inputs.max.clone(),
        targets: kept
            .map(|l| Target {
                load: l.round.clone().unwrap_or_else(|| l.load.clone()),
                exact: l.exact || l.round.is_some(),
                not_above: l.not_above,
                fixed: fixed(l),
            })
            .collect(),
        pieces: pieces.iter().map(|p| p.nominal.clone()).collect(),
    }
}

fn try_kit(
    pieces: &[&Piece],
    loads: &[CheckLoad],
    inputs: &CheckInputs,
    locked: &[LockedStep],
    cells: usize,
) -> PlanTry {
    let missed = |plan: &LoadingPlan| plan.exact_met.iter().filter(|met| **met == Some(false)).count();
    let unreachable = match loading_plan_within(&plan_inputs(pieces, loads, &[], inputs, locked), cells) {
        Ok(plan) => return PlanTry { missed: missed(&plan), plan, unreachable: Vec::new() },
        Err(error) => error.unreachable,
    };
    match loading_plan_within(&plan_inputs(pieces, loads, &unreachable, inputs, locked), cells) {
        Ok(plan) => PlanTry { missed: missed(&plan), plan, unreachable },
        Err(_) => PlanTry { plan: LoadingPlan::nothing(inputs.max.unit), unreachable, missed: 0 },
    }
}

/// The largest load that the kit builds, used again and again.
fn substituted(steps: &[PlannedStep], pieces: &[&Piece], inputs: &CheckInputs) -> Option<Substitution> {
    let most = steps.iter().max_by(|a, b| a.load.cmp(&b.load))?;
    let mut u_mg = 0.0;
    for on in &most.on {
        u_mg += pieces.iter().find(|p| p.id == on.id)?.standard_uncertainty_mg().ok()?;
    }
    let u_weights = u_mg / Mass::new(Decimal::from(1u32), most.load.unit).value_in(Unit::Mg).to_f64();
    substitution(&SubstitutionInputs {
        weights: &most.load,
        u_weights,
        max: inputs.max,
        d: inputs.d,
        tolerance: inputs.tolerance,
        repeatability_e: None,
    })
}

fn lack(index: usize, loads: &[CheckLoad], inputs: &CheckInputs, pieces: &[&Piece]) -> LoadLack {
    let standard: Vec<Mass> = nominals(WeightClass::M1, in_pounds(inputs.max.unit)).cloned().collect();
    let borrow =
        to_borrow(&plan_inputs(pieces, loads, &[], inputs, &[]), index, &standard).unwrap_or_default();
    LoadLack { load: loads[index].load.clone(), why: loads[index].reason.label(), borrow }
}

impl CheckPlan {
    fn nothing(unit: Unit, aside: Vec<AsidePiece>) -> Self {
        let nothing = Mass::zero(unit);
        Self {
            steps: Vec::new(),
            lacks: Vec::new(),
            work: nothing.clone(),
            least_work: None,
            moves: 0,
            pieces: 0,
            proven: false,
            gap: nothing,
            aside,
            idle: Vec::new(),
            substitution: None,
        }
    }
}

fn named(
    step: &super::loading::PlannedLoad,
    load: &CheckLoad,
    pieces: &[&Piece],
    inputs: &CheckInputs,
    told: &mut BTreeSet<&'static str>,
) -> PlannedStep {
    let name = |indices: &[usize]| -> Vec<PlanPiece> {
        indices.iter().map(|i| PlanPiece::of(pieces[*i], inputs.max.unit)).collect()
    };
    let shares: Vec<ShareOfPiece> = step
        .on
        .iter()
        .map(|i| pieces[*i])
        .map(|p| ShareOfPiece {
            nominal: p.nominal.clone(),
            class: p.class,
            own: p.own.as_ref().map(|own| own.mpe.clone()),
            certificate_error: p.certificate().and_then(|c| c.error.clone()),
            u: p.certificate().and_then(|c| c.u.clone()),
        })
        .collect();
    let mpe = inputs.tolerance.at(&load.load, Some(inputs.d), Some(inputs.max)).ok();
    let judged = mpe.and_then(|mpe| enough(&shares, false, &mpe).ok());
    let mut cautions = Vec::new();
    if let Some(judged) = judged.as_ref().filter(|j| !j.enough) {
        cautions.push(text!("loads-the-errors-of-these-weights", round_to = judged.ratio.round_to(2)));
    }
    let heavy = Mass::new(Decimal::from(TWO_PEOPLE_KG), Unit::Kg);
    // Each caution stands where it applies first, not on every step.
    if step.put.iter().chain(&step.take).any(|i| pieces[*i].nominal > heavy) && told.insert("heavy") {
        cautions.push(text!("loads-above-heavy-a-piece-is", heavy));
    }
    if step.on.len() > 4 && told.insert("stack") {
        cautions.push(text!("loads-stack-the-large-ones-below"));
    }
    PlannedStep {
        reason: load.reason,
        why: load.reason.label(),
        wanted: load.load.clone(),
        load: step.load.clone(),
        on: name(&step.on),
        put: name(&step.put),
        take: name(&step.take),
        ratio: judged.map(|j| j.ratio.to_f64()),
        placements: Vec::new(),
        cautions,
    }
}
