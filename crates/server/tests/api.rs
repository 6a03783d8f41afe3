//! The API against the real PostgreSQL, through the real router: who may do what, what bad input
//! gets, and that what is stored stands.

use crate::house::{House, MEDIA_TYPE, read_draft};
use axum::http::{Method, StatusCode};
use ombret_core::job::JobFile;
use ombret_core::journal::{Sealed, genesis, seal};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn nobody_gets_in_without_signing_in(pool: PgPool) {
    let house = House::new(pool).await;
    for (method, path) in [
        (Method::GET, "/api/scales"),
        (Method::GET, "/api/jobs"),
        (Method::POST, "/api/jobs"),
        (Method::GET, "/api/session"),
    ] {
        let reply = house.call(None, method, path, Some(json!({}))).await;
        assert_eq!((reply.status, reply.code()), (StatusCode::UNAUTHORIZED, "signed_out".into()), "{path}");
        assert_eq!(reply.kind, "application/problem+json");
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_session_cookie_is_strict_and_dies_with_signing_out(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let set = house
        .call(None, Method::POST, "/api/session", Some(json!({"sign_in": "ebba", "password": "right"})))
        .await
        .cookie
        .unwrap();
    assert!(set.contains("SameSite=Strict") && set.contains("HttpOnly"), "{set}");
    assert_eq!(house.call(Some(&cookie), Method::GET, "/api/session", None).await.status, StatusCode::OK);
    assert_eq!(
        house.call(Some(&cookie), Method::DELETE, "/api/session", None).await.status,
        StatusCode::NO_CONTENT
    );
    assert_eq!(
        house.call(Some(&cookie), Method::GET, "/api/session", None).await.status,
        StatusCode::UNAUTHORIZED
    );
    // The database knows no token that would open anything.
    let stored: Vec<Vec<u8>> =
        sqlx::query_scalar("select token_hash from session").fetch_all(&house.pool).await.unwrap();
    assert!(
        stored
            .iter()
            .all(|hash| hash.len() == 32 && !cookie.as_bytes().windows(32).any(|w| w == hash.as_slice()))
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn repeated_failures_slow_down_and_never_tell_which_half_was_wrong(pool: PgPool) {
    let house = House::new(pool).await;
    let attempt = |name: &'static str| {
        house.call(None, Method::POST, "/api/session", Some(json!({"sign_in": name, "password": "wrong"})))
    };
    let (known, unknown) = (attempt("ebba").await, attempt("nobody").await);
    assert_eq!(known.body, unknown.body);
    for _ in 0..3 {
        assert_eq!(attempt("ebba").await.status, StatusCode::UNAUTHORIZED);
    }
    assert_eq!(attempt("ebba").await.status, StatusCode::TOO_MANY_REQUESTS);
    let right = house
        .call(None, Method::POST, "/api/session", Some(json!({"sign_in": "ebba", "password": "right"})))
        .await;
    assert_eq!((right.status, right.code()), (StatusCode::TOO_MANY_REQUESTS, "slow_down".into()));
    sqlx::query("update sign_in_failure set wait_until = now()").execute(&house.pool).await.unwrap();
    house.sign_in("ebba").await;
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_write_from_another_site_is_refused(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    for origin in [None, Some("http://elsewhere.example")] {
        let reply = house
            .send(Some(&cookie), Method::POST, "/api/jobs", Some("application/json"), b"{}".to_vec(), origin)
            .await;
        assert_eq!((reply.status, reply.code()), (StatusCode::FORBIDDEN, "foreign_origin".into()));
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_reviewer_reads_and_does_not_write(pool: PgPool) {
    let house = House::new(pool).await;
    let (technician, reviewer) = (house.sign_in("ebba").await, house.sign_in("maren").await);
    let job = house.begin(&technician).await;
    assert_eq!(
        house.call(Some(&reviewer), Method::GET, &format!("/api/jobs/{job}"), None).await.status,
        StatusCode::OK
    );
    let reply = house.append(&reviewer, job, 1, json!({"kind": "remarked", "text": "x"})).await;
    assert_eq!((reply.status, reply.code()), (StatusCode::FORBIDDEN, "wrong_role".into()));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn another_workshops_job_does_not_exist_here(pool: PgPool) {
    let house = House::new(pool).await;
    let (own, foreign) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    let job = house.begin(&own).await;
    for path in
        [format!("/api/jobs/{job}"), format!("/api/jobs/{job}/file"), format!("/api/scales/{}", house.scale)]
    {
        assert_eq!(
            house.call(Some(&foreign), Method::GET, &path, None).await.status,
            StatusCode::NOT_FOUND,
            "{path}"
        );
    }
    assert_eq!(
        house.append(&foreign, job, 1, json!({"kind": "remarked", "text": "x"})).await.status,
        StatusCode::NOT_FOUND
    );
    let begun = house
        .call(Some(&foreign), Method::POST, "/api/jobs", Some(json!({"id": job, "scale_id": house.scale})))
        .await;
    assert_eq!((begun.status, begun.code()), (StatusCode::CONFLICT, "taken".into()));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn malformed_requests_get_the_right_problem(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.begin(&cookie).await;
    let entries = format!("/api/jobs/{job}/entries");
    let own = Some(crate::house::ORIGIN);
    let big = format!("{{\"pad\": \"{}\"}}", "x".repeat(70_000)).into_bytes();
    for (path, kind, body, status) in [
        (entries.as_str(), Some("application/json"), b"{".to_vec(), StatusCode::BAD_REQUEST),
        (&entries, Some("application/json"), b"{}".to_vec(), StatusCode::UNPROCESSABLE_ENTITY),
        (&entries, Some("text/plain"), b"{}".to_vec(), StatusCode::UNSUPPORTED_MEDIA_TYPE),
        (&entries, None, b"{}".to_vec(), StatusCode::UNSUPPORTED_MEDIA_TYPE),
        (&entries, Some("application/json"), big, StatusCode::PAYLOAD_TOO_LARGE),
        ("/api/jobs/not-a-uuid/entries", Some("application/json"), b"{}".to_vec(), StatusCode::NOT_FOUND),
        ("/api/nowhere", Some("application/json"), b"{}".to_vec(), StatusCode::NOT_FOUND),
        ("/api/jobs/import", Some("application/json"), b"{}".to_vec(), StatusCode::UNSUPPORTED_MEDIA_TYPE),
        ("/api/jobs/import", Some(MEDIA_TYPE), b"{}".to_vec(), StatusCode::UNPROCESSABLE_ENTITY),
    ] {
        let reply = house.send(Some(&cookie), Method::POST, path, kind, body, own).await;
        assert_eq!(
            (reply.status, reply.kind.as_str()),
            (status, "application/problem+json"),
            "{path} {kind:?}"
        );
        assert_eq!(reply.body["status"], status.as_u16());
    }
    let unknown = house.append(&cookie, Uuid::new_v4(), 1, json!({"kind": "remarked", "text": "x"})).await;
    assert_eq!(unknown.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn sending_twice_is_harmless_and_a_stale_sequence_is_told_with_the_newer_entries(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.begin(&cookie).await;
    let id = Uuid::now_v7();
    let entry = json!({"id": id, "after": 1, "draft": {"kind": "remarked", "text": "first"}});
    let path = format!("/api/jobs/{job}/entries");
    let once = house.call(Some(&cookie), Method::POST, &path, Some(entry.clone())).await;
    let twice = house.call(Some(&cookie), Method::POST, &path, Some(entry.clone())).await;
    assert_eq!((once.status, twice.status), (StatusCode::OK, StatusCode::OK));
    assert_eq!(once.body["assessment"], twice.body["assessment"]);
    let stale = house.append(&cookie, job, 1, json!({"kind": "remarked", "text": "second"})).await;
    assert_eq!((stale.status, stale.code()), (StatusCode::CONFLICT, "stale".into()));
    assert_eq!(stale.body["moved_on"]["head"], 2);
    assert_eq!(stale.body["moved_on"]["newer"][0]["id"], json!(id));
    let ahead = house.append(&cookie, job, 7, json!({"kind": "remarked", "text": "second"})).await;
    assert_eq!(ahead.status, StatusCode::CONFLICT);
    // The same identity in another job is somebody's mistake, not a resend.
    let other = house.begin(&cookie).await;
    let reply =
        house.call(Some(&cookie), Method::POST, &format!("/api/jobs/{other}/entries"), Some(entry)).await;
    assert_eq!((reply.status, reply.code()), (StatusCode::CONFLICT, "taken".into()));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn of_many_who_write_at_once_one_wins_and_the_chain_has_no_gap(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.begin(&cookie).await;
    let tries = (0..8)
        .map(|n| house.append(&cookie, job, 1, json!({"kind": "remarked", "text": format!("try {n}")})));
    let statuses: Vec<StatusCode> = futures::future::join_all(tries).await.iter().map(|r| r.status).collect();
    assert_eq!(statuses.iter().filter(|s| **s == StatusCode::OK).count(), 1, "{statuses:?}");
    assert!(statuses.iter().all(|s| *s == StatusCode::OK || *s == StatusCode::CONFLICT), "{statuses:?}");
    let file = house.file(&cookie, job).await;
    ombret_core::job::open_file(&file).unwrap();
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn trying_out_stores_nothing(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.begin(&cookie).await;
    let body = json!({"id": Uuid::now_v7(), "after": 1, "try_only": true, "draft": read_draft("as_found", "435", "435,6")});
    let reply =
        house.call(Some(&cookie), Method::POST, &format!("/api/jobs/{job}/entries"), Some(body)).await;
    assert_eq!(reply.body["assessment"]["as_found"]["readings"][0]["error_text"], "+0.6 kg");
    assert_eq!(reply.body["understood"]["shown"]["value"], "435.6");
    let entries: i64 = sqlx::query_scalar("select count(*) from entry").fetch_one(&house.pool).await.unwrap();
    assert_eq!(entries, 1);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_journal_and_the_record_refuse_update_delete_and_truncate(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.whole_job(&cookie).await;
    for sql in [
        "update entry set sealed = '{}'",
        "delete from entry",
        "truncate entry",
        "update record set outcome = 'in_tolerance'",
        "delete from record",
        "truncate record",
    ] {
        let error = sqlx::raw_sql(sql).execute(&house.pool).await.unwrap_err().to_string();
        // A record is frozen, but for being superseded, which tests/records.rs looks at.
        assert!(
            error.contains("append-only: ")
                || error.contains("record is frozen: ")
                || error.contains("foreign key"),
            "{sql}: {error}"
        );
    }
    let late = house
        .append(&cookie, job, house.head(&cookie, job).await, json!({"kind": "remarked", "text": "late"}))
        .await;
    assert_eq!((late.status, late.code()), (StatusCode::UNPROCESSABLE_ENTITY, "closed".into()));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_closed_job_has_frozen_bytes_a_number_and_a_due_date_and_informs_the_next_one(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.whole_job(&cookie).await;
    let first = house.file(&cookie, job).await;
    assert_eq!(first, house.file(&cookie, job).await);
    let list = house.call(Some(&cookie), Method::GET, "/api/scales?search=wool", None).await.body;
    let row = &list["scales"][0];
    assert_eq!(row["last_outcome"], "in_tolerance");
    assert!(row["next_due"].as_str().is_some_and(|d| d.len() == 10), "{row}");
    let next = house.begin(&cookie).await;
    let reply = house.call(Some(&cookie), Method::GET, &format!("/api/jobs/{next}"), None).await.body;
    assert_eq!(
        reply["assessment"]["before"]["number"],
        house.call(Some(&cookie), Method::GET, &format!("/api/jobs/{job}"), None).await.body["job"]["number"]
    );
    assert_eq!(reply["assessment"]["setup"]["origin"], "last_record");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_job_file_is_taken_in_whole_elsewhere_and_an_altered_one_not_at_all(pool: PgPool) {
    let house = House::new(pool).await;
    let (own, elsewhere) = (house.sign_in("ebba").await, house.sign_in("foreign").await);
    let job = house.whole_job(&own).await;
    let file = house.file(&own, job).await;
    let import = |cookie: String, bytes: Vec<u8>| {
        let house = &house;
        async move {
            house
                .send(
                    Some(&cookie),
                    Method::POST,
                    "/api/jobs/import",
                    Some(MEDIA_TYPE),
                    bytes,
                    Some(crate::house::ORIGIN),
                )
                .await
        }
    };
    let again = import(own.clone(), file.clone()).await;
    assert_eq!((again.status, again.code()), (StatusCode::CONFLICT, "taken".into()));
    // Another program with another database: here another workshop, once the job is not there.
    let text = String::from_utf8(file).unwrap();
    let altered = text.replacen("600.2", "600.0", 1);
    assert_ne!(text, altered);
    let refused = import(elsewhere.clone(), altered.into_bytes()).await;
    assert_eq!((refused.status, refused.code()), (StatusCode::UNPROCESSABLE_ENTITY, "bad_file".into()));
    assert!(refused.body["detail"].as_str().is_some_and(|d| d.contains("was changed")), "{}", refused.body);
    let scales: i64 = sqlx::query_scalar("select count(*) from scale").fetch_one(&house.pool).await.unwrap();
    assert_eq!(scales, 1, "nothing half imported");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_file_from_another_database_comes_in_with_its_scale_and_its_bytes(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let cookie = house.sign_in("ebba").await;
    let file = std::fs::read(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/foreign.ombret-job.json")).unwrap();
    let reply = house
        .send(
            Some(&cookie),
            Method::POST,
            "/api/jobs/import",
            Some(MEDIA_TYPE),
            file.clone(),
            Some(crate::house::ORIGIN),
        )
        .await;
    assert_eq!(
        (reply.status, &reply.body["new_scale"]),
        (StatusCode::CREATED, &json!(true)),
        "{}",
        reply.body
    );
    let job: Uuid = serde_json::from_value(reply.body["job"].clone()).unwrap();
    let kept: Value = serde_json::from_slice(&house.file(&cookie, job).await).unwrap();
    assert_eq!(kept, serde_json::from_slice::<Value>(&file).unwrap());
    let shown = house.call(Some(&cookie), Method::GET, &format!("/api/jobs/{job}"), None).await.body;
    assert_eq!(
        (&shown["job"]["imported"], &shown["assessment"]["outcome"]),
        (&json!(true), &json!("in_tolerance"))
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_file_whose_entries_stand_in_another_job_is_refused_by_name(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.whole_job(&cookie).await;
    let file: JobFile = serde_json::from_slice(&house.file(&cookie, job).await).unwrap();
    // The same entries, sealed again as another job: every hash holds.
    let other = Uuid::from_u128(77);
    let mut prev = genesis(other);
    let entries: Vec<Sealed> = file
        .entries
        .into_iter()
        .map(|sealed| {
            let sealed = seal(sealed.entry, &prev).unwrap();
            prev.clone_from(&sealed.hash);
            sealed
        })
        .collect();
    let bytes = serde_json::to_vec(&JobFile::new(other, "ombret test", entries)).unwrap();
    let reply = house
        .send(
            Some(&cookie),
            Method::POST,
            "/api/jobs/import",
            Some(MEDIA_TYPE),
            bytes,
            Some(crate::house::ORIGIN),
        )
        .await;
    assert_eq!((reply.status, reply.code()), (StatusCode::CONFLICT, "taken".into()), "{}", reply.body);
    assert!(reply.body["detail"].as_str().is_some_and(|d| d.contains("another job")), "{}", reply.body);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn no_path_of_the_front_end_walks_out_of_it(pool: PgPool) {
    let house = House::new(pool).await;
    let up = "../".repeat(16);
    for path in [
        format!("/{up}proc/self/exe"),
        format!("/assets/{up}proc/self/exe"),
        format!("/assets/{up}proc/self/fd/0"),
        format!("/{up}etc/localtime"),
        "/%2e%2e/%2e%2e/Cargo.toml".into(),
        "/../package.json".into(),
    ] {
        let reply = house.send(None, Method::GET, &path, None, Vec::new(), None).await;
        assert_eq!(reply.status, StatusCode::NOT_FOUND, "{path}: {} bytes", reply.bytes.len());
    }
    let page = house.send(None, Method::GET, "/due", None, Vec::new(), None).await;
    assert_eq!((page.status, page.kind.split(';').next()), (StatusCode::OK, Some("text/html")));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_half_finished_append_leaves_nothing(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.begin(&cookie).await;
    // The last statement of the transaction fails: the entry before it must not stay.
    sqlx::raw_sql("create function fail() returns trigger language plpgsql as $$ begin raise exception 'disk full'; end $$;
        create trigger fail before update on job for each row execute function fail()").execute(&house.pool).await.unwrap();
    let reply = house.append(&cookie, job, 1, json!({"kind": "remarked", "text": "x"})).await;
    assert_eq!((reply.status, reply.code()), (StatusCode::INTERNAL_SERVER_ERROR, "internal".into()));
    assert!(!reply.body.to_string().contains("disk full"), "detail stays in the log");
    sqlx::raw_sql("drop trigger fail on job").execute(&house.pool).await.unwrap();
    assert_eq!(house.head(&cookie, job).await, 1);
    assert_eq!(
        house.append(&cookie, job, 1, json!({"kind": "remarked", "text": "x"})).await.status,
        StatusCode::OK
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_database_that_is_away_is_told_as_such(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    house.pool.close().await;
    let reply = house.call(Some(&cookie), Method::GET, "/api/jobs", None).await;
    assert_eq!((reply.status, reply.code()), (StatusCode::SERVICE_UNAVAILABLE, "database_gone".into()));
    let ready = house.call(None, Method::GET, "/api/ready", None).await;
    assert_eq!((ready.status, &ready.body["database"]), (StatusCode::SERVICE_UNAVAILABLE, &json!(false)));
    assert_eq!(house.call(None, Method::GET, "/api/health", None).await.status, StatusCode::OK, "it lives");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_program_is_ready_when_its_database_is_of_its_version(pool: PgPool) {
    let house = House::around(pool.clone());
    assert_eq!(house.call(None, Method::GET, "/api/ready", None).await.status, StatusCode::OK);
    let newest = "delete from _sqlx_migrations where version = (select max(version) from _sqlx_migrations)";
    sqlx::query(newest).execute(&pool).await.unwrap();
    let told = house.call(None, Method::GET, "/api/ready", None).await;
    assert_eq!(
        (told.status, told.body),
        (StatusCode::SERVICE_UNAVAILABLE, json!({"database": true, "migrated": false}))
    );
    sqlx::query("drop table _sqlx_migrations").execute(&pool).await.unwrap();
    assert_eq!(
        house.call(None, Method::GET, "/api/ready", None).await.status,
        StatusCode::SERVICE_UNAVAILABLE
    );
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_scale_is_refused_at_its_field_and_two_editors_do_not_overwrite_each_other(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let form = crate::house::scale_form(Uuid::now_v7());
    for (field, value, at) in [
        ("name", json!(" "), "name"),
        ("wiring", json!("red\n".repeat(40)), "wiring"),
        ("working_load", json!("9000"), "working_load"),
        ("plate_max", json!("-870"), "plate_max"),
        ("plate_max", json!("lots"), "plate_max"),
        ("plate_d", json!("0"), "plate_d"),
        ("interval_months", json!(0), "interval_months"),
        ("field_width", json!(40), "field_width"),
        ("device", json!({"address": "nowhere"}), "address"),
        ("device", json!({"address": "h:1", "pattern": {"pattern": "(", "steady": ""}}), "pattern"),
        ("tolerance", json!({"scheme": "r76_initial", "class": "III L"}), "tolerance"),
        ("tolerance", json!({"scheme": "house", "house": {"pick": "largest"}}), "tolerance"),
    ] {
        let mut wrong = form.clone();
        wrong[field] = value;
        let reply = house.call(Some(&cookie), Method::POST, "/api/scales", Some(wrong.clone())).await;
        assert_eq!(
            (reply.status, &reply.body["field"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!(at)),
            "{wrong}"
        );
    }
    assert_eq!(
        house.call(Some(&cookie), Method::POST, "/api/scales", Some(form.clone())).await.status,
        StatusCode::CREATED
    );
    let path = format!("/api/scales/{}", form["id"].as_str().unwrap());
    let mut edit = form;
    edit["version"] = json!(1);
    assert_eq!(
        house.call(Some(&cookie), Method::PUT, &path, Some(edit.clone())).await.status,
        StatusCode::OK
    );
    let second = house.call(Some(&cookie), Method::PUT, &path, Some(edit)).await;
    assert_eq!((second.status, second.code()), (StatusCode::CONFLICT, "taken".into()));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn the_list_is_paged_without_gap_or_repeat_and_found_by_any_word(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    for n in 0..130 {
        let mut form = crate::house::scale_form(Uuid::now_v7());
        form["serial"] = json!(format!("PG-{n:03}"));
        house.call(Some(&cookie), Method::POST, "/api/scales", Some(form)).await;
    }
    let (mut seen, mut after) = (Vec::new(), String::new());
    loop {
        let page = house
            .call(Some(&cookie), Method::GET, &format!("/api/scales?search=pg-{after}"), None)
            .await
            .body;
        seen.extend(
            page["scales"]
                .as_array()
                .unwrap()
                .iter()
                .map(|s| s["sheet"]["serial"].as_str().unwrap().to_owned()),
        );
        match page["next"].as_str() {
            Some(next) => after = format!("&after={next}"),
            None => break,
        }
    }
    seen.sort();
    assert_eq!(seen, (0..130).map(|n| format!("PG-{n:03}")).collect::<Vec<_>>());
    for (search, found) in [("tussock", 131), ("PG-007", 1), ("100%25", 0), ("_", 0)] {
        let page =
            house.call(Some(&cookie), Method::GET, &format!("/api/scales?search={search}"), None).await.body;
        assert_eq!(page["scales"].as_array().unwrap().len().min(61), found.min(60), "{search}");
    }
    assert_eq!(
        house.call(Some(&cookie), Method::GET, "/api/scales?after=nonsense", None).await.status,
        StatusCode::BAD_REQUEST
    );
}
