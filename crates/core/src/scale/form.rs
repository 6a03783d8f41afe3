//! A scale's sheet as it is typed: text until here, every field refused at its place.

use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::sheet::{Build, FineRange, HouseTests, ProfileRef, ScaleKind, ScaleSheet, StaysOn};
use crate::adjust::Site;
use crate::keying::RangeMode;
use crate::measurement::DecisionRule;
use crate::quantity::{Decimal, Division, Mass, Range, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::scale::setup::{Cells, Indicator, Plate};
use crate::tolerance::{HouseForm, Scheme, Tolerance};
use crate::wording::Text;

/// A scale as it is typed. Empty text: not known.
#[derive(Clone, Debug, Deserialize, ToSchema)]
pub struct SheetForm {
    /// Identity, made by the client.
    pub id: Uuid,
    /// What its owner calls it.
    pub name: String,
    /// Owner.
    pub owner: String,
    /// The owner's address, in lines.
    #[serde(default)]
    pub owner_address: String,
    /// Place.
    #[serde(default)]
    pub place: String,
    /// Kind.
    pub kind: ScaleKind,
    /// Serial number.
    #[serde(default)]
    pub serial: String,
    /// Indicator.
    #[serde(default)]
    pub indicator: String,
    /// Year of make.
    #[serde(default)]
    pub made: String,
    /// Unit where none is typed.
    pub unit: Unit,
    /// Rated Max; empty with `plate_d`: it has no plate.
    #[serde(default)]
    pub plate_max: String,
    /// Smallest division of the plate.
    #[serde(default)]
    pub plate_d: String,
    /// Used for trade.
    pub trade: bool,
    /// Tolerance.
    pub tolerance: Tolerance,
    /// Months between checks.
    pub interval_months: u8,
    /// Digits of the entry field.
    pub field_width: u8,
    /// The load at which it is really used.
    #[serde(default)]
    pub working_load: String,
    /// Which tests a rule of the house asks for beside the loads.
    #[serde(default)]
    pub house_tests: Option<HouseTests>,
    /// How the uncertainty enters its verdicts.
    #[serde(default)]
    pub decision: DecisionRule,
    /// Pads.
    #[serde(default)]
    pub pads: Option<u8>,
    /// How two ranges work; one range where it has one.
    #[serde(default)]
    pub mode: RangeMode,
    /// Upper end of the finer range.
    #[serde(default)]
    pub fine_max: String,
    /// Division of the finer range.
    #[serde(default)]
    pub fine_d: String,
    /// It has a calibration switch or a cover; none: as its kind usually has.
    #[serde(default)]
    pub calibration_switch: Option<bool>,
    /// The house rule as it is typed, where the tolerance is one.
    #[serde(default)]
    pub house: Option<HouseForm>,
    /// Seal points, one a line.
    #[serde(default)]
    pub seal_points: String,
    /// Wires with their colours, one a line.
    #[serde(default)]
    pub wiring: String,
    /// Where it is used.
    #[serde(default)]
    pub site: Option<Site>,
    /// How it is keyed.
    #[serde(default)]
    pub profile: Option<ProfileRef>,
    /// Number of cells.
    #[serde(default)]
    pub cell_count: String,
    /// Capacity of each.
    #[serde(default)]
    pub cell_e_max: String,
    /// Sensitivity, mV/V.
    #[serde(default)]
    pub cell_sensitivity: String,
    /// v_min.
    #[serde(default)]
    pub cell_v_min: String,
    /// Y, where v_min is not given.
    #[serde(default)]
    pub cell_y: String,
    /// n_LC.
    #[serde(default)]
    pub cell_n_lc: String,
    /// Dead load output return DR.
    #[serde(default)]
    pub cell_dr: String,
    /// Z, where DR is not given.
    #[serde(default)]
    pub cell_z: String,
    /// Excitation, V.
    #[serde(default)]
    pub excitation: String,
    /// Lever ratio.
    #[serde(default)]
    pub lever_ratio: String,
    /// Dead load.
    #[serde(default)]
    pub dead_load: String,
    /// What always stays on it, in words.
    #[serde(default)]
    pub stays_on_what: String,
    /// Its mass.
    #[serde(default)]
    pub stays_on: String,
    /// Overload reserve.
    #[serde(default)]
    pub reserve: String,
    /// Smallest signal a division, µV.
    #[serde(default)]
    pub smallest_uv: String,
    /// Lowest input, mV.
    #[serde(default)]
    pub input_low: String,
    /// Highest input, mV.
    #[serde(default)]
    pub input_high: String,
    /// Internal counts from zero to Max.
    #[serde(default)]
    pub span_counts: String,
    /// Most divisions that it shows.
    #[serde(default)]
    pub max_divisions: String,
}

impl SheetForm {
    /// The sheet.
    ///
    /// # Errors
    /// A [`Refusal`] at its field.
    pub fn read(self) -> Result<ScaleSheet, Refusal> {
        let trimmed = |text: &str| text.trim().to_owned();
        let mut wrong = Vec::new();
        let made = kept(&mut wrong, whole("made", &self.made));
        let plate = self.plate(&mut wrong);
        let working_load = kept(&mut wrong, mass("working_load", &self.working_load, self.unit));
        let build = self.build(&mut wrong);
        let fine = kept(&mut wrong, self.fine());
        let mut tolerance = self.tolerance.clone();
        if let (Scheme::House, Some(form)) = (tolerance.scheme, &self.house) {
            tolerance.house = kept(&mut wrong, form.read(self.unit).map(Some)).or(tolerance.house);
        }
        let sheet = ScaleSheet {
            id: self.id,
            name: trimmed(&self.name),
            owner: trimmed(&self.owner),
            owner_address: self.owner_address.replace('\r', "").trim().to_owned(),
            place: trimmed(&self.place),
            kind: self.kind,
            serial: trimmed(&self.serial),
            indicator: trimmed(&self.indicator),
            made: made.map(|year| u16::try_from(year).unwrap_or(u16::MAX)),
            plate,
            fine,
            working_load,
            decision: self.decision,
            house_tests: self.house_tests,
            practice: false,
            build,
            pads: self.pads.unwrap_or(1),
            calibration_switch: self.calibration_switch,
            wiring: self.wiring.lines().map(trimmed).filter(|l| !l.is_empty()).collect(),
            seal_points: self.seal_points.lines().map(trimmed).filter(|l| !l.is_empty()).collect(),
            site: self.site,
            profile: self.profile,
            trade: self.trade,
            tolerance,
            interval_months: self.interval_months,
            field_width: self.field_width,
        };
        for refusal in sheet.checks().into_iter().chain(on_the_series(&sheet)) {
            // What could not be read at all is told once; a plate that is half read is not called missing.
            let plate = |w: &Refusal| matches!(w.field.as_deref(), Some("plate_max" | "plate_d"));
            let half = refusal.code == "missing" && plate(&refusal) && wrong.iter().any(plate);
            if !half && wrong.iter().all(|w: &Refusal| w.field != refusal.field) {
                wrong.push(refusal);
            }
        }
        Refusal::all(wrong).map_or(Ok(sheet), Err)
    }

    /// The finer of two ranges.
    fn fine(&self) -> Result<Option<FineRange>, Refusal> {
        if self.mode == RangeMode::Single {
            return Ok(None);
        }
        match (mass("fine_max", &self.fine_max, self.unit)?, mass("fine_d", &self.fine_d, self.unit)?) {
            (Some(max), Some(d)) => Ok(Some(FineRange { mode: self.mode, range: Range { max, d } })),
            (max, _) => Err(Refusal::from(Refused::HalfAFinerRange).at(if max.is_none() {
                "fine_max"
            } else {
                "fine_d"
            })),
        }
    }

    fn plate(&self, wrong: &mut Vec<Refusal>) -> Option<Plate> {
        let before = wrong.len();
        let max = kept(wrong, mass("plate_max", &self.plate_max, self.unit));
        let d_min = kept(wrong, mass("plate_d", &self.plate_d, self.unit));
        match (max, d_min) {
            (Some(max), Some(d_min)) => return Some(Plate { max, d_min }),
            (None, None) => {}
            (max, _) if wrong.len() == before => {
                let field = if max.is_none() { "plate_max" } else { "plate_d" };
                let says = text!("form-a-plate-says-both-leave");
                wrong.push(Refusal::from(Refused::Missing { says }).at(field));
            }
            _ => {}
        }
        None
    }

    fn build(&self, wrong: &mut Vec<Refusal>) -> Build {
        Build {
            cells: self.cells(wrong),
            excitation_v: kept(wrong, number("excitation", &self.excitation)),
            lever_ratio: kept(wrong, number("lever_ratio", &self.lever_ratio)),
            dead_load: kept(wrong, mass("dead_load", &self.dead_load, self.unit)),
            stays_on: kept(wrong, mass("stays_on", &self.stays_on, self.unit))
                .map(|mass| StaysOn { what: self.stays_on_what.trim().to_owned(), mass }),
            indicator: self.indicator_figures(wrong),
            reserve: kept(wrong, number("reserve", &self.reserve)),
        }
    }

    /// Every field of the cells is read, so that all that is wrong with them is told at once.
    fn cells(&self, wrong: &mut Vec<Refusal>) -> Option<Cells> {
        let before = wrong.len();
        let count = kept(wrong, whole("cell_count", &self.cell_count));
        let e_max = kept(wrong, mass("cell_e_max", &self.cell_e_max, self.unit));
        let sensitivity_mv_v = kept(wrong, number("cell_sensitivity", &self.cell_sensitivity));
        let v_min = kept(wrong, mass("cell_v_min", &self.cell_v_min, self.unit));
        let y = kept(wrong, number("cell_y", &self.cell_y));
        let n_lc = kept(wrong, whole("cell_n_lc", &self.cell_n_lc));
        let dr = kept(wrong, mass("cell_dr", &self.cell_dr, self.unit));
        let z = kept(wrong, number("cell_z", &self.cell_z));
        let others = sensitivity_mv_v.is_some()
            || v_min.is_some()
            || y.is_some()
            || n_lc.is_some()
            || dr.is_some()
            || z.is_some();
        let any = others || e_max.is_some() || count.is_some();
        if wrong.len() > before {
            return None;
        }
        let (Some(count), Some(e_max)) = (count, e_max.clone()) else {
            if any {
                let field = if e_max.is_some() || !others { "cell_count" } else { "cell_e_max" };
                let says = text!("form-cells-need-their-number-and");
                wrong.push(Refusal::from(Refused::Missing { says }).at(field));
            }
            return None;
        };
        let count = u32::try_from(count).unwrap_or(u32::MAX);
        Some(Cells { count, e_max, sensitivity_mv_v, v_min, y, n_lc, dr, z })
    }

    fn indicator_figures(&self, wrong: &mut Vec<Refusal>) -> Option<Indicator> {
        let before = wrong.len();
        let low = kept(wrong, number("input_low", &self.input_low));
        let high = kept(wrong, number("input_high", &self.input_high));
        let input_mv = match (low, high) {
            (Some(low), Some(high)) => Some((low, high)),
            (None, None) => None,
            (low, _) => {
                if wrong.len() == before {
                    let field = if low.is_some() { "input_high" } else { "input_low" };
                    wrong.push(Refusal::from(Refused::HalfAnInputRange).at(field));
                }
                None
            }
        };
        let figures = Indicator {
            smallest_uv: kept(wrong, number("smallest_uv", &self.smallest_uv)),
            input_mv,
            span_counts: kept(wrong, whole("span_counts", &self.span_counts)),
            max_divisions: kept(wrong, whole("max_divisions", &self.max_divisions)),
        };
        (figures != Indicator::default()).then_some(figures)
    }
}

/// What could be read; what could not is put down among what is wrong.
fn kept<T>(wrong: &mut Vec<Refusal>, read: Result<Option<T>, Refusal>) -> Option<T> {
    read.unwrap_or_else(|refusal| {
        wrong.push(refusal);
        None
    })
}

impl ScaleSheet {
    /// Checks a sheet that was just typed: that it makes sense, and that its division can be shown at all.
    ///
    /// # Errors
    /// Every [`Refusal`], at its field.
    pub fn check_typed(&self) -> Result<(), Refusal> {
        Refusal::all(self.checks().into_iter().chain(on_the_series(self))).map_or(Ok(()), Err)
    }
}

/// A division that no display can have is refused on the sheet already.
fn on_the_series(sheet: &ScaleSheet) -> Vec<Refusal> {
    let plate = sheet.plate.iter().map(|plate| ("plate_d", &plate.d_min));
    let fine = sheet.fine.iter().map(|fine| ("fine_d", &fine.range.d));
    let refused = |(field, d): (&str, &Mass)| {
        d.value.is_positive().then(|| Division::new(&d.value).err())?.map(|e| Refusal::from(e).at(field))
    };
    plate.chain(fine).filter_map(refused).collect()
}

fn mass(field: &str, text: &str, unit: Unit) -> Result<Option<Mass>, Refusal> {
    if text.trim().is_empty() {
        return Ok(None);
    }
    Ok(Some(parse_mass(text, unit, field)?))
}

fn number(field: &str, text: &str) -> Result<Option<Decimal>, Refusal> {
    let text = text.trim().replace(',', ".");
    if text.is_empty() {
        return Ok(None);
    }
    text.parse().map(Some).map_err(|_| {
        Refusal::from(Refused::NoNumber { string: text.chars().take(24).collect::<String>() }).at(field)
    })
}

fn whole(field: &str, text: &str) -> Result<Option<u64>, Refusal> {
    let text = text.trim().replace([' ', '\u{A0}', '\u{202F}'], "");
    if text.is_empty() {
        return Ok(None);
    }
    text.parse().map(Some).map_err(|_| {
        Refusal::from(Refused::NoWholeNumber { string: text.chars().take(24).collect::<String>() }).at(field)
    })
}

crate::refusals! {
    enum Refused {
        HalfAFinerRange = "missing": text!("form-a-finer-range-has-an");
        Missing { says: Text } = "missing": says;
        HalfAnInputRange = "missing": text!("form-an-input-range-has-two");
        NoNumber { string: String } = "not_a_number": text!("form-string-is-no-number-such", string);
        NoWholeNumber { string: String } = "not_a_number": text!("form-string-is-no-whole-number", string);
    }
}
