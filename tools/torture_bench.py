"""Whole benches are brought into empty folders while the server is killed at random moments.

Afterwards each folder is as empty as before or holds all of the bench, and takes one. Usage: torture_bench.py [KILLS
[SEED]]
"""

import random
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from contextlib import suppress
from pathlib import Path

import httpx2

from diachrom.demo.bench import fill
from diachrom.store import whole as rows
from diachrom.store.connection import connected
from diachrom.store.migrate import migrate
from diachrom.work.files import whole
from diachrom.work.files.checking import check_folder

KILLS = 100
LONGEST_S = 1.6  # from the sending of a bench to a kill; bringing the demo's takes about one


def everything(folder: Path) -> dict[str, list[object]]:
    """All rows but counters of changes, which go on."""
    with connected(folder) as store:
        return {one.name: list(one.rows) for one in rows.every(store) if one.name != "revision"}


def killed(folder: Path, content: bytes, after_s: float) -> None:
    """Bring a bench, and kill the server so long after it was sent."""
    command = [sys.executable, "-m", "diachrom", "serve", "--port", "0", "--data", str(folder)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
        assert server.stdout is not None
        address = server.stdout.readline().strip()

        def bring() -> None:
            with suppress(httpx2.TransportError):
                httpx2.post(f"{address}/files/bench", files={"bench": ("b.zip", content)}, timeout=60)

        sending = threading.Thread(target=bring)
        sending.start()
        time.sleep(after_s)
        server.kill()
        sending.join()


def main() -> int:
    kills, seed = (int(one) for one in (*sys.argv[1:], *(str(KILLS), "1")[len(sys.argv) - 1 :]))
    dice, began, wholly, faults = random.Random(seed), time.monotonic(), 0, []
    with tempfile.TemporaryDirectory() as home:
        demo, empty, place = (Path(home) / name for name in ("demo", "empty", "place"))
        fill(demo)
        migrate(empty)
        with connected(demo) as store:
            content = whole.out(store, at="2026-11-30T10:00:00+00:00")
        all_of_it, nothing = everything(demo), everything(empty)
        for kill in range(kills):
            shutil.rmtree(place, ignore_errors=True)
            shutil.copytree(empty, place)
            killed(place, content, dice.uniform(0, LONGEST_S))
            now = everything(place)
            wholly += now == all_of_it
            if now not in (all_of_it, nothing):
                faults.append(f"kill {kill}: it holds a part of the bench")
            faults += [f"kill {kill}: {one}" for one in check_folder(place)]
            if now == nothing:
                with (Path(home) / "b.zip").open("w+b") as file:
                    file.write(content)
                    file.seek(0)
                    whole.bring(place, "b.zip", file)
                if everything(place) != all_of_it:
                    faults.append(f"kill {kill}: it did not take the bench after it")
    taken = time.monotonic() - began
    print(f"{kills} kills in {taken:.0f} s while benches were brought: {wholly} in, the rest out; {len(faults)} faults")
    for one in faults[:20]:
        print(one)
    return bool(faults)


if __name__ == "__main__":
    sys.exit(main())
