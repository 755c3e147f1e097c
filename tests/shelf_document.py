"""A shelf out as its JSON document and in again."""

from diachrom.store.connection import writing
from diachrom.work.files import exporting, importing

AT = "2026-11-27T10:00:00+00:00"


def out(store):
    return exporting.export(store, "json", at=AT)


def bring(store, content):
    """What became of each thing, by its name."""
    found = importing.read(store, "shelf.json", content)
    with writing(store):
        found.write(store, at=AT)
    return {one.name: one.fate for one in found.fates}
