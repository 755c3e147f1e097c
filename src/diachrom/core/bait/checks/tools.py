"""Tools, amounts and bottles."""

import math
from collections.abc import Iterator
from dataclasses import replace
from functools import partial

from diachrom.core.bait.checks import mends
from diachrom.core.bait.checks.look import Found, Look, Seen
from diachrom.core.bait.deposit import BLUR
from diachrom.core.bait.plan import BOUNDS, Layer
from diachrom.core.mix.layers import MOST_COATS

FLAKE_NOZZLE_MM, GLOW_NOZZLE_MM = 0.4, 0.5
COARSE = 0.3  # mm; craft and brush paint unthinned clogs it
LEAST_THINNED = 0.1
FINE_BAR = 1.0
RUNS_UM = 30.0
FAR_MM, NEAR_MM, USUAL_MM = 200.0, 30.0, 80.0
SPIDER_BAR = 1.2
MOST_THINNER = 0.65
HAZE, STILL_SEEN = 0.25, 0.6  # of a pattern's contrast


def _thinned(one: Seen) -> float:
    """Share of what only thins, as it is sprayed."""
    return (one.share("reducer", "medium") + one.thinned_by - 1) / one.thinned_by


def _nozzle(look: Look, kinds: tuple[str, ...], least: float, words: str) -> Iterator[Found]:
    for one in look.painting:
        if one.of_kind(*kinds) and one.layer.nozzle_mm < least - 1e-6:
            yield Found(
                f"{one.name}: {words} clog a nozzle of {one.layer.nozzle_mm:g} mm.",
                (one.number,),
                one.at,
                (mends.changed(one, f"Take {least:g} mm", nozzle_mm=least),),
            )


def flakes_through_a_small_nozzle(look: Look) -> Iterator[Found]:
    yield from _nozzle(look, ("pearl", "metallic", "shift"), FLAKE_NOZZLE_MM, "flakes")


def grains_through_a_small_nozzle(look: Look) -> Iterator[Found]:
    yield from _nozzle(look, ("glow", "glitter"), GLOW_NOZZLE_MM, "powder and glitter")


def thick_paint_unthinned(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if one.of_kind("opaque", "primer", least=0.5) and _thinned(one) < LEAST_THINNED:
            if one.layer.nozzle_mm > COARSE or one.layer.mask.kind in ("dab", "dry", "dots"):
                continue
            yield Found(
                f"{one.name} is thick as bottled: through {one.layer.nozzle_mm:g} mm it spits.",
                (one.number,),
                one.at,
                (mends.changed(one, "Thin it, one to four", reducer=0.25),),
            )


def thinned_too_far(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if _thinned(one) > MOST_THINNER and not one.of_kind("candy", "ink", "transparent", least=0.5):
            yield Found(
                f"{one.name}: {100 * _thinned(one):.0f} % of it is reducer and medium; the film may break or crawl.",
                (one.number,),
                one.at,
                (mends.changed(one, "No more reducer than is in the mix", reducer=0.0, medium=0.0),)
                if one.layer.reducer or one.layer.medium
                else (),
            )


def pressure_too_high_for_a_line(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if one.layer.mask.kind in ("line", "dagger") and one.layer.pressure_bar > FINE_BAR:
            yield Found(
                f"{one.name}: at {one.layer.pressure_bar:g} bar a fine line blows apart.",
                (one.number,),
                one.at,
                (mends.changed(one, "0.8 bar", pressure_bar=0.8),),
            )


def coat_that_runs(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if one.layer.film_um > RUNS_UM:
            parts = int(-(-one.layer.film_um // 14))
            thin, coats = one.layer.film_um / parts, min(MOST_COATS, one.layer.coats * parts)
            yield Found(
                f"{one.name}: a coat of {one.layer.film_um:g} µm runs.",
                (one.number,),
                one.at,
                (mends.altered(one, f"{coats} coats of {thin:.0f} µm", partial(_in_coats, parts=parts)),),
            )


def _in_coats(layer: Layer, *, parts: int) -> Layer:
    return replace(layer, film_um=layer.film_um / parts, coats=min(MOST_COATS, layer.coats * parts))


def dust_from_afar(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if one.layer.distance_mm > FAR_MM:
            yield Found(
                f"{one.name}: from {one.layer.distance_mm:g} mm most of it is dry before it lands; it stays grainy.",
                (one.number,),
                one.at,
                (mends.changed(one, f"From {USUAL_MM:g} mm", distance_mm=USUAL_MM),),
            )


def lifted_too_far(look: Look) -> Iterator[Found]:
    """A pattern of one pitch keeps exp(-2 (pi blur / pitch)^2) of its contrast under a Gaussian blur."""
    for one in look.painting:
        way = one.layer.mask
        pitch_mm = way.size_mm * (way.every if way.kind == "comb" else 1)
        if way.kind not in ("net", "comb", "bars") or way.lift_mm <= 0 or pitch_mm <= 0:
            continue
        left = math.exp(-2 * (math.pi * BLUR * way.lift_mm / pitch_mm) ** 2)
        if left < HAZE:
            lower = round(pitch_mm * math.sqrt(-math.log(STILL_SEEN) / 2) / (math.pi * BLUR), 1)
            yield Found(
                f"{one.name}: lifted by {way.lift_mm:g} mm its pattern of {pitch_mm:g} mm keeps {100 * left:.0f} % of "
                "its contrast.",
                (one.number,),
                one.at,
                (mends.altered(one, f"Lift it by {lower:g} mm", partial(_lifted, mm=lower)),),
            )


def _lifted(layer: Layer, *, mm: float) -> Layer:
    return replace(layer, mask=replace(layer.mask, lift_mm=mm))


def spider_web(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if one.layer.distance_mm < NEAR_MM and one.layer.pressure_bar > SPIDER_BAR:
            yield Found(
                f"{one.name}: {one.layer.pressure_bar:g} bar from {one.layer.distance_mm:g} mm blows paint into legs.",
                (one.number,),
                one.at,
                (
                    mends.changed(one, "0.8 bar", pressure_bar=0.8),
                    mends.changed(one, f"From {USUAL_MM:g} mm", distance_mm=USUAL_MM),
                ),
            )


def more_than_the_cup(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if one.made.need_ml > look.plan.cup_ml:
            baits, larger = look.plan.baits, float(math.ceil(one.made.need_ml))
            fewer = int(baits * look.plan.cup_ml / one.made.need_ml)
            at_once = (mends.of_plan(f"Plan {fewer} at a time", baits=fewer),) if fewer else ()
            cup = (mends.of_plan(f"A cup of {larger:g} ml", cup_ml=larger),) if larger <= BOUNDS["cup_ml"][1] else ()
            yield Found(
                f"{one.name} takes {one.made.need_ml:.1f} ml for {baits} bait{'s' if baits > 1 else ''}; the cup holds "
                f"{look.plan.cup_ml:g} ml.",
                (one.number,),
                one.at,
                (*at_once, *cup),
            )


def _bottles(look: Look, condition: str, words: str) -> Iterator[Found]:
    for one in look.painting:
        for bottle in one.made.bottles:
            if bottle.condition == condition:
                yield Found(f"{one.name}: {bottle.name} {words}", (one.number,), one.at)


def bottle_empty(look: Look) -> Iterator[Found]:
    yield from _bottles(look, "empty", "is empty.")


def bottle_settled(look: Look) -> Iterator[Found]:
    yield from _bottles(look, "settled", "has settled: shake it long, or the first coat is thin and pale.")


def bottle_too_low(look: Look) -> Iterator[Found]:
    needed: dict[str, float] = {}
    left: dict[str, float] = {}
    users: dict[str, list[Seen]] = {}
    for one in look.painting:
        for bottle in one.made.bottles:
            needed[bottle.name] = needed.get(bottle.name, 0.0) + bottle.share * one.made.need_ml / one.thinned_by
            left[bottle.name] = bottle.left_ml
            users.setdefault(bottle.name, []).append(one)
    for name, need in needed.items():
        if 0 < left[name] < need:
            one = users[name][0]
            yield Found(
                f"{name}: {need:.1f} ml are needed and {left[name]:.1f} ml are left.",
                tuple(other.number for other in users[name]),
                one.at,
            )


def bottle_discontinued(look: Look) -> Iterator[Found]:
    for one in look.painting:
        for bottle in one.made.bottles:
            if bottle.discontinued:
                yield Found(
                    f"{one.name}: {bottle.name} is not made any more; what is left of it will not come back.",
                    (one.number,),
                    one.at,
                )
