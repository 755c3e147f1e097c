"""What the one who gets a bait is given: its picture, pattern and number, and how it is cared for."""

import sqlite3
from dataclasses import dataclass

from diachrom.core.session.script import SIDES
from diachrom.errors import DiachromError
from diachrom.exchange import images
from diachrom.store import plans, uploads
from diachrom.store.log import Entry
from diachrom.words import listed, say
from diachrom.work.log import entries
from diachrom.work.plan import pictures

WIDE = 1000
CARE = (
    say("Rinse it in fresh water after salt water, and dry it before you put it away."),
    say("Keep it away from soft plastic baits: they dissolve paint and clear."),
    say("Keep it out of the sun when you are not fishing: bright colours fade."),
)
FRESH = say("Its clear keeps hardening for some weeks: no box with other lures until then.")


@dataclass(frozen=True)
class Shown:
    words: str
    picture: str  # a data address


@dataclass(frozen=True)
class ForCustomer:
    entry: Entry
    pictures: tuple[Shown, ...]
    colours: str
    care: tuple[str, ...]


def page(connection: sqlite3.Connection, number: int) -> ForCustomer:
    """All of it in itself: a page of it needs nothing from anywhere. Raises NotFound."""
    found = entries.one(connection, number)
    entry = found.entry
    latest = dict(found.photos)  # of each side the last
    shown = [one for side, photo in latest.items() if (one := _photo(connection, side, photo)) is not None]
    if not shown and entry.plan is not None and entry.version is not None:
        try:
            plan = plans.version(connection, entry.plan, entry.version).document
            shown = [
                Shown("", images.address_of(pictures.image(connection, plan, width=WIDE), wide=WIDE, see_through=True))
            ]
        except DiachromError:
            shown = []
    told = (entry.told or {}).get("colours")
    colours = listed(entries.coloured(told)) if isinstance(told, dict) else ""
    care = (*CARE, FRESH) if entry.clear else CARE
    return ForCustomer(entry, tuple(shown), colours, care)


def _photo(connection: sqlite3.Connection, side: str, photo: int) -> Shown | None:
    """None for what cannot be read any more."""
    try:
        return Shown(SIDES.get(side, ""), images.address_of(uploads.photo(connection, photo).picture, wide=WIDE))
    except (DiachromError, OSError, ValueError):
        return None
