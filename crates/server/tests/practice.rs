//! Lessons over the wire: kept apart from real scales and records, hints counted, the account only
//! when it is over, hands noted.

use std::time::{Duration, Instant};

use crate::house::House;
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

struct Run<'a> {
    house: &'a House,
    cookie: String,
    job: Uuid,
    scale: String,
}

impl<'a> Run<'a> {
    async fn begin(house: &'a House, lesson: &str) -> Self {
        let cookie = house.sign_in("ebba").await;
        let job = Uuid::now_v7();
        for status in [StatusCode::CREATED, StatusCode::OK] {
            // Sent twice, it is begun once.
            let reply = house
                .call(
                    Some(&cookie),
                    Method::POST,
                    &format!("/api/lessons/{lesson}/runs"),
                    Some(json!({"job": job})),
                )
                .await;
            assert_eq!(reply.status, status, "{}", reply.body);
        }
        let reply = house.call(Some(&cookie), Method::GET, &format!("/api/jobs/{job}"), None).await;
        let scale = reply.body["job"]["scale_id"].as_str().unwrap().to_owned();
        Self { house, cookie, job, scale }
    }

    async fn ask(&self, method: Method, what: &str) -> Value {
        let reply = self
            .house
            .call(
                Some(&self.cookie),
                method.clone(),
                &format!("/api/practice/{}{what}", self.job),
                (method == Method::POST).then(|| json!({})),
            )
            .await;
        reply.body
    }

    async fn hands(&self, command: &str) -> Value {
        self.house
            .call(
                Some(&self.cookie),
                Method::POST,
                &format!("/api/scales/{}/operator", self.scale),
                Some(json!({"command": command})),
            )
            .await
            .body
    }

    async fn append(&self, draft: Value) -> Value {
        let head = self.house.head(&self.cookie, self.job).await;
        let reply = self.house.append(&self.cookie, self.job, head, draft).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
        reply.body
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_lesson_is_run_apart_from_real_scales_and_told_only_when_it_is_over(pool: PgPool) {
    let house = House::new(pool).await;
    let run = Run::begin(&house, "19-overloaded").await;
    // Neither the scale nor the job stands among the real ones, and its sheet cannot be made a real one.
    let scales = house.call(Some(&run.cookie), Method::GET, "/api/scales?search=parcel", None).await.body;
    assert_eq!(scales["scales"], json!([]));
    assert_eq!(house.call(Some(&run.cookie), Method::GET, "/api/jobs", None).await.body, json!([]));
    let mut form = crate::house::scale_form(run.scale.parse().unwrap());
    form["version"] = json!(1);
    let changed =
        house.call(Some(&run.cookie), Method::PUT, &format!("/api/scales/{}", run.scale), Some(form)).await;
    assert_eq!(changed.status, StatusCode::CONFLICT);

    let view = run.ask(Method::GET, "").await;
    assert_eq!((&view["hints"], &view["on"], &view["over"]), (&json!([]), &json!(true), &json!(false)));
    for given in [1, 2, 3, 3] {
        assert_eq!(run.ask(Method::POST, "/hint").await["hints"].as_array().unwrap().len(), given);
    }
    assert_eq!(
        run.ask(Method::GET, "/account").await["type"],
        json!("urn:ombret:problem:not_over"),
        "not over yet"
    );
    let looked = run.hands("look at zero").await;
    assert!(looked["seen"].as_str().unwrap().contains("four hundred kilograms"), "{looked}");
    // Refused by the indicator, once it rests: a zero where no sound cell has it.
    let began = Instant::now();
    loop {
        let refused = run.hands("zero").await;
        if refused["detail"].as_str().unwrap_or_default().contains("error at zero") {
            break;
        }
        assert!(began.elapsed() < Duration::from_secs(60), "{refused}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    run.append(json!({"kind": "looked_over", "item": "zero", "finding": "fault", "note": "far off"})).await;
    run.append(json!({"kind": "stopped_short", "reason": "two bent cells"})).await;
    run.append(json!({"kind": "sealed_up", "seals": "", "switch_back": true, "locked": false})).await;
    let closed = run.append(json!({"kind": "closed", "name": "Ebba Lund"})).await;
    assert!(closed["job"]["number"].as_str().unwrap().starts_with("practice-"), "{}", closed["job"]);

    let account = run.ask(Method::GET, "/account").await;
    let line = |about: &str| {
        account["lines"].as_array().unwrap().iter().find(|l| l["about"] == about).unwrap().clone()
    };
    assert_eq!(line("The fault")["grade"], json!("good"));
    assert_eq!(line("The cure")["grade"], json!("good"));
    assert_eq!(line("Hints")["grade"], json!("better"));
    // Nothing was read before it was stopped: what it did until then can never be told.
    assert_eq!(line("The order")["grade"], json!("mistake"));
    assert!(line("The order")["cost"].is_string());
    // A job of a lesson is not taken in elsewhere as one of a real scale, and real numbers go on.
    let file = house.file(&run.cookie, run.job).await;
    let taken = house
        .send(
            Some(&run.cookie),
            Method::POST,
            "/api/jobs/import",
            Some("application/vnd.ombret.job+json"),
            file,
            Some(crate::house::ORIGIN),
        )
        .await;
    assert_eq!(taken.status, StatusCode::UNPROCESSABLE_ENTITY);
    let real = house.whole_job(&run.cookie).await;
    let reply = house.call(Some(&run.cookie), Method::GET, &format!("/api/jobs/{real}"), None).await;
    assert!(reply.body["job"]["number"].as_str().unwrap().ends_with("-0001"), "{}", reply.body["job"]);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_adjustment_that_was_never_saved_at_the_indicator_is_a_mistake_with_its_cost(pool: PgPool) {
    let house = House::new(pool).await;
    let run = Run::begin(&house, "01-first-span").await;
    let view = house.call(Some(&run.cookie), Method::GET, &format!("/api/jobs/{}", run.job), None).await.body;
    for check in view["assessment"]["inspection"].as_array().unwrap() {
        run.append(json!({"kind": "looked_over", "item": check["item"], "finding": "ok"})).await;
    }
    for (load, shown) in [("0", "0"), ("320", "320.6"), ("640", "641.2")] {
        run.append(crate::house::read_draft("as_found", load, shown)).await;
    }
    run.append(json!({"kind": "set_up", "max": "640", "d": "0.2", "unit": "kg"})).await;
    let steady = |text: &str| json!({"from": "typed", "text": text, "steady": true});
    run.append(json!({"kind": "zero_captured", "counts": steady("52300")})).await;
    run.append(json!({"kind": "span_chosen", "weight": "20"})).await;
    run.append(json!({"kind": "span_captured", "counts": steady("60550")})).await;
    run.append(json!({"kind": "adjustment_saved"})).await;
    run.ask(Method::POST, "/reveal").await;
    let account = run.ask(Method::GET, "/account").await;
    let line = |about: &str| {
        account["lines"].as_array().unwrap().iter().find(|l| l["about"] == about).unwrap().clone()
    };
    assert_eq!(line("Saving")["grade"], json!("mistake"));
    assert!(
        line("Saving")["cost"].as_str().unwrap().contains("A load of 640 kg reads +1.2 kg"),
        "{}",
        line("Saving")
    );
    // Twenty kilograms of six hundred and forty: every error of it counts thirty-two times at Max.
    assert_ne!(line("The span weight")["grade"], json!("good"));
    assert_eq!(line("The test")["grade"], json!("mistake"));
    assert_eq!(line("The order")["grade"], json!("good"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_workshop_writes_its_own_lesson_and_a_bad_one_is_refused_with_its_part(pool: PgPool) {
    let house = House::new(pool).await;
    let cookie = house.sign_in("ebba").await;
    let file = house
        .send(Some(&cookie), Method::GET, "/api/lessons/03-leave-it/file", None, Vec::new(), None)
        .await
        .body;
    let mut own = file.clone();
    own["id"] = json!("our-own");
    own["title"] = json!("Our own");
    let keep = |lesson: Value| {
        let (house, cookie) = (&house, cookie.clone());
        async move {
            house
                .call(Some(&cookie), Method::PUT, "/api/lessons", Some(json!({"text": lesson.to_string()})))
                .await
        }
    };
    assert_eq!(keep(own.clone()).await.status, StatusCode::OK);
    let listed = house.call(Some(&cookie), Method::GET, "/api/lessons", None).await.body;
    let ours = listed.as_array().unwrap().iter().find(|l| l["id"] == "our-own").unwrap();
    assert_eq!((&ours["own"], &ours["done"]), (&json!(true), &json!(false)));
    let mut bad = vec![own.clone(), own.clone(), own.clone(), own];
    bad[0]["bench"]["seed"] = json!("seven");
    bad[1]["sheet"]["pads"] = json!(4);
    bad[2]["sheet"]["plate"]["max"]["value"] = json!("-5");
    bad[3]["hidden"]["items"] = json!(["moon"]);
    for (bad, says) in bad.into_iter().zip(["bench", "platforms", "sheet", "hidden.items"]) {
        let refused = keep(bad).await;
        assert_eq!(
            (refused.status, &refused.body["field"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!("text")),
            "{says}"
        );
        assert!(refused.body["detail"].as_str().unwrap().contains(says), "{says}: {}", refused.body);
    }
    let missing = house
        .call(Some(&cookie), Method::POST, "/api/lessons/nowhere/runs", Some(json!({"job": Uuid::now_v7()})))
        .await;
    assert_eq!(missing.status, StatusCode::NOT_FOUND);
}
