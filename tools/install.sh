#!/bin/sh
# usage: install.sh VENV REQUIREMENTS - installs the locked packages and this project, editable, into VENV.
set -eu
venv=$1
requirements=$2
VIRTUAL_ENV=$(cd "$venv" && pwd)
export VIRTUAL_ENV

"$venv/bin/uv" pip install --quiet --require-hashes -r "$requirements" ||
    "$venv/bin/python" -m pip install --quiet --require-hashes -r "$requirements"

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
