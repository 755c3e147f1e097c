"""The finished bait's photo beside its picture: zone by zone what differs."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait import zones
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.surface import FULL, ROUGH
from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.screen import encode, to_linear
from diachrom.core.session.script import LEFT, RIGHT
from diachrom.core.session.sides import Apart, compared
from diachrom.errors import DiachromError, InvalidInput
from diachrom.exchange import images, photos
from diachrom.exchange.marks import Picture
from diachrom.store import log, plans, session_photos, uploads
from diachrom.store.connection import writing
from diachrom.store.session_photos import Marks, SidePhoto
from diachrom.store.uploads import Photo
from diachrom.words import capitalized, quantity, say
from diachrom.work.log.came_out import came_out
from diachrom.work.plan import pictures
from diachrom.work.plan.painting import NOTHING, Instead

AROUND = 0.10  # lengths, above and below the blank's outline
OTHER_BAIT_DE = 15.0  # in the median of its zones: 1.6 times the film everywhere comes to 12, other baits to 10 to 45
GROUND_DE = 7.0  # what is as near to what lies around it is the ground
HALF, WHOLE = 0.75, 0.35  # of an end that is ground, where only half of a bait is there; of the other end at most
SHOWN = 6
CALM, RIM = 2, 3  # pixels
GROUND = 0.4  # linear light around the picture


@dataclass(frozen=True, eq=False)
class PhotoBeside:
    """A photo of an entry beside its picture."""

    own: SidePhoto
    photo: Photo
    proposed: Marks | None  # where a bait was found, before anybody touched it
    zones: Sequence[Apart] = ()
    told: Sequence[str] = ()
    problem: str = ""
    seen_off: "tuple[Bait, Floats, Floats, Bools] | None" = None  # the bait, its picture, the photo, what of it is bait


@dataclass(frozen=True, eq=False)
class Bait:
    plan: Plan
    instead: Instead
    high: float  # of its straightened photo, lengths


def _bait(connection: sqlite3.Connection, entry: int) -> Bait:
    """As it came out; as it was planned where nothing else is known. Raises InvalidInput, NotFound."""
    own = log.entry(connection, entry)
    if own.plan is None or own.version is None:
        raise InvalidInput(say("This entry has no plan: there is no picture to lay beside its photo."), field="plan")
    came = came_out(connection, own)
    plan = plans.version(connection, own.plan, own.version).document if came is None else came.plan
    upper, lower, _ = plan.blank.form.outline.edges(np.linspace(0, 1, 41))
    high = 2 * float(max(upper.max(), -lower.min()) + AROUND)
    return Bait(plan, NOTHING if came is None else came.instead, high)


def side_of(own: SidePhoto) -> str:
    return RIGHT if own.side == RIGHT else LEFT


def beside(connection: sqlite3.Connection, entry: int, photo: int) -> PhotoBeside:
    """What a photo tells; where it was not marked yet, where a bait was found in it. Raises InvalidInput, NotFound."""
    own, kept = session_photos.beside(connection, entry, photo), uploads.photo(connection, photo)
    if own.marks is None:
        return PhotoBeside(own, kept, _proposed(connection, entry, own, kept))
    bait = _bait(connection, entry)
    try:
        encoded, seen = _photographed(own, kept, bait, own.marks)
        inside = zones.silhouette(bait.plan.blank.form.outline, seen.shape[:2], photos.MARGIN)
        _check_whole(encoded, inside)
        meant, seen = (_calm(one, inside) for one in (_drawn(connection, bait, side_of(own)), seen))
        inside = _inner(inside)
        found = compared(meant, seen, inside)
        if not found:
            raise InvalidInput(say("The bait is too slender in this photo to tell its zones."), field="photo")
        if np.median([one.delta_e for one in found]) > OTHER_BAIT_DE:
            raise InvalidInput(
                say("Nothing in it looks like this bait: is it another one, or are its places touched wrongly?"),
                field="photo",
            )
    except DiachromError as error:
        return PhotoBeside(own, kept, None, problem=str(error))
    return PhotoBeside(own, kept, None, found, _in_words(found), seen_off=(bait, meant, seen, inside))


def _photographed(own: SidePhoto, kept: Photo, bait: Bait, marks: Marks) -> tuple[Picture, Floats]:
    ends = (marks.nose, marks.tail)
    return photos.side(kept.picture, ends, marks.grey, bait.high, mirrored=side_of(own) == RIGHT)


def _drawn(
    connection: sqlite3.Connection,
    bait: Bait,
    side: str,
    cells: tuple[int, int] = FULL,
    width: int = photos.STRAIGHT_WIDTH,
) -> Floats:
    return pictures.seen_side(
        connection, bait.plan, side=side, high=bait.high, width=width, cells=cells, instead=bait.instead
    )


def _check_whole(encoded: Picture, inside: Bools) -> None:
    """Raises InvalidInput where the photo shows ground at one end of the bait."""
    lab = photos.lab_of(encoded)
    ground = np.median(lab[~inside].reshape(-1, 3), axis=0)
    is_ground = (np.linalg.norm(lab - ground, axis=-1) < GROUND_DE) & inside
    middle = inside.shape[1] // 2
    front, back = (
        float(is_ground[:, half].sum() / max(inside[:, half].sum(), 1))
        for half in (slice(None, middle), slice(middle, None))
    )
    if min(front, back) > HALF:
        raise InvalidInput(
            say("Between these two places the photo shows no bait: touch its nose and its tail."), field="photo"
        )
    if max(front, back) > HALF and min(front, back) < WHOLE:
        raise InvalidInput(
            say("Only half of the bait lies between these places: take a photo of all of it, or touch them again."),
            field="photo",
        )


def _proposed(connection: sqlite3.Connection, entry: int, own: SidePhoto, kept: Photo) -> Marks | None:
    """Where a bait and a grey patch were found; its nose where the picture fits better."""
    found = photos.found_bait(kept.picture)
    if found is None or found.grey is None:
        return None
    try:
        bait = _bait(connection, entry)
        # Half as fine is enough to tell its head from its tail.
        meant = _drawn(connection, bait, side_of(own), ROUGH, photos.STRAIGHT_WIDTH // 2)
        tried = []
        for nose, tail in (found.ends, found.ends[::-1]):
            marks = Marks(found.grey, nose, tail)
            seen = _photographed(own, kept, bait, marks)[1][::2, ::2]
            rows = min(len(meant), len(seen))
            inside = zones.silhouette(bait.plan.blank.form.outline, (rows, seen.shape[1]), photos.MARGIN)
            off = np.mean([one.delta_e for one in compared(meant[:rows], seen[:rows], inside)])
            tried.append((float(off), marks))
    except DiachromError:
        return None
    return min(tried, key=lambda one: one[0])[1]


def mark(connection: sqlite3.Connection, entry: int, photo: int, marks: Marks) -> None:
    """Where grey patch, nose and tail lie in it. Raises InvalidInput, NotFound."""
    own, kept = session_photos.beside(connection, entry, photo), uploads.photo(connection, photo)
    _photographed(own, kept, _bait(connection, entry), marks)  # says what is wrong with them
    with writing(connection):
        taught = None if own.marks is None else own.marks.taught
        session_photos.mark_beside(connection, photo, replace(marks, taught=taught))


def _in_words(found: Sequence[Apart]) -> list[str]:
    told = [
        say(
            "{place}: the bait is {tells} than its picture, dE {delta_e}.",
            place=capitalized(zone.words),
            tells=zone.tells,
            delta_e=quantity(zone.delta_e, ".1f"),
        )
        for zone in found[:SHOWN]
        if not zone.same
    ]
    if told:
        return told
    worst = quantity(found[0].delta_e, ".1f")
    return [say("It came out as its picture says, as far as a photo can tell: dE {worst} at most.", worst=worst)]


def _calm(picture: Floats, inside: Bools) -> Floats:
    """Grain of a photo is spread evenly about its encoded light, not about its linear light: the mean of what lies
    around each place and is bait is taken there."""
    total, weight = np.where(inside[..., None], encode(np.clip(picture, 0, 1)), 0.0), inside[..., None].astype(float)
    for axis in (0, 1):
        steps = range(-CALM, CALM + 1)
        total, weight = (np.sum([np.roll(one, step, axis) for step in steps], axis=0) for one in (total, weight))
    return to_linear(np.where(inside[..., None], total / np.maximum(weight, 1e-9), 0.0))


def _inner(inside: Bools) -> Bools:
    """Without its rim, where a photo mixes the bait with what lies behind it."""
    found = inside.copy()
    for axis in (0, 1):
        for step in (-RIM, RIM):
            found &= np.roll(inside, step, axis)
    return found


def picture(connection: sqlite3.Connection, entry: int, photo: int, *, taken: bool) -> bytes:
    """A PNG of the straightened photo in daylight, or of the picture that lies beside it. Raises InvalidInput,
    NotFound."""
    own, kept = session_photos.beside(connection, entry, photo), uploads.photo(connection, photo)
    bait = _bait(connection, entry)
    if not taken:
        shown = _drawn(connection, bait, side_of(own))
        inside = zones.silhouette(bait.plan.blank.form.outline, shown.shape[:2], photos.MARGIN)
        shown = np.where(inside[..., None], shown, GROUND)
    elif own.marks is None:
        raise InvalidInput(say("Touch grey patch, nose and tail first."), field="photo")
    else:
        shown = _photographed(own, kept, bait, own.marks)[1]
    made = 255 * encode(np.clip(shown, 0, 1))
    return images.png(made, np.ones(made.shape[:2], dtype=bool))
