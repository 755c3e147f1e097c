"""Which rows of a table are bottles: headings that stand in it again, notes, totals and kinds as headings are not."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from statistics import median

from diachrom.core.film.kinds import KINDS
from diachrom.words import say
from diachrom.work.files.cells import bare, kind_of

TOTALS = frozenset(
    ("total", "totals", "sum", "subtotal", "summe", "gesamt", "totale", "somme", "suma", "totaal", "summa", "yhteensa")
)
LEAST_CELLS = 3  # that a row of a table holds, before a row with one cell is none of its bottles


@dataclass(frozen=True)
class BottleRow:
    """A row that is a bottle, and the kind that a heading above it says."""

    row: int  # in the file
    cells: Sequence[str]
    kind: str = ""


@dataclass(frozen=True)
class LeftOut:
    """A row that is none, and why."""

    row: int
    text: str
    why: str


def _says_more(cell: str) -> bool:
    """Whether it is no figure: a bottle beside its name has a kind, or a colour."""
    return cell[0].isalpha() or cell.startswith("#")


def parted(
    keys: Sequence[str], rows: Sequence[tuple[int, Sequence[str]]], above: Sequence[str], taken: frozenset[int]
) -> Iterator[BottleRow | LeftOut]:
    """Each row of a table as one or the other, in their order; those `taken` are bottles whatever they look like."""
    name = list(keys).index("name")
    headings = [cell.strip() for cell in above if cell.strip()]
    wide = median([sum(bool(cell.strip()) for cell in cells) for _, cells in rows] or [0]) >= LEAST_CELLS
    kind = ""
    for row, cells in rows:
        filled = [cell.strip() for cell in cells if cell.strip()]
        text = " · ".join(filled)[:80]
        alone = kind_of(filled[0]) if len(filled) == 1 else ""
        if row in taken and filled:
            yield BottleRow(row, cells, kind)
        elif not filled:
            yield LeftOut(row, "", say("an empty row"))
        elif filled == headings:
            yield LeftOut(row, text, say("the headings again"))
        elif alone in KINDS and wide:
            kind = alone
            yield LeftOut(row, text, say("what stands below it is {kind}", kind=KINDS[kind].words))
        elif set(bare(filled[0]).split()[:1]) & TOTALS and not any(map(_says_more, filled[1:])):
            yield LeftOut(row, text, say("a total"))
        elif wide and (len(filled) == 1 or (len(filled) == 2 and not (len(cells) > name and cells[name].strip()))):
            yield LeftOut(row, text, say("a note"))
        else:
            yield BottleRow(row, cells, kind)
