#!/bin/sh
# usage: lock.sh UV - renews the lock: every version with its hashes, no registry's address.
set -eu
uv=$1
lock() { "$uv" pip compile --universal --python-version 3.11 --generate-hashes --no-header --no-emit-index-url --quiet "$@"; }
lock --upgrade pyproject.toml -o requirements/run.txt
lock --upgrade --extra dev -c requirements/run.txt pyproject.toml -o requirements/dev.txt
lock --upgrade requirements/installer.in -o requirements/installer.txt
