"""How far an answer is from its request: the project's functions and files that are entered on the way.

python tools/walks.py                 # a tap, an edge dragged, a block of a schedule dragged
python tools/walks.py edge --names    # with each function, in the order in which it is first entered
python tools/walks.py --get /mix      # any page
"""

import argparse
import sys
import tempfile
import threading
from collections.abc import Callable
from pathlib import Path
from types import CodeType, FrameType

from httpx2 import Response
from starlette.testclient import TestClient

import diachrom
from diachrom import clock
from diachrom.core.session.events import Event
from diachrom.demo.bench import fill
from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.work.bench import sessions
from diachrom.work.kit import schedules
from diachrom.work.orders import orders

SOURCE = str(Path(diachrom.__file__).parent)
PLAN = 2
Ask = Callable[[], Response]


def _is_ours(code: CodeType) -> bool:
    return code.co_filename.startswith(SOURCE) and code.co_filename.endswith(".py")  # compiled templates aside


class Walk:
    """Notes each function that is entered, in whichever thread, while it is under way."""

    def __init__(self) -> None:
        self.entered: dict[CodeType, None] = {}
        self.under_way = False
        threading.setprofile(self._note)  # the server's threads begin later, and have it
        sys.setprofile(self._note)

    def _note(self, frame: FrameType, event: str, _: object) -> None:
        code = frame.f_code
        if self.under_way and event == "call" and code.co_name[0] != "<" and _is_ours(code):
            self.entered[code] = None

    def of(self, ask: Ask) -> list[CodeType]:
        self.entered = {}
        self.under_way = True
        ask().raise_for_status()
        self.under_way = False
        return list(self.entered)


def tap(client: TestClient, folder: Path) -> Ask:
    """A drop tapped at the bench, in the first mix of a session."""
    with connected(folder) as store:
        number = sessions.begin_plan(store, PLAN, baits=2, one_by_one=False, at=clock.now())
        while (session := sessions.session(store, number)) and (here := session.state.here(session.script)):
            if here.pours:
                break
            for caution in here.cautions:
                sessions.record_event(
                    store, number, Event("agree", clock.monotonic_epoch(), what=caution), at=clock.now()
                )
            sessions.record_event(store, number, Event("next", clock.monotonic_epoch(), step=here.key), at=clock.now())
    assert here is not None
    values = {"kind": "tap", "step": here.key, "bottle": str(here.pours[0].bottle)}
    return lambda: client.post(f"/bench/{number}/happen", data=values, headers={"HX-Request": "true"})


def edge(client: TestClient, folder: Path) -> Ask:
    """The edge of a plan's second layer dragged, and the plan drawn anew."""
    ends = iter(f"{0.5 + step / 100}" for step in range(40))
    return lambda: client.post(f"/plan/{PLAN}/layers/2/edges", data={"u1": next(ends)}, headers={"HX-Request": "true"})


def block(client: TestClient, folder: Path) -> Ask:
    """A block of an order's schedule dragged to a later day."""
    with connected(folder) as store:
        number = orders.new_with(store, {"name": "Two of one"}, plan=PLAN, baits=2, at=clock.now())
    client.post(f"/orders/{number}/schedule")
    schedule = None
    while schedule is None:  # it is looked for in the background
        with connected(folder) as store:
            schedule = schedules.read(orders.order(store, number).schedule)
    client.post(f"/orders/{number}/schedule/stop")
    days = iter(range(2, 28))
    return lambda: client.post(
        f"/orders/{number}/drag",
        data={"block": schedule.visits[0].block, "not_before": f"2027-01-{next(days):02}T10:00:00+00:00"},
        headers={"HX-Request": "true"},
    )


WALKS = {"tap": tap, "edge": edge, "block": block}


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    asked.add_argument("walks", nargs="*", help=", ".join(WALKS))
    asked.add_argument("--names", action="store_true", help="each function in the order in which it is entered")
    asked.add_argument("--get", metavar="ADDRESS", help="a page of the demo's")
    given = asked.parse_args()
    walk = Walk()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        fill(folder)
        with TestClient(create_app(folder), base_url="http://127.0.0.1") as client:
            asks = {word: WALKS[word](client, folder) for word in given.walks or ([] if given.get else WALKS)}
            if given.get:
                asks[given.get] = lambda: client.get(given.get)
            for word, ask in asks.items():
                for _ in range(2):  # caches are filled, as they are at a bench
                    ask()
                entered = walk.of(ask)
                files = {code.co_filename for code in entered}
                print(f"{word}: {len(entered)} functions in {len(files)} files")
                for code in entered if given.names else ():
                    print(f"  {code.co_filename.removeprefix(SOURCE)[1:]}: {code.co_qualname}")


if __name__ == "__main__":
    main()
