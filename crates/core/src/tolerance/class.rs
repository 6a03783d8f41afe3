//! Accuracy classes and the limits that the books set for e and n.

use std::fmt;
use std::str::FromStr;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::quantity::{Book, Decimal, Mass, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::wording::{Between, Text};

/// Accuracy classes of OIML R 76-1 and NIST Handbook 44 (III L only there).
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
pub enum Class {
    /// Special.
    I,
    /// High.
    II,
    /// Medium.
    III,
    /// Ordinary.
    IIII,
    /// Large capacity, Handbook 44 only.
    #[serde(rename = "III L")]
    IIIL,
}

impl Class {
    /// Every class.
    pub const ALL: [Self; 5] = [Self::I, Self::II, Self::III, Self::IIII, Self::IIIL];

    /// As it is written.
    pub const fn symbol(self) -> &'static str {
        match self {
            Self::I => "I",
            Self::II => "II",
            Self::III => "III",
            Self::IIII => "IIII",
            Self::IIIL => "III L",
        }
    }

    /// The least Max_i / e_(i+1) of a multi-interval scale. Source: OIML R 76-1:2006, 3.3, table 4.
    pub const fn interval_floor(self) -> Option<u64> {
        match self {
            Self::I => Some(50_000),
            Self::II => Some(5_000),
            Self::III => Some(500),
            Self::IIII => Some(50),
            Self::IIIL => None,
        }
    }
}

impl fmt::Display for Class {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.symbol())
    }
}

impl FromStr for Class {
    type Err = ToleranceError;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        Self::ALL.into_iter().find(|class| class.symbol() == text).ok_or_else(|| {
            ToleranceError::NoSuchClass {
                class: text.chars().take(12).collect(),
                scheme: text!("class-any-book"),
            }
        })
    }
}

impl Book {
    /// Where its class limits stand.
    pub const fn class_source(self) -> &'static str {
        match self {
            Self::R76 => "OIML R 76-1:2006, table 3",
            Self::Hb44 => "NIST Handbook 44, 2.20, table 3",
        }
    }
}

/// The limits for one class at one e.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ClassBounds {
    /// Fewest divisions.
    pub n_min: u64,
    /// Most divisions; `None` where there is no upper limit.
    pub n_max: Option<u64>,
    /// Min, the smallest load to be weighed; `None` where the book gives none.
    pub min_load: Option<Mass>,
    /// Source of the row.
    pub source: String,
}

impl ClassBounds {
    /// True where n divisions lie within the class.
    pub fn holds(&self, n: u64) -> bool {
        n >= self.n_min && self.n_max.is_none_or(|most| n <= most)
    }
}

#[derive(Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
enum Family {
    Any,
    Metric,
    Pound,
    Ounce,
}

impl Family {
    const fn of(unit: Unit) -> Self {
        match unit {
            Unit::Mg | Unit::G | Unit::Kg | Unit::T => Self::Metric,
            Unit::Lb | Unit::Tn => Self::Pound,
            Unit::Oz => Self::Ounce,
        }
    }
}

#[derive(Deserialize)]
struct RawRow {
    book: Book,
    class: Class,
    family: Family,
    #[serde(default)]
    above: bool,
    from: String,
    to: Option<String>,
    n_min: u64,
    n_max: Option<u64>,
    min_e: Option<u64>,
    source: String,
}

struct Row {
    raw: RawRow,
    from: Mass,
    to: Option<Mass>,
}

#[derive(Deserialize)]
struct Table {
    rows: Vec<RawRow>,
}

static ROWS: LazyLock<Vec<Row>> = LazyLock::new(|| {
    #[expect(clippy::expect_used, reason = "the table ships with the program; a test reads it")]
    let table: Table = serde_json::from_str(include_str!("classes.json")).expect("classes.json");
    let mass = |text: &str| {
        #[expect(clippy::expect_used, reason = "the table ships with the program; a test reads it")]
        parse_mass(text, Unit::G, "e").expect("classes.json")
    };
    table
        .rows
        .into_iter()
        .map(|raw| Row { from: mass(&raw.from), to: raw.to.as_deref().map(mass), raw })
        .collect()
});

/// The limits of n for class and e; an e that no row holds is refused, not guessed. Sources: OIML
/// R 76-1:2006 table 3; NIST Handbook 44 §2.20 table 3 (pound and ounce rows for e in lb and oz).
///
/// # Errors
/// [`ToleranceError::NoRow`] with the rows there are, [`ToleranceError::NotPositive`].
pub fn class_bounds(book: Book, class: Class, e: &Mass) -> Result<ClassBounds, ToleranceError> {
    if !e.value.is_positive() {
        return Err(ToleranceError::NotPositive {
            what: text!("class-e"),
            value: text!("adjustment-mass", mass = e),
        });
    }
    let family = Family::of(e.unit);
    let mut offered = Vec::new();
    for row in ROWS.iter().filter(|r| r.raw.book == book && r.raw.class == class) {
        if row.raw.family != Family::Any && row.raw.family != family {
            continue;
        }
        let from_here = if row.raw.above { *e > row.from } else { *e >= row.from };
        if from_here && row.to.as_ref().is_none_or(|to| e <= to) {
            return Ok(ClassBounds {
                n_min: row.raw.n_min,
                n_max: row.raw.n_max,
                min_load: row.raw.min_e.map(|times| e.times(&Decimal::from(times))),
                source: row.raw.source.clone(),
            });
        }
        offered.push(match &row.to {
            Some(to) => text!("class-from-to-to", from = row.from, to),
            None if row.raw.above => text!("class-above", from = row.from),
            None => text!("class-from", from = row.from),
        });
    }
    Err(ToleranceError::NoRow {
        class,
        e: e.clone(),
        rows: if offered.is_empty() {
            text!("class-no-row-at-all-in")
        } else {
            Text::list(offered, Between::Semicolon)
        },
    })
}

/// Why a tolerance cannot be told.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ToleranceError {
    /// The class does not exist in the scheme.
    NoSuchClass {
        /// The class.
        class: String,
        /// The scheme.
        scheme: Text,
    },
    /// No row of the class table holds this e.
    NoRow {
        /// The class.
        class: Class,
        /// The verification interval.
        e: Mass,
        /// The rows there are.
        rows: Text,
    },
    /// A house rule without any term.
    NoTerm,
    /// The user's table ends below the load.
    BeyondTable {
        /// Where it ends; none: it has no row.
        end: Option<Mass>,
        /// The load.
        load: Mass,
    },
    /// The rows of the user's table do not rise.
    TableOrder {
        /// Which row, counted from 1.
        row: usize,
    },
    /// A figure that must be above zero is not.
    NotPositive {
        /// Which figure.
        what: Text,
        /// Its value.
        value: Text,
    },
    /// Something that the scheme needs was not given.
    Missing {
        /// What it needs.
        what: Text,
    },
}

impl From<&ToleranceError> for Text {
    fn from(error: &ToleranceError) -> Self {
        match error {
            ToleranceError::NoSuchClass { class, scheme } => text!("tolerance-no-such-class", class, scheme),
            ToleranceError::NoRow { class, e, rows } => text!("tolerance-no-row", class, e, rows),
            ToleranceError::NoTerm => text!("tolerance-no-term"),
            ToleranceError::BeyondTable { end: Some(end), load } => {
                text!("tolerance-beyond-table", end, load)
            }
            ToleranceError::BeyondTable { end: None, load } => text!("tolerance-empty-table", load),
            ToleranceError::TableOrder { row } => text!("tolerance-table-order", row),
            ToleranceError::NotPositive { what, value } => text!("tolerance-not-positive", what, value),
            ToleranceError::Missing { what } => text!("tolerance-missing", what),
        }
    }
}

impl From<ToleranceError> for Text {
    fn from(error: ToleranceError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for ToleranceError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl From<ToleranceError> for Refusal {
    fn from(error: ToleranceError) -> Self {
        let code = match error {
            ToleranceError::NoSuchClass { .. } => "no_such_class",
            ToleranceError::NoRow { .. } => "no_row",
            ToleranceError::NoTerm => "no_term",
            ToleranceError::BeyondTable { .. } => "beyond_table",
            ToleranceError::NotPositive { .. } => "not_positive",
            ToleranceError::Missing { .. } => "missing",
            ToleranceError::TableOrder { .. } => "table_order",
        };
        Self::because(code, Text::from(error))
    }
}
