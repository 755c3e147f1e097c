"""What goes out: the inventory, paints and recipes, palettes, spectra. Each form is an entry of a table."""

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from diachrom.core.light.screen import shown
from diachrom.core.profiles.contrast_card import on_card
from diachrom.errors import InvalidInput
from diachrom.exchange import cgats, cxf, palettes, sheets_out
from diachrom.exchange.named import Named
from diachrom.exchange.sample import Sample
from diachrom.store import paints
from diachrom.words import listed, say
from diachrom.work.files import bundle_out, inventory
from diachrom.work.files.inventory_preview import HEADER
from diachrom.work.profiles.contrast_cards import can_be_carded
from diachrom.work.shelf.shelf_index import index

OVER = {"over white": "white", "over black": "black"}
ON_PAPER = ("bottle", "line", "name", "kind", "left_ml", "size_ml", "state", "place", "colour")  # of the workbook
TITLE = say("Paints on the shelf")


@dataclass(frozen=True)
class Form:
    """A form that the shelf can leave in."""

    suffix: str
    words: str
    media: str
    write: Callable[[sqlite3.Connection, str], bytes]  # the store, and the time


def _palette(connection: sqlite3.Connection) -> list[Named]:
    """Each paint's own colour, as its bead shows it."""
    whole = index(connection)
    named = {}
    for at, row in enumerate(whole.rows):
        if not np.isnan(whole.labs[at, 0]):
            named[row.bottle.paint_id] = Named(row.bottle.full_name, shown(whole.labs[at])[0].srgb)
    return list(named.values())


def spectra_of(connection: sqlite3.Connection) -> list[Sample]:
    """Every paint that a drawdown card can describe, in three light coats over white and over black, under clear; and
    the two grounds bare."""
    samples = [Sample(say("bare {key}", key=key), on_card(None, key)) for key in OVER.values()]
    profiles = paints.all_profiles(connection)
    for record in paints.every_record(connection):
        if not record.retired and can_be_carded(record.kind):
            paint = profiles[record.id]
            if paint.problem:
                continue  # what is not known does not go out as a measurement
            samples += [Sample(f"{record.full_name}, {words}", on_card(paint, key)) for words, key in OVER.items()]
    return samples


FORMS = {
    form.suffix: form
    for form in (
        Form(
            "csv",
            say("inventory, as a table"),
            "text/csv",
            lambda store, at: sheets_out.to_csv(HEADER, inventory.rows(store)),
        ),
        Form(
            "xlsx",
            say("inventory, as a workbook"),
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            lambda store, at: sheets_out.to_xlsx("Inventory", HEADER, inventory.rows(store), printed=ON_PAPER),
        ),
        Form(
            "json",
            say("the shelf: paints, bottles, ledger, recipes, cards"),
            "application/json",
            lambda store, at: bundle_out.write(store),
        ),
        Form("gpl", say("palette, as text"), "text/plain", lambda store, at: palettes.to_gpl(TITLE, _palette(store))),
        Form(
            "ase",
            say("palette, packed"),
            "application/octet-stream",
            lambda store, at: palettes.to_ase(TITLE, _palette(store)),
        ),
        Form("cgats", say("spectra, as text"), "text/plain", lambda store, at: cgats.write(TITLE, spectra_of(store))),
        Form(
            "cxf",
            say("spectra, as XML"),
            "application/xml",
            lambda store, at: cxf.write(TITLE, spectra_of(store), at=at),
        ),
    )
}


def export(connection: sqlite3.Connection, suffix: str, *, at: str) -> bytes:
    """The shelf in the form that goes with a file's suffix. Raises InvalidInput for one that there is not."""
    if suffix not in FORMS:
        raise InvalidInput(
            say(
                "Nothing goes out as '.{suffix}'; known are {what}.",
                suffix=suffix,
                what=listed("." + key for key in FORMS),
            ),
            field="FILE",
        )
    return FORMS[suffix].write(connection, at)
