//! What the rules have to say, as data: a message of the catalogue (`words/<language>/*.ftl`) with its
//! arguments. No rule makes a sentence; a sentence is made where a person reads it, in their language, by
//! [`Language::say`] on paper, in files and on the command line, and by the page in the same way.

/// A message by its key, with its arguments by name: `text!("key", max, d = &setup.d)`.
#[macro_export]
macro_rules! text {
    ($key:literal $(, $name:ident $(= $value:expr)?)* $(,)?) => {
        $crate::wording::Text::new($key)$(.with(stringify!($name), $crate::text!(@arg $name $(= $value)?)))*
    };
    (@arg $name:ident) => {
        $crate::wording::ToArg::to_arg(&$name)
    };
    (@arg $name:ident = $value:expr) => {
        $crate::wording::ToArg::to_arg(&$value)
    };
}

mod catalogue;
mod language;
mod text;

pub use language::Language;
pub use text::{Arg, Between, Text, ToArg, figure, fixed, plus, signed};
