//! The calculators: the sums of setting up without a job. Text in, figures with their working out.

mod checks;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::adjust::{GravityError, GravityShift, Site, given_g, new_factor};
use crate::measurement::DecisionRule;
use crate::quantity::{Decimal, Division, Mass, Unit, digits_without_point, parse_mass};
use crate::refusal::Refusal;
use crate::scale::{
    Alternative, Cells, Finding, Indicator, SetupInputs, SignalBar, alternatives, judge, signal_bar,
};
use crate::tolerance::{Class, Scheme, Tolerance};
use crate::wording::{Between, Text};
use crate::working::Working;

/// A place for the gravity tool: a latitude and altitude, or a g.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(default)]
pub struct CalculatorPlace {
    /// Latitude in degrees, as typed.
    pub latitude: String,
    /// Altitude in metres, as typed.
    pub altitude: String,
    /// g in m/s², as typed; it goes before the others.
    pub g: String,
}

/// What a calculator is asked. Every figure is text, as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(tag = "tool", rename_all = "snake_case")]
pub enum CalculatorQuestion {
    /// Which division for a Max.
    Division {
        /// Max.
        max: String,
        /// Division; empty: only the alternatives.
        #[serde(default)]
        d: String,
        /// Divisions that are wanted, where no division is given; empty: none.
        #[serde(default)]
        n: String,
        /// Unit where none is typed.
        unit: Unit,
    },
    /// Which digits to key in.
    Digits {
        /// The weight or Max.
        value: String,
        /// Unit where none is typed.
        unit: Unit,
        /// Decimals.
        decimals: String,
        /// Digits of the field.
        width: String,
    },
    /// The cells' signal.
    Signal {
        /// Max.
        max: String,
        /// Division.
        d: String,
        /// Unit where none is typed.
        unit: Unit,
        /// Number of cells.
        count: String,
        /// Capacity of each.
        e_max: String,
        /// mV/V.
        sensitivity: String,
        /// Excitation, V.
        excitation: String,
        /// Dead load.
        #[serde(default)]
        dead_load: String,
        /// Lever ratio.
        #[serde(default)]
        lever_ratio: String,
        /// Highest input, mV.
        #[serde(default)]
        input_high: String,
    },
    /// What gravity costs.
    Gravity {
        /// Max.
        max: String,
        /// Division.
        d: String,
        /// Unit where none is typed.
        unit: Unit,
        /// Class, for the tolerance (R 76 in service).
        class: Class,
        /// Where it was adjusted.
        adjusted: CalculatorPlace,
        /// Where it is used.
        used: CalculatorPlace,
    },
    /// A new correction factor.
    Factor {
        /// Old factor.
        factor: String,
        /// The load.
        load: String,
        /// What is shown.
        shown: String,
        /// What is shown at zero.
        #[serde(default)]
        shown_zero: String,
        /// Decimals of the indicator's factor.
        decimals: String,
        /// Unit where none is typed.
        unit: Unit,
        /// Divisions, for what the rounding costs.
        #[serde(default)]
        n: String,
    },
    /// The same load several times.
    Repeats {
        /// Class, for how many it takes.
        class: Class,
        /// The readings, separated by spaces.
        shown: String,
        /// Tolerance at this load.
        mpe: String,
        /// Division of a balance, for its least weight.
        #[serde(default)]
        d: String,
        /// Unit where none is typed.
        unit: Unit,
    },
    /// A verdict with its uncertainty.
    Verdict {
        /// The rule.
        rule: DecisionRule,
        /// The error.
        error: String,
        /// Expanded uncertainty.
        #[serde(rename = "U")]
        expanded: String,
        /// Its coverage factor.
        k: String,
        /// The tolerance.
        mpe: String,
        /// Unit where none is typed.
        unit: Unit,
    },
    /// Corners and their trim.
    Trim {
        /// The load that was put over each cell in turn.
        load: String,
        /// What was shown over each cell, separated by spaces.
        shown: String,
        /// What is shown at zero.
        #[serde(default)]
        shown_zero: String,
        /// Per cent of the load on the cell it stands over.
        share: String,
        /// Factors in digital cells; else a junction box.
        #[serde(default)]
        digital: bool,
        /// Unit where none is typed.
        unit: Unit,
    },
    /// Another unit.
    Convert {
        /// The mass.
        mass: String,
        /// Unit where none is typed.
        unit: Unit,
    },
}

/// A figure of the answer.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct CalculatorFigure {
    /// What it is.
    pub label: Text,
    /// Its value with its unit.
    pub value: String,
}

/// The answer.
#[derive(Clone, Debug, Default, PartialEq, Serialize, ToSchema)]
pub struct CalculatorAnswer {
    /// In a sentence.
    pub says: Text,
    /// The figures.
    pub figures: Vec<CalculatorFigure>,
    /// Divisions that could be taken.
    pub alternatives: Vec<Alternative>,
    /// What was judged.
    pub findings: Vec<Finding>,
    /// The millivolt scale.
    #[schema(required)]
    pub signal: Option<SignalBar>,
    /// How it comes about.
    pub working: Vec<Working>,
}

fn figure(label: Text, value: impl ToString) -> CalculatorFigure {
    CalculatorFigure { label, value: value.to_string() }
}

fn number(field: &str, text: &str) -> Result<Decimal, Refusal> {
    text.trim().replace(',', ".").parse().map_err(|e| Refusal::from(e).at(field))
}

fn above_zero(field: &str, text: &str) -> Result<Decimal, Refusal> {
    let value = number(field, text)?;
    if value.is_positive() {
        return Ok(value);
    }
    Err(Refusal::from(Refused::ValueNotPositive { value }).at(field))
}

fn whole(field: &str, text: &str, most: u32) -> Result<u32, Refusal> {
    let refused = || Refusal::from(Refused::NotANumber { most }).at(field);
    text.trim().parse().ok().filter(|n| *n <= most).ok_or_else(refused)
}

fn optional<T>(text: &str, read: impl FnOnce(&str) -> Result<T, Refusal>) -> Result<Option<T>, Refusal> {
    if text.trim().is_empty() { Ok(None) } else { read(text).map(Some) }
}

fn positive(field: &str, text: &str, unit: Unit) -> Result<Mass, Refusal> {
    let mass = parse_mass(text, unit, field)?;
    if mass.value.is_positive() {
        Ok(mass)
    } else {
        Err(Refusal::from(Refused::MassNotPositive { mass }).at(field))
    }
}

/// Answers.
///
/// # Errors
/// A [`Refusal`] at its field.
pub fn calculate(question: &CalculatorQuestion) -> Result<CalculatorAnswer, Refusal> {
    match question {
        CalculatorQuestion::Division { max, d, n, unit } => division(max, d, n, *unit),
        CalculatorQuestion::Digits { value, unit, decimals, width } => digits(value, *unit, decimals, width),
        CalculatorQuestion::Signal { .. } => signal(question),
        CalculatorQuestion::Gravity { max, d, unit, class, adjusted, used } => {
            gravity(max, d, *unit, *class, adjusted, used)
        }
        CalculatorQuestion::Factor { .. } => factor(question),
        CalculatorQuestion::Repeats { class, shown, mpe, d, unit } => {
            checks::repeats(*class, shown, mpe, d, *unit)
        }
        CalculatorQuestion::Verdict { rule, error, expanded, k, mpe, unit } => {
            checks::verdict(*rule, error, expanded, k, mpe, *unit)
        }
        CalculatorQuestion::Trim { .. } => checks::corner_trim(question),
        CalculatorQuestion::Convert { mass, unit } => convert(mass, *unit),
    }
}

fn plain_inputs(max: Mass, d: Mass) -> SetupInputs {
    SetupInputs {
        max,
        d,
        class: None,
        scheme: None,
        trade: false,
        plate: None,
        cells: None,
        excitation_v: None,
        dead_load: None,
        indicator: None,
        lever_ratio: None,
        reserve: None,
        ranges: None,
        calibration_unit: None,
        one_unit_only: false,
    }
}

fn division(max: &str, d: &str, n: &str, unit: Unit) -> Result<CalculatorAnswer, Refusal> {
    let max = positive("max", max, unit)?;
    let typed = optional(d, |d| positive("d", d, unit))?;
    let asked = optional(n, |n| whole("n", n, 1_000_000))?;
    if asked == Some(0) {
        return Err(Refusal::from(Refused::TwoDivisions));
    }
    // The next division of the series at which Max has so many divisions, or fewer.
    let reached = asked.filter(|_| typed.is_none()).and_then(|n| {
        let least = max.value_in(unit).quotient(&Decimal::from(n))?;
        let d = Division::series_from(&least)
            .take(6)
            .find(|d| max.value_in(unit).quotient(d.value()).is_some_and(|n| n.is_whole()))?;
        Some(Mass::new(d.value().clone(), unit))
    });
    let wanted = typed.or(reached);
    let inputs = plain_inputs(max.clone(), wanted.clone().unwrap_or_else(|| max.clone()));
    let offered = alternatives(&inputs);
    let mut answer = CalculatorAnswer {
        says: text!("calculators-offered-divisions-go-into-max", offered = offered.len(), max),
        alternatives: offered,
        ..CalculatorAnswer::default()
    };
    if let Some(d) = wanted {
        answer.findings = judge(&inputs);
        answer.working = answer.findings.iter().map(|f| f.working.clone()).collect();
        answer.says = Text::list(answer.findings.iter().map(|f| &f.says), Between::Semicolon);
        if let Ok(division) = Division::new(&d.value) {
            answer.figures = vec![
                figure(text!("calculators-division-2"), &d),
                figure(text!("calculators-decimals"), division.decimals()),
                figure(text!("calculators-fixed-zeros"), division.fixed_zeros()),
            ];
        }
    }
    Ok(answer)
}

fn digits(value: &str, unit: Unit, decimals: &str, width: &str) -> Result<CalculatorAnswer, Refusal> {
    let mass = parse_mass(value, unit, "value")?.to(unit);
    let (decimals, width) = (whole("decimals", decimals, 9)?, whole("width", width, 12)?);
    let digits = digits_without_point(&mass, decimals, width).map_err(|e| Refusal::from(e).at("value"))?;
    let working = Working::new(
        text!("calculators-digits-keyed-in"),
        "W / 10^(−decimals), padded on the left",
        &digits,
        "indicator practice: a field without a point",
    )
    .with("W", text!("calculators-what-is-keyed-in"), &mass)
    .with("decimals", text!("calculators-on-the-display"), decimals)
    .with("width", text!("calculators-digits-of-the-field-2"), width);
    Ok(CalculatorAnswer {
        says: text!("calculators-mass-is-keyed-in-as", mass, digits),
        figures: vec![figure(text!("calculators-digits-2"), digits)],
        working: vec![working],
        ..CalculatorAnswer::default()
    })
}

fn signal(question: &CalculatorQuestion) -> Result<CalculatorAnswer, Refusal> {
    let CalculatorQuestion::Signal {
        max,
        d,
        unit,
        count,
        e_max,
        sensitivity,
        excitation,
        dead_load,
        lever_ratio,
        input_high,
    } = question
    else {
        return Err(Refusal::from(Refused::NoQuestionForTheBook));
    };
    let count = whole("count", count, 16)?;
    if count == 0 {
        return Err(Refusal::from(Refused::TooFewPositions));
    }
    let cells = Cells {
        count,
        e_max: positive("e_max", e_max, *unit)?,
        sensitivity_mv_v: Some(above_zero("sensitivity", sensitivity)?),
        v_min: None,
        y: None,
        n_lc: None,
        dr: None,
        z: None,
    };
    let input = optional(input_high, |text| number("input_high", text))?;
    let dead = optional(dead_load, |text| Ok(parse_mass(text, *unit, "dead_load")?))?;
    let inputs = SetupInputs {
        cells: Some(cells),
        excitation_v: Some(number("excitation", excitation)?),
        dead_load: dead.clone(),
        lever_ratio: optional(lever_ratio, |text| number("lever_ratio", text))?,
        indicator: input
            .map(|high| Indicator { input_mv: Some((Decimal::zero(), high)), ..Indicator::default() }),
        ..plain_inputs(positive("max", max, *unit)?, positive("d", d, *unit)?)
    };
    let findings = judge(&inputs);
    let bar = signal_bar(&inputs, None, None);
    let figures = bar
        .iter()
        .flat_map(|bar| &bar.marks)
        .map(|m| figure(m.what.clone(), format!("{:.3} mV ({})", m.mv, m.load)))
        .collect();
    let told = |f: &&Finding| {
        matches!(
            f.check,
            crate::scale::Check::SignalPerDivision
                | crate::scale::Check::OverloadReserve
                | crate::scale::Check::SignalRange
        )
    };
    let says = Text::list(findings.iter().filter(told).map(|f| &f.says), Between::Semicolon);
    Ok(CalculatorAnswer {
        says,
        figures,
        working: findings.iter().map(|f| f.working.clone()).collect(),
        findings,
        signal: bar,
        alternatives: alternatives(&inputs),
    })
}

impl CalculatorPlace {
    fn g(&self, which: &str) -> Result<f64, Refusal> {
        let at = |mut refusal: Refusal, part: &str| {
            refusal.field = Some(format!("{which}_{part}"));
            refusal
        };
        if !self.g.trim().is_empty() {
            let g = number("g", &self.g).map_err(|r| at(r, "g"))?;
            return given_g(&g).map_err(|e| at(e.into(), "g"));
        }
        let altitude_m = optional(&self.altitude, |text| number("altitude", text))
            .map_err(|r| at(r, "altitude"))?
            .unwrap_or_else(Decimal::zero);
        let latitude = number("latitude", &self.latitude).map_err(|r| at(r, "latitude"))?;
        let site = Site { name: which.into(), latitude, altitude_m };
        site.g().map_err(|error| {
            let part = if matches!(error, GravityError::Altitude(_)) { "altitude" } else { "latitude" };
            at(error.into(), part)
        })
    }
}

fn gravity(
    max: &str,
    d: &str,
    unit: Unit,
    class: Class,
    adjusted: &CalculatorPlace,
    used: &CalculatorPlace,
) -> Result<CalculatorAnswer, Refusal> {
    let (max, d) = (positive("max", max, unit)?, positive("d", d, unit)?);
    let tolerance = Tolerance::by_class(Scheme::R76InService, class);
    let shift = GravityShift::new(&max, &d, &tolerance, adjusted.g("adjusted")?, used.g("used")?)
        .map_err(<Refusal as From<GravityError>>::from)?;
    let says = if shift.matters() {
        text!(
            "calculators-shift-matters",
            shift = crate::wording::signed(shift.shift_at_max_d, 2),
            g = crate::wording::fixed(shift.used, 5)
        )
    } else {
        text!(
            "calculators-shift-at-max-d-d",
            shift_at_max_d = crate::wording::signed(shift.shift_at_max_d, 2)
        )
    };
    let figures = vec![
        figure(text!("calculators-g-where-adjusted"), format!("{:.5} m/s²", shift.adjusted)),
        figure(text!("calculators-g-where-used"), format!("{:.5} m/s²", shift.used)),
        figure(text!("calculators-readings-there"), format!("× {:.6}", shift.factor)),
        figure(text!("calculators-at-max"), format!("{:+.2} d", shift.shift_at_max_d)),
        figure(text!("calculators-a-third-of-the-tolerance"), format!("{:.2} d", shift.limit_d)),
    ];
    Ok(CalculatorAnswer {
        says,
        figures,
        working: vec![shift.working(&max, &d)],
        ..CalculatorAnswer::default()
    })
}

fn factor(question: &CalculatorQuestion) -> Result<CalculatorAnswer, Refusal> {
    let CalculatorQuestion::Factor { factor, load, shown, shown_zero, decimals, unit, n } = question else {
        return Err(Refusal::from(Refused::NoQuestion));
    };
    let old = number("factor", factor)?;
    let load = positive("load", load, *unit)?;
    let shown = parse_mass(shown, *unit, "shown")?;
    let zero = optional(shown_zero, |text| Ok(parse_mass(text, *unit, "shown_zero")?))?
        .unwrap_or_else(|| Mass::zero(*unit));
    let decimals = whole("decimals", decimals, 9)?;
    let n = optional(n, |text| number("n", text))?;
    let new = new_factor(&old, &load, &shown, &zero).map_err(|e| Refusal::from(e).at("shown"))?;
    let (rounded, cost) = new.rounded(decimals, n.as_ref());
    let mut figures = vec![
        figure(text!("calculators-new-factor"), new.factor.round_to(9)),
        figure(text!("calculators-to-be-entered"), &rounded),
    ];
    figures.extend(cost.as_ref().map(|cost| {
        figure(text!("calculators-the-rounding-costs-at-max"), format!("{} d", cost.round_to(3)))
    }));
    let working = Working::new(
        text!("calculators-correction-factor"),
        "f′ = f · L / (I − I_0)",
        new.factor.round_to(9).to_string(),
        text!("calculators-arithmetic-of-a-straight-line"),
    )
    .with("f", text!("calculators-old-factor-2"), old)
    .with("L", text!("word-load"), load)
    .with("I", text!("word-shown"), shown)
    .with("I_0", text!("calculators-shown-at-zero-2"), zero);
    Ok(CalculatorAnswer {
        says: text!("calculators-enter-rounded-then-prove-it", rounded),
        figures,
        working: vec![working],
        ..CalculatorAnswer::default()
    })
}

fn convert(mass: &str, unit: Unit) -> Result<CalculatorAnswer, Refusal> {
    let mass = parse_mass(mass, unit, "mass")?;
    let figures = Unit::ALL
        .into_iter()
        .filter(|u| *u != mass.unit)
        .map(|u| figure(Text::verbatim(u.symbol()), mass.to(u).exact_text()))
        .collect();
    let working = Working::new(
        text!("head-units"),
        text!("calculators-through-the-kilogram"),
        format!("{} kg", mass.kg()),
        "1 lb = 0.45359237 kg exactly; NIST Handbook 44, appendix C",
    )
    .with("m", text!("word-typed"), &mass)
    .with("factor", text!("calculators-kilograms-in-one"), mass.unit.in_kg());
    Ok(CalculatorAnswer {
        says: text!("calculators-mass-is", mass),
        figures,
        working: vec![working],
        ..CalculatorAnswer::default()
    })
}

crate::refusals! {
    enum Refused {
        ValueNotPositive { value: Decimal } = "not_positive":
            text!("calculators-value-is-not-above-zero", value);
        NotANumber { most: u32 } = "not_a_number": text!("calculators-a-whole-number-up-to", most);
        MassNotPositive { mass: Mass } = "not_positive": text!("calculators-mass-is-not-above-zero", mass);
        TwoDivisions = "not_positive" at "n": text!("calculators-a-scale-has-one-division");
        NoQuestionForTheBook = "bad_input": text!("calculators-not-a-question-about-the");
        TooFewPositions = "not_positive" at "count": text!("calculators-a-platform-has-at-least");
        NoQuestion = "bad_input": text!("calculators-not-a-question-about-a");
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ask(json: serde_json::Value) -> Result<CalculatorAnswer, Refusal> {
        calculate(&serde_json::from_value(json).unwrap())
    }

    #[test]
    fn every_tool_answers_with_its_working_and_refuses_at_its_field() {
        let good = [
            serde_json::json!({"tool": "division", "max": "870", "d": "0.2", "unit": "kg"}),
            serde_json::json!({"tool": "digits", "value": "7.5", "unit": "kg", "decimals": "3", "width": "6"}),
            serde_json::json!({"tool": "signal", "max": "870", "d": "0.2", "unit": "kg", "count": "4", "e_max": "500", "sensitivity": "2", "excitation": "5"}),
            serde_json::json!({"tool": "gravity", "max": "60", "d": "0.02", "unit": "kg", "class": "III", "adjusted": {"latitude": "59"}, "used": {"g": "9.8024"}}),
            serde_json::json!({"tool": "factor", "factor": "1.00000", "load": "500", "shown": "498.5", "decimals": "5", "unit": "kg", "n": "4350"}),
            serde_json::json!({"tool": "convert", "mass": "1 lb", "unit": "kg"}),
        ];
        for question in good {
            let answer = ask(question.clone()).unwrap_or_else(|r| panic!("{question}: {r:?}"));
            assert!(!answer.working.is_empty() && !answer.says.is_empty(), "{question}");
        }
        let digits = ask(serde_json::json!({"tool": "digits", "value": "7.5", "unit": "kg", "decimals": "3", "width": "6"})).unwrap();
        assert_eq!(digits.figures[0].value, "007500");
        for (question, field) in [
            (serde_json::json!({"tool": "division", "max": "x", "unit": "kg"}), "max"),
            (
                serde_json::json!({"tool": "digits", "value": "7.5", "unit": "kg", "decimals": "a", "width": "6"}),
                "decimals",
            ),
            (
                serde_json::json!({"tool": "signal", "max": "870", "d": "0.2", "unit": "kg", "count": "0", "e_max": "500", "sensitivity": "2", "excitation": "5"}),
                "count",
            ),
            (
                serde_json::json!({"tool": "gravity", "max": "60", "d": "0.02", "unit": "kg", "class": "III", "adjusted": {"latitude": "59"}, "used": {"latitude": "91"}}),
                "used_latitude",
            ),
            (
                serde_json::json!({"tool": "factor", "factor": "1", "load": "500", "shown": "-2", "decimals": "5", "unit": "kg"}),
                "shown",
            ),
            (serde_json::json!({"tool": "convert", "mass": "1 stone", "unit": "kg"}), "mass"),
        ] {
            assert_eq!(ask(question.clone()).unwrap_err().field.as_deref(), Some(field), "{question}");
        }
    }
}
