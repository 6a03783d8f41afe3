//! A workshop to test in: two workshops, three people, one scale, and the router.

use axum::Router;
use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use http_body_util::BodyExt;
use ombret::http::{App, hash_password, router};
use ombret::settings::Settings;
use ombret::signing::Keys;
use ombret::store::people::{self, Person, Role};
use ombret_core::wording::Language;
use serde_json::{Value, json};
use sqlx::PgPool;
use tokio_util::sync::CancellationToken;
use tower::ServiceExt;
use uuid::Uuid;

pub const ORIGIN: &str = "http://ombret.test";
pub const MEDIA_TYPE: &str = ombret_core::job::MEDIA_TYPE;

pub struct House {
    pub router: Router,
    pub app: App,
    pub pool: PgPool,
    pub scale: Uuid,
    pub keys: Keys,
}

#[derive(Debug)]
pub struct Reply {
    pub status: StatusCode,
    pub kind: String,
    pub cookie: Option<String>,
    pub bytes: Vec<u8>,
    pub body: Value,
}

impl Reply {
    pub fn code(&self) -> String {
        self.body["type"].as_str().unwrap_or_default().rsplit(':').next().unwrap_or_default().to_owned()
    }
}

pub fn scale_form(id: Uuid) -> Value {
    json!({
        "id": id, "name": "Wool table", "owner": "Tussock Wool Store", "place": "Grading floor", "kind": "floor", "serial": "WT-07", "indicator": "P4",
        "unit": "kg", "plate_max": "870", "plate_d": "0.2", "trade": true, "tolerance": {"scheme": "r76_in_service", "class": "III"},
        "interval_months": 12, "field_width": 6
    })
}

pub fn read_draft(stage: &str, load: &str, shown: &str) -> Value {
    json!({"kind": "read", "stage": stage, "load": load, "shown": {"from": "typed", "text": shown}, "way": "up"})
}

fn counts(text: &str) -> Value {
    json!({"from": "typed", "text": text, "steady": true})
}

/// A job from the inspection to the signature, as it is typed.
pub fn drafts_of(items: &[String]) -> Vec<Value> {
    let mut drafts: Vec<Value> =
        items.iter().map(|item| json!({"kind": "looked_over", "item": item, "finding": "ok"})).collect();
    drafts.push(read_draft("as_found", "600", "600.2"));
    drafts.push(json!({"kind": "set_up", "max": "870", "d": "0.2", "unit": "kg"}));
    drafts.push(json!({"kind": "zero_captured", "counts": counts("41250")}));
    drafts.push(json!({"kind": "span_chosen", "weight": "600"}));
    drafts.push(json!({"kind": "span_captured", "counts": counts("241250")}));
    drafts.push(json!({"kind": "adjustment_saved"}));
    drafts.extend(["0", "100", "400", "600"].map(|load| read_draft("prove", load, load)));
    let mut down = read_draft("prove", "400", "400");
    down["way"] = json!("down");
    drafts.push(down);
    drafts.push(json!({"kind": "sealed_up", "seals": "TW 9", "switch_back": true, "locked": true}));
    drafts.push(json!({"kind": "closed", "name": "Ebba Lund"}));
    drafts
}

impl House {
    /// The router over a database, with nothing and nobody in it.
    pub fn around(pool: PgPool) -> Self {
        Self::with_keys(pool, Keys::passing())
    }

    /// The same, with keys of its own.
    pub fn with_keys(pool: PgPool, keys: Keys) -> Self {
        Self::with(pool, Settings { keys, ..Settings::default() })
    }

    /// The same, with settings of its own.
    pub fn with(pool: PgPool, settings: Settings) -> Self {
        Self::with_post(pool, settings, None)
    }

    /// The same, and mail is sent.
    pub fn with_post(pool: PgPool, settings: Settings, post: Option<ombret::http::Post>) -> Self {
        let keys = settings.keys.clone();
        let settings = Settings {
            secret: "the secret of the tests".to_owned().into(),
            public_url: settings.public_url.clone().or_else(|| Some(ORIGIN.into())),
            ..settings
        };
        let app = App { post, ..App::new(pool.clone(), settings, CancellationToken::new()) };
        tokio::spawn(ombret::http::dispatch(app.clone()));
        let router = router(app.clone());
        Self { router, app, pool, scale: Uuid::now_v7(), keys }
    }

    pub async fn new(pool: PgPool) -> Self {
        Self::peopled(Self::around(pool)).await
    }

    /// With people and a scale in it.
    pub async fn peopled(house: Self) -> Self {
        let pool = house.pool.clone();
        let hash = hash_password("right").unwrap();
        for (workshop, names) in [
            (
                "Skarholm",
                &[
                    ("ebba", &[Role::Technician][..]),
                    ("maren", &[Role::Reviewer]),
                    ("signe", &[Role::Technician, Role::Manager]),
                ][..],
            ),
            ("Elsewhere", &[("foreign", &[Role::Technician][..])][..]),
        ] {
            let id = Uuid::now_v7();
            people::add_workshop(&pool, id, workshop).await.unwrap();
            for (name, roles) in names {
                let person = Person {
                    id: Uuid::now_v7(),
                    workshop_id: id,
                    workshop: workshop.into(),
                    name: if *name == "ebba" { "Ebba Lund".into() } else { (*name).into() },
                    roles: roles.to_vec(),
                };
                people::add_person(&pool, &person, name, &hash).await.unwrap();
            }
        }
        let cookie = house.sign_in("ebba").await;
        let added =
            house.call(Some(&cookie), Method::POST, "/api/scales", Some(scale_form(house.scale))).await;
        assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
        house
    }

    /// The same, with lists asked of a replica.
    pub fn with_replica(self, reads: PgPool) -> Self {
        let app = App { reads, ..self.app };
        Self { router: router(app.clone()), app, ..self }
    }

    /// Takes up long work that waits, as every instance does now and then.
    pub fn take_up(&self) {
        self.app.tasks.wake();
    }

    pub async fn send(
        &self,
        cookie: Option<&str>,
        method: Method,
        path: &str,
        kind: Option<&str>,
        body: Vec<u8>,
        origin: Option<&str>,
    ) -> Reply {
        let mut request = Request::builder().method(method).uri(path).header(header::HOST, "ombret.test");
        for (name, value) in
            [(header::CONTENT_TYPE, kind), (header::ORIGIN, origin), (header::COOKIE, cookie)]
        {
            if let Some(value) = value {
                request = request.header(name, value);
            }
        }
        self.answer(request.body(Body::from(body)).unwrap()).await
    }

    async fn answer(&self, request: Request<Body>) -> Reply {
        let response = self.router.clone().oneshot(request).await.unwrap();
        let text = |name| response.headers().get(name).and_then(|v| v.to_str().ok()).map(str::to_owned);
        let set = response.headers().get_all(header::SET_COOKIE).iter();
        let session =
            set.filter_map(|v| v.to_str().ok()).find(|v| v.contains("ombret_session=")).map(str::to_owned);
        let (status, kind, cookie) =
            (response.status(), text(header::CONTENT_TYPE).unwrap_or_default(), session);
        let bytes = response.into_body().collect().await.unwrap().to_bytes().to_vec();
        // As a person reads it: with its messages in English.
        let body = Language::En.read_out(serde_json::from_slice(&bytes).unwrap_or(Value::Null));
        Reply { status, kind, cookie, bytes, body }
    }

    pub async fn call(&self, cookie: Option<&str>, method: Method, path: &str, body: Option<Value>) -> Reply {
        let kind = body.is_some().then_some("application/json");
        self.send(
            cookie,
            method,
            path,
            kind,
            body.map_or_else(Vec::new, |b| b.to_string().into_bytes()),
            Some(ORIGIN),
        )
        .await
    }

    /// A body sent with what is preferred of the answer.
    pub async fn preferring(&self, cookie: &str, prefer: &str, path: &str, body: Value) -> Reply {
        let request = Request::builder()
            .method(Method::POST)
            .uri(path)
            .header(header::HOST, "ombret.test")
            .header(header::ORIGIN, ORIGIN)
            .header(header::CONTENT_TYPE, "application/json")
            .header(header::COOKIE, cookie)
            .header("prefer", prefer);
        self.answer(request.body(Body::from(body.to_string())).unwrap()).await
    }

    /// A body sent from an address.
    pub async fn from(&self, from: &str, cookie: Option<&str>, path: &str, body: String) -> Reply {
        let peer = std::net::SocketAddr::new(from.parse().unwrap(), 50_000);
        let mut request = Request::builder()
            .method(Method::POST)
            .uri(path)
            .header(header::HOST, "ombret.test")
            .header(header::ORIGIN, ORIGIN)
            .header(header::CONTENT_TYPE, "application/json")
            .extension(axum::extract::ConnectInfo(peer));
        if let Some(cookie) = cookie {
            request = request.header(header::COOKIE, cookie);
        }
        self.answer(request.body(Body::from(body)).unwrap()).await
    }

    /// The cookie by which a browser is known in which somebody signed in.
    pub async fn known(&self, name: &str) -> String {
        let body = json!({"sign_in": name, "password": "right"}).to_string();
        let request = Request::builder()
            .method(Method::POST)
            .uri("/api/session")
            .header(header::HOST, "ombret.test")
            .header(header::ORIGIN, ORIGIN)
            .header(header::CONTENT_TYPE, "application/json")
            .body(Body::from(body))
            .unwrap();
        let response = self.router.clone().oneshot(request).await.unwrap();
        let set = response.headers().get_all(header::SET_COOKIE).iter();
        let known = set.filter_map(|v| v.to_str().ok()).find(|v| v.contains("ombret_known=")).unwrap();
        known.split(';').next().unwrap().to_owned()
    }

    /// The heads of an answer.
    pub async fn headers(&self, path: &str) -> axum::http::HeaderMap {
        let request =
            Request::builder().uri(path).header(header::HOST, "ombret.test").body(Body::empty()).unwrap();
        self.router.clone().oneshot(request).await.unwrap().headers().clone()
    }

    pub async fn sign_in(&self, name: &str) -> String {
        let reply = self
            .call(None, Method::POST, "/api/session", Some(json!({"sign_in": name, "password": "right"})))
            .await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
        reply.cookie.unwrap().split(';').next().unwrap().to_owned()
    }

    pub async fn begin(&self, cookie: &str) -> Uuid {
        let id = Uuid::now_v7();
        let reply = self
            .call(Some(cookie), Method::POST, "/api/jobs", Some(json!({"id": id, "scale_id": self.scale})))
            .await;
        assert_eq!(reply.status, StatusCode::CREATED, "{}", reply.body);
        id
    }

    /// What somebody is told who may not begin a job.
    pub async fn begin_refused(&self, cookie: &str) -> StatusCode {
        let body = json!({"id": Uuid::now_v7(), "scale_id": self.scale});
        self.call(Some(cookie), Method::POST, "/api/jobs", Some(body)).await.status
    }

    pub async fn append(&self, cookie: &str, job: Uuid, after: u32, draft: Value) -> Reply {
        let body = json!({"id": Uuid::now_v7(), "after": after, "draft": draft, "password": "right"});
        self.call(Some(cookie), Method::POST, &format!("/api/jobs/{job}/entries"), Some(body)).await
    }

    pub async fn head(&self, cookie: &str, job: Uuid) -> u32 {
        let reply = self.call(Some(cookie), Method::GET, &format!("/api/jobs/{job}"), None).await;
        u32::try_from(reply.body["job"]["head_seq"].as_u64().unwrap()).unwrap()
    }

    pub async fn file(&self, cookie: &str, job: Uuid) -> Vec<u8> {
        let reply = self.call(Some(cookie), Method::GET, &format!("/api/jobs/{job}/file"), None).await;
        assert_eq!((reply.status, reply.kind.as_str()), (StatusCode::OK, MEDIA_TYPE));
        reply.bytes
    }

    /// A job from start to signature; the next action leads the way through the checklist.
    pub async fn whole_job(&self, cookie: &str) -> Uuid {
        let job = self.begin(cookie).await;
        let mut after = 1;
        let reply = self.call(Some(cookie), Method::GET, &format!("/api/jobs/{job}"), None).await;
        let items: Vec<String> = reply.body["assessment"]["inspection"]
            .as_array()
            .unwrap()
            .iter()
            .map(|c| c["item"].as_str().unwrap().to_owned())
            .collect();
        for draft in drafts_of(&items) {
            let reply = self.append(cookie, job, after, draft.clone()).await;
            assert_eq!(reply.status, StatusCode::OK, "{draft}: {}", reply.body);
            after += 1;
        }
        job
    }
}
