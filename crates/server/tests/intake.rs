//! A workshop's tables come in and go out: whole or not at all, and the last one is taken back.

use std::io::Cursor;

use crate::house::{House, Reply};
use axum::http::{Method, StatusCode};
use calamine::{Reader, Xlsx};
use serde_json::{Value, json};
use sqlx::PgPool;

async fn send(house: &House, cookie: &str, query: &str, bytes: Vec<u8>) -> Reply {
    let kind = Some("application/octet-stream");
    let path = format!("/api/intake?{query}");
    house.send(Some(cookie), Method::POST, &path, kind, bytes, Some(crate::house::ORIGIN)).await
}

async fn get(house: &House, cookie: &str, path: &str) -> Reply {
    house.call(Some(cookie), Method::GET, path, None).await
}

async fn last(house: &House, cookie: &str) -> String {
    get(house, cookie, "/api/intake").await.body[0]["id"].as_str().unwrap().to_owned()
}

async fn undo(house: &House, cookie: &str, id: &str) -> Reply {
    house.call(Some(cookie), Method::DELETE, &format!("/api/intake/{id}"), None).await
}

const CUSTOMERS: &str =
    "Firma;Nr;Anschrift;email\nAlder Mill;K-7;Weir 2, 4711 Skarholm;mill@alder.example\nFern & Co;K-8;;\n";

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn customers_come_in_with_their_columns_mapped_by_a_person(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, maren) = (house.sign_in("ebba").await, house.sign_in("maren").await);
    let looked = send(&house, &ebba, "kind=customers&take=true", CUSTOMERS.into()).await.body;
    assert_eq!(looked["errors"][0]["says"], "no column is mapped to “name”");
    assert_eq!(looked["head"], json!(["Firma", "Nr", "Anschrift", "email"]));
    assert_eq!(
        (&looked["count"], &looked["taken"]),
        (&json!(2), &Value::Null),
        "nothing while anything is wrong"
    );
    let mapping = r#"mapping={"name":"Firma","number":"Nr","address":"Anschrift"}"#
        .replace('"', "%22")
        .replace('{', "%7B")
        .replace('}', "%7D");
    let query = format!("kind=customers&name=list.csv&take=true&{mapping}");
    let refused = send(&house, &maren, &query, CUSTOMERS.into()).await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    let taken = send(&house, &ebba, &query, CUSTOMERS.into()).await.body;
    assert!(taken["taken"].is_string(), "{taken}");
    let all = get(&house, &ebba, "/api/customers?search=alder").await.body;
    assert_eq!(all["customers"][0]["address"], "Weir 2\n4711 Skarholm");
    let again = send(&house, &ebba, &query, CUSTOMERS.into()).await.body;
    assert_eq!(again["errors"].as_array().unwrap().len(), 2, "they are here already: {again}");
    // What goes out comes in again elsewhere, as text and as a workbook.
    let foreign = house.sign_in("foreign").await;
    for form in ["csv", "xlsx"] {
        let out = get(&house, &ebba, &format!("/api/tables/customers?form={form}")).await;
        let taken = send(&house, &foreign, "kind=customers&take=true", out.bytes).await.body;
        assert_eq!((&taken["errors"], &taken["count"]), (&json!([]), &json!(3)), "{form}: {taken}");
        let id = last(&house, &foreign).await;
        assert_eq!(undo(&house, &foreign, &id).await.status, StatusCode::NO_CONTENT);
    }
    assert_eq!(get(&house, &foreign, "/api/customers").await.body["customers"], json!([]));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn scales_come_in_whole_or_not_at_all_and_their_owners_with_them(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let good = "name;customer;serial;max;division;kind;class;trade\nIntake hopper;Alder Mill;AM-1;1500;0.5;Hopper or tank;III;yes\nLab;Alder Mill;AM-2;3 kg;0.1 g;laboratory;II;no\n";
    let wrong = good.replace("0.1 g", "0.3 g").replace("AM-1", "WT 07");
    let told = send(&house, &ebba, "kind=scales&take=true", wrong.into()).await.body;
    let errors: Vec<_> =
        told["errors"].as_array().unwrap().iter().map(|e| (e["row"].clone(), e["column"].clone())).collect();
    assert_eq!(errors, [(json!(2), json!("serial")), (json!(3), json!("division"))], "{told}");
    let count = "select count(*) from scale";
    let before: i64 = sqlx::query_scalar(count).fetch_one(&pool).await.unwrap();
    let taken = send(&house, &ebba, "kind=scales&take=true&name=old.csv", good.into()).await.body;
    assert!(taken["taken"].is_string(), "{taken}");
    let after: i64 = sqlx::query_scalar(count).fetch_one(&pool).await.unwrap();
    assert_eq!(after, before + 2);
    let scales = get(&house, &ebba, "/api/scales?search=alder").await.body["scales"].clone();
    let hopper = scales.as_array().unwrap().iter().find(|s| s["sheet"]["serial"] == "AM-1").unwrap().clone();
    assert_eq!(hopper["sheet"]["tolerance"], json!({"scheme": "r76_in_service", "class": "III"}));
    // Earlier results of a scale stand in its history, and stop the scale from being taken back.
    let results =
        "scale;date;load;indication\nAM1;2024-05-02;1000;1000.5\nIntake hopper;3.5.2025;1000;1001\n";
    let intake = last(&house, &ebba).await;
    let taken = send(&house, &ebba, "kind=results&take=true", results.into()).await.body;
    assert!(taken["taken"].is_string(), "{taken}");
    let history = format!("/api/scales/{}/history", hopper["sheet"]["id"].as_str().unwrap());
    let earlier = get(&house, &ebba, &history).await.body["earlier"].clone();
    assert_eq!(earlier.as_array().unwrap().len(), 2);
    assert_eq!((&earlier[0]["day"], &earlier[0]["error"]["value"]), (&json!("2025-05-03"), &json!("1")));
    assert_eq!(undo(&house, &ebba, &intake).await.code(), "not_the_last");
    let newest = last(&house, &ebba).await;
    assert_eq!(undo(&house, &ebba, &newest).await.status, StatusCode::NO_CONTENT);
    assert_eq!(undo(&house, &ebba, &intake).await.status, StatusCode::NO_CONTENT);
    assert_eq!(sqlx::query_scalar::<_, i64>(count).fetch_one(&pool).await.unwrap(), before);
    let left = get(&house, &ebba, "/api/customers").await.body;
    assert_eq!(left["customers"].as_array().unwrap().len(), 1, "the owner who came with them went with them");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_scale_of_a_table_gets_what_was_agreed_with_its_customer(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let customers = "name;interval;tolerance\nAlder Mill;6;hb44_maintenance\nFern & Co;;\n";
    let taken = send(&house, &ebba, "kind=customers&take=true", customers.into()).await.body;
    assert!(taken["taken"].is_string(), "{taken}");
    let scales = "name;customer;serial;max;division;interval\nHopper;ALDER  MILL;AM-1;1500;0.5;\nBench;Alder Mill;AM-2;15;0.005;3\nFloor;Fern & Co;F-1;600;0.2;\n";
    let taken = send(&house, &ebba, "kind=scales&take=true", scales.into()).await.body;
    assert!(taken["taken"].is_string(), "{taken}");
    for (serial, scheme, months) in
        [("AM-1", "hb44_maintenance", 6), ("AM-2", "hb44_maintenance", 3), ("F-1", "r76_in_service", 12)]
    {
        let told = get(&house, &ebba, &format!("/api/scales?search={serial}")).await.body;
        let sheet = &told["scales"][0]["sheet"];
        assert_eq!(
            (&sheet["tolerance"]["scheme"], &sheet["interval_months"]),
            (&json!(scheme), &json!(months)),
            "{serial}"
        );
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_is_in_use_is_not_taken_back(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let one = "name;customer;serial;max;division\nIntake hopper;Alder Mill;AM-1;1500;0.5\n";
    assert!(send(&house, &ebba, "kind=scales&take=true", one.into()).await.body["taken"].is_string());
    let id = last(&house, &ebba).await;
    let scales = get(&house, &ebba, "/api/scales?search=AM-1").await.body;
    let body = json!({"scale_id": scales["scales"][0]["sheet"]["id"], "id": uuid::Uuid::now_v7()});
    let begun = house.call(Some(&ebba), Method::POST, "/api/jobs", Some(body)).await;
    assert_eq!(begun.status, StatusCode::CREATED, "{}", begun.body);
    let refused = undo(&house, &ebba, &id).await;
    assert_eq!(refused.code(), "in_use");
    assert!(refused.body["detail"].as_str().unwrap().contains("it has a job"), "{}", refused.body);
    let weights = "serial;nominal;class;certificate;laboratory;date;due\nK-1;20 kg;M1;C 1;Fell Lab;2026-01-02;2030-01-02\n";
    let taken = send(&house, &ebba, "kind=weights&take=true", weights.into()).await.body;
    assert!(taken["taken"].is_string(), "{taken}");
    let id = last(&house, &ebba).await;
    assert_eq!(undo(&house, &ebba, &id).await.status, StatusCode::NO_CONTENT);
    assert_eq!(get(&house, &ebba, "/api/kit").await.body, json!([]));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_is_no_table_is_refused_in_words(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    for (bytes, says) in [
        (b"".to_vec(), "empty"),
        (b"PK\x03\x04 broken".to_vec(), "no spreadsheet"),
        (vec![0xff, 0xfe, 0x41], "neither a spreadsheet"),
        (b"\0\0\0".to_vec(), "no text"),
    ] {
        let told = send(&house, &ebba, "kind=customers", bytes).await;
        assert_eq!(told.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(told.body["detail"].as_str().unwrap().contains(says), "{}", told.body);
    }
    let large = send(&house, &ebba, "kind=customers", vec![b'a'; 7 << 20]).await;
    assert_eq!(large.status, StatusCode::PAYLOAD_TOO_LARGE);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn every_list_goes_out_as_text_and_as_a_workbook(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    house.whole_job(&ebba).await;
    for (what, rows) in
        [("customers", 1), ("scales", 1), ("weights", 0), ("due", 1), ("records", 1), ("readings", 1)]
    {
        let text = get(&house, &ebba, &format!("/api/tables/{what}")).await;
        assert_eq!(text.status, StatusCode::OK, "{what}: {}", text.body);
        let lines = String::from_utf8(text.bytes).unwrap().lines().count();
        assert!(lines > rows, "{what}: {lines}");
        let book = get(&house, &ebba, &format!("/api/tables/{what}?form=xlsx")).await;
        let mut read: Xlsx<_> = Xlsx::new(Cursor::new(book.bytes)).unwrap();
        let sheet = read.worksheet_range_at(0).unwrap().unwrap();
        assert_eq!(sheet.get_size().0, lines, "{what}: the same rows in both");
    }
    assert_eq!(get(&house, &ebba, "/api/tables/audit").await.status, StatusCode::FORBIDDEN);
    let trail = get(&house, &signe, "/api/tables/audit").await;
    assert!(
        String::from_utf8(trail.bytes).unwrap().contains("table_exported"),
        "an export stands in the trail"
    );
}
