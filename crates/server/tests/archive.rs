//! A workshop as an archive: out, in elsewhere, and back the same; what is broken is refused whole.

use std::io::{Cursor, Read, Write};

use crate::house::{House, Reply, read_draft};
use axum::http::{Method, StatusCode};
use ombret::settings::Settings;
use ombret::signing::Keys;
use serde_json::{Value, json};
use sqlx::postgres::PgPoolOptions;
use sqlx::{AssertSqlSafe, Executor, PgPool};
use uuid::Uuid;
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

async fn get(house: &House, cookie: &str, path: &str) -> Reply {
    house.call(Some(cookie), Method::GET, path, None).await
}

/// Waits until long work has ended, and gives it.
async fn ended(house: &House, cookie: &str, begun: &Reply) -> Value {
    assert_eq!(begun.status, StatusCode::ACCEPTED, "{}", begun.body);
    let path = format!("/api/archive/{}", begun.body["id"].as_str().unwrap());
    loop {
        let told = get(house, cookie, &path).await;
        assert_eq!(told.status, StatusCode::OK, "{}", told.body);
        if told.body["state"] != "running" {
            return told.body;
        }
        tokio::task::yield_now().await;
    }
}

async fn exported(house: &House, cookie: &str) -> Vec<u8> {
    let begun = house.call(Some(cookie), Method::POST, "/api/archive", None).await;
    let told = ended(house, cookie, &begun).await;
    assert_eq!(told["state"], "done", "{told}");
    let file = get(house, cookie, &format!("/api/archive/{}/file", told["id"].as_str().unwrap())).await;
    assert_eq!(file.kind, "application/zip");
    file.bytes
}

async fn taken(house: &House, cookie: &str, bytes: Vec<u8>) -> Value {
    let begun = house
        .send(
            Some(cookie),
            Method::POST,
            "/api/archive/import",
            Some("application/zip"),
            bytes,
            Some(crate::house::ORIGIN),
        )
        .await;
    ended(house, cookie, &begun).await
}

/// The parts of an archive.
fn parts(bytes: &[u8]) -> Vec<(String, Vec<u8>)> {
    let mut zip = ZipArchive::new(Cursor::new(bytes)).unwrap();
    (0..zip.len())
        .map(|i| {
            let mut part = zip.by_index(i).unwrap();
            let name = part.name().unwrap().into_owned();
            let mut content = Vec::new();
            part.read_to_end(&mut content).unwrap();
            (name, content)
        })
        .collect()
}

fn packed(parts: &[(String, Vec<u8>)]) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in parts {
        zip.start_file(name.as_str(), SimpleFileOptions::default()).unwrap();
        zip.write_all(bytes).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

/// With a part that stands there twice: a second one of another name, renamed in the finished file.
fn twice(parts: &[(String, Vec<u8>)]) -> Vec<u8> {
    let more: Vec<(String, Vec<u8>)> =
        parts.iter().cloned().chain([("kit.jsom".to_owned(), b"[]".to_vec())]).collect();
    let mut bytes = packed(&more);
    while let Some(at) = bytes.windows(8).position(|w| w == b"kit.jsom") {
        bytes[at + 7] = b'n';
    }
    bytes
}

/// With the manifest made to fit, as somebody would who alters an archive with care.
fn sealed(mut parts: Vec<(String, Vec<u8>)>) -> Vec<u8> {
    use sha2::{Digest, Sha256};
    let at = parts.iter().position(|(name, _)| name == "manifest.json").unwrap();
    let mut manifest: Value = serde_json::from_slice(&parts[at].1).unwrap();
    let marks: serde_json::Map<String, Value> = parts
        .iter()
        .filter(|(name, _)| name != "manifest.json")
        .map(|(name, bytes)| (name.clone(), json!({"sha256": Sha256::digest(bytes).iter().map(|b| format!("{b:02x}")).collect::<String>(), "bytes": bytes.len()})))
        .collect();
    manifest["files"] = Value::Object(marks);
    manifest.as_object_mut().unwrap().remove("signature");
    parts[at].1 = serde_json::to_vec(&manifest).unwrap();
    packed(&parts)
}

/// A workshop with a scale, weights, an approved and amended record, an open job, and a file of a certificate.
async fn filled(house: &House) -> (String, Uuid) {
    let (ebba, maren) = (house.sign_in("ebba").await, house.sign_in("maren").await);
    let rules = json!({"letterhead": {"name": "Skarholm Scales", "lines": ["Quay 4"], "closing": "", "language": "de", "country": "XS"}, "review": true});
    let signe = house.sign_in("signe").await;
    assert!(house.call(Some(&signe), Method::PUT, "/api/letterhead", Some(rules)).await.status.is_success());
    let piece = json!({"id": Uuid::now_v7(), "serial": "TB-1", "nominal": {"value": "500", "unit": "kg"}, "class": "M1", "form": "block"});
    assert!(
        house
            .call(Some(&ebba), Method::PUT, "/api/kit", Some(json!({"piece": piece, "version": 0})))
            .await
            .status
            .is_success()
    );
    let site = json!({"name": "Harbour", "latitude": "57.5", "altitude": "4"});
    assert_eq!(house.call(Some(&ebba), Method::PUT, "/api/sites", Some(site)).await.status, StatusCode::OK);
    let job = house.whole_job(&ebba).await;
    for (who, draft) in [
        (&maren, json!({"kind": "approved", "remarks": "fine"})),
        (&ebba, json!({"kind": "amended", "reason": "the place was wrong"})),
        (&ebba, json!({"kind": "closed", "name": "Ebba Lund"})),
    ] {
        let after = house.head(&ebba, job).await;
        let reply = house.append(who, job, after, draft).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    }
    let open = house.begin(&ebba).await;
    assert_eq!(
        house.append(&ebba, open, 1, read_draft("as_found", "600", "600.4")).await.status,
        StatusCode::OK
    );
    (ebba, job)
}

/// Another database of the same server, with its own empty workshops.
async fn elsewhere(pool: &PgPool, keys: Keys) -> (House, PgPool, String) {
    let name = format!("elsewhere_{}", Uuid::now_v7().simple());
    pool.execute(AssertSqlSafe(format!("create database {name}"))).await.unwrap();
    let other = PgPoolOptions::new()
        .max_connections(4)
        .connect_with((*pool.connect_options()).clone().database(&name))
        .await
        .unwrap();
    ombret_migrate::MIGRATOR.run(&other).await.unwrap();
    let house = House::peopled(House::with_keys(other.clone(), keys)).await;
    // The house comes with a scale; an archive goes into an empty workshop.
    sqlx::query("delete from scale").execute(&other).await.unwrap();
    sqlx::query("delete from customer").execute(&other).await.unwrap();
    (house, other, name)
}

async fn dropped(pool: &PgPool, other: PgPool, name: &str) {
    other.close().await;
    pool.execute(AssertSqlSafe(format!("drop database {name} with (force)"))).await.unwrap();
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_workshop_goes_out_and_comes_in_elsewhere_the_same(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, job) = filled(&house).await;
    let bytes = exported(&house, &ebba).await;
    let (there, other, name) = elsewhere(&pool, house.keys.clone()).await;
    let cookie = there.sign_in("signe").await;
    let told = taken(&there, &cookie, bytes.clone()).await;
    assert_eq!(
        (told["state"].as_str(), told["says"].as_str()),
        (Some("done"), Some("1 scales, 1 weights, 2 jobs taken in")),
        "{told}"
    );

    for path in [
        format!("/api/jobs/{job}"),
        format!("/api/jobs/{job}/versions"),
        format!("/api/scales/{}/history", house.scale),
        "/api/letterhead".into(),
        "/api/kit?search=".into(),
        "/api/due?days=3000".into(),
        "/api/sites".into(),
        "/api/priors".into(),
    ] {
        assert_eq!(get(&there, &cookie, &path).await.body, get(&house, &ebba, &path).await.body, "{path}");
    }
    for path in [format!("/api/jobs/{job}/file"), format!("/api/jobs/{job}/file?version=1")] {
        assert_eq!(get(&there, &cookie, &path).await.bytes, get(&house, &ebba, &path).await.bytes, "{path}");
    }
    let looked = ombret::cli::verify_database(&other, &house.keys).await.unwrap();
    assert_eq!((looked.jobs, looked.broken, looked.signed), (2, Vec::new(), 3));
    // Out again it has the same parts, but for the moment it was made.
    let plain = |bytes: &[u8]| {
        parts(bytes)
            .into_iter()
            .filter(|(name, _)| name != "manifest.json" && name != "workshop.json")
            .collect::<Vec<_>>()
    };
    assert_eq!(plain(&exported(&there, &cookie).await), plain(&bytes));
    // Numbers go on where they were, and a second time there is no room.
    let there = House { scale: house.scale, ..there };
    let next = there.whole_job(&cookie).await;
    let number = get(&there, &cookie, &format!("/api/jobs/{next}")).await.body["job"]["number"]
        .as_str()
        .unwrap()
        .to_owned();
    assert!(number.ends_with("-0002"), "{number}");
    let again = taken(&there, &cookie, bytes).await;
    assert!(
        again["state"] == "failed" && again["why"].as_str().unwrap().contains("into an empty one"),
        "{again}"
    );
    dropped(&pool, other, &name).await;
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_broken_archive_is_refused_with_its_place_and_leaves_nothing(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, job) = filled(&house).await;
    let good = parts(&exported(&house, &ebba).await);
    let (there, other, name) = elsewhere(&pool, house.keys.clone()).await;
    let cookie = there.sign_in("ebba").await;
    let journal = format!("jobs/{job}/journal.json");
    let record = good
        .iter()
        .map(|(name, _)| name.clone())
        .find(|n| n.contains(&job.to_string()) && n.contains("record-"))
        .unwrap();
    let with = |name: &str, from: &str, to: &str| -> Vec<(String, Vec<u8>)> {
        let change =
            |bytes: &Vec<u8>| String::from_utf8(bytes.clone()).unwrap().replace(from, to).into_bytes();
        good.iter().map(|(n, b)| (n.clone(), if n == name { change(b) } else { b.clone() })).collect()
    };
    let without =
        |name: &str| -> Vec<(String, Vec<u8>)> { good.iter().filter(|(n, _)| n != name).cloned().collect() };
    let and = |name: &str, bytes: Vec<u8>| -> Vec<(String, Vec<u8>)> {
        good.iter().cloned().chain([(name.to_owned(), bytes)]).collect()
    };
    let kit = &good.iter().find(|(name, _)| name == "kit.json").unwrap().1;
    let piece = serde_json::from_slice::<Value>(kit).unwrap()[0]["id"].clone();
    let bomb = vec![b' '; 40 << 20];
    let cases: Vec<(&str, Vec<u8>, String)> = vec![
        ("not a zip", b"hello".to_vec(), "the file: is no archive".into()),
        (
            "a path that leads out",
            packed(&and("../../etc/passwd", b"x".to_vec())),
            "is no name that a part of an archive has".into(),
        ),
        (
            "an absolute path",
            packed(&and("/etc/passwd", b"x".to_vec())),
            "is no name that a part of an archive has".into(),
        ),
        (
            "a path with backslashes",
            packed(&and("jobs\\..\\x", b"x".to_vec())),
            "is no name that a part of an archive has".into(),
        ),
        (
            "a part too many",
            packed(&and("surprise.json", b"{}".to_vec())),
            "surprise.json: is not in the manifest".into(),
        ),
        (
            "a part that belongs to nothing",
            sealed(and("surprise.json", b"{}".to_vec())),
            "names parts that belong to nothing".into(),
        ),
        ("a bomb", sealed(and("certificates/00000", bomb)), "belong to nothing".into()),
        (
            "a bomb in the place of a part",
            sealed(with("profiles.json", "[", &format!("[{}", " ".repeat(40 << 20)))),
            "profiles.json: unpacks to more than 16 MiB".into(),
        ),
        ("no manifest", packed(&without("manifest.json")), "manifest.json: is missing".into()),
        (
            "a later version",
            packed(&with("manifest.json", "\"version\": 2", "\"version\": 9")),
            "version 9".into(),
        ),
        ("a part missing", packed(&without("kit.json")), "kit.json: is missing".into()),
        ("a part changed", packed(&with(&journal, "600.2", "600.0")), format!("{journal}: was changed")),
        (
            "a journal changed, the manifest too",
            sealed(with(&journal, "600.2", "600.0")),
            format!("{journal}: the file was changed"),
        ),
        (
            "a record changed, the manifest too",
            sealed(with(&record, "600.2", "600.0")),
            format!("{record}: the file was changed"),
        ),
        (
            "a record's spaces changed, the manifest too",
            sealed(with(&record, "\n  \"job\"", "\n \"job\"")),
            format!("{record}: is not the bytes that were frozen"),
        ),
        (
            "a scale missing",
            sealed(with("scales.json", &house.scale.to_string(), &Uuid::now_v7().to_string())),
            "names a scale that is not in the archive".into(),
        ),
        ("a scale of nonsense", sealed(with("scales.json", "\"Wool table\"", "\"\"")), "scales.json".into()),
        ("a signature that does not fit", packed(&with("manifest.json", "2026.", "2027.")), "its signature does not fit".into()),
        ("a part twice", twice(&good), "names a part twice".into()),
        (
            "a weight below nothing",
            sealed(with("kit.json", "\"500\"", "\"-500\"")),
            "kit.json: “TB-1”: -500 kg is not above zero".into(),
        ),
        (
            "an indicator at no address",
            sealed(with("scales.json", "\"device\": null", "\"device\": {\"address\": \"nowhere\"}")),
            "“nowhere” is no address".into(),
        ),
        (
            "a lesson of nonsense",
            sealed(with("workshop.json", "\"lessons\": []", "\"lessons\": [[\"x\", \"{}\"]]")),
            "workshop.json: lessons".into(),
        ),
        (
            "a place that is none",
            sealed(with("workshop.json", "\"57.5\"", "\"157.5\"")),
            "workshop.json: sites".into(),
        ),
        (
            "a rule that there is not",
            sealed(with("workshop.json", "\"tenth\"", "\"eleventh\"")),
            "workshop.json: school".into(),
        ),
        (
            "a profile without an edition",
            sealed(with("profiles.json", "[]", &json!([{"id": Uuid::nil(), "name": "x", "about": "", "editions": []}]).to_string())),
            "“x” has no edition".into(),
        ),
        (
            "a profile of nonsense",
            sealed(with("profiles.json", "[]", &json!([{"id": Uuid::nil(), "name": "x", "about": "", "editions": [{"edition": 1, "text": "nonsense", "changed_by": "x", "changed_at": "2026-01-01T00:00:00Z"}]}]).to_string())),
            "“x” cannot be read".into(),
        ),
        (
            "a certificate that no piece has",
            sealed(with("certificates.json", "[]", &json!([{"piece": piece, "number": "N-1", "name": "x.pdf", "part": "workshop.json"}]).to_string())),
            "N-1 belongs to no piece".into(),
        ),
    ];
    for (what, bytes, says) in cases {
        let told = taken(&there, &cookie, bytes).await;
        assert_eq!(told["state"], "failed", "{what}: {told}");
        let why = told["why"].as_str().unwrap();
        assert!(
            why.contains(&says) && why.ends_with("Nothing was taken in."),
            "{what}: {why} should say {says}"
        );
        for table in ["scale", "job", "entry", "record", "piece", "site"] {
            let count: i64 = sqlx::query_scalar(AssertSqlSafe(format!("select count(*) from {table}")))
                .fetch_one(&other)
                .await
                .unwrap();
            assert_eq!(count, 0, "{what} left something in {table}");
        }
    }
    dropped(&pool, other, &name).await;
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_another_house_wrote_stays_foreign_unless_the_settings_trust_the_file(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, job) = filled(&house).await;
    let good = exported(&house, &ebba).await;
    // Without its signature, or with another key's, it claims what it likes.
    let unsigned = sealed(parts(&good));
    for bytes in [good.clone(), unsigned.clone()] {
        let (there, other, name) = elsewhere(&pool, Keys::passing()).await;
        let cookie = there.sign_in("ebba").await;
        let told = taken(&there, &cookie, bytes).await;
        assert!(told["says"].as_str().unwrap().contains("its records stay imported ones"), "{told}");
        let shown = get(&there, &cookie, &format!("/api/jobs/{job}")).await.body;
        assert_eq!(shown["job"]["imported"], json!(true));
        assert!(shown["job"]["number"].as_str().unwrap().starts_with("imported-"), "{}", shown["job"]);
        let kind = get(&there, &cookie, &format!("/api/jobs/{job}/paper")).await.body;
        assert!(kind["lacks"].to_string().contains("came as a file from elsewhere"), "{kind}");
        let rule = get(&there, &cookie, "/api/letterhead").await.body;
        assert_eq!(rule["rules"]["review"], json!(false), "who approves is not for a technician to bring");
        let looked = ombret::cli::verify_database(&other, &there.keys).await.unwrap();
        assert!(looked.broken.is_empty(), "{:?}", looked.broken);
        dropped(&pool, other, &name).await;
    }
    let (there, other, name) = elsewhere(&pool, Keys::passing()).await;
    let settings = Settings {
        trusted_archives: vec![ombret::sha256_hex(&unsigned)],
        keys: there.keys.clone(),
        ..Settings::default()
    };
    let trusting = House::with(other.clone(), settings);
    let cookie = there.sign_in("ebba").await;
    assert_eq!(taken(&trusting, &cookie, unsigned).await["state"], "done");
    let shown = get(&there, &cookie, &format!("/api/jobs/{job}")).await.body;
    assert_eq!(shown["job"]["imported"], json!(false));
    dropped(&pool, other, &name).await;
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn one_archive_is_taken_in_at_a_time_and_a_broken_upload_makes_room_again(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    let (send, receive) = tokio::sync::mpsc::channel::<Result<Vec<u8>, std::io::Error>>(1);
    let slow = tokio_stream::wrappers::ReceiverStream::new(receive);
    let request = axum::http::Request::builder()
        .method(Method::POST)
        .uri("/api/archive/import")
        .header("host", "ombret.test")
        .header("origin", crate::house::ORIGIN)
        .header("cookie", &ebba)
        .body(axum::body::Body::from_stream(slow))
        .unwrap();
    let upload = tokio::spawn(tower::ServiceExt::oneshot(house.router.clone(), request));
    while get(&house, &ebba, "/api/archive").await.body.as_array().unwrap().is_empty() {
        tokio::task::yield_now().await;
    }
    let busy = |cookie: String| {
        let house = &house;
        async move {
            let kind = Some("application/zip");
            house
                .send(
                    Some(&cookie),
                    Method::POST,
                    "/api/archive/import",
                    kind,
                    b"x".to_vec(),
                    Some(crate::house::ORIGIN),
                )
                .await
        }
    };
    assert_eq!(busy(foreign.clone()).await.status, StatusCode::CONFLICT, "before a byte of it is kept");
    send.send(Err(std::io::Error::other("cut"))).await.unwrap();
    assert!(upload.await.unwrap().unwrap().status().is_client_error());
    assert_eq!(get(&house, &ebba, "/api/archive").await.body[0]["state"], "cancelled");
    assert_eq!(busy(foreign).await.status, StatusCode::ACCEPTED);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn long_work_is_seen_and_called_off_by_its_own_workshop_only(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, maren, foreign) =
        (house.sign_in("ebba").await, house.sign_in("maren").await, house.sign_in("foreign").await);
    assert_eq!(
        house.call(Some(&maren), Method::POST, "/api/archive", None).await.status,
        StatusCode::FORBIDDEN
    );
    let begun = house.call(Some(&ebba), Method::POST, "/api/archive", None).await;
    let path = format!("/api/archive/{}", begun.body["id"].as_str().unwrap());
    for (method, path) in
        [(Method::GET, path.clone()), (Method::DELETE, path.clone()), (Method::GET, format!("{path}/file"))]
    {
        assert_eq!(house.call(Some(&foreign), method, &path, None).await.status, StatusCode::NOT_FOUND);
    }
    let called_off = house.call(Some(&ebba), Method::DELETE, &path, None).await;
    assert_eq!(called_off.status, StatusCode::NO_CONTENT);
    let told = ended(&house, &ebba, &begun).await;
    assert!(["cancelled", "done"].contains(&told["state"].as_str().unwrap()), "{told}");
    // Called off, or done and let go of: there is no file.
    house.call(Some(&ebba), Method::DELETE, &path, None).await;
    assert_eq!(get(&house, &ebba, &format!("{path}/file")).await.status, StatusCode::NOT_FOUND);
    assert_eq!(get(&house, &ebba, "/api/archive").await.body.as_array().unwrap().len(), 1);
}

/// A picture of one point. Source: PNG, ISO/IEC 15948.
const POINT: &[u8] = b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\x01\0\0\0\x01\x08\x06\0\0\0\x1f\x15\xc4\x89";

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn customers_instruments_and_photographs_go_out_and_come_in_and_an_archive_from_before_is_read(
    pool: PgPool,
) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let (instrument, file) = (Uuid::now_v7(), Uuid::now_v7());
    let body = json!({"instrument": {"id": instrument, "kind": "thermometer", "serial": "T-1", "certificate": "C 5", "due": "2030-01-01"}, "version": 0});
    let kept = house.call(Some(&ebba), Method::PUT, "/api/instruments", Some(body)).await;
    assert_eq!(kept.status, StatusCode::NO_CONTENT, "{}", kept.body);
    let path = format!("/api/files/{file}?of=scale&id={}&name=plate.png&caption=the%20plate", house.scale);
    let kind = Some("application/octet-stream");
    let kept =
        house.send(Some(&ebba), Method::PUT, &path, kind, POINT.to_vec(), Some(crate::house::ORIGIN)).await;
    assert_eq!(kept.status, StatusCode::OK, "{}", kept.body);
    let customers = get(&house, &ebba, "/api/customers").await.body;
    let mut of = customers["customers"][0].clone();
    of["number"] = json!("K-1");
    let id = of["id"].as_str().unwrap().to_owned();
    let changed = house.call(Some(&ebba), Method::PUT, &format!("/api/customers/{id}"), Some(of)).await;
    assert_eq!(changed.status, StatusCode::OK, "{}", changed.body);
    let bytes = exported(&house, &ebba).await;

    let (there, other, name) = elsewhere(&pool, house.keys.clone()).await;
    let cookie = there.sign_in("ebba").await;
    assert_eq!(taken(&there, &cookie, bytes.clone()).await["state"], "done");
    let scales = get(&there, &cookie, "/api/customers").await.body;
    assert_eq!(
        (&scales["customers"][0]["number"], &scales["customers"][0]["scales"]),
        (&json!("K-1"), &json!(1))
    );
    assert_eq!(get(&there, &cookie, "/api/instruments").await.body[0]["serial"], "T-1");
    let listed = get(&there, &cookie, &format!("/api/files?of=scale&id={}", house.scale)).await.body;
    assert_eq!(listed[0]["caption"], "the plate");
    let got = get(&there, &cookie, &format!("/api/files/{file}")).await;
    assert_eq!((got.bytes.as_slice(), got.kind.as_str()), (POINT, "image/png"));
    dropped(&pool, other, &name).await;

    // One from before there were customers: its parts are not there, and its version says so.
    let mut old: Vec<(String, Vec<u8>)> = parts(&bytes)
        .into_iter()
        .filter(|(name, _)| {
            !["customers.json", "instruments.json", "files.json"].contains(&name.as_str())
                && !name.starts_with("files/")
        })
        .collect();
    for (name, bytes) in &mut old {
        if name == "manifest.json" {
            let mut manifest: Value = serde_json::from_slice(bytes).unwrap();
            manifest["version"] = json!(1);
            *bytes = manifest.to_string().into_bytes();
        }
    }
    let (there, other, name) = elsewhere(&pool, house.keys.clone()).await;
    let cookie = there.sign_in("ebba").await;
    let told = taken(&there, &cookie, sealed(old)).await;
    assert_eq!(told["state"], "done", "{told}");
    let customers = get(&there, &cookie, "/api/customers").await.body;
    assert_eq!(customers["customers"][0]["name"], "Tussock Wool Store", "the owner becomes a customer");
    dropped(&pool, other, &name).await;
}
