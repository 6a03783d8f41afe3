//! Customers: whose scales they are, what stands on the sheets, two that are one.

use crate::house::{House, Reply, scale_form};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn get(house: &House, cookie: &str, path: &str) -> Value {
    house.call(Some(cookie), Method::GET, path, None).await.body
}

async fn customers(house: &House, cookie: &str) -> Vec<Value> {
    get(house, cookie, "/api/customers").await["customers"].as_array().unwrap().clone()
}

fn form(id: Uuid, name: &str, address: &str, version: i64) -> Value {
    json!({"id": id, "name": name, "address": address, "version": version})
}

async fn put(house: &House, cookie: &str, id: &str, body: Value) -> Reply {
    house.call(Some(cookie), Method::PUT, &format!("/api/customers/{id}"), Some(body)).await
}

async fn scale_of(house: &House, cookie: &str, owner: &str, address: &str) -> Uuid {
    let id = Uuid::now_v7();
    let mut scale = scale_form(id);
    scale["owner"] = json!(owner);
    scale["owner_address"] = json!(address);
    scale["serial"] = json!(format!("S-{id}"));
    let added = house.call(Some(cookie), Method::POST, "/api/scales", Some(scale)).await;
    assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
    id
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn whoever_owns_a_scale_is_a_customer_whatever_the_spelling(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    scale_of(&house, &ebba, "  TUSSOCK  wool store", "").await;
    scale_of(&house, &ebba, "Alder Mill", "Weir 2").await;
    let all = customers(&house, &ebba).await;
    let told: Vec<_> =
        all.iter().map(|c| (c["name"].as_str().unwrap(), c["scales"].as_i64().unwrap())).collect();
    assert_eq!(told, [("Alder Mill", 1), ("Tussock Wool Store", 2)]);
    assert_eq!(all[0]["address"], "Weir 2");
    let of = get(&house, &ebba, &format!("/api/scales?customer={}", all[1]["id"].as_str().unwrap())).await;
    assert_eq!(of["scales"].as_array().unwrap().len(), 2);
    // A lesson's scale has no owner that anybody could call on.
    assert_eq!(customers(&house, &house.sign_in("foreign").await).await.len(), 0, "each workshop its own");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_changed_name_goes_onto_the_sheets_and_a_branch_keeps_its_address(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, maren) = (house.sign_in("ebba").await, house.sign_in("maren").await);
    let plain = scale_of(&house, &ebba, "Alder Mill", "Weir 2").await;
    let branch = scale_of(&house, &ebba, "Alder Mill", "Upper Dam").await;
    let job = house.whole_job(&ebba).await;
    let of = customers(&house, &ebba).await[0].clone();
    let (id, version) = (of["id"].as_str().unwrap().to_owned(), of["version"].as_i64().unwrap());
    let uuid: Uuid = id.parse().unwrap();
    assert_eq!(of["address"], "Weir 2", "of two addresses the one that stands last in the alphabet");
    assert_eq!(put(&house, &maren, &id, form(uuid, "X", "", version)).await.status, StatusCode::FORBIDDEN);
    assert_eq!(put(&house, &ebba, &id, form(uuid, " ", "", version)).await.body["field"], "name");
    let done = put(&house, &ebba, &id, form(uuid, "Alder Mill & Daughters", "Weir 3", version)).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.body);
    assert_eq!(
        put(&house, &ebba, &id, form(uuid, "Y", "", version)).await.status,
        StatusCode::CONFLICT,
        "somebody else was quicker"
    );
    for (scale, address) in [(plain, "Weir 3"), (branch, "Upper Dam")] {
        let sheet = get(&house, &ebba, &format!("/api/scales/{scale}")).await["sheet"].clone();
        assert_eq!(
            (&sheet["owner"], &sheet["owner_address"]),
            (&json!("Alder Mill & Daughters"), &json!(address))
        );
    }
    let found = get(&house, &ebba, "/api/scales?search=daughters").await;
    assert_eq!(found["scales"].as_array().unwrap().len(), 2, "and they are found by it");
    // A record that is signed keeps what it says.
    let file = house.call(Some(&ebba), Method::GET, &format!("/api/jobs/{job}/file"), None).await;
    assert!(String::from_utf8_lossy(&file.bytes).contains("Tussock Wool Store"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn two_that_are_one_are_merged_by_a_manager_and_one_without_scales_may_go(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, signe, foreign) =
        (house.sign_in("ebba").await, house.sign_in("signe").await, house.sign_in("foreign").await);
    let scale = scale_of(&house, &ebba, "Alder Ml.", "Weir 2").await;
    let all = customers(&house, &ebba).await;
    let id = |name: &str| all.iter().find(|c| c["name"] == name).unwrap()["id"].as_str().unwrap().to_owned();
    let (from, into) = (id("Alder Ml."), id("Tussock Wool Store"));
    let merge = |cookie: String, into: String| {
        let (house, path) = (&house, format!("/api/customers/{from}/merge"));
        async move { house.call(Some(&cookie), Method::POST, &path, Some(json!({"into": into}))).await }
    };
    assert_eq!(merge(ebba.clone(), into.clone()).await.status, StatusCode::FORBIDDEN);
    assert_eq!(merge(signe.clone(), from.clone()).await.code(), "same");
    assert_eq!(merge(signe.clone(), Uuid::now_v7().to_string()).await.status, StatusCode::NOT_FOUND);
    let gone = |cookie: String, id: String| {
        let (house, path) = (&house, format!("/api/customers/{id}"));
        async move { house.call(Some(&cookie), Method::DELETE, &path, None).await }
    };
    assert_eq!(gone(signe.clone(), into.clone()).await.code(), "has_scales");
    assert_eq!(merge(signe.clone(), into.clone()).await.status, StatusCode::NO_CONTENT);
    let sheet = get(&house, &ebba, &format!("/api/scales/{scale}")).await["sheet"].clone();
    assert_eq!(sheet["owner"], "Tussock Wool Store");
    assert_eq!(customers(&house, &ebba).await.len(), 1);
    let fresh = Uuid::now_v7();
    let body = form(fresh, "Nobody Yet", "", 0);
    let added = house.call(Some(&ebba), Method::POST, "/api/customers", Some(body)).await;
    assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
    let twice = form(Uuid::now_v7(), "nobody  YET", "", 0);
    let twice = house.call(Some(&ebba), Method::POST, "/api/customers", Some(twice)).await;
    assert_eq!((twice.code().as_str(), &twice.body["field"]), ("taken", &json!("name")));
    assert_eq!(gone(foreign, fresh.to_string()).await.status, StatusCode::FORBIDDEN);
    assert_eq!(gone(signe.clone(), fresh.to_string()).await.status, StatusCode::NO_CONTENT);
    assert_eq!(gone(signe.clone(), fresh.to_string()).await.status, StatusCode::NOT_FOUND);
    let trail = get(&house, &signe, "/api/audit").await;
    let acts: Vec<&str> =
        trail["lines"].as_array().unwrap().iter().map(|l| l["act"].as_str().unwrap()).collect();
    assert!(acts.contains(&"customers_merged") && acts.contains(&"customer_removed"), "{acts:?}");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn paper_speaks_the_language_that_is_agreed_with_the_customer(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.whole_job(&ebba).await;
    let of = customers(&house, &ebba).await[0].clone();
    let kept = |reply: Reply| {
        let pdf = lopdf::Document::load_mem(&reply.bytes).unwrap();
        pdf.catalog().unwrap().get(b"Lang").ok().and_then(|l| l.as_str().ok().map(<[u8]>::to_vec))
    };
    let path = format!("/api/jobs/{job}/certificate");
    let before = kept(house.call(Some(&ebba), Method::GET, &path, None).await);
    let mut body = form(of["id"].as_str().unwrap().parse().unwrap(), of["name"].as_str().unwrap(), "", 1);
    body["language"] = json!("de");
    let done = put(&house, &ebba, of["id"].as_str().unwrap(), body).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.body);
    let after = kept(house.call(Some(&ebba), Method::GET, &path, None).await);
    assert_ne!(before, after);
    assert_eq!(after.as_deref(), Some(&b"de"[..]));
}
