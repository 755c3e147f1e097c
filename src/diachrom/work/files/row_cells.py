"""What a row of a table says in many ways, written as the store has it: its colour, and how much there is."""

import sqlite3
from collections.abc import Mapping

from diachrom.core.film.kinds import KINDS
from diachrom.core.light.colour_words import entries, plain
from diachrom.core.shelf.bottle_list import USUAL_ML, srgb
from diachrom.words import say
from diachrom.work.files.amounts import in_ml
from diachrom.work.kit.colour_words import own, written_colour
from diachrom.work.kit.fields import LEFT
from diachrom.work.kit.written_colours import code, of_parts, of_style_sheet

COLOUR = "colour"
PARTS = {
    "red": say("Red of its colour, 0 to 255"),
    "green": say("Green of its colour"),
    "blue": say("Blue of its colour"),
}


def write_colour(connection: sqlite3.Connection, given: dict[str, str]) -> None:
    """A colour by its parts, as a code, in words, or by a name of style sheets, as #rrggbb."""
    parts = tuple(given.pop(key, "") for key in PARTS)
    if any(parts):
        given[COLOUR] = of_parts(parts) or ", ".join(parts)  # type: ignore[arg-type]
    text = given.get(COLOUR, "")
    if text:
        sheet = of_style_sheet(text)
        # Of darkolivegreen the dictionary knows the parts alone, style sheets the whole.
        by_sheet = sheet if plain(text) not in entries() and plain(text) not in own(connection) else ""
        given[COLOUR] = code(text) or by_sheet or srgb(written_colour(connection, text)) or text


def write_amounts(given: dict[str, str], units: Mapping[str, str], kind: str, *, shares: bool) -> None:
    """What a bottle holds, and what is left in it, as ml; `units` are those that headings name, `shares` says that
    figures under a percent sign are 0 to 1."""
    paint_kind = KINDS.get(given.get("kind", ""), KINDS[kind])
    try:
        density = float(given.get("density") or paint_kind.keeps.density)
    except ValueError:
        density = paint_kind.keeps.density
    density = density if density > 0 else paint_kind.keeps.density
    size = given.get("size_ml", "")
    if size:
        given["size_ml"] = in_ml(size, headed=units.get("size_ml", ""), whole_ml=None, density=density)
    left = given.get(LEFT.key, "")
    if left:
        try:
            whole = float(given.get("size_ml") or USUAL_ML)
        except ValueError:
            return
        times = 100.0 if shares else 1.0
        given[LEFT.key] = in_ml(left, headed=units.get(LEFT.key, ""), whole_ml=times * whole, density=density)
