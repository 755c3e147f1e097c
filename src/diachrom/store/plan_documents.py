"""A plan's document read back: what comes from anywhere is brought within bounds, what had to be left out is said."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, BeforeValidator, Field, TypeAdapter

from diachrom.core.bait import blank as blanks
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.document import KEYS, outlines, shape
from diachrom.core.bait.mask import Polygons
from diachrom.core.bait.plan import BOUNDS, EYES, MOST_LAYERS, PREPARATIONS, Layer, Plan, checked_layer
from diachrom.core.mix import sound
from diachrom.core.mix.draft import LONGEST_NAME, LONGEST_NOTE
from diachrom.errors import DiachromError
from diachrom.store import kept
from diachrom.words import capitalized, say

MOST_ACCEPTED = 200
USUAL = Plan()
LAYER, BLANK = TypeAdapter(Layer), TypeAdapter(Blank)


def _text(longest: int) -> BeforeValidator:
    return BeforeValidator(lambda value: sound.text(value, longest))


def _bound(key: str) -> Any:
    least, most = BOUNDS[key]
    return Field(getattr(USUAL, key), ge=least, le=most)


class Conditions(BaseModel):
    """In which the work is done, and for how many."""

    temperature_c: kept.Number = _bound("temperature_c")
    humidity_percent: kept.Number = _bound("humidity_percent")
    baits: kept.Whole = _bound("baits")
    cup_ml: kept.Number = _bound("cup_ml")


class KeptPlan(BaseModel):
    """A plan's document but for its blank and its layers."""

    name: Annotated[str, _text(LONGEST_NAME)] = ""
    note: Annotated[str, _text(LONGEST_NOTE)] = ""
    light: Annotated[str, AfterValidator(lambda key: sound.light_key(key) or "D65")] = "D65"
    reference: Annotated[kept.Whole, Field(ge=1)] | None = None
    stencils: list[tuple[Annotated[str, _text(80)], Annotated[Any, AfterValidator(outlines)]]] = []
    prepared: list[Any] = []
    eyes: str = USUAL.eyes
    fog: bool = True
    conditions: Conditions = Conditions()
    accepted: list[tuple[Annotated[str, _text(60)], Annotated[str, _text(LONGEST_NOTE)]]] = []


PLAN = TypeAdapter(KeptPlan)


def read(values: object) -> tuple[Plan, str]:
    """A plan of what was kept or given, and in words what could not be read of it, "" when all could."""
    if not isinstance(values, Mapping):
        return Plan(), say("It cannot be read: it is shown empty.")
    wrong: list[str] = []
    held, _ = kept.pruned(PLAN, {key: one for key, one in values.items() if key not in ("blank", "layers")}, KeptPlan())
    stencils: list[tuple[str, Polygons]] = held.stencils[:MOST_LAYERS]
    found = Plan(
        name=held.name,
        note=held.note,
        blank=_blank(values.get("blank"), wrong),
        light=held.light,
        reference=held.reference,
        stencils=tuple(stencils),
        prepared=tuple(key for key in PREPARATIONS if key in held.prepared),
        eyes=held.eyes if held.eyes in EYES else USUAL.eyes,
        accepted=tuple(held.accepted[:MOST_ACCEPTED]),
        fog=held.fog,
        **vars(held.conditions),
    )
    given = values.get("layers")
    rows = given if isinstance(given, (list, tuple)) else ()
    taken: set[int] = set()
    for index, one in enumerate(rows[:MOST_LAYERS], start=1):
        try:
            layer = _layer(one)
        except (*sound.UNREADABLE, DiachromError):
            wrong.append(say("layer {index} cannot be read and is left out", index=index))
            continue
        if layer.number in taken:
            layer = replace(layer, number=max(taken) + 1)
        taken.add(layer.number)
        found = replace(found, layers=(*found.layers, layer))
    if len(rows) > MOST_LAYERS:
        wrong.append(say("of {count} layers the first {most} are taken", count=len(rows), most=MOST_LAYERS))
    said = "; ".join(map(str, wrong))
    return found, f"{capitalized(said)}." if said else ""


def _layer(values: Any) -> Layer:
    """Raises what damaged values raise."""
    told = {"number": 1, **{key: value for key, value in values.items() if key not in KEYS}}
    told |= {key: values.get(as_kept) or {} for key, as_kept in KEYS.items()}
    layer = LAYER.validate_python(told)
    mask = replace(layer.mask, stencil=sound.text(layer.mask.stencil, 200))
    name, source = sound.text(layer.name, LONGEST_NAME), sound.text(layer.source, 200)
    return checked_layer(replace(layer, name=name, source=source, mask=mask))


def _blank(values: Any, wrong: list[str]) -> Blank:
    if values is None:
        return Blank()
    try:
        own = values.get("own")
        found = BLANK.validate_python({key: value for key, value in values.items() if key != "own"})
        return blanks.checked(replace(found, own=None if own is None else shape(own)))
    except (*sound.UNREADABLE, DiachromError):
        wrong.append("its blank cannot be read; a minnow of 110 mm stands in its place")
        return Blank()
