//! What instances of the program tell each other over their database: that a job has moved on, and what an
//! indicator says that one of them reads. Lost notices cost a moment, never an entry: what counts is stored.

use std::collections::{HashMap, HashSet};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use futures::future::BoxFuture;
use sqlx::postgres::{PgConnectOptions, PgListener};
use sqlx::{ConnectOptions, Connection, PgConnection, PgPool};
use tokio::sync::{broadcast, mpsc};
use uuid::Uuid;

use crate::live::Others;

/// The channels of PostgreSQL.
const JOB: &str = "ombret_job";
const LINES: &str = "ombret_lines";
const FOLLOWED: &str = "ombret_followed";
/// Most bytes of one notice; PostgreSQL takes 7999.
const MOST_BYTES: usize = 7_000;
/// Longest that the database is waited for.
const PATIENCE: Duration = Duration::from_secs(3);
/// A scale counts as followed for so long after it was last said.
const FOLLOWS: Duration = Duration::from_secs(6);

/// What the indicator of a scale said: the scale, and the line.
type Said = (Uuid, String);

/// A job that has moved on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Moved {
    /// The job.
    pub job: Uuid,
    /// Its newest entry.
    pub head: i32,
}

/// What this instance hears and says.
#[derive(Clone)]
pub struct Bus {
    pool: PgPool,
    moved: broadcast::Sender<Moved>,
    lines: broadcast::Sender<(Uuid, String)>,
    says: mpsc::UnboundedSender<Said>,
    moves: mpsc::UnboundedSender<Moved>,
    /// What is to be told to the others; taken by whoever tells it.
    outgoing: Arc<Mutex<Option<Outgoing>>>,
    followed: Arc<Mutex<HashMap<Uuid, Instant>>>,
    owned: Arc<tokio::sync::Mutex<Owned>>,
}

/// The ends from which notices are taken.
struct Outgoing {
    said: mpsc::UnboundedReceiver<Said>,
    moved: mpsc::UnboundedReceiver<Moved>,
}

/// The scales whose indicators this instance reads, held by one connection of its own: with it they are free.
#[derive(Default)]
struct Owned {
    connection: Option<PgConnection>,
    scales: HashSet<Uuid>,
}

impl Bus {
    /// Hears nothing before [`Self::listen`] runs.
    pub fn new(pool: PgPool) -> Self {
        let (says, said) = mpsc::unbounded_channel();
        let (moves, moved) = mpsc::unbounded_channel();
        Self {
            pool,
            moved: broadcast::channel(256).0,
            lines: broadcast::channel(1_024).0,
            says,
            moves,
            outgoing: Arc::new(Mutex::new(Some(Outgoing { said, moved }))),
            followed: Arc::default(),
            owned: Arc::default(),
        }
    }

    /// Jobs as they move on, from now.
    pub fn jobs(&self) -> broadcast::Receiver<Moved> {
        self.moved.subscribe()
    }

    /// Tells everybody that a job has moved on. Not within the transaction that moves it: the database lets
    /// only one at a time commit that has something to tell, and each would wait for the disk of the other.
    pub fn moved(&self, job: Uuid, head: i32) {
        let _ = self.moves.send(Moved { job, head });
    }

    /// Hears and says until the program ends.
    pub async fn listen(self) {
        let outgoing = self.outgoing.lock().unwrap_or_else(PoisonError::into_inner).take();
        if let Some(Outgoing { said, moved }) = outgoing {
            tokio::spawn(say_all(self.pool.clone(), said));
            tokio::spawn(tell_moved(self.pool.clone(), moved));
        }
        loop {
            match self.hear_all().await {
                Ok(()) => return,
                Err(error) => tracing::debug!(%error, "nothing is heard of other instances now"),
            }
            tokio::time::sleep(Duration::from_secs(1)).await;
        }
    }

    async fn hear_all(&self) -> Result<(), sqlx::Error> {
        let mut listener = PgListener::connect_with(&self.pool).await?;
        listener.listen_all([JOB, LINES, FOLLOWED]).await?;
        loop {
            let notice = listener.recv().await?;
            let Some((id, rest)) = notice.payload().split_once(' ') else { continue };
            let Ok(id) = id.parse::<Uuid>() else { continue };
            match notice.channel() {
                JOB => {
                    if let Ok(head) = rest.parse() {
                        let _ = self.moved.send(Moved { job: id, head });
                    }
                }
                LINES => {
                    for line in serde_json::from_str::<Vec<String>>(rest).unwrap_or_default() {
                        let _ = self.lines.send((id, line));
                    }
                }
                _ => {
                    let mut followed = self.followed.lock().unwrap_or_else(PoisonError::into_inner);
                    followed.insert(id, Instant::now());
                }
            }
        }
    }

    async fn owns(&self, scale: Uuid) -> Result<bool, sqlx::Error> {
        let mut owned = self.owned.lock().await;
        let held = owned.scales.contains(&scale);
        let mut connection = match owned.connection.take() {
            Some(connection) => connection,
            None => {
                owned.scales.clear();
                let options: Arc<PgConnectOptions> = self.pool.connect_options();
                (*options).clone().connect().await?
            }
        };
        // Where the connection was lost everything it held is free, and another may have it.
        let got = if held && owned.scales.contains(&scale) {
            connection.ping().await.map(|()| true)
        } else {
            sqlx::query_scalar!(r#"select pg_try_advisory_lock($1) as "got!""#, key_of(scale))
                .fetch_one(&mut connection)
                .await
        };
        match got {
            Ok(got) => {
                if got {
                    owned.scales.insert(scale);
                }
                owned.connection = Some(connection);
                Ok(got)
            }
            Err(error) => {
                owned.scales.clear();
                Err(error)
            }
        }
    }
}

/// A scale as an advisory lock.
fn key_of(scale: Uuid) -> i64 {
    let (high, low) = scale.as_u64_pair();
    i64::from_be_bytes((high ^ low).to_be_bytes())
}

/// Tells which jobs have moved on: all that have while the last notice was on its way, in one.
async fn tell_moved(pool: PgPool, mut moved: mpsc::UnboundedReceiver<Moved>) {
    let mut waiting = Vec::new();
    while moved.recv_many(&mut waiting, 1_000).await > 0 {
        let newest: HashMap<Uuid, i32> = waiting.drain(..).map(|m| (m.job, m.head)).collect();
        let notices: Vec<String> = newest.iter().map(|(job, head)| format!("{job} {head}")).collect();
        let told = sqlx::query!("select pg_notify($1, n) from unnest($2::text[]) n", JOB, &notices);
        if let Err(error) = told.execute(&pool).await {
            tracing::debug!(%error, "that a job has moved on was not told to the others");
        }
    }
}

/// Says what was said, several lines at once where they come quickly.
async fn say_all(pool: PgPool, mut said: mpsc::UnboundedReceiver<Said>) {
    while let Some(first) = said.recv().await {
        let mut by_scale: HashMap<Uuid, Vec<String>> = HashMap::new();
        let mut size = first.1.len();
        by_scale.entry(first.0).or_default().push(first.1);
        while size < MOST_BYTES / 2 {
            let Ok((scale, line)) = said.try_recv() else { break };
            size += line.len();
            by_scale.entry(scale).or_default().push(line);
        }
        for (scale, lines) in by_scale {
            let Ok(lines) = serde_json::to_string(&lines) else { continue };
            let payload = format!("{scale} {lines}");
            if payload.len() > MOST_BYTES {
                continue;
            }
            if let Err(error) = sqlx::query!("select pg_notify($1, $2)", LINES, payload).execute(&pool).await
            {
                tracing::debug!(%error, "what an indicator says was not told to the others");
            }
        }
    }
}

impl Others for Bus {
    fn own(&self, scale: Uuid) -> BoxFuture<'_, bool> {
        Box::pin(async move {
            // While the database is away each instance reads for itself.
            let asked = tokio::time::timeout(PATIENCE, self.owns(scale)).await;
            asked.map_or(true, |owns| owns.unwrap_or(true))
        })
    }

    fn let_go(&self, scale: Uuid) {
        let owned = self.owned.clone();
        tokio::spawn(async move {
            let mut owned = owned.lock().await;
            if !owned.scales.remove(&scale) {
                return;
            }
            let Some(mut connection) = owned.connection.take() else { return };
            let gone = sqlx::query_scalar!("select pg_advisory_unlock($1)", key_of(scale))
                .fetch_one(&mut connection)
                .await;
            if gone.is_ok() {
                owned.connection = Some(connection);
            } else {
                owned.scales.clear();
            }
        });
    }

    fn say(&self, scale: Uuid, line: &str) {
        let followed = self.followed.lock().unwrap_or_else(PoisonError::into_inner);
        if followed.get(&scale).is_some_and(|at| at.elapsed() < FOLLOWS) {
            let _ = self.says.send((scale, line.to_owned()));
        }
    }

    fn follow(&self, scale: Uuid) -> BoxFuture<'_, ()> {
        Box::pin(async move {
            let told = sqlx::query!("select pg_notify($1, $2)", FOLLOWED, format!("{scale} followed"));
            if let Err(error) = told.execute(&self.pool).await {
                tracing::debug!(%error, "the reader of an indicator is not asked now");
            }
        })
    }

    fn hear(&self) -> broadcast::Receiver<(Uuid, String)> {
        self.lines.subscribe()
    }
}
