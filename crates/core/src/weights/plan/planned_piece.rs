//! A piece in a plan.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::quantity::{Mass, Unit};
use crate::weights::kit::Piece;

/// A piece in a plan.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct PlanPiece {
    /// Identity.
    pub id: Uuid,
    /// Serial or mark.
    pub serial: String,
    /// Nominal.
    pub nominal: Mass,
    /// Where it is kept.
    pub place: String,
    /// Its form, in words.
    pub form: String,
    /// Its mass in the scale's unit, for drawing.
    pub drawn: f64,
}

impl PlanPiece {
    /// A piece as a plan names it, its mass also in `unit`.
    pub fn of(piece: &Piece, unit: Unit) -> Self {
        Self {
            id: piece.id,
            serial: piece.serial.clone(),
            nominal: piece.nominal.clone(),
            place: piece.place.clone(),
            form: piece.form.name().into(),
            drawn: piece.nominal.value_in(unit).to_f64(),
        }
    }
}
