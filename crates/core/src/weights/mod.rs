//! Weights: the kit that is there, and the plan of which pieces to lift for which load.

mod kit;
mod plan;

pub(crate) use kit::UsedInstrument;
pub use kit::{
    Certificate, DUE_WARNING_DAYS, DueGrade, Enough, Form, Instrument, InstrumentKind, OwnClass, OwnRow,
    OwnTolerance, Piece, ReferenceObject, ShareOfPiece, TWO_PEOPLE_KG, Usable, WeighedBy, WeightClass,
    WeightError, class_that_does, due_grade, enough, nominals, reference_object, tolerance_of_sum,
    too_coarse, weight_tolerance,
};
pub(crate) use plan::MOST_ROUNDS;
pub use plan::{
    AsidePiece, CheckInputs, CheckLoad, CheckPlan, LoadLack, LoadReason, LoadingPlan, LockedStep,
    NEAR_DIVISIONS, NEAR_PER_CENT, PackingList, PackingPlace, Placement, PlanChoices, PlanInputs, PlanPiece,
    PlannedLoad, PlannedStep, Platform, RoundScale, Standing, Substitution, SubstitutionInputs,
    SubstitutionStep, Target, Thoroughness, Unreachable, check_loads, fewest_pieces, growth,
    judge_substitution, loading_plan, near_enough, pack, plan_check, plan_for_round, round_figure,
    substitution, to_borrow,
};
