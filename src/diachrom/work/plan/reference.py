"""A plan from a reference photo: straightened, its zones proposed and corrected, their colours matched together, and
each laid when the painter says so."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait import zones as found_zones
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.zones import Zone, in_order
from diachrom.core.match.judge import Match
from diachrom.core.mix.draft import RECIPE_GROUND, Draft, Part
from diachrom.errors import InvalidInput, NotFound
from diachrom.exchange import images, photos
from diachrom.store import plans as kept_plans
from diachrom.store import recipes, references
from diachrom.store.connection import writing
from diachrom.store.plans import PlanNow
from diachrom.store.references import Reference
from diachrom.store.targets import SeenAs
from diachrom.words import say
from diachrom.work.kit import photo_picks
from diachrom.work.kit.tasks import Tasks
from diachrom.work.match import several, targets
from diachrom.work.match.several import SeveralTask
from diachrom.work.plan import plans

AROUND_LENGTHS = 0.10  # above and below the blank's outline
DISC = 9  # pixels of the straightened picture
Point = tuple[float, float]


def bring(connection: sqlite3.Connection, number: int, name: str, content: bytes, *, at: str) -> int:
    """Keep a photo as a plan's reference. Raises BadFile, NotFound."""
    plans.now(connection, number)
    photo = photo_picks.keep(connection, name, content, at=at)
    with writing(connection):
        reference = references.add(connection, photo, at=at)
    plans.change(
        connection, number, lambda plan: replace(plan, reference=reference), did=say("a reference photo"), at=at
    )
    return reference


def of(connection: sqlite3.Connection, number: int) -> tuple[PlanNow, Reference | None]:
    """A plan and its reference photo. Raises NotFound."""
    now = plans.now(connection, number)
    return now, None if now.plan.reference is None else references.one(connection, now.plan.reference)


def of_plan(connection: sqlite3.Connection, plan: Plan) -> Reference:
    """A plan's reference photo; nothing of it where there is none any more."""
    try:
        return references.one(connection, plan.reference or 0)
    except NotFound:
        return Reference(0, 0, None, ())


def _reference(connection: sqlite3.Connection, number: int) -> tuple[PlanNow, Reference]:
    now, reference = of(connection, number)
    if reference is None:
        raise InvalidInput(say("Add a photo first."), field="photo")
    return now, reference


def _high(now: PlanNow) -> float:
    """Of the straightened picture, in lengths of the bait."""
    u = np.linspace(0, 1, 41)
    upper, lower, _ = now.plan.blank.form.outline.edges(u)
    return 2 * float(max(upper.max(), -lower.min()) + AROUND_LENGTHS)


def straighten(connection: sqlite3.Connection, number: int, nose: Point, tail: Point) -> None:
    """Say where nose and tail are; its zones are proposed. Raises InvalidInput where no bait is between them."""
    now, reference = _reference(connection, number)
    picture = photos.straightened(photo_picks.photo(connection, reference.photo).picture, nose, tail, _high(now))
    inside = found_zones.silhouette(now.plan.blank.form.outline, picture.shape[:2], photos.MARGIN)
    proposed = found_zones.proposed(photos.lab_of(picture), inside)
    with writing(connection):
        references.straighten(connection, reference.id, (nose, tail))
        references.set_zones(connection, reference.id, in_order(proposed))


def straightened(connection: sqlite3.Connection, number: int) -> bytes:
    """A PNG of the straightened photo. Raises InvalidInput, NotFound."""
    now, reference = _reference(connection, number)
    if reference.ends is None:
        raise InvalidInput(say("Touch nose and tail first."), field="photo")
    picture = photos.straightened(photo_picks.photo(connection, reference.photo).picture, *reference.ends, _high(now))
    return images.png(picture.astype(np.float64), np.ones(picture.shape[:2], dtype=bool))


def touch(connection: sqlite3.Connection, number: int, which: int, x: float, y: float) -> None:
    """A zone's colour is what the straightened photo shows at this place, in shares of its width and height. A zone
    that there is not yet is a new one. Raises InvalidInput."""
    now, reference = _reference(connection, number)
    if reference.ends is None:
        raise InvalidInput(say("Touch nose and tail first."), field="photo")
    picture = photos.straightened(photo_picks.photo(connection, reference.photo).picture, *reference.ends, _high(now))
    height, width, _ = picture.shape
    row, column = min(int(y * height), height - 1), min(int(x * width), width - 1)
    part = picture[max(0, row - DISC) : row + DISC, max(0, column - DISC) : column + DISC]
    lab = np.median(photos.lab_of(part).reshape(-1, 3), axis=0)
    point = (float(lab[0]), float(lab[1]), float(lab[2]))
    zones = list(reference.zones)
    if which < len(zones):
        zones[which] = replace(zones[which], lab=point, target=None)
    elif len(zones) >= found_zones.MOST_ZONES:
        raise InvalidInput(
            say("At most {most_zones} zones are matched together.", most_zones=found_zones.MOST_ZONES), field="zone"
        )
    else:
        zones.append(Zone(say("zone {count}", count=len(zones) + 1), "flank", "free", point, 0.0))
    _keep(connection, reference, zones)


def change(connection: sqlite3.Connection, number: int, which: int, *, name: str, region: str) -> None:
    """Raises InvalidInput."""
    _, reference = _reference(connection, number)
    zones = list(reference.zones)
    if which >= len(zones) or region not in REGIONS:
        raise InvalidInput(say("There is no such zone."), field="zone")
    zones[which] = replace(zones[which], name=" ".join(name.split())[:60] or zones[which].name, region=region)
    _keep(connection, reference, zones)


def leave_out(connection: sqlite3.Connection, number: int, which: int) -> None:
    """Leave a zone out, or take it in again."""
    _, reference = _reference(connection, number)
    _keep(connection, reference, [zone for index, zone in enumerate(reference.zones) if index != which])


def _keep(connection: sqlite3.Connection, reference: Reference, zones: Sequence[Zone]) -> None:
    with writing(connection):
        references.set_zones(connection, reference.id, zones)


def match(connection: sqlite3.Connection, tasks: Tasks, number: int, *, at: str) -> None:
    """Each zone becomes a target, and all are matched together. Raises InvalidInput."""
    now, reference = _reference(connection, number)
    if len(reference.zones) < 2:
        raise InvalidInput(
            say("Two or more zones are matched together: touch their colours in the photo."), field="zone"
        )
    source = say("reference of {what}", what=now.plan.name or say("plan {number}", number=number))
    zones = []
    for zone in reference.zones:
        target = zone.target
        if target is None:
            labs = np.array(zone.lab)
            labs[0] = np.clip(labs[0], 0, 100)
            seen = SeenAs("white", clear_coat=True)
            target = targets.add(connection, name=zone.name, source=source, labs=labs, spectrum=None, seen=seen, at=at)
        zones.append(replace(zone, target=target))
    _keep(connection, reference, zones)
    several.start(connection, tasks, [zone.target for zone in zones if zone.target is not None])


@dataclass(frozen=True, eq=False)
class ZoneMix:
    """A zone with the mix that was found for it."""

    zone: Zone
    mix: Match
    parts: tuple[Part, ...]


def mixes(task: SeveralTask | None, reference: Reference) -> list[ZoneMix]:
    """As far as they are found."""
    if task is None or task.palette is None:
        return []
    by_target = {target.id: mix for target, mix in zip(task.targets, task.palette.mixes, strict=True)}
    found = []
    for zone in reference.zones:
        mix = by_target.get(zone.target or 0)
        if mix is not None:
            parts = [
                Part(candidate.bottle.id, drops, candidate.drop_ml)
                for candidate, drops in task.parts(mix)
                if candidate.bottle is not None
            ]
            found.append(ZoneMix(zone, mix, tuple(parts)))
    return found


def lay(connection: sqlite3.Connection, tasks: Tasks, number: int, which: int, *, at: str) -> str:
    """Keep a zone's mix as a recipe, and lay it on the plan; returns what was done. Raises InvalidInput."""
    now, reference = _reference(connection, number)
    zone = next((one for one in mixes(several.now(tasks), reference) if reference.zones.index(one.zone) == which), None)
    if zone is None:
        raise InvalidInput(say("There is no mix for that zone yet: match the zones first."), field="zone")
    name = f"{now.plan.name or say('Plan {number}', number=number)}, {zone.zone.name}"[:80]
    draft = Draft(parts=zone.parts, name=name, note="For a zone of a reference photo.").to_save()
    with writing(connection):
        recipe = recipes.new_recipe(connection)
        recipes.add_version(connection, draft, recipe=recipe, parent_version=None, at=at)
        standing = kept_plans.now(connection, number)
        plan = standing.plan.with_layer(
            _layer(zone.zone, f"{RECIPE_GROUND}{recipe}:1", name), at=standing.plan.beneath_clear
        )
        kept_plans.append(connection, standing, plan, did=say("adding {name}", name=zone.zone.name), at=at)
    return say("{name} is recipe {recipe}, and is on the plan.", name=name, recipe=recipe)


ORIGIN_OF = {"back": "above", "spine": "above", "shoulder": "shoulder", "belly": "below", "throat": "below"}


def _layer(zone: Zone, source: str, name: str) -> Layer:
    way = MASKS.get(zone.through, MASKS["free"]).usual()
    origin = "side" if zone.through != "free" else ORIGIN_OF.get(zone.region, "side")
    return Layer(0, "recipe", source, name, region=zone.region, origin=origin, mask=way)
