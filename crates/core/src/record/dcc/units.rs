//! Units as D-SI writes them. Mass has four of them; what is in another is told in kilograms, exactly.

use crate::quantity::{Mass, Unit};

const KNOWN: [(Unit, &str); 4] =
    [(Unit::Kg, "\\kilogram"), (Unit::G, "\\gram"), (Unit::Mg, "\\milli\\gram"), (Unit::T, "\\tonne")];

/// Degrees Celsius, per cent, hectopascal.
pub const CELSIUS: &str = "\\degreecelsius";
/// Relative humidity.
pub const PERCENT: &str = "\\percent";
/// Pressure.
pub const HECTOPASCAL: &str = "\\hecto\\pascal";

/// A mass in a unit that D-SI knows, with that unit.
pub fn told(mass: &Mass) -> (Mass, &'static str) {
    match KNOWN.iter().find(|(unit, _)| *unit == mass.unit) {
        Some((_, text)) => (mass.clone(), text),
        None => (mass.to(Unit::Kg), "\\kilogram"),
    }
}

/// The unit of mass that a text means.
pub fn mass_unit(text: &str) -> Option<Unit> {
    KNOWN.iter().find(|(_, known)| *known == text.trim()).map(|(unit, _)| *unit)
}
