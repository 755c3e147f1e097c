"""Tools, amounts and bottles."""

import math
from collections.abc import Iterator
from dataclasses import replace
from functools import partial

import numpy as np

from diachrom.core.bait.checks import mends
from diachrom.core.bait.checks.look import FACING, Found, Look, Seen
from diachrom.core.bait.deposit import BLUR, fog_share, has_fog
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import BOUNDS, Layer
from diachrom.core.film.kinds import KINDS, keys
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.cup import ONLY_THIN
from diachrom.core.mix.layers import MOST_COATS
from diachrom.words import quantity, say

FLAKE_NOZZLE_MM, GLOW_NOZZLE_MM = 0.4, 0.5
COARSE = 0.3  # mm; craft and brush paint unthinned clogs it
LEAST_THINNED = 0.1
FINE_BAR = 1.0
GENTLE_BAR = 0.8  # what a line is sprayed with instead
RUNS_UM = 30.0
FAR_MM, NEAR_MM, NEARER_MM, USUAL_MM = 200.0, 30.0, 35.0, 80.0
SPIDER_BAR = 1.2
MOST_THINNER = 0.65
PAST_EDGE, COVERS_UM = 1.2, 3.0  # of a free edge's fog; of a later layer that hides it
FOG_SHOWS, LEAST_FOGGED, PALE = 4.0, 0.05, 70.0  # dE; share of the bait; L*
HAZE, STILL_SEEN = 0.25, 0.6  # of a pattern's contrast
FLAKES = tuple(key for key, kind in KINDS.items() if kind.flakes and not kind.grains)
GRAINS = keys("grains")
HIDING = keys("hides")
SHEER = keys("sheer")


def fog_settles(look: Look) -> Iterator[Found]:
    """Where what flies past a layer's free edge changes what lies there, and nothing covers that again."""
    for seen in look.painting:
        if not has_fog(seen.layer):
            continue
        meant = seen.layer.coats * seen.layer.film_um
        outside = (seen.film_um > 0) & (seen.film_um < PAST_EDGE * fog_share(seen.layer) * meant)
        for above in look.painting:
            if above.place > seen.place:
                outside &= above.film_um < COVERS_UM
        if outside.mean() < LEAST_FOGGED:
            continue
        far = delta_e(seen.below[FACING], seen.after[FACING])
        shown = outside & (far > FOG_SHOWS) & (seen.below[FACING, ..., 0] > PALE)
        if shown.mean() < LEAST_FOGGED:
            continue
        words = say(
            "Overspray of {name} is seen on what is pale beside it, dE {far} over {share} % of the bait.",
            name=seen.name,
            far=quantity(float(np.median(far[shown])), ".0f"),
            share=quantity(100 * float(shown.mean()), ".0f"),
        )
        rows, columns = np.nonzero(shown)
        middle = len(rows) // 2
        size = shown.shape
        at = (float(rows[middle]) + 0.5) / size[0], (float(columns[middle]) + 0.5) / size[1]
        ways = [mends.changed(seen, say("Tape what stays bare"), mask=MASKS["tape"].usual())]
        if float(far[shown].max()) * NEARER_MM < FOG_SHOWS * seen.layer.distance_mm:
            ways.insert(0, mends.changed(seen, say("Spray it from near"), distance_mm=NEARER_MM))
        yield Found(words, (seen.number,), at, tuple(ways))


def _thinned(seen: Seen) -> float:
    """Share of what only thins, as it is sprayed."""
    return (seen.share(*ONLY_THIN) + seen.layer.reducer) / seen.thinned_by


def _nozzle(look: Look, kinds: tuple[str, ...], least: float, words: str) -> Iterator[Found]:
    for seen in look.painting:
        if seen.of_kind(*kinds) and seen.layer.nozzle_mm < least - 1e-6:
            yield Found(
                say(
                    "{name}: {words} clog a nozzle of {nozzle}.",
                    name=seen.name,
                    words=words,
                    nozzle=quantity(seen.layer.nozzle_mm, "g", "mm"),
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, say("Take {least}", least=quantity(least, "g", "mm")), nozzle_mm=least),),
            )


def flakes_through_a_small_nozzle(look: Look) -> Iterator[Found]:
    """Flakes through a nozzle that they clog."""
    yield from _nozzle(look, FLAKES, FLAKE_NOZZLE_MM, "flakes")


def grains_through_a_small_nozzle(look: Look) -> Iterator[Found]:
    """Powder and glitter through a nozzle that they clog."""
    yield from _nozzle(look, GRAINS, GLOW_NOZZLE_MM, say("powder and glitter"))


def thick_paint_unthinned(look: Look) -> Iterator[Found]:
    """Thick paint through a fine nozzle."""
    for seen in look.painting:
        if seen.of_kind("opaque", "primer", least=0.5) and _thinned(seen) < LEAST_THINNED:
            if seen.layer.nozzle_mm > COARSE or seen.layer.unsprayed:
                continue
            yield Found(
                say(
                    "{name} is thick as bottled: through {nozzle} it spits.",
                    name=seen.name,
                    nozzle=quantity(seen.layer.nozzle_mm, "g", "mm"),
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, say("Thin it, one to four"), reducer=0.25),),
            )


def thinned_too_far(look: Look) -> Iterator[Found]:
    """So thin that the film breaks."""
    for seen in look.painting:
        if _thinned(seen) > MOST_THINNER and not seen.of_kind("candy", "ink", "transparent", least=0.5):
            yield Found(
                say(
                    "{name}: {thinned} % of it is reducer and medium; the film may break or crawl.",
                    name=seen.name,
                    thinned=quantity(100 * _thinned(seen), ".0f"),
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, say("No more reducer than is in the mix"), reducer=0.0, medium=0.0),)
                if seen.layer.reducer or seen.layer.medium
                else (),
            )


def pressure_too_high_for_a_line(look: Look) -> Iterator[Found]:
    """A fine line that too much air blows apart."""
    for seen in look.painting:
        if MASKS[seen.layer.mask.kind].fine and seen.layer.pressure_bar > FINE_BAR:
            yield Found(
                say(
                    "{name}: at {pressure} a fine line blows apart.",
                    name=seen.name,
                    pressure=quantity(seen.layer.pressure_bar, "g", "bar"),
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, quantity(GENTLE_BAR, "g", "bar"), pressure_bar=GENTLE_BAR),),
            )


def coat_that_runs(look: Look) -> Iterator[Found]:
    """Coats so wet that they run."""
    for seen in look.painting:
        if seen.layer.film_um > RUNS_UM:
            parts = int(-(-seen.layer.film_um // 14))
            thin, coats = seen.layer.film_um / parts, min(MOST_COATS, seen.layer.coats * parts)
            yield Found(
                say("{name}: a coat of {film} runs.", name=seen.name, film=quantity(seen.layer.film_um, "g", "µm")),
                (seen.number,),
                seen.at,
                (
                    mends.altered(
                        seen,
                        say("{coats} coats of {thin}", coats=coats, thin=quantity(thin, ".0f", "µm")),
                        partial(_in_coats, parts=parts),
                    ),
                ),
            )


def _in_coats(layer: Layer, *, parts: int) -> Layer:
    return replace(layer, film_um=layer.film_um / parts, coats=min(MOST_COATS, layer.coats * parts))


def dust_from_afar(look: Look) -> Iterator[Found]:
    """Sprayed from so far that it lands dry."""
    for seen in look.painting:
        if seen.layer.distance_mm > FAR_MM:
            yield Found(
                say(
                    "{name}: from {distance} most of it is dry before it lands; it stays grainy.",
                    name=seen.name,
                    distance=quantity(seen.layer.distance_mm, "g", "mm"),
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, say("From {usual}", usual=quantity(USUAL_MM, "g", "mm")), distance_mm=USUAL_MM),),
            )


def lifted_too_far(look: Look) -> Iterator[Found]:
    """A pattern of one pitch keeps exp(-2 (pi blur / pitch)^2) of its contrast under a Gaussian blur."""
    for seen in look.painting:
        way = seen.layer.mask
        pitch_mm = way.size_mm * (way.every if way.kind == "comb" else 1)
        if way.kind not in ("net", "comb", "bars") or way.lift_mm <= 0 or pitch_mm <= 0:
            continue
        left = math.exp(-2 * (math.pi * BLUR * way.lift_mm / pitch_mm) ** 2)
        if left < HAZE:
            lower = round(pitch_mm * math.sqrt(-math.log(STILL_SEEN) / 2) / (math.pi * BLUR), 1)
            yield Found(
                say(
                    "{name}: lifted by {lift} its pattern of {pitch} keeps {left} % of its contrast.",
                    name=seen.name,
                    lift=quantity(way.lift_mm, "g", "mm"),
                    pitch=quantity(pitch_mm, "g", "mm"),
                    left=quantity(100 * left, ".0f"),
                ),
                (seen.number,),
                seen.at,
                (
                    mends.altered(
                        seen, say("Lift it by {lower}", lower=quantity(lower, "g", "mm")), partial(_lifted, mm=lower)
                    ),
                ),
            )


def _lifted(layer: Layer, *, mm: float) -> Layer:
    return replace(layer, mask=replace(layer.mask, lift_mm=mm))


def spider_web(look: Look) -> Iterator[Found]:
    """Sprayed so near and hard that it spiders."""
    for seen in look.painting:
        if seen.layer.distance_mm < NEAR_MM and seen.layer.pressure_bar > SPIDER_BAR and not seen.layer.unsprayed:
            yield Found(
                say(
                    "{name}: {pressure} from {distance} blows paint into legs.",
                    name=seen.name,
                    pressure=quantity(seen.layer.pressure_bar, "g", "bar"),
                    distance=quantity(seen.layer.distance_mm, "g", "mm"),
                ),
                (seen.number,),
                seen.at,
                (
                    mends.changed(seen, quantity(GENTLE_BAR, "g", "bar"), pressure_bar=GENTLE_BAR),
                    mends.changed(seen, say("From {usual}", usual=quantity(USUAL_MM, "g", "mm")), distance_mm=USUAL_MM),
                ),
            )


def more_than_the_cup(look: Look) -> Iterator[Found]:
    """Mixes that one cup does not hold."""
    for seen in look.painting:
        if seen.made.need_ml > look.plan.cup_ml:
            baits, larger = look.plan.baits, float(math.ceil(seen.made.need_ml))
            fewer = int(baits * look.plan.cup_ml / seen.made.need_ml)
            at_once = (mends.of_plan(say("Plan {fewer} at a time", fewer=fewer), baits=fewer),) if fewer else ()
            cup = (
                (mends.of_plan(say("A cup of {larger}", larger=quantity(larger, "g", "ml")), cup_ml=larger),)
                if larger <= BOUNDS["cup_ml"][1]
                else ()
            )
            yield Found(
                f"{seen.name} takes {seen.made.need_ml:.1f} ml for {baits} bait{'s' if baits > 1 else ''}; the cup "
                f"holds {look.plan.cup_ml:g} ml.",
                (seen.number,),
                seen.at,
                (*at_once, *cup),
            )


def _bottles(look: Look, condition: str, words: str) -> Iterator[Found]:
    for seen in look.painting:
        for bottle in seen.made.bottles:
            if bottle.condition == condition:
                yield Found(f"{seen.name}: {bottle.name} {words}", (seen.number,), seen.at)


def bottle_empty(look: Look) -> Iterator[Found]:
    """Mixes from a bottle that is empty."""
    yield from _bottles(look, "empty", say("is empty."))


def bottle_settled(look: Look) -> Iterator[Found]:
    """Mixes from a bottle that has settled."""
    yield from _bottles(look, "settled", say("has settled: shake it long, or the first coat is thin and pale."))


def bottle_too_low(look: Look) -> Iterator[Found]:
    """Mixes that a bottle does not reach for."""
    needed: dict[str, float] = {}
    left: dict[str, float] = {}
    users: dict[str, list[Seen]] = {}
    for seen in look.painting:
        for bottle in seen.made.bottles:
            needed[bottle.name] = needed.get(bottle.name, 0.0) + bottle.share * seen.made.need_ml / seen.thinned_by
            left[bottle.name] = bottle.left_ml
            users.setdefault(bottle.name, []).append(seen)
    for name, need in needed.items():
        if 0 < left[name] < need:
            seen = users[name][0]
            yield Found(
                say(
                    "{name}: {need} are needed and {left} are left.",
                    name=name,
                    need=quantity(need, ".1f", "ml"),
                    left=quantity(left[name], ".1f", "ml"),
                ),
                tuple(other.number for other in users[name]),
                seen.at,
            )


def bottle_discontinued(look: Look) -> Iterator[Found]:
    """Mixes from a paint that is not made any more."""
    for seen in look.painting:
        for bottle in seen.made.bottles:
            if bottle.discontinued:
                yield Found(
                    say(
                        "{name}: {other_name} is discontinued: when it is used up there is no more.",
                        name=seen.name,
                        other_name=bottle.name,
                    ),
                    (seen.number,),
                    seen.at,
                )
