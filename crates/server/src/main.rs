//! `ombret`: the program.

use std::io::{BufReader, BufWriter};
use std::net::TcpListener;
use std::path::PathBuf;
use std::process::ExitCode;
use std::time::Duration;

use clap::{Parser, Subcommand};
use ombret::http::{self, App, document, serve};
use ombret::settings::Settings;
use ombret::{cli, store};
use time::macros::format_description;
use time::{Date, OffsetDateTime};
use tokio_util::sync::CancellationToken;
use tracing_subscriber::EnvFilter;

/// An answer is many small texts: the allocator decides how long it takes.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

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
    /// Sets the first workshop up in an empty database; the password is read from standard input.
    Setup {
        /// Name of the workshop.
        #[arg(long)]
        workshop: String,
        /// Name of the first person, as it stands on records.
        #[arg(long)]
        name: String,
        /// The name with which that person signs in.
        #[arg(long)]
        sign_in: String,
    },
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
    /// Checks hash chains, frozen bytes and signatures: of one file (job, certificate, DCC) offline, or of
    /// the whole database.
    Verify {
        /// The file; none: the database.
        file: Option<PathBuf>,
        /// Public keys that are believed; without any the key is told.
        #[arg(long)]
        key: Vec<String>,
        /// A signed root that was written out: are the records of that day still those?
        #[arg(long, conflicts_with = "file")]
        root: Option<PathBuf>,
    },
    /// Writes the whole database into a new file, and checks what it holds. The signing key is not in it.
    Backup {
        /// The file.
        file: PathBuf,
    },
    /// Reads a backup into an empty database, brings it to this version and checks it.
    Restore {
        /// The file.
        file: PathBuf,
    },
    /// Prints the signed root over all records up to the end of a day.
    Root {
        /// The day (UTC), such as 2026-11-27; none: yesterday.
        day: Option<String>,
    },
    /// The key that signs records.
    Key {
        /// What to do with it.
        #[command(subcommand)]
        what: KeyCommand,
    },
    /// Reads indicators at this machine and hands their lines to the page of a workshop that has the code.
    Link {
        /// Where the workshop's page comes from, such as https://scales.example.org.
        #[arg(long = "for", required = true)]
        origins: Vec<String>,
        /// Indicators: host and port, such as 192.0.2.20:4001, or serial:/dev/ttyUSB0@9600,8N1.
        #[arg(required = true)]
        indicators: Vec<String>,
    },
    /// Prints the OpenAPI document.
    Openapi,
    /// Prints the JSON Schema of an open format.
    Schema {
        /// Which.
        format: cli::Format,
    },
}

#[derive(Subcommand)]
enum KeyCommand {
    /// Makes one in a new file and prints its public key.
    New {
        /// The file; one that is there is never overwritten.
        file: PathBuf,
    },
    /// Prints the public key of the one that is set.
    Show,
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
        Command::Verify { file: Some(file), key, .. } => {
            print!("{}", cli::verify_file(&file, &key).map_err(|e| format!("{}: {e}", file.display()))?);
            Ok(())
        }
        Command::Verify { root: Some(root), .. } => run(async {
            let settings = settings()?;
            let told = cli::verify_root(&pool(&settings)?, &settings.keys, &root).await;
            print!("{}", told.map_err(|e| format!("{}: {e}", root.display()))?);
            Ok(())
        }),
        Command::Verify { .. } => run(async {
            let settings = settings()?;
            let looked = cli::verify_database(&pool(&settings)?, &settings.keys).await?;
            print!("{}", cli::report(&looked));
            if looked.broken.is_empty() { Ok(()) } else { Err("not everything holds".into()) }
        }),
        Command::Backup { file } => run(async move {
            let settings = settings()?;
            let backed = cli::backup(&settings, &pool(&settings)?, &file).await?;
            println!("{}: {} bytes; of the database it is of:", file.display(), backed.bytes);
            print!("{}", cli::report(&backed.looked));
            println!("The signing key is not in it: keep that apart.");
            if backed.looked.broken.is_empty() { Ok(()) } else { Err("not everything holds".into()) }
        }),
        Command::Restore { file } => run(async move {
            let settings = settings()?;
            let looked = cli::restore(&settings, &pool(&settings)?, &file).await?;
            print!("{}", cli::report(&looked));
            if looked.broken.is_empty() { Ok(()) } else { Err("not everything holds".into()) }
        }),
        Command::Root { day } => run(async {
            let settings = settings()?;
            let day = match day {
                Some(day) => Date::parse(&day, format_description!("[year]-[month]-[day]"))?,
                None => OffsetDateTime::now_utc().date().saturating_sub(time::Duration::DAY),
            };
            let root = cli::root(&pool(&settings)?, &settings.keys, day).await.map_err(|e| e.to_string())?;
            println!("{}", serde_json::to_string_pretty(&root)?);
            Ok(())
        }),
        Command::Key { what: KeyCommand::New { file } } => {
            println!("{}", ombret::signing::new_key_file(&file)?);
            Ok(())
        }
        Command::Key { what: KeyCommand::Show } => {
            println!("{}", settings()?.keys.public().ok_or("no signing key is set")?);
            Ok(())
        }
        Command::Grow { scales, records, entries, seed, password } => run(async move {
            let settings = settings()?;
            let pool = pool(&settings)?;
            store::migrate(&settings, &pool).await?;
            let size = cli::Size { scales, records, entries, seed };
            print!("{}", cli::grow(&pool, size, &password).await?);
            Ok(())
        }),
        Command::Link { origins, indicators } => run(async {
            let linked = cli::links(&indicators)?;
            for one in &linked {
                println!("{}  code {}", one.address, one.code);
            }
            println!("Listens on 127.0.0.1:{} for the page.", cli::LINK_PORT);
            println!("Type the code into the job's page, at “Indicator on this device's cable”.");
            Ok(cli::link(linked, origins).await?)
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
        Command::Setup { workshop, name, sign_in } => run(setting_up(workshop, name, sign_in)),
        Command::DemoData { file, lines, hands } => run(async move {
            let settings = settings()?;
            let pool = pool(&settings)?;
            store::migrate(&settings, &pool).await?;
            cli::load_demo(&pool, &file, &lines, &hands, &settings.keys, OffsetDateTime::now_utc()).await
        }),
    }
}

type Outcome = Result<(), Box<dyn std::error::Error>>;

fn run(work: impl Future<Output = Outcome>) -> Outcome {
    let filter = EnvFilter::try_from_env("OMBRET_LOG").unwrap_or_else(|_| EnvFilter::new("info,sqlx=warn"));
    let log = tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr);
    // Read before the settings are, so that what is wrong with those is told in the same way.
    if std::env::var("OMBRET_LOG_FORMAT").as_deref() == Ok("json") {
        log.json().flatten_event(true).init();
    } else {
        log.init();
    }
    // As many as compute, hash and pack at a time, and a few more: each keeps memory of its own.
    let mut runtime = tokio::runtime::Builder::new_multi_thread();
    runtime.enable_all().max_blocking_threads(24).thread_keep_alive(Duration::from_secs(3));
    runtime.build()?.block_on(work)
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
    let settings = settings()?;
    Ok(store::migrate(&settings, &pool(&settings)?).await?)
}

async fn serving() -> Outcome {
    let settings = settings()?;
    let url = String::from_utf8_lossy(settings.database_url.expose()).into_owned();
    let replica = String::from_utf8_lossy(settings.replica_database_url.expose()).into_owned();
    // What is searched is asked on connections of its own; without a replica they are some of the same.
    let searching = if replica.is_empty() { settings.connections.div_ceil(3) } else { settings.connections };
    let reads = store::searching_pool(if replica.is_empty() { &url } else { &replica }, searching)?;
    let taken = if replica.is_empty() { searching } else { 0 };
    let pool = store::serving_pool(&url, settings.connections.saturating_sub(taken).max(1))?;
    let listener = TcpListener::bind(settings.listen)
        .map_err(|e| format!("cannot listen on {}: {e}", settings.listen))?;
    let stop = CancellationToken::new();
    tokio::spawn(stop_on_signal(stop.clone()));
    tokio::spawn(migrate_when_it_answers(settings.clone(), pool.clone(), stop.clone()));
    tracing::info!(address = %listener.local_addr()?, "listening");
    let metrics = settings.metrics;
    let post = http::Post::of(&settings)?;
    let app = App { post, reads, ..App::new(pool, settings, stop.clone()) };
    tokio::spawn(http::dispatch(app.clone()));
    tokio::spawn(http::keep_looking(app.clone()));
    tokio::spawn(app.bus.clone().listen());
    tokio::spawn(http::keep_reminding(app.clone()));
    if let Some(address) = metrics {
        http::serve_metrics(address)
            .map_err(|e| format!("what is measured cannot be served on {address}: {e}"))?;
        tokio::spawn(http::watch(app.clone()));
    }
    serve(listener, app, stop).await?;
    FAILED.get().map_or(Ok(()), |why| Err(why.clone().into()))
}

/// Records whose summary is worked out in one transaction.
const GIST_AT_A_TIME: i64 = 100;

/// Why the program ended by itself.
static FAILED: std::sync::OnceLock<String> = std::sync::OnceLock::new();

/// The program starts without its database and migrates it as soon as it is there; where it cannot be
/// migrated, nobody is served.
async fn migrate_when_it_answers(settings: Settings, pool: sqlx::PgPool, stop: CancellationToken) {
    while let Err(error) = store::migrate(&settings, &pool).await {
        if !error.passes() {
            let _ = FAILED.set(format!("the database cannot be brought to this version: {error}"));
            return stop.cancel();
        }
        tracing::warn!(%error, "the database is not ready; trying again");
        tokio::time::sleep(Duration::from_secs(2)).await;
    }
    if let Err(error) = invite_the_first(&settings, &pool).await {
        tracing::warn!(%error, "the link of the first start could not be made");
    }
    // Records that an earlier version froze are counted too; a restart goes on where this ended.
    let mut after = uuid::Uuid::nil();
    loop {
        match store::figures::fill_missing(&pool, &mut after, GIST_AT_A_TIME).await {
            Ok(0) => break,
            Ok(done) => tracing::info!(done, "worked out the summaries of earlier records"),
            Err(error) => {
                tracing::warn!(%error, "the summaries of earlier records are not worked out yet");
                tokio::time::sleep(Duration::from_secs(2)).await;
            }
        }
    }
    match store::listed::fill(&pool).await {
        Ok(0) => {}
        Ok(done) => tracing::info!(done, "wrote earlier records down for the list of all records"),
        Err(error) => tracing::warn!(%error, "not all earlier records stand in the list of all records yet"),
    }
    while let Some(folder) = &settings.roots {
        match cli::write_daily(&pool, &settings.keys, folder).await {
            Ok(true) => tracing::info!(folder = %folder.display(), "wrote the signed root of yesterday"),
            Ok(false) => {}
            Err(error) => tracing::warn!(%error, "the signed root of yesterday is not written yet"),
        }
        tokio::time::sleep(Duration::from_secs(600)).await;
    }
}

/// Where nobody is here yet, whoever sees what the server prints sets the workshop up.
async fn invite_the_first(settings: &Settings, pool: &sqlx::PgPool) -> Result<(), store::StoreError> {
    if !store::people::is_empty(pool).await? {
        return Ok(());
    }
    let token = ombret::random_token();
    store::accounts::open_setup(pool, &token, OffsetDateTime::now_utc() + http::FIRST_START).await?;
    let scheme = if settings.tls_certificate.is_some() { "https" } else { "http" };
    let own = format!("{scheme}://{}", settings.listen);
    let base = settings.public_url.as_deref().unwrap_or(&own).trim_end_matches('/');
    println!(
        "Nobody works here yet. Set the workshop up within a day at\n\n  {base}{}\n",
        http::welcome(&token)
    );
    Ok(())
}

/// Sets the workshop up without a page; the password is read from standard input.
async fn setting_up(workshop: String, name: String, sign_in: String) -> Outcome {
    let settings = settings()?;
    let pool = pool(&settings)?;
    store::migrate(&settings, &pool).await?;
    let mut password = String::new();
    std::io::stdin().read_line(&mut password)?;
    let password = password.trim_end_matches(['\n', '\r']);
    let form: http::WorkshopForm = serde_json::from_value(serde_json::json!({"name": workshop}))?;
    let new = http::first_start(&name, &sign_in, password, &form).map_err(|r| {
        let also = r.also.iter().map(|r| format!("; {}", r.message)).collect::<String>();
        format!("{}{also}", r.message)
    })?;
    let password_hash = http::hash_password(password).map_err(|e| e.to_string())?;
    let new = store::accounts::NewWorkshop {
        person: &new.person,
        sign_in: &new.sign_in,
        password_hash: &password_hash,
        paper: &new.paper,
        defaults: &new.defaults,
    };
    if store::accounts::set_up(&pool, None, &new).await? {
        println!("{workshop} is set up; {} signs in as {sign_in}", new.person.name);
        Ok(())
    } else {
        Err("somebody works here already".into())
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
