"""An order's schedule: the first answer, twelve baits of two plans, one bait; beside what no schedule can beat."""

import time
from pathlib import Path

from measuring import row, timed

from diachrom.core.schedule.bound import least_end
from diachrom.core.schedule.search import Found, solve
from diachrom.store.connection import connected
from diachrom.work.orders import orders, paint
from diachrom.work.orders.todo import ToDo, to_do

AT = "2026-11-26T10:00:00+00:00"
SEARCH_S = 1.7
DAY_MIN = 24 * 60


def schedules(data: Path) -> None:
    """Orders of the demo's plans."""
    with connected(data) as store:
        one = orders.new_with(store, {"name": "One"}, plan=1, baits=1, at=AT)
        twelve = orders.new_with(store, {"name": "Twelve"}, plan=1, baits=6, at=AT)
        orders.add_line(store, twelve, 2, 6, at=AT)
        many = orders.new_with(store, {"name": "Many"}, plan=1, baits=200, at=AT)
    for number, words in ((one, "one bait"), (twelve, "twelve of two plans"), (many, "200 baits")):
        with connected(data) as store:
            to_do(store, number, at=AT)  # what its paints are is known to a server by then
        with connected(data) as store:
            begun = time.perf_counter()
            wanted = to_do(store, number, at=AT)
            reading = 1000 * (time.perf_counter() - begun)
        _searched(wanted, words, reading)
    with connected(data) as store:
        row("order: its paint", timed(lambda: paint.paint(store, twelve), 7), "ms", None, 0, "")


def _searched(wanted: ToDo, words: str, reading: float) -> None:
    floor = timed(lambda: least_end(wanted.work), 3)
    begun = time.perf_counter()
    first: list[float] = []

    def go_on(found: Found) -> bool:
        spent = time.perf_counter() - begun
        if not first:
            first.append(1000 * spent)
        return spent < SEARCH_S and not found.proven

    found = solve(wanted.work, go_on)
    whole = time.perf_counter() - begun
    row(
        f"order: {words}, first answer",
        reading + first[0],
        "ms",
        300 if words != "200 baits" else None,
        floor,
        "what nothing can beat",
    )
    row(f"order: {words}, searched", whole, "s", 2.0 if words != "200 baits" else None, 0, "")
    proven = "proven" if found.proven else "what nothing can beat"
    row(f"order: {words}, ready after", found.timed.ends / DAY_MIN, "d", None, found.bound / DAY_MIN, proven)
