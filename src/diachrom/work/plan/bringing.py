"""Plans found again, and what is brought from outside: plans as documents, stencils and blanks as drawings."""

import json
import sqlite3
from dataclasses import asdict, replace
from typing import Any

from diachrom.core.bait.blank import outline_of
from diachrom.core.bait.document import shape as read_shape
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.shapes import Landmarks, Shape
from diachrom.core.mix import sound
from diachrom.core.mix.draft import LONGEST_NOTE
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import drawings
from diachrom.exchange.drawings import Drawing, Point
from diachrom.exchange.text import decoded
from diachrom.store import plans as store
from diachrom.store.connection import writing
from diachrom.store.plans import Listed
from diachrom.words import say
from diachrom.work.plan import plans
from diachrom.work.plan.painting import OWN_STENCIL

MOST_DRAWING = drawings.LARGEST
Line = tuple[Point, ...]


def listed(connection: sqlite3.Connection, query: str = "") -> list[Listed]:
    """Plans that have every word in their name, note, blank or layers."""
    words = query.casefold().split()

    def told(one: Listed) -> str:
        plan = one.now.plan
        layers = " ".join(layer.name for layer in plan.layers)
        return f"{one.now.number} {plan.name} {plan.note} {plans.blank_words(plan.blank)} {layers}".casefold()

    return [one for one in store.listed(connection) if all(word in told(one) for word in words)]


def plan(connection: sqlite3.Connection, name: str, content: bytes, *, at: str) -> tuple[int, str]:
    """A plan out of a file; its number, and what could not be read. Raises BadFile."""
    text, _ = decoded(name, content)
    try:
        values = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BadFile(name, say("it is no JSON, or it is cut off.")) from error
    return plans.from_document(connection, name, values, at=at)


def drawing(connection: sqlite3.Connection, kind: str, name: str, content: bytes, *, at: str) -> str:
    """Keep a stencil or a blank of one's own; returns its key. Raises BadFile, InvalidInput."""
    if kind not in ("stencil", "blank"):
        raise InvalidInput(say("A drawing is a stencil or a blank, not a '{kind}'.", kind=kind[:20]), field="kind")
    found = drawings.read(name, content)
    title = found.title or name.rpartition(".")[0] or name
    document: dict[str, Any] = {"outlines": found.outlines} if kind == "stencil" else asdict(_shape(name, title, found))
    document["told"] = f"It is {found.width_mm:.1f} mm long. {found.noticed}".strip()
    with writing(connection):
        number = store.add_drawing(connection, kind, title[:80], document, at=at)
    return f"{OWN_STENCIL}{number}"


def told_of(connection: sqlite3.Connection, kind: str, key: str) -> str:
    """What is to be said of a drawing that was just brought."""
    for one in store.drawings(connection, kind):
        if key == f"{OWN_STENCIL}{one.id}" and isinstance(one.document, dict):
            return f"{one.name} is here. {sound.text(one.document.get('told'), LONGEST_NOTE)}".strip()
    return ""


def _shape(name: str, title: str, found: Drawing) -> Shape:
    """A blank seen from the side and from the back: outlines called so, or the first two, the upper one the side."""
    named = {key.casefold(): one for key, one in zip(found.names, found.outlines, strict=True)}
    if "side" in named and "back" in named:
        side, back = named["side"], named["back"]
    else:
        if len(found.outlines) < 2:
            raise BadFile(name, say("a blank has two outlines: seen from the side, and from the back below it."))
        first, second = sorted(found.outlines[:2], key=lambda one: min(y for _, y in one))
        side, back = first, second
    up = [(x, -y) for x, y in side]  # a drawing's y runs down
    outline = outline_of(up, list(back))
    length = max(x for x, _ in side) - min(x for x, _ in side)
    shape = Shape("own", title, outline, round(length, 1), say("wood"), landmarks=Landmarks())
    try:
        return read_shape(asdict(shape))
    except sound.UNREADABLE as error:
        raise BadFile(name, say("these outlines make no blank.")) from error


def through_it(connection: sqlite3.Connection, number: int, layer: int, key: str, *, at: str) -> None:
    """Spray a layer through a stencil that was brought."""
    usual = replace(MASKS["stencil"].usual(), stencil=key)
    plans.change(
        connection,
        number,
        lambda plan: plan.changed(layer, lambda one: replace(one, mask=usual)),
        did=say("a stencil for layer {layer}", layer=layer),
        at=at,
    )
