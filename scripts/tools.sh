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

build_web() {
  need_modules
  if fresh_stamp web web/src words web/index.html web/vite.config.ts web/package.json && [ -f web/dist/index.html ]; then return; fi
  say "Building the front end …"
  rm -rf web/dist/assets
  (cd web && npm run --silent build >&2) || stop_with "the front end does not build"
  fresh_stamp web web/src words web/index.html web/vite.config.ts web/package.json || true
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
