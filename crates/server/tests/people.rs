//! People come, change and go: the first start, invitations, roles, passwords, sessions.

use crate::house::{House, ORIGIN, Reply};
use axum::http::{Method, StatusCode};
use ombret::store::accounts;
use serde_json::{Value, json};
use sqlx::PgPool;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

const GOOD: &str = "moss lantern ferry";

async fn get(house: &House, cookie: &str, path: &str) -> Reply {
    house.call(Some(cookie), Method::GET, path, None).await
}

async fn signs_in(house: &House, name: &str, password: &str) -> Reply {
    let body = json!({"sign_in": name, "password": password});
    house.call(None, Method::POST, "/api/session", Some(body)).await
}

fn cookie(reply: &Reply) -> String {
    reply.cookie.as_deref().unwrap().split(';').next().unwrap().to_owned()
}

/// The identity of somebody of the workshop.
async fn id_of(house: &House, manager: &str, sign_in: &str) -> String {
    let people = get(house, manager, "/api/people").await.body;
    let all = people["members"].as_array().unwrap();
    all.iter().find(|m| m["sign_in"] == sign_in).unwrap()["id"].as_str().unwrap().to_owned()
}

async fn answer(house: &House, path: &str, form: Value) -> Reply {
    let token = path.rsplit('/').next().unwrap();
    house.call(None, Method::POST, &format!("/api/links/{token}"), Some(form)).await
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_first_start_is_finished_once_by_whoever_has_the_link(pool: PgPool) {
    let house = House::around(pool.clone());
    let until = OffsetDateTime::now_utc() + Duration::hours(1);
    accounts::open_setup(&pool, "older", until).await.unwrap();
    accounts::open_setup(&pool, "first", until).await.unwrap();
    let told = house.call(None, Method::GET, "/api/links/first", None).await;
    assert_eq!(told.body["kind"], "first_start", "{}", told.body);
    assert_eq!(house.call(None, Method::GET, "/api/links/older", None).await.status, StatusCode::NOT_FOUND);

    let wrong = json!({"name": "E", "sign_in": "e e", "password": "short", "workshop": {"name": "", "time_zone": "no zone"}});
    let refused = answer(&house, "first", wrong).await;
    let mut fields: Vec<&str> =
        refused.body["also"].as_array().unwrap().iter().map(|f| f["field"].as_str().unwrap()).collect();
    fields.push(refused.body["field"].as_str().unwrap());
    fields.sort_unstable();
    assert_eq!(
        fields,
        ["name", "password", "sign_in", "time_zone", "workshop"],
        "all at once: {}",
        refused.body
    );
    assert_eq!(answer(&house, "first", json!({"password": GOOD})).await.body["field"], "workshop");

    let form = json!({"name": "Signe Falk", "sign_in": "Signe", "password": GOOD,
        "workshop": {"name": "Nordhamn Scales", "lines": ["Quay 4"], "language": "de", "country": "xs", "unit": "lb", "scheme": "hb44_maintenance", "time_zone": "Europe/Berlin", "review": true}});
    assert_eq!(answer(&house, "first", form.clone()).await.status, StatusCode::NO_CONTENT);
    assert_eq!(answer(&house, "first", form).await.status, StatusCode::NOT_FOUND, "once");
    let signed = signs_in(&house, "signe", GOOD).await;
    assert_eq!(signed.body["roles"], json!(["technician", "manager"]), "{}", signed.body);
    let signe = cookie(&signed);
    let paper = get(&house, &signe, "/api/letterhead").await.body["rules"].clone();
    assert_eq!((&paper["review"], &paper["letterhead"]["country"]), (&json!(true), &json!("XS")));
    let trail = get(&house, &signe, "/api/audit").await.body["lines"].clone();
    let acts: Vec<&str> = trail.as_array().unwrap().iter().map(|l| l["act"].as_str().unwrap()).collect();
    assert_eq!(acts, ["signed_in", "workshop_set_up"]);
    // Whoever asks for another first start finds that somebody works here.
    accounts::open_setup(&pool, "late", until).await.unwrap();
    let late = json!({"name": "Somebody Else", "sign_in": "else", "password": GOOD, "workshop": {"name": "Taken over"}});
    assert_eq!(answer(&house, "late", late).await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn who_is_invited_comes_in_once_with_the_roles_that_were_given(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let invite = |cookie: String, roles: Value| {
        let (house, body) = (&house, json!({"name": "Odd Vik", "roles": roles}));
        async move { house.call(Some(&cookie), Method::POST, "/api/people", Some(body)).await }
    };
    assert_eq!(invite(ebba.clone(), json!(["manager"])).await.status, StatusCode::FORBIDDEN);
    assert_eq!(invite(signe.clone(), json!([])).await.body["field"], "roles");
    assert_eq!(invite(signe.clone(), json!(["reader", "manager"])).await.code(), "reader_only");
    let made = invite(signe.clone(), json!(["reviewer"])).await;
    assert_eq!(made.status, StatusCode::CREATED, "{}", made.body);
    let path = made.body["path"].as_str().unwrap().to_owned();
    let kept: i64 = sqlx::query_scalar("select count(*) from invitation where token_hash = $1")
        .bind(path.rsplit('/').next().unwrap())
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(kept, 0, "what opens the link is not what is kept");
    let waiting = get(&house, &signe, "/api/people").await.body["invitations"].clone();
    assert_eq!((&waiting[0]["name"], &waiting[0]["reset"]), (&json!("Odd Vik"), &json!(false)));
    let taken = json!({"name": "Odd Vik", "sign_in": "ebba", "password": GOOD});
    assert_eq!(answer(&house, &path, taken).await.body["field"], "sign_in");
    let form = json!({"name": "Odd Vik", "sign_in": "odd", "password": GOOD});
    assert_eq!(answer(&house, &path, form.clone()).await.status, StatusCode::NO_CONTENT);
    assert_eq!(answer(&house, &path, form).await.status, StatusCode::NOT_FOUND, "once");
    let odd = cookie(&signs_in(&house, "odd", GOOD).await);
    let job = house.whole_job(&ebba).await;
    let after = house.head(&ebba, job).await;
    let approved = house.append(&odd, job, after, json!({"kind": "approved", "remarks": ""})).await;
    assert_eq!(approved.status, StatusCode::OK, "{}", approved.body);
    assert_eq!(house.begin_refused(&odd).await, StatusCode::FORBIDDEN, "a reviewer does not work on scales");
    // A link that has run out opens nothing.
    let late = invite(signe, json!(["technician"])).await.body["path"].as_str().unwrap().to_owned();
    sqlx::query("update invitation set expires_at = now() - interval '1 minute'")
        .execute(&pool)
        .await
        .unwrap();
    let form = json!({"name": "Late Comer", "sign_in": "late", "password": GOOD});
    assert_eq!(answer(&house, &late, form).await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn who_leaves_is_signed_out_at_once_and_the_name_stays(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let job = house.whole_job(&ebba).await;
    let (her, own) = (id_of(&house, &signe, "ebba").await, id_of(&house, &signe, "signe").await);
    let change = |id: String, roles: Value, active: bool| {
        let (house, signe) = (&house, signe.clone());
        async move {
            let body = json!({"roles": roles, "active": active});
            house.call(Some(&signe), Method::PUT, &format!("/api/people/{id}"), Some(body)).await
        }
    };
    for (roles, active) in [(json!(["technician"]), true), (json!(["manager"]), false)] {
        assert_eq!(change(own.clone(), roles, active).await.code(), "last_manager");
    }
    assert_eq!(change(her.clone(), json!(["technician"]), false).await.status, StatusCode::NO_CONTENT);
    assert_eq!(get(&house, &ebba, "/api/session").await.status, StatusCode::UNAUTHORIZED, "at once");
    assert_eq!(signs_in(&house, "ebba", "right").await.status, StatusCode::UNAUTHORIZED);
    let record = get(&house, &signe, &format!("/api/jobs/{job}")).await.body;
    assert_eq!(record["assessment"]["close"]["signed"], "Ebba Lund");
    assert_eq!(
        change(her.clone(), json!(["technician", "manager"]), true).await.status,
        StatusCode::NO_CONTENT
    );
    assert_eq!(signs_in(&house, "ebba", "right").await.body["roles"], json!(["technician", "manager"]));
    assert_eq!(
        change(own, json!(["technician"]), true).await.status,
        StatusCode::NO_CONTENT,
        "there is another one"
    );
    assert_eq!(
        change(her, json!(["technician"]), true).await.status,
        StatusCode::FORBIDDEN,
        "and this one is none now"
    );
    assert_eq!(
        change(Uuid::now_v7().to_string(), json!(["reader"]), true).await.status,
        StatusCode::FORBIDDEN
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_new_password_ends_every_other_session(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (one, other, signe) =
        (house.sign_in("ebba").await, house.sign_in("ebba").await, house.sign_in("signe").await);
    let change = |old: &str, new: &str| {
        let (house, one, body) = (&house, one.clone(), json!({"old": old, "password": new}));
        async move { house.call(Some(&one), Method::PUT, "/api/me/password", Some(body)).await }
    };
    for (old, new, field, code) in [
        ("wrong", GOOD, "old", "wrong_password"),
        ("right", "short", "password", "short_password"),
        ("right", "password1234", "password", "common_password"),
        ("right", "ebba lund 1234", "password", "common_password"),
    ] {
        let refused = change(old, new).await;
        assert_eq!(
            (refused.body["field"].as_str(), refused.code().as_str()),
            (Some(field), code),
            "{new}: {}",
            refused.body
        );
    }
    assert_eq!(change("right", GOOD).await.status, StatusCode::NO_CONTENT);
    assert_eq!(get(&house, &one, "/api/session").await.status, StatusCode::OK);
    assert_eq!(get(&house, &other, "/api/session").await.status, StatusCode::UNAUTHORIZED);
    assert_eq!(signs_in(&house, "ebba", "right").await.status, StatusCode::UNAUTHORIZED);
    // Forgotten: a manager makes a link, which works once and ends every session.
    let her = id_of(&house, &signe, "ebba").await;
    let made = house.call(Some(&signe), Method::POST, &format!("/api/people/{her}/password"), None).await;
    let path = made.body["path"].as_str().unwrap().to_owned();
    let told = house
        .call(None, Method::GET, &format!("/api/links/{}", path.rsplit('/').next().unwrap()), None)
        .await
        .body;
    assert_eq!((&told["kind"], &told["name"]), (&json!("password"), &json!("Ebba Lund")));
    let new = json!({"password": "otter ladle granite"});
    assert_eq!(answer(&house, &path, new.clone()).await.status, StatusCode::NO_CONTENT);
    assert_eq!(answer(&house, &path, new).await.status, StatusCode::NOT_FOUND);
    assert_eq!(get(&house, &one, "/api/session").await.status, StatusCode::UNAUTHORIZED);
    assert_eq!(signs_in(&house, "ebba", "otter ladle granite").await.status, StatusCode::OK);
    let foreign = house.sign_in("foreign").await;
    let others = house.call(Some(&foreign), Method::POST, &format!("/api/people/{her}/password"), None).await;
    assert_eq!(others.status, StatusCode::FORBIDDEN);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn sessions_are_seen_and_ended_by_whose_they_are_and_by_a_manager(pool: PgPool) {
    let house = House::new(pool).await;
    let (one, other, signe) =
        (house.sign_in("ebba").await, house.sign_in("ebba").await, house.sign_in("signe").await);
    let own = get(&house, &one, "/api/sessions").await.body;
    assert!(own.as_array().unwrap().iter().all(|s| s["person"] == "Ebba Lund"), "{own}");
    assert_eq!(get(&house, &one, "/api/sessions?all=true").await.status, StatusCode::FORBIDDEN);
    let all = get(&house, &signe, "/api/sessions?all=true").await.body;
    assert!(all.as_array().unwrap().len() > own.as_array().unwrap().len());
    let mine = all.as_array().unwrap().iter().find(|s| s["own"] == true).unwrap();
    let of_signe = format!("/api/sessions/{}", mine["id"].as_str().unwrap());
    let ends =
        async |cookie: &str, path: &str| house.call(Some(cookie), Method::DELETE, path, None).await.status;
    assert_eq!(ends(&one, &of_signe).await, StatusCode::NOT_FOUND, "nobody ends a manager's");
    let second = own.as_array().unwrap().iter().find(|s| s["own"] == false).unwrap();
    assert_eq!(
        ends(&one, &format!("/api/sessions/{}", second["id"].as_str().unwrap())).await,
        StatusCode::NO_CONTENT
    );
    let gone =
        [get(&house, &other, "/api/session").await.status, get(&house, &one, "/api/session").await.status];
    assert!(gone.contains(&StatusCode::OK), "{gone:?}");
    let left = get(&house, &signe, "/api/sessions?all=true").await.body;
    for s in left.as_array().unwrap().iter().filter(|s| s["person"] == "Ebba Lund") {
        assert_eq!(
            ends(&signe, &format!("/api/sessions/{}", s["id"].as_str().unwrap())).await,
            StatusCode::NO_CONTENT
        );
    }
    assert_eq!(get(&house, &one, "/api/session").await.status, StatusCode::UNAUTHORIZED);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_reader_sees_everything_and_changes_nothing(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.whole_job(&ebba).await;
    sqlx::query("update person set roles = array['reader'] where sign_in = 'maren'")
        .execute(&pool)
        .await
        .unwrap();
    let reader = house.sign_in("maren").await;
    for path in [
        format!("/api/jobs/{job}"),
        "/api/scales".into(),
        "/api/kit".into(),
        "/api/due".into(),
        format!("/api/jobs/{job}/certificate"),
    ] {
        assert_eq!(get(&house, &reader, &path).await.status, StatusCode::OK, "{path}");
    }
    let document = serde_json::to_value(ombret::http::document()).unwrap();
    let mut tried = 0;
    for (path, methods) in document["paths"].as_object().unwrap() {
        // What asks and keeps nothing, and what concerns nobody else.
        let asks = [
            "plan",
            "judge",
            "keying",
            "check",
            "messages",
            "desk",
            "lines",
            "wiring",
            "run",
            "day",
            "dcc",
            "/api/links/",
            "records/papers",
            "session",
            "/me",
            "diagnosis",
            "factor",
        ];
        if asks.iter().any(|a| path.contains(a)) {
            continue;
        }
        for method in methods.as_object().unwrap().keys().filter(|m| *m != "get") {
            let filled = path
                .replace("{id}", &job.to_string())
                .replace("{job}", &job.to_string())
                .replace("{file}", &job.to_string())
                .replace("{number}", "X");
            let body = b"{}".to_vec();
            let method: Method = method.to_uppercase().parse().unwrap();
            let reply = house
                .send(Some(&reader), method.clone(), &filled, Some("application/json"), body, Some(ORIGIN))
                .await;
            assert!(reply.status.is_client_error(), "{method} {path}: {}", reply.status);
            tried += 1;
        }
    }
    assert!(tried > 15, "{tried}");
    let after = house.head(&ebba, job).await;
    for kind in [json!({"kind": "approved", "remarks": ""}), json!({"kind": "amended", "reason": "x y"})] {
        assert_eq!(house.append(&reader, job, after, kind).await.status, StatusCode::FORBIDDEN);
    }
}
