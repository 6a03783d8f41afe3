//! All records: a list with filters, what was frozen before there was one, and papers as one file.

use std::io::{Cursor, Read};

use crate::house::House;
use axum::http::{Method, StatusCode};
use ombret::store::listed;
use serde_json::{Value, json};
use sqlx::PgPool;

async fn numbers(house: &House, cookie: &str, query: &str) -> Vec<String> {
    let told = house.call(Some(cookie), Method::GET, &format!("/api/records?{query}"), None).await;
    assert_eq!(told.status, StatusCode::OK, "{query}: {}", told.body);
    told.body["records"]
        .as_array()
        .unwrap()
        .iter()
        .map(|r| r["number"].as_str().unwrap().to_owned())
        .collect()
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn records_are_found_by_every_filter_and_only_by_their_workshop(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    house.whole_job(&ebba).await;
    let all = numbers(&house, &ebba, "").await;
    assert_eq!(all.len(), 1);
    let row = house.call(Some(&ebba), Method::GET, "/api/records", None).await.body;
    assert_eq!(row["signers"], json!(["Ebba Lund"]));
    let record = &row["records"][0];
    let outcome = record["outcome"].as_str().unwrap().to_owned();
    let day = record["signed_at"].as_str().unwrap()[..10].to_owned();
    let customers = house.call(Some(&ebba), Method::GET, "/api/customers", None).await.body;
    let customer = customers["customers"][0]["id"].as_str().unwrap().to_owned();
    for (query, found) in [
        (format!("search={}", all[0]), true),
        ("search=tussock".into(), true),
        ("search=WT-07".into(), true),
        ("search=nothing".into(), false),
        (format!("customer={customer}"), true),
        (format!("customer={}", uuid::Uuid::now_v7()), false),
        ("place=grading%20FLOOR".into(), true),
        ("place=yard".into(), false),
        ("kind=floor".into(), true),
        ("kind=bench".into(), false),
        ("technician=ebba%20lund".into(), true),
        ("technician=maren".into(), false),
        (format!("outcome={outcome}"), true),
        (format!("from={day}&to={day}"), true),
        ("to=2001-01-01".into(), false),
        ("from=2999-01-01".into(), false),
        ("certificate=true".into(), false),
        ("certificate=false".into(), true),
        ("waiting=true".into(), false),
    ] {
        assert_eq!(numbers(&house, &ebba, &query).await == all, found, "{query}");
    }
    assert!(numbers(&house, &house.sign_in("foreign").await, "").await.is_empty());
    for bad in ["after=nonsense", "from=yesterday", "kind=spoon"] {
        let told = house.call(Some(&ebba), Method::GET, &format!("/api/records?{bad}"), None).await;
        assert_eq!(told.status, StatusCode::BAD_REQUEST, "{bad}");
    }
    // What was frozen before there was a list is written down from the frozen bytes, and says the same.
    let before: Value = record.clone();
    sqlx::query("delete from record_listed").execute(&pool).await.unwrap();
    assert!(numbers(&house, &ebba, "").await.is_empty());
    assert_eq!(listed::fill(&pool).await.unwrap(), 1);
    assert_eq!(listed::fill(&pool).await.unwrap(), 0);
    let again = house.call(Some(&ebba), Method::GET, "/api/records", None).await.body;
    assert_eq!(again["records"][0], before);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn papers_of_what_is_filtered_come_as_one_file(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let nothing = house.call(Some(&ebba), Method::POST, "/api/records/papers", None).await;
    assert_eq!(nothing.code(), "too_many", "{}", nothing.body);
    house.whole_job(&ebba).await;
    let all = numbers(&house, &ebba, "").await;
    let begun = house.call(Some(&ebba), Method::POST, "/api/records/papers", None).await;
    assert_eq!(begun.status, StatusCode::ACCEPTED, "{}", begun.body);
    let path = format!("/api/archive/{}", begun.body["id"].as_str().unwrap());
    let done = loop {
        let told = house.call(Some(&ebba), Method::GET, &path, None).await.body;
        if told["state"] != "running" {
            break told;
        }
        tokio::task::yield_now().await;
    };
    assert_eq!(done["state"], "done", "{done}");
    let file = house.call(Some(&ebba), Method::GET, &format!("{path}/file"), None).await;
    let mut zip = zip::ZipArchive::new(Cursor::new(file.bytes)).unwrap();
    assert_eq!(zip.len(), 1);
    let mut pdf = Vec::new();
    zip.by_name(&format!("{}.pdf", all[0])).unwrap().read_to_end(&mut pdf).unwrap();
    assert!(pdf.starts_with(b"%PDF"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn lists_are_asked_of_a_replica_where_there_is_one_and_what_counts_is_not(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    // A replica that has not heard of anything yet: the same tables with nothing in them.
    let behind = format!("behind_{}", uuid::Uuid::now_v7().simple());
    sqlx::query(sqlx::AssertSqlSafe(format!("create database {behind}"))).execute(&pool).await.unwrap();
    let options = (*pool.connect_options()).clone().database(&behind);
    let reads = sqlx::postgres::PgPoolOptions::new().max_connections(2).connect_with(options).await.unwrap();
    ombret_migrate::MIGRATOR.run(&reads).await.unwrap();
    let house = house.with_replica(reads.clone());
    for (path, rows) in
        [("/api/scales", "scales"), ("/api/customers", "customers"), ("/api/records", "records")]
    {
        let told = house.call(Some(&ebba), Method::GET, path, None).await.body;
        assert_eq!(told[rows], json!([]), "{path}");
    }
    let one = house.call(Some(&ebba), Method::GET, &format!("/api/scales/{}", house.scale), None).await;
    assert_eq!(one.status, StatusCode::OK, "a scale itself is where it was stored");
    reads.close().await;
    sqlx::query(sqlx::AssertSqlSafe(format!("drop database {behind} with (force)")))
        .execute(&pool)
        .await
        .unwrap();
}
