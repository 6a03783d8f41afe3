//! Proving: from what was put on and what was shown to an error and a verdict.

mod corners;
mod error;
mod repeat;
mod uncertainty;
mod verdict;

pub use corners::{CornerJudged, CornerLoad, CornerWay, corner_load, corners, largest_from_centre};
pub use error::{
    ErrorInputs, ErrorOfIndication, ErrorOfIndicationError, KnownPiece, SubstitutionStep,
    error_of_indication, load_of, substituted_loads,
};
pub use repeat::{
    BothWays, BothWaysJudged, MinimumWeight, Repeatability, TestError, ZeroReturn, ZeroRule, both_ways,
    discriminates, minimum_weight, repeatability, spread, weighings, zero_return,
};
pub use uncertainty::{Budget, BudgetInputs, BudgetPiece, Terms, budget, coverage_factor, student};
pub use verdict::{Decision, DecisionRule, Verdict, decide};
