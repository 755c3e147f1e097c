"""What a painter means by the words of a colour: "burnt umber", "dark olive", "hellblau" -> L*, a*, b*.

Whole phrases of the dictionary come before words, words before parts of words, and then what modifies. Of several
colours the last is the colour, and those before it tinge it: a brown olive is an olive. The dictionary is
`data/colour_words.csv` with `data/colour_modifiers.csv`, a column to a language, and the plainest words of five more
in `data/colour_words_elsewhere.csv`; the figures are this project's own judgement of what paint makers and painters
call so, as a full coat on white.
"""

import csv
import re
import unicodedata
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import from_lch, lch

LANGUAGES = ("english", "german")
ELSEWHERE = ("french", "spanish", "italian", "dutch", "nordic")
LONGEST_PHRASE = 4  # words
SHORTEST_PART = 3  # letters of a part of a word
GREY, TINTED = 8.0, 6.0  # chroma of what has no hue of its own, and with one that it is given
TINGE = 0.35  # of the way from a colour to the one that is named before it
NEON = frozenset(
    {"fluo", "fluor", "fluoro", "fluro", "fluorescent", "flourescent", "dayglow", "dayglo", "fluoreszierend"}
)
WORD = re.compile(r"[^\W\d_]+")
INFLECTED = re.compile(r"(\w*(?:rot|blau|grun|gelb|weiss|schwarz|braun|grau|violett))(?:e|er|es|en|em)")
UMLAUTS = str.maketrans({"ä": "ae", "ö": "oe", "ü": "ue", "ß": "ss"})


@dataclass(frozen=True)
class Modifier:
    """What a word does to a colour."""

    lightness: float  # share of the way to white, or below nothing to black
    chroma: float  # times
    towards: float | None  # degrees of hue
    share: float  # of the way there


@dataclass(frozen=True, eq=False)
class Entry:
    """A colour of the dictionary."""

    lab: Floats  # (3,)
    metal: bool = False
    modifies: Modifier | None = None  # what it does before another colour: moss grey is no moss


@dataclass(frozen=True, eq=False)
class Meant:
    """A colour that words say."""

    lab: Floats  # (3,)
    words: tuple[str, ...]  # that say it, as they were written
    metal: bool  # the colour is that of a bare metal
    first: int  # place of its first word among the words of the text


Own = Mapping[str, Floats]  # phrases that a bench has learned, as `plain` writes them


def plain(text: str) -> str:
    """A phrase as the dictionary compares it: lower case, without marks and apostrophes, one space between words."""
    return " ".join(_plain(word) for word in WORD.findall(text.replace("'", "").replace("’", "")))


def meant(text: str, own: Own | None = None) -> Meant | None:
    """The one colour that a text means; None where it says none."""
    found = _marked(text, own or {})
    places = [at for at, (_, what) in enumerate(found) if isinstance(what, Entry)]
    return _colour(found) if places else None


def each_meant(text: str, own: Own | None = None) -> list[Meant]:
    """Every colour of a text that names several: "violet to green"."""
    told = []
    first = 0
    for piece in re.split(r"\b(?:to|into|and|und|zu|nach|bis|over)\b|[/>→&+-]+", text, flags=re.IGNORECASE):
        one = meant(piece, own)
        if one is not None:
            told.append(Meant(one.lab, one.words, one.metal, first + one.first))
        first += len(WORD.findall(piece))
    return told


def known_words(text: str, own: Own | None = None) -> set[str]:
    """The words of a text that say something about a colour, as they are written."""
    return {word for words, what in _marked(text, own or {}) if what is not None for word in words}


def _plain(word: str) -> str:
    folded = unicodedata.normalize("NFKD", word.casefold())
    bare = "".join(one for one in folded if not unicodedata.combining(one))
    return "neon" if bare in NEON else bare.replace("gray", "grey")


def _rows(name: str) -> list[dict[str, str]]:
    text = (files("diachrom.core.light") / "data" / name).read_text(encoding="utf-8")
    return list(csv.DictReader(text.splitlines()))


def _phrases(row: Mapping[str, str]) -> Iterator[str]:
    """A row's phrases in every language; with a mark or its two letters: gruen is grün."""
    for language in LANGUAGES:
        for phrase in filter(None, row[language].split("/")):
            yield plain(phrase)
            yield plain(phrase.translate(UMLAUTS))


@cache
def entries() -> Mapping[str, Entry]:
    """The dictionary by phrase."""
    found: dict[str, Entry] = {}
    for row in _rows("colour_words.csv"):
        lab = from_lch(np.array([float(row[key]) for key in ("lightness", "chroma", "hue")]))
        for phrase in _phrases(row):
            found.setdefault(phrase, Entry(lab, row["metal"] == "metal", modifiers().get(phrase)))
    for english, phrase in _elsewhere():
        if english in found:
            found.setdefault(phrase, found[english])
    return found


def _elsewhere() -> Iterator[tuple[str, str]]:
    """The plainest words in other languages, each with the English one."""
    for row in _rows("colour_words_elsewhere.csv"):
        for language in ELSEWHERE:
            yield from ((row["english"], plain(phrase)) for phrase in row[language].split("/"))


@cache
def modifiers() -> Mapping[str, Modifier]:
    """What modifies, by word."""
    found: dict[str, Modifier] = {}
    for row in _rows("colour_modifiers.csv"):
        towards = float(row["towards"]) if row["towards"] else None
        one = Modifier(float(row["lightness"]), float(row["chroma"]), towards, float(row["share"] or 0))
        for word in _phrases(row):
            found.setdefault(word, one)
    for english, word in _elsewhere():
        if english in found:
            found.setdefault(word, found[english])
    return found


Marked = tuple[tuple[str, ...], Entry | Modifier | None]


def _marked(text: str, own: Own) -> list[Marked]:
    """The words of a text in groups, each with what it is."""
    written = WORD.findall(text.replace("'", "").replace("’", ""))
    words = list(map(_plain, written))
    found: list[Marked] = []
    end = len(words)
    while end:  # from the end, where English and German have what is meant
        for many in range(min(LONGEST_PHRASE, end), 0, -1):
            phrase = " ".join(words[end - many : end])
            what = Entry(own[phrase]) if phrase in own else entries().get(phrase)
            if what is not None:
                found.append((tuple(written[end - many : end]), what))
                break
        else:
            many = 1
            parts: list[Entry | Modifier | None] = [*reversed(_parts(words[end - 1]))] or [None]
            found.extend(((written[end - 1],), part) for part in parts)
        end -= many
    return found[::-1]


@cache
def _parts(word: str) -> list[Entry | Modifier]:
    """What a word is that is no entry itself: a modifier, a tinge (greenish), or two in one (dunkelgrün)."""
    if word in modifiers():
        return [modifiers()[word]]
    inflected = INFLECTED.fullmatch(word)
    if inflected and inflected[1] in entries():
        return [entries()[inflected[1]]]
    for ending in ("ish", "lich", "liches", "licher", "liche"):
        stem = word.removesuffix(ending)
        if stem != word:
            for tried in (stem, stem + "e", stem[:-1]):
                if tried in entries():
                    return [entries()[tried]]
    for at in range(len(word) - SHORTEST_PART, SHORTEST_PART - 1, -1):
        if word[at:] in entries():
            first = _parts(word[:at]) if word[:at] not in entries() else [entries()[word[:at]]]
            if first:
                return [*first, entries()[word[at:]]]
    return []


def _colour(found: list[Marked]) -> Meant:
    last = max(at for at, (_, what) in enumerate(found) if isinstance(what, Entry))
    head = found[last][1]
    assert isinstance(head, Entry)
    lab, changes = head.lab, []
    for at, (_, what) in enumerate(found):
        if isinstance(what, Modifier):
            changes.append(what)
        elif at < last and what is not None and what.modifies is not None:
            changes.append(what.modifies)
        elif at < last and what is not None and not what.metal:
            lab = lab + TINGE * (what.lab - lab)
    for change in changes:
        lab = _modified(lab, change)
    said = tuple(dict.fromkeys(word for words, what in found if what is not None for word in words))
    return Meant(lab, said, head.metal, sum(len(words) for words, _ in found[:last]))


def _modified(lab: Floats, how: Modifier) -> Floats:
    lightness, chroma, hue = lch(lab).tolist()
    lightness += how.lightness * (97 - lightness if how.lightness > 0 else lightness)
    chroma *= how.chroma
    if how.towards is not None:
        if chroma < GREY:
            return from_lch(np.array([lightness, TINTED, how.towards]))
        hue += how.share * ((how.towards - hue + 180) % 360 - 180)
    return from_lch(np.array([lightness, chroma, hue]))
