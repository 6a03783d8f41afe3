//! How an indicator is connected.

use ombret_core::line::{LineError, LinePattern, LineReader};
use serde::{Deserialize, Serialize};
use tokio_serial::{DataBits, Parity, SerialPortBuilder, StopBits};
use utoipa::ToSchema;

/// What the address of a serial port begins with.
const SERIAL: &str = "serial:";

/// An indicator that sends lines, over TCP or a serial port.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Device {
    /// Host and port, such as `192.0.2.20:4001`; or a serial port with its speed, data bits, parity
    /// and stop bits, such as `serial:/dev/ttyUSB0@9600,8N1`.
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
    /// Neither `host:port` nor a serial port.
    #[error(
        "“{0}” is no address; write host and port, such as 192.0.2.20:4001, or a serial port, such as serial:/dev/ttyUSB0@9600,8N1"
    )]
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
        let odd = |address: &str| {
            address.len() > 200 || address.chars().any(|c| c.is_control() || c.is_whitespace())
        };
        let serial = self.address.starts_with(SERIAL);
        if serial && (odd(&self.address) || SerialPort::of(&self.address).is_none()) {
            return Err(DeviceError::Address(self.address.chars().take(60).collect()));
        }
        for address in std::iter::once(&self.address).filter(|_| !serial).chain(&self.hands) {
            let port = address
                .rsplit_once(':')
                .filter(|(host, _)| !host.is_empty())
                .and_then(|(_, port)| port.parse::<u16>().ok());
            if port.is_none_or(|p| p == 0) || odd(address) {
                return Err(DeviceError::Address(address.chars().take(60).collect()));
            }
        }
        Ok(LineReader::new(self.pattern.clone())?)
    }
}

/// A serial port as an address names it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SerialPort {
    path: String,
    baud: u32,
    data: DataBits,
    parity: Parity,
    stop: StopBits,
}

impl SerialPort {
    /// From `serial:PATH@BAUD,8N1`; the part after the comma may be left out. `None` where it is
    /// another kind of address or not understood.
    pub fn of(address: &str) -> Option<Self> {
        let (path, line) = address.strip_prefix(SERIAL)?.rsplit_once('@')?;
        let (baud, frame) = line.split_once(',').unwrap_or((line, "8N1"));
        let baud = baud.parse::<u32>().ok().filter(|b| (50..=4_000_000).contains(b))?;
        let mut frame = frame.chars();
        let data = match frame.next()? {
            '7' => DataBits::Seven,
            '8' => DataBits::Eight,
            _ => return None,
        };
        let parity = match frame.next()?.to_ascii_uppercase() {
            'N' => Parity::None,
            'E' => Parity::Even,
            'O' => Parity::Odd,
            _ => return None,
        };
        let stop = match frame.next()? {
            '1' => StopBits::One,
            '2' => StopBits::Two,
            _ => return None,
        };
        (frame.next().is_none() && !path.is_empty()).then(|| Self {
            path: path.into(),
            baud,
            data,
            parity,
            stop,
        })
    }

    /// Ready to be opened.
    pub fn builder(&self) -> SerialPortBuilder {
        tokio_serial::new(&self.path, self.baud).data_bits(self.data).parity(self.parity).stop_bits(self.stop)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_serial_port_is_read_from_its_address_and_nonsense_is_refused() {
        let port = SerialPort::of("serial:/dev/ttyUSB0@9600,7E1").unwrap();
        assert_eq!(
            (port.path.as_str(), port.baud, port.data, port.parity),
            ("/dev/ttyUSB0", 9600, DataBits::Seven, Parity::Even)
        );
        assert_eq!(SerialPort::of("serial:COM3@19200").unwrap().stop, StopBits::One);
        for wrong in [
            "serial:",
            "serial:/dev/x",
            "serial:/dev/x@fast",
            "serial:/dev/x@9600,9N1",
            "serial:/dev/x@9600,8X1",
            "serial:/dev/x@9600,8N3",
            "serial:/dev/x@9600,8N1x",
            "serial:@9600",
            "192.0.2.1:4001",
        ] {
            assert!(SerialPort::of(wrong).is_none(), "{wrong}");
        }
        let device =
            |address: &str| Device { address: address.into(), pattern: LinePattern::default(), hands: None };
        assert!(device("serial:/dev/ttyUSB0@9600").check().is_ok());
        assert!(device("serial:/dev/tty USB0@9600").check().is_err());
        assert!(device("192.0.2.1:0").check().is_err());
    }
}
