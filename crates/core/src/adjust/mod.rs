//! Zero and span: from internal counts to mass, by two points, by several, by a factor, or by an
//! internal weight.

mod arithmetic;

pub use arithmetic::{AdjustError, Curve, NewFactor, NewInternal, Point, TwoPoint, internal_weight, new_factor};
