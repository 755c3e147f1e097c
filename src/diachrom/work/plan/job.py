"""Paint for the job: what each mix of a plan takes for all baits, in ml, drops and cups, bottle by bottle."""

import math
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.bait.amounts import NONE, Amount, amount, masked_away
from diachrom.core.bait.checks.look import Bottle, Look, Seen
from diachrom.core.bait.deposit import Skin, film_um
from diachrom.core.bait.mask import FREE
from diachrom.core.bait.plan import WHATS, Layer, Plan
from diachrom.core.mix.batch import batch
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.mix.overspray_history import LearnedWaste
from diachrom.work.plan.painting import recipe_numbers
from diachrom.work.shelf import shopping

USUAL_DROP_ML = 0.05
CLEAR_SPRAYED = ("waterborne",)
LITTLE_ML = 0.05  # a drop


@dataclass(frozen=True)
class Part:
    """Of one bottle in a mix."""

    name: str
    ml: float
    drops: int
    paint: str = ""  # its id
    bottle: int = 0  # that it is poured from
    drop_ml: float = USUAL_DROP_ML


@dataclass(frozen=True)
class LayerTakes:
    """A layer's own part of a mix, for all baits."""

    place: int  # on its plan, from 1
    name: str
    covers_cm2: float  # of a bait
    ml: float
    drops: int  # of all bottles together


@dataclass(frozen=True)
class Poured:
    """A mix of the plan, poured once for all layers that use it."""

    key: str  # what makes it this mix
    layers: Sequence[LayerTakes]
    name: str
    volume_ml: float
    over_ml: float  # of it, more than the layers take: its ratio is kept
    reaches_ml: float  # of it, the baits and what is masked on them
    cups: int
    parts: Sequence[Part]
    recipe: int | None

    @property
    def over_words(self) -> str:
        """What to do with the rest, "" where there is next to none."""
        if self.over_ml < LITTLE_ML:
            return ""
        return say("{over} over: keep it in a jar or for the next bait", over=quantity(self.over_ml, ".2f", "ml"))


@dataclass(frozen=True)
class BottleTakes:
    """What all layers take of a paint's bottles, and what is left in them."""

    name: str
    paint: str
    needs_ml: float
    left_ml: float
    discontinued: bool
    price: float | None  # of what is taken


@dataclass(frozen=True)
class Job:
    """All paint that a plan takes."""

    poured: Sequence[Poured]
    bottles: Sequence[BottleTakes]
    price: float | None  # of what has one

    @property
    def volume_ml(self) -> float:
        """All that is mixed, ml."""
        return sum(one.volume_ml for one in self.poured)


def takes(layer: Layer, plan: Plan, skin: Skin, waste: LearnedWaste, *, clear_stays_ml: float = 0.0) -> Amount:
    """What has to be mixed for a layer on all baits; what its masks take is sprayed all the same, and what misses
    the bait is as this bench has learned. Of a clear that is brushed or dipped a coat, and what cup and brush keep."""
    if not layer.on or not WHATS[layer.what].sprayed:
        return NONE
    own, fittings = film_um(layer, skin, plan.worn(layer.number)), plan.blank.form.fittings
    if layer.what == "clear" and layer.source not in CLEAR_SPRAYED:  # each coat is mixed anew
        once = {"misses": 0.0, "stays_ml": clear_stays_ml}
        return amount(own / layer.coats, skin.surface, baits=plan.baits, fittings=fittings, **once)
    if layer.strokes and layer.unsprayed:  # none of it flies past
        return amount(own, skin.surface, baits=plan.baits, misses=0.0, stays_ml=waste.stays_ml, fittings=fittings)
    masked = masked_away(own, film_um(replace(layer, mask=FREE), skin), skin.surface)
    misses = 1 - (1 - waste.misses) * max(1 - masked, 0.1)
    return amount(own, skin.surface, baits=plan.baits, misses=misses, stays_ml=waste.stays_ml, fittings=fittings)


def mix_key(layer: Layer) -> str:
    """Layers with the same one are sprayed from the same cup."""
    return f"{layer.source}|{layer.medium:g}|{layer.reducer:g}"


def job(looks: Sequence[Look], waste: LearnedWaste) -> Job:
    """What is poured for all of these plans, and what that takes."""
    groups: dict[str, list[Seen]] = {}
    for look in looks:
        for seen in look.painting:
            groups.setdefault(mix_key(seen.layer), []).append(seen)
    cup_ml = min((look.plan.cup_ml for look in looks), default=9.0)
    poured = [_poured(key, layers, waste, cup_ml) for key, layers in groups.items()]
    needed: dict[str, float] = {}  # by name
    known: dict[str, Bottle] = {}
    for layers, cup in zip(groups.values(), poured, strict=True):
        for bottle, part in zip(layers[0].made.bottles, cup.parts, strict=False):  # what is added comes after them
            needed[bottle.name] = needed.get(bottle.name, 0.0) + part.ml
            known[bottle.name] = bottle
    takes = [_takes(known[name], ml) for name, ml in needed.items()]
    prices = [take.price for take in takes if take.price is not None]
    return Job(poured, takes, sum(prices) if prices else None)


def _takes(bottle: Bottle, ml: float) -> BottleTakes:
    price = None if bottle.price_ml is None else bottle.price_ml * ml
    return BottleTakes(
        name=bottle.name,
        paint=bottle.paint,
        needs_ml=ml,
        left_ml=bottle.left_ml,
        discontinued=bottle.discontinued,
        price=price,
    )


def _poured(key: str, layers: Sequence[Seen], waste: LearnedWaste, cup_ml: float) -> Poured:
    """A mix for all of its layers: what stays in the cup stays there once."""
    first = layers[0]
    needs = [seen.made.amount.volume_ml for seen in layers]
    whole = sum(needs) - (len(layers) - 1) * waste.stays_ml
    wanted = whole / first.thinned_by
    bottles = first.made.bottles
    made = batch([one.drops for one in bottles], [one.drop_ml for one in bottles], wanted)
    parts = [
        Part(
            name=bottle.name,
            ml=drops * bottle.drop_ml,
            drops=drops,
            paint=bottle.paint,
            bottle=bottle.bottle,
            drop_ml=bottle.drop_ml,
        )
        for bottle, drops in zip(bottles, made.drops, strict=True)
    ]
    parts += [
        Part(say("{word}, added", word=word), share * made.ml, max(1, round(share * made.ml / USUAL_DROP_ML)))
        for word, share in (("medium", first.layer.medium), ("reducer", first.layer.reducer))
        if share > 0
    ]
    volume = sum(part.ml for part in parts)
    return Poured(
        key=key,
        layers=[
            LayerTakes(
                place=one.place,
                name=one.layer.name or one.made.words,
                covers_cm2=one.made.amount.covers_mm2 / 100,
                ml=ml,
                drops=round(sum(part.drops for part in parts) * ml / whole),
            )
            for one, ml in zip(layers, needs, strict=True)
        ],
        name=first.layer.name or first.made.words,
        volume_ml=volume,
        over_ml=max(0.0, volume - whole),
        reaches_ml=max(whole - waste.stays_ml, 0.0) * (1 - waste.misses),
        cups=math.ceil(volume / cup_ml - 1e-9),
        parts=parts,
        recipe=numbers[0] if (numbers := recipe_numbers(first.layer.source)) else None,
    )


def put_on_list(connection: sqlite3.Connection, wanted: Job, *, when: str) -> tuple[int, int]:
    """Put what is poured on the shopping list, in the place of what stood there of these recipes: how many recipes,
    and how many mixes are bottles by themselves, which the list knows by their level alone."""
    volumes: dict[int, float] = {}
    for one in wanted.poured:
        if one.recipe is not None:
            volumes[one.recipe] = volumes.get(one.recipe, 0.0) + one.volume_ml
    with writing(connection):
        for recipe, ml in volumes.items():
            shopping.put_down(connection, recipe, min(round(ml, 2), shopping.MOST_COMING_ML), at=when)
    return len(volumes), sum(one.recipe is None for one in wanted.poured)
