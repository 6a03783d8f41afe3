//! What is put beside the work: remarks, surroundings, files, a slip that is put right.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kind::{Kind, Stamp};
use crate::journal::attachment::AttachedFile;
use crate::journal::conditions::{Conditions, Particulars};
use crate::journal::state::JobState;
use crate::wording::Text;

/// A remark for the record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Remarked {
    /// The remark.
    pub text: String,
}

impl Kind for Remarked {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.remarks.push(self.text.clone());
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-remark-what", what = self.text)
    }

    fn is_work(&self) -> bool {
        false
    }
}

/// What was around the scale was read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ConditionsRead {
    /// What.
    #[serde(flatten)]
    pub conditions: Conditions,
}

impl Kind for ConditionsRead {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.conditions.push(self.conditions.clone());
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-around-it-conditions", conditions = self.conditions.says())
    }
}

/// A photograph or a file is put beside the journal.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Attached {
    /// What.
    #[serde(flatten)]
    pub file: AttachedFile,
}

impl Kind for Attached {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        state.files.push(self.file.clone());
    }

    fn says(&self, _: &JobState) -> Text {
        text!("sentences-beside-it-file", file = self.file.says())
    }

    fn is_work(&self) -> bool {
        false
    }
}

/// A slip in what identifies the scale is put right.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SheetCorrected {
    /// As it is.
    pub to: Box<Particulars>,
    /// Why.
    pub reason: String,
}

impl Kind for SheetCorrected {
    fn take_effect(&self, _: &Stamp<'_>, state: &mut JobState) {
        self.to.put_into(&mut state.sheet);
    }

    fn says(&self, _: &JobState) -> Text {
        text!(
            "sentences-put-right-name-owner-place",
            name = self.to.name,
            owner = self.to.owner,
            place = self.to.place,
            serial = self.to.serial,
            reason = self.reason
        )
    }
}
