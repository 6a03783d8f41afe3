//! The connections themselves: too many, too slow, and encrypted.

use std::io::Read;
use std::net::{SocketAddr, TcpListener};
use std::path::Path;
use std::process::Command;
use std::sync::Arc;

use ombret::http::{App, serve};
use ombret::settings::Settings;
use sqlx::PgPool;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio_rustls::TlsConnector;
use tokio_rustls::rustls::pki_types::pem::PemObject;
use tokio_rustls::rustls::pki_types::{CertificateDer, ServerName};
use tokio_rustls::rustls::{ClientConfig, RootCertStore};
use tokio_util::sync::CancellationToken;

const ASKED: &[u8] = b"GET /api/health HTTP/1.1\r\nhost: localhost\r\n\r\n";

/// A server with settings of its own; it ends with the token.
fn served(pool: PgPool, settings: Settings) -> (SocketAddr, CancellationToken) {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let (address, stop) = (listener.local_addr().unwrap(), CancellationToken::new());
    let settings = Settings { secret: "the secret of the tests".to_owned().into(), ..settings };
    tokio::spawn(serve(listener, App::new(pool, settings, stop.clone()), stop.clone()));
    (address, stop)
}

/// The head of one answer.
async fn answer(stream: &mut (impl AsyncReadExt + AsyncWriteExt + Unpin)) -> String {
    stream.write_all(ASKED).await.unwrap();
    let mut told = Vec::new();
    while !told.windows(4).any(|w| w == b"\r\n\r\n") {
        let mut some = [0; 512];
        let read = stream.read(&mut some).await.unwrap();
        assert!(read > 0, "the line was closed");
        told.extend_from_slice(&some[..read]);
    }
    String::from_utf8_lossy(&told).into_owned()
}

/// Waits until the other end closes, and gives what it said before.
async fn closed(stream: &mut TcpStream) -> Vec<u8> {
    let mut told = Vec::new();
    // A line that is reset is closed as well.
    let _ = stream.read_to_end(&mut told).await;
    told
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn one_connection_too_many_is_closed_and_makes_room_when_another_ends(pool: PgPool) {
    let (address, stop) = served(pool, Settings { most_connections: 2, ..Settings::default() });
    let (mut one, mut two) =
        (TcpStream::connect(address).await.unwrap(), TcpStream::connect(address).await.unwrap());
    assert!(answer(&mut one).await.starts_with("HTTP/1.1 200") && answer(&mut two).await.contains("200"));
    let mut three = TcpStream::connect(address).await.unwrap();
    assert!(closed(&mut three).await.is_empty(), "it was served");
    assert!(answer(&mut two).await.contains("200"), "those who are there are served on");
    drop(one);
    // The end of a line is noticed when it is; until then there is no room.
    loop {
        let mut next = TcpStream::connect(address).await.unwrap();
        let _ = next.write_all(ASKED).await;
        let mut some = [0; 16];
        if next.read(&mut some).await.is_ok_and(|read| read > 0) {
            break;
        }
    }
    stop.cancel();
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn who_sends_too_slowly_is_not_waited_for(pool: PgPool) {
    let (address, stop) = served(pool, Settings { patience_s: 1, ..Settings::default() });
    let mut head = TcpStream::connect(address).await.unwrap();
    head.write_all(b"GET /api/health HTTP/1.1\r\nhost: loc").await.unwrap();
    let told = closed(&mut head).await;
    assert!(told.is_empty() || told.starts_with(b"HTTP/1.1 4"), "{}", String::from_utf8_lossy(&told));
    let mut body = TcpStream::connect(address).await.unwrap();
    let asked = format!(
        "POST /api/session HTTP/1.1\r\nhost: {address}\r\norigin: http://{address}\r\ncontent-type: application/json\r\ncontent-length: 400\r\n\r\n{{"
    );
    body.write_all(asked.as_bytes()).await.unwrap();
    let told = closed(&mut body).await;
    assert!(!told.starts_with(b"HTTP/1.1 2"), "{}", String::from_utf8_lossy(&told));
    let mut good = TcpStream::connect(address).await.unwrap();
    assert!(answer(&mut good).await.contains("200"), "others are served");
    stop.cancel();
}

/// A certificate for localhost that nobody keeps, signed by itself.
fn certified(folder: &Path) {
    let at = |name: &str| folder.join(name).display().to_string();
    let config = "[req]\ndistinguished_name = dn\nx509_extensions = ext\n[dn]\n[ext]\nsubjectAltName = DNS:localhost\nbasicConstraints = critical, CA:FALSE\n";
    std::fs::write(folder.join("openssl.cnf"), config).unwrap();
    let told = Command::new("openssl")
        .args([
            "req",
            "-x509",
            "-newkey",
            "ec",
            "-pkeyopt",
            "ec_paramgen_curve:P-256",
            "-nodes",
            "-days",
            "2",
        ])
        .args(["-subj", "/CN=localhost", "-config", &at("openssl.cnf")])
        .args(["-keyout", &at("key.pem"), "-out", &at("chain.pem")])
        .output()
        .unwrap();
    assert!(told.status.success(), "{}", String::from_utf8_lossy(&told.stderr));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_program_speaks_https_itself(pool: PgPool) {
    let folder = tempfile::tempdir().unwrap();
    certified(folder.path());
    let (chain, key) = (folder.path().join("chain.pem"), folder.path().join("key.pem"));
    let settings =
        Settings { tls_certificate: Some(chain.clone()), tls_key: Some(key), ..Settings::default() };
    let (address, stop) = served(pool, settings);
    let mut roots = RootCertStore::empty();
    roots.add(CertificateDer::from_pem_file(&chain).unwrap()).unwrap();
    let config = ClientConfig::builder().with_root_certificates(roots).with_no_client_auth();
    let connector = TlsConnector::from(Arc::new(config));
    // Certificate and key are read before anybody is answered.
    let stream = TcpStream::connect(address).await.unwrap();
    let mut stream = connector.connect(ServerName::try_from("localhost").unwrap(), stream).await.unwrap();
    let told = answer(&mut stream).await.to_lowercase();
    assert!(told.starts_with("http/1.1 200") && told.contains("strict-transport-security"), "{told}");
    let stream = TcpStream::connect(address).await.unwrap();
    let other = connector.connect(ServerName::try_from("elsewhere").unwrap(), stream).await;
    assert!(other.is_err(), "the certificate is looked at");
    // In cleartext nobody is answered.
    let plain = std::net::TcpStream::connect(address).unwrap();
    std::io::Write::write_all(&mut &plain, ASKED).unwrap();
    let told = tokio::task::spawn_blocking(move || {
        let mut told = Vec::new();
        let _ = (&plain).read_to_end(&mut told);
        told
    });
    assert!(!told.await.unwrap().starts_with(b"HTTP"));
    stop.cancel();
}
