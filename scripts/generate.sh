# Everything that is generated from something else and committed. Sourced by ./ombret.

generate() {
  need_tools; need_modules
  database_start test
  # With the whole workspace, so that its dependencies are not built again with other features.
  cargo build --locked --workspace --bin ombret-migrate
  say "Query data …"
  local scratch=ombret_generate
  pg psql -X -q -h 127.0.0.1 -p "$port" -U postgres -d postgres -c "drop database if exists $scratch" -c "create database $scratch" >&2
  local url=postgres://postgres@127.0.0.1:$port/$scratch
  DATABASE_URL=$url target/debug/ombret-migrate
  rm -rf .sqlx && mkdir .sqlx
  touch crates/server/src/lib.rs
  DATABASE_URL=$url SQLX_OFFLINE=false SQLX_OFFLINE_DIR=$top/.sqlx cargo build --workspace --bins || stop_with "the queries do not fit the database"
  say "OpenAPI, schemas, TypeScript types …"
  target/debug/ombret openapi > docs/openapi.json
  target/debug/ombret schema job > docs/job-file.schema.json
  target/debug/ombret schema profile > docs/profile.schema.json
  (cd web && npm run --silent types)
}
