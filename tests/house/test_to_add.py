"""What CONTRIBUTING begins with: a thing of each sort is added by a row of its table, and is seen everywhere."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parent


@pytest.mark.parametrize("sort", ["kind", "mask", "check", "file_format", "device"])
def test_a_made_up_one_is_seen_wherever_its_sort_is_asked_for(tmp_path, sort):
    paths = os.pathsep.join([str(HERE.parent), *sys.path])
    command = [sys.executable, str(HERE / "made_up.py"), sort, str(tmp_path)]
    ended = subprocess.run(command, env={**os.environ, "PYTHONPATH": paths}, capture_output=True, text=True)
    assert ended.returncode == 0, ended.stderr[-2000:]
