//! The link: on the laptop at the scale it reads serial and TCP indicators and hands their lines to the page that has
//! its code, by WebSocket on this machine alone.

use std::net::{Ipv4Addr, SocketAddr};
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::extract::ws::{Message, WebSocket, WebSocketUpgrade};
use axum::extract::{Query, State};
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use serde::Deserialize;
use tokio::io::{AsyncRead, AsyncReadExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::broadcast;
use tokio_serial::SerialPortBuilderExt;

use crate::live::{LINK_PORT, SerialPort};

/// Its protocol, as the page names it.
const PROTOCOL: &str = "ombret.lines";
/// Pieces of text that a slow page may be behind by.
const BEHIND: usize = 256;
const FIRST_PAUSE: Duration = Duration::from_millis(200);
const LONGEST_PAUSE: Duration = Duration::from_secs(5);
/// Whoever guesses a code waits.
const WRONG_CODE_PAUSE: Duration = Duration::from_secs(1);

/// An indicator that is read, and the code by which a page has its lines.
pub struct Linked {
    /// Where it is.
    pub address: String,
    /// The code that is typed into the page.
    pub code: String,
    lines: broadcast::Sender<String>,
}

/// The indicators of this machine, and the page that may have them.
#[derive(Clone)]
struct Links {
    /// Origins of the pages that are served, such as `https://scales.example.org`.
    origins: Arc<[String]>,
    all: Arc<[Linked]>,
}

/// Why the link does not start.
#[derive(Debug, thiserror::Error)]
pub enum LinkError {
    /// Neither `host:port` nor a serial port.
    #[error(
        "“{0}” is no address; write host and port, such as 192.0.2.20:4001, or a serial port, such as serial:/dev/ttyUSB0@9600,8N1"
    )]
    Address(String),
    /// Another link runs here, or something else listens there.
    #[error("port {LINK_PORT} of this machine is taken: does another link run here? ({0})")]
    Taken(std::io::Error),
    /// It ended.
    #[error(transparent)]
    Served(#[from] std::io::Error),
}

/// Letters and digits that nobody mistakes for each other.
const MARKS: &[u8] = b"ABCDEFGHJKMNPQRSTUVWXYZ23456789";

fn new_code() -> String {
    (0..8).map(|_| char::from(MARKS[rand::random_range(0..MARKS.len())])).collect()
}

/// The indicators at these addresses, each with a code of its own.
///
/// # Errors
/// [`LinkError::Address`] for the first that is none.
pub fn links(addresses: &[String]) -> Result<Vec<Linked>, LinkError> {
    let one = |address: &String| {
        let tcp = address
            .rsplit_once(':')
            .is_some_and(|(host, port)| !host.is_empty() && port.parse::<u16>().is_ok());
        if SerialPort::of(address).is_none() && !tcp {
            return Err(LinkError::Address(address.clone()));
        }
        Ok(Linked { address: address.clone(), code: new_code(), lines: broadcast::channel(BEHIND).0 })
    };
    addresses.iter().map(one).collect()
}

/// Reads the indicators and serves their lines until the program ends.
///
/// # Errors
/// [`LinkError`].
pub async fn link(linked: Vec<Linked>, origins: Vec<String>) -> Result<(), LinkError> {
    let at = SocketAddr::from((Ipv4Addr::LOCALHOST, LINK_PORT));
    let listener = TcpListener::bind(at).await.map_err(LinkError::Taken)?;
    serve(listener, linked, origins).await
}

/// The same on a listener that is there already.
///
/// # Errors
/// [`LinkError::Served`].
pub async fn serve(
    listener: TcpListener,
    linked: Vec<Linked>,
    origins: Vec<String>,
) -> Result<(), LinkError> {
    for one in &linked {
        tokio::spawn(keep_reading(one.address.clone(), one.lines.clone()));
    }
    let links = Links { origins: origins.into(), all: linked.into() };
    let router = Router::new().route("/lines", get(lines)).with_state(links);
    Ok(axum::serve(listener, router).await?)
}

#[derive(Deserialize)]
struct Asked {
    #[serde(default)]
    code: String,
}

async fn lines(
    State(links): State<Links>,
    Query(asked): Query<Asked>,
    headers: HeaderMap,
    upgrade: WebSocketUpgrade,
) -> Response {
    // A page of another site could ask too: the browser says whose page it is, and no page can say otherwise.
    let origin = headers.get(header::ORIGIN).and_then(|o| o.to_str().ok()).unwrap_or_default();
    if !links.origins.iter().any(|known| known == origin) {
        return StatusCode::FORBIDDEN.into_response();
    }
    let code = asked.code.trim().to_uppercase();
    let Some(linked) = links.all.iter().find(|linked| linked.code == code) else {
        tokio::time::sleep(WRONG_CODE_PAUSE).await;
        return StatusCode::FORBIDDEN.into_response();
    };
    let heard = linked.lines.subscribe();
    upgrade.protocols([PROTOCOL]).on_upgrade(move |socket| hand_over(socket, heard))
}

async fn hand_over(mut socket: WebSocket, mut heard: broadcast::Receiver<String>) {
    loop {
        let text = tokio::select! {
            text = heard.recv() => text,
            // A page says nothing; when it goes, this ends.
            said = socket.recv() => match said {
                Some(Ok(_)) => continue,
                _ => return,
            },
        };
        let text = match text {
            Ok(text) => text,
            // Half a line is none: the page begins anew with the next.
            Err(broadcast::error::RecvError::Lagged(_)) => "\n".into(),
            Err(broadcast::error::RecvError::Closed) => return,
        };
        if socket.send(Message::Text(text.into())).await.is_err() {
            return;
        }
    }
}

async fn open(address: &str) -> std::io::Result<Box<dyn AsyncRead + Send + Unpin>> {
    match SerialPort::of(address) {
        Some(port) => Ok(Box::new(port.builder().open_native_async().map_err(std::io::Error::other)?)),
        None => Ok(Box::new(TcpStream::connect(address).await?)),
    }
}

/// Reads an indicator, and opens it again when the line was cut.
async fn keep_reading(address: String, lines: broadcast::Sender<String>) {
    let mut pause = FIRST_PAUSE;
    loop {
        if let Ok(mut stream) = open(&address).await {
            let mut some = [0; 1_024];
            while let Ok(read) = stream.read(&mut some).await {
                if read == 0 {
                    break;
                }
                pause = FIRST_PAUSE;
                // OK because nobody listens where it fails.
                let _ = lines.send(String::from_utf8_lossy(&some[..read]).into_owned());
            }
        }
        // What was begun is no line.
        let _ = lines.send("\n".into());
        tokio::time::sleep(pause).await;
        pause = (pause * 2).min(LONGEST_PAUSE);
    }
}
