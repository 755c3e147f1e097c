"""Bottles as somebody writes them down, one a line: the name, how much is in it, and what the name says (`named`)."""

import re
from dataclasses import dataclass, replace

from diachrom.core.light.bands import Floats
from diachrom.core.light.colour_words import Own
from diachrom.core.light.screen import shown
from diachrom.core.shelf.named import HEX, Named, named
from diachrom.units import ML
from diachrom.words import say, say_count

MOST_LINES = 150  # read at a time
USUAL_ML, LONGEST_NAME = 30.0, 80
NUMBER = r"(?:\d{1,4}(?:[.,]\d{1,2})?(?:\s?/\s?\d{1,2})?|[½¼¾])"
SIZE = re.compile(rf"(?<![\w.,/])({NUMBER})\s*(ml|cl|l|fl\.?\s?oz|oz|kg|grams?|gramm?|gr?)\b\.?", re.I)
WEIGHT = {"g": 1.0, "gr": 1.0, "gram": 1.0, "gramm": 1.0, "grams": 1.0, "kg": 1000.0}
TIMES = re.compile(r"\b\d{1,2}\s*[x×]\s*$|^\s*\d{1,2}\s*[x×]\s+", re.I)
BULLET = re.compile(r"^\s*(?:[-*•–·]+|\d{1,3}[.)])\s+")
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


@dataclass(frozen=True, eq=False)
class ListedBottle:
    """A bottle as its line says it."""

    line: int  # counted from 1, blank ones too
    name: str
    size_ml: float | None  # None where the line says none
    size_g: float | None
    said: Named
    count: int = 1  # lines that say the same

    @property
    def kind(self) -> str:
        """The kind of paint."""
        return self.said.kind

    @property
    def colour(self) -> str:
        """#rrggbb, "" where the line says none and one is needed."""
        return srgb(self.said.lab)

    @property
    def told_by(self) -> str:
        """What said the colour, in words."""
        words, pigment = " ".join(self.said.words).casefold(), self.said.pigment
        match self.said.colour_from:
            case "words":
                count = len(self.said.words)
                return say_count(count, "from the word {words}", "from the words {words}", words=words)
            case "pigment":
                return say("usual for {pigment}", pigment=pigment)
            case "written":
                return say("as written")
            case "kind":
                return say("usual for its kind")
        return ""


def srgb(lab: Floats | None) -> str:
    """#rrggbb of a colour as a screen shows it, "" of none."""
    return "" if lab is None else shown(lab)[0].srgb


def each_line(text: str, own: Own | None = None) -> list[ListedBottle]:
    """Every line that is not blank, as it is; `own` are phrases that a bench has learned."""
    lines = enumerate(text.splitlines(), start=1)
    return [read_line(line, number, own) for number, line in lines if line.strip()]


def read(text: str, own: Own | None = None) -> tuple[list[ListedBottle], int]:
    """The bottles of a list, each once, and the lines that were left unread because there are too many."""
    lines = [line for line in text.splitlines() if line.strip()]
    bottles: dict[tuple[str, str], ListedBottle] = {}
    for number, line in enumerate(lines[:MOST_LINES], start=1):
        bottle = read_line(line, number, own)
        if not any(one.isalnum() for one in bottle.name):
            continue
        key = bottle.name.casefold(), bottle.kind
        known = bottles.get(key)
        bottles[key] = bottle if known is None else replace(known, count=known.count + 1)
    return list(bottles.values()), max(0, len(lines) - MOST_LINES)


def read_line(line: str, number: int = 1, own: Own | None = None) -> ListedBottle:
    """A line as it is read; one that names nothing has no letter in its name."""
    text = BULLET.sub("", line.strip())
    amount = SIZE.search(text)
    bare = text if amount is None else f"{TIMES.sub(' ', text[: amount.start()])} {text[amount.end() :]}"
    pieces = [piece.strip() for piece in re.split(r"[\t;,|]", HEX.sub(" ", bare))]
    name = " ".join(next((piece for piece in pieces if any(one.isalnum() for one in piece)), "").split())
    ml, grams = (None, None) if amount is None else _amount(amount)
    shown_name = (name or " ".join(text.split()))[:LONGEST_NAME]
    return ListedBottle(number, shown_name, ml, grams, named(bare, own))


def _amount(found: re.Match[str]) -> tuple[float | None, float | None]:
    """Millilitres, or grams."""
    unit = re.sub(r"fl\.?\s?oz\.?", "fl oz", found[2].lower())
    written = {"½": "1/2", "¼": "1/4", "¾": "3/4"}.get(found[1], found[1]).replace(",", ".")
    above, _, below = written.partition("/")
    value = float(above) / (float(below or 1) or 1.0)
    if unit in WEIGHT:
        return None, round(value * WEIGHT[unit], 2) or None
    return round(value * ML[unit], 1) or None, None
