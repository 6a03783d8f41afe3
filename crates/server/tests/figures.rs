//! What records tell together, how they are found again, and lists of any length.

use std::collections::BTreeSet;

use crate::house::{House, read_draft};
use axum::http::{Method, StatusCode};
use ombret::cli::{Size, grow, verify_database};
use ombret::signing::Keys;
use ombret::store::figures::fill_missing;
use serde_json::{Value, json};
use sqlx::PgPool;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

async fn get(house: &House, cookie: &str, path: &str) -> Value {
    let reply = house.call(Some(cookie), Method::GET, path, None).await;
    assert_eq!(reply.status, StatusCode::OK, "{path}: {}", reply.body);
    reply.body
}

/// A short job on a scale that shows so much under 600 kg, sealed.
async fn short_job(house: &House, cookie: &str, shown: &str, seals: &str, with: &[Uuid]) -> Uuid {
    let job = house.begin(cookie).await;
    let mut first = read_draft("as_found", "500", if shown == "600" { "500" } else { "501" });
    first["with"] = json!(with);
    let drafts = [
        json!({"kind": "looked_over", "item": "supply", "finding": "fault", "note": "battery low"}),
        read_draft("as_found", "0", "0"),
        first,
        read_draft("as_found", "600", shown),
        json!({"kind": "stopped_short", "reason": "the owner needs it"}),
        json!({"kind": "sealed_up", "seals": seals, "switch_back": true, "locked": true}),
        json!({"kind": "closed", "name": "Ebba Lund"}),
    ];
    for (after, draft) in (1u32..).zip(drafts) {
        let reply = house.append(cookie, job, after, draft.clone()).await;
        assert_eq!(reply.status, StatusCode::OK, "{draft}: {}", reply.body);
    }
    job
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn records_are_counted_as_they_were_found_and_each_workshop_has_its_own(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let none = get(&house, &cookie, "/api/statistics").await;
    assert_eq!(
        (&none["records"], &none["all"]["share"], &none["months"]),
        (&json!(0), &Value::Null, &json!([]))
    );
    let mut form = crate::house::scale_form(house.scale);
    (form["made"], form["version"]) = (json!((OffsetDateTime::now_utc().year() - 8).to_string()), json!(1));
    assert_eq!(
        house
            .call(Some(&cookie), Method::PUT, &format!("/api/scales/{}", house.scale), Some(form))
            .await
            .status,
        StatusCode::OK
    );
    house.whole_job(&cookie).await;
    short_job(&house, &cookie, "600", "", &[]).await;
    short_job(&house, &cookie, "601.2", "", &[]).await;
    let told = get(&house, &cookie, "/api/statistics").await;
    assert_eq!(
        (&told["records"], &told["all"]["read"], &told["all"]["outside"]),
        (&json!(3), &json!(3), &json!(1))
    );
    assert!((told["all"]["share"].as_f64().unwrap() - 1.0 / 3.0).abs() < 1e-12);
    assert_eq!(
        (&told["kinds"][0]["label"], &told["kinds"][0]["outside"]),
        (&json!("Floor platform"), &json!(1))
    );
    assert_eq!((&told["ages"][0]["label"], &told["ages"][0]["read"]), (&json!("6 to 10 years"), &json!(3)));
    assert_eq!(told["months"].as_array().unwrap().len(), 1);
    // Nothing of nothing, 1.0 of 500 and 1.2 of 600: a span that has drifted.
    assert_eq!(
        (&told["causes"][0]["label"], &told["causes"][0]["count"]),
        (&json!("The span has drifted"), &json!(1)),
        "{}",
        told["causes"]
    );
    assert_eq!(
        (&told["faults"][0]["label"], &told["faults"][0]["count"], &told["faults"][0]["share_text"]),
        (&json!("Supply and battery"), &json!(2), &json!("100\u{a0}%"))
    );
    // Before the first of them there is nothing, and a day that is none is refused at its place.
    let yesterday = OffsetDateTime::now_utc().date() - Duration::days(1);
    assert_eq!(get(&house, &cookie, &format!("/api/statistics?to={yesterday}")).await["records"], json!(0));
    for (query, field) in
        [("from=2026-02-30", "from"), ("to=soon", "to"), ("from=2026-01-02&to=2026-01-01", "from")]
    {
        let reply = house.call(Some(&cookie), Method::GET, &format!("/api/statistics?{query}"), None).await;
        assert_eq!(
            (reply.status, &reply.body["field"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!(field)),
            "{query}"
        );
    }
    let foreign = house.sign_in("foreign").await;
    assert_eq!(get(&house, &foreign, "/api/statistics").await["records"], json!(0));
    // A year of make that cannot be is refused at its field.
    let mut form = crate::house::scale_form(house.scale);
    (form["made"], form["version"]) = (json!("19"), json!(2));
    let reply =
        house.call(Some(&cookie), Method::PUT, &format!("/api/scales/{}", house.scale), Some(form)).await;
    assert_eq!((reply.status, &reply.body["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("made")));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_record_is_found_by_number_serial_and_seal_and_a_piece_by_its_certificates(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let cookie = house.sign_in("ebba").await;
    let today = OffsetDateTime::now_utc().date();
    let piece = Uuid::now_v7();
    let dated = |number: &str, days: i64| json!({"number": number, "date": (today - Duration::days(days)).to_string(), "due": (today + Duration::days(400 - days)).to_string(), "laboratory": "Skarholm Mass Laboratory"});
    let body = json!({"piece": {"id": piece, "serial": "TB-77", "nominal": {"value": "500", "unit": "kg"}, "class": "M1", "form": "block", "certificates": [dated("SML-1/24", 300), dated("SML-9/25", 10)]}, "version": 0});
    let kept = house.call(Some(&cookie), Method::PUT, "/api/kit", Some(body)).await;
    assert!(kept.status.is_success(), "{}", kept.body);
    let job = short_job(&house, &cookie, "600.2", "TW 1412, tw-1413; 50%_", &[piece]).await;
    let number =
        get(&house, &cookie, &format!("/api/jobs/{job}")).await["job"]["number"].as_str().unwrap().to_owned();
    let found = async |q: &str| {
        get(&house, &cookie, &format!("/api/lookup?q={}", q.replace('%', "%25").replace(' ', "%20"))).await
    };
    for (q, kind, mark) in [
        ("tw1413", "seal", "tw-1413"),
        ("TW 1412", "seal", "TW 1412"),
        ("1412", "seal", "TW 1412"),
        ("50", "seal", "50%_"),
        ("wt-07", "serial", "WT-07"),
        ("WT07", "serial", "WT-07"),
        (number.as_str(), "number", number.as_str()),
    ] {
        let told = found(q).await;
        let first = &told["records"][0];
        assert_eq!(
            (first["job"].as_str(), first["kind"].as_str(), first["mark"].as_str()),
            (Some(job.to_string().as_str()), Some(kind), Some(mark)),
            "{q}: {told}"
        );
    }
    assert_eq!(
        found("wt07").await["scales"][0]["sheet"]["name"],
        json!("Wool table"),
        "a serial without its dash"
    );
    // The certificate it has, the one it had, its mark: all lead to the piece and to what rests on it.
    for (q, certificate) in
        [("SML-9/25", json!("SML-9/25")), ("sml-1/24", json!("SML-1/24")), ("tb77", Value::Null)]
    {
        let told = found(q).await;
        assert_eq!(
            (&told["pieces"][0]["serial"], &told["pieces"][0]["certificate"], &told["pieces"][0]["records"]),
            (&json!("TB-77"), &certificate, &json!(1)),
            "{q}"
        );
    }
    // A record of another workshop that names the piece, as one that came in by file may, is not this workshop's.
    let elsewhere = house.sign_in("foreign").await;
    let theirs = Uuid::now_v7();
    assert_eq!(
        house
            .call(Some(&elsewhere), Method::POST, "/api/scales", Some(crate::house::scale_form(theirs)))
            .await
            .status,
        StatusCode::CREATED
    );
    let begun = Uuid::now_v7();
    assert_eq!(
        house
            .call(Some(&elsewhere), Method::POST, "/api/jobs", Some(json!({"id": begun, "scale_id": theirs})))
            .await
            .status,
        StatusCode::CREATED
    );
    sqlx::query("insert into record_piece (job_id, workshop_id, piece_id, serial, closed_at) select id, workshop_id, $2, 'TB-77', now() from job where id = $1").bind(begun).bind(piece).execute(&pool).await.unwrap();
    assert_eq!(get(&house, &cookie, &format!("/api/kit/{piece}/records")).await["total"], json!(1));
    assert_eq!(found("tb77").await["pieces"][0]["records"], json!(1));
    // In the history of the scale nothing speaks against the piece, until it is found wrong.
    let history = format!("/api/scales/{}/history", house.scale);
    let record = async || get(&house, &cookie, &history).await["records"][0].clone();
    assert_eq!(
        (&record().await["weights"], &record().await["doubts"], &record().await["adjusted"]),
        (&json!(1), &json!([]), &json!(false))
    );
    let found_wrong = json!([dated("SML-1/24", 300), dated("SML-9/25", 10), {"number": "SML-2/26", "date": (today + Duration::days(40)).to_string(), "due": (today + Duration::days(700)).to_string(), "laboratory": "Skarholm Mass Laboratory", "error": {"value": "90", "unit": "g"}, "U": {"value": "4", "unit": "g"}, "k": "2"}]);
    sqlx::query("update piece set piece = jsonb_set(piece, '{certificates}', $2) where id = $1")
        .bind(piece)
        .bind(found_wrong)
        .execute(&pool)
        .await
        .unwrap();
    let told = record().await["doubts"][0].as_str().unwrap().to_owned();
    assert!(
        told.starts_with("TB-77: certificate SML-2/26 of ") && told.ends_with("is outside class M1"),
        "{told}"
    );
    // Signs of a pattern are signs; one letter asks for nothing; another workshop finds nothing.
    for q in ["%%", "__", "t", "", "no such"] {
        let told = found(q).await;
        assert!(["scales", "records", "pieces"].iter().all(|k| told[k] == json!([])), "{q}: {told}");
    }
    let foreign = house.sign_in("foreign").await;
    assert_eq!(get(&house, &foreign, "/api/lookup?q=tw1413").await["records"], json!([]));
    // The longest texts there can be, in the widest signs, fit into the index too, and differ enough not to be pressed small.
    let mut form = crate::house::scale_form(Uuid::now_v7());
    for (at, field) in (0u32..).zip(["name", "owner", "place", "serial", "indicator"]) {
        form[field] = json!(
            (0..120)
                .map(|i| char::from_u32(0x20000 + 7919 * (at * 120 + i) % 40_000).unwrap())
                .collect::<String>()
        );
    }
    let added = house.call(Some(&cookie), Method::POST, "/api/scales", Some(form)).await;
    assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn two_records_stand_side_by_side_and_what_differs_is_told(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let (a, b) = (
        short_job(&house, &cookie, "600", "TW 1", &[]).await,
        short_job(&house, &cookie, "601.2", "TW 1", &[]).await,
    );
    let told = get(&house, &cookie, &format!("/api/compare?one={a}&other={b}&other_version=1")).await;
    let fact = |told: &Value, what: &str| {
        told["facts"]
            .as_array()
            .unwrap()
            .iter()
            .find(|f| f["what"] == what)
            .cloned()
            .unwrap_or_else(|| panic!("{what}: {told}"))
    };
    let reading = fact(&told, "As found: 600 kg");
    assert_eq!(
        (&reading["one"], &reading["other"], &reading["differs"]),
        (&json!("600.0 kg, error 0.0 kg, within"), &json!("601.2 kg, error +1.2 kg, outside"), &json!(true))
    );
    assert_eq!(fact(&told, "Seals")["differs"], json!(false));
    let same = get(&house, &cookie, &format!("/api/compare?one={b}&other={b}")).await;
    assert!(
        same["facts"].as_array().unwrap().len() > 8
            && same["facts"].as_array().unwrap().iter().all(|f| f["differs"] == json!(false))
    );
    // Seen from the other side it is the same with its sides changed.
    let turned = get(&house, &cookie, &format!("/api/compare?one={b}&other={a}")).await;
    let differing = |t: &Value| {
        t["facts"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|f| f["differs"] == json!(true))
            .map(|f| f["what"].to_string())
            .collect::<BTreeSet<_>>()
    };
    assert_eq!(differing(&told), differing(&turned));
    let foreign = house.sign_in("foreign").await;
    for (who, path) in [
        (&foreign, format!("/api/compare?one={a}&other={b}")),
        (&cookie, format!("/api/compare?one={a}&one_version=7&other={b}")),
    ] {
        assert_eq!(house.call(Some(who), Method::GET, &path, None).await.status, StatusCode::NOT_FOUND);
    }
}

/// Every page of a list, one behind the other.
async fn walked(house: &House, cookie: &str, path: &str, rows: &str) -> (Value, Vec<Value>) {
    let first = get(house, cookie, path).await;
    let (mut all, mut next) = (first[rows].as_array().unwrap().clone(), first["next"].clone());
    while let Some(after) = next.as_str() {
        let after: String = after.bytes().map(|b| format!("%{b:02X}")).collect();
        let page =
            get(house, cookie, &format!("{path}{}after={after}", if path.contains('?') { "&" } else { "?" }))
                .await;
        assert!(!page[rows].as_array().unwrap().is_empty(), "a page that was promised");
        all.extend(page[rows].as_array().unwrap().clone());
        next = page["next"].clone();
    }
    (first, all)
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_large_workshop_is_true_and_its_lists_lose_nothing(pool: PgPool) {
    let size = Size { scales: 330, records: 700, entries: 7_000, seed: 5 };
    let said = grow(&pool, size, "right").await.unwrap();
    assert!(said.starts_with("330 scales, 700 records, "), "{said}");
    assert!(grow(&pool, size, "right").await.is_err(), "only into an empty database");
    let looked = verify_database(&pool, &Keys::default()).await.unwrap();
    assert!(looked.jobs >= 700 && looked.broken.is_empty(), "{:?}", looked.broken);
    let house = House::around(pool.clone());
    let cookie = house.sign_in("grown").await;

    let count = async |sql: &'static str| sqlx::query_scalar::<_, i64>(sql).fetch_one(&pool).await.unwrap();
    let due = count("select count(*) from scale where next_due <= current_date + 366").await;
    for (by, key) in [("week", "due"), ("owner", "owner"), ("place", "place")] {
        let (first, rows) = walked(&house, &cookie, &format!("/api/due?days=366&by={by}"), "rows").await;
        let scales: BTreeSet<&str> = rows.iter().map(|r| r["scale"].as_str().unwrap()).collect();
        assert_eq!(
            (i64::try_from(rows.len()).unwrap(), i64::try_from(scales.len()).unwrap()),
            (due, due),
            "{by}: each once"
        );
        let keys: Vec<String> = rows.iter().map(|r| r[key].as_str().unwrap().to_lowercase()).collect();
        assert!(keys.is_sorted(), "{by}");
        let weeks: i64 =
            first["counts"]["weeks"].as_array().unwrap().iter().map(|w| w["count"].as_i64().unwrap()).sum();
        assert_eq!(
            (first["counts"]["total"].as_i64(), weeks + first["counts"]["overdue"].as_i64().unwrap()),
            (Some(due), due)
        );
    }
    let (_, mills) = walked(&house, &cookie, "/api/due?days=3700&search=MILL", "rows").await;
    assert!(
        !mills.is_empty()
            && mills.iter().all(|r| r["owner"].as_str().unwrap().to_lowercase().contains("mill"))
    );
    assert_eq!(
        house.call(Some(&cookie), Method::GET, "/api/due?after=nonsense", None).await.status,
        StatusCode::BAD_REQUEST
    );

    // The piece on which most records rest: its list is whole, page by page and as a table.
    let piece: Uuid = sqlx::query_scalar(
        "select piece_id from record_piece group by piece_id order by count(*) desc, piece_id limit 1",
    )
    .fetch_one(&pool)
    .await
    .unwrap();
    sqlx::query("insert into record_piece (job_id, workshop_id, piece_id, serial, closed_at) select job_id, workshop_id, $1, 'x', closed_at from record where not superseded on conflict do nothing").bind(piece).execute(&pool).await.unwrap();
    let (first, rows) = walked(&house, &cookie, &format!("/api/kit/{piece}/records"), "records").await;
    let jobs: BTreeSet<&str> = rows.iter().map(|r| r["job"].as_str().unwrap()).collect();
    assert_eq!((first["total"].as_i64(), rows.len(), jobs.len()), (Some(700), 700, 700));
    assert!(rows.is_sorted_by_key(|r| std::cmp::Reverse(r["closed_at"].as_str().unwrap().to_owned())));
    let table = house
        .send(Some(&cookie), Method::GET, &format!("/api/kit/{piece}/recall"), None, Vec::new(), None)
        .await;
    let numbers: BTreeSet<String> = csv::Reader::from_reader(table.bytes.as_slice())
        .records()
        .map(|r| r.unwrap()[0].to_owned())
        .collect();
    assert_eq!(
        (table.kind.as_str(), numbers),
        (
            "text/csv; charset=utf-8; header=present",
            rows.iter().map(|r| r["number"].as_str().unwrap().to_owned()).collect()
        )
    );

    // What is counted is what the frozen bytes come to: worked out again from them it is the same.
    assert_eq!(get(&house, &cookie, "/api/statistics?from=2000-01-01").await["records"], json!(700));
    let gists = async || {
        sqlx::query_scalar::<_, Value>("select to_jsonb(g) from record_gist g order by job_id")
            .fetch_all(&pool)
            .await
            .unwrap()
    };
    let marks = async || {
        sqlx::query_scalar::<_, Value>("select to_jsonb(m) from record_mark m order by job_id, kind, plain")
            .fetch_all(&pool)
            .await
            .unwrap()
    };
    let before = (gists().await, marks().await);
    sqlx::query("truncate record_gist, record_mark").execute(&pool).await.unwrap();
    let (mut after, mut done) = (Uuid::nil(), 0);
    loop {
        let some = fill_missing(&pool, &mut after, 100).await.unwrap();
        if some == 0 {
            break;
        }
        done += some;
    }
    assert_eq!((done, gists().await, marks().await), (700, before.0, before.1));
}
