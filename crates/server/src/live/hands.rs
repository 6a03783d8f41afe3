//! The technician's hands at a practice scale: one command out, one answer back.

use std::time::Duration;

use tokio::io::{AsyncBufReadExt, AsyncReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;
use tokio::time::timeout;

const PATIENCE: Duration = Duration::from_secs(3);
const LONGEST: usize = 120;

/// Why a command came to nothing.
#[derive(Debug, thiserror::Error)]
pub enum HandsError {
    /// More than a line, or too long.
    #[error("a command is one line of at most {LONGEST} characters")]
    BadCommand,
    /// The practice scale does not answer.
    #[error("the practice scale does not answer; is it running?")]
    Silent,
    /// It said no.
    #[error("{0}")]
    Refused(String),
}

/// Sends one command and gives the answer.
///
/// # Errors
/// [`HandsError`].
pub async fn hands(address: &str, command: &str) -> Result<String, HandsError> {
    if command.len() > LONGEST || command.chars().any(char::is_control) {
        return Err(HandsError::BadCommand);
    }
    let answer = timeout(PATIENCE, ask(address, command))
        .await
        .map_err(|_| HandsError::Silent)?
        .map_err(|_| HandsError::Silent)?;
    match answer.trim().split_once(' ') {
        Some(("ok", seen)) => Ok(seen.to_owned()),
        Some(("no", why)) => Err(HandsError::Refused(why.to_owned())),
        _ => Err(HandsError::Silent),
    }
}

async fn ask(address: &str, command: &str) -> std::io::Result<String> {
    let mut stream = TcpStream::connect(address).await?;
    stream.write_all(format!("{command}\n").as_bytes()).await?;
    let mut answer = String::new();
    BufReader::new(stream).take(400).read_line(&mut answer).await?;
    Ok(answer)
}
