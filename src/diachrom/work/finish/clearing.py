"""Clear for a plan's baits: what a coat takes on the skin that it has, and whether the bait still floats."""

import sqlite3
from dataclasses import dataclass

from diachrom.core.finish.powders import Stirred
from diachrom.core.finish.two_part import Batch, Clearing, batch, floats, pot_life_s
from diachrom.errors import InvalidInput
from diachrom.words import say
from diachrom.work.plan import plans
from diachrom.work.plan.two_part import Asked, cleared_mm2, stirred_in


@dataclass(frozen=True)
class Cleared:
    name: str
    area_mm2: float
    batch: Batch
    pot_life_s: float
    floats: tuple[str, float] | None
    stirred: Stirred | None


def cleared(connection: sqlite3.Connection, plan: int, wanted: Asked) -> Cleared:
    """For a plan's baits. Raises NotFound, InvalidInput."""
    own = plans.now(connection, plan).plan
    area = cleared_mm2(own)
    clearing = Clearing(area, wanted.film_um, wanted.coats, wanted.baits, wanted.stays_ml)
    made = batch(wanted.resin, clearing, scale_g=wanted.scale_g)
    afloat = None
    if wanted.bait_g is not None and wanted.bait_ml is not None:
        if not (0 < wanted.bait_g < 5000 and 0 < wanted.bait_ml < 5000):
            raise InvalidInput(say("A bait's weight and volume are more than zero."), field="bait_g")
        afloat = floats(wanted.bait_g, wanted.bait_ml, made.on_bait_g, wanted.resin.density)
    name = own.name or say("Plan {plan}", plan=plan)
    pot_life = pot_life_s(wanted.resin, wanted.temperature_c)
    return Cleared(name, area, made, pot_life, floats=afloat, stirred=stirred_in(wanted, made, area))
