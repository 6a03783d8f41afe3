//! The command line: serve, the rules as a calculator, assessing a file, the demo's data.

mod assess;
mod backup;
mod calc;
mod demo;
mod grow;
mod link;
mod root;
mod schema;
mod verify;

pub use crate::live::LINK_PORT;
pub use assess::assess_file;
pub use backup::{Backed, backup, restore};
pub use calc::{calc, list_rules};
pub use demo::load_demo;
pub use grow::{Size, grow};
pub use link::{LinkError, Linked, link, links, serve as serve_links};
pub use root::{Root, root, verify_root, write_daily};
pub use schema::{Format, schema};
pub use verify::{Broken, Looked, report, verify_database, verify_file};
