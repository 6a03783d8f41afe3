# How fast the server answers, against the demo's database with fsync on. Sourced by ./ombret.
# The figures that it prints are those of docs/performance.md.

load() { # [large [--plans FILE]]
  build_web
  need_packages chromium chromium-driver
  say "Building optimised programs (several minutes the first time) …"
  cargo build --locked --release --workspace --bins || stop_with "the programs do not build"
  # The test profile trades safety for speed; a load figure must not.
  database_start demo
  if [ "${1:-}" = large ]; then shift; target/release/large "$@"; else target/release/load; fi
}

soak() { # [minutes]
  build_web
  say "Building optimised programs (several minutes the first time) …"
  cargo build --locked --release --workspace --bins || stop_with "the programs do not build"
  database_start demo
  target/release/soak "$@"
}
