//! Mail: reminders of what is due, and invitations. Without a mail server in the settings none is sent.

use std::time::Duration;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use lettre::Address;
use ombret_core::Refusal;
use ombret_core::wording::Language;
use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;

use super::app::App;
use super::body::Body;
use super::guard::{Manager, SignedIn};
use super::post::Post;
use super::problem::{ApiError, Problem};
use crate::store::reminders::{self, Reminder, ReminderRules};
use crate::store::{StoreError, people};
use ombret_core::text;

/// How often it is looked what is to be reminded of.
const LOOKS: Duration = Duration::from_secs(900);
/// Most days ahead.
const MOST_DAYS: u16 = 366;

/// The words of a reminder, in the customer's language or the workshop's.
fn words_of(mail: &Reminder, language: Language) -> (String, String) {
    let words = language.words();
    let list: Vec<String> = mail
        .scales
        .iter()
        .map(|s| {
            let parts: Vec<&str> = [s.name.as_str(), s.serial.as_str(), s.place.as_str()]
                .into_iter()
                .filter(|t| !t.is_empty())
                .collect();
            format!("- {}: {}", s.due, parts.join(", "))
        })
        .collect();
    let gaps = [
        ("workshop", mail.workshop_name.as_str()),
        ("scales", &list.join("\n")),
        ("count", &list.len().to_string()),
    ];
    let body = if mail.customer.is_some() { "reminder_customer" } else { "reminder_workshop" };
    (words.fill("reminder_subject", &gaps), words.fill(body, &gaps))
}

/// Reminds of what is due; how many mails were sent. Each is claimed before it is sent: never twice.
///
/// # Errors
/// Where the database says no.
pub async fn remind(app: &App, post: &Post) -> Result<usize, StoreError> {
    let mut sent = 0;
    for mail in reminders::claim(&app.pool, OffsetDateTime::now_utc().date()).await? {
        let own = people::paper(&app.pool, mail.workshop).await?.letterhead.language;
        let language = mail.customer.as_ref().and_then(|c| c.language).unwrap_or(own);
        let (subject, text) = words_of(&mail, language);
        match post.send(&mail.to, &subject, &text).await {
            Ok(()) => sent += 1,
            Err(error) => {
                tracing::warn!(%error, "a reminder was not sent; it is tried again later");
                reminders::give_back(&app.pool, &mail).await?;
            }
        }
    }
    Ok(sent)
}

/// Reminds until the program ends.
pub async fn keep_reminding(app: App) {
    let Some(post) = app.post.clone() else { return };
    loop {
        match remind(&app, &post).await {
            Ok(0) => {}
            Ok(sent) => tracing::info!(sent, "reminders were sent"),
            Err(error) => tracing::debug!(%error, "nothing could be reminded of now"),
        }
        tokio::select! {
            () = app.readers.stop().cancelled() => return,
            () = tokio::time::sleep(LOOKS) => {}
        }
    }
}

/// What the workshop wants of reminders, and whether any can be sent.
#[derive(Serialize, ToSchema)]
pub struct RemindersReply {
    /// As it is.
    rules: ReminderRules,
    /// A mail server is set.
    mail: bool,
    /// Sent in the last thirty days, one for each scale and whom.
    sent: i64,
}

/// What the workshop wants of reminders.
#[utoipa::path(get, path = "/api/reminders", tag = "customers", responses((status = 200, body = RemindersReply), (status = 401, body = Problem)))]
pub async fn get_reminders(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<RemindersReply>, ApiError> {
    Ok(Json(RemindersReply {
        rules: reminders::rules(&app.pool, person.workshop_id).await?,
        mail: app.post.is_some(),
        sent: reminders::sent_lately(&app.pool, person.workshop_id).await?,
    }))
}

/// Changes what the workshop wants of reminders.
#[utoipa::path(put, path = "/api/reminders", tag = "customers", request_body = ReminderRules, responses((status = 204), (status = 403, body = Problem), (status = 422, body = Problem)))]
pub async fn set_reminders(
    State(app): State<App>,
    Manager(person): Manager,
    Body(mut rules): Body<ReminderRules>,
) -> Result<StatusCode, ApiError> {
    rules.workshop = rules.workshop.trim().to_owned();
    if rules.days > MOST_DAYS {
        return Err(Refusal::from(Refused::OutOfRange { most_days: MOST_DAYS }).into());
    }
    if !rules.workshop.is_empty() && rules.workshop.parse::<Address>().is_err() {
        return Err(Refusal::from(Refused::BadText).into());
    }
    reminders::set_rules(&app.pool, &person, &rules).await?;
    Ok(StatusCode::NO_CONTENT)
}

ombret_core::refusals! {
    enum Refused {
        OutOfRange { most_days: u16 } = "out_of_range" at "days":
            text!("mail-api-at-most-most-days-days", most_days);
        BadText = "bad_text" at "workshop": text!("mail-api-this-is-no-mail-address");
    }
}
