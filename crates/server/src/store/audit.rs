//! The audit trail: who changed what that others rest on. Append-only; each line is sealed over the one
//! before it, so that one taken out or changed shows.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::{PgPool, Postgres, Transaction};
use time::{Date, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::StoreError;
use super::person::Person;
use crate::sha256_hex;

/// What was done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum AuditAct {
    /// Whether records are approved was changed.
    ApprovalRule,
    /// The letterhead and the texts of certificates were changed.
    Letterhead,
    /// How causes are judged was changed.
    Judgement,
    /// A job file was imported.
    JobImported,
    /// An archive was written.
    ArchiveExported,
    /// An archive was imported.
    ArchiveImported,
    /// The calendar's address was made anew.
    CalendarAddress,
    /// Somebody signed in.
    SignedIn,
    /// A password was wrong.
    SignInRefused,
    /// Somebody signed out.
    SignedOut,
    /// The workshop was set up.
    WorkshopSetUp,
    /// Somebody was invited.
    Invited,
    /// An invitation was accepted.
    Joined,
    /// Roles were changed.
    RolesChanged,
    /// Somebody signs in no more.
    Deactivated,
    /// Somebody signs in again.
    Reactivated,
    /// A link for a new password was made.
    PasswordLink,
    /// A password was changed.
    PasswordChanged,
    /// A name was changed.
    NameChanged,
    /// Sessions were ended.
    SessionsEnded,
    /// What is reminded of was changed.
    ReminderRules,
    /// A link was made by which a customer sees their scales.
    OwnerLinkMade,
    /// Such a link was ended.
    OwnerLinkEnded,
    /// Practice was thrown away.
    PracticeRemoved,
    /// What is known of somebody who left was reduced to the name on records.
    PersonReduced,
    /// Name or address of a customer was changed.
    CustomerChanged,
    /// Two customers became one.
    CustomersMerged,
    /// A customer was taken away.
    CustomerRemoved,
    /// A table was imported.
    TableImported,
    /// The last import of a table was taken back.
    ImportUndone,
    /// A list was exported as a table.
    TableExported,
    /// The papers of several records were exported.
    PapersExported,
    /// A second factor was set up.
    SecondFactorOn,
    /// A second factor was taken away.
    SecondFactorOff,
    /// A recovery code was used in place of the second factor.
    RecoveryCodeUsed,
    /// A token for a program was made.
    TokenMade,
    /// A token for a program was taken back.
    TokenEnded,
    /// A device may take jobs along.
    DeviceMade,
    /// A device was shut out.
    DeviceRevoked,
}

/// A line of the trail.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct AuditLine {
    /// Its place, from 1.
    pub seq: i32,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Identity of who did it.
    pub person: Uuid,
    /// The name at that time.
    pub name: String,
    /// What was done.
    pub act: AuditAct,
    /// Before, after, and whatever else belongs to it.
    pub detail: Value,
}

/// A line that does not fit into the trail.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct BrokenLine {
    /// The workshop.
    pub workshop: Uuid,
    /// Its place.
    pub seq: i32,
}

fn seal(before: &str, text: &str) -> String {
    sha256_hex(format!("ombret.audit/1\n{before}\n{text}").as_bytes())
}

/// Adds a line, within the transaction that does what it tells of.
pub async fn add(
    tx: &mut Transaction<'static, Postgres>,
    person: &Person,
    act: AuditAct,
    detail: Value,
) -> Result<(), StoreError> {
    let head = sqlx::query!(
        "select audit_seq, audit_head from workshop where id = $1 for update",
        person.workshop_id
    )
    .fetch_one(&mut **tx)
    .await?;
    let line = AuditLine {
        seq: head.audit_seq + 1,
        at: OffsetDateTime::now_utc(),
        person: person.id,
        name: person.name.clone(),
        act,
        detail,
    };
    let text = serde_json::to_string(&line)?;
    let hash = seal(&head.audit_head, &text);
    sqlx::query!(
        "insert into audit (workshop_id, seq, sealed, hash) values ($1, $2, $3, $4)",
        person.workshop_id,
        line.seq,
        text,
        hash
    )
    .execute(&mut **tx)
    .await?;
    sqlx::query!(
        "update workshop set audit_seq = $2, audit_head = $3 where id = $1",
        person.workshop_id,
        line.seq,
        hash
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Adds a line on its own.
pub async fn note(pool: &PgPool, person: &Person, act: AuditAct, detail: Value) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    add(&mut tx, person, act, detail).await?;
    Ok(tx.commit().await?)
}

/// Which lines.
#[derive(Clone, Debug, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(default)]
pub struct AuditAsked {
    /// What was done.
    #[param(inline)]
    pub act: Option<AuditAct>,
    /// By whom.
    pub person: Option<Uuid>,
    /// From this day on.
    #[serde(with = "iso_date::option")]
    #[param(value_type = Option<String>, format = Date)]
    pub from: Option<Date>,
    /// Up to this day.
    #[serde(with = "iso_date::option")]
    #[param(value_type = Option<String>, format = Date)]
    pub to: Option<Date>,
}

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// Lines of a workshop before this one, the newest first.
pub async fn page(
    pool: &PgPool,
    workshop: Uuid,
    asked: &AuditAsked,
    before: Option<i32>,
    limit: i64,
) -> Result<Vec<AuditLine>, StoreError> {
    let act = asked
        .act
        .map(|act| Ok::<_, StoreError>(serde_json::to_value(act)?.as_str().unwrap_or_default().to_owned()))
        .transpose()?;
    let texts = sqlx::query_scalar!(
        "select sealed from audit where workshop_id = $1 and ($2::int is null or seq < $2) and ($3::text is null or act = $3) and ($4::text is null or person_id = $4)
         and ($5::date is null or (sealed::jsonb->>'at')::timestamptz >= $5::date) and ($6::date is null or (sealed::jsonb->>'at')::timestamptz < $6::date + 1)
         order by seq desc limit $7",
        workshop,
        before,
        act,
        asked.person.map(|id| id.to_string()),
        asked.from,
        asked.to,
        limit
    )
    .fetch_all(pool)
    .await?;
    texts.iter().map(|text| Ok(serde_json::from_str(text)?)).collect()
}

/// Everybody who stands in the trail, under the name they had last.
pub async fn names(pool: &PgPool, workshop: Uuid) -> Result<Vec<Named>, StoreError> {
    let rows = sqlx::query!(
        r#"select distinct on (person_id) person_id, coalesce(sealed::jsonb->>'name', '') as "name!" from audit where workshop_id = $1 order by person_id, seq desc"#,
        workshop
    )
    .fetch_all(pool)
    .await?;
    let mut named: Vec<Named> = rows
        .into_iter()
        .filter_map(|r| Some(Named { person: r.person_id.parse().ok()?, name: r.name }))
        .collect();
    named.sort_by_key(|n| n.name.to_lowercase());
    Ok(named)
}

/// Somebody of the trail.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Named {
    /// Identity.
    pub person: Uuid,
    /// Name.
    pub name: String,
}

/// Every trail: how many lines there are, and the first of each that does not fit.
pub async fn check(pool: &PgPool) -> Result<(usize, Vec<BrokenLine>), StoreError> {
    let (mut looked, mut broken) = (0, Vec::new());
    let heads =
        sqlx::query!("select id, audit_seq, audit_head from workshop order by id").fetch_all(pool).await?;
    for head in heads {
        let lines =
            sqlx::query!("select seq, sealed, hash from audit where workshop_id = $1 order by seq", head.id)
                .fetch_all(pool)
                .await?;
        looked += lines.len();
        let (mut before, mut due) = (String::new(), 1);
        let wrong = lines.iter().find(|line| {
            let fits = line.seq == due && seal(&before, &line.sealed) == line.hash;
            due += 1;
            before.clone_from(&line.hash);
            !fits
        });
        match wrong {
            Some(line) => broken.push(BrokenLine { workshop: head.id, seq: line.seq }),
            None if before != head.audit_head => {
                broken.push(BrokenLine { workshop: head.id, seq: head.audit_seq });
            }
            None => {}
        }
    }
    Ok((looked, broken))
}
