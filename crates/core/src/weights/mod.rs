//! Weights: classes and their tolerances, pieces with their certificates, whether they are good
//! enough, and which of them to lift for which load.

mod class;
mod cost;
mod day;
mod enough;
mod grid;
mod loads;
mod piece;
mod plan;
mod planned;
mod since;
mod stand;
mod substitution;
mod targets;

pub use class::{WeightClass, WeightError, nominals, tolerance_of_sum, weight_tolerance};
pub use day::{PackingList, PackingPlace, RoundScale, pack, plan_for_round};
pub use enough::{
    DueGrade, Enough, ReferenceObject, ShareOfPiece, class_that_does, due_grade, enough, reference_object,
    too_coarse,
};
pub use loads::{AsidePiece, CheckPlan, LoadLack, LockedStep, PlanChoices, PlannedStep, plan_check};
pub use piece::{
    Certificate, DUE_WARNING_DAYS, Form, OwnClass, OwnRow, OwnTolerance, Piece, TWO_PEOPLE_KG, Usable,
    WeighedBy,
};
pub use plan::{LoadingPlan, PlanInputs, PlannedLoad, Target, Unreachable, loading_plan, to_borrow};
pub use planned::PlanPiece;
pub use stand::{Platform, Stand, Standing};
pub(crate) use substitution::MOST_ROUNDS;
pub use substitution::{
    Substitution, SubstitutionInputs, SubstitutionStep, growth, judge_substitution, substitution,
};
pub use targets::{
    CheckInputs, CheckLoad, LoadReason, Thoroughness, check_loads, fewest_pieces, near_enough, round_figure,
};
