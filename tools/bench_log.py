"""The log with sixty entries, and with five thousand that have photos: listed, looked through, made again."""

import io
import time
from functools import partial
from pathlib import Path

import numpy as np
from measuring import row, timed
from PIL import Image
from starlette.testclient import TestClient

from diachrom.core.light.screen import encode
from diachrom.exchange import photos
from diachrom.store import log, plans
from diachrom.store.connection import connected, writing
from diachrom.web.app import create_app
from diachrom.work.log import entries, photo_beside, photo_causes
from diachrom.work.plan import pictures

MANY = 5000
AT = "2026-11-26T18:00:00+00:00"
PATHS = {
    "list": "/log",
    "find": "/log?q=harbour+shop",
    "a bottle": "/log?bottle=18",
    "again": "/log/3/again?baits=7",
    "answers": "/log/answers",
    "anything": "/home/search?q=harbour",
}


def bench_log(data: Path) -> None:
    """Each with many beside the same with the demo's sixty."""
    few = _timed(data)
    _photo(data)
    _grow(data)
    for name, many in _timed(data).items():
        row(f"log: {name}, {MANY} entries", many, "ms", 1.5 * few[name], few[name], "with sixty")


def _photo(data: Path) -> None:
    """A bait's photo beside its picture, the first time and once more; and what would explain it."""
    with connected(data) as store:
        number = entries.new(store, {"name": "Char", "plan": "2", "baits": "1"}, at=AT)
        plan = plans.now(store, 2).plan
        made = pictures.seen_side(store, plan, side="left", high=0.6, width=640)
        scene = np.full((560, 900, 3), 0.4)
        scene[150 : 150 + len(made), 130:770] = np.where(made < 0.99, made, 0.4)
        scene[40:100, 40:100] = photos.USUAL_GREY
        content = io.BytesIO()
        Image.fromarray((255 * encode(0.85 * scene)).astype(np.uint8)).save(content, "PNG")
        for words in ("registered, the first", "registered"):
            began = time.perf_counter()
            entries.add_photo(store, number, "left", "bait.png", content.getvalue(), at=AT)
            photo = entries.one(store, number).photos[-1][1]
            marks = photo_beside.beside(store, number, photo).proposed
            assert marks is not None
            photo_beside.mark(store, number, photo, marks)
            found = photo_beside.beside(store, number, photo)
            row(f"log: a photo {words}", time.perf_counter() - began, "s", 2, 0, "")
        began = time.perf_counter()
        photo_causes.explained(store, found)
        row("log: what would explain it", time.perf_counter() - began, "s", None, 0, "")


def _timed(data: Path) -> dict[str, float]:
    with TestClient(create_app(data), base_url="http://127.0.0.1") as client:
        return {name: timed(partial(client.get, path), 9) for name, path in PATHS.items()}


def _grow(data: Path) -> None:
    picture = io.BytesIO()
    Image.new("RGB", (40, 24), (90, 96, 60)).save(picture, "PNG")
    with connected(data) as store, writing(store):
        every = log.every(store)
        for at in range(len(every), MANY):
            like = every[at % len(every)]
            values = {
                key: getattr(like, key) for key in ("at", "plan", "version", "name", "baits", "customer", "clear")
            }
            values["customer"] = f"Number {at}"
            number = log.add(store, {**values, "minutes": like.minutes, "told": like.told})
            own = store.execute(
                "INSERT INTO photo (at, name, width, height, picture) VALUES ('', 'x', 40, 24, ?) RETURNING id",
                [picture.getvalue()],
            ).fetchone()
            log.add_photo(store, photo=own[0], entry=number, side="left")
            entries.keep_words(store, number)
