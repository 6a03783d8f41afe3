//! What every kind of entry can do.

use time::OffsetDateTime;
use uuid::Uuid;

use crate::journal::conditions::{Needs, Remark};
use crate::journal::state::JobState;
use crate::journal::values::{Signer, TOGETHER};
use crate::wording::Text;

/// Which entry it is, when it was made, and by whom.
pub struct Stamp<'a> {
    /// Identity of the entry.
    pub id: Uuid,
    /// When.
    pub at: OffsetDateTime,
    /// By whom.
    pub by: &'a Signer,
}

impl Stamp<'_> {
    /// What somebody says of the record.
    pub fn remark(&self, text: &str) -> Remark {
        Remark { by: self.by.name.clone(), at: self.at, text: text.to_owned() }
    }
}

/// A kind of entry.
pub trait Kind {
    /// What it does to the state of the job.
    fn take_effect(&self, at: &Stamp<'_>, state: &mut JobState);

    /// How the journal tells it.
    fn says(&self, state: &JobState) -> Text;

    /// The pad that it is about; 0: all of them.
    fn pad(&self) -> u8 {
        TOGETHER
    }

    /// How late it is among the steps of an adjustment, which rest on one another; none where it is none of them.
    fn rank(&self) -> Option<u8> {
        None
    }

    /// False where it leaves the work as it stood.
    fn is_work(&self) -> bool {
        true
    }

    /// Who may make it.
    fn needs(&self) -> Needs {
        Needs::Technician
    }
}
