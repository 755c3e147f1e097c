"""The log with sixty entries, and with five thousand that have photos: listed, looked through, made again."""

import io
from functools import partial
from pathlib import Path

from measuring import row, timed
from PIL import Image
from starlette.testclient import TestClient

from diachrom.store import log
from diachrom.store.connection import connected, writing
from diachrom.web.app import create_app
from diachrom.work.log import entries

MANY = 5000
PATHS = {
    "list": "/log",
    "find": "/log?q=harbour+shop",
    "a bottle": "/log?bottle=18",
    "again": "/log/3/again?baits=7",
}


def bench_log(data: Path) -> None:
    """Each with many beside the same with the demo's sixty."""
    few = _timed(data)
    _grow(data)
    for name, many in _timed(data).items():
        row(f"log: {name}, {MANY} entries", many, "ms", 1.5 * few[name], few[name], "with sixty")


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
