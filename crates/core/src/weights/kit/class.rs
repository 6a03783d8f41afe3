//! Tolerances of weights by class and nominal, from one data file. A nominal that the table lacks
//! is an error, not a guess.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::quantity::{Decimal, Mass, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Accuracy classes of weights.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
pub enum WeightClass {
    /// OIML R 111-1.
    E1,
    /// OIML R 111-1.
    E2,
    /// OIML R 111-1.
    F1,
    /// OIML R 111-1.
    F2,
    /// OIML R 111-1.
    M1,
    /// OIML R 111-1.
    #[serde(rename = "M1-2")]
    M12,
    /// OIML R 111-1.
    M2,
    /// OIML R 111-1.
    #[serde(rename = "M2-3")]
    M23,
    /// OIML R 111-1.
    M3,
    /// NIST Handbook 105-1.
    F,
}

impl WeightClass {
    /// Every class, the finest first.
    pub const ALL: [Self; 10] =
        [Self::E1, Self::E2, Self::F1, Self::F2, Self::M1, Self::M12, Self::M2, Self::M23, Self::M3, Self::F];

    /// As it is written.
    pub const fn symbol(self) -> &'static str {
        match self {
            Self::E1 => "E1",
            Self::E2 => "E2",
            Self::F1 => "F1",
            Self::F2 => "F2",
            Self::M1 => "M1",
            Self::M12 => "M1-2",
            Self::M2 => "M2",
            Self::M23 => "M2-3",
            Self::M3 => "M3",
            Self::F => "F",
        }
    }

    /// From its symbol.
    pub fn of(symbol: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|class| class.symbol().eq_ignore_ascii_case(symbol.trim()))
    }
}

#[derive(Deserialize)]
struct RawTable {
    class: WeightClass,
    unit: Unit,
    source: String,
    mpe: Vec<(String, Decimal)>,
}

#[derive(Deserialize)]
struct Raw {
    tables: Vec<RawTable>,
}

struct Table {
    class: WeightClass,
    source: String,
    rows: Vec<(Mass, Mass)>,
}

static TABLES: LazyLock<Vec<Table>> = LazyLock::new(|| {
    #[expect(clippy::expect_used, reason = "the table ships with the program; a test reads it")]
    let raw: Raw = serde_json::from_str(include_str!("classes.json")).expect("classes.json");
    let read = |t: RawTable| {
        #[expect(clippy::expect_used, reason = "the table ships with the program; a test reads it")]
        let row = |(nominal, mpe): (String, Decimal)| {
            (parse_mass(&nominal, Unit::Kg, "nominal").expect("classes.json"), Mass::new(mpe, t.unit))
        };
        Table { class: t.class, source: t.source, rows: t.mpe.into_iter().map(row).collect() }
    };
    raw.tables.into_iter().map(read).collect()
});

/// ± tolerance of a weight, and its source: in mg, for class F of a pound weight in lb. Sources:
/// OIML R 111-1:2004 table 1; NIST Handbook 105-1.
///
/// # Examples
/// ```
/// use ombret_core::quantity::{Unit, parse_mass};
/// use ombret_core::weights::{WeightClass, weight_tolerance};
///
/// let nominal = parse_mass("20", Unit::Kg, "nominal").unwrap();
/// let (mpe, _source) = weight_tolerance(&nominal, WeightClass::of("M1").unwrap()).unwrap();
/// assert_eq!(mpe.to_string(), "1000 mg");
/// ```
///
/// # Errors
/// [`WeightError::NotInTable`] where the class has no such nominal.
pub fn weight_tolerance(nominal: &Mass, class: WeightClass) -> Result<(Mass, &'static str), WeightError> {
    let in_pounds = matches!(nominal.unit, Unit::Lb | Unit::Oz | Unit::Tn);
    let fits = |table: &&'static Table| {
        table.class == class
            && table.rows.first().is_some_and(|(n, _)| matches!(n.unit, Unit::Lb) == in_pounds)
    };
    let found = TABLES.iter().filter(fits).find_map(|table| {
        table.rows.iter().find(|(n, _)| n == nominal).map(|(_, mpe)| (mpe.clone(), table.source.as_str()))
    });
    found.ok_or_else(|| WeightError::NotInTable { nominal: nominal.to_string(), class })
}

/// The nominals that a class has, the largest first.
pub fn nominals(class: WeightClass, pounds: bool) -> impl Iterator<Item = &'static Mass> {
    TABLES
        .iter()
        .filter(move |t| t.class == class)
        .flat_map(|t| &t.rows)
        .map(|(n, _)| n)
        .filter(move |n| (n.unit == Unit::Lb) == pounds)
}

/// Sum of the tolerances, in mg, of the fewest weights of a class that come to a mass, for a load whose
/// pieces are not named. What is left below the smallest nominal counts as nothing. Source: OIML
/// R 111-1:2004, table 1.
pub fn tolerance_of_sum(mass: &Mass, class: WeightClass) -> Mass {
    let mut rest = mass.to(Unit::Kg).abs();
    let mut sum = Mass::zero(Unit::Mg);
    let rows = TABLES.iter().filter(|t| t.class == class).flat_map(|t| &t.rows);
    for (nominal, mpe) in rows.filter(|(n, _)| n.unit != Unit::Lb) {
        if rest < *nominal {
            continue;
        }
        let times = rest.ratio(nominal).map_or_else(Decimal::zero, |r| r.floor());
        rest = rest.minus(&nominal.times(&times));
        sum = sum.plus(&mpe.times(&times));
    }
    sum
}

/// Why a question about weights has no answer.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum WeightError {
    /// The class has no such nominal.
    NotInTable {
        /// The nominal.
        nominal: String,
        /// The class.
        class: WeightClass,
    },
    /// Neither certificate nor class.
    NothingKnown {
        /// The nominal.
        nominal: String,
    },
}

impl From<&WeightError> for Text {
    fn from(error: &WeightError) -> Self {
        match error {
            WeightError::NotInTable { nominal, class } => {
                text!("weight-not-in-table", symbol = class.symbol(), nominal)
            }
            WeightError::NothingKnown { nominal } => text!("weight-nothing-known", nominal),
        }
    }
}

impl From<WeightError> for Text {
    fn from(error: WeightError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for WeightError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl From<WeightError> for Refusal {
    fn from(error: WeightError) -> Self {
        let code = match error {
            WeightError::NotInTable { .. } => "not_in_table",
            WeightError::NothingKnown { .. } => "nothing_known",
        };
        Self::because(code, Text::from(&error))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_tolerance_of_a_sum_is_that_of_its_fewest_weights() {
        let told = |mass: &str| {
            tolerance_of_sum(&parse_mass(mass, Unit::Kg, "mass").unwrap(), WeightClass::M1).to_string()
        };
        // 20 kg ± 1000 mg twice, 2 kg ± 100 mg, 500 g ± 25 mg.
        assert_eq!(told("42.5 kg"), "2125 mg");
        assert_eq!(told("3 g"), "2.2 mg");
        assert_eq!(told("0 kg"), "0 mg");
    }

    #[test]
    fn a_finer_class_never_has_a_wider_tolerance_and_a_larger_weight_never_a_smaller_one() {
        for table in TABLES.iter() {
            assert!(
                table.rows.windows(2).all(|pair| pair[0].0 > pair[1].0 && pair[0].1 >= pair[1].1),
                "{:?}",
                table.class
            );
        }
        let oiml = &WeightClass::ALL[..9];
        for pair in oiml.windows(2) {
            for nominal in nominals(pair[0], false) {
                if let (Ok((finer, _)), Ok((coarser, _))) =
                    (weight_tolerance(nominal, pair[0]), weight_tolerance(nominal, pair[1]))
                {
                    assert!(finer < coarser, "{nominal} {pair:?}");
                }
            }
        }
    }
}
