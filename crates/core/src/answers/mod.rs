//! What a page asks of a job beside its assessment. The server answers from here, and so does the core in the
//! page.

mod entry;
mod judgement;
mod keying;
mod plan;
mod setup;

pub use entry::{NotTaken, next_entry};
pub use judgement::{JudgementReply, judgement_of};
pub use keying::{KeyingQuestion, KeyingReply, MessageQuestion, keying_of};
pub use plan::{PlanQuestion, PlanReply, Planner, plan_of};
pub use setup::{SetupQuestion, judged_setup};
