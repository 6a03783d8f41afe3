//! `ombret`: the program.

use std::io::{BufReader, BufWriter};
use std::path::PathBuf;
use std::process::ExitCode;
use std::time::Duration;

use clap::{Parser, Subcommand};
use ombret::http::{App, document, serve};
use ombret::settings::Settings;
use ombret::{cli, store};
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use tracing_subscriber::EnvFilter;

/// Ombret: set up, adjust, prove and record weighing instruments.
#[derive(Parser)]
#[command(version)]
struct Args {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serves the program; settings come from OMBRET_… and the file named by OMBRET_CONFIG.
    Serve,
    /// Migrates the database and ends.
    Migrate,
    /// Loads the demo's data into an empty database.
    DemoData {
        /// The demo's file.
        file: PathBuf,
        /// Where the practice scale sends its lines.
        #[arg(long, default_value = "127.0.0.1:7410")]
        lines: String,
        /// Where it takes the hands.
        #[arg(long, default_value = "127.0.0.1:7411")]
        hands: String,
    },
    /// Fills an empty database with a large workshop, to see how fast the program is with it.
    Grow {
        /// Scales.
        #[arg(long, default_value_t = 100_000)]
        scales: usize,
        /// Records in all.
        #[arg(long, default_value_t = 300_000)]
        records: usize,
        /// Entries in all, about.
        #[arg(long, default_value_t = 3_000_000)]
        entries: usize,
        /// The same figure gives the same workshop.
        #[arg(long, default_value_t = 1)]
        seed: u64,
        /// Password of its two people, grown and grown-reviewer.
        #[arg(long, env = "OMBRET_GROWN_PASSWORD")]
        password: String,
    },
    /// Answers one rule question a line.
    Calc {
        /// Names the rules instead.
        #[arg(long)]
        list: bool,
    },
    /// Prints the assessment of a job file.
    Assess {
        /// The file.
        file: PathBuf,
    },
    /// Checks hash chains and frozen bytes: of one exported job, or of the whole database.
    Verify {
        /// The exported job; none: the database.
        file: Option<PathBuf>,
    },
    /// Prints the OpenAPI document.
    Openapi,
    /// Prints the JSON Schema of an open format.
    Schema {
        /// Which.
        format: cli::Format,
    },
}

fn main() -> ExitCode {
    match done(Args::parse().command) {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("ombret: {error}");
            ExitCode::FAILURE
        }
    }
}

fn done(command: Command) -> Outcome {
    match command {
        Command::Calc { list: true } => Ok(cli::list_rules(std::io::stdout())?),
        Command::Calc { list: false } => {
            Ok(cli::calc(BufReader::new(std::io::stdin()), BufWriter::new(std::io::stdout()))?)
        }
        Command::Assess { file } => {
            print!("{}", cli::assess_file(&file).map_err(|e| format!("{}: {e}", file.display()))?);
            Ok(())
        }
        Command::Verify { file: Some(file) } => {
            print!("{}", cli::verify_file(&file).map_err(|e| format!("{}: {e}", file.display()))?);
            Ok(())
        }
        Command::Verify { file: None } => run(async {
            let (looked, broken) = cli::verify_database(&pool(&settings()?)?).await?;
            print!("{}", cli::report(looked, &broken));
            if broken.is_empty() { Ok(()) } else { Err("not everything holds".into()) }
        }),
        Command::Grow { scales, records, entries, seed, password } => run(async move {
            print!(
                "{}",
                cli::grow(&pool(&settings()?)?, cli::Size { scales, records, entries, seed }, &password)
                    .await?
            );
            Ok(())
        }),
        Command::Openapi => {
            println!("{}", document().to_pretty_json()?);
            Ok(())
        }
        Command::Schema { format } => {
            println!("{}", serde_json::to_string_pretty(&cli::schema(format)?)?);
            Ok(())
        }
        Command::Serve => run(serving()),
        Command::Migrate => run(migrating()),
        Command::DemoData { file, lines, hands } => run(async move {
            let settings = settings()?;
            let pool = pool(&settings)?;
            cli::load_demo(&pool, &file, &lines, &hands).await
        }),
    }
}

type Outcome = Result<(), Box<dyn std::error::Error>>;

fn run(work: impl Future<Output = Outcome>) -> Outcome {
    let filter = EnvFilter::try_from_env("OMBRET_LOG").unwrap_or_else(|_| EnvFilter::new("info,sqlx=warn"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    tokio::runtime::Builder::new_multi_thread().enable_all().build()?.block_on(work)
}

fn settings() -> Result<Settings, Box<dyn std::error::Error>> {
    let file = std::env::var("OMBRET_CONFIG").ok();
    Ok(Settings::read(file.as_deref())?)
}

fn pool(settings: &Settings) -> Result<sqlx::PgPool, Box<dyn std::error::Error>> {
    let url = String::from_utf8_lossy(settings.database_url.expose()).into_owned();
    Ok(store::pool(&url, settings.connections)?)
}

async fn migrating() -> Outcome {
    ombret_migrate::MIGRATOR.run(&pool(&settings()?)?).await?;
    Ok(())
}

async fn serving() -> Outcome {
    let settings = settings()?;
    let pool = pool(&settings)?;
    let listener = TcpListener::bind(settings.listen)
        .await
        .map_err(|e| format!("cannot listen on {}: {e}", settings.listen))?;
    let stop = CancellationToken::new();
    tokio::spawn(stop_on_signal(stop.clone()));
    tokio::spawn(migrate_when_it_answers(pool.clone()));
    tracing::info!(address = %listener.local_addr()?, "listening");
    serve(listener, App::new(pool, settings, stop.clone()), stop).await?;
    Ok(())
}

/// Records whose gist is worked out in one transaction.
const GIST_AT_A_TIME: i64 = 100;

/// The program starts without its database and migrates it as soon as it is there.
async fn migrate_when_it_answers(pool: sqlx::PgPool) {
    while let Err(error) = ombret_migrate::MIGRATOR.run(&pool).await {
        tracing::warn!(%error, "the database is not ready; trying again");
        tokio::time::sleep(Duration::from_secs(2)).await;
    }
    // Records that an earlier version froze are counted too; a restart goes on where this ended.
    let mut after = uuid::Uuid::nil();
    loop {
        match store::figures::fill_missing(&pool, &mut after, GIST_AT_A_TIME).await {
            Ok(0) => break,
            Ok(done) => tracing::info!(done, "worked out the gist of earlier records"),
            Err(error) => {
                tracing::warn!(%error, "the gist of earlier records is not worked out yet");
                tokio::time::sleep(Duration::from_secs(2)).await;
            }
        }
    }
}

async fn stop_on_signal(stop: CancellationToken) {
    use tokio::signal::unix::{SignalKind, signal};
    match signal(SignalKind::terminate()) {
        Ok(mut terminate) => tokio::select! {
            _ = tokio::signal::ctrl_c() => {}
            _ = terminate.recv() => {}
        },
        Err(_) => drop(tokio::signal::ctrl_c().await),
    }
    stop.cancel();
}
