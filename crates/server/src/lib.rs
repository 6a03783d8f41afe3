//! The program: HTTP, the store, device readers, the command line. It decides nothing about
//! scales; that is `ombret-core`'s.

use ombret_core::journal::hex_of_bytes;

pub mod archive;
pub mod cli;
pub mod http;
pub mod live;
pub mod rules;
pub mod settings;
pub mod signing;
pub mod store;
pub mod validation;
pub mod work;

/// Name and version, as they stand on records.
pub const PROGRAM: &str = concat!("ombret ", env!("CARGO_PKG_VERSION"));

/// SHA-256 of bytes in lower-case hexadecimal, as frozen records and archives are marked. Source: FIPS 180-4.
pub fn sha256_hex(bytes: &[u8]) -> String {
    use sha2::{Digest, Sha256};
    hex_of_bytes(&Sha256::digest(bytes))
}

/// What opens a session, a link or a calendar: 192 random bits, in hexadecimal.
pub fn random_token() -> String {
    hex_of_bytes(&rand::random::<[u8; 24]>())
}
