//! Practice scales that this process runs for lessons, each on two loopback ports of its own. To
//! the readers they are indicators like any other.

use std::collections::HashMap;
use std::net::Ipv4Addr;
use std::sync::{Arc, Mutex, PoisonError};

use ombret_bench::{Bench, Ports, ScaleSettings};
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

use super::Device;

/// Most that run at a time; the one that was begun first is switched off for a further one.
const MOST: usize = 24;

/// The practice scales of this process.
#[derive(Clone)]
pub struct Benches {
    running: Arc<Mutex<HashMap<Uuid, Running>>>,
    speed: f64,
    stop: CancellationToken,
}

struct Running {
    stop: CancellationToken,
    order: u64,
    hands: String,
}

impl Benches {
    /// None yet; time in them will run `speed` times as fast.
    pub fn new(speed: f64, stop: CancellationToken) -> Self {
        Self { running: Arc::default(), speed, stop }
    }

    /// Switches one on, as its file says, in place of one that may be running.
    ///
    /// # Errors
    /// Where no port is free.
    pub async fn switch_on(&self, scale: Uuid, settings: &ScaleSettings) -> std::io::Result<Device> {
        let ports = Ports {
            lines: TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).await?,
            hands: TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).await?,
        };
        let device = Device {
            address: ports.lines.local_addr()?.to_string(),
            pattern: Default::default(),
            hands: Some(ports.hands.local_addr()?.to_string()),
        };
        let stop = self.stop.child_token();
        self.enter(scale, stop.clone(), device.hands.clone().unwrap_or_default());
        tokio::spawn(Bench::new(settings, self.speed).serve(ports, stop));
        Ok(device)
    }

    fn enter(&self, scale: Uuid, stop: CancellationToken, hands: String) {
        let mut running = self.running.lock().unwrap_or_else(PoisonError::into_inner);
        let order = running.values().map(|r| r.order).max().unwrap_or(0) + 1;
        if let Some(old) = running.insert(scale, Running { stop, order, hands }) {
            old.stop.cancel();
        }
        if running.len() > MOST
            && let Some(first) = running.iter().min_by_key(|(_, r)| r.order).map(|(id, _)| *id)
            && let Some(old) = running.remove(&first)
        {
            old.stop.cancel();
        }
    }

    /// True where it is on.
    pub fn is_on(&self, scale: Uuid) -> bool {
        self.running.lock().unwrap_or_else(PoisonError::into_inner).contains_key(&scale)
    }

    /// True where it is on and takes commands there.
    pub fn is_at(&self, scale: Uuid, hands: &str) -> bool {
        let running = self.running.lock().unwrap_or_else(PoisonError::into_inner);
        running.get(&scale).is_some_and(|r| r.hands == hands)
    }

    /// Switches one off.
    pub fn switch_off(&self, scale: Uuid) {
        if let Some(old) = self.running.lock().unwrap_or_else(PoisonError::into_inner).remove(&scale) {
            old.stop.cancel();
        }
    }
}
