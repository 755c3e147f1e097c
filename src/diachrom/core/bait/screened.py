"""A picture of a bait in a light, as a screen shows it; and the same made small enough to be sent to a page, which then
turns, rolls and sinks it by itself."""

import json
import struct
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.bait.fitted import USUAL_EYE, Eye
from diachrom.core.bait.outline import Outline
from diachrom.core.bait.picture import ANGLES, Picture
from diachrom.core.bait.shading import described
from diachrom.core.bait.shapes import Shape
from diachrom.core.bait.surface import Relief, Surface
from diachrom.core.bait.view import GRAIN
from diachrom.core.film.cell_light import Glowing, Shining
from diachrom.core.film.cell_stacks import SOME_BANDS, seen_weights
from diachrom.core.film.fast import Singles
from diachrom.core.film.foil import HoloFoil
from diachrom.core.film.grounds import Ground
from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import Light, light
from diachrom.core.light.screen import SRGB, WHITE, to_linear
from diachrom.core.light.water import WATERS

COMPONENTS = 14
KEPT_SHARE = 1e-6  # of what is seen: less than this is no component
DEPTHS_M = (0.0, 0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0)
DARK_MIN = (0, 1, 5, 20)
LIGHTS = (
    "D65",
    "overcast",
    "A",
    "led-warm",
    "led-cool",
    "black-light",
    *(f"dark@{minutes}" for minutes in DARK_MIN),
    *(f"{water}@{metres:g}" for water in WATERS for metres in DEPTHS_M),
)
GEOMETRY_U, GEOMETRY_V = 121, 49  # of the points of one side that a page gets
RELIEF_CELLS = (480, 192)  # of the relief
EPSILON = 1e-9


@dataclass(frozen=True, eq=False)
class Screen:
    """From what is followed in some bands to linear light of the screen."""

    factors: Floats  # (some band, 3) of radiance factors
    radiance: Floats  # (some band, 3) of radiances, in units of the light's power
    veil: Floats  # (3,)


def screen(under: Light) -> Screen:
    """What makes a screen's channels of bands under a light, with the water's veil."""
    to_screen = (SRGB * (WHITE / under.white)).T
    weights = seen_weights()
    veil = np.zeros(3) if under.veil is None else under.veil @ to_screen
    lit = under.weights if under.dark_minutes is None else np.zeros_like(under.weights)
    return Screen(weights.T @ lit @ to_screen, weights.T @ under.observer @ to_screen, veil)


def linear(picture: Picture, under: Light, *, sheen: float) -> Floats:
    """(angle, u, v, 3) linear light of the screen, as it is: some of it may lie outside of what a screen shows."""
    own = screen(under)
    rough = sheen * (1 - picture.bare)
    found = np.einsum("abuv,bc->auvc", picture.factors, own.factors) + (
        rough[..., None] * own.factors.sum(axis=0) + own.veil
    )
    return found + np.einsum("buv,bc->uvc", made(picture, under), own.radiance)


def made(picture: Picture, under: Light) -> Floats:
    """(some band, u, v) radiance of what shines."""
    total = np.zeros((SOME_BANDS, *picture.cells))
    if under.dark_minutes is not None:
        for powder in picture.powders:
            total += powder.powder.left_after(under.dark_minutes) * powder.made
        return total
    for dye in picture.dyes:
        total += float(under.power @ dye.excited_by) * dye.made
    return total


@dataclass(frozen=True, eq=False)
class _Packed:
    """Rows (cell, many) as a few components each, eight bits a figure, and a scale of sixteen."""

    basis: Floats  # (component, many)
    low: Floats  # (component,)
    step: Floats
    figures: Floats  # (component, cell) 0 to 255
    scale: Floats  # (cell,) 0 to 65535
    scale_of: tuple[float, float]  # ln of the scale at 0, and its range


def _packed(rows: Floats, weights: Floats, most: int) -> _Packed:
    """Principal components of rows that are first made alike in brightness: dark ones count as bright ones do."""
    seen = rows * weights
    scale = np.linalg.norm(seen, axis=1) + 0.01 * np.sqrt(len(weights) / SOME_BANDS)
    alike = seen / scale[:, None]
    values, vectors = np.linalg.eigh(alike.T @ alike)
    order = np.argsort(values)[::-1][:most]
    order = order[values[order] > KEPT_SHARE * max(values.max(), EPSILON)]
    basis = vectors[:, order].T
    shares = alike @ basis.T  # (cell, component)
    low, high = shares.min(axis=0), shares.max(axis=0)
    step = np.maximum(high - low, EPSILON) / 255
    logs = np.log(scale)
    first, span = float(logs.min()), max(float(np.ptp(logs)), EPSILON)
    figures = np.rint((shares - low) / step).T
    return _Packed(
        basis=basis / weights,
        low=low,
        step=step,
        figures=figures,
        scale=np.rint((logs - first) / span * 65535),
        scale_of=(first, span),
    )


def package(
    picture: Picture, surface: Surface, shape: Shape, *, sheen: float, words: str = "", eye: Eye | None = USUAL_EYE
) -> bytes:
    """What a page needs to show a bait in every pose and light: a length, a head in JSON, then planes of bytes.

    Where both sides are alike, one is sent.
    """
    u, v = picture.cells
    half = v // 2 if picture.alike else v
    rows = picture.factors[..., :half].reshape(len(ANGLES) * SOME_BANDS, -1).T.astype(np.float64)
    # (some band,) how much an eye makes of each band in daylight.
    day = light("D65")
    observer = np.sqrt((seen_weights().T @ day.weights).sum(axis=1) + 0.002)
    colours = _packed(rows, np.tile(observer, len(ANGLES)), COMPONENTS)
    parts = [colours.figures.astype(np.uint8).tobytes(), colours.scale.astype("<u2").tobytes()]
    head: dict[str, object] = {
        "cells": [u, half],
        "alike": picture.alike,
        "sheen": sheen,
        "words": words,
        "angles": ANGLES,
        "bands": SOME_BANDS,
        "basis": _rounded(colours.basis),
        "low": _rounded(colours.low),
        "step": _rounded(colours.step),
        "scale": colours.scale_of,
        "shining": [],
    }
    lights = [light(key) for key in LIGHTS]
    shining = [_shining(dye.made[..., :half], _excited(dye, lights), parts) for dye in picture.dyes]
    shining += [_shining(powder.made[..., :half], _left(powder, lights), parts) for powder in picture.powders]
    head["shining"] = shining
    parts.append((255 * picture.bare[:, :half]).astype(np.uint8).tobytes())
    of_ground = np.array([mirror_of(ground) for ground in picture.grounds], dtype=np.uint8)
    parts.append(of_ground[picture.ground_at[:, :half]].tobytes())
    head["grain"] = [picture.grain, *GRAIN]
    head["shade"] = described()
    geometry, head["geometry"] = _geometry(surface.outline, surface.length_mm, surface.relief)
    parts.append(geometry)
    # What stands out of the body, and where the eyes are.
    marks = shape.landmarks
    eyes: dict[str, object] | None = None
    if eye is not None and shape.eye_sockets:
        iris = _rounded(to_linear(np.array(eye.iris) / 255))
        eyes = {"u": marks.eye_u, "v": marks.eye_v, "size": marks.eye_size, "iris": iris, "slit": eye.slit}
    fittings = [
        {"points": fitting.points, "plate": fitting.plate, "stuff": fitting.stuff, "painted": fitting.painted}
        for fitting in shape.fittings
    ]
    head["fitted"] = {
        "fittings": fittings,
        "eye": eyes,
        "eyelets": shape.metal_eyelets,
        "joints": shape.joints,
    }
    told = json.dumps(head, separators=(",", ":")).encode()
    return struct.pack("<I", len(told)) + told + b"".join(parts)


def mirror_of(ground: Ground) -> int:
    """How a ground's mirror looks: 0 none, 1 a foil that was laid, 2 stamped, 3 holographic, 4 behind a wall, 5 in
    flakes."""
    if ground.mirror is None:
        return 0
    if isinstance(ground.mirror, HoloFoil):
        return 3
    if ground.wall:
        return 4
    return 5 if ground.sparkle else 2 if ground.key == "stamped-foil" else 1


def _excited(dye: Shining, lights: Sequence[Light]) -> list[float]:
    """How strongly each light makes a dye shine, against daylight."""
    return [float(one.power @ dye.excited_by) if one.dark_minutes is None else 0.0 for one in lights]


def _left(powder: Glowing, lights: Sequence[Light]) -> list[float]:
    """What a powder still gives in each of the dark ones."""
    return [0.0 if one.dark_minutes is None else powder.powder.left_after(one.dark_minutes) for one in lights]


def _shining(made: Singles, by_light: list[float], parts: list[bytes]) -> dict[str, object]:
    rows = made.reshape(SOME_BANDS, -1).T.astype(np.float64)
    most = rows.max(axis=1)
    shape = (rows * most[:, None]).sum(axis=0) / max(float((most**2).sum()), EPSILON)  # (some band,)
    share = rows @ shape / max(float(shape @ shape), EPSILON)
    top = max(float(share.max(initial=0.0)), EPSILON)
    parts.append(np.rint(65535 * share / top).astype("<u2").tobytes())
    return {"shape": _rounded(shape * top), "lights": _rounded(np.array(by_light))}


@lru_cache(maxsize=16)
def _geometry(outline: Outline, length_mm: float, relief: Relief) -> tuple[bytes, dict[str, object]]:
    """Across and up of points of the left side, and its relief, finer than the cells are; and what a head says of
    them."""
    u, v = np.linspace(0, 1, GEOMETRY_U), np.linspace(0, 0.5, GEOMETRY_V)
    across, up = outline.section(u, v)
    most = float(max(np.abs(across).max(), np.abs(up).max(), EPSILON))
    height = Surface(outline, length_mm, relief, RELIEF_CELLS).height_mm[:, : RELIEF_CELLS[1] // 2]
    height = height - height.min()
    top = float(max(height.max(), EPSILON))
    head: dict[str, object] = {
        "points": [GEOMETRY_U, GEOMETRY_V],
        "unit": most / 32767,
        "length_mm": length_mm,
        "relief": [*height.shape, top / length_mm / 255],
    }
    points = np.stack([across, up]) / most * 32767
    return np.rint(points).astype("<i2").tobytes() + np.rint(255 * height / top).astype(np.uint8).tobytes(), head


def lights_document() -> dict[str, object]:
    """What a page needs to know of the lights: from components to linear light of the screen, for each."""
    rows = []
    for key in LIGHTS:
        under = light(key)
        own = screen(under)
        rows.append(
            {
                "key": key,
                "words": under.words,
                "factors": _rounded(own.factors),
                "radiance": _rounded(own.radiance),
                "veil": _rounded(own.veil),
            }
        )
    return {"lights": rows, "depths": DEPTHS_M, "waters": {key: one.words for key, one in WATERS.items()}}


def _rounded(values: Floats) -> list[object]:
    found: list[object] = np.array([float(f"{one:.5g}") for one in np.ravel(values)]).reshape(np.shape(values)).tolist()
    return found
