//! How an indicator is connected.

use ombret_core::line::{LineError, LinePattern, LineReader};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// An indicator that sends lines over TCP.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Device {
    /// Address: host and port, such as `192.0.2.20:4001`.
    pub address: String,
    /// How its lines are read.
    #[serde(default)]
    pub pattern: LinePattern,
    /// Where a practice scale takes the technician's hands; none for a real one.
    #[serde(default)]
    pub hands: Option<String>,
}

/// Why a connection cannot be used.
#[derive(Debug, thiserror::Error)]
pub enum DeviceError {
    /// Not `host:port`.
    #[error("“{0}” is no address; write host and port, such as 192.0.2.20:4001")]
    Address(String),
    /// The pattern.
    #[error(transparent)]
    Pattern(#[from] LineError),
}

impl Device {
    /// Checks the address and the pattern.
    ///
    /// # Errors
    /// [`DeviceError`].
    pub fn check(&self) -> Result<LineReader, DeviceError> {
        for address in std::iter::once(&self.address).chain(&self.hands) {
            let port = address.rsplit_once(':').filter(|(host, _)| !host.is_empty()).and_then(|(_, port)| port.parse::<u16>().ok());
            if port.is_none_or(|p| p == 0) || address.len() > 200 || address.chars().any(|c| c.is_control() || c.is_whitespace()) {
                return Err(DeviceError::Address(address.chars().take(60).collect()));
            }
        }
        Ok(LineReader::new(self.pattern.clone())?)
    }
}
