"""What can be done to a plan. Every change is one step that can be undone, and is kept at once."""

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from diachrom.core.bait import blank as blanks
from diachrom.core.bait import masks
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.document import FORMAT, VERSION, written
from diachrom.core.bait.plan import MASK, WHATS, Layer, Plan
from diachrom.core.bait.regions import REGIONS, Box
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.lights import light
from diachrom.core.mix.draft import LONGEST_NOTE, RECIPE_GROUND
from diachrom.errors import BadFile, InvalidInput
from diachrom.store import plans, recipes
from diachrom.store.connection import writing
from diachrom.store.plan_documents import read
from diachrom.store.plans import PlanNow, PlanVersion
from diachrom.words import listed, quantity, say
from diachrom.work.kit import airbrushes
from diachrom.work.plan.painting import recipe_numbers, stencils_of


def now(connection: sqlite3.Connection, number: int) -> PlanNow:
    """Raises NotFound."""
    return plans.now(connection, number)


def new(connection: sqlite3.Connection, blank: Blank, *, name: str = "", at: str) -> int:
    """Begin a plan on a blank; returns its number. Raises InvalidInput."""
    plan = Plan(blank=blanks.checked(blank)).named(name=name, note="")
    with writing(connection):
        return plans.new(connection, plan, did="beginning", at=at)


def from_document(connection: sqlite3.Connection, name: str, values: Any, *, at: str) -> tuple[int, str]:
    """A plan out of a document; returns its number, and what of it could not be read: that stands in its note. Raises
    BadFile."""
    plan, problem = read_document(name, values)
    note = "\n".join(part for part in (plan.note, problem) if part)[:LONGEST_NOTE]
    with writing(connection):
        own = replace(plan, reference=None, note=note)
        return plans.new(connection, own, did=say("bringing {name}", name=name[:60]), at=at), problem


def read_document(name: str, values: Any) -> tuple[Plan, str]:
    """The same without keeping it. Raises BadFile."""
    if not isinstance(values, dict) or values.get("format") != FORMAT:
        raise BadFile(name, say("it is no plan of a bait."))
    if not isinstance(values.get("version"), int) or values["version"] > VERSION:
        raise BadFile(name, say("it was written by a newer version."))
    return read(values)


def document(connection: sqlite3.Connection, plan: Plan) -> dict[str, Any]:
    """A plan as it goes out: with the stencils that it uses, so that it stands by itself."""
    used = {layer.mask.stencil for layer in plan.layers if layer.mask.kind == "stencil"}
    own = tuple((key, outlines) for key, outlines in stencils_of(connection, plan).items() if key in used)
    return written(replace(plan, stencils=own, reference=None))


def change(connection: sqlite3.Connection, number: int, how: Callable[[Plan], Plan], *, did: str, at: str) -> PlanNow:
    """Change a plan as it stands at this moment, whoever else is changing it. Raises what `how` raises."""
    with writing(connection):
        standing = plans.now(connection, number)
        plan = how(standing.plan)
        if plan != standing.plan:
            plans.append(connection, standing, plan, did=did, at=at)
        return plans.now(connection, number)


def undo(connection: sqlite3.Connection, number: int, *, back: bool = True, at: str) -> str | None:
    """Take a step back."""
    with writing(connection):
        return plans.move(connection, number, back=back, at=at)


def layer_of(connection: sqlite3.Connection, what: str, source: str) -> Layer:
    """A new layer of a kind, as it is usually laid. Raises InvalidInput, RecipeNotFound."""
    if what not in WHATS:
        raise InvalidInput(say("There is no kind of layer called '{what}'.", what=what[:30]), field="what")
    kind = WHATS[what]
    layer = Layer(0, what=what, source=source, film_um=kind.film_um or 8.0, coats=1 if not kind.paint else 2)
    if kind.paint:
        layer = airbrushes.mine(connection).taken_by(layer)
    if what == "foil" and source not in GROUNDS:
        return replace(layer, source="silver-foil", mask=masks.MASKS["tape"].usual(), region="sides")
    if what == "part":
        shape = replace(masks.MASKS["stencil"].usual(), stencil="fin-back", anchor="back", size_mm=20.0)
        return replace(layer, source=source or "silver-foil", mask=shape, mirrored=True)
    if what == "wash":
        if not source:
            raise InvalidInput(say("A wash is of a paint: choose which, and add it as a wash."), field="source")
        return replace(layer, mask=masks.MASKS["wash"].usual(), coats=1)
    if what == "clear":
        return replace(layer, source="", wait_h=24.0)
    if what == MASK:
        return replace(layer, mask=masks.MASKS["net"].usual())
    if not kind.lies:
        return replace(layer, region="flank" if what == "rub" else "all")
    if source.startswith(RECIPE_GROUND):
        numbers = recipe_numbers(source)
        if numbers is None:
            raise InvalidInput(say("That is no recipe."), field="source")
        saved = recipes.version(connection, *numbers)
        draft = saved.draft
        return replace(
            layer,
            source=f"{RECIPE_GROUND}{saved.recipe}:{saved.version}",
            name=draft.name,
            film_um=min(max(draft.film_um, 0.5), 200.0),
            coats=draft.coats,
            sealed=draft.sealed,
        )
    return layer


def moved_edges(layer: Layer, edges: dict[str, float], blank: Blank) -> Layer:
    """With edges of its region dragged; those that are not named stay. Raises InvalidInput."""
    old = layer.edges(blank.form.landmarks)
    box = Box(*(float(edges.get(key, getattr(old, key))) for key in ("u0", "u1", "v0", "v1")))
    return replace(layer, box=box)


def in_region(layer: Layer, region: str) -> Layer:
    """In another region, with its usual edges. Raises InvalidInput."""
    if region not in REGIONS:
        raise InvalidInput(say("There is no region called '{region}'.", region=region[:30]), field="region")
    return replace(layer, region=region, box=None)


def look_at(connection: sqlite3.Connection, number: int, light_key: str, *, at: str) -> PlanNow:
    """Choose the light in which it is looked at. Raises UnknownLight."""
    key = light(light_key).key
    return change(
        connection, number, lambda plan: replace(plan, light=key), did=say("looking at it in {key}", key=key), at=at
    )


def set_fog(connection: sqlite3.Connection, number: int, *, seen: bool, at: str) -> PlanNow:
    """Show what flies past free edges, or leave it out."""
    did = say("showing the overspray") if seen else say("leaving the overspray out")
    return change(connection, number, lambda plan: replace(plan, fog=seen), did=did, at=at)


@dataclass(frozen=True)
class Saved:
    version: int
    is_new: bool


def save(connection: sqlite3.Connection, number: int, *, at: str) -> Saved:
    """Save a plan as its next version, unless it is the last one still. Raises InvalidInput."""
    with writing(connection):
        standing = plans.now(connection, number)
        wanted = standing.plan.to_save()
        known = plans.versions(connection, number)
        if known and known[0].document == wanted:
            return Saved(known[0].version, False)
        parent = known[0].version if known else None
        return Saved(plans.add_version(connection, number, wanted, parent_version=parent, at=at), True)


def versions(connection: sqlite3.Connection, number: int) -> list[PlanVersion]:
    """Every version of a plan, the newest first. Raises NotFound."""
    plans.now(connection, number)
    return plans.versions(connection, number)


def version(connection: sqlite3.Connection, number: int, which: int) -> PlanVersion:
    """Raises NotFound."""
    return plans.version(connection, number, which)


def take_up(connection: sqlite3.Connection, number: int, version: int, *, at: str) -> PlanNow:
    """Go on from an older version; a step that can be undone. Raises NotFound."""
    wanted = plans.version(connection, number, version).document
    return change(connection, number, lambda plan: wanted, did=say("opening version {version}", version=version), at=at)


def copy(connection: sqlite3.Connection, number: int, *, at: str) -> int:
    """Another plan that begins as this one stands. Raises NotFound."""
    plan = plans.now(connection, number).plan
    name = say("{name}, again", name=plan.name)[:80] if plan.name else ""
    with writing(connection):
        return plans.new(connection, replace(plan, name=name), did=say("copying plan {number}", number=number), at=at)


def retire(connection: sqlite3.Connection, number: int, *, retired: bool) -> None:
    """Put a plan away."""
    with writing(connection):
        plans.now(connection, number)
        plans.retire(connection, number, retired=retired)


def differences(one: Plan, other: Plan) -> list[str]:
    """Layer by layer, what changed from one plan to the other, in words."""
    told = []
    if one.blank != other.blank:
        told.append(
            say(
                "blank: {blank_words} became {other_blank_words}",
                blank_words=blank_words(one.blank),
                other_blank_words=blank_words(other.blank),
            )
        )
    before, after = ({layer.number: (at, layer) for at, layer in enumerate(plan.layers, 1)} for plan in (one, other))
    for number, (index, layer) in before.items():
        if number not in after:
            told.append(
                say("layer {index} was removed ({what})", index=index, what=layer.name or WHATS[layer.what].words)
            )
    for number, (index, layer) in after.items():
        if number not in before:
            told.append(say("layer {index} is new ({what})", index=index, what=layer.name or WHATS[layer.what].words))
            continue
        was_at, was = before[number]
        changed = [
            WORDS.get(key, key.replace("_", " ")) for key in vars(layer) if getattr(layer, key) != getattr(was, key)
        ]
        if was_at != index:
            changed.insert(0, say("its place, {was_at} before", was_at=was_at))
        if changed:
            told.append(
                say(
                    "layer {index} ({what}): {changed}",
                    index=index,
                    what=layer.name or WHATS[layer.what].words,
                    changed=listed(changed),
                )
            )
    return told


WORDS = {
    "film_um": "coat",
    "box": "edges",
    "soft_mm": say("softness of its edges"),
    "origin": say("where it is sprayed from"),
    "rake_deg": "lean",
    "distance_mm": "distance",
    "mask": say("what it goes through"),
    "what": say("what is done"),
    "source": "paint",
    "on": say("on or off"),
}


def blank_words(blank: Blank) -> str:
    """ "minnow, 110 mm, plastic, primed white" """
    comes = blank.comes.words
    if blank.comes.foil and blank.foil_on in REGIONS and blank.foil_on != "all":
        comes = say("{comes} on the {region}", comes=comes, region=REGIONS[blank.foil_on].words)
    return say(
        "{words}, {length}, {made_of}, {comes}",
        words=blank.form.words,
        length=quantity(round(blank.length_mm, 1), "g", "mm"),
        made_of=blank.made_of,
        comes=comes,
    )
