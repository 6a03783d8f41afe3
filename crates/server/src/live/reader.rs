//! Reads the lines of an indicator, and goes on reading them when the line has been cut: with a
//! growing pause between tries, until nobody is looking any more.

use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, MutexGuard, PoisonError, Weak};
use std::time::{Duration, Instant};

use ombret_core::journal::{Heard, Setup};
use ombret_core::live::{Cut, Lines, Link, LiveView, Watch, observe};
use ombret_core::signal::{LONGEST_LINE, LineReader};
use tokio::io::{AsyncBufReadExt, AsyncReadExt, BufReader};
use tokio::sync::watch;
use tokio::time::timeout;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

use super::device::Allowed;
use super::{Device, DeviceError, Others};

/// An indicator that says nothing for so long has gone.
const SILENCE: Duration = Duration::from_secs(5);
/// A line after which nothing came for so long was the last of a burst.
const PAUSE: Duration = Duration::from_millis(60);
/// How often it is looked whether another instance reads.
const LOOKS: Duration = Duration::from_secs(1);
const FIRST_PAUSE: Duration = Duration::from_millis(200);
const LONGEST_PAUSE: Duration = Duration::from_secs(5);

/// What has come from one indicator.
#[derive(Debug)]
pub struct Signal {
    lines: Mutex<Lines>,
    changed: watch::Sender<u64>,
    device: Device,
}

impl Signal {
    fn lock(&self) -> MutexGuard<'_, Lines> {
        self.lines.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Tells when something new has come.
    pub fn watch(&self) -> watch::Receiver<u64> {
        self.changed.subscribe()
    }

    /// Looks at what has come.
    pub fn look<T>(&self, at: impl FnOnce(&Lines) -> T) -> T {
        at(&self.lock())
    }

    /// What a page shows now.
    pub fn view(&self, watch: &mut Watch) -> LiveView {
        watch.view(&self.lock(), now_s())
    }

    /// What a job in this set-up may take at this moment.
    pub fn observe(&self, setup: Setup) -> Heard {
        observe(&self.lock(), setup, now_s())
    }

    fn change(&self, change: impl FnOnce(&mut Lines)) {
        change(&mut self.lock());
        self.changed.send_modify(|n| *n = n.wrapping_add(1));
    }

    fn set_link(&self, link: Link) {
        self.change(|lines| lines.set_link(link));
    }

    fn take(&self, line: &str, reader: &LineReader) {
        self.change(|lines| lines.take(line, reader, now_s()));
    }
}

/// Seconds of this program's clock.
fn now_s() -> f64 {
    static BEGAN: LazyLock<Instant> = LazyLock::new(Instant::now);
    BEGAN.elapsed().as_secs_f64()
}

/// The readers in operation, by scale. A reader ends when nobody holds its signal.
#[derive(Clone)]
pub struct Readers {
    by_scale: Arc<Mutex<HashMap<Uuid, Weak<Signal>>>>,
    allowed: Arc<Allowed>,
    others: Arc<dyn Others>,
    stop: CancellationToken,
}

impl Readers {
    /// None yet; all end at `stop`.
    pub fn new(allowed: Allowed, others: Arc<dyn Others>, stop: CancellationToken) -> Self {
        Self { by_scale: Arc::default(), allowed: Arc::new(allowed), others, stop }
    }

    /// How many indicators are read now.
    pub fn open(&self) -> usize {
        let by_scale = self.by_scale.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        by_scale.values().filter(|signal| signal.strong_count() > 0).count()
    }

    /// Checks how an indicator is connected, and that it may be there.
    ///
    /// # Errors
    /// [`DeviceError`].
    pub fn check(&self, device: &Device) -> Result<LineReader, DeviceError> {
        let reader = device.check()?;
        self.allowed.check(&device.address)?;
        Ok(reader)
    }

    /// Ends every stream, for shutting down.
    pub const fn stop(&self) -> &CancellationToken {
        &self.stop
    }

    /// The signal of a scale that is being read now, if any.
    pub fn running(&self, scale: Uuid) -> Option<Arc<Signal>> {
        self.by_scale.lock().unwrap_or_else(PoisonError::into_inner).get(&scale).and_then(Weak::upgrade)
    }

    /// The signal of a scale; starts reading if nobody does.
    ///
    /// # Errors
    /// [`DeviceError`] where the connection cannot be used.
    pub fn signal(&self, scale: Uuid, device: &Device) -> Result<Arc<Signal>, DeviceError> {
        let reader = self.check(device)?;
        let mut by_scale = self.by_scale.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(signal) = by_scale.get(&scale).and_then(Weak::upgrade).filter(|s| s.device == *device) {
            return Ok(signal);
        }
        let signal = Arc::new(Signal {
            lines: Mutex::default(),
            changed: watch::channel(0).0,
            device: device.clone(),
        });
        by_scale.retain(|_, signal| signal.strong_count() > 0);
        by_scale.insert(scale, Arc::downgrade(&signal));
        let place = Place {
            scale,
            address: device.address.clone(),
            allowed: self.allowed.clone(),
            others: self.others.clone(),
        };
        tokio::spawn(keep_reading(Arc::downgrade(&signal), reader, place, self.stop.clone()));
        Ok(signal)
    }
}

/// Where an indicator is, and who else may read it.
struct Place {
    scale: Uuid,
    address: String,
    allowed: Arc<Allowed>,
    others: Arc<dyn Others>,
}

impl Drop for Place {
    fn drop(&mut self) {
        self.others.let_go(self.scale);
    }
}

/// Another instance reads it from now on.
async fn taken_over(place: &Place) {
    loop {
        tokio::time::sleep(LOOKS).await;
        if !place.others.own(place.scale).await {
            return;
        }
    }
}

/// Hears what another instance reads, until that one is gone and this one reads itself.
async fn follow(signal: &Weak<Signal>, reader: &LineReader, place: &Place) {
    let mut lines = place.others.hear();
    let (mut heard, mut asked) = (Instant::now(), None::<Instant>);
    loop {
        if asked.is_none_or(|at| at.elapsed() >= LOOKS) {
            asked = Some(Instant::now());
            if place.others.own(place.scale).await {
                return;
            }
            place.others.follow(place.scale).await;
        }
        let line = timeout(LOOKS / 4, lines.recv()).await;
        let Some(held) = signal.upgrade() else { return };
        match line {
            Ok(Ok((scale, line))) if scale == place.scale => {
                heard = Instant::now();
                held.take(&line, reader);
            }
            Ok(Err(tokio::sync::broadcast::error::RecvError::Closed)) => return,
            // Some of another scale, or some were missed: a gap is told, so that nothing is steady over it.
            Ok(Err(tokio::sync::broadcast::error::RecvError::Lagged(_))) => held.change(Lines::missed),
            Ok(Ok(_)) | Err(_) => {}
        }
        if heard.elapsed() > SILENCE {
            heard = Instant::now();
            held.set_link(Link::Lost(Cut::Silent));
        }
    }
}

async fn keep_reading(signal: Weak<Signal>, reader: LineReader, place: Place, stop: CancellationToken) {
    let mut pause = FIRST_PAUSE;
    while signal.strong_count() > 0 && !stop.is_cancelled() {
        if !place.others.own(place.scale).await {
            tokio::select! {
                () = stop.cancelled() => return,
                () = follow(&signal, &reader, &place) => {}
            }
            continue;
        }
        let ended = tokio::select! {
            () = stop.cancelled() => return,
            () = taken_over(&place) => continue,
            ended = read_once(&signal, &reader, &place) => ended,
        };
        let Some(held) = signal.upgrade() else { return };
        let (why, came) = match ended {
            Ok(came) => (Cut::Closed, came),
            Err(why) => (why, false),
        };
        held.set_link(Link::Lost(why));
        drop(held);
        pause = if came { FIRST_PAUSE } else { (pause * 2).min(LONGEST_PAUSE) };
        tokio::select! {
            () = stop.cancelled() => return,
            () = tokio::time::sleep(pause) => {}
        }
    }
}

/// Lines of a hasty indicator are thinned evenly: a hundred a second are more than the steadiness rule
/// needs, and as many as are kept then reach well beyond its hold time. A burst that was held up on the way
/// passes whole.
struct Pace {
    left: f64,
    at: Instant,
}

impl Pace {
    const A_SECOND: f64 = 100.0;
    const BURST: f64 = 250.0;

    fn new() -> Self {
        Self { left: Self::BURST, at: Instant::now() }
    }

    fn lets(&mut self, now: Instant) -> bool {
        let since = now.saturating_duration_since(self.at).as_secs_f64();
        self.left = (self.left + since * Self::A_SECOND).min(Self::BURST);
        self.at = now;
        let lets = self.left >= 1.0;
        if lets {
            self.left -= 1.0;
        }
        lets
    }
}

/// Reads until the line ends; true where anything came. Why it went wrong is told in general words.
async fn read_once(signal: &Weak<Signal>, reader: &LineReader, place: &Place) -> Result<bool, Cut> {
    let stream = timeout(SILENCE, place.allowed.open(&place.address)).await.map_err(|_| Cut::Silent)??;
    let take = |held: &Signal, line: &[u8]| {
        let line = String::from_utf8_lossy(line);
        held.take(&line, reader);
        place.others.say(place.scale, &line);
    };
    let mut lines = BufReader::new(stream);
    let limit = LONGEST_LINE + 2;
    let (mut came, mut pace) = (false, Pace::new());
    // The rest of a line that is longer than any is no line of its own.
    let mut over_long = false;
    // The newest line that came too soon: it counts once no other follows at once.
    let mut waiting: Option<Vec<u8>> = None;
    let mut line = Vec::new();
    loop {
        let room = u64::try_from(limit - line.len()).unwrap_or(0);
        let mut some = (&mut lines).take(room);
        // What was read of a line stays in it where the wait is given up.
        let reading = some.read_until(b'\n', &mut line);
        let read = match timeout(if waiting.is_some() { PAUSE } else { SILENCE }, reading).await {
            Ok(read) => read.map_err(|_| Cut::Broken)?,
            Err(_) => {
                let Some(newest) = waiting.take() else { return Err(Cut::Silent) };
                let Some(held) = signal.upgrade() else { return Ok(came) };
                take(&held, &newest);
                continue;
            }
        };
        let Some(held) = signal.upgrade() else { return Ok(came) };
        if read == 0 {
            if let Some(newest) = waiting {
                take(&held, &newest);
            }
            return Ok(came);
        }
        came = true;
        let whole = line.ends_with(b"\n");
        if !whole && line.len() < limit {
            // Cut off in the middle: half a figure is none, and the next read finds the end.
            continue;
        }
        let taken = std::mem::take(&mut line);
        // Counted once, when its beginning came.
        if std::mem::replace(&mut over_long, !whole) {
            continue;
        }
        if pace.lets(Instant::now()) {
            waiting = None;
            take(&held, &taken);
        } else {
            waiting = Some(taken);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_hasty_indicator_is_thinned_evenly_and_a_burst_passes() {
        let mut pace = Pace::new();
        let start = Instant::now();
        let passed = |pace: &mut Pace, from: u64, lines: u64, a_second: u64| {
            (0..lines)
                .filter(|n| pace.lets(start + Duration::from_micros(from + n * 1_000_000 / a_second)))
                .count()
        };
        assert_eq!(passed(&mut pace, 0, 250, 1_000_000), 250, "a burst");
        let ten_seconds = passed(&mut pace, 1_000, 6_000, 600);
        assert!((990..=1_010).contains(&ten_seconds), "{ten_seconds} of 6000 in ten seconds");
        let slow = passed(&mut pace, 20_000_000, 400, 20);
        assert_eq!(slow, 400, "an ordinary indicator loses nothing");
    }
}
