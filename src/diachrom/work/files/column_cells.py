"""What the cells of a column say of it, whatever stands above them."""

import re
from collections.abc import Callable, Mapping, Sequence

from diachrom.core.film.kinds import KINDS
from diachrom.work.files import amounts
from diachrom.work.files.cells import kind_of
from diachrom.work.kit.written_colours import is_code

COLOUR, KIND, PRICE, VOLUME, SHARE, NUMBER, TEXT = "colour", "kind", "price", "volume", "share", "number", "text"
MOST_LOOKED_AT, LONGEST = 200, 200  # cells; characters of one
MOST_OF = 0.75  # of its cells
FIGURE = re.compile(r"[-−+]?[\d.,' \u00a0]*\d")
TELLS: Mapping[str, Callable[[str], bool]] = {
    COLOUR: is_code,
    KIND: lambda cell: kind_of(cell) in KINDS,
    PRICE: amounts.is_money,
    VOLUME: amounts.is_volume,
    SHARE: amounts.is_share,
    NUMBER: lambda cell: bool(FIGURE.fullmatch(cell)),
    TEXT: lambda cell: any(one.isalpha() for one in cell),
}


def said_by(cells: Sequence[str]) -> str:
    """One of TELLS, "" of an empty column, or one of all sorts."""
    seen = [cell.strip()[:LONGEST] for cell in cells if cell.strip()][:MOST_LOOKED_AT]
    for what, tells in TELLS.items():
        if seen and sum(map(tells, seen)) >= MOST_OF * len(seen):
            return what
    # Figures without a sign among others with one are as those.
    mixed = {what for what in (VOLUME, SHARE, PRICE) if any(TELLS[what](cell) for cell in seen)}
    rest = [cell for cell in seen if not any(TELLS[what](cell) for what in (*mixed, NUMBER))]
    return mixed.pop() if len(mixed) == 1 and not rest else ""


def several(cells: Sequence[str]) -> float:
    """How many of them differ, as a share."""
    seen = [cell.strip().casefold() for cell in cells if cell.strip()]
    return len(set(seen)) / len(seen) if seen else 0.0


def is_few(cells: Sequence[str], most: int) -> bool:
    """Whether all are whole numbers from 1 to `most`: how many there are, and not how much."""
    seen = [cell.strip() for cell in cells if cell.strip()]
    return bool(seen) and all(cell.isdecimal() and len(cell) < 4 and 1 <= int(cell) <= most for cell in seen)
