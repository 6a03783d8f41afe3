//! What records come to over time: the history of a scale, due dates and their calendar, readings as
//! a table, and which records rest on a piece of weight.

use std::io::BufReader;

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

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn records_of_a_scale_stand_in_its_history_and_move_its_due_date(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let path = format!("/api/scales/{}/history", house.scale);
    assert_eq!(get(&house, &cookie, &path).await["records"], json!([]));
    let job = house.whole_job(&cookie).await;
    let told = get(&house, &cookie, &path).await;
    let record = &told["records"][0];
    assert_eq!(
        (record["job"].as_str(), &record["outcome"]),
        (Some(job.to_string().as_str()), &json!("in_tolerance"))
    );
    // 600.2 kg under 600 kg, a third of the ± 0.6 kg there.
    assert!((record["found_share"].as_f64().unwrap() - 1.0 / 3.0).abs() < 1e-9, "{record}");
    assert_eq!(told["drift"]["says"], json!("A line needs three records."));
    let due = get(&house, &cookie, "/api/due?days=3700").await["rows"].clone();
    assert_eq!(
        (&due[0]["name"], &due[0]["reason"]),
        (&json!("Wool table"), &json!("12 months by the owner's rule"))
    );
    assert_eq!(
        (&due[0]["overdue"], due[0]["week"].as_str() <= due[0]["due"].as_str()),
        (&json!(false), true)
    );
    assert_eq!(get(&house, &cookie, "/api/due?days=30").await["rows"], json!([]));
    // Another workshop sees none of it.
    let foreign = house.sign_in("foreign").await;
    assert_eq!(
        get(&house, &foreign, "/api/due?days=3700").await,
        json!({"counts": {"total": 0, "overdue": 0, "weeks": []}, "rows": [], "next": null})
    );
    assert_eq!(house.call(Some(&foreign), Method::GET, &path, None).await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn found_out_of_tolerance_it_is_due_in_half_the_time(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.begin(&cookie).await;
    let view = get(&house, &cookie, &format!("/api/jobs/{job}")).await;
    let counts = |text: &str| json!({"from": "typed", "text": text, "steady": true});
    let mut drafts: Vec<Value> = view["assessment"]["inspection"]
        .as_array()
        .unwrap()
        .iter()
        .map(|c| json!({"kind": "looked_over", "item": c["item"], "finding": "ok"}))
        .collect();
    drafts.extend([
        read_draft("as_found", "0", "0"),
        read_draft("as_found", "600", "601.4"),
        read_draft("as_found", "870", "871.6"),
    ]);
    drafts.push(json!({"kind": "set_up", "max": "870", "d": "0.2", "unit": "kg"}));
    drafts.push(json!({"kind": "zero_captured", "counts": counts("41250")}));
    drafts.push(json!({"kind": "span_chosen", "weight": "600"}));
    drafts.push(json!({"kind": "span_captured", "counts": counts("241250")}));
    drafts.push(json!({"kind": "adjustment_saved"}));
    for (load, shown) in [("0", "0"), ("100", "100"), ("435", "435"), ("600", "600"), ("870", "870")] {
        drafts.push(read_draft("prove", load, shown));
    }
    let mut down = read_draft("prove", "435", "435");
    down["way"] = json!("down");
    drafts.extend([
        down,
        json!({"kind": "sealed_up", "seals": "", "switch_back": true, "locked": true}),
        json!({"kind": "closed", "name": "Ebba Lund"}),
    ]);
    for (after, draft) in (1u32..).zip(drafts) {
        let reply = house.append(&cookie, job, after, draft).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    }
    let due = get(&house, &cookie, "/api/due?days=3700").await["rows"].clone();
    assert_eq!(due[0]["reason"], json!("6 months instead of 12: found out of tolerance"));

    // The readings as a table: RFC 4180, one line each.
    let table = house
        .send(Some(&cookie), Method::GET, &format!("/api/jobs/{job}/readings"), None, Vec::new(), None)
        .await;
    assert!(table.kind.starts_with("text/csv"));
    let text = String::from_utf8(table.bytes).unwrap();
    assert!(text.lines().count() == 10 && text.contains("\r\n"), "{text}");
    let mut rows = csv::Reader::from_reader(text.as_bytes());
    let first = rows.records().nth(1).unwrap().unwrap();
    assert_eq!((&first[0], &first[5], &first[8], &first[13]), ("as found", "600", "1.4", "outside"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_calendar_is_read_by_another_library_and_an_old_address_leads_nowhere(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    house.whole_job(&cookie).await;
    assert_eq!(get(&house, &cookie, "/api/calendar").await["path"], Value::Null);
    let made = |cookie: String| {
        let house = &house;
        async move { house.call(Some(&cookie), Method::POST, "/api/calendar", Some(json!({}))).await }
    };
    assert_eq!(made(house.sign_in("maren").await).await.status, StatusCode::FORBIDDEN, "a reviewer reads");
    let path = made(cookie.clone()).await.body["path"].as_str().unwrap().to_owned();
    // Nobody has to sign in who has the address.
    let reply = house.send(None, Method::GET, &path, None, Vec::new(), None).await;
    assert!(reply.status == StatusCode::OK && reply.kind.starts_with("text/calendar"), "{}", reply.kind);
    let calendar = ical::IcalParser::new(BufReader::new(reply.bytes.as_slice())).next().unwrap().unwrap();
    assert_eq!(calendar.events.len(), 1);
    let value = |name: &str| {
        calendar.events[0]
            .properties
            .iter()
            .find(|p| p.name == name)
            .and_then(|p| p.value.clone())
            .unwrap_or_default()
    };
    assert_eq!(value("UID"), format!("{}@ombret", house.scale));
    assert!(
        value("SUMMARY").starts_with("Wool table due") && value("DTSTART").len() == 8,
        "{}",
        value("DTSTART")
    );
    let newer = made(cookie).await.body["path"].as_str().unwrap().to_owned();
    assert_ne!(path, newer);
    assert_eq!(
        house.send(None, Method::GET, &path, None, Vec::new(), None).await.status,
        StatusCode::NOT_FOUND
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_record_from_before_its_drawing_and_its_pieces_were_kept_tells_both_all_the_same(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let cookie = house.sign_in("ebba").await;
    let piece = Uuid::now_v7();
    let made = house.call(Some(&cookie), Method::PUT, "/api/kit", Some(json!({"piece": {"id": piece, "serial": "TB-77", "nominal": {"value": "500", "unit": "kg"}, "class": "M1", "form": "block"}, "version": 0}))).await;
    assert!(made.status.is_success(), "{}", made.body);
    let job = house.begin(&cookie).await;
    let mut reading = read_draft("as_found", "500", "500.4");
    reading["with"] = json!([piece]);
    let after = house.append(&cookie, job, 1, reading).await;
    assert_eq!(after.status, StatusCode::OK, "{}", after.body);
    for (seq, draft) in [
        (2, json!({"kind": "stopped_short", "reason": "the owner needs it"})),
        (3, json!({"kind": "sealed_up", "seals": "", "switch_back": true, "locked": true})),
        (4, json!({"kind": "closed", "name": "Ebba Lund"})),
    ] {
        let reply = house.append(&cookie, job, seq, draft).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    }
    let (path, resting) =
        (format!("/api/scales/{}/history", house.scale), format!("/api/kit/{piece}/records"));
    let (kept, named) = (get(&house, &cookie, &path).await, get(&house, &cookie, &resting).await);
    assert_eq!(
        (
            named["total"].as_u64(),
            named["records"][0]["job"].as_str(),
            kept["records"][0]["found_share"].is_number()
        ),
        (Some(1), Some(job.to_string().as_str()), true)
    );
    let foreign = house.sign_in("foreign").await;
    assert_eq!(get(&house, &foreign, &resting).await, json!({"total": 0, "records": [], "next": null}));
    // As an earlier version of the program left it.
    for sql in [
        "alter table record disable trigger all",
        "update record set shade = null",
        "delete from record_piece",
    ] {
        sqlx::query(sql).execute(&pool).await.unwrap();
    }
    let without = get(&house, &cookie, &path).await;
    assert_eq!(
        (&without["records"][0]["shade"], &without["drift"]),
        (&kept["records"][0]["shade"], &kept["drift"]),
        "drawn from its frozen bytes"
    );
    // The migration as it was, and then the column that a later one added and filled.
    sqlx::query("alter table record_piece alter column closed_at drop not null, alter column workshop_id drop not null").execute(&pool).await.unwrap();
    sqlx::query(include_str!("../../migrate/migrations/0009_pieces_of_earlier_records.sql"))
        .execute(&pool)
        .await
        .unwrap();
    sqlx::query("update record_piece p set closed_at = (select max(r.closed_at) from record r where r.job_id = p.job_id), workshop_id = (select j.workshop_id from job j where j.id = p.job_id)").execute(&pool).await.unwrap();
    assert_eq!((get(&house, &cookie, &resting).await, get(&house, &cookie, &path).await), (named, kept));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn verifying_finds_an_altered_entry_and_an_altered_record_and_nothing_else(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let cookie = house.sign_in("ebba").await;
    let (closed, open, altered) =
        (house.whole_job(&cookie).await, house.begin(&cookie).await, house.whole_job(&cookie).await);
    let told = ombret::cli::verify_database(&pool, &house.keys).await.unwrap();
    assert_eq!((told.jobs, told.signed, told.broken), (3, 2, Vec::new()));
    // Somebody who owns the database takes the guards away and changes what was written.
    for sql in [
        "alter table entry disable trigger all",
        "alter table record disable trigger all",
        "update entry set sealed = replace(sealed, '600.2', '600.0') where job_id = $1",
        "update record set file = convert_to(replace(convert_from(file, 'utf8'), 'Tussock', 'Thicket'), 'utf8') where job_id = $1",
    ] {
        let job = if sql.contains("update record") { closed } else { altered };
        let query = sqlx::query(sql);
        let query = if sql.contains("$1") { query.bind(job) } else { query };
        query.execute(&pool).await.unwrap();
    }
    let looked = ombret::cli::verify_database(&pool, &house.keys).await.unwrap();
    let broken = &looked.broken;
    let why = |job: Uuid| broken.iter().find(|b| b.job == job).map(|b| b.why.clone());
    assert_eq!((looked.jobs, broken.len()), (3, 2));
    assert!(why(altered).unwrap().contains("was changed"), "{broken:?}");
    assert!(why(closed).unwrap().contains("not the bytes that were frozen"), "{broken:?}");
    assert!(why(open).is_none());
    assert!(ombret::cli::report(&looked).contains("3 jobs looked at, 2 broken"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_scale_that_was_never_tested_is_due_from_the_day_it_is_taken_on(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    for by in ["week", "owner", "place"] {
        let due = get(&house, &cookie, &format!("/api/due?days=1&by={by}")).await["rows"].clone();
        assert_eq!(
            (&due[0]["name"], &due[0]["reason"], &due[0]["overdue"]),
            (&json!("Wool table"), &json!("never tested"), &json!(false)),
            "{by}"
        );
    }
    // A job that proves nothing leaves it there; one that is adjusted and not proven says so.
    let job = house.begin(&cookie).await;
    let after = house.head(&cookie, job).await;
    let reply =
        house.append(&cookie, job, after, json!({"kind": "stopped_short", "reason": "no weights"})).await;
    assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    let due = get(&house, &cookie, "/api/due?days=1").await["rows"].clone();
    assert_eq!(due[0]["reason"], json!("never tested"));
}
