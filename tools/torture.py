"""A scripted session at the bench under torture: two clients tap, things go wrong, one of them is a phone that is away
for a while and sends what waited all at once; and the server is killed at random moments.

Every press carries an id and is sent again until it is answered, as the page does. Afterwards: not one that was
answered is lost, none is counted twice, timers are right to the second, the ledger is right to the drop, and the
folder is whole. Usage: torture.py [KILLS [SEED]]
"""

import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from collections import Counter
from collections.abc import Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from typing import Protocol

import httpx2

from diachrom.core.schedule.search import solve
from diachrom.core.session.after import replayed
from diachrom.core.session.script import BenchStep
from diachrom.demo.bench import fill
from diachrom.errors import DiachromError
from diachrom.store import bottles, sessions
from diachrom.store.connection import connected
from diachrom.web.server import address_of, listen, server_for
from diachrom.work.bench.sessions import begin, session
from diachrom.work.bench.sessions import poured as bottles_of
from diachrom.work.orders import orders, scheduling
from diachrom.work.orders.todo import to_do

AT = "2026-11-26T18:00:00+00:00"
KILLS = 300
LATE_S = 5.0  # that what waited may be counted after what another did meanwhile
SHORTEST_S, LONGEST_S = 0.02, 0.35  # that a server lives, once it answers
AGAIN_S = 0.02  # between two tries of a press
MISHAP = 0.08  # of the presses that tell of one, or put one right
MISHAPS = (
    ("slip", "run", ""),
    ("slip", "splatter", ""),
    ("different", "coats", "3"),
    ("different", "thinned", "20"),
    ("astray", "", "2"),
    ("mend", "", ""),
    ("unsay", "", ""),
    ("afresh", "", ""),
)
STARTER = "import sys, torture; torture.serve_many(sys.argv[1], int(sys.argv[2]))"


def serve_many(folder: str, port: int) -> None:
    """Start servers of one folder on one port, each in a child that can be killed: for each line of standard input
    one, whose number is printed. Everything is imported once."""
    for _ in sys.stdin:
        child = os.fork()
        if not child:
            server_for(Path(folder)).run(sockets=[listen(port)])
            os._exit(0)
        print(child, flush=True)
        threading.Thread(target=os.waitpid, args=(child, 0), daemon=True).start()


@dataclass
class Presses:
    """What the clients sent: how often each kind was counted and refused."""

    session: int
    counted: Counter[tuple[str, str, int]] = field(default_factory=Counter)  # kind, step, bottle
    refused: int = 0
    broken: int = 0  # answered by a failure of the server's own
    sent: int = 0
    twice: int = 0  # sent again although it had been counted
    queued: int = 0  # that had waited in a phone
    over: bool = False


class Client(threading.Thread):
    """A painter's page: it looks where the session stands, and presses what is due. Refusals are of presses that the
    other was quicker with."""

    def __init__(self, address: str, number: int, folder: Path, told: Presses, seed: int) -> None:
        super().__init__(daemon=True)
        self.address, self.number, self.folder, self.told = address, number, folder, told
        self.dice = random.Random(seed)
        self.http = httpx2.Client(timeout=5)

    def run(self) -> None:
        with self.http:
            while not self.told.over:
                self.look_and_press()

    def look_and_press(self) -> None:
        with connected(self.folder) as store:
            standing = session(store, self.number)
        here = standing.state.here(standing.script)
        if here is None:
            self.press("back", value="5")
            return
        if self.dice.random() < MISHAP:
            self.goes_wrong(here)
            return
        asked = [one for one in here.cautions if one not in standing.state.agreed]
        if asked:
            self.press("agree", what=asked[0])
        elif here.pours and standing.state.left(here):
            bottle = self.dice.choice(here.pours).bottle
            self.press(self.dice.choice(("tap", "tap", "tap", "untap")), step=here.key, bottle=bottle)
        else:
            self.press("next", step=here.key)

    def goes_wrong(self, here: BenchStep) -> None:
        """Something is not as planned, or is put right."""
        kind, what, value = self.dice.choice(MISHAPS)
        bottle = self.dice.choice(here.pours).bottle if here.pours and kind == "astray" else 0
        self.press(kind, step=here.key, bottle=bottle, what=what, value=value)

    def press(self, kind: str, *, step: str = "", bottle: int = 0, what: str = "", value: str = "") -> None:
        values = {"kind": kind, "step": step, "bottle": str(bottle), "what": what, "value": value}
        headers = {"X-Tap": uuid.uuid4().hex, "HX-Request": "true"}
        path = f"{self.address}/bench/{self.number}/happen"
        self.told.sent += 1
        while True:
            try:
                answer = self.http.post(path, data=values, headers=headers)
                break
            except httpx2.TransportError:
                time.sleep(AGAIN_S)
        if answer.is_success:
            self.told.twice += "X-Counted-Already" in answer.headers
            self.told.counted[kind, step, bottle] += 1
        elif answer.is_client_error:
            self.told.refused += 1
        else:
            self.told.broken += 1


class Phone(Client):
    """It is away for some presses, which it makes by what it knew when it went; what waited is sent at once, again and
    again until that is answered."""

    def look_and_press(self) -> None:
        with connected(self.folder) as store:
            standing = session(store, self.number)
        run, position = standing.state.run(standing.script), standing.state.position
        waiting: list[tuple[str, dict[str, str]]] = []

        def waits(kind: str, step: str, bottle: int = 0, what: str = "", value: str = "") -> None:
            values = {"kind": kind, "step": step, "bottle": str(bottle), "what": what, "value": value}
            waiting.append((uuid.uuid4().hex, values))

        for step in run[position : position + self.dice.randint(1, 3)]:
            for caution in step.cautions:
                waits("agree", "", what=caution)
            for _ in range(self.dice.randint(0, 3) if step.pours else 0):
                waits("tap", step.key, bottle=self.dice.choice(step.pours).bottle)
            if self.dice.random() < MISHAP:
                waits("slip", step.key, what="splatter")
            waits("next", step.key)
        if not waiting:
            waits("back", "", value="5")
        presses = [
            {"tap": tap, "ago": 0.01 * (len(waiting) - at), "values": values}
            for at, (tap, values) in enumerate(waiting)
        ]
        self.told.sent += len(presses)
        path, body = f"{self.address}/bench/{self.number}/presses", {"began": standing.at, "presses": presses}
        while True:
            try:
                answer = self.http.post(path, json=body)
                break
            except httpx2.TransportError:
                time.sleep(AGAIN_S)
        if not answer.is_success:
            self.told.broken += 1
            return
        refused = {one["tap"] for one in answer.json()["refused"]}
        self.told.refused += len(refused)
        self.told.queued += len(presses)
        for tap, values in waiting:
            if tap not in refused:
                self.told.counted[values["kind"], values["step"], int(values["bottle"])] += 1


def begun(folder: Path) -> int:
    """A session over two baits of the demo."""
    with connected(folder) as store:
        order = orders.new_with(store, {"name": "Torture"}, plan=1, baits=2, at=AT)
    with connected(folder) as store:
        wanted = to_do(store, order, at=AT)
        scheduling.keep(store, wanted, solve(wanted.work, lambda found: False))
    with connected(folder) as store:
        return begin(store, order, at=AT)


def torture(folder: Path, kills: int, seed: int = 1) -> Presses:
    """Kill the server so often while two tap; returns what was pressed when all of it is answered."""
    number, told = begun(folder), Presses(0)
    told.session = number
    with closing(listen(0)) as free:
        port, address = free.getsockname()[1], address_of(free)
    clients = [kind(address, number, folder, told, seed + at) for at, kind in enumerate((Client, Phone), start=1)]
    under_kills(folder, port, clients, kills, told, dice=random.Random(seed))
    return told


class Told(Protocol):
    over: bool


def under_kills(
    folder: Path, port: int, clients: Sequence[threading.Thread], kills: int, told: Told, *, dice: random.Random
) -> None:
    """Serve a folder, and kill the server so often, while clients work; they end when they are told that it is over,
    once all that they have sent is answered."""
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}
    starter = subprocess.Popen(
        [sys.executable, "-c", STARTER, str(folder), str(port)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env=environment,
    )
    assert starter.stdin is not None
    assert starter.stdout is not None
    try:
        for kill in range(kills + 1):
            starter.stdin.write("\n")
            starter.stdin.flush()
            child = int(starter.stdout.readline())
            _answers(f"http://127.0.0.1:{port}")
            if not kill:
                for client in clients:
                    client.start()
            if kill == kills:
                told.over = True
                for client in clients:
                    client.join()
            else:
                time.sleep(dice.uniform(SHORTEST_S, LONGEST_S))
            os.kill(child, signal.SIGKILL)
    finally:
        told.over = True
        starter.kill()
        starter.communicate()


def _answers(address: str) -> None:
    while True:
        try:
            httpx2.get(f"{address}/bench", timeout=30)
            return
        except httpx2.TransportError:
            time.sleep(AGAIN_S)


def faults(folder: Path, told: Presses, before: Mapping[int, float]) -> list[str]:
    """What is not as it must be; empty where all is well."""
    with connected(folder) as store:
        own = session(store, told.session)
        events = sessions.events(store, told.session)
        now = {one.id: one.left_ml for one in bottles.every(store)}
    kept = Counter((one.kind, one.step, one.bottle) for one in events)
    found = [
        f"{key}: {told.counted[key]} were answered, {kept[key]} are kept"
        for key in sorted(kept.keys() | told.counted.keys())
        if kept[key] != told.counted[key]
    ]
    if told.broken:
        found.append(f"{told.broken} presses were answered by a failure")
    try:
        as_told = replayed(own.script, events)
    except DiachromError as error:
        as_told = None
        found.append(f"the events do not follow from each other: {error}")
    if as_told is not None and as_told != own.state:
        found.append("the state is not what its events come to")
    done = {one.step: one.at for one in events if one.kind == "next"}
    run = own.state.run(own.script)
    for timer in own.state.timers:
        step = next((one for one in run if one.key == timer.key), None)
        began, lasts = done.get(timer.key, 0.0), timer.ends - timer.began
        if step is None or not began <= timer.began <= began + LATE_S or abs(lasts - step.dries_s) > 1e-6:
            found.append(f"the timer of {timer.key} ends at {timer.ends}")
    poured = dict.fromkeys(before, 0.0)
    for step in run:
        for one, ml in bottles_of(own, step).items():
            poured[one] += ml
    for bottle, ml in before.items():
        if abs(ml - now[bottle] - poured[bottle]) > 1e-6:
            found.append(f"bottle {bottle}: {ml - now[bottle]:.4f} ml went, {poured[bottle]:.4f} were poured")
    checked = subprocess.run(
        [sys.executable, "-m", "diachrom", "--data", str(folder), "check"], capture_output=True, text=True, check=False
    )
    if checked.returncode:
        found.append(checked.stdout + checked.stderr)
    return found


def levels(folder: Path) -> dict[int, float]:
    with connected(folder) as store:
        return {one.id: one.left_ml for one in bottles.every(store)}


def main() -> int:
    kills, seed = (int(one) for one in (*sys.argv[1:], *(str(KILLS), "1")[len(sys.argv) - 1 :]))
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        fill(data)
        before = levels(data)
        began = time.monotonic()
        told = torture(data, kills, seed)
        found = faults(data, told, before)
        print(
            f"{kills} kills in {time.monotonic() - began:.0f} s: {told.sent} presses by two clients, {told.queued} of "
            f"them had waited in a phone, {sum(told.counted.values())} counted, {told.twice} sent again after they had "
            f"been counted, {told.refused} refused since the other was quicker; {len(found)} faults"
        )
        for one in found:
            print(one)
        return bool(found)


if __name__ == "__main__":
    sys.exit(main())
