#!/bin/sh
# The page tests drive Debian's Chromium; it is installed here when it is missing and this is root.
set -eu
[ -x /usr/bin/chromium ] && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    apt-get update -qq >&2
    DEBIAN_FRONTEND=noninteractive apt-get install -qq -y --no-install-recommends chromium >&2
else
    echo "The page tests need Chromium: install it with 'sudo apt-get install --no-install-recommends chromium'." >&2
    exit 1
fi
