//! The link hands an indicator's lines to the page that has its code, and to no other.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use futures::{SinkExt, StreamExt};
use ombret::cli;
use tokio::io::AsyncWriteExt;
use tokio::net::{TcpListener, TcpStream};
use tokio_tungstenite::client_async;
use tokio_tungstenite::tungstenite::client::IntoClientRequest;
use tokio_tungstenite::tungstenite::http::Request;
use tokio_tungstenite::tungstenite::{Error, Message};

const PAGE: &str = "https://scales.example.org";

fn asked(port: u16, code: &str, origin: &str) -> Request<()> {
    let mut request = format!("ws://127.0.0.1:{port}/lines?code={code}").into_client_request().unwrap();
    request.headers_mut().insert("origin", origin.parse().unwrap());
    request.headers_mut().insert("sec-websocket-protocol", "ombret.lines".parse().unwrap());
    request
}

/// An indicator that says a figure twenty times a second to whoever comes, counting from 0, and hangs up when told.
async fn indicator(hang_up: Arc<AtomicBool>) -> u16 {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let port = listener.local_addr().unwrap().port();
    tokio::spawn(async move {
        while let Ok((mut stream, _)) = listener.accept().await {
            for n in 0.. {
                let line = format!("W {n}.0 kg S\r\n");
                if hang_up.swap(false, Ordering::SeqCst) || stream.write_all(line.as_bytes()).await.is_err() {
                    break;
                }
                tokio::time::sleep(std::time::Duration::from_millis(50)).await;
            }
        }
    });
    port
}

async fn to(port: u16) -> TcpStream {
    TcpStream::connect(("127.0.0.1", port)).await.unwrap()
}

async fn refused(port: u16, request: Request<()>) -> u16 {
    match client_async(request, to(port).await).await {
        Err(Error::Http(response)) => response.status().as_u16(),
        other => panic!("{other:?}"),
    }
}

#[tokio::test]
async fn a_page_with_the_code_hears_the_lines_also_after_the_line_was_cut() {
    let hang_up = Arc::new(AtomicBool::new(false));
    let address = format!("127.0.0.1:{}", indicator(hang_up.clone()).await);
    let linked = cli::links(&[address]).unwrap();
    let code = linked[0].code.clone();
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let port = listener.local_addr().unwrap().port();
    tokio::spawn(cli::serve_links(listener, linked, vec![PAGE.into()]));

    assert_eq!(
        refused(port, asked(port, &code, "https://elsewhere.example")).await,
        403,
        "another site's page"
    );
    assert_eq!(refused(port, asked(port, &code, "null")).await, 403);
    assert_eq!(refused(port, asked(port, "ABCDEFGH", PAGE)).await, 403, "another code");
    let (mut socket, response) =
        client_async(asked(port, &code.to_lowercase(), PAGE), to(port).await).await.unwrap();
    assert_eq!(response.headers()["sec-websocket-protocol"], "ombret.lines");
    socket.send(Message::Text("a page says nothing of use".into())).await.unwrap();
    let mut heard = String::new();
    while heard.matches(" kg").count() < 3 {
        heard.push_str(socket.next().await.unwrap().unwrap().to_text().unwrap());
    }
    hang_up.store(true, Ordering::SeqCst);
    heard.clear();
    while !heard.contains("W 0.0 kg") {
        heard.push_str(socket.next().await.unwrap().unwrap().to_text().unwrap());
    }
}

#[test]
fn what_is_no_indicator_is_named_and_no_two_have_one_code() {
    let links = |all: &[&str]| cli::links(&all.iter().map(|a| (*a).to_owned()).collect::<Vec<_>>());
    let two = links(&["192.0.2.20:4001", "serial:/dev/ttyUSB0@9600,8N1"]).unwrap();
    assert!(two.len() == 2 && two[0].code != two[1].code && two[0].code.len() == 8);
    assert!(links(&["/dev/ttyUSB0"]).is_err() && links(&["host:port"]).is_err());
}

#[test]
fn the_package_for_a_laptop_holds_the_program_its_service_and_its_documents() {
    let into = tempfile::tempdir().unwrap();
    let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let run = |program: &str, args: &[&str]| {
        let told = std::process::Command::new(program)
            .args(args)
            .current_dir(&root)
            .env("OMBRET_BINARY", env!("CARGO_BIN_EXE_ombret"))
            .env("OMBRET_DEB_COMPRESSION", "none")
            .output()
            .unwrap();
        assert!(told.status.success(), "{}", String::from_utf8_lossy(&told.stderr));
        String::from_utf8_lossy(&told.stdout).into_owned()
    };
    let folder = into.path().display().to_string();
    run("bash", &["-c", ". scripts/tools.sh; . scripts/package.sh; package_link \"$1\"", "_", &folder]);
    let package = std::fs::read_dir(into.path()).unwrap().next().unwrap().unwrap().path();
    let package = package.to_str().unwrap();
    assert_eq!(run("dpkg-deb", &["--field", package, "Package"]).trim(), "ombret-link");
    assert_eq!(run("dpkg-deb", &["--field", package, "Version"]).trim(), env!("CARGO_PKG_VERSION"));
    let tree = into.path().join("tree");
    run("dpkg-deb", &["--extract", package, tree.to_str().unwrap()]);
    let help = run(tree.join("usr/bin/ombret").to_str().unwrap(), &["link", "--help"]);
    assert!(help.contains("--for"), "{help}");
    let service = std::fs::read_to_string(tree.join("usr/lib/systemd/user/ombret-link.service")).unwrap();
    let example = std::fs::read_to_string(tree.join("usr/share/doc/ombret-link/examples/link")).unwrap();
    for name in ["PAGE", "INDICATORS"] {
        assert!(service.contains(name) && example.contains(&format!("{name}=")), "{name}");
    }
}
