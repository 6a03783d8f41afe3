//! The live reader against lines on a real socket: cut lines, odd lines, endless lines, silence.

use std::sync::Arc;
use std::time::{Duration, Instant};

use ombret::live::{Allowed, Device, Nobody, Readers, Signal, answer_text, operate};
use ombret::settings::Settings;
use ombret_bench::{Bench, Ports, ScaleSettings};
use ombret_core::journal::{Heard, Setup};
use ombret_core::live::{Link, LiveView, Sample, Watch};
use ombret_core::quantity::{Mass, Unit};
use tokio::io::AsyncWriteExt;
use tokio::net::{TcpListener, TcpStream};
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

fn setup() -> Setup {
    let kg = |v: &str| Mass::new(v.parse().unwrap(), Unit::Kg);
    Setup::of(kg("870"), kg("0.2"))
}

/// Waits until a condition holds, however long the machine takes.
async fn until(what: &str, mut holds: impl FnMut() -> bool) {
    let began = Instant::now();
    while !holds() {
        assert!(began.elapsed() < Duration::from_secs(60), "waited in vain for {what}");
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
}

/// Indicators on loopback and pseudo terminals may be read.
fn loopback() -> Allowed {
    Allowed::of(&Settings { serial_ports: vec!["/dev/pts/*".into()], ..Settings::default() })
}

struct Fake {
    listener: TcpListener,
    signal: Arc<Signal>,
    _readers: Readers,
}

async fn fake() -> Fake {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let device = Device {
        address: listener.local_addr().unwrap().to_string(),
        pattern: Default::default(),
        hands: None,
    };
    let readers = Readers::new(loopback(), Arc::new(Nobody), CancellationToken::new());
    let signal = readers.signal(Uuid::now_v7(), &device).unwrap();
    Fake { listener, signal, _readers: readers }
}

impl Fake {
    async fn connected(&self) -> TcpStream {
        self.listener.accept().await.unwrap().0
    }
}

/// What has come, copied out.
trait Came {
    fn since(&self, number: u64) -> (Link, Vec<Sample>);
    fn odd_lines(&self) -> (u64, Option<String>);
    fn blank(&self) -> Option<String>;
}

impl Came for Signal {
    fn since(&self, number: u64) -> (Link, Vec<Sample>) {
        self.look(|lines| (*lines.link(), lines.since(number).cloned().collect()))
    }
    fn odd_lines(&self) -> (u64, Option<String>) {
        self.look(|lines| {
            let (odd, last) = lines.odd_lines();
            (odd, last.map(str::to_owned))
        })
    }
    fn blank(&self) -> Option<String> {
        self.look(|lines| lines.blank().map(str::to_owned))
    }
}

/// A page that looks.
struct Watcher(Arc<Signal>, Watch);

impl Watcher {
    fn new(signal: Arc<Signal>, setup: Setup) -> Option<Self> {
        Some(Self(signal, Watch::new(setup)?))
    }
    fn view(&mut self) -> LiveView {
        self.0.view(&mut self.1)
    }
}

#[expect(clippy::needless_pass_by_value, reason = "a look takes what it looks at")]
fn observe(signal: Arc<Signal>, setup: Setup) -> Heard {
    signal.observe(setup)
}

#[tokio::test]
async fn odd_lines_are_counted_and_never_taken_as_readings() {
    let fake = fake().await;
    let mut line = fake.connected().await;
    let endless = "9".repeat(100_000);
    line.write_all(
        format!("ady 5.0 kg\r\nsteady 12.4 kg\r\n\r\nfive kilos\r\n{endless}\r\nsteady 12.6 kg\r\n")
            .as_bytes(),
    )
    .await
    .unwrap();
    until("both readings", || fake.signal.since(0).1.len() == 2).await;
    let shown: Vec<String> = fake.signal.since(0).1.iter().map(|s| s.reading.shown.to_string()).collect();
    assert_eq!(shown, ["12.4 kg", "12.6 kg"]);
    let (odd, last) = fake.signal.odd_lines();
    assert!(odd >= 3 && last.is_some(), "{odd}");
}

#[tokio::test]
async fn a_cut_line_is_told_and_read_again_and_steadiness_starts_anew() {
    let fake = fake().await;
    let mut line = fake.connected().await;
    line.write_all(b"steady 12.4 kg\r\n").await.unwrap();
    until("a reading", || fake.signal.since(0).1.len() == 1).await;
    drop(line);
    until("the loss", || matches!(fake.signal.since(0).0, Link::Lost(_))).await;
    assert!(observe(Arc::clone(&fake.signal), setup()).is_err(), "a lost reading is no reading");
    let mut line = fake.connected().await;
    line.write_all(b"steady 12.4 kg\r\n").await.unwrap();
    until("it to come back", || fake.signal.since(0).1.len() == 2).await;
    assert!(fake.signal.since(0).1[1].after_gap);
    let mut watcher = Watcher::new(Arc::clone(&fake.signal), setup()).unwrap();
    let view = watcher.view();
    assert!(view.connected && !view.steady && view.held < 0.01, "{view:?}");
}

#[tokio::test]
async fn a_display_without_a_figure_leaves_nothing_to_take() {
    let fake = fake().await;
    let mut line = fake.connected().await;
    line.write_all(b"steady 860.0 kg\r\nover\r\n").await.unwrap();
    until("the blank", || fake.signal.blank().is_some()).await;
    assert!(observe(Arc::clone(&fake.signal), setup()).is_err());
    assert!(
        Watcher::new(Arc::clone(&fake.signal), setup()).unwrap().view().says.to_string().contains("over")
    );
    assert_eq!(fake.signal.odd_lines().0, 0);
}

#[tokio::test]
async fn what_was_not_understood_is_past_once_lines_are_understood_again() {
    let fake = fake().await;
    let mut line = fake.connected().await;
    line.write_all(b"hello\r\nsteady 12.4 kg\r\n").await.unwrap();
    until("a reading", || fake.signal.since(0).1.len() == 1).await;
    assert_eq!(fake.signal.odd_lines().0, 1, "one good line does not clear it");
    line.write_all("steady 12.4 kg\r\n".repeat(30).as_bytes()).await.unwrap();
    until("thirty more", || fake.signal.since(0).1.len() == 31).await;
    assert_eq!(fake.signal.odd_lines(), (0, None));
}

#[tokio::test]
async fn a_slow_watcher_gets_the_newest_reading_and_memory_stays_bounded() {
    let fake = fake().await;
    let mut line = fake.connected().await;
    let lines: String = (0..4_000).map(|n| format!("moving {}.0 kg\r\n", n % 800)).collect();
    line.write_all(lines.as_bytes()).await.unwrap();
    // Far more than are needed came at once: they are thinned, and the newest is there all the same.
    let newest = || fake.signal.since(0).1.last().map(|s| s.reading.shown.to_string());
    until("the last reading", || newest().as_deref() == Some("799 kg")).await;
    let (_, samples) = fake.signal.since(0);
    assert!(samples.len() <= 1_500, "{}", samples.len());
    assert_eq!(
        Watcher::new(Arc::clone(&fake.signal), setup()).unwrap().view().shown.as_deref(),
        Some("799.0 kg")
    );
}

#[tokio::test]
async fn a_reader_ends_when_nobody_looks_any_more() {
    let fake = fake().await;
    let line = fake.connected().await;
    let Fake { signal, .. } = fake;
    drop(signal);
    // The indicator notices that it is no longer listened to: its line is closed.
    line.writable().await.unwrap();
    let mut line = line;
    until("the line to be closed", || line.try_write(b"steady 1.0 kg\r\n").is_err()).await;
    let _ = line.shutdown().await;
}

#[tokio::test]
async fn the_practice_scale_is_read_steady_and_obeys_the_hands() {
    let settings: ScaleSettings =
        serde_json::from_str(include_str!("../../../demo/bench/wool-table.json")).unwrap();
    let ports = Ports {
        lines: TcpListener::bind("127.0.0.1:0").await.unwrap(),
        hands: TcpListener::bind("127.0.0.1:0").await.unwrap(),
    };
    let (lines, at) =
        (ports.lines.local_addr().unwrap().to_string(), ports.hands.local_addr().unwrap().to_string());
    let stop = CancellationToken::new();
    let bench = tokio::spawn(Bench::new(&settings, 5.0).serve(ports, stop.clone()));
    let readers = Readers::new(loopback(), Arc::new(Nobody), stop.clone());
    let signal = readers
        .signal(
            Uuid::now_v7(),
            &Device { address: lines, pattern: Default::default(), hands: Some(at.clone()) },
        )
        .unwrap();
    until("steady at zero", || observe(Arc::clone(&signal), setup()).is_ok_and(|o| o.steady)).await;
    let (done, says) = answer_text(&operate(&at, "put 600").await.unwrap());
    assert!(done && says.to_string().contains("on it: 600.000 kg"), "{says}");
    until("motion", || observe(Arc::clone(&signal), setup()).is_ok_and(|o| !o.steady)).await;
    until("steady with the weight", || {
        observe(Arc::clone(&signal), setup()).is_ok_and(|o| o.steady && o.shown.value > 600)
    })
    .await;
    let observed = observe(Arc::clone(&signal), setup()).unwrap();
    let counts = observed.counts.unwrap().to_f64();
    assert!((counts - 333.2f64.mul_add(600.0, 41_250.0)).abs() < 10.0, "{counts}");
    let (done, says) = answer_text(&operate(&at, "span 600").await.unwrap());
    assert_eq!((done, says.to_string().as_str()), (false, "zero is not captured"));
    assert!(operate(&at, "lift it\nclear").await.is_err());
    stop.cancel();
    bench.await.unwrap();
}

#[tokio::test]
async fn an_indicator_on_a_serial_port_is_read_like_any_other() {
    use tokio_serial::{SerialPort, SerialStream};
    let (mut master, slave) = SerialStream::pair().unwrap();
    let path = slave.name().unwrap();
    // The reader opens it by its name, as it would a real port.
    drop(slave);
    let device =
        Device { address: format!("serial:{path}@9600,8N1"), pattern: Default::default(), hands: None };
    let readers = Readers::new(loopback(), Arc::new(Nobody), CancellationToken::new());
    let signal = readers.signal(Uuid::now_v7(), &device).unwrap();
    let mut sent = 0;
    while signal.since(0).1.len() < 3 {
        sent += 1;
        // Before anybody has opened the other end nothing is heard; it is said again.
        let _ = master.write_all(b"steady 12.4 kg\r\n").await;
        tokio::task::yield_now().await;
        assert!(sent < 10_000_000, "nothing was read");
        if sent % 100 == 0 {
            tokio::time::sleep(Duration::from_millis(5)).await;
        }
    }
    assert!(signal.since(0).1.iter().any(|s| s.reading.shown.to_string() == "12.4 kg"));
}

#[tokio::test]
async fn fifty_indicators_are_read_at_once_without_a_dropped_reading() {
    // A burst as it comes after a pause of the line; what comes faster for long is thinned.
    const LINES: u64 = 240;
    let readers = Readers::new(loopback(), Arc::new(Nobody), CancellationToken::new());
    let mut signals = Vec::new();
    for _ in 0..50 {
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let device = Device {
            address: listener.local_addr().unwrap().to_string(),
            pattern: Default::default(),
            hands: None,
        };
        signals.push(readers.signal(Uuid::now_v7(), &device).unwrap());
        tokio::spawn(async move {
            let (mut stream, _) = listener.accept().await.unwrap();
            for n in 0..LINES {
                stream.write_all(format!("steady {n}.0 kg\r\n").as_bytes()).await.unwrap();
            }
            // Held open: a closed line would be called again.
            std::future::pending::<()>().await;
        });
    }
    for signal in &signals {
        until("every line", || signal.since(0).1.last().is_some_and(|s| s.number == LINES)).await;
        let samples = signal.since(0).1;
        assert!(samples.windows(2).all(|pair| pair[1].number == pair[0].number + 1), "a reading was dropped");
        assert_eq!(signal.odd_lines().0, 0);
    }
}

#[tokio::test]
async fn a_unit_that_was_switched_is_named_at_once() {
    let fake = fake().await;
    let mut line = fake.connected().await;
    let mut watcher = Watcher::new(Arc::clone(&fake.signal), setup()).unwrap();
    line.write_all(b"steady 600.0 kg\r\n").await.unwrap();
    until("the reading", || watcher.view().shown.is_some()).await;
    assert_eq!(watcher.view().unit_note, None);
    line.write_all(b"steady 1322.8 lb\r\n").await.unwrap();
    until("pounds", || watcher.view().unit_note.is_some()).await;
    assert!(watcher.view().unit_note.unwrap().to_string().contains("shows lb"));
}

#[tokio::test]
async fn a_jump_by_the_ratio_of_two_units_is_named_and_another_load_is_not() {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let pattern = ombret_core::signal::LinePattern {
        pattern: r"^(?<value>-?\d+\.\d)$".into(),
        steady: String::new(),
        unit: Some(Unit::Kg),
    };
    let device = Device { address: listener.local_addr().unwrap().to_string(), pattern, hands: None };
    let readers = Readers::new(loopback(), Arc::new(Nobody), CancellationToken::new());
    let signal = readers.signal(Uuid::now_v7(), &device).unwrap();
    let (mut line, _) = listener.accept().await.unwrap();
    let mut watcher = Watcher::new(Arc::clone(&signal), setup()).unwrap();
    for (shown, jumps) in [
        ("300.0", false),
        ("600.0", false),
        ("1322.8", true),
        ("1322.8", true),
        ("600.0", false),
        ("0.0", false),
        ("400.0", false),
    ] {
        let before = signal.since(0).1.len();
        line.write_all(format!("{shown}\r\n").as_bytes()).await.unwrap();
        until("the line", || signal.since(0).1.len() > before).await;
        assert_eq!(watcher.view().unit_note.is_some(), jumps, "{shown}");
    }
}

#[tokio::test]
async fn a_practice_scale_on_a_pseudo_terminal_is_read_as_over_a_serial_cable() {
    let settings: ScaleSettings =
        serde_json::from_slice(include_bytes!("../../../demo/bench/wool-table.json")).unwrap();
    let bench = Bench::new(&settings, 10.0);
    let (path, sending) = bench.terminal().unwrap();
    let stop = CancellationToken::new();
    let ports = Ports {
        lines: TcpListener::bind("127.0.0.1:0").await.unwrap(),
        hands: TcpListener::bind("127.0.0.1:0").await.unwrap(),
    };
    let running = tokio::spawn(bench.serve(ports, stop.clone()));
    let sent = tokio::spawn(sending);
    let device = Device { address: format!("serial:{path}@9600"), pattern: Default::default(), hands: None };
    let readers = Readers::new(loopback(), Arc::new(Nobody), stop.clone());
    let signal = readers.signal(Uuid::now_v7(), &device).unwrap();
    until("readings over the terminal", || signal.since(0).1.len() > 5).await;
    assert!(signal.since(0).1.iter().all(|s| s.reading.shown.unit == Unit::Kg));
    stop.cancel();
    running.await.unwrap();
    sent.await.unwrap();
}

#[tokio::test]
async fn the_tail_of_an_over_long_line_is_no_line_and_a_half_one_at_the_end_is_none() {
    let fake = fake().await;
    let (mut stream, _) = fake.listener.accept().await.unwrap();
    let long = format!("{}steady 111.0 kg\n", "x".repeat(1_032));
    stream.write_all(long.as_bytes()).await.unwrap();
    stream.write_all(b"steady 600.0 kg\nsteady 222.0 k").await.unwrap();
    until("the good line", || !fake.signal.since(0).1.is_empty()).await;
    drop(stream);
    until("the end of the line", || matches!(fake.signal.since(0).0, Link::Lost(_))).await;
    let shown: Vec<String> = fake.signal.since(0).1.iter().map(|s| s.reading.shown.to_string()).collect();
    assert_eq!(shown, ["600 kg"], "neither the tail of a long line nor a line without its end");
    assert_eq!(fake.signal.odd_lines().0, 1, "counted once");
}

#[tokio::test]
async fn while_only_odd_lines_come_the_line_is_not_said_to_be_closed() {
    let fake = fake().await;
    let (mut stream, _) = fake.listener.accept().await.unwrap();
    stream.write_all(b"no figure at all\n").await.unwrap();
    until("the odd line", || fake.signal.odd_lines().0 == 1).await;
    let mut watcher = Watcher::new(fake.signal.clone(), setup()).unwrap();
    assert_eq!(watcher.view().says, "lines come, but none of them is understood");
}

#[tokio::test]
async fn at_six_hundred_lines_a_second_page_and_job_say_the_same() {
    let fake = fake().await;
    let (mut stream, _) = fake.listener.accept().await.unwrap();
    let feeding = tokio::spawn(async move {
        let mut pace = tokio::time::interval(Duration::from_millis(10));
        loop {
            pace.tick().await;
            if stream.write_all("steady 600.0 kg\n".repeat(6).as_bytes()).await.is_err() {
                break;
            }
        }
    });
    let mut page = Watcher::new(fake.signal.clone(), setup()).unwrap();
    until("a steady reading on the page", || page.view().steady).await;
    // As soon as the page says so a capture is taken, not refused as moving.
    until("the same for the job", || observe(fake.signal.clone(), setup()).is_ok_and(|o| o.steady)).await;
    assert!(page.view().steady);
    feeding.abort();
}
