//! `ombret-bench`: a simulated scale on two ports.

use std::net::SocketAddr;
use std::path::PathBuf;

use clap::Parser;
use ombret_bench::{Bench, Ports, ScaleSettings};
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;

/// A simulated scale: speaks the line format on one port, takes the technician's hands on another.
#[derive(Parser)]
struct Args {
    /// Files of scales; each further one listens two ports higher.
    #[arg(required = true)]
    scales: Vec<PathBuf>,
    /// Where lines are sent.
    #[arg(long, default_value = "127.0.0.1:7410")]
    lines: SocketAddr,
    /// Where the hands are taken.
    #[arg(long, default_value = "127.0.0.1:7411")]
    hands: SocketAddr,
    /// Also send the lines of each on a pseudo-terminal, as over a serial cable; its path is told.
    #[arg(long)]
    terminal: bool,
    /// How many times as fast time runs.
    #[arg(long, default_value_t = 1.0)]
    speed: f64,
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    tracing_subscriber::fmt().with_writer(std::io::stderr).init();
    let args = Args::parse();
    let stop = CancellationToken::new();
    let stopper = stop.clone();
    tokio::spawn(async move {
        let _ = tokio::signal::ctrl_c().await;
        stopper.cancel();
    });
    let mut benches = tokio::task::JoinSet::new();
    for (higher, file) in (0u16..).step_by(2).zip(&args.scales) {
        let mut settings: ScaleSettings =
            serde_json::from_slice(&std::fs::read(file)?).map_err(|e| format!("{}: {e}", file.display()))?;
        if let Some(name) =
            settings.profile.clone().filter(|text| text.ends_with(".toml") && !text.contains('\n'))
        {
            settings.profile = Some(
                std::fs::read_to_string(file.with_file_name(&name)).map_err(|e| format!("{name}: {e}"))?,
            );
        }
        settings.check().map_err(|e| format!("{}: {e}", file.display()))?;
        let at = |address: SocketAddr| SocketAddr::new(address.ip(), address.port() + higher);
        let ports = Ports {
            lines: TcpListener::bind(at(args.lines)).await?,
            hands: TcpListener::bind(at(args.hands)).await?,
        };
        let bench = Bench::new(&settings, args.speed);
        if args.terminal {
            let (path, sending) = bench.terminal()?;
            tracing::info!("{} sends its lines on serial:{path}@9600 too", file.display());
            benches.spawn(sending);
        }
        benches.spawn(bench.serve(ports, stop.clone()));
    }
    while benches.join_next().await.is_some() {}
    Ok(())
}
