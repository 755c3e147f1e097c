"""The sheet of a spray-out card: laid out for its patches, photographed, and every field of the photo taken at once."""

import sqlite3

from diachrom.core.cards.sheet import MOST_GROUNDS, Sheet, sheet
from diachrom.core.film.grounds import GROUNDS
from diachrom.exchange import sheet_photos
from diachrom.exchange.sheet_photos import FieldRead
from diachrom.store import spray_out_cards
from diachrom.store.connection import writing
from diachrom.store.spray_out_cards import KeptCard
from diachrom.words import say
from diachrom.work.cards import compare_prediction
from diachrom.work.cards.compare_prediction import NewReading
from diachrom.work.kit import photo_picks
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.measurement_target import CardSheet
from diachrom.work.mix.sprayed_over import over

FOIL = "silver-foil"
MIRRORS = say("it mirrors: a photo shows little of it")


def sheet_of(card: KeptCard) -> Sheet:
    """With room for foil, for the eye, where no ground of the card mirrors.

    Raises InvalidInput for more patches than a sheet holds.
    """
    patches = [(patch.ground, patch.coats) for patch in card.patches]
    if not any(_mirrors(ground) for ground, _ in patches) and len({ground for ground, _ in patches}) < MOST_GROUNDS:
        patches.append((FOIL, card.draft.coats))
    return sheet(patches)


def address(card: KeptCard) -> str:
    """Where its code leads, after the server's address: to the recipe, and to this card of it."""
    page = f"test-cards/{card.id}" if card.recipe is None else f"recipes/{card.recipe}"
    return f"{page}?card={card.id}&sheet={sheet_of(card).key}"


def read_photo(
    connection: sqlite3.Connection, number: int, name: str, content: bytes, *, at: str
) -> dict[str, list[str]]:
    """Take every field of a photo of the sheet, all or nothing; returns why some were set aside, and which.

    A ground that was left bare is read too: the others lie on it. Raises NotFound, BadFile, BadPhoto, InvalidInput.
    """
    card = spray_out_cards.one(connection, number)
    taken = photo_picks.taken(name, content)
    fields = sheet_photos.read(taken.png, sheet_of(card), card.id)
    sprayed = {patch.ground for patch in card.patches}
    read = [
        one for one in fields if one.field.ground in sprayed and (one.field.coats or not _mirrors(one.field.ground))
    ]
    source = say("the photo {name}", name=name[:60])
    with writing(connection):
        # The bare grounds first: what is predicted of the others lies on them.
        bare_first = sorted(read, key=lambda one: one.field.coats > 0)
        for field in bare_first:
            spray_out_cards.add_patch(connection, card.id, field.field.ground, field.field.coats)
        for bare in (True, False):
            readings = [_reading(one, source) for one in read if (one.field.coats == 0) == bare]
            compare_prediction.keep(connection, card.id, readings, at=at)
        photo = photo_picks.put(connection, taken, at=at)
        spray_out_cards.show_photo(connection, card.id, photo)
    aside: dict[str, list[str]] = {}
    for field in read:
        if why := _why_aside(field):
            aside.setdefault(why, []).append(f"{over(connection, field.field.ground).words} {field.field.coats}")
    return aside


def _reading(field: FieldRead, source: str) -> NewReading:
    why = _why_aside(field)
    return NewReading(
        field.field.ground, field.field.coats, field.lab.tolist(), f"{source}{f', {why}' if why else ''}", not why
    )


def _why_aside(field: FieldRead) -> str:
    return MIRRORS if _mirrors(field.field.ground) else field.doubt


def _mirrors(ground: str) -> bool:
    return ground in GROUNDS and GROUNDS[ground].glossy


def take_photo(connection: sqlite3.Connection, devices: Devices, number: int, shot: str, base: str) -> bytes:
    """The bench's camera takes a photo of a card's sheet; `base` is this server's address. Raises NotFound."""
    card = spray_out_cards.one(connection, number)
    return devices.camera.photo(shot, CardSheet(card.id, contrast=False, address=base + address(card)))


def card_of(connection: sqlite3.Connection, number: int) -> KeptCard:
    """Raises NotFound."""
    return spray_out_cards.one(connection, number)
