#!/bin/sh
# The page tests drive the headless shell of Chromium, the spectra that go out are opened by ArgyllCMS, and the door is tried behind
# nginx, and printed codes are read a second time by zbar: what is missing for that is installed here when this is root.
# libatomic1 is what the driver's own runtime asks for, and a small Debian has not got it.
set -eu
missing=
[ -x /usr/bin/chromium-headless-shell ] || missing="chromium-headless-shell"
find -L /usr/lib /lib -maxdepth 2 -name libatomic.so.1 2>/dev/null | grep -q . || missing="$missing libatomic1"
[ -x /usr/bin/txt2ti3 ] || missing="$missing argyll"
[ -x /usr/sbin/nginx ] || missing="$missing nginx-light"
find -L /usr/lib /lib -maxdepth 2 -name libzbar.so.0 2>/dev/null | grep -q . || missing="$missing libzbar0"
[ -n "$missing" ] || exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    apt-get update -qq >&2
    # shellcheck disable=SC2086 # a list of packages
    DEBIAN_FRONTEND=noninteractive apt-get install -qq -y --no-install-recommends $missing >&2
else
    echo "The tests need more: install it with 'sudo apt-get install --no-install-recommends $missing'." >&2
    exit 1
fi
