//! The workshop's key: what it signs, and which keys are its own. The key lies outside the database, in a
//! file or an environment variable; whoever owns the database cannot sign. Source: Ed25519, RFC 8032;
//! PKCS#8, RFC 8410.

use std::fmt;
use std::path::Path;

use ed25519_dalek::pkcs8::spki::der::pem::LineEnding;
use ed25519_dalek::pkcs8::{DecodePrivateKey, EncodePrivateKey};
use ed25519_dalek::{Signer as _, SigningKey};
use ombret_core::journal::{RecordSignature, Statement, bytes_of_hex, hex_of_bytes};

/// Why a key cannot be used.
#[derive(Debug, thiserror::Error)]
pub enum KeyError {
    /// The file cannot be read or written.
    #[error("the signing key's file {0}: {1}")]
    File(String, #[source] std::io::Error),
    /// It is no key.
    #[error("the signing key is no Ed25519 private key in PEM (PKCS#8); make one with: ombret key new FILE")]
    NoKey,
    /// A former key is none.
    #[error("“{0}” in former_keys is no public key: 64 hexadecimal digits")]
    Former(String),
}

/// The keys of this house: the one that signs, and the public keys of those that did before.
#[derive(Clone, Default)]
pub struct Keys {
    own: Option<SigningKey>,
    former: Vec<String>,
}

impl fmt::Debug for Keys {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Keys").field("own", &self.public()).field("former", &self.former).finish()
    }
}

fn random_key() -> SigningKey {
    SigningKey::from_bytes(&rand::random::<[u8; 32]>())
}

impl Keys {
    /// From the PEM of the key that signs, if there is one, and the public keys of earlier ones.
    ///
    /// # Errors
    /// [`KeyError`].
    pub fn read(pem: Option<&str>, former: &[String]) -> Result<Self, KeyError> {
        let own = pem.map(SigningKey::from_pkcs8_pem).transpose().map_err(|_| KeyError::NoKey)?;
        let former = former
            .iter()
            .map(|key| {
                let key = key.trim().to_lowercase();
                if bytes_of_hex::<32>(&key).is_some() { Ok(key) } else { Err(KeyError::Former(key)) }
            })
            .collect::<Result<_, _>>()?;
        Ok(Self { own, former })
    }

    /// A key that nobody keeps: for tests.
    pub fn passing() -> Self {
        Self { own: Some(random_key()), former: Vec::new() }
    }

    /// The public key that signs, in hexadecimal.
    pub fn public(&self) -> Option<String> {
        self.own.as_ref().map(|key| hex_of_bytes(key.verifying_key().as_bytes()))
    }

    /// Whether a public key is or was this house's.
    pub fn knows(&self, key: &str) -> bool {
        self.public().as_deref() == Some(key) || self.former.iter().any(|k| k == key)
    }

    /// Signs what is said of a record; `None` where there is no key.
    ///
    /// # Errors
    /// Where the statement cannot be written as JSON.
    pub fn sign(&self, statement: Statement) -> Result<Option<RecordSignature>, serde_json::Error> {
        let bytes = statement.bytes()?;
        Ok(self.sign_bytes(&bytes).map(|(key, signature)| RecordSignature { statement, key, signature }))
    }

    /// Public key and signature over any bytes that say themselves what they are for.
    pub fn sign_bytes(&self, bytes: &[u8]) -> Option<(String, String)> {
        let key = self.own.as_ref()?;
        Some((hex_of_bytes(key.verifying_key().as_bytes()), hex_of_bytes(&key.sign(bytes).to_bytes())))
    }
}

/// Makes a key and writes it to a new file that only its owner reads; gives the public key.
///
/// # Errors
/// [`KeyError::File`] where the file is there already or cannot be written.
pub fn new_key_file(path: &Path) -> Result<String, KeyError> {
    use std::io::Write;
    use std::os::unix::fs::OpenOptionsExt;
    let key = random_key();
    let pem = key.to_pkcs8_pem(LineEnding::LF).map_err(|_| KeyError::NoKey)?;
    let wrong = |e| KeyError::File(path.display().to_string(), e);
    let mut file =
        std::fs::OpenOptions::new().write(true).create_new(true).mode(0o600).open(path).map_err(wrong)?;
    file.write_all(pem.as_bytes()).map_err(wrong)?;
    file.sync_all().map_err(wrong)?;
    Ok(hex_of_bytes(key.verifying_key().as_bytes()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_key_made_here_is_read_again_and_what_it_signs_holds() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("key.pem");
        let public = new_key_file(&path).unwrap();
        assert!(matches!(new_key_file(&path), Err(KeyError::File(..))), "a key is never overwritten");
        let keys = Keys::read(Some(&std::fs::read_to_string(&path).unwrap()), &[]).unwrap();
        assert_eq!(keys.public().as_deref(), Some(public.as_str()));
        let (key, signature) = keys.sign_bytes(b"what it is for").unwrap();
        assert!(ombret_core::journal::signed_by(&key, &signature, b"what it is for"));
        assert!(!ombret_core::journal::signed_by(&key, &signature, b"what it is not for"));
        let next = Keys::read(None, std::slice::from_ref(&public)).unwrap();
        assert!(next.knows(&public) && next.sign_bytes(b"x").is_none());
        assert!(!format!("{keys:?}").contains("PRIVATE"));
    }

    #[test]
    fn what_is_no_key_is_refused() {
        assert!(matches!(Keys::read(Some("no key"), &[]), Err(KeyError::NoKey)));
        assert!(matches!(Keys::read(None, &["abc".into()]), Err(KeyError::Former(_))));
    }
}
