"""The finished bait's photo beside its picture: zone by zone what differs, what would explain it, and what the hand
learns of it."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from diachrom.core.bait import zones
from diachrom.core.bait.explained import LIGHT, Explanation, explanations
from diachrom.core.bait.plan import WHATS, Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.surface import FULL, ROUGH
from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.screen import encode, linear_to_lab, to_linear
from diachrom.core.session.script import LEFT, RIGHT
from diachrom.core.session.sides import Apart, compared, zones_in
from diachrom.errors import DiachromError, InvalidInput
from diachrom.exchange import images, photos
from diachrom.exchange.marks import Picture
from diachrom.store import hand_factor, log, plans, session_photos, uploads
from diachrom.store.connection import writing
from diachrom.store.session_photos import Marks, SidePhoto
from diachrom.store.uploads import Photo
from diachrom.words import capitalized, quantity, say
from diachrom.work.log.came_out import came_out
from diachrom.work.plan import pictures
from diachrom.work.plan.painting import NOTHING, Instead, laid

AROUND = 0.10  # lengths, above and below the blank's outline
TRIED_WIDTH = 200  # pixels of the pictures in which causes are tried
THICKER, THINNER = 1.3, 1 / 1.3
BIGGER, SMALLER = 1.25, 0.8  # of a bottle's drop
MOST_LAYERS, MOST_CUPS, MOST_TOLD = 12, 4, 3
WEIGHT = 0.3  # of what a spray-out card teaches
OTHER_BAIT_DE = 15.0  # in the median of its zones: 1.6 times the film everywhere comes to 12, other baits to 10 to 45
GROUND_DE = 7.0  # what is as near to what lies around it is the ground
HALF, WHOLE = 0.75, 0.35  # of an end that is ground, where only half of a bait is there; of the other end at most
SHOWN = 6
CALM, RIM = 2, 3  # pixels
GROUND = 0.4  # linear light around the picture


@dataclass(frozen=True)
class Cause:
    """What would explain it."""

    key: str
    words: str
    share: float  # of the difference that it explains
    hand: float = 0.0  # what the hand would be believed to be, 0 where nothing is learned


@dataclass(frozen=True, eq=False)
class PhotoBeside:
    """A photo of an entry beside its picture."""

    own: SidePhoto
    photo: Photo
    proposed: Marks | None  # where a bait was found, before anybody touched it
    zones: Sequence[Apart] = ()
    told: Sequence[str] = ()
    problem: str = ""
    seen_off: "tuple[_Bait, Floats, Floats, Bools] | None" = (
        None  # the bait, its picture, the photo, what of it is bait
    )


@dataclass(frozen=True, eq=False)
class _Bait:
    plan: Plan
    instead: Instead
    high: float  # of its straightened photo, lengths


def _bait(connection: sqlite3.Connection, entry: int) -> _Bait:
    """As it came out; as it was planned where nothing else is known. Raises InvalidInput, NotFound."""
    own = log.entry(connection, entry)
    if own.plan is None or own.version is None:
        raise InvalidInput(say("This entry has no plan: there is no picture to lay beside its photo."), field="plan")
    came = came_out(connection, own)
    plan = plans.version(connection, own.plan, own.version).document if came is None else came.plan
    upper, lower, _ = plan.blank.form.outline.edges(np.linspace(0, 1, 41))
    high = 2 * float(max(upper.max(), -lower.min()) + AROUND)
    return _Bait(plan, NOTHING if came is None else came.instead, high)


def _side(own: SidePhoto) -> str:
    return RIGHT if own.side == RIGHT else LEFT


def beside(connection: sqlite3.Connection, entry: int, photo: int) -> PhotoBeside:
    """What a photo tells; where it was not marked yet, where a bait was found in it. Raises InvalidInput, NotFound."""
    own, kept = session_photos.beside(connection, entry, photo), uploads.photo(connection, photo)
    if own.marks is None:
        return PhotoBeside(own, kept, _proposed(connection, entry, own, kept))
    bait = _bait(connection, entry)
    try:
        encoded, seen = _photographed(own, kept, bait, own.marks)
        inside = zones.silhouette(bait.plan.blank.form.outline, seen.shape[:2], photos.MARGIN)
        _check_whole(encoded, inside)
        meant, seen = (_calm(one, inside) for one in (_drawn(connection, bait, _side(own)), seen))
        inside = _inner(inside)
        found = compared(meant, seen, inside)
        if not found:
            raise InvalidInput(say("The bait is too slender in this photo to tell its zones."), field="photo")
        if np.median([one.delta_e for one in found]) > OTHER_BAIT_DE:
            raise InvalidInput(
                say("Nothing in it looks like this bait: is it another one, or are its places touched wrongly?"),
                field="photo",
            )
    except DiachromError as error:
        return PhotoBeside(own, kept, None, problem=str(error))
    return PhotoBeside(own, kept, None, found, _in_words(found), seen_off=(bait, meant, seen, inside))


def explained(connection: sqlite3.Connection, found: PhotoBeside) -> Sequence[Cause]:
    """What would explain a difference that is seen, the likeliest first; nothing where there is none."""
    if found.seen_off is None or found.zones[0].same:
        return []
    bait, meant, seen, inside = found.seen_off
    return _causes(connection, bait, _side(found.own), (meant, seen), inside)


def _photographed(own: SidePhoto, kept: Photo, bait: _Bait, marks: Marks) -> tuple[Picture, Floats]:
    ends = (marks.nose, marks.tail)
    return photos.side(kept.picture, ends, marks.grey, bait.high, mirrored=_side(own) == RIGHT)


def _drawn(connection: sqlite3.Connection, bait: _Bait, side: str, cells: tuple[int, int] = FULL) -> Floats:
    return pictures.seen_side(
        connection, bait.plan, side=side, high=bait.high, width=photos.STRAIGHT_WIDTH, cells=cells, instead=bait.instead
    )


def _check_whole(encoded: Picture, inside: Bools) -> None:
    """Raises InvalidInput where the photo shows ground at one end of the bait."""
    lab = photos.lab_of(encoded)
    ground = np.median(lab[~inside].reshape(-1, 3), axis=0)
    is_ground = (np.linalg.norm(lab - ground, axis=-1) < GROUND_DE) & inside
    middle = inside.shape[1] // 2
    front, back = (
        float(is_ground[:, half].sum() / max(inside[:, half].sum(), 1))
        for half in (slice(None, middle), slice(middle, None))
    )
    if min(front, back) > HALF:
        raise InvalidInput(
            say("Between these two places the photo shows no bait: touch its nose and its tail."), field="photo"
        )
    if max(front, back) > HALF and min(front, back) < WHOLE:
        raise InvalidInput(
            say("Only half of the bait lies between these places: take a photo of all of it, or touch them again."),
            field="photo",
        )


def _proposed(connection: sqlite3.Connection, entry: int, own: SidePhoto, kept: Photo) -> Marks | None:
    """Where a bait and a grey patch were found; its nose where the picture fits better."""
    found = photos.found_bait(kept.picture)
    if found is None or found.grey is None:
        return None
    try:
        bait = _bait(connection, entry)
        meant = _drawn(connection, bait, _side(own), ROUGH)  # enough to tell its head from its tail
        tried = []
        for nose, tail in (found.ends, found.ends[::-1]):
            marks = Marks(found.grey, nose, tail)
            _, seen = _photographed(own, kept, bait, marks)
            inside = zones.silhouette(bait.plan.blank.form.outline, seen.shape[:2], photos.MARGIN)
            off = np.mean([one.delta_e for one in compared(meant, seen, inside)])
            tried.append((float(off), marks))
    except DiachromError:
        return None
    return min(tried, key=lambda one: one[0])[1]


def mark(connection: sqlite3.Connection, entry: int, photo: int, marks: Marks) -> None:
    """Where grey patch, nose and tail lie in it. Raises InvalidInput, NotFound."""
    own, kept = session_photos.beside(connection, entry, photo), uploads.photo(connection, photo)
    _photographed(own, kept, _bait(connection, entry), marks)  # says what is wrong with them
    with writing(connection):
        session_photos.mark_beside(connection, photo, marks)


def _in_words(found: Sequence[Apart]) -> list[str]:
    told = [
        say(
            "{place}: the bait is {tells} than its picture, dE {delta_e}.",
            place=capitalized(zone.words),
            tells=zone.tells,
            delta_e=quantity(zone.delta_e, ".1f"),
        )
        for zone in found[:SHOWN]
        if not zone.same
    ]
    if told:
        return told
    worst = quantity(found[0].delta_e, ".1f")
    return [say("It came out as its picture says, as far as a photo can tell: dE {worst} at most.", worst=worst)]


def _causes(
    connection: sqlite3.Connection, bait: _Bait, side: str, pair: tuple[Floats, Floats], inside: Bools
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


def _calm(picture: Floats, inside: Bools) -> Floats:
    """Grain of a photo is spread evenly about its encoded light, not about its linear light: the mean of what lies
    around each place and is bait is taken there."""
    total, weight = np.where(inside[..., None], encode(np.clip(picture, 0, 1)), 0.0), inside[..., None].astype(float)
    for axis in (0, 1):
        steps = range(-CALM, CALM + 1)
        total, weight = (np.sum([np.roll(one, step, axis) for step in steps], axis=0) for one in (total, weight))
    return to_linear(np.where(inside[..., None], total / np.maximum(weight, 1e-9), 0.0))


def _inner(inside: Bools) -> Bools:
    """Without its rim, where a photo mixes the bait with what lies behind it."""
    found = inside.copy()
    for axis in (0, 1):
        for step in (-RIM, RIM):
            found &= np.roll(inside, step, axis)
    return found


def _lab(picture: Floats, zone: Bools) -> Floats:
    return np.asarray(linear_to_lab(picture[zone].mean(axis=0)))


def _small(connection: sqlite3.Connection, bait: _Bait, side: str) -> Floats:
    return pictures.seen_side(
        connection, bait.plan, side=side, high=bait.high, width=TRIED_WIDTH, cells=ROUGH, instead=bait.instead
    )


def _sprayed(plan: Plan) -> list[Layer]:
    own = [one for one in plan.layers if one.on and WHATS[one.what].paint and one.what != "clear"]
    return own[-MOST_LAYERS:]


def _tries(connection: sqlite3.Connection, bait: _Bait) -> Mapping[str, _Bait]:
    """A step of each cause: "film 3 +", "hand -", "drop 12 +", "clear"."""
    found: dict[str, _Bait] = {}

    def film(numbers: set[int], times: float) -> _Bait:
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
    connection: sqlite3.Connection, one: Explanation, bait: _Bait, names: Mapping[int, str], hand: float
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
        learned = min(max(hand * times**WEIGHT, hand_factor.THINNEST), hand_factor.HEAVIEST)
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
    return Cause(one.key, words, share, min(max(learned, hand_factor.THINNEST), hand_factor.HEAVIEST))


def hand(connection: sqlite3.Connection) -> float:
    """How many times as thick as meant coats are believed to come out."""
    return hand_factor.now(connection)


def learn(connection: sqlite3.Connection, entry: int, photo: int, key: str, *, at: str) -> float:
    """The hand is believed to be what a cause says, with less weight than a card has. Raises InvalidInput, NotFound."""
    causes = explained(connection, beside(connection, entry, photo))
    found = next((one for one in causes if one.key == key), None)
    if found is None or not found.hand:
        raise InvalidInput(say("Nothing is to be learned from that: choose one of the causes."), field="cause")
    with writing(connection):
        hand_factor.set_to(connection, found.hand, at=at)
    return found.hand


def picture(connection: sqlite3.Connection, entry: int, photo: int, *, taken: bool) -> bytes:
    """A PNG of the straightened photo in daylight, or of the picture that lies beside it. Raises InvalidInput,
    NotFound."""
    own, kept = session_photos.beside(connection, entry, photo), uploads.photo(connection, photo)
    bait = _bait(connection, entry)
    if not taken:
        shown = _drawn(connection, bait, _side(own))
        inside = zones.silhouette(bait.plan.blank.form.outline, shown.shape[:2], photos.MARGIN)
        shown = np.where(inside[..., None], shown, GROUND)
    elif own.marks is None:
        raise InvalidInput(say("Touch grey patch, nose and tail first."), field="photo")
    else:
        shown = _photographed(own, kept, bait, own.marks)[1]
    made = 255 * encode(np.clip(shown, 0, 1))
    return images.png(made, np.ones(made.shape[:2], dtype=bool))
