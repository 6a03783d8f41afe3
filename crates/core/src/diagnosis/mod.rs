//! What may be wrong: causes, models, evidence, and the test that tells them apart.

mod adjustment_options;
mod causes;
mod evidence;
mod fit;
mod model;
mod next_test;
mod of_job;
mod other_weight;

pub use adjustment_options::{Choices, Outlook, OutlookPoint, choices};
pub use causes::{Cause, CauseInfo, Deed, Priors, table};
pub use evidence::{Diagnosis, Pointers, Ranked, Spoken, diagnose};
pub use model::{Facts, Seen, soak};
pub use next_test::NextTest;
pub use of_job::{diagnose_job, worst_pad};
pub use other_weight::{OtherWeight, which_weight};
