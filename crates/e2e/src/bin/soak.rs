//! Use and abuse for as long as it is told: kills of the server and its database in the middle of entries,
//! bursts, hostile requests, files and lines; then the counts in one table. Its figures stand in
//! docs/security.md. `soak [minutes]`.

use std::collections::BTreeMap;
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{Duration, Instant};

use ombret_e2e::{Client, Stack, Step};
use serde_json::{Value, json};
use tokio::io::AsyncWriteExt;
use uuid::Uuid;

/// Generated requests of one round.
const REQUESTS: usize = 2_000;
/// An answer that takes longer hangs.
const HANGS: Duration = Duration::from_secs(5);

#[derive(Default)]
struct Counts(BTreeMap<&'static str, u64>);

impl Counts {
    fn add(&mut self, what: &'static str, count: u64) {
        *self.0.entry(what).or_default() += count;
    }

    fn saw(&mut self, of: &'static str, answer: &Step<(u16, bytes::Bytes)>, took: Duration) {
        self.add(of, 1);
        match answer {
            Ok((status, _)) if *status >= 500 && *status != 503 => {
                self.add("  answers of 5xx", 1);
            }
            Ok((503, _)) => self.add("  told to come again (503)", 1),
            Ok((429, _)) => self.add("  told to slow down (429)", 1),
            Ok(_) => {}
            Err(_) => self.add("  no answer", 1),
        }
        if took > HANGS {
            self.add("  answers that took over 5 s", 1);
        }
    }
}

/// Small and the same everywhere; what it is seeded with is printed.
struct Dice(u64);

impl Dice {
    fn next(&mut self, below: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        usize::try_from(self.0 >> 11).unwrap_or(0) % below.max(1)
    }

    fn of<'a, T>(&mut self, all: &'a [T]) -> &'a T {
        &all[self.next(all.len())]
    }
}

#[tokio::main]
async fn main() -> Step {
    let minutes: u64 = std::env::args().nth(1).map_or(Ok(5), |text| text.parse())?;
    let seed = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH)?.subsec_nanos();
    let mut dice = Dice(u64::from(seed) | 1);
    let mut stack = Stack::start().await?;
    stack.start_bench(1.0).await?;
    let client = Client::signed_in(&stack.base, "ebba", "level-bubble").await?;
    // Signed in once: the bursts below use up what this address may try.
    let writer = Arc::new(Client::signed_in(&stack.base, "tomas", "slotted-weight").await?);
    let document = client.get("/api/openapi.json").await?;
    let mut counts = Counts::default();
    let began = Instant::now();
    let mut rounds = 0;
    while rounds == 0 || began.elapsed() < Duration::from_secs(60 * minutes) {
        rounds += 1;
        requests(&client, &document, &mut dice, &mut counts, REQUESTS).await;
        files(&client, &mut dice, &mut counts).await?;
        lines(&client, &mut dice, &mut counts).await?;
        burst(&stack, &mut counts).await;
        kills(&mut stack, &client, &writer, &mut dice, &mut counts, rounds % 2 == 0).await?;
    }
    // Memory: of a server that has done everything once, and after it has done it many times over.
    stack.kill_server().await?;
    stack.start_server().await?;
    let paper = stack
        .text("select '/api/jobs/' || job_id || '/certificate' from record where not superseded limit 1")
        .await?;
    client.raw("GET", &paper, "application/json", Vec::new()).await?;
    requests(&client, &document, &mut dice, &mut counts, REQUESTS / 2).await;
    burst(&stack, &mut counts).await;
    let before = stack.server_memory_mb()?;
    let mut peak = before;
    for _ in 0..4 {
        requests(&client, &document, &mut dice, &mut counts, REQUESTS).await;
        files(&client, &mut dice, &mut counts).await?;
        burst(&stack, &mut counts).await;
        peak = peak.max(stack.server_memory_mb()?);
    }
    tokio::time::sleep(Duration::from_secs(5)).await;
    let after = stack.server_memory_mb()?;
    let (content, told) = stack.tell(&["verify"]).await?;
    println!("seed {seed}, {rounds} rounds in {:.0} s", began.elapsed().as_secs_f64());
    for (what, count) in &counts.0 {
        println!("{what:<48} {count:>9}");
    }
    println!("{:<48} {before:>9.0}", "memory after everything was done once, MB");
    println!("{:<48} {peak:>9.0}", "memory at the most, MB");
    println!("{:<48} {after:>9.0}", "memory after many times over, MB");
    println!("{:<48} {:>9.2}", "ratio", after / before);
    println!("{:<48} {:>9}", "verify", if content { "holds" } else { "BROKEN" });
    print!("{told}");
    stack.drop_database().await
}

/// Requests made from the description of the program's own API, with wrong, wild and right values.
async fn requests(client: &Client, document: &Value, dice: &mut Dice, counts: &mut Counts, many: usize) {
    let scales = client.get("/api/scales").await.unwrap_or_default();
    let jobs = client.get("/api/jobs").await.unwrap_or_default();
    let mut ids: Vec<String> = vec![Uuid::nil().to_string(), "x".into(), "../..".into(), "%2e%2e".into()];
    ids.extend(
        scales["scales"]
            .as_array()
            .into_iter()
            .flatten()
            .filter_map(|s| Some(s["sheet"]["id"].as_str()?.into())),
    );
    ids.extend(jobs.as_array().into_iter().flatten().filter_map(|j| Some(j["id"].as_str()?.into())));
    let wild = [
        "",
        "0",
        "-1",
        "1e30",
        "null",
        "%00",
        "\u{1F600}",
        "=1+1",
        "9999-12-31",
        "' or 1=1 --",
        "{}",
        "true",
    ];
    let mut routes = Vec::new();
    for (path, methods) in document["paths"].as_object().into_iter().flatten() {
        for (method, about) in methods.as_object().into_iter().flatten() {
            // Signing out would end the test; archives have a part of their own; a stream never ends.
            let stream = path.ends_with("/live");
            if path != "/api/session" && !path.starts_with("/api/archive") && !stream {
                routes.push((path.as_str(), method.to_uppercase(), about));
            }
        }
    }
    for _ in 0..many {
        let (path, method, about) = dice.of(&routes);
        let mut filled = String::new();
        for part in path.split('/').skip(1) {
            let value = if part.starts_with('{') { dice.of(&ids).clone() } else { part.to_owned() };
            filled = format!("{filled}/{value}");
        }
        let mut query = Vec::new();
        for parameter in about["parameters"].as_array().into_iter().flatten().filter(|p| p["in"] == "query") {
            if dice.next(3) > 0 {
                let name = parameter["name"].as_str().unwrap_or_default();
                let value: String = url::form_urlencoded::byte_serialize(dice.of(&wild).as_bytes()).collect();
                query.push(format!("{name}={value}"));
            }
        }
        if !query.is_empty() {
            filled = format!("{filled}?{}", query.join("&"));
        }
        let schema = &about["requestBody"]["content"]["application/json"]["schema"];
        let body = if schema.is_null() {
            Vec::new()
        } else {
            made(schema, document, dice, 0).to_string().into_bytes()
        };
        let asked = Instant::now();
        let answer = client.raw(method, &filled, "application/json", body).await;
        if let Ok((status, bytes)) = &answer
            && *status >= 500
            && *status != 503
        {
            eprintln!("{status} {method} {filled}: {}", String::from_utf8_lossy(bytes));
        }
        counts.saw("generated requests", &answer, asked.elapsed());
    }
}

/// A value of a schema, right as a rule and wild now and then.
fn made(schema: &Value, document: &Value, dice: &mut Dice, deep: usize) -> Value {
    const WILD: [&str; 8] = ["", "0", "-5", "1e40", "600", "a\u{0}b", "2026-11-28", "ebba"];
    if dice.next(25) == 0 || deep > 8 {
        return [Value::Null, json!(-1), json!([]), json!("x"), json!({"a": 1e300})][dice.next(5)].clone();
    }
    if let Some(name) = schema["$ref"].as_str().and_then(|r| r.rsplit('/').next()) {
        return made(&document["components"]["schemas"][name], document, dice, deep + 1);
    }
    for key in ["oneOf", "anyOf"] {
        if let Some(all) = schema[key].as_array().filter(|a| !a.is_empty()) {
            let one = &all[dice.next(all.len())];
            return made(one, document, dice, deep + 1);
        }
    }
    if let Some(all) = schema["allOf"].as_array() {
        let mut out = serde_json::Map::new();
        for part in all {
            if let Value::Object(fields) = made(part, document, dice, deep + 1) {
                out.extend(fields);
            }
        }
        return Value::Object(out);
    }
    if let Some(all) = schema["enum"].as_array().filter(|a| !a.is_empty()) {
        return all[dice.next(all.len())].clone();
    }
    let kind =
        schema["type"].as_str().or_else(|| schema["type"].as_array().and_then(|a| a.first()?.as_str()));
    match kind {
        Some("object") => {
            let mut out = serde_json::Map::new();
            for (name, field) in schema["properties"].as_object().into_iter().flatten() {
                if dice.next(8) > 0 {
                    out.insert(name.clone(), made(field, document, dice, deep + 1));
                }
            }
            Value::Object(out)
        }
        Some("array") => {
            (0..dice.next(3)).map(|_| made(&schema["items"], document, dice, deep + 1)).collect()
        }
        Some("integer") => json!([0, 1, 2, -1, 1_000_000][dice.next(5)]),
        Some("number") => json!([0.0, 1.5, -2.0, 1e12][dice.next(4)]),
        Some("boolean") => json!(dice.next(2) == 0),
        Some("string") if schema["format"] == "uuid" => json!(Uuid::now_v7()),
        Some("string") => json!(dice.of(&WILD)),
        _ => Value::Null,
    }
}

/// Job files and archives with a byte or a piece wrong.
async fn files(client: &Client, dice: &mut Dice, counts: &mut Counts) -> Step {
    let review = client.get("/api/scales").await?;
    let scale = review["scales"][0]["sheet"]["id"].as_str().unwrap_or_default().to_owned();
    let history = client.get(&format!("/api/scales/{scale}/history")).await?;
    let Some(job) = history["records"][0]["job"].as_str() else { return Ok(()) };
    let (_, good) =
        client.raw("GET", &format!("/api/jobs/{job}/file"), "application/json", Vec::new()).await?;
    for _ in 0..40 {
        let mut bytes = good.to_vec();
        for _ in 0..=dice.next(4) {
            let at = dice.next(bytes.len());
            match dice.next(3) {
                0 => bytes[at] = b"0123456789\"{}[],:"[dice.next(17)],
                1 => bytes.truncate(at.max(2)),
                _ => {
                    let piece: Vec<u8> = bytes[at..(at + dice.next(200)).min(bytes.len())].to_vec();
                    bytes.splice(at..at, piece);
                }
            }
        }
        let asked = Instant::now();
        let answer = client.raw("POST", "/api/jobs/import", "application/vnd.ombret.job+json", bytes).await;
        if matches!(answer, Ok((201, _))) {
            counts.add("  BROKEN FILES TAKEN IN", 1);
        }
        counts.saw("hostile job files", &answer, asked.elapsed());
    }
    for _ in 0..4 {
        let bytes: Vec<u8> = (0..20_000).map(|_| u8::try_from(dice.next(256)).unwrap_or(0)).collect();
        let asked = Instant::now();
        let answer = client
            .raw("POST", "/api/archive/import", "application/zip", [b"PK\x03\x04".to_vec(), bytes].concat())
            .await;
        counts.saw("hostile archives", &answer, asked.elapsed());
    }
    Ok(())
}

/// An indicator that sends odd, over-long and far too many lines.
async fn lines(client: &Client, dice: &mut Dice, counts: &mut Counts) -> Step {
    let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await?;
    let address = listener.local_addr()?.to_string();
    let id = Uuid::now_v7();
    let form = json!({
        "id": id, "name": "Soaked", "owner": "Soak", "place": "", "kind": "floor", "serial": "", "indicator": "",
        "unit": "kg", "plate_max": "870", "plate_d": "0.2", "trade": false, "tolerance": {"scheme": "r76_in_service", "class": "III"},
        "interval_months": 12, "field_width": 6, "device": {"address": address}
    });
    client.post("/api/scales", &form).await?;
    let sent = Arc::new(AtomicU64::new(0));
    let counted = sent.clone();
    let mut own = Dice(dice.0);
    let feeding = tokio::spawn(async move {
        while let Ok((mut stream, _)) = listener.accept().await {
            let until = Instant::now() + Duration::from_secs(3);
            while Instant::now() < until {
                let line = match own.next(4) {
                    0 => format!("{}steady 111.0 kg\n", "x".repeat(own.next(3_000))),
                    1 => "\u{0}\u{1F600} odd\n".to_owned(),
                    2 => String::from_utf8_lossy(
                        &(0..60).map(|_| u8::try_from(own.next(256)).unwrap_or(0)).collect::<Vec<_>>(),
                    )
                    .into_owned(),
                    _ => "600.0 kg steady\n".to_owned(),
                };
                if stream.write_all(line.as_bytes()).await.is_err() {
                    break;
                }
                counted.fetch_add(1, Ordering::Relaxed);
            }
        }
    });
    // Somebody looks for a while; the stream is cut when the time is up.
    let asked = Instant::now();
    let _ = client.raw("GET", &format!("/api/scales/{id}/live"), "application/json", Vec::new()).await;
    let health = client.raw("GET", "/api/health", "application/json", Vec::new()).await;
    counts.saw(
        "answers while lines pour in",
        &health,
        asked.elapsed().saturating_sub(Duration::from_secs(10)),
    );
    feeding.abort();
    counts.add("hostile lines", sent.load(Ordering::Relaxed));
    Ok(())
}

/// Many at once.
async fn burst(stack: &Stack, counts: &mut Counts) {
    let tries = (0..96).map(|n| {
        let base = stack.base.clone();
        tokio::spawn(async move {
            let body =
                json!({"sign_in": format!("nobody{}", n % 7), "password": "x"}).to_string().into_bytes();
            let asked = Instant::now();
            (
                Client::new(&base, "").raw("POST", "/api/session", "application/json", body).await,
                asked.elapsed(),
            )
        })
    });
    for task in tries.collect::<Vec<_>>() {
        if let Ok((answer, took)) = task.await {
            counts.saw("sign-ins at once", &answer, took);
        }
    }
}

/// Kills in the middle of entries: what was acknowledged is there afterwards.
async fn kills(
    stack: &mut Stack,
    client: &Client,
    writer: &Arc<Client>,
    dice: &mut Dice,
    counts: &mut Counts,
    database: bool,
) -> Step {
    let scales = client.get("/api/scales").await?;
    let scale = scales["scales"][0]["sheet"]["id"].as_str().ok_or("no scale")?.to_owned();
    let job = Uuid::now_v7();
    client.post("/api/jobs", &json!({"id": job, "scale_id": scale})).await?;
    let acknowledged = Arc::new(AtomicU64::new(0));
    let counted = acknowledged.clone();
    let writer = writer.clone();
    let writing = tokio::spawn(async move {
        for after in 1u32..400 {
            let draft = json!({"kind": "remarked", "text": format!("remark {after}")});
            let body = json!({"id": Uuid::now_v7(), "after": after, "draft": draft}).to_string().into_bytes();
            match writer.raw("POST", &format!("/api/jobs/{job}/entries"), "application/json", body).await {
                Ok((200, _)) => counted.fetch_add(1, Ordering::Relaxed),
                _ => break,
            };
        }
    });
    tokio::time::sleep(Duration::from_millis(50 + u64::try_from(dice.next(600)).unwrap_or(0))).await;
    if database {
        stack.database_away().await?;
        let _ = writing.await;
        stack.database_back().await?;
        counts.add("database taken away", 1);
    } else {
        stack.kill_server().await?;
        let _ = writing.await;
        stack.start_server().await?;
        counts.add("server killed", 1);
    }
    let told = acknowledged.load(Ordering::Relaxed);
    counts.add("entries acknowledged before a kill", told);
    let began = Instant::now();
    let there = loop {
        match client.get(&format!("/api/jobs/{job}")).await {
            Ok(reply) if reply["job"]["head_seq"].is_u64() => {
                break reply["job"]["head_seq"].as_u64().unwrap_or(0) - 1;
            }
            _ if began.elapsed() > Duration::from_secs(60) => return Err("it does not come back".into()),
            _ => tokio::time::sleep(Duration::from_millis(100)).await,
        }
    };
    counts.add("  ENTRIES LOST", told.saturating_sub(there));
    Ok(())
}
