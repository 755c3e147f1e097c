"""A shelf out into its JSON document: everything on it, and the book."""

import sqlite3
from collections import defaultdict
from dataclasses import asdict

from pydantic import ValidationError

from diachrom.core.film.paint import Paint
from diachrom.errors import InvalidInput
from diachrom.store import bottles, hand_factor, paints
from diachrom.store.paints import PaintRecord
from diachrom.words import say
from diachrom.work.files import bundle_beside, bundle_cards, bundle_photos
from diachrom.work.files.bundle_document import VERSION, BottleDoc, Bundle, EntryDoc, PaintDoc, ProfileDoc
from diachrom.work.files.bundle_recipes import every_recipe
from diachrom.work.kit import documents
from diachrom.work.kit.documents import first_problem


def write(connection: sqlite3.Connection) -> bytes:
    """Everything on the shelf and in the book, as JSON. Raises InvalidInput naming what no document can hold."""
    whole = document(connection)
    bundle_photos.add_photos(connection, whole, len(_json(whole)))
    return _json(whole)


def _json(whole: Bundle) -> bytes:
    return whole.model_dump_json(exclude_defaults=True, indent=1).encode("utf-8")


def document(connection: sqlite3.Connection) -> Bundle:
    """The same without photos. Raises InvalidInput."""
    try:
        ledgers: dict[int, list[EntryDoc]] = defaultdict(list)
        for entry in bottles.every_entry(connection):
            ledgers[entry.bottle_id].append(
                EntryDoc(
                    at=entry.at,
                    kind=entry.kind,
                    ml=entry.ml,
                    note=entry.note,
                    recipe=entry.recipe,
                    version=entry.version,
                )
            )
        return Bundle(
            format="diachrom-shelf",
            version=VERSION,
            paints=[_paint(connection, record) for record in paints.every_record(connection)],
            bottles=[
                BottleDoc(
                    **{key: getattr(bottle, key) for key in BottleDoc.model_fields if hasattr(bottle, key)},
                    number=bottle.id,
                    paint=bottle.paint_id,
                    ledger=ledgers[bottle.id],
                )
                for bottle in bottles.every(connection, retired_too=True)
            ],
            recipes=every_recipe(connection),
            cards=bundle_cards.every_card(connection),
            hand=hand_factor.now(connection),
            learned_drops=bundle_cards.learned_drops(connection),
            beside=bundle_beside.out(connection),
        )
    except ValidationError as error:
        field, sentence = first_problem(error)
        raise InvalidInput(
            say(
                "Something on this shelf cannot be written to a file. {sentence} 'diachrom check' lists it all.",
                sentence=sentence,
            ),
            field=field,
        ) from None


def _paint(connection: sqlite3.Connection, record: PaintRecord) -> PaintDoc:
    profiles = [
        ProfileDoc(
            at=version.at,
            source=version.source,
            uncertain_nm=list(version.uncertain_nm),
            profile=profile_document(version.paint),
        )
        for version in reversed(paints.profile_versions(connection, record.id))
    ]
    return PaintDoc(**asdict(record), profiles=profiles)


def profile_document(paint: Paint) -> documents.Profile:
    """A paint's profile as scripts and files have it."""
    parts = {
        key: None if (part := getattr(paint, key)) is None else asdict(part)
        for key in ("flake", "fluorescence", "glow")
    }
    return documents.Profile(
        name=paint.name,
        kind=paint.kind,
        absorption=paint.absorption.tolist(),
        scattering=paint.scattering.tolist(),
        uncertainty=paint.uncertainty,
        bleeds=paint.bleeds,
        anisotropy=paint.anisotropy,
        even=paint.even,
        **parts,
    )
