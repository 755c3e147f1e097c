"""My tools: what a layer's mask is made with, and what is told where it is not there."""

import sqlite3
from collections.abc import Mapping
from dataclasses import replace

from diachrom.core.bait.mask import Mask
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import MASK, Layer, Plan
from diachrom.core.mix.draft import LONGEST_NAME, checked_text
from diachrom.errors import InvalidInput, NotFound
from diachrom.store import tools
from diachrom.store.connection import writing
from diachrom.store.tools import Tool
from diachrom.units import MM
from diachrom.words import say
from diachrom.work.kit.figures import figure, whole

# Kinds that are kept: masks that are put on, and what lays paint without an airbrush.
KINDS = ("net", "comb", "stencil", "tape", "paper", "rays", "dab", "dry", "stipple", "dots")


def add(connection: sqlite3.Connection, form: Mapping[str, str]) -> int:
    """Raises InvalidInput."""
    kind = form.get("kind", "")
    if kind not in KINDS:
        raise InvalidInput(say("Choose what kind of tool it is."), field="kind")
    name = checked_text("name", " ".join(form.get("name", "").split()), LONGEST_NAME)
    if not name:
        raise InvalidInput(say("Give the tool a name."), field="name")
    usual = MASKS[kind].usual()
    given = {"size_mm": usual.size_mm, "gap_mm": usual.gap_mm}
    for field in MASKS[kind].fields:
        text = form.get(field.key, "").strip()
        if field.key in given and text:
            least, most = field.least / field.times, field.most / field.times
            shown = figure(text, field.words, key=field.key, least=least, most=most, units=MM)
            given[field.key] = min(max(shown * field.times, field.least), field.most)
    pieces = whole(form.get("pieces") or "1", say("How many"), key="pieces", least=1, most=999)
    teeth = whole(form.get("every") or "1", say("Every nth tooth"), key="every", least=1, most=9)
    tool = Tool(
        id=0,
        kind=kind,
        name=name,
        size_mm=given["size_mm"],
        gap_mm=given["gap_mm"],
        teeth=teeth,
        stencil=form.get("stencil", "")[:200],
        pieces=pieces,
    )
    with writing(connection):
        return tools.add(connection, tool)


def every(connection: sqlite3.Connection) -> list[Tool]:
    """Those that are there."""
    return tools.every(connection)


def retire(connection: sqlite3.Connection, number: int) -> None:
    """It is not there any more."""
    with writing(connection):
        tools.retire(connection, number)


def with_tool(connection: sqlite3.Connection, layer: Layer, number: int) -> Layer:
    """A layer with a tool's figures. Raises NotFound."""
    tool = tools.one(connection, number)
    old = layer.mask if layer.mask.kind == tool.kind else replace(MASKS[tool.kind].usual(), seed=layer.mask.seed)
    mask = replace(
        old,
        size_mm=tool.size_mm,
        gap_mm=tool.gap_mm,
        every=tool.teeth,
        stencil=tool.stencil or old.stencil,
        tool=tool.id,
    )
    return replace(layer, mask=mask)


def still(old: Mask, new: Mask) -> Mask:
    """A mask that was changed: of the same tool only while it has its figures."""
    same = all(getattr(old, key) == getattr(new, key) for key in ("kind", "size_mm", "gap_mm", "every", "stencil"))
    return new if same else replace(new, tool=0)


def missing(connection: sqlite3.Connection, layer: Layer) -> str:
    """What is to be said of a layer's tool, "" when it is there."""
    if not layer.mask.tool:
        return ""
    try:
        tools.one(connection, layer.mask.tool)
    except NotFound:
        return say("Its tool is no longer among my tools: choose another, or go on with these figures.")
    return ""


def too_few(connection: sqlite3.Connection, plan: Plan, layer: Layer) -> str:
    """What is to be said where fewer of a mask are there than baits wear at once, "" where that is not so."""
    if layer.what != MASK or not layer.mask.tool or plan.baits == 1:
        return ""
    pieces = next((tool.pieces for tool in tools.every(connection) if tool.id == layer.mask.tool), plan.baits)
    if pieces >= plan.baits:
        return ""
    return say(
        "{baits} baits wear it at once, and there are {pieces}: paint them one after another.",
        baits=plan.baits,
        pieces=pieces,
    )
