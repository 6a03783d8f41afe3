//! Migrates the database named by DATABASE_URL.

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let pool = sqlx::PgPool::connect(&std::env::var("DATABASE_URL")?).await?;
    ombret_migrate::MIGRATOR.run(&pool).await?;
    Ok(())
}
