//! The two ports: lines go out on one, the hands come in on the other.

use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::Duration;

use tokio::io::{AsyncBufReadExt, AsyncReadExt, AsyncWrite, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::broadcast;
use tokio_util::sync::CancellationToken;

use crate::answer::Answer;
use crate::operator::Command;
use crate::scale::{Scale, ScaleSettings};

/// Samples and lines a second, before speeding up.
const RATE_HZ: f64 = 10.0;
/// Longest command line, in bytes.
const LONGEST_COMMAND: u64 = 200;

/// Where a bench listens.
#[derive(Debug)]
pub struct Ports {
    /// Lines.
    pub lines: TcpListener,
    /// Hands.
    pub hands: TcpListener,
}

/// A scale that is served until it is stopped.
#[derive(Debug)]
pub struct Bench {
    scale: Arc<Mutex<Scale>>,
    lines: broadcast::Sender<String>,
    speed: f64,
}

impl Bench {
    /// A bench of a scale; time runs `speed` times as fast.
    pub fn new(settings: &ScaleSettings, speed: f64) -> Self {
        let (lines, _) = broadcast::channel(64);
        Self { scale: Arc::new(Mutex::new(Scale::new(settings))), lines, speed: speed.clamp(0.1, 100.0) }
    }

    /// Opens a pseudo-terminal on which the lines are sent as over a serial cable; gives its path
    /// and the work of sending, which ends with the terminal.
    ///
    /// # Errors
    /// Where the machine has none.
    pub fn terminal(&self) -> std::io::Result<(String, impl Future<Output = ()> + use<>)> {
        let (ours, theirs) = tokio_serial::SerialStream::pair().map_err(std::io::Error::other)?;
        let path = tokio_serial::SerialPort::name(&theirs)
            .ok_or_else(|| std::io::Error::other("the pseudo-terminal has no name"))?;
        let lines = self.lines.subscribe();
        Ok((path, async move {
            // Ours to hold: without anybody at the other end, writing would fail.
            let _held = theirs;
            if let Err(error) = send_lines(ours, lines).await {
                tracing::debug!(%error, "the pseudo-terminal ended");
            }
        }))
    }

    /// Serves until `stop`.
    pub async fn serve(self, ports: Ports, stop: CancellationToken) {
        let mut tick = tokio::time::interval(Duration::from_secs_f64(1.0 / (RATE_HZ * self.speed)));
        loop {
            tokio::select! {
                () = stop.cancelled() => return,
                _ = tick.tick() => {
                    let line = lock(&self.scale).tick(1.0 / RATE_HZ);
                    // No listener is no error: nobody is reading.
                    let _ = self.lines.send(line);
                }
                accepted = ports.lines.accept() => if let Ok((stream, _)) = accepted {
                    tokio::spawn(until(stop.clone(), send_lines(stream, self.lines.subscribe())));
                },
                accepted = ports.hands.accept() => if let Ok((stream, _)) = accepted {
                    tokio::spawn(until(stop.clone(), take_hands(stream, Arc::clone(&self.scale))));
                },
            }
        }
    }
}

async fn until(stop: CancellationToken, work: impl Future<Output = std::io::Result<()>>) {
    tokio::select! {
        () = stop.cancelled() => {}
        done = work => if let Err(error) = done { tracing::debug!(%error, "a connection ended") },
    }
}

fn lock(scale: &Mutex<Scale>) -> MutexGuard<'_, Scale> {
    scale.lock().unwrap_or_else(PoisonError::into_inner)
}

async fn send_lines(
    mut stream: impl AsyncWrite + Unpin,
    mut lines: broadcast::Receiver<String>,
) -> std::io::Result<()> {
    loop {
        match lines.recv().await {
            Ok(line) => stream.write_all(format!("{line}\r\n").as_bytes()).await?,
            Err(broadcast::error::RecvError::Lagged(_)) => {}
            Err(broadcast::error::RecvError::Closed) => return Ok(()),
        }
    }
}

async fn take_hands(mut stream: TcpStream, scale: Arc<Mutex<Scale>>) -> std::io::Result<()> {
    let (read, mut write) = stream.split();
    let mut read = BufReader::new(read);
    loop {
        let mut line = String::new();
        if (&mut read).take(LONGEST_COMMAND).read_line(&mut line).await? == 0 {
            return Ok(());
        }
        let answer = match line.parse::<Command>() {
            Ok(command) => lock(&scale).act(command).unwrap_or_else(Answer::Refused),
            Err(error) => Answer::NoCommand(error.to_string()),
        };
        let answer = serde_json::to_string(&answer)?;
        write.write_all(format!("{answer}\r\n").as_bytes()).await?;
    }
}
