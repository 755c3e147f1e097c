"""A plan that starts from a body's template, with what the shelf has for its layers; and eyes painted as layers."""

import sqlite3
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from diachrom.core.bait.bodies import BODIES, EYE, Want
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.regions import REGIONS, Box
from diachrom.core.light.difference import delta_e
from diachrom.errors import InvalidInput, NotFound
from diachrom.store import bottles, paints, plans
from diachrom.store.connection import writing
from diachrom.store.plans import PlanNow
from diachrom.words import say
from diachrom.work.kit.looks import look
from diachrom.work.plan.plans import change

Shelf = Mapping[str, Mapping[str, np.ndarray]]  # by kind: Lab over white of each paint


def begin(connection: sqlite3.Connection, key: str, *, name: str = "", at: str) -> int:
    """A plan from a template; returns its number. Raises NotFound, InvalidInput."""
    if key not in BODIES:
        raise NotFound(say("There is no body called '{key}'.", key=key[:30]), field="body")
    body, shelf = BODIES[key], _shelf(connection)
    plan = Plan(blank=body.blank, prepared=body.prepared, eyes=body.eyes).named(name=name, note=body.note)
    for layer, want in body.layers:
        plan = plan.with_layer(layer if want is None else replace(layer, source=_best(shelf, want)))
    with writing(connection):
        return plans.new(connection, plan, did=say("beginning with a {words}", words=body.words), at=at)


def _shelf(connection: sqlite3.Connection) -> Shelf:
    """Paints of which a bottle stands there; what was mixed here is for its own recipe."""
    found: dict[str, dict[str, np.ndarray]] = {}
    ids = {bottle.paint_id for bottle in bottles.every(connection) if bottle.recipe is None}
    for key, profile in paints.profiles(connection, sorted(ids)).items():
        bead = look(profile).bead
        if bead is not None:
            found.setdefault(profile.kind, {})[key] = np.array(bead.lab)
    return found


def _best(shelf: Shelf, want: Want) -> str:
    """Of the first kind that there is, the paint nearest to what is wanted; "" where the shelf has none: the plan says
    so, and lets one be chosen."""
    own = next((shelf[kind] for kind in want.kinds if shelf.get(kind)), {})
    return min(own, key=lambda key: float(delta_e(own[key], np.array(want.lab))), default="")


def paint_eyes(connection: sqlite3.Connection, number: int, *, at: str) -> PlanNow:
    """Eyes as layers: rim, iris and pupil, beneath the clear. Raises InvalidInput, NotFound."""
    shelf = _shelf(connection)

    def painted(plan: Plan) -> Plan:
        if not plan.blank.form.eye_sockets:
            raise InvalidInput(say("This blank has no place for eyes."), field="eyes")
        if any(one.region == "eye" and one.on for one in plan.layers):
            raise InvalidInput(say("This plan already has painted eyes."), field="eyes")
        box = REGIONS["eye"].box(plan.blank.form.landmarks)
        clears = [index for index, one in enumerate(plan.layers) if one.what == "clear"]
        place = clears[0] if clears else len(plan.layers)
        for nth, (words, share, want) in enumerate(EYE):
            layer = Layer(
                0,
                "paint",
                source=_best(shelf, want),
                name=words,
                region="eye",
                origin="side",
                box=_within(box, share),
                soft_mm=0.0,
                distance_mm=20.0,
                coats=2,
                film_um=12.0,
            )
            plan = plan.with_layer(layer, at=place + nth)
        return replace(plan, eyes="painted")

    return change(connection, number, painted, did=say("painting eyes"), at=at)


def _within(box: Box, share: float) -> Box:
    """The middle of a box, as large as a share of it."""
    u, v = (box.u0 + box.u1) / 2, (box.v0 + box.v1) / 2
    return Box(
        max(0.0, u - share * (u - box.u0)),
        u + share * (box.u1 - u),
        max(0.0, v - share * (v - box.v0)),
        v + share * (box.v1 - v),
    )
