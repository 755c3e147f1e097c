"""Which column of a table is what: by its heading in several languages, and by what stands below it."""

import re
import unicodedata
from collections.abc import Sequence
from contextlib import suppress
from importlib import resources
from statistics import median

from diachrom.core.film.kinds import KINDS
from diachrom.units import ML
from diachrom.words import listed, say
from diachrom.work.files.amounts import in_ml, is_money_unit, unit, unit_of
from diachrom.work.files.cells import form_of, kind_of, number
from diachrom.work.files.column_cells import FIGURE, KIND, PRICE, SHARE, TEXT, VOLUME, is_few, said_by, several
from diachrom.work.files.column_cells import NUMBER as NUMBER_
from diachrom.work.files.inventory_preview import COUNT, NUMBER, PAINT_ID
from diachrom.work.files.row_cells import COLOUR, PARTS
from diachrom.work.kit.fields import BOTTLE_FIELDS, LEFT, PAINT_FIELDS

SIZE = "size_ml"
NAMES = 0.6  # of the cells of a column differ, where it is one of names
MOST_BOTTLES = 12  # of one paint
WRITTEN = ("note", "bottle_note", "batch", "name", "line", "place", "pigments", PAINT_ID)  # whatever a cell looks like
HOLDS = {"stock", "inhalt", "amount", "menge", "quantity", "quantite", "cantidad", "antal", "contents", "content"}
UNITS = ("mm", "bar", "µl", "g/ml")  # in a row of units, beside those of amounts and of money


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
    **PARTS,
    COUNT: say("How many bottles"),
    NUMBER: say("Bottle's number"),
    PAINT_ID: say("Paint's id"),
}


def guess(heading: str) -> str:
    """A key for a heading, "" if it says nothing. A unit or a remark in brackets is not needed to know it."""
    last = heading.rpartition(".")[2]  # of things in things
    return KNOWN.get(plain(heading)) or KNOWN.get(_bare(heading)) or KNOWN.get(plain(last), "")


def _bare(heading: str) -> str:
    return plain(re.sub(r"[(\[].*?[)\]]|,.*$", " ", heading))


def keys_of(heads: Sequence[str], below: Sequence[Sequence[str]]) -> tuple[list[str], str]:
    """A key each, none twice, by the headings and by what stands below them; and what is to be asked about them."""
    columns = [[row[at] for row in below if at < len(row)] for at in range(len(heads))]
    says = [said_by(cells) for cells in columns]
    fits = [_fit(head, said, cells) for head, said, cells in zip(heads, says, columns, strict=True)]
    for key in dict.fromkeys(fits):  # a code is a colour rather than words, and words are a name
        alike = [at for at, one in enumerate(fits) if one == key]
        if key == COLOUR and len(alike) > 1 and any(says[at] == COLOUR for at in alike):
            under_heads = [at for at in alike if says[at] == COLOUR and heads[at].strip()]
            for at in alike:
                if says[at] != COLOUR:
                    fits[at] = "name" if "name" not in fits else ""
                elif under_heads and at not in under_heads:  # fills beside a column of codes
                    fits[at] = ""
    if COLOUR in fits and "name" not in fits and says[fits.index(COLOUR)] == TEXT:
        fits[fits.index(COLOUR)] = "name"
    if not all(key in fits for key in PARTS):
        fits = ["" if key in PARTS else key for key in fits]
    if PAINT_ID in fits and "name" not in fits:  # so heads our own tables, beside the name
        fits[fits.index(PAINT_ID)] = "name"
    _place_volumes(fits, columns)
    doubt = _doubt(heads, fits)
    if fits.count(LEFT.key) > 1 and SIZE not in fits:
        holds = [at for at, head in enumerate(heads) if fits[at] == LEFT.key and _bare(head) in HOLDS]
        if len(holds) == 1:
            fits[holds[0]] = SIZE
    for at, head in enumerate(heads):
        if fits[at] == LEFT.key and _bare(head) in HOLDS and is_few(columns[at], MOST_BOTTLES) and not unit_of(head):
            if SIZE in fits:
                fits[at] = COUNT
            elif len(columns[at]) > 1 and not doubt:
                doubt = say("Is '{head}' ml, or how many bottles there are? Say what it is.", head=head.strip()[:40])
    if "name" not in fits:
        texts = [at for at, key in enumerate(fits) if not key and says[at] == TEXT and several(columns[at]) > NAMES]
        if (texts and not any(guess(head) for head in heads)) or len(texts) == 1:
            fits[texts[0]] = "name"
    keys: list[str] = []
    for key in fits:
        keys.append(key if key not in keys else "")
    return keys, doubt


def _fit(head: str, said: str, cells: Sequence[str]) -> str:
    """What a column is taken for, by its heading and by its cells; VOLUME where it is some amount."""
    word, unit = guess(head), unit_of(head)
    if said == COLOUR and word not in WRITTEN:
        return COLOUR
    if word in ("", NUMBER) and (unit in ML or said == VOLUME) and said in (VOLUME, NUMBER_, ""):
        return VOLUME
    if word == NUMBER and unit:  # what a bottle weighs
        return ""
    if not any(cell.strip() for cell in cells):
        return word
    if word == "kind" and said not in (KIND, ""):
        return "kind" if any(kind_of(cell) in KINDS for cell in cells if cell.strip()) else ""
    if word in PARTS and said in (TEXT, KIND):  # headings such as Green
        return ""
    if word:
        return word
    return {KIND: "kind", PRICE: "price", SHARE: LEFT.key}.get(said, "")


def _place_volumes(fits: list[str], columns: Sequence[Sequence[str]]) -> None:
    """Amounts of which no heading says what they are: a bottle's size first, then what is left in it."""
    amounts = [at for at, key in enumerate(fits) if key == VOLUME]
    if len(amounts) == 2 and SIZE not in fits and LEFT.key not in fits:
        amounts.sort(key=lambda at: _whole_ml(columns[at]), reverse=True)
    for at in amounts:
        fits[at] = next((key for key in (SIZE, LEFT.key) if key not in fits), "")


def _whole_ml(cells: Sequence[str]) -> float:
    """All of a column, as far as it can be read."""
    form, whole = form_of(cells), 0.0
    for cell in cells:
        with suppress(ValueError):
            whole += float(in_ml(number(cell, form), headed="", whole_ml=None, density=1.0))
    return whole


def _doubt(heads: Sequence[str], fits: Sequence[str]) -> str:
    """Columns that fit one field alike, "" if there are none: a guess would write one in the place of the other."""
    for key in dict.fromkeys(filter(None, fits)):
        alike = [head.strip()[:40] for head, own in zip(heads, fits, strict=True) if own == key]
        if len(alike) > 1:
            named = listed((f"'{one}'" for one in alike[:4]), " and ")
            return say(
                "{named} can both be '{choices}': say what each is; nothing is imported until then.",
                named=named,
                choices=CHOICES[key],
            )
    return ""


def headed(rows: Sequence[tuple[int, Sequence[str]]], at: int) -> tuple[list[str], int]:
    """The headings that stand in a row, with those in the row above or the units in the row below; and how many rows
    from there they take."""
    heads = list(rows[at][1])
    wide = max(len(heads), int(median([len(cells) for _, cells in rows[at + 1 :]] or [0])))
    heads += [""] * (wide - len(heads))
    if at + 1 >= len(rows):
        return heads, 1
    under = list(rows[at + 1][1]) + [""] * wide
    told = [cell.strip() for cell in under[:wide]]
    units = [bool(unit(cell)) or is_money_unit(cell) or cell in UNITS for cell in told]
    # A row of units names no bottle.
    nameless = not any(cell for head, cell in zip(heads, told, strict=True) if guess(head) == "name")
    if any(units) and nameless and all(one or not cell for one, cell in zip(units, told, strict=True)):
        return [f"{head} ({cell})" if cell else head for head, cell in zip(heads, told, strict=True)], 2
    over = ""
    merged = []
    for head, cell in zip(heads, told, strict=True):
        over = head.strip() or over
        merged.append(cell if guess(cell) or not guess(f"{over} {cell}") else f"{over} {cell}")
    known = [sum(map(bool, map(guess, one))) for one in (heads, told, merged)]
    if known[2] > known[0] and known[1] > known[0] and not any(FIGURE.fullmatch(cell) for cell in told):
        return merged, 2
    return heads, 1


def first_is_data(rows: Sequence[tuple[int, Sequence[str]]]) -> bool:
    """Whether the first row says the same kinds of things as those below it: then it is no row of headings."""
    first, below = rows[0][1], [cells for _, cells in rows[1:]]
    columns = [[cells[at] for cells in below if at < len(cells)] for at in range(len(first))]
    for cell, cells in zip(first, columns, strict=True):
        own, rest = said_by([cell]), said_by(cells)
        if own not in (TEXT, "") and (own == rest or not below):
            return True
        if rest not in (TEXT, "") and own == TEXT:
            return False
    return False
