# The link for the laptop at the scale as a Debian package: the program, and a service of the person who is signed in.
# Sourced by ./ombret.
#   ./ombret package [FOLDER]   into FOLDER, else target/packages

package_link() {
  local into=${1:-target/packages} binary=${OMBRET_BINARY:-target/serve/ombret}
  command -v dpkg-deb >/dev/null || stop_with "packages are made by dpkg-deb, which this machine does not have"
  [ -n "${OMBRET_BINARY:-}" ] || build_serve
  local version arch tree
  version=$(sed -n '/^\[workspace.package\]/,/^\[/s/^version = "\(.*\)"/\1/p' Cargo.toml)
  arch=$(dpkg --print-architecture)
  tree=$(mktemp -d)
  install -D -m 755 "$binary" "$tree/usr/bin/ombret"
  install -D -m 644 packaging/ombret-link.service "$tree/usr/lib/systemd/user/ombret-link.service"
  install -D -m 644 packaging/link.example "$tree/usr/share/doc/ombret-link/examples/link"
  install -D -m 644 docs/on-site.md "$tree/usr/share/doc/ombret-link/on-site.md"
  install -d -m 755 "$tree/DEBIAN"
  cat > "$tree/DEBIAN/control" <<CONTROL
Package: ombret-link
Version: $version
Architecture: $arch
Maintainer: The workshop <root@localhost>
Depends: libc6, libgcc-s1
Section: science
Priority: optional
Description: reads the indicators of a site for the workshop's page
 Hands the lines of serial and TCP indicators to the page of an Ombret server,
 on this machine alone and to whoever has the code.
CONTROL
  mkdir -p "$into"
  dpkg-deb --root-owner-group "-Z${OMBRET_DEB_COMPRESSION:-xz}" --build "$tree" "$into/ombret-link_${version}_$arch.deb" >&2
  rm -rf "$tree"
  say "$into/ombret-link_${version}_$arch.deb"
}
