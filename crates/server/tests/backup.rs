//! A backup restores: into an empty database, with everything that was there, and it verifies.

use std::os::unix::fs::PermissionsExt;

use crate::house::House;
use ombret::cli;
use ombret::settings::Settings;
use ombret::signing::Keys;
use sqlx::postgres::PgPoolOptions;
use sqlx::{Connection, PgConnection, PgPool};

/// The address of another database on the server of the tests.
fn address(database: &str) -> String {
    let own = std::env::var("DATABASE_URL").unwrap();
    let (server, _) = own.rsplit_once('/').unwrap();
    format!("{server}/{database}")
}

async fn name(pool: &PgPool) -> String {
    sqlx::query_scalar("select current_database()").fetch_one(pool).await.unwrap()
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_backup_restores_into_an_empty_database_and_verifies(pool: PgPool) {
    let keys = Keys::passing();
    let house = House::peopled(House::with_keys(pool.clone(), keys.clone())).await;
    let ebba = house.sign_in("ebba").await;
    house.whole_job(&ebba).await;
    let settings = |database: &str| Settings {
        database_url: address(database).into(),
        keys: keys.clone(),
        ..Settings::default()
    };
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("workshop.backup");
    let own = name(&pool).await;
    let backed = cli::backup(&settings(&own), &pool, &file).await.unwrap();
    assert!(backed.looked.broken.is_empty() && backed.looked.jobs == 1 && backed.bytes > 1_000);
    assert_eq!(std::fs::metadata(&file).unwrap().permissions().mode() & 0o777, 0o600);
    let again = cli::backup(&settings(&own), &pool, &file).await.unwrap_err().to_string();
    assert!(again.contains("there already"), "{again}");

    // A name of PostgreSQL has at most 63 characters.
    let fresh = format!("r_{}", own.chars().rev().take(40).collect::<String>());
    let mut server = PgConnection::connect(&address("postgres")).await.unwrap();
    sqlx::query(sqlx::AssertSqlSafe(format!("create database \"{fresh}\"")))
        .execute(&mut server)
        .await
        .unwrap();
    let into = PgPoolOptions::new().max_connections(2).connect(&address(&fresh)).await.unwrap();
    let looked = cli::restore(&settings(&fresh), &into, &file).await.unwrap();
    assert_eq!(looked, backed.looked, "everything that was there, and it holds");
    let count =
        "select (select count(*) from entry) + (select count(*) from person) + (select count(*) from audit)";
    let counted =
        |pool: PgPool| async move { sqlx::query_scalar::<_, i64>(count).fetch_one(&pool).await.unwrap() };
    assert_eq!(counted(into.clone()).await, counted(pool.clone()).await);
    // What guards the journal came along.
    assert!(sqlx::query("update entry set sealed = sealed").execute(&into).await.is_err());
    let full = cli::restore(&settings(&fresh), &into, &file).await.unwrap_err().to_string();
    assert!(full.contains("not empty"), "{full}");
    into.close().await;

    // A file that is cut short leaves the database empty.
    let bytes = std::fs::read(&file).unwrap();
    let cut = folder.path().join("cut.backup");
    std::fs::write(&cut, &bytes[..bytes.len() / 2]).unwrap();
    sqlx::query(sqlx::AssertSqlSafe(format!("drop database \"{fresh}\"")))
        .execute(&mut server)
        .await
        .unwrap();
    sqlx::query(sqlx::AssertSqlSafe(format!("create database \"{fresh}\"")))
        .execute(&mut server)
        .await
        .unwrap();
    let into = PgPoolOptions::new().max_connections(2).connect(&address(&fresh)).await.unwrap();
    assert!(
        cli::restore(&settings(&fresh), &into, &cut).await.unwrap_err().to_string().contains("pg_restore")
    );
    let tables: i64 = sqlx::query_scalar("select count(*) from pg_tables where schemaname = 'public'")
        .fetch_one(&into)
        .await
        .unwrap();
    assert_eq!(tables, 0);
    into.close().await;
    sqlx::query(sqlx::AssertSqlSafe(format!("drop database \"{fresh}\"")))
        .execute(&mut server)
        .await
        .unwrap();
}
