//! What a job asks of the kit: the loads of its check, and how good a span weight would be.

use serde::Serialize;
use utoipa::ToSchema;

use crate::adjust::{Adequacy, AdequacyInputs, Prediction, SpanWeightRule};
use crate::journal::{JobState, Phase, Setup, outline, setup_for, supports};
use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::scale::ScaleKind;
use crate::tolerance::class_bounds;
use crate::weights::{CheckInputs, CheckLoad, Piece, Platform, Thoroughness, check_loads};
use crate::wording::Text;
use crate::working::Working;

/// What a plan for a scale rests on, worked out once.
#[derive(Clone, Debug)]
pub struct Wants {
    /// The set-up.
    pub setup: Setup,
    /// Smallest load, where the class gives one.
    pub min_load: Option<Mass>,
    /// Ends of the tolerance steps inside the range.
    pub steps: Vec<Mass>,
    /// The span weight.
    pub span: Option<Mass>,
    /// How many loads.
    pub thoroughness: Thoroughness,
}

impl Wants {
    /// Of a job, at the pad that is worked at; `span` where one is thought of that is not keyed in yet.
    pub fn of(state: &JobState, span: Option<Mass>) -> Self {
        Self::at(state, Phase::AsLeft, state.pad_in_hand(), span)
    }

    /// At one pad, in one phase.
    pub fn at(state: &JobState, phase: Phase, pad: u8, span: Option<Mass>) -> Self {
        let setup = setup_for(state, phase, pad);
        let (tolerance, _) = &state.tolerance;
        let min_load = tolerance
            .class
            .and_then(|class| class_bounds(tolerance.scheme.book(), class, setup.finest()).ok()?.min_load);
        let by_class = tolerance.class.is_some();
        let steps = if by_class {
            outline(tolerance, &setup).into_iter().map(|s| s.to).filter(|to| *to < setup.max).collect()
        } else {
            Vec::new()
        };
        let at = state.pad(pad);
        let keyed =
            || at.span_weight.clone().or_else(|| at.adjusted.as_ref().and_then(|a| a.proved_by().cloned()));
        let thoroughness = if phase == Phase::AsLeft { Thoroughness::Test } else { Thoroughness::AsFound };
        Self { setup, min_load, steps, span: span.or_else(keyed), thoroughness }
    }

    /// The inputs of a plan.
    pub fn inputs<'a>(&'a self, state: &'a JobState) -> CheckInputs<'a> {
        CheckInputs {
            max: &self.setup.max,
            d: &self.setup.d,
            tolerance: &state.tolerance.0,
            min_load: self.min_load.as_ref(),
            steps: &self.steps,
            fine: self.setup.fine.as_ref(),
            span: self.span.as_ref(),
            working_load: state.sheet.working_load.as_ref(),
            platform: Platform::on(supports(state), state.sheet.kind == ScaleKind::Hanging),
            thoroughness: self.thoroughness,
        }
    }

    /// The loads.
    pub fn loads(&self, state: &JobState) -> Vec<CheckLoad> {
        check_loads(&self.inputs(state))
    }
}

/// A point of the curve of adequacy.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, ToSchema)]
pub struct SpanPoint {
    /// Span weight, in the display's unit.
    pub weight: f64,
    /// Expanded uncertainty at Max against the tolerance there.
    pub ratio: f64,
}

/// The least weight by a rule.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct SpanFloor {
    /// Which rule.
    pub span_weight_rule: SpanWeightRule,
    /// In words.
    pub label: Text,
    /// The least weight; none: not known.
    #[schema(required)]
    pub floor: Option<Mass>,
    /// The weight is below it.
    pub below: bool,
}

/// How good a span weight would be.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct SpanView {
    /// The weight.
    pub weight: Mass,
    /// How good.
    pub grade: Adequacy,
    /// In a sentence.
    pub says: Text,
    /// U at Max against the tolerance there.
    pub ratio: f64,
    /// The curve over the weight.
    pub curve: Vec<SpanPoint>,
    /// The least weights by each rule; the workshop's first.
    pub floors: Vec<SpanFloor>,
    /// What one more of the largest usable piece would buy.
    #[schema(required)]
    pub one_more: Option<Text>,
    /// What a piece too much or forgotten would do to every reading.
    #[schema(required)]
    pub if_wrong: Option<Text>,
    /// How it comes about.
    pub working: Working,
}

/// Judges a span weight for a job: by class M1 where its pieces are not known.
///
/// # Errors
/// A [`Refusal`] at the weight.
pub fn judge_span(
    state: &JobState,
    weight: &Mass,
    u_share: f64,
    span_weight_rule: SpanWeightRule,
    one_more: Option<&Piece>,
) -> Result<SpanView, Refusal> {
    let (setup, _) = state.setup_in_force();
    let unit = setup.d.unit;
    let mpe_max = state.tolerance.0.at(&setup.max, Some(&setup.d), Some(&setup.max))?;
    let predict = |weight: &Mass| {
        let u =
            Decimal::from_measured(weight.value_in(unit).to_f64() * u_share, 9).unwrap_or_else(Decimal::zero);
        Prediction::new(&AdequacyInputs {
            max: &setup.max,
            d: &setup.d,
            weight,
            u_weight: &Mass::new(u, unit),
            mpe_max: &mpe_max,
            internal_d: None,
            noise: None,
        })
    };
    let told = predict(weight).map_err(|r| r.at("weight"))?;
    let curve = (1..=40u32).filter_map(|i| {
        let at = setup.max.times(&Decimal::new(i64::from(i) * 25, 3)).to(unit);
        predict(&at).ok().map(|p| SpanPoint { weight: at.value.to_f64(), ratio: p.ratio() })
    });
    let says = match told.grade() {
        Adequacy::Sound => text!("span-weight-sound-the-error-that-it"),
        Adequacy::Thin => {
            text!("span-weight-thin-the-error-that-it")
        }
        Adequacy::Blind => text!("span-weight-blind-the-error-that-it"),
    };
    let mut rules = SpanWeightRule::ALL.to_vec();
    rules.sort_by_key(|s| *s != span_weight_rule);
    let floors = rules.into_iter().map(|s| {
        let floor = s.floor(&setup.max, state.sheet.working_load.as_ref());
        SpanFloor {
            span_weight_rule: s,
            label: s.label(),
            below: floor.as_ref().is_some_and(|f| weight < f),
            floor,
        }
    });
    let more = one_more.map(|p| (p, weight.plus(&p.nominal))).filter(|(_, sum)| *sum <= setup.max).and_then(
        |(p, sum)| {
            let better = predict(&sum).ok()?;
            Some(text!(
                "span-weight-nominal-more-serial-ratio-of",
                nominal = p.nominal,
                serial = p.serial,
                ratio = crate::wording::fixed(better.ratio() * 100.0, 0),
                ratio2 = crate::wording::fixed(told.ratio() * 100.0, 0)
            ))
        },
    );
    // Only a piece that could have stood there too.
    let beside = one_more.filter(|p| weight.plus(&p.nominal) <= setup.max);
    let if_wrong = beside.and_then(|p| {
        let too_much = weight.ratio(&weight.plus(&p.nominal))?.to_f64();
        let at_max = (too_much - 1.0) * setup.max.ratio(&setup.d)?.to_f64();
        Some(text!(
            "span-weight-with-nominal-more-on-it",
            nominal = p.nominal,
            serial = p.serial,
            x = crate::wording::fixed((1.0 - too_much) * 100.0, 2),
            abs = crate::wording::fixed(at_max.abs(), 0)
        ))
    });
    Ok(SpanView {
        if_wrong,
        weight: weight.clone(),
        grade: told.grade(),
        says,
        ratio: told.ratio(),
        curve: curve.collect(),
        floors: floors.collect(),
        one_more: more,
        working: told.working(unit),
    })
}

/// Relative standard uncertainty of weights of class M1 in the range of kilograms: mpe/√3, 5·10⁻⁵.
/// Source: OIML R 111-1:2004, table 1.
pub const M1_SHARE: f64 = 2.887e-5;

/// Mass of everything usable, in kg, for a first look at what a kit can do.
pub fn usable_mass(kit: &[Piece], day: time::Date) -> Mass {
    let usable = kit.iter().filter(|p| matches!(p.usable(day), crate::weights::Usable::Yes { .. }));
    Mass::new(usable.fold(Decimal::zero(), |sum, p| &sum + &p.nominal.kg()), Unit::Kg)
}
