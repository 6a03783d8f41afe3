//! The plan: loads to test at, the exact search for pieces, where they stand, substitution, a day's route.

mod cost;
mod exact_search;
mod loading;
mod loads;
mod placement;
mod planned_piece;
mod route;
mod substitution;
mod targets;

pub use loading::{LoadingPlan, PlanInputs, PlannedLoad, Target, Unreachable, loading_plan, to_borrow};
pub use loads::{AsidePiece, CheckPlan, LoadLack, LockedStep, PlanChoices, PlannedStep, plan_check};
pub use placement::{Placement, Platform, Standing};
pub use planned_piece::PlanPiece;
pub use route::{PackingList, PackingPlace, RoundScale, pack, plan_for_round};
pub(crate) use substitution::MOST_ROUNDS;
pub use substitution::{
    Substitution, SubstitutionInputs, SubstitutionStep, growth, judge_substitution, substitution,
};
pub use targets::{
    CheckInputs, CheckLoad, LoadReason, NEAR_DIVISIONS, NEAR_PER_CENT, Thoroughness, check_loads,
    fewest_pieces, near_enough, round_figure,
};
