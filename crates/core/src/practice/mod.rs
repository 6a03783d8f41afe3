//! Practice: lessons as open files, and the account of what was done in one against a good run.

mod account;
mod lesson;

pub use account::{Account, AccountLine, Act, HowWell, account};
pub use lesson::{Cure, Lesson, LessonError, MOST_LESSON_BYTES, read_lesson};
