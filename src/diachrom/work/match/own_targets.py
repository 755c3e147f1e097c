"""Targets that show a recipe or a paint of the shelf: what they are in any light is known, also where they shine."""

import sqlite3
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab, lab_of_radiance
from diachrom.core.light.lights import Light, light
from diachrom.core.match.alternatives import OTHER_LIGHTS
from diachrom.core.mix.layers import coat as coat_of
from diachrom.core.mix.where import ALL_ANGLES, DIFFUSE, Where, facing
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import mist, paints, recipes
from diachrom.store.targets import SeenAs, Target
from diachrom.words import say
from diachrom.work.match.targets import D65, PAINT_FILM_UM, add, spectrum_of
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.mix.sprayed_over import called, over


@dataclass(frozen=True, eq=False)
class _Sprayed:
    """What is looked at: where, which coat, and how that is written down."""

    where: Where
    coat: Coat
    seen: SeenAs
    made_of: str


def _of_recipe(connection: sqlite3.Connection, number: int, version: int | None = None) -> _Sprayed:
    saved = recipes.version(connection, number, version)
    draft, on = saved.draft, over(connection, saved.draft.ground)
    layer = mist.hand(connection).layer(cup_of(contents(connection, draft)), draft.film_um, draft.coats)
    where = Where(
        ground=on.ground,
        film_um=layer.total_um,
        sheen=draft.sheen,
        under=D65,
        below=on.below,
        views=ALL_ANGLES,
        droplet_um=layer.droplet_um,
    )
    coat = coat_of(layer)
    seen = SeenAs(draft.ground, draft.clear_coat, draft.satin, ALL_ANGLES)
    return _Sprayed(where, coat, seen, f"recipe:{number}:{saved.version}")


def _of_paint(connection: sqlite3.Connection, paint_id: str) -> _Sprayed:
    paint = paints.profile(connection, paint_id)
    if paint.thins:
        raise InvalidInput(say("{name} has no colour.", name=paint.name), field="paint")
    key = "black" if paint.flake else "white"
    where = Where(GROUNDS[key], PAINT_FILM_UM, CLEARED, D65, views=ALL_ANGLES)
    coat = Coat(mix([paint], np.ones(1)), PAINT_FILM_UM)
    return _Sprayed(where, coat, SeenAs(key, True, False, ALL_ANGLES), f"paint:{paint_id}")


def from_recipe(connection: sqlite3.Connection, number: int, *, at: str) -> int:
    """A recipe as it is sprayed, at all angles where it turns. Raises RecipeNotFound."""
    saved = recipes.version(connection, number)
    source = say("recipe {number}, version {version}", number=number, version=saved.version)
    return _add(connection, called(saved), source, _of_recipe(connection, number), at=at)


def from_paint(connection: sqlite3.Connection, paint_id: str, *, at: str) -> int:
    """A paint by itself: three light coats on white, or on black when it has flakes.

    Raises PaintNotFound, InvalidInput.
    """
    name = paints.record(connection, paint_id).full_name
    return _add(connection, name, say("the paint, three light coats"), _of_paint(connection, paint_id), at=at)


def _add(connection: sqlite3.Connection, name: str, source: str, sprayed: _Sprayed, *, at: str) -> int:
    radiance = sprayed.where.radiance(sprayed.coat)  # (view, band)
    factors, seen = D65.factor(radiance), sprayed.seen
    if np.ptp(factors, axis=0).max() < 1e-9:
        radiance, seen = radiance[:1], replace(seen, views=DIFFUSE)
    spectrum = np.clip(factors[facing(seen.views)], 0, 1)
    labs = lab_of_radiance(radiance, under=D65)
    return add(
        connection=connection,
        name=name,
        source=source,
        labs=labs,
        spectrum=spectrum,
        seen=seen,
        at=at,
        made_of=sprayed.made_of,
    )


def in_other_lights(connection: sqlite3.Connection, target: Target) -> dict[str, Floats]:
    """Lab (3,) of a target, facing the eye, in each of the other lights."""
    return {key: _in_light(connection, target, light(key)) for key in OTHER_LIGHTS}


def _in_light(connection: sqlite3.Connection, target: Target, under: Light) -> Floats:
    kind, _, key = target.made_of.partition(":")
    try:
        if kind == "paint":
            sprayed = _of_paint(connection, key)
        elif kind == "recipe":
            number, _, version = key.partition(":")
            sprayed = _of_recipe(connection, int(number), int(version))
        else:
            return lab(spectrum_of(target), under=under)
    except (DiachromError, ValueError):  # it is gone: what was seen of it then is left
        return lab(spectrum_of(target), under=under)
    where = replace(sprayed.where, under=under, views=target.seen.views)
    return lab_of_radiance(where.radiance(sprayed.coat)[facing(where.views)], under=under)
