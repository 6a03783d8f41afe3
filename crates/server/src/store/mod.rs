//! The database. SQL lives here only, one file for each aggregate; rows are turned into the
//! program's own types before they leave.

pub mod archive;
pub mod bulk;
pub mod due;
pub mod figures;
pub mod history;
pub mod jobs;
pub mod kit;
pub mod lookup;
pub mod people;
pub mod practice;
pub mod profiles;
pub mod records;
pub mod scales;

use sqlx::PgPool;
use sqlx::postgres::{PgConnectOptions, PgDatabaseError, PgPoolOptions, PgSeverity};
use std::str::FromStr;
use std::time::Duration;

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

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        let gone = match &error {
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
        if gone { Self::Gone(error) } else { Self::Refused(error) }
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

/// A pool that connects when it is first used, so that the program starts without its database.
///
/// # Errors
/// Where the address is not one.
pub fn pool(url: &str, connections: u32) -> Result<PgPool, sqlx::Error> {
    // What a typed text matches decides the way to it: a plan made once for every text would be wrong for most.
    let options = PgConnectOptions::from_str(url)?
        .application_name("ombret")
        .options([("plan_cache_mode", "force_custom_plan")]);
    Ok(PgPoolOptions::new()
        .max_connections(connections)
        .acquire_timeout(Duration::from_secs(3))
        .connect_lazy_with(options))
}
