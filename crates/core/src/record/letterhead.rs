//! What stands on the paper of a workshop.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::assessment::{Assessment, Standing};
use crate::journal::{JobState, Outcome};
use crate::refusal::Refusal;
use crate::wording::Language;

/// Most lines under the name.
const MOST_LINES: usize = 6;
/// Longest line and longest closing text, in characters.
const LONGEST: (usize, usize) = (120, 1_200);

/// Letterhead, texts and language.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(default)]
pub struct Letterhead {
    /// The name, where it is not the workshop's.
    pub name: String,
    /// Address, telephone, accreditation: one a line.
    pub lines: Vec<String>,
    /// A text at the end of every sheet.
    pub closing: String,
    /// Language of the sheets.
    pub language: Language,
    /// Country of the workshop, two letters. Source: ISO 3166-1.
    pub country: String,
}

impl Letterhead {
    /// Checks that it fits onto paper.
    ///
    /// # Errors
    /// A [`Refusal`] at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        let long = |field: &str, most: usize| Refusal::from(Refused::TooLong { most }).at(field);
        if self.lines.len() > MOST_LINES {
            return Err(Refusal::from(Refused::TooManyLines { most_lines: MOST_LINES }));
        }
        if self.name.chars().count() > LONGEST.0 {
            return Err(long("name", LONGEST.0));
        }
        if self.lines.iter().any(|l| l.chars().count() > LONGEST.0) {
            return Err(long("lines", LONGEST.0));
        }
        let known = self.country.is_empty()
            || (self.country.len() == 2 && self.country.bytes().all(|b| b.is_ascii_uppercase()));
        if !known {
            return Err(Refusal::from(Refused::NotACountry));
        }
        if self.closing.chars().count() > LONGEST.1 {
            return Err(long("closing", LONGEST.1));
        }
        Ok(())
    }
}

/// What a record needs to be a certificate of the workshop that keeps it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct RecordTerms {
    /// It waits for a reviewer's approval.
    pub approval: bool,
    /// It came as a file from elsewhere: whatever it says, it is no record of this workshop.
    pub foreign: bool,
}

impl RecordTerms {
    /// As the record was signed; where its journal is older than that rule, as the workshop asks now.
    pub fn of(state: &JobState, workshop_approves: bool, foreign: bool) -> Self {
        Self { approval: state.review.approval.unwrap_or(workshop_approves), foreign }
    }
}

/// What a record lacks to be a calibration certificate. Source: ISO/IEC 17025:2017, 7.8.2 and 7.8.4.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Lack {
    /// It came from elsewhere.
    Foreign,
    /// It is not signed.
    Open,
    /// It is not approved.
    Unapproved,
    /// The scale was not proved.
    Unproved,
    /// Not every load was made of weights with a certificate in force.
    Uncertified,
    /// The uncertainty is not known for every reading.
    NoU,
    /// No temperature was read.
    NoConditions,
}

impl Lack {
    /// The key of its words.
    pub const fn key(self) -> &'static str {
        match self {
            Self::Open => "why_open",
            Self::Foreign => "why_foreign",
            Self::Unapproved => "why_unapproved",
            Self::Unproved => "why_unproved",
            Self::Uncertified => "why_uncertified",
            Self::NoU => "why_no_u",
            Self::NoConditions => "why_no_conditions",
        }
    }

    pub(crate) fn of_standing(assessed: &Assessment, terms: RecordTerms) -> impl Iterator<Item = Self> {
        let standing = assessed.review.standing;
        let open = !matches!(standing, Standing::Signed | Standing::Approved);
        let unapproved = terms.approval && standing == Standing::Signed;
        [
            terms.foreign.then_some(Self::Foreign),
            open.then_some(Self::Open),
            unapproved.then_some(Self::Unapproved),
            (assessed.outcome == Outcome::NotProven).then_some(Self::Unproved),
        ]
        .into_iter()
        .flatten()
    }
}

crate::refusals! {
    enum Refused {
        TooLong { most: usize } = "too_long": text!("letterhead-form-at-most-most-characters-fit", most);
        TooManyLines { most_lines: usize } = "too_long" at "lines":
            text!("letterhead-form-at-most-most-lines-lines", most_lines);
        NotACountry = "not_a_country" at "country": text!("letterhead-form-not-a-country");
    }
}
