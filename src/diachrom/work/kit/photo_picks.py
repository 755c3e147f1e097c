"""Photos that are brought to pick colours from."""

import sqlite3
from dataclasses import dataclass
from functools import lru_cache

from diachrom.exchange import photos
from diachrom.exchange.photos import Spot
from diachrom.store import uploads
from diachrom.store.connection import writing
from diachrom.store.uploads import Photo
from diachrom.words import say

SMALL_KEPT = 400


def keep(connection: sqlite3.Connection, name: str, content: bytes, *, at: str) -> int:
    """Keep a photo for picking; returns its number. Raises BadFile, Crowded, InvalidInput."""
    photo = taken(name, content)
    with writing(connection):
        return put(connection, photo, at=at)


@dataclass(frozen=True, eq=False)
class Taken:
    """A photo that was brought."""

    name: str
    width: int
    height: int
    png: bytes  # to be read
    picture: bytes  # to be kept


def taken(name: str, content: bytes) -> Taken:
    """Made fit before `writing`: it takes a while. Raises BadFile, Crowded."""
    width, height, png = photos.taken(name, content)
    return Taken(name[:80], width, height, png, photos.to_keep(png))


def put(connection: sqlite3.Connection, photo: Taken, *, at: str) -> int:
    """Keep it; returns its number. Inside `writing`. Raises InvalidInput."""
    own = {key: getattr(photo, key) for key in ("name", "width", "height", "picture")}
    return uploads.keep_photo(connection, **own, at=at)


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
    burnt = ", " + say("burnt out there: take a darker one") if spot.burnt_out else ""
    return burnt if spot.balanced else say("{burnt}, in the light that it was taken in", burnt=burnt)


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
