//! The whole program as a person meets it: a real server, a real database, the practice scale as
//! device, and headless Chromium. Everything waits for a condition, never for a time.

mod browser;
mod client;
mod stack;
mod walk;

pub use browser::{Browser, Look, Size};
pub use client::{Client, spread};
pub use stack::Stack;

/// What goes wrong in driving.
pub type Fault = Box<dyn std::error::Error + Send + Sync>;

/// Result of a step.
pub type Step<T = ()> = Result<T, Fault>;
