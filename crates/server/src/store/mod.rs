//! The database. SQL lives here only, one file for each aggregate; rows are turned into the
//! program's own types before they leave.

pub mod accounts;
pub mod archive;
pub mod audit;
pub mod beside;
pub mod bulk;
pub mod bus;
pub mod customers;
pub mod due;
pub mod editions;
pub mod factors;
pub mod figures;
pub mod history;
pub mod intake;
pub mod job_cache;
pub mod jobs;
pub mod journals;
pub mod kit;
pub mod listed;
pub mod lookup;
pub mod offline;
pub mod owners;
pub mod people;
mod person;
pub mod practice;
pub mod profiles;
pub mod proofs;
pub mod records;
pub mod reminders;
pub mod roots;
pub mod scales;
mod search;
pub mod tasks;
pub mod teaching;

use sqlx::postgres::{PgConnectOptions, PgDatabaseError, PgPoolOptions, PgSeverity, PgSslMode};
use sqlx::{Connection, PgPool};
use std::str::FromStr;
use std::time::Duration;

use crate::settings::{Secret, Settings};

/// What the database could not do.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// It cannot be reached.
    #[error("the database cannot be reached")]
    Gone(#[source] sqlx::Error),
    /// It said no.
    #[error("the database refused: {0}")]
    Refused(#[source] sqlx::Error),
    /// What is stored cannot be read back.
    #[error("what is stored cannot be read: {0}")]
    Unreadable(String),
}

impl StoreError {
    /// The table whose row of the same identity is there already, where that is why it refused.
    pub fn twice(&self) -> Option<&str> {
        match self {
            Self::Refused(sqlx::Error::Database(db)) if db.is_unique_violation() => db.table(),
            _ => None,
        }
    }
}

/// Whose fault an error is.
enum Whose {
    /// The database is away, or the line to it.
    Away,
    /// It said no.
    Refused,
}

impl StoreError {
    fn of(error: &sqlx::Error) -> Whose {
        let gone = match error {
            sqlx::Error::Io(_)
            | sqlx::Error::PoolTimedOut
            | sqlx::Error::PoolClosed
            | sqlx::Error::Tls(_) => true,
            // A fatal error ends the connection (shutting down, starting up, not accepting any);
            // class 08 is the connection itself, 57P the operator.
            sqlx::Error::Database(db) => {
                let fatal = db
                    .try_downcast_ref::<PgDatabaseError>()
                    .is_some_and(|e| matches!(e.severity(), PgSeverity::Fatal | PgSeverity::Panic));
                fatal || db.code().is_some_and(|c| c.starts_with("08") || c.starts_with("57P"))
            }
            sqlx::Error::Protocol(_) => true,
            _ => false,
        };
        if gone { Whose::Away } else { Whose::Refused }
    }
}

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        match Self::of(&error) {
            Whose::Away => Self::Gone(error),
            Whose::Refused => Self::Refused(error),
        }
    }
}

impl From<serde_json::Error> for StoreError {
    fn from(error: serde_json::Error) -> Self {
        Self::Unreadable(error.to_string())
    }
}

/// A pattern for `like` that finds a text anywhere, whatever signs it has.
fn anywhere(text: &str) -> String {
    format!("%{}%", text.to_lowercase().replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_"))
}

/// Brings the database to the program's version, as its owner where one is set, and grants the program's
/// own role what it needs and no more: it can neither change what is append-only nor switch off what guards
/// it.
pub async fn migrate(settings: &Settings, pool: &PgPool) -> Result<(), MigrateError> {
    let text = |secret: &Secret| String::from_utf8_lossy(secret.expose()).into_owned();
    let owner = text(&settings.owner_database_url);
    let own = if owner.is_empty() { text(&settings.database_url) } else { owner.clone() };
    // A migration of a large workshop takes longer than a request may.
    let owning = PgPoolOptions::new()
        .max_connections(1)
        .acquire_timeout(Duration::from_secs(3))
        .connect_lazy_with(options(&own)?);
    ombret_migrate::MIGRATOR.run(&owning).await?;
    if owner.is_empty() {
        owning.close().await;
        let owns = sqlx::query_scalar!(
            r#"select pg_has_role(current_user, relowner, 'member') as "owns!" from pg_class where oid = 'record'::regclass"#
        )
        .fetch_one(pool)
        .await?;
        if owns && !settings.listen.ip().is_loopback() {
            return Err(MigrateError::Owns);
        }
        return Ok(());
    }
    let role: String = sqlx::query_scalar("select current_user").fetch_one(pool).await?;
    // PostgreSQL takes no parameters here; a name is quoted as it quotes one.
    let role = format!("\"{}\"", role.replace('"', "\"\""));
    let grants = format!(
        "grant usage on schema public to {role};
         grant select, insert, update, delete on all tables in schema public to {role};
         revoke insert, update, delete on _sqlx_migrations from {role};
         revoke update, delete on entry, audit, profile_edition from {role};
         revoke update, delete on record from {role};
         grant update (superseded) on record to {role};"
    );
    sqlx::raw_sql(sqlx::AssertSqlSafe(grants)).execute(&owning).await?;
    owning.close().await;
    Ok(())
}

/// Whether the database is of the program's version.
///
/// # Errors
/// Where it does not answer.
pub async fn migrated(pool: &PgPool) -> Result<bool, StoreError> {
    let wanted = ombret_migrate::MIGRATOR.iter().map(|m| m.version).max();
    let there =
        sqlx::query_scalar!("select to_regclass('_sqlx_migrations') is not null").fetch_one(pool).await?;
    if there != Some(true) {
        return Ok(false);
    }
    // Its own table, which no query that is checked when it is compiled knows.
    let version: Option<i64> =
        sqlx::query_scalar("select max(version) from _sqlx_migrations where success").fetch_one(pool).await?;
    Ok(version == wanted)
}

/// Why the database is not brought to the program's version.
#[derive(Debug, thiserror::Error)]
pub enum MigrateError {
    /// A migration.
    #[error(transparent)]
    Migration(#[from] sqlx::migrate::MigrateError),
    /// The database.
    #[error(transparent)]
    Database(#[from] sqlx::Error),
    /// The program could switch off what guards its records.
    #[error(
        "the role in OMBRET_DATABASE_URL owns the tables: set OMBRET_OWNER_DATABASE_URL to the owner, and OMBRET_DATABASE_URL to a role that owns nothing"
    )]
    Owns,
}

impl MigrateError {
    /// The database may come yet: trying again may help. A migration that cannot be made never will.
    pub fn passes(&self) -> bool {
        let away = |error: &sqlx::Error| matches!(StoreError::of(error), Whose::Away);
        match self {
            Self::Database(error) => away(error),
            Self::Migration(
                sqlx::migrate::MigrateError::Execute(error)
                | sqlx::migrate::MigrateError::ExecuteMigration(error, _),
            ) => away(error),
            Self::Migration(_) | Self::Owns => false,
        }
    }
}

/// Longest that a statement runs, and that it waits for a lock.
const TIMEOUTS: [(&str, &str); 2] = [("statement_timeout", "60s"), ("lock_timeout", "15s")];

/// How a database is reached. Beyond this machine only encrypted, with its certificate looked at, unless the
/// address says otherwise.
fn options(url: &str) -> Result<PgConnectOptions, sqlx::Error> {
    let options = PgConnectOptions::from_str(url)?.application_name("ombret");
    let host = options.get_host();
    let near = host.starts_with('/')
        || host == "localhost"
        || host.parse::<std::net::IpAddr>().is_ok_and(|ip| ip.is_loopback());
    Ok(if near || url.contains("sslmode=") { options } else { options.ssl_mode(PgSslMode::VerifyFull) })
}

/// A pool that connects when it is first used, so that the program starts without its database.
///
/// # Errors
/// Where the address is not one.
pub fn pool(url: &str, connections: u32) -> Result<PgPool, sqlx::Error> {
    Ok(pool_of(options(url)?, connections))
}

/// The same for what serves: no request keeps a statement running, or waits for a lock, for long.
///
/// # Errors
/// Where the address is not one.
pub fn serving_pool(url: &str, connections: u32) -> Result<PgPool, sqlx::Error> {
    Ok(pool_of(options(url)?.options(TIMEOUTS), connections))
}

/// The same for what is searched. What a typed text matches decides the way to it: a plan made once for every
/// text would be wrong for most.
///
/// # Errors
/// Where the address is not one.
pub fn searching_pool(url: &str, connections: u32) -> Result<PgPool, sqlx::Error> {
    let options = options(url)?.options(TIMEOUTS).options([("plan_cache_mode", "force_custom_plan")]);
    Ok(pool_of(options, connections))
}

/// A connection that was idle for so long is asked whether it is still one before it is used.
const TRUSTED: Duration = Duration::from_secs(1);

fn pool_of(options: PgConnectOptions, connections: u32) -> PgPool {
    PgPoolOptions::new()
        .max_connections(connections)
        .acquire_timeout(Duration::from_secs(3))
        // Asking each time would double the ways to the database and back.
        .test_before_acquire(false)
        .before_acquire(|connection, used| {
            Box::pin(async move {
                if used.idle_for > TRUSTED {
                    connection.ping().await?;
                }
                Ok(true)
            })
        })
        .connect_lazy_with(options)
}
