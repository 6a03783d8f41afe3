//! Reminders and invitations by mail: to whom, in which language, and never twice for one due date.

use crate::house::{House, Reply, scale_form};
use axum::http::{Method, StatusCode};
use ombret::http::{App, Post, remind};
use ombret::settings::Settings;
use ombret_bench::post::Post as StandIn;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// A house whose mail goes to a stand-in.
async fn with_post(pool: &PgPool) -> (House, App, StandIn) {
    let post = StandIn::new(None);
    let at = post.listen("127.0.0.1:0".parse().unwrap()).await.unwrap();
    let settings = Settings {
        smtp_url: format!("smtp://{at}").into(),
        mail_from: "Fell Road Scales <scales@fell.example>".into(),
        ..Settings::default()
    };
    let sends = Post::of(&settings).unwrap();
    let house = House::peopled(House::with_post(pool.clone(), settings, sends)).await;
    let app = house.app.clone();
    (house, app, post)
}

async fn set(house: &House, cookie: &str, rules: Value) -> Reply {
    house.call(Some(cookie), Method::PUT, "/api/reminders", Some(rules)).await
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn what_is_due_is_reminded_of_once_each_in_their_language(pool: PgPool) {
    let (house, app, post) = with_post(&pool).await;
    let (ebba, signe) = (house.sign_in("ebba").await, house.sign_in("signe").await);
    let sends = app.post.clone().unwrap();
    assert_eq!(remind(&app, &sends).await.unwrap(), 0, "nobody asked for any");
    let rules = json!({"days": 30, "customers": true, "workshop": "office@fell.example"});
    assert_eq!(set(&house, &ebba, rules.clone()).await.status, StatusCode::FORBIDDEN);
    assert_eq!(set(&house, &signe, json!({"days": 999})).await.body["field"], "days");
    assert_eq!(set(&house, &signe, json!({"days": 9, "workshop": "nobody"})).await.body["field"], "workshop");
    assert_eq!(set(&house, &signe, rules).await.status, StatusCode::NO_CONTENT);
    // A second scale of another customer, who wants German; one that is not due for long.
    for (owner, name) in [("Alder Mill", "Intake hopper"), ("Alder Mill", "Far off")] {
        let mut form = scale_form(Uuid::now_v7());
        form["owner"] = json!(owner);
        form["name"] = json!(name);
        form["serial"] = json!(name);
        assert_eq!(
            house.call(Some(&ebba), Method::POST, "/api/scales", Some(form)).await.status,
            StatusCode::CREATED
        );
    }
    sqlx::query("update scale set next_due = current_date + 200 where name = 'Far off'")
        .execute(&pool)
        .await
        .unwrap();
    sqlx::query("update customer set details = details || '{\"email\": \"mill@alder.example\", \"language\": \"de\"}' where name = 'Alder Mill'")
        .execute(&pool)
        .await
        .unwrap();
    // The mail server is away at first: nothing is lost.
    post.refuse(true);
    assert_eq!(remind(&app, &sends).await.unwrap(), 0);
    assert!(post.mails().is_empty());
    post.refuse(false);
    assert_eq!(remind(&app, &sends).await.unwrap(), 2, "one customer has an address, and the workshop");
    let mails = post.mails();
    let to: Vec<&str> = mails.iter().map(|m| m.to[0].as_str()).collect();
    assert_eq!(to, ["mill@alder.example", "office@fell.example"]);
    assert!(
        mails[0].text.contains("Guten Tag") && mails[0].text.contains("Intake hopper"),
        "{}",
        mails[0].text
    );
    assert!(!mails[0].text.contains("Far off") && !mails[0].text.contains("Wool table"), "{}", mails[0].text);
    assert!(mails[1].text.contains("Wool table") && mails[1].text.contains("These scales are due"));
    assert_eq!(remind(&app, &sends).await.unwrap(), 0, "never twice for one due date");
    // Looked at again, it is due on another day: that one is reminded of.
    sqlx::query("update scale set next_due = next_due + 1 where name = 'Intake hopper'")
        .execute(&pool)
        .await
        .unwrap();
    assert_eq!(remind(&app, &sends).await.unwrap(), 2);
    let told = house.call(Some(&ebba), Method::GET, "/api/reminders", None).await.body;
    assert_eq!((&told["mail"], &told["sent"]), (&json!(true), &json!(5)));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn two_instances_that_remind_at_once_send_one_mail(pool: PgPool) {
    let (house, app, post) = with_post(&pool).await;
    let signe = house.sign_in("signe").await;
    let rules = json!({"days": 30, "customers": false, "workshop": "office@fell.example"});
    assert_eq!(set(&house, &signe, rules).await.status, StatusCode::NO_CONTENT);
    let sends = app.post.clone().unwrap();
    let (one, other) = tokio::join!(remind(&app, &sends), remind(&app, &sends));
    assert_eq!(one.unwrap() + other.unwrap(), 1);
    assert_eq!(post.mails().len(), 1);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_invitation_goes_by_mail_where_there_is_any(pool: PgPool) {
    let (house, _, post) = with_post(&pool).await;
    let signe = house.sign_in("signe").await;
    let invite = |email: &'static str| {
        let (house, signe) = (&house, signe.clone());
        async move {
            let body = json!({"name": "Odd Vik", "roles": ["technician"], "email": email});
            house.call(Some(&signe), Method::POST, "/api/people", Some(body)).await
        }
    };
    let made = invite("odd@vik.example").await;
    assert_eq!(made.status, StatusCode::CREATED, "{}", made.body);
    let mails = post.mails();
    // A long line may be folded on its way: the address is looked for without its line ends.
    let plain: String = mails[0].text.replace("=\n", "").replace("=3D", "=");
    assert!(plain.contains(made.body["path"].as_str().unwrap()), "{}", mails[0].text);
    post.refuse(true);
    assert_eq!(invite("odd@vik.example").await.code(), "not_sent");
    let silent = House::around(pool);
    let signe = silent.sign_in("signe").await;
    let body = json!({"name": "Odd Vik", "roles": ["technician"], "email": "odd@vik.example"});
    let refused = silent.call(Some(&signe), Method::POST, "/api/people", Some(body)).await;
    assert_eq!((refused.code().as_str(), &refused.body["field"]), ("no_mail", &json!("email")));
}

#[test]
fn mail_beyond_this_machine_goes_encrypted() {
    let of = |url: &str| {
        let settings = Settings {
            smtp_url: url.to_owned().into(),
            mail_from: "a@b.example".into(),
            ..Settings::default()
        };
        Post::of(&settings).map(|post| post.is_some())
    };
    assert_eq!(of(""), Ok(false));
    for good in ["smtp://127.0.0.1:2525", "smtps://u:p@mail.example", "smtp://u:p@mail.example?tls=required"]
    {
        assert_eq!(of(good), Ok(true), "{good}");
    }
    for bad in ["smtp://u:p@mail.example", "http://mail.example", "mail.example"] {
        assert!(of(bad).is_err(), "{bad}");
    }
}
