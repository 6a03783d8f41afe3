//! What a customer sees by their link, and what may be let go of: practice, and what is known of who left.

use crate::house::{House, Reply};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn get(house: &House, cookie: Option<&str>, path: &str) -> Reply {
    house.call(cookie, Method::GET, path, None).await
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_customer_sees_their_own_scales_and_papers_and_nothing_else(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, maren, foreign) =
        (house.sign_in("ebba").await, house.sign_in("maren").await, house.sign_in("foreign").await);
    let job = house.whole_job(&ebba).await;
    let mut other = crate::house::scale_form(Uuid::now_v7());
    other["owner"] = json!("Somebody Else");
    assert_eq!(
        house.call(Some(&ebba), Method::POST, "/api/scales", Some(other)).await.status,
        StatusCode::CREATED
    );
    let customers = get(&house, Some(&ebba), "/api/customers").await.body;
    let id = |name: &str| {
        let all = customers["customers"].as_array().unwrap();
        all.iter().find(|c| c["name"] == name).unwrap()["id"].as_str().unwrap().to_owned()
    };
    let make = |cookie: String, of: String, days: i64| {
        let house = &house;
        async move {
            let path = format!("/api/customers/{of}/links");
            house.call(Some(&cookie), Method::POST, &path, Some(json!({"days": days}))).await
        }
    };
    let (theirs, others) = (id("Tussock Wool Store"), id("Somebody Else"));
    assert_eq!(make(maren, theirs.clone(), 30).await.status, StatusCode::FORBIDDEN);
    assert_eq!(make(foreign, theirs.clone(), 30).await.status, StatusCode::NOT_FOUND);
    assert_eq!(make(ebba.clone(), theirs.clone(), 0).await.body["field"], "days");
    let token = |reply: Reply| reply.body["path"].as_str().unwrap().rsplit('/').next().unwrap().to_owned();
    let (one, another) =
        (token(make(ebba.clone(), theirs.clone(), 30).await), token(make(ebba.clone(), others, 30).await));
    let seen = get(&house, None, &format!("/api/own/{one}")).await.body;
    assert_eq!((&seen["customer"], &seen["workshop"]), (&json!("Tussock Wool Store"), &json!("Skarholm")));
    assert_eq!((seen["scales"].as_array().unwrap().len(), seen["records"].as_array().unwrap().len()), (1, 1));
    let paper = |token: String| {
        let house = &house;
        async move { get(house, None, &format!("/api/own/{token}/papers/{job}")).await }
    };
    assert!(paper(one.clone()).await.bytes.starts_with(b"%PDF"));
    assert_eq!(paper(another.clone()).await.status, StatusCode::NOT_FOUND, "another customer's paper");
    assert_eq!(get(&house, None, &format!("/api/own/{another}")).await.body["records"], json!([]));
    for path in ["/api/scales", "/api/customers", &format!("/api/jobs/{job}")] {
        assert_eq!(get(&house, None, path).await.status, StatusCode::UNAUTHORIZED, "a link signs nobody in");
    }
    // A record that waits for approval is not shown.
    sqlx::query("update workshop set review = true").execute(&pool).await.unwrap();
    sqlx::query("alter table record disable trigger all").execute(&pool).await.unwrap();
    sqlx::query("update record set approval = true").execute(&pool).await.unwrap();
    assert_eq!(get(&house, None, &format!("/api/own/{one}")).await.body["records"], json!([]));
    assert_eq!(paper(one.clone()).await.status, StatusCode::NOT_FOUND);
    // It ends when it is ended, and when its time is up.
    let links = get(&house, Some(&ebba), &format!("/api/customers/{theirs}/links")).await.body;
    assert!(links[0]["used_at"].is_string(), "{links}");
    let end = format!("/api/links-of-owners/{}", links[0]["id"].as_str().unwrap());
    assert_eq!(house.call(Some(&ebba), Method::DELETE, &end, None).await.status, StatusCode::NO_CONTENT);
    assert_eq!(get(&house, None, &format!("/api/own/{one}")).await.status, StatusCode::NOT_FOUND);
    sqlx::query("update owner_link set expires_at = now() - interval '1 minute'")
        .execute(&pool)
        .await
        .unwrap();
    assert_eq!(get(&house, None, &format!("/api/own/{another}")).await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn of_somebody_who_left_the_name_on_records_stays_and_nothing_else(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let job = house.whole_job(&ebba).await;
    let people = get(&house, Some(&signe), "/api/people").await.body;
    let her =
        people["members"].as_array().unwrap().iter().find(|m| m["sign_in"] == "ebba").unwrap()["id"].clone();
    let path = format!("/api/people/{}", her.as_str().unwrap());
    let reduce = |cookie: String| {
        let (house, path) = (&house, format!("{path}/reduce"));
        async move { house.call(Some(&cookie), Method::POST, &path, None).await.status }
    };
    assert_eq!(reduce(signe.clone()).await, StatusCode::NOT_FOUND, "who is here is not reduced");
    let leave = json!({"roles": ["technician"], "active": false});
    assert_eq!(
        house.call(Some(&signe), Method::PUT, &path, Some(leave)).await.status,
        StatusCode::NO_CONTENT
    );
    assert_eq!(reduce(signe.clone()).await, StatusCode::NO_CONTENT);
    let kept: (String, String) =
        sqlx::query_as("select sign_in, password_hash from person where name = 'Ebba Lund'")
            .fetch_one(&pool)
            .await
            .unwrap();
    assert!(kept.0.starts_with("left-") && kept.1.is_empty());
    let record = get(&house, Some(&signe), &format!("/api/jobs/{job}")).await.body;
    assert_eq!(record["assessment"]["close"]["signed"], "Ebba Lund");
    // The sign-in name is free again.
    let again = json!({"sign_in": "ebba", "password": "right"});
    assert_eq!(
        house.call(None, Method::POST, "/api/session", Some(again)).await.status,
        StatusCode::UNAUTHORIZED
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn practice_is_thrown_away_and_no_real_entry_with_it(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let job = house.whole_job(&ebba).await;
    let lessons = get(&house, Some(&ebba), "/api/lessons").await.body;
    let lesson = lessons[0]["id"].as_str().unwrap().to_owned();
    let run = json!({"job": Uuid::now_v7()});
    let begun =
        house.call(Some(&ebba), Method::POST, &format!("/api/lessons/{lesson}/runs"), Some(run)).await;
    assert!(begun.status.is_success(), "{}", begun.body);
    let counts = "select (select count(*) from scale where practice), (select count(*) from entry e join job j on j.id = e.job_id join scale s on s.id = j.scale_id where not s.practice)";
    let before: (i64, i64) = sqlx::query_as(counts).fetch_one(&pool).await.unwrap();
    assert_eq!(before.0, 1);
    let throw = |cookie: String| {
        let house = &house;
        async move { house.call(Some(&cookie), Method::DELETE, "/api/practice", None).await }
    };
    assert_eq!(throw(ebba.clone()).await.status, StatusCode::FORBIDDEN);
    assert_eq!(throw(signe).await.body, json!({"runs": 1}));
    let after: (i64, i64) = sqlx::query_as(counts).fetch_one(&pool).await.unwrap();
    assert_eq!(after, (0, before.1), "no real entry went with it");
    // A real scale cannot be made to look like practice, and its entries stay.
    assert!(sqlx::query("update scale set practice = true").execute(&pool).await.is_err());
    assert!(sqlx::query("delete from entry").execute(&pool).await.is_err());
    let told: Value = get(&house, Some(&ebba), &format!("/api/jobs/{job}")).await.body;
    assert!(told["job"]["number"].is_string());
}
