//! Work away from the server comes home: each entry is decided again in its order, and nothing is lost.

use std::collections::BTreeMap;

use crate::house::{House, Reply, drafts_of, read_draft};
use axum::http::{Method, StatusCode};
use ed25519_dalek::{Signer as _, SigningKey};
use ombret::cli;
use ombret::signing::Keys;
use ombret_core::journal::hex_of_bytes;
use ombret_core::offline::Offline;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// A device as the page is one: its core, its key, and what it holds of a job.
struct Device {
    id: Uuid,
    key: SigningKey,
    core: Offline,
    by: Value,
    job: Uuid,
    entries: Vec<Value>,
    signatures: BTreeMap<String, String>,
    /// By how many seconds its clock is ahead.
    ahead: i64,
}

async fn get(house: &House, cookie: &str, path: &str) -> Value {
    let reply = house.call(Some(cookie), Method::GET, path, None).await;
    assert_eq!(reply.status, StatusCode::OK, "{path}: {}", reply.body);
    reply.body
}

impl Device {
    /// A device of whoever is signed in, known to the server, with the workshop taken along.
    async fn of(house: &House, cookie: &str) -> Self {
        let me = get(house, cookie, "/api/session").await;
        let key = SigningKey::from_bytes(&[7; 32]);
        let id = Uuid::now_v7();
        let form = json!({"id": id, "name": "Tablet 2", "public_key": hex_of_bytes(key.verifying_key().as_bytes()), "password": "right"});
        let made = house.call(Some(cookie), Method::POST, "/api/offline/devices", Some(form)).await;
        assert_eq!(made.status, StatusCode::NO_CONTENT, "{}", made.body);
        let mut device = Self {
            id,
            key,
            core: Offline::default(),
            by: json!({"id": me["id"], "name": me["name"]}),
            job: Uuid::now_v7(),
            entries: Vec::new(),
            signatures: BTreeMap::new(),
            ahead: 0,
        };
        let mut workshop = get(house, cookie, "/api/offline/workshop").await;
        workshop["ask"] = json!("workshop");
        device.ask(&workshop);
        device
    }

    fn try_ask(&mut self, question: &Value) -> Value {
        serde_json::from_str(&self.core.answer(&question.to_string())).unwrap()
    }

    fn ask(&mut self, question: &Value) -> Value {
        let mut told = self.try_ask(question);
        assert!(told.get("ok").is_some(), "{question}: {told}");
        told["ok"].take()
    }

    fn now(&self) -> String {
        let now = time::OffsetDateTime::now_utc() + time::Duration::seconds(self.ahead);
        now.format(&time::format_description::well_known::Rfc3339).unwrap()
    }

    fn author(&mut self) -> Value {
        json!({"entry": Uuid::now_v7(), "at": self.now(), "by": self.by})
    }

    /// Begins a job at the house's scale, as it was taken along.
    async fn begin(&mut self, house: &House, cookie: &str) {
        let along = get(house, cookie, &format!("/api/offline/scales/{}", house.scale)).await;
        let author = self.author();
        let begun = self.ask(&json!({"ask": "begin", "job": self.job, "author": author, "sheet": along["sheet"], "before": along["before"]}));
        self.entries = begun["sealed"].as_array().unwrap().clone();
    }

    /// Goes on with a job of the server.
    async fn take(&mut self, house: &House, cookie: &str, job: Uuid) {
        self.job = job;
        let entries = get(house, cookie, &format!("/api/jobs/{job}/entries?after=0")).await;
        self.ask(&json!({"ask": "open", "job": job, "entries": entries}));
        self.entries = entries.as_array().unwrap().clone();
    }

    fn enter(&mut self, draft: Value) -> Value {
        let author = self.author();
        let after = self.entries.last().unwrap()["seq"].clone();
        let told = self.ask(&json!({"ask": "enter", "job": self.job, "after": after, "author": author, "draft": draft, "roles": ["technician"]}));
        let sealed = told["sealed"].clone();
        if sealed["body"]["kind"] == "closed" {
            let hash = sealed["hash"].as_str().unwrap().to_owned();
            let signature = self.key.sign(format!("ombret.device/{hash}").as_bytes());
            self.signatures.insert(hash, hex_of_bytes(&signature.to_bytes()));
        }
        self.entries.push(sealed);
        told["assessment"].clone()
    }

    /// The whole job, from the inspection to the signature.
    fn do_all(&mut self) {
        let told = self.ask(&json!({"ask": "assess", "job": self.job}));
        let items: Vec<String> = told["inspection"]
            .as_array()
            .unwrap()
            .iter()
            .map(|c| c["item"].as_str().unwrap().to_owned())
            .collect();
        for draft in drafts_of(&items) {
            self.enter(draft);
        }
    }

    fn home(&self, id: Uuid, from: usize) -> Value {
        json!({"id": id, "device": self.id, "job": self.job, "entries": self.entries[from..], "signatures": self.signatures,
               "clock": self.now()})
    }
}

async fn send(house: &House, cookie: &str, home: Value) -> Reply {
    house.call(Some(cookie), Method::POST, "/api/offline/home", Some(home)).await
}

async fn came(house: &House, cookie: &str, home: Value) -> Value {
    let reply = send(house, cookie, home).await;
    assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    reply.body
}

fn notes(came: &Value) -> Vec<&str> {
    came["notes"].as_array().unwrap().iter().map(|n| n["note"].as_str().unwrap()).collect()
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_whole_job_done_away_comes_home_as_it_was_sealed_and_verifies(pool: PgPool) {
    let house = House::with_keys(pool.clone(), Keys::passing());
    let house = House::peopled(house).await;
    let ebba = house.sign_in("ebba").await;
    let mut device = Device::of(&house, &ebba).await;
    device.begin(&house, &ebba).await;
    device.do_all();
    let id = Uuid::now_v7();
    let first = came(&house, &ebba, device.home(id, 0)).await;
    assert_eq!(first["taken"], device.entries.len());
    assert_eq!((notes(&first), first["left"].as_array().unwrap().len()), (vec![], 0), "{first}");
    assert!(first["number"].is_string(), "the number comes from the server: {first}");
    let there = get(&house, &ebba, &format!("/api/jobs/{}/entries?after=0", device.job)).await;
    assert_eq!(there, json!(device.entries), "the same entries under the same seals");
    // A lost answer is asked for again, and so is all of it under another name.
    assert_eq!(came(&house, &ebba, device.home(id, 0)).await, first);
    let again = came(&house, &ebba, device.home(Uuid::now_v7(), 0)).await;
    assert_eq!((&again["taken"], &again["known"]), (&json!(0), &json!(device.entries.len())));
    let looked = cli::verify_database(&house.pool, &house.keys).await.unwrap();
    assert_eq!((looked.jobs, looked.signed, looked.broken.len()), (1, 1, 0), "{}", cli::report(&looked));
    assert!(sqlx::query("delete from came_home").execute(&pool).await.is_err(), "it is kept");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_others_entered_meanwhile_stays_before_what_was_brought(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let job = house.begin(&ebba).await;
    let mut device = Device::of(&house, &ebba).await;
    device.take(&house, &ebba, job).await;
    device.enter(read_draft("as_found", "0", "0"));
    device.enter(read_draft("as_found", "600", "600.4"));
    let remark =
        house.append(&signe, job, 1, json!({"kind": "remarked", "text": "the gate is locked"})).await;
    assert_eq!(remark.status, StatusCode::OK);
    let told = came(&house, &ebba, device.home(Uuid::now_v7(), 1)).await;
    assert_eq!((notes(&told), &told["taken"]), (vec!["between"], &json!(2)), "{told}");
    assert!(told["notes"][0]["by"].as_array().unwrap().contains(&json!("signe")));
    let entries = get(&house, &ebba, &format!("/api/jobs/{job}/entries?after=0")).await;
    let kinds: Vec<&str> =
        entries.as_array().unwrap().iter().map(|e| e["body"]["kind"].as_str().unwrap()).collect();
    assert_eq!(kinds, ["started", "remarked", "read", "read"]);
    assert_ne!(entries[2]["hash"], device.entries[1]["hash"], "sealed anew behind the remark");
    // A journal does not run backwards; what came is kept as it came, with its own times.
    assert!(entries[2]["at"].as_str() >= entries[1]["at"].as_str());
    let kept: String =
        sqlx::query_scalar("select brought from came_home").fetch_one(&house.pool).await.unwrap();
    assert_eq!(serde_json::from_str::<Value>(&kept).unwrap(), json!(device.entries[1..]));
    let file = ombret_core::job::open_file(&house.file(&ebba, job).await).unwrap().0;
    assert_eq!(file.entries.len(), 4);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_job_that_was_closed_elsewhere_takes_nothing_more_and_loses_nothing(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.begin(&ebba).await;
    let mut device = Device::of(&house, &ebba).await;
    device.take(&house, &ebba, job).await;
    device.enter(read_draft("as_found", "0", "0"));
    let stop = |after, draft: Value| house.append(&ebba, job, after, draft);
    assert_eq!(stop(1, json!({"kind": "stopped_short", "reason": "no power"})).await.status, StatusCode::OK);
    assert_eq!(
        stop(2, json!({"kind": "sealed_up", "seals": "", "switch_back": true, "locked": true})).await.status,
        StatusCode::OK
    );
    let closed = stop(3, json!({"kind": "closed", "name": "Ebba Lund"})).await;
    assert_eq!(closed.status, StatusCode::OK, "{}", closed.body);
    let id = Uuid::now_v7();
    let told = came(&house, &ebba, device.home(id, 1)).await;
    assert_eq!((notes(&told), &told["taken"]), (vec!["left"], &json!(0)), "{told}");
    assert_eq!(told["left"].as_array().unwrap().len(), 1, "it is told what was left: {told}");
    let kept = get(&house, &ebba, &format!("/api/offline/home/{id}/left")).await;
    assert_eq!(kept, json!([device.entries[1]]), "as it came");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_changed_sheet_a_recalled_piece_another_job_and_a_wrong_clock_are_told(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let piece = |damaged: bool| {
        json!({"id": Uuid::from_u128(5), "serial": "TB-01", "set": "", "nominal": {"value": "100", "unit": "kg"}, "class": "M1",
        "form": "block", "place": "", "holder": "", "damaged": damaged, "certificates": [{"number": "C 1", "laboratory": "Fell Lab", "date": "2026-01-01",
        "due": "2090-01-01", "error": {"value": "0", "unit": "mg"}, "U": {"value": "1000", "unit": "mg"}, "k": "2"}]})
    };
    let keep = |damaged, version: i32| {
        let (house, ebba) = (&house, ebba.clone());
        let body = json!({"piece": piece(damaged), "version": version});
        async move { house.call(Some(&ebba), Method::PUT, "/api/kit", Some(body)).await }
    };
    let kept = keep(false, 0).await;
    assert_eq!(kept.status, StatusCode::NO_CONTENT, "{}", kept.body);
    let mut device = Device::of(&house, &ebba).await;
    device.ahead = 3600;
    device.begin(&house, &ebba).await;
    let mut read = read_draft("as_found", "100", "100.2");
    read["with"] = json!([Uuid::from_u128(5)]);
    device.enter(read);
    // Meanwhile at home.
    assert_eq!(keep(true, 1).await.status, StatusCode::NO_CONTENT);
    let detail = get(&house, &ebba, &format!("/api/scales/{}", house.scale)).await;
    let mut form = crate::house::scale_form(house.scale);
    form["place"] = json!("Grading floor, bay 3");
    form["version"] = detail["version"].clone();
    let changed =
        house.call(Some(&ebba), Method::PUT, &format!("/api/scales/{}", house.scale), Some(form)).await;
    assert_eq!(changed.status, StatusCode::OK, "{}", changed.body);
    house.begin(&signe).await;
    let told = came(&house, &ebba, device.home(Uuid::now_v7(), 0)).await;
    assert_eq!(notes(&told), ["sheet_changed", "piece_out", "other_job", "clock"], "{told}");
    assert_eq!(told["taken"], 2, "all of it stands");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn nobody_brings_what_is_not_theirs_not_whole_or_not_signed(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, signe, maren) =
        (house.sign_in("ebba").await, house.sign_in("signe").await, house.sign_in("maren").await);
    let mut device = Device::of(&house, &ebba).await;
    device.begin(&house, &ebba).await;
    device.enter(read_draft("as_found", "0", "0"));
    // Another person's device is nobody's here; whoever only approves brings nothing.
    assert_eq!(send(&house, &signe, device.home(Uuid::now_v7(), 0)).await.status, StatusCode::NOT_FOUND);
    assert_eq!(send(&house, &maren, device.home(Uuid::now_v7(), 0)).await.status, StatusCode::FORBIDDEN);
    let mut changed = device.home(Uuid::now_v7(), 0);
    changed["entries"][1]["body"]["load"] = json!({"value": "1", "unit": "kg"});
    assert_eq!(send(&house, &ebba, changed).await.code(), "broken_chain");
    let mut hole = device.home(Uuid::now_v7(), 0);
    device.enter(read_draft("as_found", "600", "600.4"));
    hole["entries"] = json!([device.entries[0], device.entries[2]]);
    assert_eq!(send(&house, &ebba, hole).await.code(), "broken_chain");
    // A beginning that stands behind something else is no beginning of this job.
    let mut elsewhere = device.home(Uuid::now_v7(), 0);
    elsewhere["job"] = json!(Uuid::now_v7());
    assert_eq!(send(&house, &ebba, elsewhere).await.code(), "broken_chain");
    // Practice needs no signature; a device does not make a real scale one for practice.
    let mut practice = Device::of(&house, &ebba).await;
    let mut sheet =
        get(&house, &ebba, &format!("/api/offline/scales/{}", house.scale)).await["sheet"].clone();
    sheet["practice"] = json!(true);
    let (author, job) = (practice.author(), practice.job);
    let begun =
        practice.ask(&json!({"ask": "begin", "job": job, "author": author, "sheet": sheet, "before": null}));
    practice.entries = begun["sealed"].as_array().unwrap().clone();
    assert_eq!(send(&house, &ebba, practice.home(Uuid::now_v7(), 0)).await.code(), "not_practice");
    // An entry that says it was somebody else's is left, with all behind it.
    let mut other = Device::of(&house, &signe).await;
    other.job = device.job;
    other.ask(&json!({"ask": "open", "job": device.job, "entries": device.entries}));
    other.entries = device.entries.clone();
    other.enter(json!({"kind": "remarked", "text": "by Signe"}));
    device.entries = other.entries;
    let told = came(&house, &ebba, device.home(Uuid::now_v7(), 0)).await;
    assert_eq!((notes(&told), &told["taken"]), (vec!["left"], &json!(3)), "{told}");

    let mut unsigned = Device::of(&house, &ebba).await;
    unsigned.begin(&house, &ebba).await;
    unsigned.do_all();
    unsigned.signatures.values_mut().for_each(|s| *s = "0".repeat(128));
    let told = came(&house, &ebba, unsigned.home(Uuid::now_v7(), 0)).await;
    assert_eq!(notes(&told), ["left"], "{told}");
    assert!(told["number"].is_null(), "nothing was frozen: {told}");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_device_that_was_blocked_is_told_so_and_brings_nothing_more(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, signe, foreign) =
        (house.sign_in("ebba").await, house.sign_in("signe").await, house.sign_in("foreign").await);
    let mut device = Device::of(&house, &ebba).await;
    device.begin(&house, &ebba).await;
    let path = format!("/api/offline/devices/{}", device.id);
    assert_eq!(get(&house, &ebba, &path).await["welcome"], true);
    let block = |who: &str| {
        let (house, who, path) = (&house, who.to_owned(), path.clone());
        async move { house.call(Some(&who), Method::DELETE, &path, None).await.status }
    };
    assert_eq!(block(&foreign).await, StatusCode::NOT_FOUND);
    assert_eq!(block(&signe).await, StatusCode::NO_CONTENT, "a manager blocks any of the workshop");
    assert_eq!(get(&house, &ebba, &path).await["welcome"], false);
    assert_eq!(send(&house, &ebba, device.home(Uuid::now_v7(), 0)).await.status, StatusCode::NOT_FOUND);
    assert!(sqlx::query("update device set revoked_at = null").execute(&pool).await.is_err(), "it stays out");
    // A device is made with the password, and a key is a key.
    let form = |key: &str, password: &str| json!({"id": Uuid::now_v7(), "name": "x", "public_key": key, "password": password});
    let make = |form: Value| {
        let (house, ebba) = (&house, ebba.clone());
        async move { house.call(Some(&ebba), Method::POST, "/api/offline/devices", Some(form)).await.code() }
    };
    assert_eq!(make(form("00", "right")).await, "bad_key");
    assert_eq!(make(form(&"a1".repeat(32), "wrong")).await, "wrong_password");
}
