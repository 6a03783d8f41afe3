# Every check, as CI runs them. Sourced by ./ombret.

run_tests() {
  need_tools
  need_packages chromium chromium-driver
  say "Formatting …"
  cargo fmt --check >&2 || stop_with "Rust code is not formatted: run cargo fmt"
  need_modules
  (cd web && npm run --silent formatted >&2) || stop_with "the front end is not formatted: run npm run format in web/"
  build_web needed
  database_start test
  trap 'database_stop test' EXIT
  [ -d target/debug/deps ] || say "The first build takes several minutes; cargo shows its progress."
  # One failing test should not print a hundred lines of the runtime's frames.
  export RUST_BACKTRACE=0
  # The browser tests start the programs themselves; cargo test alone does not build all of them. Together with the
  # tests, so that what both stand on is built once: by themselves they would have it with other features.
  cargo build --locked --workspace --bins --tests
  cargo test --locked --workspace "$@"
  cargo bench --locked --workspace --no-run --quiet --profile dev
  say "Rust lints …"
  cargo clippy --locked --quiet --workspace --lib --bins -- -D warnings
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
