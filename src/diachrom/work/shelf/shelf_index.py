"""Finding bottles: one box over names, kinds, places, notes, colour words and hex values, and filters that combine.

What a search looks at is read once and kept until the shelf changes: two thousand bottles are found as fast as fifty.
"""

import sqlite3
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import GUESSED
from diachrom.core.light.bands import Floats
from diachrom.core.light.colour_words import WORD, Own, meant
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.core.light.names import name
from diachrom.core.light.screen import hex_to_lab, shown
from diachrom.core.mix.cup import USUAL_DROP_ML
from diachrom.store import bottles, paints, revisions
from diachrom.store.bottles import Bottle
from diachrom.store.connection import file_of
from diachrom.store.paints import Newest
from diachrom.words import say, say_as
from diachrom.work.kit.colour_words import own
from diachrom.work.kit.looks import look

NEARLY_GONE = 0.12  # of the bottle
GREYS_LAST = 8.0  # chroma below which a paint has no place on the hue circle
SHELVES_KEPT = 4
NO_PROFILE = Newest(1.0, None)
COLOURLESS = {key for key, kind in KINDS.items() if not kind.colours}


# A bottle's states as they are told.
STATE_WORDS = {
    "sealed": say_as("bottle", "sealed"),
    "open": say("open"),
    "settled": say("settled"),
    "thick": say("thick"),
    "nearly gone": say("nearly gone"),
    "empty": say("empty"),
    "unreadable label": say("unreadable label"),
}


WATER = "water"  # the id of a paint that is always there


def condition(bottle: Bottle) -> str:
    """What a painter should know before reaching for it, "" when there is nothing to say."""
    if bottle.paint_id == WATER:
        return ""
    if bottle.left_ml <= 0 or bottle.state == "empty":
        return STATE_WORDS["empty"]
    if bottle.left_ml < NEARLY_GONE * bottle.size_ml or bottle.state == "nearly gone":
        return STATE_WORDS["nearly gone"]
    return "" if bottle.state == "open" else STATE_WORDS.get(bottle.state, bottle.state)


@dataclass(frozen=True, eq=False)
class Indexed:
    """A bottle as a search looks at it."""

    bottle: Bottle
    text: str
    names: tuple[str, ...]
    condition: str
    guess: bool


@dataclass(frozen=True, eq=False)
class Index:
    """The whole shelf as a search looks at it."""

    rows: Sequence[Indexed]
    labs: Floats  # (row, 3); NaN for what has no colour
    kinds: Sequence[str]  # that stand on the shelf, in the table's order
    places: Sequence[str]
    known: dict[tuple[object, ...], Indexed]  # by what stands in the store
    orders: dict[str, Sequence[int]] = field(default_factory=dict)  # those that were asked for

    def order(self, key: str) -> Sequence[int]:
        """Every row in one of ORDERS, sorted once."""
        if key not in self.orders:
            sort = ORDERS[key]
            self.orders[key] = sorted(range(len(self.rows)), key=lambda at: sort(self, at))
        return self.orders[key]

    @cached_property
    def to_pour(self) -> Sequence[int]:
        """The row of one bottle of every paint that is not used up: an open one first, then the fullest."""
        best: dict[str, int] = {}
        for at, row in enumerate(self.rows):
            if row.condition == "empty":
                continue
            known = best.get(row.bottle.paint_id)
            if known is None or _at_hand(row.bottle) > _at_hand(self.rows[known].bottle):
                best[row.bottle.paint_id] = at
        return list(best.values())

    @cached_property
    def guesses(self) -> int:
        """Bottles whose colour is a guess."""
        return sum(row.guess for row in self.rows)

    @cached_property
    def uncounted(self) -> Sequence[Bottle]:
        """Bottles whose drop is only taken to be the usual one."""
        return [row.bottle for row in self.rows if row.bottle.drop_ml == USUAL_DROP_ML]

    @cached_property
    def doubles(self) -> Sequence[tuple[Bottle, Bottle]]:
        """Paints that look like the same one written twice: their names differ in case, spaces or marks only."""
        first: dict[str, Bottle] = {}
        found: dict[str, tuple[Bottle, Bottle]] = {}
        for row in self.rows:
            name = "".join(character for character in row.bottle.full_name.casefold() if character.isalnum())
            known = first.setdefault(name, row.bottle)
            if known.paint_id != row.bottle.paint_id:
                found.setdefault(row.bottle.paint_id, (known, row.bottle))
        return list(found.values())


def _at_hand(bottle: Bottle) -> tuple[bool, float]:
    return bottle.state == "open", bottle.left_ml


@dataclass(frozen=True)
class WantedBottles:
    """What is looked for. Filters combine; empty ones let everything pass."""

    query: str = ""
    kinds: tuple[str, ...] = ()
    place: str = ""
    low: bool = False
    gone: bool = False  # those that were taken off the shelf, instead of those that stand there
    measured: str = ""  # "yes" or "no"
    order: str = ""  # of ORDERS

    @property
    def filters(self) -> bool:
        """Whether any filter is set."""
        return bool(self.kinds or self.place or self.low or self.measured)


@dataclass(frozen=True, eq=False)
class FoundBottles:
    """The bottles that match, in order; with a colour asked for, how far each lies from it."""

    rows: Sequence[Indexed]
    colour: Floats | None
    colour_words: str
    distances: Sequence[float] = field(default=())


_kept: dict[str, tuple[tuple[int, ...], Index]] = {}
_lock = threading.Lock()


def index(connection: sqlite3.Connection) -> Index:
    """The shelf's index, from memory while the shelf is as it was."""
    where = file_of(connection)
    now = revisions.of(connection, "profiles", "bottles", "stock")
    known = _kept.get(where)
    if known is not None and known[0] == now:
        return known[1]
    made = _index(connection, known[1].known if known else {})
    with _lock:
        while len(_kept) >= SHELVES_KEPT:
            _kept.pop(next(iter(_kept)))
        _kept[where] = (now, made)
    return made


def _index(connection: sqlite3.Connection, before: dict[tuple[object, ...], Indexed]) -> Index:
    """Read the shelf again; what stands there as before is not made anew."""
    newest = paints.newest(connection)
    raw = bottles.every_row(connection)
    labs = np.full((len(raw), 3), np.nan)
    known, found = {}, []
    for at, row in enumerate(raw):
        profile = newest.get(row["paint_id"], NO_PROFILE)
        guess = profile.uncertainty >= GUESSED
        key = (*row, guess)
        one = before.get(key) or _indexed(bottles.bottle_of(row), guess=guess)
        known[key] = one
        found.append(one)
        if one.bottle.kind not in COLOURLESS:
            labs[at] = _colour(connection, row["paint_id"]) if profile.lab is None else profile.lab
    present = {row.bottle.kind for row in found}
    places = sorted({row.bottle.place for row in found if row.bottle.place})
    return Index(found, labs, [key for key in KINDS if key in present], places, known)


def _colour(connection: sqlite3.Connection, paint_id: str) -> Floats:
    """Of a profile that was saved without its colour."""
    bead = look(paints.profile(connection, paint_id)).bead
    return np.full(3, np.nan) if bead is None else bead.lab


def _indexed(row: Bottle, *, guess: bool) -> Indexed:
    now = condition(row)
    marks = ["discontinued"] * row.discontinued + [say("a guess")] * guess
    words = [row.full_name, KINDS[row.kind].words, row.kind, now, row.state, row.place, row.batch, row.paint_note]
    text = " ".join([*words, row.note, row.paint_id, *marks]).casefold()
    return Indexed(row, text, tuple(row.full_name.casefold().split()), now, guess)


def find(connection: sqlite3.Connection, wanted: WantedBottles) -> FoundBottles:
    """The bottles that match every word and filter: best first, nearest in colour first, or in the order asked for."""
    whole = _gone(connection) if wanted.gone else index(connection)
    words, colour, said = _read(wanted.query, whole, own(connection))
    order = whole.order(wanted.order) if wanted.order in ORDERS else range(len(whole.rows))
    places = [at for at in order if _passes(whole.rows[at], wanted)] if wanted.filters else list(order)
    for word in words:
        places = [place for place in places if word in whole.rows[place].text]
    if colour is not None:
        coloured = [at for at in places if not np.isnan(whole.labs[at, 0])]
        if not coloured:
            return FoundBottles([], colour, said)
        far = delta_e(whole.labs[coloured], colour)
        nearness_order = np.argsort(far, kind="stable")
        return FoundBottles(
            [whole.rows[coloured[at]] for at in nearness_order], colour, said, far[nearness_order].tolist()
        )
    if words:
        places.sort(key=lambda at: _rank(whole.rows[at], words))
    return FoundBottles([whole.rows[at] for at in places], None, "")


def _gone(connection: sqlite3.Connection) -> Index:
    """What was taken off the shelf; few ask for it, so nothing is kept."""
    away = [row for row in bottles.every(connection, retired_too=True) if row.retired]
    newest = paints.newest(connection)
    newests = [newest.get(row.paint_id, NO_PROFILE) for row in away]
    labs = np.array([one.lab or (np.nan,) * 3 for one in newests]).reshape(-1, 3)
    rows = [_indexed(row, guess=one.uncertainty >= GUESSED) for row, one in zip(away, newests, strict=True)]
    return Index(rows, labs, (), (), {})


def _passes(row: Indexed, wanted: WantedBottles) -> bool:
    if wanted.kinds and row.bottle.kind not in wanted.kinds:
        return False
    if wanted.place and row.bottle.place != wanted.place:
        return False
    if wanted.low and row.condition not in ("nearly gone", "empty"):
        return False
    return not wanted.measured or (wanted.measured == "no") == row.guess


def _rank(row: Indexed, words: Sequence[str]) -> int:
    """0 when each word begins a word of the name, 1 when one is found elsewhere."""
    return 0 if all(any(part.startswith(word) for part in row.names) for word in words) else 1


def _read(query: str, whole: Index, learned: Own) -> tuple[list[str], Floats | None, str]:
    """The words to find, and the colour that is asked for beside them, if one is.

    A word is only taken for a colour when no bottle has it among its own words: what is called so comes first.
    """
    words = query.casefold().split()
    for word in words:
        value = hex_to_lab(word) if word.startswith("#") or any(digit.isdecimal() for digit in word) else None
        if value is not None:
            return [other for other in words if other != word], value, f"{word}, {name(value)}"
    said = None if any(all(word in row.text for word in words) for row in whole.rows) else meant(query, learned)
    if said is None:
        return words, None, ""
    told = {word.casefold() for word in said.words}
    rest = [word for word in words if not any(part in told for part in WORD.findall(word))]
    return rest, said.lab, " ".join(said.words).casefold()


def _hue(whole: Index, at: int) -> tuple[float, ...]:
    """Round the hue circle from red on, the greys last, from light to dark."""
    if np.isnan(whole.labs[at, 0]):
        return (3.0, 0.0, 0.0)
    lightness, chroma, hue = lch(whole.labs[at]).tolist()
    if chroma < GREYS_LAST:
        return (2.0, -lightness, 0.0)
    return (1.0, (hue + 15) % 360 // 12, -lightness)


def _kind(whole: Index, at: int) -> tuple[float, ...]:
    return (float(list(KINDS).index(whole.rows[at].bottle.kind)), *_hue(whole, at))


def _low(whole: Index, at: int) -> tuple[float, ...]:
    bottle = whole.rows[at].bottle
    return (bottle.left_ml / bottle.size_ml,)


def _named(whole: Index, at: int) -> tuple[str, ...]:
    return (whole.rows[at].bottle.full_name.casefold(),)


ORDERS: dict[str, Callable[[Index, int], tuple[float, ...] | tuple[str, ...]]] = {
    "hue": _hue,
    "kind": _kind,
    "low": _low,
    "name": _named,
}


def fill_of(colour: Floats) -> str:
    """A colour that was asked for, as the screen shows it."""
    return shown(colour)[0].srgb
