//! Everything that is open to the network: who may not, what is refused, and the ways of adjusting
//! over the wire.

use crate::house::{House, read_draft};
use axum::http::{Method, StatusCode};
use ombret::http::document;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// Every operation of the description: method, its path there, and with something in place of its parts.
fn described() -> Vec<(Method, String, String)> {
    let document = serde_json::to_value(document()).unwrap();
    let mut out = Vec::new();
    for (path, methods) in document["paths"].as_object().unwrap() {
        for method in methods.as_object().unwrap().keys() {
            let filled: Vec<String> = path
                .split('/')
                .map(|part| match part {
                    "{id}" | "{job}" => Uuid::nil().to_string(),
                    part if part.starts_with('{') => "X".to_owned(),
                    part => part.to_owned(),
                })
                .collect();
            out.push((method.to_uppercase().parse().unwrap(), path.clone(), filled.join("/")));
        }
    }
    out
}

/// The same, without where it stands in the description.
fn operations() -> Vec<(Method, String)> {
    described().into_iter().map(|(method, _, path)| (method, path)).collect()
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn nothing_but_signing_in_and_the_words_is_open_to_a_stranger(pool: PgPool) {
    let house = House::new(pool).await;
    // The calendar is open to whoever has its secret.
    // Whether a paper is genuine is for anybody who holds it; a link for whoever was given it.
    let genuine = format!("/api/genuine/{}/X", Uuid::nil());
    let own_paper = format!("/api/own/X/papers/{}", Uuid::nil());
    let open = [
        "/api/session",
        "/api/health",
        "/api/vocabulary",
        "/api/understand",
        "/api/calendar/X",
        genuine.as_str(),
        "/api/links/X",
        // A customer's own link, for whoever was given it.
        "/api/own/X",
        own_paper.as_str(),
        "/api/ready",
    ];
    let mut tried = 0;
    for (method, path) in operations() {
        if open.contains(&path.as_str()) {
            continue;
        }
        let body = (method != Method::GET).then(|| json!({}));
        let reply = house.call(None, method.clone(), &path, body).await;
        assert!(
            [StatusCode::UNAUTHORIZED, StatusCode::UNSUPPORTED_MEDIA_TYPE].contains(&reply.status),
            "{method} {path}: {}",
            reply.status
        );
        tried += 1;
    }
    assert!(tried > 30, "{tried}");
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_empty_body_is_a_problem_and_never_a_crash(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    for (method, path) in operations()
        .into_iter()
        .filter(|(m, p)| *m != Method::GET && *m != Method::DELETE && p != "/api/session")
    {
        for body in [json!({}), json!([]), json!(null), json!({"id": "no", "text": 7})] {
            let reply = house.call(Some(&cookie), method.clone(), &path, Some(body.clone())).await;
            assert_ne!(
                reply.status,
                StatusCode::INTERNAL_SERVER_ERROR,
                "{method} {path} {body}: {}",
                reply.body
            );
            if reply.status.is_client_error() {
                assert_eq!(reply.kind, "application/problem+json", "{method} {path} {body}");
            }
        }
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_example_line_makes_a_pattern_and_shows_what_it_reads(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let ask = |line: &'static str, unit: Value| {
        let (house, cookie) = (&house, cookie.clone());
        async move {
            house
                .call(Some(&cookie), Method::POST, "/api/lines", Some(json!({"line": line, "unit": unit})))
                .await
        }
    };
    let told = ask("ST,GS,+  20.5 kg", Value::Null).await.body;
    assert_eq!(
        (&told["shown"], &told["mark"], &told["pattern"]["steady"]),
        (&json!({"value": "20.5", "unit": "kg"}), &json!(true), &json!("ST"))
    );
    assert_eq!(ask("S 20.5", json!("lb")).await.body["shown"]["unit"], json!("lb"));
    let refused = ask("no figure here", json!("kg")).await;
    assert_eq!(
        (refused.status, &refused.body["field"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("example"))
    );
}

/// A job of the wool table that is looked over, set up, zeroed and spanned.
async fn spanned(house: &House, cookie: &str) -> (Uuid, u32) {
    let job = house.begin(cookie).await;
    let reply = house.call(Some(cookie), Method::GET, &format!("/api/jobs/{job}"), None).await;
    let items: Vec<String> = reply.body["assessment"]["inspection"]
        .as_array()
        .unwrap()
        .iter()
        .map(|c| c["item"].as_str().unwrap().to_owned())
        .collect();
    let mut drafts: Vec<Value> =
        items.iter().map(|item| json!({"kind": "looked_over", "item": item, "finding": "ok"})).collect();
    drafts.push(read_draft("as_found", "600", "600.2"));
    drafts.push(json!({"kind": "set_up", "max": "870", "d": "0.2", "unit": "kg"}));
    drafts.push(json!({"kind": "zero_captured", "counts": counts("41250")}));
    drafts.push(json!({"kind": "span_chosen", "weight": "600"}));
    drafts.push(json!({"kind": "span_captured", "counts": counts("241250")}));
    let mut after = 1;
    for draft in drafts {
        let reply = house.append(cookie, job, after, draft.clone()).await;
        assert_eq!(reply.status, StatusCode::OK, "{draft}: {}", reply.body);
        after += 1;
    }
    (job, after)
}

fn counts(text: &str) -> Value {
    json!({"from": "typed", "text": text, "steady": true})
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_curve_is_captured_point_by_point_and_survives_the_way_through_the_database(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let (job, after) = spanned(&house, &cookie).await;
    let point =
        |weight: &str, c: &str| json!({"kind": "point_captured", "weight": weight, "counts": counts(c)});
    let refused = house.append(&cookie, job, after, point("600", "241300")).await;
    assert_eq!(
        (refused.status, refused.code(), &refused.body["field"]),
        (StatusCode::UNPROCESSABLE_ENTITY, "twice".into(), &json!("weight"))
    );
    let falling = house.append(&cookie, job, after, point("300", "250000")).await;
    assert_eq!(falling.body["field"], json!("counts"), "{}", falling.body);
    assert_eq!(house.append(&cookie, job, after, point("300", "141450")).await.status, StatusCode::OK);
    let saved = house.append(&cookie, job, after + 1, json!({"kind": "adjustment_saved"})).await.body;
    assert_eq!(saved["assessment"]["adjust"]["how"], json!("saved with 2 span points"));
    let again = house.call(Some(&cookie), Method::GET, &format!("/api/jobs/{job}"), None).await.body;
    assert_eq!(again["assessment"]["adjust"], saved["assessment"]["adjust"]);
    assert_eq!(again["assessment"]["adjust"]["points"][1]["straight"], json!("+3 d"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn trying_a_factor_out_says_what_it_would_be_and_keeps_nothing(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let (job, after) = spanned(&house, &cookie).await;
    let abandoned = house
        .append(&cookie, job, after, json!({"kind": "adjustment_abandoned", "reason": "a factor will do"}))
        .await;
    assert_eq!(abandoned.status, StatusCode::OK);
    let draft =
        json!({"kind": "factor_set", "factor": "1,0250", "load": "300", "shown": "301.2", "decimals": 4});
    let tried = json!({"id": Uuid::now_v7(), "after": after + 1, "draft": draft, "try_only": true});
    let would =
        house.call(Some(&cookie), Method::POST, &format!("/api/jobs/{job}/entries"), Some(tried)).await.body;
    assert_eq!(would["assessment"]["adjust"]["how"], json!("factor 1.025 → 1.0209"));
    assert_eq!(house.head(&cookie, job).await, after + 1, "nothing is kept");
    for (field, value, at) in [
        ("factor", "x", "factor"),
        ("factor", "-1", "factor"),
        ("load", "-3", "load"),
        ("shown", "0", "shown"),
        ("shown", "1e5x", "shown"),
    ] {
        let mut wrong = draft.clone();
        wrong[field] = json!(value);
        let reply = house.append(&cookie, job, after + 1, wrong).await;
        assert_eq!(
            (reply.status, &reply.body["field"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!(at)),
            "{field} {value}: {}",
            reply.body
        );
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_reading_names_the_pieces_it_was_made_of_and_the_record_keeps_them(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let today = time::OffsetDateTime::now_utc().date();
    let certificate = |due: i64| json!([{"number": "SL-1", "laboratory": "Skerry Lab", "date": (today - time::Duration::days(30)).to_string(), "due": (today + time::Duration::days(due)).to_string()}]);
    let (good, late) = (Uuid::now_v7(), Uuid::now_v7());
    for (id, serial, due) in [(good, "B-1", 300), (late, "B-2", -1)] {
        let piece = json!({"id": id, "serial": serial, "nominal": {"value": "500", "unit": "kg"}, "class": "M1", "form": "block", "certificates": certificate(due)});
        assert_eq!(
            house
                .call(Some(&cookie), Method::PUT, "/api/kit", Some(json!({"piece": piece, "version": 0})))
                .await
                .status,
            StatusCode::NO_CONTENT
        );
    }
    let (job, after) = spanned(&house, &cookie).await;
    house.append(&cookie, job, after, json!({"kind": "adjustment_saved"})).await;
    let of = |piece: Uuid, why: &str| {
        let mut draft = read_draft("prove", "500", "500");
        draft["with"] = json!([piece]);
        draft["overruled"] = json!(why);
        draft
    };
    let refused = house.append(&cookie, job, after + 1, of(late, "")).await;
    assert_eq!((refused.code(), &refused.body["field"]), ("unfit_weight".into(), &json!("overruled")));
    assert_eq!(house.append(&cookie, job, after + 1, of(good, "")).await.status, StatusCode::OK);
    let told = house.append(&cookie, job, after + 2, of(late, "no other at hand")).await.body;
    let used: Vec<&str> = told["assessment"]["weights_used"]
        .as_array()
        .unwrap()
        .iter()
        .map(|w| w["serial"].as_str().unwrap())
        .collect();
    assert_eq!(used, ["B-1", "B-2"]);
    assert!(told["assessment"]["proof"]["readings"][1]["cautions"].to_string().contains("no other at hand"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_line_of_several_figures_is_asked_about_and_a_wiring_card_is_judged(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let body = json!({"line": "N 20.5 kg T 100.0 kg", "unit": "kg"});
    let told = house.call(Some(&cookie), Method::POST, "/api/lines", Some(body)).await.body;
    assert_eq!(told["shown"]["value"], json!("100"));
    assert_eq!(told["others"][0]["shown"]["value"], json!("20.5"));
    let card =
        json!({"lines": ["excitation +: red", "excitation −: black", "signal +: green", "shield: bare"]});
    let told = house.call(Some(&cookie), Method::POST, "/api/wiring", Some(card)).await.body;
    assert_eq!(told["says"], json!("The card is not complete: signal − not noted."));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_answer_about_a_span_weight_names_what_it_was_asked(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let job = house.begin(&cookie).await;
    for (asked, weight) in [("600", Some("600")), ("50 %", Some("435")), ("heavy", None), ("900", None)] {
        let body = json!({"choices": {}, "span": asked, "stage": "prove"});
        let told =
            house.call(Some(&cookie), Method::POST, &format!("/api/jobs/{job}/plan"), Some(body)).await.body;
        assert_eq!(told["asked_span"], json!(asked), "{told}");
        assert_eq!(told["span"]["weight"]["value"].as_str(), weight, "{asked}");
        let field = told["span_refused"]["field"].as_str();
        assert_eq!(field, weight.is_none().then_some("span"), "{asked}");
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn every_answer_is_in_the_description_of_the_api_and_every_problem_has_its_shape(pool: PgPool) {
    let house = House::new(pool).await;
    let (ebba, maren) = (house.sign_in("ebba").await, house.sign_in("maren").await);
    let document = serde_json::to_value(document()).unwrap();
    let problem = json!({"$ref": "#/components/schemas/Problem", "components": document["components"]});
    let problem = jsonschema::validator_for(&problem).unwrap();
    let (json, own) = (Some("application/json"), Some(crate::house::ORIGIN));
    let mut problems = std::collections::BTreeSet::new();
    let mut answers = 0;
    for (method, path, filled) in described() {
        let told = &document["paths"][&path][method.as_str().to_lowercase()]["responses"];
        let ways: [(Option<&str>, Option<&str>, &[u8], &str, Option<&str>); 9] = [
            (None, json, b"{}", "", own),
            (Some(&ebba), json, b"{}", "", own),
            (Some(&maren), json, b"{}", "", own),
            (Some(&ebba), json, b"[", "", own),
            (Some(&ebba), json, b"{\"x\": \"\\u0000\"}", "", own),
            (Some(&ebba), Some("text/plain"), b"x", "", own),
            (Some(&ebba), json, b"{}", "", Some("http://evil.example")),
            (Some(&ebba), json, b"{}", "?search=%00", own),
            (Some(&ebba), json, b"{}", "?days=x&after=x&version=x&from=x&one=x&form=x&text=x&unit=x", own),
        ];
        for (cookie, kind, body, query, origin) in ways {
            // Signing out is the last thing that this test would want.
            if method == Method::DELETE && path == "/api/session" {
                continue;
            }
            let body = if method == Method::GET { Vec::new() } else { body.to_vec() };
            let at = format!("{filled}{query}");
            let reply = house.send(cookie, method.clone(), &at, kind, body, origin).await;
            let status = reply.status.as_u16();
            let known = &told[status.to_string()];
            assert!(known.is_object(), "{method} {at}: {status} is not described: {}", reply.body);
            assert!(status < 500, "{method} {at}: {status}");
            answers += 1;
            if status >= 400 {
                assert_eq!(reply.kind, "application/problem+json", "{method} {at}: {status}");
                let name = known["$ref"].as_str().and_then(|r| r.rsplit('/').next());
                let known = name.map_or(known, |name| &document["components"]["responses"][name]);
                assert!(known["content"][&reply.kind].is_object(), "{method} {at}: {status} {}", reply.kind);
                let sent = serde_json::from_slice(&reply.bytes).unwrap_or(Value::Null);
                assert!(problem.is_valid(&sent), "{method} {at}: {sent}");
                assert_eq!(reply.body["status"], json!(status));
                problems.insert(reply.code());
            }
        }
    }
    assert!(answers > 500 && problems.len() >= 8, "{answers} answers, {problems:?}");
}
