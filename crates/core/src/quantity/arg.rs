//! Quantities as arguments of messages.

use super::{Decimal, Mass, Unit};
use crate::refusal::Detail;
use crate::wording::{Arg, ToArg};

impl ToArg for Mass {
    fn to_arg(&self) -> Arg {
        // As people are told it: without the digits that only a conversion gave.
        let told = self.to_string();
        let value = told.rsplit_once(' ').map_or(told.as_str(), |(value, _)| value);
        Arg::Mass(value.to_owned(), self.unit.to_string())
    }
}

impl ToArg for Decimal {
    fn to_arg(&self) -> Arg {
        Arg::Number(self.to_string())
    }
}

impl ToArg for Unit {
    fn to_arg(&self) -> Arg {
        Arg::Words(self.to_string())
    }
}

impl From<&Mass> for Detail {
    fn from(mass: &Mass) -> Self {
        Self::Mass { value: mass.value.to_string(), unit: mass.unit.to_string() }
    }
}

impl From<Mass> for Detail {
    fn from(mass: Mass) -> Self {
        (&mass).into()
    }
}
