"""Clear for a plan's baits: what its sheet says, kept for the bench, and what a coat takes on the skin that it has."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace

from diachrom.core.bait.plan import Plan
from diachrom.core.finish.powders import POWDERS, Stirred, stirred
from diachrom.core.finish.two_part import Batch, Clearing, Resin, batch, floats, pot_life_s
from diachrom.errors import InvalidInput
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.work.kit.fields import number
from diachrom.work.plan import plans

KEY = "resin"  # the setting
USUAL_SCALE_G, USUAL_C = 0.01, 20.0
WORDS = {
    "parts_a": "Parts of A, by volume",
    "parts_b": "Parts of B, by volume",
    "density_a": "Density of A, g/ml",
    "density_b": "Density of B, g/ml",
    "pot_life_min": "Pot life at 25 °C, min",
    "film_um": "A coat, µm",
    "coats": "Coats",
    "stays_ml": "Stays in cup and brush, ml",
    "scale_g": "The scale shows, g",
    "temperature_c": "Temperature, °C",
}
OTHERS = {
    "baits": "Baits",
    "bait_g": "A bait weighs, g",
    "bait_ml": "It takes up, ml of water",
    "percent": "Powder, % of the clear's weight",
}
WHOLE = ("coats", "baits")


@dataclass(frozen=True)
class Asked:
    """A clear, and what it is for."""

    resin: Resin = field(default_factory=Resin)
    film_um: float = 150.0
    coats: int = 1
    stays_ml: float = 1.0
    scale_g: float = USUAL_SCALE_G
    temperature_c: float = USUAL_C
    baits: int = 1
    bait_g: float | None = None  # of a finished bait, and the water that it pushes away
    bait_ml: float | None = None
    powder: str = ""  # glitter or glow that is stirred in
    percent: float | None = None  # of the clear's weight; as is usual where nobody said


@dataclass(frozen=True)
class Cleared:
    name: str
    area_mm2: float
    batch: Batch
    pot_life_s: float
    floats: tuple[str, float] | None
    stirred: Stirred | None


def asked(connection: sqlite3.Connection, form: Mapping[str, str]) -> Asked:
    """As the form has it, else as it was kept, else as is usual. Raises InvalidInput for what is no number."""
    told = settings.document(connection, KEY)
    kept = {key: float(told[key]) for key in WORDS if isinstance(told.get(key), (int, float))}
    try:
        _usable(_asked(kept))
    except (InvalidInput, OverflowError, ValueError):
        kept = {}
    given = {
        key: _number(form[key], WORDS.get(key, OTHERS.get(key, "")), key)
        for key in (*WORDS, *OTHERS)
        if form.get(key, "").strip()
    }
    powder = form.get("powder", "")
    if powder and powder not in POWDERS:
        raise InvalidInput(f"There is no powder called '{powder[:30]}'.", field="powder")
    return replace(_asked(kept | given), powder=powder)


def _asked(values: Mapping[str, float]) -> Asked:
    """Raises InvalidInput, OverflowError."""
    resin = Resin(**{one.name: values[one.name] for one in fields(Resin) if one.name in values})
    rest = {key: int(value) if key in WHOLE else value for key, value in values.items() if key not in vars(resin)}
    return replace(Asked(resin=resin), **rest)  # type: ignore[arg-type]


def _usable(wanted: Asked) -> None:
    """Raises InvalidInput."""
    clearing = Clearing(1000, wanted.film_um, wanted.coats, wanted.baits, wanted.stays_ml)
    batch(wanted.resin, clearing, scale_g=wanted.scale_g)
    pot_life_s(wanted.resin, wanted.temperature_c)


def _number(text: str, words: str, key: str) -> float:
    try:
        return number(text[:20])
    except ValueError:
        raise InvalidInput(f"{words}: '{text[:20]}' is no number.", field=key) from None


def keep(connection: sqlite3.Connection, wanted: Asked) -> None:
    """What its sheet says, for the next time."""
    own = {**vars(wanted.resin), **{key: getattr(wanted, key) for key in WORDS if key not in vars(wanted.resin)}}
    with writing(connection):
        settings.put(connection, {KEY: json.dumps(own)})


@dataclass(frozen=True)
class Coat:
    """What a coat of two-part clear takes, weighable on this bench's scale."""

    batch: Batch
    pot_life_s: float
    temperature_c: float


def coat_for(connection: sqlite3.Connection, plan: Plan, *, baits: int) -> Coat:
    """A coat of the bench's own clear on so many baits of a plan, in the plan's air."""
    wanted = asked(connection, {})
    clearing = Clearing(plan.blank.surface().area_mm2, wanted.film_um, 1, baits, wanted.stays_ml)
    made = batch(wanted.resin, clearing, scale_g=wanted.scale_g)
    if not made.weighable:
        more = made.least_ml - clearing.a_coat_ml
        made = batch(wanted.resin, replace(clearing, stays_ml=clearing.stays_ml + more), scale_g=wanted.scale_g)
    return Coat(made, pot_life_s(wanted.resin, plan.temperature_c), plan.temperature_c)


def cleared(connection: sqlite3.Connection, plan: int, wanted: Asked) -> Cleared:
    """For a plan's baits. Raises NotFound, InvalidInput."""
    own = plans.now(connection, plan).plan
    area = own.blank.surface().area_mm2
    clearing = Clearing(area, wanted.film_um, wanted.coats, wanted.baits, wanted.stays_ml)
    made = batch(wanted.resin, clearing, scale_g=wanted.scale_g)
    afloat = None
    if wanted.bait_g is not None and wanted.bait_ml is not None:
        if not (0 < wanted.bait_g < 5000 and 0 < wanted.bait_ml < 5000):
            raise InvalidInput("A bait weighs, and takes up, more than nothing.", field="bait_g")
        afloat = floats(wanted.bait_g, wanted.bait_ml, made.on_bait_g, wanted.resin.density)
    name = own.name or f"Plan {plan}"
    pot_life = pot_life_s(wanted.resin, wanted.temperature_c)
    return Cleared(name, area, made, pot_life, floats=afloat, stirred=_stirred(wanted, made, area))


def _stirred(wanted: Asked, made: Batch, area_mm2: float) -> Stirred | None:
    """Raises InvalidInput."""
    if not wanted.powder:
        return None
    powder = POWDERS[wanted.powder]
    percent = powder.usual_percent if wanted.percent is None else wanted.percent
    a_coat_g = made.on_bait_g / wanted.coats
    return stirred(
        powder,
        percent,
        batch_g=made.a_g + made.b_g,
        on_bait_g=a_coat_g,
        area_mm2=area_mm2,
        film_um=wanted.film_um,
    )
