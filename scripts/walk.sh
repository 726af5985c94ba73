#!/usr/bin/env bash
# Tries what scripts/release.sh has built for this kind of machine: the program by its start, the Debian package by being
# installed, its unit by systemd's own checker and by its own line, the container by the steps of its file. It needs root
# and Debian, installs the package and takes it away again.
set -euo pipefail
cd "$(dirname "$0")/.."
arch=$(go env GOARCH)
work=$(mktemp -d)
pids=""
trap 'for p in $pids; do kill "$p" 2>/dev/null || true; done; [ -n "${walked:-}" ] || tail -n 20 "$work"/out* >&2; rm -rf "$work"' EXIT

# walk waits until a Chamfer at an address is ready, makes a project, reads it, and stops it: it has to end well.
walk() { # name, address, process
  local at=$2 page
  for _ in $(seq 100); do
    if curl -ksf "$at/readyz" >/dev/null 2>&1; then break; fi
    sleep 0.1
  done
  curl -ksf "$at/readyz" >/dev/null
  if [ "$4" = open ]; then
    page=$(curl -ksf -o /dev/null -w '%{redirect_url}' -d region=metric -d system=boarded -d name=walked "$at/projects")
    curl -ksf -o "$work/page" "$page" # whole: grep -q would hang up on it
    grep -q walked "$work/page"
  else
    curl -ks -o /dev/null -w '%{http_code}' "$at/" | grep -q 303 # nobody comes in without signing in
  fi
  kill -TERM "$3"
  wait "$3"
  echo "$1: started, answered and stopped"
}

program=$(ls dist/chamfer_*_linux_"$arch")
"$program" version
"$program" serve --addr 127.0.0.1:18420 --data "$work/beds.db" >"$work/out" 2>&1 &
pids="$pids $!"
walk "the program" http://127.0.0.1:18420 $! open
"$program" doctor --data "$work/beds.db"

package=$(ls dist/chamfer_*_"$arch".deb)
dpkg -i "$package" >/dev/null
systemd-analyze verify /usr/lib/systemd/system/chamfer.service
systemd-analyze security --offline=true --threshold=20 /usr/lib/systemd/system/chamfer.service | tail -1
# Its own line, as somebody who is nobody, with the folder that systemd would give it.
. /etc/default/chamfer
line=$(sed -n 's/^ExecStart=//p' /usr/lib/systemd/system/chamfer.service)
install -d -o 65534 -g 65534 -m 700 "$work/state"
chmod 711 "$work"
line=${line//\/var\/lib\/chamfer/$work/state}
line=${line//\$CHAMFER_ARGS/${CHAMFER_ARGS/8420/18421}}
# shellcheck disable=SC2086 # it is a line of words
env -i PATH=/usr/bin setpriv --reuid 65534 --regid 65534 --clear-groups --no-new-privs --bounding-set -all \
  $line >"$work/out2" 2>&1 &
pids="$pids $!"
walk "the package's unit" http://127.0.0.1:18421 $! closed
grep -q "The first is made" "$work/out2" # it printed the link to the first account
[ "$(stat -c %a "$work/state/chamfer.db")" = 600 ]
dpkg -r chamfer >/dev/null
[ -e /etc/default/chamfer ] # what was set stays
dpkg -P chamfer >/dev/null
[ ! -e /etc/default/chamfer ] && [ ! -e /usr/bin/chamfer ]
echo "the package: installed, verified, taken away"

# The container by the steps of its file: nothing there but what is copied, a root that cannot be written, nobody.
tar -C "$work" -xzf dist/chamfer_*_container_"$arch".tar.gz
box=$work/container-$arch
root=$work/root
mkdir "$root"
while read -r step rest; do
  case $step in
    COPY)
      set -- $rest
      own=""
      case $1 in --chown=*) own=${1#--chown=}; shift ;; esac
      cp -r "$box/$1" "$root$2"
      [ -z "$own" ] || chown -R "$own" "$root$2"
      ;;
    USER) user=$rest ;;
    ENTRYPOINT) entry=$(echo "$rest" | tr -d '[]",') ;;
    CMD) cmd=$(echo "$rest" | tr -d '[]",') ;;
  esac
done < <(grep -v '^#' "$box/Containerfile")
cmd=${cmd/0.0.0.0:8420/127.0.0.1:18422}
cat > "$work/in-the-box" <<BOX
set -e
mount --bind "$root" "$root"
mount --bind "$root/data" "$root/data"
mount -o remount,bind,ro "$root"
exec env -i /usr/sbin/chroot --userspec=$user "$root" $entry $cmd
BOX
if ! unshare -m mount --bind "$root" "$root" 2>/dev/null; then
  echo "the container: nothing can be mounted here, so it was not walked"
  walked=yes
  exit 0
fi
unshare -m sh "$work/in-the-box" >"$work/out3" 2>&1 &
pids="$pids $!"
walk "the container" https://127.0.0.1:18422 $! closed
[ "$(ls "$root")" = "LICENCES.txt
chamfer
data" ]
[ -e "$root/data/chamfer.db" ]
walked=yes
echo "everything was walked"
