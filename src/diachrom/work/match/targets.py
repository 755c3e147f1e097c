"""The target on the bench: where it comes from, how it is matched, what comes nearest, what the next drop would do."""

import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import asdict, replace

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.mix.where import facing
from diachrom.errors import InvalidInput
from diachrom.exchange.photos import Spot
from diachrom.exchange.sample import Sample
from diachrom.store import bottles, recipes, targets
from diachrom.store.connection import writing
from diachrom.store.targets import MOST_LAB, SeenAs, Target
from diachrom.words import quantity, say
from diachrom.work.kit import photo_picks
from diachrom.work.kit.colour_words import written_colour
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.measurement_target import SprayedPatch
from diachrom.work.kit.typed import typed_colour
from diachrom.work.match.settings import Settings, settings_of
from diachrom.work.mix.sprayed_over import called, over_named, read_at_once

TARGETS_SHOWN = 24
UNKNOWN = SeenAs()
PAINT_FILM_UM = 24.0
STRONGEST = 300.0  # what the strongest fluorescent stays within
D65 = light("D65")
# Colours to begin with, for who has none at hand: in words, and L, a, b.
EXAMPLES = {
    "perch olive": (say("perch olive"), (42.0, -6.0, 28.0)),
    "pike green": (say("pike green"), (46.0, -16.0, 32.0)),
    "herring back": (say("herring back"), (36.0, -8.0, -18.0)),
    "mackerel green": (say("mackerel green"), (44.0, -24.0, 2.0)),
    "trout brown": (say("trout brown"), (40.0, 12.0, 28.0)),
    "rudd gold": (say("rudd gold"), (64.0, 10.0, 46.0)),
    "char orange": (say("char orange"), (58.0, 44.0, 50.0)),
    "crayfish red": (say("crayfish red"), (34.0, 34.0, 24.0)),
    "pink belly": (say("pink belly"), (78.0, 22.0, 6.0)),
    "goby sand": (say("goby sand"), (66.0, 6.0, 24.0)),
    "bleak flank": (say("bleak flank"), (82.0, -2.0, 2.0)),
    "roach silver blue": (say("roach silver blue"), (68.0, -4.0, -10.0)),
}


def active_target(connection: sqlite3.Connection) -> tuple[Target | None, Settings]:
    """The target on the bench, and how it is matched."""
    target, values = targets.active_target(connection)
    return target, settings_of(values, there=lambda ids: bottles.there(connection, ids))


def set_up(connection: sqlite3.Connection, change: Callable[[Settings], Settings]) -> None:
    """Say how it is matched, as a change of what holds at that moment: another change meanwhile is not lost.

    Raises InvalidInput, UnknownGround, RecipeNotFound.
    """
    with writing(connection):
        settings = change(active_target(connection)[1]).checked()
        over_named(connection, settings.ground)
        targets.set_up(connection, asdict(settings))


def leave_out(connection: sqlite3.Connection, bottle: int) -> None:
    """Match without this bottle, or with it again. Raises BottleNotFound."""
    own = bottles.one(connection, bottle).id
    with writing(connection):
        _, old = active_target(connection)
        new = replace(old, left_out=_turned(old.left_out, own), kept_in=_without(old.kept_in, own))
        targets.set_up(connection, asdict(new))


def keep_in(connection: sqlite3.Connection, bottle: int) -> None:
    """Match with this bottle in every mix, or not any more. Raises BottleNotFound, InvalidInput."""
    own = bottles.one(connection, bottle).id
    with writing(connection):
        _, old = active_target(connection)
        new = replace(old, kept_in=_turned(old.kept_in, own), left_out=_without(old.left_out, own))
        targets.set_up(connection, asdict(new.checked()))


def _without(numbers: tuple[int, ...], own: int) -> tuple[int, ...]:
    return tuple(number for number in numbers if number != own)


def _turned(numbers: tuple[int, ...], own: int) -> tuple[int, ...]:
    """Taken out of the list, or put into it."""
    return _without(numbers, own) if own in numbers else (*numbers, own)


def add(
    connection: sqlite3.Connection,
    name: str,
    source: str,
    labs: Floats,
    spectrum: Floats | None,
    seen: SeenAs,
    *,
    at: str,
    made_of: str = "",
) -> int:
    """`labs` is (view, 3), or (3,) for a single view; `made_of` names the own recipe or paint that it shows."""
    points = np.atleast_2d(labs)
    if not np.isfinite(points).all():
        raise InvalidInput(say("That is no colour."), field="target")
    if not ((points[:, 0] >= 0) & (points[:, 0] <= MOST_LAB) & (np.abs(points[:, 1:]) <= STRONGEST).all(axis=1)).all():
        raise InvalidInput(
            say(
                "No paint looks like that: L 0 to {most_lab}, a and b within {strongest}.",
                most_lab=quantity(MOST_LAB, ".0f"),
                strongest=quantity(STRONGEST, ".0f"),
            ),
            field="target",
        )
    if seen.ground is not None:
        over_named(connection, seen.ground)
    values = None if spectrum is None else spectrum.tolist()
    with writing(connection):
        number = targets.add(
            connection,
            name=name[:80],
            source=source,
            seen=seen,
            labs=points.tolist(),
            reflectance=values,
            made_of=made_of,
            at=at,
        )
        _aim_at(connection, targets.one(connection, number))
    return number


def _aim_at(connection: sqlite3.Connection, target: Target) -> None:
    """Put it on the bench, beside the cup that stands there; it is matched on what it lay on, as far as that is known.
    Inside `writing`."""
    targets.aim_at(connection, target.id)
    targets.put_at_cup(connection, target.id)
    _, settings = active_target(connection)
    if target.seen.ground is not None:
        settings = replace(settings, ground=target.seen.ground)
    if target.seen.clear_coat is not None:
        settings = replace(settings, clear_coat=target.seen.clear_coat, satin=target.seen.satin)
    targets.set_up(connection, asdict(settings))


def typed(connection: sqlite3.Connection, text: str, name: str, seen: SeenAs = UNKNOWN, *, at: str) -> int:
    """A target as typed: "#rrggbb", or L a b. Raises InvalidInput."""
    said = None if any(one.isdigit() for one in text) else written_colour(connection, text)
    point, form = (said, "") if said is not None else typed_colour(text)
    return add(
        connection=connection,
        name=name.strip() or text.strip(),
        source=say("typed as {form}", form=form) if form else say("said in words"),
        labs=point,
        spectrum=None,
        seen=seen,
        at=at,
    )


def from_example(connection: sqlite3.Connection, name: str, *, at: str) -> int:
    """One of EXAMPLES. Raises InvalidInput."""
    if name not in EXAMPLES:
        raise InvalidInput(say("There is no example '{name}'.", name=name[:40]), field="example")
    labs = np.array(EXAMPLES[name][1])
    return add(
        connection=connection, name=name, source=say("an example"), labs=labs, spectrum=None, seen=UNKNOWN, at=at
    )


def from_sample(connection: sqlite3.Connection, sample: Sample, name: str, seen: SeenAs = UNKNOWN, *, at: str) -> int:
    """A target out of a spectral file."""
    values = sample.reflectance
    source = say("a spectral file{what}", what="".join(f", {note}" for note in sample.notes))
    return add(
        connection=connection,
        name=name.strip() or sample.name,
        source=source,
        labs=lab(values, under=D65),
        spectrum=values,
        seen=seen,
        at=at,
    )


def from_photo(
    connection: sqlite3.Connection, spot: Spot, name: str, photo: str, seen: SeenAs = UNKNOWN, *, at: str
) -> int:
    """A spot of a photo; several make a palette."""
    source = say("the photo {photo}{caution}", photo=photo, caution=photo_picks.caution(spot))
    return add(
        connection=connection, name=name.strip() or photo, source=source, labs=spot.lab, spectrum=None, seen=seen, at=at
    )


def read_bait(connection: sqlite3.Connection, devices: Devices, key: str, number: int, *, at: str) -> int:
    """A bait that was painted by a recipe, under the colour reader: what really lies there, read as a device reads.

    Raises RecipeNotFound, InstrumentError; nothing is kept of a reading that failed.
    """
    saved = recipes.version(connection, number)
    draft = saved.draft
    reading = devices.read(key, there=SprayedPatch(draft, draft.ground, draft.coats))
    seen = SeenAs(draft.ground, draft.clear_coat, draft.satin)
    name, source = say("Bait of {called}", called=called(saved)), say("read by {by}", by=reading.by.lower())
    return add(
        connection=connection,
        name=name,
        source=source,
        labs=lab(reading.values, under=D65),
        spectrum=reading.values,
        seen=seen,
        at=at,
    )


def choose(connection: sqlite3.Connection, number: int) -> None:
    """Put a target on the bench. Raises NotFound."""
    with writing(connection):
        _aim_at(connection, targets.one(connection, number))


def take_away(connection: sqlite3.Connection, number: int) -> None:
    """Take a target away."""
    with writing(connection):
        targets.take_away(connection, number)


def put_away(connection: sqlite3.Connection) -> None:
    """The cup on the bench has no target any more; Match keeps it."""
    with writing(connection):
        targets.put_at_cup(connection, None)


def spectrum_of(target: Target) -> Floats:
    """(band,) as it faces the eye; smooth where only a colour is known."""
    if target.reflectance is not None:
        return np.array(target.reflectance)
    return smooth_reflectance(point(target), under=D65)


def labs_of(target: Target) -> Floats:
    """(view, 3)"""
    return np.array(target.labs)


def point(target: Target) -> Floats:
    """(3,) as it faces the eye."""
    return np.array(target.labs[facing(target.seen.views)])


def latest(connection: sqlite3.Connection, most: int = TARGETS_SHOWN) -> list[Target]:
    """The newest first."""
    found = targets.latest(connection, most)
    read_at_once(connection, [target.seen.ground for target in found if target.seen.ground])
    return found


def bottle_names(connection: sqlite3.Connection, numbers: Sequence[int]) -> list[tuple[int, str]]:
    """Of those that there still are."""
    return [(key, bottle.full_name) for key, bottle in bottles.by_id(connection, numbers).items()]
