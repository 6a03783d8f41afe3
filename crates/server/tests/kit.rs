//! The kit over the wire: what is taken in whole or not at all, who may see it, and the plans that
//! rest on it.

use crate::house::{House, Reply};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

const HEAD: &str =
    "serial,nominal,class,form,set,place,holder,damaged,certificate,laboratory,date,due,error,U,k\n";

/// Days from today, as a table writes a date.
fn day(days: i64) -> String {
    (OffsetDateTime::now_utc().date() + Duration::days(days)).to_string()
}

fn blocks(mark: &str, count: usize, nominal: &str, due_in: i64) -> String {
    let class = if nominal.ends_with("lb") { "F" } else { "M1" };
    (1..=count)
        .map(|n| {
            format!(
                "{mark}-{n},{nominal},{class},block,,van,,,SL-1,Skerry Lab,{},{},,,\n",
                day(-30),
                day(due_in)
            )
        })
        .collect()
}

async fn take(house: &House, cookie: &str, rows: &str, take: bool) -> Reply {
    import(house, cookie, format!("{HEAD}{rows}").into_bytes(), take).await
}

async fn import(house: &House, cookie: &str, bytes: Vec<u8>, take: bool) -> Reply {
    let path = format!("/api/intake?kind=weights&unit=kg&name=kit.csv&take={take}");
    let kind = Some("application/octet-stream");
    house.send(Some(cookie), Method::POST, &path, kind, bytes, Some(crate::house::ORIGIN)).await
}

async fn kit(house: &House, cookie: &str, search: &str) -> Vec<Value> {
    let reply = house.call(Some(cookie), Method::GET, &format!("/api/kit?search={search}"), None).await;
    assert_eq!(reply.status, StatusCode::OK);
    reply.body.as_array().unwrap().clone()
}

fn serials(kit: &[Value]) -> Vec<&str> {
    kit.iter().map(|p| p["piece"]["serial"].as_str().unwrap()).collect()
}

fn piece(serial: &str) -> Value {
    json!({"id": Uuid::now_v7(), "serial": serial, "nominal": {"value": "20", "unit": "kg"}, "class": "M1", "form": "block"})
}

async fn keep(house: &House, cookie: &str, piece: &Value, version: i32) -> Reply {
    house.call(Some(cookie), Method::PUT, "/api/kit", Some(json!({"piece": piece, "version": version}))).await
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_table_is_looked_at_without_taking_it_and_taken_whole_or_not_at_all(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let looked = take(&house, &cookie, &blocks("TB", 3, "20 kg", 300), false).await.body;
    assert_eq!((&looked["count"], looked["preview"].as_array().unwrap().len()), (&json!(3), 3));
    assert!(kit(&house, &cookie, "").await.is_empty(), "looking takes nothing in");

    take(&house, &cookie, &blocks("TB", 3, "20 kg", 300), true).await;
    assert_eq!(serials(&kit(&house, &cookie, "").await), ["TB-1", "TB-2", "TB-3"]);
    let spoiled = format!("{}{}", blocks("NB", 2, "10 kg", 300), "NB-9,-5 kg,M1,block,,,,,,,,,,,\n");
    let told = take(&house, &cookie, &spoiled, true).await.body;
    assert_eq!((&told["errors"][0]["row"], &told["errors"][0]["column"]), (&json!(4), &json!("nominal")));
    let twice = take(
        &house,
        &cookie,
        &format!("{}{}", blocks("NB", 2, "10 kg", 300), blocks("tb", 1, "20 kg", 300)),
        true,
    )
    .await
    .body;
    assert!(twice["errors"][0]["says"].as_str().unwrap().contains("in the kit already"), "{twice}");
    assert_eq!(kit(&house, &cookie, "").await.len(), 3, "nothing half imported");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_table_that_cannot_be_one_is_refused_as_a_file(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let rows: String = (0..50_000).map(|n| format!("S-{n},20 kg,M1,block,,,,,,,,,,,\n")).collect();
    let long = take(&house, &cookie, &rows, true).await;
    assert!(long.status.is_client_error(), "{}", long.status);
    for text in ["", "\u{0}\u{fffd}\u{0}"] {
        let reply = import(&house, &cookie, text.as_bytes().to_vec(), true).await;
        assert_eq!(reply.code(), "bad_table", "{text:?}: {}", reply.body);
    }
    assert!(kit(&house, &cookie, "").await.is_empty());
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_kit_goes_out_and_comes_in_elsewhere_as_it_was(pool: PgPool) {
    let house = House::new(pool).await;
    let (own, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    take(&house, &own, &format!("{}{}", blocks("TB", 4, "20 kg", 300), blocks("LB", 2, "25 lb", 20)), true)
        .await;
    let table = house.call(Some(&own), Method::GET, "/api/tables/weights", None).await;
    assert!(table.kind.starts_with("text/csv"));
    assert_eq!(import(&house, &foreign, table.bytes, true).await.status, StatusCode::OK);
    let plain = |kit: Vec<Value>| -> Vec<Value> {
        kit.into_iter()
            .map(|mut row| {
                row["piece"]["id"] = Value::Null;
                row["piece"].clone()
            })
            .collect()
    };
    assert_eq!(kit(&house, &foreign, "").await.len(), 6);
    assert_eq!(plain(kit(&house, &own, "").await), plain(kit(&house, &foreign, "").await));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_kit_is_found_by_any_word_and_is_the_workshops_own(pool: PgPool) {
    let house = House::new(pool).await;
    let (own, foreign, reviewer) =
        (house.sign_in("ebba").await, house.sign_in("foreign").await, house.sign_in("maren").await);
    take(&house, &own, &format!("{}{}", blocks("TB", 2, "20 kg", 300), blocks("NB", 1, "10 kg", 300)), true)
        .await;
    assert_eq!(serials(&kit(&house, &own, "nb-1").await), ["NB-1"]);
    assert_eq!(kit(&house, &own, "skerry").await.len(), 3);
    assert!(kit(&house, &own, "%25").await.is_empty(), "a sign of the pattern is only a sign");
    assert!(kit(&house, &foreign, "").await.is_empty());
    assert_eq!(kit(&house, &reviewer, "").await.len(), 3);
    assert_eq!(
        take(&house, &reviewer, &blocks("XX", 1, "10 kg", 300), true).await.status,
        StatusCode::FORBIDDEN
    );
    assert_eq!(house.call(None, Method::GET, "/api/kit", None).await.status, StatusCode::UNAUTHORIZED);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_piece_is_refused_at_its_field(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let certificate = |date: i64, due: i64, extra: Value| {
        let mut c = json!({"number": "SL-9", "laboratory": "Skerry Lab", "date": day(date), "due": day(due)});
        c.as_object_mut().unwrap().extend(extra.as_object().unwrap().clone());
        json!([c])
    };
    for (field, value, at) in [
        ("serial", json!("  "), "serial"),
        ("serial", json!("a\u{7}b"), "serial"),
        ("nominal", json!({"value": "-20", "unit": "kg"}), "nominal"),
        ("nominal", json!({"value": "15", "unit": "kg"}), "class"),
        ("class", Value::Null, "class"),
        ("certificates", certificate(1, 400, json!({})), "date"),
        ("certificates", certificate(-10, -20, json!({})), "due"),
        ("certificates", certificate(-10, 300, json!({"U": {"value": "30", "unit": "mg"}})), "k"),
        ("certificates", certificate(-10, 300, json!({"k": "2"})), "U"),
        ("certificates", certificate(-10, 300, json!({"U": {"value": "-30", "unit": "mg"}, "k": "2"})), "U"),
    ] {
        let mut wrong = piece("P-1");
        wrong[field] = value;
        let reply = keep(&house, &cookie, &wrong, 0).await;
        assert_eq!(
            (reply.status, &reply.body["field"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!(at)),
            "{wrong}: {}",
            reply.body
        );
    }
    assert!(kit(&house, &cookie, "").await.is_empty());
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn two_editors_of_a_piece_do_not_overwrite_each_other_and_serials_stay_unique(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let mut first = piece("P-1");
    assert_eq!(keep(&house, &cookie, &first, 0).await.status, StatusCode::NO_CONTENT);
    assert_eq!(keep(&house, &cookie, &piece("p-1"), 0).await.status, StatusCode::CONFLICT);
    first["place"] = json!("shelf");
    assert_eq!(keep(&house, &cookie, &first, 1).await.status, StatusCode::NO_CONTENT);
    first["place"] = json!("van");
    assert_eq!(
        keep(&house, &cookie, &first, 1).await.status,
        StatusCode::CONFLICT,
        "somebody changed it meanwhile"
    );
    let second = piece("P-2");
    keep(&house, &cookie, &second, 0).await;
    let mut renamed = second.clone();
    renamed["serial"] = json!("P-1");
    assert_eq!(keep(&house, &cookie, &renamed, 1).await.status, StatusCode::CONFLICT);
    assert_eq!(kit(&house, &cookie, "shelf").await.len(), 1);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn pieces_are_changed_together_or_not_at_all(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    take(&house, &cookie, &blocks("TB", 3, "20 kg", 300), true).await;
    let rows = kit(&house, &cookie, "").await;
    let ids: Vec<&Value> = rows.iter().map(|r| &r["piece"]["id"]).collect();
    let bulk = |place: &str| json!({"ids": ids, "place": place, "holder": "tomas"});
    assert_eq!(
        house.call(Some(&cookie), Method::POST, "/api/kit/bulk", Some(bulk("shelf 3"))).await.status,
        StatusCode::NO_CONTENT
    );
    assert_eq!(kit(&house, &cookie, "shelf").await.len(), 3);
    assert_eq!(
        house.call(Some(&cookie), Method::POST, "/api/kit/bulk", Some(bulk(&"x".repeat(90)))).await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    // The third of three fails in the database: the first two must not stay changed.
    sqlx::raw_sql("create function fail() returns trigger language plpgsql as $$ begin if new.serial = 'TB-3' then raise exception 'disk full'; end if; return new; end $$;
        create trigger fail before update on piece for each row execute function fail()").execute(&house.pool).await.unwrap();
    assert_eq!(
        house.call(Some(&cookie), Method::POST, "/api/kit/bulk", Some(bulk("cellar"))).await.status,
        StatusCode::INTERNAL_SERVER_ERROR
    );
    assert!(kit(&house, &cookie, "cellar").await.is_empty());
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_file_of_a_certificate_is_kept_and_given_back_byte_for_byte(pool: PgPool) {
    let house = House::new(pool).await;
    let (cookie, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    take(&house, &cookie, &blocks("TB", 1, "20 kg", 300), true).await;
    let id = kit(&house, &cookie, "").await[0]["piece"]["id"].as_str().unwrap().to_owned();
    let path = format!("/api/kit/{id}/certificates/SL-1");
    let bytes: Vec<u8> = (0..2_000u32).map(|n| u8::try_from(n % 251).unwrap()).collect();
    let put = |cookie: String, bytes: Vec<u8>| {
        let (house, path) = (&house, path.clone());
        async move {
            house
                .send(
                    Some(&cookie),
                    Method::PUT,
                    &path,
                    Some("application/octet-stream"),
                    bytes,
                    Some(crate::house::ORIGIN),
                )
                .await
                .status
        }
    };
    assert_eq!(put(cookie.clone(), bytes.clone()).await, StatusCode::NO_CONTENT);
    assert_eq!(put(foreign.clone(), bytes.clone()).await, StatusCode::NOT_FOUND);
    assert_eq!(put(cookie.clone(), Vec::new()).await, StatusCode::PAYLOAD_TOO_LARGE);
    assert_eq!(house.call(Some(&cookie), Method::GET, &path, None).await.bytes, bytes);
    assert_eq!(house.call(Some(&foreign), Method::GET, &path, None).await.status, StatusCode::NOT_FOUND);
    assert_eq!(kit(&house, &cookie, "").await[0]["files"], json!(["SL-1"]));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_plan_of_a_job_uses_only_what_may_be_used_and_follows_the_choices(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    take(
        &house,
        &cookie,
        &format!(
            "{}{}{}",
            blocks("TB", 60, "20 kg", 300),
            blocks("OLD", 4, "20 kg", -1),
            blocks("S", 2, "10 kg", 300)
        ),
        true,
    )
    .await;
    let job = house.begin(&cookie).await;
    let plan = |body: Value| {
        let (house, cookie) = (&house, cookie.clone());
        async move { house.call(Some(&cookie), Method::POST, &format!("/api/jobs/{job}/plan"), Some(body)).await }
    };
    let reply = plan(json!({})).await.body;
    let used = |reply: &Value| -> Vec<String> {
        let steps = reply["plan"]["steps"].as_array().unwrap();
        steps
            .iter()
            .flat_map(|s| s["on"].as_array().unwrap())
            .map(|p| p["serial"].as_str().unwrap().to_owned())
            .collect()
    };
    assert!(!used(&reply).is_empty() && used(&reply).iter().all(|s| !s.starts_with("OLD")), "{reply}");
    assert_eq!(reply["plan"]["aside"].as_array().unwrap().len(), 4);
    let barred: Vec<Value> =
        kit(&house, &cookie, "tb-1").await.iter().map(|r| r["piece"]["id"].clone()).collect();
    let names: Vec<String> = kit(&house, &cookie, "tb-1")
        .await
        .iter()
        .map(|r| r["piece"]["serial"].as_str().unwrap().to_owned())
        .collect();
    let again = plan(json!({"choices": {"barred": barred}})).await.body;
    assert!(used(&again).iter().all(|s| !names.contains(s)), "{again}");
    let spanned = plan(json!({"span": "600"})).await.body;
    assert!(spanned["span"].is_object(), "{spanned}");
    // A span weight that cannot be is told beside the plan, which is there all the same.
    let heavy = plan(json!({"span": "heavy"})).await.body;
    assert_eq!(heavy["span_refused"]["field"], json!("span"));
    assert!(!used(&heavy).is_empty());
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_day_is_packed_for_own_scales_only(pool: PgPool) {
    let house = House::new(pool).await;
    let (cookie, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    take(&house, &cookie, &blocks("TB", 60, "20 kg", 20), true).await;
    let ask = |cookie: String, scales: Vec<Uuid>, in_days: u16| {
        let house = &house;
        async move {
            house
                .call(
                    Some(&cookie),
                    Method::POST,
                    "/api/route",
                    Some(json!({"scales": scales, "in_days": in_days})),
                )
                .await
        }
    };
    let list = ask(cookie.clone(), vec![house.scale], 0).await.body;
    assert!(list["pieces"].as_u64().unwrap() > 0 && !list["due"].as_array().unwrap().is_empty(), "{list}");
    let late = ask(cookie.clone(), vec![house.scale], 40).await.body;
    assert_eq!(late["pieces"], json!(0), "past due on that day: {late}");
    assert!(!late["lacks"].as_array().unwrap().is_empty());
    assert_eq!(ask(foreign, vec![house.scale], 0).await.status, StatusCode::NOT_FOUND);
    assert_eq!(ask(cookie.clone(), Vec::new(), 0).await.body["field"], json!("scales"));
    assert_eq!(ask(cookie, vec![house.scale; 41], 0).await.status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_span_weight_rule_is_a_setting_of_the_workshop(pool: PgPool) {
    let house = House::new(pool).await;
    let (own, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    let rule = |cookie: String| {
        let house = &house;
        async move {
            house.call(Some(&cookie), Method::GET, "/api/span-weight-rule", None).await.body["span_weight_rule"].clone()
        }
    };
    assert_eq!(rule(own.clone()).await, json!("tenth"));
    house.call(Some(&own), Method::PUT, "/api/span-weight-rule", Some(json!({"school": "quarter"}))).await;
    assert_eq!((rule(own.clone()).await, rule(foreign).await), (json!("quarter"), json!("tenth")));
    assert!(
        house
            .call(
                Some(&own),
                Method::PUT,
                "/api/span-weight-rule",
                Some(json!({"span_weight_rule": "handful"}))
            )
            .await
            .status
            .is_client_error()
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_object_is_weighed_only_on_a_scale_that_was_just_proved(pool: PgPool) {
    let house = House::new(pool).await;
    let (cookie, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    let job = house.whole_job(&cookie).await;
    let record = house.call(Some(&cookie), Method::GET, &format!("/api/jobs/{job}"), None).await.body["job"]
        ["number"]
        .as_str()
        .unwrap()
        .to_owned();
    let weigh = |cookie: String, record: String, shown: &'static str| {
        let house = &house;
        async move {
            let form = json!({"id": Uuid::now_v7(), "serial": "STONE", "record": record, "shown": shown, "place": "yard"});
            house.call(Some(&cookie), Method::POST, "/api/kit/objects", Some(form)).await
        }
    };
    for (record, shown, code) in [
        ("nowhere", "412.6", "unknown_record"),
        (&record, "-3", "out_of_range"),
        (&record, "900", "out_of_range"),
        (&record, "heavy", "not_a_mass"),
    ] {
        assert_eq!(weigh(cookie.clone(), record.to_owned(), shown).await.code(), code, "{record} {shown}");
    }
    assert_eq!(weigh(foreign, record.clone(), "412.6").await.code(), "unknown_record");
    let kept = weigh(cookie.clone(), record.clone(), "412.6").await.body;
    // 412.6 kg are 2063 e: 3 e in service, 0.6 kg; u is that over the square root of three.
    let u: f64 = kept["reference"]["u"]["value"].as_str().unwrap().parse().unwrap();
    assert!((u - 0.6 / 3f64.sqrt()).abs() < 1e-8, "{kept}");
    assert_eq!(kept["reference"]["record"], json!(record));
    assert_eq!(weigh(cookie.clone(), record, "412.6").await.status, StatusCode::CONFLICT);
    assert_eq!(kit(&house, &cookie, "stone").await[0]["usable"]["is"], json!("no"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_class_of_the_workshops_own_gives_its_pieces_their_tolerance(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let class = json!([{"name": "yard", "rows": [{"nominal": {"value": "25", "unit": "kg"}, "mpe": {"value": "10", "unit": "g"}}]}]);
    assert_eq!(
        house.call(Some(&cookie), Method::PUT, "/api/kit/classes", Some(class.clone())).await.status,
        StatusCode::NO_CONTENT
    );
    assert_eq!(house.call(Some(&cookie), Method::GET, "/api/kit/classes", None).await.body, class);
    let mut own = piece("Y-1");
    own["class"] = Value::Null;
    own["own"] = json!({"class": "yard", "mpe": {"value": "999", "unit": "kg"}});
    assert_eq!(keep(&house, &cookie, &own, 0).await.code(), "not_in_table", "20 kg is not in the table");
    own["nominal"]["value"] = json!("25");
    assert_eq!(keep(&house, &cookie, &own, 0).await.status, StatusCode::NO_CONTENT);
    assert_eq!(
        kit(&house, &cookie, "y-1").await[0]["piece"]["own"]["mpe"],
        json!({"value": "10", "unit": "g"}),
        "the table's, not the client's"
    );
    for wrong in [
        json!([{"name": "M1", "rows": class[0]["rows"]}]),
        json!([{"name": "x", "rows": []}]),
        json!([class[0], class[0]]),
    ] {
        assert_eq!(
            house.call(Some(&cookie), Method::PUT, "/api/kit/classes", Some(wrong)).await.status,
            StatusCode::UNPROCESSABLE_ENTITY
        );
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_kit_file_goes_round_and_a_wrong_one_is_told_piece_by_piece(pool: PgPool) {
    let house = House::new(pool).await;
    let (own, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    take(&house, &own, &format!("{}{}", blocks("TB", 3, "20 kg", 300), blocks("LB", 2, "25 lb", 20)), true)
        .await;
    let file = house.call(Some(&own), Method::GET, "/api/kit/file", None).await.body;
    let send = |cookie: String, file: Value, take: bool| {
        let house = &house;
        async move {
            house
                .call(Some(&cookie), Method::POST, "/api/kit/file", Some(json!({"file": file, "take": take})))
                .await
        }
    };
    assert_eq!(
        send(own.clone(), file.clone(), true).await.body["errors"].as_array().unwrap().len(),
        5,
        "they are all in the kit already"
    );
    let mut wrong = file.clone();
    wrong["pieces"][1]["nominal"]["value"] = json!("-20");
    wrong["pieces"][3]["serial"] = wrong["pieces"][2]["serial"].clone();
    let told = send(foreign.clone(), wrong, true).await.body;
    assert_eq!(
        told["errors"].as_array().unwrap().iter().map(|e| e["row"].as_u64().unwrap()).collect::<Vec<_>>(),
        [2, 4]
    );
    assert!(kit(&house, &foreign, "").await.is_empty(), "nothing half imported");
    let mut other = file.clone();
    other["version"] = json!(9);
    assert_eq!(send(foreign.clone(), other, true).await.code(), "other_format");
    assert_eq!(send(foreign.clone(), file.clone(), true).await.body["count"], json!(5));
    let again = house.call(Some(&foreign), Method::GET, "/api/kit/file", None).await.body;
    let bare = |file: &Value| -> Vec<Value> {
        file["pieces"]
            .as_array()
            .unwrap()
            .iter()
            .map(|p| json!([p["serial"], p["nominal"], p["class"], p["certificates"]]))
            .collect()
    };
    assert_eq!(bare(&again), bare(&file));
}
