"""Pictures of plans: for a page that turns them, for lists and paper, and as files."""

import gzip
import json
import math
import sqlite3
from collections import OrderedDict
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from functools import cache
from hashlib import blake2b
from threading import Lock

import numpy as np

from diachrom.core.bait.deposit import film_um, share
from diachrom.core.bait.document import written
from diachrom.core.bait.fitted import with_fittings
from diachrom.core.bait.mask import FREE
from diachrom.core.bait.masks import MASKS, drawing
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.screened import lights_document, linear, package
from diachrom.core.bait.seen_words import by_place
from diachrom.core.bait.strokes import CLOSE_UP_MM, flow
from diachrom.core.bait.surface import FULL, MIDDLE, ROUGH
from diachrom.core.bait.view import SIDES, Frame, drawn, framed
from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import Light, light
from diachrom.core.light.screen import to_linear
from diachrom.errors import InvalidInput
from diachrom.exchange import bait_cards, images, photos
from diachrom.exchange.bait_cards import BaitCard
from diachrom.store import foil
from diachrom.words import every_told, listed, say, told
from diachrom.work.plan import checking, eyes
from diachrom.work.plan.painting import (
    NOTHING,
    Instead,
    by_this_hand,
    laid,
    painted_bait,
    sheen_of,
    skin_of,
    stencils_of,
    up_to,
)

NARROWEST, WIDEST = 80, 2400  # pixels
LIST, LIST_RATIO = "list", 2.4  # a frame of a list, so many times as wide as high
STACKED = ("left", "back", "belly")
WORTH_A_VIEW = 1.15  # times as much of the frame that one view more must fill
MOST_KEPT = 24_000_000  # bytes of pictures that are remembered
RUNGS_UM = (0.0, 0.5, 1.2, 2.5, 5.0, 9.0, 16.0, 32.0)
DIMMED = 0.12  # of the light that a layer leaves dark where it is not
_drawn: OrderedDict[str, bytes] = OrderedDict()
_under_way: dict[str, tuple[Lock, int]] = {}
_drawing = Lock()
# One picture and one skin at a time: more of them take no less time, but room, and the turn of who taps.
_turns = {"picture": Lock(), "skin": Lock(), "rough": Lock()}


def skin(connection: sqlite3.Connection, plan: Plan, *, steps: int | None = None, rough: bool = False) -> bytes:
    """What a page needs to show the bait after some of its layers, or all: gzip."""
    with _turns["rough" if rough else "skin"]:
        picture, own = painted_bait(connection, plan, cells=ROUGH if rough else FULL, steps=steps)
        sheen = sheen_of(up_to(plan, steps))
        eye = eyes.look(connection, plan)
        words = told(by_place(picture, sheen=sheen))
        return gzip.compress(package(picture, own.surface, plan.blank.form, sheen=sheen, words=words, eye=eye), 4)


def ladder(connection: sqlite3.Connection, plan: Plan, number: int) -> bytes:
    """The bait with a layer's paint all over it in growing films, so that a page shows at once what a hand draws of it:
    gzip of a length and a head in JSON, what lies of it now (float16, um, (u, v)), then each skin after its length.
    Raises NotFound."""
    kept = plan.layer(number)
    layer = kept.by_hand
    parts = []
    with _turns["rough"]:
        sheen, skin = sheen_of(plan), skin_of(connection, plan, MIDDLE)
        lies = film_um(layer, skin, plan.worn(number)) if layer.strokes else np.zeros(MIDDLE)
        for film in RUNGS_UM:
            coats = max(1, math.ceil(film / layer.film_um))  # none so wet that its dots flow together
            even = replace(layer, film_um=film / coats, coats=coats, on=film > 0, strokes=(), mask=FREE)
            even = replace(even, region="all", box=None, origin="around", rake_deg=0.0, sides="both")
            even = replace(even, distance_mm=CLOSE_UP_MM)
            layers = tuple(even if one is kept else one for one in plan.layers)
            picture, own = painted_bait(connection, replace(plan, layers=layers, fog=False), cells=MIDDLE)
            made = package(picture, own.surface, plan.blank.form, sheen=sheen)
            parts += [len(made).to_bytes(4, "little"), made]
    head = {
        "films": RUNGS_UM,
        "cells": MIDDLE,
        "disc": layer.disc_mm,
        "flow": layer.coats * layer.film_um * flow(layer.disc_mm),  # um in the disc's middle each second
        "coat": layer.coats * layer.film_um,  # um of a mark
        "both": layer.sides == "both" and layer.mirrored,
    }
    told_head = json.dumps(head).encode()
    return gzip.compress(
        b"".join([len(told_head).to_bytes(4, "little"), told_head, lies.astype("<f2").tobytes(), *parts]), 1
    )


@cache
def lights(language: str) -> bytes:
    """What it needs to know of the lights, told to who reads that language: gzip."""
    return gzip.compress(json.dumps(every_told(lights_document())).encode(), 6)


def image(
    connection: sqlite3.Connection,
    plan: Plan,
    *,
    side: str = "left",
    width: int = 600,
    light_key: str = "D65",
    steps: int | None = None,
    instead: Instead = NOTHING,
    lit: int | None = None,
) -> bytes:
    """A PNG of a side, or for a list of as many as fill its frame; where a layer is lit up, all that it does not meet
    is dimmed. The same picture of the same bench is drawn once. Raises InvalidInput, UnknownLight."""
    if side not in SIDES and side != LIST:
        raise InvalidInput(
            say("A bait is seen from {sides}, not '{side}'.", sides=listed(SIDES), side=side[:20]), field="side"
        )
    wide = min(max(width, NARROWEST), WIDEST)
    under = light(light_key)
    digest = blake2b(json.dumps(written(by_this_hand(connection, plan)), sort_keys=True).encode(), digest_size=16)
    digest.update(f"{foil.now(connection).tilt_deg:g}".encode())
    for one in laid(connection, plan.layers, instead):
        digest.update(one.painted.digest)
    key = f"{digest.hexdigest()} {eyes.look(connection, plan)} {side} {wide} {under.key} {steps} {lit}"
    with _alone(key):
        known = _known(key)
        if known is None:
            with _turns["picture"]:
                known = _made(connection, plan, (side, wide, steps, lit), under, instead)
            with _drawing:
                _drawn[key] = known
                while len(_drawn) > 1 and sum(map(len, _drawn.values())) > MOST_KEPT:
                    _drawn.popitem(last=False)
        return known


@contextmanager
def _alone(key: str) -> Iterator[None]:
    """One at a time draws a picture: who asks for the same meanwhile waits for it."""
    with _drawing:
        lock, waiting = _under_way.get(key, (Lock(), 0))
        _under_way[key] = lock, waiting + 1
    try:
        with lock:
            yield
    finally:
        with _drawing:
            lock, waiting = _under_way.pop(key)
            if waiting > 1:
                _under_way[key] = lock, waiting - 1


def _known(key: str) -> bytes | None:
    with _drawing:
        if key in _drawn:
            _drawn.move_to_end(key)
        return _drawn.get(key)


def _made(
    connection: sqlite3.Connection,
    plan: Plan,
    how: tuple[str, int, int | None, int | None],
    under: Light,
    instead: Instead,
) -> bytes:
    side, wide, steps, lit = how
    cells = MIDDLE if wide <= 4 * MIDDLE[0] else FULL
    picture, own = painted_bait(connection, plan, cells=cells, steps=steps, instead=instead)
    colours = linear(picture, under, sheen=sheen_of(up_to(plan, steps)))
    # (u, v) how bright each cell is, 1 where the layer that is lit up lands, or everywhere.
    layer = next((one for one in plan.layers if one.number == lit), None)
    if layer is None:
        light_on = np.ones(own.surface.cells)
    else:
        lands = share(layer, own, plan.worn(layer.number))
        light_on = DIMMED + (1 - DIMMED) * lands / max(float(lands.max()), 1e-6)
    colours = colours * light_on[..., None]
    form, eye = plan.blank.form, eyes.look(connection, plan)
    if side != LIST:
        looked = drawn(picture, colours, own.surface, framed(form, own.surface, side), side=side, width=wide)
        return images.png(*with_fittings(looked, form, own.surface, side=side, eye=eye))
    places, size = beside_each_other([framed(form, own.surface, one) for one in STACKED], wide)
    rgb, cover = np.zeros((*size, 3)), np.zeros(size)
    for one, (top, left, width) in zip(STACKED, places, strict=False):
        looked = drawn(picture, colours, own.surface, framed(form, own.surface, one), side=one, width=width)
        colour, own_cover = with_fittings(looked, form, own.surface, side=one, eye=eye)
        at = slice(top, top + own_cover.shape[0]), slice(left, left + own_cover.shape[1])
        whole = np.maximum(cover[at], own_cover)
        rgb[at], cover[at] = np.where((own_cover >= cover[at])[..., None], colour, rgb[at]), whole
    return images.png(rgb, cover)


def seen_side(
    connection: sqlite3.Connection,
    plan: Plan,
    *,
    side: str,
    high: float,
    width: int,
    cells: tuple[int, int] = FULL,
    instead: Instead = NOTHING,
) -> Floats:
    """A side in daylight as linear light (row, column, 3), from nose to tail with a photo's margin, `high` lengths
    high, its nose to the left: what a straightened photo of it shows."""
    picture, own = painted_bait(connection, plan, cells=cells, instead=instead)
    colours = linear(picture, light("D65"), sheen=sheen_of(plan))
    wide = 1 + 2 * photos.MARGIN
    half = (photos.rows_of(width, high) - 1e-6) * wide / width / 2  # rows are counted upwards
    frame = Frame(-photos.MARGIN, 1 + photos.MARGIN, -half, half)
    form = plan.blank.form
    looked = drawn(picture, colours, own.surface, frame, side=side, width=width)
    rgb, _ = with_fittings(looked, form, own.surface, side=side, eye=eyes.look(connection, plan))
    rgb = rgb[:, ::-1] if SIDES[side].turned else rgb
    return to_linear(np.clip(rgb, 0, 255) / 255.0)


def beside_each_other(frames: Sequence[Frame], wide: int) -> tuple[list[tuple[int, int, int]], tuple[int, int]]:
    """How views are stacked in a frame, so that they fill it: a long bait is seen from several sides.

    Parameters
    ----------
    frames : of the views, the first ones first.
    wide : the frame's width, pixels.

    Returns
    -------
    Top, left and width of those that are taken, pixels, and rows and columns of the frame.
    """
    rows, best, most = round(wide / LIST_RATIO), (0.0, 0, 0.0), 0.0
    for count in range(1, len(frames) + 1):
        some = frames[:count]
        scale = min(wide / max(one.wide for one in some), rows / sum(one.tall for one in some))
        filled = scale**2 * sum(one.wide * one.tall for one in some)
        if filled > WORTH_A_VIEW * most:
            most, best = filled, (scale, count, (rows - scale * sum(one.tall for one in some)) / (count + 1))
    scale, count, gap = best
    found, top = [], gap
    for one in frames[:count]:
        found.append((round(top), round((wide - scale * one.wide) / 2), max(int(scale * one.wide), 1)))
        top += scale * one.tall + gap
    return found, (rows + count, wide)  # each view's height is rounded up


def as_svg(connection: sqlite3.Connection, plan: Plan, *, side: str = "left") -> bytes:
    """At its true size. Raises InvalidInput."""
    width = 1600
    made = image(connection, plan, side=side, width=width)
    wide, _ = true_mm(plan, side)
    height = int.from_bytes(made[20:24], "big")  # of the PNG's own head
    return images.svg_of(made, (width, height), (wide, wide * height / width), plan.name or say("A bait"))


def true_mm(plan: Plan, side: str) -> tuple[float, float]:
    """How wide a side's picture is at its true size, and how far from its left the nose lies, or the tail of the side
    that is turned, mm."""
    frame, length = framed(plan.blank.form, plan.blank.surface(ROUGH), side), plan.blank.length_mm
    return length * frame.wide, -length * frame.start


def to_keep(plan: Plan, made: bytes, side: str) -> bytes:
    """A picture as a file that prints at its true size; a list's, which is of several sides, as it is."""
    return made if side == LIST else images.sized(made, true_mm(plan, side)[0])


def shown(connection: sqlite3.Connection, plan: Plan, card: BaitCard, *, as_svg: bool) -> bytes:
    """A card to show, PNG or SVG: the plan's picture with what is said of it."""
    made = image(connection, plan, side=LIST, width=WIDEST)
    return (bait_cards.svg if as_svg else bait_cards.png)(card, made)


def mended(connection: sqlite3.Connection, plan: Plan, way: tuple[str, str, int], *, width: int) -> bytes:
    """A PNG of the plan as it would be. `way` is a check, the layers that its finding is of, and which mend. Raises
    NotFound."""
    return image(connection, checking.previewed(connection, plan, *way), width=width)


OPEN, COVERED = 236.0, 84.0  # greys


def mask(connection: sqlite3.Connection, kind: str, stencil: str = "") -> bytes:
    """A PNG of a mask, to be recognised by. Raises InvalidInput, NotFound."""
    if kind not in MASKS:
        raise InvalidInput(say("There is no way of masking called '{kind}'.", kind=kind[:30]), field="kind")
    through = replace(MASKS[kind].usual(), stencil=stencil)
    layer = Layer(0, mask=through)
    polygons = stencils_of(connection, Plan(layers=(layer,))).get(stencil, ())
    open_ = drawing(through, polygons)
    grey = COVERED + (OPEN - COVERED) * open_
    return images.png(np.repeat(grey[..., None], 3, axis=-1), np.ones(grey.shape, dtype=bool))
