//! Other instances of the program: an indicator is read by one of them, and the others hear what it says.

use futures::future::BoxFuture;
use tokio::sync::broadcast;
use uuid::Uuid;

/// What a reader needs of the other instances.
pub trait Others: Send + Sync {
    /// Whether this instance reads the scale's indicator: it does already, or nobody else does.
    fn own(&self, scale: Uuid) -> BoxFuture<'_, bool>;
    /// It reads it no more.
    fn let_go(&self, scale: Uuid);
    /// Tells the others what the indicator said, where any of them listens.
    fn say(&self, scale: Uuid, line: &str);
    /// Asks whoever reads it to tell what it says, for a while.
    fn follow(&self, scale: Uuid) -> BoxFuture<'_, ()>;
    /// What indicators say that others read.
    fn hear(&self) -> broadcast::Receiver<(Uuid, String)>;
}

/// There are none.
pub struct Nobody;

impl Others for Nobody {
    fn own(&self, _: Uuid) -> BoxFuture<'_, bool> {
        Box::pin(async { true })
    }

    fn let_go(&self, _: Uuid) {}

    fn say(&self, _: Uuid, _: &str) {}

    fn follow(&self, _: Uuid) -> BoxFuture<'_, ()> {
        Box::pin(async {})
    }

    fn hear(&self) -> broadcast::Receiver<(Uuid, String)> {
        broadcast::channel(1).1
    }
}
