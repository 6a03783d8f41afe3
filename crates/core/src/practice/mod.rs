//! Practice: lessons, and the account of how one went.

mod account;
mod lesson;
mod lesson_text;

pub use account::{Account, AccountLine, Act, HowWell, account};
pub use lesson::{Cure, Lesson, LessonError, MOST_LESSON_BYTES, read_lesson};
pub use lesson_text::LessonText;
