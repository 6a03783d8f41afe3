# The pictures in docs/screenshots. Sourced by ./ombret.

shots() {
  build_all
  need_packages chromium chromium-driver poppler-utils
  database_start test
  trap 'database_stop test' EXIT
  mkdir -p docs/screenshots
  target/debug/shots
}
