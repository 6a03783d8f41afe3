# What the machine needs, and how the project is built. Sourced by ./ombret.

say() { printf '%s\n' "$*" >&2; }
stop_with() { say "ombret: $*"; exit 1; }

# Debian packages, as root or through sudo; without either they are named.
need_packages() {
  local missing=() package
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  command -v apt-get >/dev/null || stop_with "these Debian packages are missing: ${missing[*]}"
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    sudo -n true 2>/dev/null || stop_with "these Debian packages are missing and need root to install: ${missing[*]}"
    as=(sudo)
  fi
  say "Installing ${missing[*]} …"
  local log; log=$(mktemp)
  if ! { "${as[@]}" apt-get update -q && DEBIAN_FRONTEND=noninteractive "${as[@]}" apt-get install -y -q --no-install-recommends "${missing[@]}"; } >"$log" 2>&1; then
    tail -n 20 "$log" >&2
    stop_with "installing failed: ${missing[*]}"
  fi
  rm -f "$log"
}

need_tools() {
  command -v cargo >/dev/null || stop_with "Rust is missing: install the toolchain with rustup (https://rustup.rs)"
  command -v npm >/dev/null || stop_with "Node is missing: install Node 20 or later with npm"
  need_packages postgresql postgresql-client
}

# A stamp says that a step is done for the files as they are.
fresh_stamp() { # name files…
  local name=$1; shift
  local now; now=$(find "$@" -type f -not -path '*/node_modules/*' -not -path '*/dist/*' -print0 2>/dev/null | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
  stamp_value=$now
  [ "$(cat ".ombret/stamps/$name" 2>/dev/null)" = "$now" ]
}
put_stamp() { mkdir -p .ombret/stamps; printf '%s' "$stamp_value" > ".ombret/stamps/$1"; }

need_modules() {
  if fresh_stamp modules web/package-lock.json && [ -d web/node_modules ]; then return; fi
  say "Installing the front end's packages (a minute or two the first time) …"
  (cd web && npm ci --prefer-offline --no-audit --no-fund --loglevel=error >&2) || stop_with "npm ci failed"
  fresh_stamp modules web/package-lock.json || true
  put_stamp modules
}

# The core for the page, as WebAssembly. The machine's toolchain has its target, or Debian's compiler builds the
# standard library for it; where neither is there the page goes without working off the network, and says so.
build_core() {
  if fresh_stamp core crates/core/src crates/core/Cargo.toml crates/wasm/src crates/wasm/Cargo.toml words Cargo.toml Cargo.lock && [ -f target/core.wasm ]; then return; fi
  local built=target/wasm/wasm32-unknown-unknown/small/ombret_wasm.wasm
  local sysroot; sysroot=$(rustc --print sysroot)
  say "Building the core for the page (a few minutes the first time) …"
  if [ -d "$sysroot/lib/rustlib/wasm32-unknown-unknown" ]; then
    CARGO_TARGET_DIR=target/wasm cargo build --quiet --locked --lib -p ombret-wasm --profile small --target wasm32-unknown-unknown \
      || stop_with "the core for the page does not build"
  else
    if ! (need_packages rustc-web rust-web-src) && [ "${1:-}" != needed ]; then
      say "Without them the page does not work off the network."
      mkdir -p target; : > target/core.wasm
      return
    fi
    # Cargo and linker are the toolchain's own; compiler and library are of one version.
    RUSTC=/usr/bin/rustc RUSTC_BOOTSTRAP=1 CARGO_TARGET_DIR=target/wasm \
      CARGO_TARGET_WASM32_UNKNOWN_UNKNOWN_LINKER="$sysroot/lib/rustlib/$(rustc -vV | sed -n 's/^host: //p')/bin/rust-lld" \
      cargo build --quiet --locked --lib -p ombret-wasm --profile small -Z build-std=std,panic_abort --target wasm32-unknown-unknown \
      || stop_with "the core for the page does not build"
  fi
  cp "$built" target/core.wasm
  fresh_stamp core crates/core/src crates/core/Cargo.toml crates/wasm/src crates/wasm/Cargo.toml words Cargo.toml Cargo.lock || true
  put_stamp core
}

build_web() {
  need_modules
  build_core "${1:-}"
  if fresh_stamp web web/src web/public words docs/profile.schema.json web/index.html web/vite.config.ts web/package.json target/core.wasm && [ -f web/dist/index.html ]; then return; fi
  say "Building the front end …"
  rm -rf web/dist/assets
  (cd web && npm run --silent build >&2) || stop_with "the front end does not build"
  fresh_stamp web web/src web/public words docs/profile.schema.json web/index.html web/vite.config.ts web/package.json target/core.wasm || true
  put_stamp web
}

build_server() {
  if [ "${1:-}" = quiet ]; then
    cargo build --quiet --locked -p ombret --bin ombret || stop_with "the server does not build"
  else
    [ -d target/debug/deps ] || say "The first build takes several minutes; cargo shows its progress."
    cargo build --locked --workspace --bins || stop_with "the server does not build"
  fi
}

# What serves a workshop is optimised.
build_serve() {
  need_tools; build_web
  [ -d target/serve/deps ] || say "The first optimised build takes several minutes; cargo shows its progress."
  cargo build --profile serve --locked -p ombret --bin ombret || stop_with "the server does not build"
}

build_all() { need_tools; build_web; build_server; }
