//! What the readings tell, over the wire, and how a workshop judges.

use crate::house::{House, read_draft};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn get(house: &House, cookie: &str, path: &str) -> Value {
    let reply = house.call(Some(cookie), Method::GET, path, None).await;
    assert_eq!(reply.status, StatusCode::OK, "{path}: {}", reply.body);
    reply.body
}

/// A job with readings as found.
async fn found(house: &House, cookie: &str, readings: &[(&str, &str)]) -> Uuid {
    let job = house.begin(cookie).await;
    for (after, (load, shown)) in (1u32..).zip(readings) {
        let reply = house.append(cookie, job, after, read_draft("as_found", load, shown)).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    }
    job
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn causes_and_choices_are_told_of_the_stage_that_is_asked(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job =
        found(&house, &cookie, &[("0", "0"), ("200", "200.4"), ("435", "435.8"), ("870", "871.6")]).await;
    let told = get(&house, &cookie, &format!("/api/jobs/{job}/diagnosis?stage=as_found")).await;
    assert_eq!(
        (&told["pad"], &told["diagnosis"]["ranked"][0]["cause"], &told["choices"]["advice"]),
        (&Value::Null, &json!("span_drift"), &json!("span"))
    );
    assert_eq!(
        told["choices"]["ways"].as_array().unwrap().iter().filter(|w| w["best"] == json!(true)).count(),
        1
    );
    let nothing = get(&house, &cookie, &format!("/api/jobs/{job}/diagnosis?stage=prove")).await;
    assert_eq!((&nothing["diagnosis"], &nothing["choices"]), (&Value::Null, &Value::Null));
    for bad in ["", "?stage=later"] {
        let reply =
            house.call(Some(&cookie), Method::GET, &format!("/api/jobs/{job}/diagnosis{bad}"), None).await;
        assert!(reply.status.is_client_error(), "{bad}: {}", reply.status);
    }
    let foreign = house.sign_in("foreign").await;
    let hidden = house
        .call(Some(&foreign), Method::GET, &format!("/api/jobs/{job}/diagnosis?stage=as_found"), None)
        .await;
    assert_eq!(hidden.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_workshop_changes_its_priors_and_its_rule_for_leaving_and_nobody_elses(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let rules = get(&house, &cookie, "/api/priors").await;
    assert_eq!(
        (rules["causes"].as_array().unwrap().len(), &rules["rules"]),
        (21, &json!({"priors": {}, "leave_inside": true}))
    );
    // Inside everywhere, but above a third of it.
    let job =
        found(&house, &cookie, &[("0", "0"), ("200", "200.2"), ("435", "435.4"), ("870", "870.4")]).await;
    let path = format!("/api/jobs/{job}/diagnosis?stage=as_found");
    assert_eq!(get(&house, &cookie, &path).await["choices"]["advice"], json!("leave"));
    let put = |cookie: String, body: Value| {
        let house = &house;
        async move { house.call(Some(&cookie), Method::PUT, "/api/priors", Some(body)).await }
    };
    assert_eq!(
        put(cookie.clone(), json!({"priors": {"sound": 0.0}, "leave_inside": false})).await.status,
        StatusCode::OK
    );
    let told = get(&house, &cookie, &path).await;
    assert_ne!(told["choices"]["advice"], json!("leave"));
    assert!(told["diagnosis"]["ranked"].as_array().unwrap().iter().all(|r| r["cause"] != json!("sound")));
    for (bad, code) in [
        (json!({"priors": {"bow": 1.5}, "leave_inside": true}), "not_probability"),
        (json!({"priors": {"gremlins": 0.5}, "leave_inside": true}), ""),
    ] {
        let reply = put(cookie.clone(), bad).await;
        assert!(
            reply.status.is_client_error() && (code.is_empty() || reply.code() == code),
            "{}",
            reply.body
        );
    }
    assert_eq!(
        put(house.sign_in("maren").await, json!({"leave_inside": true})).await.status,
        StatusCode::FORBIDDEN,
        "a reviewer reads"
    );
    let foreign = house.sign_in("foreign").await;
    assert_eq!(get(&house, &foreign, "/api/priors").await["rules"]["leave_inside"], json!(true));
    assert_eq!(
        get(&house, &cookie, "/api/priors").await["rules"]["leave_inside"],
        json!(false),
        "a refused change changes nothing"
    );
}
