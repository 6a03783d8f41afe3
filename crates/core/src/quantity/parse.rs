//! Reading a mass as people type it.

use std::sync::LazyLock;

use regex::Regex;

use super::decimal::Decimal;
use super::mass::{Mass, Unit, UnknownUnit};
use crate::refusal::Refusal;
use crate::wording::Text;

/// No mass typed here reaches this many of its unit: beyond it a slip is certain.
pub const MASS_LIMIT: u64 = 1_000_000_000_000;

/// Spaces that group digits or stand before a unit: space, no-break, thin and narrow no-break.
const SPACES: &str = r"[ \u{A0}\u{2009}\u{202F}]";

/// Why a typed mass was not understood. `column` is the field it was typed in.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ParseMassError {
    /// Not a number with an optional unit.
    NotAMass {
        /// The field.
        column: String,
        /// What was typed, cut to a readable length.
        text: String,
    },
    /// A number with a unit that does not exist.
    UnknownUnit {
        /// The field.
        column: String,
        /// The unit.
        unit: UnknownUnit,
    },
    /// A number beyond anything that is weighed.
    TooLarge {
        /// The field.
        column: String,
        /// What was typed, cut to a readable length.
        text: String,
    },
}

impl From<&ParseMassError> for Text {
    fn from(error: &ParseMassError) -> Self {
        let (ParseMassError::NotAMass { column, .. }
        | ParseMassError::UnknownUnit { column, .. }
        | ParseMassError::TooLarge { column, .. }) = error;
        text!("parse-mass-in-field", column, says = error.says())
    }
}

impl From<ParseMassError> for Text {
    fn from(error: ParseMassError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for ParseMassError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl ParseMassError {
    /// What is wrong, without the field, for a message that stands at it.
    pub fn says(&self) -> Text {
        match self {
            Self::NotAMass { text, .. } if text.trim().is_empty() => text!("parse-mass-needed"),
            Self::NotAMass { text, .. } => text!("parse-mass-not-a-mass", what = text),
            Self::UnknownUnit { unit, .. } => unit.into(),
            Self::TooLarge { text, .. } => text!("parse-mass-too-large", what = text),
        }
    }
}

static MASS: LazyLock<Regex> = LazyLock::new(|| {
    let pattern = format!(
        r"^([-\u{{2212}}]?)([0-9]{{1,3}}(?:{SPACES}[0-9]{{3}})+|[0-9]+)(?:[.,]([0-9]+))?{SPACES}?([^\s0-9.,+\-]+)?$"
    );
    #[expect(clippy::expect_used, reason = "the pattern is a constant; a test compiles it")]
    Regex::new(&pattern).expect("a constant pattern")
});

/// Reads `500`, `500 lb`, `0.5kg`, `1 250,5 g`: comma or point as the decimal mark, spaces that
/// group by three, never a comma as grouping. A number alone takes `default_unit`.
///
/// # Examples
/// ```
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let load = parse_mass("1 250,5 g", Unit::Kg, "load").unwrap();
/// assert_eq!(load.to_string(), "1250.5 g");
/// assert_eq!(load.to(Unit::Kg).to_string(), "1.2505 kg");
/// // A comma never groups.
/// assert!(parse_mass("1,250.5", Unit::Kg, "load").is_err());
/// ```
///
/// # Errors
/// [`ParseMassError`], naming `column`.
pub fn parse_mass(text: &str, default_unit: Unit, column: &str) -> Result<Mass, ParseMassError> {
    let shown = || text.chars().take(40).collect::<String>();
    let not_a_mass = || ParseMassError::NotAMass { column: column.to_owned(), text: shown() };
    let trimmed = text.trim();
    if trimmed.len() > 80 {
        return Err(not_a_mass());
    }
    let parts = MASS.captures(trimmed).ok_or_else(not_a_mass)?;
    let unit = match parts.get(4) {
        None => default_unit,
        Some(symbol) => symbol
            .as_str()
            .parse()
            .map_err(|unit| ParseMassError::UnknownUnit { column: column.to_owned(), unit })?,
    };
    let whole: String = parts[2].chars().filter(char::is_ascii_digit).collect();
    let sign = if parts[1].is_empty() { "" } else { "-" };
    let places = parts.get(3).map_or("0", |m| m.as_str());
    let value: Decimal = format!("{sign}{whole}.{places}").parse().map_err(|_| not_a_mass())?;
    if value.abs() >= Decimal::from(MASS_LIMIT) {
        return Err(ParseMassError::TooLarge { column: column.to_owned(), text: shown() });
    }
    Ok(Mass::new(value, unit))
}

impl From<ParseMassError> for Refusal {
    /// The field is named by where the message stands, never by the program's own name for it.
    fn from(error: ParseMassError) -> Self {
        let (code, column) = match &error {
            ParseMassError::NotAMass { column, .. } => ("not_a_mass", column),
            ParseMassError::UnknownUnit { column, .. } => ("unknown_unit", column),
            ParseMassError::TooLarge { column, .. } => ("too_large", column),
        };
        Self::because(code, error.says()).at(column).with("names", column.clone())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn nonsense_is_refused_and_names_its_column() {
        for text in [
            "", "kg", "ten", "1.2.3", "1,2,3", "1e30", "--5", "+5", "5 5", "1 2345", ".5", "5.", "5  kg",
            "12 50", "0x5", "∞", "5 kg kg",
        ] {
            let refused = parse_mass(text, Unit::Kg, "shown").unwrap_err().to_string();
            assert!(refused.starts_with("shown: "), "{text}: {refused}");
        }
        let refused = parse_mass(&format!("1{}", "0".repeat(30)), Unit::Kg, "load").unwrap_err();
        assert!(matches!(refused, ParseMassError::TooLarge { .. }));
    }

    #[test]
    fn a_minus_sign_of_either_kind_is_read() {
        for text in ["-0.5", "−0,5 kg"] {
            assert_eq!(parse_mass(text, Unit::Kg, "shown").unwrap().to_string(), "-0.5 kg");
        }
    }

    proptest! {
        #[test]
        fn what_a_mass_is_written_as_is_read_back(v in any::<i32>(), scale in 0i64..6, u in proptest::sample::select(Unit::ALL.to_vec())) {
            let mass = Mass::new(Decimal::new(i64::from(v), scale), u);
            let read = parse_mass(&mass.to_string(), Unit::T, "load").unwrap();
            prop_assert_eq!(&read.value, &mass.value);
            prop_assert_eq!(read.unit, mass.unit);
        }

        #[test]
        fn any_text_at_all_is_answered_without_panic(text in "\\PC{0,60}") {
            let _ = parse_mass(&text, Unit::Kg, "load");
        }
    }
}
