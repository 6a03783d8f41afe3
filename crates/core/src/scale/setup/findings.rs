//! What goes into judging a set-up and what comes out of it.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::grade::Grade;
use crate::quantity::{Book, Decimal, Mass, Range, Unit};
use crate::refusal::Detail;
use crate::tolerance::Class;
use crate::wording::Text;
use crate::working::Working;

/// What the plate of the platform says.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Plate {
    /// Rated capacity.
    pub max: Mass,
    /// Smallest division that the platform is rated for.
    pub d_min: Mass,
}

/// The load cells under one platform.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Cells {
    /// Number of cells, N.
    pub count: u32,
    /// Capacity of each, E_max.
    pub e_max: Mass,
    /// Sensitivity C in mV/V.
    #[serde(default, rename = "sensitivity_mV_V")]
    pub sensitivity_mv_v: Option<Decimal>,
    /// Smallest verification interval of the cell, v_min.
    #[serde(default)]
    pub v_min: Option<Mass>,
    /// Y = E_max / v_min, where v_min is not given.
    #[serde(default)]
    pub y: Option<Decimal>,
    /// Largest number of cell intervals, n_LC.
    #[serde(default)]
    pub n_lc: Option<u64>,
    /// Minimum dead load output return DR, for multi-interval scales.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dr: Option<Mass>,
    /// Z = E_max / (2·DR), where the data sheet gives that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub z: Option<Decimal>,
}

/// What the indicator can resolve.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Indicator {
    /// Smallest signal per division in µV.
    #[serde(default, rename = "smallest_uV")]
    pub smallest_uv: Option<Decimal>,
    /// Input range in mV, lowest and highest.
    #[serde(default, rename = "input_mV")]
    #[schema(value_type = Option<Vec<Decimal>>)]
    pub input_mv: Option<(Decimal, Decimal)>,
    /// Internal counts between zero and Max.
    #[serde(default)]
    pub span_counts: Option<u64>,
    /// Most divisions that it can show.
    #[serde(default)]
    pub max_divisions: Option<u64>,
}

/// A wanted set-up with everything that is known about the scale.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct SetupInputs {
    /// Wanted capacity.
    pub max: Mass,
    /// Wanted division (verification interval e = d).
    pub d: Mass,
    /// Accuracy class.
    #[serde(default)]
    pub class: Option<Class>,
    /// Which book's class limits count.
    #[serde(default)]
    pub scheme: Option<Book>,
    /// Used for trade.
    #[serde(default)]
    pub trade: bool,
    /// The plate, where there is one.
    #[serde(default)]
    pub plate: Option<Plate>,
    /// The cells, where they are known.
    #[serde(default)]
    pub cells: Option<Cells>,
    /// Excitation in volts.
    #[serde(default, rename = "excitation_V")]
    pub excitation_v: Option<Decimal>,
    /// Dead load of the platform.
    #[serde(default)]
    pub dead_load: Option<Mass>,
    /// The indicator, where it is known.
    #[serde(default)]
    pub indicator: Option<Indicator>,
    /// Force on the cells / load on the platform; 1 if there is no lever.
    #[serde(default)]
    pub lever_ratio: Option<Decimal>,
    /// Overload reserve for a platform without a plate; 2 if not given.
    #[serde(default)]
    pub reserve: Option<Decimal>,
    /// Intervals or ranges, finest first.
    #[serde(default)]
    pub ranges: Option<Vec<Range>>,
    /// The unit it will be calibrated in.
    #[serde(default)]
    pub calibration_unit: Option<Unit>,
    /// The indicator takes one unit only.
    #[serde(default)]
    pub one_unit_only: bool,
}

/// What is looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Check {
    /// d belongs to 1, 2, 5 · 10^k.
    Series,
    /// The decimals of the display fit the division.
    Decimals,
    /// Max is a whole number of divisions.
    WholeN,
    /// n and e within the class.
    Class,
    /// Max against the plate.
    PlateMax,
    /// d against the plate.
    PlateD,
    /// No plate: what Max the cells allow.
    NoPlate,
    /// Overload reserve of the cells.
    OverloadReserve,
    /// v_min against the division.
    CellVMin,
    /// Divisions against n_LC.
    CellDivisions,
    /// Minimum dead load output return of the cells, of multi-interval scales.
    DeadLoadReturn,
    /// Divisions against what is customary on a floor platform.
    FloorDivisions,
    /// Divisions against the indicator's most.
    IndicatorDivisions,
    /// Signal for one division.
    SignalPerDivision,
    /// Signal within the indicator's input range.
    SignalRange,
    /// Internal counts for one division.
    CountsPerD,
    /// Length of each interval.
    MultiInterval,
    /// Calibration unit against set-up unit.
    CalibrationUnit,
    /// The finer range against the coarser.
    FinerRange,
    /// Gravity where it was adjusted and where it is used.
    Gravity,
}

/// One finding about a set-up.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Finding {
    /// What was looked at.
    pub check: Check,
    /// The grade; none where the finding only proposes something.
    #[schema(required)]
    pub grade: Option<Grade>,
    /// What was found, in a sentence.
    pub says: Text,
    /// The figures, by name.
    pub figures: BTreeMap<String, Detail>,
    /// How they came about.
    pub working: Working,
}

impl Finding {
    pub(crate) fn new(check: Check, grade: Grade, says: impl Into<Text>, working: Working) -> Self {
        Self { check, grade: Some(grade), says: says.into(), figures: BTreeMap::new(), working }
    }

    pub(crate) fn with(mut self, name: &str, value: impl Into<Detail>) -> Self {
        self.figures.insert(name.into(), value.into());
        self
    }
}

/// The worst grade among the findings.
pub fn overall(findings: &[Finding]) -> Grade {
    findings.iter().filter_map(|f| f.grade).max().unwrap_or(Grade::Sound)
}
