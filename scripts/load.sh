# How fast the server answers, against the demo's database with fsync on. Sourced by ./ombret.
# The figures that it prints are those of docs/performance.md.

load() { # [throughput | large [--plans FILE]]
  build_web
  need_packages chromium chromium-driver
  say "Building optimised programs (several minutes the first time) …"
  cargo build --locked --profile serve --workspace --bins || stop_with "the programs do not build"
  # The test profile trades safety for speed; a load figure must not.
  database_start demo
  case "${1:-}" in
    large) shift; target/serve/large "$@" ;;
    throughput) target/serve/throughput ;;
    *) target/serve/load ;;
  esac
}

soak() { # [minutes]
  build_web
  say "Building optimised programs (several minutes the first time) …"
  cargo build --locked --profile serve --workspace --bins || stop_with "the programs do not build"
  database_start demo
  target/serve/soak "$@"
}
