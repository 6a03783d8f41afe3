//! Judges a wanted set-up, one finding for each thing whose figures are given.
//!
//! Sources: OIML R 76-1:2006 3.2, 3.3, 4.2.2.1, 4.12; WELMEC Guide 2; NIST Handbook 44 §2.20
//! S.1.2, table 3.

use super::findings::{Cells, Check, Finding, Plate, SetupInputs};
use crate::grade::Grade;
use crate::quantity::{Book, Decimal, Division, DivisionError, Mass, divisions};
use crate::tolerance::class_bounds;
use crate::wording::Text;
use crate::working::Working;

/// Signals below this many µV for a division drown in noise on common indicators.
const LEAST_UV: (i64, i64) = (5, 1);

/// Judges `inputs`. A figure that is not given is not judged; nothing is guessed.
///
/// # Examples
/// ```
/// use ombret_core::grade::Grade;
/// use ombret_core::scale::{judge, overall};
/// use serde_json::json;
///
/// let wanted = json!({
///     "max": {"value": "3000", "unit": "kg"}, "d": {"value": "0.1", "unit": "kg"}, "class": "III", "trade": true,
/// });
/// // 30 000 divisions are more than class III has.
/// let findings = judge(&serde_json::from_value(wanted).unwrap());
/// assert_eq!(overall(&findings), Grade::Refuse);
/// ```
pub fn judge(inputs: &SetupInputs) -> Vec<Finding> {
    let n = inputs.max.ratio(&inputs.d).unwrap_or_else(Decimal::zero);
    let series = series(inputs);
    let whole = whole_n(inputs, &n);
    let refused = series.grade == Some(Grade::Refuse) || whole.grade == Some(Grade::Refuse);
    let mut findings = vec![series, whole];
    let (Some(n_whole), true) = (n.to_u64(), inputs.d.value.is_positive() && inputs.max.value.is_positive())
    else {
        findings.extend(plate_findings(inputs));
        if inputs.d.value.is_positive() && inputs.max.value.is_positive() {
            findings.extend(cell_findings(inputs, &n, None));
            findings.extend(counts_per_d(inputs, &n));
        }
        findings.extend(calibration_unit(inputs));
        return findings;
    };
    if !refused {
        findings.extend(class(inputs, n_whole));
    }
    findings.extend(plate_findings(inputs));
    findings.extend(cell_findings(inputs, &n, Some(n_whole)));
    findings.extend(indicator_divisions(inputs, n_whole));
    findings.extend(counts_per_d(inputs, &n));
    findings.extend(multi_interval(inputs));
    findings.extend(calibration_unit(inputs));
    findings
}

/// ΔU = 1000 · C · U_exc · R · Max / (N · E_max · n) in µV; `None` where C or U_exc is not given.
pub(crate) fn signal_per_division(inputs: &SetupInputs, cells: &Cells, n: &Decimal) -> Option<Decimal> {
    let full = signal(inputs, cells, &inputs.max)?;
    (&full * &Decimal::from(1000u32)).quotient(n)
}

/// C · U_exc · R · load / (N · E_max) in mV.
pub(crate) fn signal(inputs: &SetupInputs, cells: &Cells, load: &Mass) -> Option<Decimal> {
    let per_volt = cells.sensitivity_mv_v.as_ref()?;
    let force = load.times(&lever(inputs));
    let share = force.ratio(&sum_of_cells(cells))?;
    Some(&(per_volt * inputs.excitation_v.as_ref()?) * &share)
}

fn lever(inputs: &SetupInputs) -> Decimal {
    inputs.lever_ratio.clone().unwrap_or_else(|| Decimal::from(1u32))
}

fn sum_of_cells(cells: &Cells) -> Mass {
    cells.e_max.times(&Decimal::from(cells.count))
}

fn if_trade(inputs: &SetupInputs) -> Grade {
    if inputs.trade { Grade::Refuse } else { Grade::Caution }
}

fn series(inputs: &SetupInputs) -> Finding {
    let working = |result: Text| {
        Working::new(
            text!("head-division"),
            "d = s · 10^k, s ∈ {1, 2, 5}",
            result,
            "OIML R 76-1:2006, 4.2.2.1",
        )
        .with("d", text!("judge-division-asked-for"), &inputs.d)
    };
    match Division::new(&inputs.d.value) {
        Ok(d) => Finding::new(
            Check::Series,
            Grade::Sound,
            text!(
                "judge-d-belongs-to-the-series",
                d = inputs.d,
                s = d.s(),
                k = d.k(),
                decimals = decimals_text(d.decimals())
            ),
            working(Text::verbatim(format!("s = {}, k = {}", d.s(), d.k()))),
        ),
        Err(error) => {
            let finding = Finding::new(
                Check::Series,
                Grade::Refuse,
                Text::from(&error),
                working(text!("word-refused")),
            );
            match error {
                DivisionError::NotInSeries { lower, upper, .. } => {
                    finding.with("lower", lower.to_string()).with("upper", upper.to_string())
                }
                _ => finding,
            }
        }
    }
}

/// `1 decimal`, `2 decimals`.
pub fn decimals_text(count: u32) -> Text {
    text!("judge-count-decimal-s", count)
}

fn whole_n(inputs: &SetupInputs, n: &Decimal) -> Finding {
    let working = Working::new(
        text!("judge-number-of-divisions"),
        "n = Max / d",
        n.to_string(),
        "OIML R 76-1:2006, T.3.2.5",
    )
    .with("Max", text!("judge-capacity-asked-for"), &inputs.max)
    .with("d", text!("judge-division-asked-for"), &inputs.d);
    match divisions(&inputs.max, &inputs.d) {
        Ok(n) => {
            Finding::new(Check::WholeN, Grade::Sound, text!("judge-n-divisions", n), working).with("n", n)
        }
        Err(error) => {
            Finding::new(Check::WholeN, Grade::Refuse, error.to_string(), working).with("n", n.to_f64())
        }
    }
}

fn class(inputs: &SetupInputs, n: u64) -> Option<Finding> {
    let class = inputs.class?;
    let book = inputs.scheme.unwrap_or(Book::R76);
    let working = Working::new(
        text!("judge-divisions-in-the-class"),
        "n_min ≤ n ≤ n_max",
        format!("n = {n}"),
        book.class_source(),
    )
    .with("class", text!("judge-accuracy-class"), class)
    .with("e", text!("judge-verification-interval-equal-to-d"), &inputs.d);
    Some(match class_bounds(book, class, &inputs.d) {
        Ok(bounds) => {
            let within = bounds.holds(n);
            let most = bounds.n_max.map_or_else(
                || text!("judge-no-upper-limit"),
                |most| text!("judge-setup-plain", what = most),
            );
            let grade = if within { Grade::Sound } else { if_trade(inputs) };
            let says = if within {
                text!("judge-n-divisions-lie-within-class", n, class, n_min = bounds.n_min, most)
            } else {
                text!("judge-n-divisions-lie-outside", n, class, n_min = bounds.n_min, most, e = inputs.d)
            };
            Finding::new(Check::Class, grade, says, working)
                .with("n_min", bounds.n_min)
                .with("n_max", bounds.n_max)
        }
        Err(error) => Finding::new(Check::Class, Grade::Refuse, Text::from(error), working),
    })
}

fn plate_findings(inputs: &SetupInputs) -> Vec<Finding> {
    match (&inputs.plate, &inputs.cells) {
        (Some(plate), _) => vec![plate_max(inputs, plate), plate_d(inputs, plate)],
        (None, Some(cells)) => no_plate(inputs, cells).into_iter().collect(),
        (None, None) => Vec::new(),
    }
}

fn plate_max(inputs: &SetupInputs, plate: &Plate) -> Finding {
    let working = Working::new(
        text!("judge-max-against-the-plate"),
        text!("judge-max-rated-max"),
        text!("judge-max-against-max2", max = inputs.max, max2 = plate.max),
        "OIML R 76-1:2006, 7.1 (markings)",
    )
    .with("Max", text!("judge-capacity-asked-for"), &inputs.max)
    .with(text!("judge-rated-max"), text!("judge-on-the-plate"), &plate.max);
    if inputs.max <= plate.max {
        Finding::new(
            Check::PlateMax,
            Grade::Sound,
            text!("judge-max-is-within-the-plates", max = inputs.max, max2 = plate.max),
            working,
        )
    } else {
        Finding::new(
            Check::PlateMax,
            Grade::Refuse,
            text!("judge-the-plate-says-max-the", max = plate.max, max2 = inputs.max),
            working,
        )
    }
}

fn plate_d(inputs: &SetupInputs, plate: &Plate) -> Finding {
    let working = Working::new(
        text!("judge-division-against-the-plate"),
        text!("judge-d-d-min-half-of"),
        text!("judge-d-against-d-min", d = inputs.d, d_min = plate.d_min),
        "OIML R 76-1:2006, 7.1 (markings)",
    )
    .with("d", text!("judge-division-asked-for"), &inputs.d)
    .with("d_min", text!("judge-smallest-division-on-the-plate"), &plate.d_min);
    let twice = inputs.d.times(&Decimal::from(2u32));
    let (grade, says) = if inputs.d >= plate.d_min {
        (Grade::Sound, text!("judge-d-is-no-finer-than", d = inputs.d, d_min = plate.d_min))
    } else if twice >= plate.d_min {
        let says = text!("judge-d-is-finer-than-the", d = inputs.d, d_min = plate.d_min);
        (if_trade(inputs), says)
    } else {
        (Grade::Refuse, text!("judge-d-is-less-than-half", d = inputs.d, d_min = plate.d_min))
    };
    Finding::new(Check::PlateD, grade, says, working)
}

fn no_plate(inputs: &SetupInputs, cells: &Cells) -> Option<Finding> {
    let reserve = inputs.reserve.clone().unwrap_or_else(|| Decimal::from(2u32));
    let usable = sum_of_cells(cells).value.quotient(&(&lever(inputs) * &reserve))?;
    let usable = Mass::new(usable, cells.e_max.unit);
    let working = Working::new(
        text!("judge-usable-max-without-a-plate"),
        "Max = Σ E_max / (R · reserve)",
        usable.to_string(),
        text!("judge-overload-reserve-by-custom-the"),
    )
    .with("N · E_max", text!("judge-sum-of-the-cells-capacities"), sum_of_cells(cells))
    .with("R", text!("judge-lever-ratio"), lever(inputs))
    .with("reserve", text!("judge-overload-reserve"), &reserve);
    let mut finding = Finding::new(
        Check::NoPlate,
        Grade::Sound,
        text!("judge-without-a-plate-the-cells", usable, reserve),
        working,
    )
    .with("usable_max", usable);
    finding.grade = None;
    Some(finding)
}

fn cell_findings(inputs: &SetupInputs, n: &Decimal, n_whole: Option<u64>) -> Vec<Finding> {
    let Some(cells) = inputs.cells.as_ref() else { return Vec::new() };
    [
        overload_reserve(inputs, cells),
        cell_v_min(inputs, cells),
        n_whole.and_then(|n| cell_divisions(inputs, cells, n)),
        dead_load_return(inputs, cells),
        signal_for_division(inputs, cells, n),
        signal_range(inputs, cells),
    ]
    .into_iter()
    .flatten()
    .collect()
}

fn overload_reserve(inputs: &SetupInputs, cells: &Cells) -> Option<Finding> {
    let dead = inputs.dead_load.clone().unwrap_or_else(|| Mass::zero(inputs.max.unit));
    let loaded = inputs.max.plus(&dead).times(&lever(inputs));
    let reserve = sum_of_cells(cells).ratio(&loaded)?;
    let grade = match () {
        () if reserve < 1 => Grade::Refuse,
        () if reserve < Decimal::new(125, 2) => Grade::Caution,
        () => Grade::Sound,
    };
    let working = Working::new(
        text!("judge-overload-reserve-2"),
        "N · E_max / (R · (Max + dead load))",
        reserve.fixed(3),
        "load cell practice; OIML R 76-1:2006, 4.12",
    )
    .with("N · E_max", text!("judge-sum-of-the-cells-capacities"), sum_of_cells(cells))
    .with("R", text!("judge-lever-ratio"), lever(inputs))
    .with(text!("judge-max-dead-load"), text!("judge-what-the-cells-carry-at"), inputs.max.plus(&dead));
    Some(
        Finding::new(
            Check::OverloadReserve,
            grade,
            text!("judge-the-cells-carry-fixed-times", fixed = reserve.fixed(2)),
            working,
        )
        .with("reserve", reserve.to_f64()),
    )
}

fn cell_v_min(inputs: &SetupInputs, cells: &Cells) -> Option<Finding> {
    let v_min = match (&cells.v_min, &cells.y) {
        (Some(v_min), _) => v_min.clone(),
        (None, Some(y)) => Mass::new(cells.e_max.value.quotient(y)?, cells.e_max.unit),
        (None, None) => return None,
    };
    let unit = inputs.d.unit;
    let (v, reach) = (v_min.value_in(unit), &inputs.d.value * &lever(inputs));
    // v_min ≤ d·R/√N, compared as squares so that nothing is rounded.
    let fits = &(&v * &v) * &Decimal::from(cells.count) <= &reach * &reach;
    let limit = reach.to_f64() / f64::from(cells.count).sqrt();
    let working = Working::new(
        text!("judge-cell-utilisation"),
        "v_min ≤ d · R / √N",
        text!("judge-v-unit-against-limit-unit", v, unit, limit = crate::wording::fixed(limit, 6)),
        "OIML R 76-1:2006, 4.12.2; WELMEC Guide 2",
    )
    .with("v_min", text!("judge-smallest-interval-of-the-cell"), &v_min)
    .with("d", text!("word-division"), &inputs.d)
    .with("N", text!("judge-number-of-cells"), cells.count);
    let (grade, says) = if fits {
        (Grade::Sound, text!("judge-the-cells-resolve-this-division"))
    } else {
        (if_trade(inputs), text!("judge-the-cells-smallest-interval-of", v_min, d = inputs.d))
    };
    Some(Finding::new(Check::CellVMin, grade, says, working).with("v_min", v.to_f64()).with("limit", limit))
}

/// Interval numbers n_i: those of the ranges where there are any, else n.
fn interval_counts(inputs: &SetupInputs, n: u64) -> Vec<u64> {
    match &inputs.ranges {
        Some(ranges) => ranges.iter().filter_map(|r| divisions(&r.max, &r.d).ok()).collect(),
        None => vec![n],
    }
}

fn divisions_against(
    inputs: &SetupInputs,
    n: u64,
    most: u64,
    check: Check,
    whose: Text,
    source: &str,
) -> Finding {
    let largest = interval_counts(inputs, n).into_iter().max().unwrap_or(n);
    let working = Working::new(
        text!("judge-number-of-divisions"),
        "n ≤ n_most",
        text!("judge-largest-against-most", largest, most),
        source.to_owned(),
    )
    .with("n", text!("judge-setup-divisions-asked-for"), largest)
    .with("n_most", text!("judge-the-most-for-whose", whose), most);
    let (grade, says) = if largest <= most {
        (Grade::Sound, text!("judge-largest-divisions-are-within-the", largest, most, whose))
    } else {
        (if_trade(inputs), text!("judge-largest-divisions-are-more-than", largest, most, whose))
    };
    Finding::new(check, grade, says, working)
}

fn cell_divisions(inputs: &SetupInputs, cells: &Cells, n: u64) -> Option<Finding> {
    Some(divisions_against(
        inputs,
        n,
        cells.n_lc?,
        Check::CellDivisions,
        text!("judge-the-cells"),
        "OIML R 76-1:2006, 4.12.1",
    ))
}

/// Multi-interval scales ask that the cells come back to their dead load: Z = E_max / (2·DR) at least
/// Max / e_1, or DR ≤ 0.5 · e_1 · R / N.
fn dead_load_return(inputs: &SetupInputs, cells: &Cells) -> Option<Finding> {
    let e_1 = &inputs.ranges.as_ref()?.first()?.d;
    let source = "OIML R 76-1:2006, 4.12.2 and annex F";
    let (fits, formula, result, values) = match (&cells.z, &cells.dr) {
        (Some(z), _) => {
            let needed = inputs.max.ratio(e_1)?;
            let text = text!("judge-z-against", z, needed = needed.fixed(0));
            (
                *z >= needed,
                "Z ≥ Max / e₁",
                text,
                [
                    ("Z", text!("judge-of-the-cells"), z.to_string()),
                    ("e₁", text!("judge-finest-interval"), e_1.to_string()),
                ],
            )
        }
        (None, Some(dr)) => {
            let limit = e_1.times(&(&Decimal::new(5, 1) * &lever(inputs)));
            let limit = Mass::new(limit.value.quotient(&Decimal::from(cells.count))?, limit.unit);
            let text = text!(
                "judge-dr-against-round-to-unit",
                dr,
                round_to = limit.value.round_to(9),
                unit = limit.unit
            );
            (
                *dr <= limit,
                "DR ≤ 0.5 · e₁ · R / N",
                text,
                [
                    ("DR", text!("judge-dead-load-output-return-of"), dr.to_string()),
                    ("e₁", text!("judge-finest-interval"), e_1.to_string()),
                ],
            )
        }
        (None, None) => return None,
    };
    let mut working = Working::new(text!("judge-minimum-dead-load-output-return"), formula, &result, source);
    for (symbol, meaning, value) in values {
        working = working.with(symbol, meaning, value);
    }
    let (grade, says) = if fits {
        (Grade::Sound, text!("judge-the-cells-come-back-to"))
    } else {
        (if_trade(inputs), text!("judge-the-cells-come-back-to-2", e_1, result))
    };
    Some(Finding::new(Check::DeadLoadReturn, grade, says, working))
}

fn indicator_divisions(inputs: &SetupInputs, n: u64) -> Option<Finding> {
    let most = inputs.indicator.as_ref()?.max_divisions?;
    Some(divisions_against(
        inputs,
        n,
        most,
        Check::IndicatorDivisions,
        text!("judge-the-indicator"),
        "WELMEC Guide 2",
    ))
}

fn signal_for_division(inputs: &SetupInputs, cells: &Cells, n: &Decimal) -> Option<Finding> {
    let uv = signal_per_division(inputs, cells, n)?;
    let smallest = inputs.indicator.as_ref().and_then(|i| i.smallest_uv.clone());
    let below = smallest.as_ref().is_some_and(|least| uv < *least);
    let grade = match () {
        () if below => if_trade(inputs),
        () if uv < Decimal::new(LEAST_UV.0, LEAST_UV.1) => Grade::Caution,
        () => Grade::Sound,
    };
    let working = Working::new(
        text!("judge-signal-for-one-division"),
        "ΔU = 1000 · C · U_exc · R · Max / (N · E_max · n)",
        format!("{} µV", uv.fixed(3)),
        "OIML R 76-1:2006, 4.12; WELMEC Guide 2",
    )
    .with("C", text!("judge-sensitivity-mv-v"), cells.sensitivity_mv_v.clone().unwrap_or_else(Decimal::zero))
    .with("U_exc", text!("judge-excitation-v"), inputs.excitation_v.clone().unwrap_or_else(Decimal::zero))
    .with("N · E_max", text!("judge-sum-of-the-cells-capacities"), sum_of_cells(cells));
    let says = match (&smallest, below) {
        (Some(least), true) => text!("judge-fixed-v-a-division-is", fixed = uv.fixed(2), least),
        _ => text!("judge-fixed-v-a-division", fixed = uv.fixed(2)),
    };
    Some(Finding::new(Check::SignalPerDivision, grade, says, working).with("uV", uv.to_f64()))
}

fn signal_range(inputs: &SetupInputs, cells: &Cells) -> Option<Finding> {
    let (lowest, highest) = inputs.indicator.as_ref()?.input_mv.as_ref()?;
    let dead = inputs.dead_load.clone().unwrap_or_else(|| Mass::zero(inputs.max.unit));
    let at_zero = signal(inputs, cells, &dead)?;
    let at_max = signal(inputs, cells, &inputs.max.plus(&dead))?;
    let inside = at_zero >= *lowest && at_max <= *highest;
    let working = Working::new(
        text!("judge-signal-range"),
        "C · U_exc · R · (load + dead load) / (N · E_max)",
        text!("judge-fixed-to-fixed2-mv", fixed = at_zero.fixed(3), fixed2 = at_max.fixed(3)),
        "OIML R 76-1:2006, 4.12",
    )
    .with(
        "input",
        text!("judge-range-of-the-indicator-mv"),
        text!("judge-lowest-to-highest", lowest, highest),
    );
    let (grade, says) = if inside {
        (
            Grade::Sound,
            text!("judge-fixed-to-fixed2-mv-fit", fixed = at_zero.fixed(2), fixed2 = at_max.fixed(2)),
        )
    } else {
        (
            Grade::Refuse,
            text!(
                "judge-fixed-to-fixed2-mv-leave",
                fixed = at_zero.fixed(2),
                fixed2 = at_max.fixed(2),
                lowest,
                highest
            ),
        )
    };
    Some(
        Finding::new(Check::SignalRange, grade, says, working)
            .with("mV_at_max", at_max.to_f64())
            .with("mV_at_zero", at_zero.to_f64()),
    )
}

fn counts_per_d(inputs: &SetupInputs, n: &Decimal) -> Option<Finding> {
    let span = inputs.indicator.as_ref()?.span_counts?;
    let counts = Decimal::from(span).quotient(n)?;
    let few = counts < 10;
    let working = Working::new(
        text!("judge-internal-counts-for-one-division"),
        text!("judge-counts-n"),
        counts.fixed(2),
        "indicator practice: ten counts a division or more",
    )
    .with("counts", text!("judge-internal-counts-from-zero-to"), span)
    .with("n", text!("word-divisions"), n);
    let grade = if few { Grade::Caution } else { Grade::Sound };
    Some(
        Finding::new(
            Check::CountsPerD,
            grade,
            text!("judge-fixed-internal-counts-a-division", fixed = counts.fixed(1)),
            working,
        )
        .with("counts", counts.to_f64()),
    )
}

fn multi_interval(inputs: &SetupInputs) -> Option<Finding> {
    let ranges = inputs.ranges.as_ref()?;
    let class = inputs.class?;
    let least = class.interval_floor()?;
    let failing: Vec<u64> = (1u64..)
        .zip(ranges.windows(2))
        .filter(|(_, pair)| pair[0].max < pair[1].d.times(&Decimal::from(least)))
        .map(|(index, _)| index)
        .collect();
    let working = Working::new(
        text!("judge-length-of-the-intervals"),
        "Max_i / e_(i+1) ≥ least",
        text!("judge-failing-too-short", failing = failing.len()),
        "OIML R 76-1:2006, 3.3",
    )
    .with("least", text!("judge-for-the-class"), least);
    let (grade, says) = if failing.is_empty() {
        (Grade::Sound, text!("judge-every-interval-is-long-enough"))
    } else {
        (
            if_trade(inputs),
            text!("judge-interval-failing-is-too-short", failing = format!("{:?}", failing), class, least),
        )
    };
    Some(Finding::new(Check::MultiInterval, grade, says, working).with("failing", failing))
}

fn calibration_unit(inputs: &SetupInputs) -> Option<Finding> {
    let unit = inputs.calibration_unit?;
    let grade = match () {
        () if unit == inputs.max.unit => Grade::Sound,
        () if inputs.one_unit_only => Grade::Refuse,
        () => Grade::Caution,
    };
    let says = if grade == Grade::Sound {
        text!("judge-calibrated-in-unit-the-unit", unit)
    } else {
        text!("judge-calibrating-in-unit-while-the", unit, unit2 = inputs.max.unit)
    };
    let working = Working::new(
        text!("judge-setup-calibration-unit"),
        text!("judge-calibration-unit-set-up-unit"),
        text!("judge-unit-against-unit2", unit, unit2 = inputs.max.unit),
        text!("judge-practice-calibrate-in-the-unit"),
    )
    .with(text!("judge-calibration-unit"), text!("judge-in-which-weights-are-keyed"), unit)
    .with(text!("judge-set-up-unit"), text!("judge-which-the-display-shows"), inputs.max.unit);
    Some(Finding::new(Check::CalibrationUnit, grade, says, working))
}
