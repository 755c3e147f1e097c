"""What CONTRIBUTING begins with: a thing of each sort is added by a row of its table, and is seen everywhere."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parent


@pytest.fixture(scope="module")
def wrong(filled, tmp_path_factory):
    """By sort what was not as it should be: all of them in one process of their own."""
    folder = tmp_path_factory.mktemp("made-up") / "bench"
    shutil.copytree(filled, folder)
    paths = os.pathsep.join([str(HERE.parent), *sys.path])
    command = [sys.executable, str(HERE / "made_up.py"), str(folder)]
    ended = subprocess.run(command, env={**os.environ, "PYTHONPATH": paths}, capture_output=True, text=True)
    assert ended.returncode == 0, ended.stderr[-2000:]
    return json.loads(ended.stdout.splitlines()[-1])


@pytest.mark.parametrize("sort", ["kind", "mask", "check", "file_format", "device"])
def test_a_made_up_one_is_seen_wherever_its_sort_is_asked_for(wrong, sort):
    assert wrong.get(sort, "") == ""
