//! Judges a wanted set-up, one finding for each thing whose figures are given.
//!
//! Sources: OIML R 76-1:2006 3.2, 3.3, 4.2.2.1, 4.12; WELMEC Guide 2; NIST Handbook 44 §2.20
//! S.1.2, table 3.

use super::findings::{Cells, Check, Finding, Plate, SetupInputs};
use crate::grade::Grade;
use crate::quantity::{Book, Decimal, Division, DivisionError, Mass, divisions};
use crate::tolerance::class_bounds;
use crate::working::Working;

/// Signals below this many µV for a division drown in noise on common indicators.
const LEAST_UV: (i64, i64) = (5, 1);

/// Judges `inputs`. A figure that is not given is not judged; nothing is guessed.
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
    let working = |result: String| {
        Working::new("Division", "d = s · 10^k, s ∈ {1, 2, 5}", result, "OIML R 76-1:2006, 4.2.2.1").with(
            "d",
            "division asked for",
            &inputs.d,
        )
    };
    match Division::new(&inputs.d.value) {
        Ok(d) => Finding::new(
            Check::Series,
            Grade::Sound,
            format!(
                "{} belongs to the series (s = {}, k = {}): {}",
                inputs.d,
                d.s(),
                d.k(),
                decimals_text(d.decimals())
            ),
            working(format!("s = {}, k = {}", d.s(), d.k())),
        ),
        Err(error) => {
            let finding =
                Finding::new(Check::Series, Grade::Refuse, error.to_string(), working("refused".into()));
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
pub fn decimals_text(count: u32) -> String {
    format!("{count} decimal{}", if count == 1 { "" } else { "s" })
}

fn whole_n(inputs: &SetupInputs, n: &Decimal) -> Finding {
    let working =
        Working::new("Number of divisions", "n = Max / d", n.to_string(), "OIML R 76-1:2006, T.3.2.5")
            .with("Max", "capacity asked for", &inputs.max)
            .with("d", "division asked for", &inputs.d);
    match divisions(&inputs.max, &inputs.d) {
        Ok(n) => Finding::new(Check::WholeN, Grade::Sound, format!("{n} divisions"), working).with("n", n),
        Err(error) => {
            Finding::new(Check::WholeN, Grade::Refuse, error.to_string(), working).with("n", n.to_f64())
        }
    }
}

fn class(inputs: &SetupInputs, n: u64) -> Option<Finding> {
    let class = inputs.class?;
    let book = inputs.scheme.unwrap_or(Book::R76);
    let working =
        Working::new("Divisions in the class", "n_min ≤ n ≤ n_max", format!("n = {n}"), book.class_source())
            .with("class", "accuracy class", class)
            .with("e", "verification interval, equal to d", &inputs.d);
    Some(match class_bounds(book, class, &inputs.d) {
        Ok(bounds) => {
            let within = bounds.holds(n);
            let most = bounds.n_max.map_or("no upper limit".to_owned(), |most| most.to_string());
            let grade = if within { Grade::Sound } else { if_trade(inputs) };
            let says = if within {
                format!("{n} divisions lie within class {class} ({} to {most})", bounds.n_min)
            } else {
                format!(
                    "{n} divisions lie outside class {class}, which has {} to {most} at e = {}",
                    bounds.n_min, inputs.d
                )
            };
            Finding::new(Check::Class, grade, says, working)
                .with("n_min", bounds.n_min)
                .with("n_max", bounds.n_max)
        }
        Err(error) => Finding::new(Check::Class, Grade::Refuse, error.to_string(), working),
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
        "Max against the plate",
        "Max ≤ rated Max",
        format!("{} against {}", inputs.max, plate.max),
        "OIML R 76-1:2006, 7.1 (markings)",
    )
    .with("Max", "capacity asked for", &inputs.max)
    .with("rated Max", "on the plate", &plate.max);
    if inputs.max <= plate.max {
        Finding::new(
            Check::PlateMax,
            Grade::Sound,
            format!("{} is within the plate's {}", inputs.max, plate.max),
            working,
        )
    } else {
        Finding::new(
            Check::PlateMax,
            Grade::Refuse,
            format!("the plate says {}; the platform is not made for {}", plate.max, inputs.max),
            working,
        )
    }
}

fn plate_d(inputs: &SetupInputs, plate: &Plate) -> Finding {
    let working = Working::new(
        "Division against the plate",
        "d ≥ d_min; half of it at the least",
        format!("{} against {}", inputs.d, plate.d_min),
        "OIML R 76-1:2006, 7.1 (markings)",
    )
    .with("d", "division asked for", &inputs.d)
    .with("d_min", "smallest division on the plate", &plate.d_min);
    let twice = inputs.d.times(&Decimal::from(2u32));
    let (grade, says) = if inputs.d >= plate.d_min {
        (Grade::Sound, format!("{} is no finer than the plate's {}", inputs.d, plate.d_min))
    } else if twice >= plate.d_min {
        let says = format!(
            "{} is finer than the plate's {}: down to half of it can work, but not for trade",
            inputs.d, plate.d_min
        );
        (if_trade(inputs), says)
    } else {
        (
            Grade::Refuse,
            format!(
                "{} is less than half of the plate's {}; the display would only flicker",
                inputs.d, plate.d_min
            ),
        )
    };
    Finding::new(Check::PlateD, grade, says, working)
}

fn no_plate(inputs: &SetupInputs, cells: &Cells) -> Option<Finding> {
    let reserve = inputs.reserve.clone().unwrap_or_else(|| Decimal::from(2u32));
    let usable = sum_of_cells(cells).value.quotient(&(&lever(inputs) * &reserve))?;
    let usable = Mass::new(usable, cells.e_max.unit);
    let working = Working::new(
        "Usable Max without a plate",
        "Max = Σ E_max / (R · reserve)",
        usable.to_string(),
        "overload reserve by custom; the user's choice",
    )
    .with("N · E_max", "sum of the cells' capacities", sum_of_cells(cells))
    .with("R", "lever ratio", lever(inputs))
    .with("reserve", "overload reserve", &reserve);
    let mut finding = Finding::new(
        Check::NoPlate,
        Grade::Sound,
        format!("without a plate, the cells carry a Max of {usable} with a reserve of {reserve}"),
        working,
    )
    .with("usable_max", serde_json::json!(usable));
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
        "Overload reserve",
        "N · E_max / (R · (Max + dead load))",
        reserve.fixed(3),
        "load cell practice; OIML R 76-1:2006, 4.12",
    )
    .with("N · E_max", "sum of the cells' capacities", sum_of_cells(cells))
    .with("R", "lever ratio", lever(inputs))
    .with("Max + dead load", "what the cells carry at Max", inputs.max.plus(&dead));
    Some(
        Finding::new(
            Check::OverloadReserve,
            grade,
            format!("the cells carry {} times what lies on them at Max", reserve.fixed(2)),
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
        "Cell utilisation",
        "v_min ≤ d · R / √N",
        format!("{v} {unit} against {limit:.6} {unit}"),
        "OIML R 76-1:2006, 4.12.2; WELMEC Guide 2",
    )
    .with("v_min", "smallest interval of the cell", &v_min)
    .with("d", "division", &inputs.d)
    .with("N", "number of cells", cells.count);
    let (grade, says) = if fits {
        (Grade::Sound, "the cells resolve this division".to_owned())
    } else {
        (if_trade(inputs), format!("the cells' smallest interval of {v_min} is too coarse for {}", inputs.d))
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
    whose: &str,
    source: &str,
) -> Finding {
    let largest = interval_counts(inputs, n).into_iter().max().unwrap_or(n);
    let working = Working::new(
        "Number of divisions",
        "n ≤ n_most",
        format!("{largest} against {most}"),
        source.to_owned(),
    )
    .with("n", "divisions asked for", largest)
    .with("n_most", format!("the most for {whose}"), most);
    let (grade, says) = if largest <= most {
        (Grade::Sound, format!("{largest} divisions are within the {most} of {whose}"))
    } else {
        (if_trade(inputs), format!("{largest} divisions are more than the {most} of {whose}"))
    };
    Finding::new(check, grade, says, working)
}

fn cell_divisions(inputs: &SetupInputs, cells: &Cells, n: u64) -> Option<Finding> {
    Some(divisions_against(
        inputs,
        n,
        cells.n_lc?,
        Check::CellDivisions,
        "the cells",
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
            let text = format!("Z = {z} against {}", needed.fixed(0));
            (
                *z >= needed,
                "Z ≥ Max / e₁",
                text,
                [("Z", "of the cells", z.to_string()), ("e₁", "finest interval", e_1.to_string())],
            )
        }
        (None, Some(dr)) => {
            let limit = e_1.times(&(&Decimal::new(5, 1) * &lever(inputs)));
            let limit = Mass::new(limit.value.quotient(&Decimal::from(cells.count))?, limit.unit);
            let text = format!("{dr} against {} {}", limit.value.round_to(9), limit.unit);
            (
                *dr <= limit,
                "DR ≤ 0.5 · e₁ · R / N",
                text,
                [
                    ("DR", "dead load output return of a cell", dr.to_string()),
                    ("e₁", "finest interval", e_1.to_string()),
                ],
            )
        }
        (None, None) => return None,
    };
    let mut working = Working::new("Minimum dead load output return", formula, &result, source);
    for (symbol, meaning, value) in values {
        working = working.with(symbol, meaning, value);
    }
    let (grade, says) = if fits {
        (
            Grade::Sound,
            "the cells come back to their dead load well enough for the finest interval".to_owned(),
        )
    } else {
        (if_trade(inputs), format!("the cells come back to their dead load too coarsely for {e_1}: {result}"))
    };
    Some(Finding::new(Check::DeadLoadReturn, grade, says, working))
}

fn indicator_divisions(inputs: &SetupInputs, n: u64) -> Option<Finding> {
    let most = inputs.indicator.as_ref()?.max_divisions?;
    Some(divisions_against(inputs, n, most, Check::IndicatorDivisions, "the indicator", "WELMEC Guide 2"))
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
        "Signal for one division",
        "ΔU = 1000 · C · U_exc · R · Max / (N · E_max · n)",
        format!("{} µV", uv.fixed(3)),
        "OIML R 76-1:2006, 4.12; WELMEC Guide 2",
    )
    .with("C", "sensitivity, mV/V", cells.sensitivity_mv_v.clone().unwrap_or_else(Decimal::zero))
    .with("U_exc", "excitation, V", inputs.excitation_v.clone().unwrap_or_else(Decimal::zero))
    .with("N · E_max", "sum of the cells' capacities", sum_of_cells(cells));
    let says = match (&smallest, below) {
        (Some(least), true) => format!("{} µV a division is below the indicator's {least} µV", uv.fixed(2)),
        _ => format!("{} µV a division", uv.fixed(2)),
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
        "Signal range",
        "C · U_exc · R · (load + dead load) / (N · E_max)",
        format!("{} to {} mV", at_zero.fixed(3), at_max.fixed(3)),
        "OIML R 76-1:2006, 4.12",
    )
    .with("input", "range of the indicator, mV", format!("{lowest} to {highest}"));
    let (grade, says) = if inside {
        (Grade::Sound, format!("{} to {} mV fit the indicator's input", at_zero.fixed(2), at_max.fixed(2)))
    } else {
        (
            Grade::Refuse,
            format!(
                "{} to {} mV leave the indicator's input of {lowest} to {highest} mV",
                at_zero.fixed(2),
                at_max.fixed(2)
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
        "Internal counts for one division",
        "counts / n",
        counts.fixed(2),
        "indicator practice: ten counts a division or more",
    )
    .with("counts", "internal counts from zero to Max", span)
    .with("n", "divisions", n);
    let grade = if few { Grade::Caution } else { Grade::Sound };
    Some(
        Finding::new(
            Check::CountsPerD,
            grade,
            format!("{} internal counts a division", counts.fixed(1)),
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
        "Length of the intervals",
        "Max_i / e_(i+1) ≥ least",
        format!("{} too short", failing.len()),
        "OIML R 76-1:2006, 3.3",
    )
    .with("least", "for the class", least);
    let (grade, says) = if failing.is_empty() {
        (Grade::Sound, "every interval is long enough".to_owned())
    } else {
        (
            if_trade(inputs),
            format!(
                "interval {failing:?} is too short for class {class}: its Max must be at least {least} of the next division"
            ),
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
        format!("calibrated in {unit}, the unit that the scale is set up in")
    } else {
        format!("calibrating in {unit} while the scale is set up in {}", inputs.max.unit)
    };
    let working = Working::new(
        "Calibration unit",
        "calibration unit = set-up unit",
        format!("{unit} against {}", inputs.max.unit),
        "practice: calibrate in the unit that the scale is set up in",
    )
    .with("calibration unit", "in which weights are keyed in", unit)
    .with("set-up unit", "which the display shows", inputs.max.unit);
    Some(Finding::new(Check::CalibrationUnit, grade, says, working))
}
