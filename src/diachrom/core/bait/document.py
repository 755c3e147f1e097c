"""A plan as an open document: plain values for JSON, out and in. What comes from anywhere is brought within bounds, and
what had to be left out is said."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, fields, replace
from itertools import pairwise
from typing import Any, TypeVar

from diachrom.core.bait import blank as blanks
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.mask import Mask, Polygons
from diachrom.core.bait.outline import ROUNDEST, SQUAREST, Outline
from diachrom.core.bait.plan import BOUNDS, EYES, MOST_LAYERS, PREPARATIONS, Layer, Plan, checked_layer
from diachrom.core.bait.regions import Box
from diachrom.core.bait.shapes import Fitting, Landmarks, Shape
from diachrom.core.mix import sound
from diachrom.core.mix.draft import LONGEST_NAME, LONGEST_NOTE
from diachrom.errors import DiachromError

FORMAT = "diachrom-plan"
VERSION = 1
MOST_POINTS = 4000
KEYS = {"mask": "through"}  # what is called otherwise in the document
T = TypeVar("T")


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
    }


def read(values: object) -> tuple[Plan, str]:
    """A plan of what was kept or given, and in words what could not be read of it, "" when all could."""
    if not isinstance(values, Mapping):
        return Plan(), "It cannot be read: it is shown empty."
    wrong: list[str] = []
    usual = Plan()
    work: dict[str, Any] = {}
    prepared = values.get("prepared")
    if isinstance(prepared, list):
        work["prepared"] = tuple(key for key in PREPARATIONS if key in prepared)
    eyes = values.get("eyes")
    if isinstance(eyes, str) and eyes in EYES:
        work["eyes"] = eyes
    conditions = values.get("conditions")
    for key, (least, most) in BOUNDS.items():
        number = sound.number(conditions.get(key) if isinstance(conditions, Mapping) else None, least, most)
        if number is not None:
            work[key] = int(number) if isinstance(getattr(usual, key), int) else number
    pairs = values.get("accepted")
    kept = [sound.parse_or_default(_accepted, one, None) for one in (pairs[:200] if isinstance(pairs, list) else ())]
    work["accepted"] = tuple(one for one in kept if one is not None)
    found = Plan(
        name=sound.text(values.get("name"), LONGEST_NAME),
        note=sound.text(values.get("note"), LONGEST_NOTE),
        blank=_blank(values.get("blank"), wrong),
        light=sound.light_key(values.get("light")) or "D65",
        reference=sound.whole(values.get("reference"), 1, sound.LARGEST_NUMBER),
        stencils=_stencils(values.get("stencils")),
        **work,
    )
    given = values.get("layers", ())
    rows = given if isinstance(given, Sequence) and not isinstance(given, str) else ()
    taken: set[int] = set()
    for index, one in enumerate(rows[:MOST_LAYERS], start=1):
        layer = sound.parse_or_default(_layer, one, None)
        if layer is None:
            wrong.append(f"layer {index} cannot be read and is left out")
            continue
        if layer.number in taken:
            layer = replace(layer, number=max(taken) + 1)
        taken.add(layer.number)
        found = replace(found, layers=(*found.layers, layer))
    if len(rows) > MOST_LAYERS:
        wrong.append(f"of {len(rows)} layers the first {MOST_LAYERS} are taken")
    said = "; ".join(wrong)
    return found, f"{said[:1].upper()}{said[1:]}." if said else ""


def _accepted(pair: Any) -> tuple[str, str]:
    check, note = pair
    return sound.text(check, 60), sound.text(note, LONGEST_NOTE)


def _of(kind: Callable[..., T], values: object) -> T:
    """A dataclass of those values that it knows, and are of its kind. Raises what such values raise."""
    if not isinstance(values, Mapping):
        raise TypeError
    usual = kind()
    own: dict[str, Any] = {}
    for one in fields(usual):  # type: ignore[arg-type]
        if one.name in values:
            own[one.name] = _as(getattr(usual, one.name), values[one.name], one.name)
    return kind(**own)


def _as(usual: object, value: object, name: str) -> object:
    if isinstance(usual, bool):
        return bool(value)
    if isinstance(usual, (int, float)):
        number = sound.number(value, -1e6, 1e6)
        if number is None:
            raise ValueError(name)
        return int(number) if isinstance(usual, int) else number
    if isinstance(usual, str):
        return sound.text(value, 200)
    return value


def _layer(values: object) -> Layer:
    """Raises what damaged values raise."""
    if not isinstance(values, Mapping):
        raise TypeError
    plain = {key: value for key, value in values.items() if key not in ("box", "soft_mm", "mask", "through")}
    layer = _of(lambda **own: Layer(**{"number": 1, **own}), plain)
    box = values.get("box")
    soft_mm = values.get("soft_mm")
    layer = replace(
        layer,
        name=sound.text(values.get("name"), LONGEST_NAME),
        box=None if box is None else Box(**{key: float(box[key]) for key in ("u0", "u1", "v0", "v1")}),
        soft_mm=None if soft_mm is None else float(soft_mm),
        mask=_of(Mask, values.get("through", {})),
    )
    try:
        return checked_layer(layer)
    except DiachromError as error:
        raise ValueError(str(error)) from error


def _blank(values: object, wrong: list[str]) -> Blank:
    try:
        if not isinstance(values, Mapping):
            raise TypeError
        plain = {key: value for key, value in values.items() if key not in ("own", "tail_painted")}
        found = _of(Blank, plain)
        own, painted = values.get("own"), values.get("tail_painted")
        found = replace(
            found, own=None if own is None else shape(own), tail_painted=None if painted is None else bool(painted)
        )
        return blanks.checked(found)
    except (*sound.UNREADABLE, DiachromError):
        if values is not None:
            wrong.append("its blank cannot be read; a minnow of 110 mm stands in its place")
        return Blank()


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
    landmarks = _of(Landmarks, {key: value for key, value in marks.items() if key != "fins"})
    fins = tuple((float(u), float(v), float(size)) for u, v, size in marks.get("fins", Landmarks().fins))[:8]
    fittings = tuple(
        Fitting(
            sound.text(one["key"], 20),
            sound.text(one["words"], 40),
            tuple((float(u), float(high)) for u, high in one["points"])[:60],
            sound.text(one.get("stuff", "hard"), 20),
            painted=bool(one.get("painted", True)),
            halves=_halves(one.get("halves", (0.0, 0.0))),
        )
        for one in values.get("fittings", ())[:12]
    )
    return Shape(
        key="own",
        words=sound.text(values.get("words"), LONGEST_NAME) or "a blank of one's own",
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


def _halves(values: Sequence[float]) -> tuple[float, float]:
    root, end = (min(max(float(value), 0.0), 0.5) for value in values)
    return root, end


def _stencils(values: object) -> tuple[tuple[str, Polygons], ...]:
    found = []
    for one in values[:MOST_LAYERS] if isinstance(values, Sequence) and not isinstance(values, str) else ():
        own = sound.parse_or_default(_stencil, one, None)
        if own is not None:
            found.append(own)
    return tuple(found)


def _stencil(values: Any) -> tuple[str, Polygons]:
    key, polygons = values
    return sound.text(key, 80), outlines(polygons)


def outlines(polygons: Any) -> Polygons:
    """Closed outlines in mm. Raises what damaged values raise."""
    found = tuple(tuple((float(x), float(y)) for x, y in polygon) for polygon in polygons)
    if sum(len(one) for one in found) > MOST_POINTS or any(abs(x) > 1e5 for one in found for pair in one for x in pair):
        raise ValueError("stencil")
    return found
