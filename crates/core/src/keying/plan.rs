//! What is to be entered, and how a profile wants it: from a plan to the text of each parameter,
//! or why it cannot be entered, with the nearest that can.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::facts::{FieldError, NumberField};
use super::profile::{Meaning, OptionValue, Parameter, Profile};
use crate::quantity::{Decimal, Division, Mass, Unit, divisions};
use crate::refusal::Refusal;
use crate::wording::Text;

/// How the ranges of a scale work.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RangeMode {
    /// One range.
    #[default]
    Single,
    /// The division follows the net load (OIML R 76-1 T.3.2.6).
    MultiInterval,
    /// Several ranges, chosen by hand (T.3.2.7).
    ByHand,
    /// Several ranges that change up by themselves (T.3.2.7, 4.10).
    ByItself,
}

impl RangeMode {
    /// Every mode.
    pub const ALL: [Self; 4] = [Self::Single, Self::MultiInterval, Self::ByHand, Self::ByItself];

    /// Its stable name.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Single => "single",
            Self::MultiInterval => "multi_interval",
            Self::ByHand => "by_hand",
            Self::ByItself => "by_itself",
        }
    }

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Single => text!("keying-plan-single-range"),
            Self::MultiInterval => text!("keying-plan-multi-interval"),
            Self::ByHand => text!("keying-plan-ranges-chosen-by-hand"),
            Self::ByItself => text!("keying-plan-ranges-that-change-up-by"),
        }
    }

    /// From its stable name.
    pub fn of(name: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|mode| mode.name() == name)
    }
}

impl Meaning {
    /// True where a text stands for one of its values, such as `kg`, `0.2` or `single`.
    pub fn takes(self, is: &str) -> bool {
        match self {
            Self::Other => true,
            Self::Unit | Self::StartUnit => is.parse::<Unit>().is_ok(),
            Self::RangeMode => RangeMode::of(is).is_some(),
            _ => is.parse::<Decimal>().is_ok(),
        }
    }
}

/// What is to be done at one pad.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct PadPlan {
    /// The span weights, in rising order; none: it is not calibrated with weights.
    pub weights: Vec<Mass>,
}

/// How the indicator behaves in use; what is none is left as it is.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(default)]
pub struct OperatingSettings {
    /// Range of the zero setting at power-on, per cent of Max. Source: OIML R 76-1:2006, 4.5.1.
    pub automatic_zero: Option<Decimal>,
    /// Zero tracking, divisions a second. Source: OIML R 76-1:2006, 4.5.7.
    pub zero_tracking: Option<Decimal>,
    /// Unit at power-on.
    pub start_unit: Option<Unit>,
    /// Step of the filter.
    pub filter: Option<Decimal>,
}

/// The same as it is typed; empty: left as it is.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(default)]
pub struct OperatingSettingsForm {
    /// Automatic zero, per cent of Max.
    pub automatic_zero: String,
    /// Zero tracking, divisions a second.
    pub zero_tracking: String,
    /// Unit at power-on.
    pub start_unit: Option<Unit>,
    /// Step of the filter.
    pub filter: String,
}

impl OperatingSettingsForm {
    /// What was typed, understood.
    ///
    /// # Errors
    /// Every [`Refusal`], at its field.
    pub fn read(&self) -> Result<OperatingSettings, Refusal> {
        let mut wrong = Vec::new();
        let mut number = |field: &str, text: &str, most: u32| {
            let text = text.trim().replace(',', ".");
            if text.is_empty() {
                return None;
            }
            let most = Decimal::from(most);
            match text.parse::<Decimal>() {
                Ok(value) if !value.is_negative() && value <= most => Some(value),
                _ => {
                    let typed: String = text.chars().take(24).collect();
                    let says = text!("keying-plan-typed-is-no-figure-from", typed, most);
                    wrong.push(Refusal::from(Refused::NotANumber { says }).at(field));
                    None
                }
            }
        };
        let read = OperatingSettings {
            automatic_zero: number("automatic_zero", &self.automatic_zero, 100),
            zero_tracking: number("zero_tracking", &self.zero_tracking, 100),
            start_unit: self.start_unit,
            filter: number("filter", &self.filter, 1000),
        };
        Refusal::all(wrong).map_or(Ok(read), Err)
    }
}

/// What is to be entered.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct KeyingPlan {
    /// The unit shown.
    pub unit: Unit,
    /// Max, in that unit.
    pub max: Decimal,
    /// Division, in that unit; of the coarsest range where there are several.
    pub d: Decimal,
    /// How the ranges work.
    #[serde(default)]
    pub mode: RangeMode,
    /// Upper limit and division of the finer range, in that unit.
    #[serde(default)]
    pub fine: Option<(Decimal, Decimal)>,
    /// g to be entered, m/s²; none: it is left as it is.
    #[serde(default)]
    pub gravity: Option<Decimal>,
    /// A correction factor to be entered instead of weights.
    #[serde(default)]
    pub factor: Option<Decimal>,
    /// How it behaves in use.
    #[serde(default)]
    pub operating: OperatingSettings,
    /// The pads, one as a rule.
    pub pads: Vec<PadPlan>,
}

impl KeyingPlan {
    /// Decimals that the finest division needs.
    pub fn decimals(&self) -> u32 {
        let of = |d: &Decimal| Division::new(d).map_or(0, |division| division.decimals());
        self.fine.iter().map(|(_, d)| of(d)).fold(of(&self.d), u32::max)
    }
}

/// Something that cannot be entered.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct CannotEnter {
    /// What it is about.
    pub what: Meaning,
    /// Why not.
    pub says: Text,
    /// The nearest that can be entered.
    #[schema(required)]
    pub nearest: Option<Text>,
}

/// A parameter with what it is to be set to, for one pad.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Task {
    /// Index of the parameter.
    pub parameter: usize,
    /// The pad, from 1.
    pub pad: u8,
    /// The text to be entered, as the field holds it; empty for a capture.
    pub text: String,
    /// What it stands for, for people.
    pub stands_for: String,
    /// The weight that must be on, for a span.
    pub weight: Option<Mass>,
}

/// Where a value is kept: what it means, for which point and which pad.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Slot {
    /// What it means.
    pub meaning: Meaning,
    /// Span point, from 1.
    pub point: u8,
    /// Pad, from 1.
    pub pad: u8,
}

/// What an indicator holds.
pub type Values = BTreeMap<Slot, String>;

/// What a capture leaves in its slot.
pub const CAPTURED: &str = "captured";

impl Profile {
    /// Where a parameter's value for a pad is kept.
    pub fn slot(&self, parameter: usize, pad: u8) -> Slot {
        let p = &self.parameters[parameter];
        // What Ombret does not know is told apart by where it stands in the profile.
        let point =
            if p.meaning == Meaning::Other { u8::try_from(parameter).unwrap_or(u8::MAX) } else { p.point };
        Slot { meaning: p.meaning, point, pad: if p.per_pad { pad } else { 1 } }
    }

    /// What it holds when it comes out of its box: first options, zeros, nothing captured.
    pub fn untouched(&self) -> Values {
        let mut values = Values::new();
        for (index, p) in self.parameters.iter().enumerate() {
            if p.meaning.is_capture() {
                continue;
            }
            let text = match p.options.first() {
                Some(option) => option.shows.clone(),
                None if p.with_point => "0".into(),
                None => "0".repeat(usize::from(p.digits.unwrap_or(1))),
            };
            for pad in 1..=self.most_pads(p) {
                values.insert(self.slot(index, pad), text.clone());
            }
        }
        values
    }

    /// The parameters in the order in which they are keyed: as they stand, but zero before span and a span's weight
    /// before the span, whatever the list's order. Questions come in their own.
    fn keyed_order(&self) -> Vec<usize> {
        let mut order: Vec<usize> = (0..self.parameters.len()).collect();
        let late = |at: usize| self.parameters[at].meaning.keyed_late().filter(|_| !self.is_asked(at));
        let slots: Vec<usize> = order.iter().copied().filter(|at| late(*at).is_some()).collect();
        let first = |meaning: Meaning, point: u8| {
            let is = |at: &&usize| {
                self.parameters[**at].meaning == meaning && self.parameters[**at].point == point
            };
            slots.iter().find(is).copied()
        };
        let late_weight = |at: &usize| {
            let p = &self.parameters[*at];
            p.meaning == Meaning::Span
                && first(Meaning::SpanWeight, p.point).is_some_and(|weight| weight > *at)
        };
        let span = slots.iter().copied().find(|at| self.parameters[*at].meaning == Meaning::Span);
        let wrong = first(Meaning::Zero, 1).zip(span).is_some_and(|(zero, span)| zero > span)
            || first(Meaning::Pad, 1)
                .is_some_and(|pad| slots.iter().any(|at| *at < pad && self.parameters[*at].per_pad))
            || slots.iter().any(late_weight);
        if wrong {
            let mut sorted = slots.clone();
            // Point by point: its weight, then its span.
            sorted.sort_by_key(|at| {
                let p = &self.parameters[*at];
                let span = p.meaning.has_points();
                (p.meaning == Meaning::Save, span, if span { p.point } else { 0 }, late(*at))
            });
            for (slot, at) in slots.into_iter().zip(sorted) {
                order[slot] = at;
            }
        }
        order
    }

    /// How many pads a parameter is kept for.
    fn most_pads(&self, p: &Parameter) -> u8 {
        if p.per_pad { 8 } else { 1 }
    }

    /// Everything that is to be entered, in order.
    ///
    /// # Errors
    /// Everything that cannot be entered.
    pub fn tasks(&self, plan: &KeyingPlan) -> Result<Vec<Task>, Vec<CannotEnter>> {
        let mut encoder = Encoder { profile: self, plan, tasks: Vec::new(), cannot: Vec::new() };
        encoder.whole_plan();
        let all = |index: usize| &self.parameters[index];
        let indices = self.keyed_order();
        let indices = indices.iter().copied();
        let is_for_pads = |i: &usize| all(*i).per_pad || all(*i).meaning == Meaning::Pad;
        let is_save = |i: &usize| all(*i).meaning == Meaning::Save;
        for index in indices.clone().filter(|i| !is_for_pads(i) && !is_save(i)) {
            encoder.task(index, 1);
        }
        let pads = u8::try_from(plan.pads.len()).unwrap_or(u8::MAX);
        if indices.clone().any(|i| is_for_pads(&i)) {
            for pad in 1..=pads {
                for index in indices.clone().filter(|i| is_for_pads(i)) {
                    encoder.task(index, pad);
                }
            }
        }
        for index in indices.filter(is_save) {
            encoder.task(index, 1);
        }
        if encoder.cannot.is_empty() { Ok(encoder.tasks) } else { Err(encoder.cannot) }
    }
}

struct Encoder<'a> {
    profile: &'a Profile,
    plan: &'a KeyingPlan,
    tasks: Vec<Task>,
    cannot: Vec<CannotEnter>,
}

impl Encoder<'_> {
    fn refuse(&mut self, what: Meaning, says: impl Into<Text>, nearest: Option<Text>) {
        self.cannot.push(CannotEnter { what, says: says.into(), nearest });
    }

    /// What the plan asks for and the profile has no parameter for.
    fn whole_plan(&mut self) {
        let (profile, plan) = (self.profile, self.plan);
        let has = |meaning| profile.parameter_of(meaning).is_some();
        if let Some(only) = profile.only_unit.filter(|only| *only != plan.unit) {
            let max = Mass::new(plan.max.clone(), plan.unit).to(only);
            self.refuse(
                Meaning::Unit,
                text!("keying-plan-this-indicator-shows-only-only", only, unit = plan.unit),
                Some(text!("keying-plan-max", max = Mass::new(max.value.round_to(3), only))),
            );
        }
        if plan.mode != RangeMode::Single && !has(Meaning::RangeMode) {
            self.refuse(
                Meaning::RangeMode,
                text!("keying-plan-this-indicator-has-one-range", mode = plan.mode.label()),
                Some(RangeMode::Single.label()),
            );
        }
        if plan.mode != RangeMode::Single && plan.fine.is_none() {
            self.refuse(Meaning::FineMax, text!("keying-plan-the-finer-range-is-not"), None);
        }
        if plan.pads.len() > 1 && !has(Meaning::Pads) {
            self.refuse(
                Meaning::Pads,
                text!("keying-plan-this-indicator-has-one-platform", pads = plan.pads.len()),
                Some("1".into()),
            );
        }
        if plan.pads.is_empty() || plan.pads.len() > 8 {
            self.refuse(Meaning::Pads, text!("keying-plan-a-scale-has-one-to"), None);
        }
        if plan.gravity.is_some() && !has(Meaning::Gravity) {
            self.refuse(Meaning::Gravity, text!("keying-plan-this-indicator-takes-no-gravity"), None);
        }
        let operating = &plan.operating;
        for (asked, meaning) in [
            (operating.automatic_zero.is_some(), Meaning::AutomaticZero),
            (operating.zero_tracking.is_some(), Meaning::ZeroTracking),
            (operating.start_unit.is_some(), Meaning::StartUnit),
            (operating.filter.is_some(), Meaning::Filter),
        ] {
            if asked && !has(meaning) {
                self.refuse(
                    meaning,
                    text!("keying-plan-this-indicator-has-no-item", meaning = meaning.label()),
                    None,
                );
            }
        }
        if plan.factor.is_some() && !has(Meaning::Factor) {
            self.refuse(Meaning::Factor, text!("keying-plan-this-indicator-takes-no-correction"), None);
        }
        self.weights();
    }

    fn weights(&mut self) {
        let (profile, plan) = (self.profile, self.plan);
        let points = profile.parameters.iter().filter(|p| p.meaning == Meaning::SpanWeight).count();
        let full = Mass::new(plan.max.clone(), plan.unit);
        for pad in &plan.pads {
            if pad.weights.len() > points {
                let says = text!(
                    "keying-plan-this-indicator-takes-points-span",
                    points,
                    weights = pad.weights.len()
                );
                self.refuse(Meaning::Points, says, Some(Text::verbatim(points.to_string())));
            }
            if pad.weights.windows(2).any(|pair| pair[0] >= pair[1]) {
                self.refuse(Meaning::SpanWeight, text!("keying-plan-the-span-weights-must-rise"), None);
            }
            let Some(largest) = pad.weights.last() else { continue };
            if *largest > full {
                self.refuse(
                    Meaning::SpanWeight,
                    text!("keying-plan-largest-is-above-max-full", largest, full),
                    Some(Text::verbatim(full.to_string())),
                );
            }
            if let Some(percent) = &profile.least_span_percent {
                let least = full.times(percent).times(&Decimal::new(1, 2));
                if *largest < least {
                    self.refuse(
                        Meaning::SpanWeight,
                        text!("keying-plan-largest-is-too-little-for", largest, percent),
                        Some(text!("keying-plan-least-or-more", least)),
                    );
                }
            }
        }
    }

    fn task(&mut self, index: usize, pad: u8) {
        let p = &self.profile.parameters[index];
        let plan = self.plan;
        let weights = plan.pads.get(usize::from(pad) - 1).map_or(&[][..], |p| &p.weights);
        let weight = weights.get(usize::from(p.point) - 1);
        let with_weights = !weights.is_empty();
        let wanted = match p.meaning {
            Meaning::Unit => {
                return self.option(index, pad, plan.unit.symbol(), |o| o.is == plan.unit.symbol());
            }
            Meaning::RangeMode => {
                let wanted = plan.mode.label().to_string();
                return self.option(index, pad, &wanted, |o| o.is == plan.mode.name());
            }
            Meaning::StartUnit => {
                let Some(unit) = plan.operating.start_unit else { return };
                return self.option(index, pad, unit.symbol(), |o| o.is == unit.symbol());
            }
            Meaning::Other => return self.answer(index, pad),
            Meaning::Zero | Meaning::Span | Meaning::Save | Meaning::CableTest => {
                let due = match p.meaning {
                    Meaning::Zero => with_weights,
                    Meaning::Span => weight.is_some(),
                    // A test is made while looking over, not while keying in.
                    Meaning::CableTest => false,
                    _ => true,
                };
                let on = weight.filter(|_| p.meaning == Meaning::Span).cloned();
                if due {
                    self.push(index, pad, String::new(), String::new(), on);
                }
                return;
            }
            Meaning::Decimals => Some(Decimal::from(plan.decimals())),
            Meaning::Division => Some(plan.d.clone()),
            Meaning::CountBy => Some(&plan.d * &Decimal::ten_to(i64::from(plan.decimals()))),
            Meaning::Max => Some(plan.max.clone()),
            Meaning::Graduations => {
                divisions(&Mass::new(plan.max.clone(), plan.unit), &Mass::new(plan.d.clone(), plan.unit))
                    .ok()
                    .map(Decimal::from)
            }
            Meaning::FineMax => {
                plan.fine.as_ref().filter(|_| plan.mode != RangeMode::Single).map(|(max, _)| max.clone())
            }
            Meaning::FineDivision => {
                plan.fine.as_ref().filter(|_| plan.mode != RangeMode::Single).map(|(_, d)| d.clone())
            }
            Meaning::Pads => Some(Decimal::from(u64::try_from(plan.pads.len()).unwrap_or(u64::MAX))),
            Meaning::Pad => Some(Decimal::from(u32::from(pad))),
            Meaning::Gravity => plan.gravity.clone(),
            Meaning::Points => {
                with_weights.then(|| Decimal::from(u64::try_from(weights.len()).unwrap_or(u64::MAX)))
            }
            Meaning::SpanWeight => weight.map(|w| w.value_in(self.profile.weights_in.unwrap_or(plan.unit))),
            Meaning::Factor => plan.factor.clone(),
            Meaning::AutomaticZero => plan.operating.automatic_zero.clone(),
            Meaning::ZeroTracking => plan.operating.zero_tracking.clone(),
            Meaning::Filter => plan.operating.filter.clone(),
        };
        let Some(value) = wanted else {
            if p.meaning == Meaning::Graduations {
                self.refuse(p.meaning, text!("keying-plan-max-is-no-whole-number"), None);
            }
            return;
        };
        if p.options.is_empty() {
            self.number(index, pad, &value);
        } else {
            let is_it = |o: &OptionValue| o.is.parse::<Decimal>().is_ok_and(|is| is == value);
            self.option(index, pad, &value.to_string(), is_it);
        }
    }

    /// What the profile says of an item that Ombret does not know; without a word it is stepped over.
    fn answer(&mut self, index: usize, pad: u8) {
        let p = &self.profile.parameters[index];
        let Some(answer) = &p.answer else { return };
        if p.options.is_empty() {
            // OK because a profile with another answer is not taken.
            if let Ok(value) = answer.parse() {
                self.number(index, pad, &value);
            }
        } else {
            self.option(index, pad, answer, |o| o.is == *answer);
        }
    }

    fn push(&mut self, parameter: usize, pad: u8, text: String, stands_for: String, weight: Option<Mass>) {
        self.tasks.push(Task { parameter, pad, text, stands_for, weight });
    }

    fn option(&mut self, index: usize, pad: u8, wanted: &str, is_it: impl Fn(&OptionValue) -> bool) {
        let p = &self.profile.parameters[index];
        if let Some(option) = p.options.iter().find(|o| is_it(o)) {
            let text = if p.typed { padded(&option.shows, p) } else { option.shows.clone() };
            let unit = if matches!(p.meaning, Meaning::Division | Meaning::FineDivision) {
                format!(" {}", self.plan.unit)
            } else {
                String::new()
            };
            return self.push(index, pad, text, format!("{wanted}{unit}"), None);
        }
        let offered: Vec<&str> =
            p.options.iter().filter(|o| !o.is_unknown()).map(|o| o.is.as_str()).collect();
        let says = text!(
            "keying-plan-this-indicator-offers-offered-as",
            offered = offered.join(", "),
            meaning = p.meaning.label(),
            wanted
        );
        let nearest = nearest_option(wanted, &p.options);
        self.refuse(p.meaning, says, nearest.map(Text::verbatim));
    }

    /// A number as its field holds it.
    fn number(&mut self, index: usize, pad: u8, value: &Decimal) {
        let p = &self.profile.parameters[index];
        let unit = self.unit_of(p);
        let said =
            |value: &Decimal| if unit.is_empty() { value.to_string() } else { format!("{value} {unit}") };
        let Some(field) = NumberField::of(p) else { return };
        let takes = |way: Text, limit: &Decimal| {
            text!(
                "keying-plan-this-indicator-takes-meaning-way",
                meaning = p.meaning.label(),
                way,
                said = crate::wording::figure(said(limit)),
                said2 = crate::wording::figure(said(value))
            )
        };
        let (says, nearest) = match field.text(value, self.default_decimals(p)) {
            Ok(text) => return self.push(index, pad, text, said(value), None),
            Err(FieldError::Decimals(decimals, nearest)) => (
                text!(
                    "keying-plan-said-does-not-end-at",
                    said = crate::wording::figure(said(value)),
                    decimals
                ),
                nearest,
            ),
            Err(FieldError::Below(least)) => (takes(text!("keying-plan-from"), &least), least),
            Err(FieldError::Above(most)) => (takes(text!("keying-plan-up-to"), &most), most),
            Err(FieldError::Width(needs, nearest)) => (
                text!(
                    "keying-plan-said-needs-needs-digits-the",
                    said = crate::wording::figure(said(value)),
                    needs,
                    digits = field.digits
                ),
                nearest,
            ),
        };
        let nearest = said(&nearest);
        self.refuse(p.meaning, says, Some(Text::verbatim(nearest)));
    }

    fn unit_of(&self, p: &Parameter) -> String {
        match p.meaning {
            Meaning::Max | Meaning::Division | Meaning::FineMax | Meaning::FineDivision => {
                self.plan.unit.to_string()
            }
            Meaning::SpanWeight => self.profile.weights_in.unwrap_or(self.plan.unit).to_string(),
            Meaning::Gravity => "m/s²".into(),
            Meaning::AutomaticZero => "%".into(),
            Meaning::ZeroTracking => "d".into(),
            _ => String::new(),
        }
    }

    /// Decimals of a field that does not say its own: those of the display for a mass, else none.
    fn default_decimals(&self, p: &Parameter) -> u32 {
        let in_display = matches!(
            p.meaning,
            Meaning::Max | Meaning::Division | Meaning::FineMax | Meaning::FineDivision | Meaning::SpanWeight
        );
        if in_display { self.plan.decimals() } else { 0 }
    }
}

/// A typed option as its field holds it.
fn padded(text: &str, p: &Parameter) -> String {
    format!("{text:0>width$}", width = usize::from(p.digits.unwrap_or(1)))
}

fn nearest_option(wanted: &str, options: &[OptionValue]) -> Option<String> {
    let wanted = wanted.parse::<Decimal>().ok();
    let far = |o: &&OptionValue| match (&wanted, o.is.parse::<Decimal>()) {
        (Some(wanted), Ok(is)) => (&is - wanted).abs().to_f64(),
        _ => f64::MAX,
    };
    let known = options.iter().filter(|o| !o.is_unknown());
    known.min_by(|a, b| far(a).total_cmp(&far(b))).map(|o| o.is.clone())
}

crate::refusals! {
    enum Refused {
        NotANumber { says: Text } = "not_a_number": says;
    }
}
