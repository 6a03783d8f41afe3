//! The scale's own sheet: what is known of it before anybody goes there.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::refusal::Refusal;
use crate::setup::Plate;
use crate::tolerance::Tolerance;

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
    pub const fn label(self) -> &'static str {
        match self {
            Self::Floor => "Floor platform",
            Self::Bench => "Bench scale",
            Self::Counting => "Counting scale",
            Self::Pads => "Wheel pads",
            Self::Vehicle => "Vehicle scale",
            Self::Hanging => "Hanging scale",
            Self::Hopper => "Hopper or tank",
            Self::Laboratory => "Laboratory balance",
            Self::Medical => "Infant or patient scale",
            Self::Pocket => "Pocket scale",
            Self::Panel => "Panel instrument",
        }
    }
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
    /// Where it stands.
    pub place: String,
    /// What sort it is.
    pub kind: ScaleKind,
    /// Serial number.
    pub serial: String,
    /// The indicator, as its plate calls it.
    pub indicator: String,
    /// What the platform's plate says.
    pub plate: Plate,
    /// Used for trade.
    pub trade: bool,
    /// The tolerance it is judged by.
    pub tolerance: Tolerance,
    /// Months from one check to the next, by the owner's rule.
    pub interval_months: u8,
    /// Digits in the indicator's entry field.
    pub field_width: u8,
}

impl ScaleSheet {
    /// Most months between two checks.
    pub const MOST_MONTHS: u8 = 120;
    /// Longest name, owner, place or serial, in characters.
    pub const LONGEST_TEXT: usize = 120;

    /// Checks that the sheet makes sense on its own.
    ///
    /// # Errors
    /// The first [`Refusal`], at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        for (field, text, needed) in [
            ("name", &self.name, true),
            ("owner", &self.owner, true),
            ("place", &self.place, false),
            ("serial", &self.serial, false),
            ("indicator", &self.indicator, false),
        ] {
            if needed && text.trim().is_empty() {
                return Err(Refusal::new("missing", format!("the scale needs its {field}")).at(field));
            }
            if text.chars().count() > Self::LONGEST_TEXT || text.chars().any(char::is_control) {
                return Err(Refusal::new("bad_text", format!("{field}: at most {} characters, no control characters", Self::LONGEST_TEXT)).at(field));
            }
        }
        for (field, mass) in [("plate_max", &self.plate.max), ("plate_d", &self.plate.d_min)] {
            if !mass.value.is_positive() {
                return Err(Refusal::new("not_positive", format!("{mass} is not above zero; a plate has figures above zero")).at(field));
            }
        }
        if self.plate.d_min >= self.plate.max {
            return Err(Refusal::new("division_too_large", format!("a smallest division of {} does not go with a Max of {}", self.plate.d_min, self.plate.max)).at("plate_d"));
        }
        if !(1..=Self::MOST_MONTHS).contains(&self.interval_months) {
            return Err(Refusal::new("out_of_range", format!("the interval is 1 to {} months", Self::MOST_MONTHS)).at("interval_months"));
        }
        if !(3..=12).contains(&self.field_width) {
            return Err(Refusal::new("out_of_range", "an entry field has 3 to 12 digits").at("field_width"));
        }
        self.tolerance.check(&self.plate.d_min, &self.plate.max).map_err(|error| Refusal::from(error).at("tolerance"))
    }
}
