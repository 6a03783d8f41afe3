//! The program: HTTP, the store, device readers, the command line. It decides nothing about
//! scales; that is `ombret-core`'s.

pub mod archive;
pub mod cli;
pub mod http;
pub mod live;
pub mod settings;
pub mod store;

/// Name and version, as they stand on records.
pub const PROGRAM: &str = concat!("ombret ", env!("CARGO_PKG_VERSION"));
