//! What may be wrong: causes, the ways in which each may show, how likely each is, and the reading that tells most.

mod act;
mod adjustment_options;
mod causes;
mod counter;
mod deck;
mod evidence;
mod fit;
mod law;
mod next_test;
mod of_job;
mod pairs;
mod pointers;
mod reading_set;
mod seen;
mod shape;
mod side_evidence;
mod slip;
mod ways;
mod weigh;
mod weights;
mod whitened;

pub use adjustment_options::{AdjustedPoint, AdjustmentOption, Choices, choices};
pub use causes::{Cause, CauseInfo, Deed, Priors, table};
pub use evidence::{Diagnosis, Ranked, Spoken, diagnose};
pub use next_test::NextTest;
pub use of_job::{diagnose_job, predicted_at_max, worst_pad};
pub use pointers::Pointers;
pub use seen::{Blank, CountsExpected, Facts, Seen, Shown, too_fine};
pub use weights::{OtherWeight, which_weight};
