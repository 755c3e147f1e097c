"""Bottles as somebody writes them down, one a line: what kind of paint, what size and what first colour the words say.

Colours come from a hex value, from the code of a pigment (Colour Index generic names, whose usual masstones stand here
as a first guess), or from plain colour words; kinds from the words that bottles bear.
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.core.light.bands import Floats
from diachrom.core.light.colour_words import colour_of, vocabulary
from diachrom.core.light.screen import hex_to_lab, shown
from diachrom.units import ML
from diachrom.words import say, say_count

MOST_LINES = 150  # read at a time
USUAL_ML, LONGEST_NAME = 30.0, 80
SIZE = re.compile(r"(?<![\w.,])(\d{1,4}(?:[.,]\d{1,2})?)\s*(ml|cl|l|fl\.?\s?oz|oz)\b\.?", re.I)
HEX = re.compile(r"#[0-9a-f]{6}\b", re.I)
PIGMENT = re.compile(r"\bP(W|Bk|Br|B|G|R|V|O|Y)\s?(\d{1,3})(?::(\d))?\b", re.I)
BULLET = re.compile(r"^\s*(?:[-*•–·]+|\d{1,3}[.)])\s+")
# The first word that is found decides.
KIND_WORDS = [(kind.key, kind.heard) for kind in sorted(KINDS.values(), key=lambda kind: -kind.decides)]
# Names that bottles bear, in words that a colour has here.
SAYINGS = {
    "copper": "light orange brown",
    "bronze": "brown",
    "chrome": "light grey",
    "aluminium": "light grey",
    "chartreuse": "bright yellow green",
    "lemon": "light yellow",
    "khaki": "dull olive",
    "navy": "dark blue",
    "maroon": "dark red",
    "burgundy": "dark red",
    "crimson": "deep red",
    "scarlet": "bright red",
    "tan": "light brown",
    "cream": "pale yellow",
    "beige": "pale brown",
    "sand": "pale brown",
    "ochre": "dull amber",
    "umber": "dark brown",
    "lilac": "light violet",
    "lavender": "pale violet",
    "magenta": "deep pink",
    "fuchsia": "strong pink",
}
# They say a kind, or nothing, though a colour is called so too.
NO_COLOUR = frozenset({"of", "a", "ink", "bottle", "very", "near"})
# Generic name: kind, and L*, a*, b* of a full coat on white as it usually is.
PIGMENTS = {
    "W6": ("opaque", (96, -1, 2)),
    "W4": ("transparent", (95, -1, 3)),
    "Bk7": ("opaque", (14, 0, 0)),
    "Bk9": ("opaque", (16, 1, 2)),
    "Bk11": ("opaque", (18, 0, 0)),
    "B15": ("transparent", (36, -8, -48)),
    "B15:3": ("transparent", (40, -18, -46)),
    "B28": ("opaque", (36, 8, -50)),
    "B29": ("transparent", (30, 22, -58)),
    "B60": ("transparent", (24, 6, -28)),
    "G7": ("transparent", (38, -46, 0)),
    "G36": ("transparent", (46, -54, 22)),
    "G17": ("opaque", (44, -16, 18)),
    "R101": ("opaque", (36, 30, 24)),
    "R112": ("transparent", (48, 62, 38)),
    "R122": ("transparent", (44, 60, -10)),
    "R254": ("opaque", (46, 64, 40)),
    "V19": ("transparent", (38, 56, 8)),
    "V23": ("transparent", (24, 34, -38)),
    "O36": ("opaque", (54, 54, 52)),
    "O73": ("opaque", (58, 60, 58)),
    "Y3": ("transparent", (88, -12, 84)),
    "Y42": ("opaque", (60, 18, 50)),
    "Y74": ("transparent", (84, 4, 88)),
    "Y83": ("transparent", (74, 24, 86)),
    "Y184": ("opaque", (88, -6, 86)),
    "Br7": ("transparent", (32, 12, 20)),
}
STARTER = """Titanium white PW6, opaque
Carbon black PBk7, opaque
Ochre PY42, opaque
Oxide red PR101, opaque
Lemon PY3, transparent
Yellow PY74, transparent
Deep yellow PY83, transparent
Orange PO73, opaque
Red PR254, opaque
Magenta PR122, transparent
Violet PV23, transparent
Ultramarine PB29, transparent
Blue PB15:3, transparent
Green PG7, transparent
Yellow green PG36, transparent
Umber PBr7, transparent
Pearl white
Silver, metallic
Fluorescent orange
Reducer"""


@dataclass(frozen=True)
class ListedBottle:
    """A bottle as its line says it."""

    name: str
    kind: str
    size_ml: float
    colour: str  # #rrggbb, "" where the line says none and one is needed
    told_by: str  # what said the colour, in words
    count: int = 1  # lines that say the same


def read(text: str) -> tuple[list[ListedBottle], int]:
    """The bottles of a list, each once, and the lines that were left unread because there are too many."""
    lines = [line for line in text.splitlines() if line.strip()]
    bottles: dict[tuple[str, str], ListedBottle] = {}
    for line in lines[:MOST_LINES]:
        bottle = read_line(line)
        if bottle is None:
            continue
        key = bottle.name.casefold(), bottle.kind
        known = bottles.get(key)
        bottles[key] = bottle if known is None else replace(known, count=known.count + 1)
    return list(bottles.values()), max(0, len(lines) - MOST_LINES)


def read_line(line: str) -> ListedBottle | None:
    """None for a line that names nothing."""
    text = BULLET.sub("", line.strip())
    amount = SIZE.search(text)
    bare = HEX.sub(" ", SIZE.sub(" ", text))
    name = " ".join(next((piece for piece in re.split(r"[\t;,|]", bare) if piece.strip()), "").split())[:LONGEST_NAME]
    if not any(one.isalnum() for one in name):
        return None
    pigment = _pigment(text)
    words = [one.casefold() for one in re.findall(r"[^\W\d_]+(?:-[^\W\d_]+)*", bare)]
    said = next((kind for kind, own in KIND_WORDS if any(word in own for word in words)), None)
    kind = said or (pigment[0] if pigment else "opaque")
    colour, told_by = _colour(text, words, pigment) if KINDS[kind].colours else ("", "")
    if amount is None:
        ml = USUAL_ML
    else:
        unit = re.sub(r"fl\.?\s?oz\.?", "fl oz", amount[2].lower())
        ml = round(float(amount[1].replace(",", ".")) * ML[unit], 1) or USUAL_ML
    return ListedBottle(name, kind, ml, colour, told_by)


def _pigment(text: str) -> tuple[str, tuple[int, int, int], str] | None:
    """Kind, masstone and name of the first pigment that is known."""
    for found in PIGMENT.finditer(text):
        letters = next(
            one for one in ("W", "Bk", "Br", "B", "G", "R", "V", "O", "Y") if one.lower() == found[1].lower()
        )
        for key in (f"{letters}{found[2]}:{found[3]}", f"{letters}{found[2]}"):
            if key in PIGMENTS:
                return (*PIGMENTS[key], f"P{key}")
    return None


def _colour(text: str, words: Sequence[str], pigment: tuple[str, tuple[int, int, int], str] | None) -> tuple[str, str]:
    """#rrggbb, and what says so."""
    typed = HEX.search(text)
    if typed and hex_to_lab(typed[0]) is not None:
        return typed[0].lower(), say("as written")
    if pigment:
        return _hex(np.array(pigment[1], dtype=float)), say("usual for {pigment}", pigment=pigment[2])
    for said in _said(words):
        point = colour_of(said)
        if point is not None:
            return _hex(point), say_count(
                len(said), "from the word {words}", "from the words {words}", words=" ".join(said)
            )
    return "", ""


def _said(words: Sequence[str]) -> Iterator[tuple[str, ...]]:
    """Colour words that may be meant: all of them, else the last, which is what a name says."""
    known = vocabulary() - NO_COLOUR
    spoken = tuple(part for word in words for part in SAYINGS.get(word, word).split() if part in known)
    if spoken:
        yield spoken
        yield spoken[-1:]


def _hex(point: Floats) -> str:
    return shown(point)[0].srgb
