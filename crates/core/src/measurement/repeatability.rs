//! The same load several times, the smallest step that still moves the display, zero after a load,
//! and each load both ways. Sources: OIML R 76-1:2006, 3.6.1, 3.8, 3.9.4.2, A.4.4, A.4.8 and A.4.10;
//! NIST Handbook 44 §2.20, N.1 and T.N.

use serde::Deserialize;

use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::tolerance::{Class, Tolerance, ToleranceError};
use crate::wording::Text;

/// Why a test of one load has no verdict.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum TestError {
    /// Too few weighings.
    TooFew {
        /// What there is.
        given: usize,
        /// What is needed.
        needs: usize,
    },
    /// The extra load is not 1.4 d.
    WrongExtraLoad {
        /// What was added.
        added: String,
        /// What is needed.
        needs: Mass,
    },
    /// A house rule without a limit.
    NoLimit,
}

impl From<&TestError> for Text {
    fn from(error: &TestError) -> Self {
        match error {
            TestError::TooFew { given, needs } => text!("test-too-few", given, needs),
            TestError::WrongExtraLoad { added, needs } => text!("test-wrong-extra-load", added, needs),
            TestError::NoLimit => text!("test-no-limit"),
        }
    }
}

impl From<TestError> for Text {
    fn from(error: TestError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for TestError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl From<TestError> for Refusal {
    fn from(error: TestError) -> Self {
        let message = Text::from(&error);
        match error {
            TestError::TooFew { needs, .. } => Self::because("too_few", message).with("needs", needs),
            TestError::WrongExtraLoad { needs, .. } => {
                Self::because("wrong_extra_load", message).with("needs", needs)
            }
            TestError::NoLimit => Self::because("no_limit", message),
        }
    }
}

/// Mean and sample standard deviation of masses, in `unit`.
pub fn spread(shown: &[Mass], unit: Unit) -> (f64, f64) {
    // Differences from the first are exact; only they go through floating point.
    let Some(first) = shown.first() else { return (0.0, 0.0) };
    let values: Vec<f64> = shown.iter().map(|m| m.minus(first).value_in(unit).to_f64()).collect();
    #[expect(clippy::cast_precision_loss, reason = "a handful of weighings")]
    let n = values.len() as f64;
    let mean = values.iter().sum::<f64>() / n;
    let squares = values.iter().map(|v| (v - mean).powi(2)).sum::<f64>();
    (first.value_in(unit).to_f64() + mean, if values.len() > 1 { (squares / (n - 1.0)).sqrt() } else { 0.0 })
}

/// A repeatability test.
#[derive(Clone, Debug, PartialEq)]
pub struct Repeatability {
    /// Largest minus smallest, in the unit of the tolerance.
    pub range: Mass,
    /// Sample standard deviation in that unit.
    pub s: f64,
    /// Range ≤ |MPE|.
    pub within: bool,
}

/// How many weighings of one load a class asks for: six in I and II, else three. Source: OIML
/// R 76-1:2006, A.4.10.
pub const fn weighings(class: Class) -> usize {
    match class {
        Class::I | Class::II => 6,
        _ => 3,
    }
}

/// max − min ≤ |MPE(load)|, with so many weighings at least: [`weighings`] of the class, or the house's.
///
/// # Examples
/// ```
/// use ombret_core::measurement::repeatability;
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
/// let shown = ["435.0", "435.2", "435.0"].map(kg);
/// let told = repeatability(3, &shown, &kg("0.2")).unwrap();
/// assert_eq!((told.range.to_string(), told.within), ("0.2 kg".into(), true));
/// ```
///
/// # Errors
/// [`TestError::TooFew`].
pub fn repeatability(needs: usize, shown: &[Mass], mpe: &Mass) -> Result<Repeatability, TestError> {
    let (Some(low), Some(high)) = (shown.iter().min(), shown.iter().max()) else {
        return Err(TestError::TooFew { given: 0, needs });
    };
    if shown.len() < needs {
        return Err(TestError::TooFew { given: shown.len(), needs });
    }
    let range = high.to(mpe.unit).minus(low);
    Ok(Repeatability { s: spread(shown, mpe.unit).1, within: range <= mpe.abs(), range })
}

/// On a steady indication 1.4 d more must move it up by one d at least. Source: OIML R 76-1:2006,
/// 3.8.2.2 and A.4.8.
///
/// # Examples
/// ```
/// use ombret_core::measurement::discriminates;
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
/// assert!(discriminates(&kg("0.2"), &kg("0.28"), &kg("435.0"), &kg("435.2")).unwrap());
/// assert!(!discriminates(&kg("0.2"), &kg("0.28"), &kg("435.0"), &kg("435.0")).unwrap());
/// ```
///
/// # Errors
/// [`TestError::WrongExtraLoad`].
pub fn discriminates(d: &Mass, added: &Mass, before: &Mass, after: &Mass) -> Result<bool, TestError> {
    let needs = d.times(&Decimal::new(14, 1));
    if *added != needs {
        return Err(TestError::WrongExtraLoad { added: added.to_string(), needs });
    }
    Ok(after.minus(before) >= *d)
}

/// By which rule zero is judged after a load.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
pub enum ZeroRule {
    /// 0.5 e.
    #[serde(rename = "r76", alias = "r76_initial", alias = "r76_in_service")]
    R76,
    /// One e: the smallest tolerance in maintenance.
    #[serde(rename = "hb44", alias = "hb44_maintenance")]
    Hb44,
    /// Half an e: the smallest tolerance in acceptance.
    #[serde(rename = "hb44_acceptance")]
    Hb44Acceptance,
    /// The house's own limit.
    #[serde(rename = "house", alias = "table")]
    House,
}

/// Zero after a load.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ZeroReturn {
    /// After − before, in the unit of e.
    pub deviation: Mass,
    /// The limit.
    pub limit: Mass,
    /// |deviation| ≤ limit.
    pub within: bool,
}

/// |I − I_before| against the rule's limit; the change counts, not the reading.
///
/// # Examples
/// ```
/// use ombret_core::measurement::{ZeroRule, zero_return};
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
/// let told = zero_return(ZeroRule::R76, &kg("0.2"), None, &kg("0"), &kg("0.2")).unwrap();
/// assert_eq!((told.limit.to_string(), told.within), ("0.1 kg".into(), false));
/// ```
///
/// # Errors
/// [`TestError::NoLimit`].
pub fn zero_return(
    rule: ZeroRule,
    e: &Mass,
    house: Option<&Mass>,
    before: &Mass,
    after: &Mass,
) -> Result<ZeroReturn, TestError> {
    let limit = match rule {
        ZeroRule::R76 | ZeroRule::Hb44Acceptance => e.times(&Decimal::new(5, 1)),
        ZeroRule::Hb44 => e.clone(),
        ZeroRule::House => house.ok_or(TestError::NoLimit)?.clone(),
    };
    let deviation = after.to(e.unit).minus(before);
    Ok(ZeroReturn { within: deviation.abs() <= limit, deviation, limit })
}

/// A load read going up, coming down, or both.
#[derive(Clone, Debug, Deserialize)]
pub struct BothWays {
    /// The load.
    pub load: Mass,
    /// Shown going up.
    #[serde(default)]
    pub up: Option<Mass>,
    /// Shown coming down.
    #[serde(default)]
    pub down: Option<Mass>,
}

/// Such a load judged: every way on its own.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct BothWaysJudged {
    /// Error and verdict going up.
    pub up: Option<(Mass, bool)>,
    /// Error and verdict coming down.
    pub down: Option<(Mass, bool)>,
    /// Down − up.
    pub hysteresis: Option<Mass>,
}

/// Each load both ways; errors in the unit of e.
///
/// # Examples
/// ```
/// use ombret_core::measurement::{BothWays, both_ways};
/// use ombret_core::quantity::{Unit, parse_mass};
/// use ombret_core::tolerance::{Class, Scheme, Tolerance};
///
/// let kg = |text: &str| parse_mass(text, Unit::Kg, "mass").unwrap();
/// let point = BothWays { load: kg("400"), up: Some(kg("399.8")), down: Some(kg("400.2")) };
/// let tolerance = Tolerance::by_class(Scheme::R76Initial, Class::III);
/// let judged = both_ways(&[point], &tolerance, &kg("0.2"), Some(&kg("870"))).unwrap();
/// assert_eq!(judged[0].hysteresis.as_ref().unwrap().to_string(), "0.4 kg");
/// ```
///
/// # Errors
/// [`ToleranceError`].
pub fn both_ways(
    points: &[BothWays],
    tolerance: &Tolerance,
    e: &Mass,
    max: Option<&Mass>,
) -> Result<Vec<BothWaysJudged>, ToleranceError> {
    points
        .iter()
        .map(|point| {
            let mpe = tolerance.at(&point.load, Some(e), max)?;
            let judged = |shown: &Mass| {
                let error = shown.to(e.unit).minus(&point.load);
                let within = error.abs() <= mpe;
                (error, within)
            };
            let hysteresis =
                point.up.as_ref().zip(point.down.as_ref()).map(|(up, down)| down.to(e.unit).minus(up));
            Ok(BothWaysJudged {
                up: point.up.as_ref().map(judged),
                down: point.down.as_ref().map(judged),
                hysteresis,
            })
        })
        .collect()
}

/// The least mass to be weighed on a laboratory balance.
#[derive(Clone, Debug, PartialEq)]
pub struct MinimumWeight {
    /// Sample standard deviation, in the unit of d.
    pub s: f64,
    /// s was below 0.41 d.
    pub floor_used: bool,
    /// 2 · max(s, 0.41 d) / 0.0010.
    pub minimum: f64,
}

/// m_min = 2 · s / 0.0010 with s at least 0.41 d. Source: USP <41>, the practice of laboratory
/// balances; it asks for ten weighings, fewer are worked out all the same.
///
/// # Examples
/// ```
/// use ombret_core::measurement::minimum_weight;
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let g = |text: &str| parse_mass(text, Unit::G, "mass").unwrap();
/// // It repeats to the last digit: the floor of 0.41 d counts, 2 · 0.41 d / 0.10 %.
/// let told = minimum_weight(&[g("100.0000"), g("100.0000")], &g("0.0001")).unwrap();
/// assert!(told.floor_used && (told.minimum - 0.082).abs() < 1e-9);
/// ```
///
/// # Errors
/// [`TestError::TooFew`] below two.
pub fn minimum_weight(shown: &[Mass], d: &Mass) -> Result<MinimumWeight, TestError> {
    if shown.len() < 2 {
        return Err(TestError::TooFew { given: shown.len(), needs: 2 });
    }
    let s = spread(shown, d.unit).1;
    let floor = 0.41 * d.value.to_f64();
    Ok(MinimumWeight { s, floor_used: s < floor, minimum: 2.0 * s.max(floor) / 0.0010 })
}
