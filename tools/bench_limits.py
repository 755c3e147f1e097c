"""What was taken without bounds before: memory of large shelves and pictures, waits beside a long import, strangers."""

import resource
import socket
import statistics
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor
from contextlib import ExitStack, contextmanager, suppress
from multiprocessing import get_context
from pathlib import Path
from tempfile import mkdtemp

import numpy as np
from large_shelf import KINDS
from measuring import D65, row

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.kinds import keys
from diachrom.core.film.paint import Paint
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.match.search import FoundMixes, Search
from diachrom.core.match.shortlist import MANY
from diachrom.core.mix.where import Where
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess
from diachrom.demo.bench import fill
from diachrom.store import uploads
from diachrom.store.connection import connected, writing
from diachrom.web.kit.memory import give_back
from diachrom.work.access.auth import Auth
from diachrom.work.files.import_task import ImportTask

WHITE = Where(GROUNDS["white"], 16.0, CLEARED, D65)
WORDS = "four plain words here"


def large_match() -> None:
    """A shelf of 2,000, in a process of its own."""
    with ProcessPoolExecutor(1, get_context("spawn")) as apart:
        first, whole, resident, gaps = apart.submit(_on_two_thousand).result()
    row("match on 2,000 bottles: its first answer", 1000 * first, "ms", 500, 0, "")
    row("match on 2,000 bottles, 4 used, 24 drops", 1000 * whole, "ms", 6000, 0, "")
    row("match on 2,000 bottles: the whole process", resident, "MB", 400, 0, "")
    print(f"{'  20 recipes hidden in 2,000 bottles, the farthest':<52} {max(gaps):8.3f} dE  at most 0.3")


def list_beside_all() -> None:
    """Of 200 bottles those that are listed, beside a search over all of them: some ten minutes."""
    with ProcessPoolExecutor(2, get_context("spawn")) as both:
        farther = list(both.map(_beside_all, range(20)))
    print(f"{'  200 bottles: farther than a search over all, 20':<52} {max(farther):8.3f} dE  at most 0.05")


def _shelf(count: int) -> list[Paint]:
    chance = np.random.default_rng(5)
    plain = [kind for kind in KINDS if kind not in keys("flakes")]
    return guess(
        [
            ToGuess("", plain[chance.integers(len(plain))], hex_to_lab(f"#{chance.integers(1 << 24):06x}"))
            for _ in range(count)
        ]
    )


def _search(target: Floats, paints: list[Paint], many: int = MANY) -> Search:
    how = {"most_paints": 4, "most_drops": 24, "many": many}
    return Search(target, paints, [0.05] * len(paints), WHITE, dilution=0.3, **how)  # type: ignore[arg-type]


def _end(search: Search) -> FoundMixes:
    *_, found = search.steps()
    return found


def _on_two_thousand() -> tuple[float, float, float, list[float]]:
    give_back()  # as the server does
    paints, chance = _shelf(2_000), np.random.default_rng(9)
    first, whole, gaps = [], [], []
    for _ in range(20):
        some = chance.choice(len(paints), 4, replace=False).tolist()
        hidden = tuple(zip(some, chance.integers(1, 7, 4).tolist(), strict=True))
        search = _search(_search(np.zeros(3), paints).judge.exactly([hidden])[0].labs, paints)
        start = time.perf_counter()
        steps = search.steps()
        found = next(steps)
        first.append(time.perf_counter() - start)
        for found in steps:  # noqa: B007 - the last is the best
            pass
        whole.append(time.perf_counter() - start)
        search.pairs()
        gaps.append(found.matches[0].delta_e)
    resident = _told("VmHWM", "self")
    return statistics.median(first), statistics.median(whole), resident, gaps


def _beside_all(at: int) -> float:
    """dE that the list is farther from a target than a search over all of 200 paints."""
    paints = _shelf(200)
    target = np.random.default_rng(100 + at).uniform([20, -40, -40], [85, 50, 60])
    listed = _end(_search(target, paints)).matches[0].delta_e
    return listed - _end(_search(target, paints, many=len(paints))).matches[0].delta_e


@contextmanager
def _served(folder: Path, *more: str, files: int = 0) -> Iterator[tuple[str, int]]:
    """(address, process) of a server in a process of its own."""
    command = [sys.executable, "-m", "diachrom", "serve", "--port", "0", "--data", str(folder), *more]
    few = (lambda: resource.setrlimit(resource.RLIMIT_NOFILE, (files, files))) if files else None
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, preexec_fn=few) as process:
        assert process.stdout is not None
        try:
            yield process.stdout.readline().strip(), process.pid
        finally:
            process.terminate()


@contextmanager
def _tapping(address: str, every_s: float = 0.05) -> Iterator[list[float]]:
    """Milliseconds of drops that are tapped all the while."""
    import httpx2

    taken: list[float] = []
    over = threading.Event()

    def taps() -> None:
        with httpx2.Client(base_url=address, timeout=120, headers={"HX-Request": "true"}) as client:
            client.post("/mix/pour", data={"bottle": "22", "drops": "1"})
            while not over.is_set():
                start = time.perf_counter()
                answer = client.post("/mix/pour", data={"bottle": "22", "drops": "1"})
                taken.append(1000 * (time.perf_counter() - start))
                if answer.status_code == 422:  # the cup is full
                    client.post("/mix/new")
                    client.post("/mix/add", data={"bottle": "22"})
                elif answer.status_code != 200:
                    answer.raise_for_status()
                time.sleep(every_s)

    painter = threading.Thread(target=taps)
    painter.start()
    try:
        yield taken
    finally:
        over.set()
        painter.join()


def _taps(taken: list[float]) -> None:
    worst = sorted(taken)[min(int(0.99 * len(taken)), len(taken) - 1)]
    row(f"  a tap meanwhile, 99 of 100 ({len(taken)} taps)", worst, "ms", 300, statistics.median(taken), "the median")


def long_import() -> None:
    """20,000 rows are brought while drops are tapped."""
    folder = Path(mkdtemp(prefix="bench-import-"))
    fill(folder)
    lines = [f"Rekke,Farge {at},transparent,30,{at % 30},#{at * 7919 % (1 << 24):06x}" for at in range(20_000)]
    content = "\n".join(["line,name,kind,size_ml,left_ml,colour", *lines]).encode()
    with connected(folder) as connection, writing(connection):
        number = uploads.keep_file(connection, name="large.csv", content=content, at="2026-11-30T10:00:00+00:00")
    with _served(folder) as (address, _), _tapping(address) as taps, _waiting_writer(folder) as waits:
        start = time.perf_counter()
        ImportTask(number, "large.csv", "transparent", "", "2026-11-30T10:00:00+00:00").work(folder)
        taken = time.perf_counter() - start
    row("import of 20,000 rows, from reading to kept", taken, "s", None, 0, "")
    row("  the longest that another writer waited", max(waits), "ms", 300, statistics.median(waits), "the median")
    _taps(taps)


@contextmanager
def _waiting_writer(folder: Path) -> Iterator[list[float]]:
    """Milliseconds that somebody else waits for who wants to write, again and again."""
    taken: list[float] = []
    over = threading.Event()

    def writes() -> None:
        while not over.is_set():
            with connected(folder) as connection:
                start = time.perf_counter()
                with writing(connection):
                    taken.append(1000 * (time.perf_counter() - start))
            time.sleep(0.005)

    other = threading.Thread(target=writes)
    other.start()
    try:
        yield taken
    finally:
        over.set()
        other.join()


def many_pictures() -> None:
    """24 pictures of 2,400 px at once, then nine plans, while drops are tapped: what stays resident."""
    import httpx2

    folder = Path(mkdtemp(prefix="bench-pictures-"))
    fill(folder)
    with _served(folder) as (address, process), httpx2.Client(base_url=address, timeout=600) as asks:
        asks.get("/mix")
        begins = _told("VmRSS", process)
        with _tapping(address) as taps, ThreadPoolExecutor(24) as at_once:
            sides = [(at % 9 + 1, ("left", "back", "belly")[at // 9]) for at in range(24)]
            list(at_once.map(lambda one: _get(asks, f"/plan/{one[0]}/picture.png?width=2400&side={one[1]}"), sides))
            for number in range(1, 10):
                for path in (f"/plan/{number}", f"/plan/{number}/skin?rough=true", f"/plan/{number}/skin"):
                    _get(asks, path)
        stays = _told("VmRSS", process)
    row("24 pictures of 2,400 px at once, then nine plans", stays, "MB", 350, begins, "the server before them")
    _taps(taps)


def _get(client: object, path: str) -> None:
    client.get(path).raise_for_status()  # type: ignore[attr-defined]


def _told(key: str, process: object) -> float:
    """MB: VmRSS as it is now, VmHWM at its most."""
    told = Path(f"/proc/{process}/status").read_text(encoding="ascii")
    return int(told.partition(f"{key}:")[2].split()[0]) / 1000


def strangers() -> None:
    """1,300 connections of strangers that say nothing, while drops are tapped at the machine."""
    folder = Path(mkdtemp(prefix="bench-strangers-"))
    fill(folder)
    Auth(folder).set_passphrase(WORDS)
    for words, more in (("do not shake hands", ("--https",)), ("do not ask", ())):
        with (
            _served(folder, "--on", "127.0.0.2", *more, files=1024) as (address, _),
            _tapping(address) as taps,
            ExitStack() as held,
        ):
            port = int(address.rpartition(":")[2])
            _until(lambda taps=taps: len(taps) > 5)  # type: ignore[misc]
            for at in range(1300):
                made = held.enter_context(socket.socket())
                with suppress(OSError):
                    made.bind((f"127.0.1.{at % 200 + 1}", 0))
                    made.settimeout(10)
                    made.connect(("127.0.0.2", port))
            time.sleep(5)
        row(
            f"1,300 strangers who {words}: the longest tap",
            max(taps),
            "ms",
            2000,
            statistics.median(taps),
            "the median",
        )


def _until(holds: Callable[[], bool]) -> None:
    while not holds():
        time.sleep(0.05)
