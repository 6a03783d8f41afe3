//! How an indicator is connected.

use std::net::SocketAddr;
use std::os::unix::fs::FileTypeExt;
use std::str::FromStr;

use ipnet::IpNet;
use ombret_core::live::Cut;
use ombret_core::signal::{LineError, LinePattern, LineReader};
use ombret_core::text;
use ombret_core::wording::Text;
use serde::{Deserialize, Serialize};
use sqlx::postgres::PgConnectOptions;
use tokio::io::AsyncRead;
use tokio::net::TcpStream;
use tokio_serial::{DataBits, Parity, SerialPortBuilder, SerialPortBuilderExt, StopBits};
use utoipa::ToSchema;

use crate::settings::Settings;

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
    /// It is in none of the networks that the settings allow.
    #[error("{0} is not allowed here: indicators are in the networks of the setting device_networks")]
    NotAllowed(String),
    /// It is none of the serial ports that the settings allow.
    #[error("{0} is not allowed here: serial ports are /dev/tty… and stand in the setting serial_ports")]
    SerialNotAllowed(String),
    /// Neither `host:port` nor a serial port.
    #[error(
        "“{0}” is no address; write host and port, such as 192.0.2.20:4001, or a serial port, such as serial:/dev/ttyUSB0@9600,8N1"
    )]
    Address(String),
    /// The pattern.
    #[error(transparent)]
    Pattern(#[from] LineError),
}

impl From<&DeviceError> for Text {
    fn from(error: &DeviceError) -> Self {
        match error {
            DeviceError::NotAllowed(address) => text!("device-not-allowed", address),
            DeviceError::SerialNotAllowed(port) => text!("device-serial-not-allowed", port),
            DeviceError::Address(address) => text!("device-no-address", address),
            DeviceError::Pattern(error) => error.into(),
        }
    }
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

/// Where indicators may be: what the settings of the program allow, and nothing else.
#[derive(Clone, Debug, Default)]
pub struct Allowed {
    networks: Vec<IpNet>,
    serial: Vec<String>,
    /// Ports of this machine on which the program and its database listen.
    own: Vec<u16>,
}

impl Allowed {
    /// As the settings say.
    pub fn of(settings: &Settings) -> Self {
        let url = String::from_utf8_lossy(settings.database_url.expose()).into_owned();
        let database = PgConnectOptions::from_str(&url).ok().map(|options| options.get_port());
        Self {
            networks: settings.device_networks.clone(),
            serial: settings.serial_ports.clone(),
            own: database.into_iter().chain([settings.listen.port()]).collect(),
        }
    }

    fn socket(&self, socket: SocketAddr) -> bool {
        let ip = socket.ip().to_canonical();
        let own = ip.is_loopback() && self.own.contains(&socket.port());
        !own && self.networks.iter().any(|network| network.contains(&ip))
    }

    fn serial(&self, path: &str) -> bool {
        let listed = self.serial.iter().any(|listed| match listed.strip_suffix('*') {
            Some(beginning) => path.starts_with(beginning),
            None => path == listed,
        });
        let named = |beginning: &str| {
            let rest = path.strip_prefix(beginning);
            rest.is_some_and(|rest| !rest.is_empty() && rest.bytes().all(|b| b.is_ascii_alphanumeric()))
        };
        // A simulated scale may sit on a pseudo terminal.
        listed && (named("/dev/tty") || named("/dev/pts/"))
    }

    /// Whether an address may be kept. A name is looked at when it is resolved, each time.
    ///
    /// # Errors
    /// [`DeviceError::NotAllowed`].
    pub fn check(&self, address: &str) -> Result<(), DeviceError> {
        if let Some(port) = SerialPort::of(address) {
            return if self.serial(&port.path) {
                Ok(())
            } else {
                Err(DeviceError::SerialNotAllowed(port.path))
            };
        }
        match address.parse::<SocketAddr>() {
            Ok(socket) if !self.socket(socket) => Err(DeviceError::NotAllowed(address.to_owned())),
            _ => Ok(()),
        }
    }

    /// Opens what an address names, after looking at what the name means now. What goes wrong is told in
    /// general words: an address must not become a way to find out what listens where.
    ///
    /// # Errors
    /// That there is no connection.
    pub(super) async fn open(&self, address: &str) -> Result<Box<dyn AsyncRead + Send + Unpin>, Cut> {
        const NONE: Cut = Cut::NoConnection;
        if let Some(port) = SerialPort::of(address) {
            let device =
                tokio::fs::metadata(&port.path).await.map_err(|_| NONE)?.file_type().is_char_device();
            if !device || !self.serial(&port.path) {
                return Err(NONE);
            }
            return Ok(Box::new(port.builder().open_native_async().map_err(|_| NONE)?));
        }
        let sockets = tokio::net::lookup_host(address).await.map_err(|_| NONE)?;
        for socket in sockets.filter(|socket| self.socket(*socket)).take(4) {
            if let Ok(stream) = TcpStream::connect(socket).await {
                return Ok(Box::new(stream));
            }
        }
        Err(NONE)
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
    fn only_what_the_settings_allow_is_an_indicator() {
        let allowed = Allowed::of(&Settings {
            device_networks: vec!["192.0.2.0/24".parse().unwrap(), "127.0.0.0/8".parse().unwrap()],
            serial_ports: vec!["/dev/ttyUSB*".into(), "/dev/ttyS0".into(), "/etc/passwd".into()],
            database_url: "postgres://x@127.0.0.1:5432/x".to_owned().into(),
            listen: "127.0.0.1:7400".parse().unwrap(),
            ..Settings::default()
        });
        for (address, may) in [
            ("192.0.2.9:4001", true),
            ("192.0.3.9:4001", false),
            ("[::ffff:192.0.2.9]:4001", true),
            ("[::ffff:192.0.3.9]:4001", false),
            ("127.0.0.1:4001", true),
            ("127.0.0.1:5432", false),
            ("127.9.9.9:7400", false),
            ("169.254.169.254:80", false),
            ("serial:/dev/ttyUSB3@9600", true),
            ("serial:/dev/ttyS0@9600", true),
            ("serial:/dev/ttyS1@9600", false),
            ("serial:/dev/ttyUSB0/../sda@9600", false),
            ("serial:/dev/pts/0@9600", false),
            ("serial:/etc/passwd@9600", false),
        ] {
            assert_eq!(allowed.check(address).is_ok(), may, "{address}");
        }
        let none = Allowed::of(&Settings::default());
        assert!(none.check("127.0.0.1:4001").is_ok() && none.check("192.0.2.9:4001").is_err());
        assert!(none.check("serial:/dev/ttyUSB0@9600").is_err());
    }

    #[tokio::test]
    async fn a_name_is_looked_at_after_it_is_resolved_and_a_file_is_no_port() {
        let shut = Allowed::default();
        let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.unwrap();
        let port = listener.local_addr().unwrap().port();
        assert_eq!(shut.open(&format!("localhost:{port}")).await.err(), Some(Cut::NoConnection));
        let open = Allowed::of(&Settings::default());
        assert!(open.open(&format!("localhost:{port}")).await.is_ok());
        let any = Allowed { serial: vec!["/dev/tty*".into()], ..Allowed::default() };
        assert!(any.open("serial:/dev/ttynothing@9600").await.is_err());
    }

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
