//! Who is asking, and from where. A handler that needs somebody takes an extractor; it cannot
//! forget to ask.

use std::net::{IpAddr, Ipv4Addr, SocketAddr};

use axum::extract::{ConnectInfo, FromRequestParts, Request, State};
use axum::http::request::Parts;
use axum::http::{HeaderMap, Method, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use axum_extra::extract::CookieJar;
use time::Duration;

use super::app::App;
use super::problem::ApiError;
use super::secrets::{TOKEN, cookie_name, token_hash};
use crate::store::factors;
use crate::store::people::{self, Person, Role};

/// Anybody who is signed in.
pub struct SignedIn(pub Person);

impl FromRequestParts<App> for SignedIn {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Self::Rejection> {
        if let Some(token) = bearer(&parts.headers) {
            return factors::by_token(&app.pool, token).await?.map(Self).ok_or(ApiError::SignedOut);
        }
        Session::from_request_parts(parts, app).await.map(|session| Self(session.person))
    }
}

/// The token of a program, where one is sent.
fn bearer(headers: &HeaderMap) -> Option<&str> {
    let sent = headers.get(header::AUTHORIZATION)?.to_str().ok()?;
    sent.strip_prefix("Bearer ").map(str::trim).filter(|token| token.starts_with(TOKEN))
}

/// Anybody who is signed in, with the session: for what goes on as long as that. A program's token is none.
pub struct Session {
    /// Who.
    pub person: Person,
    /// The hash under which it is stored.
    pub hash: Vec<u8>,
}

impl FromRequestParts<App> for Session {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Self::Rejection> {
        let jar = CookieJar::from_headers(&parts.headers);
        let token = jar.get(cookie_name(app)).ok_or(ApiError::SignedOut)?;
        let hash = token_hash(&app.settings.secret, token.value())?;
        let idle = Duration::hours(app.settings.session_idle_h.into());
        let person = people::session(&app.pool, &hash, idle).await?.ok_or(ApiError::SignedOut)?;
        Ok(Self { person, hash })
    }
}

async fn with_role(parts: &mut Parts, app: &App, role: Role) -> Result<Person, ApiError> {
    let SignedIn(person) = SignedIn::from_request_parts(parts, app).await?;
    if person.is(role) { Ok(person) } else { Err(ApiError::WrongRole) }
}

/// A technician.
pub struct Technician(pub Person);

impl FromRequestParts<App> for Technician {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Self::Rejection> {
        with_role(parts, app, Role::Technician).await.map(Self)
    }
}

/// A manager.
pub struct Manager(pub Person);

impl FromRequestParts<App> for Manager {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Self::Rejection> {
        with_role(parts, app, Role::Manager).await.map(Self)
    }
}

/// Where a request comes from.
pub struct Caller(pub IpAddr);

impl FromRequestParts<App> for Caller {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Self::Rejection> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>().map(|ConnectInfo(peer)| peer.ip());
        // Only the proxy's own word counts: the last of the list, which it added itself.
        let told = parts.headers.get_all("x-forwarded-for").iter().next_back().and_then(|v| v.to_str().ok());
        let forwarded = told
            .filter(|_| app.settings.behind_proxy)
            .and_then(|list| list.rsplit(',').next()?.trim().parse().ok());
        Ok(Self(forwarded.or(peer).unwrap_or(IpAddr::V4(Ipv4Addr::LOCALHOST))))
    }
}

/// Lets a write pass only if the browser says that it comes from the program's own pages.
pub async fn same_origin(State(app): State<App>, request: Request, next: Next) -> Response {
    let reads = matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    // No other site can make a browser send a program's token.
    let program = bearer(request.headers()).is_some();
    if reads || program || own_origin(request.headers(), app.settings.public_url.as_deref()) {
        next.run(request).await
    } else {
        ApiError::ForeignOrigin.into_response()
    }
}

fn own_origin(headers: &HeaderMap, public_url: Option<&str>) -> bool {
    let text = |name| headers.get(name).and_then(|v: &axum::http::HeaderValue| v.to_str().ok());
    let Some(origin) = text(header::ORIGIN) else { return false };
    match public_url {
        Some(own) => origin == own.trim_end_matches('/'),
        None => text(header::HOST).is_some_and(|host| {
            origin.strip_prefix("http://").or_else(|| origin.strip_prefix("https://")) == Some(host)
        }),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_own_origin_may_write() {
        let headers = |origin: Option<&str>| {
            let mut headers = HeaderMap::new();
            headers.insert(header::HOST, "127.0.0.1:7400".parse().unwrap());
            origin.map(|o| headers.insert(header::ORIGIN, o.parse().unwrap()));
            headers
        };
        for (origin, public, passes) in [
            (Some("http://127.0.0.1:7400"), None, true),
            (Some("http://127.0.0.1:7401"), None, false),
            (Some("http://evil.example"), None, false),
            (Some("null"), None, false),
            (None, None, false),
            (Some("https://scales.example"), Some("https://scales.example/"), true),
            (Some("http://127.0.0.1:7400"), Some("https://scales.example"), false),
        ] {
            assert_eq!(own_origin(&headers(origin), public), passes, "{origin:?} {public:?}");
        }
    }
}
