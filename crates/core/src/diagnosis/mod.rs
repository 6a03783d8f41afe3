//! What is wrong with a scale, told from readings: causes ranked with a probability, the readings
//! that speak for each, the cheapest next test that separates the first two, and what adjusting can
//! and cannot cure.
//!
//! Each cause is a model of the errors: a sum of shapes over the loads (a slope, a bow, a knee …)
//! whose sizes are normal with a scale of the cause, on top of what a sound scale may have. The
//! marginal likelihood of the readings weighs fit against freedom by itself. Priors stand in
//! `causes.json`, the one table of them. Source: JCGM 101:2008 and JCGM 106:2012 for the use of
//! probabilities as states of knowledge; the signs of each fault are those of practice.

mod causes;
mod evidence;
mod fit;
mod job;
mod model;
mod next;
mod outlook;
mod which;

pub use causes::{Cause, CauseInfo, Deed, Priors, table};
pub use evidence::{Diagnosis, Pointers, Ranked, Spoken, diagnose};
pub use job::{diagnose_job, worst_pad};
pub use model::{Facts, Seen, soak};
pub use next::NextTest;
pub use outlook::{Choices, Outlook, OutlookPoint, choices};
pub use which::{OtherWeight, which_weight};
