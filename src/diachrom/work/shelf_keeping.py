"""Keeping the shelf: putting a paint on it, another bottle of it, saying what is left and how big its drop is."""

import re
import sqlite3
import unicodedata
from dataclasses import dataclass

from diachrom.core.light.screen import hex_to_lab
from diachrom.core.mixing.cup import drop_volume
from diachrom.core.mixing.draft import checked_text
from diachrom.core.mixing.one_colour import from_one_colour
from diachrom.errors import InvalidInput
from diachrom.store import paints
from diachrom.store.connection import writing
from diachrom.store.paints import StockEntry
from diachrom.work.shelf import OnShelf, on_shelf

LARGEST_BOTTLE_ML = 5000.0
LONGEST = 40


@dataclass(frozen=True, eq=False)
class BottleSeen:
    """A bottle with everything that happened to what is in it, the newest first."""

    row: OnShelf
    ledger: list[StockEntry]


def see_bottle(connection: sqlite3.Connection, bottle: int) -> BottleSeen:
    """Raises BottleNotFound."""
    return BottleSeen(on_shelf(connection, [bottle])[bottle], paints.ledger(connection, bottle))


def add_paint(
    connection: sqlite3.Connection,
    *,
    line: str,
    name: str,
    kind: str,
    colour: str,
    size_ml: float,
    drop_ml: float,
    at: str,
) -> int:
    """Put a paint that was never measured on the shelf, as a guess from its colour; returns its bottle's number.

    Raises InvalidInput, naming the field; a paint that is there already is one of them.
    """
    line, name = _word("line", line), _word("name", name)
    full_name = f"{line} {name}".strip()
    lab = hex_to_lab(colour.strip()) if colour.strip() else None
    if colour.strip() and lab is None:
        raise InvalidInput(f"'{colour}' is no colour: write it as #rrggbb.", field="colour")
    profile = from_one_colour(full_name, kind, lab)
    size_ml, drop_ml = _size(size_ml), drop_volume(drop_ml, paint=full_name)
    with writing(connection):
        if paints.has_paint(connection, line=line, name=name):
            raise InvalidInput(f"{full_name} is on the shelf already: add a bottle of it instead.", field="name")
        paint_id = _free_id(connection, full_name)
        paints.add_paint(connection, profile, paint_id=paint_id, line=line, name=name)
        paints.add_profile(connection, profile, paint_id=paint_id, source=f"guessed from {colour or 'kind'}", at=at)
        return _bought(connection, paint_id, size_ml, drop_ml, at)


def another_bottle(connection: sqlite3.Connection, bottle: int, *, at: str) -> int:
    """A new bottle of the same paint, size and dropper. Raises BottleNotFound."""
    with writing(connection):
        old = paints.bottles(connection, [bottle])[bottle]
        return _bought(connection, old.paint_id, old.size_ml, old.drop_ml, at)


def correct_stock(connection: sqlite3.Connection, bottle: int, left_ml: float, *, at: str) -> None:
    """Say what is really left; the ledger gets the difference. Raises BottleNotFound and InvalidInput."""
    with writing(connection):
        old = paints.bottles(connection, [bottle])[bottle]
        if not 0 <= left_ml <= old.size_ml:
            raise InvalidInput(
                f"{old.full_name}: a {old.size_ml:g} ml bottle holds 0 to {old.size_ml:g} ml, not {left_ml:g}.",
                field="left_ml",
            )
        if left_ml != old.left_ml:
            change = left_ml - old.left_ml
            paints.add_stock_entry(connection, bottle_id=bottle, at=at, kind="corrected", ml=change)


def set_drop(connection: sqlite3.Connection, bottle: int, drop_ml: float) -> None:
    """Say how big the bottle's drop is, from now on; recipes keep the drop that they were poured with."""
    with writing(connection):
        old = paints.bottles(connection, [bottle])[bottle]
        paints.set_drop(connection, bottle, drop_volume(drop_ml, paint=old.full_name))


def _bought(connection: sqlite3.Connection, paint_id: str, size_ml: float, drop_ml: float, at: str) -> int:
    bottle = paints.add_bottle(connection, paint_id=paint_id, size_ml=size_ml, drop_ml=drop_ml, state="new")
    paints.add_stock_entry(connection, bottle_id=bottle, at=at, kind="bought", ml=size_ml)
    return bottle


def _word(field: str, text: str) -> str:
    """A line or a name: something to read, in one row."""
    word = " ".join(checked_text(field, text, LONGEST).split())
    if not word and field == "name":
        raise InvalidInput("A paint needs a name.", field=field)
    return word


def _size(size_ml: float) -> float:
    if not 0 < size_ml <= LARGEST_BOTTLE_ML:
        raise InvalidInput(f"A bottle holds up to {LARGEST_BOTTLE_ML:.0f} ml, not {size_ml:g}.", field="size_ml")
    return size_ml


def _free_id(connection: sqlite3.Connection, full_name: str) -> str:
    """A readable id that no paint has yet."""
    plain = unicodedata.normalize("NFKD", full_name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:60] or "paint"
    taken, number = base, 1
    while paints.has_id(connection, taken):
        number += 1
        taken = f"{base}-{number}"
    return taken
