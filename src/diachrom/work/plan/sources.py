"""What a plan can be made of: recipes, paints, stencils and blanks of the bench."""

import sqlite3
from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from diachrom.core.bait.document import shape as read_shape
from diachrom.core.bait.masks import STENCILS
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.shapes import SHAPES, Shape
from diachrom.core.mix import sound
from diachrom.core.mix.draft import RECIPE_GROUND
from diachrom.exchange import drawings
from diachrom.store import paints, plans, recipes
from diachrom.words import say
from diachrom.work.plan.painting import OWN_STENCIL

RECIPES_OFFERED = 200
OWN_BLANK = "own:"
Rows = Sequence[tuple[str, str]]
Line = Sequence[tuple[float, float]]


def offered(connection: sqlite3.Connection, used: Iterable[str] = ()) -> Mapping[str, Rows]:
    """Recipes and paints by their keys, in groups; older versions that a plan uses are among them."""
    saved = recipes.newest_versions(connection, most=RECIPES_OFFERED)
    rows = [
        (
            f"{RECIPE_GROUND}{version.recipe}:{version.version}",
            say("{name} · No. {recipe}", name=version.draft.name, recipe=version.recipe),
        )
        for version in saved
    ]
    known = {key for key, _ in rows}
    every = paints.every_record(connection)
    own = [(paint.id, paint.full_name) for paint in every]
    known |= {key for key, _ in own}
    older = [(key, _words(key)) for key in used if key and key not in known]
    found: dict[str, Rows] = {say("Recipes"): rows, say("Paints, as bottled"): own}
    if older:
        found[say("Used here")] = older
    return found


def _words(key: str) -> str:
    number, _, version = key.removeprefix(RECIPE_GROUND).partition(":")
    return (
        say("recipe {number}, version {version}", number=number, version=version)
        if key.startswith(RECIPE_GROUND)
        else key
    )


def stencils(connection: sqlite3.Connection, plan: Plan) -> Mapping[str, Rows]:
    """Stencils to choose from."""
    own = [(f"{OWN_STENCIL}{drawing.id}", drawing.name) for drawing in plans.drawings(connection, "stencil")]
    ready = [(key, STENCILS.get(key, one.title)) for key, one in drawings.library().items()]
    known = {key for key, _ in (*own, *ready)}
    brought = [(key, key.removeprefix(OWN_STENCIL)) for key, _ in plan.stencils if key not in known]
    return {say("My stencils"): own, say("Stencils"): ready, say("Of this plan"): brought}


def own_blanks(connection: sqlite3.Connection) -> dict[str, Shape]:
    """Blanks of one's own, by their keys; those that cannot be read are left out."""
    found = {}
    for drawing in plans.drawings(connection, "blank"):
        own = sound.parse_or_default(read_shape, drawing.document, None)
        if own is not None:
            found[f"{OWN_BLANK}{drawing.id}"] = own
    return found


def shape_of(connection: sqlite3.Connection, key: str) -> Shape | None:
    """A blank of one's own, None for one of the family."""
    return None if key in SHAPES else own_blanks(connection).get(key)


def edges(shape: Shape, steps: int) -> tuple[Line, Line, Line]:
    """Upper and lower edge and half width along a shape, (u, share of the length) each."""
    u = (1 - np.cos(np.linspace(0, np.pi, steps))) / 2
    rows = shape.outline.edges(u)
    return tuple(list(zip(u.tolist(), row.tolist(), strict=True)) for row in rows)  # type: ignore[return-value]


def height_at(shape: Shape, u: float, v: float) -> float:
    """How high a blank stands at a place, mm."""
    return float(shape.outline.section(np.array([u]), np.array([v]))[1][0, 0])
