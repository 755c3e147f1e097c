"""What the name of a paint says: its kind, its first colour, and of flakes and glow what a guess needs beside it.

A kind's words decide as whole phrases ("medium yellow" is a yellow), a colour is written (#hex), the usual one of a
pigment (Colour Index generic names, whose usual masstones stand here as a first guess), said in the dictionary's words,
or that of the kind.
"""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Literal

import numpy as np

from diachrom.core.film.flakes import Mica
from diachrom.core.film.kinds import KINDS
from diachrom.core.light.bands import Floats
from diachrom.core.light.colour_words import Meant, Own, each_meant, known_words, meant, plain
from diachrom.core.light.lab import from_lch, lch
from diachrom.core.light.screen import hex_to_lab

ColourFrom = Literal["words", "pigment", "written", "kind", "none"]

HEX = re.compile(r"#[0-9a-f]{6}\b", re.I)
PIGMENT = re.compile(r"\bP(W|Bk|Br|B|G|R|V|O|Y)\s?(\d{1,3})(?::(\d))?\b", re.I)
PIECE = re.compile(r"[\t;,|()]")
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
# L*, C*, h of a kind whose name says no colour: what most bottles of it hold.
OF_KIND = {
    "pearl": (96, 1, 95),
    "metallic": (88, 1, 250),
    "glitter": (88, 1, 250),
    "primer": (90, 2, 95),
    "ink": (12, 1, 270),
    "glow": (92, 8, 115),
}
# What has no colour is what its last words say, unless a colour comes after them: "medium yellow" is no medium.
COLOURLESS = {
    "reducer": "reducer|thinner|thinners|flow improver|flow aid|flow enhancer|retarder|water|cleaner|brush cleaner"
    "|wasser|verdünner|verdünnung|fliessverbesserer|verzögerer|reiniger|diluant|diluyente",
    "medium": "medium|mediums|extender|extender base|transparent base|clear base|tinting base|mixing base|binder"
    "|carrier|varnish|clear|clear coat|clearcoat|topcoat|top coat|lacquer|klarlack|klar|lack|bindemittel|malmittel"
    "|mischmedium|sealer|glazing liquid",
}
ALWAYS_COLOURLESS = frozenset({"reducer", "thinner", "thinners", "flow improver", "flow aid", "retarder", "verdünner"})
ENDS_ON = frozenset({"clear", "klar", "lack", "lacquer", "water", "wasser"})  # a colour before them counts too
STUFFS = frozenset({"wood", "steel", "iron", "aluminium", "aluminum", "holz", "stahl", "alu", "metal"})  # are primed
NOT_HEARD = frozenset({"base", "standard"})  # in a name they say no kind
LEADS_ON = frozenset({"airbrush", "paint", "paints", "farbe", "acrylic", "water", "based", "coat", "matt", "gloss"})
INTERFERENCE = frozenset({"interference", "interferenz", "flip", "ghost", "hilite", "highlight"})
NEAR_WHITE_DEG = ((0, 12, 5), (60, 22, 60), (95, 30, 100), (150, 9, 115), (195, 7, 170), (255, 4, 240), (320, 10, 310))
BROWN_L, BROWN_DEG = 60.0, (25.0, 100.0)  # no interference is brown
DAY_L, DARK_L = 92.0, 84.0  # of a powder's body, and of what it shines


@dataclass(frozen=True, eq=False)
class Named:
    """What a name says."""

    kind: str
    lab: Floats | None  # (3,); head-on over black of what flakes, by day of what glows; None where nothing says one
    colour_from: ColourFrom
    words: tuple[str, ...] = ()  # that said the colour
    pigment: str = ""
    glows: Floats | None = None  # (3,) in the dark
    turns_to: Floats | None = None  # (3,) at the flop, of a colour-shift
    mica: Mica | None = None
    asks: bool = False  # the name leaves open which mica it is
    unknown: str = ""  # the phrase of a name without a colour that a bench may learn


def named(text: str, own: Own | None = None) -> Named:
    """What a line without its size says, its name first; `own` are phrases that a bench has learned."""
    bare = HEX.sub(" ", text)
    pigment = _pigment(text)
    name = next((piece for piece in PIECE.split(bare) if piece.strip()), "")
    colours = meant(name, own) or meant(bare, own)
    kind, said = _kind(bare, colours, own)
    if not said and pigment is not None:
        kind = PIGMENTS[pigment][0]
    if not KINDS[kind].colours:
        return Named(kind, None, "none")
    typed = HEX.search(text)
    lab = hex_to_lab(typed[0]) if typed else None
    if kind == "glow":
        return _glowing(bare, lab, own)
    if lab is not None:
        found = Named(kind, lab, "written")
    elif pigment is not None:
        found = Named(kind, np.array(PIGMENTS[pigment][1], dtype=np.float64), "pigment", pigment=f"P{pigment}")
    elif kind == "shift":
        found = _turning(bare, own)
    elif colours is not None and not (kind == "primer" and {one.casefold() for one in colours.words} <= STUFFS):
        found = Named(kind, _in_kind(kind, colours, own), "words", colours.words)
    elif kind in OF_KIND:
        found = Named(kind, _lch(OF_KIND[kind]), "kind")
    else:
        return Named(kind, None, "none", unknown=_to_learn(bare))
    return _of_mica(found, bare, colours) if kind == "pearl" else found


def of_mica(name: str, own: Own | None = None) -> Mica | None:
    """Which mica the words of a pearl's name say; None where they say none, or that it is another kind of paint."""
    found = named(HEX.sub(" ", name), own)
    return found.mica if found.kind == "pearl" and found.colour_from == "words" else None


def _lch(values: Sequence[float]) -> Floats:
    return from_lch(np.array(values, dtype=np.float64))


def _pigment(text: str) -> str | None:
    """The first pigment that is known."""
    for found in PIGMENT.finditer(text):
        written = found[1].lower()
        letters = next(one for one in ("W", "Bk", "Br", "B", "G", "R", "V", "O", "Y") if one.lower() == written)
        for key in (f"{letters}{found[2]}:{found[3]}", f"{letters}{found[2]}"):
            if key in PIGMENTS:
                return key
    return None


@cache
def _heard() -> Mapping[str, str]:
    """Phrase that says a kind -> the kind."""
    found = {}
    for kind in sorted(KINDS.values(), key=lambda kind: kind.decides):
        for phrase in (*kind.heard, *filter(None, kind.other_tongues.split("|"))):
            if phrase not in NOT_HEARD and kind.colours:
                found[plain(phrase)] = kind.key
    return found


@cache
def _colourless() -> Mapping[str, str]:
    return {plain(one): kind for kind, phrases in COLOURLESS.items() for one in phrases.split("|")}


def _phrases(words: Sequence[str], known: Mapping[str, str]) -> Iterator[tuple[int, str, str]]:
    """Where phrases that are known end among the words, the longest first, and what they say."""
    for many in (4, 3, 2, 1):
        for at in range(len(words) - many + 1):
            phrase = " ".join(words[at : at + many])
            if phrase in known:
                yield at + many, phrase, known[phrase]


def _kind(bare: str, colours: Meant | None, own: Own | None) -> tuple[str, bool]:
    """The kind, and whether words say it."""
    name, *rest = [piece for piece in PIECE.split(bare) if piece.strip()] or [""]
    for piece in rest:  # ", opaque" after the name goes before all that the name may say
        alone = _heard().get(plain(piece)) or ("" if meant(name, own) else _colourless().get(plain(piece)))
        if alone:
            return alone, True
    words = plain(name).split()
    for end, phrase, kind in _phrases(words, _colourless()):
        coloured = meant(" ".join(words[end:]) if phrase not in ENDS_ON else name, own) is not None
        if phrase in ALWAYS_COLOURLESS or not coloured:
            return kind, True
    heard = [kind for _, _, kind in _phrases(plain(bare).split(), _heard())]
    heard += [kind for word in words for kind in _within(word)]
    if "flip" in words and len(each_meant(name, own)) < 2 and "shift" in heard and "flop" not in words:
        heard = ["pearl" if kind == "shift" else kind for kind in heard]
    if heard:
        return max(heard, key=lambda kind: KINDS[kind].decides), True
    if colours is not None and colours.metal:
        return "metallic", True
    if {"clear", "klar"} & set(words):
        return "transparent", True
    return "opaque", False


def _within(word: str) -> Iterator[str]:
    """Kinds that German writes into one word: neongelb, perlweiss."""
    for begins, kind in (
        ("neon", "fluorescent"),
        ("leucht", "fluorescent"),
        ("perl", "pearl"),
        ("nachleucht", "glow"),
        ("metallic", "metallic"),
        ("lasur", "transparent"),
    ):
        if word != begins and word.startswith(begins) and word != "leuchtend" and not word.startswith("leuchtend"):
            yield kind


def _in_kind(kind: str, colours: Meant, own: Own | None) -> Floats:
    """A colour as its kind has it: what glows by day is brighter than its pigment alone."""
    if kind != "fluorescent" or any(plain(word).startswith(("neon", "leucht")) for word in colours.words):
        return colours.lab
    bright = meant("neon " + " ".join(colours.words), own)
    return colours.lab if bright is None else bright.lab


def _turning(bare: str, own: Own | None) -> Named:
    each = each_meant(bare, own)
    if not each:
        return Named("shift", None, "none")
    words = tuple(word for one in each for word in one.words)
    if len(each) == 1 and len(each[0].words) > 1:
        # "violet green": each word a colour of its own
        singles = [one for one in (meant(word, own) for word in each[0].words) if one is not None]
        each = singles if len(singles) > 1 else each
    return Named("shift", each[0].lab, "words", words, turns_to=each[1].lab if len(each) > 1 else None)


def _glowing(bare: str, written: Floats | None, own: Own | None) -> Named:
    """Glow has two colours: "glow blue" shines blue and is near white by day; "orange, glows green" says both."""
    bare = re.sub(r"\b(?:powder|pulver|pigment)\b", " ", bare, flags=re.I)
    by_day = re.search(r"(.*)\b(?:by day|daylight|bei tag|am tag|tags)\b", bare, re.I)
    dark = re.search(r"\b(?:glows?|glowing|leuchtet|glow in the dark)\b(.*)", bare, re.I)
    each = [one for piece in PIECE.split(bare) for one in each_meant(piece, own)]
    day = meant(by_day[1], own) if by_day else None
    shines = meant(dark[1].split("by day")[0], own) if dark else None
    if day is not None and shines is None:
        others = [one for one in each if one.words != day.words]
        shines = others[0] if others else None
    elif day is None and shines is not None and dark and not by_day:
        day = meant(bare[: dark.start()], own)
    if shines is None and each:
        shines = each[-1]
        day = each[0] if len(each) > 1 and day is None else day
    glows = _lch((DARK_L, 60, 150)) if shines is None else _shining(shines.lab)
    if written is not None:
        return Named("glow", written, "written", glows=glows)
    if day is not None and day is not shines:
        return Named("glow", day.lab, "words", (*day.words, *(shines.words if shines else ())), glows=glows)
    if shines is None:
        return Named("glow", _lch(OF_KIND["glow"]), "kind", glows=glows)
    return Named("glow", _body(shines.lab), "words", shines.words, glows=glows)


def _shining(lab: Floats) -> Floats:
    """What shines in a hue is light in the dark, however dark the word is by day; painters' blue is a sky blue then."""
    _, chroma, hue = lch(lab).tolist()
    if chroma < 12:
        return _lch((DARK_L, 60, 150))
    return _lch((DARK_L if not 240 < hue < 330 else 74, 60, 262 if 262 < hue < 297 else hue))


def _body(shines: Floats) -> Floats:
    hue = float(lch(shines)[2])
    near = min(NEAR_WHITE_DEG, key=lambda one: abs((one[0] - hue + 180) % 360 - 180))
    return _lch((DAY_L, near[1], near[2]))


def _of_mica(found: Named, bare: str, colours: Meant | None) -> Named:
    """A bare metal's pearl is coloured mica, and so is what no interference can be."""
    words = set(plain(bare).split())
    assert found.lab is not None
    lightness, chroma, hue = lch(found.lab).tolist()
    if words & INTERFERENCE:
        return replace(found, mica="interference")
    if chroma < 8 and lightness > 80:
        return replace(found, mica="interference")  # white mica, whose interference is white
    browns = lightness < BROWN_L and BROWN_DEG[0] < hue < BROWN_DEG[1]
    if (colours is not None and colours.metal) or lightness < 32 or chroma < 12 or browns:
        return replace(found, mica="coloured")
    return replace(found, mica="interference", asks=True)


def _to_learn(bare: str) -> str:
    """The name without the words that are known already: what a bench may learn."""
    name = next((piece for piece in PIECE.split(bare) if piece.strip()), "")
    known = {plain(word) for word in known_words(name)} | LEADS_ON | set(_heard()) | set(_colourless())
    left = [word for word in plain(name).split() if word not in known]
    return " ".join(left[:4])
