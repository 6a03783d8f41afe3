//! Profiles, sites, keying sheets and the desk, over HTTP on a real database.

use crate::house::{House, ORIGIN, scale_form};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

fn text(name: &str) -> String {
    std::fs::read_to_string(format!("{}/../../demo/profiles/{name}.toml", env!("CARGO_MANIFEST_DIR")))
        .unwrap()
}

async fn keep(house: &House, cookie: &str, id: Uuid, text: &str, edition: i32) -> crate::house::Reply {
    house
        .call(
            Some(cookie),
            Method::PUT,
            "/api/profiles",
            Some(json!({"id": id, "text": text, "edition": edition})),
        )
        .await
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_profile_is_kept_by_edition_and_nothing_broken_is_taken_in(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let id = Uuid::now_v7();
    let good = text("korrin-p4");
    let broken =
        keep(&house, &cookie, id, &good.replacen("meaning = \"max\"", "meaning = \"tare\"", 1), 0).await;
    assert_eq!((broken.status, broken.code()), (StatusCode::UNPROCESSABLE_ENTITY, "bad_profile".into()));
    assert!(broken.body["problems"][0]["line"].as_u64().unwrap() > 50, "{}", broken.body);
    assert!(
        house
            .call(Some(&cookie), Method::GET, "/api/profiles", None)
            .await
            .body
            .as_array()
            .unwrap()
            .is_empty()
    );

    assert_eq!(keep(&house, &cookie, id, &good, 0).await.body["edition"], 1);
    assert_eq!(keep(&house, &cookie, id, &format!("{good}\n"), 1).await.body["edition"], 2);
    assert_eq!(
        keep(&house, &cookie, id, &good, 1).await.status,
        StatusCode::CONFLICT,
        "somebody else was quicker"
    );
    assert_eq!(
        keep(&house, &cookie, Uuid::now_v7(), &good, 0).await.status,
        StatusCode::CONFLICT,
        "the name is taken"
    );
    let file = house.call(Some(&cookie), Method::GET, &format!("/api/profiles/{id}/file"), None).await;
    assert_eq!(
        (file.kind.as_str(), String::from_utf8(file.bytes).unwrap()),
        ("application/toml; charset=utf-8", format!("{good}\n"))
    );

    for name in ["../../etc/mine.toml", "C:\\mine.toml", ".hidden.toml", "mine.exe", "a\u{7}b.toml"] {
        let body = json!({"id": Uuid::now_v7(), "text": text("sollen-k2"), "file_name": name});
        let reply = house.call(Some(&cookie), Method::PUT, "/api/profiles", Some(body)).await;
        assert_eq!(reply.code(), "bad_file_name", "{name}");
    }
    let huge = json!({"id": Uuid::now_v7(), "text": "x".repeat(10_000_000)});
    assert_eq!(
        house.call(Some(&cookie), Method::PUT, "/api/profiles", Some(huge)).await.status,
        StatusCode::PAYLOAD_TOO_LARGE
    );
    let long = json!({"id": Uuid::now_v7(), "text": format!("{good}# {}", "x".repeat(70_000))});
    assert_eq!(
        house.call(Some(&cookie), Method::PUT, "/api/profiles", Some(long)).await.code(),
        "bad_profile"
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn another_workshop_does_not_see_a_profile_and_a_reviewer_does_not_write_one(pool: PgPool) {
    let house = House::new(pool).await;
    let (own, foreign, reviewer) =
        (house.sign_in("ebba").await, house.sign_in("foreign").await, house.sign_in("maren").await);
    let id = Uuid::now_v7();
    keep(&house, &own, id, &text("brant-duo"), 0).await;
    assert_eq!(
        house.call(Some(&foreign), Method::GET, &format!("/api/profiles/{id}"), None).await.status,
        StatusCode::NOT_FOUND
    );
    assert_eq!(keep(&house, &foreign, id, &text("brant-duo"), 1).await.status, StatusCode::CONFLICT);
    assert_eq!(
        keep(&house, &reviewer, Uuid::now_v7(), &text("sollen-k2"), 0).await.status,
        StatusCode::FORBIDDEN
    );
    assert_eq!(
        house.call(Some(&reviewer), Method::GET, &format!("/api/profiles/{id}"), None).await.status,
        StatusCode::OK
    );
    assert_eq!(house.call(None, Method::GET, "/api/profiles", None).await.status, StatusCode::UNAUTHORIZED);
}

/// A scale that is keyed by a profile, and a job on it.
async fn keyed_job(house: &House, cookie: &str) -> Uuid {
    let (profile, scale) = (Uuid::now_v7(), Uuid::now_v7());
    keep(house, cookie, profile, &text("korrin-p4"), 0).await;
    let mut form = scale_form(scale);
    form["profile"] = json!({"id": profile, "name": "Korrin P4"});
    assert_eq!(
        house.call(Some(cookie), Method::POST, "/api/scales", Some(form)).await.status,
        StatusCode::CREATED
    );
    let job = Uuid::now_v7();
    house.call(Some(cookie), Method::POST, "/api/jobs", Some(json!({"id": job, "scale_id": scale}))).await;
    job
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_job_has_its_keying_sheet_a_virtual_indicator_and_the_meaning_of_messages(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = keyed_job(&house, &cookie).await;
    let ask = async |body: Value| {
        house.call(Some(&cookie), Method::POST, &format!("/api/jobs/{job}/keying"), Some(body)).await
    };
    let sheet = ask(json!({"weights": ["600"]})).await.body["sheet"].clone();
    assert!(sheet["presses"].as_u64().unwrap() < sheet["naive"].as_u64().unwrap());
    let acts: Vec<Value> = sheet["steps"]
        .as_array()
        .unwrap()
        .iter()
        .flat_map(|s| s["acts"].as_array().unwrap().clone())
        .collect();
    let run = json!({"text": text("korrin-p4"), "job": job, "acts": acts});
    let kept =
        house.call(Some(&cookie), Method::POST, "/api/profiles/run", Some(run)).await.body["kept"].clone();
    let value = |meaning: &str| {
        kept.as_array().unwrap().iter().find(|k| k["meaning"] == meaning).map(|k| k["text"].clone())
    };
    assert_eq!(
        (value("max"), value("span_weight"), value("span")),
        (Some("008700".into()), Some("006000".into()), Some("captured".into()))
    );

    let cannot = ask(json!({"weights": ["900"]})).await.body["cannot"].clone();
    assert!(cannot[0]["says"].as_str().unwrap().contains("above Max"), "{cannot}");
    let typo = ask(json!({"weights": ["6oo"]})).await;
    assert_eq!(
        (typo.status, typo.body["field"].as_str()),
        (StatusCode::UNPROCESSABLE_ENTITY, Some("weights"))
    );
    let told = house
        .call(
            Some(&cookie),
            Method::POST,
            &format!("/api/jobs/{job}/messages"),
            Some(json!({"shown": "light"})),
        )
        .await;
    assert_eq!(told.body[0]["meaning"], "too_little_weight");
    let many = json!({"text": text("korrin-p4"), "acts": vec![json!({"act": "unload"}); 5001]});
    assert_eq!(
        house.call(Some(&cookie), Method::POST, "/api/profiles/run", Some(many)).await.code(),
        "too_long"
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn sites_are_kept_and_refused_at_their_field_and_the_desk_answers(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let site = async |latitude: &str, altitude: &str| {
        house
            .call(
                Some(&cookie),
                Method::PUT,
                "/api/sites",
                Some(json!({"name": "Quay", "latitude": latitude, "altitude": altitude})),
            )
            .await
    };
    assert_eq!(site("91", "0").await.body["field"], "latitude");
    assert_eq!(site("57", "9001").await.body["field"], "altitude_m");
    assert_eq!(site("x", "0").await.body["field"], "latitude");
    assert_eq!(site("57,7", "3").await.status, StatusCode::OK);
    assert_eq!(house.call(Some(&cookie), Method::GET, "/api/sites", None).await.body[0]["latitude"], "57.7");
    let desk =
        async |body: Value| house.call(Some(&cookie), Method::POST, "/api/calculators", Some(body)).await;
    assert_eq!(desk(json!({"tool": "convert", "mass": "1 lb", "unit": "kg"})).await.status, StatusCode::OK);
    let wrong = desk(json!({"tool": "division", "max": "-1", "unit": "kg"})).await;
    assert_eq!((wrong.status, wrong.body["field"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("max")));
    let origin = house
        .send(
            Some(&cookie),
            Method::PUT,
            "/api/sites",
            Some("application/json"),
            b"{}".to_vec(),
            Some("https://elsewhere.test"),
        )
        .await;
    assert_eq!((origin.status, ORIGIN.is_empty()), (StatusCode::FORBIDDEN, false));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_session_of_teaching_is_kept_step_by_step_and_only_what_is_of_use_becomes_a_profile(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let path = format!("/api/teaching/{}", Uuid::now_v7());
    let put = async |version: i32, session: Value| {
        let body = json!({"version": version, "session": session});
        house.call(Some(&cookie), Method::PUT, &path, Some(body)).await
    };
    let nameless = put(0, json!({"name": " ", "keys": ["a"], "events": []})).await;
    assert_eq!((nameless.status, nameless.code()), (StatusCode::UNPROCESSABLE_ENTITY, "bad_session".into()));
    let begun = put(0, json!({"name": "Strandvik M7", "keys": ["a", "b"], "events": []})).await;
    assert_eq!((begun.status, &begun.body["version"]), (StatusCode::OK, &json!(1)));
    assert_eq!(begun.body["learnt"]["next"]["ask"], "way_in");
    let menu = json!({"event": "seen", "act": {"act": "key", "key": "a"}, "display": "one", "screen": {"is": "item", "lies": "same"}});
    let on = put(1, json!({"name": "Strandvik M7", "keys": ["a", "b"], "events": [menu]})).await;
    assert_eq!(on.body["learnt"]["next"]["ask"], "item", "{}", on.body);
    assert_eq!(
        put(1, on.body["session"].clone()).await.status,
        StatusCode::CONFLICT,
        "somebody else went on"
    );
    let read = house.call(Some(&cookie), Method::GET, &path, None).await;
    assert_eq!((&read.body["version"], &read.body["session"]), (&json!(2), &on.body["session"]));
    let early = house.call(Some(&cookie), Method::POST, &format!("{path}/profile"), None).await;
    assert_eq!((early.status, early.code()), (StatusCode::UNPROCESSABLE_ENTITY, "too_little".into()));
    let listed = house.call(Some(&cookie), Method::GET, "/api/teaching", None).await;
    assert_eq!(listed.body[0]["name"], "Strandvik M7");
    assert!(house.call(None, Method::GET, &path, None).await.status == StatusCode::UNAUTHORIZED);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_a_display_says_is_added_and_editions_are_compared_and_put_together(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let id = Uuid::now_v7();
    let first = text("korrin-p4");
    keep(&house, &cookie, id, &first, 0).await;
    let post =
        async |path: String, body: Value| house.call(Some(&cookie), Method::POST, &path, Some(body)).await;
    let messages = format!("/api/profiles/{id}/messages");

    let empty = post(messages.clone(), json!({"text": " ", "meaning": "working"})).await;
    assert_eq!(
        (empty.status, empty.body["field"].as_str()),
        (StatusCode::UNPROCESSABLE_ENTITY, Some("text"))
    );
    let wordless = post(messages.clone(), json!({"text": "HOLD 5", "meaning": "other"})).await;
    assert_eq!(wordless.body["field"], "says", "{}", wordless.body);
    let added =
        post(messages.clone(), json!({"text": "HOLD 5", "meaning": "other", "says": "It waits."})).await;
    assert_eq!((added.status, added.body["edition"].as_i64()), (StatusCode::OK, Some(2)), "{}", added.body);
    // Said anew it is still one message.
    let again = post(messages.clone(), json!({"text": "hold 5", "meaning": "working"})).await;
    let now = again.body["text"].as_str().unwrap().to_owned();
    assert_eq!(now.to_lowercase().matches("hold 5").count(), 1, "{now}");
    assert!(first.lines().filter(|l| l.starts_with('#')).all(|l| now.contains(l)), "a comment is gone");

    let editions =
        house.call(Some(&cookie), Method::GET, &format!("/api/profiles/{id}/editions"), None).await;
    assert_eq!(editions.body.as_array().unwrap().len(), 3);
    let one = house.call(Some(&cookie), Method::GET, &format!("/api/profiles/{id}/editions/1"), None).await;
    assert_eq!(one.body["text"], first);
    let none = house.call(Some(&cookie), Method::GET, &format!("/api/profiles/{id}/editions/9"), None).await;
    assert_eq!(none.status, StatusCode::NOT_FOUND);

    let differ = post("/api/profiles/compare".into(), json!({"here": first, "there": now})).await;
    let told = differ.body.as_array().unwrap();
    assert_eq!((told.len(), told[0]["part"]["part"].as_str()), (1, Some("message")), "{}", differ.body);
    let merged =
        post("/api/profiles/merge".into(), json!({"here": first, "there": now, "take": [told[0]["part"]]}))
            .await;
    let same = post("/api/profiles/compare".into(), json!({"here": merged.body["text"], "there": now})).await;
    assert!(same.body.as_array().unwrap().is_empty(), "{}", same.body);
    let bad = post("/api/profiles/compare".into(), json!({"here": first, "there": "name = 1"})).await;
    assert_eq!((bad.code(), bad.body["field"].as_str()), ("bad_profile".into(), Some("there")));

    let foreign = house.sign_in("foreign").await;
    for path in [format!("/api/profiles/{id}/editions"), format!("/api/profiles/{id}/editions/1")] {
        let seen = house.call(Some(&foreign), Method::GET, &path, None).await;
        assert_eq!(seen.status, StatusCode::NOT_FOUND, "{path}");
    }
    let body = json!({"text": "MINE", "meaning": "working"});
    assert_eq!(
        house.call(Some(&foreign), Method::POST, &messages, Some(body.clone())).await.status,
        StatusCode::NOT_FOUND
    );
    let reviewer = house.sign_in("maren").await;
    assert_eq!(
        house.call(Some(&reviewer), Method::POST, &messages, Some(body)).await.status,
        StatusCode::FORBIDDEN
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_visit_proves_a_profile_or_says_where_it_differed(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = keyed_job(&house, &cookie).await;
    let path = format!("/api/jobs/{job}/keying/proof");
    let row = async || {
        let list = house.call(Some(&cookie), Method::GET, "/api/profiles", None).await;
        list.body[0].clone()
    };
    let before = row().await;
    assert_eq!((before["proven"].as_i64(), before["differed"].as_i64()), (Some(0), Some(0)), "{before}");
    assert_eq!(before["keyed"].as_array().unwrap().len(), 1, "{before}");

    let say = async |body: Value| house.call(Some(&cookie), Method::POST, &path, Some(body)).await;
    let nowhere = say(json!({"said": "differed_here", "item": " ", "shown": "X"})).await;
    assert_eq!(
        (nowhere.status, nowhere.body["field"].as_str()),
        (StatusCode::UNPROCESSABLE_ENTITY, Some("item"))
    );
    let nothing = say(json!({"said": "differed_here", "item": "A4 Cap", "shown": ""})).await;
    assert_eq!(nothing.body["field"], "shown");
    assert_eq!(
        say(json!({"said": "differed_here", "item": "A4 Cap", "shown": "A4 CAP"})).await.status,
        StatusCode::CREATED
    );
    // Said again of the same item, it is said once.
    say(json!({"said": "differed_here", "item": "A4 Cap", "shown": "A4 Max"})).await;
    assert_eq!(row().await["differed"], 1);
    let both = say(json!({"said": "as_it_said"})).await;
    assert_eq!(both.body.as_array().unwrap().len(), 2, "{}", both.body);
    let now = row().await;
    assert_eq!((now["proven"].as_i64(), now["proven_edition"].as_i64()), (Some(1), Some(1)), "{now}");

    // A new edition has nothing against it, and was not proven itself.
    let id: Uuid = now["id"].as_str().unwrap().parse().unwrap();
    keep(&house, &cookie, id, &format!("{}\n", text("korrin-p4")), 1).await;
    let now = row().await;
    assert_eq!((now["differed"].as_i64(), now["proven_edition"].as_i64()), (Some(0), Some(1)), "{now}");

    let foreign = house.sign_in("foreign").await;
    let seen = house.call(Some(&foreign), Method::GET, &format!("/api/profiles/{id}/proofs"), None).await;
    assert!(seen.body.as_array().unwrap().is_empty(), "{}", seen.body);
    let body = json!({"said": "as_it_said"});
    assert_eq!(
        house.call(Some(&foreign), Method::POST, &path, Some(body)).await.status,
        StatusCode::NOT_FOUND
    );
}
