//! One place for settings, read once: defaults, then the file named by OMBRET_CONFIG, then the
//! environment (OMBRET_LISTEN, OMBRET_DATABASE_URL, OMBRET_SECRET, …).

use std::fmt;
use std::net::SocketAddr;

use figment::Figment;
use figment::providers::{Env, Format, Serialized, Toml};
use serde::{Deserialize, Serialize};

/// A secret that does not print.
#[derive(Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Secret(String);

impl Secret {
    /// The secret itself, for the one place that needs it.
    pub fn expose(&self) -> &[u8] {
        self.0.as_bytes()
    }
}

impl From<String> for Secret {
    fn from(text: String) -> Self {
        Self(text)
    }
}

impl fmt::Debug for Secret {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("Secret(…)")
    }
}

/// Everything that can be set.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Settings {
    /// Where to listen.
    pub listen: SocketAddr,
    /// The database.
    pub database_url: Secret,
    /// Keys the sessions. Without one on loopback, a random one is made at each start.
    pub secret: Secret,
    /// The address that browsers use, where it differs from the Host they send (behind a proxy).
    pub public_url: Option<String>,
    /// Send the session cookie over HTTPS only.
    pub secure_cookie: bool,
    /// Connections to the database.
    pub connections: u32,
    /// How many times as fast time runs at the practice scales of lessons.
    pub practice_speed: f64,
}

/// Why the program does not start.
#[derive(Debug, thiserror::Error)]
pub enum SettingsError {
    /// A setting cannot be read.
    #[error("a setting cannot be read: {0}")]
    Read(#[from] Box<figment::Error>),
    /// The secret is too weak for a server that others can reach.
    #[error(
        "OMBRET_SECRET is too weak to listen on {listen}: outside loopback it needs at least 32 characters, 12 of them different"
    )]
    WeakSecret {
        /// Where it was to listen.
        listen: SocketAddr,
    },
    /// No database is named.
    #[error("OMBRET_DATABASE_URL is not set: name the PostgreSQL database to use")]
    NoDatabase,
}

impl Default for Settings {
    fn default() -> Self {
        Self {
            listen: SocketAddr::from(([127, 0, 0, 1], 7400)),
            database_url: Secret::default(),
            secret: Secret::default(),
            public_url: None,
            secure_cookie: false,
            connections: 16,
            practice_speed: 1.0,
        }
    }
}

impl Settings {
    /// Reads the settings, from `file` where one is named.
    ///
    /// # Errors
    /// [`SettingsError`].
    pub fn read(file: Option<&str>) -> Result<Self, SettingsError> {
        let mut figment = Figment::from(Serialized::defaults(Self::default()));
        if let Some(file) = file {
            figment = figment.merge(Toml::file_exact(file));
        }
        let env = Env::prefixed("OMBRET_").only(&[
            "listen",
            "database_url",
            "secret",
            "public_url",
            "secure_cookie",
            "connections",
        ]);
        let mut settings: Self = figment.merge(env).extract().map_err(Box::new)?;
        if settings.database_url.expose().is_empty() {
            return Err(SettingsError::NoDatabase);
        }
        if settings.secret.expose().is_empty() && settings.listen.ip().is_loopback() {
            settings.secret = Secret(format!("{}{}", uuid::Uuid::new_v4(), uuid::Uuid::new_v4()));
            tracing::warn!("no OMBRET_SECRET: people must sign in again after each start");
        }
        settings.strong_enough()?;
        Ok(settings)
    }

    fn strong_enough(&self) -> Result<(), SettingsError> {
        let secret = self.secret.expose();
        let different = secret.iter().collect::<std::collections::BTreeSet<_>>().len();
        if self.listen.ip().is_loopback() || (secret.len() >= 32 && different >= 12) {
            return Ok(());
        }
        Err(SettingsError::WeakSecret { listen: self.listen })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn with(listen: &str, secret: &str) -> Settings {
        Settings { listen: listen.parse().unwrap(), secret: Secret(secret.into()), ..Settings::default() }
    }

    #[test]
    fn a_weak_secret_will_do_on_loopback_only() {
        let strong = "0f3c9a71b5e2d84c6f10a9b7c3e5d1f2";
        for (listen, secret, starts) in [
            ("127.0.0.1:1", "x", true),
            ("[::1]:1", "", true),
            ("0.0.0.0:1", "x", false),
            ("0.0.0.0:1", "aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa", false),
            ("192.0.2.7:1", strong, true),
            ("192.0.2.7:1", &strong[1..], false),
        ] {
            assert_eq!(with(listen, secret).strong_enough().is_ok(), starts, "{listen} {secret}");
        }
    }

    #[test]
    fn a_secret_does_not_print() {
        assert!(!format!("{:?}", with("127.0.0.1:1", "sesame")).contains("sesame"));
    }
}
