//! Classes and books as arguments of messages.

use super::Class;
use crate::wording::{Arg, ToArg};

impl ToArg for Class {
    fn to_arg(&self) -> Arg {
        Arg::Words(self.to_string())
    }
}
