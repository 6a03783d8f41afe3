//! What may be wrong: causes, the ways in which each may show, how likely each is, and the reading that tells most.

mod act;
mod adjustment_options;
mod beside;
mod causes;
mod evidence;
mod frame;
mod next_test;
mod of_job;
mod pointers;
mod seen;
mod shape;
mod ways;
mod weigh;
mod weights;
mod whole;

pub use adjustment_options::{Choices, Outlook, OutlookPoint, choices};
pub use causes::{Cause, CauseInfo, Deed, Priors, table};
pub use evidence::{Diagnosis, Ranked, Spoken, diagnose};
pub use next_test::NextTest;
pub use of_job::{diagnose_job, worst_pad};
pub use pointers::Pointers;
pub use seen::{Blank, CountsExpected, Facts, Seen, Shown};
pub use weights::{OtherWeight, which_weight};
