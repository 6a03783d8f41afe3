//! From a load to its tolerance: the books' step tables, house rules, a table of the user's own.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::class::{Class, ToleranceError};
use crate::quantity::{Book, Decimal, Mass, Range, Unit, parse_mass};
use crate::refusal::Refusal;
use crate::wording::Text;

/// Where the tolerance comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Scheme {
    /// OIML R 76-1, initial verification.
    R76Initial,
    /// OIML R 76-1, in service.
    R76InService,
    /// NIST Handbook 44, maintenance.
    Hb44Maintenance,
    /// NIST Handbook 44, acceptance.
    Hb44Acceptance,
    /// A rule of the house.
    House,
    /// A table of the user's.
    Table,
}

impl Scheme {
    /// Every scheme.
    pub const ALL: [Self; 6] = [
        Self::R76InService,
        Self::R76Initial,
        Self::Hb44Maintenance,
        Self::Hb44Acceptance,
        Self::House,
        Self::Table,
    ];

    /// In words.
    pub const fn label(self) -> Text {
        match self {
            Self::R76Initial => text!("scheme-r76-initial"),
            Self::R76InService => text!("scheme-r76-in-service"),
            Self::Hb44Maintenance => text!("scheme-hb44-maintenance"),
            Self::Hb44Acceptance => text!("scheme-hb44-acceptance"),
            Self::House => text!("scheme-house-rule"),
            Self::Table => text!("scheme-own-table"),
        }
    }

    /// Whose class limits go with it; R 76 for the house's own rules.
    pub const fn book(self) -> Book {
        match self {
            Self::Hb44Maintenance | Self::Hb44Acceptance => Book::Hb44,
            _ => Book::R76,
        }
    }

    const fn key(self) -> &'static str {
        match self {
            Self::R76Initial => "r76_initial",
            Self::R76InService => "r76_in_service",
            Self::Hb44Maintenance => "hb44_maintenance",
            Self::Hb44Acceptance => "hb44_acceptance",
            Self::House => "house",
            Self::Table => "table",
        }
    }
}

/// Which of the terms of a house rule counts.
#[derive(Default, Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Pick {
    /// The largest.
    #[default]
    Largest,
    /// The smallest.
    Smallest,
}

/// A rule of the house: every term that is given, and which of them counts.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct House {
    /// ± this many divisions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub divisions: Option<Decimal>,
    /// ± this many per cent of the load.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub percent_of_load: Option<Decimal>,
    /// ± this many per cent of Max.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub percent_of_max: Option<Decimal>,
    /// ± this mass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mass: Option<Mass>,
    /// Which of them counts.
    pub pick: Pick,
}

/// A house rule as it is typed; an empty term is none.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(default)]
pub struct HouseForm {
    /// ± divisions.
    pub divisions: String,
    /// ± per cent of the load.
    pub percent_of_load: String,
    /// ± per cent of Max.
    pub percent_of_max: String,
    /// ± a mass.
    pub mass: String,
    /// Which of them counts.
    pub pick: Pick,
}

impl HouseForm {
    /// The rule; a mass without unit is in `unit`.
    ///
    /// # Errors
    /// A [`Refusal`] with everything that is wrong, each at its field: `house_divisions`,
    /// `house_percent_of_load`, `house_percent_of_max`, `house_mass`.
    pub fn read(&self, unit: Unit) -> Result<House, Refusal> {
        let mut wrong = Vec::new();
        let mut number = |field: &str, text: &str| {
            let text = text.trim().replace(',', ".");
            if text.is_empty() {
                return None;
            }
            let shown = text.chars().take(24).collect::<String>();
            match text.parse::<Decimal>() {
                Ok(value) if value.is_positive() => Some(value),
                Ok(_) => {
                    wrong.push(Refusal::from(Refused::NotPositive { shown }).at(field));
                    None
                }
                Err(_) => {
                    let says = text!("scheme-shown-is-no-number-such", shown);
                    wrong.push(Refusal::from(Refused::NotANumber { says }).at(field));
                    None
                }
            }
        };
        let divisions = number("house_divisions", &self.divisions);
        let percent_of_load = number("house_percent_of_load", &self.percent_of_load);
        let percent_of_max = number("house_percent_of_max", &self.percent_of_max);
        let mass = match self.mass.trim() {
            "" => None,
            text => match parse_mass(text, unit, "house_mass") {
                Ok(mass) if mass.value.is_positive() => Some(mass),
                Ok(mass) => {
                    wrong.push(Refusal::from(Refused::MassNotPositive { mass }));
                    None
                }
                Err(error) => {
                    wrong.push(error.into());
                    None
                }
            },
        };
        let rule = House { divisions, percent_of_load, percent_of_max, mass, pick: self.pick };
        if wrong.is_empty() && rule == (House { pick: self.pick, ..House::nothing() }) {
            wrong.push(Refusal::from(ToleranceError::NoTerm).at("house_divisions"));
        }
        Refusal::all(wrong).map_or(Ok(rule), Err)
    }
}

impl House {
    const fn nothing() -> Self {
        Self { divisions: None, percent_of_load: None, percent_of_max: None, mass: None, pick: Pick::Largest }
    }
}

/// A row of the user's own table.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct TableRow {
    /// Up to this load; none: without end.
    #[schema(required)]
    pub to: Option<Mass>,
    /// ± this.
    pub mpe: Mass,
}

/// A tolerance as chosen for a scale.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Tolerance {
    /// Where it comes from.
    pub scheme: Scheme,
    /// Accuracy class, where the scheme goes by class.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub class: Option<Class>,
    /// The house rule.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub house: Option<House>,
    /// The user's table.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub table: Option<Vec<TableRow>>,
}

/// A piece of the tolerance's outline over the range.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Step {
    /// Where it begins (not included, but for zero).
    pub from: Mass,
    /// Where it ends (included).
    pub to: Mass,
    /// ± at the beginning.
    pub mpe_from: Mass,
    /// ± at the end.
    pub mpe_to: Mass,
}

#[derive(Deserialize)]
struct StepTable {
    schemes: BTreeMap<String, Decimal>,
    class: Class,
    steps: Vec<(Option<Decimal>, Decimal)>,
    beyond: Option<Beyond>,
    source: String,
}

#[derive(Deserialize)]
struct Beyond {
    each: Decimal,
    add: Decimal,
}

#[derive(Deserialize)]
struct Tables {
    tables: Vec<StepTable>,
}

static TABLES: LazyLock<Vec<StepTable>> = LazyLock::new(|| {
    #[expect(clippy::expect_used, reason = "the table ships with the program; a test reads it")]
    let tables: Tables = serde_json::from_str(include_str!("schemes.json")).expect("schemes.json");
    tables.tables
});

impl StepTable {
    /// ± in e at a load of `in_e`, before the scheme's factor.
    fn at(&self, in_e: &Decimal) -> Decimal {
        let zero = Decimal::zero();
        for (to, mpe) in &self.steps {
            if to.as_ref().is_none_or(|to| in_e <= to) {
                return mpe.clone();
            }
        }
        let (end, last) =
            self.steps.last().map_or((&zero, &zero), |(to, mpe)| (to.as_ref().unwrap_or(&zero), mpe));
        match &self.beyond {
            Some(beyond) => {
                let parts = (in_e - end).quotient(&beyond.each).unwrap_or_else(Decimal::zero).ceil();
                last + &(&parts * &beyond.add)
            }
            None => last.clone(),
        }
    }
}

impl Tolerance {
    /// A scheme that goes by class.
    pub const fn by_class(scheme: Scheme, class: Class) -> Self {
        Self { scheme, class: Some(class), house: None, table: None }
    }

    /// ± tolerance at `load` (judged by its size): in the unit of e for a book, of d for a house
    /// rule, of the load for a table. `e` is the verification interval (equal to d), `max` is Max.
    ///
    /// Sources: OIML R 76-1:2006 3.5, NIST Handbook 44 §2.20 table 6 and T.N.2.
    ///
    /// # Examples
    /// ```
    /// use ombret_core::quantity::{Unit, parse_mass};
    /// use ombret_core::tolerance::{Class, Scheme, Tolerance};
    ///
    /// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
    /// let tolerance = Tolerance::by_class(Scheme::R76Initial, Class::III);
    /// // 1 000 e lie between 500 e and 2 000 e: one e.
    /// let mpe = tolerance.at(&kg("200"), Some(&kg("0.2")), Some(&kg("870"))).unwrap();
    /// assert_eq!(mpe.to_string(), "0.2 kg");
    /// ```
    ///
    /// # Errors
    /// [`ToleranceError`].
    pub fn at(&self, load: &Mass, e: Option<&Mass>, max: Option<&Mass>) -> Result<Mass, ToleranceError> {
        match self.scheme {
            Scheme::House => self.house_at(load, e, max),
            Scheme::Table => self.table_at(load),
            _ => {
                let e =
                    e.ok_or(ToleranceError::Missing { what: text!("scheme-the-verification-interval-e") })?;
                if !e.value.is_positive() {
                    return Err(ToleranceError::NotPositive {
                        what: Text::from("e"),
                        value: text!("judge-setup-plain", what = e),
                    });
                }
                let (table, factor) = self.step_table()?;
                let in_e = load.abs().ratio(e).unwrap_or_else(Decimal::zero);
                Ok(e.times(&(&table.at(&in_e) * factor)))
            }
        }
    }

    /// The tolerance of a multi-interval scale: e is that of the interval in which the load lies.
    ///
    /// # Errors
    /// [`ToleranceError`], also where the load lies above every interval.
    pub fn in_intervals(&self, load: &Mass, ranges: &[Range]) -> Result<Mass, ToleranceError> {
        let size = load.abs();
        let last =
            ranges.last().ok_or(ToleranceError::Missing { what: text!("scheme-at-least-one-interval") })?;
        let range = ranges.iter().find(|range| size <= range.max).unwrap_or(last);
        self.at(load, Some(&range.d), Some(&last.max))
    }

    /// The public source of the tolerance.
    pub fn source(&self) -> Text {
        match self.scheme {
            Scheme::House => text!("scheme-the-rule-of-the-house"),
            Scheme::Table => text!("scheme-the-users-own-table"),
            _ => self.step_table().map_or_else(Text::from, |(table, _)| Text::verbatim(table.source.clone())),
        }
    }

    /// In words: scheme and class.
    pub fn label(&self) -> Text {
        match (self.scheme, self.class) {
            (Scheme::House | Scheme::Table, _) | (_, None) => self.scheme.label(),
            (scheme, Some(class)) => text!("scheme-scheme-class-class", scheme = scheme.label(), class),
        }
    }

    /// Checks that a tolerance can be told at zero and at Max.
    ///
    /// # Errors
    /// The first [`ToleranceError`] met.
    pub fn check(&self, d: &Mass, max: &Mass) -> Result<(), ToleranceError> {
        if let Some(rows) = &self.table {
            check_order(rows)?;
        }
        if let Some(house) = &self.house {
            house.check()?;
        }
        self.at(&Mass::zero(max.unit), Some(d), Some(max))?;
        self.at(max, Some(d), Some(max)).map(|_| ())
    }

    /// The outline from zero to Max, in pieces over which it is level or straight.
    ///
    /// # Errors
    /// [`ToleranceError`].
    pub fn outline(&self, d: &Mass, max: &Mass) -> Result<Vec<Step>, ToleranceError> {
        let mut ends: Vec<Mass> =
            self.corners(d, max).into_iter().filter(|x| x.value.is_positive() && x < max).collect();
        ends.push(max.clone());
        ends.sort();
        ends.dedup();
        // Just past a corner the next piece begins: far below any division, far above rounding.
        let beyond = d.times(&Decimal::ten_to(-9));
        let mut from = Mass::zero(max.unit);
        let mut steps = Vec::with_capacity(ends.len());
        for to in ends {
            let after = if from.value.is_zero() { from.clone() } else { from.plus(&beyond) };
            let mpe_from = self.at(&after, Some(d), Some(max))?.to(d.unit);
            let mpe_to = self.at(&to, Some(d), Some(max))?.to(d.unit);
            steps.push(Step { from: from.clone(), to: to.clone(), mpe_from, mpe_to });
            from = to;
        }
        Ok(steps)
    }

    /// Loads at which the outline may bend or jump.
    fn corners(&self, d: &Mass, max: &Mass) -> Vec<Mass> {
        match self.scheme {
            Scheme::Table => self
                .table
                .iter()
                .flatten()
                .filter_map(|row| row.to.as_ref().map(|to| to.to(max.unit)))
                .collect(),
            Scheme::House => {
                // A term per cent of load bends where it meets the others: cut finely.
                (1..64u32).map(|i| max.times(&Decimal::new(i64::from(i) * 15_625, 6))).collect()
            }
            _ => {
                let Ok((table, _)) = self.step_table() else { return Vec::new() };
                let mut ends: Vec<Decimal> = table.steps.iter().filter_map(|(to, _)| to.clone()).collect();
                if let (Some(beyond), Some(mut end)) = (&table.beyond, ends.last().cloned()) {
                    let n = max.ratio(d).unwrap_or_else(Decimal::zero);
                    while end < n && ends.len() < 512 {
                        end = &end + &beyond.each;
                        ends.push(end.clone());
                    }
                }
                ends.into_iter().map(|end| d.times(&end).to(max.unit)).collect()
            }
        }
    }

    fn step_table(&self) -> Result<(&'static StepTable, &'static Decimal), ToleranceError> {
        let class = self.class.ok_or(ToleranceError::Missing { what: text!("scheme-an-accuracy-class") })?;
        TABLES
            .iter()
            .find_map(|t| {
                if t.class == class {
                    t.schemes.get(self.scheme.key()).map(|factor| (t, factor))
                } else {
                    None
                }
            })
            .ok_or_else(|| ToleranceError::NoSuchClass {
                class: class.to_string(),
                scheme: self.scheme.label(),
            })
    }

    fn house_at(&self, load: &Mass, d: Option<&Mass>, max: Option<&Mass>) -> Result<Mass, ToleranceError> {
        let house = self.house.as_ref().ok_or(ToleranceError::NoTerm)?;
        let unit = d.map_or(load.unit, |d| d.unit);
        let percent = |of: &Mass, p: &Decimal| of.abs().times(&(p * &Decimal::ten_to(-2)));
        let mut terms: Vec<Mass> = Vec::new();
        if let Some(a) = &house.divisions {
            terms.push(d.ok_or(ToleranceError::Missing { what: text!("scheme-the-division-d") })?.times(a));
        }
        if let Some(p) = &house.percent_of_load {
            terms.push(percent(load, p));
        }
        if let Some(p) = &house.percent_of_max {
            terms.push(percent(max.ok_or(ToleranceError::Missing { what: text!("scheme-max") })?, p));
        }
        terms.extend(house.mass.clone());
        let chosen = match house.pick {
            Pick::Largest => terms.into_iter().max(),
            Pick::Smallest => terms.into_iter().min(),
        };
        chosen.map(|mass| mass.to(unit)).ok_or(ToleranceError::NoTerm)
    }

    fn table_at(&self, load: &Mass) -> Result<Mass, ToleranceError> {
        let rows = self.table.as_deref().unwrap_or_default();
        check_order(rows)?;
        let size = load.abs();
        if let Some(row) = rows.iter().find(|row| row.to.as_ref().is_none_or(|to| size <= *to)) {
            return Ok(row.mpe.to(load.unit));
        }
        let end = rows.last().and_then(|row| row.to.clone());
        Err(ToleranceError::BeyondTable { end, load: load.clone() })
    }
}

impl House {
    fn check(&self) -> Result<(), ToleranceError> {
        let figures = [
            (text!("scheme-divisions"), &self.divisions),
            (text!("scheme-per-cent-of-load"), &self.percent_of_load),
            (text!("scheme-per-cent-of-max"), &self.percent_of_max),
        ];
        for (what, figure) in figures {
            if let Some(value) = figure.as_ref().filter(|v| !v.is_positive()) {
                return Err(ToleranceError::NotPositive {
                    what,
                    value: text!("judge-setup-plain", what = value),
                });
            }
        }
        match self.mass.as_ref().filter(|m| !m.value.is_positive()) {
            Some(mass) => Err(ToleranceError::NotPositive {
                what: text!("scheme-the-absolute-mass"),
                value: text!("judge-setup-plain", what = mass),
            }),
            None => Ok(()),
        }
    }
}

fn check_order(rows: &[TableRow]) -> Result<(), ToleranceError> {
    let rises = |pair: &[TableRow]| match (&pair[0].to, &pair[1].to) {
        (Some(a), Some(b)) => a < b,
        (Some(_), None) => true,
        (None, _) => false,
    };
    match rows.windows(2).position(|pair| !rises(pair)) {
        Some(index) => Err(ToleranceError::TableOrder { row: index + 2 }),
        None => Ok(()),
    }
}

crate::refusals! {
    enum Refused {
        NotPositive { shown: String } = "not_positive": text!("scheme-shown-is-not-above-zero", shown);
        NotANumber { says: Text } = "not_a_number": says;
        MassNotPositive { mass: Mass } = "not_positive" at "house_mass":
            text!("scheme-mass-is-not-above-zero", mass);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::Unit;
    use proptest::prelude::*;

    fn kg(digits: i64, scale: i64) -> Mass {
        Mass::new(Decimal::new(digits, scale), Unit::Kg)
    }

    fn by_class() -> impl Strategy<Value = Tolerance> {
        let pairs: Vec<Tolerance> = Scheme::ALL
            .into_iter()
            .flat_map(|s| Class::ALL.map(|c| Tolerance::by_class(s, c)))
            .filter(|t| t.at(&kg(1, 0), Some(&kg(1, 0)), None).is_ok())
            .collect();
        proptest::sample::select(pairs)
    }

    #[test]
    fn every_class_of_every_book_has_its_table_and_no_other() {
        for scheme in [Scheme::R76Initial, Scheme::R76InService] {
            assert!(Tolerance::by_class(scheme, Class::IIIL).at(&kg(1, 0), Some(&kg(1, 0)), None).is_err());
        }
        let told = Scheme::ALL.iter().flat_map(|s| Class::ALL.map(|c| Tolerance::by_class(*s, c)));
        assert_eq!(told.filter(|t| t.at(&kg(1, 0), Some(&kg(1, 0)), None).is_ok()).count(), 18);
    }

    #[test]
    fn a_table_whose_rows_do_not_rise_is_refused_with_its_row() {
        let row = |to: Option<i64>| TableRow { to: to.map(|t| kg(t, 0)), mpe: kg(1, 2) };
        let table = Tolerance {
            scheme: Scheme::Table,
            class: None,
            house: None,
            table: Some(vec![row(Some(9)), row(Some(4)), row(None)]),
        };
        assert_eq!(table.at(&kg(3, 0), None, None), Err(ToleranceError::TableOrder { row: 2 }));
    }

    proptest! {
        #[test]
        fn a_heavier_load_never_has_a_smaller_tolerance(t in by_class(), a in 0i64..20_000_000, b in 0i64..20_000_000) {
            let e = kg(2, 1);
            let (low, high) = (kg(a.min(b), 2), kg(a.max(b), 2));
            prop_assert!(t.at(&low, Some(&e), None).unwrap() <= t.at(&high, Some(&e), None).unwrap());
        }

        #[test]
        fn a_load_is_judged_by_its_size_whatever_its_unit(t in by_class(), a in 0i64..2_000_000) {
            let e = kg(2, 1);
            let at = |m: &Mass| t.at(m, Some(&e), None).unwrap();
            let load = kg(a, 2);
            prop_assert_eq!(at(&load), at(&load.times(&Decimal::new(-1, 0))));
            prop_assert_eq!(at(&load), at(&load.to(Unit::G)));
        }

        #[test]
        fn in_service_is_twice_initial_and_acceptance_half_of_maintenance(a in 0i64..2_000_000, c in proptest::sample::select(vec![Class::I, Class::II, Class::III, Class::IIII])) {
            let (load, e) = (kg(a, 2), kg(5, 1));
            let at = |s| Tolerance::by_class(s, c).at(&load, Some(&e), None).unwrap();
            let two = Decimal::from(2u32);
            prop_assert_eq!(at(Scheme::R76InService), at(Scheme::R76Initial).times(&two));
            prop_assert_eq!(at(Scheme::Hb44Maintenance), at(Scheme::Hb44Acceptance).times(&two));
        }

        #[test]
        fn the_outline_agrees_with_the_tolerance_at_every_load(t in by_class(), part in 0i64..1000) {
            let (d, max) = (kg(2, 1), kg(870, 0));
            let load = max.times(&Decimal::new(part, 3));
            let steps = t.outline(&d, &max).unwrap();
            let step = steps.iter().find(|s| load <= s.to).unwrap();
            prop_assert_eq!(&step.mpe_to, &t.at(&load, Some(&d), Some(&max)).unwrap());
            prop_assert_eq!(&steps.last().unwrap().to, &max);
        }
    }
}
