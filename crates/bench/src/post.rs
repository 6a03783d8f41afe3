//! A mail server that stands in for a real one: it takes every mail, keeps it, and sends none on. Source: RFC
//! 5321, as much of it as a sender needs.

use std::net::SocketAddr;
use std::path::PathBuf;
use std::sync::{Arc, Mutex, PoisonError};

use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};

/// Largest mail that is taken, in bytes.
const LONGEST: usize = 256 * 1024;

/// A mail as it came.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Mail {
    /// To whom.
    pub to: Vec<String>,
    /// Head and text, as they were sent.
    pub text: String,
}

/// The mails that came.
#[derive(Clone, Debug, Default)]
pub struct Post {
    mails: Arc<Mutex<Vec<Mail>>>,
    folder: Option<PathBuf>,
    refuses: Arc<Mutex<bool>>,
}

impl Post {
    /// None yet; each is written into `folder` too, where one is named.
    pub fn new(folder: Option<PathBuf>) -> Self {
        Self { folder, ..Self::default() }
    }

    /// Listens; the address.
    ///
    /// # Errors
    /// Where it cannot listen there.
    pub async fn listen(&self, at: SocketAddr) -> std::io::Result<SocketAddr> {
        let listener = TcpListener::bind(at).await?;
        let address = listener.local_addr()?;
        let post = self.clone();
        tokio::spawn(async move {
            while let Ok((stream, _)) = listener.accept().await {
                let post = post.clone();
                tokio::spawn(async move { post.talk(stream).await });
            }
        });
        Ok(address)
    }

    /// The mails that came, the first first.
    pub fn mails(&self) -> Vec<Mail> {
        self.mails.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// From now on it takes none, or takes them again.
    pub fn refuse(&self, refuses: bool) {
        *self.refuses.lock().unwrap_or_else(PoisonError::into_inner) = refuses;
    }

    fn keep(&self, mail: Mail) -> std::io::Result<()> {
        let mut mails = self.mails.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(folder) = &self.folder {
            std::fs::create_dir_all(folder)?;
            std::fs::write(folder.join(format!("{:04}.eml", mails.len() + 1)), &mail.text)?;
        }
        mails.push(mail);
        Ok(())
    }

    async fn talk(&self, stream: TcpStream) -> std::io::Result<()> {
        let (read, mut write) = stream.into_split();
        let mut lines = BufReader::new(read).lines();
        write.write_all(b"220 stand-in\r\n").await?;
        let mut mail = Mail::default();
        while let Some(line) = lines.next_line().await? {
            let word = line.split([' ', ':']).next().unwrap_or_default().to_uppercase();
            let refuses = *self.refuses.lock().unwrap_or_else(PoisonError::into_inner);
            let answer = match word.as_str() {
                "EHLO" | "HELO" => "250 stand-in",
                "MAIL" if refuses => "451 come again later",
                "MAIL" => {
                    mail = Mail::default();
                    "250 fine"
                }
                "RCPT" => {
                    let to = line.split(['<', '>']).nth(1).unwrap_or_default();
                    mail.to.push(to.to_owned());
                    "250 fine"
                }
                "DATA" => {
                    write.write_all(b"354 go on\r\n").await?;
                    while let Some(line) = lines.next_line().await? {
                        if line == "." || mail.text.len() > LONGEST {
                            break;
                        }
                        mail.text.push_str(line.strip_prefix('.').unwrap_or(&line));
                        mail.text.push('\n');
                    }
                    self.keep(std::mem::take(&mut mail))?;
                    "250 kept"
                }
                "QUIT" => {
                    write.write_all(b"221 farewell\r\n").await?;
                    return Ok(());
                }
                "RSET" | "NOOP" => "250 fine",
                _ => "502 not here",
            };
            write.write_all(answer.as_bytes()).await?;
            write.write_all(b"\r\n").await?;
        }
        Ok(())
    }
}
