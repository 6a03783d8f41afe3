# A private PostgreSQL cluster on loopback, one a profile (demo, test). Sourced by ./ombret.
# Data lies inside the checkout (.ombret/), git-ignored; the socket in a short folder under the
# system's temp folder, because a socket's path may be no longer than 107 bytes.

database_place() {
  profile=$1
  case $profile in
    demo) port=${OMBRET_DEMO_DB_PORT:-54711} ;;
    test) port=${OMBRET_TEST_DB_PORT:-54712} ;;
    *) stop_with "no database profile “$profile”" ;;
  esac
  local hash; hash=$(printf '%s' "$top" | sha256sum | cut -c1-10)
  sockets=${TMPDIR:-/tmp}/ombret-$(id -u)-$hash-$profile
  data=$top/.ombret/$profile-db
  bin=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
  [ -n "$bin" ] || stop_with "no PostgreSQL server found under /usr/lib/postgresql"
  as=()
  if [ "$(id -u)" -eq 0 ]; then
    as=(runuser -u postgres --)
    mkdir -p "$top/.ombret"
    # The postgres user must be able to reach the folder; where a parent forbids it, stay outside.
    if ! (cd / && "${as[@]}" test -x "$top/.ombret"); then data=${TMPDIR:-/tmp}/ombret-data-$hash-$profile; fi
  fi
  DATABASE_URL=postgres://postgres@127.0.0.1:$port/ombret
  export DATABASE_URL
}

pg() { (cd / && "${as[@]}" "$bin/$@"); }

# Up means: it answers, and it is ours. The pid file alone is not believed.
database_up() {
  pg pg_isready -q -h 127.0.0.1 -p "$port" &&
    [ "$(pg psql -X -h 127.0.0.1 -p "$port" -U postgres -d postgres -Atc 'show data_directory' 2>/dev/null)" = "$data" ]
}

database_start() {
  database_place "$1"
  mkdir -p "$top/.ombret"
  exec 8>"$top/.ombret/$profile-db.lock"
  flock -w 120 8 || stop_with "another start of the $profile database has been at it for two minutes; if none is running, remove .ombret/$profile-db.lock"
  if ! database_up; then
    database_make
    local safe="-c fsync=on"
    [ "$profile" = test ] && safe="-c fsync=off -c synchronous_commit=off -c full_page_writes=off -c wal_level=minimal -c max_wal_senders=0 -c autovacuum=off -c max_connections=200"
    if ! pg pg_ctl -D "$data" -l "$data.log" -w -t 60 -s -o "-p $port -k $sockets -c listen_addresses=127.0.0.1 $safe" start 8>&- </dev/null >&2; then
      tail -n 5 "$data.log" >&2 || true
      stop_with "the $profile database does not start; if port $port is taken, set OMBRET_${profile^^}_DB_PORT"
    fi
    database_up || stop_with "port $port is answered by another database; set OMBRET_${profile^^}_DB_PORT"
  fi
  pg psql -X -q -h 127.0.0.1 -p "$port" -U postgres -d postgres -Atc "select 1 from pg_database where datname='ombret'" | grep -q 1 ||
    pg createdb -h 127.0.0.1 -p "$port" -U postgres ombret
  pg psql -X -q -h 127.0.0.1 -p "$port" -U postgres -d postgres -Atc "select 1 from pg_roles where rolname='ombret'" | grep -q 1 ||
    pg psql -X -q -h 127.0.0.1 -p "$port" -U postgres -d postgres -c 'create role ombret login'
  exec 8>&-
}

database_make() {
  mkdir -p "$sockets"
  [ -f "$data/PG_VERSION" ] || rm -rf "$data"
  mkdir -p "$data"
  touch "$data.log"
  if [ "$(id -u)" -eq 0 ]; then chown postgres "$data" "$data.log" "$sockets"; fi
  chmod 700 "$data" "$sockets" 2>/dev/null || true
  if [ ! -f "$data/PG_VERSION" ]; then
    pg initdb -D "$data" -U postgres -A trust -E UTF8 --locale=C.UTF-8 --no-sync >"$data.initdb.log" 2>&1 || { cat "$data.initdb.log" >&2; stop_with "initdb failed"; }
  fi
}

database_stop() {
  database_place "$1"
  if database_up; then pg pg_ctl -D "$data" -m fast -w -s stop >&2 || true; fi
}
