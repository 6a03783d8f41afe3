//! Tolerances: the books' classes and tables, house rules, and which e a load belongs to.
//! The tables are data files beside this module, each row with its source.

mod arg;
mod class;
mod scheme;

pub use class::{Class, ClassBounds, ToleranceError, class_bounds};
pub use scheme::{House, HouseForm, Pick, Scheme, Step, TableRow, Tolerance};
