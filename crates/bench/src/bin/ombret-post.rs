//! `ombret-post`: the mail server that stands in for a real one in the demo; mails are files in a folder.

use std::net::SocketAddr;
use std::path::PathBuf;

use clap::Parser;
use ombret_bench::post::Post;

#[derive(Parser)]
#[command(version)]
struct Args {
    /// Where it listens.
    #[arg(long, default_value = "127.0.0.1:7412")]
    listen: SocketAddr,
    /// Into which folder mails go.
    folder: PathBuf,
}

#[tokio::main]
async fn main() -> std::io::Result<()> {
    let args = Args::parse();
    Post::new(Some(args.folder)).listen(args.listen).await?;
    tokio::signal::ctrl_c().await
}
