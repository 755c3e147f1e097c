"""Which eyes a plan's bait has: those of the stock that fill its sockets best, and how they look."""

import sqlite3

from diachrom.core.bait.fitted import USUAL_EYE, Eye
from diachrom.core.bait.plan import Plan
from diachrom.core.light.colour_words import meant, plain
from diachrom.core.light.screen import shown
from diachrom.store import finish
from diachrom.store.finish import Eyes

SNUG = 0.3  # mm by which an eye may be larger than its socket, pressed in
NONE = ("painted", "none")  # ways in which no eye stands out of the skin
SLIT = {"slit", "cat", "cats", "snake", "schlitz", "katze"}  # words of a pupil that is upright


def fitting(connection: sqlite3.Connection, plan: Plan) -> Eyes | None:
    """The largest of the stock that do not stand over its socket; None where none do."""
    socket = plan.blank.form.landmarks.eye_size * plan.blank.length_mm
    found = [one for one in finish.eyes(connection) if one.size_mm <= socket + SNUG and one.pairs > 0]
    return max(found, key=lambda one: (one.size_mm, one.pairs), default=None)


def look(connection: sqlite3.Connection, plan: Plan) -> Eye | None:
    """How a plan's eyes look, by the words of their kind; None where none stand out of the skin."""
    if plan.eyes in NONE or not plan.blank.form.eye_sockets:
        return None
    own = None if plan.eyes == "factory" else fitting(connection, plan)
    if own is None:
        return USUAL_EYE
    slit = not SLIT.isdisjoint(plain(own.kind).split())
    colour = meant(own.kind)
    if colour is None:
        return Eye(USUAL_EYE.iris, slit)
    told = shown(colour.lab[None])[0].srgb.lstrip("#")
    red, green, blue = (float(int(told[at : at + 2], 16)) for at in (0, 2, 4))
    return Eye((red, green, blue), slit)
