//! The database's migrations, in a crate of their own: the server's queries are checked against a
//! database that these have made, so they must build without the server.

/// Every migration, in order.
pub static MIGRATOR: sqlx::migrate::Migrator = sqlx::migrate!("./migrations");
