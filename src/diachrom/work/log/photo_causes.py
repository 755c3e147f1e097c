"""What would explain that a finished bait's photo differs from its picture, and what the hand learns of it."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from diachrom.core.bait import zones
from diachrom.core.bait.explained import LIGHT, Explanation, explanations
from diachrom.core.bait.plan import WHATS, Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.screen import linear_to_lab
from diachrom.core.session.sides import zones_in
from diachrom.errors import InvalidInput
from diachrom.exchange import photos
from diachrom.store import hand_factor, session_photos
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.log.photo_beside import Bait, PhotoBeside, beside, side_of
from diachrom.work.plan import pictures
from diachrom.work.plan.painting import laid

TRIED_WIDTH = 200  # pixels of the pictures in which causes are tried
THICKER, THINNER = 1.3, 1 / 1.3
BIGGER, SMALLER = 1.25, 0.8  # of a bottle's drop
MOST_LAYERS, MOST_CUPS, MOST_TOLD = 12, 4, 3
WEIGHT = 0.3  # of what a spray-out card teaches


@dataclass(frozen=True)
class Cause:
    """What would explain it."""

    key: str
    words: str
    share: float  # of the difference that it explains
    hand: float = 0.0  # what the hand would be believed to be, 0 where nothing is learned


def explained(connection: sqlite3.Connection, found: PhotoBeside) -> Sequence[Cause]:
    """What would explain a difference that is seen, the likeliest first; nothing where there is none."""
    if found.seen_off is None or found.zones[0].same:
        return []
    bait, meant, seen, inside = found.seen_off
    return _causes(connection, bait, side_of(found.own), (meant, seen), inside)


def _causes(
    connection: sqlite3.Connection, bait: Bait, side: str, pair: tuple[Floats, Floats], inside: Bools
) -> list[Cause]:
    """Each cause is tried in a small picture; what it does there is laid beside what the photo shows. `pair` is the
    picture and the photo."""
    meant, seen = pair
    named = zones_in(inside)
    off = {words: _lab(seen, zone) - _lab(meant, zone) for words, zone in named.items()}
    tries = _tries(connection, bait)
    small = [_small(connection, one, side) for one in (bait, *tries.values())]
    outline = bait.plan.blank.form.outline
    own = zones_in(zones.silhouette(outline, small[0].shape[:2], photos.MARGIN))
    shared = [words for words in own if words in off]
    if not shared:
        return []
    base, *others = [np.array([_lab(one, own[words]) for words in shared]) for one in small]
    found = explanations(
        np.array([off[words] for words in shared]),
        np.array([float(named[words].sum()) for words in shared]),
        {key: other - base for key, other in zip(tries, others, strict=True)},
    )
    now = hand_factor.now(connection)
    names = {one.layer.number: one.layer.name or one.words for one in laid(connection, bait.plan.layers)}
    return [_cause(connection, one, bait, names, now) for one in found[:MOST_TOLD]]


def _lab(picture: Floats, zone: Bools) -> Floats:
    return np.asarray(linear_to_lab(picture[zone].mean(axis=0)))


def _small(connection: sqlite3.Connection, bait: Bait, side: str) -> Floats:
    return pictures.seen_side(
        connection, bait.plan, side=side, high=bait.high, width=TRIED_WIDTH, cells=ROUGH, instead=bait.instead
    )


def _sprayed(plan: Plan) -> list[Layer]:
    own = [one for one in plan.layers if one.on and WHATS[one.what].paint and one.what != "clear"]
    return own[-MOST_LAYERS:]


def _tries(connection: sqlite3.Connection, bait: Bait) -> Mapping[str, Bait]:
    """A step of each cause: "film 3 +", "hand -", "drop 12 +", "clear"."""
    found: dict[str, Bait] = {}

    def film(numbers: set[int], times: float) -> Bait:
        layers = tuple(
            replace(one, film_um=one.film_um * times) if one.number in numbers else one for one in bait.plan.layers
        )
        return replace(bait, plan=replace(bait.plan, layers=layers))

    sprayed = _sprayed(bait.plan)
    clears = [one for one in bait.plan.layers if one.what == "clear" and one.on]
    for sign, times in (("+", THICKER), ("-", THINNER)):
        for one in (*sprayed, *clears):
            found[f"film {one.number} {sign}"] = film({one.number}, times)
        if len(sprayed) > 1:
            found[f"hand {sign}"] = film({one.number for one in sprayed}, times)
    mixed = {one.layer.source: one for one in laid(connection, bait.plan.layers, bait.instead) if one.held is not None}
    for source, own in list(mixed.items())[-MOST_CUPS:]:
        if own.held is None or source in bait.instead:
            continue
        parts = [part for part in own.held.draft.parts if part.drops]
        for sign, times in (("+", BIGGER), ("-", SMALLER)):
            for part in parts if len(parts) > 1 else ():
                ml = [
                    (
                        own.held.shelf[one.bottle].paint,
                        one.drops * one.drop_ml * (times if one.bottle == part.bottle else 1.0),
                    )
                    for one in parts
                ]
                whole = sum(volume for _, volume in ml)
                shares = [(paint, volume / whole) for paint, volume in ml]
                found[f"drop {part.bottle} {sign}"] = replace(bait, instead={**bait.instead, source: shares})
    if clears:
        bare = bait.plan
        for one in clears:
            bare = bare.changed(one.number, partial(replace, on=False))
        found["clear"] = replace(bait, plan=bare)
    return found


def _cause(
    connection: sqlite3.Connection, one: Explanation, bait: Bait, names: Mapping[int, str], hand: float
) -> Cause:
    kind, *more = one.key.split()
    sign = 1 if more and more[-1] == "+" else -1
    share = max(0.0, 1 - one.left)
    if kind == LIGHT:
        return Cause(one.key, say("The light: everything is off alike, as when the grey patch was tinted."), share)
    if kind == "clear":
        return Cause(one.key, say("The clear coat is missing, or dull."), share)
    if kind == "drop":
        bottle = int(more[0])
        name = next(
            row.held.shelf[bottle].bottle.full_name
            for row in laid(connection, bait.plan.layers)
            if row.held is not None and bottle in row.held.shelf
        )
        times = quantity((BIGGER if sign > 0 else SMALLER) ** one.times, ".2f")
        words = say("{name} drips drops {times} times as large as is known: weigh them.", name=name, times=times)
        return Cause(one.key, words, share)
    times = THICKER ** (sign * one.times)
    told = quantity(times, ".2f")
    if kind == "hand":
        learned = _believed(hand * times**WEIGHT)
        return Cause(one.key, say("All of it was sprayed {told} times as thick as planned.", told=told), share, learned)
    layer = bait.plan.layer(int(more[0]))
    words = say(
        "{name}, {where}, came out {told} times as thick as planned.",
        name=names.get(layer.number, ""),
        where=REGIONS[layer.region].words,
        told=told,
    )
    learned = hand * times ** (WEIGHT / max(len(_sprayed(bait.plan)), 1))
    if layer.what == "clear":
        return Cause(one.key, words, share)
    return Cause(one.key, words, share, _believed(learned))


def _believed(hand: float) -> float:
    return min(max(hand, hand_factor.THINNEST), hand_factor.HEAVIEST)


def hand(connection: sqlite3.Connection) -> float:
    """How many times as thick as meant coats are believed to come out."""
    return hand_factor.now(connection)


def learn(connection: sqlite3.Connection, entry: int, photo: int, key: str, *, at: str) -> float:
    """The hand is believed to be what a cause says, with less weight than a card has; a photo teaches once. Raises
    InvalidInput, NotFound."""
    marks = session_photos.beside(connection, entry, photo).marks
    if marks is not None and marks.taught:
        raise InvalidInput(say("This photo has taught your hand already: take it back first."), field="photo")
    causes = explained(connection, beside(connection, entry, photo))
    found = next((one for one in causes if one.key == key), None)
    if marks is None or found is None or not found.hand:
        raise InvalidInput(say("Nothing is to be learned from that: choose one of the causes."), field="cause")
    with writing(connection):
        before = hand_factor.now(connection)
        hand_factor.set_to(connection, found.hand, at=at)
        session_photos.mark_beside(connection, photo, replace(marks, taught=(before, found.hand)))
    return found.hand


def take_back(connection: sqlite3.Connection, entry: int, photo: int, *, at: str) -> None:
    """What a photo taught; what was learned since stays. Raises InvalidInput, NotFound."""
    marks = session_photos.beside(connection, entry, photo).marks
    if marks is None or not marks.taught:
        raise InvalidInput(say("This photo has taught nothing."), field="photo")
    before, after = marks.taught
    with writing(connection):
        hand_factor.set_to(connection, _believed(hand_factor.now(connection) * before / after), at=at)
        session_photos.mark_beside(connection, photo, replace(marks, taught=None))
