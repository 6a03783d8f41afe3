//! What was refused, in one shape for every part of the program: a stable code, a sentence for
//! people, the field it belongs to, what to do now, and the figures it tells.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::wording::Text;

/// A figure that goes with a refusal or a finding, for programs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(untagged)]
#[schema(no_recursion)]
pub enum Detail {
    /// How many.
    Count(i64),
    /// A measured or worked out figure.
    Number(f64),
    /// An exact figure, a unit, a name.
    Words(String),
    /// Several.
    Several(Vec<Detail>),
    /// A mass.
    Mass {
        /// Its figure.
        value: String,
        /// Its unit.
        unit: String,
    },
    /// There is none.
    None,
}

macro_rules! details {
    ($($kind:ty => $variant:ident),*) => {$(
        impl From<$kind> for Detail {
            fn from(value: $kind) -> Self {
                Self::$variant(value.into())
            }
        }
    )*};
}
details!(u8 => Count, u16 => Count, u32 => Count, i32 => Count, i64 => Count, f64 => Number, &str => Words, String => Words);

macro_rules! counts {
    ($($kind:ty),*) => {$(
        /// No count here comes near the end of the range.
        impl From<$kind> for Detail {
            fn from(count: $kind) -> Self {
                Self::Count(i64::try_from(count).unwrap_or(i64::MAX))
            }
        }
    )*};
}
counts!(u64, usize);

impl<T: Into<Self>> From<Option<T>> for Detail {
    fn from(value: Option<T>) -> Self {
        value.map_or(Self::None, Into::into)
    }
}

impl<T: Into<Self>> From<Vec<T>> for Detail {
    fn from(several: Vec<T>) -> Self {
        Self::Several(several.into_iter().map(Into::into).collect())
    }
}

/// Declares what a module refuses: an enum whose variants carry what belongs to the refusal, each with its stable
/// code, the field it stands at, its message, and what to do now.
///
/// ```
/// use ombret_core::{Refusal, refusals, text};
///
/// refusals! {
///     /// Why an interval is refused.
///     enum Refused {
///         NotPositive { most: u32 } = "not_positive" at "months":
///             text!("interval-an-interval-is-1-to", most_months = most);
///     }
/// }
/// let refusal = Refusal::from(Refused::NotPositive { most: 120 });
/// assert_eq!((refusal.code.as_str(), refusal.field.as_deref()), ("not_positive", Some("months")));
/// ```
#[macro_export]
macro_rules! refusals {
    (
        $(#[$about:meta])*
        $visibility:vis enum $name:ident {
            $(
                $(#[$doc:meta])*
                $variant:ident $({ $($field:ident : $kind:ty),* $(,)? })?
                    = $code:literal $(at $at:literal)? : $says:expr $(, then $advice:expr)?;
            )*
        }
    ) => {
        $(#[$about])*
        #[derive(Clone, Debug, PartialEq)]
        $visibility enum $name {
            $($(#[$doc])* $variant $({ $($field: $kind),* })?,)*
        }

        impl From<$name> for $crate::Refusal {
            fn from(why: $name) -> Self {
                match why {
                    $($name::$variant $({ $($field),* })? => {
                        Self::because($code, $says)$(.at($at))?$(.then($advice))?
                    })*
                }
            }
        }
    };
}

/// A refusal: nothing was changed, and this says why.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Refusal {
    /// Stable name of the reason.
    pub code: String,
    /// What is wrong, in the trade's words.
    pub message: Text,
    /// The field that was wrong, where it was one.
    #[schema(required)]
    pub field: Option<String>,
    /// What to do now.
    #[schema(required)]
    pub what_to_do: Option<Text>,
    /// Figures that belong to the refusal.
    pub figures: BTreeMap<String, Detail>,
    /// What else is wrong with the same form, each at its field.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(no_recursion)]
    pub also: Vec<Refusal>,
}

impl Refusal {
    /// A refusal with its code and message. It is made of a variant that [`refusals!`](crate::refusals) declares.
    #[doc(hidden)]
    pub fn because(code: &str, message: Text) -> Self {
        Self {
            code: code.into(),
            message,
            field: None,
            what_to_do: None,
            figures: BTreeMap::new(),
            also: Vec::new(),
        }
    }

    /// Several refusals as one: the first, with the others beside it; none where there is none.
    pub fn all(refusals: impl IntoIterator<Item = Self>) -> Option<Self> {
        let mut refusals = refusals.into_iter();
        let first = refusals.next()?;
        Some(Self { also: refusals.collect(), ..first })
    }

    /// Names the field.
    #[must_use]
    pub fn at(mut self, field: &str) -> Self {
        self.field.get_or_insert_with(|| field.into());
        self
    }

    /// Says what to do.
    #[must_use]
    pub fn then(mut self, what_to_do: Text) -> Self {
        self.what_to_do = Some(what_to_do);
        self
    }

    /// Adds a figure.
    #[must_use]
    pub fn with(mut self, name: &str, value: impl Into<Detail>) -> Self {
        self.figures.insert(name.into(), value.into());
        self
    }
}
