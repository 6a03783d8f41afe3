//! A person, and what a person may do.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;

/// What a person may do.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Works on scales.
    Technician,
    /// Reads and approves.
    Reviewer,
    /// Decides how the workshop works: who works here, who approves, what stands on paper.
    Manager,
    /// Sees everything and changes nothing: an auditor.
    Reader,
}

impl Role {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Technician, Self::Reviewer, Self::Manager, Self::Reader];

    /// As it is stored.
    pub(super) const fn text(self) -> &'static str {
        match self {
            Self::Technician => "technician",
            Self::Reviewer => "reviewer",
            Self::Manager => "manager",
            Self::Reader => "reader",
        }
    }

    fn of(text: &str) -> Result<Self, StoreError> {
        Self::ALL
            .into_iter()
            .find(|role| role.text() == text)
            .ok_or_else(|| StoreError::Unreadable(format!("“{text}” is no role")))
    }

    pub(super) fn all_of(texts: &[String]) -> Result<Vec<Self>, StoreError> {
        texts.iter().map(|text| Self::of(text)).collect()
    }
}

/// A person.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Person {
    /// Identity.
    pub id: Uuid,
    /// The workshop.
    pub workshop_id: Uuid,
    /// Its name.
    pub workshop: String,
    /// Name.
    pub name: String,
    /// Roles.
    pub roles: Vec<Role>,
}

impl Person {
    /// Whether the person has a role.
    pub fn is(&self, role: Role) -> bool {
        self.roles.contains(&role)
    }
}
