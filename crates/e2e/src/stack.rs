//! A server process with a database of its own and, if wanted, a practice scale.

use std::net::TcpListener;
use std::path::PathBuf;
use std::process::Stdio;
use std::time::{Duration, Instant};

use sqlx::{AssertSqlSafe, Connection, Executor, PgConnection};
use tokio::process::{Child, Command};

use crate::Step;

/// The running program.
pub struct Stack {
    /// Address of the page.
    pub base: String,
    /// Connection to its database.
    pub database_url: String,
    port: u16,
    lines: u16,
    hands: u16,
    /// Where the key lies that signs; it goes with the stack.
    key: tempfile::TempDir,
    /// It serves HTTPS of its own.
    https: bool,
    server: Option<Child>,
    bench: Option<Child>,
}

/// A database that others are copied from.
struct Loaded {
    database: String,
    /// Where its practice scale would say its lines.
    lines: u16,
    key: Vec<u8>,
}

fn free_port() -> Step<u16> {
    Ok(TcpListener::bind("127.0.0.1:0")?.local_addr()?.port())
}

/// A program of this workspace, built beside the test that runs.
fn program(name: &str) -> Step<PathBuf> {
    let here = std::env::current_exe()?;
    here.ancestors()
        .map(|folder| folder.join(name))
        .find(|path| path.is_file())
        .ok_or_else(|| format!("{name} is not built").into())
}

fn root() -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../..")
}

impl Stack {
    /// Password of the people of a large workshop.
    pub const GROWN: &str = "level-bubble";

    /// Makes a database with the demo's data and starts the server on it.
    ///
    /// # Errors
    /// Where anything does not start; DATABASE_URL must name a database on the test cluster.
    pub async fn start() -> Step<Self> {
        let mut stack = Self::with_demo().await?;
        stack.start_server().await?;
        Ok(stack)
    }

    /// The same with the demo's people and nothing else.
    ///
    /// # Errors
    /// As of [`Self::start`].
    pub async fn start_empty() -> Step<Self> {
        let mut demo: serde_json::Value =
            serde_json::from_slice(&std::fs::read(root().join("demo/workshop.json"))?)?;
        let people = demo["people"].take();
        let bare = serde_json::json!({"workshop": {"id": uuid::Uuid::new_v4(), "name": "Nordhamn Scales"}, "people": people, "scales": []});
        let file = tempfile::NamedTempFile::new()?;
        std::fs::write(file.path(), bare.to_string())?;
        Self::with_data(file.path()).await
    }

    /// The server on a large workshop, in which `grown` signs in with [`Self::GROWN`]. It grows where it
    /// is not there yet, which takes some minutes, and stays for the next time.
    ///
    /// # Errors
    /// As of [`Self::start`].
    pub async fn start_grown() -> Step<Self> {
        let admin = std::env::var("DATABASE_URL")?;
        let mut connection = PgConnection::connect(&admin).await?;
        let there: Option<i32> =
            sqlx::query_scalar("select 1 from pg_database where datname = 'ombret_large'")
                .fetch_optional(&mut connection)
                .await?;
        if there.is_none() {
            connection.execute("create database ombret_large").await?;
        }
        let mut url = url::Url::parse(&admin)?;
        url.set_path("ombret_large");
        let mut stack = Self {
            base: String::new(),
            database_url: url.into(),
            port: free_port()?,
            lines: 0,
            hands: 0,
            key: new_key()?,
            https: false,
            server: None,
            bench: None,
        };
        stack.base = format!("http://127.0.0.1:{}", stack.port);
        if there.is_none() {
            let grown = stack
                .command("ombret")?
                .args(["grow", "--password", Self::GROWN])
                .env("OMBRET_LOG", "info")
                .status()
                .await?;
            if !grown.success() {
                return Err("no large workshop grew".into());
            }
        }
        stack.start_server().await?;
        Ok(stack)
    }

    /// Starts the server anew so that it writes the plan of every statement into a file.
    ///
    /// # Errors
    /// Where it does not answer.
    pub async fn with_plans(&mut self, into: std::fs::File) -> Step {
        self.kill_server().await?;
        let told = "-c session_preload_libraries=auto_explain -c auto_explain.log_min_duration=0 -c auto_explain.log_analyze=on -c auto_explain.log_level=notice";
        let mut url = url::Url::parse(&self.database_url)?;
        url.query_pairs_mut().append_pair("options", told);
        let mut command = self.command("ombret")?;
        command
            .env("OMBRET_DATABASE_URL", url.as_str())
            .env("OMBRET_LOG", "warn,sqlx::postgres::notice=trace")
            .env("NO_COLOR", "1")
            .stderr(into);
        self.server = Some(command.arg("serve").spawn()?);
        answers(self.port).await
    }

    /// The server on a database with nothing and nobody in it, and the path of the link that it prints.
    ///
    /// # Errors
    /// As of [`Self::start`]; where no link is printed.
    pub async fn start_bare() -> Step<(Self, String)> {
        Self::with_database().await?.serve_bare().await
    }

    /// The same over HTTPS of its own, with a certificate that it signed itself.
    ///
    /// # Errors
    /// As of [`Self::start_bare`]; where openssl makes no certificate.
    pub async fn start_bare_over_https() -> Step<(Self, String)> {
        let mut stack = Self::with_database().await?;
        let at = |name: &str| stack.key.path().join(name);
        let made = std::process::Command::new("openssl")
            .args(["req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:P-256", "-nodes"])
            .args(["-days", "2", "-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost"])
            .arg("-keyout")
            .arg(at("tls.key"))
            .arg("-out")
            .arg(at("tls.pem"))
            .output()?;
        if !made.status.success() {
            return Err("openssl made no certificate".into());
        }
        stack.https = true;
        stack.base = format!("https://localhost:{}", stack.port);
        stack.serve_bare().await
    }

    async fn serve_bare(self) -> Step<(Self, String)> {
        let mut stack = self;
        let told = tempfile::NamedTempFile::new()?;
        let mut command = stack.command("ombret")?;
        stack.server = Some(command.arg("serve").stdout(told.reopen()?).spawn()?);
        answers(stack.port).await?;
        let began = Instant::now();
        loop {
            let text = std::fs::read_to_string(told.path())?;
            let link = text.split_whitespace().find_map(|word| Some(&word[word.find("/welcome/")?..]));
            match link {
                Some(link) => return Ok((stack, link.to_owned())),
                None if began.elapsed() > Duration::from_secs(60) => return Err("no link was printed".into()),
                None => tokio::time::sleep(Duration::from_millis(20)).await,
            }
        }
    }

    async fn with_data(data: &std::path::Path) -> Step<Self> {
        let mut stack = Self::with_database().await?;
        stack.load(data).await?;
        stack.start_server().await?;
        Ok(stack)
    }

    /// Loads a demo's data into the database, which is empty.
    async fn load(&self, data: &std::path::Path) -> Step {
        let loaded = self
            .command("ombret")?
            .arg("demo-data")
            .arg(data)
            .args([
                "--lines",
                &format!("127.0.0.1:{}", self.lines),
                "--hands",
                &format!("127.0.0.1:{}", self.hands),
            ])
            .status()
            .await?;
        if loaded.success() { Ok(()) } else { Err("the demo's data were not loaded".into()) }
    }

    /// A database with the demo's data, and the key that signed its records. It is copied from one that is loaded
    /// once for all tests of this program: playing every visit anew for each of them is most of their start.
    async fn with_demo() -> Step<Self> {
        static LOADED: tokio::sync::OnceCell<Loaded> = tokio::sync::OnceCell::const_new();
        let loaded = LOADED
            .get_or_try_init(|| async {
                let stack = Self::with_database().await?;
                stack.load(&root().join("demo/workshop.json")).await?;
                let database = stack.database_url.rsplit('/').next().unwrap_or_default().to_owned();
                let key = std::fs::read(stack.key.path().join("key.pem"))?;
                Ok::<_, crate::Fault>(Loaded { database, lines: stack.lines, key })
            })
            .await?;
        let stack = Self::on_copy_of(Some(&loaded.database)).await?;
        std::fs::write(stack.key.path().join("key.pem"), &loaded.key)?;
        let mut own = PgConnection::connect(&stack.database_url).await?;
        let there = "update scale set device = device || jsonb_build_object('address', $1::text, 'hands', $2::text) where device ->> 'address' = $3";
        sqlx::query(there)
            .bind(format!("127.0.0.1:{}", stack.lines))
            .bind(format!("127.0.0.1:{}", stack.hands))
            .bind(format!("127.0.0.1:{}", loaded.lines))
            .execute(&mut own)
            .await?;
        Ok(stack)
    }

    /// A database of its own, nothing started yet.
    async fn with_database() -> Step<Self> {
        Self::on_copy_of(None).await
    }

    async fn on_copy_of(other: Option<&str>) -> Step<Self> {
        let admin = std::env::var("DATABASE_URL")
            .map_err(|_| "DATABASE_URL is not set; run the tests by ./ombret test")?;
        let name = format!("e2e_{}", uuid::Uuid::new_v4().simple());
        let mut connection = PgConnection::connect(&admin).await?;
        let template = other.map_or_else(String::new, |other| format!(" template {other}"));
        connection.execute(AssertSqlSafe(format!("create database {name}{template}"))).await?;
        let mut url = url::Url::parse(&admin)?;
        url.set_path(&name);
        let (port, lines, hands) = (free_port()?, free_port()?, free_port()?);
        Ok(Self {
            base: format!("http://127.0.0.1:{port}"),
            database_url: url.into(),
            port,
            lines,
            hands,
            key: new_key()?,
            https: false,
            server: None,
            bench: None,
        })
    }

    /// The database as the program's own role, which owns nothing.
    fn as_role(&self) -> Step<String> {
        let mut url = url::Url::parse(&self.database_url)?;
        url.set_username("ombret").map_err(|()| "the database's address has no user")?;
        Ok(url.into())
    }

    fn command(&self, name: &str) -> Step<Command> {
        let mut command = Command::new(program(name)?);
        command
            .current_dir(root())
            .env("OMBRET_DATABASE_URL", self.as_role()?)
            .env("OMBRET_OWNER_DATABASE_URL", &self.database_url)
            .env("OMBRET_LISTEN", format!("127.0.0.1:{}", self.port))
            .env("OMBRET_SECRET", "a secret for the tests of the whole program")
            .env("OMBRET_LOG", "warn")
            .env("OMBRET_PRACTICE_SPEED", "4")
            .env("OMBRET_SIMULATED", format!("[\"127.0.0.1:{}\"]", self.hands))
            .env("OMBRET_SIGNING_KEY_FILE", self.key.path().join("key.pem"))
            .stdin(Stdio::null())
            .kill_on_drop(true);
        if self.https {
            command
                .env("OMBRET_TLS_CERTIFICATE", self.key.path().join("tls.pem"))
                .env("OMBRET_TLS_KEY", self.key.path().join("tls.key"))
                .env("OMBRET_PUBLIC_URL", &self.base);
        }
        Ok(command)
    }

    /// Starts the server, on the same port as before.
    ///
    /// # Errors
    /// Where it does not answer.
    pub async fn start_server(&mut self) -> Step {
        self.server = Some(self.command("ombret")?.arg("serve").spawn()?);
        answers(self.port).await
    }

    /// Where the practice scale says its lines.
    pub const fn lines(&self) -> u16 {
        self.lines
    }

    /// Where the server listens.
    pub const fn port(&self) -> u16 {
        self.port
    }

    /// Starts another instance on the same database; its process and where it listens.
    ///
    /// # Errors
    /// Where it does not answer.
    pub async fn another_instance(&self) -> Step<(Child, u16)> {
        let port = free_port()?;
        let mut command = self.command("ombret")?;
        command.arg("serve").env("OMBRET_LISTEN", format!("127.0.0.1:{port}"));
        let child = command.spawn()?;
        answers(port).await?;
        Ok((child, port))
    }

    /// Kills the server as a power cut would.
    ///
    /// # Errors
    /// Where there is none.
    pub async fn kill_server(&mut self) -> Step {
        Ok(self.server.take().ok_or("no server is running")?.kill().await?)
    }

    /// Starts the practice scale; time runs `speed` times as fast.
    ///
    /// # Errors
    /// Where it does not answer.
    pub async fn start_bench(&mut self, speed: f64) -> Step {
        let child = self
            .command("ombret-bench")?
            .arg("demo/bench/wool-table.json")
            .args([
                "--lines",
                &format!("127.0.0.1:{}", self.lines),
                "--hands",
                &format!("127.0.0.1:{}", self.hands),
                "--speed",
                &speed.to_string(),
            ])
            .spawn()?;
        self.bench = Some(child);
        answers(self.lines).await
    }

    /// Starts the link program, which reads the practice scale for this server's page: its process and the code.
    ///
    /// # Errors
    /// Where it does not start, or something else has its port.
    pub async fn link(&self) -> Step<(Child, String)> {
        let told = tempfile::NamedTempFile::new()?;
        let mut child = self
            .command("ombret")?
            .args(["link", "--for", &self.base, &format!("127.0.0.1:{}", self.lines)])
            .stdout(told.reopen()?)
            .spawn()?;
        let began = Instant::now();
        loop {
            let text = std::fs::read_to_string(told.path())?;
            let after =
                |mark: &str| text.split_once(mark).and_then(|(_, rest)| rest.split_whitespace().next());
            if let (Some(code), Some(port)) = (after("code "), after("Listens on 127.0.0.1:")) {
                answers(port.parse()?).await?;
                return Ok((child, code.to_owned()));
            }
            if child.try_wait()?.is_some() || began.elapsed() > Duration::from_secs(60) {
                return Err("the link does not run".into());
            }
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
    }

    /// Pulls the plug of the practice scale.
    ///
    /// # Errors
    /// Where there is none.
    pub async fn kill_bench(&mut self) -> Step {
        Ok(self.bench.take().ok_or("no practice scale is running")?.kill().await?)
    }

    /// Lets the server's database connections break, and new ones fail until [`Self::database_back`].
    ///
    /// # Errors
    /// Where the database says no.
    pub async fn database_away(&self) -> Step {
        self.allow_connections(false).await
    }

    /// Lets it connect again.
    ///
    /// # Errors
    /// Where the database says no.
    pub async fn database_back(&self) -> Step {
        self.allow_connections(true).await
    }

    async fn allow_connections(&self, allow: bool) -> Step {
        let name = url::Url::parse(&self.database_url)?.path().trim_start_matches('/').to_owned();
        let mut admin = PgConnection::connect(&std::env::var("DATABASE_URL")?).await?;
        admin.execute(AssertSqlSafe(format!("alter database {name} with allow_connections {allow}"))).await?;
        if !allow {
            admin
                .execute(AssertSqlSafe(format!(
                    "select pg_terminate_backend(pid) from pg_stat_activity where datname = '{name}'"
                )))
                .await?;
        }
        Ok(())
    }

    /// Runs a command of the program against its database; gives what it printed, and whether it was content.
    ///
    /// # Errors
    /// Where it does not run.
    pub async fn tell(&self, arguments: &[&str]) -> Step<(bool, String)> {
        let told = self.command("ombret")?.args(arguments).output().await?;
        Ok((told.status.success(), String::from_utf8_lossy(&told.stdout).into_owned()))
    }

    /// An empty database beside this one, in which the stack goes on; what runs on the old one is killed.
    ///
    /// # Errors
    /// Where the database says no.
    pub async fn move_to_an_empty_database(&mut self) -> Step {
        if self.server.is_some() {
            self.kill_server().await?;
        }
        let name = format!("e2e_{}", uuid::Uuid::new_v4().simple());
        let mut admin = PgConnection::connect(&std::env::var("DATABASE_URL")?).await?;
        admin.execute(AssertSqlSafe(format!("create database {name}"))).await?;
        let mut url = url::Url::parse(&self.database_url)?;
        url.set_path(&name);
        self.database_url = url.into();
        Ok(())
    }

    /// Resident memory of the server, in megabytes (10^6 bytes).
    ///
    /// # Errors
    /// Where it is not running.
    pub fn server_memory_mb(&self) -> Step<f64> {
        let id = self.server.as_ref().and_then(Child::id).ok_or("no server is running")?;
        let status = std::fs::read_to_string(format!("/proc/{id}/status"))?;
        let line = status.lines().find(|l| l.starts_with("VmRSS:")).ok_or("no memory is told")?;
        let kib: f64 = line.split_whitespace().nth(1).ok_or("no memory is told")?.parse()?;
        Ok(kib * 1.024 / 1000.0)
    }

    /// Removes the database that was made for this stack.
    ///
    /// # Errors
    /// Where the database says no.
    pub async fn drop_database(&self) -> Step {
        let name = url::Url::parse(&self.database_url)?.path().trim_start_matches('/').to_owned();
        let mut admin = PgConnection::connect(&std::env::var("DATABASE_URL")?).await?;
        admin.execute(AssertSqlSafe(format!("drop database if exists {name} with (force)"))).await?;
        Ok(())
    }

    /// A text from the database.
    ///
    /// # Errors
    /// Where the query fails.
    pub async fn text(&self, sql: &'static str) -> Step<String> {
        let mut connection = PgConnection::connect(&self.database_url).await?;
        Ok(sqlx::query_scalar(sql).fetch_one(&mut connection).await?)
    }

    /// A number from the database.
    ///
    /// # Errors
    /// Where the query fails.
    pub async fn count(&self, sql: &'static str) -> Step<i64> {
        let mut connection = PgConnection::connect(&self.database_url).await?;
        Ok(sqlx::query_scalar(sql).fetch_one(&mut connection).await?)
    }
}

async fn answers(port: u16) -> Step {
    let began = Instant::now();
    while tokio::net::TcpStream::connect(("127.0.0.1", port)).await.is_err() {
        if began.elapsed() > Duration::from_secs(30) {
            return Err(format!("nothing answers on port {port}").into());
        }
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    Ok(())
}

/// A folder with a key that signs.
fn new_key() -> Step<tempfile::TempDir> {
    let folder = tempfile::tempdir()?;
    let mut command = std::process::Command::new(program("ombret")?);
    let made = command.args(["key", "new"]).arg(folder.path().join("key.pem")).output()?;
    if made.status.success() { Ok(folder) } else { Err("no signing key could be made".into()) }
}
