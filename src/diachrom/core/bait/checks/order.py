"""Order and grip: what lies on what, and what was waited."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

import numpy as np

from diachrom.core.bait.checks import mends
from diachrom.core.bait.checks.look import FACING, Found, Look, Seen
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import MASK, UNMASK, WHATS, Layer
from diachrom.core.film.kinds import keys
from diachrom.core.light.bands import Floats, Ints
from diachrom.core.light.difference import delta_e
from diachrom.words import listed, quantity, say

CARRIED, FIRST_CARRIER = 0.05, 0.1  # of a mix; parts
TOUCH_DRY_UM, TOUCH_DRY_H = 30.0, 0.5
CURED_H = 24.0
SEEN_DE, SURELY_SEEN_DE = 2.0, 6.0
FORWARD = 0.5  # of scattering, that turns light back
CLEARS = ("clear", "varnish", "sealer")
DYES = keys("dye")
CARRIERS = keys("carries")


def _candies(look: Look) -> list[Seen]:
    return [seen for seen in look.painting if seen.of_kind("candy", least=0.3)]


def candy_without_carrier(look: Look) -> Iterator[Found]:
    """Candy with too little medium to grip."""
    for seen in _candies(look):
        if seen.share("medium") + seen.layer.medium / (1 + seen.layer.medium) < CARRIED:
            yield Found(
                say(
                    "{name}: a dye has no binder of its own; without medium it chips off with the clear.",
                    name=seen.name,
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, say("Add a part of medium to ten"), medium=FIRST_CARRIER),),
            )


def candy_unsealed(look: Look) -> Iterator[Found]:
    """Candy whose dye rises into what is laid on it."""
    for seen in _candies(look):
        if seen.layer.sealed:
            continue
        over, through = _risen_into(look, seen)
        if over is None:
            continue
        words = say("its dye rises into {name}, which lies on it unsealed.", name=over.name)
        if through:
            words = say(
                "its dye rises through {name} into {other_name}: a candy holds no dye back.",
                name=through[0].name,
                other_name=over.name,
            )
        yield Found(
            f"{seen.name}: {words}",
            (seen.number, over.number),
            over.at,
            (
                mends.changed(seen, say("Seal it first"), sealed=True),
                mends.moved_last(seen, say("Spray the candy last")),
            ),
        )


def _risen_into(look: Look, seen: Seen) -> tuple[Seen | None, list[Seen]]:
    """The paint that a candy's dye reaches, and the candies that it goes through on its way: they hold no dye back."""
    left, through = seen.there, list[Seen]()
    for other in look.above(seen):
        meets = left & other.there
        if not other.lands or not meets.any():
            continue
        if not other.paints:  # a seal, where it lies
            left = left & ~other.there
        elif other not in _candies(look):
            return other, through
        elif other.layer.sealed:
            left = left & ~other.there
        else:
            through.append(other)
    return None, through


def two_wet_candies(look: Look) -> Iterator[Found]:
    """Candy on candy that was not sealed."""
    candies = _candies(look)
    for seen, other in pairwise(candies):
        if not seen.layer.sealed and other.place == seen.place + 1 and seen.meets(other).any():
            if seen.made.words == other.made.words:
                continue
            yield Found(
                say(
                    "{name} goes onto {other_name} unsealed: two dyes run into each other.",
                    name=other.name,
                    other_name=seen.name,
                ),
                (seen.number, other.number),
                other.at,
                (mends.changed(seen, say("Seal the first"), sealed=True),),
            )


def _save_point(look: Look, seen: Seen) -> bool:
    return any(other.layer.what in CLEARS or other.layer.sealed for other in look.beneath(seen))


def wash_without_varnish(look: Look) -> Iterator[Found]:
    """A wash wiped off paint that nothing protects."""
    for seen in look.seen:
        if seen.layer.what in ("wash", "wipe") and look.beneath(seen) and not _save_point(look, seen):
            yield Found(
                say("{name}: wiping takes the paint beneath with it, since no varnish lies under it.", name=seen.name),
                (seen.number,),
                seen.at,
                (mends.varnished(seen, say("Varnish first")),),
            )


def swab_without_save_point(look: Look) -> Iterator[Found]:
    """A swab that takes everything down to the blank."""
    for seen in look.seen:
        if seen.layer.what == "swab" and not _save_point(look, seen):
            last = look.beneath(seen)[-1:] or [seen]
            yield Found(
                say("{name}: there is no sealed stage beneath it; wiping back goes down to the blank.", name=seen.name),
                (seen.number,),
                seen.at,
                (mends.varnished(last[0], say("Varnish before the last layer")),),
            )


def rub_without_foil(look: Look) -> Iterator[Found]:
    """A rub where no foil comes out."""
    foil = look.plan.blank.comes.foil or look.plan.blank.comes.ground == "clear-body-foil"
    for seen in look.seen:
        if seen.layer.what == "rub" and not foil and not any(o.layer.what == "foil" for o in look.beneath(seen)):
            yield Found(
                say("{name}: there is no foil under it to uncover.", name=seen.name),
                (seen.number,),
                seen.at,
                (mends.removed(seen, say("Leave it out")),),
            )


def clear_over_wet_paint(look: Look) -> Iterator[Found]:
    """Clear before the paint is dry through."""
    for seen in look.seen:
        below = list(look.beneath(seen))
        clears = [index for index, other in enumerate(below) if other.layer.what == "clear"]
        below = [other for other in below[clears[-1] + 1 if clears else 0 :] if other.paints]  # what it lies on
        through_h = max((look.dries(other).through / 60 for other in below), default=0.0)
        if seen.layer.what == "clear" and below and seen.layer.wait_h < through_h:
            yield Found(
                say("{name}: paint that is not dry through wrinkles or clouds under clear.", name=seen.name),
                (seen.number, below[-1].number),
                seen.at,
                (mends.changed(seen, say("Wait a day before it"), wait_h=max(CURED_H, through_h)),),
            )


def clear_out_of_its_window(look: Look) -> Iterator[Found]:
    """A second clear too early or too late."""
    clears = [one for one in look.seen if one.layer.what == "clear"]
    for seen, other in pairwise(clears):
        window = look.dries(seen).window
        if window is None:
            continue
        early, late = (minutes / 60 for minutes in window)
        cured_h = max(CURED_H, late)
        if not (early <= other.layer.wait_h <= late or other.layer.wait_h >= cured_h):
            within = mends.changed(other, say("Wait until its window is open"), wait_h=(early + late) / 2)
            yield Found(
                say(
                    "{name}: the second clear goes on after {early} to {late} h, or a day later, sanded.",
                    name=other.name,
                    early=quantity(early, "g"),
                    late=quantity(late, "g"),
                ),
                (other.number, seen.number),
                other.at,
                (within, mends.changed(other, say("Wait a day"), wait_h=cured_h)),
            )


def mask_on_wet_paint(look: Look) -> Iterator[Found]:
    """A mask pressed on what is wet yet."""
    for seen in look.masking:
        way = seen.layer.mask
        if not MASKS[way.kind].pressed or way.lift_mm > 0 or seen.layer.wait_h >= TOUCH_DRY_H:
            continue
        below = [
            other
            for other in look.beneath(seen)
            if other.layer.what != "foil" and (seen.layer.what == MASK or seen.meets(other).any())
        ]
        if below and float(below[-1].film_um.max()) > TOUCH_DRY_UM:
            yield Found(
                say(
                    "{name}: {other_name} is {film} thick and not touch dry; what is pressed on it lifts it.",
                    name=seen.name,
                    other_name=below[-1].name,
                    film=quantity(below[-1].film_um.max(), ".0f", "µm"),
                ),
                (seen.number, below[-1].number),
                seen.at,
                (mends.changed(seen, say("Wait half an hour before it"), wait_h=TOUCH_DRY_H),),
            )


def net_after_the_belly(look: Look) -> Iterator[Found]:
    """Netting clamped on a belly that is done."""
    for seen in look.masking:
        if seen.layer.mask.kind != "net":
            continue
        bellies = [
            other
            for other in look.beneath(seen)
            if other.layer.region in ("belly", "throat") and other.paints and not other.of_kind("primer")
        ]
        for belly in bellies[-1:]:
            yield Found(
                say(
                    "{name}: the clamps of the net stand on the belly, and {other_name} is there already.",
                    name=seen.name,
                    other_name=belly.name,
                ),
                (seen.number, belly.number),
                belly.at,
                (mends.moved_after(belly, seen, say("Spray the belly after the net")),),
            )


def mask_left_on(look: Look) -> Iterator[Found]:
    """A mask that still lies there when the clear goes on, or that nobody takes off."""
    for seen in look.seen:
        if seen.layer.what != MASK:
            continue
        clears = [one for one in look.above(seen) if one.layer.what == "clear"]
        clear = next((one for one in clears if seen.layer in look.plan.worn(one.number)), None)
        if clear is not None:
            yield Found(
                say("{name} still lies on the bait when {clear} goes on.", name=seen.name, clear=clear.name),
                (seen.number, clear.number),
                mends=(mends.taken_off(seen.number, clear, say("Take it off first")),),
            )
        elif any(one.number == seen.number for one in look.plan.left_on):
            off = Layer(0, UNMASK, source=str(seen.number))
            yield Found(
                say("{name} is never taken off.", name=seen.name),
                (seen.number,),
                mends=(mends.on_top(say("Take it off last"), off),),
            )


def bare_metal(look: Look) -> Iterator[Found]:
    """Paint on metal without a primer."""
    blank = look.plan.blank
    first = [one for one in look.seen if WHATS[one.layer.what].lies][:1]
    if blank.made_of == "metal" and blank.state == "bare" and first and first[0].layer.what not in CLEARS:
        yield Found(
            say("{name} goes onto bare metal, on which it has no grip.", name=first[0].name),
            (first[0].number,),
            first[0].at,
            (mends.varnished(first[0], say("A clear under it")),),
        )


def soft_parts_painted(look: Look) -> Iterator[Found]:
    """Paint on what bends."""
    soft = [fitting.words for fitting in look.plan.blank.form.fittings if fitting.stuff == "soft" and fitting.painted]
    if soft and look.painting:
        blank = replace(look.plan.blank, tail_painted=False)
        yield Found(
            say("The soft {names} bends, and paint on it cracks off.", names=listed(sorted(set(soft)), " and ")),
            mends=(mends.of_plan(say("Leave soft parts bare"), blank=blank),),
        )


def paint_over_clear(look: Look) -> Iterator[Found]:
    """Paint on clear that has cured."""
    for seen in look.seen:
        over = [other for other in look.above(seen) if other.paints]
        if seen.layer.what == "clear" and over:
            yield Found(
                say("{name} goes onto the clear coat: nothing grips there unless it is sanded.", name=over[0].name),
                (seen.number, over[0].number),
                over[0].at,
                (
                    mends.moved_last(seen, say("Clear last")),
                    mends.changed(seen, say("Make it a varnish"), what="varnish"),
                ),
            )


def foil_over_paint(look: Look) -> Iterator[Found]:
    """Foil laid on paint."""
    for seen in look.seen:
        below = [other for other in look.beneath(seen) if other.paints]
        if seen.layer.what == "foil" and below:
            yield Found(
                say("{name}: foil on paint shows every grain of it, and lifts with it.", name=seen.name),
                (seen.number, below[-1].number),
                seen.at,
                (mends.moved_first(seen, say("Put the foil on first")),),
            )


def no_clear_at_last(look: Look) -> Iterator[Found]:
    """Paint without clear over it."""
    if look.painting and not any(seen.layer.what == "clear" for seen in look.seen):
        yield Found(
            say("No clear coat protects it: teeth, boxes and water take the paint off."),
            mends=(mends.on_top(say("Clear it"), Layer(0, "clear", film_um=60.0, coats=1, wait_h=CURED_H)),),
        )


def hidden_under_another(look: Look) -> Iterator[Found]:
    """Layers that nothing is seen of."""
    for seen in look.painting:
        own = _apart(seen.below, seen.after, seen)
        # The bait without it is reckoned only where it may be hidden: that is the dear part of all checks.
        if np.median(own) < SEEN_DE or np.max(own * _shines_through(look, seen)) > SURELY_SEEN_DE:
            continue
        if np.max(_apart(look.without(seen.number), look.final, seen)) < 1:
            yield Found(
                say("{name} is covered by what lies on it: nobody will see that it is there.", name=seen.name),
                (seen.number,),
                seen.at,
                (mends.removed(seen, say("Leave it out")), mends.moved_last(seen, say("Add it on top"))),
            )


def _places(seen: Seen) -> tuple[Ints, Ints]:
    """Some of the cells where it lies: (place,) twice."""
    rows, columns = np.nonzero(seen.there)
    pick = np.linspace(0, len(rows) - 1, min(len(rows), 24)).astype(int)
    return rows[pick], columns[pick]


def _apart(first: Floats, second: Floats, seen: Seen) -> Floats:
    """(place,) dE between two looks at the bait where a layer lies."""
    return delta_e(first[FACING][_places(seen)], second[FACING][_places(seen)])


def _shines_through(look: Look, seen: Seen) -> Floats:
    """(place,) About the share of a difference that the layers above let through, twice, in their clearest band."""
    left = np.ones(len(_places(seen)[0]))
    for other in look.above(seen):
        mix, film_um = other.made.painted.mix, other.film_um[_places(seen)][:, None]
        if mix is None:
            left = left * (film_um[:, 0] <= 0) if other.layer.what == "foil" else left
            continue
        cover = sum(float(each) for _, each in mix.flakes) * film_um
        once = np.exp(-mix.absorption * film_um - cover) / (1 + FORWARD * mix.scattering * film_um)
        left = left * (once**2).max(axis=-1)
    return np.asarray(left)
