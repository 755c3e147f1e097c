"""A shelf under torture: files are brought, drops poured and backups put back by three at once, while the server is
killed at random moments.

Afterwards: of each file that was brought all rows are there or none, every ledger is right, no backup is a stub, and
the folder is whole. Usage: torture_shelf.py [KILLS [SEED]]
"""

import random
import sys
import tempfile
import threading
import time
import uuid
from collections.abc import Mapping
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx2
from torture import AGAIN_S, under_kills

from diachrom.demo.bench import fill
from diachrom.store import backups, bottles
from diachrom.store.connection import connected
from diachrom.web.server import address_of, listen
from diachrom.work.files.checking import check_folder

KILLS, ROWS = 60, 12
PATIENCE_S = 60.0


@dataclass
class Shelf:
    """What was done."""

    over: bool = False
    brought: int = 0
    poured: int = 0
    restored: int = 0
    broken: int = 0


class Client(threading.Thread):
    """Works until it is over; what is cut off is tried again."""

    def __init__(self, address: str, told: Shelf, seed: int) -> None:
        super().__init__(daemon=True)
        self.address, self.told, self.dice = address, told, random.Random(seed)
        self.http = httpx2.Client(timeout=30)

    def run(self) -> None:
        with self.http:
            while not self.told.over:
                self.work()

    def work(self) -> None:
        raise NotImplementedError

    def ask(self, method: str, path: str, **more: Any) -> httpx2.Response:
        headers = {"X-Tap": uuid.uuid4().hex, "HX-Request": "true"}
        until = time.monotonic() + PATIENCE_S
        while True:
            try:
                answer = self.http.request(method, self.address + path, headers=headers, **more)
                break
            except httpx2.TransportError:
                if time.monotonic() > until:
                    raise
                time.sleep(AGAIN_S)
        self.told.broken += answer.status_code == 500
        return answer


class Brings(Client):
    """Tables of a dozen bottles, each under a place of its own."""

    def work(self) -> None:
        place = f"file {self.told.brought}"
        rows = "".join(f"Gull,Rav,transparent,30,{at},{place}\n" for at in range(1, ROWS + 1))
        content = f"name,line,kind,size_ml,left_ml,place\n{rows}".encode()
        answer = self.ask("POST", "/files/import", files={"file": ("a.csv", content)})
        path = answer.headers.get("HX-Redirect", "").partition("?")[0]
        if path:
            self.ask("POST", f"{path}/write")
            for _ in range(20):
                if "hx-get" not in self.ask("GET", f"{path}/progress").text:
                    break
                time.sleep(AGAIN_S)
            self.told.brought += 1


class Pours(Client):
    def work(self) -> None:
        self.ask("POST", "/pour/fall", data={"bottle": self.dice.choice(("22", "23", "24"))})
        self.told.poured += 1
        if self.dice.random() < 0.1:
            self.ask("POST", "/mix/new")


class Restores(Client):
    def work(self) -> None:
        time.sleep(self.dice.uniform(0.1, 0.6))
        page = self.ask("GET", "/files/backups").text
        names = [part.partition('"')[0] for part in page.split('href="/files/backups/')[1:]]
        if names:
            self.ask("POST", f"/files/backups/{self.dice.choice(names[:4])}/restore")
            self.told.restored += 1


def torture(folder: Path, kills: int, seed: int = 1) -> Shelf:
    told = Shelf()
    with closing(listen(0)) as free:
        port, address = free.getsockname()[1], address_of(free)
    clients = [kind(address, told, seed + at) for at, kind in enumerate((Brings, Pours, Restores))]
    under_kills(folder, port, clients, kills, told, dice=random.Random(seed))
    return told


def by_place(folder: Path) -> Mapping[str, int]:
    found: dict[str, int] = {}
    with connected(folder) as store:
        for one in bottles.every(store):
            if one.place.startswith("file "):
                found[one.place] = found.get(one.place, 0) + 1
    return found


def faults(folder: Path, told: Shelf) -> list[str]:
    """What is not as it must be; empty where all is well."""
    found = [f"{place}: {many} of {ROWS} rows" for place, many in by_place(folder).items() if many % ROWS]
    if told.broken:
        found.append(f"{told.broken} requests were answered by a failure")
    found += check_folder(folder)
    for one in backups.every([backups.folder_of(folder)]):
        try:
            with backups.opened(one) as copy:
                backups.content(copy)
        except Exception as error:
            found.append(f"the backup {one.name} cannot be opened: {error}")
    if not backups.take(folder, backups.folder_of(folder) / "day-2001-01-01.sqlite3"):
        found.append("no backup can be made any more")
    return found


def main() -> int:
    kills, seed = (int(one) for one in (*sys.argv[1:], *(str(KILLS), "1")[len(sys.argv) - 1 :]))
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        fill(data)
        began = time.monotonic()
        told = torture(data, kills, seed)
        found = faults(data, told)
        print(
            f"{kills} kills in {time.monotonic() - began:.0f} s: {told.brought} files brought, {told.poured} drops"
            f" poured, {told.restored} backups put back; {len(found)} faults"
        )
        for one in found[:20]:
            print(one)
        return bool(found)


if __name__ == "__main__":
    sys.exit(main())
