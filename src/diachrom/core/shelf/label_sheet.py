"""A sheet of labels as it is bought: rows, columns, sizes and margins, and which label lies where on it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

from diachrom.errors import InvalidInput
from diachrom.words import Quantity, quantity, say

PAGES_MM = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}  # wide, high
LEAST_MM = (25.0, 12.0)  # wide, high: a name and a code
MOST_ROWS, MOST_COLUMNS = 40, 12
ROUNDING_MM = 0.05  # by which a sheet may be too large
Label = TypeVar("Label")


@dataclass(frozen=True)
class LabelSheet:
    """Sizes, margins and gaps between labels in mm."""

    page: str = "a4"
    columns: int = 3
    rows: int = 8
    width_mm: float = 64.0
    height_mm: float = 33.0
    left_mm: float = 7.0
    top_mm: float = 9.5
    across_mm: float = 2.0  # gap
    down_mm: float = 2.0  # gap

    @property
    def count(self) -> int:
        """Labels of a sheet."""
        return self.columns * self.rows

    def places(self) -> Iterator[tuple[float, float]]:
        """Left and top of each label, mm, in the order in which they are filled."""
        for row in range(self.rows):
            for column in range(self.columns):
                yield (
                    self.left_mm + column * (self.width_mm + self.across_mm),
                    self.top_mm + row * (self.height_mm + self.down_mm),
                )

    def laid_out(self, labels: Sequence[Label], first: int) -> list[list[tuple[float, float, Label]]]:
        """Sheet by sheet left, top and label; the first lies at place `first`, from 1, of a sheet that was begun."""
        places, skipped = list(self.places()), min(max(first, 1), self.count) - 1
        sheets: list[list[tuple[float, float, Label]]] = []
        for at, label in enumerate(labels, start=skipped):
            if not sheets or at % self.count == 0:
                sheets.append([])
            sheets[-1].append((*places[at % self.count], label))
        return sheets


def checked(sheet: LabelSheet) -> LabelSheet:
    """Raises InvalidInput, naming the field, where it does not fit its page."""
    if sheet.page not in PAGES_MM:
        raise InvalidInput(say("There is no page called '{page}'.", page=sheet.page[:20]), field="page")
    if not (1 <= sheet.columns <= MOST_COLUMNS and 1 <= sheet.rows <= MOST_ROWS):
        raise InvalidInput(
            say("1 to {columns} columns, 1 to {rows} rows.", columns=MOST_COLUMNS, rows=MOST_ROWS), field="columns"
        )
    wide = sheet.left_mm + sheet.columns * (sheet.width_mm + sheet.across_mm) - sheet.across_mm
    high = sheet.top_mm + sheet.rows * (sheet.height_mm + sheet.down_mm) - sheet.down_mm
    for key, own, taken, least, most, words in (
        ("width_mm", sheet.width_mm, wide, LEAST_MM[0], PAGES_MM[sheet.page][0], say("wide")),
        ("height_mm", sheet.height_mm, high, LEAST_MM[1], PAGES_MM[sheet.page][1], say("high")),
    ):
        if own < least:
            raise InvalidInput(
                say("A label is at least {size}: name and code stand on it.", size=Quantity(LEAST_MM, "g", "mm", "x")),
                field=key,
            )
        if taken > most + ROUNDING_MM:
            raise InvalidInput(
                say(
                    "These labels take {value}, the page is {most} {words}.",
                    value=quantity(taken, ".1f", "mm"),
                    most=quantity(most, "g", "mm"),
                    words=words,
                ),
                field=key,
            )
    return sheet
