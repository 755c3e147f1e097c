#!/bin/sh
# usage: venv.sh PYTHON VENV - makes the environment and puts the installer, at a fixed version, into it.
set -eu
python=$1
venv=$2

if ! "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
    echo "Diachrom needs Python 3.11 or newer; $python is $("$python" --version 2>&1). Set PYTHON=... to another one." >&2
    exit 1
fi
if ! "$python" -c 'import ensurepip, venv' 2>/dev/null; then
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        apt-get update -qq
        DEBIAN_FRONTEND=noninteractive apt-get install -qq -y --no-install-recommends python3-venv
    else
        echo "Python's venv module is missing: install it with 'sudo apt-get install python3-venv'." >&2
        exit 1
    fi
fi
"$python" -m venv --clear "$venv"
"$venv/bin/python" -m pip install --quiet --require-hashes -r requirements/installer.txt || {
    # Without the fast installer everything still installs, by pip.
    printf '#!/bin/sh\nshift\nexec "%s" -m pip "$@"\n' "$(cd "$venv" && pwd)/bin/python" > "$venv/bin/uv"
    chmod +x "$venv/bin/uv"
}
