"""A layer's form: only what it names is changed."""

from collections.abc import Mapping
from dataclasses import replace

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.mask import Mask
from diachrom.core.bait.masks import MASKS, MOST_MOVED_MM
from diachrom.core.bait.plan import CLEARS, UNMASK, Layer
from diachrom.errors import InvalidInput
from diachrom.units import BAR, MM
from diachrom.words import say
from diachrom.work.kit.fields import Field, number_field
from diachrom.work.kit.figures import figure, whole
from diachrom.work.kit.opened import Store
from diachrom.work.plan import placing, plans, tools

EDGES = {
    "u0": ("nose_from", say("From the nose")),
    "u1": ("nose_to", say("To, from the nose")),
    "v0": ("spine_from", say("From the spine")),
    "v1": ("spine_to", say("To, from the spine")),
}
MOST_SEED = 999_999


def _mm(key: str, words: str, most: float) -> Field:
    return number_field(key, words, least=0, most=most, units=MM)


FIGURES = {
    "film_um": number_field("film_um", say("A coat, µm"), least=0.5, most=200),
    "coats": number_field("coats", say("Coats"), least=1, most=50),
    "distance_mm": _mm("distance_mm", say("Distance, mm"), 500),
    "rake_deg": number_field("rake_deg", say("Lean, °"), least=-80, most=80),
    "soft_mm": _mm("soft_mm", say("Soft edge, mm"), 80),
    "nozzle_mm": _mm("nozzle_mm", say("Nozzle, mm"), 2),
    "pressure_bar": number_field("pressure_bar", say("Pressure, bar"), least=0.2, most=6, units=BAR),
    "medium": number_field("medium", say("Parts of medium"), least=0, most=5),
    "reducer": number_field("reducer", say("Parts of reducer"), least=0, most=5),
    "wait_h": number_field("wait_h", say("Wait, h"), least=0, most=1000),
}
MOVED = {"along_mm": say("Towards the tail"), "down_mm": say("Towards the belly")}
CHOSEN = ("origin", "sides", "name")


def changes_of(store: Store, layer: Layer, form: Mapping[str, str], blank: Blank) -> Layer:
    """A layer as a form has it. Raises InvalidInput."""
    found = layer
    if layer.what == UNMASK:
        found = replace(layer, source=form.get("source", layer.source)[:20])
    elif form.get("source") and form["source"] != layer.source:
        # Of another recipe or paint: where it goes stays.
        source = form["source"]
        if layer.what in ("foil", "clear", "part"):
            found = replace(layer, source=source if layer.what != "clear" or source in CLEARS else "")
        else:
            kind = layer.what if layer.what == "wash" else "recipe" if source.startswith("recipe:") else "paint"
            new = plans.layer_of(store, kind, source)
            found = replace(layer, what=kind, source=new.source, name=new.name, sealed=new.sealed)
    if form.get("region"):
        found = plans.in_region(found, form["region"])
    for key in CHOSEN:
        if key in form:
            found = replace(found, **{key: " ".join(form[key].split())})  # type: ignore[arg-type]
    for key in FIGURES:
        if key == "soft_mm" and key in form and not form[key].strip():
            found = replace(found, soft_mm=None)
        elif key in form:
            value = FIGURES[key].value(form[key])
            if not isinstance(value, float):
                raise InvalidInput(say("{words} is missing.", words=FIGURES[key].words), field=key)
            found = replace(found, **{key: round(value) if key == "coats" else value})  # type: ignore[arg-type]
    if "of_switches" in form:
        found = replace(found, sealed="sealed" in form, mirrored="mirrored" in form)
    return replace(found, mask=tools.still(found.mask, _mask(found.mask, form)))


def _mask(old: Mask, form: Mapping[str, str]) -> Mask:
    mask = old
    if form.get("kind") and form["kind"] != old.kind:
        if form["kind"] not in MASKS:
            raise InvalidInput(say("There is no way of masking called '{form}'.", form=form["kind"][:30]), field="kind")
        mask = replace(MASKS[form["kind"]].usual(), seed=old.seed)
    for field in MASKS[mask.kind].fields:
        if field.key in form:
            text, units = form[field.key].replace("%", ""), MM if field.unit == "mm" else None
            value = figure(text, field.words, key=field.key, least=-1e6, most=1e6, units=units)
            share = value / 100 if field.unit == "%" else value * field.times
            mask = replace(mask, **{field.key: round(share) if field.key == "every" else share})  # type: ignore[arg-type]
    if form.get("stencil"):
        mask = placing.stencilled(mask, form["stencil"][:80])
    if "anchor" in form and form["anchor"] != mask.anchor:
        mask = replace(mask, anchor=form["anchor"][:20], along_mm=0.0, down_mm=0.0)
    for key in ("along_mm", "down_mm"):
        if key in form:
            value = figure(form[key], MOVED[key], key=key, least=-MOST_MOVED_MM, most=MOST_MOVED_MM, units=MM)
            mask = replace(mask, **{key: value})  # type: ignore[arg-type]
    if "seed" in form:
        mask = replace(mask, seed=whole(form["seed"], "Seed", key="seed", most=MOST_SEED))
    if "of_mask" in form:
        mask = replace(mask, turned="turned" in form)
    return mask


def edges_of(form: Mapping[str, str], blank: Blank) -> dict[str, float]:
    """Edges that were dragged, as shares, or typed: in mm, inches, or percent of the length and from spine to belly.
    Raises InvalidInput."""
    surface, found = blank.surface(), dict[str, float]()
    for key, (name, words) in EDGES.items():
        most = 1.0 if key[0] == "u" else 0.5
        if key in form:
            value = figure(form[key], say("An edge"), key=key, least=-1, most=2)
        elif (text := form.get(name, "").strip()) and text.endswith("%"):
            value = most * figure(text[:-1], words, key=name, least=0, most=100) / 100
        elif text:
            whole_mm = surface.length_mm if key[0] == "u" else surface.girth_mm
            value = figure(text, words, key=name, least=0, most=whole_mm, units=MM) / whole_mm
        else:
            continue
        found[key] = min(max(value, 0.0), most)
    if not found:
        raise InvalidInput(say("Say which edge is moved, and where to."), field="box")
    return found
