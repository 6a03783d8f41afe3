//! The operator of a practice scale: one command out, one answer back.

use std::time::Duration;

use ombret_bench::{Answer, KeyRefusal, Standing};
use ombret_core::text;
use ombret_core::wording::{Between, Text, figure};
use tokio::io::{AsyncBufReadExt, AsyncReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;
use tokio::time::timeout;

const PATIENCE: Duration = Duration::from_secs(3);
const LONGEST: usize = 120;
/// Longest answer, in bytes: what a lesson says in a few languages.
const LONGEST_ANSWER: u64 = 32 * 1024;

/// Why a command came to nothing.
#[derive(Debug, thiserror::Error)]
pub enum OperatorError {
    /// More than a line, or too long.
    #[error("a command is one line of at most {LONGEST} characters")]
    BadCommand,
    /// The practice scale does not answer.
    #[error("the practice scale does not answer; is it running?")]
    Silent,
}

/// Sends one command and gives the answer.
///
/// # Errors
/// [`OperatorError`].
pub async fn operate(address: &str, command: &str) -> Result<Answer, OperatorError> {
    if command.len() > LONGEST || command.chars().any(char::is_control) {
        return Err(OperatorError::BadCommand);
    }
    let answer = timeout(PATIENCE, ask(address, command))
        .await
        .map_err(|_| OperatorError::Silent)?
        .map_err(|_| OperatorError::Silent)?;
    serde_json::from_str(&answer).map_err(|_| OperatorError::Silent)
}

async fn ask(address: &str, command: &str) -> std::io::Result<String> {
    let mut stream = TcpStream::connect(address).await?;
    stream.write_all(format!("{command}\n").as_bytes()).await?;
    let mut answer = String::new();
    BufReader::new(stream).take(LONGEST_ANSWER).read_line(&mut answer).await?;
    Ok(answer)
}

/// An answer in words, and whether it was done.
pub fn answer_text(answer: &Answer) -> (bool, Text) {
    match answer {
        Answer::Stands(standing) => (true, stands(standing)),
        Answer::Found(None) => (true, text!("hands-nothing-wrong")),
        Answer::Found(Some(words)) | Answer::Mended(words) => (true, words.into()),
        Answer::Refused(refusal) => (false, refused(*refusal)),
        Answer::NoCommand(line) => (false, Text::verbatim(line.clone())),
    }
}

fn stands(at: &Standing) -> Text {
    let with_unit = |value: &str| figure(format!("{value} {}", at.unit));
    let mut parts = vec![
        text!("hands-on-it", mass = with_unit(&at.on)),
        text!("hands-set-up", max = figure(&at.max), d = with_unit(&at.d)),
    ];
    if at.pads > 1 {
        parts.push(match at.pad {
            Some(pad) => text!("hands-pad", pad, pads = at.pads),
            None => text!("hands-all-pads"),
        });
    }
    if at.calibrating {
        parts.push(text!("hands-calibrating"));
    }
    if let Some(internal) = &at.internal {
        parts.push(text!("hands-internal", mass = with_unit(internal)));
    }
    if let Some(menu) = &at.menu {
        parts.push(text!("hands-menu-shows", menu));
    }
    if at.switch_closed {
        parts.push(text!("hands-switch-closed"));
    }
    Text::list(parts, Between::Semicolon)
}

const fn refused(refusal: KeyRefusal) -> Text {
    match refusal {
        KeyRefusal::Motion => text!("hands-motion"),
        KeyRefusal::NoZero => text!("hands-no-zero"),
        KeyRefusal::TooLittle => text!("hands-too-little"),
        KeyRefusal::Nothing => text!("hands-nothing"),
        KeyRefusal::BadFigures => text!("hands-bad-figures"),
        KeyRefusal::Reversed => text!("hands-reversed"),
        KeyRefusal::Overload => text!("hands-overload"),
        KeyRefusal::ErrorAtZero => text!("hands-error-at-zero"),
        KeyRefusal::Locked => text!("hands-locked"),
        KeyRefusal::None => text!("hands-none"),
    }
}
