"""A session at the bench: a tap, a session that is opened, and what a state costs after many events."""

import time
from functools import partial
from pathlib import Path

import httpx2
from measuring import row, timed

from diachrom.core.session.events import Event
from diachrom.store.connection import connected
from diachrom.web.server import running
from diachrom.work.bench import sessions

AT = "2026-11-26T18:00:00+00:00"
EVENTS = 2000
WAITING = 500


def bench_sessions(data: Path) -> None:
    """Sessions over a plan of the demo's, one fresh and one long."""
    fresh, long = (begin_at_a_mix(data) for _ in range(2))
    with connected(data) as store:
        own = sessions.session(store, long)
        here = own.state.here(own.script)
        assert here is not None
        for at in range(EVENTS):
            event = Event("untap" if at % 2 else "tap", 1e9 + at, step=here.key, bottle=here.pours[0].bottle)
            sessions.record_event(store, long, event, at=AT)
    with running(data) as address, httpx2.Client(base_url=address, timeout=30) as client:
        floor = timed(lambda: client.get("/static/icon.svg"), 30)
        for number, words in ((fresh, "first"), (long, f"after {EVENTS}")):
            row(f"bench: a tap, {words}", timed(partial(_tap, client, data, number), 30), "ms", 30, floor, "a file")
        row(
            f"bench: {EVENTS} events opened",
            timed(lambda: client.get(f"/bench/{long}").raise_for_status(), 20),
            "ms",
            150,
            floor,
            "a file",
        )
        row(
            "bench: the steps to come",
            timed(lambda: client.get(f"/bench/{fresh}/ahead"), 10),
            "ms",
            None,
            floor,
            "a file",
        )
        with connected(data) as store:
            began, here = (own := sessions.session(store, fresh)).at, own.state.here(own.script)
        assert here is not None
        values = {"kind": "tap", "step": here.key, "bottle": str(here.pours[0].bottle)}
        waited = time.perf_counter()
        for first in range(0, WAITING, 100):
            presses = [{"tap": f"waited {first + at}", "ago": 60.0, "values": values} for at in range(100)]
            client.post(f"/bench/{fresh}/presses", json={"began": began, "presses": presses}).raise_for_status()
        row(f"bench: {WAITING} presses that waited", time.perf_counter() - waited, "s", 5, floor / 1000, "a file")
    begun = time.perf_counter()
    with connected(data) as store:
        sessions.begin_plan(store, 6, baits=12, one_by_one=True, at=AT)
    row("bench: begun for twelve", 1000 * (time.perf_counter() - begun), "ms", None, 0, "")


def begin_at_a_mix(data: Path) -> int:
    """A session that has come to where drops are counted; its number."""
    with connected(data) as store:
        number = sessions.begin_plan(store, 6, baits=12, one_by_one=False, at=AT)
        while (own := sessions.session(store, number)) and (here := own.state.here(own.script)) and not here.pours:
            for caution in here.cautions:
                sessions.record_event(store, number, Event("agree", 1e9, what=caution), at=AT)
            sessions.record_event(store, number, Event("next", 1e9, step=here.key), at=AT)
    return number


def _tap(client: httpx2.Client, data: Path, number: int) -> None:
    with connected(data) as store:
        own = sessions.session(store, number)
    here = own.state.here(own.script)
    assert here is not None
    values = {"kind": "tap", "step": here.key, "bottle": str(here.pours[0].bottle)}
    client.post(f"/bench/{number}/happen", data=values, headers={"HX-Request": "true"}).raise_for_status()
