//! From what was put on and what the display shows to an error, its uncertainty and a verdict.

mod eccentricity;
mod error;
mod repeatability;
mod uncertainty;
mod verdict;

pub use eccentricity::{CornerJudged, CornerLoad, CornerLoadRule, corner_load, corners, largest_from_centre};
pub use error::{
    ErrorInputs, ErrorOfIndication, ErrorOfIndicationError, KnownPiece, SubstitutionStep,
    error_of_indication, load_of, substituted_loads,
};
pub use repeatability::{
    BothWays, BothWaysJudged, MinimumWeight, Repeatability, TestError, ZeroReturn, ZeroRule, both_ways,
    discriminates, minimum_weight, repeatability, spread, weighings, zero_return,
};
pub use uncertainty::{Budget, BudgetInputs, BudgetPiece, Terms, budget, coverage_factor, student};
pub use verdict::{Decision, DecisionRule, Verdict, decide};
