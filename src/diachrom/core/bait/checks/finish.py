"""Preparation and finish: what was done to the blank, eyes, and the conditions of the clear."""

import math
from collections.abc import Iterator

from diachrom.core.bait.checks import mends
from diachrom.core.bait.checks.look import Found, Look, kind_of
from diachrom.core.bait.plan import MOST_BAITS
from diachrom.words import quantity, say

COLD_C, HUMID_PERCENT = 18.0, 70.0
USUAL_C, USUAL_HUMIDITY = 21.0, 50.0


def _unprepared(look: Look, key: str, words: str, mend: str) -> Iterator[Found]:
    if key not in look.plan.prepared and look.seen:
        yield Found(words, mends=(mends.prepared(mend, key),))


def not_degreased(look: Look) -> Iterator[Found]:
    """A blank that was not degreased."""
    yield from _unprepared(
        look, "degreased", say("The blank is not degreased: paint crawls away from fingers."), say("Degrease it")
    )


def not_sanded(look: Look) -> Iterator[Found]:
    """A blank that was not sanded."""
    if look.plan.blank.state in ("repaint", "bare"):
        words = say("Nothing grips a smooth old coat or a bare blank: sand it, wet and with a mask.")
        yield from _unprepared(look, "sanded", words, say("Sand it"))


def eyes_not_taped(look: Look) -> Iterator[Found]:
    """Eyes that will be painted over."""
    if look.plan.blank.form.eye_sockets:
        yield from _unprepared(
            look, "eyes-taped", say("The eyes are not taped: they will be painted."), say("Tape them")
        )


def bill_not_taped(look: Look) -> Iterator[Found]:
    """A bill that will be painted over."""
    if any(fitting.key == "bill" for fitting in look.plan.blank.form.fittings):
        yield from _unprepared(look, "bill-taped", say("The bill is not taped."), say("Tape it"))


def joints_not_taped(look: Look) -> Iterator[Found]:
    """Joints that paint would stiffen."""
    if look.plan.blank.form.joints:
        words = say("The joints are not taped: paint in them makes it stiff.")
        yield from _unprepared(look, "joints-taped", words, say("Tape them"))


def moist_inside(look: Look) -> Iterator[Found]:
    """Wood that was not dried."""
    if look.plan.blank.made_of in ("wood", "soft plastic"):
        words = say("The blank is not dry inside: moisture lifts the paint, and boils under heat.")
        yield from _unprepared(look, "dried", words, say("Dry it first"))


def _clears(look: Look) -> list[int]:
    return [seen.number for seen in look.seen if seen.layer.what == "clear"]


def too_cold_for_the_clear(look: Look) -> Iterator[Found]:
    """A room too cold for its clear."""
    if _clears(look) and look.plan.temperature_c < COLD_C:
        yield Found(
            say(
                "{temperature}: most clears stay tacky below {cold}; their data sheet says.",
                temperature=quantity(look.plan.temperature_c, "g", "°C"),
                cold=quantity(COLD_C, "g", "°C"),
            ),
            tuple(_clears(look)),
            mends=(
                mends.of_plan(
                    say("Warm the room to {usual}", usual=quantity(USUAL_C, "g", "°C")), temperature_c=USUAL_C
                ),
            ),
        )


def too_humid_for_the_clear(look: Look) -> Iterator[Found]:
    """A room too humid for its clear."""
    if _clears(look) and look.plan.humidity_percent > HUMID_PERCENT:
        yield Found(
            say(
                "{humidity_percent} % humidity: clear blushes or foams; its data sheet says.",
                humidity_percent=quantity(look.plan.humidity_percent, "g"),
            ),
            tuple(_clears(look)),
            mends=(mends.of_plan(say("Wait for drier air"), humidity_percent=USUAL_HUMIDITY),),
        )


def batch_too_small(look: Look) -> Iterator[Found]:
    """A clear of two parts, too little for the bench's own scale."""
    scale_g, least_ml = look.scale
    for seen in look.seen:
        takes = seen.made.amount
        if seen.layer.what == "clear" and kind_of(seen) == "two-part" and 0 < takes.volume_ml < least_ml:
            of_one, stays_ml = takes.on_baits_ml / look.plan.baits, takes.volume_ml - takes.on_baits_ml
            baits = math.ceil((least_ml - stays_ml) / max(of_one, 1e-6) - 1e-9)
            yield Found(
                say(
                    "{name}: {volume} is too little to weigh its parts on a scale of {scale} g: mix at least {least}.",
                    name=seen.name,
                    volume=quantity(takes.volume_ml, ".1f", "ml"),
                    scale=quantity(scale_g, "g"),
                    least=quantity(least_ml, ".1f", "ml"),
                ),
                (seen.number,),
                seen.at,
                (mends.of_plan(say("Clear {baits} baits at once", baits=baits), baits=baits),)
                if baits <= MOST_BAITS
                else (),
            )


def eyes_after_everything(look: Look) -> Iterator[Found]:
    """Eyes that no clear holds."""
    clears = _clears(look)
    if look.plan.eyes == "after" and len(clears) == 1 and look.plan.blank.form.eye_sockets:
        last = next(seen for seen in look.seen if seen.number == clears[-1])
        yield Found(
            say("Eyes set after the only clear are not covered, and come off."),
            tuple(clears),
            mends=(
                mends.of_plan(say("Set them before the clear"), eyes="before"),
                mends.again(last, say("Clear once more over them"), wait_h=3.0, name=""),
            ),
        )


def fared_badly(look: Look) -> Iterator[Found]:
    """What was told of earlier baits of this plan."""
    for words in look.reported:
        yield Found(words)


def painted_eyes_missing(look: Look) -> Iterator[Found]:
    """Eyes that were to be painted, and are not."""
    if look.plan.eyes == "painted" and not any(seen.layer.region == "eye" for seen in look.painting):
        yield Found(
            say("The eyes are to be painted, and no layer paints them."),
            mends=(mends.of_plan(say("Set eyes after the clear"), eyes="after"),),
        )


def nothing_lands(look: Look) -> Iterator[Found]:
    """Layers that land nowhere."""
    for seen in look.seen:
        if seen.paints and not seen.lands:
            usual = (mends.changed(seen, say("Its usual edges"), box=None),) if seen.layer.box else ()
            yield Found(
                say("{name}: none of it lands on the bait.", name=seen.name),
                (seen.number,),
                mends=(*usual, mends.changed(seen, say("Spray it all around"), origin="around", rake_deg=0.0)),
            )


def made_of_nothing(look: Look) -> Iterator[Found]:
    """Layers without a paint."""
    for seen in look.seen:
        if seen.layer.what in ("recipe", "paint", "wash") and not seen.made.bottles:
            yield Found(
                say("{name}: what it was made of no longer exists.", name=seen.name),
                (seen.number,),
                mends=(mends.removed(seen, say("Leave it out")),),
            )
