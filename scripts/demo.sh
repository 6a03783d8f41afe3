# The demo: database, data, practice scale, server; Ctrl-C ends all of it. Sourced by ./ombret.

demo_ports() {
  web_port=${OMBRET_PORT:-7400}; lines_port=${OMBRET_BENCH_PORT:-7410}; hands_port=$((lines_port + 1)); post_port=$((lines_port + 2))
}

free_port() { # port, what for, how to choose another
  if (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; then
    stop_with "port $1 ($2) is taken; is another demo running? Choose another with $3."
  fi
}

demo_prepare() { # [--fresh]
  build_all
  demo_ports
  free_port "$web_port" "the page" OMBRET_PORT=…
  free_port "$lines_port" "the practice scale" OMBRET_BENCH_PORT=…
  free_port "$hands_port" "the practice scale's hands" OMBRET_BENCH_PORT=…
  free_port "$post_port" "the demo's mail" OMBRET_BENCH_PORT=…
  database_start demo
  if [ "${1:-}" = --fresh ]; then
    say "Starting over with fresh demo data …"
    pg psql -X -q -h 127.0.0.1 -p "$port" -U postgres -d postgres -c 'drop database if exists ombret with (force)' -c 'create database ombret' >&2
  fi
  mkdir -p .ombret
  [ -s .ombret/demo-secret ] || (umask 077; od -An -N32 -tx1 /dev/urandom | tr -d ' \n' > .ombret/demo-secret)
  [ -s .ombret/demo-key.pem ] || target/debug/ombret key new .ombret/demo-key.pem >/dev/null
  # The program's own role owns nothing; the owner migrates.
  export OMBRET_OWNER_DATABASE_URL=$DATABASE_URL OMBRET_SIGNING_KEY_FILE=$top/.ombret/demo-key.pem
  export OMBRET_SECRET OMBRET_DATABASE_URL=${DATABASE_URL/postgres@/ombret@} OMBRET_LISTEN=127.0.0.1:$web_port OMBRET_SIMULATED="[\"127.0.0.1:$hands_port\"]"
  OMBRET_SECRET=$(cat .ombret/demo-secret)
  target/debug/ombret demo-data demo/workshop.json --lines "127.0.0.1:$lines_port" --hands "127.0.0.1:$hands_port"
}

demo_run() {
  # The terminal's Ctrl-C reaches the children too; the trap also covers kill and a failed start.
  trap demo_end EXIT
  trap 'exit 130' INT TERM HUP
  target/debug/ombret-bench demo/bench/wool-table.json --lines "127.0.0.1:$lines_port" --hands "127.0.0.1:$hands_port" & bench_pid=$!
  # Mail goes into a folder, and nowhere else.
  target/debug/ombret-post --listen "127.0.0.1:$post_port" .ombret/demo-mail & post_pid=$!
  export OMBRET_SMTP_URL=smtp://127.0.0.1:$post_port OMBRET_MAIL_FROM='Skarholm Weights & Scales <scales@skarholm.example>'
  target/debug/ombret serve & server_pid=$!
  local tries=0
  until (exec 3<>"/dev/tcp/127.0.0.1/$web_port") 2>/dev/null; do
    kill -0 "$server_pid" 2>/dev/null || stop_with "the server ended at once; its words are above"
    tries=$((tries + 1)); [ $tries -lt 200 ] || stop_with "the server does not answer"
    sleep 0.05
  done
}

demo_end() {
  trap - EXIT INT TERM HUP
  # Either may have ended already; that is no reason to leave the other running.
  set +e
  kill ${server_pid:-} ${bench_pid:-} ${post_pid:-} 2>/dev/null
  wait ${server_pid:-} ${bench_pid:-} ${post_pid:-} 2>/dev/null
  database_stop demo
}

demo() {
  case "${1:-}" in ''|--fresh) ;; *) stop_with "demo knows --fresh, not “$1”" ;; esac
  demo_prepare "$@"
  demo_run
  say ""
  say "  Ombret is at   http://127.0.0.1:$web_port"
  say "  technician     ebba  / level-bubble      tomas / slotted-weight"
  say "  reviewer       maren / second-look   (she manages the workshop too)"
  say "  Mail that it sends lies in .ombret/demo-mail."
  say "  The Wool table is connected to a practice scale. Ctrl-C ends everything."
  say ""
  wait "$server_pid"
}
