//! Readings judged: error, tolerance and verdict for each, the verdict for all, and the loads
//! that are worth putting on.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::loaded::weight_cautions;
use super::tests::{eccentricity, series};
use crate::grade::Grade;
use crate::journal::{
    Direction, JobState, Phase, Purpose, Reading, Setup, TOGETHER, UsedPiece, readings_of, setup_for,
};
use crate::measurement::{
    Budget, BudgetInputs, BudgetPiece, Decision, DecisionRule, ErrorInputs, Verdict, budget, decide,
    error_of_indication,
};
use crate::quantity::{Decimal, Mass, Unit};
use crate::tolerance::Tolerance;
use crate::weights::{WeightClass, judge_substitution, tolerance_of_sum, weight_tolerance};
use crate::wording::Text;
use crate::working::Working;

/// A reading with its error and verdict.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct ReadingView {
    /// The entry it stands in.
    pub entry: Uuid,
    /// What was put on.
    pub load: Mass,
    /// The load in words, in the display's unit too where it was typed in another.
    pub load_text: String,
    /// What was shown, with the display's decimals.
    pub shown_text: String,
    /// Up or down.
    pub direction: Direction,
    /// Which pad it stood on.
    pub pad: u8,
    /// Taken from the connected indicator.
    pub live: bool,
    /// E = I − L, in the display's unit.
    pub error: Mass,
    /// The error with its sign.
    pub error_text: String,
    /// The error in divisions, two decimals.
    pub error_d: String,
    /// ± tolerance at this load.
    pub mpe_text: String,
    /// The same, in divisions.
    pub mpe_d: f64,
    /// |E| ≤ MPE.
    pub within: bool,
    /// |E| as a share of the tolerance there, as it is judged; 0 where it is not.
    pub share: f64,
    /// Why it cannot be judged; it is then neither within nor outside, and proves nothing.
    #[schema(required)]
    pub not_judged: Option<Text>,
    /// Read as found, but after something was repaired.
    pub after_repair: bool,
    /// False where what it was meant to prove has been changed since.
    pub counts: bool,
    /// What is odd about it.
    pub cautions: Vec<Text>,
    /// The pieces it was made of.
    pub pieces: Vec<String>,
    /// What it is for.
    pub purpose: Purpose,
    /// Where it stood; 0: the middle.
    #[schema(required)]
    pub position: Option<u8>,
    /// Corrected for the error at zero, where that is known before rounding.
    #[schema(required)]
    pub corrected_text: Option<String>,
    /// Its uncertainty.
    #[schema(required)]
    pub budget: Option<BudgetView>,
    /// What the decision rule says.
    #[schema(required)]
    pub verdict: Option<Verdict>,
    /// Probability that the true error is outside, in per cent, in words.
    #[schema(required)]
    pub outside_text: Option<Text>,
    /// How it came about.
    pub working: Vec<Working>,
}

/// One term of an uncertainty budget.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct BudgetLine {
    /// Its name.
    pub name: Text,
    /// Standard uncertainty, in divisions.
    pub u_d: f64,
    /// Its share of the variance, 0 to 1.
    pub share: f64,
}

/// The uncertainty of an error of indication. Source: EURAMET cg-18, 7; JCGM 100:2008.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct BudgetView {
    /// The terms, in the order of the sum.
    pub lines: Vec<BudgetLine>,
    /// Coverage factor.
    pub k: f64,
    /// U, in divisions, for the drawing.
    pub expanded_d: f64,
    /// U with its unit, two digits, rounded up.
    pub expanded_text: String,
    /// What the figures rest on that was not measured here.
    pub notes: Vec<Text>,
    /// What would help most.
    pub helps: Text,
}

/// Judges every reading of a phase; of those as found each with its own epoch's.
pub fn judged(state: &JobState, phase: Phase) -> Vec<ReadingView> {
    if phase == Phase::AsLeft {
        let context = Context::of(state, phase);
        return state.left.iter().map(|r| judge(r, &setup_for(state, phase, r.pad), &context)).collect();
    }
    let first = Context::of(state, Phase::AsFound);
    let now = (!state.one_epoch()).then(|| Context::of(state, Phase::FoundNow));
    let view = |r: &Reading| {
        let later = r.epoch > state.first_epoch_of(r.pad);
        let context = now.as_ref().filter(|_| later && r.epoch == state.epoch_of(r.pad)).unwrap_or(&first);
        ReadingView { after_repair: later, ..judge(r, &setup_for(state, Phase::AsFound, r.pad), context) }
    };
    state.found.iter().map(view).collect()
}

/// What the readings of a phase share: repeats, corners, the error at zero, the decision rule.
struct Context {
    rule: DecisionRule,
    tolerance: Tolerance,
    /// All pads together, then each.
    pads: Vec<AtPad>,
    loads: Vec<(Uuid, Mass, Direction, u8)>,
}

/// What the readings at one pad share.
struct AtPad {
    adjusted: bool,
    series: Vec<Vec<Mass>>,
    eccentricity: Option<(Mass, Mass)>,
    zero_error: Option<Mass>,
}

impl AtPad {
    fn of(state: &JobState, phase: Phase, pad: u8) -> Self {
        let at_zero = |r: &&Reading| {
            r.counts && r.pad == pad && r.is_load() && r.load.value.is_zero() && r.direction == Direction::Up
        };
        let zero_error = |r: &Reading| {
            let setup = setup_for(state, phase, pad);
            let inputs = ErrorInputs {
                unit: setup.d.unit,
                shown: r.shown.clone(),
                load: r.load.clone(),
                d: Some(setup.d_at(&r.load, r.direction).clone()),
                added: Some(r.added.clone()?),
                zero_error: None,
                mpe: None,
            };
            Some(error_of_indication(&inputs).ok()?.error)
        };
        let adjusted = if pad == TOGETHER {
            state.settled() && state.any_adjusted()
        } else {
            state.pad(pad).adjusted.is_some()
        };
        Self {
            adjusted: phase == Phase::AsLeft && adjusted,
            series: series(state, phase, pad),
            eccentricity: eccentricity(state, phase, pad),
            zero_error: readings_of(state, phase)
                .into_iter()
                .filter(at_zero)
                .filter_map(zero_error)
                .next_back(),
        }
    }
}

impl ReadingView {
    /// Judged, and outside.
    pub const fn outside(&self) -> bool {
        !self.within && self.not_judged.is_none()
    }
}

impl Context {
    fn of(state: &JobState, phase: Phase) -> Self {
        Self {
            rule: state.decision.0,
            tolerance: state.tolerance.0.clone(),
            pads: (TOGETHER..=state.sheet.pads).map(|pad| AtPad::of(state, phase, pad)).collect(),
            loads: readings_of(state, phase)
                .into_iter()
                .filter(|r| r.is_load() && r.counts)
                .map(|r| (r.entry, r.load.clone(), r.direction, r.pad))
                .collect(),
        }
    }

    fn at(&self, reading: &Reading) -> &AtPad {
        // OK because there is one for all pads together, and a reading names a pad that there is.
        self.pads.get(usize::from(reading.pad)).unwrap_or(&self.pads[0])
    }

    /// The same load was read before on the same way: both are kept.
    fn twice(&self, reading: &Reading) -> Option<Text> {
        let same = |(entry, load, direction, pad): &&(uuid::Uuid, Mass, Direction, u8)| {
            *entry != reading.entry
                && *load == reading.load
                && *direction == reading.direction
                && *pad == reading.pad
        };
        let before = self.loads.iter().take_while(|(entry, ..)| *entry != reading.entry).any(|l| same(&l));
        (reading.is_load() && before).then(|| text!("readings-load-was-read-before-on", load = reading.load))
    }
}

/// A reading with its error and verdict. One that cannot be judged is never dropped: it stands there as
/// not judged, with the reason, and proves nothing.
fn judge(reading: &Reading, setup: &Setup, context: &Context) -> ReadingView {
    let unit = setup.d.unit;
    let d = setup.d_at(&reading.load.abs(), reading.direction);
    match context.tolerance.at(&reading.load.to(unit), Some(d), Some(&setup.max)) {
        Ok(mpe) => judge_by(reading, setup, context, &mpe.to(unit))
            .unwrap_or_else(|| not_judged(reading, setup, text!("readings-its-error-cannot-be-worked"))),
        Err(why) => not_judged(reading, setup, (&why).into()),
    }
}

fn not_judged(reading: &Reading, setup: &Setup, why: Text) -> ReadingView {
    let unit = setup.d.unit;
    let shown = reading.shown.to(unit);
    let d = setup.d_at(&reading.load.abs(), reading.direction);
    let error = shown.minus(&reading.load).to(unit);
    ReadingView {
        entry: reading.entry,
        load_text: load_text(&reading.load, setup),
        load: reading.load.clone(),
        shown_text: format!("{} {unit}", shown.value.fixed(setup.decimals.max(places_of(&shown.value)))),
        direction: reading.direction,
        pad: reading.pad,
        live: reading.taken.is_live(),
        error_text: error.signed(setup.decimals),
        error_d: error.ratio(d).map_or_else(String::new, |in_d| signed_divisions(&in_d)),
        error,
        mpe_text: "–".into(),
        mpe_d: 0.0,
        within: false,
        share: 0.0,
        cautions: vec![text!("readings-not-judged-why", why)],
        not_judged: Some(why),
        after_repair: false,
        counts: reading.counts,
        pieces: reading.with.iter().map(|p| p.serial.clone()).collect(),
        purpose: reading.purpose,
        position: reading.position,
        corrected_text: None,
        budget: None,
        verdict: None,
        outside_text: None,
        working: Vec::new(),
    }
}

fn judge_by(reading: &Reading, setup: &Setup, context: &Context, mpe: &Mass) -> Option<ReadingView> {
    let tolerance = &context.tolerance;
    let unit = setup.d.unit;
    let d = setup.d_at(&reading.load.abs(), reading.direction);
    let measured = error_of_indication(&ErrorInputs {
        unit,
        shown: reading.shown.clone(),
        load: reading.load.clone(),
        d: reading.added.as_ref().map(|_| d.clone()),
        added: reading.added.clone(),
        zero_error: reading.added.as_ref().and_then(|_| context.at(reading).zero_error.clone()),
        mpe: Some(mpe.clone()),
    })
    .ok()?;
    // Judged on the corrected error where the error at zero is known before rounding.
    let judged = measured.corrected.clone().unwrap_or_else(|| measured.error.clone());
    let in_d = judged.ratio(d)?;
    let shown = reading.shown.to(unit);
    // An error against a load in another unit has more places than the display.
    let places = if measured.error.ratio(d).is_some_and(|r| r.is_whole()) {
        setup.decimals
    } else {
        setup.decimals + 2
    };
    let error_text = measured.error.signed(places);
    let mpe_text = format!("±{mpe}");
    let (budget, notes) = uncertainty(reading, setup, d, context);
    let decision = decision(context.rule, &judged, &budget, mpe);
    let within = match (context.rule, &decision) {
        (DecisionRule::Simple, _) | (_, None) => measured.within.unwrap_or(false),
        (_, Some(decision)) => matches!(decision.verdict, Verdict::Pass | Verdict::PassInsideGuard),
    };
    let corrected_text = measured.corrected.as_ref().map(|c| c.signed(setup.decimals + 2));
    let mut working = workings(reading, d, tolerance, &shown, &error_text, mpe, within);
    if let Some(corrected) = &corrected_text {
        working[0] = working[0].clone().with("E_c", text!("readings-e-e-0-the-error"), corrected);
    }
    working.extend(decision.as_ref().map(|decision| budget_working(&budget, decision, context.rule, setup)));
    Some(ReadingView {
        entry: reading.entry,
        load_text: load_text(&reading.load, setup),
        load: reading.load.clone(),
        shown_text: format!("{} {unit}", shown.value.fixed(setup.decimals.max(places_of(&shown.value)))),
        direction: reading.direction,
        pad: reading.pad,
        live: reading.taken.is_live(),
        purpose: reading.purpose,
        position: reading.position,
        corrected_text,
        verdict: decision.as_ref().map(|d| d.verdict),
        outside_text: decision.as_ref().map(|d| percent_text(d.probability_outside)),
        budget: Some(budget_view(&budget, d, setup, notes)),
        mpe_d: mpe.ratio(d).map_or(0.0, |r| r.to_f64()),
        error_d: signed_divisions(&in_d),
        error: measured.error,
        error_text,
        mpe_text,
        within,
        share: judged.abs().ratio(mpe).map_or(f64::MAX, |share| share.to_f64()),
        not_judged: None,
        after_repair: false,
        counts: reading.counts,
        cautions: cautions(&shown, d)
            .into_iter()
            .chain(other_unit(reading, setup))
            .chain(context.twice(reading))
            .chain(substituted(reading, setup, context))
            .chain(weight_cautions(reading, mpe))
            .collect(),
        pieces: reading.with.iter().map(|p| p.serial.clone()).collect(),
        working,
    })
}

/// The class that is assumed where the pieces are not named.
const UNNAMED: WeightClass = WeightClass::M1;

/// The budget of a reading, and what it rests on that was not measured.
fn uncertainty(reading: &Reading, setup: &Setup, d: &Mass, context: &Context) -> (Budget, Vec<Text>) {
    let mut notes = Vec::new();
    let at = context.at(reading);
    let rounds = u32::from(reading.substituted.unwrap_or(0));
    let pieces: Vec<BudgetPiece> = if reading.with.is_empty() {
        // What was put on at a time, where it was put on again and again.
        let load = reading.load.abs();
        let weights = load
            .value
            .quotient(&Decimal::from(rounds + 1))
            .map_or_else(|| load.clone(), |value| Mass::new(value, load.unit));
        if weights.value.is_positive() {
            notes.push(text!("readings-the-weights-are-not-named", symbol = UNNAMED.symbol()));
        }
        vec![BudgetPiece { mpe: tolerance_of_sum(&weights, UNNAMED), nominal: weights, u: None, k: None }]
    } else {
        reading.with.iter().map(budget_piece).collect()
    };
    if at.series.iter().all(|s| s.len() < 2) {
        notes.push(text!("readings-no-load-was-put-on"));
    }
    if at.eccentricity.is_none() {
        notes.push(text!("readings-corners-were-not-read-nothing"));
    }
    if rounds > 0 {
        notes.push(text!("readings-reached-by-rounds-substitution-s", rounds, rounds2 = rounds + 1));
    }
    let (ecc_difference, ecc_load) = at.eccentricity.clone().unzip();
    let budget = budget(&BudgetInputs {
        unit: setup.d.unit,
        shown: reading.shown.clone(),
        load: reading.load.clone(),
        d_zero: setup.finest().clone(),
        d_load: d.clone(),
        step: reading.added.as_ref().map(|_| setup.small_step(d)),
        pieces,
        adjusted_before: at.adjusted,
        repeats: at.series.clone(),
        ecc_difference,
        ecc_load,
        k_drift: None,
        u_convection: None,
        substitutions: rounds,
    });
    (budget, notes)
}

fn budget_piece(piece: &UsedPiece) -> BudgetPiece {
    let by_class = || weight_tolerance(&piece.nominal, piece.class?).ok().map(|(mpe, _)| mpe);
    // An object that was weighed has the tolerance of the scale that weighed it as its own.
    let mpe = piece
        .mpe
        .clone()
        .or_else(by_class)
        .or_else(|| piece.u.clone())
        .unwrap_or_else(|| tolerance_of_sum(&piece.nominal, UNNAMED));
    BudgetPiece {
        nominal: piece.nominal.clone(),
        mpe,
        u: piece.u.clone(),
        k: piece.k.clone().or_else(|| piece.u.as_ref().map(|_| Decimal::from(2u32))),
    }
}

fn decision(rule: DecisionRule, error: &Mass, budget: &Budget, mpe: &Mass) -> Option<Decision> {
    let expanded = Mass::new(Decimal::from_measured(budget.expanded, 12)?, error.unit);
    decide(rule, error, &expanded, &Decimal::from_measured(budget.k, 9)?, mpe).ok()
}

fn percent_text(probability: f64) -> Text {
    match probability * 100.0 {
        p if p < 0.01 => text!("readings-below-0-01"),
        p if p > 99.99 => text!("readings-above-99-99"),
        p if p < 1.0 => text!("readings-percent", p = crate::wording::fixed(p, 2)),
        p => text!("readings-percent", p = crate::wording::fixed(p, 1)),
    }
}

fn budget_view(budget: &Budget, d: &Mass, setup: &Setup, notes: Vec<Text>) -> BudgetView {
    let d = d.value_in(setup.d.unit).to_f64();
    let variance = budget.u.powi(2).max(f64::MIN_POSITIVE);
    let lines: Vec<BudgetLine> = budget
        .terms
        .named()
        .iter()
        .map(|(name, u)| BudgetLine { name: name.clone(), u_d: u / d, share: u.powi(2) / variance })
        .collect();
    let t = &budget.terms;
    let parts = [
        (libm::hypot(t.digit_zero, t.digit_load), text!("readings-finer-reading-helps-most-points")),
        (t.repeatability, text!("readings-more-repeats-help-most-or")),
        (t.eccentricity, text!("readings-trimmed-corners-help-most-or")),
        (
            libm::hypot(libm::hypot(t.weights, t.buoyancy), t.drift),
            text!("readings-better-weights-help-most-certificates"),
        ),
    ];
    let helps =
        parts.into_iter().max_by(|a, b| a.0.total_cmp(&b.0)).map_or_else(Text::default, |(_, says)| says);
    BudgetView {
        lines,
        k: budget.k,
        expanded_d: budget.expanded / d,
        expanded_text: format!("{} {}", budget.expanded_text, setup.d.unit),
        notes,
        helps,
    }
}

fn budget_working(budget: &Budget, decision: &Decision, rule: DecisionRule, setup: &Setup) -> Working {
    let unit = setup.d.unit;
    let freedom = budget.degrees_of_freedom.map_or_else(|| "∞".to_owned(), |f| format!("{:.0}", f.floor()));
    let verdict = match decision.verdict {
        Verdict::Pass => text!("readings-pass"),
        Verdict::PassInsideGuard => text!("readings-pass-inside-the-guard"),
        Verdict::FailInsideGuard => text!("readings-fail-inside-the-guard"),
        Verdict::Fail => text!("readings-fail"),
    };
    let mut working = Working::new(
        text!("readings-uncertainty-and-verdict"),
        "u² = Σ u_i²;  U = k·u",
        text!(
            "readings-u-verdict-outside",
            u = budget.expanded_text,
            unit,
            verdict,
            outside = percent_text(decision.probability_outside)
        ),
        "EURAMET cg-18 v4, 7; JCGM 100:2008; JCGM 106:2012",
    );
    for (name, u) in budget.terms.named() {
        working = working.with("u", name, format!("{u:.3e} {unit}"));
    }
    working
        .with("ν_eff", text!("readings-effective-degrees-of-freedom"), freedom)
        .with("k", text!("readings-for-95-45"), format!("{:.2}", budget.k))
        .with("rule", text!("readings-decision-rule"), rule.label())
}

fn places_of(value: &Decimal) -> u32 {
    u32::try_from(-value.exponent()).unwrap_or(0)
}

fn signed_divisions(in_d: &Decimal) -> String {
    let text = if in_d.is_whole() { in_d.to_string() } else { in_d.fixed(2) };
    if in_d.is_positive() { format!("+{text} d") } else { format!("{text} d") }
}

fn load_text(load: &Mass, setup: &Setup) -> String {
    if load.unit == setup.d.unit {
        load.to_string()
    } else {
        format!("{load} = {}", Mass::new(load.value_in(setup.d.unit).round_to(6), setup.d.unit))
    }
}

fn workings(
    reading: &Reading,
    d: &Mass,
    tolerance: &Tolerance,
    shown: &Mass,
    error: &str,
    mpe: &Mass,
    within: bool,
) -> Vec<Working> {
    let in_e = reading.load.abs().ratio(d).unwrap_or_else(Decimal::zero);
    let formula = if reading.added.is_some() { "P = I + d/2 − ΔL;  E = P − L" } else { "E = I − L" };
    let mut of_error = Working::new(
        text!("readings-error-of-indication"),
        formula,
        error.to_owned(),
        "OIML R 76-1:2006, A.4.4.3",
    )
    .with("I", text!("word-indication"), shown)
    .with("L", text!("word-load"), &reading.load);
    if let Some(added) = &reading.added {
        of_error = of_error.with("ΔL", text!("readings-small-weights-until-the-display"), added);
    }
    if let crate::journal::Taken::Live { hold_s, restarts, samples, mean } = &reading.taken {
        of_error = of_error.with(
            "T",
            text!("readings-taken-steady-held-samples-restarts"),
            format!("{hold_s} s, {samples}, {restarts}"),
        );
        if let Some(mean) = mean {
            of_error = of_error.with("x̄", text!("readings-mean-of-the-raw-signal"), mean);
        }
    }
    let of_mpe = Working::new(
        text!("head-tolerance"),
        text!("readings-mpe-from-the-step-in"),
        format!("±{mpe}"),
        tolerance.source(),
    )
    .with("scheme", text!("readings-chosen-for-this-scale"), tolerance.label())
    .with("e", text!("readings-verification-interval-equal-to-d"), d)
    .with(
        "L / e",
        text!("readings-load-in-e"),
        if in_e.is_whole() { in_e.to_string() } else { in_e.fixed(2) },
    )
    .with(
        "verdict",
        text!("readings-e-against-mpe"),
        if within { text!("word-within") } else { text!("word-outside") },
    );
    vec![of_error, of_mpe]
}

fn cautions(shown: &Mass, d: &Mass) -> Vec<Text> {
    let steps = shown.ratio(d).unwrap_or_else(Decimal::zero);
    if steps.is_whole() {
        return Vec::new();
    }
    vec![text!("readings-shown-is-no-multiple-of", shown, d)]
}

/// What the scheme says of a load that was reached by substitution.
fn substituted(reading: &Reading, setup: &Setup, context: &Context) -> Option<Text> {
    let rounds = u32::from(reading.substituted?);
    let weights = if reading.with.is_empty() {
        Mass::new(reading.load.value.quotient(&Decimal::from(rounds + 1))?, reading.load.unit)
    } else {
        reading.with.iter().fold(Mass::zero(reading.load.unit), |sum, p| sum.plus(&p.nominal))
    };
    let d = setup.d_at(&reading.load, reading.direction);
    let repeatability_e = context
        .at(reading)
        .series
        .iter()
        .filter(|s| s.len() > 2)
        .filter_map(|s| Some(s.iter().max()?.minus(s.iter().min()?).ratio(d)?.to_f64()))
        .reduce(f64::max);
    let (grade, says) =
        judge_substitution(&weights, rounds, &setup.max, &context.tolerance, repeatability_e)?;
    (grade != Grade::Sound).then(|| text!("readings-reached-by-substitution-says", says))
}

/// The reading is to the load as two units are: asked, not assumed.
fn other_unit(reading: &Reading, setup: &Setup) -> Option<Text> {
    let (load, shown) = (
        reading.load.abs().value_in(setup.d.unit).to_f64(),
        reading.shown.abs().value_in(setup.d.unit).to_f64(),
    );
    let few = 20.0 * setup.d.value.to_f64();
    if load < few || shown < few {
        return None;
    }
    let unit = setup.d.unit;
    let near = |other: Unit| {
        let ratio = Mass::new(Decimal::from(1u32), other).value_in(unit).to_f64();
        [(ratio, true), (1.0 / ratio, false)]
            .into_iter()
            .find(|(ratio, _)| (shown / load / ratio - 1.0).abs() < 0.01)
            .map(|(_, typed)| (other, typed))
    };
    let (other, load_typed) = [Unit::Lb, Unit::Kg, Unit::G, Unit::Oz, Unit::T]
        .into_iter()
        .filter(|other| *other != unit)
        .find_map(near)?;
    Some(if load_typed {
        text!("readings-shown-is-to-load-as", shown = reading.shown, load = reading.load, other, unit)
    } else {
        text!("readings-shown-is-to-load-as-2", shown = reading.shown, load = reading.load, unit, other)
    })
}
