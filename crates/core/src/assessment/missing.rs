//! What a job lacks.

use serde::Serialize;
use utoipa::ToSchema;

use crate::scale::Stage;
use crate::wording::Text;

/// Something that is missing.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Missing {
    /// Where it belongs.
    pub stage: Stage,
    /// What.
    pub says: Text,
    /// Without it the job cannot be closed.
    pub blocks: bool,
}
