"""Reducer and medium for a cup: how much its kinds, the nozzle and the hand ask for, and where it becomes too much.

Usual shares, not the truth of a bottle: the maker's sheet comes first.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.film.kinds import KINDS, Thinned
from diachrom.core.mix.cup import Cup
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.words import quantity, quantity_range, say

HANDS = {"thin": say("thin and many coats"), "thick": say("as it comes, few coats")}


AS_IT_COMES = Thinned(0.0, 0.0, 0.5)  # of a kind of which nothing is known
USUAL_NOZZLE_MM = 0.3
BY_NOZZLE = 0.6  # change of the share for a nozzle a millimetre narrower
USUAL_BAR = {"thin": 1.2, "thick": 2.0}
BY_BAR = 0.08  # change of the share for a bar less
LOWEST_BAR, HIGHEST_BAR = 0.3, 5.0
FLAKES_BAR = 1.5  # below it flakes settle in the tip
SMALLEST_FOR_FLAKES_MM = 0.4
LADDER = (0.0, 0.15, 0.30, 0.45, 0.60)
WITH_MEDIUM = 0.3  # of what colours
REST_MINUTES = 10  # of a candy mix


@dataclass(frozen=True)
class Reduction:
    """What a cup wants."""

    share: float  # of the whole volume
    now: float
    add_ml: float  # of reducer or medium, 0 when there is enough
    with_medium: bool
    most: float
    notes: Sequence[str]


def reduction(cup: Cup, *, nozzle_mm: float, hand: str, pressure_bar: float | None = None) -> Reduction:
    """How far a cup is reduced for a nozzle and a hand; each kind counts by its share of the coloured volume.

    Parameters
    ----------
    cup : the mix.
    nozzle_mm : mm.
    hand : how it is sprayed, a key of HANDS.
    pressure_bar : bar; the hand's usual one where it is None.

    Returns
    -------
    Reduction.

    Raises
    ------
    EmptyCup : there is nothing to reduce.
    InvalidInput : no such nozzle, hand or pressure.
    """
    bar = USUAL_BAR[hand] if pressure_bar is None else pressure_bar
    if not LOWEST_BAR <= bar <= HIGHEST_BAR:
        raise InvalidInput(
            say(
                "Pressure: {range}, not {bar}.",
                range=quantity_range(LOWEST_BAR, HIGHEST_BAR, "g", "bar"),
                bar=quantity(bar, "g"),
            ),
            field="pressure",
        )
    # Each coloured paint's share of the coloured volume, and how its kind is thinned. Raises EmptyCup.
    coloured = [pour for pour in cup.pours if pour.drops and not pour.paint.thins]
    total = sum(pour.volume_ml for pour in coloured)
    if not coloured:
        raise EmptyCup(say("thinning it"))
    kinds = [(pour.volume_ml / total, KINDS[pour.paint.kind]) for pour in coloured]
    ways = [(share, kind.thinned or AS_IT_COMES) for share, kind in kinds]
    usual = sum(share * (way.thick if hand == "thick" else way.thin) for share, way in ways)
    most = sum(share * way.most for share, way in ways)
    by_tool = BY_NOZZLE * (USUAL_NOZZLE_MM - nozzle_mm) + BY_BAR * (USUAL_BAR[hand] - bar)
    share = min(max(0.0, usual + by_tool), most) if usual else 0.0
    # A dye is let down with medium, which counts for it; else medium keeps the body, and only reducer thins.
    with_medium = sum(share for share, way in ways if way.with_medium) > WITH_MEDIUM
    now = cup.dilution if with_medium else cup.thinned
    add = max(0.0, (share - now) * cup.volume_ml / (1 - share)) if share < 1 else 0.0
    notes = []
    poured = [KINDS[pour.paint.kind] for pour in cup.pours if pour.drops]
    if now > most:
        notes.append(
            say(
                "So thin ({dilution} %) the film breaks or crawls; {most} % is the most.",
                dilution=quantity(100 * now, ".0f"),
                most=quantity(100 * most, ".0f"),
            )
        )
    if any(kind.dye for kind in poured) and not any(kind.carries for kind in poured):
        notes.append(say("A candy without medium has no grip and chips off."))
    if rest_minutes(cup):
        notes.append(say("Let it rest {rest_minutes} minutes after mixing.", rest_minutes=REST_MINUTES))
    flaked = any(kind.flakes or kind.grains for kind in poured)
    if flaked and bar < FLAKES_BAR:
        notes.append(
            say(
                "Flakes want {flakes} or more, or they settle in the tip.",
                flakes=quantity(FLAKES_BAR, "g", "bar"),
            )
        )
    if flaked and nozzle_mm < SMALLEST_FOR_FLAKES_MM:
        notes.append(
            say(
                "Flakes want a nozzle of {smallest_for_flakes} or more.",
                smallest_for_flakes=quantity(SMALLEST_FOR_FLAKES_MM, "g", "mm"),
            )
        )
    return Reduction(
        share=share,
        now=now,
        add_ml=add,
        with_medium=with_medium,
        most=most,
        notes=notes,
    )


def rest_minutes(cup: Cup) -> int:
    """How long a cup rests after its last drop, 0 for one that need not."""
    return REST_MINUTES if any(pour.drops and KINDS[pour.paint.kind].dye for pour in cup.pours) else 0
