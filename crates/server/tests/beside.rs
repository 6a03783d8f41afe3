//! Beside the figures: instruments named on the record, photographs by their hash, the customer's signature;
//! and how a database of before moves in.

use crate::house::{House, Reply, read_draft};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

const JPEG: &[u8] = b"\xff\xd8\xff\xe0 a photograph, for all that anybody here knows";

async fn get(house: &House, cookie: &str, path: &str) -> Reply {
    house.call(Some(cookie), Method::GET, path, None).await
}

async fn put(house: &House, cookie: &str, file: Uuid, of: &str, id: Uuid, bytes: &[u8]) -> Reply {
    let path = format!("/api/files/{file}?of={of}&id={id}&name=plate.jpg&caption=the%20plate");
    let kind = Some("application/octet-stream");
    house.send(Some(cookie), Method::PUT, &path, kind, bytes.to_vec(), Some(crate::house::ORIGIN)).await
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_photograph_stands_in_the_journal_by_its_hash_and_is_kept(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, maren, foreign) =
        (house.sign_in("ebba").await, house.sign_in("maren").await, house.sign_in("foreign").await);
    let job = house.begin(&ebba).await;
    let file = Uuid::now_v7();
    assert_eq!(put(&house, &maren, file, "job", job, JPEG).await.status, StatusCode::FORBIDDEN);
    assert_eq!(put(&house, &foreign, file, "job", job, JPEG).await.status, StatusCode::NOT_FOUND);
    assert_eq!(put(&house, &ebba, file, "job", job, b"<svg/>").await.code(), "bad_file");
    assert_eq!(put(&house, &ebba, file, "job", job, b"").await.code(), "too_large");
    let row = put(&house, &ebba, file, "job", job, JPEG).await;
    assert_eq!(row.status, StatusCode::OK, "{}", row.body);
    assert_eq!(put(&house, &ebba, file, "job", job, JPEG).await.status, StatusCode::OK, "sent twice");
    let other = [JPEG, b"!"].concat();
    assert_eq!(put(&house, &ebba, file, "job", job, &other).await.status, StatusCode::CONFLICT);

    let attach = |sha256: Value| {
        json!({"kind": "attached", "id": file, "name": "plate.jpg", "media": "image/jpeg", "size": JPEG.len(),
               "sha256": sha256, "caption": "the plate", "stage": "look_over", "on_record": true})
    };
    let wrong = house.append(&ebba, job, 1, attach(json!("0".repeat(64)))).await;
    assert_eq!(
        wrong.code(),
        "not_found",
        "the journal says nothing of a file that is not here: {}",
        wrong.body
    );
    let done = house.append(&ebba, job, 1, attach(row.body["sha256"].clone())).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.body);
    assert_eq!(done.body["assessment"]["files"][0]["caption"], "the plate");
    assert_eq!(get(&house, &foreign, &format!("/api/files/{file}")).await.status, StatusCode::NOT_FOUND);
    let got = get(&house, &maren, &format!("/api/files/{file}")).await;
    assert_eq!((got.bytes.as_slice(), got.kind.as_str()), (JPEG, "image/jpeg"));
    // One of a job is kept; one of a scale may go.
    let gone = |id: Uuid| {
        let (house, ebba) = (&house, ebba.clone());
        async move { house.call(Some(&ebba), Method::DELETE, &format!("/api/files/{id}"), None).await.status }
    };
    assert_eq!(gone(file).await, StatusCode::NOT_FOUND);
    assert!(sqlx::query("delete from file").execute(&pool).await.is_err());
    let of_scale = Uuid::now_v7();
    assert_eq!(put(&house, &ebba, of_scale, "scale", house.scale, JPEG).await.status, StatusCode::OK);
    assert_eq!(gone(of_scale).await, StatusCode::NO_CONTENT);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn files_take_no_more_room_than_the_settings_allow(pool: PgPool) {
    let settings = ombret::settings::Settings { most_file_mb: 1, ..Default::default() };
    let house = House::peopled(House::with(pool, settings)).await;
    let ebba = house.sign_in("ebba").await;
    let large = [JPEG, &vec![0; 700 << 10]].concat();
    assert_eq!(put(&house, &ebba, Uuid::now_v7(), "scale", house.scale, &large).await.status, StatusCode::OK);
    assert_eq!(put(&house, &ebba, Uuid::now_v7(), "scale", house.scale, &large).await.code(), "no_room");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_instrument_is_named_on_the_record_and_one_past_its_date_is_noted(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let instrument = |serial: &str, due: &str| json!({"id": Uuid::now_v7(), "kind": "thermometer", "serial": serial, "certificate": "C 5", "laboratory": "Fell Lab", "due": due});
    let keep = |body: Value| {
        let (house, ebba, body) = (&house, ebba.clone(), json!({"instrument": body, "version": 0}));
        async move { house.call(Some(&ebba), Method::PUT, "/api/instruments", Some(body)).await }
    };
    let (good, old) = (instrument("T-1", "2090-01-01"), instrument("T-2", "2020-01-01"));
    for one in [&good, &old] {
        assert_eq!(keep(one.clone()).await.status, StatusCode::NO_CONTENT);
    }
    assert_eq!(keep(instrument("t-1", "2090-01-01")).await.body["field"], "serial", "each mark once");
    let mut bare = instrument("T-3", "2090-01-01");
    bare["due"] = Value::Null;
    assert_eq!(keep(bare).await.body["field"], "due");
    let job = house.begin(&ebba).await;
    let read = |with: Value| json!({"kind": "conditions_read", "temperature": "21.5", "instruments": with});
    let unknown = house.append(&ebba, job, 1, read(json!([Uuid::now_v7()]))).await;
    assert_eq!(unknown.body["field"], "instruments", "{}", unknown.body);
    let done = house.append(&ebba, job, 1, read(json!([good["id"]]))).await;
    assert_eq!(done.body["assessment"]["conditions"], json!(["21.5 °C, T-1 (C 5)"]), "{}", done.body);
    assert!(!done.body["assessment"]["reservations"].to_string().contains("T-1"));
    let done = house.append(&ebba, job, 2, read(json!([old["id"]]))).await;
    assert!(
        done.body["assessment"]["reservations"].to_string().contains("T-2 was due on 2020-01-01"),
        "{}",
        done.body["assessment"]["reservations"]
    );
    // Out of use, it stays on the record.
    let path = format!("/api/instruments/{}", good["id"].as_str().unwrap());
    assert_eq!(house.call(Some(&ebba), Method::DELETE, &path, None).await.status, StatusCode::NO_CONTENT);
    let told = get(&house, &ebba, &format!("/api/jobs/{job}")).await.body;
    assert!(told["assessment"]["conditions"].to_string().contains("T-1 (C 5)"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_customer_signs_the_work_as_it_stands(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.begin(&ebba).await;
    let signs = |name: &str, path: &str| json!({"kind": "customer_signed", "name": name, "path": path});
    let early = house.append(&ebba, job, 1, signs("Ida Moor", "M10 20L300 90")).await;
    assert_eq!(early.code(), "incomplete", "{}", early.body);
    let stop = json!({"kind": "stopped_short", "reason": "the hall is closed"});
    assert_eq!(house.append(&ebba, job, 1, stop).await.status, StatusCode::OK);
    let sealed = json!({"kind": "sealed_up", "seals": "", "switch_back": true, "locked": false});
    assert_eq!(house.append(&ebba, job, 2, sealed).await.status, StatusCode::OK);
    for (draft, field) in [
        (signs(" ", "M10 20L300 90"), "name"),
        (signs("Ida Moor", ""), "path"),
        (signs("Ida Moor", "M1 1L2 2\"/><script>"), "path"),
    ] {
        assert_eq!(house.append(&ebba, job, 3, draft).await.body["field"], field);
    }
    let signed = house.append(&ebba, job, 3, signs(" Ida Moor ", "M10 20L300 90")).await;
    assert_eq!(signed.body["assessment"]["close"]["customer"]["name"], "Ida Moor", "{}", signed.body);
    // A remark leaves it; more work takes it off, for it was not what was signed.
    let remark = json!({"kind": "remarked", "text": "keys at the gate"});
    let told = house.append(&ebba, job, 4, remark).await;
    assert!(told.body["assessment"]["close"]["customer"].is_object());
    let told = house.append(&ebba, job, 5, read_draft("as_found", "600", "600.2")).await;
    assert!(told.body["assessment"]["close"]["customer"].is_null(), "{}", told.body);
    assert_eq!(house.append(&ebba, job, 6, signs("Ida Moor", "M10 20L300 90")).await.status, StatusCode::OK);
    let closed = house.append(&ebba, job, 7, json!({"kind": "closed", "name": "Ebba Lund"})).await;
    assert_eq!(closed.status, StatusCode::OK, "{}", closed.body);
    let pdf = get(&house, &ebba, &format!("/api/jobs/{job}/certificate")).await;
    assert_eq!(pdf.status, StatusCode::OK, "{}", pdf.body);
    assert!(pdf.bytes.starts_with(b"%PDF"));
    let whole = get(&house, &ebba, &format!("/api/jobs/{job}")).await.body;
    assert_eq!(whole["assessment"]["close"]["customer"]["name"], "Ida Moor");
}

/// A database as it was before there were customers: owners of scales become customers, and a scale of a lesson
/// does not.
#[sqlx::test(migrations = false)]
async fn a_database_of_before_moves_in(pool: PgPool) {
    let until = |last: i64, first: i64| {
        ombret_migrate::MIGRATOR.iter().filter(move |m| (first..=last).contains(&m.version))
    };
    for step in until(14, 0) {
        sqlx::raw_sql(sqlx::AssertSqlSafe(step.sql.as_str().to_owned())).execute(&pool).await.unwrap();
    }
    let (one, other) = (Uuid::now_v7(), Uuid::now_v7());
    for (id, name) in [(one, "Fell Road Scales"), (other, "Elsewhere")] {
        sqlx::query("insert into workshop (id, name) values ($1, $2)")
            .bind(id)
            .bind(name)
            .execute(&pool)
            .await
            .unwrap();
    }
    for (workshop, owner, address, practice) in [
        (one, "Alder Mill", "", false),
        (one, "  alder  MILL ", "Weir 2", false),
        (one, "Fern & Co", "", false),
        (one, "A lesson's", "", true),
        (other, "Alder Mill", "Elsewhere 1", false),
    ] {
        let sheet =
            json!({"name": "Scale", "owner": owner, "owner_address": address, "place": "", "serial": ""});
        sqlx::query(
            "insert into scale (id, workshop_id, sheet, search, practice) values ($1, $2, $3, '', $4)",
        )
        .bind(Uuid::now_v7())
        .bind(workshop)
        .bind(sheet)
        .bind(practice)
        .execute(&pool)
        .await
        .unwrap();
    }
    for step in until(i64::MAX, 15) {
        sqlx::raw_sql(sqlx::AssertSqlSafe(step.sql.as_str().to_owned())).execute(&pool).await.unwrap();
    }
    let rows: Vec<(String, String, i64)> = sqlx::query_as(
        "select c.details->>'name', c.details->>'address', (select count(*) from scale s where s.customer_id = c.id) from customer c where c.workshop_id = $1 order by 1",
    )
    .bind(one)
    .fetch_all(&pool)
    .await
    .unwrap();
    let told = rows
        .iter()
        .map(|(n, a, s)| (n.to_lowercase(), a.as_str(), *s))
        .collect::<std::collections::BTreeSet<_>>();
    assert_eq!(told, [("alder  mill".into(), "Weir 2", 2), ("fern & co".into(), "", 1)].into());
    let unlinked: i64 = sqlx::query_scalar("select count(*) from scale where customer_id is null")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(unlinked, 1, "the lesson's");
}
