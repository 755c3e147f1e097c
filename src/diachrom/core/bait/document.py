"""A plan as an open document: plain values for JSON, and the shapes and outlines that come from drawings. What comes
from anywhere is brought within bounds."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from itertools import pairwise
from typing import Any

from diachrom.core.bait import blank as blanks
from diachrom.core.bait.fittings import PLATES, Fitting
from diachrom.core.bait.mask import Polygons
from diachrom.core.bait.outline import ROUNDEST, SQUAREST, Outline
from diachrom.core.bait.plan import BOUNDS, Layer, Plan
from diachrom.core.bait.shapes import Landmarks, Shape
from diachrom.core.mix import sound
from diachrom.core.mix.draft import LONGEST_NAME
from diachrom.words import say

FORMAT = "diachrom-plan"
VERSION = 2  # 1 knew no strokes
MOST_POINTS = 4000
KEYS = {"mask": "through"}  # what is called otherwise in the document


def written(plan: Plan) -> dict[str, Any]:
    """Plain values; what is as usual is left out of layers."""
    usual = asdict(Layer(0))
    layers = []
    for layer in plan.layers:
        values = {
            key: value for key, value in asdict(layer).items() if value != usual[key] or key in ("what", "source")
        }
        values["number"] = layer.number
        layers.append({KEYS.get(key, key): value for key, value in values.items()})
    return {
        "format": FORMAT,
        "version": VERSION,
        "name": plan.name,
        "note": plan.note,
        "blank": asdict(plan.blank),
        "layers": layers,
        "light": plan.light,
        "reference": plan.reference,
        "stencils": [[key, polygons] for key, polygons in plan.stencils],
        "prepared": list(plan.prepared),
        "eyes": plan.eyes,
        "conditions": {key: getattr(plan, key) for key in BOUNDS},
        "accepted": [list(one) for one in plan.accepted],
        "fog": plan.fog,
    }


def shape(values: object) -> Shape:
    """A blank of one's own. Raises what damaged values raise."""
    if not isinstance(values, Mapping):
        raise TypeError
    outline, marks = values["outline"], values.get("landmarks", {})
    curves = [tuple((float(u), float(size)) for u, size in outline[key]) for key in ("upper", "lower", "half")]
    if any(len(curve) < 2 or len(curve) > 200 or any(abs(x) > 5 for pair in curve for x in pair) for curve in curves):
        raise ValueError("outline")
    if any(a[0] >= b[0] for one in curves for a, b in pairwise(one)):
        raise ValueError("outline")
    power = min(max(float(outline.get("power", 2.0)), ROUNDEST), SQUAREST)
    facets = int(sound.whole(outline.get("facets", 0), 0, 8) or 0)
    usual = Landmarks()
    given: dict[str, Any] = {key: _number(marks[key], -1, 2) for key in vars(usual) if key in marks and key != "fins"}
    landmarks = replace(usual, **given)
    fins = tuple((float(u), float(v), float(size)) for u, v, size in marks.get("fins", Landmarks().fins))[:8]
    fittings = tuple(
        Fitting(
            sound.text(one["key"], 20),
            sound.text(one["words"], 40),
            tuple((float(u), float(high)) for u, high in one["points"])[:60],
            sound.text(one.get("stuff", "hard"), 20),
            painted=bool(one.get("painted", True)),
            halves=_halves(one.get("halves", (0.0, 0.0))),
            form=form if (form := sound.text(one.get("form", ""), 20)) in PLATES else "",
        )
        for one in values.get("fittings", ())[:12]
    )
    return Shape(
        key="own",
        words=sound.text(values.get("words"), LONGEST_NAME) or say("a blank of one's own"),
        outline=Outline(curves[0], curves[1], curves[2], power, facets),
        usual_mm=sound.number(values.get("usual_mm"), blanks.SHORTEST_MM, blanks.LONGEST_MM) or 100.0,
        material=sound.text(values.get("material", "wood"), 20),
        landmarks=replace(landmarks, fins=fins),
        fittings=fittings,
        joints=tuple(sorted(float(u) for u in values.get("joints", ()) if 0.05 < float(u) < 0.95))[:6],
        scales=sound.number(values.get("scales", 0.0), 0, 0.2) or 0.0,
        gill_plate=bool(values.get("gill_plate", True)),
        eye_sockets=bool(values.get("eye_sockets", True)),
    )


def _number(value: object, least: float, most: float) -> float:
    number = sound.number(value, least, most)
    if number is None:
        raise ValueError(value)
    return number


def _halves(values: Sequence[float]) -> tuple[float, float]:
    root, end = (min(max(float(value), 0.0), 0.5) for value in values)
    return root, end


def outlines(polygons: Any) -> Polygons:
    """Closed outlines in mm. Raises what damaged values raise."""
    found = tuple(tuple((float(x), float(y)) for x, y in polygon) for polygon in polygons)
    if sum(len(one) for one in found) > MOST_POINTS or any(abs(x) > 1e5 for one in found for pair in one for x in pair):
        raise ValueError("stencil")
    return found
