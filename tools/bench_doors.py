"""What comes in from elsewhere: a shelf asked for by a script, a table brought, ten devices that tap at once."""

import statistics
import threading
import time
from functools import partial
from pathlib import Path

import httpx2
from bench_session import begin_at_a_mix
from large_shelf import fill_large
from measuring import row, timed

from diachrom.store.connection import connected
from diachrom.store.migrate import migrate
from diachrom.web.server import running
from diachrom.work.bench import sessions

DEVICES, TAPS = 10, 60
BOTTLES = 2_000


def doors(home: Path, data: Path) -> None:
    """A large shelf by script, a large table by hand, many hands at once."""
    _by_script(home)
    _table(home)
    _devices(data)


def _by_script(home: Path) -> None:
    folder = home / "by-script"
    fill_large(folder, bottles_in_all=BOTTLES, recipes_in_all=200, lines_in_all=4_000)
    with running(folder) as address, httpx2.Client(base_url=address, timeout=30) as client:
        floor = timed(lambda: client.get("/static/kit.css"), 30)
        whole = f"/api/bottles?limit={BOTTLES}"
        got = client.get(whole).raise_for_status().json()["bottles"]
        assert len(got) == BOTTLES
        for path, most in ((whole, 200), (f"{whole}&q=rav", None), ("/api/log?limit=2000", None)):
            taken = timed(partial(client.get, path), 15)
            row(f"script: {path}", taken, "ms", most, floor, "a file")


def _table(home: Path) -> None:
    """From the file to the page that shows what would become of it."""
    folder = home / "table"
    migrate(folder)
    lines = [f"Farge {at};{at % 7 + 1}/8;30 ml;#{(at * 7919) % (1 << 24):06x};{at % 90},50 kr" for at in range(BOTTLES)]
    content = "Navn;Igjen;Størrelse;Farge;Pris\n" + "\n".join(lines)
    with running(folder) as address, httpx2.Client(base_url=address, timeout=60, follow_redirects=True) as client:
        floor = timed(lambda: client.get("/static/kit.css"), 10)
        taken = []
        for _ in range(3):
            start = time.perf_counter()
            client.post("/files/import", files={"file": ("shelf.csv", content.encode())}).raise_for_status()
            taken.append(time.perf_counter() - start)
        row(f"table: {BOTTLES} rows read, judged and shown", statistics.median(taken), "s", 3, floor / 1000, "a file")


def _devices(data: Path) -> None:
    """Each at a session of its own, and all at one."""
    own = [begin_at_a_mix(data) for _ in range(DEVICES)]
    with running(data) as address:
        with httpx2.Client(base_url=address, timeout=30) as client:
            floor = timed(lambda: client.get("/static/icon.svg"), 30)
        for words, numbers in (("each at its own session", own), ("all at one session", own[:1] * DEVICES)):
            taken: list[float] = []
            begun = threading.Barrier(DEVICES)
            hands = [
                threading.Thread(target=_taps, args=(address, data, number, begun, taken), daemon=True)
                for number in numbers
            ]
            for hand in hands:
                hand.start()
            for hand in hands:
                hand.join()
            taken.sort()
            row(f"{DEVICES} devices, {words}: median tap", statistics.median(taken), "ms", None, floor, "a file")
            row(f"  the 99th of {len(taken)}", taken[int(0.99 * len(taken))], "ms", 150, floor, "a file")


def _taps(address: str, data: Path, number: int, begun: threading.Barrier, taken: list[float]) -> None:
    """Drop after drop, a beat apart, as a hand taps them."""
    with connected(data) as store:
        session = sessions.session(store, number)
    here = session.state.here(session.script)
    assert here is not None
    with httpx2.Client(base_url=address, timeout=30, headers={"HX-Request": "true"}) as client:
        client.get(f"/bench/{number}").raise_for_status()  # as it stands open on the device
        begun.wait()
        for at in range(TAPS):
            values = {
                "kind": "untap" if at % 2 else "tap",
                "step": here.key,
                "bottle": str(here.pours[0].bottle),
            }
            start = time.perf_counter()
            client.post(f"/bench/{number}/happen", data=values).raise_for_status()
            taken.append(1000 * (time.perf_counter() - start))
            time.sleep(0.5)
