"""The sheet of labels of a bench, as it was said last."""

import sqlite3
from collections.abc import Mapping
from dataclasses import asdict

from pydantic import TypeAdapter

from diachrom.core.shelf.label_sheet import LabelSheet, checked
from diachrom.errors import InvalidInput
from diachrom.store import kept, settings
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.kit.figures import figure, whole

KEY = "label_sheet"
SHEET = TypeAdapter(LabelSheet)
COUNTS = {"columns": say("Columns"), "rows": say("Rows")}
SIZES = {
    "width_mm": say("A label is wide, mm"),
    "height_mm": say("and high, mm"),
    "left_mm": say("Left margin, mm"),
    "top_mm": say("Top margin, mm"),
    "across_mm": say("Gap across, mm"),
    "down_mm": say("Gap down, mm"),
}
MOST_MM = 400.0


def now(connection: sqlite3.Connection) -> LabelSheet:
    """The usual one where none was said, or what was kept is none."""
    try:
        return checked(kept.read(SHEET, settings.every(connection).get(KEY), LabelSheet()))
    except InvalidInput:
        return LabelSheet()


def keep(connection: sqlite3.Connection, form: Mapping[str, str]) -> None:
    """For the next time too. Raises InvalidInput for what is no figure, or does not fit its page."""
    columns, rows = (whole(form.get(key, ""), words, key=key) for key, words in COUNTS.items())
    sizes = {key: figure(form.get(key, ""), words, key=key, least=0, most=MOST_MM) for key, words in SIZES.items()}
    sheet = checked(LabelSheet(page=form.get("page", ""), columns=columns, rows=rows, **sizes))
    with writing(connection):
        settings.put(connection, {KEY: SHEET.dump_json(sheet).decode()})


def fields(sheet: LabelSheet) -> list[tuple[str, str, float]]:
    """(key, words, value) of what can be said of it."""
    values = asdict(sheet)
    return [(key, words, values[key]) for key, words in {**COUNTS, **SIZES}.items()]
