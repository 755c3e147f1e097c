#!/bin/sh
# usage: install.sh VENV REQUIREMENTS - installs the locked packages and this project, editable, into VENV.
set -eu
venv=$1
requirements=$2
VIRTUAL_ENV=$(cd "$venv" && pwd)
export VIRTUAL_ENV

# What is fetched is kept by the installer: a second environment takes seconds.
count=$(grep -c '==' "$requirements")
case $requirements in
    *run.txt) echo "Fetching $count packages that Diachrom runs with, about 141 MB the first time: one to three minutes." ;;
    *) echo "Fetching $count packages, those for working on Diachrom with them: about two minutes the first time." ;;
esac
# On a terminal the installer shows how far it is.
quiet=--quiet
[ -t 2 ] && quiet=
# shellcheck disable=SC2086 # nothing, or one switch
"$venv/bin/uv" pip install $quiet --require-hashes -r "$requirements" ||
    "$venv/bin/python" -m pip install --require-hashes -r "$requirements"

# The project itself needs no build tool to run in place: a path and a start script are enough.
site=$("$venv/bin/python" -c 'import sysconfig; print(sysconfig.get_paths()["purelib"])')
echo "$PWD/src" > "$site/diachrom.pth"
cat > "$venv/bin/diachrom" <<SCRIPT
#!$VIRTUAL_ENV/bin/python
import sys

from diachrom.cli import main

sys.exit(main())
SCRIPT
chmod +x "$venv/bin/diachrom"
"$venv/bin/python" -m compileall -q src "$site" || true
