# Every check, as CI runs them. Sourced by ./ombret.

run_tests() {
  need_tools
  need_packages chromium chromium-driver
  say "Formatting …"
  cargo fmt --check >&2 || stop_with "Rust code is not formatted: run cargo fmt"
  need_modules
  (cd web && npm run --silent formatted >&2) || stop_with "the front end is not formatted: run npm run format in web/"
  database_start test
  trap 'database_stop test' EXIT
  local page=
  if [ -d target/debug/deps ]; then
    build_web needed
  else
    say "The first build takes several minutes; cargo shows its progress."
    # The page and its core are built beside what the server stands on. The server carries them, and waits for the
    # lock, which is held until they are there.
    exec 9>.ombret/page.lock
    flock 9
    build_web needed &
    page=$!
    exec 9>&-
    export OMBRET_PAGE_LOCK=$top/.ombret/page.lock
  fi
  # One failing test should not print a hundred lines of the runtime's frames.
  export RUST_BACKTRACE=0
  # Tests wait for pages, indicators and the database: one more than there are cores at a time.
  export RUST_TEST_THREADS=$(($(nproc) + 1))
  # Compiled by clippy's own driver, the lints are read while it is built: by itself clippy would read everything below
  # once more. The browser tests start the programs themselves; cargo test alone does not build all of them. Together
  # with the tests, so that what both stand on is built once: by themselves they would have it with other features.
  command -v clippy-driver >/dev/null || stop_with "clippy is missing: rustup component add clippy"
  export RUSTC_WORKSPACE_WRAPPER=clippy-driver
  cargo build --locked --workspace --bins --tests
  [ -z "$page" ] || wait "$page" || stop_with "the page does not build"
  # What was found is said again of what is built already.
  local lints; lints=$(cargo build --locked --quiet --workspace --bins --tests 2>&1)
  [ -z "$lints" ] || { printf '%s\n' "$lints" >&2; stop_with "the compiler or clippy finds something"; }
  cargo test --locked --workspace "$@"
  cargo bench --locked --workspace --no-run --quiet --profile dev
  # Licences and sources were checked by the tests; what is known to be broken needs a tool and its database.
  if ! command -v cargo-deny >/dev/null; then
    say "Advisories: not checked, cargo-deny is not installed here."
  elif ! ls -d "${CARGO_HOME:-$HOME/.cargo}"/advisory-db* >/dev/null 2>&1; then
    say "Advisories: not checked, cargo-deny has no database here (cargo deny fetch)."
  else
    cargo deny --offline check advisories >&2 || stop_with "an advisory concerns a crate that is used"
    say "Advisories: checked."
  fi
  say "Front end: types current, type check, lint …"
  local scratch; scratch=$(mktemp -d)
  (cd web && npx openapi-typescript ../docs/openapi.json -o "$scratch/schema.d.ts" >/dev/null)
  diff -u web/src/api/schema.d.ts "$scratch/schema.d.ts" >&2 || stop_with "web/src/api/schema.d.ts is not current: run ./ombret generate"
  rm -rf "$scratch"
  (cd web && npm run --silent check && npm run --silent lint)
  say "All checks passed."
}
