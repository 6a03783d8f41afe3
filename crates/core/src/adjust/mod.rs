//! Zero and span: from internal counts to mass, by two points, by several, by a factor, or by an
//! internal weight; and what gravity does to it.

mod adequacy;
mod arithmetic;
mod gravity;
mod trim;

pub use adequacy::{Adequacy, AdequacyInputs, Prediction, SpanWeightRule, Table4, table4};
pub use arithmetic::{
    AdjustError, Curve, NewFactor, NewInternal, Point, TwoPoint, internal_weight, new_factor,
};
pub use gravity::{GravityError, GravityShift, Site, given_g, gravity};
pub use trim::{Trim, TrimMeans, TrimPosition, trim};
