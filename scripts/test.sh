#!/usr/bin/env bash
# Everything that has to hold before a change lands. Installs what it needs from
# Debian's packages where it can, and says what is missing where it cannot.
set -euo pipefail
cd "$(dirname "$0")/.."

need() { # command package
  command -v "$1" >/dev/null 2>&1 && return 0
  echo "installing $2 (for $1)"
  if [ "$(id -u)" != 0 ] || ! command -v apt-get >/dev/null 2>&1; then
    echo "$1 is missing and cannot be installed here: install Debian's $2 and try again" >&2
    return 1
  fi
  [ -n "${updated:-}" ] || { apt-get update -qq >/dev/null && updated=1; }
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$2" >/dev/null
}
need chromium chromium
need units units
need gcc gcc
need glpsol glpk-utils
need ip iproute2
need certutil libnss3-tools
need pdftotext poppler-utils
need curl curl
need systemd-analyze systemd
export CGO_ENABLED=0 # one way to build for all that follows, and for what is given away

echo "gofmt"
unformatted=$(gofmt -l $(git ls-files '*.go' 2>/dev/null || find . -name '*.go' -not -path '*/node_modules/*'))
if [ -n "$unformatted" ]; then
  echo "gofmt wants changes in: $unformatted" >&2
  exit 1
fi
echo "go vet"
go vet ./...
echo "staticcheck"
go tool staticcheck ./...
echo "go test -race, the core, without its longest tests"
# Of the rooms that have several goroutines. Sheets are laid out on one, and texts are read on one; that boards are cut
# on several, and plans weighed, is tried by the tests of the memo, of progress, of what is asked and of the same answer
# always, so that those against brute force, and those of many beds one after the other, run once, below.
alone='TestSheets|TestNoTipShows|TestWhysOfRandom|BruteForce|TestAgainstGLPK|TestHardClasses|TestKnapsacks'
alone="$alone|TestRipsHold|TestJoinsHold|TestShopCutsHold|TestLargeRequestsHold|TestBoundFromAnyPrices"
alone="$alone|TestBuiltAsEverySystem|TestGroundHasNoCliff|TestJointsFit|TestEverySystemFromAnArea|TestBoughtAtShops"
alone="$alone|TestSpoilt|TestTallStand|TestBlanksAtTheSaw|TestLikeBefore|TestMemoIsBounded"
CGO_ENABLED=1 go test -race -short -skip "$alone" ./core/aside ./core/catalog ./core/cutting ./core/plan \
  ./core/planting ./core/review ./core/sources ./core/work
echo "go test, all but the pages"
go test -count=1 $(go list ./... | grep -v '/web$')
echo "go test, the pages, with the machine to themselves"
go test -count=1 -timeout 18m ./web
if [ "$(id -u)" = 0 ] && command -v dpkg >/dev/null 2>&1; then
  echo "what is given away, for this machine, walked"
  scripts/release.sh --here
  scripts/walk.sh
else
  echo "what is given away is walked by root on Debian: not here"
fi
