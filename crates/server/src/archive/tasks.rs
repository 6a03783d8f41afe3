//! Long work that goes on while nobody waits for it: how far it is, what came of it, and how it is
//! called off. Kept by this process; a restart ends what was under way.

use std::collections::HashMap;
use std::fs::File;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use serde::Serialize;
use time::{Duration, OffsetDateTime};
use tokio_util::sync::CancellationToken;
use utoipa::ToSchema;
use uuid::Uuid;

/// Finished work that is remembered, by this process.
const REMEMBERED: usize = 24;
/// Archives that lie ready to be fetched, and for how long: they take room on the disk.
const READY: (usize, Duration) = (4, Duration::hours(2));

/// Out or in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// A workshop is written.
    Export,
    /// A workshop is read.
    Import,
    /// Papers of records are written.
    Papers,
}

/// How it stands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "state", rename_all = "snake_case")]
pub enum TaskState {
    /// Under way.
    Running,
    /// Done.
    Done {
        /// In words.
        says: String,
    },
    /// It could not be done.
    Failed {
        /// Why.
        why: String,
    },
    /// Called off.
    Cancelled,
}

/// Long work as it is shown.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct TaskView {
    /// Identity.
    pub id: Uuid,
    /// Out or in.
    pub kind: Kind,
    /// When it was begun.
    #[serde(with = "time::serde::rfc3339")]
    pub begun_at: OffsetDateTime,
    /// Parts done.
    pub done: u64,
    /// Parts in all; 0: not known yet.
    pub total: u64,
    /// How it stands.
    #[serde(flatten)]
    pub state: TaskState,
}

struct Task {
    workshop: Uuid,
    view: TaskView,
    stop: CancellationToken,
    file: Option<Arc<File>>,
}

/// The long work of this process.
#[derive(Clone)]
pub struct Tasks {
    all: Arc<Mutex<HashMap<Uuid, Task>>>,
    stop: CancellationToken,
}

impl Tasks {
    /// None yet; all of it ends with `stop`.
    pub fn new(stop: CancellationToken) -> Self {
        Self { all: Arc::default(), stop }
    }

    fn all(&self) -> MutexGuard<'_, HashMap<Uuid, Task>> {
        self.all.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Begins some; none where the workshop has some under way.
    pub fn begin(&self, workshop: Uuid, kind: Kind) -> Option<(Uuid, CancellationToken)> {
        let mut all = self.all();
        let under_way = |t: &Task| t.view.state == TaskState::Running;
        // One import at a time, whoever's: an upload takes room on the disk before it is looked at.
        let import = |t: &Task| kind == Kind::Import && t.view.kind == Kind::Import;
        if all.values().any(|t| under_way(t) && (t.workshop == workshop || import(t))) {
            return None;
        }
        let now = OffsetDateTime::now_utc();
        for task in all.values_mut().filter(|t| now - t.view.begun_at > READY.1) {
            task.file = None;
        }
        while all.values().filter(|t| t.file.is_some()).count() >= READY.0 {
            let oldest = all.values_mut().filter(|t| t.file.is_some()).min_by_key(|t| t.view.begun_at);
            oldest.map(|task| task.file.take());
        }
        if all.len() >= REMEMBERED {
            let oldest = all
                .iter()
                .filter(|(_, t)| t.view.state != TaskState::Running)
                .min_by_key(|(_, t)| t.view.begun_at)
                .map(|(id, _)| *id);
            oldest.map(|id| all.remove(&id));
        }
        let (id, stop) = (Uuid::now_v7(), self.stop.child_token());
        let view = TaskView {
            id,
            kind,
            begun_at: OffsetDateTime::now_utc(),
            done: 0,
            total: 0,
            state: TaskState::Running,
        };
        all.insert(id, Task { workshop, view, stop: stop.clone(), file: None });
        Some((id, stop))
    }

    /// How far it is.
    pub fn progress(&self, id: Uuid, done: u64, total: u64) {
        if let Some(task) = self.all().get_mut(&id) {
            (task.view.done, task.view.total) = (done, total);
        }
    }

    /// It has ended, with a file or without one. What was called off stays called off.
    pub fn ended(&self, id: Uuid, state: TaskState, file: Option<File>) {
        if let Some(task) = self.all().get_mut(&id) {
            let off = task.stop.is_cancelled();
            task.view.state = if off { TaskState::Cancelled } else { state };
            task.file = file.filter(|_| !off).map(Arc::new);
        }
    }

    /// It ended without a word: called off, or the line to whoever asked was cut.
    pub fn broke_off(&self, id: Uuid) {
        if let Some(task) = self.all().get_mut(&id).filter(|t| t.view.state == TaskState::Running) {
            task.view.state = TaskState::Cancelled;
        }
    }

    /// Some of a workshop.
    pub fn one(&self, workshop: Uuid, id: Uuid) -> Option<TaskView> {
        self.all().get(&id).filter(|t| t.workshop == workshop).map(|t| t.view.clone())
    }

    /// All of a workshop, the newest first.
    pub fn of(&self, workshop: Uuid) -> Vec<TaskView> {
        let mut found: Vec<TaskView> =
            self.all().values().filter(|t| t.workshop == workshop).map(|t| t.view.clone()).collect();
        found.sort_by_key(|t| std::cmp::Reverse(t.begun_at));
        found
    }

    /// The file that came of it.
    pub fn file(&self, workshop: Uuid, id: Uuid) -> Option<Arc<File>> {
        self.all().get(&id).filter(|t| t.workshop == workshop)?.file.clone()
    }

    /// Calls it off; what has ended stays as it is, but its file goes.
    pub fn cancel(&self, workshop: Uuid, id: Uuid) -> bool {
        let mut all = self.all();
        let Some(task) = all.get_mut(&id).filter(|t| t.workshop == workshop) else { return false };
        if task.view.state == TaskState::Running {
            task.stop.cancel();
        } else {
            task.file = None;
        }
        true
    }
}
