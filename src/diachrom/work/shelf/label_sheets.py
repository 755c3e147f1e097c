"""Sheets of labels as they are bought: rows, columns, sizes and margins in mm, remembered by the bench."""

import sqlite3
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass, fields, replace
from typing import Any

from pydantic import TypeAdapter

from diachrom.errors import InvalidInput
from diachrom.store import kept, settings
from diachrom.store.connection import writing
from diachrom.words import Quantity, quantity, say

KEY = "label_sheet"
PAGES = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}  # mm
LEAST_MM = (25.0, 12.0)  # wide, high: a code of ten and a name
MOST_ROWS, MOST_COLUMNS = 40, 12
OVER_MM = 0.05  # of rounding, that a sheet may be too large


@dataclass(frozen=True)
class LabelSheet:
    """One sheet, mm; from one label to the next is the gap between them."""

    page: str = "a4"
    columns: int = 3
    rows: int = 8
    width_mm: float = 64.0
    height_mm: float = 33.0
    left_mm: float = 7.0
    top_mm: float = 9.5
    across_mm: float = 2.0  # gap
    down_mm: float = 2.0  # gap

    def places(self) -> Iterator[tuple[float, float]]:
        """Left and top of each label, mm, in the order in which they are filled."""
        for row in range(self.rows):
            for column in range(self.columns):
                yield (
                    self.left_mm + column * (self.width_mm + self.across_mm),
                    self.top_mm + row * (self.height_mm + self.down_mm),
                )

    @property
    def count(self) -> int:
        """Labels of a sheet."""
        return self.columns * self.rows


DOCUMENT = TypeAdapter(dict[str, str | float | int])
WORDS = {
    "columns": say("Columns"),
    "rows": say("Rows"),
    "width_mm": say("A label is wide, mm"),
    "height_mm": say("and high, mm"),
    "left_mm": say("Left margin, mm"),
    "top_mm": say("Top margin, mm"),
    "across_mm": say("Gap across, mm"),
    "down_mm": say("Gap down, mm"),
}


def now(connection: sqlite3.Connection) -> LabelSheet:
    """As it was said last; the usual one where that is none."""
    told = kept.read(DOCUMENT, settings.every(connection).get(KEY), {})
    try:
        return of(told)
    except InvalidInput:
        return LabelSheet()


def keep(connection: sqlite3.Connection, sheet: LabelSheet) -> None:
    """For the next time."""
    with writing(connection):
        settings.put(connection, {KEY: DOCUMENT.dump_json(asdict(sheet)).decode()})


def of(given: Mapping[str, str | float]) -> LabelSheet:
    """What was said of a sheet; what was not is as usual. Raises InvalidInput where it does not fit its page."""
    page = str(given.get("page", "a4"))
    if page not in PAGES:
        raise InvalidInput(say("There is no page called '{page}'.", page=page[:20]), field="page")
    told: dict[str, Any] = {}
    for one in fields(LabelSheet):
        if one.name in WORDS and str(given.get(one.name, "")).strip():
            told[one.name] = _number(one.name, str(given[one.name]), whole=one.type is int)
    sheet = replace(LabelSheet(page=page), **told)
    if not (1 <= sheet.columns <= MOST_COLUMNS and 1 <= sheet.rows <= MOST_ROWS):
        raise InvalidInput(
            say("1 to {columns} columns, 1 to {rows} rows.", columns=MOST_COLUMNS, rows=MOST_ROWS), field="columns"
        )
    for key, value, least in (
        ("width_mm", sheet.width_mm, LEAST_MM[0]),
        ("height_mm", sheet.height_mm, LEAST_MM[1]),
    ):
        if value < least:
            raise InvalidInput(
                say("A label is at least {size}: name and code stand on it.", size=Quantity(LEAST_MM, "g", "mm", "x")),
                field=key,
            )
    wide = sheet.left_mm + sheet.columns * (sheet.width_mm + sheet.across_mm) - sheet.across_mm
    high = sheet.top_mm + sheet.rows * (sheet.height_mm + sheet.down_mm) - sheet.down_mm
    for key, value, most, words in (
        ("width_mm", wide, PAGES[page][0], say("wide")),
        ("height_mm", high, PAGES[page][1], say("high")),
    ):
        if value > most + OVER_MM:
            raise InvalidInput(
                say(
                    "These labels take {value}, the page is {most} {words}.",
                    value=quantity(value, ".1f", "mm"),
                    most=quantity(most, "g", "mm"),
                    words=words,
                ),
                field=key,
            )
    return sheet


def _number(key: str, text: str, *, whole: bool) -> float | int:
    try:
        value = float(text.replace(",", ".").strip())
    except ValueError:
        value = -1.0
    if not 0 <= value <= 1000 or (whole and value != int(value)):
        raise InvalidInput(say("{words}: '{text}' is none.", words=WORDS[key], text=text[:20]), field=key)
    return int(value) if whole else value
