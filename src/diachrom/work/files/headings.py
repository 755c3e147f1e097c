"""Which column of somebody's table is what: guessed from its heading in several languages, changed by choosing, and
remembered for the next table with the same headings."""

import hashlib
import json
import re
import sqlite3
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from importlib import resources

from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange.sheets import MOST_COLUMNS, Grid, Grids
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.words import listed, say
from diachrom.work.files.inventory_preview import COLOUR, HEADER, NUMBER, PAINT_ID, Table
from diachrom.work.kit.fields import BOTTLE_FIELDS, LEFT, PAINT_FIELDS

__all__ = ["CHOICES", "LOOKED_AT", "MOST_COLUMNS", say("Columns"), "choose", "find", "guess", "table"]

LOOKED_AT = 10  # rows from the top that may hold the headings
SIZE = "size_ml"
HOLDS = {"inhalt", "amount", "menge", "quantity", "quantite", "cantidad", "antal", "contents", "content"}
REMEMBERED, KEPT = "headings", 40


def plain(text: str) -> str:
    """A heading without accents, signs and case."""
    bare = unicodedata.normalize("NFKD", text.casefold().replace("ø", "o").replace("æ", "a").replace("ß", "ss"))
    letters = "".join(one for one in bare if not unicodedata.combining(one)).replace("ł", "l")
    return " ".join(re.sub(r"[^a-z0-9]+", " ", letters.replace("µ", "u")).split())


def _known() -> dict[str, str]:
    lines = resources.files("diachrom.work.files").joinpath("heading_words.txt").read_text("utf-8").splitlines()
    told = (line.split(":", 1) for line in lines if not line.startswith("#"))
    words = {plain(word): key for key, every in told for word in every.split(",")}
    own = {plain(name): one.key for one in (*PAINT_FIELDS, *BOTTLE_FIELDS, LEFT) for name in (one.key, one.words)}
    return {**words, **own, NUMBER: NUMBER, COLOUR: COLOUR, plain(PAINT_ID): PAINT_ID}


KNOWN = _known()
CHOICES = {"": say("is left out"), **{one.key: one.words for one in (*PAINT_FIELDS, *BOTTLE_FIELDS, LEFT)}} | {
    COLOUR: say("Colour, #rrggbb"),
    NUMBER: say("Bottle's number"),
    PAINT_ID: say("Paint's id"),
}


@dataclass(frozen=True)
class Columns:
    """Where the headings of a table stand, and which of its columns is what ("" is left out)."""

    sheet: int
    row: int  # its place among the rows of the sheet
    keys: Sequence[str]
    signature: str  # of the table, to remember it by
    chosen: bool = False  # by somebody, and not guessed
    doubt: str = ""  # columns that fit the same field: which is meant is asked


def guess(heading: str) -> str:
    """A key for a heading, "" if it says nothing. A unit or a remark in brackets is not needed to know it."""
    return KNOWN.get(plain(heading)) or KNOWN.get(_bare(heading), "")


def _bare(heading: str) -> str:
    return plain(re.sub(r"[(\[].*?[)\]]|,.*$", " ", heading))


def _guessed(cells: Sequence[str]) -> list[str]:
    """A key each, none twice. What a bottle holds beside what is left in it is its size."""
    fits = [guess(cell) for cell in cells]
    if fits.count(LEFT.key) > 1 and SIZE not in fits:
        holds = [index for index, cell in enumerate(cells) if fits[index] == LEFT.key and _bare(cell) in HOLDS]
        if len(holds) == 1:
            fits[holds[0]] = SIZE
    keys: list[str] = []
    for key in fits:
        keys.append(key if key not in keys else "")
    return keys


def _doubt(cells: Sequence[str]) -> str:
    """Columns that fit one field alike, "" if there are none: a guess would write one in the place of the other."""
    fits = [guess(cell) for cell in cells]
    for key in dict.fromkeys(filter(None, fits)):
        alike = [cell.strip()[:40] for cell, own in zip(cells, fits, strict=True) if own == key]
        if len(alike) > 1:
            named = listed((f"'{one}'" for one in alike[:4]), " and ")
            return say(
                "{named} can both be '{choices}': say what each is; nothing is imported until then.",
                named=named,
                choices=CHOICES[key],
            )
    return ""


def find(connection: sqlite3.Connection, name: str, grids: Grids) -> Columns:
    """As it was chosen for a table with these headings, else the row among the first ten of any sheet that says most.
    Raises BadFile where none says anything."""
    places = [
        (sum(map(bool, _guessed(cells))), -at, -sheet)
        for sheet, grid in enumerate(grids.sheets)
        for at, (_, cells) in enumerate(grid.rows[:LOOKED_AT])
    ]
    score, index, sheet = max(places)
    cells = grids.sheets[-sheet].rows[-index][1]
    signature = hashlib.sha256(json.dumps([[one.name for one in grids.sheets], list(cells)]).encode()).hexdigest()[:16]
    kept = settings.document(connection, REMEMBERED).get(signature)
    if isinstance(kept, dict):
        place, row, keys = kept.get("sheet"), kept.get("row"), kept.get("keys")
        if (
            (isinstance(place, int) and isinstance(row, int) and isinstance(keys, list))
            and 0 <= place < len(grids.sheets)
            and 0 <= row < min(len(grids.sheets[place].rows), LOOKED_AT)
        ):
            wide = len(grids.sheets[place].rows[row][1])
            known = [key if key in CHOICES else "" for key in map(str, keys)]
            return Columns(place, row, (known + [""] * wide)[:wide], signature, chosen=True)
    if not score:
        first = listed(one[:30] for one in grids.sheets[0].rows[0][1][:12])
        raise BadFile(
            name,
            say(
                "no row of its first ten names columns such as name, kind, left ml; its first says: {first}.",
                first=first,
            ),
        )
    return Columns(-sheet, -index, _guessed(cells), signature, doubt=_doubt(cells))


def choose(
    connection: sqlite3.Connection, name: str, grids: Grids, *, sheet: int, row: int, keys: Sequence[str] | None
) -> Columns:
    """Choose otherwise, and remember it; without keys those of another row are guessed. Raises InvalidInput."""
    if not 0 <= sheet < len(grids.sheets):
        raise InvalidInput(say("{name} has no sheet {sheet}.", name=name, sheet=sheet + 1), field="sheet")
    rows = grids.sheets[sheet].rows
    if not 0 <= row < min(len(rows), LOOKED_AT):
        raise InvalidInput(
            say("Headings stand in one of the first {looked_at} rows.", looked_at=LOOKED_AT), field="row"
        )
    wide = len(rows[row][1])
    wanted = _guessed(rows[row][1]) if keys is None else (list(keys) + [""] * wide)[:wide]
    for key in wanted:
        if key not in CHOICES:
            raise InvalidInput(say("There is no column '{key}'.", key=key[:40]), field="column")
        if key and wanted.count(key) > 1:
            raise InvalidInput(say("'{choices}' is chosen for two columns.", choices=CHOICES[key]), field="column")
    signature = find(connection, name, grids).signature
    with writing(connection):
        every = settings.document(connection, REMEMBERED)
        every.pop(signature, None)
        every[signature] = {"sheet": sheet, "row": row, "keys": wanted}
        settings.put(connection, {REMEMBERED: json.dumps(dict(list(every.items())[-KEPT:]))})
    return Columns(sheet, row, wanted, signature, chosen=True)


def table(name: str, grids: Grids, columns: Columns) -> Table:
    """The rows below the headings, under keys. Raises BadFile where there are none."""
    grid: Grid = grids.sheets[columns.sheet]
    if not grid.rows[columns.row + 1 :]:
        raise BadFile(name, say("it has no rows below its headings."))
    headings = grid.rows[columns.row][1]
    notes = list(grids.notes)
    if len(grids.sheets) > 1:
        notes.append(say("of the sheet '{name}'", name=grid.name))
    if grid.rows[columns.row][0] > 1:
        notes.append(say("headings in row {rows}", rows=grid.rows[columns.row][0]))
    left = [head for head, key in zip(headings, columns.keys, strict=True) if head.strip() and not key]
    if left:
        notes.append(say("columns that are left out: {left}", left=listed(left[:10])))
    return Table([key if key in HEADER else "" for key in columns.keys], grid.rows[columns.row + 1 :], notes)
