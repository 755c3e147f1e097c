"""Photos of the shelf: which bottles are here, by the codes of their labels, and which are not."""

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, TypeAdapter

from diachrom.errors import InvalidInput
from diachrom.store import bottles, kept, settings, uploads
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.kit import code_photos, photo_picks
from diachrom.work.shelf.on_shelf import OnShelf, seen
from diachrom.work.shelf.shelf_index import WATER, index

KEY = "shelf_photos"
MOST = 12  # photos of a shelf
READ_FROM_MM = 15.0  # side of a printed code, at an arm's length of shelf in a photo
Part = Annotated[kept.Number, Field(ge=-0.5, le=1.5)]  # of a photo's width or height
Corner = tuple[Part, Part]


@dataclass(frozen=True)
class Label:
    """A code in a photo: what it says, "" where it could not be read, and where it is."""

    text: str
    corners: tuple[Corner, Corner, Corner, Corner]


@dataclass(frozen=True)
class ShelfPhoto:
    """A photo and the labels that are seen in it."""

    photo: kept.RowNumber
    labels: tuple[Label, ...] = ()


PHOTOS = TypeAdapter(tuple[ShelfPhoto, ...])


@dataclass(frozen=True)
class PhotoSeen:
    """A photo with what its labels stand for; of no size once it is no longer kept."""

    photo: int
    width: int
    height: int
    labels: Sequence[tuple[Label, Bottle | None]]


@dataclass(frozen=True, eq=False)
class Counted:
    """What photos tell of the shelf."""

    photos: Sequence[PhotoSeen]
    here: Sequence[OnShelf]
    missing: Sequence[OnShelf]  # not empty, of the places that the photos show
    elsewhere: int  # bottles of places that no photo shows
    places: Sequence[str]  # that the photos show; "" for bottles without one
    empty: Sequence[Bottle]  # here, though nothing should be left
    retired: Sequence[Bottle]  # here, though taken off the shelf
    unread: int  # labels that were seen and could not be read
    strange: Sequence[str]  # what codes say that stand for no bottle of this bench


def add(connection: sqlite3.Connection, name: str, content: bytes, *, at: str) -> None:
    """Add a photo. Raises BadFile, Crowded, InvalidInput."""
    _refuse_more(_photos(connection))
    labels = tuple(Label(code.text, _four(code.corners)) for code in code_photos.seen(name, content))
    taken = photo_picks.taken(name, content)
    with writing(connection):
        photos = _photos(connection)
        _refuse_more(photos)  # another device may have added some
        _keep(connection, [*photos, ShelfPhoto(photo_picks.put(connection, taken, at=at), labels)])


def _refuse_more(photos: Sequence[ShelfPhoto]) -> None:
    if len(photos) >= MOST:
        raise InvalidInput(say("At most {most} photos: remove one, or begin again.", most=MOST), field="photo")


def remove(connection: sqlite3.Connection, photo: int) -> None:
    """Count without a photo."""
    with writing(connection):
        _keep(connection, [one for one in _photos(connection) if one.photo != photo])


def begin_again(connection: sqlite3.Connection) -> None:
    """Without any."""
    with writing(connection):
        _keep(connection, [])


def counted(connection: sqlite3.Connection) -> Counted:
    """What the photos tell of the shelf as it stands now."""
    photos = _photos(connection)
    texts = list(dict.fromkeys(label.text for one in photos for label in one.labels if label.text))
    shelf = [row for row in index(connection).rows if row.bottle.paint_id != WATER]
    away = [bottle for bottle in bottles.every(connection, retired_too=True) if bottle.retired] if texts else []
    meant = {text: _meant(text, [*(row.bottle for row in shelf), *away]) for text in texts}
    found = {bottle.id for same in meant.values() for bottle in same}
    sizes = uploads.sizes(connection, [one.photo for one in photos])
    places = {row.bottle.place for row in shelf if row.bottle.id in found}
    missing = [row.bottle for row in shelf if row.bottle.id not in found and row.condition != "empty"]
    return Counted(
        photos=[
            PhotoSeen(
                one.photo,
                *sizes.get(one.photo, (0, 0)),
                labels=[(label, next(iter(meant.get(label.text, [])), None)) for label in one.labels],
            )
            for one in photos
        ],
        here=seen(connection, [row.bottle for row in shelf if row.bottle.id in found]),
        missing=seen(connection, [bottle for bottle in missing if bottle.place in places]),
        elsewhere=sum(bottle.place not in places for bottle in missing),
        places=sorted(places),
        empty=[row.bottle for row in shelf if row.bottle.id in found and row.condition == "empty"],
        retired=[bottle for bottle in away if bottle.id in found],
        unread=sum(not label.text for one in photos for label in one.labels),
        strange=[text for text in texts if not meant[text]],
    )


def _meant(text: str, shelf: Iterable[Bottle]) -> list[Bottle]:
    """The bottles that a code may be of: a jar of one's own says its recipe, of which there may be several."""
    place = code_photos.place_of(text)
    if place is None or place.sort not in ("bottles", "recipes"):
        return []
    return [one for one in shelf if place.number == (one.id if place.sort == "bottles" else one.recipe)]


def _four(corners: Sequence[Corner]) -> tuple[Corner, Corner, Corner, Corner]:
    first, second, third, fourth = ((round(x, 4), round(y, 4)) for x, y in corners)
    return first, second, third, fourth


def _photos(connection: sqlite3.Connection) -> tuple[ShelfPhoto, ...]:
    return kept.read(PHOTOS, settings.every(connection).get(KEY), ())


def _keep(connection: sqlite3.Connection, photos: Sequence[ShelfPhoto]) -> None:
    settings.put(connection, {KEY: PHOTOS.dump_json(tuple(photos)).decode()})
