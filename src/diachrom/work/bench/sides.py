"""Photos at the bench: kept for their session, and both sides of a bait beside each other."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom import clock
from diachrom.core.bait import zones
from diachrom.core.bait.blank import Blank
from diachrom.core.light.bands import Floats
from diachrom.core.session.events import Event
from diachrom.core.session.script import LEFT, RIGHT, SIDES
from diachrom.core.session.sides import Apart, compared
from diachrom.errors import DiachromError, InvalidInput
from diachrom.exchange import images, photos
from diachrom.exchange.marks import Picture
from diachrom.store import plans, session_photos, sessions, uploads
from diachrom.store.connection import writing
from diachrom.store.session_photos import Marks, SidePhoto
from diachrom.store.sessions import Session
from diachrom.store.uploads import Photo
from diachrom.words import say
from diachrom.work.bench.sessions import record_event
from diachrom.work.kit import photo_picks

AROUND = 0.10  # lengths, above and below the blank's outline


@dataclass(frozen=True, eq=False)
class BothSides:
    """The photos of a bait's sides, the latest of each, and what they tell."""

    photos: Mapping[str, tuple[SidePhoto, Photo]]  # by side
    zones: Sequence[Apart]
    problem: str = ""


def keep(
    connection: sqlite3.Connection, number: int, name: str, content: bytes, *, side: str, bait: int, at: str
) -> Session:
    """A photo of a side. Raises BadFile, InvalidInput, NotFound."""
    if side not in SIDES:
        raise InvalidInput(say("Say whether the photo shows the left or the right side."), field="side")
    taken = photo_picks.taken(name, content)
    with writing(connection):
        sessions.session(connection, number)
        photo = photo_picks.put(connection, taken, at=at)
        session_photos.add(connection, photo=photo, session=number, side=side, bait=bait)
        event = Event("photo", clock.monotonic_epoch(), what=side, value=str(photo), bait=bait)
        return record_event(connection, number, event, at=at)


def mark(connection: sqlite3.Connection, number: int, photo: int, points: Sequence[tuple[float, float]]) -> None:
    """Where grey patch, nose and tail lie in a photo. Raises InvalidInput, NotFound."""
    if len(points) != 3:
        raise InvalidInput(say("Touch the grey patch, then the nose, then the tail."), field="photo")
    own = next((one for one in session_photos.of(connection, number) if one.photo == photo), None)
    marks = Marks(*points)
    if own is not None:
        blank = _blank(connection, sessions.session(connection, number))
        _side(connection, replace(own, marks=marks), blank)  # says what is wrong with it
    with writing(connection):
        session_photos.mark(connection, photo, marks)


def both(connection: sqlite3.Connection, number: int) -> BothSides:
    """Raises NotFound."""
    session = sessions.session(connection, number)
    every = session_photos.of(connection, number)
    latest = {side: next((photo for photo in every if photo.side == side), None) for side in (LEFT, RIGHT)}
    found = {side: (one, uploads.photo(connection, one.photo)) for side, one in latest.items() if one is not None}
    if len(found) < 2 or any(one.marks is None for one, _ in found.values()):
        return BothSides(found, [])
    blank = _blank(connection, session)
    try:
        left, right = (_side(connection, found[side][0], blank)[1] for side in (LEFT, RIGHT))
        inside = zones.silhouette(blank.form.outline, left.shape[:2], photos.MARGIN)
        return BothSides(found, compared(left, right, inside))
    except DiachromError as error:
        return BothSides(found, [], str(error))


def _blank(connection: sqlite3.Connection, session: Session) -> Blank:
    """Of the first bait that it is of; a minnow where none is."""
    for step in (*session.script.steps, *session.script.before):
        if step.plan:
            try:
                return plans.version(connection, step.plan, step.version).document.blank
            except DiachromError:
                continue
    return Blank()


def _side(connection: sqlite3.Connection, photo: SidePhoto, blank: Blank) -> tuple[Picture, Floats]:
    assert photo.marks is not None
    upper, lower, _ = blank.form.outline.edges(np.linspace(0, 1, 41))
    high = 2 * float(max(upper.max(), -lower.min()) + AROUND)
    png = uploads.photo(connection, photo.photo).picture
    ends = (photo.marks.nose, photo.marks.tail)
    return photos.side(png, ends, photo.marks.grey, high, mirrored=photo.side == RIGHT)


def picture(connection: sqlite3.Connection, number: int, side: str) -> bytes:
    """A PNG of a side, straightened, its nose to the left. Raises InvalidInput, NotFound."""
    found = both(connection, number).photos.get(side)
    if found is None or found[0].marks is None:
        raise InvalidInput(say("Touch grey patch, nose and tail first."), field="photo")
    made, _ = _side(connection, found[0], _blank(connection, sessions.session(connection, number)))
    return images.png(made.astype(np.float64), np.ones(made.shape[:2], dtype=bool))
