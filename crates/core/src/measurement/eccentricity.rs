//! Corners: how much goes where, and what each place shows. Sources: OIML R 76-1:2006, 3.6.2 and
//! A.4.7; NIST Handbook 44 §2.20, N.1.3.

use serde::Deserialize;

use crate::quantity::{Decimal, Mass};
use crate::refusal::Refusal;

/// How the load is placed.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum CornerLoadRule {
    /// At the centre of each quarter.
    #[default]
    Quarters,
    /// Over each support.
    Supports,
    /// A tank or hopper: at each support.
    Tank,
    /// A load that rolls over it.
    Rolling,
}

/// What goes to each place.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CornerLoad {
    /// The load.
    pub load: Mass,
    /// From and to, where the books leave room.
    pub window: Option<(Mass, Mass)>,
}

/// Up to four supports: a third of Max in each quarter (30 to 35 %), or a quarter (25 to 30 %) over
/// each support; more: Max/(N − 1) over each; a tank: a tenth; a rolling load: at most 0.8 Max.
///
/// # Examples
/// ```
/// use ombret_core::measurement::{CornerLoadRule, corner_load};
/// use ombret_core::quantity::{Unit, parse_mass};
///
/// let max = parse_mass("1500", Unit::Kg, "Max").unwrap();
/// assert_eq!(corner_load(&max, 4, CornerLoadRule::default()).unwrap().load.to_string(), "500 kg");
/// // On six supports a fifth of it.
/// assert_eq!(corner_load(&max, 6, CornerLoadRule::default()).unwrap().load.to_string(), "300 kg");
/// ```
///
/// # Errors
/// A [`Refusal`] where there is no support.
pub fn corner_load(max: &Mass, supports: u32, rule: CornerLoadRule) -> Result<CornerLoad, Refusal> {
    if supports == 0 {
        return Err(Refusal::from(Refused::NotPositive));
    }
    let share = |digits: i64| max.times(&Decimal::new(digits, 2));
    let part = |n: u32| {
        // OK because n is at least one.
        max.value.quotient(&Decimal::from(n)).map_or_else(|| max.clone(), |value| Mass::new(value, max.unit))
    };
    Ok(match rule {
        CornerLoadRule::Tank => CornerLoad { load: share(10), window: None },
        CornerLoadRule::Rolling => CornerLoad { load: share(80), window: None },
        _ if supports > 4 => CornerLoad { load: part(supports - 1), window: None },
        CornerLoadRule::Quarters => CornerLoad { load: part(3), window: Some((share(30), share(35))) },
        CornerLoadRule::Supports => CornerLoad { load: part(4), window: Some((share(25), share(30))) },
    })
}

/// A place with its error.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CornerJudged {
    /// The place.
    pub position: String,
    /// E = I − L, in the unit of the tolerance.
    pub error: Mass,
    /// |E| ≤ MPE.
    pub within: bool,
    /// Reading − reading in the centre.
    pub from_centre: Option<Mass>,
}

/// Each place judged, in the order given.
pub fn corners<'a>(
    load: &Mass,
    mpe: &Mass,
    shown: impl IntoIterator<Item = (&'a str, &'a Mass)> + Clone,
) -> Vec<CornerJudged> {
    let centre =
        shown.clone().into_iter().find(|(position, _)| *position == "centre").map(|(_, shown)| shown);
    shown
        .into_iter()
        .map(|(position, shown)| {
            let error = shown.to(mpe.unit).minus(load);
            let from_centre =
                centre.filter(|_| position != "centre").map(|centre| shown.to(mpe.unit).minus(centre));
            CornerJudged { position: position.into(), within: error.abs() <= *mpe, error, from_centre }
        })
        .collect()
}

/// The place that differs most from the centre; `None` where none differs, or there is no centre.
pub fn largest_from_centre(judged: &[CornerJudged]) -> Option<(&str, &Mass)> {
    let mut largest: Option<(&str, &Mass)> = None;
    for (position, difference) in
        judged.iter().filter_map(|j| Some((j.position.as_str(), j.from_centre.as_ref()?)))
    {
        if !difference.value.is_zero() && largest.is_none_or(|(_, l)| difference.abs() > l.abs()) {
            largest = Some((position, difference));
        }
    }
    largest
}

crate::refusals! {
    enum Refused {
        NotPositive = "not_positive" at "supports": text!("eccentricity-a-platform-stands-on-one");
    }
}
