"""Speed and memory, each beside a floor measured in the same run: what the machine needs for the least that could do.

Prints a table; judges nothing. Usage: bench.py [NAME ...]
"""

import http.client
import re
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import cast
from urllib.parse import urlsplit

import numpy as np
import uvicorn
from bench_bait import bait
from bench_cards import cards
from bench_doors import doors
from bench_first_week import first_week
from bench_hand import hand
from bench_limits import large_match, list_beside_all, long_import, many_pictures, strangers
from bench_log import bench_log
from bench_matching import matching, painter
from bench_orders import schedules
from bench_session import bench_sessions
from bench_sheet import sheet
from fastapi import FastAPI
from large_shelf import fill_large
from measuring import D65, FOUR, SHELF, cup_of_four, row, timed

from diachrom.core.film.fast import FIRST, LAST, FastFilms, films
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import predict
from diachrom.core.mix.spread import spread
from diachrom.core.mix.strip import Over, strip
from diachrom.demo.bench import fill
from diachrom.demo.paints import PAINTS
from diachrom.store.connection import connected, writing
from diachrom.store.migrate import migrate
from diachrom.web.kit.pages import render
from diachrom.web.server import running, server_for
from diachrom.work.files import importing
from diachrom.work.profiles.substitutes import substitutes_for

PAGES = {"Mix, the whole page": "/mix", "find on Mix": "/mix/find?q=rav", "Shelf": "/shelf", "Recipes": "/recipes"}


def many_cups() -> None:
    """10,000 different four-paint cups as one film over one ground, beside the bare product with the observer, and
    beside the least that a look-up can do: its two products and, a band, one quotient, one root and three reads."""
    random = np.random.default_rng(1)
    absorption = np.stack([SHELF[key].paint.absorption for key in FOUR])
    scattering = np.stack([SHELF[key].paint.scattering for key in FOUR])
    shares = random.dirichlet(np.ones(len(FOUR)), 10_000)
    tables = FastFilms.over(GROUNDS["white"])
    observer = np.ascontiguousarray(D65.weights.T, dtype=np.float32)
    spectra = random.random((10_000, 36))

    def look_up() -> object:
        made = films(shares, absorption=absorption, scattering=scattering, film_um=8.0)
        return observer @ tables.reflectance(made)

    ready, few = random.random((72, 4), dtype=np.float32), np.ascontiguousarray(shares.T, dtype=np.float32)
    cells = random.integers(0, tables.value.shape[1], (BANDS, 10_000))
    x, found = np.empty((2, 10_000), dtype=np.float32)
    seen = np.zeros((BANDS, 10_000), dtype=np.float32)

    def least() -> object:
        mixed = ready @ few
        for band in range(FIRST, LAST + 1):
            np.divide(mixed[band], mixed[BANDS + band], out=x)
            np.sqrt(x, out=x)
            for table in (tables.value, tables.in_x, tables.in_y):
                table[tables.table_of[band]].take(cells[band], out=found, mode="wrap")
        return observer @ seen

    taken = timed(look_up, 100)
    product, floor = timed(lambda: spectra @ D65.weights, 100), timed(least, 100)
    row("10,000 four-paint cups over one ground", taken, "ms", None, product, "bare product")
    row("  the same (2 x)", taken, "ms", 2 * floor, floor, "the least that a look-up does")


def everything() -> None:
    """Six grounds, four coats, five angles, clear, spread, with a metallic candy."""
    drops = {"lykt-rod": 2, "malm-solv": 3, "rav-gull": 2, "tynn-medium": 4}
    cup = Cup(tuple(Pour(SHELF[paint].paint, count, SHELF[paint].drop_ml) for paint, count in drops.items()))
    over = [Over.bare(GROUNDS[key]) for key in ("white", "bone", "black", "silver-foil", "gold-foil", "clear-body")]

    def whole() -> object:
        spread([Layer(cup, 8.0, 2)], over=GROUNDS["black"], sheen=CLEARED, under=D65, angle_deg=15.0)
        return strip(cup, film_um=8.0, coats=4, over=over, sheen=CLEARED, under=D65)

    random = np.random.default_rng(0)
    systems = random.random((6 * 5 * 36, 8, 8)) + 9 * np.eye(8)
    floor = timed(lambda: np.linalg.solve(systems, systems))
    row(
        "strip with everything: 6 grounds, flakes, spread", timed(whole), "ms", 80, floor, "one system a field and band"
    )


def optics() -> None:
    cup = cup_of_four()
    grounds = [Over.bare(GROUNDS[key]) for key in ("white", "silver-foil", "black", "grey")]
    random = np.random.default_rng(0)
    symmetric = random.random((2 * 36, 8, 8))
    symmetric = symmetric + np.swapaxes(symmetric, -1, -2) + 9 * np.eye(8)
    systems = random.random((4 * 5 * 36, 8, 8)) + 9 * np.eye(8)

    def least() -> None:
        """The eigenproblems of cup and film, and one linear system a field and band: nothing less solves it."""
        np.linalg.eigh(symmetric)
        np.linalg.solve(systems, systems[..., :1])

    floor = timed(least)
    words = "its eigenproblems and linear systems alone"
    spray = timed(lambda: strip(cup, film_um=8.0, coats=4, over=grounds, sheen=CLEARED, under=D65))
    row("strip of 4 grounds x 4 coats, four-paint cup", spray, "ms", 25, floor, words)
    how = {"film_um": 8.0, "coats": 4, "over": grounds, "sheen": CLEARED, "under": D65}
    dots = timed(lambda: strip(cup, **how, droplet_um=4.0))  # type: ignore[arg-type]
    row("  the same in dots of mist (1.6 x)", dots, "ms", 1.6 * spray, spray, "without dots")
    one = timed(lambda: predict([Layer(cup, 8.0, 2)], over=GROUNDS["white"], sheen=CLEARED, under=D65))
    row("predict one stack, five angles, with its spread", one, "ms", None, floor, words)


class Client:
    """One connection kept alive."""

    def __init__(self, address: str) -> None:
        self.connection = http.client.HTTPConnection(urlsplit(address).netloc)

    def __call__(self, method: str, path: str, form: str = "", **headers: str) -> bytes:
        kind = {"Content-Type": "application/x-www-form-urlencoded"} if form else {}
        for last in (False, True):
            try:
                self.connection.request(method, path, form, kind | headers)
                answer = self.connection.getresponse()
                break
            except http.client.RemoteDisconnected:  # it was silent for longer than the server waits: once more
                self.connection.close()
                if last:
                    raise
        content = answer.read()
        if answer.status not in (200, 204):
            raise RuntimeError(f"{method} {path}: {answer.status} {content[:200]!r}")
        return content


def _with_empty_route(folder: Path) -> uvicorn.Server:
    server = server_for(folder)
    app = cast(FastAPI, server.config.app)
    app.add_api_route("/bench-empty", lambda: render("kit/said.html", sentence=""))
    return server


def pages(folder: Path) -> None:
    with running(folder, _with_empty_route) as address:
        ask = Client(address)
        empty = timed(lambda: ask("GET", "/bench-empty"))
        words = "an empty template route of this process"
        htmx = {"HX-Request": "true"}
        row(
            "one more drop: the page's fragment",
            timed(lambda: ask("POST", "/mix/pour", "bottle=22&drops=1", **htmx)),
            "ms",
            60,
            empty,
            words,
        )
        for name, path in PAGES.items():
            row(name, timed(partial(ask, "GET", path)), "ms", None, empty, words)
        weigh(ask)
        tilt_weight(ask)


def tilt_weight(ask: Client) -> None:
    """Bytes that the turning of a strip of flakes adds to the page: all its angles, both screens."""
    ask("POST", "/mix/spray", "ground=gold-foil", **{"HX-Request": "true"})
    bottle = next(at for at, paint in enumerate(PAINTS, start=1) if paint.id == "nordlys-fiol")
    page = ask("POST", "/mix/add", f"bottle={bottle}", **{"HX-Request": "true"})
    carried = sum(len(part) for part in re.findall(rb'data-tilt(?:-p3)?="[^"]*"', page))
    row("the tilt: all angles of a strip of flakes", carried / 1000, "kB", 40, len(page) / 1000, "the whole fragment")


def weigh(ask: Client) -> None:
    """Bytes of the Mix page with everything it loads, as sent."""
    page = ask("GET", "/mix")
    linked = {path.decode() for path in re.findall(rb'(?:href|src)="(/static/[^"]+)"', page)}
    sizes = {path: len(ask("GET", path)) for path in linked}
    style = ask("GET", "/static/kit.css")
    for font in re.findall(rb'url\("(vendor/[^"]+)"\)', style):
        sizes[font.decode()] = len(ask("GET", "/static/" + font.decode()))
    vendored = sum(size for path, size in sizes.items() if "vendor/" in path)
    total = len(page) + sum(sizes.values())
    row("Mix page with everything it loads", total / 1000, "kB", 330, vendored / 1000, "the vendored files in it alone")


LARGE = {"bottles_in_all": 2_000, "recipes_in_all": 5_000, "lines_in_all": 200_000}
SHELF_PAGES = {
    "Shelf": "/shelf",
    "Shelf by hue": "/shelf?order=hue",
    "find on the Shelf: a word": "/shelf?q=rav",
    "find on the Shelf: dark olive": "/shelf?q=dark+olive",
    "find on Mix": "/mix/find?q=rav",
    "Mix": "/mix",
    "one bottle": "/bottles/22",
}


def large_shelf(demo: Path, large: Path) -> None:
    """Each page on a large shelf beside the same page on the demo bench, in turns so that a slow minute hits both."""
    with running(demo) as one, running(large) as other:
        small, big = Client(one), Client(other)
        for name, path in SHELF_PAGES.items():
            both = [[], []]  # type: list[list[float]]
            for _ in range(4):
                for taken, ask in zip(both, (small, big), strict=True):
                    taken.append(timed(partial(ask, "GET", path), 5))
            floor, value = (statistics.median(taken) for taken in both)
            words = "the same with the demo bench"
            row(f"{name}, 2,000 bottles (1.5 x)", value, "ms", 1.5 * floor, floor, words)
        shown = timed(partial(big, "GET", "/recipes"), 10)
        row("Recipes, 40 of 5,000 shown", shown, "ms", None, timed(partial(small, "GET", "/recipes"), 10), "15 shown")
        # The first look after something was poured: what a search looks at is read again.
        after = []
        for _ in range(8):
            big("POST", "/bottles/23/shaken", "", **{"HX-Request": "true"})
            start = time.perf_counter()
            big("GET", "/mix/find?q=rav")
            after.append(1000 * (time.perf_counter() - start))
        row("find on Mix just after the shelf changed", statistics.median(after), "ms", None, 0, "")


def big_import(folder: Path) -> None:
    """2,000 rows of an inventory into an empty folder, beside the bare inserts of as many rows."""
    header = "line,name,kind,size_ml,left_ml,drop_ul,place,colour\n"
    lines = [f"Rekke,Farge {at},transparent,30,{at % 30},45,rack,#{(at * 7919) % (1 << 24):06x}" for at in range(2_000)]
    content = (header + "\n".join(lines)).encode()
    migrate(folder)
    with connected(folder) as connection:
        start = time.perf_counter()
        found = importing.read(connection, "large.csv", content)
        with writing(connection):
            found.write(connection, at="2026-11-25T10:00:00+00:00")
        taken = time.perf_counter() - start
        start = time.perf_counter()
        with writing(connection):
            connection.execute("CREATE TABLE bench (id INTEGER PRIMARY KEY, text TEXT)")
            connection.executemany("INSERT INTO bench (text) VALUES (?)", [(line * 8,) for line in lines * 5])
        floor = time.perf_counter() - start
    row("import of 2,000 rows", 1000 * taken, "ms", 5000, 1000 * floor, "10,000 bare inserts of as much text")


def substitutes(folder: Path) -> None:
    with connected(folder) as connection:
        for words, paint in (("a plain paint", "torv-koral"), ("a pearl", "perlemor-blaa")):
            taken = timed(partial(substitutes_for, connection, paint), 3)
            row(f"substitutes for {words}", taken, "ms", 1500 if paint == "perlemor-blaa" else None, 0, "")


def _resident_mb(pid: int) -> float:
    text = Path(f"/proc/{pid}/status").read_text(encoding="ascii")
    found = re.search(r"VmRSS:\s+(\d+) kB", text)
    return int(found.group(1)) / 1000 if found else 0.0


def _started(arguments: list[str]) -> tuple[float, subprocess.Popen[str], str]:
    """Milliseconds until a process has printed its first line, the process, and the line."""
    start = time.perf_counter()
    process = subprocess.Popen([sys.executable, *arguments], stdout=subprocess.PIPE, text=True)
    if process.stdout is None:
        raise RuntimeError("no output to read")
    line = process.stdout.readline().strip()
    return 1000 * (time.perf_counter() - start), process, line


def server(folder: Path) -> None:
    imports = "import time, fastapi, uvicorn, jinja2, numpy, typer; print('ready', flush=True); time.sleep(60)"
    floors, ready, resident, least = [], [], 0.0, 0.0
    for _ in range(3):
        taken, process, _line = _started(["-c", imports])
        least = _resident_mb(process.pid)
        process.kill()
        process.wait()
        floors.append(taken)
        start = time.perf_counter()
        _taken, process, address = _started(["-m", "diachrom", "serve", "--port", "0", "--data", str(folder)])
        ask = Client(address)
        ask("GET", "/mix")
        ready.append(1000 * (time.perf_counter() - start))
        for _ in range(20):
            ask("POST", "/mix/pour", "bottle=22&drops=1", **{"HX-Request": "true"})
        ask("GET", "/shelf")
        resident = max(resident, _resident_mb(process.pid))
        process.kill()
        process.wait()
    words = "Python with the same packages imported"
    row(
        "server: from the command to the first Mix page",
        statistics.median(ready),
        "ms",
        2000,
        statistics.median(floors),
        words,
    )
    row("server: resident memory after use", resident, "MB", 200, least, words)


def large(home: Path, data: Path) -> None:
    fill_large(home / "large", **LARGE)
    large_shelf(data, home / "large")


# By name: each is given a folder to work in, and one with the demo bench.
PARTS: dict[str, Callable[[Path, Path], None]] = {
    "optics": lambda home, data: optics(),
    "everything": lambda home, data: everything(),
    "cups": lambda home, data: many_cups(),
    "matching": lambda home, data: matching(),
    "painter": lambda home, data: painter(),
    "first-week": lambda home, data: first_week(),
    "pages": lambda home, data: pages(data),
    "substitutes": lambda home, data: substitutes(data),
    "cards": lambda home, data: cards(home, fill, Client),
    "sheet": lambda home, data: sheet(),
    "bait": lambda home, data: bait(data),
    "hand": lambda home, data: hand(data),
    "orders": lambda home, data: schedules(data),
    "log": lambda home, data: bench_log(data),
    "session": lambda home, data: bench_sessions(data),
    "doors": doors,
    "large": large,
    "import": lambda home, data: big_import(home / "empty"),
    "large-match": lambda home, data: large_match(),
    "list-beside-all": lambda home, data: list_beside_all(),
    "long-import": lambda home, data: long_import(),
    "pictures": lambda home, data: many_pictures(),
    "strangers": lambda home, data: strangers(),
    "server": lambda home, data: server(data),
}
LONG = ("painter", "list-beside-all")  # run when they are named


def main(wanted: Sequence[str]) -> int:
    unknown = [name for name in wanted if name not in PARTS]
    if unknown:
        print(f"There is no {', '.join(unknown)}; there are: {', '.join(PARTS)}.", file=sys.stderr)
        return 2
    with tempfile.TemporaryDirectory() as home:
        data = Path(home) / "bench"
        fill(data)
        for name in wanted or (one for one in PARTS if one not in LONG):
            PARTS[name](Path(home), data)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
