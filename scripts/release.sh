#!/usr/bin/env bash
# Builds what is given away, into dist/: the program for each kind of machine, Debian packages, what a container is built
# of, the licences, a bill of materials and checksums. The same commit gives the same bytes.
#   scripts/release.sh                  # all of it
#   scripts/release.sh --here           # for this kind of machine alone, quickly: to be tried by scripts/walk.sh
set -euo pipefail
cd "$(dirname "$0")/.."
version=$(sed -n 's/^const version = "\(.*\)"$/\1/p' cmd/chamfer/main.go)
SOURCE_DATE_EPOCH=${SOURCE_DATE_EPOCH:-$(git log -1 --format=%ct)}
export SOURCE_DATE_EPOCH
here="$(go env GOOS)/$(go env GOARCH)"
targets="linux/amd64 linux/arm64 darwin/amd64 darwin/arm64 windows/amd64 windows/arm64"
flags="-trimpath -buildvcs=auto"
if [ "${1:-}" = --here ]; then
  targets=$here
  flags="" # what the tests have compiled already is used
fi
rm -rf dist
mkdir -p dist
go run ./scripts/licences docs/licences.md dist/LICENCES.txt

for target in $targets; do
  os=${target%/*} arch=${target#*/} end=""
  [ "$os" = windows ] && end=.exe
  echo "$os $arch"
  CGO_ENABLED=0 GOOS=$os GOARCH=$arch go build $flags -ldflags "-s -w -buildid=" -o "dist/chamfer_${version}_${os}_$arch$end" \
    ./cmd/chamfer
done

# A Debian package: the program, its unit, what it is told, and its licences.
debian() { # architecture
  local root=dist/deb-$1
  install -D -m 755 "dist/chamfer_${version}_linux_$1" "$root/usr/bin/chamfer"
  install -D -m 644 packaging/chamfer.service "$root/usr/lib/systemd/system/chamfer.service"
  install -D -m 644 packaging/default "$root/etc/default/chamfer"
  install -D -m 644 dist/LICENCES.txt "$root/usr/share/doc/chamfer/copyright"
  mkdir -p "$root/DEBIAN"
  cat > "$root/DEBIAN/control" <<CONTROL
Package: chamfer
Version: $version
Architecture: $1
Maintainer: The Chamfer founders <chamfer@localhost>
Section: misc
Priority: optional
Description: designs raised beds and planter frames
 Dimensions, boards and blocks, cut lists, fasteners, soil, steps and cost, in
 pages served by this machine. It needs nothing else and no network.
CONTROL
  echo /etc/default/chamfer > "$root/DEBIAN/conffiles"
  cat > "$root/DEBIAN/postinst" <<'POSTINST'
#!/bin/sh
set -e
if [ -d /run/systemd/system ]; then systemctl daemon-reload; fi
POSTINST
  cat > "$root/DEBIAN/prerm" <<'PRERM'
#!/bin/sh
set -e
if [ "$1" = remove ] && [ -d /run/systemd/system ]; then systemctl stop chamfer.service; fi
PRERM
  chmod 755 "$root/DEBIAN/postinst" "$root/DEBIAN/prerm"
  find "$root" -exec touch -h -d "@$SOURCE_DATE_EPOCH" {} +
  dpkg-deb --root-owner-group -Zxz --build "$root" "dist/chamfer_${version}_$1.deb" >/dev/null
  rm -rf "$root"
}
if command -v dpkg-deb >/dev/null 2>&1; then
  for target in $targets; do
    if [ "${target%/*}" = linux ]; then debian "${target#*/}"; fi
  done
else
  echo "no Debian packages: dpkg-deb is not here" >&2
fi

# What a container is built of: its file, and the program for the machine it runs on.
for target in $targets; do
  if [ "${target%/*}" != linux ]; then continue; fi
  box=dist/container-${target#*/}
  mkdir -p "$box/data"
  cp packaging/Containerfile dist/LICENCES.txt "$box"
  cp "dist/chamfer_${version}_linux_${target#*/}" "$box/chamfer"
  touch "$box/data/.keep"
  find "$box" -exec touch -h -d "@$SOURCE_DATE_EPOCH" {} +
  tar --sort=name --owner=0 --group=0 --numeric-owner --mtime="@$SOURCE_DATE_EPOCH" -C dist -cf - \
    "container-${target#*/}" | gzip -9n > "dist/chamfer_${version}_container_${target#*/}.tar.gz"
  rm -rf "$box"
done

if [ "${1:-}" != --here ]; then
  go tool -modfile=tools/go.mod cyclonedx-gomod app -json -main cmd/chamfer -output dist/chamfer.cdx.json .
fi
(cd dist && sha256sum -- * > SHA256SUMS)
cat dist/SHA256SUMS
