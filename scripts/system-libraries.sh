#!/bin/sh
# Sees to the shared libraries that Qt loads. As root they are installed; otherwise the command is printed.
# usage: system-libraries.sh paint | window      (paint: without a screen; window: with one)
set -eu
paint="libegl1 libgl1 libxkbcommon0 libdbus-1-3 libfontconfig1 libglib2.0-0"
window="libxcb-cursor0 libxcb-icccm4 libxcb-keysyms1 libxkbcommon-x11-0 libxcb-xkb1 libx11-xcb1 libxcb-image0 \
libxcb-render-util0 libxcb-randr0 libxcb-shape0 libxcb-xfixes0"
case "${1:-paint}" in
  paint) wanted=$paint ;;
  window) wanted="$paint $window" ;;
  *) echo "usage: $0 paint|window" >&2; exit 2 ;;
esac
command -v dpkg-query >/dev/null 2>&1 || exit 0   # not Debian: the person knows better
missing=""
for name in $wanted; do
  # newer releases carry some of these with a t64 at the end
  if ! dpkg-query -W -f='${Status}\n' "$name" "${name}t64" 2>/dev/null | grep -q "ok installed"; then
    missing="$missing $name"
  fi
done
[ -n "$missing" ] || exit 0
if [ "$(id -u)" = 0 ]; then
  echo "Installing what Qt needs:$missing"
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
else
  echo "Qt needs some libraries that are not installed. Please run:" >&2
  echo "  sudo apt-get install --no-install-recommends$missing" >&2
  exit 1
fi
