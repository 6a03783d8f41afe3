//! The second factor of a person, codes for a lost device, and tokens for programs.

use crate::house::{House, Reply};
use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use serde_json::{Value, json};
use sqlx::PgPool;
use time::OffsetDateTime;
use totp_rs::{Algorithm, Builder, Secret};
use tower::ServiceExt;

async fn call(house: &House, cookie: &str, method: Method, path: &str, body: Value) -> Reply {
    house.call(Some(cookie), method, path, Some(body)).await
}

async fn signs_in(house: &House, code: Option<&str>) -> Reply {
    let body = json!({"sign_in": "ebba", "password": "right", "code": code});
    house.call(None, Method::POST, "/api/session", Some(body)).await
}

/// What an authenticator shows, so many steps of 30 s from now.
fn shown(secret: &str, steps: i64) -> String {
    let totp = Builder::new()
        .with_algorithm(Algorithm::SHA1)
        .with_digits(6)
        .with_step_duration(30)
        .with_secret(Secret::try_from_base32(secret).unwrap())
        .build()
        .unwrap();
    let at = OffsetDateTime::now_utc().unix_timestamp() + steps * 30;
    totp.generate(u64::try_from(at).unwrap()).to_string()
}

/// Sets the second factor of Ebba up: its secret and the codes for a lost device.
async fn set_up(house: &House, ebba: &str) -> (String, Vec<String>) {
    let path = "/api/me/second-factor";
    let wrong = call(house, ebba, Method::POST, path, json!({"password": "wrong"})).await;
    assert_eq!((wrong.code().as_str(), &wrong.body["field"]), ("wrong_password", &json!("password")));
    let early = call(house, ebba, Method::PUT, path, json!({"code": "123456"})).await;
    assert_eq!(early.code(), "wrong_code", "nothing was begun");
    let begun = call(house, ebba, Method::POST, path, json!({"password": "right"})).await.body;
    let secret = begun["secret"].as_str().unwrap().to_owned();
    assert!(begun["qr"].as_str().unwrap().contains("<svg"));
    assert!(signs_in(house, None).await.cookie.is_some(), "it does not count before it is confirmed");
    assert_eq!(call(house, ebba, Method::PUT, path, json!({"code": "000 00"})).await.code(), "wrong_code");
    // The step before: the one of now is left for signing in.
    let done = call(house, ebba, Method::PUT, path, json!({"code": shown(&secret, -1)})).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.body);
    let codes =
        done.body["codes"].as_array().unwrap().iter().map(|c| c.as_str().unwrap().to_owned()).collect();
    (secret, codes)
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_code_of_now_works_once_and_a_lost_device_has_its_codes(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let (secret, codes) = set_up(&house, &ebba).await;
    assert_eq!(codes.len(), 10);
    let asked = signs_in(&house, None).await;
    assert_eq!((asked.status, asked.code().as_str()), (StatusCode::UNAUTHORIZED, "code_needed"));
    assert!(asked.cookie.is_none());
    let wrong = json!({"sign_in": "ebba", "password": "nearly", "code": shown(&secret, 0)});
    let wrong = house.call(None, Method::POST, "/api/session", Some(wrong)).await;
    assert_eq!(wrong.code(), "wrong_credentials", "a code opens nothing without the password");
    let now = shown(&secret, 0);
    assert!(signs_in(&house, Some(&now)).await.cookie.is_some());
    assert_eq!(
        signs_in(&house, Some(&now)).await.code(),
        "wrong_code",
        "seen over a shoulder it is used already"
    );
    let typed = format!(" {} ", codes[0].to_uppercase());
    assert!(signs_in(&house, Some(&typed)).await.cookie.is_some());
    assert_eq!(signs_in(&house, Some(&codes[0])).await.code(), "wrong_code", "once");
    let told = house.call(Some(&ebba), Method::GET, "/api/me/second-factor", None).await.body;
    assert_eq!(told, json!({"on": true, "codes_left": 9}));
    let kept: i64 = sqlx::query_scalar("select count(*) from recovery_code where code_hash = any($1)")
        .bind(&codes)
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(kept, 0, "what opens is not what is kept");
    // Guessing is slowed down as it is for passwords.
    let mut slowed = false;
    for _ in 0..6 {
        slowed |= signs_in(&house, Some("111111")).await.status == StatusCode::TOO_MANY_REQUESTS;
    }
    assert!(slowed);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn who_lost_everything_is_let_in_again_by_a_manager(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    set_up(&house, &ebba).await;
    let people = house.call(Some(&signe), Method::GET, "/api/people", None).await.body;
    let her = people["members"].as_array().unwrap().iter().find(|m| m["sign_in"] == "ebba").unwrap().clone();
    assert_eq!(her["second_factor"], true);
    let path = format!("/api/people/{}/second-factor", her["id"].as_str().unwrap());
    let take = |cookie: String| {
        let (house, path) = (&house, path.clone());
        async move { house.call(Some(&cookie), Method::DELETE, &path, None).await.status }
    };
    assert_eq!(take(ebba.clone()).await, StatusCode::FORBIDDEN);
    assert_eq!(take(signe.clone()).await, StatusCode::NO_CONTENT);
    assert_eq!(take(signe.clone()).await, StatusCode::NOT_FOUND);
    assert!(signs_in(&house, None).await.cookie.is_some());
    let trail = house.call(Some(&signe), Method::GET, "/api/audit?act=second_factor_off", None).await.body;
    assert_eq!(trail["lines"][0]["detail"]["person"], "Ebba Lund");
    // Oneself takes it away with the password.
    set_up(&house, &ebba).await;
    let own = "/api/me/second-factor";
    assert_eq!(
        call(&house, &ebba, Method::DELETE, own, json!({"password": "no"})).await.code(),
        "wrong_password"
    );
    assert_eq!(
        call(&house, &ebba, Method::DELETE, own, json!({"password": "right"})).await.status,
        StatusCode::NO_CONTENT
    );
}

/// A request with a program's token, from no page.
async fn program(house: &House, token: &str, method: Method, path: &str, body: Option<Value>) -> StatusCode {
    let request = Request::builder()
        .method(method)
        .uri(path)
        .header(header::AUTHORIZATION, format!("Bearer {token}"))
        .header(header::CONTENT_TYPE, "application/json")
        .body(body.map_or_else(Body::empty, |b| Body::from(b.to_string())))
        .unwrap();
    house.router.clone().oneshot(request).await.unwrap().status()
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_program_does_what_its_token_says_and_no_more(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let make = |cookie: String, works: bool, days: i64, password: &'static str| {
        let house = &house;
        async move {
            let body = json!({"name": "the office", "works": works, "days": days, "password": password});
            call(house, &cookie, Method::POST, "/api/me/tokens", body).await
        }
    };
    assert_eq!(make(ebba.clone(), false, 0, "right").await.body["field"], "days");
    assert_eq!(make(ebba.clone(), false, 30, "wrong").await.body["field"], "password");
    let token = |reply: Reply| reply.body["token"].as_str().unwrap().to_owned();
    let reads = token(make(ebba.clone(), false, 30, "right").await);
    let works = token(make(ebba.clone(), true, 30, "right").await);
    let manages = token(make(signe.clone(), true, 30, "right").await);
    let scale = |id| Some(crate::house::scale_form(id));
    let (one, other) = (uuid::Uuid::now_v7(), uuid::Uuid::now_v7());
    for (token, method, path, body, status) in [
        (&reads, Method::GET, "/api/scales", None, StatusCode::OK),
        (&reads, Method::POST, "/api/scales", scale(one), StatusCode::FORBIDDEN),
        (&works, Method::POST, "/api/scales", scale(other), StatusCode::CREATED),
        (&manages, Method::GET, "/api/people", None, StatusCode::FORBIDDEN),
        (&manages, Method::GET, "/api/audit", None, StatusCode::FORBIDDEN),
        (&works, Method::GET, "/api/me/tokens", None, StatusCode::UNAUTHORIZED),
        (&works, Method::PUT, "/api/me", Some(json!({"name": "Somebody Else"})), StatusCode::UNAUTHORIZED),
        (&"ombret_made_up".to_owned(), Method::GET, "/api/scales", None, StatusCode::UNAUTHORIZED),
    ] {
        assert_eq!(program(&house, token, method.clone(), path, body).await, status, "{method} {path}");
    }
    let rows = house.call(Some(&ebba), Method::GET, "/api/me/tokens", None).await.body;
    assert_eq!(rows.as_array().unwrap().len(), 2);
    assert!(rows.as_array().unwrap().iter().all(|r| r["used_at"].is_string()), "{rows}");
    let kept: i64 = sqlx::query_scalar("select count(*) from api_token where token_hash = $1")
        .bind(&reads)
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(kept, 0);
    // It ends when it is ended, and with the person.
    let id = rows.as_array().unwrap().iter().find(|r| r["works"] == false).unwrap()["id"].clone();
    let end = format!("/api/me/tokens/{}", id.as_str().unwrap());
    assert_eq!(house.call(Some(&signe), Method::DELETE, &end, None).await.status, StatusCode::NOT_FOUND);
    assert_eq!(house.call(Some(&ebba), Method::DELETE, &end, None).await.status, StatusCode::NO_CONTENT);
    assert_eq!(program(&house, &reads, Method::GET, "/api/scales", None).await, StatusCode::UNAUTHORIZED);
    sqlx::query("update person set active = false where sign_in = 'ebba'").execute(&pool).await.unwrap();
    assert_eq!(program(&house, &works, Method::GET, "/api/scales", None).await, StatusCode::UNAUTHORIZED);
}
