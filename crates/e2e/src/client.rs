//! The server's answers without a page, for measuring: one kept connection, one person signed in.

use bytes::Bytes;
use http_body_util::{BodyExt, Full};
use hyper_util::client::legacy::Client as Http;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;
use serde_json::Value;

use crate::Step;

/// Somebody who asks.
pub struct Client {
    http: Http<HttpConnector, Full<Bytes>>,
    base: String,
    cookie: String,
    minimal: bool,
}

impl Client {
    /// With a session's cookie.
    pub fn new(base: &str, cookie: &str) -> Self {
        Self {
            http: Http::builder(TokioExecutor::new()).build_http(),
            base: base.into(),
            cookie: cookie.into(),
            minimal: false,
        }
    }

    /// Asks only that what is sent is taken, or for its whole answer.
    #[must_use]
    pub fn minimal(mut self, minimal: bool) -> Self {
        self.minimal = minimal;
        self
    }

    /// Signs in.
    ///
    /// # Errors
    /// Where the server says no.
    pub async fn signed_in(base: &str, name: &str, password: &str) -> Step<Self> {
        let mut client = Self::new(base, "");
        let body = serde_json::json!({"sign_in": name, "password": password}).to_string();
        let response =
            client.http.request(client.asked("POST", "/api/session").body(Full::from(body))?).await?;
        let cookie = response
            .headers()
            .get_all("set-cookie")
            .iter()
            .filter_map(|c| c.to_str().ok()?.split(';').next())
            .find(|c| c.contains("ombret_session="));
        client.cookie = cookie.ok_or("nobody was signed in")?.to_owned();
        Ok(client)
    }

    /// The same person on a connection of its own.
    pub fn again(&self) -> Self {
        Self::new(&self.base, &self.cookie).minimal(self.minimal)
    }

    const fn prefers(&self) -> &'static str {
        if self.minimal { "return=minimal" } else { "return=representation" }
    }

    fn asked(&self, method: &str, path: &str) -> http::request::Builder {
        http::Request::builder()
            .method(method)
            .uri(format!("{}{path}", self.base))
            .header("cookie", &self.cookie)
            .header("origin", &self.base)
            .header("content-type", "application/json")
            .header("prefer", self.prefers())
    }

    async fn sent(&self, request: http::Request<Full<Bytes>>) -> Step<Value> {
        let bytes = self.http.request(request).await?.into_body().collect().await?.to_bytes();
        Ok(if bytes.is_empty() { Value::Null } else { serde_json::from_slice(&bytes)? })
    }

    /// The answer to a question, whole.
    ///
    /// # Errors
    /// Where none comes, or one that is no JSON.
    pub async fn get(&self, path: &str) -> Step<Value> {
        self.sent(self.asked("GET", path).body(Full::default())?).await
    }

    /// The status of an answer and its bytes; whatever is sent.
    ///
    /// # Errors
    /// Where none comes within ten seconds, or the request is none that can be sent.
    pub async fn raw(&self, method: &str, path: &str, kind: &str, body: Vec<u8>) -> Step<(u16, Bytes)> {
        let request = http::Request::builder()
            .method(method)
            .uri(format!("{}{path}", self.base))
            .header("cookie", &self.cookie)
            .header("origin", &self.base)
            .header("content-type", kind)
            .header("prefer", self.prefers())
            .body(Full::from(body))?;
        let answer = async {
            let response = self.http.request(request).await?;
            let status = response.status().as_u16();
            Step::Ok((status, response.into_body().collect().await?.to_bytes()))
        };
        tokio::time::timeout(std::time::Duration::from_secs(10), answer).await?
    }

    /// The answer to something that was sent.
    ///
    /// # Errors
    /// As of [`Self::get`].
    pub async fn post(&self, path: &str, body: &Value) -> Step<Value> {
        self.sent(self.asked("POST", path).body(Full::from(body.to_string()))?).await
    }
}

/// Prints median, 95 % and most of times in milliseconds.
pub fn spread(name: &str, mut millis: Vec<f64>) {
    millis.sort_by(f64::total_cmp);
    let at = |share: usize| {
        millis
            .get((millis.len() * share / 100).min(millis.len().saturating_sub(1)))
            .copied()
            .unwrap_or(f64::NAN)
    };
    println!(
        "{name:<48} median {:>7.2} ms   95 % {:>7.2} ms   most {:>7.2} ms   ({})",
        at(50),
        at(95),
        at(100),
        millis.len()
    );
}
