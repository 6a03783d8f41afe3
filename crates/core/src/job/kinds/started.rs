//! A job begins once.

use crate::journal::{Entry, JobState, entries};
use crate::refusal::Refusal;

use super::kind::Admitted;

impl Admitted for entries::Started {
    fn admit(&self, _: &[Entry], _: &JobState) -> Result<(), Refusal> {
        Err(Refusal::from(Refused::AlreadyStarted))
    }
}

crate::refusals! {
    enum Refused {
        AlreadyStarted = "already_started": text!("admit-the-job-has-begun-already");
    }
}
