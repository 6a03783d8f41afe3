//! Two instances of the program behind a small proxy, and one of them is killed: in the middle of entries, of a
//! live run and of an export. Nothing acknowledged is lost, and what was under way goes on.

use std::collections::BTreeSet;
use std::net::Ipv4Addr;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;

use ombret_e2e::{Browser, Client, Size, Stack, Step};
use serde_json::{Value, json};
use tokio::io::copy_bidirectional;
use tokio::net::{TcpListener, TcpStream};

/// Passes connections on, one to each in turn, and to whichever answers: what a workshop's proxy does.
async fn proxy(ports: [u16; 2]) -> Step<u16> {
    let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).await?;
    let port = listener.local_addr()?.port();
    let turn = Arc::new(AtomicUsize::new(0));
    tokio::spawn(async move {
        while let Ok((mut stream, _)) = listener.accept().await {
            let first = turn.fetch_add(1, Ordering::SeqCst);
            tokio::spawn(async move {
                for n in 0..2 {
                    let to = ports[(first + n) % 2];
                    if let Ok(mut server) = TcpStream::connect((Ipv4Addr::LOCALHOST, to)).await {
                        let _ = copy_bidirectional(&mut stream, &mut server).await;
                        return;
                    }
                }
            });
        }
    });
    Ok(port)
}

/// Adds remarks to a job, one after the other; one that is not answered is sent again, as the page does.
async fn writes(client: Client, job: String, acknowledged: Arc<std::sync::Mutex<BTreeSet<String>>>) -> Step {
    for n in 0..60 {
        let id = uuid::Uuid::now_v7().to_string();
        loop {
            let at = client.get(&format!("/api/jobs/{job}")).await;
            let Ok(at) = at else { continue };
            let after = at["job"]["head_seq"].as_i64().unwrap_or(1);
            let body =
                json!({"id": id, "after": after, "draft": {"kind": "remarked", "text": format!("gust {n}")}});
            let kind = "application/json";
            let path = format!("/api/jobs/{job}/entries");
            match client.raw("POST", &path, kind, body.to_string().into_bytes()).await {
                Ok((200, _)) => {
                    acknowledged.lock().map_err(|e| e.to_string())?.insert(id);
                    break;
                }
                Ok((409 | 502 | 503, _)) | Err(_) => tokio::time::sleep(Duration::from_millis(20)).await,
                Ok((status, told)) => {
                    return Err(format!("{status}: {}", String::from_utf8_lossy(&told)).into());
                }
            }
        }
    }
    Ok(())
}

#[tokio::test]
async fn what_one_instance_began_goes_on_without_it() -> Step {
    let mut stack = Stack::start().await?;
    stack.start_bench(4.0).await?;
    let (_other, port) = stack.another_instance().await?;
    let through = format!("http://127.0.0.1:{}", proxy([stack.port(), port]).await?);

    // Two people on one job, each on an instance of their own: what one enters the other sees.
    let ebba = Browser::signed_in(&stack).await?;
    ebba.begin_job("kelp").await?;
    let at = ebba.path().await?;
    let job = at.split('/').nth(2).ok_or("no job")?.to_owned();
    let tomas = Browser::open(&format!("http://127.0.0.1:{port}"), Size(1280, 800)).await?;
    tomas.go("/").await?;
    tomas.sign_in("tomas", "slotted-weight").await?;
    tomas.says("h1", "Scales").await?;
    tomas.go(&format!("/jobs/{job}/as_found")).await?;
    tomas.type_reading("0", "0").await?;
    ebba.holds("document.querySelector('.journal')?.innerText.includes('0 kg')").await?;
    tomas.close().await?;

    // A live run, entries and an export through the proxy; then one instance is gone.
    ebba.close().await?;
    let client = Client::signed_in(&through, "ebba", "level-bubble").await?;
    let acknowledged = Arc::new(std::sync::Mutex::new(BTreeSet::new()));
    let here = Client::signed_in(&stack.base, "ebba", "level-bubble").await?;
    let writing = tokio::spawn(writes(client.again(), job.clone(), acknowledged.clone()));
    while acknowledged.lock().map_err(|e| e.to_string())?.len() < 12 {
        tokio::task::yield_now().await;
    }
    // The instance that begins it is the one that goes.
    let begun: Value = here.post("/api/archive", &Value::Null).await?;
    let task = begun["id"].as_str().ok_or("no task")?.to_owned();
    stack.kill_server().await?;
    writing.await??;

    let done = loop {
        let told = client.get(&format!("/api/archive/{task}")).await;
        match told {
            Ok(told) if told["state"] != "running" => break told,
            _ => tokio::time::sleep(Duration::from_millis(100)).await,
        }
    };
    assert_eq!(done["state"], "done", "{done}");
    let (status, archive) =
        client.raw("GET", &format!("/api/archive/{task}/file"), "application/json", Vec::new()).await?;
    assert!(status == 200 && archive.starts_with(b"PK"));

    // Every entry that was acknowledged is there, once.
    let (_, file) =
        client.raw("GET", &format!("/api/jobs/{job}/file"), "application/json", Vec::new()).await?;
    let file: Value = serde_json::from_slice(&file)?;
    let there: Vec<&str> =
        file["entries"].as_array().ok_or("no entries")?.iter().filter_map(|e| e["id"].as_str()).collect();
    let acknowledged = acknowledged.lock().map_err(|e| e.to_string())?.clone();
    assert_eq!(acknowledged.len(), 60);
    for id in &acknowledged {
        assert_eq!(there.iter().filter(|t| *t == id).count(), 1, "{id}");
    }

    // The page goes on through the proxy, and the indicator is heard by the instance that is left.
    let page = Browser::open(&through, Size(1280, 800)).await?;
    page.go("/").await?;
    page.sign_in("ebba", "level-bubble").await?;
    page.says("h1", "Scales").await?;
    page.begin_job("WT-07").await?;
    page.look_over_all().await?;
    page.holds("/kg/.test(document.querySelector('.live')?.innerText ?? '')").await?;
    page.close().await?;
    let (whole, told) = stack.tell(&["verify"]).await?;
    assert!(whole, "{told}");
    Ok(())
}
