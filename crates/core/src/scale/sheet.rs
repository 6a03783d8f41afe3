//! The scale's own sheet: what is known of it before anybody goes there.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::adjust::Site;
use crate::keying::{ProfileFacts, RangeMode};
use crate::longest::LONGEST_FIELD;
use crate::measurement::DecisionRule;
use crate::quantity::{Decimal, Mass, Range};
use crate::refusal::Refusal;
use crate::scale::setup::{Cells, Indicator, Plate};
use crate::tolerance::Tolerance;
use crate::wording::Text;

/// What sort of scale it is; decides the checklist and the cautions.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ScaleKind {
    /// Floor platform.
    Floor,
    /// Bench platform.
    Bench,
    /// Counting scale.
    Counting,
    /// Pads under the wheels of a vehicle.
    Pads,
    /// Vehicle scale.
    Vehicle,
    /// Hanging scale.
    Hanging,
    /// Hopper or tank.
    Hopper,
    /// Laboratory balance.
    Laboratory,
    /// Scale for infants or patients.
    Medical,
    /// Pocket scale.
    Pocket,
    /// Panel instrument on one or more cells.
    Panel,
}

impl ScaleKind {
    /// Every kind.
    pub const ALL: [Self; 11] = [
        Self::Floor,
        Self::Bench,
        Self::Counting,
        Self::Pads,
        Self::Vehicle,
        Self::Hanging,
        Self::Hopper,
        Self::Laboratory,
        Self::Medical,
        Self::Pocket,
        Self::Panel,
    ];

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::Floor => text!("scale-sheet-floor-platform"),
            Self::Bench => text!("scale-sheet-bench-scale"),
            Self::Counting => text!("scale-sheet-counting-scale"),
            Self::Pads => text!("scale-sheet-wheel-pads"),
            Self::Vehicle => text!("scale-sheet-vehicle-scale"),
            Self::Hanging => text!("scale-sheet-hanging-scale"),
            Self::Hopper => text!("scale-sheet-hopper-or-tank"),
            Self::Laboratory => text!("scale-sheet-laboratory-balance"),
            Self::Medical => text!("scale-sheet-infant-or-patient-scale"),
            Self::Pocket => text!("scale-sheet-pocket-scale"),
            Self::Panel => text!("scale-sheet-panel-instrument"),
        }
    }
}

/// What always stays on the platform.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct StaysOn {
    /// What it is.
    pub what: String,
    /// Its mass.
    pub mass: Mass,
}

/// The finer of two ranges, and how they work.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct FineRange {
    /// How the ranges work.
    pub mode: RangeMode,
    /// The range.
    pub range: Range,
}

/// How the scale is built: cells, lever, dead load, and what the indicator can resolve. Whatever is
/// not known is left out, and what it would decide is then not judged.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Build {
    /// The load cells under one platform.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cells: Option<Cells>,
    /// Excitation in volts.
    #[serde(default, rename = "excitation_V", skip_serializing_if = "Option::is_none")]
    pub excitation_v: Option<Decimal>,
    /// Force on the cells / load on the platform.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lever_ratio: Option<Decimal>,
    /// Dead load of the platform.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dead_load: Option<Mass>,
    /// What always stays on it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stays_on: Option<StaysOn>,
    /// What the indicator can resolve.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub indicator: Option<Indicator>,
    /// Overload reserve for a platform without a plate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reserve: Option<Decimal>,
}

impl Build {
    /// Platform and what always stays on it, where either is known.
    pub fn dead_load_in_all(&self) -> Option<Mass> {
        match (&self.dead_load, &self.stays_on) {
            (Some(dead), Some(stays)) => Some(dead.plus(&stays.mass)),
            (Some(dead), None) => Some(dead.clone()),
            (None, Some(stays)) => Some(stays.mass.clone()),
            (None, None) => None,
        }
    }

    fn is_unknown(&self) -> bool {
        *self == Self::default()
    }
}

/// How the indicator is keyed: a profile of the workshop.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct ProfileRef {
    /// Identity of the profile.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// What a job needs to know of it, frozen when the job begins.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub facts: Option<Box<ProfileFacts>>,
}

const fn one_pad() -> u8 {
    1
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
const fn is_one_pad(pads: &u8) -> bool {
    *pads == 1
}

/// The tests that a rule of the house asks for beside the loads.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(default)]
pub struct HouseTests {
    /// Corners.
    pub corners: bool,
    /// How often one load is put on; 0: not asked for.
    pub repeats: u8,
    /// The smallest step that moves the display.
    pub discrimination: bool,
    /// Zero after a load.
    pub zero_return: bool,
}

impl HouseTests {
    /// Most weighings of one load.
    pub const MOST_REPEATS: u8 = 20;
}

/// Everything that a job needs to know of a scale.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct ScaleSheet {
    /// Identity of the scale.
    pub id: Uuid,
    /// What its owner calls it.
    pub name: String,
    /// Owner.
    pub owner: String,
    /// The owner's address, as it stands on paper.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub owner_address: String,
    /// Where it stands.
    pub place: String,
    /// What sort it is.
    pub kind: ScaleKind,
    /// Serial number.
    pub serial: String,
    /// The indicator, as its plate calls it.
    pub indicator: String,
    /// Year of make, where it is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub made: Option<u16>,
    /// What the platform's plate says; none: it has no plate, and its cells must be known.
    #[serde(default)]
    #[schema(required)]
    pub plate: Option<Plate>,
    /// The finer of two ranges, where the plate names one: a first visit is judged by it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fine: Option<FineRange>,
    /// It has a calibration switch or a cover that must be put back; none: as its kind usually has.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub calibration_switch: Option<bool>,
    /// How it is built.
    #[serde(default, skip_serializing_if = "Build::is_unknown")]
    pub build: Build,
    /// Pads or platforms, each with a set-up and calibration of its own.
    #[serde(default = "one_pad", skip_serializing_if = "is_one_pad")]
    pub pads: u8,
    /// Points where seals sit.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub seal_points: Vec<String>,
    /// Which wire is which, each with its colour as it was found: four or six and the shield.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub wiring: Vec<String>,
    /// Where it is used.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub site: Option<Site>,
    /// How its indicator is keyed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub profile: Option<ProfileRef>,
    /// Used for trade.
    pub trade: bool,
    /// The tolerance it is judged by.
    pub tolerance: Tolerance,
    /// Months from one check to the next, by the owner's rule.
    pub interval_months: u8,
    /// Digits in the indicator's entry field.
    pub field_width: u8,
    /// The load at which it is really used.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub working_load: Option<Mass>,
    /// Which tests a rule of the house asks for beside the loads; none: corners only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub house_tests: Option<HouseTests>,
    /// How the uncertainty enters its verdicts.
    #[serde(default, skip_serializing_if = "is_simple")]
    pub decision: DecisionRule,
    /// A scale of a lesson: nothing that is done on it is a record of a real one.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub practice: bool,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_simple(rule: &DecisionRule) -> bool {
    *rule == DecisionRule::Simple
}

impl ScaleSheet {
    /// Most months between two checks.
    pub const MOST_MONTHS: u8 = 120;
    /// Most lines of a wiring card: several cells with a cable each.
    pub const MOST_WIRES: usize = 32;
    /// Most lines of an address.
    pub const MOST_LINES: usize = 8;
    /// Most pads.
    pub const MOST_PADS: u8 = 8;
    /// Years of make that can be.
    pub const YEARS: std::ops::RangeInclusive<u16> = 1850..=2200;

    /// Checks that the sheet makes sense on its own.
    ///
    /// # Errors
    /// The first [`Refusal`], at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        Refusal::all(self.checks()).map_or(Ok(()), Err)
    }

    /// Everything that makes no sense, each at its field.
    pub(crate) fn checks(&self) -> Vec<Refusal> {
        let parts = [
            self.check_texts(),
            self.check_plate(),
            self.check_fine(),
            self.check_build(),
            self.check_counts(),
            self.check_use(),
        ];
        parts.into_iter().filter_map(Result::err).collect()
    }

    fn check_texts(&self) -> Result<(), Refusal> {
        for (field, text, needed) in [
            ("name", &self.name, true),
            ("owner", &self.owner, true),
            ("place", &self.place, false),
            ("serial", &self.serial, false),
            ("indicator", &self.indicator, false),
        ] {
            if needed && text.trim().is_empty() {
                return Err(Refusal::from(Refused::Missing { field: field.to_owned() }).at(field));
            }
            if text.chars().count() > LONGEST_FIELD || text.chars().any(char::is_control) {
                return Err(Refusal::from(Refused::FieldTooLong {
                    field: field.to_owned(),
                    longest_field: LONGEST_FIELD,
                })
                .at(field));
            }
        }
        let lines = self.owner_address.lines().count();
        let odd = |c: char| c.is_control() && c != '\n';
        if lines > Self::MOST_LINES
            || self.owner_address.chars().count() > LONGEST_FIELD * 3
            || self.owner_address.chars().any(odd)
        {
            return Err(Refusal::from(Refused::AddressTooLong {
                most_lines: Self::MOST_LINES,
                longest_field: LONGEST_FIELD * 3,
            }));
        }
        if self.made.is_some_and(|year| !Self::YEARS.contains(&year)) {
            return Err(Refusal::from(Refused::NoYearOfMake));
        }
        let long = |line: &String| line.chars().count() > LONGEST_FIELD || line.chars().any(char::is_control);
        if self.wiring.len() > Self::MOST_WIRES || self.wiring.iter().any(long) {
            return Err(Refusal::from(Refused::TooManyWires {
                most_wires: Self::MOST_WIRES,
                longest_field: LONGEST_FIELD,
            }));
        }
        Ok(())
    }

    fn check_counts(&self) -> Result<(), Refusal> {
        if !(1..=Self::MOST_PADS).contains(&self.pads) {
            return Err(Refusal::from(Refused::PadsOutOfRange { most_pads: Self::MOST_PADS }));
        }
        if let Some(load) = self
            .working_load
            .as_ref()
            .filter(|load| !load.value.is_positive() || self.rated().is_some_and(|(max, _)| **load > max))
        {
            return Err(Refusal::from(Refused::NoWorkingLoad { load: load.clone() }));
        }
        if self.house_tests.is_some_and(|t| t.repeats == 1 || t.repeats > HouseTests::MOST_REPEATS) {
            return Err(Refusal::from(Refused::RepeatsOutOfRange { most_repeats: HouseTests::MOST_REPEATS }));
        }
        Ok(())
    }

    fn check_use(&self) -> Result<(), Refusal> {
        if let Some(site) = &self.site {
            site.g().map_err(Refusal::from)?;
        }
        if !(1..=Self::MOST_MONTHS).contains(&self.interval_months) {
            return Err(Refusal::from(Refused::IntervalOutOfRange { most_months: Self::MOST_MONTHS }));
        }
        if !(3..=12).contains(&self.field_width) {
            return Err(Refusal::from(Refused::FieldWidthOutOfRange));
        }
        let (max, d) = self.rated().ok_or_else(|| Refusal::from(Refused::NoRating))?;
        self.tolerance.check(&d, &max).map_err(|error| Refusal::from(error).at("tolerance"))
    }

    /// What is known of its indicator's profile.
    pub fn profile_facts(&self) -> Option<&ProfileFacts> {
        self.profile.as_ref()?.facts.as_deref()
    }

    /// True where a switch or a cover must be put back after calibrating.
    pub fn has_switch(&self) -> bool {
        self.calibration_switch.unwrap_or(!matches!(self.kind, ScaleKind::Laboratory | ScaleKind::Pocket))
    }

    /// Max and smallest division that stand in until a set-up is on record: the plate's or, without
    /// a plate, the usable Max of the cells in about 3000 divisions.
    pub fn rated(&self) -> Option<(Mass, Mass)> {
        if let Some(plate) = &self.plate {
            return Some((plate.max.clone(), plate.d_min.clone()));
        }
        proposed(self.build.cells.as_ref()?, self.build.lever_ratio.as_ref(), self.build.reserve.as_ref())
    }

    fn check_fine(&self) -> Result<(), Refusal> {
        let Some(FineRange { range, .. }) = &self.fine else { return Ok(()) };
        for (field, mass) in [("fine_max", &range.max), ("fine_d", &range.d)] {
            if !mass.value.is_positive() {
                return Err(Refusal::from(Refused::MassNotPositive { mass: mass.clone() }).at(field));
            }
        }
        match self.rated() {
            Some((max, _)) if range.max >= max => Err(Refusal::from(Refused::FinerRangeTooLong { max })),
            Some((_, d)) if range.d >= d => Err(Refusal::from(Refused::FinerRangeTooCoarse { d })),
            _ => Ok(()),
        }
    }

    fn check_plate(&self) -> Result<(), Refusal> {
        let Some(plate) = &self.plate else { return Ok(()) };
        for (field, mass) in [("plate_max", &plate.max), ("plate_d", &plate.d_min)] {
            if !mass.value.is_positive() {
                return Err(Refusal::from(Refused::RatingNotPositive { mass: mass.clone() }).at(field));
            }
        }
        if plate.d_min >= plate.max {
            return Err(Refusal::from(Refused::DivisionTooLarge {
                d_min: plate.d_min.clone(),
                max: plate.max.clone(),
            }));
        }
        Ok(())
    }

    fn check_build(&self) -> Result<(), Refusal> {
        let positive = |field: &str, value: Option<&Decimal>| match value {
            Some(value) if !value.is_positive() => {
                Err(Refusal::from(Refused::ValueNotPositive { value: value.clone() }).at(field))
            }
            _ => Ok(()),
        };
        let build = &self.build;
        if let Some(cells) = &build.cells {
            if !(1..=16).contains(&cells.count) {
                return Err(Refusal::from(Refused::CellsOutOfRange));
            }
            positive("cell_e_max", Some(&cells.e_max.value))?;
            positive("cell_sensitivity", cells.sensitivity_mv_v.as_ref())?;
            positive("cell_v_min", cells.v_min.as_ref().map(|v| &v.value))?;
            positive("cell_y", cells.y.as_ref())?;
            positive("cell_dr", cells.dr.as_ref().map(|dr| &dr.value))?;
            positive("cell_z", cells.z.as_ref())?;
        }
        positive("excitation", build.excitation_v.as_ref())?;
        positive("lever_ratio", build.lever_ratio.as_ref())?;
        positive("reserve", build.reserve.as_ref())?;
        for (field, mass) in
            [("dead_load", build.dead_load.as_ref()), ("stays_on", build.stays_on.as_ref().map(|s| &s.mass))]
        {
            if mass.is_some_and(|m| m.value.is_negative()) {
                return Err(Refusal::from(Refused::NegativeLoad).at(field));
            }
        }
        if let Some((low, high)) = build.indicator.as_ref().and_then(|i| i.input_mv.as_ref())
            && low >= high
        {
            return Err(Refusal::from(Refused::LowestInputOutOfRange));
        }
        Ok(())
    }
}

/// Max and division for cells without a plate: Σ E_max / (R · reserve), down to two digits, in at
/// most 3000 divisions of the series.
fn proposed(cells: &Cells, lever: Option<&Decimal>, reserve: Option<&Decimal>) -> Option<(Mass, Mass)> {
    let (one, two) = (Decimal::from(1u32), Decimal::from(2u32));
    let share = lever.unwrap_or(&one) * reserve.unwrap_or(&two);
    let usable =
        cells.e_max.times(&Decimal::from(cells.count)).value.quotient(&share).filter(Decimal::is_positive)?;
    let size = i64::try_from(usable.floor().to_string().len()).unwrap_or(1);
    let unit = Decimal::ten_to(size - 2);
    let max = &usable.quotient(&unit)?.floor() * &unit;
    let least = max.quotient(&Decimal::from(3000u32))?;
    let d = crate::quantity::Division::series_from(&least)
        .find(|d| max.quotient(d.value()).is_some_and(|n| n.is_whole()))?;
    Some((Mass::new(max, cells.e_max.unit), Mass::new(d.value().clone(), cells.e_max.unit)))
}

crate::refusals! {
    enum Refused {
        Missing { field: String } = "missing": text!("scale-sheet-the-scale-needs-its-field", field);
        FieldTooLong { field: String, longest_field: usize } = "bad_text":
            text!("scale-sheet-field-at-most-longest-field", field, longest_field);
        AddressTooLong { most_lines: usize, longest_field: usize } = "bad_text" at "owner_address":
            text!("scale-sheet-an-address-has-at-most", most_lines, longest_field);
        NoYearOfMake = "out_of_range" at "made": text!("scale-sheet-a-year-of-make-has");
        TooManyWires { most_wires: usize, longest_field: usize } = "bad_text" at "wiring":
            text!("scale-sheet-at-most-most-wires-wires", most_wires, longest_field);
        PadsOutOfRange { most_pads: u8 } = "out_of_range" at "pads":
            text!("scale-sheet-a-scale-has-1-to", most_pads);
        NoWorkingLoad { load: Mass } = "out_of_range" at "working_load":
            text!("scale-sheet-a-working-load-lies-above", load);
        RepeatsOutOfRange { most_repeats: u8 } = "out_of_range" at "repeats":
            text!("scale-sheet-one-weighing-tells-nothing-none", most_repeats);
        IntervalOutOfRange { most_months: u8 } = "out_of_range" at "interval_months":
            text!("scale-sheet-the-interval-is-1-to", most_months);
        FieldWidthOutOfRange = "out_of_range" at "field_width": text!("scale-sheet-an-entry-field-has-3");
        NoRating = "missing" at "plate_max": text!("scale-sheet-give-the-plates-figures-or");
        MassNotPositive { mass: Mass } = "not_positive": text!("scale-sheet-mass-is-not-above-zero", mass);
        FinerRangeTooLong { max: Mass } = "out_of_range" at "fine_max":
            text!("scale-sheet-the-finer-range-ends-below", max);
        FinerRangeTooCoarse { d: Mass } = "out_of_range" at "fine_d":
            text!("scale-sheet-the-finer-range-has-a", d);
        RatingNotPositive { mass: Mass } = "not_positive": text!("scale-sheet-mass-is-not-above-zero-2", mass);
        DivisionTooLarge { d_min: Mass, max: Mass } = "division_too_large" at "plate_d":
            text!("scale-sheet-a-smallest-division-of-d", d_min, max);
        ValueNotPositive { value: Decimal } = "not_positive":
            text!("scale-sheet-value-is-not-above-zero", value);
        CellsOutOfRange = "out_of_range" at "cell_count": text!("scale-sheet-a-platform-has-1-to");
        NegativeLoad = "negative_load": text!("scale-sheet-a-load-cannot-be-below");
        LowestInputOutOfRange = "out_of_range" at "input_low": text!("scale-sheet-the-lowest-input-must-lie");
    }
}
