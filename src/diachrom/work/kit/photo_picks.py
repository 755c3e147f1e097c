"""Photos that are brought to pick colours from."""

import sqlite3
from functools import lru_cache

from diachrom.exchange import photos
from diachrom.exchange.photos import Spot
from diachrom.store import uploads
from diachrom.store.connection import writing
from diachrom.store.uploads import Photo

SMALL_KEPT = 400


def keep(connection: sqlite3.Connection, name: str, content: bytes, *, at: str) -> int:
    """Keep a photo for picking; returns its number. Raises BadFile."""
    width, height, png = photos.taken(name, content)
    with writing(connection):
        return uploads.keep_photo(
            connection, name=name[:80], width=width, height=height, picture=photos.to_keep(png), at=at
        )


def photo(connection: sqlite3.Connection, number: int) -> Photo:
    """Raises NotFound."""
    return uploads.photo(connection, number)


def small(connection: sqlite3.Connection, number: int) -> bytes:
    """A JPEG of it, made once. Raises NotFound, InvalidInput."""
    return _small(uploads.photo(connection, number).picture)


@lru_cache(maxsize=SMALL_KEPT)
def _small(png: bytes) -> bytes:
    return photos.small(png)


def caution(spot: Spot) -> str:
    """What is to be said after the photo's name."""
    burnt = ", burnt out there: take a darker one" if spot.burnt_out else ""
    return burnt if spot.balanced else f"{burnt}, in the light that it was taken in"


def pick(
    connection: sqlite3.Connection,
    number: int,
    spot: tuple[int, int],
    grey: tuple[int, int] | None,
    *,
    radius: int,
    grey_percent: float,
) -> Spot:
    """The colour of a disc of the photo, by its grey patch if it has one. Raises NotFound, InvalidInput."""
    png = uploads.photo(connection, number).picture
    return photos.pick(png, spot, grey, radius=radius, grey_reflectance=grey_percent / 100)
