//! Doors: who decides what a record needs, what comes from elsewhere, and what a key shows that an unkeyed
//! chain does not.

use crate::house::{House, MEDIA_TYPE, ORIGIN, Reply};
use axum::http::{Method, StatusCode};
use futures::FutureExt;
use ombret::cli::{root, verify_database, verify_file, verify_root};
use ombret::settings::Settings;
use ombret::signing::Keys;
use ombret_core::job::JobFile;
use ombret_core::journal::entries;
use ombret_core::journal::{Body, genesis, seal};
use serde_json::{Value, json};
use sqlx::{Connection, PgConnection, PgPool};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

async fn get(house: &House, cookie: &str, path: &str) -> Reply {
    house.call(Some(cookie), Method::GET, path, None).await
}

async fn import(house: &House, cookie: &str, bytes: Vec<u8>) -> Reply {
    house.send(Some(cookie), Method::POST, "/api/jobs/import", Some(MEDIA_TYPE), bytes, Some(ORIGIN)).await
}

async fn paper(house: &House, cookie: &str, review: bool) -> Reply {
    let rules = json!({"letterhead": {"name": "Skarholm Scales", "lines": [], "closing": "", "language": "en", "country": "XS"}, "review": review});
    house.call(Some(cookie), Method::PUT, "/api/letterhead", Some(rules)).await
}

/// Entries sealed anew as the journal of `job`: every hash holds.
fn sealed_as(job: Uuid, file: &JobFile, change: impl Fn(&mut ombret_core::journal::Entry)) -> JobFile {
    let mut prev = genesis(job);
    let entries = file.entries.iter().map(|s| {
        let mut entry = s.entry.clone();
        change(&mut entry);
        let next = seal(entry, &prev).unwrap();
        prev.clone_from(&next.hash);
        next
    });
    JobFile::new(job, "ombret 0.1.0", entries.collect())
}

/// The same job as another one on a scale that is not known here.
fn from_elsewhere(file: &JobFile) -> JobFile {
    let (job, scale) = (Uuid::now_v7(), Uuid::now_v7());
    sealed_as(job, file, |entry| {
        entry.id = Uuid::now_v7();
        if let Body::Started(entries::Started { sheet, .. }) = &mut entry.body {
            sheet.id = scale;
        }
    })
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_a_record_needs_is_frozen_with_its_signature_and_only_a_manager_changes_the_rule(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    assert_eq!(paper(&house, &signe, true).await.status, StatusCode::NO_CONTENT);
    let refused = paper(&house, &ebba, false).await;
    assert_eq!((refused.code(), &refused.body["field"]), ("managers_rule".into(), &json!("review")));
    assert_eq!(
        paper(&house, &ebba, true).await.status,
        StatusCode::NO_CONTENT,
        "the letterhead is anybody's"
    );
    let job = house.whole_job(&ebba).await;
    assert_eq!(paper(&house, &signe, false).await.status, StatusCode::NO_CONTENT);
    let kind = get(&house, &ebba, &format!("/api/jobs/{job}/paper")).await.body;
    assert!(kind["lacks"].to_string().contains("it is not approved"), "{kind}");
    assert_eq!(get(&house, &ebba, "/api/review").await.body[0]["job"], json!(job), "it waits anyway");
    let later = house.whole_job(&ebba).await;
    let kind = get(&house, &ebba, &format!("/api/jobs/{later}/paper")).await.body;
    assert!(!kind["lacks"].to_string().contains("it is not approved"), "{kind}");

    assert_eq!(get(&house, &ebba, "/api/audit").await.status, StatusCode::FORBIDDEN);
    let trail = get(&house, &signe, "/api/audit").await.body["lines"].clone();
    let rules: Vec<&Value> =
        trail.as_array().unwrap().iter().filter(|l| l["act"] == "approval_rule").collect();
    assert_eq!(rules.len(), 2, "{trail}");
    assert_eq!(
        (&rules[0]["name"], &rules[0]["detail"]),
        (&json!("signe"), &json!({"before": true, "after": false}))
    );
    assert!(sqlx::query("update audit set sealed = sealed").execute(&pool).await.is_err());
    sqlx::query("alter table audit disable trigger all").execute(&pool).await.unwrap();
    sqlx::query("update audit set sealed = replace(sealed, 'signe', 'ebba') where seq = 1")
        .execute(&pool)
        .await
        .unwrap();
    let looked = verify_database(&pool, &house.keys).await.unwrap();
    assert!(looked.broken.iter().any(|b| b.why.contains("line 1 of its audit trail")), "{:?}", looked.broken);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn who_signed_does_not_approve_whatever_other_role_comes_to_the_name(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, maren) = (house.sign_in("ebba").await, house.sign_in("maren").await);
    let job = house.whole_job(&ebba).await;
    let after = house.head(&ebba, job).await;
    sqlx::query("update person set roles = array['technician', 'reviewer'] where sign_in = 'ebba'")
        .execute(&pool)
        .await
        .unwrap();
    let approve = json!({"kind": "approved", "remarks": ""});
    let refused = house.append(&ebba, job, after, approve.clone()).await;
    assert_eq!(refused.code(), "own_record", "{}", refused.body);
    assert_eq!(house.append(&maren, job, after, approve).await.status, StatusCode::OK);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_came_as_a_file_stays_foreign_whatever_it_says(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, maren) = (house.sign_in("ebba").await, house.sign_in("maren").await);
    let job = house.whole_job(&ebba).await;
    let after = house.head(&ebba, job).await;
    house.append(&maren, job, after, json!({"kind": "approved", "remarks": ""})).await;
    let own: JobFile = serde_json::from_slice(&house.file(&ebba, job).await).unwrap();
    // Somebody writes a record "approved by" a reviewer of this house; every hash holds.
    let forged = from_elsewhere(&own);
    let reply = import(&house, &ebba, serde_json::to_vec(&forged).unwrap()).await;
    assert_eq!(reply.status, StatusCode::CREATED, "{}", reply.body);
    let at = format!("/api/jobs/{}", forged.job);
    let shown = get(&house, &ebba, &at).await.body;
    assert_eq!(shown["job"]["imported"], json!(true));
    let number = shown["job"]["number"].as_str().unwrap();
    assert!(number.starts_with("imported-"), "{number}");
    let kind = get(&house, &ebba, &format!("{at}/paper")).await.body;
    assert_eq!((&kind["certificate"], &kind["label"]), (&json!(false), &json!(false)));
    assert!(kind["lacks"].to_string().contains("came as a file from elsewhere"), "{kind}");
    assert_eq!(get(&house, &ebba, &format!("{at}/dcc")).await.code(), "no_certificate");
    assert_eq!(get(&house, &ebba, &format!("{at}/label?form=pdf")).await.code(), "no_label");
    let scale =
        get(&house, &ebba, &format!("/api/scales/{}", reply.body["scale"].as_str().unwrap())).await.body;
    assert_eq!(scale["sheet"]["name"], json!("Wool table"));
    let proven: i64 = sqlx::query_scalar("select count(*) from scale where last_closed_at is not null")
        .fetch_one(&pool)
        .await
        .unwrap();
    let counted: i64 = sqlx::query_scalar("select count(*) from record_gist").fetch_one(&pool).await.unwrap();
    assert_eq!((proven, counted), (1, 1), "what others say moves no due date and no figure");
    let next = house.whole_job(&ebba).await;
    let number = get(&house, &ebba, &format!("/api/jobs/{next}")).await.body["job"]["number"].clone();
    assert!(number.as_str().unwrap().ends_with("-0002"), "no number was spent on it: {number}");
    let after = house.head(&ebba, forged.job).await;
    let amended =
        house.append(&ebba, forged.job, after, json!({"kind": "amended", "reason": "mine now"})).await;
    assert_eq!(amended.status, StatusCode::OK, "{}", amended.body);
    house.append(&ebba, forged.job, after + 1, json!({"kind": "closed", "name": "x"})).await;
    let kind = get(&house, &ebba, &format!("{at}/paper")).await.body;
    assert!(kind["lacks"].to_string().contains("came as a file from elsewhere"), "{kind}");
    let refused =
        house.append(&maren, forged.job, after + 2, json!({"kind": "approved", "remarks": ""})).await;
    assert_eq!(refused.code(), "imported");
    let looked = verify_database(&pool, &house.keys).await.unwrap();
    assert!(looked.broken.is_empty(), "{:?}", looked.broken);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_file_that_is_spelt_otherwise_or_out_of_time_is_refused_before_anything_is_stored(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.whole_job(&ebba).await;
    let own: JobFile = serde_json::from_slice(&house.file(&ebba, job).await).unwrap();
    let good = from_elsewhere(&own);
    // The same journal in other spellings, each sealed over its own text.
    let spelt = |place: &dyn Fn(&mut Value)| {
        let mut prev = genesis(good.job);
        let mut file = serde_json::to_value(&good).unwrap();
        for entry in file["entries"].as_array_mut().unwrap() {
            entry["prev"] = json!(prev);
            entry.as_object_mut().unwrap().remove("hash");
            place(entry);
            prev = resealed(entry);
            entry["hash"] = json!(prev);
        }
        serde_json::to_vec(&file).unwrap()
    };
    let ways: [(&str, &dyn Fn(&mut Value)); 6] = [
        ("a load with more digits", &|e| {
            if e["body"]["load"]["value"] == "100" {
                e["body"]["load"]["value"] = json!("100.00");
            }
        }),
        ("an explicit null", &|e| {
            if e["body"]["kind"] == "read" {
                e["body"]["note"] = Value::Null;
            }
        }),
        ("an unknown field", &|e| e["body"]["colour"] = json!("red")),
        ("the first pad by its number", &|e| {
            if e["body"]["kind"] == "zero_captured" {
                e["body"]["pad"] = json!(1);
            }
        }),
        ("an identity in capitals", &|e| e["id"] = json!(e["id"].as_str().unwrap().to_uppercase())),
        ("a time with another fraction", &|e| {
            let at = e["at"].as_str().unwrap().trim_end_matches('Z').to_owned();
            e["at"] = json!(format!("{at}{}Z", if at.contains('.') { "0" } else { ".0" }));
        }),
    ];
    for (what, place) in ways {
        let reply = import(&house, &ebba, spelt(place)).await;
        assert_eq!(
            (reply.status, reply.code()),
            (StatusCode::UNPROCESSABLE_ENTITY, "bad_file".into()),
            "{what}: {}",
            reply.body
        );
    }
    let late = OffsetDateTime::now_utc() + Duration::hours(2);
    for (what, change) in [
        (
            "has not come yet",
            Box::new(move |e: &mut ombret_core::journal::Entry| e.at = late) as Box<dyn Fn(&mut _)>,
        ),
        (
            "lies before the entry",
            Box::new(|e: &mut ombret_core::journal::Entry| e.at -= Duration::minutes(i64::from(e.seq))),
        ),
    ] {
        let file = sealed_as(good.job, &good, change);
        let reply = import(&house, &ebba, serde_json::to_vec(&file).unwrap()).await;
        assert_eq!(reply.code(), "bad_file");
        assert!(reply.body["detail"].as_str().unwrap().contains(what), "{}", reply.body);
    }
    let counts: i64 = sqlx::query_scalar("select count(*) from scale").fetch_one(&pool).await.unwrap();
    assert_eq!(counts, 1, "nothing was stored");
    assert_eq!(import(&house, &ebba, serde_json::to_vec(&good).unwrap()).await.status, StatusCode::CREATED);
    let looked = verify_database(&pool, &house.keys).await.unwrap();
    assert!(looked.broken.is_empty(), "{:?}", looked.broken);
}

/// The hash over an entry's own text, as the chain makes it: keys in order, nothing between.
fn resealed(entry: &Value) -> String {
    fn canonical(value: &Value) -> String {
        match value {
            Value::Object(fields) => {
                let mut keys: Vec<&String> = fields.keys().collect();
                keys.sort();
                let inner: Vec<String> =
                    keys.iter().map(|k| format!("{}:{}", json!(k), canonical(&fields[*k]))).collect();
                format!("{{{}}}", inner.join(","))
            }
            Value::Array(items) => format!("[{}]", items.iter().map(canonical).collect::<Vec<_>>().join(",")),
            plain => plain.to_string(),
        }
    }
    ombret::sha256_hex(canonical(entry).as_bytes())
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_journal_written_anew_from_its_first_entry_is_found_out_by_its_key(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.whole_job(&ebba).await;
    house.whole_job(&ebba).await;
    let looked = verify_database(&pool, &house.keys).await.unwrap();
    assert_eq!((looked.signed, looked.unsigned, looked.broken), (2, 0, Vec::new()));
    // Whoever owns the database writes everything anew: 600.2 was found, 600.0 is to have been.
    let file: JobFile = serde_json::from_slice(&house.file(&ebba, job).await).unwrap();
    let mut text = serde_json::to_string(&file).unwrap().replace("600.2", "600.0");
    text = serde_json::to_string(&sealed_as(job, &serde_json::from_str(&text).unwrap(), |_| {})).unwrap();
    let rewritten: JobFile = serde_json::from_str(&text).unwrap();
    let forge = async |signatures: Vec<ombret_core::journal::RecordSignature>| {
        let bytes = serde_json::to_vec_pretty(&JobFile { signatures, ..rewritten.clone() }).unwrap();
        for sql in ["alter table entry disable trigger all", "alter table record disable trigger all"] {
            sqlx::query(sql).execute(&pool).await.unwrap();
        }
        for sealed in &rewritten.entries {
            sqlx::query("update entry set sealed = $2 where id = $1")
                .bind(sealed.entry.id)
                .bind(serde_json::to_string(sealed).unwrap())
                .execute(&pool)
                .await
                .unwrap();
        }
        sqlx::query("update record set file = $2, sha256 = $3 where job_id = $1")
            .bind(job)
            .bind(&bytes)
            .bind(ombret::sha256_hex(&bytes))
            .execute(&pool)
            .await
            .unwrap();
    };
    for (signatures, why) in [
        (file.signatures.clone(), "about another journal"),
        (Vec::new(), "not signed, though earlier ones are"),
        (forged_signature(&file, &rewritten), "none of this house"),
    ] {
        forge(signatures).await;
        // That one comes before the other, which is signed.
        sqlx::query("update record set stored_at = now() + interval '1 hour' where job_id = $1")
            .bind(job)
            .execute(&pool)
            .await
            .unwrap();
        let looked = verify_database(&pool, &house.keys).await.unwrap();
        assert_eq!(looked.broken.len(), 1, "{why}: {:?}", looked.broken);
        assert!(looked.broken[0].job == job && looked.broken[0].why.contains(why), "{:?}", looked.broken);
    }
}

fn forged_signature(file: &JobFile, rewritten: &JobFile) -> Vec<ombret_core::journal::RecordSignature> {
    let mut statement = file.signatures[0].statement.clone();
    statement.head.clone_from(&rewritten.entries.last().unwrap().hash);
    Keys::passing().sign(statement).unwrap().into_iter().collect()
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_signed_root_shows_a_record_that_is_gone(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let (job, _) = (house.whole_job(&ebba).await, house.whole_job(&ebba).await);
    let (today, yesterday) =
        (OffsetDateTime::now_utc().date(), OffsetDateTime::now_utc().date() - Duration::DAY);
    assert!(root(&pool, &house.keys, today).await.is_err(), "a day that has not ended has no root");
    sqlx::query("alter table record disable trigger all").execute(&pool).await.unwrap();
    sqlx::query("update record set stored_at = now() - interval '1 day'").execute(&pool).await.unwrap();
    let folder = tempfile::tempdir().unwrap();
    assert!(ombret::cli::write_daily(&pool, &house.keys, folder.path()).await.unwrap());
    assert!(!ombret::cli::write_daily(&pool, &house.keys, folder.path()).await.unwrap(), "once a day");
    let path = folder.path().join(format!("ombret-root-{yesterday}.json"));
    assert!(verify_root(&pool, &house.keys, &path).await.unwrap().contains("2 records"));
    assert!(verify_root(&pool, &Keys::passing(), &path).await.is_err(), "another house's key");
    house.whole_job(&ebba).await;
    assert!(verify_root(&pool, &house.keys, &path).await.is_ok(), "what came later is not in it");
    sqlx::query("delete from record_piece").execute(&pool).await.unwrap();
    sqlx::query("delete from record where job_id = $1").bind(job).execute(&pool).await.unwrap();
    let gone = verify_root(&pool, &house.keys, &path).await.unwrap_err().to_string();
    assert!(gone.contains("2 records were signed, 1 are there now"), "{gone}");
    let altered = std::fs::read_to_string(&path).unwrap().replace("\"records\": 2", "\"records\": 1");
    std::fs::write(&path, altered).unwrap();
    assert!(verify_root(&pool, &house.keys, &path).await.unwrap_err().to_string().contains("signature"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_paper_is_genuine_or_not_and_nobody_has_to_sign_in_to_see_it(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.whole_job(&ebba).await;
    let bytes = house.file(&ebba, job).await;
    let code: String = ombret::sha256_hex(&bytes).chars().take(20).collect();
    let look =
        async |code: &str| house.call(None, Method::GET, &format!("/api/genuine/{job}/{code}"), None).await;
    let told = look(&code).await;
    assert_eq!(told.status, StatusCode::OK);
    let mut keys: Vec<&String> = told.body.as_object().unwrap().keys().collect();
    keys.sort();
    assert_eq!(keys, ["genuine", "number", "outcome", "replaced_by", "scale", "signed_at", "workshop"]);
    assert_eq!(
        (&told.body["genuine"], &told.body["scale"], &told.body["outcome"]),
        (&json!(true), &json!("Wool table"), &json!("in_tolerance"))
    );
    for wrong in ["0000000000000000", "00000000000000000000", "%25", "zzzzzzzzzzzzzzzzzzzz", ""] {
        let told = look(wrong).await;
        assert!(told.body["genuine"] != json!(true), "{wrong}: {}", told.body);
    }
    let after = house.head(&ebba, job).await;
    house.append(&ebba, job, after, json!({"kind": "amended", "reason": "a slip"})).await;
    house.append(&ebba, job, after + 1, json!({"kind": "closed", "name": "x"})).await;
    let told = look(&code).await.body;
    assert!(told["replaced_by"].as_str().is_some_and(|n| n.ends_with("-2")), "{told}");

    // The file carries signature and key, and is checked without the database.
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("job.json");
    std::fs::write(&path, &bytes).unwrap();
    let public = house.keys.public().unwrap();
    assert!(
        verify_file(&path, std::slice::from_ref(&public))
            .unwrap()
            .contains("the key is the one that you named")
    );
    assert!(verify_file(&path, &[Keys::passing().public().unwrap()]).is_err());
    let pdf = get(&house, &ebba, &format!("/api/jobs/{job}/certificate?version=1")).await.bytes;
    let path = folder.path().join("certificate.pdf");
    std::fs::write(&path, pdf).unwrap();
    assert!(verify_file(&path, std::slice::from_ref(&public)).unwrap().contains("in this certificate"));
    let file: JobFile = serde_json::from_slice(&bytes).unwrap();
    let path = folder.path().join("forged.json");
    std::fs::write(&path, serde_json::to_vec(&sealed_as(job, &file, |_| {})).unwrap()).unwrap();
    assert!(verify_file(&path, &[public]).unwrap_err().to_string().contains("no key has signed"));
    assert!(verify_file(&path, &[]).unwrap().contains("an unkeyed chain shows no forgery"));
}

#[sqlx::test(migrations = false)]
async fn the_programs_role_owns_nothing_and_cannot_switch_off_what_guards_the_records(pool: PgPool) {
    let role = format!("ombret_{}", Uuid::now_v7().simple());
    sqlx::query(sqlx::AssertSqlSafe(format!("create role {role} login"))).execute(&pool).await.unwrap();
    let options = pool.connect_options();
    let name = options.get_database().unwrap();
    let url = |user: &str| format!("postgres://{user}@{}:{}/{name}", options.get_host(), options.get_port());
    let settings = Settings {
        owner_database_url: url(options.get_username()).into(),
        database_url: url(&role).into(),
        keys: Keys::passing(),
        ..Settings::default()
    };
    let own = ombret::store::pool(&url(&role), 4).unwrap();
    ombret::store::migrate(&settings, &own).await.unwrap();
    ombret::store::migrate(&settings, &own).await.unwrap();
    let house = House::peopled(House::with(own.clone(), settings)).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.whole_job(&ebba).await;
    let after = house.head(&ebba, job).await;
    house.append(&ebba, job, after, json!({"kind": "amended", "reason": "a slip"})).await;
    let signed = house.append(&ebba, job, after + 1, json!({"kind": "closed", "name": "x"})).await;
    assert_eq!(signed.status, StatusCode::OK, "{}", signed.body);
    for sql in [
        "alter table entry disable trigger all",
        "alter table record disable trigger record_frozen",
        "drop trigger entry_append_only on entry",
        "update entry set sealed = 'x'",
        "delete from entry",
        "truncate entry cascade",
        "update record set file = ''",
        "delete from record",
        "update audit set sealed = 'x'",
        "delete from audit",
        "set session_replication_role = replica",
        "insert into _sqlx_migrations (version) values (1)",
        "create table mine (x int)",
    ] {
        assert!(sqlx::query(sql).execute(&own).await.is_err(), "{sql}");
    }
    own.close().await;
    let mut admin = PgConnection::connect_with(&options).await.unwrap();
    for sql in [format!("drop owned by {role}"), format!("drop role {role}")] {
        sqlx::query(sqlx::AssertSqlSafe(sql)).execute(&mut admin).await.unwrap();
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn many_guesses_at_once_are_not_looked_at_and_lock_nobody_out(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let (ebba, known) = (house.sign_in("ebba").await, house.known("ebba").await);
    let guess = |from: &str, name: &str, password: &str, cookie: Option<String>| {
        let (house, body) = (&house, json!({"sign_in": name, "password": password}).to_string());
        let from = from.to_owned();
        async move { house.from(&from, cookie.as_deref(), "/api/session", body).await }
    };
    let tries = (0..60).map(|_| guess("192.0.2.66", "ebba", "wrong", None));
    let told = futures::future::join_all(tries).await;
    let looked_at = told.iter().filter(|r| r.status == StatusCode::UNAUTHORIZED).count();
    assert!((1..=4).contains(&looked_at), "{looked_at} of 60 were looked at");
    assert!(
        told.iter().all(|r| matches!(r.status, StatusCode::UNAUTHORIZED | StatusCode::TOO_MANY_REQUESTS))
    );
    assert_eq!(guess("192.0.2.66", "ebba", "right", None).await.status, StatusCode::TOO_MANY_REQUESTS);
    // Whoever signed in before in this browser comes in all the same.
    assert_eq!(guess("192.0.2.77", "ebba", "right", Some(known)).await.status, StatusCode::OK);
    assert_eq!(
        get(&house, &ebba, "/api/session").await.status,
        StatusCode::OK,
        "nor does an open session end"
    );
    let rows: i64 =
        sqlx::query_scalar("select count(*) from sign_in_failure").fetch_one(&pool).await.unwrap();
    assert!(rows > 0);
    sqlx::query("update sign_in_failure set last_at = now() - interval '2 days'")
        .execute(&pool)
        .await
        .unwrap();
    house.sign_in("maren").await;
    let rows: i64 =
        sqlx::query_scalar("select count(*) from sign_in_failure").fetch_one(&pool).await.unwrap();
    assert_eq!(rows, 0, "old tries are cleared away");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_session_that_nobody_uses_ends(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    for (idle, status) in [("7 hours", StatusCode::OK), ("9 hours", StatusCode::UNAUTHORIZED)] {
        sqlx::query(sqlx::AssertSqlSafe(format!("update session set seen_at = now() - interval '{idle}'")))
            .execute(&pool)
            .await
            .unwrap();
        assert_eq!(get(&house, &ebba, "/api/session").await.status, status, "{idle}");
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn no_text_has_the_character_nul(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    for path in [
        "/api/scales?search=a%00b",
        "/api/lookup?q=%00",
        "/api/lessons/%00/file",
        "/api/statistics?from=%00",
        "/%00",
    ] {
        assert_eq!(get(&house, &ebba, path).await.status, StatusCode::UNPROCESSABLE_ENTITY, "{path}");
    }
    let job = house.begin(&ebba).await;
    let reply = house.append(&ebba, job, 1, json!({"kind": "remarked", "text": "a\u{0}b"})).await;
    assert_eq!(reply.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", reply.body);
    let shown = house.append(&ebba, job, 1, json!({"kind": "remarked", "text": "it prints \\u0000"})).await;
    assert_eq!(shown.status, StatusCode::OK, "{}", shown.body);
    let body = json!({"sign_in": "a\u{0}", "password": "x"});
    assert_eq!(
        house.call(None, Method::POST, "/api/session", Some(body)).await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    for days in ["-4713-01-01", "1899-12-31", "9999-01-01"] {
        assert_eq!(
            get(&house, &ebba, &format!("/api/statistics?to={days}")).await.status,
            StatusCode::UNPROCESSABLE_ENTITY,
            "{days}"
        );
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn hands_and_indicators_are_where_the_settings_say(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let connected = async |address: &str, hands: Value| {
        let mut form = crate::house::scale_form(Uuid::now_v7());
        form["device"] = json!({"address": address, "hands": hands});
        house.call(Some(&ebba), Method::POST, "/api/scales", Some(form)).await
    };
    for address in
        ["192.0.2.9:4001", "169.254.169.254:80", "serial:/dev/ttyUSB0@9600", "serial:/etc/passwd@9600"]
    {
        let refused = connected(address, Value::Null).await;
        assert_eq!(
            (refused.code(), &refused.body["field"]),
            ("bad_device".into(), &json!("address")),
            "{address}"
        );
    }
    let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.unwrap();
    let own = listener.local_addr().unwrap().to_string();
    let kept = connected("127.0.0.1:4001", json!(own)).await;
    assert_eq!(
        (kept.status, &kept.body["device"]["hands"]),
        (StatusCode::CREATED, &Value::Null),
        "a page does not say where commands go"
    );
    let id = kept.body["sheet"]["id"].as_str().unwrap().to_owned();
    // Even where the database says so, nothing is sent to what the program does not run itself.
    sqlx::query("update scale set device = jsonb_set(device, '{hands}', to_jsonb($1::text))")
        .bind(&own)
        .execute(&pool)
        .await
        .unwrap();
    let sent = house
        .call(
            Some(&ebba),
            Method::POST,
            &format!("/api/scales/{id}/operator"),
            Some(json!({"command": "GET / HTTP/1.0"})),
        )
        .await;
    assert_eq!(sent.status, StatusCode::NOT_FOUND);
    // The answer is there: whoever was to be called has been called by now.
    assert!(listener.accept().now_or_never().is_none(), "somebody was called");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn answers_of_the_api_are_kept_nowhere_and_pages_load_only_what_is_theirs(pool: PgPool) {
    let plain = House::new(pool.clone()).await;
    let https = House::with(
        pool.clone(),
        Settings { public_url: Some("https://scales.example".into()), ..Settings::default() },
    );
    let head = async |house: &House, path: &str| house.headers(path).await;
    let told = head(&plain, "/api/session").await;
    assert_eq!(told["cache-control"], "no-store");
    assert_eq!(told["cross-origin-opener-policy"], "same-origin");
    assert!(told["permissions-policy"].to_str().unwrap().contains("camera=(self)"));
    assert_eq!(told.get_all("content-security-policy").iter().count(), 1);
    assert!(!told.contains_key("strict-transport-security"));
    assert!(head(&https, "/").await.contains_key("strict-transport-security"));
    let body = json!({"sign_in": "ebba", "password": "right"}).to_string().into_bytes();
    let kind = Some("application/json");
    let signed =
        https.send(None, Method::POST, "/api/session", kind, body, Some("https://scales.example")).await;
    let cookie = signed.cookie.unwrap();
    assert!(cookie.starts_with("__Host-ombret_session=") && cookie.contains("; Secure"), "{cookie}");
    assert!(cookie.contains("Path=/") && !cookie.contains("Domain"), "{cookie}");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_is_sent_many_times_at_once_is_stored_once_and_never_a_failure(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let (scale, job) = (Uuid::now_v7(), Uuid::now_v7());
    let same = async |path: &str, body: Value| {
        let tries = (0..12).map(|_| house.call(Some(&ebba), Method::POST, path, Some(body.clone())));
        let told: Vec<u16> =
            futures::future::join_all(tries).await.iter().map(|r| r.status.as_u16()).collect();
        assert!(told.iter().all(|status| [200, 201].contains(status)), "{path}: {told:?}");
    };
    same("/api/scales", crate::house::scale_form(scale)).await;
    same("/api/jobs", json!({"id": job, "scale_id": house.scale})).await;
    let file = from_elsewhere(
        &serde_json::from_slice(&house.file(&ebba, house.whole_job(&ebba).await).await).unwrap(),
    );
    let bytes = serde_json::to_vec(&file).unwrap();
    let tries = (0..6).map(|_| import(&house, &ebba, bytes.clone()));
    let told: Vec<u16> = futures::future::join_all(tries).await.iter().map(|r| r.status.as_u16()).collect();
    assert_eq!(told.iter().filter(|s| **s == 201).count(), 1, "{told:?}");
    assert!(told.iter().all(|status| [201, 409].contains(status)), "{told:?}");
    for (table, id) in [("scale", scale), ("job", job), ("job", file.job)] {
        let sql = format!("select count(*) from {table} where id = $1");
        let count: i64 =
            sqlx::query_scalar(sqlx::AssertSqlSafe(sql)).bind(id).fetch_one(&pool).await.unwrap();
        assert_eq!(count, 1, "{table}");
    }
}
